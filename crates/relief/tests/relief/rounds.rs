//! Edges, roots and fillings.

use super::{barrel, build, facets, is_stout, mark, top_of_block};
use glam::{DVec2, DVec3};
use relief::{BuiltMark, Role, Seat, Tag};
use solid::soundness;
use std::sync::Arc;
use trade::{EdgeShape, Lettering, MeasuredAt, Relief, Rounds, Sense, Walls};

/// A fillet between a wall of the draft α and a level has its centre r off both: measured in section on the
/// straight sides of a slot.
#[test]
fn edges_and_roots_have_their_radius_in_section() {
    let (part, top) = top_of_block();
    let (h, w, alpha, edge, root) = (0.6, 0.8, 5.0_f64, 0.15, 0.1);
    let (tan, cos) = (alpha.to_radians().tan(), alpha.to_radians().cos());
    for sense in [Sense::Raised, Sense::Sunken] {
        for held in [MeasuredAt::Top, MeasuredAt::Root] {
            let relief = Relief { sense, height: h, draft: alpha, measured_at: held, edge, root, ..Relief::default() };
            let mut mark = mark("I", top, relief);
            mark.lettering = Lettering { face: "centre-line".into(), stroke: Some(w), ..Lettering::default() };
            let (built, solid) = build(&part, &mark);
            let middle = built.seat.chart.point(built.placed.middle, 0.0).x;
            // from the top or floor along the relief: 0 there, h at the surface
            let from_land = |p: DVec3| if sense == Sense::Raised { 12.0 + h - p.z } else { p.z - (12.0 - h) };
            let sharp = if held == MeasuredAt::Top { w / 2.0 } else { w / 2.0 - h * tan };
            // the wall lies at sharp + depth · tan
            let narrow = if sense == Sense::Raised { edge } else { root };
            let wide = if sense == Sense::Raised { root } else { edge };
            let inner = DVec2::new(sharp + narrow * tan - narrow / cos, narrow);
            let outer = DVec2::new(sharp + (h - wide) * tan + wide / cos, h - wide);
            for (role, centre, radius) in [
                (if sense == Sense::Raised { Role::Edge } else { Role::Root }, inner, narrow),
                (if sense == Sense::Raised { Role::Root } else { Role::Edge }, outer, wide),
            ] {
                let mut seen = 0;
                for t in facets(&solid, role).into_iter().filter(|&t| solid.mesh.normal(t).y.abs() < 1e-6) {
                    let [a, b, c] = solid.mesh.corners(t);
                    for p in [a, b, c, (a + b) / 2.0, (b + c) / 2.0, (c + a) / 2.0] {
                        let off = DVec2::new((p.x - middle).abs(), from_land(p)).distance(centre) - radius;
                        assert!(off.abs() < 0.01, "{sense:?} {held:?} {role:?} {off} at {p}");
                        seen += 1;
                    }
                }
                assert!(seen > 20, "{sense:?} {role:?} {seen}");
            }
        }
    }
    // more than there is height for is refused in words
    let relief = Relief { height: 0.2, edge: 0.15, root: 0.15, ..Relief::default() };
    let seat = Arc::new(Seat::on(&part, top, None).unwrap());
    let error = BuiltMark::new(&mark("I", top, relief), seat, None).err().unwrap().to_string();
    assert!(error.contains("don't fit into a height of 0.2 mm"), "{error}");
}

