//! Which checks there are.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// The list of checks, in the order of the rows at Inspect: each with the name of its file among the checks.
#[macro_export]
macro_rules! checks {
    ($take:ident) => {
        $take! {
            Draft draft,
            Release release,
            UniformDepth uniform_depth,
            ReliefHeight relief_height,
            CapHeight cap_height,
            Stroke stroke,
            Counter counter,
            Gap gap,
            WordGap word_gap,
            LineGap line_gap,
            StrokeToHeight stroke_to_height,
            StrokeToCap stroke_to_cap,
            Island island,
            Steel steel,
            InnerCorner inner_corner,
            Parting parting,
            Clearance clearance,
            KeepOuts keep_outs,
            Complete complete,
            Wall wall,
            LookAlikes look_alikes,
        }
    };
}

macro_rules! kinds {
    ($($check:ident $file:ident,)*) => {
        #[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, JsonSchema)]
        #[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
        #[serde(rename_all = "snake_case")]
        pub enum Check {
            $($check,)*
        }

        impl Check {
            /// All of them, in order.
            pub const ALL: &[Self] = &[$(Self::$check,)*];
        }
    };
}

checks!(kinds);

impl Check {
    /// Its name, as it is read.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Self::Draft => "draft",
            Self::Release => "release",
            Self::UniformDepth => "uniform depth",
            Self::ReliefHeight => "relief height",
            Self::CapHeight => "cap height",
            Self::Stroke => "stroke",
            Self::Counter => "counter",
            Self::Gap => "gap",
            Self::WordGap => "word gap",
            Self::LineGap => "line gap",
            Self::StrokeToHeight => "stroke to relief",
            Self::StrokeToCap => "stroke to cap",
            Self::Island => "small pieces",
            Self::Steel => "steel",
            Self::InnerCorner => "inner corners",
            Self::Parting => "parting",
            Self::Clearance => "clearance",
            Self::KeepOuts => "keep-outs",
            Self::Complete => "complete",
            Self::Wall => "wall",
            Self::LookAlikes => "look-alikes",
        }
    }
}
