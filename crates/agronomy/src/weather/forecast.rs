//! A forecast of many members.

use jiff::civil::Date;

use super::{Day, days_between};

/// A forecast: members of daily weather from one day on.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Forecast {
    /// The first day forecast.
    pub from: Option<Date>,
    /// Members, each day by day.
    pub members: Vec<Vec<Day>>,
}

impl Forecast {
    /// What a member tells of a day; members are counted round.
    pub fn of(&self, member: usize, date: Date) -> Option<Day> {
        let from = self.from?;
        let index = usize::try_from(days_between(from, date)).ok()?;
        self.members.get(member % self.members.len().max(1))?.get(index).copied().filter(|day| day.tells())
    }
}
