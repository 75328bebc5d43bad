//! The kinds of record. Each file declares one; the list below names it, and nothing else does.

use agronomy::{refusal::Refused, said::Said};
use jiff::civil::Date;
use serde::{Serialize, Serializer};
use serde_json::Value;
use utoipa::{
    PartialSchema, ToSchema,
    openapi::{
        OneOfBuilder, Ref, RefOr,
        schema::{ObjectBuilder, Schema, Type},
    },
};
use uuid::Uuid;

use crate::{
    Closes,
    book::{Books, Inked},
    record::{Kind, Record, Unreadable},
    subject::About,
    typed::typed,
};

macro_rules! kinds {
    ($($module:ident::$shape:ident),+ $(,)?) => {
        $(pub mod $module;)+

        /// What an entry says, by kind.
        #[derive(Debug, Clone, PartialEq)]
        #[allow(missing_docs)]
        pub enum Payload { $($shape(Box<$module::$shape>)),+ }

        $(
            impl From<$module::$shape> for Payload {
                fn from(shape: $module::$shape) -> Self { Self::$shape(Box::new(shape)) }
            }
        )+

        /// All kinds, in the order of the list.
        pub static KINDS: &[Kind] = &[$(Kind::of::<$module::$shape>()),+];

        impl Payload {
            /// Its kind.
            pub fn kind(&self) -> &'static Kind {
                let word = match self { $(Self::$shape(_) => <$module::$shape as Record>::KIND),+ };
                kind(word).unwrap_or(&KINDS[0])
            }

            /// As it is stored: without the word of its kind.
            pub fn stored(&self) -> Value {
                match self { $(Self::$shape(shape) => serde_json::to_value(shape)),+ }.unwrap_or_default()
            }

            /// Refuse what can't be; pointers are relative to the payload.
            ///
            /// # Errors
            /// One refusal per field.
            pub fn check(&self, today: Date) -> Result<(), Refused> {
                match self { $(Self::$shape(shape) => shape.check(today)),+ }
            }

            /// Refuse what does not fit with the things it is about: see [`Record::check_about`].
            ///
            /// # Errors
            /// One refusal per field.
            pub fn check_about(&self, about: &[About]) -> Result<(), Refused> {
                match self { $(Self::$shape(shape) => shape.check_about(about)),+ }
            }

            /// What it says, in one line.
            pub fn says(&self) -> Said {
                match self { $(Self::$shape(shape) => shape.says()),+ }
            }

            /// The same for a part of what it was written of: see [`Record::of_part`].
            #[must_use]
            pub fn of_part(&self, share: f64) -> Self {
                match self { $(Self::$shape(shape) => shape.of_part(share).into()),+ }
            }

            /// The operation of a plan that it stands for.
            pub fn operation(&self) -> Option<&str> {
                match self { $(Self::$shape(shape) => shape.operation()),+ }
            }

            /// Write it into the books of what it is about.
            pub fn fold(&self, inked: &Inked<'_>, books: &mut Books) {
                match self { $(Self::$shape(shape) => shape.fold(inked, books)),+ }
            }

            /// What a stored payload of an older version says of the place it closes: see [`Record::closed`].
            pub fn closed(word: &str, version: i32, payload: &Value, stand: Uuid) -> Option<Closes> {
                match word {
                    $(<$module::$shape as Record>::KIND => <$module::$shape>::closed(version, payload, stand),)+
                    _ => None,
                }
            }

            /// Read a stored payload of any version.
            ///
            /// # Errors
            /// A kind or version that this build does not know, or a payload that is not what it wrote.
            pub fn stored_as(word: &str, version: i32, payload: Value) -> Result<Self, Unreadable> {
                match word {
                    $(<$module::$shape as Record>::KIND => <$module::$shape>::read(version, payload).map(Self::from),)+
                    other => Err(Unreadable(format!("“{other}” is not a known record type"))),
                }
            }

            /// Read what a person sends: the word of its kind beside its fields, in the version of today.
            ///
            /// # Errors
            /// With a pointer at the field to blame.
            pub fn sent(mut payload: Value) -> Result<Self, Refused> {
                let word = payload.as_object_mut().and_then(|object| object.remove("kind"));
                let Some(Value::String(word)) = word else {
                    return Err(Refused::one("/kind", "choose a record type"));
                };
                match word.as_str() {
                    $(<$module::$shape as Record>::KIND => typed::<$module::$shape>(payload).map(Self::from),)+
                    other => Err(Refused::one("/kind", unknown(other))),
                }
            }
        }

        fn names() -> Vec<String> {
            vec![$(<$module::$shape as ToSchema>::name().into_owned()),+]
        }

        fn all_schemas(schemas: &mut Vec<(String, RefOr<Schema>)>) {
            $(
                let own = with_its_kind(<$module::$shape as PartialSchema>::schema(), <$module::$shape as Record>::KIND);
                schemas.push((<$module::$shape as ToSchema>::name().into_owned(), own));
                <$module::$shape as ToSchema>::schemas(schemas);
            )+
        }
    };
}

