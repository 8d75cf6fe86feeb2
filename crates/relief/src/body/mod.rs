//! A character's relief bodies: closed meshes, one for each island, whose facets know their role.
//!
//! Raised bodies stand on the part and reach a little into it; sunken ones are cutters that reach
//! a little out of it, by more than the part's facets lie off its true surface, so that nothing
//! coincides and nothing meets in a mere edge. On a surface body they are joined to nothing
//! and end on its surface; so do the films that stand for surface-only lettering.

mod builder;
mod filling;
mod outline;
mod pad;
mod refused;
mod rounding;
mod stages;

use crate::{ReliefError, off_crease, seat::Seat, wall::WallError};
use builder::Builder;
pub use filling::fillings;
use flat::Region;
use glam::DVec3;
use outline::without_short_edges;
pub use pad::{PAD, pad};
use solid::{Mesh, crossing::crossing_pairs};
use trade::{Relief, Rounds, Sense};

/// Facets of the top or floor stay within this of the true offset surface, mm.
pub(crate) const SAG: f64 = 0.0008;

/// Where walls run into one another or cross, they are tried again otherwise: edges of the outline
/// shorter than the first are taken out, places nearer than the second are one; mm, all far below what a
/// cutter leaves. Such edges stand in the inner corners of flattened outlines.
const TRIES: [(f64, f64); 6] =
    [(0.0, 0.002), (0.0, 0.0005), (0.0, 0.006), (0.004, 0.002), (0.012, 0.002), (0.03, 0.002)];

/// So many of them when a setting that would build is looked for.
const FEW_TRIES: usize = 3;

/// Surface-only lettering is measured and shown as a film of this height, mm.
pub const FILM: f64 = 0.01;

/// The relief that a mark is built with: surface-only lettering as a film with upright walls.
#[must_use]
pub fn built_as(relief: &Relief) -> Relief {
    match relief.sense {
        Sense::Raised | Sense::Sunken | Sense::Inlay => *relief,
        Sense::Surface | Sense::Stamp => Relief { height: FILM, draft: 0.0, ..Relief::default() },
    }
}

/// What a facet of a body is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, serde::Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Role {
    Top,
    Floor,
    Wall,
    /// The round or bevel of the outer edge: between wall and top, or wall and surface of a sunken letter.
    Edge,
    /// The radius of the inner corner: between wall and surface, or wall and floor of a sunken letter.
    Root,
    /// The far side past the surface. Seen on a marked solid, the mark hangs over an edge.
    Skirt,
    /// The underside of what is joined to nothing: it lies on the seat.
    Base,
}

#[derive(Clone, Debug)]
pub struct CharacterBody {
    /// Which character of the mark.
    pub character: u32,
    pub mesh: Mesh,
    pub roles: Vec<Role>,
}

/// The bodies of one character, and the relief that they have: `region` is its outline on the strip at the held level.
/// [`Rounds::AsFit`]: its edge and root are the largest that fit all its islands.
///
/// # Errors
/// Walls that can't be built there, or that meet; the sentence names the character.
pub fn bodies(
    seat: &Seat,
    relief: &Relief,
    pull: Option<DVec3>,
    character: u32,
    text: &str,
    region: &Region,
) -> Result<(Relief, Vec<CharacterBody>), ReliefError> {
    let apart = seat.surface_body || !relief.sense.has_relief();
    let mut relief = *relief;
    loop {
        match build(seat, &relief, apart, 0.0, pull, character, text, region) {
            // smaller with each island that it is still too large for
            Err(ReliefError::TooRound { fits, .. }) if relief.rounds == Rounds::AsFit => {
                (relief.edge, relief.root) = fits;
            }
            built => return built.map(|bodies| (relief, bodies)),
        }
    }
}

/// The number of what a mark keeps free among its characters.
pub const FREE: u32 = u32::MAX - 1;

/// `past`: how far outside the seat a body that is cut away reaches, mm, where that is more than it must.
#[allow(clippy::too_many_arguments)]
fn build(
    seat: &Seat,
    relief: &Relief,
    apart: bool,
    past: f64,
    pull: Option<DVec3>,
    character: u32,
    text: &str,
    region: &Region,
) -> Result<Vec<CharacterBody>, ReliefError> {
    let beside = off_crease::without_creases(seat, &built_as(relief), region);
    let seat = beside.as_ref().unwrap_or(seat);
    region
        .islands
        .iter()
        .map(|island| {
            let built = |relief: &Relief, tries: &[(f64, f64)]| -> Result<_, ReliefError> {
                tried(tries, |shortest, met| {
                    let island = without_short_edges(island, shortest);
                    let builder = Builder::new(seat, relief, (apart, past), pull, &island)?;
                    Ok(builder.build(character, met))
                })
            };
            built(relief, &TRIES)?.map_err(|failed| {
                let builds = |relief: &Relief| built(relief, &TRIES[..FEW_TRIES]).is_ok_and(|body| body.is_ok());
                refused::refused(failed, relief, text, &builds)
            })
        })
        .collect()
}

/// The first of the tries that comes to a body without crossings, else why it doesn't.
fn tried(
    tries: &[(f64, f64)],
    build: impl Fn(f64, f64) -> Result<Result<CharacterBody, WallError>, ReliefError>,
) -> Result<Result<CharacterBody, WallError>, ReliefError> {
    let mut failed = WallError::Meet;
    let mut crosses = false;
    for &(shortest, met) in tries {
        match build(shortest, met)? {
            Ok(body) if crossing_pairs(&body.mesh).is_empty() => return Ok(Ok(body)),
            Ok(_) => crosses = true,
            Err(e) => failed = e,
        }
        if failed != WallError::Meet {
            break;
        }
    }
    Ok(Err(if crosses { WallError::Crosses } else { failed }))
}
