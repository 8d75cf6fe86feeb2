//! Lettering on freeform faces: strips against surfaces that are known otherwise, heights against the
//! facets and the formulas that the faces were made from.

use flat::contains;
use glam::{DVec2, DVec3};

use relief::{
    BuiltMark, MarkedSolid, Role, Seat, Tag,
    marked::Stock,
    place::{PlacedCharacter, off_creases, over_creases, place},
};
use solid::{Face, Mesh, Part, Surface, queries::Queries, soundness};
use std::sync::Arc;
use trade::{Lettering, Mark, MeasuredAt, Place, Relief, Rounds, SeatRef, Sense, Tie, Walls};

/// A block 40 × 24 whose top is z = `height`(x, y), its facets `step` mm wide.
fn block_under(height: impl Fn(f64, f64) -> f64, step: f64) -> Mesh {
    let (columns, rows) = ((40.0 / step) as u32, (24.0 / step) as u32);
    let mut mesh = Mesh::default();
    for layer in 0..2 {
        for j in 0..=rows {
            for i in 0..=columns {
                let (x, y) = (f64::from(i) * step - 20.0, f64::from(j) * step - 12.0);
                mesh.vertices.push(DVec3::new(x, y, if layer == 0 { -8.0 } else { height(x, y) }));
            }
        }
    }
    let all = (columns + 1) * (rows + 1);
    let at = |layer: u32, i: u32, j: u32| layer * all + j * (columns + 1) + i;
    let mut quad = |a, b, c, d| mesh.triangles.extend([[a, b, c], [a, c, d]]);
    for j in 0..rows {
        for i in 0..columns {
            quad(at(1, i, j), at(1, i + 1, j), at(1, i + 1, j + 1), at(1, i, j + 1));
            quad(at(0, i, j), at(0, i, j + 1), at(0, i + 1, j + 1), at(0, i + 1, j));
        }
    }
    for i in 0..columns {
        quad(at(0, i, 0), at(0, i + 1, 0), at(1, i + 1, 0), at(1, i, 0));
        quad(at(0, i + 1, rows), at(0, i, rows), at(1, i, rows), at(1, i + 1, rows));
    }
    for j in 0..rows {
        quad(at(0, columns, j), at(0, columns, j + 1), at(1, columns, j + 1), at(1, columns, j));
        quad(at(0, 0, j + 1), at(0, 0, j), at(1, 0, j), at(1, 0, j + 1));
    }
    mesh
}

/// The part with the face that looks up taken for freeform, whatever it is.
fn freeform_top(mesh: &Mesh) -> (Part, u32) {
    let mut part = Part::from_mesh(mesh).unwrap();
    let top = (0..part.mesh.triangles.len()).find(|&t| part.mesh.normal(t).z > 0.5).map(|t| part.face_of[t]).unwrap();
    let face: &mut Face = &mut part.faces[top as usize];
    face.surface = Surface::Freeform;
    (part, top)
}

fn mark(text: &str, face: u32) -> Mark {
    Mark {
        id: "m".into(),
        text: text.into(),
        seat: SeatRef::on(face),
        lettering: Lettering { face: "overpass".into(), cap_height: 3.5, ..Lettering::default() },
        relief: Relief { height: 0.4, draft: 3.0, ..Relief::default() },
        ..Mark::default()
    }
}

fn build(part: &Part, mark: &Mark) -> (BuiltMark, MarkedSolid) {
    let seat = Arc::new(Seat::on(part, mark.seat.face, Some(DVec3::Z)).unwrap());
    let built = BuiltMark::new(mark, seat, Some(DVec3::Z)).unwrap();
    let solid = Stock::of(part).unwrap().marked(&[(0, &built)]).unwrap();
    let sound = soundness::examine(&solid.mesh);
    assert!(sound.is_solid(), "{:?}", sound.complaint());
    assert_eq!(sound.shells, 1);
    (built, solid)
}

fn wavy(x: f64, y: f64) -> f64 {
    1.6 * (x / 9.0).sin() + 0.03 * y * y - 0.012 * x * y
}

