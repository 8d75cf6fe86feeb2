//! An insert: a loose piece of steel with the mark on its face, let into the tool.

use crate::{
    SteelError,
    engraved::joined,
    within::{about, bounds, surface, way},
};
use glam::DVec3;
use relief::{BuiltMark, MarkedSolid};
use solid::{Mesh, boolean::Body, queries::Queries};

/// The block begins so far inside the part under what forms its face, mm.
const INTO: f64 = 0.5;
/// So far the surface may fall away within the block, mm.
const FALLS: f64 = 100.0;
/// The way the steel leaves lies no farther off square to the seat than this, cosine: else the insert is square to it.
const SLANTED: f64 = 0.5;

#[derive(Clone, Debug)]
pub struct Insert {
    /// The steel that forms the mark and the face round it, part coordinates at the part's size.
    pub mesh: Mesh,
    /// What is cut out of the tool for it: its block with the clearance all round.
    pub pocket: Mesh,
    /// Unit vector from its face to its back, out of the part.
    pub along: DVec3,
    pub by_the_pull: bool,
    /// Along the reading direction, across it, and from its face to its back, mm in the steel.
    pub size: DVec3,
}

/// The insert of a mark: a block less the marked solid. `margin`, `deep` and `clearance` are mm in the steel, which is `scale`
/// times the part; `part` is the bare part, `marked` the whole of it with its marks.
///
/// # Errors
/// The block reaches past the part, or nothing of the mark leaves it.
pub fn insert(
    built: &BuiltMark,
    part: &Queries,
    marked: &MarkedSolid,
    [margin, deep, clearance]: [f64; 3],
    scale: f64,
) -> Result<Insert, SteelError> {
    let bodies = || built.bodies.iter().chain(&built.pad).filter(|b| built.relief(b.character).sense.has_relief());
    if bodies().next().is_none() {
        return Err(SteelError::new("a mark without relief leaves nothing in the steel"));
    }
    let out = built.ground.chart.normal(built.placed.middle);
    let along = match built.pull {
        Some(pull) if pull.dot(out) > SLANTED => pull,
        _ => out,
    };
    // whichever way it is let in, it must leave the part as the steel does
    if built.pull.is_none() {
        way(built, bodies()).map_err(|over| SteelError::new(format!("its walls lean over by {over:.1}°")))?;
    }
    let frame = about(built, along);
    let (low, high) = bounds(bodies().map(|b| &b.mesh), &frame);
    let (from, to) = (low.truncate() - margin / scale, high.truncate() + margin / scale);
    let found = surface(part, &frame, [from, to], high.z + INTO, low.z - FALLS);
    if !found.whole {
        return Err(SteelError::new(format!(
            "with {margin} mm round the lettering its block reaches past the edge of the part; set a smaller margin"
        )));
    }
    let bottom = found.least.min(low.z) - INTO;
    // what is cut away reaches past the seat; what is raised ends at its top
    let raised = bodies().filter(|b| !built.relief(b.character).sense.sinks());
    let top = found.greatest.max(bounds(raised.map(|b| &b.mesh), &frame).1.z) + deep / scale;
    // what the block holds beside the part: the steel over its face, and where the wall is thin a piece of the hollow
    let whole = Body::new(&frame.mesh(&marked.mesh), "the marked solid").map_err(joined)?;
    let rest = Body::block(from.extend(bottom), to.extend(top)).with(&[], &[whole]).map_err(joined)?;
    let mesh = rest
        .separate()
        .into_iter()
        .map(|piece| piece.traced().mesh)
        .find(|mesh| mesh.bounds().1.z > top - 1e-9)
        .ok_or_else(|| SteelError::new("nothing of its block is left beside the part"))?;
    let (least, greatest) = mesh.bounds();
    let wider = DVec3::new(clearance, clearance, 0.0) / scale;
    let pocket = Body::block(least - wider, greatest + wider).traced().mesh;
    Ok(Insert {
        mesh: frame.mesh_of_part(&mesh),
        pocket: frame.mesh_of_part(&pocket),
        along,
        by_the_pull: built.pull == Some(along),
        size: (greatest - least) * scale,
    })
}
