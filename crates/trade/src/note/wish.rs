//! What a phrase of a note asks of a mark: as settings of it, in words, and whether the mark has it.

use crate::{EdgeShape, Mark, Pad, PadForm, Relief, Sense};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};

/// A length, mm, or an angle, degrees, with the limits that the note gives it; without any it is met to half of its last digit.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Asked {
    /// What is to be set: the nominal, or the middle of a range.
    pub value: f64,
    pub least: f64,
    /// [`OPEN`] where it has none.
    pub most: f64,
    /// The note says how far it may be off.
    pub told: bool,
}

/// No upper limit.
pub(super) const OPEN: f64 = 1e9;

impl Asked {
    fn met(&self, by: f64) -> bool {
        (self.least - 1e-9..=self.most + 1e-9).contains(&by)
    }
}

/// What a phrase asks for.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case", tag = "wish")]
pub enum Wish {
    CapHeight {
        asked: Asked,
    },
    /// How high it is raised, or how deep it is sunk.
    Height {
        asked: Asked,
    },
    Sense {
        sense: Sense,
    },
    Draft {
        asked: Asked,
    },
    Stroke {
        asked: Asked,
    },
    Spacing {
        asked: Asked,
    },
    /// Radius of the outer edge.
    EdgeRadius {
        asked: Asked,
    },
    /// Bevel of the outer edge.
    Bevel {
        asked: Asked,
    },
    /// Radius in the inner corner.
    Root {
        asked: Asked,
    },
    Pad {
        form: PadForm,
        asked: Option<Asked>,
    },
    /// A lettering face, by its id, and how the note calls it.
    Face {
        face: String,
        called: String,
    },
    /// What it is to say, word for word.
    Text {
        text: String,
    },
    /// What it is to hold.
    Content {
        content: Content,
    },
    /// On a face of the part that is called so.
    On {
        surface: String,
    },
    BothSides,
    /// So many of them.
    Times {
        count: u32,
    },
    Centred,
    /// The unit that the note is written in.
    InUnit {
        inch: bool,
    },
}

/// What a mark holds.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Content {
    PartNumber,
    Revision,
    CavityId,
    DateCode,
    MaterialCode,
    BrandMark,
}

impl Content {
    #[must_use]
    pub fn word(self) -> &'static str {
        match self {
            Self::PartNumber => "part number",
            Self::Revision => "revision",
            Self::CavityId => "cavity ID",
            Self::DateCode => "date code",
            Self::MaterialCode => "material code",
            Self::BrandMark => "brand mark",
        }
    }
}

/// A figure without needless noughts.
fn figure(value: f64) -> String {
    let text = format!("{value:.3}");
    text.trim_end_matches('0').trim_end_matches('.').to_owned()
}

fn sense(sense: Sense) -> &'static str {
    match sense {
        Sense::Raised => "raised",
        Sense::Sunken => "sunken",
        Sense::Inlay => "inlay",
        Sense::Surface => "surface only",
        Sense::Stamp => "stamp area",
    }
}

impl Wish {
    /// What it becomes, in a few words.
    #[must_use]
    pub fn says(&self) -> String {
        let mm = |asked: &Asked| format!("{} mm", figure(asked.value));
        match self {
            Self::CapHeight { asked } => format!("cap height {}", mm(asked)),
            Self::Height { asked } => format!("relief {}", mm(asked)),
            Self::Sense { sense: own } => sense(*own).into(),
            Self::Draft { asked } => format!("draft {}°", figure(asked.value)),
            Self::Stroke { asked } => format!("stroke {}", mm(asked)),
            Self::Spacing { asked } => format!("spacing {}", mm(asked)),
            Self::EdgeRadius { asked } => format!("edge radius {}", mm(asked)),
            Self::Bevel { asked } => format!("bevel {}", mm(asked)),
            Self::Root { asked } => format!("root radius {}", mm(asked)),
            Self::Pad { form, asked: Some(asked) } => format!("{} {}", form.word(), mm(asked)),
            Self::Pad { form, asked: None } => form.word().into(),
            Self::Face { called, .. } => format!("lettering face: {called}"),
            Self::Text { text } => format!("text “{text}”"),
            Self::Content { content } => content.word().into(),
            Self::On { surface } => format!("on the face called “{surface}”"),
            Self::BothSides => "on both sides".into(),
            Self::Times { count } => format!("{count} of them"),
            Self::Centred => "in the middle".into(),
            Self::InUnit { inch } => if *inch { "in inches" } else { "in mm" }.into(),
        }
    }

