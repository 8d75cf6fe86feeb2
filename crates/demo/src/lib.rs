//! The demo's parts and jobs: drip-irrigation fittings of Marrowby & Thrupp, a maker invented for
//! this demo. Everything is made by this code; nothing comes from outside. The parts in
//! `files/` were written by `tinbadge-step samples`.

mod dice;
pub mod jobs;
pub mod parts;
pub mod shapes;

pub use dice::Dice;
pub use jobs::{DRAWINGS, DemoJob, jobs};
