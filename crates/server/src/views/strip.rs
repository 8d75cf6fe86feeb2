//! What a strip shows, to be written down.

use super::seat;
use flat::Region;
use glam::DVec2;
use handoff::strip::{Strip, StripLayer};

use trade::{Job, Mark};
use workbench::{Bench, Steps, ties::Ties, unit_pull};

/// The strip of a mark's seat with all the marks on it that are on.
///
/// # Errors
/// The seat can't be unrolled.
pub fn strip(bench: &Bench, job: &Job, mark: &Mark) -> Result<Strip, String> {
    let pull = unit_pull(&job.tool);
    let laid = bench.seat(&mark.seat, pull)?;
    let view = seat(bench, job, &laid);
    let points = |line: &[[f64; 2]]| line.iter().map(|p| DVec2::from(*p)).collect::<Vec<_>>();
    let short = |lines: &[[[f64; 2]; 2]]| lines.iter().map(|l| points(l)).collect();
    let mut layers = vec![
        StripLayer::of_lines("face", view.outline.iter().map(|l| points(l)).collect()),
        StripLayer::of_lines("creases", short(&view.creases)),
        StripLayer::of_lines("parting line", short(&view.parting)),
    ];
    let ties = Ties::new(bench, &job.marks, pull);
    for other in job.marks.iter().filter(|m| m.on && m.seat == mark.seat) {
        // one that can't be laid is told of elsewhere and isn't drawn on the screen either
        let Ok(placed) = ties.settled(other).and_then(|m| relief::place::place(&m, &laid).map_err(|e| e.to_string()))
        else {
            continue;
        };
        let letters = placed.characters.iter().flat_map(|c| c.region.islands.clone()).collect();
        layers.push(StripLayer::of_region(other.id.clone(), Region { islands: letters }, true));
        if let Some(plate) = placed.pad {
            layers.push(StripLayer::of_region(format!("{} plate", other.id), plate, false));
        }
        let free = placed.fields.iter().flat_map(|f| f.islands.clone()).collect();
        layers.push(StripLayer::of_region(format!("{} kept free", other.id), Region { islands: free }, false));
    }
    Ok(Strip { title: format!("{}: {}", job.name, view.says), layers })
}