    /// The settings of a mark that it becomes; `None` for what is no setting.
    #[must_use]
    pub fn settings(&self, mark: &Mark) -> Option<Value> {
        let relief = |key: &str, value: f64| Some(json!({"relief": {key: value}}));
        let lettering = |key: &str, value: f64| Some(json!({"lettering": {key: value}}));
        match self {
            Self::CapHeight { asked } => lettering("cap_height", asked.value),
            Self::Height { asked } => relief("height", asked.value),
            Self::Sense { sense } => Some(json!({"relief": {"sense": sense}})),
            Self::Draft { asked } => relief("draft", asked.value),
            Self::Stroke { asked } => lettering("stroke", asked.value),
            Self::Spacing { asked } => lettering("spacing", asked.value),
            Self::EdgeRadius { asked } => {
                Some(json!({"relief": {"edge": asked.value, "edge_shape": EdgeShape::Round}}))
            }
            Self::Bevel { asked } => Some(json!({"relief": {"edge": asked.value, "edge_shape": EdgeShape::Bevel}})),
            Self::Root { asked } => relief("root", asked.value),
            Self::Pad { form, asked } => {
                let own = mark.relief.pad.filter(|pad| pad.form == *form);
                let height = asked.map(|a| a.value).or(own.map(|pad| pad.height)).unwrap_or(mark.relief.height);
                let draft = own.map_or(mark.relief.draft, |pad| pad.draft);
                Some(json!({"relief": {"pad": Pad { form: *form, height, draft, clears: 0.0 }}}))
            }
            Self::Face { face, .. } => Some(json!({"lettering": {"face": face}})),
            Self::Text { text } => Some(json!({"text": text, "recipe": []})),
            Self::Centred => Some(json!({"place": {"along": {"tie": "middle"}, "up": {"tie": "middle"}}})),
            Self::Content { .. } | Self::On { .. } | Self::BothSides | Self::Times { .. } | Self::InUnit { .. } => None,
        }
    }

    /// In what a mark differs from it, in a sentence without its full stop; `None` where it has it, or where that is nothing
    /// of the mark itself.
    #[must_use]
    pub fn differs(&self, mark: &Mark) -> Option<String> {
        let Relief { height, draft, edge, root, edge_shape, .. } = mark.relief;
        let off = |asked: &Asked, is: f64, what: &str, unit: &str| {
            (!asked.met(is)).then(|| {
                let wanted = match (asked.told, asked.least, asked.most) {
                    // what a figure without a tolerance is met by stands on no drawing
                    (false, ..) => figure(asked.value),
                    (true, least, most) if most >= OPEN => format!("at least {}", figure(least)),
                    (true, least, most) if least <= 0.0 => format!("at most {}", figure(most)),
                    (true, least, most) => format!("{} to {}", figure(least), figure(most)),
                };
                format!("the note says {what} {wanted}{unit}, the mark has {}{unit}", figure(is))
            })
        };
        match self {
            Self::CapHeight { asked } => off(asked, mark.lettering.cap_height, "cap height", " mm"),
            Self::Height { asked } => off(asked, height, "relief", " mm"),
            Self::Draft { asked } => off(asked, draft, "draft", "°"),
            Self::Spacing { asked } => off(asked, mark.lettering.spacing, "spacing", " mm"),
            Self::Stroke { asked } => match mark.lettering.stroke {
                Some(stroke) => off(asked, stroke, "stroke", " mm"),
                None => Some(format!("the note says stroke {} mm, the mark has the face's own", figure(asked.value))),
            },
            Self::EdgeRadius { asked } | Self::Bevel { asked } => {
                let bevel = matches!(self, Self::Bevel { .. });
                let what = if bevel { "bevel" } else { "edge radius" };
                let other = edge > 0.0 && bevel != (edge_shape == EdgeShape::Bevel);
                let own = if bevel { "a radius" } else { "a bevel" };
                off(asked, edge, what, " mm")
                    .or_else(|| other.then(|| format!("the note says {what}, the mark's edge has {own}")))
            }
            Self::Root { asked } => off(asked, root, "root radius", " mm"),
            Self::Sense { sense: wanted } => {
                let is = mark.relief.sense;
                (is != *wanted).then(|| format!("the note says {}, the mark is {}", sense(*wanted), sense(is)))
            }
            Self::Pad { form, asked } => match mark.relief.pad {
                Some(pad) if pad.form == *form => asked.and_then(|asked| off(&asked, pad.height, form.word(), " mm")),
                _ => Some(format!("the note says {}, the mark has none", form.word())),
            },
            Self::Face { face, called } => {
                let is = &mark.lettering.face;
                (is != face).then(|| format!("the note says {called}, the mark is lettered in another face"))
            }
            Self::Text { text } => (mark.text.replace('\n', " ") != *text)
                .then(|| format!("the note says “{text}”, the mark says “{}”", mark.by_text())),
            Self::Content { .. }
            | Self::On { .. }
            | Self::BothSides
            | Self::Times { .. }
            | Self::Centred
            | Self::InUnit { .. } => None,
        }
    }
}
