//! What a job says, in the trade's words: part, tool, marks and limits, with no geometry in it.
//!
//! Everything here is plain data that serialises to the job file (`*.tinbadge.json`) and is
//! checked by [`job::Job::check`] before any geometry is built from it.

pub mod area;
pub mod cavity_id;
pub mod check;
pub mod cutter;
pub mod date_code;
pub mod figure;
mod file_names;
mod filled;
pub mod given;
pub mod in_steel;
pub mod job;
pub mod keep_out;
pub mod length;
pub mod limits;
pub mod look_alikes;
pub mod mark;
pub mod material_code;
pub mod mend;
pub mod note;
pub mod own_face;
pub mod pattern;
pub mod place;
pub mod process;
mod range;
pub mod recipe;
pub mod relief;
pub mod revision;
pub mod roster;
pub mod row_files;
pub mod said;
pub mod tool;
pub mod tool_plate;
pub mod waiver;

pub use area::{Area, Spot};
pub use check::Check;
pub use cutter::Cutter;
pub use figure::Figure;
pub use given::Given;
pub use in_steel::{Datum, InSteel};
pub use job::{FaceAt, FaceName, Job, JobError, PartRef, Replaced};
pub use keep_out::{KeepOut, KeepOutKind};
pub use length::Unit;
pub use limits::OwnLimit;
pub use mark::{Colour, Fit, FitBy, Fixed, Justify, LetterChange, Lettering, Mark, SeatRef};
pub use mend::{BodySide, FaceMend, PartMend};
pub use own_face::{HeldFace, OwnFace, OwnLetter};
pub use pattern::Pattern;
pub use place::{Anchor, Baseline, BoxSide, Extents, PartPoint, Place, Placement, PointKind, Tie, Tops};
pub use process::{Finish, Process};
pub use recipe::Piece;
pub use relief::{EdgeShape, Field, MeasuredAt, Pad, PadForm, Relief, Rounds, Sense, Walls};
pub use roster::{Column, ColumnKind, Roster, Row};
pub use row_files::{RowFile, RowFiles};
pub use tool::{Assigned, Parting, Slide, Steel, Tool};
pub use tool_plate::ToolPlate;
pub use waiver::{Waived, WaivedBy, Waiver};
