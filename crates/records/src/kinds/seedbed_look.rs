//! A seedbed was looked at: the boot, the hand, and what grows there already.

use agronomy::{
    refusal::{Checks, Refused},
    said,
    said::Said,
    seedbed::{
        firmness::{BootSchool, Mark, Surface},
        seen::{Feel, Growing},
    },
    units::{Length, Unit},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked},
    record::Record,
    shape::check_words,
};

/// A seedbed was looked at: what the gates before a sowing go by. What was not looked at is left out.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedSeedbedLook)]
pub struct SeedbedLook {
    /// The boot test that counts; by depth where one was measured, else the one that asks for the firmer bed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub school: Option<BootSchool>,
    /// How deep a boot sinks.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub sunk: Option<Length>,
    /// What of the boot is seen.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mark: Option<Mark>,
    /// How the surface lies.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub surface: Option<Surface>,
    /// How it feels at seed depth.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub feel: Option<Feel>,
    /// Bare soil shows where a heel scuffs once.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bare: Option<bool>,
    /// What grows there.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub growing: Option<Growing>,
    /// Anything else.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

impl SeedbedLook {
    /// The boot test that counts; none where no boot was set down.
    pub fn boot(&self) -> Option<BootSchool> {
        let by_mark = || self.mark.map(|_| BootSchool::HeelAlone);
        let usual = || self.sunk.map(|_| BootSchool::Depth).or_else(by_mark);
        match self.school {
            Some(BootSchool::Depth) => self.sunk.map(|_| BootSchool::Depth).or_else(by_mark),
            Some(school) if self.mark.is_some() => Some(school),
            _ => usual(),
        }
    }
}

impl Record for SeedbedLook {
    const KIND: &'static str = "seedbed-look";
    const TITLE: &'static str = "Seedbed check";

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        if let Some(sunk) = self.sunk {
            checks.within("/sunk", "Boot depth", sunk, Unit::Mm, 0.0, 300.0);
        }
        let note = self.note.as_deref().unwrap_or_default();
        check_words(&mut checks, "/note", note, false);
        let boot = self.sunk.is_some() || self.mark.is_some() || self.surface.is_some();
        let seen = boot || self.feel.is_some() || self.bare.is_some() || self.growing.is_some();
        let something = seen || !note.trim().is_empty();
        checks.require(something, "/note", "enter at least one observation");
        checks.done()
    }

    fn says(&self) -> Said {
        let mut seen: Vec<Said> = vec![];
        seen.extend(self.sunk.map(|sunk| said!("boot sinks {}", sunk)));
        seen.extend(self.mark.map(|mark| {
            Said::from(match mark {
                Mark::None => "no boot print",
                Mark::Heel => "heel print",
                Mark::HeelAndSole => "heel and sole print",
                Mark::Arch => "whole boot print",
            })
        }));
        seen.extend(self.surface.map(|surface| {
            Said::from(match surface {
                Surface::SmallClods => "small clods",
                Surface::LargeClods => "large clods",
                Surface::Powder => "powder",
            })
        }));
        seen.extend(self.feel.map(|feel| Said::from(feel.words())));
        seen.extend(self.bare.map(|bare| {
            Said::from(if bare { "heel scuff shows bare soil" } else { "heel scuff shows no bare soil" })
        }));
        seen.extend(self.growing.map(|growing| {
            Said::from(match growing {
                Growing::Nothing => "no weeds or growth",
                Growing::Seedlings => "weed seedlings",
                Growing::Standing => "established weeds",
            })
        }));
        seen.extend(self.note.as_deref().map(Said::from));
        said!("Seedbed: {}", Said::joined(seen, ", "))
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        if let Some(field) = books.field_of(inked) {
            field.seedbeds.push(inked.dated(self.clone()));
        }
    }
}
