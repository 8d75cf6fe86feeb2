//! Why a character's body can't be built, and which setting would build.

use crate::{ReliefError, wall::WallError};
use trade::{Relief, Walls};

/// Settings are looked for in the steps that a drawing would carry: degrees and mm.
const DRAFT_STEP: f64 = 0.5;
const HEIGHT_STEP: f64 = 0.05;
const ROUND_STEP: f64 = 0.01;

/// The reason in words for one character. `builds` tries it with other settings of its relief.
pub(super) fn refused(failed: WallError, relief: &Relief, text: &str, builds: &dyn Fn(&Relief) -> bool) -> ReliefError {
    let character = text.to_owned();
    let Relief { height, draft, edge, root, .. } = *relief;
    if failed == WallError::Rounds {
        return ReliefError::Rounds { character, edge, root, height };
    }
    let sharp = Relief { edge: 0.0, root: 0.0, ..*relief };
    if (edge > 0.0 || root > 0.0) && builds(&sharp) {
        let fits = fitting(relief, builds);
        let (what, verb) = (rounds(edge, root), if edge > 0.0 && root > 0.0 { "are" } else { "is" });
        let leans = failed == WallError::RoundsLean && relief.walls == Walls::Pull;
        let (place, else_way) = match leans {
            true => ("along the pull, from which the seat leans there", "set the walls square to the seat"),
            false => ("for its strokes there", "use larger letters"),
        };
        let way = match fits {
            (0.0, 0.0) => format!("leave it sharp, or {else_way}"),
            (edge, root) => format!("{} would fit", rounds(edge, root)),
        };
        return ReliefError::TooRound { character, what, verb, place, way, fits };
    }
    let way = mend(relief, builds);
    match failed {
        WallError::TooSteep | WallError::NeverEnds | WallError::RoundsLean if relief.walls == Walls::Pull => {
            let square = Relief { walls: Walls::Seat, ..*relief };
            let way = way.unwrap_or_else(|| match builds(&square) {
                true => "move the mark towards the crown or set the walls square to the seat".into(),
                false => "move the mark towards the crown".into(),
            });
            ReliefError::AlongPull { character, draft, way }
        }
        WallError::TooSteep | WallError::NeverEnds | WallError::RoundsLean => {
            let way = way.unwrap_or_else(|| "move the mark to where it bends less".into());
            ReliefError::SeatBends { character, draft, height, way }
        }
        WallError::Crosses => {
            let way = way.unwrap_or_else(|| "use less height or draft, or move the mark".into());
            ReliefError::Crosses { character, way }
        }
        WallError::Meet | WallError::Rounds => {
            let way = way.unwrap_or_else(|| "use less draft or height, or larger letters".into());
            ReliefError::WallsMeet { character, draft, height, way }
        }
    }
}

/// The largest edge and root that build, mm: the same share of what is set, then as much more of each as there is room for.
fn fitting(relief: &Relief, builds: &dyn Fn(&Relief) -> bool) -> (f64, f64) {
    let Relief { edge, root, .. } = *relief;
    let steps = |size: f64| (size / ROUND_STEP + 1e-9).floor() as u32;
    let with = |edge: f64, root: f64| builds(&Relief { edge, root, ..*relief });
    let size = |k: u32| f64::from(k) * ROUND_STEP;
    let all = steps(edge).max(steps(root)).max(1);
    let share = |of: f64, k: u32| size(steps(of * f64::from(k) / f64::from(all)));
    let both = largest(all, |k| with(share(edge, k), share(root, k))).unwrap_or(0);
    let root_shared = share(root, both);
    let edge = largest(steps(edge), |k| with(size(k), root_shared)).map_or(0.0, size);
    let root = largest(steps(root), |k| with(edge, size(k))).map_or(0.0, size);
    (edge, root)
}

/// Less draft with which it builds, else less height.
fn mend(relief: &Relief, builds: &dyn Fn(&Relief) -> bool) -> Option<String> {
    let steps = |value: f64, step: f64| ((value / step - 1e-9).ceil() - 1.0).max(0.0) as u32;
    let drafted = |k: u32| Relief { draft: f64::from(k) * DRAFT_STEP, ..*relief };
    let high = |k: u32| {
        let height = f64::from(k) * HEIGHT_STEP;
        Relief { height, gap: relief.gap.min(0.9 * height), ..*relief }
    };
    if relief.draft > 0.0 && builds(&drafted(0)) {
        let most = largest(steps(relief.draft, DRAFT_STEP), |k| builds(&drafted(k))).unwrap_or(0);
        return Some(format!("{}° draft would build, or larger letters", drafted(most).draft));
    }
    let rounds = relief.edge + relief.root;
    let most = largest(steps(relief.height, HEIGHT_STEP), |k| high(k).height >= rounds && builds(&high(k)))?;
    let word = if relief.sense.sinks() { "depth" } else { "height" };
    Some(format!("a {word} of {:.2} mm would build, or larger letters", high(most).height))
}

/// The largest number from 1 to `most` that does, where all that are smaller than one that does do too.
fn largest(most: u32, does: impl Fn(u32) -> bool) -> Option<u32> {
    let (mut low, mut high) = (0, most + 1);
    while high - low > 1 {
        let middle = u32::midpoint(low, high);
        if does(middle) { low = middle } else { high = middle }
    }
    (low > 0).then_some(low)
}

/// “an edge of 0.1 mm and a root radius of 0.08 mm”.
fn rounds(edge: f64, root: f64) -> String {
    let shown = |v: f64| (v * 1000.0).round() / 1000.0;
    match (edge > 0.0, root > 0.0) {
        (true, true) => format!("an edge of {} mm and a root radius of {} mm", shown(edge), shown(root)),
        (true, false) => format!("an edge of {} mm", shown(edge)),
        _ => format!("a root radius of {} mm", shown(root)),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_named_is_the_largest_that_builds() {
        let relief = Relief { height: 0.3, draft: 10.0, walls: Walls::Seat, ..Relief::default() };
        let told = |failed, relief: &Relief, builds: &dyn Fn(&Relief) -> bool| {
            refused(failed, relief, "B", builds).to_string()
        };
        assert!(told(WallError::Meet, &relief, &|r| r.draft <= 4.2).contains("4° draft would build"));
        assert!(told(WallError::Meet, &relief, &|r| r.height <= 0.21).contains("a height of 0.20 mm would build"));
        assert!(told(WallError::Meet, &relief, &|_| false).contains("use less draft or height"));
        // never the pull, where walls are square to the seat
        assert!(told(WallError::TooSteep, &relief, &|_| false).contains("the seat bends too sharply"));
        let pull = Relief { walls: Walls::Pull, ..relief };
        let square = told(WallError::TooSteep, &pull, &|r| r.walls == Walls::Seat);
        assert!(square.contains("square to the seat"), "{square}");
        let round = Relief { edge: 0.1, root: 0.08, ..relief };
        let less = told(WallError::RoundsLean, &round, &|r| r.edge <= 0.0601 && r.root <= 0.071);
        assert!(less.contains("an edge of 0.06 mm and a root radius of 0.07 mm would fit"), "{less}");
        let together = told(WallError::Meet, &round, &|r| r.edge + r.root <= 0.091);
        assert!(together.contains("an edge of 0.05 mm and a root radius of 0.04 mm would fit"), "{together}");
        assert!(told(WallError::Meet, &round, &|r| r.edge == 0.0 && r.root == 0.0).contains("leave it sharp"));
    }
}
