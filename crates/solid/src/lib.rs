//! The part as a closed mesh with named faces, and what can be asked of it.
//!
//! Bytes of a part file go in at [`formats::read`]; [`part::Part`] is what comes out: welded
//! vertices, faces with the surfaces fitted to them, and a report on its soundness. All lengths
//! are mm in part coordinates.

pub mod boolean;
pub mod contour;
pub mod crossing;
pub mod cut;
pub mod cut_edge;
mod eigen;
pub mod face_mend;
pub mod faces;
pub mod fill;
pub mod fit;
pub mod formats;
pub mod kinds;
pub mod matching;
pub mod mend;
pub mod mesh;
pub mod part;
pub mod profile;
pub mod queries;
pub mod segment;
mod shells;
pub mod silhouette;
pub mod soundness;
pub mod surface;
pub mod topology;
pub mod watch;
pub mod weld;

pub use glam::{DVec2, DVec3};
pub use mesh::Mesh;
pub use part::{Face, KnownFace, Part, PartBody, PartError};
pub use surface::Surface;
pub use watch::{Stage, Stopped, Unwatched, Watch};
