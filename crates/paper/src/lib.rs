//! Drawings on pages: text whose width is known, lines and areas, pictures of solids, sections; and the pages as PDF.

pub mod face;
pub mod ink;
pub mod picture;
pub mod section;
pub mod views;
mod write;

pub use ink::Pixels;
pub use write::{About, Page, pdf};

#[derive(Debug, thiserror::Error)]
pub enum PaperError {
    #[error("{0}")]
    Pdf(String),
}
