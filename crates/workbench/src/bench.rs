//! The bench: a part with everything about it that a change of a mark leaves alone.

use crate::{
    blocks::{Block, arrange},
    outcome::{Group, MarkOutcome, Outcome, Scope},
};
use glam::DVec3;
use inspection::{
    Beyond, Finding, KeepOutSite, OtherMark, Scene, Site, Surroundings, checks::room::NEAR, clearance::Segment,
    inspect, not_built,
};
use rayon::prelude::*;
use relief::{
    BuiltMark, MarkedSolid, ReliefError, Seat,
    marked::{self, Stock, bare_sheet, looked_at},
};
use solid::{Part, PartError, queries::Queries};
use std::{
    collections::HashMap,
    hash::Hash,
    sync::{Arc, Mutex, MutexGuard, OnceLock, PoisonError},
};
use tool::{
    Region, Skin, Steels, Verdict,
    parting::Line,
    release,
    thickness::{self, Thickness},
};
use trade::{Area, FaceMend, Job, Mark, PlateForm, SeatRef, Sense, Steel, Tool};

/// Entries kept of each kind; beyond that the oldest go. A job has a few marks and a person tries a
/// few settings of each.
const KEPT: usize = 64;

pub struct Bench {
    part: Arc<Part>,
    queries: OnceLock<Arc<Queries>>,
    stock: OnceLock<Result<Arc<Stock>, String>>,
    skin: OnceLock<Skin>,
    walls: OnceLock<Vec<Thickness>>,
    kept: Mutex<Kept>,
}

/// Marks of a group, each with its place in the job.
type Members = Vec<(u32, Arc<BuiltMark>)>;

#[derive(Clone)]
enum Ground {
    Solid(Arc<Stock>),
    None,
}

#[derive(Default)]
struct Kept {
    seats: Recent<String, Result<Arc<Seat>, String>>,
    marks: Recent<String, Result<Arc<BuiltMark>, String>>,
    pieces: Recent<String, (Block, Arc<Stock>)>,
    groups: Recent<String, Result<Arc<Group>, String>>,
    findings: Recent<String, Arc<Vec<Vec<Finding>>>>,
    /// The marks of a piece as it was joined last, by its block.
    shown: Recent<String, Vec<Arc<BuiltMark>>>,
    /// The same piece with all its marks but one, and those marks.
    bases: Recent<String, (Vec<Arc<BuiltMark>>, Arc<Stock>)>,
    parting: Recent<String, Arc<Vec<Line>>>,
    regions: Recent<String, Arc<Region>>,
    steels: Recent<String, Arc<Steels>>,
    releases: Recent<String, Arc<Vec<Verdict>>>,
}

/// The newest entries by key.
struct Recent<K, V> {
    entries: HashMap<K, (u64, V)>,
    clock: u64,
}

impl<K, V> Default for Recent<K, V> {
    fn default() -> Self {
        Self { entries: HashMap::new(), clock: 0 }
    }
}

impl<K: Eq + Hash + Clone, V: Clone> Recent<K, V> {
    fn get(&mut self, key: &K) -> Option<V> {
        self.clock += 1;
        let clock = self.clock;
        self.entries.get_mut(key).map(|entry| {
            entry.0 = clock;
            entry.1.clone()
        })
    }

    fn put(&mut self, key: K, value: V) {
        self.clock += 1;
        self.entries.insert(key, (self.clock, value));
        if self.entries.len() > KEPT
            && let Some(oldest) = self.entries.iter().min_by_key(|(_, (at, _))| *at).map(|(k, _)| k.clone())
        {
            self.entries.remove(&oldest);
        }
    }
}

/// The marks that were built.
fn built(marks: &[MarkOutcome]) -> Members {
    marks.iter().enumerate().filter_map(|(at, m)| Some((at as u32, m.built.clone()?))).collect()
}

/// The marks that are near one of a group's, its own among them.
fn near<'a>(members: &[(u32, Arc<BuiltMark>)], present: &'a [(u32, Arc<BuiltMark>)]) -> Vec<&'a (u32, Arc<BuiltMark>)> {
    let close = |a: &BuiltMark, b: &BuiltMark| {
        let ((al, ah), (bl, bh)) = (a.bounds(), b.bounds());
        (al - bh).max(bl - ah).max(DVec3::ZERO).length() < NEAR
    };
    present.iter().filter(|(_, other)| members.iter().any(|(_, m)| close(m, other))).collect()
}

