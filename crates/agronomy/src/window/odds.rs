//! Odds: the share of years in which all rules held together, day by day.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{
    Resolved,
    scenario::{Scenarios, SiteRuns},
};
use crate::{
    chance::{Z90, wilson},
    weather::Basis,
};

/// Days on either side that a day's odds are averaged over: a week in all.
const SMOOTH: usize = 3;

/// Where the odds cross the level a person set.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Edge {
    /// The day.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// The odds there.
    pub odds: f64,
    /// Key of the rule that stands in the way beyond it.
    pub limited_by: Option<String>,
    /// The same in words.
    pub limited_by_name: Option<String>,
}

/// One rule of a window, by itself.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct RuleOdds {
    /// Its key.
    pub key: String,
    /// In words.
    pub name: String,
    /// Its numbers.
    pub measured: Vec<super::Measured>,
    /// Share of years in which it held, day by day.
    pub holds: Vec<f64>,
    /// Share of years in which it alone stood in the way, day by day.
    pub alone: Vec<f64>,
}

/// Odds by day.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Odds {
    /// The first day.
    #[schema(value_type = String, format = Date)]
    pub from: Date,
    /// Share of years, a week's mean around each day.
    pub odds: Vec<f64>,
    /// Lower end of the 90 % interval that so many years allow.
    pub low: Vec<f64>,
    /// Its upper end.
    pub high: Vec<f64>,
    /// Years counted.
    pub years: usize,
    /// Where they come from.
    pub basis: Basis,
    /// Years left out for days that do not tell.
    pub left_out: usize,
    /// The rules, in the order of the window.
    pub rules: Vec<RuleOdds>,
}

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
    pub fn new(all: &Scenarios, site: &SiteRuns, rules: &[Resolved]) -> Self {
        assert!(rules.len() <= 32 && site.0.len() == all.runs().len(), "rules and runs that belong together");
        let (runs, days) = (site.0.len(), all.days());
        let mut failed = vec![0_u32; runs * days];
        let mut failures = vec![0_u32; rules.len() * days];
        let mut holds = vec![false; days];
        for ((air, ground), failed) in all.runs().iter().zip(&site.0).zip(failed.chunks_mut(days.max(1))) {
            for (bit, rule) in rules.iter().enumerate() {
                rule.try_on(all, air, ground, &mut holds);
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

    /// Per rule and day: in how many runs it alone failed.
    fn alone(&self, rules: usize) -> Vec<u32> {
        let mut alone = vec![0; rules * self.days];
        for run in self.failed.chunks(self.days.max(1)) {
            for (day, failed) in run.iter().enumerate().filter(|(_, failed)| failed.is_power_of_two()) {
                alone[failed.trailing_zeros() as usize * self.days + day] += 1;
            }
        }
        alone
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

/// Counts as shares, each the mean of the days around it.
fn as_shares(counts: &[u32], runs: usize) -> Vec<f64> {
    let runs = f64::from(u32::try_from(runs.max(1)).unwrap_or(u32::MAX));
    (0..counts.len())
        .map(|day| {
            let around = &counts[day.saturating_sub(SMOOTH)..(day + SMOOTH + 1).min(counts.len())];
            // To a thousandth: more digits than any number of years has.
            let sum = f64::from(around.iter().sum::<u32>());
            (sum / around.len() as f64 / runs * 1_000.0).round() / 1_000.0
        })
        .collect()
}

/// The odds of a window at a site, with its rules one by one.
pub fn odds(all: &Scenarios, site: &SiteRuns, rules: &[Resolved]) -> (Odds, Tried) {
    let tried = Tried::new(all, site, rules);
    let runs = tried.runs;
    let shares = tried.shares();
    let worth = all.basis.worth(runs);
    let (low, high) = shares
        .iter()
        .map(|share| wilson(share * worth, worth, Z90))
        .map(|(low, high)| ((low * 1_000.0).round() / 1_000.0, (high * 1_000.0).round() / 1_000.0))
        .unzip();
    let alone = tried.alone(rules.len());
    let rules = rules
        .iter()
        .zip(tried.failures.chunks(tried.days.max(1)).zip(alone.chunks(tried.days.max(1))))
        .map(|(rule, (failures, alone))| {
            let held: Vec<u32> = failures.iter().map(|failures| runs as u32 - failures).collect();
            RuleOdds {
                key: rule.key.to_owned(),
                name: rule.name.clone(),
                measured: rule.measured.clone(),
                holds: as_shares(&held, runs),
                alone: as_shares(alone, runs),
            }
        })
        .collect();
    let odds = Odds {
        from: all.first(),
        odds: shares,
        low,
        high,
        years: runs,
        basis: all.basis,
        left_out: all.left_out,
        rules,
    };
    (odds, tried)
}

/// Opens, best and closes of a curve at a level, around a day.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
pub struct Edges {
    /// First day of the stretch that reaches the level.
    pub opens: Option<Edge>,
    /// Its best day; the best of all where none reaches the level.
    pub best: Option<Edge>,
    /// Last day of that stretch.
    pub closes: Option<Edge>,
}

impl Odds {
    /// The index of a date, when the curve reaches it.
    pub fn index(&self, on: Date) -> Option<usize> {
        let index = usize::try_from(crate::weather::days_between(self.from, on)).ok()?;
        (index < self.odds.len()).then_some(index)
    }

    /// Odds on a date.
    pub fn on(&self, on: Date) -> Option<f64> {
        Some(self.odds[self.index(on)?])
    }

    /// The rule that stands most in the way on a day: the one that alone spoils the most years; where
    /// none does so alone, the one that fails most often.
    pub fn limit(&self, day: usize) -> Option<&RuleOdds> {
        let most = |weight: fn(&RuleOdds, usize) -> f64| {
            self.rules
                .iter()
                .filter(|rule| weight(rule, day) > 1e-9)
                .max_by(|a, b| weight(a, day).total_cmp(&weight(b, day)))
        };
        most(|rule, day| rule.alone[day]).or_else(|| most(|rule, day| 1.0 - rule.holds[day]))
    }

    fn edge(&self, day: usize, beyond: Option<usize>) -> Edge {
        let limit = beyond.and_then(|beyond| self.limit(beyond));
        Edge {
            on: crate::weather::plus(self.from, day as i32),
            odds: self.odds[day],
            limited_by: limit.map(|rule| rule.key.clone()),
            limited_by_name: limit.map(|rule| rule.name.clone()),
        }
    }

    /// Opens, best and closes at a level, of the stretch nearest to a day, looking only at days within
    /// `from..to` (dates); where no day reaches the level, the best of all alone. The limit at an edge
    /// is what stands in the way a week beyond it.
    pub fn edges(&self, level: f64, from: Date, to: Date, near: Date) -> Edges {
        let clamp =
            |date: Date| crate::weather::days_between(self.from, date).clamp(0, self.odds.len() as i32) as usize;
        let (start, end, near) = (clamp(from), clamp(to), clamp(near));
        let likeliest =
            |days: std::ops::Range<usize>| days.max_by(|a, b| self.odds[*a].total_cmp(&self.odds[*b]).then(b.cmp(a)));
        let open = |day: &usize| self.odds[*day] >= level;
        let Some(inside) = (start..end).filter(open).min_by_key(|day| day.abs_diff(near)) else {
            let best = likeliest(start..end).filter(|best| self.odds[*best] > 0.0);
            return Edges { best: best.map(|best| self.edge(best, Some(best))), ..Edges::default() };
        };
        let opens = (start..=inside).rev().take_while(open).last().unwrap_or(inside);
        let closes = (inside..end).take_while(open).last().unwrap_or(inside);
        let best = likeliest(opens..closes + 1).unwrap_or(inside);
        let (week, last) = (7, self.odds.len() - 1);
        Edges {
            opens: Some(self.edge(opens, opens.checked_sub(week))),
            best: Some(self.edge(best, Some(best))),
            closes: Some(self.edge(closes, Some((closes + week).min(last)))),
        }
    }
}
