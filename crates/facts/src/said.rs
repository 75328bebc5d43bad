//! Sentences whose figures are still figures.
//!
//! A reason, a refusal or a title is a template of words with quantities in it. The quantities stay
//! typed until the edge, where [`units::present`](crate::units::present) puts them into the units of
//! the reader and makes text of the whole: nobody is told of centimetres who reads inches.
//!
//! ```
//! use facts::{said, units::{Length, System, Unit}};
//!
//! let reason = said!("roots stop at {}; it wants {}", Length::new(20.0, Unit::In), Length::new(1.0, Unit::M));
//! assert_eq!(reason.told(Some(System::Us.into())), "roots stop at 20 in; it wants 39.4 in");
//! assert_eq!(reason.told(Some(System::Metric.into())), "roots stop at 50.8 cm; it wants 100 cm");
//! ```
//!
//! In JSON on the way to the edge it is `{"said": ["roots stop at ", {"value": 0.508, "unit": "m"}]}`,
//! and a plain string where it holds no quantity.

use std::fmt;

use jiff::civil::Date;
use serde::{Deserialize, Serialize, Serializer, de};
use serde_json::Value;
use utoipa::{
    PartialSchema, ToSchema,
    openapi::{
        RefOr,
        schema::{ObjectBuilder, Schema, Type},
    },
};

use crate::units::{Measure, Quantity, Reader, System, restated};

/// A piece of a sentence.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(untagged)]
pub enum Piece {
    /// Words as they stand.
    Words(String),
    /// An amount, told in the reader's units.
    Amount(Quantity),
    /// An amount of a rule of thumb: in other units than it was written in it is told as roughly as it is known.
    Rough {
        /// As it was written.
        rough: Quantity,
    },
    /// A day, told in the reader's order.
    Day {
        /// Which.
        day: Date,
    },
}

/// A sentence, its figures still quantities.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Said(Vec<Piece>);

impl Said {
    /// A template with each `{}` filled by a piece in turn. Usually called through
    /// [`said!`](crate::said).
    ///
    /// # Panics
    /// When pieces and places differ in number: a slip in the code.
    pub fn filled(template: &str, pieces: Vec<Said>) -> Self {
        let mut said = Self::default();
        let mut pieces = pieces.into_iter();
        for (index, words) in template.split("{}").enumerate() {
            if index > 0 {
                said.add(pieces.next().unwrap_or_else(|| panic!("too few pieces for \u{201c}{template}\u{201d}")));
            }
            said.words(words);
        }
        assert!(pieces.next().is_none(), "too many pieces for \u{201c}{template}\u{201d}");
        said
    }

    /// A sentence of the library, in which `{20 ac}` is an amount and `{name}` stands for a piece.
    ///
    /// ```
    /// use facts::{said::Said, units::System};
    /// let said = Said::from_text("about {20 ac} of {what}", &[("what", "one soil".into())]);
    /// assert_eq!(said.told(Some(System::Metric.into())), "about 8 ha of one soil");
    /// let tall = Said::from_text("mow at {6 in}", &[]);
    /// assert_eq!(tall.told(Some(System::Us.into())), "mow at 6 in");
    /// assert_eq!(tall.told(Some(System::Metric.into())), "mow at 15 cm");
    /// ```
    pub fn from_text(text: &str, pieces: &[(&str, Said)]) -> Self {
        let mut said = Self::default();
        let mut rest = text;
        while let Some((before, inside, after)) = rest
            .split_once('{')
            .and_then(|(before, open)| open.split_once('}').map(|(inside, after)| (before, inside, after)))
        {
            said.words(before);
            match pieces.iter().find(|(name, _)| *name == inside) {
                Some((_, piece)) => said.add(piece.clone()),
                None => match amount(inside) {
                    Some(rough) => said.0.push(Piece::Rough { rough }),
                    None => said.words(inside),
                },
            }
            rest = after;
        }
        said.words(rest);
        said
    }

    /// Parts one after another, with words between them.
    pub fn joined(parts: impl IntoIterator<Item = Said>, between: &str) -> Self {
        let mut said = Self::default();
        for (index, part) in parts.into_iter().enumerate() {
            if index > 0 {
                said.words(between);
            }
            said.add(part);
        }
        said
    }

    /// Go on with words.
    pub fn words(&mut self, words: &str) {
        match self.0.last_mut() {
            _ if words.is_empty() => {}
            Some(Piece::Words(last)) => last.push_str(words),
            _ => self.0.push(Piece::Words(words.to_owned())),
        }
    }

