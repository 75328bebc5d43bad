//! A laboratory's report on a lot of forage.

use agronomy::{
    forage::{self, of_dry_matter},
    nutrients::{Analysis, Nutrient},
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{Fraction, Unit},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked},
    record::Record,
    shape::{check_words, words},
    subject::SubjectKind,
};

/// What the shares of a report are shares of.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[schema(as = ReportBasis)]
#[allow(missing_docs)]
pub enum Basis {
    DryMatter,
    AsFed,
}

words! {
    /// How nitrate is reported.
    NitrateForm as RecordedNitrateForm = forage::NitrateAs {
        "nitrate-nitrogen" Nitrogen, "nitrate" Nitrate, "potassium-nitrate" PotassiumNitrate,
    }
}

/// Nitrate, in the form it was reported in: the number means nothing without it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = ReportedNitrate)]
pub struct Nitrate {
    /// How much.
    pub share: Fraction,
    /// Of what.
    #[serde(rename = "as")]
    pub form: NitrateForm,
}

/// A laboratory's report on a lot of forage, figures as they stand on it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedForageAnalysis)]
pub struct ForageAnalysis {
    /// What the shares below are shares of.
    pub basis: Basis,
    /// Dry matter of what was sampled.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub dry_matter: Option<Fraction>,
    /// Crude protein.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub crude_protein: Option<Fraction>,
    /// Acid detergent fiber.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub adf: Option<Fraction>,
    /// Neutral detergent fiber.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub ndf: Option<Fraction>,
    /// Digestibility of that in 48 hours, as a share of it: on no basis.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub ndf_digestibility: Option<Fraction>,
    /// Total digestible nutrients.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub tdn: Option<Fraction>,
    /// Sugar: water-soluble carbohydrates.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub sugar: Option<Fraction>,
    /// Starch.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub starch: Option<Fraction>,
    /// Fat.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub fat: Option<Fraction>,
    /// Ash.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub ash: Option<Fraction>,
    /// Phosphorus, the element.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub phosphorus: Option<Fraction>,
    /// Potassium, the element.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub potassium: Option<Fraction>,
    /// Calcium.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub calcium: Option<Fraction>,
    /// Magnesium.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub magnesium: Option<Fraction>,
    /// Sulfur.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub sulfur: Option<Fraction>,
    /// Nitrate.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub nitrate: Option<Nitrate>,
    /// Acidity of silage.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub ph: Option<f64>,
    /// Who tested it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub laboratory: Option<String>,
    /// Number of the sample, anything else.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub note: Option<String>,
}

impl ForageAnalysis {
    /// A share as one of dry matter; none where it was reported as fed and nobody said how dry.
    pub fn dry(&self, share: Option<Fraction>) -> Option<Fraction> {
        match self.basis {
            Basis::DryMatter => share,
            Basis::AsFed => Some(of_dry_matter(share?, self.dry_matter?)),
        }
    }

    /// Relative feed value, where both fibers were tested.
    pub fn relative_feed_value(&self) -> Option<f64> {
        Some(forage::relative_feed_value(self.dry(self.adf)?, self.dry(self.ndf)?))
    }

    /// Nitrate as nitrate nitrogen in dry matter.
    pub fn nitrate_nitrogen(&self) -> Option<Fraction> {
        use crate::shape::Turn;
        let nitrate = self.nitrate?;
        let form: forage::NitrateAs = nitrate.form.turn();
        Some(form.nitrogen(self.dry(Some(nitrate.share))?))
    }

    /// Nutrients in dry matter as grades count them.
    pub fn nutrients(&self) -> Analysis {
        let elements = [
            (Nutrient::Ca, self.dry(self.calcium)),
            (Nutrient::Mg, self.dry(self.magnesium)),
            (Nutrient::S, self.dry(self.sulfur)),
        ];
        let (protein, p, k) = (self.dry(self.crude_protein), self.dry(self.phosphorus), self.dry(self.potassium));
        forage::nutrients(protein, p, k, &elements)
    }