#[test]
fn a_developable_face_unrolls_as_the_cylinder_that_it_is() {
    // part of a cylinder of radius 14 along y, taken for freeform
    let (part, top) = freeform_top(&block_under(|x, _| (30.0_f64 * 30.0 - x * x).sqrt() - 30.0, 0.8));
    let seat = Seat::on(&part, top, Some(DVec3::Z)).unwrap();
    let arc = 2.0 * 30.0 * (20.0_f64 / 30.0).asin();
    let size = seat.end - seat.start;
    // chords are shorter than arcs by (step / R)² / 24
    assert!((size.x - arc).abs() < 0.01 && (size.y - 24.0).abs() < 1e-3, "{size}");
    for (x, y) in [(-15.0, 3.0), (2.0, -7.0), (18.0, 11.0)] {
        let p = DVec3::new(x, y, (30.0_f64 * 30.0 - x * x).sqrt() - 30.0);
        let at = seat.chart.strip(p).0;
        let expected = DVec2::new(30.0 * (x / 30.0).asin() + arc / 2.0, y + 12.0);
        assert!(at.distance(expected) < 0.02, "{at} {expected}");
    }
    let placed = relief::place::place(&mark("VB-20", top), &seat).unwrap();
    assert!(placed.stretch.scale.abs() < 2e-3 && placed.stretch.shear_deg < 0.1, "{:?}", placed.stretch);
}

#[test]
fn strip_and_space_are_inverses_of_one_another_over_a_doubly_bent_face() {
    let (part, top) = freeform_top(&block_under(wavy, 0.5));
    let seat = Seat::on(&part, top, Some(DVec3::Z)).unwrap();
    let mut worst: f64 = 0.0;
    for i in 0..40 {
        for j in 0..24 {
            let at = seat.start + (seat.end - seat.start) * DVec2::new(f64::from(i) / 39.0, f64::from(j) / 23.0);
            if !seat.covers(at) {
                continue;
            }
            for height in [-0.5, 0.0, 0.7] {
                let (back, up) = seat.chart.strip(seat.chart.point(at, height));
                worst = worst.max(back.distance(at)).max((up - height).abs());
            }
        }
    }
    assert!(worst < 1e-7, "{worst}");
    // the outline on the strip lies round the face: its middle is covered, what lies beyond is not
    let ring = &seat.outline[0];
    assert!(contains(ring, (seat.start + seat.end) / 2.0) && !seat.covers(seat.start - DVec2::ONE));
}

#[test]
fn height_on_a_freeform_face_is_even_within_ten_micrometres() {
    for (sense, walls) in [(Sense::Raised, Walls::Seat), (Sense::Sunken, Walls::Seat), (Sense::Raised, Walls::Pull)] {
        let mesh = block_under(wavy, 0.5);
        let (part, top) = freeform_top(&mesh);
        let mut mark = mark("SL-8 R2", top);
        mark.place = Place { along: Tie::Middle, up: Tie::Middle, turn: 12.0, ..Place::default() };
        mark.relief = Relief { sense, walls, measured_at: MeasuredAt::Top, ..mark.relief };
        let (_, solid) = build(&part, &mark);
        let surface = Queries::new(mesh);
        let role = if sense == Sense::Raised { Role::Top } else { Role::Floor };
        let mut seen = 0;
        for t in (0..solid.tags.len()).filter(|&t| matches!(solid.tags[t], Tag::Relief { role: r, .. } if r == role)) {
            let [a, b, c] = solid.mesh.corners(t);
            for p in [a, b, c, (a + b) / 2.0, (b + c) / 2.0, (c + a) / 2.0, (a + b + c) / 3.0] {
                let off = surface.nearest(p, 5.0).unwrap().distance;
                assert!((off - 0.4).abs() < 0.01, "{sense:?} {walls:?}: {off} at {p}");
                // and from the surface that the facets were taken from: along its normal to the first order
                let slope = DVec2::new(
                    (wavy(p.x + 1e-4, p.y) - wavy(p.x - 1e-4, p.y)) / 2e-4,
                    (wavy(p.x, p.y + 1e-4) - wavy(p.x, p.y - 1e-4)) / 2e-4,
                );
                let straight_up = (p.z - wavy(p.x, p.y)).abs() / (1.0 + slope.length_squared()).sqrt();
                assert!((straight_up - 0.4).abs() < 0.03, "{straight_up}");
                seen += 1;
            }
        }
        assert!(seen > 1000, "{seen}");
    }
}

