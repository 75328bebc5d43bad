//! What a walk and the maps tell of a field.

use agronomy::{
    refusal::{Checks, Refused},
    said,
    said::Said,
    site::{self, SiteFacts, SiteRequest},
    units::{Fraction, Length, Temperature},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked},
    record::Record,
    shape::{Turn, check_words, stands_for, words},
};

words! {
    /// Drainage class.
    Drainage as RecordedDrainage = agronomy::crop::Drainage {
        "well" Well, "moderate" Moderate, "somewhat-poor" SomewhatPoor, "poor" Poor,
    }
}
words! {
    /// Texture of the plough layer.
    Texture as RecordedTexture = agronomy::soil::Texture {
        "sand" Sand, "sandy-loam" SandyLoam, "loam" Loam, "silt-loam" SiltLoam, "clay-loam" ClayLoam, "clay" Clay,
    }
}
words! {
    /// What lies on it.
    Residue as RecordedResidue = agronomy::site::Residue {
        "bare" Bare, "bean-stubble" BeanStubble, "cereal-stubble" CerealStubble, "heavy-maize" HeavyMaize, "sod" Sod,
    }
}

/// What was seen. Whatever is absent has not been looked at.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields, default)]
#[schema(as = RecordedSite)]
pub struct Facts {
    /// Drainage class.
    pub drainage: Option<Drainage>,
    /// Days that water stands after heavy rain.
    pub ponding_days: Option<f64>,
    /// Depth to rock, pan or water that stops roots.
    pub restrictive_depth: Option<Length>,
    /// Steepest slope that is worked.
    pub slope: Option<Fraction>,
    /// Texture of the plough layer.
    pub texture: Option<Texture>,
    /// Rain in an ordinary year.
    pub rain: Option<Length>,
    /// Water can be brought.
    pub irrigated: bool,
    /// Mean temperature of the warmest month.
    pub warmest_month: Option<Temperature>,
    /// Land that someone else manages borders on it.
    pub neighbour: bool,
    /// What lies on it now.
    pub residue: Option<Residue>,
    /// Perennial weeds seen; empty, or a word for none, where none were.
    pub perennial_weeds: Option<String>,
}

stands_for!(Facts = SiteFacts {
    drainage, ponding_days, restrictive_depth, slope, texture, rain, irrigated, warmest_month, neighbour, residue,
    perennial_weeds,
});

/// What a walk and the maps tell of a field; the last one counts.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SiteWalk {
    /// The facts.
    pub facts: Facts,
    /// All there is to tell of three years has been told.
    #[serde(default)]
    pub history_known: bool,
}

impl Record for SiteWalk {
    const KIND: &'static str = "site";
    const TITLE: &'static str = "Site";
    const DEED: &'static str = "Describe site";
    const REPLACES: bool = true;

    fn check(&self, today: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        let weeds = self.facts.perennial_weeds.as_deref().unwrap_or_default();
        check_words(&mut checks, "/facts/perennial_weeds", weeds, false);
        // Any crop's check refuses facts that can't be.
        let request = SiteRequest::of("timothy", today, self.facts.clone().turn());
        checks.part("", site::check(&request));
        checks.done()
    }

    fn says(&self) -> Said {
        let facts: SiteFacts = self.facts.clone().turn();
        let mut seen: Vec<Said> = vec![];
        seen.extend(facts.drainage.map(|class| class.words().into()));
        seen.extend(facts.slope.map(|slope| said!("slope {}", slope)));
        seen.extend(facts.texture.map(|texture| texture.words().into()));
        seen.extend(facts.perennial_weeds.filter(|weeds| !weeds.is_empty()).map(|weeds| said!("weeds: {}", weeds)));
        let seen = if seen.is_empty() { "nothing noted".into() } else { Said::joined(seen, ", ") };
        said!("Site: {}{}", seen, if self.history_known { "; history recorded" } else { "" })
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        if let Some(field) = books.field_of(inked) {
            field.facts = self.facts.clone().turn();
            field.looked_on = Some(inked.0.occurred_on);
            field.history_known = self.history_known;
        }
    }
}
