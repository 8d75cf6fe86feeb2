//! Exact geometry of built marks, read back by the kernel and held to the meshes that everything is measured on.

use glam::{DAffine3, DVec2, DVec3};
use handoff::exact::{Asked, Exact, Holds, Manner, exact, held};
use solid::{Mesh, Part, Surface, Unwatched};
use step::Drawn;
use trade::{Job, Lettering, Mark, PartRef, Relief, SeatRef, Sense, Tool};
use workbench::{Bench, Scope, Steps};

fn job(text: &str, face: u32, relief: Relief) -> Job {
    let mark = Mark {
        id: "m".into(),
        text: text.into(),
        seat: SeatRef::on(face),
        lettering: Lettering { face: "overpass".into(), cap_height: 3.0, ..Lettering::default() },
        relief,
        ..Mark::default()
    };
    Job {
        name: "test".into(),
        part: PartRef::of_file("part.stl", None),
        tool: Tool { pull: Some([0.0, 0.0, 1.0]), ..Tool::default() },
        marks: vec![mark],
        ..Job::default()
    }
}

fn relief(sense: Sense, draft: f64) -> Relief {
    Relief { sense, height: 0.3, draft, ..Relief::default() }
}

fn made(job: &Job, bench: &Bench, holds: Holds, part: Option<&[u8]>) -> Result<Exact, String> {
    let made = ("2031-02-03T00:00:00", Manner::default());
    exact(job, bench, holds, part, made, &Unwatched).map_err(|e| e.to_string())
}

fn face_of(part: &Part, word: &str) -> u32 {
    let wanted = |s: &Surface| s.word() == word;
    part.faces.iter().position(|f| wanted(&f.surface)).unwrap_or_else(|| panic!("no {word}")) as u32
}

/// A part by the kind of the face that is marked.
fn parts() -> Vec<(&'static str, Mesh)> {
    let v = DVec2::new;
    let arc = demo::shapes::arc;
    let tube = [vec![v(0.0, -8.0)], arc(v(20.0, 0.0), 8.0, -80.0, 80.0), vec![v(0.0, 8.0)]].concat();
    let ball = [vec![v(0.0, 0.0)], arc(v(0.0, 0.0), 14.0, 0.0, 90.0)].concat();
    vec![
        ("plane", demo::shapes::block(DVec3::ZERO, DVec3::new(40.0, 20.0, 8.0))),
        ("cylinder", demo::shapes::cylinder(DVec3::ZERO, DVec3::X * 40.0, 9.0)),
        ("bore", demo::shapes::turned(&[v(9.0, 0.0), v(14.0, 0.0), v(14.0, 30.0), v(9.0, 30.0)])),
        ("cone", demo::shapes::turned(&[v(0.0, 0.0), v(16.0, 0.0), v(8.0, 24.0), v(0.0, 24.0)])),
        ("sphere", demo::shapes::turned(&ball)),
        ("torus", demo::shapes::turned(&tube)),
    ]
}

#[test]
fn on_every_kind_of_seat_letters_are_drawn_on_it_and_hold_what_was_built() {
    for (word, mesh) in parts() {
        let part = Part::from_mesh(&mesh).unwrap();
        let face = face_of(&part, word);
        let bench = Bench::new(part);
        for (sense, draft) in [(Sense::Raised, 3.0), (Sense::Sunken, 5.0), (Sense::Raised, 0.0)] {
            let job = job("R8i", face, relief(sense, draft));
            let made = made(&job, &bench, Holds::Lettering, None).unwrap_or_else(|e| panic!("{word} {sense:?}: {e}"));
            let read = made.read;
            // R, 8, and the stem and the dot of the i: each with two ends on the seat's own kind of surface
            assert_eq!(read.solids, 4, "{word} {sense:?}");
            let kind = if word == "bore" { "cylinder" } else { word };
            assert!(read.faces[kind] >= 8, "{word} {sense:?}: {:?}", read.faces);
            assert!(read.farthest < 0.0061 && read.places > 400, "{word} {sense:?}: {}", read.sentence);
            let built = bench.joined(&job, Scope::Whole);
            let wanted: f64 = built.marks[0].built.as_ref().unwrap().bodies.iter().map(|b| b.mesh.volume()).sum();
            assert!((read.volume / wanted - 1.0).abs() < 2e-3, "{word} {sense:?}: {} for {wanted}", read.volume);
            assert!(read.faceted.is_empty() || draft > 0.0, "{word} {sense:?}: {:?}", read.faceted);
        }
    }
}

