//! What is bought for the fields, as it is analysed or labelled.

use std::collections::BTreeMap;

use agronomy::{
    lime::{LimeKind, Material, Reacts, Sieve},
    nutrient::Nutrient,
    refusal::{Checks, Refused},
    said,
    said::Said,
    units::{Fraction, Length, Mass, MassPerArea, Measure, Speed, Temperature, Unit, VolumePerArea},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;

use crate::{
    book::{Books, Inked},
    record::{By, Founds, Record, Unreadable},
    shape::check_words,
    subject::SubjectKind,
};

/// A liming material, as its seller's analysis says.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedLime)]
pub struct LimeFacts {
    /// What it is made of.
    pub made_of: LimeKind,
    /// Calcium carbonate equivalent.
    pub cce: Fraction,
    /// What passes the sieves of the analysis.
    pub sieves: Vec<Sieve>,
    /// Classes of fineness, where they are others than the usual.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub reacts: Vec<Reacts>,
    /// Water in it.
    #[serde(default)]
    pub moisture: Fraction,
    /// Magnesium in it.
    #[serde(default)]
    pub magnesium: Fraction,
}

/// An active ingredient, as the label names it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Ingredient {
    /// Its common name.
    pub name: String,
    /// How much of it is in the product, as the label writes it.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub content: String,
}

/// How much of a product goes on an area: what is weighed by mass, what is poured by volume.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(untagged)]
pub enum Rate {
    /// Weighed.
    Weighed(MassPerArea),
    /// Poured.
    Poured(VolumePerArea),
}

/// How long before a crop may be sown.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Wait {
    /// What is sown.
    pub crop: String,
    /// Days from the spray.
    pub days: u32,
}

/// What a person has read on a label and cites: nothing here is our own word, and the label is the law.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedLabel)]
pub struct Label {
    /// Active ingredients.
    pub ingredients: Vec<Ingredient>,
    /// Lowest rate.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub lowest: Option<Rate>,
    /// Highest rate.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub highest: Option<Rate>,
    /// Crops it may be sprayed over, as the label writes them.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub over: Vec<String>,
    /// The most wind it allows.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub most_wind: Option<Speed>,
    /// The coolest air it allows.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub coolest: Option<Temperature>,
    /// The hottest air it allows.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hottest: Option<Temperature>,
    /// Stages of crop and weed, as the label writes them.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub stages: String,
    /// Hours until the field may be entered.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub re_entry_hours: Option<u32>,
    /// Days until it may be harvested.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub harvest_days: Option<u32>,
    /// Days until it may be grazed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub grazing_days: Option<u32>,
    /// Days until what may be sown.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub plant_back: Vec<Wait>,
    /// Left unsprayed along water.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub buffer: Option<Length>,
}

/// What a product is.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "is", rename_all = "kebab-case")]
pub enum Nature {
    /// A fertiliser, by what it holds.
    Fertiliser {
        /// By nutrient.
        analysis: BTreeMap<Nutrient, Fraction>,
    },
    /// A lime.
    Lime(LimeFacts),
    /// Manure or compost, by what it holds as it lies.
    Manure {
        /// By nutrient.
        analysis: BTreeMap<Nutrient, Fraction>,
        /// Dry matter in it.
        dry_matter: Fraction,
    },
    /// Bacteria for legumes.
    Inoculant {
        /// Legumes it serves.
        serves: String,
    },
    /// Twine, net and wrap.
    Binding,
    /// A spray, by its label.
    Spray(Label),
}

/// A product, as it is from then on. The last one counts.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = RecordedProduct)]
pub struct ProductFacts {
    /// What it is called.
    pub name: String,
    /// What it is.
    pub nature: Nature,
    /// What a bag holds; loose when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub package: Option<Mass>,
    /// It is bought no more; what was spread of it stays.
    #[serde(default)]
    pub gone: bool,
}

impl LimeFacts {
    /// The material that it is.
    pub fn material(&self, name: &str) -> Material {
        Material {
            name: name.to_owned(),
            kind: self.made_of,
            cce: self.cce,
            sieves: self.sieves.clone(),
            reacts: self.reacts.clone(),
            moisture: self.moisture,
            magnesium: self.magnesium,
            price: None,
        }
    }
}

fn check_analysis(checks: &mut Checks, analysis: &BTreeMap<Nutrient, Fraction>) {
    checks.require(!analysis.is_empty(), "/nature/analysis", "enter the analysis");
    for (nutrient, share) in analysis {
        checks.within("/nature/analysis", nutrient.words(), *share, Unit::Percent, 0.0, 100.0);
    }
    let sum: f64 = analysis.values().map(|share| share.base()).sum();
    let detail = said!("nutrients add up to more than 100%: {}", Fraction::percent(sum * 100.0));
    checks.require(sum <= 1.0 + 1e-9, "/nature/analysis", detail);
}