#[test]
fn edges_and_roots_can_be_had_on_round_seats_with_either_wall_sense() {
    let (part, round) = barrel(15.0);
    for shape in [EdgeShape::Round, EdgeShape::Bevel] {
        for (sense, walls) in [(Sense::Raised, Walls::Seat), (Sense::Sunken, Walls::Pull), (Sense::Raised, Walls::Pull)]
        {
            for held in [MeasuredAt::Top, MeasuredAt::Root] {
                let relief = Relief {
                    sense,
                    walls,
                    measured_at: held,
                    edge: 0.08,
                    edge_shape: shape,
                    root: 0.06,
                    ..Relief::default()
                };
                let (_, solid) = build(&part, &mark("R8-S", round, relief));
                for role in [Role::Edge, Role::Root, Role::Wall] {
                    assert!(facets(&solid, role).len() > 100, "{relief:?} {role:?}");
                }
                // the rounds lean more than the walls do: they look more the way that the seat looks
                let looks = |role: Role| {
                    let facets: Vec<usize> =
                        facets(&solid, role).into_iter().filter(|&t| is_stout(&solid.mesh, t)).collect();
                    let out = |t: usize| (solid.mesh.centroid(t) * DVec3::new(0.0, 1.0, 1.0)).normalize();
                    facets.iter().map(|&t| solid.mesh.normal(t).dot(out(t))).sum::<f64>() / facets.len() as f64
                };
                assert!(looks(Role::Edge) > looks(Role::Wall) + 0.2, "{relief:?}");
                assert!(looks(Role::Root) > looks(Role::Wall) + 0.2, "{relief:?}");
                for t in facets(&solid, Role::Wall).into_iter().filter(|&t| is_stout(&solid.mesh, t)) {
                    if walls == Walls::Pull {
                        assert!((solid.mesh.normal(t).z.asin().to_degrees() - 3.0).abs() < 0.05);
                    }
                }
            }
        }
    }
}

/// A filling takes the room of its pocket, or that less a gap: volumes of straight-walled inlays are areas
/// times depths, and the filling ends on the seat.
#[test]
fn a_filling_fits_its_pocket_and_is_flush() {
    let (part, top) = top_of_block();
    for (gap, draft) in [(0.0, 0.0), (0.0, 4.0), (0.05, 0.0), (0.05, 4.0)] {
        let relief = Relief { sense: Sense::Inlay, height: 0.5, draft, gap, ..Relief::default() };
        let (built, solid) = build(&part, &mark("VB-8", top, relief));
        let pocket = part.mesh.volume() - solid.mesh.volume();
        let filling: f64 = built.fillings.iter().map(|f| f.mesh.volume()).sum();
        for body in &built.fillings {
            let sound = soundness::examine(&body.mesh);
            assert!(sound.is_solid() && sound.shells == 1, "{:?}", sound.complaint());
            let (low, high) = body.mesh.bounds();
            assert!((high.z - 12.0).abs() < 1e-9 && (low.z - (11.5 + gap)).abs() < 1e-9, "{low} {high}");
        }
        if gap == 0.0 {
            assert!((filling / pocket - 1.0).abs() < 2e-4, "{filling} {pocket}");
            continue;
        }
        assert!(filling < 0.9 * pocket, "{filling} {pocket}");
        // no place of the filling's walls and floor lies nearer to the pocket than the gap
        let pocket = solid::queries::Queries::new(solid.mesh.clone());
        let own = built.fillings.iter().flat_map(|f| (0..f.roles.len()).map(move |t| (f, t)));
        let mut nearest = f64::MAX;
        for (f, t) in own.filter(|(f, t)| matches!(f.roles[*t], Role::Wall | Role::Floor)) {
            nearest = nearest.min(pocket.nearest(f.mesh.centroid(t), 1.0).unwrap().distance);
        }
        assert!((nearest - gap).abs() < 2e-3, "{nearest}");
    }
    let relief = Relief { sense: Sense::Inlay, height: 0.5, gap: 0.3, ..Relief::default() };
    let seat = Arc::new(Seat::on(&part, top, None).unwrap());
    let error = BuiltMark::new(&mark("B", top, relief), seat, None).err().unwrap().to_string();
    assert!(error.contains("“B”: a gap of 0.3 mm"), "{error}");
}

