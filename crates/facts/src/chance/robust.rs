//! What is out of line among a few values, by median and median deviation: a mean and its deviation are drawn
//! along by the very value that should be found, and can't flag any of ten or fewer beyond three deviations.
//!
//! Iglewicz & Hoaglin 1993, *How to Detect and Handle Outliers*, ASQC: modified z = 0.6745 (x − median) ÷ MAD,
//! suspect beyond 3.5.

/// Makes a median deviation the standard deviation of a normal spread.
const NORMAL: f64 = 1.4826;
/// Beyond this many deviations a value is suspect.
const SUSPECT: f64 = 3.5;
/// Rows that are as good as alike must not be told apart by a hair: the deviation is this share of the median at the
/// least (assumed).
const LEAST_DEVIATION: f64 = 0.03;
/// And a value within this share of the median is not out of line, however alike the others are (assumed).
const NEAR: f64 = 0.10;
/// With fewer, nothing can be said to be out of line: they are only compared.
const FEWEST: usize = 4;

/// The middle value; the mean of the two middle ones of an even number. None of nothing.
pub fn median(values: &[f64]) -> Option<f64> {
    let mut sorted = values.to_vec();
    sorted.sort_by(f64::total_cmp);
    let at = sorted.len() / 2;
    match sorted.len() {
        0 => None,
        odd if odd % 2 == 1 => Some(sorted[at]),
        _ => Some((sorted[at - 1] + sorted[at]) / 2.0),
    }
}

/// Values against their median.
///
/// ```
/// use facts::chance::Robust;
/// let rows = [20.0, 21.0, 19.0, 20.0, 22.0, 20.0, 19.0, 0.0];
/// let robust = Robust::of(&rows).unwrap();
/// assert_eq!((robust.median, robust.deviation), (20.0, 1.0));
/// assert!((robust.z(0.0) + 13.49).abs() < 0.01);
/// assert!(robust.out_of_line(0.0) && !robust.out_of_line(22.0));
/// ```
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Robust {
    /// How many.
    pub n: usize,
    /// The middle one.
    pub median: f64,
    /// Median of the distances from it.
    pub deviation: f64,
}

impl Robust {
    /// Of some values; none of nothing.
    pub fn of(values: &[f64]) -> Option<Self> {
        let middle = median(values)?;
        let distances: Vec<f64> = values.iter().map(|value| (value - middle).abs()).collect();
        Some(Self { n: values.len(), median: middle, deviation: median(&distances)? })
    }

    /// Deviations that a value lies from the median; zero where the median is.
    pub fn z(&self, value: f64) -> f64 {
        if self.median == 0.0 {
            return 0.0;
        }
        (value - self.median) / (NORMAL * self.deviation).max(LEAST_DEVIATION * self.median)
    }

    /// Whether a value is out of line with the others. Of fewer than four none is.
    pub fn out_of_line(&self, value: f64) -> bool {
        self.n >= FEWEST
            && self.median > 0.0
            && self.z(value).abs() > SUSPECT
            && (value / self.median - 1.0).abs() > NEAR
    }
}
