//! 3MF: the marked solid as one object in millimetres, its marks as named colours; lettering bodies
//! as named objects.

use crate::files::HandoffError;
use relief::{CharacterBody, MarkedSolid, Tag, marked::BuiltMark};
use solid::Mesh;
use std::io::Cursor;
use threemf2::{
    model::{
        OptionalResourceId, OptionalResourceIndex,
        builder::{MeshObjectBuilder, ModelBuilder, ObjectType, Unit},
    },
    package::ThreemfPackageBuilder,
};

/// The part's colour, then the marks' in turn: apart for the colour-blind too (after Okabe and Ito
/// 2008).
pub(crate) const PART_COLOUR: &str = "#C9CFCB";
pub(crate) const COLOURS: [&str; 6] = ["#B3261E", "#0072B2", "#E69F00", "#009E73", "#CC79A7", "#56B4E9"];

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

/// The marked solid, and what fills its inlays as objects of their own. `names` are the marks' names by their
/// place in the job, `inlaid` the marks that are inlays.
///
/// # Errors
/// The library refused to write; its words are passed on.
pub fn marked(
    title: &str,
    solid: &MarkedSolid,
    names: &[String],
    inlaid: &[(u32, &BuiltMark)],
) -> Result<Vec<u8>, HandoffError> {
    let mut builder = builder(title);
    let colours = builder.add_base_materials(|bases| {
        bases.add_base("part", PART_COLOUR);
        for (at, name) in names.iter().enumerate() {
            bases.add_base(&attribute(name), COLOURS[at % COLOURS.len()]);
        }
    });
    let object = builder
        .add_mesh_object(|object| {
            object.name(&attribute(title)).object_type(ObjectType::Model).pid(colours).pindex(0);
            for v in &solid.mesh.vertices {
                object.add_vertex(&v.to_array());
            }
            for (t, tag) in solid.mesh.triangles.iter().zip(&solid.tags) {
                let corners = t.map(|v| v as usize);
                match tag {
                    Tag::Relief { mark, .. } => {
                        let index = OptionalResourceIndex::new(mark + 1);
                        object.add_triangle_with_properties(
                            &corners,
                            index,
                            OptionalResourceIndex::none(),
                            OptionalResourceIndex::none(),
                            OptionalResourceId::new(colours),
                        );
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
        let filling = mesh(&built.fillings);
        let name = names.get(*at as usize).map_or("filling", String::as_str);
        let object = builder.add_mesh_object(|object| {
            object.name(&attribute(&format!("filling of {name}"))).object_type(ObjectType::Model);
            object.pid(colours).pindex(at + 1);
            add(object, &filling);
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

/// The lettering bodies of all marks, one object a mark, as they are joined to or cut from the part.
///
/// # Errors
/// The library refused to write; its words are passed on.
pub fn lettering(title: &str, marks: &[(String, &BuiltMark)]) -> Result<Vec<u8>, HandoffError> {
    let mut builder = builder(title);
    let mut objects = Vec::new();
    for (name, built) in marks {
        let mesh = mesh(&built.bodies);
        let object = builder
            .add_mesh_object(|object| {
                object.name(&attribute(name)).object_type(ObjectType::Model);
                add(object, &mesh);
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
