//! What the demo's jobs are put together from.

use glam::DVec3;
use solid::{Part, Surface};
use trade::{
    Area, KeepOut, KeepOutKind, Lettering, Mark, PartRef, Parting, Piece, Process, SeatRef, Tool, Unit, recipe::PieceOf,
};

pub(super) fn read(part: &PartRef, bytes: &[u8]) -> Part {
    step::read_part(&part.file, bytes, part).expect("the demo's parts can be read")
}

pub(super) fn file(name: &str) -> PartRef {
    PartRef::of_file(name, Some(Unit::Mm))
}

pub(super) fn mark(id: &str, text: &str, face: u32) -> Mark {
    Mark { id: id.into(), text: text.into(), seat: SeatRef::on(face), ..Mark::default() }
}

pub(super) fn lettering(face: &str, cap_height: f64) -> Lettering {
    Lettering { face: face.into(), cap_height, line_gap: cap_height / 2.0, ..Lettering::default() }
}

pub(super) fn face(part: &Part, wanted: impl Fn(&Surface) -> bool) -> u32 {
    part.faces.iter().position(|f| wanted(&f.surface)).expect("the demo's parts have the faces its jobs name") as u32
}

pub(super) fn level(surface: &Surface, towards: DVec3, height: f64) -> bool {
    matches!(surface, Surface::Plane { origin, normal } if normal.dot(towards) > 0.9999 && (origin.dot(towards) - height).abs() < 1e-3)
}

/// Halves that open along z.
pub(super) fn tool(parting: Parting) -> Tool {
    Tool { pull: Some([0.0, 0.0, 1.0]), parting: vec![parting], ..Tool::default() }
}

pub(super) fn material(id: &str) -> Process {
    Process { material: Some(id.into()), ..Process::default() }
}

pub(super) fn pin(name: &str, middle: DVec3, radius: f64) -> KeepOut {
    let area = Area::Circle { middle: middle.to_array(), radius };
    KeepOut { name: name.into(), kind: KeepOutKind::EjectorPin, area, margin: None }
}

pub(super) fn text(text: &str) -> Piece {
    Piece::plain(PieceOf::text(text))
}

pub(super) fn column(name: &str) -> Piece {
    Piece::plain(PieceOf::cell(name))
}
