//! What the steps came to, as long as all of it together stays within a weight in bytes; what is used least goes
//! first.

use inspection::Finding;
use quick_cache::{
    DefaultHashBuilder, OptionsBuilder, Weighter,
    sync::{Cache, DefaultLifecycle},
};
use relief::{BuiltMark, MarkedSolid, Seat, marked::Stock};
use std::{any::Any, sync::Arc};
use tool::{Region, Steels, Verdict, parting::Line};

use crate::outcome::Group;

/// All that a bench keeps beside its part, bytes. A part of two million triangles with its trees has about as much.
const MOST: u64 = 1 << 30;
/// Entries that are reckoned with: a job of a hundred marks, each tried in a few settings.
const ABOUT: usize = 1000;

/// Which step an entry is of.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Kind {
    Seat,
    Built,
    Piece,
    Group,
    Findings,
    /// Findings of the same marks, whatever stands behind them.
    Nearby,
    Parting,
    Region,
    Steels,
    Release,
    Rest,
}

#[derive(Clone)]
struct Entry {
    value: Arc<dyn Any + Send + Sync>,
    bytes: u64,
}

#[derive(Clone)]
struct ByBytes;

impl Weighter<(Kind, String), Entry> for ByBytes {
    fn weight(&self, (_, key): &(Kind, String), entry: &Entry) -> u64 {
        entry.bytes + key.len() as u64 + 64
    }
}

pub struct Kept(Cache<(Kind, String), Entry, ByBytes>);

impl Default for Kept {
    fn default() -> Self {
        // one shard: each shard has a share of what may be kept, and what weighs more than a share would not be kept
        let options = OptionsBuilder::new().shards(1).estimated_items_capacity(ABOUT).weight_capacity(MOST).build();
        let options = options.expect("both capacities are given");
        Self(Cache::with_options(options, ByBytes, DefaultHashBuilder::default(), DefaultLifecycle::default()))
    }
}

impl Kept {
    /// What is kept under a key, or what `make` comes to, which is kept then.
    pub fn keep<T: Bytes + Clone + Send + Sync + 'static>(
        &self,
        kind: Kind,
        key: String,
        make: impl FnOnce() -> T,
    ) -> T {
        let key = (kind, key);
        if let Some(known) = self.0.get(&key).and_then(|e| e.value.downcast_ref::<T>().cloned()) {
            return known;
        }
        let made = make();
        let bytes = made.bytes() as u64;
        self.0.insert(key, Entry { value: Arc::new(made.clone()), bytes });
        made
    }
}

/// About how much memory something takes.
pub trait Bytes {
    fn bytes(&self) -> usize;
}

impl<T: Bytes> Bytes for Result<T, String> {
    fn bytes(&self) -> usize {
        match self {
            Ok(value) => value.bytes(),
            Err(why) => why.len(),
        }
    }
}

impl Bytes for Arc<Seat> {
    fn bytes(&self) -> usize {
        Seat::bytes(self)
    }
}

impl Bytes for Arc<BuiltMark> {
    fn bytes(&self) -> usize {
        BuiltMark::bytes(self)
    }
}

impl Bytes for Arc<Stock> {
    fn bytes(&self) -> usize {
        self.body.bytes()
    }
}

impl Bytes for Arc<Group> {
    fn bytes(&self) -> usize {
        Group::bytes(self)
    }
}

impl Bytes for Arc<Vec<Vec<Finding>>> {
    fn bytes(&self) -> usize {
        /// A letter's text and witness.
        const LETTER: usize = 160;
        self.iter().flatten().map(|f| size_of::<Finding>() + f.sentence.len() + f.letters.len() * LETTER).sum()
    }
}

impl Bytes for Arc<Vec<Line>> {
    fn bytes(&self) -> usize {
        self.iter().map(|l| size_of::<Line>() + size_of_val(&l.segments[..])).sum()
    }
}

impl Bytes for Arc<Region> {
    fn bytes(&self) -> usize {
        Region::bytes(self)
    }
}

impl Bytes for Option<Arc<MarkedSolid>> {
    fn bytes(&self) -> usize {
        self.as_ref().map_or(0, |solid| solid.bytes())
    }
}

impl Bytes for Arc<Steels> {
    fn bytes(&self) -> usize {
        Steels::bytes(self)
    }
}

impl Bytes for Arc<Vec<Verdict>> {
    fn bytes(&self) -> usize {
        size_of_val(&self[..])
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    impl Bytes for u64 {
        fn bytes(&self) -> usize {
            *self as usize
        }
    }

    #[test]
    fn what_is_kept_is_not_made_again_and_weighs_no_more_than_it_may() {
        let kept = Kept::default();
        let third = MOST / 3;
        assert_eq!(kept.keep(Kind::Seat, "a".into(), || third), third);
        assert_eq!(kept.keep(Kind::Seat, "a".into(), || -> u64 { unreachable!("it is kept") }), third);
        // another step's entry of the same key is another entry
        assert_eq!(kept.keep(Kind::Group, "a".into(), || 7_u64), 7);
        for key in 0..9 {
            kept.keep(Kind::Piece, key.to_string(), || third);
        }
        assert!(kept.0.weight() <= MOST, "{}", kept.0.weight());
        // what is too heavy by itself is made, and not kept
        let heavy = kept.keep(Kind::Seat, "heavy".into(), || 2 * MOST);
        assert_eq!(heavy, 2 * MOST);
        assert!(kept.0.weight() <= MOST);
    }
}
