//! The demo's parts, as they come out of booleans and a single-precision file, fall into the faces
//! they were made of.

use solid::{Part, Surface, formats::stl};
use trade::Unit;

#[test]
fn every_face_of_the_valve_body_is_found_with_its_radius() {
    let bytes = stl::write(&demo::parts::valve_body());
    let part = Part::read("valve-body.stl", &bytes, Some(Unit::Mm)).unwrap();
    assert_eq!(part.soundness.complaint(), None);
    let mut round: Vec<(f64, bool)> = part
        .faces
        .iter()
        .filter_map(|f| match f.surface {
            Surface::Cylinder { radius, inside, .. } => Some(((radius * 1e3).round() / 1e3, inside)),
            _ => None,
        })
        .collect();
    round.sort_by(|a, b| a.0.total_cmp(&b.0));
    assert_eq!(round, [(2.6, true), (2.6, true), (12.6, true), (15.0, false), (21.0, false)]);
    let planes = part.faces.iter().filter(|f| matches!(f.surface, Surface::Plane { .. })).count();
    // three ends of barrel and collar, five sides of the flange, five of the land
    assert_eq!(planes, 13);
    assert_eq!(part.faces.len(), 18);
    assert!(part.faces.iter().all(|f| f.residual < 1e-3));
}

#[test]
fn the_block_has_six_planes() {
    let part = Part::from_mesh(&demo::parts::plain_block()).unwrap();
    assert_eq!(part.faces.len(), 6);
    assert!(part.faces.iter().all(|f| matches!(f.surface, Surface::Plane { .. })));
    assert!((part.mesh.volume() - 60.0 * 30.0 * 12.0).abs() < 1e-9);
}
