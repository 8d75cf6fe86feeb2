//! The tool against the part: what each steel forms, whether parting lines close, maps of draft and
//! wall over the surface, and a probe of one place.

use crate::{
    app::Shared,
    problem::{Problem, Refusal},
};
use axum::{
    Json,
    extract::{Path, Query, State},
    http::header,
    response::IntoResponse,
};
use glam::DVec3;
use serde::{Deserialize, Serialize};
use tool::{divided, release, thickness};
use trade::{Steel, process::MATERIALS};
use utoipa::{IntoParams, ToSchema};
use uuid::Uuid;
use workbench::{Bench, Steps};

#[derive(Serialize, ToSchema)]
pub struct ToolView {
    /// The halves and the slides, in the order in which maps number them. Empty while no pull is set.
    pub steels: Vec<SteelView>,
    /// What no steel frees.
    pub caught: CaughtView,
    /// In the order of the tool's parting lines.
    pub parting: Vec<LineView>,
    /// In the order of the tool's keep-outs.
    pub keep_outs: Vec<PatchView>,
    /// In the order of the areas given by hand: mm².
    pub assigned: Vec<f64>,
}

#[derive(Serialize, ToSchema)]
pub struct SteelView {
    pub steel: Steel,
    /// mm² that it forms.
    pub area: f64,
    /// Least draft of what it forms, degrees; `None` where it forms nothing.
    pub least_draft: Option<f64>,
}

#[derive(Serialize, ToSchema)]
pub struct CaughtView {
    pub facets: usize,
    /// mm².
    pub area: f64,
    /// The middle of the largest of them, to look at.
    pub at: Option<[f64; 3]>,
    pub out: Option<[f64; 3]>,
}

#[derive(Serialize, ToSchema)]
pub struct LineView {
    /// Closed loops it makes by itself.
    pub loops: usize,
    /// Ends that no line of the tool goes on from.
    pub open_ends: usize,
    /// mm.
    pub length: f64,
}

#[derive(Serialize, ToSchema)]
pub struct PatchView {
    /// mm².
    pub area: f64,
    /// Whole faces of it.
    pub faces: Vec<u32>,
    /// The rest of it as triangles.
    pub triangles: Vec<[[f64; 3]; 3]>,
    /// mm that marks stay away, with where that comes from.
    pub margin: f64,
    pub source: String,
}

/// What the tool does to the part.
#[utoipa::path(get, path = "/api/jobs/{id}/tool", params(("id" = Uuid, Path)),
    responses((status = 200, body = ToolView), (status = 404, body = Refusal)))]
pub async fn tool(State(app): State<Shared>, Path(id): Path<Uuid>) -> Result<Json<ToolView>, Problem> {
    let mut job = app.store.standing(id).await?.job;
    let bench = app.bench(&mut job).await?;
    Ok(Json(app.heavy(move || view(&bench, &job)).await?))
}

fn view(bench: &Bench, job: &trade::Job) -> ToolView {
    let part = bench.part();
    let verdicts = bench.release(&job.tool);
    let pieces = &bench.surface().pieces;
    let mut steels: Vec<SteelView> =
        job.tool.steels().into_iter().map(|(steel, _)| SteelView { steel, area: 0.0, least_draft: None }).collect();
    let mut worst: Option<(f64, u32)> = None;
    for (piece, verdict) in pieces.iter().zip(verdicts.iter()) {
        if let Some(steel) = verdict.steel {
            let steel = &mut steels[steel as usize];
            steel.area += piece.area();
            steel.least_draft = Some(steel.least_draft.map_or(verdict.draft, |d| d.min(verdict.draft)));
        }
        if !verdict.free && worst.is_none_or(|(area, _)| part.mesh.area(piece.of as usize) > area) {
            worst = Some((part.mesh.area(piece.of as usize), piece.of));
        }
    }
    let caught = release::caught(bench.surface(), &verdicts);
    let limits = job.limit_set();
    let patch = |area: &trade::Area| bench.region(area).patch(part);
    let size = |patch: &[[DVec3; 3]]| patch.iter().map(|[a, b, c]| (*b - *a).cross(*c - *a).length() / 2.0).sum();
    ToolView {
        steels,
        caught: CaughtView {
            facets: caught.facets,
            area: caught.area,
            at: worst.map(|(_, t)| part.mesh.centroid(t as usize).to_array()),
            out: worst.map(|(_, t)| part.mesh.normal(t as usize).to_array()),
        },
        parting: bench
            .parting(&job.tool)
            .iter()
            .map(|l| LineView { loops: l.loops, open_ends: l.open_ends, length: l.length })
            .collect(),
        keep_outs: job
            .tool
            .keep_outs
            .iter()
            .map(|k| {
                let patch = patch(&k.area);
                let limit = limits.limit(k.kind.subject());
                let (faces, triangles) = match &k.area {
                    trade::Area::Faces { faces } => (faces.clone(), Vec::new()),
                    _ => (Vec::new(), patch.iter().map(|t| t.map(|p| p.to_array())).collect()),
                };
                PatchView {
                    area: size(&patch),
                    faces,
                    triangles,
                    margin: k.margin.unwrap_or(limit.value),
                    source: if k.margin.is_some() { "set for this keep-out".into() } else { limit.source.into_owned() },
                }
            })
            .collect(),
        assigned: job.tool.assigned.iter().map(|g| size(&patch(&g.area))).collect(),
    }
}