/// Do the boxes of two marks overlap, or all but?
fn overlap(a: &BuiltMark, b: &BuiltMark) -> bool {
    /// mm.
    const HAIR: f64 = 0.01;
    let ((al, ah), (bl, bh)) = (a.bounds(), b.bounds());
    ((al - bh).max(bl - ah)).max_element() < HAIR
}

/// Marks that stand behind one of a group's, where the other side of the part looks the other way: they change
/// the wall that is under both.
fn opposite<'a>(
    members: &[(u32, Arc<BuiltMark>)],
    present: &'a [(u32, Arc<BuiltMark>)],
) -> Vec<&'a (u32, Arc<BuiltMark>)> {
    let stands = |b: &BuiltMark| {
        let (low, high) = b.bounds();
        ((low + high) / 2.0, (high - low).length() / 2.0, b.seat.chart.normal(b.placed.middle))
    };
    let behind = |a: &BuiltMark, b: &BuiltMark| {
        let ((at, radius, out), (there, other, looks)) = (stands(a), stands(b));
        out.dot(looks) < 0.5 && (there - at).reject_from(out).length() < radius + other
    };
    present
        .iter()
        .filter(|(at, b)| b.has_relief() && members.iter().all(|(own, _)| own != at))
        .filter(|(_, b)| members.iter().any(|(_, own)| behind(own, b)))
        .collect()
}

/// What a mark is built from, for a key: its own face is not in its JSON.
fn settings_of(mark: &Mark) -> (&Mark, Option<u64>) {
    (mark, mark.lettering.own.as_ref().map(trade::HeldFace::key))
}

/// Settings as a key: their JSON, which holds every digit.
fn key<T: serde::Serialize>(value: &T) -> String {
    serde_json::to_string(value).expect("settings have string keys and finite numbers only")
}

impl Bench {
    #[must_use]
    pub fn new(part: Part) -> Self {
        Self {
            part: Arc::new(part),
            queries: OnceLock::new(),
            stock: OnceLock::new(),
            skin: OnceLock::new(),
            walls: OnceLock::new(),
            kept: Mutex::default(),
        }
    }

    /// The part with some of its faces joined or divided, on a bench of its own.
    ///
    /// # Errors
    /// See [`Part::mend_faces`].
    pub fn face_mended(&self, mends: &[FaceMend]) -> Result<Self, PartError> {
        let mut part = (*self.part).clone();
        part.mend_faces(mends)?;
        let new = Self::new(part);
        // the triangles are the same
        if let Some(queries) = self.queries.get() {
            let _ = new.queries.set(queries.clone());
        }
        Ok(new)
    }

    #[must_use]
    pub fn part(&self) -> &Arc<Part> {
        &self.part
    }

    fn kept(&self) -> MutexGuard<'_, Kept> {
        // entries are whole or absent, so what a panicking thread left is fit to use
        self.kept.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Queries against the bare part.
    pub fn queries(&self) -> &Arc<Queries> {
        self.queries.get_or_init(|| Arc::new(Queries::new(self.part.mesh.clone())))
    }

    fn stock(&self) -> Result<Arc<Stock>, String> {
        self.stock
            .get_or_init(|| {
                self.part.markable().map_err(|why| why.trim_end_matches('.').to_owned())?;
                Stock::of(&self.part).map(Arc::new).map_err(|e| e.to_string())
            })
            .clone()
    }

    /// What marks are joined to: the part, or nothing where it is a sheet.
    fn ground(&self) -> Result<Ground, String> {
        match self.part.sheet {
            Some(_) => Ok(Ground::None),
            None => self.stock().map(Ground::Solid),
        }
    }

    /// A seat under a pull.
    ///
    /// # Errors
    /// See [`Seat::over`].
    pub fn seat(&self, seat: &SeatRef, pull: Option<DVec3>) -> Result<Arc<Seat>, String> {
        let key = key(&(seat, pull));
        if let Some(seat) = self.kept().seats.get(&key) {
            return seat;
        }
        let seat = Seat::over(&self.part, &seat.faces(), pull).map(Arc::new).map_err(|e| e.to_string());
        self.kept().seats.put(key, seat.clone());
        seat
    }

