//! Why something can't be handed off, in sentences.

#[derive(Debug, thiserror::Error)]
pub enum HandoffError {
    #[error("no mark could be built, so there is nothing to hand off: {0}")]
    NothingBuilt(String),
    #[error("the 3MF file could not be written: {0}")]
    Write(String),
    #[error("the bodies of “{0}” could not be joined into one; hand them off letter by letter")]
    Join(String),
    #[error("the tool's side can't be made: {0}")]
    ToolSide(String),
    #[error("{0} can't be made: {1}")]
    Exact(&'static str, String),
}
