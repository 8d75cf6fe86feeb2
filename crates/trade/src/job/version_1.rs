//! Job files of version 1, whose words were others, read as what they mean now.

use serde_json::{Map, Value};

/// A job file of version 1 as one of version 2. What it can't make sense of stays as it is, to be refused where it
/// stands.
pub(super) fn upgraded(mut job: Value) -> Value {
    let Some(fields) = job.as_object_mut() else { return job };
    fields.insert("version".into(), 2.into());
    if let Some(part) = fields.get_mut("part").and_then(Value::as_object_mut) {
        renamed(part, "sheet", "surface_body");
        if let Some(replaced) = part.get_mut("replaces").and_then(Value::as_object_mut) {
            renamed(replaced, "sheet", "surface_body");
        }
    }
    if let Some(tool) = fields.get_mut("tool").and_then(Value::as_object_mut) {
        renamed(tool, "given", "assigned");
        each(tool.get_mut("assigned"), |area| {
            if let Some(steel) = area.get_mut("to").and_then(Value::as_object_mut) {
                word(steel, "steel", &[("first", "fixed"), ("second", "moving")]);
            }
        });
        each(tool.get_mut("keep_outs"), |keep_out| word(keep_out, "kind", &[("gripped", "clamping")]));
    }
    each(fields.get_mut("own_limits"), |limit| {
        let subjects = [("even_depth", "uniform_depth"), ("room", "clearance"), ("from_gripped", "from_clamping")];
        word(limit, "subject", &subjects);
    });
    each(fields.get_mut("marks"), upgrade_mark);
    job
}

/// A mark of a job or a pattern; one that has the words of today is left as it is.
pub(crate) fn upgrade_mark(mark: &mut Map<String, Value>) {
    renamed(mark, "manner", "style");
    if let Some(place) = mark.get_mut("place").and_then(Value::as_object_mut) {
        renamed(place, "lay", "placement");
        let placements =
            [("rolled", "wrapped"), ("dropped", "projected"), ("dropped_along_pull", "projected_along_pull")];
        word(place, "placement", &placements);
    }
    if let Some(relief) = mark.get_mut("relief").and_then(Value::as_object_mut) {
        renamed(relief, "held", "measured_at");
        word(relief, "measured_at", &[("land", "top")]);
        renamed(relief, "plate", "pad");
        if let Some(pad) = relief.get_mut("pad").and_then(Value::as_object_mut) {
            word(pad, "form", &[("plinth", "raised"), ("tray", "recessed")]);
        }
    }
}

fn renamed(fields: &mut Map<String, Value>, from: &str, to: &str) {
    if let Some(value) = fields.remove(from) {
        fields.insert(to.into(), value);
    }
}

/// Another word for a value, where it is one of those on the left.
fn word(fields: &mut Map<String, Value>, field: &str, words: &[(&str, &str)]) {
    let Some(value) = fields.get_mut(field) else { return };
    let new = words.iter().find(|(old, _)| value.as_str() == Some(old));
    if let Some((_, new)) = new {
        *value = (*new).into();
    }
}

fn each(list: Option<&mut Value>, mut change: impl FnMut(&mut Map<String, Value>)) {
    list.and_then(Value::as_array_mut).into_iter().flatten().filter_map(Value::as_object_mut).for_each(&mut change);
}

#[cfg(test)]
mod tests {
    use crate::{BodySide, Job, KeepOutKind, MeasuredAt, PadForm, Placement, Steel, limits::Subject};
    use serde_json::json;

    #[test]
    fn a_job_file_of_version_1_reads_as_what_it_meant() {
        let old = json!({
            "version": 1,
            "name": "Cap",
            "part": {"file": "cap.stl", "unit": "mm", "sheet": "back"},
            "tool": {
                "pull": [0.0, 0.0, 1.0],
                "given": [
                    {"area": {"kind": "faces", "faces": [2]}, "to": {"steel": "first"}},
                    {"area": {"kind": "faces", "faces": [3]}, "to": {"steel": "second"}},
                ],
                "keep_outs": [
                    {"name": "grip", "kind": "gripped", "area": {"kind": "faces", "faces": [4]}},
                ],
            },
            "limits": "thermoplastic",
            "own_limits": [{"subject": "room", "value": 0.8, "source": "the customer"}],
            "marks": [{
                "id": "m",
                "text": "A",
                "seat": {"face": 0},
                "place": {
                    "along": {"tie": "from_start", "distance": 4.0},
                    "up": {"tie": "from_start", "distance": 3.0},
                    "lay": "dropped_along_pull",
                },
                "relief": {
                    "sense": "raised", "height": 0.4, "draft": 3.0, "held": "land",
                    "plate": {"form": "tray", "height": 0.3, "draft": 2.0},
                },
                "manner": "small",
            }],
        });
        let job = Job::from_json(&serde_json::to_vec(&old).unwrap()).unwrap();
        assert_eq!(job.version, 2);
        assert_eq!(job.part.surface_body, Some(BodySide::Back));
        assert_eq!(job.tool.assigned[0].to, Steel::Fixed);
        assert_eq!(job.tool.assigned[1].to, Steel::Moving);
        assert_eq!(job.tool.keep_outs[0].kind, KeepOutKind::Clamping);
        assert_eq!(job.own_limits[0].subject, Subject::Clearance);
        let mark = &job.marks[0];
        assert_eq!(mark.place.placement, Placement::ProjectedAlongPull);
        assert_eq!(mark.relief.measured_at, MeasuredAt::Top);
        assert_eq!(mark.relief.pad.map(|p| p.form), Some(PadForm::Recessed));
        assert_eq!(mark.style.as_deref(), Some("small"));
        // written and read once more it is the same
        assert_eq!(Job::from_json(&serde_json::to_vec(&job).unwrap()).unwrap(), job);
    }

    #[test]
    fn what_version_1_has_wrong_is_still_refused_in_words() {
        let said = |bytes: &[u8]| Job::from_json(bytes).unwrap_err().to_string();
        assert!(said(br#"{"version": 1, "name": "A", "part": {"file": "a.stl"}, "limits": "none"}"#).contains("none"));
        assert!(said(br#"{"version": 1, "nonsense": 1}"#).contains("can't be read"));
        assert!(said(br#"{"version": 3, "later": true}"#).contains("version 3"));
        assert!(said(br#"{"version": 2, "name": "#).contains("line 1"));
    }
}
