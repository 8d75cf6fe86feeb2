//! GLB: the marked solid for viewers, each face of the part and each mark, or each of its letters, a node of its own with a
//! name and a colour. The specification (glTF 2.0, section 3.4) wants metres and y up: one node
//! above them all turns and scales.

use crate::palette::{PART_COLOUR, Tones};
use relief::{MarkedSolid, Tag, body::PAD};
use serde_json::json;
use solid::{Face, Part};
use std::collections::BTreeMap;

/// What a node is made of, in the order of the nodes.
#[derive(Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
enum Node {
    Face(u32),
    Mark(u32),
    /// A letter with a colour of its own, or of letters that are handed off apart; by its mark's place and its own.
    Letter(u32, u32),
}

/// The marked solid of `part`; `apart` says whether each letter is to be a node.
#[must_use]
pub(crate) fn marked(title: &str, solid: &MarkedSolid, part: &Part, tones: &Tones, apart: bool) -> Vec<u8> {
    let alone = |mark, character| tones.letters.contains_key(&(mark, character)) || (apart && character < PAD);
    let mut groups: BTreeMap<Node, Vec<usize>> = BTreeMap::new();
    for (t, tag) in solid.tags.iter().enumerate() {
        match tag {
            Tag::Part { face } => groups.entry(Node::Face(*face)).or_default().push(t),
            Tag::Relief { mark, character, .. } if alone(*mark, *character) => {
                groups.entry(Node::Letter(*mark, *character)).or_default().push(t);
            }
            Tag::Relief { mark, .. } => groups.entry(Node::Mark(*mark)).or_default().push(t),
            Tag::Cut | Tag::Under { .. } => {}
        }
    }
    let mut bin: Vec<u8> = Vec::new();
    let (mut nodes, mut meshes, mut views, mut accessors) = (Vec::new(), Vec::new(), Vec::new(), Vec::new());
    let mut materials: Vec<serde_json::Value> = Vec::new();
    for (node, triangles) in groups {
        let (name, colour) = match node {
            Node::Face(face) => (face_name(part.faces.get(face as usize), face), face_colour(part, face)),
            Node::Mark(mark) => (tones.name(mark), linear(tones.of_mark(mark))),
            Node::Letter(mark, character) => {
                let colour = tones.letters.get(&(mark, character)).map_or(tones.of_mark(mark), |c| c.as_str());
                (format!("{}, letter {}", tones.name(mark), character + 1), linear(colour))
            }
        };
        let mut corners: BTreeMap<u32, u32> = BTreeMap::new();
        let mut points: Vec<[f32; 3]> = Vec::new();
        let mut indices: Vec<u32> = Vec::new();
        for v in triangles.iter().flat_map(|&t| solid.mesh.triangles[t]) {
            indices.push(*corners.entry(v).or_insert_with(|| {
                points.push(solid.mesh.vertices[v as usize].as_vec3().to_array());
                points.len() as u32 - 1
            }));
        }
        let bounds =
            |pick: fn(f32, f32) -> f32, from: f32| [0, 1, 2].map(|k| points.iter().map(|p| p[k]).fold(from, pick));
        let material = json!({
            "name": name,
            "pbrMetallicRoughness": {"baseColorFactor": [colour[0], colour[1], colour[2], 1.0], "metallicFactor": 0.0, "roughnessFactor": 0.6},
        });
        let (start, count) = (bin.len(), points.len());
        bin.extend(points.iter().flatten().flat_map(|c| c.to_le_bytes()));
        views.push(json!({"buffer": 0, "byteOffset": start, "byteLength": bin.len() - start, "target": 34962}));
        accessors.push(json!({
            "bufferView": views.len() - 1, "componentType": 5126, "count": count, "type": "VEC3",
            "min": bounds(f32::min, f32::INFINITY), "max": bounds(f32::max, f32::NEG_INFINITY),
        }));
        let start = bin.len();
        bin.extend(indices.iter().flat_map(|i| i.to_le_bytes()));
        views.push(json!({"buffer": 0, "byteOffset": start, "byteLength": bin.len() - start, "target": 34963}));
        accessors.push(
            json!({"bufferView": views.len() - 1, "componentType": 5125, "count": indices.len(), "type": "SCALAR"}),
        );
        meshes.push(json!({"name": name, "primitives": [{
            "attributes": {"POSITION": accessors.len() - 2}, "indices": accessors.len() - 1, "material": materials.len(),
        }]}));
        materials.push(material);
        nodes.push(json!({"name": name, "mesh": meshes.len() - 1}));
    }
    let children: Vec<usize> = (0..nodes.len()).collect();
    // millimetres with z up, as metres with y up; matrices go column by column
    nodes.push(json!({
        "name": title, "children": children,
        "matrix": [0.001, 0.0, 0.0, 0.0, 0.0, 0.0, -0.001, 0.0, 0.0, 0.001, 0.0, 0.0, 0.0, 0.0, 0.0, 1.0],
    }));
    let document = json!({
        "asset": {"version": "2.0", "generator": "Tin Badge"},
        "scene": 0, "scenes": [{"nodes": [nodes.len() - 1]}],
        "nodes": nodes, "meshes": meshes, "materials": materials, "accessors": accessors, "bufferViews": views,
        "buffers": [{"byteLength": bin.len()}],
    });
    container(&document.to_string(), bin)
}

fn face_name(face: Option<&Face>, at: u32) -> String {
    format!("face {at} {}", face.map_or("part", |f| f.surface.word()))
}

fn face_colour(part: &Part, face: u32) -> [f64; 3] {
    let own = part.faces.get(face as usize).and_then(|f| f.colour);
    own.map_or_else(|| linear(PART_COLOUR), |rgb| rgb.map(|c| straight(f64::from(c))))
}

/// `#RRGGBB` as linear light, which the format asks for.
fn linear(colour: &str) -> [f64; 3] {
    let value = u32::from_str_radix(colour.trim_start_matches('#'), 16).unwrap_or(0x80_80_80);
    [16, 8, 0].map(|shift| straight(f64::from((value >> shift) & 255) / 255.0))
}

/// sRGB to linear (IEC 61966-2-1).
fn straight(c: f64) -> f64 {
    if c <= 0.04045 { c / 12.92 } else { ((c + 0.055) / 1.055).powf(2.4) }
}

/// The container of section 4.4: header, JSON padded with spaces, binary padded with zeros.
fn container(text: &str, mut bin: Vec<u8>) -> Vec<u8> {
    let mut text = text.as_bytes().to_vec();
    text.resize(text.len().next_multiple_of(4), b' ');
    bin.resize(bin.len().next_multiple_of(4), 0);
    let mut out = b"glTF".to_vec();
    let word = |out: &mut Vec<u8>, v: usize| out.extend((v as u32).to_le_bytes());
    word(&mut out, 2);
    word(&mut out, 12 + 8 + text.len() + 8 + bin.len());
    word(&mut out, text.len());
    out.extend(b"JSON");
    out.extend(&text);
    word(&mut out, bin.len());
    out.extend(b"BIN\0");
    out.extend(&bin);
    out
}
