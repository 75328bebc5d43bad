//! Seeds and draws of what is made up: the same for the same thing on every machine and with every compiler.

use std::hash::{Hash, Hasher};

use rand::SeedableRng;
use rand_chacha::ChaCha8Rng;
use rand_distr::{Distribution, Normal};
use siphasher::sip::SipHasher13;

/// The seed of a thing. The standard library's own hasher may change with its releases; this one is
/// defined for good.
pub fn seed(parts: impl Hash) -> u64 {
    let mut hasher = SipHasher13::new();
    parts.hash(&mut hasher);
    hasher.finish()
}

/// Draws of a thing.
pub fn seeded(parts: impl Hash) -> ChaCha8Rng {
    ChaCha8Rng::seed_from_u64(seed(parts))
}

/// A normal draw; the mean itself where there is no such spread.
pub fn normal(rng: &mut ChaCha8Rng, mean: f64, spread: f64) -> f64 {
    Normal::new(mean, spread).map_or(mean, |normal| normal.sample(rng))
}

#[cfg(test)]
mod tests {
    use super::*;

    /// SipHash-1-3 with a key of zeros, as the `siphasher` crate 1.0 gave it when the demo farms were
    /// made: another number would give them other weather.
    #[test]
    fn a_seed_is_for_good() {
        assert_eq!(seed("northern-hills"), 14_274_588_712_832_358_313);
        assert_ne!(seed("northern-hills"), seed("southern-plains"));
    }
}
