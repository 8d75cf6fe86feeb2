//! The demo's parts.

use crate::shapes::{block, cylinder, loft, prism};
use glam::DVec3;
use solid::{Mesh, boolean::Body};

/// Barrel of the valve body: axis along x through the origin.
pub const BARREL_RADIUS: f64 = 15.0;
pub const WALL: f64 = 2.4;

/// A plain block, 60 × 30 × 12, one corner at the origin.
#[must_use]
pub fn plain_block() -> Mesh {
    block(DVec3::ZERO, DVec3::new(60.0, 30.0, 12.0))
}

/// The valve body: a round barrel (R 15, wall 2.4) along x with an end flange, a flat side flange
/// whose top looks up, a land that leans 20° on the barrel's back, hollow from end to end.
#[must_use]
pub fn valve_body() -> Mesh {
    let solid = |mesh: &Mesh| Body::new(mesh, "a piece of the valve body").expect("the demo's shapes are closed");
    let barrel = cylinder(DVec3::ZERO, DVec3::X * 52.0, BARREL_RADIUS);
    let collar = cylinder(DVec3::ZERO, DVec3::X * 5.0, 21.0);
    let side = block(DVec3::new(8.0, -40.0, -2.0), DVec3::new(46.0, -13.8, 3.0));
    let holes = [14.0, 40.0].map(|x| cylinder(DVec3::new(x, -34.0, -5.0), DVec3::Z * 12.0, 2.6));
    // leaning land: its top falls from z = 19 at x = 37 by 20°
    let fall = 12.0 * 20.0_f64.to_radians().tan();
    let land = prism(
        &[
            DVec3::new(37.0, 7.0, 13.2),
            DVec3::new(49.0, 7.0, 13.2),
            DVec3::new(49.0, 7.0, 19.5 - fall),
            DVec3::new(37.0, 7.0, 19.5),
        ],
        DVec3::Y * -14.0,
    );
    let bore = cylinder(DVec3::X * -1.0, DVec3::X * 54.0, BARREL_RADIUS - WALL);
    let cut: Vec<Body> = holes.iter().chain([&bore]).map(solid).collect();
    let whole =
        solid(&barrel).with(&[solid(&collar), solid(&side), solid(&land)], &cut).expect("the demo's shapes join");
    whole.traced().mesh
}

/// The shut-off lever: a grip of freeform faces along x, a hub round z with a square hole, its top
/// flat at [`HUB_TOP`].
#[must_use]
pub fn shut_off_lever() -> Mesh {
    let solid = |mesh: &Mesh| Body::new(mesh, "a piece of the lever").expect("the demo's shapes are closed");
    // thumb-wide at the end, waisted before the hub; the halves part at z = 0
    let grip = loft(-6.0, 74.0, |t| {
        let round = (1.0 - (2.0 * t - 1.0).powi(6)).max(0.0).sqrt();
        let wide = 7.0 + 2.6 * (std::f64::consts::PI * (1.6 * t - 0.3)).sin();
        (wide * round, (3.6 + 1.2 * (1.0 - t)) * round)
    });
    let hub = cylinder(DVec3::Z * -6.0, DVec3::Z * (HUB_TOP + 6.0), 13.0);
    let hole = block(DVec3::new(-4.0, -4.0, -10.0), DVec3::new(4.0, 4.0, 12.0));
    solid(&grip).with(&[solid(&hub)], &[solid(&hole)]).expect("the demo's shapes join").traced().mesh
}

/// Height of the lever's hub.
pub const HUB_TOP: f64 = 7.0;

/// The die-cast bracket: a foot with two holes, an upright with a cross hole that only a slide can
/// form, a rib between them.
#[must_use]
pub fn die_cast_bracket() -> Mesh {
    let solid = |mesh: &Mesh| Body::new(mesh, "a piece of the bracket").expect("the demo's shapes are closed");
    let foot = block(DVec3::new(0.0, 0.0, 0.0), DVec3::new(64.0, 44.0, 5.0));
    // 2° of draft on both sides of the upright
    let lean = 34.0 * 2.0_f64.to_radians().tan();
    let upright = prism(
        &[
            DVec3::new(58.0, 44.0, 4.0),
            DVec3::new(64.0, 44.0, 4.0),
            DVec3::new(64.0 - lean, 44.0, 38.0),
            DVec3::new(58.0 + lean, 44.0, 38.0),
        ],
        DVec3::Y * -44.0,
    );
    let rib = prism(
        &[DVec3::new(34.0, 24.0, 4.0), DVec3::new(60.0, 24.0, 4.0), DVec3::new(60.0, 24.0, 30.0)],
        DVec3::Y * -4.0,
    );
    let holes = [10.0, 34.0].map(|y| cylinder(DVec3::new(10.0, y, -1.0), DVec3::Z * 8.0, 3.3));
    let cross = cylinder(DVec3::new(50.0, 10.5, 24.0), DVec3::X * 20.0, 4.0);
    let cut: Vec<Body> = holes.iter().chain([&cross]).map(solid).collect();
    solid(&foot).with(&[solid(&upright), solid(&rib)], &cut).expect("the demo's shapes join").traced().mesh
}
