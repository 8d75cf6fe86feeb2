//! Lines and arcs that are drawn one by one, put together end to end.

use crate::faults::{FaultKind, Faults};
use glam::DVec2;
use std::collections::HashMap;

/// Ends nearer than this meet, in the drawing's units.
const MEET: f64 = 1e-3;
/// Ends nearer than this are joined, which is told.
pub const JOINED: f64 = 0.05;

/// Ends by the cell that they lie in, a cell as wide as what is joined.
#[derive(Default)]
struct Ends(HashMap<[i64; 2], Vec<(usize, bool)>>);

impl Ends {
    fn cell(p: DVec2) -> [i64; 2] {
        (p / JOINED).floor().to_array().map(|v| v as i64)
    }

    /// The free end that is nearest to a place, within what is joined.
    fn nearest(&self, lines: &[Option<Vec<DVec2>>], at: DVec2) -> Option<(usize, bool)> {
        let [x, y] = Self::cell(at);
        let around = (-1..=1).flat_map(|i| (-1..=1).map(move |j| [x + i, y + j]));
        let ends = around.filter_map(|cell| self.0.get(&cell)).flatten().copied();
        ends.filter_map(|(k, last)| lines[k].as_ref().map(|line| (k, last, end(line, last).distance(at))))
            .filter(|(.., off)| *off < JOINED)
            .min_by(|a, b| a.2.total_cmp(&b.2))
            .map(|(k, last, _)| (k, last))
    }
}

fn end(line: &[DVec2], last: bool) -> DVec2 {
    line[if last { line.len() - 1 } else { 0 }]
}

/// Open lines as closed contours, and those that don't close. Small gaps are joined, open ends told.
pub fn chained(lines: Vec<Vec<DVec2>>, faults: &mut Faults) -> (Vec<Vec<DVec2>>, Vec<Vec<DVec2>>) {
    let mut ends = Ends::default();
    for (k, line) in lines.iter().enumerate() {
        for last in [false, true] {
            ends.0.entry(Ends::cell(end(line, last))).or_default().push((k, last));
        }
    }
    let mut lines: Vec<Option<Vec<DVec2>>> = lines.into_iter().map(Some).collect();
    let (mut closed, mut open) = (Vec::new(), Vec::new());
    for k in 0..lines.len() {
        let Some(mut chain) = lines[k].take() else { continue };
        let mut turned = false;
        loop {
            let tip = end(&chain, true);
            let home = end(&chain, false).distance(tip);
            if chain.len() > 2 && home < JOINED {
                if home > MEET {
                    faults.add(FaultKind::Gap, tip);
                } else {
                    chain.pop();
                }
                closed.push(chain);
                break;
            }
            if let Some((next, last)) = ends.nearest(&lines, tip)
                && let Some(mut more) = lines[next].take()
            {
                if last {
                    more.reverse();
                }
                let gap = more[0].distance(tip) > MEET;
                if gap {
                    faults.add(FaultKind::Gap, tip);
                }
                chain.extend(more.into_iter().skip(usize::from(!gap)));
            } else if turned {
                faults.add(FaultKind::OpenEnd, end(&chain, false));
                faults.add(FaultKind::OpenEnd, tip);
                open.push(chain);
                break;
            } else {
                // the other end may go on
                chain.reverse();
                turned = true;
            }
        }
    }
    (closed, open)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn line(points: &[(f64, f64)]) -> Vec<DVec2> {
        points.iter().map(|p| DVec2::from(*p)).collect()
    }

    #[test]
    fn lines_in_any_order_and_direction_close() {
        let mut faults = Faults::default();
        let sides = vec![
            line(&[(10.0, 10.0), (0.0, 10.0)]),
            line(&[(0.0, 0.0), (10.0, 0.0)]),
            line(&[(10.0, 10.0), (10.0, 0.01)]),
            line(&[(0.0, 10.0), (0.0, 0.0)]),
            line(&[(20.0, 0.0), (30.0, 0.0)]),
            line(&[(30.0, 0.0), (30.0, 5.0)]),
        ];
        let (closed, open) = chained(sides, &mut faults);
        assert_eq!((closed.len(), open.len()), (1, 1));
        assert!((flat::signed_area(&closed[0]).abs() - 100.0).abs() < 0.1);
        let told = faults.told(None, |p| p);
        assert_eq!(
            told.iter().map(|f| (f.kind, f.count)).collect::<Vec<_>>(),
            [(FaultKind::OpenEnd, 2), (FaultKind::Gap, 1)]
        );
        assert_eq!(told[0].places, [DVec2::new(30.0, 5.0), DVec2::new(20.0, 0.0)]);
    }
}