/// Least and greatest length on the surface of 1 mm of the strip, all over a box of it.
fn lengths(seat: &Seat, low: DVec2, high: DVec2) -> (f64, f64) {
    let shares = || (0..=12).map(|k| f64::from(k) / 12.0);
    let places = shares().flat_map(|s| shares().map(move |t| low + (high - low) * DVec2::new(s, t)));
    let mut found = (f64::MAX, 0.0_f64);
    for at in places {
        // over some facets
        let way = |d: DVec2| (seat.chart.point(at + 0.5 * d, 0.0) - seat.chart.point(at - 0.5 * d, 0.0)) / d.length();
        for k in 0..12 {
            let length = way(DVec2::from_angle(f64::from(k) * 15.0_f64.to_radians())).length();
            found = (found.0.min(length), found.1.max(length));
        }
    }
    found
}

/// The best map of a spherical cap of angular radius θ stretches by θ / sin θ between its least and greatest lengths
/// (Milnor 1969, A problem in cartography; from memory). The whole face, whose corners lie 51° off its middle, is laid flat
/// with more.
#[test]
fn about_a_mark_a_ball_is_laid_flat_nearly_as_well_as_can_be() {
    const R: f64 = 30.0;
    let mesh = block_under(|x, y| (R * R - x * x - y * y).sqrt() - R, 0.5);
    let (part, top) = freeform_top(&mesh);
    let seat = Arc::new(Seat::on(&part, top, Some(DVec3::Z)).unwrap());
    for (along, up) in [(0.5, 0.5), (0.25, 0.5), (0.3, 0.35), (0.75, 0.6)] {
        let mut m = mark("TIN\nBAD\nGE5", top);
        let at = |k: usize, share: f64| Tie::At { position: seat.start[k] + share * (seat.end[k] - seat.start[k]) };
        m.place = Place { along: at(0, along), up: at(1, up), ..Place::default() };
        let placed = relief::place::place(&m, &seat).unwrap();
        let (near, laid) = relief::place::about(&m, seat.clone(), placed.clone());
        let (low, high) = laid
            .outline
            .iter()
            .fold((DVec2::INFINITY, DVec2::NEG_INFINITY), |(low, high), p| (low.min(*p), high.max(*p)));
        let theta = (high - low).length() / 2.0 / R;
        let (least, most) = lengths(&near, low, high);
        let best = theta / theta.sin();
        assert!(most / least < 1.0 + 1.3 * (best - 1.0), "{} where {best} is the best", most / least);
        assert!(laid.stretch.scale.abs() < 1.3 * (best - 1.0), "{:?} for {best}", laid.stretch);
        // the middle, and the way it reads, are those of the face's strip
        assert!(laid.middle.distance(placed.middle) < 1e-6, "{} {}", laid.middle, placed.middle);
        let reads = |seat: &Seat, p: &relief::place::PlacedMark| {
            seat.chart.point(p.middle + p.along, 0.0) - seat.chart.point(p.middle - p.along, 0.0)
        };
        let turned = reads(&near, &laid).angle_between(reads(&seat, &placed)).to_degrees();
        assert!(turned < 0.5, "turned by {turned}°");
        // strip, grid and space are inverses of one another
        for k in 0..40 {
            let share = DVec2::new(f64::from(k % 8) / 7.0, f64::from(k / 8) / 4.0);
            let at = low + (high - low) * share;
            let (back, height) = near.chart.strip(near.chart.point(at, 0.3));
            assert!(back.distance(at) < 1e-6 && (height - 0.3).abs() < 1e-9, "{at} {back} {height}");
            assert!(near.chart.off_grid(near.chart.grid(at)).distance(at) < 1e-9);
        }
    }
}

