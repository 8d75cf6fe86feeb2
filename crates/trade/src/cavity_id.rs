//! Cavity IDs: one for each cavity of a tool, none that is the beginning of another or taken for one.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// How cavities are called.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum CavityNaming {
    /// 01, 02, … padded to the width of the last.
    Numbers,
    /// Letters without look-alikes, all of one width: A, B, … or AA, AB, ….
    Letters,
}

/// Letters that are not taken for a digit or for one another (common practice): no B, I, O, Q, S, Z.
const LETTERS: &[u8] = b"ACDEFGHJKLMNPRTUVWXY";

impl CavityNaming {
    /// IDs for `count` cavities, the first one numbered `start`.
    #[must_use]
    pub fn ids(self, start: u32, count: usize) -> Vec<String> {
        let last = start as usize + count.saturating_sub(1);
        match self {
            Self::Numbers => {
                let width = last.to_string().len();
                (start as usize..start as usize + count).map(|n| format!("{n:0width$}")).collect()
            }
            Self::Letters => {
                let from = start.saturating_sub(1) as usize;
                let base = LETTERS.len();
                let mut width = 1;
                while base.pow(width) < from + count {
                    width += 1;
                }
                let letter = |n: usize, k: u32| char::from(LETTERS[n / base.pow(width - 1 - k) % base]);
                (from..from + count).map(|n| (0..width).map(|k| letter(n, k)).collect()).collect()
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::look_alikes;
    use std::collections::HashSet;

    #[test]
    fn ids_are_of_one_width_unique_and_without_look_alikes() {
        assert_eq!(CavityNaming::Numbers.ids(1, 8).join(" "), "1 2 3 4 5 6 7 8");
        assert_eq!(CavityNaming::Numbers.ids(1, 128)[6], "007");
        assert_eq!(CavityNaming::Numbers.ids(98, 3).join(" "), "098 099 100");
        assert_eq!(CavityNaming::Letters.ids(1, 5).join(" "), "A C D E F");
        assert_eq!(CavityNaming::Letters.ids(1, 21).first().unwrap(), "AA");
        for count in [0, 1, 20, 21, 128, 400, 401] {
            for ids in [CavityNaming::Numbers.ids(1, count), CavityNaming::Letters.ids(1, count)] {
                assert_eq!(ids.iter().collect::<HashSet<_>>().len(), count);
                assert!(ids.windows(2).all(|w| w[0].len() == w[1].len()));
            }
            let letters: String = CavityNaming::Letters.ids(1, count).concat();
            assert!(
                look_alikes::pairs(&format!("{letters}0123456789"))
                    .iter()
                    .all(|(a, b)| { !letters.contains(*a) && !letters.contains(*b) })
            );
        }
    }
}