#[test]
fn an_upright_letter_holds_its_outlines_area_times_its_height() {
    let (_, mesh) = parts().remove(0);
    let part = Part::from_mesh(&mesh).unwrap();
    let bench = Bench::new(part);
    let face = face_of(&Part::from_mesh(&mesh).unwrap(), "plane");
    let job = job("SO3", face, relief(Sense::Raised, 0.0));
    let read = made(&job, &bench, Holds::Lettering, None).unwrap().read;
    let set = lettering::drawn(&job.marks[0]).unwrap();
    let area: f64 = set.characters.iter().map(|c| c.region.area()).sum();
    let rings = set.characters.iter().flat_map(|c| c.region.contours()).flat_map(|ring| flat::contour::edges(ring));
    let around: f64 = rings.map(|[a, b]| a.distance(b)).sum();
    // from 0.01 mm under the plane; a curve bulges over its chords by no more than they were flattened to
    let high = 0.3 + 0.01;
    let over = read.volume / high - area;
    assert!(over.abs() < around * flat::FLATTENED_TO, "{over} mm² of {area}");
}

#[test]
fn the_domes_own_sphere_keeps_its_lettering_in_one_solid() {
    let demo = demo::jobs().into_iter().find(|d| d.job.part.file == "filter-dome.step").unwrap();
    let bench = Bench::new(demo.read());
    let bytes = demo.part.clone();
    let exact = made(&demo.job, &bench, Holds::MarkedSolid, Some(&bytes)).unwrap();
    assert_eq!((exact.file.name.as_str(), exact.read.solids), ("marked-solid.step", 1));
    assert!(exact.read.faceted.is_empty(), "{:?}", exact.read.faceted);
    // the sphere itself and the tops and floors on it
    assert!(exact.read.faces["sphere"] > 20 && exact.read.faces["cylinder"] == 1, "{:?}", exact.read.faces);
    // what the lettering adds, by the kernel from faces and from facets
    let bare = step::read(&demo.part, &step::Limits::default()).unwrap().bodies[0].volume;
    let solid = bench.joined(&demo.job, Scope::Whole).whole().unwrap().mesh.volume();
    let (added, wanted) = (exact.read.volume - bare, solid - bench.part().mesh.volume());
    assert!(wanted > 5.0 && (added / wanted - 1.0).abs() < 0.01, "{added} for {wanted}");
}

#[test]
fn what_is_not_what_was_built_is_not_handed_over() {
    let (_, mesh) = parts().remove(1);
    let bench = Bench::new(Part::from_mesh(&mesh).unwrap());
    let face = face_of(&Part::from_mesh(&mesh).unwrap(), "cylinder");
    let sound = job("H", face, relief(Sense::Raised, 3.0));
    let file = made(&sound, &bench, Holds::Lettering, None).unwrap().file.bytes;
    let mut higher = sound.clone();
    higher.marks[0].relief.height = 0.33;
    let mut wider = sound.clone();
    wider.marks[0].lettering.cap_height = 3.1;
    let mut more = sound.clone();
    more.marks[0].text = "HI".into();
    for (other, holds) in [(&sound, true), (&higher, false), (&wider, false), (&more, false)] {
        let built = bench.joined(other, Scope::Whole);
        let built = built.marks[0].built.as_ref().unwrap();
        let meshes: Vec<&Mesh> = built.bodies.iter().map(|b| &b.mesh).collect();
        let about = Drawn {
            name: "H".into(),
            colour: None,
            what: step::What::Apart,
            points: Vec::new(),
            seats: Vec::new(),
            chains: Vec::new(),
            faces: Vec::new(),
        };
        let drawn: Vec<Drawn> = meshes.iter().map(|_| about.clone()).collect();
        let asked = |scale: f64| Asked {
            drawn: &drawn,
            meshes: &meshes,
            whole: None,
            place: DAffine3::from_scale(DVec3::splat(scale)),
        };
        let read = held(&file, &asked(1.0), Vec::new(), &Unwatched);
        // scaled twice, or not at all where it should be
        assert!(held(&file, &asked(1.015), Vec::new(), &Unwatched).is_err());
        assert_eq!(read.is_ok(), holds, "{read:?}");
    }
    let nothing = Asked { drawn: &[], meshes: &[], whole: None, place: DAffine3::IDENTITY };
    assert!(held(&file[..file.len() / 2], &nothing, Vec::new(), &Unwatched).is_err());
}

