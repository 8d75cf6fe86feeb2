//! Every file that is handed over, read again as another program reads it, and held to what it was made from.

use glam::DVec3;
use serde::Serialize;
use solid::{
    Mesh, faces, formats,
    soundness::{self, Soundness},
    weld::weld,
};
use trade::{Unit, limits::State};

/// What a file holds when it is read again. Lengths are mm, in part coordinates.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct FileRead {
    pub file: String,
    pub state: State,
    /// Separate shells; a hollow that is shut off counts as one.
    pub bodies: usize,
    pub facets: usize,
    /// Every edge has two facets that run opposite ways.
    pub closed: bool,
    /// mm³; `None` for what is open.
    pub volume: Option<f64>,
    /// Least and greatest corner of the box about it.
    pub low: DVec3,
    pub high: DVec3,
    pub sentence: String,
}

/// Corners in single precision, as STL and glTF have them, lie off by no more than this share of the greatest
/// coordinate: half of the last of 24 binary digits.
const SINGLE: f64 = 0.6e-7;
/// Decimals of a 3MF are those of a double.
const ROUNDING: f64 = 1e-12;

/// A file read again and compared with the meshes that it was made from.
#[must_use]
pub fn read_back(name: &str, bytes: &[u8], made: &[&Mesh]) -> FileRead {
    let mut whole = Mesh::default();
    made.iter().for_each(|mesh| whole.append(mesh));
    // objects of a 3MF have corners of their own; elsewhere equal corners are made one, as whoever reads the file does
    let joined = |mesh: &Mesh| {
        let all: Vec<u32> = (0..mesh.triangles.len() as u32).collect();
        let used = mesh.piece(&all).0;
        let mesh = if name.ends_with(".3mf") { used } else { weld(&used, faces::tolerance(&used) / 10.0).0 };
        let found = soundness::at_edges(&mesh);
        (mesh, found)
    };
    let (wanted, edges) = joined(&whole);
    match formats::read(name, bytes) {
        Ok(read) => {
            let mut mesh = read.mesh;
            let scale = read.unit.unwrap_or(Unit::Mm).in_mm();
            mesh.vertices.iter_mut().for_each(|v| *v *= scale);
            let (mesh, found) = joined(&mesh);
            compared(name, (&mesh, &found), (&wanted, &edges))
        }
        Err(problem) => FileRead {
            file: name.to_owned(),
            state: State::Fails,
            bodies: 0,
            facets: 0,
            closed: false,
            volume: None,
            low: DVec3::ZERO,
            high: DVec3::ZERO,
            sentence: format!("It can't be read again: {problem}."),
        },
    }
}

fn compared(name: &str, (mesh, found): (&Mesh, &Soundness), (wanted, edges): (&Mesh, &Soundness)) -> FileRead {
    let (low, high) = mesh.bounds();
    let (least, greatest) = wanted.bounds();
    let farthest = least.abs().max(greatest.abs()).max_element();
    let off = farthest * if name.ends_with(".3mf") { ROUNDING } else { SINGLE };
    // each facet may be moved by as much over its whole area, and along all of its edges
    let area = |mesh: &Mesh| (0..mesh.triangles.len()).map(|t| mesh.area(t)).sum::<f64>();
    let (own, area) = (area(mesh), area(wanted));
    let edged: f64 = (0..wanted.triangles.len())
        .map(|t| wanted.corners(t))
        .map(|[a, b, c]| a.distance(b) + b.distance(c) + c.distance(a))
        .sum();
    let (volume, made) = (mesh.volume(), wanted.volume());
    let moved = (low - least).abs().max((high - greatest).abs()).max_element();
    let closed = found.is_closed();
    let fault = if edges.is_closed() && !closed {
        Some(found.faults("The file").unwrap_or_default())
    } else if found.shells != edges.shells {
        Some(format!("It holds {} where {} were made.", bodies(found.shells), edges.shells))
    } else if moved > 2.0 * off {
        Some(format!("Its corners lie up to {moved:.4} mm off those it was made from."))
    } else if closed && (volume - made).abs() > area * off + 1e-9 {
        Some(format!("It encloses {volume:.4} mm³ where {made:.4} were made."))
    } else if (own - area).abs() > edged * 2.0 * off + 1e-9 {
        Some(format!("Its facets cover {own:.4} mm² where {area:.4} were made."))
    } else {
        None
    };
    let state = if fault.is_some() { State::Fails } else { State::Passes };
    let facets = mesh.triangles.len();
    let sound = if closed {
        format!("Read back: {}, closed, {volume:.2} mm³.", bodies(found.shells))
    } else if found.open_edges == 0 {
        format!("Read back: {facets} facets; bodies in it lie against one another, as they were made.")
    } else {
        format!("Read back: {facets} facets, open, as they were made.")
    };
    FileRead {
        file: name.to_owned(),
        state,
        bodies: found.shells,
        facets,
        closed,
        volume: closed.then_some(volume),
        low,
        high,
        sentence: fault.map_or(sound, |fault| format!("Read back, this file is not what was made. {fault}")),
    }
}

