//! Which checks there are.

use serde::{Deserialize, Serialize};

/// The list of checks, in the order of the columns at Inspect: each with its file in `checks/`.
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
        #[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
        #[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
        #[serde(rename_all = "snake_case")]
        pub enum Check {
            $($check,)*
        }
    };
}

checks!(kinds);

pub(crate) use checks;