/// A bar of the width w keeps a top where w is more than the round takes off both its sides: 2 r (cos α − (1 − sin α)
/// tan α) where it is measured at the top. Sunken, the same of the floor and its corner.
#[test]
fn an_edge_or_root_that_is_too_large_for_a_stroke_is_the_largest_that_fits_it_where_allowed() {
    let (part, top) = top_of_block();
    for (w, alpha) in [(0.4, 0.0_f64), (0.4, 5.0), (0.25, 3.0), (0.31, 10.0)] {
        let (sin, cos, tan) = (alpha.to_radians().sin(), alpha.to_radians().cos(), alpha.to_radians().tan());
        let takes = |r: f64| 2.0 * r * (cos - (1.0 - sin) * tan);
        for sense in [Sense::Raised, Sense::Sunken] {
            let raised = sense == Sense::Raised;
            let (edge, root) = if raised { (0.3, 0.05) } else { (0.05, 0.3) };
            let relief = Relief { sense, height: 0.5, draft: alpha, edge, root, ..Relief::default() };
            let mut mark = mark("I", top, relief);
            mark.lettering = Lettering { face: "centre-line".into(), stroke: Some(w), ..Lettering::default() };
            let seat = Arc::new(Seat::on(&part, top, None).unwrap());
            let error = BuiltMark::new(&mark, seat, None).err().unwrap().to_string();
            mark.relief.rounds = Rounds::AsFit;
            let (built, solid) = build(&part, &mark);
            let told: Vec<_> = built.less_round().map(|(at, relief)| (at, relief.edge, relief.root)).collect();
            let &[(0, edge, root)] = &told[..] else { panic!("{told:?}") };
            let (largest, other) = if raised { (edge, root) } else { (root, edge) };
            assert!((other - 0.05).abs() < 1e-9, "what fits stays: {other}");
            assert!(takes(largest) < w && takes(largest + 0.011) > w, "{sense:?} {w} {alpha}: {largest}");
            // what is refused names the same
            let named = format!("an edge of {} mm and a root radius of {} mm would fit", shown(edge), shown(root));
            assert!(error.contains(&named), "{error}: {named}");
            // what is left of the bar, on the finished solid
            let land = facets(&solid, if raised { Role::Top } else { Role::Floor });
            let xs = land.iter().flat_map(|&t| solid.mesh.corners(t)).map(|p| p.x);
            let (low, high) = xs.fold((f64::MAX, f64::MIN), |(low, high), x| (low.min(x), high.max(x)));
            assert!((high - low - (w - takes(largest))).abs() < 2e-3, "{} for {}", high - low, w - takes(largest));
        }
    }
}

fn shown(v: f64) -> f64 {
    (v * 1000.0).round() / 1000.0
}

/// Letters that have room keep what is set: the round begins r (1 − sin α) under the top.
#[test]
fn only_thin_letters_are_less_round() {
    let (part, top) = top_of_block();
    let relief = Relief { height: 0.4, draft: 3.0, edge: 0.14, rounds: Rounds::AsFit, ..Relief::default() };
    let mut mark = mark("B-8.I", top, relief);
    mark.lettering = Lettering { face: "stardos-stencil".into(), cap_height: 4.0, ..Lettering::default() };
    let (built, solid) = build(&part, &mark);
    let less: Vec<u32> = built.less_round().map(|(at, _)| at).collect();
    assert!(!less.is_empty() && less.len() < 5, "{less:?}");
    for at in 0..5 {
        let edge = built.relief(at).edge;
        assert_eq!(edge < 0.14, less.contains(&at));
        let of = |tag: Tag| matches!(tag, Tag::Relief { role: Role::Edge, character, .. } if character == at);
        let corners = (0..solid.tags.len()).filter(|&t| of(solid.tags[t])).flat_map(|t| solid.mesh.corners(t));
        let low = corners.map(|p| p.z).fold(f64::MAX, f64::min);
        let tall = edge * (1.0 - 3_f64.to_radians().sin());
        assert!((12.4 - low - tall).abs() < 1e-6, "{at}: {} for {tall}", 12.4 - low);
    }
}
