//! The demo's parts.

use crate::shapes::{block, cylinder, prism};
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
