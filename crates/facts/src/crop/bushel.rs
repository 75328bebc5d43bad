//! Bushels: a measure of volume that the trade weighs, each crop's at its own legal weight.

use super::{Crop, library};
use crate::units::{Dimension, Mass, Quantity, Reader, Understood, Unit, read};

/// Read an amount as [`read`](crate::units::read()) does, bushels too: `3 bu/ac`, `1½ bushels of oats`.
///
/// A bushel weighs what the crop's legal bushel weighs, so it is read where a mass or a mass per area is asked for and
/// the crop is known: named in the text, or `sown`, the crop that the field of the form is about. The named one goes
/// first.
///
/// # Errors
/// As [`read`](crate::units::read()); for bushels of no crop, or of one that the trade does not sell by them.
///
/// ```
/// use facts::{crop::read_amount, units::{Dimension, System, Unit}};
/// let read = |text| read_amount(text, Dimension::MassPerArea, Unit::LbPerAc, System::Us, None);
/// let oats = read("3 bu/ac of oats").unwrap();
/// assert_eq!((oats.quantity.value.round(), oats.quantity.unit), (96.0, Unit::LbPerAc));
/// assert!(read("3 bu/ac").unwrap_err().contains("of which crop"));
/// ```
pub fn read_amount(
    text: &str,
    dimension: Dimension,
    bare: Unit,
    reader: impl Into<Reader>,
    sown: Option<&Crop>,
) -> Result<Understood, String> {
    let reader = reader.into();
    let Some(Bushels { number, per, of }) = Bushels::in_text(text) else {
        return read(text, dimension, bare, reader);
    };
    let unit = match (dimension, per) {
        (Dimension::Mass, None) => Unit::Lb,
        // "90 bu" where a rate is asked for is taken as the field takes a bare number.
        (Dimension::MassPerArea, Some(area)) => area,
        (Dimension::MassPerArea, None) if bare.metric() == Some(true) => Unit::KgPerHa,
        (Dimension::MassPerArea, None) => Unit::LbPerAc,
        _ => return Err(format!("enter {}, not bushels", dimension.words())),
    };
    let crop = match of {
        Some(name) => library()
            .crops()
            .find(|crop| is_called(crop, &name))
            .ok_or_else(|| format!("“{name}” is not in the library; enter {}", dimension.words()))?,
        None => sown.ok_or("bushels of which crop? Enter, for example, “3 bu of oats”, or a weight")?,
    };
    let weight = crop.seed.as_ref().and_then(|seed| seed.bushel.as_ref());
    let weight = weight.ok_or_else(|| format!("{} has no legal bushel; enter {}", crop.name, dimension.words()))?;
    // The number is read by the one grammar, fractions and commas alike.
    if number.is_empty() {
        return Err(format!("“{text}” has no number; enter {}", dimension.words()));
    }
    let count = read(&number, Dimension::Ratio, Unit::One, reader)?.quantity.value;
    let pound: Mass = weight.measure();
    let mass = Mass::new(count * pound.to(Unit::Lb), Unit::Lb);
    let value = match unit {
        Unit::KgPerHa => mass.to(Unit::Kg),
        _ => mass.to(Unit::Lb),
    };
    let note = format!("{} lb per bushel of {}", weight.value, crop.name);
    Ok(Understood { quantity: Quantity::new(value, unit), note: Some(note) })
}

/// What was written of bushels.
struct Bushels {
    number: String,
    /// The unit of the answer where an area is named.
    per: Option<Unit>,
    of: Option<String>,
}

