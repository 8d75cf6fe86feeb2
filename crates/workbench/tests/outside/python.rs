//! Outside libraries, asked in their own language.

use serde_json::{Value, json};
use solid::Mesh;
use std::{
    io::{BufRead, BufReader, Write},
    path::PathBuf,
    process::{Child, ChildStdout, Command, Stdio},
    sync::Mutex,
};

/// Runs a script for each line of its input, again and again: to load the libraries takes longer than most scripts.
const WORKER: &str = r#"
import contextlib, io, json, sys
for line in sys.stdin:
    asked = json.loads(line)
    sys.stdin, printed = io.StringIO(asked["input"]), io.StringIO()
    with contextlib.redirect_stdout(printed):
        exec(asked["script"], {"__name__": "__main__"})
    print(json.dumps(printed.getvalue()), flush=True)
"#;

struct Worker {
    process: Child,
    printed: BufReader<ChildStdout>,
}

/// They end with the tests, whose end closes their input.
static IDLE: Mutex<Vec<Worker>> = Mutex::new(Vec::new());

impl Worker {
    fn start() -> Self {
        let kept = PathBuf::from(concat!(env!("CARGO_MANIFEST_DIR"), "/../../target/python/bin/python"));
        let program = std::env::var_os("TINBADGE_PYTHON").map_or(kept, PathBuf::from);
        let mut process = Command::new(&program)
            .args(["-c", WORKER])
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            .spawn()
            .unwrap_or_else(|e| panic!("{}: {e}; ./tinbadge test installs what is compared with", program.display()));
        let printed = BufReader::new(process.stdout.take().unwrap());
        Self { process, printed }
    }
}

/// What a Python script prints as JSON, given `input` as JSON.
pub(super) fn python(script: &str, input: &Value) -> Value {
    let idle = IDLE.lock().unwrap().pop();
    let mut worker = idle.unwrap_or_else(Worker::start);
    let asked = json!({"script": script, "input": input.to_string()});
    writeln!(worker.process.stdin.as_mut().unwrap(), "{asked}").unwrap();
    let mut answer = String::new();
    worker.printed.read_line(&mut answer).unwrap();
    assert!(!answer.is_empty(), "the script failed; what it says stands above");
    let printed: String = serde_json::from_str(&answer).unwrap();
    let told = serde_json::from_str(&printed).unwrap();
    IDLE.lock().unwrap().push(worker);
    told
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