    /// The parting lines of `tool` on the bare part, in its order.
    #[must_use]
    pub fn parting(&self, tool: &Tool) -> Arc<Vec<Line>> {
        let key = key(&(tool.pull, &tool.slides, &tool.parting));
        if let Some(lines) = self.kept().parting.get(&key) {
            return lines;
        }
        let lines = Arc::new(tool::parting::lines(&self.part, tool));
        self.kept().parting.put(key, lines.clone());
        lines
    }

    /// An area of the skin.
    #[must_use]
    pub fn region(&self, area: &Area) -> Arc<Region> {
        let key = key(area);
        if let Some(region) = self.kept().regions.get(&key) {
            return region;
        }
        let region = Arc::new(Region::new(area, &self.part, self.queries()));
        self.kept().regions.put(key, region.clone());
        region
    }

    /// The part's skin in pieces.
    pub fn skin(&self) -> &Skin {
        self.skin.get_or_init(|| Skin::of(&self.part))
    }

    /// The wall under each piece of the skin.
    pub fn walls(&self) -> &[Thickness] {
        self.walls.get_or_init(|| thickness::map(&self.part, self.queries(), self.skin()))
    }

    /// The steels of the tool round the part.
    #[must_use]
    pub fn steels(&self, tool: &Tool) -> Arc<Steels> {
        let key = key(&(tool.pull, &tool.slides, &tool.given, &tool.parting));
        if let Some(steels) = self.kept().steels.get(&key) {
            return steels;
        }
        let steels = Arc::new(Steels::new(self.part.clone(), self.queries().clone(), tool));
        self.kept().steels.put(key, steels.clone());
        steels
    }

    /// Which steel forms each piece of the skin; nothing while no pull is set.
    #[must_use]
    pub fn release(&self, tool: &Tool) -> Arc<Vec<Verdict>> {
        let key = key(&(tool.pull, &tool.slides, &tool.given, &tool.parting));
        if let Some(verdicts) = self.kept().releases.get(&key) {
            return verdicts;
        }
        let verdicts = Arc::new(release::release(&self.steels(tool), self.skin()));
        self.kept().releases.put(key, verdicts.clone());
        verdicts
    }

    /// The steel that forms a mark, by most of the places in the middles of its characters; where the
    /// tool frees none of them, the half that its seat looks to.
    fn forms(&self, mark: &Mark, seat: &Seat, tool: &Tool) -> Option<(Steel, DVec3)> {
        let steels = tool.steels();
        let placed = relief::place::place(mark, seat).ok()?;
        let plain = tool.slides.is_empty() && tool.given.is_empty();
        let mut votes = vec![0_usize; steels.len()];
        if !plain {
            let round = self.steels(tool);
            for character in &placed.characters {
                let hit = self.queries().nearest(seat.chart.point(character.middle, 0.0), f64::MAX);
                if let Some(steel) = hit.and_then(|h| round.forms(h.triangle, h.point).steel) {
                    votes[steel as usize] += 1;
                }
            }
        }
        let most = (0..votes.len()).rev().max_by_key(|&s| votes[s]).filter(|&s| votes[s] > 0);
        let out = seat.chart.normal(placed.middle);
        let half = || {
            let pull = unit_pull(tool)?;
            Some(usize::from(pull.dot(out) < 0.0))
        };
        let (steel, pull) = steels[most.or_else(half)?].clone();
        Some((steel, DVec3::from(pull).try_normalize()?))
    }

    fn keep_outs(&self, job: &Job) -> Vec<KeepOutSite> {
        let sheet = job.sheet();
        job.tool
            .keep_outs
            .iter()
            .map(|k| {
                let mut limit = sheet.limit(k.kind.subject());
                if let Some(margin) = k.margin {
                    limit.value = margin;
                    limit.source = "set for this keep-out".into();
                }
                KeepOutSite { name: k.name.clone(), kind: k.kind, limit, region: self.region(&k.area) }
            })
            .collect()
    }

