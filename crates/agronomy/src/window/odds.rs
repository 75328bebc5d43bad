//! Odds: the share of years in which all rules held together, day by day.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use kernels::{odds::Tried, rule::Test};

use super::Resolved;
use crate::{
    chance::{Z90, wilson},
    weather::Basis,
    years::{Scenarios, SiteRuns},
};

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

/// Try rules on a site's runs.
///
/// # Panics
/// As [`Tried::new`].
pub fn try_rules(all: &Scenarios, site: &SiteRuns, rules: &[Resolved]) -> Tried {
    let tests: Vec<Test> = rules.iter().map(Resolved::test).collect();
    Tried::new(all, site, &tests)
}

/// The odds of a window at a site, with its rules one by one.
pub fn odds(all: &Scenarios, site: &SiteRuns, rules: &[Resolved]) -> (Odds, Tried) {
    let tried = try_rules(all, site, rules);
    let runs = tried.runs();
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
        .zip(alone)
        .enumerate()
        .map(|(place, (rule, alone))| RuleOdds {
            key: rule.key.to_owned(),
            name: rule.name.clone(),
            measured: rule.measured.clone(),
            holds: tried.held(place),
            alone,
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
