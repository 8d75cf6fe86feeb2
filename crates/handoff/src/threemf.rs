//! 3MF: the marked solid as one object in millimetres, its marks as named colours; lettering bodies
//! as named objects.

use crate::{
    error::HandoffError,
    palette::{PART_COLOUR, Tones},
};
use relief::{BuiltMark, CharacterBody, MarkedSolid, Tag};
use solid::Mesh;
use std::io::Cursor;
use threemf2::{
    model::{
        OptionalResourceId, OptionalResourceIndex,
        builder::{MeshObjectBuilder, ModelBuilder, ObjectType, Unit},
    },
    package::ThreemfPackageBuilder,
};

fn wrong(e: impl std::fmt::Debug) -> HandoffError {
    HandoffError::Write(format!("{e:?}"))
}

/// A name as it may stand in an attribute: the library writes it as it is.
fn attribute(name: &str) -> String {
    name.replace('&', "&amp;").replace('<', "&lt;").replace('>', "&gt;").replace('"', "&quot;")
}

fn builder(title: &str) -> ModelBuilder {
    let mut builder = ModelBuilder::new(Unit::Millimeter, true);
    builder.add_metadata("Title", Some(title)).add_metadata("Application", Some("Tin Badge"));
    builder
}

fn package(builder: ModelBuilder) -> Result<Vec<u8>, HandoffError> {
    let mut package = ThreemfPackageBuilder::new();
    package.set_root_model(builder.build().map_err(wrong)?);
    let mut out = Cursor::new(Vec::new());
    package.build().map_err(wrong)?.write(&mut out).map_err(wrong)?;
    Ok(out.into_inner())
}

/// The marked solid, and what fills its inlays as objects of their own: `inlaid` are the marks that are inlays.
///
/// # Errors
/// The library refused to write; its words are passed on.
pub fn marked(
    title: &str,
    solid: &MarkedSolid,
    inlaid: &[(u32, &BuiltMark)],
    tones: &Tones,
) -> Result<Vec<u8>, HandoffError> {
    let mut builder = builder(title);
    let colours = builder.add_base_materials(|bases| {
        bases.add_base("part", PART_COLOUR);
        for (name, colour) in tones.names.iter().zip(&tones.marks) {
            bases.add_base(&attribute(name), colour);
        }
        for ((mark, character), colour) in &tones.letters {
            let name = tones.name(*mark);
            bases.add_base(&attribute(&format!("{name}, letter {}", character + 1)), colour.as_str());
        }
    });
    let base = |mark: u32, character: u32| match tones.letters.keys().position(|k| *k == (mark, character)) {
        Some(at) => (1 + tones.names.len() + at) as u32,
        None => mark + 1,
    };
    let object = builder
        .add_mesh_object(|object| {
            object.name(&attribute(title)).object_type(ObjectType::Model).pid(colours).pindex(0);
            for v in &solid.mesh.vertices {
                object.add_vertex(&v.to_array());
            }
            for (t, tag) in solid.mesh.triangles.iter().zip(&solid.tags) {
                let corners = t.map(|v| v as usize);
                match tag {
                    Tag::Relief { mark, character, .. } => {
                        coloured(object, &corners, colours, base(*mark, *character));
                    }
                    Tag::Part { .. } | Tag::Cut | Tag::Under { .. } => {
                        object.add_triangle(&corners);
                    }
                }
            }
            Ok(())
        })
        .map_err(wrong)?;
    let mut objects = vec![object];
    for (at, built) in inlaid {
        let name = tones.name(*at);
        let object = builder.add_mesh_object(|object| {
            object.name(&attribute(&format!("filling of {name}"))).object_type(ObjectType::Model);
            object.pid(colours).pindex(at + 1);
            let mut first = 0;
            for body in &built.fillings {
                for v in &body.mesh.vertices {
                    object.add_vertex(&v.to_array());
                }
                for t in &body.mesh.triangles {
                    coloured(object, &t.map(|v| v as usize + first), colours, base(*at, body.character));
                }
                first += body.mesh.vertices.len();
            }
            Ok(())
        });
        objects.push(object.map_err(wrong)?);
    }
    builder.add_build(None).map_err(wrong)?;
    for object in objects {
        builder.add_build_item(object).map_err(wrong)?;
    }
    package(builder)
}

fn coloured(object: &mut MeshObjectBuilder, corners: &[usize; 3], group: u32, index: u32) {
    object.add_triangle_with_properties(
        corners,
        OptionalResourceIndex::new(index),
        OptionalResourceIndex::none(),
        OptionalResourceIndex::none(),
        OptionalResourceId::new(group),
    );
}

/// Bodies by their names, one object each, as they are joined to or cut from the part.
///
/// # Errors
/// The library refused to write; its words are passed on.
pub fn lettering(title: &str, bodies: &[(String, Mesh)]) -> Result<Vec<u8>, HandoffError> {
    let mut builder = builder(title);
    let mut objects = Vec::new();
    for (name, mesh) in bodies {
        let object = builder
            .add_mesh_object(|object| {
                object.name(&attribute(name)).object_type(ObjectType::Model);
                add(object, mesh);
                Ok(())
            })
            .map_err(wrong)?;
        objects.push(object);
    }
    builder.add_build(None).map_err(wrong)?;
    for object in objects {
        builder.add_build_item(object).map_err(wrong)?;
    }
    package(builder)
}

fn add(object: &mut MeshObjectBuilder, mesh: &Mesh) {
    for v in &mesh.vertices {
        object.add_vertex(&v.to_array());
    }
    for t in &mesh.triangles {
        object.add_triangle(&t.map(|v| v as usize));
    }
}

/// Bodies of a mark in one mesh.
#[must_use]
pub fn mesh(bodies: &[CharacterBody]) -> Mesh {
    let mut mesh = Mesh::default();
    for body in bodies {
        let first = mesh.vertices.len() as u32;
        mesh.vertices.extend(&body.mesh.vertices);
        mesh.triangles.extend(body.mesh.triangles.iter().map(|t| t.map(|v| v + first)));
    }
    mesh
}