    fn built(&self, job: &Job, mark: &Mark) -> Result<(Option<Steel>, Arc<BuiltMark>), String> {
        if let Some(why) = &mark.unsaid {
            return Err(why.clone());
        }
        let tool = &job.tool;
        let main = unit_pull(tool);
        let mark = &self.settled(&job.marks, mark, main)?;
        let seat = self.seat(&mark.seat, main)?;
        let (steel, pull) = self.forms(mark, &seat, tool).unzip();
        let key = key(&(settings_of(mark), main, pull));
        if let Some(built) = self.kept().marks.get(&key) {
            return built.map(|b| (steel, b));
        }
        let deep = |mark: &Mark| match mark.relief.through {
            true => self.through(mark, &seat),
            false => Ok(mark.clone()),
        };
        let built = deep(mark).and_then(|mark| {
            BuiltMark::new(&mark, seat.clone(), pull).map(Arc::new).map_err(|e: ReliefError| e.to_string())
        });
        self.kept().marks.put(key, built.clone());
        built.map(|b| (steel, b))
    }

    /// A mark that goes through the wall, with the depth that it takes: the thickest wall under it.
    fn through(&self, mark: &Mark, seat: &Seat) -> Result<Mark, String> {
        /// Past the other side, mm.
        const PAST: f64 = 0.2;
        const MOST: f64 = 50.0;
        let placed = relief::place::place(mark, seat).map_err(|e| e.to_string())?;
        let mut thickest: f64 = 0.0;
        let rings = placed.characters.iter().flat_map(|c| c.region.contours());
        for &at in rings.flat_map(|ring| ring.iter().step_by(ring.len().div_ceil(40))) {
            let inward = -seat.chart.normal(at);
            let from = seat.chart.point(at, 0.0) + inward * (seat.facet_error + 1e-3);
            if let Some(hit) = self.queries().first_hit(from, inward, 1e-4, f64::MAX, |_| true) {
                thickest = thickest.max(hit.distance);
            }
        }
        let plinth = mark.relief.plate.filter(|p| p.form == PlateForm::Plinth).map_or(0.0, |p| p.height);
        let deep = thickest + plinth + PAST + 2.0 * seat.facet_error;
        if thickest == 0.0 || deep > MOST {
            return Err(format!(
                "it is to go through, and the wall under it is {thickest:.1} mm thick; at most {MOST} mm are cut through"
            ));
        }
        let mut mark = mark.clone();
        mark.relief.height = deep;
        Ok(mark)
    }

    /// Everything that is on, built and inspected. Marks that can't be built say why; the others
    /// are not held up by them.
    #[must_use]
    pub fn outcome(&self, job: &Job, scope: Scope) -> Outcome {
        let mut outcome = self.joined(job, scope);
        self.inspect(job, &mut outcome);
        outcome
    }

    /// Everything that is on, built and joined to the part. Only marks that can't be built have findings yet.
    #[must_use]
    pub fn joined(&self, job: &Job, scope: Scope) -> Outcome {
        let ground = self.ground();
        let mut marks: Vec<MarkOutcome> = job
            .marks
            .iter()
            .map(|mark| {
                let built =
                    if mark.on { ground.clone().and_then(|_| self.built(job, mark)).map(Some) } else { Ok(None) };
                let (steel, built, problem) = match built {
                    Ok(Some((steel, built))) => (steel, Some(built), None),
                    Ok(None) => (None, None, None),
                    Err(problem) => (None, None, Some(problem)),
                };
                let findings = problem.as_ref().map(|p| not_built(&mark.id, p)).unwrap_or_default();
                MarkOutcome { id: mark.id.clone(), on: mark.on, steel, built, problem, findings }
            })
            .collect();
        let Ok(ground) = ground else { return Outcome { marks, groups: Vec::new() } };
        let present = built(&marks);
        let (joined, apart): (Members, Members) =
            present.iter().cloned().partition(|(_, b)| matches!(ground, Ground::Solid(_)) && b.has_relief());
        let mut arranged: Vec<(&Ground, Option<Block>, Members)> = match scope {
            _ if joined.is_empty() => Vec::new(),
            Scope::NearMarks => {
                let boxes: Vec<Block> = joined.iter().map(|(_, b)| Block::around(b.bounds())).collect();
                let blocks: Vec<Block> = self.kept().pieces.entries.values().map(|(_, (block, _))| *block).collect();
                let placed = arrange(&boxes, &blocks).into_iter();
                let members = |of: Vec<usize>| of.into_iter().map(|m| joined[m].clone()).collect();
                placed.map(|(block, of)| (&ground, Some(block), members(of))).collect()
            }
            Scope::Whole => vec![(&ground, None, joined)],
        };
        if !apart.is_empty() {
            arranged.push((&Ground::None, None, apart));
        }
        let joined: Vec<Result<Arc<Group>, String>> =
            arranged.par_iter().map(|(ground, block, members)| self.group(ground, *block, members)).collect();
        let mut groups = Vec::new();
        for ((_, _, members), group) in arranged.iter().zip(joined) {
            match group {
                Ok(group) => groups.push(group),
                Err(problem) => {
                    for (at, _) in members {
                        let mark = &mut marks[*at as usize];
                        mark.findings = not_built(&mark.id, &problem);
                        mark.problem = Some(problem.clone());
                    }
                }
            }
        }
        Outcome { marks, groups }
    }

