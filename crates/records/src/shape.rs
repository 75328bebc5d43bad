//! From stored shapes to the types that the reckonings use, and back.
//!
//! Both sides of a pair are taken apart without a rest pattern: when a live type gains a field or a
//! word, this crate does not build until it is said what that means for what is stored.

use std::collections::BTreeMap;

use agronomy::{
    refusal::Checks,
    units::{
        Area, Charge, ChargePerVolume, Conductivity, CountPerArea, CountPerMass, Fraction, Length, Mass, MassPerArea,
        Money, MoneyPerMass, SoilContent, Temperature,
    },
};
use jiff::civil::Date;
use uuid::Uuid;

/// Turn a stored value into a live one, or a live one into what is stored.
pub(crate) trait Turn<T> {
    fn turn(self) -> T;
}

macro_rules! same {
    ($($plain:ty)+) => {$(
        impl Turn<$plain> for $plain {
            fn turn(self) -> $plain { self }
        }
    )+};
}
same! {
    f64 u32 i32 bool String Date Uuid
    Area Charge ChargePerVolume Conductivity CountPerArea CountPerMass Fraction Length Mass MassPerArea Money MoneyPerMass
    SoilContent Temperature
}

impl<A: Turn<B>, B> Turn<Option<B>> for Option<A> {
    fn turn(self) -> Option<B> {
        self.map(Turn::turn)
    }
}

impl<A: Turn<B>, B> Turn<Vec<B>> for Vec<A> {
    fn turn(self) -> Vec<B> {
        self.into_iter().map(Turn::turn).collect()
    }
}

impl<K: Turn<L>, L: Ord, A: Turn<B>, B> Turn<BTreeMap<L, B>> for BTreeMap<K, A> {
    fn turn(self) -> BTreeMap<L, B> {
        self.into_iter().map(|(key, value)| (key.turn(), value.turn())).collect()
    }
}

/// A stored struct that stands for a live one, field by field.
macro_rules! stands_for {
    ($stored:ident = $live:path { $($field:ident),+ $(,)? }) => {
        impl $crate::shape::Turn<$live> for $stored {
            fn turn(self) -> $live {
                let Self { $($field),+ } = self;
                $live { $($field: $crate::shape::Turn::turn($field)),+ }
            }
        }
        impl $crate::shape::Turn<$stored> for $live {
            fn turn(self) -> $stored {
                let Self { $($field),+ } = self;
                $stored { $($field: $crate::shape::Turn::turn($field)),+ }
            }
        }
    };
}
pub(crate) use stands_for;

/// Words that are stored: an enum of this crate that stands for a live one, word by word.
macro_rules! words {
    ($(#[doc = $about:literal])+ $name:ident as $schema:ident = $live:path { $($word:literal $variant:ident),+ $(,)? }) => {
        $(#[doc = $about])+
        #[derive(
            Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, serde::Serialize, serde::Deserialize,
        )]
        #[allow(missing_docs)]
        pub enum $name { $(#[serde(rename = $word)] $variant),+ }

        impl utoipa::PartialSchema for $name {
            fn schema() -> utoipa::openapi::RefOr<utoipa::openapi::schema::Schema> {
                utoipa::openapi::schema::ObjectBuilder::new()
                    .schema_type(utoipa::openapi::schema::Type::String)
                    .description(Some(concat!($($about),+).trim()))
                    .enum_values(Some([$($word),+]))
                    .into()
            }
        }
        impl utoipa::ToSchema for $name {
            fn name() -> std::borrow::Cow<'static, str> { stringify!($schema).into() }
        }

        impl $crate::shape::Turn<$live> for $name {
            fn turn(self) -> $live {
                match self { $(Self::$variant => <$live>::$variant),+ }
            }
        }
        impl $crate::shape::Turn<$name> for $live {
            fn turn(self) -> $name {
                match self { $(Self::$variant => $name::$variant),+ }
            }
        }
    };
}
pub(crate) use words;

/// Check what people write in their own words.
pub(crate) fn check_words(checks: &mut Checks, pointer: &str, text: &str, needed: bool) {
    let length = text.trim().chars().count();
    checks.require(!needed || length > 0, pointer, "enter some text");
    checks.require(length <= 2_000, pointer, format!("{length} characters; the limit is 2,000"));
}