    /// Each share, with where it stands, its name and the most it can be of dry matter, percent.
    fn shares(&self) -> [(&'static str, &'static str, Option<Fraction>, f64); 13] {
        [
            ("/crude_protein", "crude protein", self.crude_protein, 45.0),
            ("/adf", "ADF", self.adf, 75.0),
            ("/ndf", "NDF", self.ndf, 90.0),
            ("/tdn", "TDN", self.tdn, 95.0),
            ("/sugar", "sugar", self.sugar, 50.0),
            ("/starch", "starch", self.starch, 60.0),
            ("/fat", "fat", self.fat, 20.0),
            ("/ash", "ash", self.ash, 40.0),
            ("/phosphorus", "phosphorus", self.phosphorus, 2.0),
            ("/potassium", "potassium", self.potassium, 8.0),
            ("/calcium", "calcium", self.calcium, 5.0),
            ("/magnesium", "magnesium", self.magnesium, 2.0),
            ("/sulfur", "sulfur", self.sulfur, 2.0),
        ]
    }
}

impl Record for ForageAnalysis {
    const KIND: &'static str = "forage-analysis";
    const TITLE: &'static str = "Forage analysis";
    const DEED: &'static str = "Laboratory report on forage";
    const NEEDS: &'static [SubjectKind] = &[SubjectKind::ForageLot];
    /// It is about the fields that the lot came off, too.
    const SEVERAL: &'static [SubjectKind] = &[SubjectKind::Field, SubjectKind::Stand];

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        if let Some(dry) = self.dry_matter {
            checks.within("/dry_matter", "Dry matter", dry, Unit::Percent, 5.0, 100.0);
        }
        let any = self.shares().iter().any(|(_, _, share, _)| share.is_some())
            || self.dry_matter.is_some()
            || self.nitrate.is_some();
        checks.require(any, "/crude_protein", "enter at least one figure of the report");
        let needs_dry = self.basis == Basis::AsFed && self.dry_matter.is_none();
        checks.require(!needs_dry, "/dry_matter", "figures as fed need the dry matter: enter it from the report");
        for (pointer, name, share, most) in self.shares() {
            if let Some(share) = share {
                checks.within(pointer, name, share, Unit::Percent, 0.0, most);
            }
        }
        if let Some(digestible) = self.ndf_digestibility {
            checks.within("/ndf_digestibility", "NDF digestibility", digestible, Unit::Percent, 0.0, 100.0);
        }
        if let (Some(adf), Some(ndf)) = (self.adf, self.ndf) {
            let detail = said!("ADF is {} and NDF {}; ADF is a part of NDF: check for swapped figures", adf, ndf);
            checks.require(adf <= ndf, "/adf", detail);
        }
        if let Some(nitrate) = self.nitrate {
            checks.within("/nitrate/share", "Nitrate", nitrate.share, Unit::Percent, 0.0, 10.0);
        }
        if let Some(ph) = self.ph {
            checks.require((3.0..=9.0).contains(&ph), "/ph", format!("pH is {ph}; enter 3\u{2013}9"));
        }
        check_words(&mut checks, "/laboratory", self.laboratory.as_deref().unwrap_or_default(), false);
        check_words(&mut checks, "/note", self.note.as_deref().unwrap_or_default(), false);
        if checks.is_clean() && self.basis == Basis::AsFed {
            // What is possible as fed can be impossible once the water is gone.
            for (pointer, name, share, most) in self.shares() {
                if let Some(dry) = self.dry(share).filter(|dry| dry.to(Unit::Percent) > most) {
                    let detail = said!("{} would be {} of dry matter: check the basis and the dry matter", name, dry);
                    checks.refuse(pointer, detail);
                }
            }
        }
        checks.done()
    }

    fn says(&self) -> Said {
        let of = match self.basis {
            Basis::DryMatter => "of dry matter",
            Basis::AsFed => "as fed",
        };
        let mut parts: Vec<Said> = vec![];
        for (_, name, share, _) in self.shares().into_iter().take(4) {
            parts.extend(share.map(|share| said!("{} {}", name, share)));
        }
        let head = match parts.is_empty() {
            true => Said::from("Forage analysis"),
            false => said!("Forage analysis, {}: {}", of, Said::joined(parts, ", ")),
        };
        let dry = self.dry_matter.map(|dry| said!("Dry matter {}", dry));
        let nitrate = self.nitrate_nitrogen().map(|nitrogen| said!("Nitrate nitrogen {} of dry matter", nitrogen));
        let note = self.note.as_deref().map(Said::from);
        Said::joined([Some(head), dry, nitrate, note].into_iter().flatten(), ". ")
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        let lot = inked.0.subject(SubjectKind::ForageLot);
        books.each_field(inked, |field| field.forage_analyses.push((lot, inked.dated(self.clone()))));
        books.each_forage(inked, |_, book| book.analyses.push(inked.dated(self.clone())));
    }
}