    fn group(
        &self,
        ground: &Ground,
        block: Option<Block>,
        members: &[(u32, Arc<BuiltMark>)],
    ) -> Result<Arc<Group>, String> {
        let settings: Vec<_> = members.iter().map(|(at, b)| (*at, settings_of(&b.mark), b.pull)).collect();
        let apart = matches!(ground, Ground::None);
        let key = key(&(block.map(|b| (b.low, b.high)), apart, settings));
        if let Some(group) = self.kept().groups.get(&key) {
            return group;
        }
        let marks: Vec<(u32, &BuiltMark)> = members.iter().map(|(at, b)| (*at, &**b)).collect();
        let solid = match (ground, block) {
            (Ground::None, _) => marked::apart(&marks),
            (Ground::Solid(stock), Some(block)) => self.marked_piece(stock, block, members),
            (Ground::Solid(stock), None) => stock.marked(&marks),
        };
        let group = solid.map_err(|e| e.to_string()).map(|solid| {
            Arc::new(Group {
                key: key.clone(),
                block,
                apart,
                looked_at: looked_at(&solid, &marks),
                colours: marks
                    .iter()
                    .flat_map(|(at, m)| m.colours().map(move |(character, colour)| ((*at, character), colour.rgb())))
                    .collect(),
                stamps: marks.iter().filter(|(_, m)| m.mark.relief.sense == Sense::Stamp).map(|(at, _)| *at).collect(),
                marks: marks.iter().map(|(at, _)| *at).collect(),
                solid,
            })
        });
        self.kept().groups.put(key, group.clone());
        group
    }

    /// Gives the marks of an outcome that were built their findings.
    pub fn inspect(&self, job: &Job, outcome: &mut Outcome) {
        let present = built(&outcome.marks);
        for group in &outcome.groups {
            let findings = self.findings(job, group, &present);
            for (&at, findings) in group.marks.iter().zip(&*findings) {
                outcome.marks[at as usize].findings.clone_from(findings);
            }
        }
    }

    /// Findings of the marks of a group, in its order; `present` are all that were built.
    fn findings(&self, job: &Job, group: &Group, present: &[(u32, Arc<BuiltMark>)]) -> Arc<Vec<Vec<Finding>>> {
        let members: Members = present.iter().filter(|(at, _)| group.marks.contains(at)).cloned().collect();
        let near = near(&members, present);
        let opposite = opposite(&members, present);
        let settings = |of: &[&(u32, Arc<BuiltMark>)]| -> Vec<String> {
            of.iter().map(|(at, b)| key(&(at, settings_of(&b.mark), b.pull))).collect()
        };
        let sheet = job.sheet();
        let key = key(&(
            &group.key,
            (settings(&near), settings(&opposite)),
            (&job.tool.pull, &job.tool.slides, &job.tool.parting, &job.tool.keep_outs),
            &sheet,
            job.reading_distance,
        ));
        if let Some(findings) = self.kept().findings.get(&key) {
            return findings;
        }
        let parting: Vec<Segment> = self.parting(&job.tool).iter().flat_map(|l| l.segments.iter().copied()).collect();
        let keep_outs = self.keep_outs(job);
        let other = |(at, b): &&(u32, Arc<BuiltMark>)| OtherMark {
            mark: *at,
            name: b.mark.id.clone(),
            root: b.footprint(),
            area: (!b.kept_free().is_empty()).then(|| b.clone()),
        };
        let others: Vec<OtherMark> = near.iter().map(other).collect();
        let behind: Vec<&BuiltMark> = opposite.iter().map(|(_, b)| &**b).collect();
        let beyond = group.block.map(|b| Beyond { part: self.queries(), low: b.low, high: b.high, marks: &behind });
        let around = Surroundings {
            parting: &parting,
            keep_outs: &keep_outs,
            others: &others,
            sheet: &sheet,
            reading_distance: job.reading_distance,
        };
        let scene = Scene::new(&group.solid, beyond, &around);
        let findings: Vec<Vec<Finding>> =
            members.par_iter().map(|(at, built)| inspect(&Site::new(&scene, *at, built))).collect();
        let findings = Arc::new(findings);
        self.kept().findings.put(key, findings.clone());
        findings
    }