#[test]
fn a_handle_that_goes_once_round_is_marked_on_the_side_that_looks_to_the_pull() {
    let part = Part::from_mesh(&demo::parts::shut_off_lever()).unwrap();
    let freeform = |f: &&(usize, &Face)| matches!(f.1.surface, Surface::Freeform);
    let faces: Vec<(usize, &Face)> = part.faces.iter().enumerate().collect();
    let grip = faces.iter().filter(freeform).max_by(|a, b| a.1.area.total_cmp(&b.1.area)).unwrap().0 as u32;
    let mut mark = mark("MARROWBY", grip);
    mark.relief.height = 0.3;
    let (built, solid) = build(&part, &mark);
    assert!(built.seat.chart.normal(built.placed.middle).z > 0.9);
    assert!(built.placed.stretch.scale.abs() < 0.05, "{:?}", built.placed.stretch);
    assert!(solid.mesh.volume() > part.mesh.volume() + 1.0);
}

/// A roof: two or three flats that meet in creases along y, over a flat foot.
fn roof(points: &[(f64, f64)]) -> Part {
    let base: Vec<DVec3> = points.iter().map(|&(x, z)| DVec3::new(x, 10.0, z)).collect();
    Part::from_mesh(&demo::shapes::prism(&base, DVec3::NEG_Y * 20.0)).unwrap()
}

fn facing(part: &Part, n: DVec3) -> u32 {
    part.faces
        .iter()
        .position(|f| matches!(f.surface, Surface::Plane { normal, .. } if normal.dot(n) > 0.9999))
        .unwrap() as u32
}

/// A letter over a crease is one solid, each of its flats as far off its face as set, and its length over the
/// crease is that on the flats together.
#[test]
fn a_mark_runs_on_over_creases() {
    let tilt = 25.0_f64.to_radians();
    let fall = 15.0 * tilt.tan();
    let (left, right) = (DVec3::new(-tilt.sin(), 0.0, tilt.cos()), DVec3::new(tilt.sin(), 0.0, tilt.cos()));
    let two = roof(&[(-15.0, 0.0), (15.0, 0.0), (15.0, 4.0), (0.0, 4.0 + fall), (-15.0, 4.0)]);
    let short = 10.0 * tilt.tan();
    let three = roof(&[(-15.0, 0.0), (15.0, 0.0), (15.0, 4.0), (5.0, 4.0 + short), (-5.0, 4.0 + short), (-15.0, 4.0)]);
    for (part, over) in [(&two, vec![left, right]), (&three, vec![left, DVec3::Z, right])] {
        let faces: Vec<u32> = over.iter().map(|n| facing(part, *n)).collect();
        let seat = Arc::new(Seat::over(part, &faces, Some(DVec3::Z)).unwrap());
        let flat = if over.len() == 2 { 2.0 * 15.0 / tilt.cos() } else { 10.0 + 2.0 * 10.0 / tilt.cos() };
        let size = seat.end - seat.start;
        assert!((size.x - flat).abs() < 0.01 && (size.y - 20.0).abs() < 0.01, "{size} {flat}");
        for (sense, edge, root) in [
            (Sense::Raised, 0.0, 0.0),
            (Sense::Sunken, 0.0, 0.0),
            (Sense::Raised, 0.08, 0.06),
            (Sense::Sunken, 0.06, 0.08),
        ] {
            let mut mark = mark("MARROWBY", faces[0]);
            mark.seat.with = faces[1..].to_vec();
            mark.relief = Relief { sense, edge, root, rounds: Rounds::AsFit, ..mark.relief };
            let built = BuiltMark::new(&mark, seat.clone(), Some(DVec3::Z)).unwrap();
            // letters beside a crease are as round as anywhere
            let crossing = over_creases(&mark, &built.placed, &seat);
            assert!(built.less_round().all(|(at, _)| crossing.contains(&(at as usize))));
            let solid = Stock::of(part).unwrap().marked(&[(0, &built)]).unwrap();
            let sound = soundness::examine(&solid.mesh);
            assert!(sound.is_solid() && sound.shells == 1, "{:?} {}", sound.complaint(), sound.shells);
            assert!(built.placed.stretch.scale.abs() < 2e-3, "{:?}", built.placed.stretch);
            let (role, nominal) = if sense == Sense::Raised { (Role::Top, 0.4) } else { (Role::Floor, -0.4) };
            let mut seen = vec![0; over.len()];
            for t in
                (0..solid.tags.len()).filter(|&t| matches!(solid.tags[t], Tag::Relief { role: r, .. } if r == role))
            {
                // away from the crease a facet lies over one of the flats
                let normal = solid.mesh.normal(t);
                let Some(k) = over.iter().position(|n| n.dot(normal) > 0.99999) else { continue };
                let Surface::Plane { origin, normal } = part.faces[faces[k] as usize].surface else { panic!() };
                for p in solid.mesh.corners(t) {
                    let height = (p - origin).dot(normal);
                    assert!((height - nominal).abs() < 0.003, "{sense:?} {height} at {p}");
                }
                seen[k] += 1;
            }
            assert!(seen.iter().all(|n| *n > 20), "{seen:?}");
        }
    }
    // faces that don't touch, and a face that isn't there
    let far = [facing(&three, left), facing(&three, right)];
    let error = Seat::over(&three, &far, Some(DVec3::Z)).err().unwrap().to_string();
    assert!(error.contains("no edge in common"), "{error}");
    assert!(Seat::over(&three, &[0, 99], None).err().unwrap().to_string().contains("no face 99"));
}