pub(crate) fn bodies(count: usize) -> String {
    if count == 1 { "1 body".into() } else { format!("{count} bodies") }
}

#[cfg(test)]
mod tests {
    use super::*;
    use demo::shapes::block;
    use solid::formats::stl;

    fn cube() -> Mesh {
        block(DVec3::new(100.0, 0.0, 0.0), DVec3::new(110.0, 10.0, 10.0))
    }

    #[test]
    fn a_cube_reads_back_as_the_cube_it_is() {
        let found = read_back("cube.stl", &stl::write(&cube()), &[&cube()]);
        assert_eq!((found.state, found.bodies, found.closed, found.facets), (State::Passes, 1, true, 12), "{found:?}");
        assert!((found.volume.unwrap() - 1000.0).abs() < 1e-9);
        assert_eq!((found.low, found.high), (DVec3::new(100.0, 0.0, 0.0), DVec3::new(110.0, 10.0, 10.0)));
    }

    /// What another file would tell: a facet lost, moved, one body too many, too large, cut short.
    #[test]
    fn what_is_not_what_was_made_fails_and_says_how() {
        let told = |change: &dyn Fn(&mut Mesh), words: &str| {
            let mut other = cube();
            change(&mut other);
            let found = read_back("cube.stl", &stl::write(&other), &[&cube()]);
            assert_eq!(found.state, State::Fails, "{words}: {found:?}");
            assert!(found.sentence.contains(words), "{words}: {}", found.sentence);
        };
        told(&|m| m.triangles.truncate(11), "3 open edges");
        told(&|m| m.triangles[3].swap(0, 1), "3 edges where the surface turns inside out");
        told(&|m| m.vertices[0].x -= 1e-3, "0.0010 mm off");
        told(&|m| m.append(&block(DVec3::splat(200.0), DVec3::splat(201.0))), "2 bodies where 1 were made");
        let whole = stl::write(&cube());
        let found = read_back("cube.stl", &whole[..whole.len() - 60], &[&cube()]);
        assert!(found.state == State::Fails && found.sentence.contains("can't be read again"), "{found:?}");
        // of an open patch a facet less opens nothing that wasn't open
        let mut patch = cube();
        patch.triangles.retain(|t| t.contains(&0));
        let mut less = patch.clone();
        less.triangles.pop();
        assert_eq!(read_back("patch.stl", &stl::write(&patch), &[&patch]).state, State::Passes);
        let found = read_back("patch.stl", &stl::write(&less), &[&patch]);
        assert!(found.state == State::Fails && found.sentence.contains("mm² where"), "{found:?}");
        // a corner inside the box: neither box nor edges tell
        let mut dented = cube();
        dented.vertices.push(DVec3::new(105.0, 5.0, 10.0));
        let top: Vec<usize> = (0..12).filter(|&t| dented.normal(t) == DVec3::Z).collect();
        let rim = solid::contour::loops(&dented, top.iter().map(|&t| t as u32)).remove(0);
        let sound = dented.clone();
        let fan = |mesh: &mut Mesh| {
            mesh.triangles = (0..12).filter(|t| !top.contains(t)).map(|t| sound.triangles[t]).collect();
            mesh.triangles.extend((0..rim.len()).map(|k| [rim[k], rim[(k + 1) % rim.len()], 8]));
        };
        fan(&mut dented);
        assert_eq!(read_back("cube.stl", &stl::write(&dented), &[&cube()]).state, State::Passes);
        dented.vertices[8].z -= 0.01;
        let found = read_back("cube.stl", &stl::write(&dented), &[&cube()]);
        assert!(found.state == State::Fails && found.sentence.contains("mm³ where 1000.0000"), "{found:?}");
    }
}
