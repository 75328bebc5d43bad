//! What a look at the seedbed asks to be done: a step inserted, and a new look after it.

use agronomy::{
    crop::library,
    practice::{Practice, operation, practice},
    said::Said,
    seedbed::{
        firmness::{Firmness, FirmnessAnswer, FirmnessRequest, Surface, firmness},
        seen::Growing,
    },
    texture::Texture,
    units::{Length, Measure},
};
use jiff::{ToSpan, civil::Date};
use records::{
    Choices,
    book::{Dated, Ground, Operation},
    kinds::seedbed_look::SeedbedLook,
};
use uuid::Uuid;

/// Days after which a look at a seedbed tells no more.
pub(crate) const SEEDBED_OLD: i32 = 21;

/// A step that a finding asks for.
#[derive(Debug, Clone, PartialEq)]
pub struct Mending {
    /// Its key on this stand: tells it from the same asked for by another finding.
    pub key: String,
    /// Key of the operation.
    pub operation: &'static str,
    /// The day it was found.
    pub found_on: Date,
    /// The entry that tells of it.
    pub entry: Uuid,
    /// What was found.
    pub why: Said,
}

/// Words that the keys of such steps begin with; the look they come from follows.
const WORDS: [&str; 4] = ["roll", "loosen", "work", "clean"];
/// Letters of the look in a key.
const LOOK: usize = 12;

/// Whether the key of a step is of one that some finding asked for, also one that was overtaken by a later look.
pub(crate) fn is_mending(key: &str) -> bool {
    let parts = key.rsplit_once('-');
    parts.is_some_and(|(word, look)| {
        WORDS.contains(&word) && look.len() == LOOK && look.bytes().all(|byte| byte.is_ascii_hexdigit())
    })
}

impl Mending {
    /// Whether an operation does what is asked: one of its kind on a later day, or the one that names it.
    pub fn met_by(&self, done: &Operation) -> bool {
        // A record of its own kind names no step; who rolls and looks on one day names it, or it is not known which
        // came first.
        let own_kind = operation(self.operation).is_some_and(|one| one.record != "step");
        let named = done.closes.as_ref().is_some_and(|closes| closes.step == self.key)
            || (own_kind && done.on == self.found_on);
        !done.struck && done.operation == self.operation && (done.on > self.found_on || named)
    }
}

/// The last look at a field's seedbed up to a day that told of something, unless it is too old to tell.
///
/// A look leaves out what was not looked at: what an earlier one told of that stands.
pub(crate) fn last_look(
    ground: &Ground,
    today: Date,
    told: impl Fn(&SeedbedLook) -> bool,
) -> Option<&Dated<SeedbedLook>> {
    let last = ground.seedbeds.iter().rev().find(|look| look.on <= today && told(&look.what))?;
    ((today - last.on).get_days() <= SEEDBED_OLD).then_some(last)
}

/// A boot was set down, or clods were looked at.
pub(crate) fn of_the_boot(look: &SeedbedLook) -> bool {
    look.boot().is_some() || look.surface == Some(Surface::LargeClods)
}

/// Whether a look found the bed firm enough, for the crop that bears least. None where no boot was set down.
pub(crate) fn boot_says(choices: &Choices, look: &SeedbedLook, texture: Option<Texture>) -> Option<FirmnessAnswer> {
    let clods = look.surface.is_some();
    let school = match (look.boot(), clods) {
        (Some(school), _) => school,
        (None, true) => Default::default(),
        (None, false) => return None,
    };
    let strictness = |answer: &FirmnessAnswer| match answer.verdict {
        Firmness::WorkAgain => 3,
        Firmness::RollAgain => 2,
        Firmness::TooHard => 1,
        Firmness::Ready => 0,
    };
    let answers = choices.cover.crops().into_iter().filter(|id| library().crop(id).is_some()).filter_map(|crop| {
        let request = FirmnessRequest {
            crop: crop.to_owned(),
            school,
            // Clods alone were told of: a boot that sinks not at all says nothing but them.
            sunk: look.sunk.or_else(|| look.boot().is_none().then(|| Length::from_base(0.0))),
            mark: look.mark,
            most: None,
            surface: look.surface,
            texture,
        };
        firmness(&request).ok().map(|answer| answer.value)
    });
    let worst = answers.reduce(|worst, one| if strictness(&one) > strictness(&worst) { one } else { worst })?;
    let by_clods_alone = look.boot().is_none() && worst.verdict != Firmness::WorkAgain;
    (!by_clods_alone).then_some(worst)
}

/// How a school kills what is green before a sowing.
fn killed_by(school: &Practice) -> &'static str {
    let has = |key: &str| school.steps.iter().any(|step| step.operation == key);
    match school.tilled {
        true => "prepare",
        // Old grass that is to stay is set back, not killed.
        false if has("set-back") => "set-back",
        false => "spray",
    }
}

/// Steps that the last looks at the seedbed ask for, done or not.
pub fn mendings(choices: &Choices, ground: &Ground, today: Date) -> Vec<Mending> {
    let Some(school) = practice(&choices.practice) else { return vec![] };
    let mending = |look: &Dated<SeedbedLook>, word: &str, operation: &'static str, why: Said| Mending {
        key: format!("{word}-{}", &look.entry.simple().to_string()[..LOOK]),
        operation,
        found_on: look.on,
        entry: look.entry,
        why,
    };
    let mut asked = vec![];
    // What kills weeds loosens the bed: the roller comes after it.
    if let Some(look) = last_look(ground, today, |look| look.growing.is_some()) {
        let green = match look.what.growing {
            None | Some(Growing::Nothing) => None,
            Some(Growing::Seedlings) => Some("weed seedlings seen"),
            Some(Growing::Standing) => Some("established weeds"),
        };
        asked.extend(green.map(|green| mending(look, "clean", killed_by(school), green.into())));
    }
    let tested = last_look(ground, today, of_the_boot).filter(|_| school.tilled);
    let boot = tested.and_then(|look| Some((look, boot_says(choices, &look.what, ground.facts.texture)?)));
    if let Some((look, boot)) = boot {
        match boot.verdict {
            Firmness::Ready => {}
            Firmness::RollAgain => asked.push(mending(look, "roll", "roll", boot.reason)),
            Firmness::TooHard => asked.push(mending(look, "loosen", "prepare", "no boot print: too hard".into())),
            Firmness::WorkAgain => asked.push(mending(look, "work", "prepare", boot.reason)),
        }
    }
    asked
}

/// Days in which a step that a finding asks for is meant to be done: never too late, for the finding stands.
pub(crate) fn days_of(mending: &Mending, today: Date) -> (Date, Date) {
    (mending.found_on, mending.found_on.saturating_add(6.days()).max(today))
}
