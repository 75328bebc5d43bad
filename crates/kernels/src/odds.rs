//! A window tried on every day of every run: in how many of them all its rules held together.

use crate::{
    rule::Test,
    years::{Scenarios, SiteRuns},
};

/// Days on either side that a day's odds are averaged over: a week in all.
const SMOOTH: usize = 3;

/// What came of trying a window on every day of every run.
#[derive(Debug, Clone)]
pub struct Tried {
    /// Per run and day, a bit for each rule that failed.
    failed: Vec<u32>,
    /// Per rule and day, the runs in which it failed.
    failures: Vec<u32>,
    runs: usize,
    days: usize,
}

impl Tried {
    /// Try rules on a site's runs.
    ///
    /// # Panics
    /// With more than 32 rules, or runs of another set of scenarios.
    pub fn new(all: &Scenarios, site: &SiteRuns, rules: &[Test]) -> Self {
        assert!(rules.len() <= 32 && site.runs().len() == all.runs().len(), "rules and runs that belong together");
        let (runs, days) = (site.runs().len(), all.days());
        let mut failed = vec![0_u32; runs * days];
        let mut failures = vec![0_u32; rules.len() * days];
        let mut holds = vec![false; days];
        for (run, failed) in failed.chunks_mut(days.max(1)).enumerate() {
            for (bit, rule) in rules.iter().enumerate() {
                rule.try_on(all, site, run, &mut holds);
                let failures = &mut failures[bit * days..][..days];
                for ((failed, failures), holds) in failed.iter_mut().zip(failures).zip(&holds) {
                    let fails = u32::from(!holds);
                    *failed |= fails << bit;
                    *failures += fails;
                }
            }
        }
        Self { failed, failures, runs, days }
    }

    /// In how many runs all rules held, on each day.
    fn all_held(&self) -> Vec<u32> {
        let mut counts = vec![0; self.days];
        for run in self.failed.chunks(self.days.max(1)) {
            for (count, failed) in counts.iter_mut().zip(run) {
                *count += u32::from(*failed == 0);
            }
        }
        counts
    }

    /// Share of years in which a rule held, by its place, day by day and smoothed over a week.
    pub fn held(&self, rule: usize) -> Vec<f64> {
        let failures = &self.failures[rule * self.days..][..self.days];
        let held: Vec<u32> = failures.iter().map(|failures| self.runs as u32 - failures).collect();
        as_shares(&held, self.runs)
    }

    /// Share of years in which each of so many rules alone stood in the way, likewise.
    pub fn alone(&self, rules: usize) -> Vec<Vec<f64>> {
        let mut alone = vec![vec![0; self.days]; rules];
        for run in self.failed.chunks(self.days.max(1)) {
            for (day, failed) in run.iter().enumerate().filter(|(_, failed)| failed.is_power_of_two()) {
                alone[failed.trailing_zeros() as usize][day] += 1;
            }
        }
        alone.iter().map(|counts| as_shares(counts, self.runs)).collect()
    }

    /// Whether the run of a number worked on a day.
    pub fn worked(&self, run: usize, day: usize) -> bool {
        self.failed[run * self.days + day] == 0
    }

    /// Years in which all rules held on a day, unsmoothed.
    pub fn hits(&self, day: usize) -> usize {
        (0..self.runs).filter(|run| self.worked(*run, day)).count()
    }

    /// Years counted.
    pub fn runs(&self) -> usize {
        self.runs
    }

    /// Share of years, smoothed over a week: only this, for many fields at once.
    pub fn shares(&self) -> Vec<f64> {
        as_shares(&self.all_held(), self.runs)
    }
}

/// Counts as shares, each the mean of the days around it, to a thousandth: more digits than any number of years has.
fn as_shares(counts: &[u32], runs: usize) -> Vec<f64> {
    let runs = u32::try_from(runs.max(1)).unwrap_or(u32::MAX);
    let last = counts.len();
    // The days around one, kept as a sum that moves on with it.
    let mut sum: u32 = counts[..SMOOTH.min(last)].iter().sum();
    (0..last)
        .map(|day| {
            sum += counts.get(day + SMOOTH).copied().unwrap_or(0);
            sum -= day.checked_sub(SMOOTH + 1).map_or(0, |gone| counts[gone]);
            let around = (day + SMOOTH + 1).min(last) - day.saturating_sub(SMOOTH);
            let of = around as u32 * runs;
            f64::from((2_000 * sum + of) / (2 * of)) / 1_000.0
        })
        .collect()
}
