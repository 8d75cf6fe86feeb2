//! The newest few of what was worked out or read.

use std::sync::{Mutex, MutexGuard, PoisonError};

/// The newest few entries: no more than so many, and of those that are weighed no more than so many bytes. The newest one
/// stays, however large it is.
pub struct Newest<K, V> {
    most: usize,
    most_bytes: usize,
    entries: Vec<Entry<K, V>>,
}

struct Entry<K, V> {
    key: K,
    value: V,
    bytes: usize,
}

impl<K: PartialEq, V: Clone> Newest<K, V> {
    pub fn new(most: usize) -> Self {
        Self::weighed(most, usize::MAX)
    }

    pub fn weighed(most: usize, most_bytes: usize) -> Self {
        Self { most, most_bytes, entries: Vec::new() }
    }

    pub fn get(&mut self, key: &K) -> Option<V> {
        let at = self.entries.iter().position(|entry| entry.key == *key)?;
        let entry = self.entries.remove(at);
        let value = entry.value.clone();
        self.entries.push(entry);
        Some(value)
    }

    pub fn put(&mut self, key: K, value: V) {
        self.put_weighed(key, value, 0);
    }

    pub fn put_weighed(&mut self, key: K, value: V, bytes: usize) {
        self.entries.retain(|entry| entry.key != key);
        self.entries.push(Entry { key, value, bytes });
        let mut all: usize = self.entries.iter().map(|entry| entry.bytes).sum();
        while self.entries.len() > self.most.max(1) || (all > self.most_bytes && self.entries.len() > 1) {
            all -= self.entries.remove(0).bytes;
        }
    }
}

pub fn hold<T>(mutex: &Mutex<T>) -> MutexGuard<'_, T> {
    // entries are whole or absent
    mutex.lock().unwrap_or_else(PoisonError::into_inner)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_oldest_leave_by_count_and_by_weight_and_the_newest_stays() {
        let mut newest = Newest::weighed(3, 100);
        let there = |newest: &mut Newest<u8, ()>| (0..9).filter(|k| newest.get(k).is_some()).collect::<Vec<u8>>();
        for key in 0..4 {
            newest.put_weighed(key, (), 10);
        }
        assert_eq!(there(&mut newest), [1, 2, 3]);
        newest.put_weighed(4, (), 85);
        assert_eq!(there(&mut newest), [3, 4]);
        newest.put_weighed(5, (), 1000);
        assert_eq!(there(&mut newest), [5]);
        // weighed anew under the same key
        newest.put_weighed(5, (), 10);
        newest.put_weighed(6, (), 90);
        assert_eq!(there(&mut newest), [5, 6]);
    }
}
