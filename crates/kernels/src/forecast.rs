//! A forecast of many members.

use jiff::civil::Date;

use crate::day::{Day, days_between};

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
        self.on(member, days_between(self.from?, date))
    }

    /// The same of a day so many after the first one forecast; none before it.
    pub fn on(&self, member: usize, ahead: i32) -> Option<Day> {
        let index = usize::try_from(ahead).ok()?;
        self.members.get(member % self.members.len().max(1))?.get(index).copied().filter(|day| day.tells())
    }
}
