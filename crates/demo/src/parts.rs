//! The demo's parts.

use crate::shapes::{arc, block, cylinder, loft, prism, sheet_of, turned};
use glam::{DVec2, DVec3};
use solid::{Mesh, boolean::Body};

/// Barrel of the valve body: axis along x through the origin.
pub const BARREL_RADIUS: f64 = 15.0;
pub const WALL: f64 = 2.4;

/// A plain block, 60 × 30 × 12, one corner at the origin.
#[must_use]
pub fn plain_block() -> Mesh {
    block(DVec3::ZERO, DVec3::new(60.0, 30.0, 12.0))
}

/// The valve body: a round cylinder (R 15, wall 2.4) along x with an end flange, a flat side flange
/// whose top looks up, a top that leans 20° on the cylinder's back, hollow from end to end.
#[must_use]
pub fn valve_body() -> Mesh {
    let solid = |mesh: &Mesh| Body::new(mesh, "a piece of the valve body").expect("the demo's shapes are closed");
    let barrel = cylinder(DVec3::ZERO, DVec3::X * 52.0, BARREL_RADIUS);
    let collar = cylinder(DVec3::ZERO, DVec3::X * 5.0, 21.0);
    let side = block(DVec3::new(8.0, -40.0, -2.0), DVec3::new(46.0, -13.8, 3.0));
    let holes = [14.0, 40.0].map(|x| cylinder(DVec3::new(x, -34.0, -5.0), DVec3::Z * 12.0, 2.6));
    // leaning top: its top falls from z = 19 at x = 37 by 20°
    let fall = 12.0 * 20.0_f64.to_radians().tan();
    let top = prism(
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
        solid(&barrel).with(&[solid(&collar), solid(&side), solid(&top)], &cut).expect("the demo's shapes join");
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

/// Edge of the manifold block, and how much its bevels take off, along the front's top edge and the back's lower one.
pub const MANIFOLD: f64 = 36.0;
pub const BEVEL: f64 = 8.0;
pub const LOWER_BEVEL: f64 = 6.0;
/// Radius of the fillet between the lower bevel and the back.
pub const FILLET: f64 = 4.0;
/// Height of the back's port.
pub const BACK_PORT: f64 = 14.0;

/// The manifold block: a cube with a port on five of its faces, a broad bevel between front and top, and one under the back
/// that runs into it over a fillet.
#[must_use]
pub fn manifold_block() -> Mesh {
    let solid = |mesh: &Mesh| Body::new(mesh, "a piece of the manifold block").expect("the demo's shapes are closed");
    let (size, off) = (MANIFOLD, BEVEL);
    // where a fillet between flats at 45° begins
    let fillet = LOWER_BEVEL + FILLET * 22.5_f64.to_radians().tan();
    let mut side = vec![DVec2::ZERO, DVec2::new(size - LOWER_BEVEL, 0.0)];
    side.extend(arc(DVec2::new(size - FILLET, fillet), FILLET, -45.0, 0.0));
    side.extend([(size, size), (off, size), (0.0, size - off)].map(DVec2::from));
    let side: Vec<DVec3> = side.iter().map(|p| DVec3::new(0.0, p.x, p.y)).collect();
    let cube = solid(&prism(&side, DVec3::X * size));
    let middle = size / 2.0;
    let port = |from: DVec3, along: DVec3| solid(&cylinder(from - along, along * 13.0, 5.0));
    let ports = [
        port(DVec3::new(middle, 0.0, 10.0), DVec3::Y),
        port(DVec3::new(middle, size, BACK_PORT), DVec3::NEG_Y),
        port(DVec3::new(0.0, middle, 10.0), DVec3::X),
        port(DVec3::new(size, middle, 10.0), DVec3::NEG_X),
        port(DVec3::new(middle, 22.0, size), DVec3::NEG_Z),
    ];
    cube.with(&[], &ports).expect("the demo's shapes join").traced().mesh
}

/// The filter cup: hollow, thin-walled, waisted like a vase, open above, its axis along z.
#[must_use]
pub fn filter_cup() -> Mesh {
    let wall = 2.0;
    // outside: foot, belly, waist, lip; inside the same a wall further in
    let belly = DVec2::new(8.0, 20.0);
    let mut half = vec![DVec2::ZERO, DVec2::new(12.0, 0.0)];
    half.extend(arc(belly, 18.0, -68.0, 52.0));
    let neck = half[half.len() - 1] + DVec2::from_angle(52.0_f64.to_radians()) * 9.0;
    half.extend(arc(neck, 9.0, 232.0, 160.0).into_iter().skip(1));
    let lip = half[half.len() - 1];
    half.extend([DVec2::new(lip.x + 1.5, lip.y + 5.0), DVec2::new(lip.x - 0.5, lip.y + 5.0)]);
    let mut inside = arc(neck, 9.0 + wall, 162.0, 232.0);
    inside.extend(arc(belly, 18.0 - wall, 52.0, -62.0).into_iter().skip(1));
    half.extend(inside);
    half.push(DVec2::new(0.0, 3.0));
    turned(&half)
}

/// The name plate: a surface body, 50 × 20, bent to a radius of 40 about an axis along x.
#[must_use]
pub fn name_plate() -> Mesh {
    let (radius, wide, tall) = (40.0, 50.0, 20.0);
    let reach = tall / radius / 2.0;
    sheet_of(24, 60, |u, v| {
        let angle = -reach + 2.0 * reach * u;
        DVec3::new(wide * v, radius * angle.sin(), radius * angle.cos() - radius)
    })
}