/// What a map shows.
#[derive(Clone, Copy, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum MapKind {
    Draft,
    Wall,
    /// Against the revision that this part took the place of.
    Change,
}

/// A map over the bare part's surface, little-endian: `u32` piece count n, `u32` channel count c, `u32`
/// count d of pieces that are divided; n × `u32` triangle of the part's mesh, its highest bit set
/// where the piece is not the whole of it; d × 9 `f32` corners of those, mm; n × c `f32`.
/// Channels of draft: degrees at the three corners, number of the steel or −1, 1 where it is caught.
/// Channels of wall: by ray, by sphere, mm; not a number where the part is open. Channel of change: mm
/// that the surface lies outside the earlier revision's, negative inside.
#[utoipa::path(get, path = "/api/jobs/{id}/maps/{kind}", params(("id" = Uuid, Path), ("kind" = inline(MapKind), Path)),
    responses((status = 200, content_type = "application/octet-stream", body = Vec<u8>), (status = 404, body = Refusal)))]
pub async fn map(
    State(app): State<Shared>,
    Path((id, kind)): Path<(Uuid, MapKind)>,
) -> Result<impl IntoResponse, Problem> {
    let mut job = app.store.standing(id).await?.job;
    let bench = app.bench(&mut job).await?;
    let earlier = match (kind, job.part.replaces.clone()) {
        (MapKind::Change, Some(part)) => Some(app.bench_of(&part.into()).await?),
        (MapKind::Change, None) => {
            return Err(Problem::Wrong("This part replaced no other; there is nothing to compare it with.".into()));
        }
        _ => None,
    };
    let bytes = app
        .heavy(move || match kind {
            MapKind::Change => {
                let earlier = earlier.as_ref().expect("an earlier part was asked for above");
                let change = tool::change::change(bench.surface(), earlier.part(), earlier.queries());
                pack(&bench, &change.iter().map(|c| [*c as f32]).collect::<Vec<_>>())
            }
            MapKind::Draft => draft(&bench, &job),
            MapKind::Wall => {
                let told = |v: Option<f64>| v.map_or(f32::NAN, |v| v as f32);
                pack(&bench, &bench.walls().iter().map(|w| [told(w.ray), told(w.sphere)]).collect::<Vec<_>>())
            }
        })
        .await?;
    Ok(([(header::CONTENT_TYPE, "application/octet-stream"), (header::CACHE_CONTROL, "no-cache")], bytes))
}

fn draft(bench: &Bench, job: &trade::Job) -> Vec<u8> {
    let verdicts = bench.release(&job.tool);
    let steels = bench.steels(&job.tool);
    let part = bench.part();
    let values: Vec<[f32; 5]> = bench
        .surface()
        .pieces
        .iter()
        .zip(verdicts.iter())
        .map(|(piece, verdict)| {
            let at = |p: DVec3| match verdict.steel {
                Some(steel) => {
                    let sine = divided::normal(part, piece.of, p).dot(steels.pulls[steel as usize]);
                    sine.clamp(-1.0, 1.0).asin().to_degrees() as f32
                }
                None => verdict.draft as f32,
            };
            let [a, b, c] = piece.corners.map(at);
            [a, b, c, verdict.steel.map_or(-1.0, f32::from), f32::from(u8::from(!verdict.free))]
        })
        .collect();
    pack(bench, &values)
}

