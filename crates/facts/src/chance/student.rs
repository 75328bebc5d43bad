//! Means of a few places (Student 1908, *The probable error of a mean*, Biometrika 6:1–25).

use statrs::distribution::{ContinuousCDF, StudentsT};

/// Mean, and how far values stray from it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Spread {
    /// How many.
    pub n: usize,
    /// Their mean.
    pub mean: f64,
    /// Standard deviation, by n − 1; zero for a single one.
    pub deviation: f64,
}

/// Mean and standard deviation; none of nothing.
pub fn spread(values: &[f64]) -> Option<Spread> {
    let n = values.len();
    let mean = (n > 0).then(|| values.iter().sum::<f64>() / n as f64)?;
    let squares: f64 = values.iter().map(|value| (value - mean).powi(2)).sum();
    let deviation = if n > 1 { (squares / (n - 1) as f64).sqrt() } else { 0.0 };
    Some(Spread { n, mean, deviation })
}

/// Student's t that is not passed with probability `below`, at so many degrees of freedom.
///
/// ```
/// use facts::chance::student_quantile;
/// // Student's table, 9 degrees of freedom: 1.833 one-sided at 95 %, 2.262 at 97.5 %.
/// assert!((student_quantile(0.95, 9).unwrap() - 1.8331).abs() < 1e-4);
/// assert!((student_quantile(0.975, 9).unwrap() - 2.2622).abs() < 1e-4);
/// // One place tells nothing of how places differ.
/// assert_eq!(student_quantile(0.95, 0), None);
/// ```
pub fn student_quantile(below: f64, freedom: usize) -> Option<f64> {
    Some(student(freedom)?.inverse_cdf(below))
}

/// Probability that Student's t lies below `t`, at so many degrees of freedom.
pub fn student_below(t: f64, freedom: usize) -> Option<f64> {
    Some(student(freedom)?.cdf(t))
}

fn student(freedom: usize) -> Option<StudentsT> {
    StudentsT::new(0.0, 1.0, freedom as f64).ok()
}