impl Bushels {
    fn in_text(text: &str) -> Option<Self> {
        let lower = text.trim().to_lowercase();
        let at = lower.find(|c: char| c.is_alphabetic())?;
        let (number, words) = lower.split_at(at);
        let rest = ["bushels", "bushel", "bu."].iter().find_map(|word| words.strip_prefix(word));
        let rest = rest.or_else(|| words.strip_prefix("bu").filter(|rest| !rest.starts_with(char::is_alphabetic)))?;
        let rest = rest.trim_start();
        let areas = [
            ("/ac", Unit::LbPerAc),
            ("/a", Unit::LbPerAc),
            ("per acre", Unit::LbPerAc),
            ("an acre", Unit::LbPerAc),
            ("/ha", Unit::KgPerHa),
            ("per hectare", Unit::KgPerHa),
        ];
        // "3 bu oats/ac" and "3 bu/ac oats".
        let ends = |(words, unit): &(&str, Unit)| {
            let word = |left: &str, right: &str| [left.trim(), right.trim()].join(" ").trim().to_owned();
            if let Some(rest) = rest.strip_prefix(words).filter(|rest| !rest.starts_with(char::is_alphabetic)) {
                return Some((word("", rest), *unit));
            }
            rest.strip_suffix(words).map(|rest| (word(rest, ""), *unit))
        };
        let (of, per) = match areas.iter().find_map(ends) {
            Some((of, unit)) => (of, Some(unit)),
            None => (rest.to_owned(), None),
        };
        let of = of.strip_prefix("of ").unwrap_or(&of).trim().to_owned();
        Some(Self { number: number.trim().to_owned(), per, of: (!of.is_empty()).then_some(of) })
    }
}

/// By its name, one it also goes by, or the last word of it: wheat is winter wheat.
fn is_called(crop: &Crop, name: &str) -> bool {
    let one = name.strip_suffix('s').unwrap_or(name);
    let same = |known: &str| {
        let known = known.to_lowercase();
        known == name || known == one || known.rsplit(' ').next().is_some_and(|last| last == name || last == one)
    };
    same(&crop.name) || same(&crop.id) || crop.also.iter().any(|known| same(known))
}

#[cfg(test)]
mod tests {
    use rstest::rstest;

    use super::*;
    use crate::units::System;

    fn rate(text: &str) -> Result<f64, String> {
        let read = read_amount(text, Dimension::MassPerArea, Unit::LbPerAc, System::Us, None)?;
        Ok(read.quantity.value)
    }

    /// Legal weights of a bushel (Weights, Measures, and Conversion Factors, USDA Agricultural Handbook 697): oats 32 lb,
    /// wheat 60, maize 56, rye 56, barley 48, bromegrass 14.
    #[rstest]
    #[case("3 bu/ac of oats", 96.0)]
    #[case("1 1/2 bushels of wheat per acre", 90.0)]
    #[case("2½ bu/a rye", 140.0)]
    #[case("2 bu barley", 96.0)]
    #[case("0.5 bu. of corn", 28.0)]
    #[case("2 bu/ac smooth bromegrass", 28.0)]
    #[case("90 lb/ac", 90.0)]
    fn bushels_weigh_what_the_law_says(#[case] text: &str, #[case] pounds: f64) {
        let value = rate(text).unwrap();
        assert!((value - pounds).abs() < 1e-9, "{text}: {value}");
    }

    #[rstest]
    #[case("3 bu/ac", "of which crop")]
    #[case("3 bu of peanuts", "not in the library")]
    #[case("3 bu of switchgrass", "no legal bushel")]
    #[case("bu of oats", "number")]
    fn what_can_not_be_weighed_is_said(#[case] text: &str, #[case] says: &str) {
        let refused = rate(text).unwrap_err();
        assert!(refused.contains(says), "{text}: {refused}");
    }

    #[test]
    fn the_crop_of_the_form_is_meant_where_none_is_named() {
        let oats = library().crop("forage-oats");
        let read = |text| read_amount(text, Dimension::MassPerArea, Unit::KgPerHa, System::Metric, oats).unwrap();
        let metric = read("3 bu");
        assert_eq!(metric.quantity.unit, Unit::KgPerHa);
        assert!((metric.quantity.value - 43.544_867_52).abs() < 1e-9, "{metric:?}");
        assert!((read("1 bu/ac of wheat").quantity.value - 60.0).abs() < 1e-9);
        assert!(read_amount("3 bu", Dimension::Length, Unit::In, System::Us, oats).is_err());
    }
}
