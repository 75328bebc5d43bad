//! How sure a share is that was counted in so many years.

/// Standard normal deviate of a two-sided 90 % interval.
pub const Z90: f64 = 1.644_853_626_951_472_7;

/// Wilson's score interval of `hits` of `tries` (Wilson 1927, Journal of the American Statistical
/// Association 22:209–212; recommended for few tries by Brown, Cai & DasGupta 2001, Statistical
/// Science 16:101–133). Nothing tried tells nothing: 0 to 1.
///
/// ```
/// use facts::chance::wilson;
/// // Newcombe 1998, Statistics in Medicine 17:857-872, table I: 81 of 263 at 95 %
/// let (low, high) = wilson(81.0, 263.0, 1.959964);
/// assert!((low - 0.2553).abs() < 1e-4 && (high - 0.3662).abs() < 1e-4);
/// ```
pub fn wilson(hits: f64, tries: f64, z: f64) -> (f64, f64) {
    if tries <= 0.0 {
        return (0.0, 1.0);
    }
    let share = hits / tries;
    let middle = (share + z * z / (2.0 * tries)) / (1.0 + z * z / tries);
    let reach = z * (share * (1.0 - share) / tries + z * z / (4.0 * tries * tries)).sqrt() / (1.0 + z * z / tries);
    ((middle - reach).max(0.0), (middle + reach).min(1.0))
}
