//! A file to be.

/// A name and the bytes that go under it.
pub struct Named {
    pub name: String,
    pub bytes: Vec<u8>,
}
