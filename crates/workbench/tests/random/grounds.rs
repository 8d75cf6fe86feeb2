//! The parts that jobs at random are made on.

use demo::shapes::{arc, cylinder, prism, turned};
use glam::{DVec2, DVec3};
use solid::{Part, Surface, boolean::Body};
use trade::SeatRef;
use workbench::Bench;

pub(super) struct Ground {
    pub(super) name: &'static str,
    pub(super) bench: Bench,
    pub(super) pull: DVec3,
    pub(super) seats: Vec<SeatRef>,
}

pub(super) fn of(points: &[(f64, f64)]) -> Vec<DVec2> {
    points.iter().map(|&(r, z)| DVec2::new(r, z)).collect()
}

pub(super) fn grounds() -> Vec<Ground> {
    let ground = |name, part: Part, pull: DVec3, wanted: &dyn Fn(&Surface) -> bool| {
        let found = part.faces.iter().enumerate().filter(|(_, f)| wanted(&f.surface));
        let seats: Vec<SeatRef> = found.map(|(at, _)| SeatRef::on(at as u32)).collect();
        assert!(!seats.is_empty(), "{name}");
        Ground { name, bench: Bench::new(part), pull, seats }
    };
    let mesh = |mesh: &solid::Mesh| Part::from_mesh(mesh).unwrap();
    let tube = {
        let body = |mesh: &solid::Mesh| Body::new(mesh, "a piece of the tube").unwrap();
        let outer = body(&cylinder(DVec3::ZERO, DVec3::X * 50.0, 20.0));
        outer.with(&[], &[body(&cylinder(DVec3::NEG_X, DVec3::X * 52.0, 16.0))]).unwrap().traced().mesh
    };
    let dome: Vec<DVec2> = of(&[(0.0, 0.0)]).into_iter().chain(arc(DVec2::ZERO, 25.0, 0.0, 90.0)).collect();
    let mut ring = arc(DVec2::new(24.0, 0.0), 8.0, -180.0, 180.0);
    ring.pop();
    let bowl: Vec<DVec2> = of(&[(0.0, -24.0), (30.0, -24.0), (30.0, 0.0), (20.0, 0.0)])
        .into_iter()
        .chain(arc(DVec2::ZERO, 20.0, 0.0, -90.0).into_iter().skip(1))
        .collect();
    let rise = 12.0 * 20.0_f64.to_radians().tan();
    let roof: Vec<DVec3> = [(-12.0, 0.0), (12.0, 0.0), (12.0, 4.0), (0.0, 4.0 + rise), (-12.0, 4.0)]
        .iter()
        .map(|&(x, z)| DVec3::new(x, 10.0, z))
        .collect();
    let mut all = vec![
        ground("block", mesh(&demo::parts::plain_block()), DVec3::Z, &|s| matches!(s, Surface::Plane { .. })),
        ground("tube", mesh(&tube), DVec3::Z, &|s| matches!(s, Surface::Cylinder { .. })),
        ground("cone", mesh(&turned(&of(&[(0.0, 0.0), (12.0, 0.0), (6.0, 20.0), (0.0, 20.0)]))), DVec3::NEG_Y, &|s| {
            matches!(s, Surface::Cone { .. })
        }),
        ground("dome", mesh(&turned(&dome)), DVec3::Z, &|s| matches!(s, Surface::Sphere { .. })),
        ground("bowl", mesh(&turned(&bowl)), DVec3::Z, &|s| matches!(s, Surface::Sphere { .. })),
        ground("ring", mesh(&turned(&ring)), DVec3::Z, &|s| matches!(s, Surface::Torus { .. })),
        ground("lever", mesh(&demo::parts::shut_off_lever()), DVec3::Z, &|s| matches!(s, Surface::Freeform)),
        ground(
            "roof",
            mesh(&prism(&roof, DVec3::NEG_Y * 20.0)),
            DVec3::Z,
            &|s| matches!(s, Surface::Plane { normal, .. } if normal.z > 0.5),
        ),
    ];
    let together = |ground: &mut Ground| {
        let faces: Vec<u32> = ground.seats.iter().map(|s| s.face).collect();
        ground.seats.push(SeatRef { face: faces[0], with: faces[1..].to_vec() });
    };
    together(all.last_mut().unwrap());
    // a belly of R 60 on Ø 40, and an oval bar
    let belly = arc(DVec2::new(-40.0, 20.0), 60.0, -18.0, 18.0);
    let ends = |z: f64| (0.0, z);
    let barrel: Vec<DVec2> = of(&[ends(belly[0].y)])
        .into_iter()
        .chain(belly.iter().copied())
        .chain(of(&[ends(belly[belly.len() - 1].y)]))
        .collect();
    all.push(ground("barrel", mesh(&turned(&barrel)), DVec3::NEG_Y, &|s| matches!(s, Surface::Revolution { .. })));
    let oval: Vec<DVec3> = (0..180)
        .map(|k| DVec2::from_angle(f64::from(k) * 2.0_f64.to_radians()))
        .map(|p| DVec3::new(-25.0, 22.0 * p.x, 12.0 * p.y))
        .collect();
    all.push(ground("oval", mesh(&prism(&oval, DVec3::X * 50.0)), DVec3::Z, &|s| {
        matches!(s, Surface::Extrusion { .. })
    }));
    // from a flat over a fillet of R 5 to a wall, and a ridge that turns by 100°
    let mut rounded: Vec<DVec3> =
        arc(DVec2::new(7.0, 7.0), 5.0, 0.0, 90.0).iter().map(|p| DVec3::new(-15.0, p.x, p.y)).collect();
    rounded.extend([(-12.0, 12.0), (-12.0, -12.0), (12.0, -12.0)].map(|(y, z)| DVec3::new(-15.0, y, z)));
    all.push(ground("fillet", mesh(&prism(&rounded, DVec3::X * 30.0)), DVec3::new(0.0, 1.0, 1.0).normalize(), &|s| {
        match s {
            Surface::Plane { normal, .. } => normal.y > 0.9 || normal.z > 0.9,
            _ => true,
        }
    }));
    together(all.last_mut().unwrap());
    let rise = 12.0 * 50.0_f64.to_radians().tan();
    let steep = [(-12.0, 0.0), (12.0, 0.0), (12.0, 4.0), (0.0, 4.0 + rise), (-12.0, 4.0)];
    let steep: Vec<DVec3> = steep.iter().map(|&(x, z)| DVec3::new(x, 10.0, z)).collect();
    all.push(ground(
        "ridge",
        mesh(&prism(&steep, DVec3::NEG_Y * 20.0)),
        DVec3::Z,
        &|s| matches!(s, Surface::Plane { normal, .. } if normal.z > 0.5),
    ));
    together(all.last_mut().unwrap());
    all
}
