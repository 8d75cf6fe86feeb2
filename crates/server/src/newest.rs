//! The newest few of what was worked out or read.

use std::sync::{Mutex, MutexGuard, PoisonError};

/// The newest few entries.
pub struct Newest<K, V> {
    most: usize,
    entries: Vec<(K, V)>,
}

impl<K: PartialEq, V: Clone> Newest<K, V> {
    pub fn new(most: usize) -> Self {
        Self { most, entries: Vec::new() }
    }

    pub fn get(&mut self, key: &K) -> Option<V> {
        let at = self.entries.iter().position(|(k, _)| k == key)?;
        let entry = self.entries.remove(at);
        let value = entry.1.clone();
        self.entries.push(entry);
        Some(value)
    }

    pub fn put(&mut self, key: K, value: V) {
        self.entries.retain(|(k, _)| *k != key);
        self.entries.push((key, value));
        if self.entries.len() > self.most {
            self.entries.remove(0);
        }
    }
}

pub fn hold<T>(mutex: &Mutex<T>) -> MutexGuard<'_, T> {
    // entries are whole or absent
    mutex.lock().unwrap_or_else(PoisonError::into_inner)
}
