//! Things at hand that were used lately, within a bound on what they weigh together.
//!
//! What is kept is never the only truth: it can be made again, so that what was used longest ago goes first, one by
//! one, and never all at once. The newest stays, whatever it weighs: who has just made it is about to use it.

use std::hash::Hash;

use lru::LruCache;

/// A store of what was used lately.
pub struct Lately<K: Hash + Eq, V> {
    kept: LruCache<K, V>,
    most: usize,
    weigh: fn(&V) -> usize,
}

impl<K: Hash + Eq, V> Lately<K, V> {
    /// An empty one, of what together weighs so much at most. What is kept may grow: it is weighed again whenever
    /// something is put by.
    pub fn new(most: usize, weigh: fn(&V) -> usize) -> Self {
        Self { kept: LruCache::unbounded(), most, weigh }
    }

    /// An empty one of so many things.
    pub fn of_so_many(most: usize) -> Self {
        Self::new(most, |_| 1)
    }

    /// What stands under a key, from now on the last that was used.
    pub fn get(&mut self, key: &K) -> Option<&mut V> {
        self.kept.get_mut(key)
    }

    /// The same, made where nothing stands.
    pub fn get_or(&mut self, key: K, make: impl FnOnce() -> V) -> &mut V {
        self.within_bounds();
        self.kept.get_or_insert_mut(key, make)
    }

    /// Put something by; what was used longest ago goes until all is within bounds.
    pub fn put(&mut self, key: K, value: V) {
        self.kept.put(key, value);
        self.within_bounds();
    }

    /// Let go what was used longest ago until all that is left is within bounds.
    pub fn within_bounds(&mut self) {
        let mut held = self.weight();
        while held > self.most && self.kept.len() > 1 {
            held -= self.kept.pop_lru().map_or(0, |(_, gone)| (self.weigh)(&gone));
        }
    }

    /// What all of it weighs.
    pub fn weight(&self) -> usize {
        self.kept.iter().map(|(_, value)| (self.weigh)(value)).sum()
    }

    /// How many there are.
    pub fn len(&self) -> usize {
        self.kept.len()
    }

    /// Whether there are none.
    pub fn is_empty(&self) -> bool {
        self.kept.is_empty()
    }

    /// All of them, those used last first.
    pub fn iter(&self) -> impl Iterator<Item = (&K, &V)> {
        self.kept.iter()
    }
}