#[test]
fn what_has_no_exact_file_says_why() {
    let (_, mesh) = parts().remove(0);
    let bench = Bench::new(Part::from_mesh(&mesh).unwrap());
    let face = face_of(&Part::from_mesh(&mesh).unwrap(), "plane");
    let told = |job: &Job, holds: Holds| made(job, &bench, holds, None).err().unwrap();
    let plain = job("H", face, relief(Sense::Raised, 3.0));
    assert!(told(&plain, Holds::MarkedSolid).contains("marked-solid.step can't be made: the part came as triangles"));
    let surface = job("H", face, relief(Sense::Surface, 3.0));
    assert!(told(&surface, Holds::Lettering).contains("no mark has any relief"));
    let mut pulled = job("H", face, Relief { walls: trade::Walls::Pull, ..relief(Sense::Raised, 3.0) });
    pulled.tool.pull = None;
    assert!(told(&pulled, Holds::Lettering).contains("a mark is not built"));
    // rounded edges are facets, and that is told
    let round = Relief { edge: 0.06, ..relief(Sense::Raised, 3.0) };
    let read = made(&job("H", face, round), &bench, Holds::Lettering, None).unwrap().read;
    assert!(read.faceted[0].contains("“m” is partly of facets: its edges or inner corners are rounded"), "{read:?}");
}

#[test]
fn at_the_steels_size_the_name_says_how_much_larger_it_is() {
    let (_, mesh) = parts().remove(0);
    let bench = Bench::new(Part::from_mesh(&mesh).unwrap());
    let face = face_of(&Part::from_mesh(&mesh).unwrap(), "plane");
    let mut job = job("H", face, relief(Sense::Raised, 3.0));
    let made = |job: &Job, steel: bool| {
        let made = ("2031-02-03T00:00:00", Manner { steel, ..Manner::default() });
        exact(job, &bench, Holds::Lettering, None, made, &Unwatched).map_err(|e| e.to_string())
    };
    assert!(made(&job, true).err().unwrap().contains("no shrinkage is set"));
    job.process.shrinkage = Some(1.5);
    let (own, steel) = (made(&job, false).unwrap(), made(&job, true).unwrap());
    assert_eq!((own.file.name.as_str(), steel.file.name.as_str()), ("lettering.step", "lettering-steel-x1.0150.step"));
    // 1.015³ = 1.045678
    assert!((steel.read.volume / own.read.volume - 1.045_678).abs() < 1e-5);
    assert!(String::from_utf8_lossy(&steel.file.bytes).contains("1.0150"), "inside it says so too");
}

/// One mark in the coordinates of its steel: worked by hand for a plate of 40 × 20 × 8 measured from its upper right corner.
#[test]
fn a_mark_alone_lies_where_the_toolmaker_measures() {
    let part = Part::from_mesh(&demo::shapes::block(DVec3::ZERO, DVec3::new(40.0, 20.0, 8.0))).unwrap();
    let top = |s: &Surface| matches!(s, Surface::Plane { normal, .. } if normal.distance(DVec3::Z) < 1e-6);
    let face = part.faces.iter().position(|f| top(&f.surface)).unwrap() as u32;
    let bench = Bench::new(part);
    let mut job = job("I", face, relief(Sense::Raised, 0.0));
    job.process.shrinkage = Some(2.0);
    job.datum = trade::Datum::Corner { right: true, upper: true };
    let mut second = job.marks[0].clone();
    second.id = "other mark".into();
    second.place.along = trade::Tie::FromStart { distance: 3.0 };
    job.marks.push(second);
    let manner = Manner { mark: Some(1), ..Manner::default() };
    let made = exact(&job, &bench, Holds::Lettering, None, ("2031-02-03T00:00:00", manner), &Unwatched).unwrap();
    assert_eq!(made.file.name, "lettering-other_mark-steel-x1.0200.step");
    assert_eq!(made.read.solids, 1, "the other mark is left out");
    let file = step::read(&made.file.bytes, &step::Limits::default()).unwrap();
    let all = file.bodies[0].faces.iter().flat_map(|f| &f.vertices);
    let (low, high) = all.fold((DVec3::INFINITY, DVec3::NEG_INFINITY), |(low, high), p| (low.min(*p), high.max(*p)));
    // looked at along the pull: x as the part's, y the other way, so that the upper right corner is x 40, y 0; 3 mm from the left
    let letter = lettering::drawn(&job.marks[1]).unwrap().characters[0].region.bounds().unwrap();
    let wide = (letter.1 - letter.0).x;
    assert!((low.x - -37.0 * 1.02).abs() < 1e-6 && (high.x - (-37.0 + wide) * 1.02).abs() < 1e-6, "{low} {high}");
    assert!((low.z - -8.3 * 1.02).abs() < 1e-6, "{low}");
    assert!(((low.y + high.y) / 2.0 - -10.0 * 1.02).abs() < 1e-3, "{low} {high}");
}
