//! A step of the plan.

use agronomy::{
    caution::Caution,
    crop::Crop,
    nutrients::Amounts,
    practice::{Ask, Operation, Role},
    said::Said,
    source::Source,
    units::MassPerArea,
    weather::Basis,
    window::Edges,
};
use jiff::civil::Date;
use records::Choices;
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{PartDone, words};

/// Something that a step waits for.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct WaitsFor {
    /// Key of the step, where it is one.
    pub step: Option<String>,
    /// In a word or two.
    #[schema(value_type = String)]
    pub words: Said,
}

/// How a step stands today.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
#[serde(tag = "is", rename_all = "kebab-case")]
pub enum State {
    /// Inked.
    Done {
        /// The entry.
        entry: Uuid,
        /// The day it happened.
        #[schema(value_type = String, format = Date)]
        on: Date,
    },
    /// Left out: what leaves it behind was inked without it.
    Passed,
    /// Its time has come and nothing stands before it.
    Ready,
    /// Its time has passed.
    Overdue,
    /// Its time has come, but something must be so first.
    Blocked {
        /// What.
        by: Vec<WaitsFor>,
    },
    /// Not yet.
    Waiting,
}

/// Why a step is where it is.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Reason {
    /// A sentence.
    #[schema(value_type = String)]
    pub text: Said,
    /// Where the rule comes from.
    pub source: Source,
}

/// So much of something.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct StepAmount {
    /// How much on an area.
    pub amount: MassPerArea,
    /// Of what.
    pub of: String,
}

impl StepAmount {
    /// Of each nutrient of a dressing.
    pub(crate) fn all(dressing: &Amounts) -> Vec<Self> {
        dressing.iter().map(|(nutrient, amount)| Self { amount: *amount, of: nutrient.words().to_owned() }).collect()
    }
}

/// How likely it is that a step works on the day it is planned for.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct StepOdds {
    /// Key of the way of timing.
    pub window: String,
    /// The same in words.
    pub name: String,
    /// Odds on the day.
    pub odds: f64,
    /// Lower end of the interval that so many years allow.
    pub low: f64,
    /// Upper end.
    pub high: f64,
    /// Years counted.
    pub years: usize,
    /// Where they come from.
    pub basis: Basis,
    /// A week later.
    pub in_a_week: Option<f64>,
    /// What stands most in the way on the day.
    pub limited_by: Option<String>,
    /// Opens, best and closes.
    pub edges: Edges,
}

/// How a step came into the plan.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum From {
    /// The practice says so.
    Practice,
    /// The person added it.
    Person,
    /// It was done beyond what was planned.
    Record,
    /// What was found on the ground asks for it.
    Finding,
    /// The use of the stand says so.
    Regime,
}

/// What a step is drawn and inked by: that of its operation, in the setting of the stand.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Look {
    /// Key of the operation.
    pub operation: String,
    /// Label in pencil.
    pub planned: String,
    /// Label in ink.
    pub done: String,
    /// The outline it is drawn by.
    pub mark: String,
    /// How much it matters when there is not room for all.
    pub weight: u32,
    /// Its outline is enough on a strip.
    pub quiet: bool,
    /// What it is to the stand as a whole.
    pub role: Option<Role>,
}

/// A step: what, when, why, after what, and how it stands. It is told from all others by its stand, its
/// key and which time of it this is.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Step {
    /// Its key in the practice; the operation's own for what was done beyond it.
    pub step: String,
    /// The season in which it comes, by the calendar year in which that begins; none of what comes once in the life of a
    /// stand.
    pub season: Option<i16>,
    /// Which time of it, from 1; of what comes again, in its season.
    pub occurrence: u32,
    /// Times in all; of what comes again, in its season.
    pub times: u32,
    /// How it came into the plan.
    pub from_where: From,
    /// What to do, in a few words.
    pub title: String,
    /// What it is drawn and inked by.
    pub look: Look,
    /// The kind of record that inks it.
    pub record: String,
    /// It is work on the ground, whatever stands there: its record is about the field alone.
    pub on_ground: bool,
    /// What is asked when it is inked as a step.
    pub asks: Vec<Ask>,
    /// How much of what, where that was worked out.
    pub amounts: Vec<StepAmount>,
    /// First sensible day.
    #[schema(value_type = String, format = Date)]
    pub from: Date,
    /// Last sensible day.
    #[schema(value_type = String, format = Date)]
    pub to: Date,
    /// How it stands.
    pub state: State,
    /// How much of it is done, where a part is.
    pub part: Option<PartDone>,
    /// Keys of the steps that must be done before it.
    pub after: Vec<String>,
    /// How likely it is to work on its day, where weather years tell.
    pub odds: Option<StepOdds>,
    /// Why then.
    pub reasons: Vec<Reason>,
    /// What to mind.
    pub cautions: Vec<Caution>,
}

impl Step {
    /// Of an operation, as it comes once and with nothing more to say of it.
    pub(crate) fn of(
        operation: &Operation,
        key: &str,
        from_where: From,
        (from, to): (Date, Date),
        state: State,
        (choices, crops): (&Choices, &[&Crop]),
    ) -> Self {
        Self {
            step: key.to_owned(),
            season: None,
            occurrence: 1,
            times: 1,
            from_where,
            title: words::title(operation, choices),
            look: words::look(operation, choices),
            record: operation.record.clone(),
            on_ground: false,
            asks: operation.asks.clone(),
            amounts: vec![],
            from,
            to,
            state,
            part: None,
            after: vec![],
            odds: None,
            reasons: vec![],
            cautions: words::cautions(operation, &[], choices, crops),
        }
    }

    /// It begins the stand.
    pub fn is_sowing(&self) -> bool {
        self.look.role == Some(Role::Sowing)
    }

    /// The entry that inked it.
    pub fn inked(&self) -> Option<(Uuid, Date)> {
        match self.state {
            State::Done { entry, on } => Some((entry, on)),
            _ => None,
        }
    }
}
