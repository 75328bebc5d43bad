//! What was harvested of a field, from its cuts and from the forage that was made of them.

use std::ops::Range;

use agronomy::units::{Area, Fraction, Measure};
use jiff::civil::Date;

use super::{Cut, Dated, ForageOf, Ground};

/// A harvest whose amount can be told.
pub type Harvested = Dated<Cut>;

/// Why a harvest's amount can't be told.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Untold {
    /// Neither the cut nor what was made of it was weighed.
    Unweighed,
    /// What was made of it has no moisture.
    NoMoisture,
    /// It came off several fields, and nobody said off how much ground.
    NoArea,
}

impl Ground {
    /// Harvests of a span of days, oldest first: each cut, by its own yield or by the forage made of it until the next cut;
    /// and forage made where no cut was recorded. Those whose amount can't be told come with the day and the reason.
    ///
    /// `area` is that of the field on a day: what was made is spread over all of it, however much of it was cut.
    pub fn harvests(&self, days: Range<Date>, area: impl Fn(Date) -> Area) -> (Vec<Harvested>, Vec<(Date, Untold)>) {
        let (mut told, mut untold) = (vec![], vec![]);
        for cut in self.cuts.iter().filter(|cut| days.contains(&cut.on)) {
            told.push(cut.clone());
        }
        // Each lot is of the last day of cutting up to its own.
        let mut cut_days: Vec<Date> =
            self.cuts.iter().map(|cut| cut.on).chain(self.unweighed.iter().copied()).collect();
        cut_days.sort_unstable();
        cut_days.dedup();
        let cut_of = |made: Date| cut_days.iter().rev().find(|cut| **cut <= made && near(**cut, made)).copied();
        let mut baled: Vec<Date> = vec![];
        for lot in &self.forage {
            let cut = cut_of(lot.on);
            let day = cut.unwrap_or(lot.on);
            if !days.contains(&day) {
                continue;
            }
            // What was weighed as a yield is not counted once more in bales.
            if cut.is_some_and(|day| self.cuts.iter().any(|cut| cut.on == day)) {
                continue;
            }
            baled.push(day);
            match self.harvest_of(&lot.what, area(day)) {
                Ok(what) => told.push(Dated { entry: lot.entry, on: day, what }),
                Err(why) => untold.push((day, why)),
            }
        }
        let bare = self.unweighed.iter().filter(|day| days.contains(day));
        untold.extend(bare.filter(|day| !baled.contains(day)).map(|day| (*day, Untold::Unweighed)));
        told.sort_by_key(|harvest| harvest.on);
        untold.sort_by_key(|(day, _)| *day);
        (told, untold)
    }

    fn harvest_of(&self, ForageOf { lot, made, fields }: &ForageOf, area: Area) -> Result<Cut, Untold> {
        let mass = made.total().ok_or(Untold::Unweighed)?;
        let reports = self.forage_analyses.iter().filter(|(of, _)| of.is_some() && of == lot);
        let report = reports.map(|(_, report)| &report.what).next_back();
        let tested = report.and_then(|report| report.dry_matter).map(|dry| Fraction::from_base(1.0 - dry.base()));
        // The day it was made counts: what was tested months later has dried.
        let moisture = made.moisture.or(tested).ok_or(Untold::NoMoisture)?;
        let ground = match (fields.len(), lot) {
            // The share of a field that was split keeps the ground of a pile off several.
            (0 | 1, None) => made.area.unwrap_or(area),
            (0 | 1, Some(_)) => area,
            _ => made.area.ok_or(Untold::NoArea)?,
        };
        let analysis = report.map(|report| report.nutrients()).unwrap_or_default();
        Ok(Cut {
            crop: made.crop.clone(),
            harvested: mass / ground,
            moisture: Some(moisture),
            after_frost: false,
            analysis,
        })
    }
}

/// Forage is made within weeks of its cut: biomass lies longest.
fn near(cut: Date, made: Date) -> bool {
    (made - cut).get_days() <= 60
}
