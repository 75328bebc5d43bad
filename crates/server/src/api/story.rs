//! A field with its ground and its current stand: what many an answer starts from.

use agronomy::units::{Length, Unit};
use jiff::civil::Date;
use ledger::{
    entry::{self, Entry},
    field::{self, Field},
    stand,
};
use planner::{
    Choices, StepKind,
    ground::{Asked, Ground},
};
use uuid::Uuid;

use crate::{app::State, problem::Problem, sign_in::Member};

/// A field as it stands today.
pub struct Story {
    /// The field.
    pub field: Field,
    /// Entries of its ground.
    pub entries: Vec<Entry>,
    /// What they come to.
    pub ground: Ground,
    /// The current stand's choices, and the day it was sown, when it was.
    pub current: Option<(Choices, Option<Date>)>,
}

/// What a stand's choices are asked against: a field, its ground, and the day.
pub fn asked<'a>(choices: &'a Choices, field: &Field, ground: &'a Ground, today: Date) -> Asked<'a> {
    Asked { choices, ground, area: field.sown_area(), setback: Length::new(field.setback_m, Unit::M), today }
}

impl Story {
    /// Of a member's field.
    ///
    /// # Errors
    /// [`Problem::NotFound`] when it is not theirs.
    pub async fn of(state: &State, member: &Member, field: Uuid) -> Result<Self, Problem> {
        let mut connection = state.pool.get().await?;
        let field = field::one(&mut connection, &member.membership, field).await?;
        let entries = entry::of_ground(&mut connection, &member.membership, Some(field.id)).await?;
        let stands = stand::all(&mut connection, &member.membership).await?;
        let of_stands = entry::of_stands(&mut connection, &member.membership).await?;
        let current = stands
            .iter()
            .filter(|stand| stand.field_id == field.id)
            .filter_map(|stand| {
                let own: Vec<_> = of_stands.iter().filter(|entry| entry.stand == Some(stand.id)).cloned().collect();
                let inked = entry::facts(&own).inked;
                let sown = inked.iter().filter(|step| step.kind == StepKind::Sow).map(|step| step.on).min();
                Some((entry::choices(&own).cloned()?, sown))
            })
            .max_by_key(|(choices, _)| choices.sow_on);
        Ok(Self { ground: entry::ground(&entries, field.id), field, entries, current })
    }

    /// The current stand asked about, when there is one.
    pub fn asked(&self, today: Date) -> Option<Asked<'_>> {
        let (choices, _) = self.current.as_ref()?;
        Some(asked(choices, &self.field, &self.ground, today))
    }
}
