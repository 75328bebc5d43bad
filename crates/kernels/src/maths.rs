//! Functions by their names in formulas, so that a formula reads as it is written.

macro_rules! named {
    ($($name:ident)+) => {$(
        #[inline(always)]
        /// As the name says, of a number.
        pub fn $name(x: f64) -> f64 {
            x.$name()
        }
    )+};
}
named! { sin cos tan acos sqrt exp ln }

/// Between minus one and one: what an arc cosine takes.
#[inline(always)]
pub fn bounded(x: f64) -> f64 {
    x.clamp(-1.0, 1.0)
}

/// The larger of two.
#[inline(always)]
pub fn larger(a: f64, b: f64) -> f64 {
    a.max(b)
}

/// The smaller of two.
#[inline(always)]
pub fn smaller(a: f64, b: f64) -> f64 {
    a.min(b)
}

/// Sort numbers, the least first. By a comparison of our own: of `f64::total_cmp` an unoptimised copy from a crate
/// below would be taken.
pub fn sort(numbers: &mut [f64]) {
    numbers.sort_unstable_by(|a, b| a.total_cmp(b));
}
