//! Outside libraries, asked in their own language.

use serde_json::{Value, json};
use solid::Mesh;
use std::{
    io::Write,
    path::PathBuf,
    process::{Command, Stdio},
};

/// What a Python script prints as JSON, given `input` as JSON.
pub(super) fn python(script: &str, input: &Value) -> Value {
    let kept = PathBuf::from(concat!(env!("CARGO_MANIFEST_DIR"), "/../../target/python/bin/python"));
    let program = std::env::var_os("TINBADGE_PYTHON").map_or(kept, PathBuf::from);
    let mut child = Command::new(&program)
        .args(["-c", script])
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .spawn()
        .unwrap_or_else(|e| panic!("{}: {e}; ./tinbadge test installs what is compared with", program.display()));
    child.stdin.take().unwrap().write_all(input.to_string().as_bytes()).unwrap();
    let output = child.wait_with_output().unwrap();
    assert!(output.status.success());
    serde_json::from_slice(&output.stdout).unwrap()
}

pub(super) fn as_json(mesh: &Mesh) -> Value {
    json!({"vertices": mesh.vertices.iter().map(|v| v.to_array()).collect::<Vec<_>>(), "triangles": mesh.triangles})
}

pub(super) fn base64(bytes: &[u8]) -> String {
    const DIGITS: &[u8; 64] = b"ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
    bytes
        .chunks(3)
        .flat_map(|chunk| {
            let word = chunk.iter().fold(0_u32, |word, b| (word << 8) | u32::from(*b)) << (8 * (3 - chunk.len()));
            let digit =
                move |k: usize| if k <= chunk.len() { DIGITS[(word >> (18 - 6 * k)) as usize & 63] } else { b'=' };
            (0..4).map(digit).map(char::from).collect::<Vec<_>>()
        })
        .collect()
}
