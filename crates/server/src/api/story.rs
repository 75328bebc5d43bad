//! What a farm's answers start from: its fields, stands and books, loaded with one connection, and a
//! stand assessed against them.

use std::sync::Arc;

use agronomy::{
    units::{Length, Unit},
    weather::{days_between, year_start},
};
use jiff::civil::Date;
use ledger::{
    Connection, entry,
    field::{self, Field},
    stand::{self, Stand},
};
use planner::{
    Assessment, Sky, Succession, Tenure, Young, assess,
    ground::Asked,
    usual,
    weather::seedbed,
    young::{COMES_UP, young},
};
use records::{
    Choices, Entry, Subject,
    book::{Books, Decided, Ground, StandBook},
};
use uuid::Uuid;

use crate::{
    climate::Outlook,
    problem::Problem,
    shelf::{Shelf, Shelved},
    sign_in::Member,
};

/// A farm's fields and stands with their books, or those of one field.
pub struct Story {
    /// The day at the farm.
    pub today: Date,
    /// Degrees north.
    pub latitude: f64,
    /// Fields, by name.
    pub fields: Vec<Field>,
    /// Stands, oldest first.
    pub stands: Vec<Stand>,
    /// Entries of a field's story, oldest first; a farm's holds none, its books are at hand.
    pub entries: Vec<Entry>,
    /// What all entries come to.
    pub books: Books,
}

impl Story {
    /// Of a member's farm, from the books at hand.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn of_farm(
        connection: &mut Connection,
        member: &Member,
        shelf: &Shelf,
    ) -> Result<(Self, Arc<Shelved>), Problem> {
        let mut fields = field::all(connection, &member.membership).await?;
        fields.retain(|field| !field.retired);
        let stands = stand::all(connection, &member.membership).await?;
        let shelved = shelf.books(connection, &member.membership).await?;
        Ok((Self::with(member, fields, stands, vec![], shelved.books.clone()), shelved))
    }

    /// Of one field of it.
    ///
    /// # Errors
    /// [`Problem::NotFound`] when it is not theirs.
    pub async fn of_field(connection: &mut Connection, member: &Member, id: Uuid) -> Result<Self, Problem> {
        let field = field::one(connection, &member.membership, id).await?;
        let stands = stand::of_field(connection, &member.membership, id).await?;
        let entries = entry::all(connection, &member.membership, Some(Subject::field(id))).await?;
        let books = Books::of(&entries);
        Ok(Self::with(member, vec![field], stands, entries, books))
    }

    fn with(member: &Member, fields: Vec<Field>, stands: Vec<Stand>, entries: Vec<Entry>, books: Books) -> Self {
        Self { today: member.today(), latitude: member.membership.farm.latitude, fields, stands, entries, books }
    }

    /// The only field of a field's story.
    ///
    /// # Errors
    /// [`Problem::NotFound`] when there is none.
    pub fn field(&self) -> Result<&Field, Problem> {
        self.fields.first().ok_or(Problem::NotFound)
    }

    /// The stand that a field is looked at for: the one to be sown last.
    pub fn current(&self) -> Option<(&Stand, &StandBook, &Decided)> {
        let told = self.stands.iter().filter_map(|stand| {
            let book = self.books.stand(stand.id)?;
            Some((stand, book, book.decided()?))
        });
        told.max_by_key(|(_, _, decided)| decided.choices.sow_on)
    }

    /// The stands of a field, one after another.
    pub fn succession(&self, field: Uuid) -> Succession {
        let stands = self.stands.iter().filter(|stand| stand.field_id == field);
        stands.filter_map(|stand| self.books.stand(stand.id)).map(Tenure::of).collect()
    }

    /// What choices are asked against: a field, its ground, and the day.
    pub fn asked<'a>(
        &self,
        choices: &'a Choices,
        field: &Field,
        ground: &'a Ground,
        sown_on: Option<Date>,
    ) -> Asked<'a> {
        Asked {
            choices,
            ground,
            // What was sown keeps the area it was sown on, however the field is drawn since.
            area: sown_on.map_or_else(|| field.sown_area(), |day| field.sown_area_on(day, ground)),
            setback: Length::new(field.setback_m, Unit::M),
            today: self.today,
            sown_on,
            year_start: year_start(self.latitude, self.today),
            usual: None,
        }
    }
}

/// Assess what is asked, with the weather years where there are any.
pub fn assessed(asked: Asked<'_>, stand: Option<&StandBook>, succession: &Succession, outlook: &Outlook) -> Assessment {
    let weather = outlook.weather.as_deref();
    let usual = weather.and_then(|weather| usual(asked.choices, |base, killing| weather.usual(base, killing)));
    let asked = Asked { usual, ..asked };
    // A sown stand asks no sowing window, but it may have steps that wait for weather.
    let wants = asked.sown_on.is_none() || waits_for_weather(asked.choices);
    if !wants {
        return assess(asked, stand, succession, None);
    }
    under_sky(asked, outlook, |sky| assess(asked, stand, succession, sky))
}

/// With the weather years over a stand's seedbed: around the day of its sowing, or today once it is sown. Without a
/// record there is no sky.
pub fn under_sky<T>(asked: Asked<'_>, outlook: &Outlook, work: impl FnOnce(Option<Sky<'_>>) -> T) -> T {
    let Some(weather) = outlook.weather.as_deref() else { return work(None) };
    let years = weather.scenarios(if asked.sown_on.is_some() { asked.today } else { asked.choices.sow_on });
    let bed = seedbed(asked.choices, asked.ground, weather);
    let runs = weather.runs(&years, &bed);
    let ahead = |day: Date| {
        let years = weather.scenarios(day);
        let runs = weather.runs(&years, &bed);
        (years, runs)
    };
    work(Some(Sky { years: &years, runs: &runs, level: outlook.level, ahead: &ahead }))
}

/// The first years of a stand, with the weather years where it may come up or be sown again: asked on its own page alone.
pub fn first_years(asked: Asked<'_>, book: &StandBook, outlook: &Outlook) -> Option<Young> {
    let comes_up = asked.sown_on.is_some_and(|sown| days_between(sown, asked.today) <= COMES_UP);
    match comes_up || !book.counts.is_empty() {
        true => under_sky(asked, outlook, |sky| young(asked, book, sky)),
        false => young(asked, book, None),
    }
}

fn waits_for_weather(choices: &Choices) -> bool {
    use agronomy::practice::{Condition, practice};
    practice(&choices.practice).is_some_and(|school| {
        let mut conditions = school.steps.iter().flat_map(|step| &step.conditions);
        conditions.any(|condition| matches!(condition, Condition::Weather(_)))
    })
}
