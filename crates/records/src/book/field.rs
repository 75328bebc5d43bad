//! The book of a field: its ground, what was found in it and done to it.

use agronomy::{
    nutrients::{self, Analysis, Removed},
    refusal::Refused,
    site::{Bioassay, PastCrop, SiteFacts, Spray},
    soil::SoilTest,
    units::{Fraction, Length, MassPerArea},
    weather::soil_temperature::SoilReading,
    working::Answer,
};
use jiff::civil::Date;
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use super::{ForageOf, Operation, Seen};
use crate::{
    DressingKind, EffectiveLime,
    kinds::{
        field_shape::FieldShape, forage_analysis::ForageAnalysis, odd_spot::OddSpot, pest_seen::PestSeen,
        product::Wait, seedbed_look::SeedbedLook, weed_seen::WeedSeen,
    },
};

/// Something spread on a field.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Dressing {
    /// What for.
    pub what: DressingKind,
    /// The product.
    pub product: String,
    /// How much of it.
    pub rate: MassPerArea,
    /// Nutrients in it, as available this year.
    #[schema(value_type = std::collections::BTreeMap<String, Fraction>)]
    pub analysis: Analysis,
    /// For lime: what of it reacts.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub effective: Option<EffectiveLime>,
}

/// A harvest carried off.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
#[schema(as = Harvest)]
pub struct Cut {
    /// Crop of the library; of a mix, the one whose table fits best.
    pub crop: String,
    /// As weighed.
    pub harvested: MassPerArea,
    /// Its moisture; dry matter when absent.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub moisture: Option<Fraction>,
    /// Cut in late winter or after frost.
    pub after_frost: bool,
    /// Shares of dry matter from a forage analysis.
    #[schema(value_type = std::collections::BTreeMap<String, Fraction>)]
    pub analysis: Analysis,
}

impl Cut {
    /// What it carried off.
    ///
    /// # Errors
    /// A crop, yield or analysis that can't be.
    pub fn removed(&self) -> Result<Answer<Removed>, Refused> {
        nutrients::removal(&nutrients::RemovalRequest {
            crop: self.crop.clone(),
            harvested: self.harvested,
            moisture: self.moisture,
            after_frost: self.after_frost,
            analysis: self.analysis.clone(),
        })
    }
}

/// What a spray forbids for a while, by its label.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
#[schema(as = SprayedUnfree)]
pub struct Unfree {
    /// What was sprayed.
    pub why: String,
    /// The first day it may be cut.
    #[schema(value_type = Option<String>, format = Date)]
    pub cutting: Option<Date>,
    /// The first day it may be grazed.
    #[schema(value_type = Option<String>, format = Date)]
    pub grazing: Option<Date>,
    /// How long before what may be sown.
    pub sowing: Vec<Wait>,
}

/// A soil sample that was sent off.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct SentSample {
    /// To whom.
    pub laboratory: String,
    /// The day its report is due.
    #[schema(value_type = String, format = Date)]
    pub due_on: Date,
}

/// A soil sample that was taken.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct TakenSample {
    /// Cores that went into it.
    pub cores: Option<u32>,
    /// What stands on the bag.
    pub bag: Option<String>,
}

/// Something that was inked on a day.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Dated<T> {
    /// The entry.
    pub entry: Uuid,
    /// The day.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// What.
    pub what: T,
}

/// The ground of a field, from its entries, struck ones left out; each list oldest first.
#[derive(Debug, Clone, PartialEq, Default, Serialize, ToSchema)]
pub struct Ground {
    /// What a walk and the maps tell.
    pub facts: SiteFacts,
    /// The day they were last looked at.
    #[serde(skip)]
    pub looked_on: Option<Date>,
    /// All there is to tell of three years has been told.
    pub history_known: bool,
    /// Soil tests.
    pub tests: Vec<Dated<SoilTest>>,
    /// Samples taken, whose report may be to come.
    pub taken: Vec<Dated<TakenSample>>,
    /// Samples on their way.
    #[serde(skip)]
    pub samples: Vec<Dated<SentSample>>,
    /// Herbicides.
    pub sprays: Vec<Dated<Spray>>,
    /// What they forbid for a while.
    pub unfree: Vec<Dated<Unfree>>,
    /// Weeds that were seen, one by one.
    pub weeds: Vec<Dated<WeedSeen>>,
    /// Spots unlike the rest.
    pub odd: Vec<Dated<OddSpot>>,
    /// Crops that were ended here.
    pub past_crops: Vec<Dated<PastCrop>>,
    /// Bioassays.
    pub bioassays: Vec<Dated<Bioassay>>,
    /// Lime, fertiliser and manure.
    pub dressings: Vec<Dated<Dressing>>,
    /// Harvests.
    pub cuts: Vec<Dated<Cut>>,
    /// Days of cuts whose harvest was not told.
    #[serde(skip)]
    pub unweighed: Vec<Date>,
    /// Forage made of what grew here, each lot as it was corrected last.
    #[serde(skip)]
    pub forage: Vec<Dated<ForageOf>>,
    /// Laboratory reports on it, with their lots.
    #[serde(skip)]
    pub forage_analyses: Vec<(Option<Uuid>, Dated<ForageAnalysis>)>,
    /// Insects, disease and other pests that were seen.
    #[serde(skip)]
    pub pests: Vec<Dated<PestSeen>>,
    /// Soil thermometer, mornings.
    pub soil_readings: Vec<SoilReading>,
    /// Rain gauge of the field.
    pub rain_gauge: Vec<Dated<Length>>,
    /// Water brought.
    pub irrigation: Vec<Dated<Length>>,
    /// How it lay, from each of these days on; none of a field that is as it was founded.
    #[serde(skip)]
    pub shapes: Vec<Dated<FieldShape>>,
    /// Operations done on the ground, for whatever stands there; struck ones too.
    #[serde(skip)]
    pub operations: Vec<Operation>,
    /// Looks at the seedbed.
    #[serde(skip)]
    pub seedbeds: Vec<Dated<SeedbedLook>>,
    /// What was last seen of whatever stands or is to stand here.
    #[serde(skip)]
    pub seen: Seen,
}

impl Ground {
    /// The latest soil test up to a day.
    pub fn test_by(&self, day: Date) -> Option<&Dated<SoilTest>> {
        self.tests.iter().filter(|test| test.on <= day).max_by_key(|test| test.on)
    }

    /// How the field lay on a day; none while it was as it was founded.
    pub fn shape_on(&self, day: Date) -> Option<&FieldShape> {
        self.shapes.iter().filter(|shape| shape.on <= day).max_by_key(|shape| shape.on).map(|shape| &shape.what)
    }

    /// A spray whose label forbids cutting on a day, with the first day it may be cut.
    pub fn no_cutting(&self, day: Date) -> Option<(&Unfree, Date)> {
        let still = self.unfree.iter().filter(|spray| spray.on <= day);
        let waits = still.filter_map(|spray| Some((&spray.what, spray.what.cutting?)));
        waits.filter(|(_, free)| day < *free).max_by_key(|(_, free)| *free)
    }

    /// Lime spread on a day or after it.
    pub fn limed_since(&self, day: Date) -> impl Iterator<Item = &Dated<Dressing>> {
        self.dressings.iter().filter(move |one| one.what.what == DressingKind::Lime && one.on >= day)
    }
}