/// On the marked solid each letter stands on one side of each ridge, and letters of one side are as far apart as they were.
#[test]
fn letters_are_kept_off_creases_by_shifting_them_along_their_line() {
    let tilt = 25.0_f64.to_radians();
    let (left, right) = (DVec3::new(-tilt.sin(), 0.0, tilt.cos()), DVec3::new(tilt.sin(), 0.0, tilt.cos()));
    let fall = 15.0 * tilt.tan();
    let two = roof(&[(-15.0, 0.0), (15.0, 0.0), (15.0, 4.0), (0.0, 4.0 + fall), (-15.0, 4.0)]);
    let short = 10.0 * tilt.tan();
    let three = roof(&[(-15.0, 0.0), (15.0, 0.0), (15.0, 4.0), (5.0, 4.0 + short), (-5.0, 4.0 + short), (-15.0, 4.0)]);
    let middle = Tie::Middle;
    for (part, ridges, text, along) in [
        (&two, vec![0.0], "MARROWB", middle.clone()),
        (&two, vec![0.0], "R8M16", middle.clone()),
        (&two, vec![0.0], "MARROWBY", Tie::FromStart { distance: 1.5 }),
        (&two, vec![0.0], "AB\nWIDER", middle.clone()),
        (&three, vec![-5.0, 5.0], "MARROWBY", middle),
    ] {
        let over = if ridges.len() == 1 { vec![left, right] } else { vec![left, DVec3::Z, right] };
        let faces: Vec<u32> = over.iter().map(|n| facing(part, *n)).collect();
        let seat = Arc::new(Seat::over(part, &faces, Some(DVec3::Z)).unwrap());
        let mut mark = mark(text, faces[0]);
        mark.seat.with = faces[1..].to_vec();
        mark.place.along = along;
        let before = place(&mark, &seat).unwrap();
        assert!(!over_creases(&mark, &before, &seat).is_empty(), "{text}");
        let kept = off_creases(&mark, &seat).unwrap();
        let built = BuiltMark::new(&kept, seat.clone(), Some(DVec3::Z)).unwrap();
        let solid = Stock::of(part).unwrap().marked(&[(0, &built)]).unwrap();
        let side = |x: f64| ridges.iter().filter(|ridge| x > **ridge).count();
        let after = &built.placed.characters;
        let sides: Vec<usize> = (0..after.len() as u32)
            .map(|at| {
                let of = |tag: Tag| matches!(tag, Tag::Relief { character, .. } if character == at);
                let facets = (0..solid.tags.len()).filter(|&t| of(solid.tags[t]));
                let places: Vec<usize> = facets.map(|t| side(solid.mesh.centroid(t).x)).collect();
                assert!(!places.is_empty() && places.iter().all(|k| *k == places[0]), "{text} {at}: {places:?}");
                places[0]
            })
            .collect();
        for k in 1..after.len() {
            let step = |of: &[PlacedCharacter]| of[k].middle.x - of[k - 1].middle.x;
            let more = step(after) - step(&before.characters);
            if after[k].line != after[k - 1].line {
                continue;
            }
            if sides[k] == sides[k - 1] {
                assert!(more.abs() < 1e-6, "{text} {k}: {more}");
            } else {
                // no farther than the letter that stood on the ridge asks for
                assert!(more > -1e-6 && more < 3.5, "{text} {k}: {more}");
            }
        }
        assert!(over_creases(&kept, &built.placed, &seat).is_empty());
        // beside a ridge walls stand as they do anywhere on a flat
        for t in (0..solid.tags.len()).filter(|&t| matches!(solid.tags[t], Tag::Relief { role: Role::Wall, .. })) {
            let normal = solid.mesh.normal(t);
            let face = over.iter().map(|n| normal.dot(*n).asin().to_degrees() - 3.0);
            let off = face.map(f64::abs).fold(f64::MAX, f64::min);
            // thin facets have no direction that means something
            let [a, b, c] = solid.mesh.corners(t);
            let longest = a.distance(b).max(b.distance(c)).max(c.distance(a));
            assert!(off < 0.2 || 2.0 * solid.mesh.area(t) / longest < 3e-3, "{text}: a wall is {off}° off its draft");
        }
    }
    // a crease that runs along the text, and a letter by itself, which stays where its mark is tied
    let faces = [left, right].map(|n| facing(&two, n));
    let seat = Seat::over(&two, &faces, Some(DVec3::Z)).unwrap();
    for (text, turn) in [("MARROWBY", 90.0), ("M", 0.0)] {
        let mut mark = mark(text, faces[0]);
        mark.seat.with = vec![faces[1]];
        mark.place.turn = turn;
        let error = off_creases(&mark, &seat).unwrap_err().to_string();
        assert!(error.contains("can't be kept off the crease"), "{text}: {error}");
    }
}