fn check_label(checks: &mut Checks, label: &Label) {
    let many = label.ingredients.len();
    checks.require((1..=12).contains(&many), "/nature/ingredients", "enter 1–12 active ingredients");
    for (index, one) in label.ingredients.iter().enumerate() {
        check_words(checks, &format!("/nature/ingredients/{index}/name"), &one.name, true);
        check_words(checks, &format!("/nature/ingredients/{index}/content"), &one.content, false);
    }
    check_words(checks, "/nature/stages", &label.stages, false);
    for (pointer, rate) in [("/nature/lowest", label.lowest), ("/nature/highest", label.highest)] {
        match rate {
            Some(Rate::Weighed(rate)) => checks.positive(pointer, "Rate", rate, Unit::KgPerHa, 1_000.0),
            Some(Rate::Poured(rate)) => checks.positive(pointer, "Rate", rate, Unit::LPerHa, 1_000.0),
            None => {}
        }
    }
    let ordered = match (label.lowest, label.highest) {
        (Some(Rate::Weighed(low)), Some(Rate::Weighed(high))) => low <= high,
        (Some(Rate::Poured(low)), Some(Rate::Poured(high))) => low <= high,
        (Some(_), Some(_)) => false,
        _ => true,
    };
    let detail = "Lowest rate is above the highest, or one is dry and the other liquid; correct them";
    checks.require(ordered, "/nature/lowest", detail);
    for (pointer, days, most) in [
        ("/nature/re_entry_hours", label.re_entry_hours, 24 * 60),
        ("/nature/harvest_days", label.harvest_days, 1_000),
        ("/nature/grazing_days", label.grazing_days, 1_000),
    ] {
        checks.require(days.is_none_or(|days| days <= most), pointer, format!("at most {most}"));
    }
    checks.require(label.over.len() <= 60, "/nature/over", "enter at most 60 crops");
    for (index, crop) in label.over.iter().enumerate() {
        check_words(checks, &format!("/nature/over/{index}"), crop, true);
    }
    if let Some(wind) = label.most_wind {
        checks.within("/nature/most_wind", "Wind", wind, Unit::KmPerH, 0.0, 60.0);
    }
    for (pointer, limit) in [("/nature/coolest", label.coolest), ("/nature/hottest", label.hottest)] {
        if let Some(limit) = limit {
            checks.within(pointer, "Temperature", limit, Unit::DegC, -10.0, 50.0);
        }
    }
    checks.require(label.plant_back.len() <= 60, "/nature/plant_back", "enter at most 60 crops");
    for (index, wait) in label.plant_back.iter().enumerate() {
        check_words(checks, &format!("/nature/plant_back/{index}/crop"), &wait.crop, true);
        let at = format!("/nature/plant_back/{index}/days");
        checks.require(wait.days <= 2_000, at, format!("{} days; enter at most 2,000", wait.days));
    }
    if let Some(buffer) = label.buffer {
        checks.within("/nature/buffer", "Buffer", buffer, Unit::M, 0.0, 500.0);
    }
}

impl Record for ProductFacts {
    const KIND: &'static str = "product";
    const TITLE: &'static str = "Product";
    const NEEDS: &'static [SubjectKind] = &[SubjectKind::Product];
    const BY: By = By::Manager;
    const REPLACES: bool = true;
    const FOUNDS: Option<Founds> = Some(Founds::one(SubjectKind::Product));
    const VERSION: i32 = 2;

    fn upgrade(_: i32, payload: Value) -> Result<Value, Unreadable> {
        // The second version only says more of a label.
        Ok(payload)
    }

    fn check(&self, _: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        check_words(&mut checks, "/name", &self.name, true);
        if let Some(package) = self.package {
            checks.within("/package", "Bag weight", package, Unit::Kg, 0.01, 2_000.0);
        }
        match &self.nature {
            Nature::Fertiliser { analysis } => check_analysis(&mut checks, analysis),
            Nature::Manure { analysis, dry_matter } => {
                check_analysis(&mut checks, analysis);
                checks.within("/nature/dry_matter", "Dry matter", *dry_matter, Unit::Percent, 0.5, 100.0);
            }
            Nature::Lime(lime) => drop(checks.part("/nature", lime.material(&self.name).check())),
            Nature::Inoculant { serves } => check_words(&mut checks, "/nature/serves", serves, true),
            Nature::Binding => {}
            Nature::Spray(label) => check_label(&mut checks, label),
        }
        checks.done()
    }

    fn says(&self) -> Said {
        let name = self.name.as_str();
        let gone = if self.gone { "; no longer bought" } else { "" };
        match &self.nature {
            Nature::Fertiliser { analysis } | Nature::Manure { analysis, .. } => {
                let parts: Vec<String> = analysis
                    .iter()
                    .map(|(nutrient, share)| format!("{} {}", share.to(Unit::Percent), nutrient.words()))
                    .collect();
                said!("{}: {} (percent){}", name, parts.join(", "), gone)
            }
            Nature::Lime(lime) => said!("{}: {} calcium carbonate equivalent{}", name, lime.cce, gone),
            Nature::Inoculant { serves } => said!("{}: inoculant for {}{}", name, serves.as_str(), gone),
            Nature::Binding => said!("{}: twine, net or wrap{}", name, gone),
            Nature::Spray(label) => {
                let names: Vec<&str> = label.ingredients.iter().map(|one| one.name.as_str()).collect();
                said!("{}: label entered, {}{}", name, names.join(", "), gone)
            }
        }
    }

    fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
        if let Some(product) = books.product_of(inked) {
            product.facts = Some(inked.dated(self.clone()));
            product.read_by = Some(inked.0.recorded_by);
        }
    }
}