    /// A piece of the part with its marks. Where one mark has changed since and lies apart from the others, these
    /// are joined once and kept: while it is dragged, it alone is joined.
    fn marked_piece(
        &self,
        stock: &Stock,
        block: Block,
        members: &[(u32, Arc<BuiltMark>)],
    ) -> Result<MarkedSolid, ReliefError> {
        let piece = self.piece(stock, block);
        let marks: Vec<(u32, &BuiltMark)> = members.iter().map(|(at, b)| (*at, &**b)).collect();
        let here = key(&(block.low, block.high));
        let now: Vec<Arc<BuiltMark>> = members.iter().map(|(_, b)| b.clone()).collect();
        let before = self.kept().shown.get(&here);
        self.kept().shown.put(here.clone(), now.clone());
        let changed: Vec<usize> = match before {
            Some(before) if before.len() == now.len() => {
                (0..now.len()).filter(|&k| !Arc::ptr_eq(&before[k], &now[k])).collect()
            }
            _ => Vec::new(),
        };
        let &[own] = &changed[..] else { return piece.marked(&marks) };
        let mine = marks[own];
        let mut others = marks.clone();
        others.remove(own);
        if others.is_empty() || others.iter().any(|(_, other)| overlap(mine.1, other)) {
            return piece.marked(&marks);
        }
        let mut rest = now;
        rest.remove(own);
        // bodies are known by their numbers: a mark that was built once more is another
        let same = |kept: &[Arc<BuiltMark>]| {
            kept.len() == rest.len() && kept.iter().zip(&rest).all(|(a, b)| Arc::ptr_eq(a, b))
        };
        let kept = self.kept().bases.get(&here).filter(|(of, _)| same(of));
        let base = match kept {
            Some((_, base)) => base,
            None => {
                let base = Arc::new(piece.with(&others)?);
                self.kept().bases.put(here, (rest, base.clone()));
                base
            }
        };
        Ok(base.with(&[mine])?.told(&marks))
    }

    fn piece(&self, stock: &Stock, block: Block) -> Arc<Stock> {
        let key = key(&(block.low, block.high));
        if let Some((_, piece)) = self.kept().pieces.get(&key) {
            return piece;
        }
        let piece = Arc::new(stock.split(block.low, block.high).0.thinned());
        self.kept().pieces.put(key, (block, piece.clone()));
        piece
    }

    /// The part without the blocks that `outcome`'s groups were cut out with: what the view keeps
    /// while marks change.
    #[must_use]
    pub fn rest(&self, outcome: &Outcome) -> Option<relief::MarkedSolid> {
        if self.part.sheet.is_some() {
            return Some(bare_sheet(&self.part));
        }
        let stock = self.stock().ok()?;
        let mut rest: Option<Stock> = None;
        for block in outcome.groups.iter().filter_map(|g| g.block) {
            rest = Some(rest.as_ref().unwrap_or(&stock).split(block.low, block.high).1);
        }
        Some(rest.as_ref().unwrap_or(&stock).bare())
    }
}

/// The tool's pull as a unit vector.
#[must_use]
pub fn unit_pull(tool: &Tool) -> Option<DVec3> {
    tool.pull.map(DVec3::from).and_then(DVec3::try_normalize)
}