    /// Go on with another sentence.
    pub fn add(&mut self, more: Said) {
        for piece in more.0 {
            match piece {
                Piece::Words(words) => self.words(&words),
                amount => self.0.push(amount),
            }
        }
    }

    /// The same with long runs of words cut in their middle: for sentences that quote what somebody handed in, which
    /// may be a whole file.
    ///
    /// ```
    /// use facts::said::Said;
    /// let said = Said::from(format!("there is no column {}; there are two", "x".repeat(20_000_000))).short();
    /// let told = said.told(None);
    /// assert!(told.starts_with("there is no column xxx") && told.ends_with("xxx; there are two"));
    /// assert_eq!(told.chars().count(), 501);
    /// ```
    #[must_use]
    pub fn short(mut self) -> Self {
        const HEAD: usize = 350;
        const TAIL: usize = 150;
        for piece in &mut self.0 {
            let Piece::Words(words) = piece else { continue };
            // A letter has at most four bytes: short ones are not counted.
            if words.len() <= HEAD + TAIL || words.chars().count() <= HEAD + TAIL {
                continue;
            }
            let head: String = words.chars().take(HEAD).collect();
            let mut tail: Vec<char> = words.chars().rev().take(TAIL).collect();
            tail.reverse();
            *words = head + "\u{2026}" + &String::from_iter(tail);
        }
        self
    }

    /// Nothing at all.
    pub fn is_empty(&self) -> bool {
        self.0.is_empty()
    }

    /// Whether it speaks of something in these words, in the units it was written in: for tests and logs.
    pub fn contains(&self, words: &str) -> bool {
        self.told(None).contains(words)
    }

    /// As text, in the units of a reader; in those it was written in when nothing is known of them.
    pub fn told(&self, reader: Option<Reader>) -> String {
        let piece = |piece: &Piece| match piece {
            Piece::Words(words) => words.clone(),
            Piece::Amount(amount) => {
                let Reader { system, currency } = reader.unwrap_or_default();
                let shown = if reader.is_some() { system.show(*amount) } else { *amount };
                shown.spoken(currency)
            }
            Piece::Rough { rough } => {
                let Reader { system, currency } = reader.unwrap_or_default();
                let shown = if reader.is_some() { system.show(*rough) } else { *rough };
                // As it was written, where it is told in that unit.
                let same = shown.unit == rough.unit;
                (if same { *rough } else { roughly(shown) }).spoken(currency)
            }
            // Where the inch is at home the month comes first.
            Piece::Day { day } => match reader {
                Some(Reader { system: System::Us, .. }) => day.strftime("%b %-d, %Y").to_string(),
                _ => day.strftime("%-d %b %Y").to_string(),
            },
        };
        self.0.iter().map(piece).collect()
    }
}

impl fmt::Display for Said {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.told(None))
    }
}

/// An amount to two digits, and to one and a half where that is as much as a rule of thumb says: 8.09 is 8, 25.4 is 25.
fn roughly(amount: Quantity) -> Quantity {
    if amount.value == 0.0 || !amount.value.is_finite() {
        return amount;
    }
    let place = 10.0_f64.powf(amount.value.abs().log10().floor());
    // Halves of the leading digit: 8.09 to 8, 15.24 to 15, 30.5 to 30, 2.54 to 2.5.
    let value = (amount.value / place * 2.0).round() / 2.0 * place;
    // What a half leaves at the last digit of a floating number is nobody's business.
    Quantity::new((value * 1e6).round() / 1e6, amount.unit)
}

/// "20 ac" as an amount.
fn amount(text: &str) -> Option<Quantity> {
    let (number, unit) = text.split_once(' ')?;
    Some(Quantity::new(number.parse().ok()?, unit.parse().ok()?))
}

/// Something that can stand in a sentence.
pub trait Say {
    /// As a piece of one.
    fn say(&self) -> Said;
}

impl<M: Measure> Say for M {
    fn say(&self) -> Said {
        self.quantity().into()
    }
}

macro_rules! said_as_text {
    ($($kind:ty)+) => {$(
        impl Say for $kind {
            fn say(&self) -> Said { Said::from(self.to_string()) }
        }
    )+};
}
said_as_text! { str String i32 i64 u32 u64 usize f64 }

/// A day as its reader writes it.
///
/// ```
/// use facts::{said, units::System};
/// use jiff::civil::date;
///
/// let said = said!("not before {}", date(2026, 8, 12));
/// assert_eq!(said.told(Some(System::Us.into())), "not before Aug 12, 2026");
/// assert_eq!(said.told(Some(System::Metric.into())), "not before 12 Aug 2026");
/// ```
impl Say for Date {
    fn say(&self) -> Said {
        Said(vec![Piece::Day { day: *self }])
    }
}