fn pack<const C: usize>(bench: &Bench, values: &[[f32; C]]) -> Vec<u8> {
    const DIVIDED: u32 = 1 << 31;
    // without a pull there is nothing to tell
    let pieces = if values.is_empty() { &[][..] } else { &bench.surface().pieces };
    let divided = pieces.iter().filter(|p| p.divided).count();
    let mut out = Vec::with_capacity(12 + pieces.len() * (4 + 4 * C) + divided * 36);
    for count in [pieces.len(), C, divided] {
        out.extend((count as u32).to_le_bytes());
    }
    for piece in pieces {
        out.extend((piece.of | if piece.divided { DIVIDED } else { 0 }).to_le_bytes());
    }
    for piece in pieces.iter().filter(|p| p.divided) {
        for c in piece.corners.iter().flat_map(|p| p.as_vec3().to_array()) {
            out.extend(c.to_le_bytes());
        }
    }
    values.as_flattened().iter().for_each(|v| out.extend(v.to_le_bytes()));
    out
}

/// A place of the part, mm.
#[derive(Deserialize, IntoParams)]
pub struct Place {
    x: f64,
    y: f64,
    z: f64,
}

#[derive(Serialize, ToSchema)]
pub struct ProbeView {
    /// The place of the surface that was probed, mm.
    pub at: [f64; 3],
    pub face: u32,
    /// Degrees, against the pull of its steel; `None` while no pull is set.
    pub draft: Option<f64>,
    pub steel: Option<Steel>,
    /// Nothing stands in its way.
    pub free: bool,
    /// Wall straight inward, mm; `None` where the part is open.
    pub ray: Option<f64>,
    /// Diameter of the largest sphere that touches the place from inside and fits, mm.
    pub sphere: Option<f64>,
}

/// Draft and wall at the place of the surface nearest to a point.
#[utoipa::path(get, path = "/api/jobs/{id}/probe", params(("id" = Uuid, Path), Place),
    responses((status = 200, body = ProbeView), (status = 422, body = Refusal), (status = 404, body = Refusal)))]
pub async fn probe(
    State(app): State<Shared>,
    Path(id): Path<Uuid>,
    Query(place): Query<Place>,
) -> Result<Json<ProbeView>, Problem> {
    let p = DVec3::new(place.x, place.y, place.z);
    let mut job = app.store.standing(id).await?.job;
    let bench = app.bench(&mut job).await?;
    let view = app
        .heavy(move || {
            let hit = bench.queries().nearest(p, f64::MAX).filter(|_| p.is_finite())?;
            let steels = job.tool.steels();
            let verdict = (!steels.is_empty()).then(|| bench.steels(&job.tool).forms(hit.triangle, hit.point));
            let wall = thickness::thickness(bench.part(), bench.queries(), hit.triangle, hit.point);
            Some(ProbeView {
                at: hit.point.to_array(),
                face: bench.part().face_of[hit.triangle as usize],
                draft: verdict.map(|v| v.draft),
                steel: verdict.and_then(|v| v.steel).map(|s| steels[s as usize].0.clone()),
                free: verdict.is_some_and(|v| v.free),
                ray: wall.ray,
                sphere: wall.sphere,
            })
        })
        .await?;
    view.map(Json).ok_or_else(|| Problem::Wrong("A probe needs a point: x, y and z in mm.".into()))
}

#[derive(Serialize, ToSchema)]
pub struct MaterialView {
    pub id: String,
    pub name: String,
    /// Percent.
    pub shrinkage: f64,
    pub source: String,
}

/// The materials.
#[utoipa::path(get, path = "/api/materials", responses((status = 200, body = Vec<MaterialView>)))]
pub async fn materials() -> Json<Vec<MaterialView>> {
    let shown = MATERIALS.iter().map(|m| MaterialView {
        id: m.id.into(),
        name: m.name.into(),
        shrinkage: m.shrinkage,
        source: m.source.into(),
    });
    Json(shown.collect())
}