/// A face of very many facets is laid by a grid over it, as it would be facet by facet; about a mark it is laid facet by facet.
#[test]
fn a_face_of_very_many_facets_is_laid_as_one_of_few_is() {
    let laid = |step: f64| {
        let (part, top) = freeform_top(&block_under(wavy, step));
        let facets = part.face_of.iter().filter(|face| **face == top).count();
        (facets, Arc::new(Seat::on(&part, top, Some(DVec3::Z)).unwrap()), top)
    };
    let ((few, one, top), (many, other, _)) = (laid(0.4), laid(0.125));
    assert!(few < 15_000 && many > 100_000, "{few} {many}");
    for (x, y) in [(-19.0, -11.0), (19.0, 11.0), (-18.0, 10.0), (0.0, 0.0), (7.3, -8.1), (12.2, 3.7)] {
        let p = DVec3::new(x, y, wavy(x, y));
        let [here, there] = [&one, &other].map(|seat| seat.chart.strip(p).0);
        assert!(here.distance(there) < 0.1, "{here} {there}");
        let again = other.chart.point(there, 0.0);
        assert!(again.distance(p) < 0.01, "{again} {p}");
    }
    for seat in [one, other] {
        let mark = mark("MARROWBY", top);
        let built = BuiltMark::new(&mark, seat, Some(DVec3::Z)).unwrap();
        let stretch = built.placed.stretch;
        assert!(stretch.scale.abs() < 0.02 && stretch.shear_deg < 1.0, "{stretch:?}");
    }
}