impl Say for Quantity {
    fn say(&self) -> Said {
        (*self).into()
    }
}

impl Say for Said {
    fn say(&self) -> Said {
        self.clone()
    }
}

impl From<Quantity> for Said {
    fn from(quantity: Quantity) -> Self {
        Self(vec![Piece::Amount(quantity)])
    }
}

impl From<String> for Said {
    fn from(words: String) -> Self {
        if words.is_empty() { Self::default() } else { Self(vec![Piece::Words(words)]) }
    }
}

impl From<&str> for Said {
    fn from(words: &str) -> Self {
        words.to_owned().into()
    }
}

impl PartialEq<str> for Said {
    fn eq(&self, words: &str) -> bool {
        self.told(None) == words
    }
}

impl PartialEq<&str> for Said {
    fn eq(&self, words: &&str) -> bool {
        self.told(None) == *words
    }
}

/// The one key of a sentence on its way to the edge.
pub(crate) const KEY: &str = "said";

#[derive(Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
struct OnItsWay {
    said: Vec<Piece>,
}

impl Serialize for Said {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        match self.0.as_slice() {
            [] => serializer.serialize_str(""),
            [Piece::Words(words)] => serializer.serialize_str(words),
            _ => OnItsWay { said: self.0.clone() }.serialize(serializer),
        }
    }
}

impl<'de> Deserialize<'de> for Said {
    fn deserialize<D: de::Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        #[derive(Deserialize)]
        #[serde(untagged)]
        enum Either {
            Text(String),
            Said(OnItsWay),
        }
        Ok(match Either::deserialize(deserializer)? {
            Either::Text(text) => text.into(),
            Either::Said(on_its_way) => Self(on_its_way.said),
        })
    }
}

/// What a reader gets is text.
impl PartialSchema for Said {
    fn schema() -> RefOr<Schema> {
        ObjectBuilder::new().schema_type(Type::String).into()
    }
}
impl ToSchema for Said {
    fn name() -> std::borrow::Cow<'static, str> {
        "Said".into()
    }
}

/// A sentence with quantities in it: `said!("it wants {} or {}", least, "more")`.
#[macro_export]
macro_rules! said {
    ($template:expr $(, $piece:expr)* $(,)?) => {{
        #[allow(unused_imports)]
        use $crate::said::Say as _;
        $crate::said::Said::filled($template, vec![$(($piece).say()),*])
    }};
}

/// Make a document ready for its reader: every quantity in their units, and every
/// [sentence](Said) turned into text in them. Without a reader both stay in the units they were
/// written in; what leaves the core always goes through here.
pub fn present(document: &mut Value, reader: Option<Reader>) {
    if restated(document, reader.map(|reader| reader.system)) {
        return;
    }
    match document {
        Value::Array(items) => items.iter_mut().for_each(|item| present(item, reader)),
        Value::Object(map) if map.len() == 1 && map.contains_key(KEY) => {
            if let Ok(said) = serde_json::from_value::<Said>(document.take()) {
                *document = Value::String(said.told(reader));
            }
        }
        Value::Object(map) => map.values_mut().for_each(|item| present(item, reader)),
        _ => {}
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::units::{Fraction, Length, System, Temperature, Unit};
    use serde_json::json;

    #[test]
    fn a_document_is_told_in_the_units_of_its_reader() {
        let held = said!("wants {} held, {} of days", Temperature::new(10.0, Unit::DegC), Fraction::percent(50.0));
        let mut document = json!({"reason": held, "depth": Length::new(2.0, Unit::M), "plain": said!("as it is")});
        present(&mut document, Some(System::Us.into()));
        assert_eq!(document["reason"], "wants 50 \u{b0}F held, 50% of days");
        assert_eq!(document["depth"]["unit"], "ft");
        assert_eq!(document["plain"], "as it is");
    }

    #[test]
    fn it_is_read_back_as_it_was_written() {
        for said in [said!("{} deep", Length::new(1.0, Unit::In)), said!("nothing to tell"), Said::default()] {
            let written = serde_json::to_value(&said).unwrap();
            assert_eq!(serde_json::from_value::<Said>(written).unwrap().told(None), said.told(None));
        }
    }

    #[test]
    #[should_panic = "too few pieces"]
    fn a_place_without_a_piece_is_a_slip() {
        Said::filled("{} and {}", vec!["one".into()]);
    }
}