kinds! {
    choices::ChoicesRecord,
    step::Step,
    lot_tag::LotTag,
    lot_report::LotReport,
    note::Note,
    photo::Photo,
    strike::Strike,
    site::SiteWalk,
    soil_test::SoilTestReport,
    soil_sample::SoilSample,
    sample_taken::SampleTaken,
    spray::Sprayed,
    weed_seen::WeedSeen,
    odd_spot::OddSpot,
    past_crop::PastCropEnded,
    bioassay::BioassayRead,
    dressing::DressingSpread,
    cut::CutMade,
    soil_temperature::SoilTemperature,
    rain_gauge::RainGauge,
    irrigation::Irrigation,
    stand_look::StandLook,
    seedbed_look::SeedbedLook,
    field_shape::FieldShape,
    field_parted::FieldParted,
    climate_normals::ClimateNormals,
    membership::MembershipTurn,
    farm_facts::FarmFacts,
    machine::MachineFacts,
    product::ProductFacts,
    price::PriceTold,
    stock_count::StockCounted,
    own_mix::OwnMix,
    variety::Variety,
    variety_trial::VarietyTrial,
    drill_set::DrillSet,
    depth_checked::DepthChecked,
    seed_sown::SeedSown,
    plants_set::PlantsSet,
    stand_count::StandCount,
    regime_set::RegimeSet,
    forage_lot::ForageLot,
    forage_analysis::ForageAnalysis,
    forage_split::ForageSplit,
    pest_seen::PestSeen,
}

/// A kind by its word.
pub fn kind(word: &str) -> Option<&'static Kind> {
    KINDS.iter().find(|kind| kind.word == word)
}

/// A refusal that names the kinds there are.
pub(crate) fn unknown(word: &str) -> String {
    let words: Vec<&str> = KINDS.iter().map(|kind| kind.word).collect();
    format!("“{word}” is not a record type; choose from {}", words.join(", "))
}

/// As a person reads it: its fields, with the word of its kind among them.
impl Serialize for Payload {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        let mut value = self.stored();
        if let Some(object) = value.as_object_mut() {
            object.insert("kind".to_owned(), self.kind().word.into());
        }
        value.serialize(serializer)
    }
}

/// The schema of a shape with the word of its kind among its fields, as it is sent and read.
fn with_its_kind(mut schema: RefOr<Schema>, word: &'static str) -> RefOr<Schema> {
    if let RefOr::T(Schema::Object(object)) = &mut schema {
        let kind = ObjectBuilder::new().schema_type(Type::String).enum_values(Some([word]));
        object.properties.insert("kind".to_owned(), kind.into());
        object.required.push("kind".to_owned());
    }
    schema
}

impl PartialSchema for Payload {
    fn schema() -> RefOr<Schema> {
        let mut kinds = OneOfBuilder::new().description(Some("What an entry says, by kind."));
        for name in names() {
            kinds = kinds.item(Ref::from_schema_name(name));
        }
        kinds.into()
    }
}

impl ToSchema for Payload {
    fn name() -> std::borrow::Cow<'static, str> {
        "Payload".into()
    }

    fn schemas(schemas: &mut Vec<(String, RefOr<Schema>)>) {
        all_schemas(schemas);
    }
}
