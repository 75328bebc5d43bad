//! Reading what people write: "2.5 t/ac", "6 in", "50 F", "15".

use serde::Serialize;
use utoipa::ToSchema;

use super::{Currency, Dimension, Quantity, Reader, System, Unit};

/// What was understood of a written quantity.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Understood {
    /// The quantity, in the unit the person wrote or meant.
    pub quantity: Quantity,
    /// Something to show beside the field when the text could be read two ways.
    pub note: Option<String>,
}

/// Read a quantity of a known dimension.
///
/// A bare number takes the usual unit of the person's system. A decimal comma is understood where
/// it can't be a thousands mark. "t" and "ton" alone differ by a tenth between the systems, so the
/// answer says which was taken. Fractions are read too: "1/4 in", "1 1/2 in", "½ in".
///
/// # Errors
/// A sentence for the field: what was expected and what was found.
///
/// ```
/// use facts::units::{read, Dimension, System, Unit};
/// let depth = read("1/4 in", Dimension::Length, Unit::In, System::Us).unwrap();
/// assert_eq!((depth.quantity.value, depth.quantity.unit), (0.25, Unit::In));
/// let yielded = read("2,5 t/ha", Dimension::MassPerArea, Unit::TPerHa, System::Metric).unwrap();
/// assert_eq!(yielded.quantity.value, 2.5);
/// assert!(read("6 apples", Dimension::Length, Unit::In, System::Us).is_err());
/// ```
pub fn read(text: &str, dimension: Dimension, bare: Unit, reader: impl Into<Reader>) -> Result<Understood, String> {
    let Reader { system, currency } = reader.into();
    let text = text.trim();
    if text.is_empty() {
        return Err(format!("enter {}", dimension.words()));
    }
    let (paid, text) = without_sign(text, currency)?;
    let split = text
        .find(|c: char| !(c.is_ascii_digit() || " .,-+/\u{bd}\u{bc}\u{be}\u{a0}".contains(c)))
        .unwrap_or(text.len());
    // "/ft2" begins with a slash, which also stands inside a fraction.
    let (mut number, mut rest) = text.split_at(split);
    if let Some(slash) = number.rfind('/').filter(|at| !number[at + 1..].contains(|c: char| c.is_ascii_digit())) {
        (number, rest) = text.split_at(slash);
    }
    let value =
        number_of(number.trim()).ok_or_else(|| format!("“{text}” has no number; enter {}", dimension.words()))?;
    let money = bare.symbol().starts_with("money");
    // "90 /h" and "90 ARS/h" where money is asked for.
    let per = match rest.trim() {
        rest if money => named(rest, currency)?,
        _ => None,
    };
    let written = match (rest.trim(), per) {
        (_, Some(per)) => format!("money{per}"),
        ("", None) if paid => "money".to_owned(),
        (rest, None) if paid || (money && rest.starts_with('/')) => format!("money{rest}"),
        (rest, None) => rest.to_owned(),
    };
    if written.is_empty() {
        return Ok(Understood { quantity: Quantity::new(value, bare), note: None });
    }
    let (unit, note) = unit_of(&written, dimension, system)?;
    if unit.dimension() != dimension {
        return Err(format!("enter {}, not \u{201c}{written}\u{201d}", dimension.words()));
    }
    Ok(Understood { quantity: Quantity::new(value, unit), note })
}

/// What follows the sign or code of a currency; it must be the one that is paid in.
fn without_sign(text: &str, currency: Currency) -> Result<(bool, &str), String> {
    let own = [currency.sign().trim_end(), currency.code()].into_iter().find_map(|sign| text.strip_prefix(sign));
    if let Some(rest) = own {
        return Ok((true, rest.trim_start()));
    }
    match text.chars().next() {
        // Many currencies are written with a dollar sign where they are paid in.
        Some('$') if currency.sign().starts_with(currency.code()) => Ok((true, text[1..].trim_start())),
        Some('$' | '\u{20ac}' | '\u{a3}') => Err(format!("use {currency} here")),
        _ => Ok((false, text)),
    }
}

/// What is left of a unit of money behind the code of its currency; none where it names none.
fn named(unit: &str, currency: Currency) -> Result<Option<&str>, String> {
    let (code, per) = unit.split_at(unit.find('/').unwrap_or(unit.len()));
    let code = code.trim();
    let code = if code.eq_ignore_ascii_case("dollars") { "USD" } else { code };
    if code.eq_ignore_ascii_case(currency.code()) {
        return Ok(Some(per));
    }
    match code.to_uppercase().parse::<Currency>() {
        Ok(other) => Err(format!("use {currency} here, not {other}")),
        Err(_) => Ok(None),
    }
}

fn number_of(text: &str) -> Option<f64> {
    let glyph = |c| match c {
        '\u{bd}' => Some(0.5),
        '\u{bc}' => Some(0.25),
        '\u{be}' => Some(0.75),
        _ => None,
    };
    if let Some(last) = text.chars().last()
        && let Some(part) = glyph(last)
    {
        let whole = text.trim_end_matches(last).trim();
        return if whole.is_empty() { Some(part) } else { Some(number_of(whole)? + part) };
    }
    if let Some((left, below)) = text.split_once('/') {
        let (whole, above) = match left.trim().rsplit_once(' ') {
            Some((whole, above)) => (number_of(whole.trim())?, above),
            None => (0.0, left.trim()),
        };
        let below = plain(below.trim())?;
        return (below != 0.0).then_some(whole + plain(above)? / below);
    }
    plain(text)
}

/// 1,234.5 and 1 234,5 and 2,5 alike; a comma before exactly three digits groups thousands, unless what
/// stands before it can't be the first group of a number: nobody writes a thousand as 0,125.
fn plain(text: &str) -> Option<f64> {
    let text: String = text.chars().filter(|c| !" \u{a0}".contains(*c)).collect();
    let first = text.split(',').next().unwrap_or_default().trim_start_matches(['+', '-']);
    let leads = (1..=3).contains(&first.len()) && !first.starts_with('0');
    let grouped = leads && text.split(',').skip(1).all(|group| group.split('.').next().is_some_and(|g| g.len() == 3));
    let normal = match (text.contains(','), text.rfind(','), text.rfind('.')) {
        (false, ..) => text,
        (true, Some(comma), Some(dot)) if comma > dot => text.replace('.', "").replace(',', "."),
        _ if grouped => text.replace(',', ""),
        _ => text.replacen(',', ".", 1),
    };
    normal.parse().ok().filter(|value: &f64| value.is_finite())
}

fn unit_of(written: &str, dimension: Dimension, system: System) -> Result<(Unit, Option<String>), String> {
    let lower = written.to_lowercase().replace(['\u{b2}', '^'], "2").replace("22", "2");
    let lower = lower.replace(" per ", "/").replace([' ', '.'], "");
    let lower =
        lower.trim_start_matches("seeds").trim_start_matches("plants").replace("acres", "ac").replace("acre", "ac");
    let lower = lower.replace("1,000", "1000").replace("sqft", "ft2").replace("squarefeet", "ft2");
    let lower = lower.replace("squarefoot", "ft2").replace("/1000sf", "/1000ft2");
    // As labels write rates: "22 fluid ounces per acre", "1 1/2 pints/a".
    let lower = [
        ("fluidounces", "floz"),
        ("fluidounce", "floz"),
        ("ounces", "oz"),
        ("ounce", "oz"),
        ("pints", "pt"),
        ("pint", "pt"),
        ("pts", "pt"),
        ("quarts", "qt"),
        ("quart", "qt"),
        ("qts", "qt"),
        ("gallons", "gal"),
        ("kilograms", "kg"),
        ("grams", "g"),
        ("hectares", "ha"),
        ("hectare", "ha"),
    ]
    .iter()
    .fold(lower, |text, (long, short)| text.replace(long, short));
    let lower = match lower.strip_suffix("/a") {
        Some(rest) if !rest.is_empty() => format!("{rest}/ac"),
        _ => lower,
    };
    let tons = |us: Unit, metric: Unit| match system {
        System::Us => (us, Some("read as short tons (2,000 lb)".to_owned())),
        System::Metric => (metric, Some("read as tonnes (1,000 kg)".to_owned())),
    };
    let plainly = |unit| (unit, None);
    let found = match lower.as_str() {
        "t" | "ton" | "tons" => tons(Unit::Ton, Unit::T),
        "t/ac" | "ton/ac" | "tons/ac" | "tpa" => plainly(Unit::TonPerAc),
        "t/ha" | "ton/ha" | "tons/ha" | "tonnes/ha" => plainly(Unit::TPerHa),
        "tonne" | "tonnes" => plainly(Unit::T),
        "lbs/1000ft2" => plainly(Unit::LbPer1000Ft2),
        "oz/1000ft2" if dimension == Dimension::VolumePerArea => {
            (Unit::FlOzPer1000Ft2, Some("taken as fluid ounces".to_owned()))
        }
        "mmhos/cm" | "mmho/cm" | "ms/cm" | "dsm" => plainly(Unit::DsPerM),
        "lb/a" | "lbs/ac" | "lbs/a" | "#/ac" => plainly(Unit::LbPerAc),
        "lbs" | "pound" | "pounds" | "#" => plainly(Unit::Lb),
        "\"" | "inch" | "inches" | "\u{201d}" => plainly(Unit::In),
        "'" | "feet" | "foot" => plainly(Unit::Ft),
        "f" | "\u{b0}f" => plainly(Unit::DegF),
        "c" | "\u{b0}c" => plainly(Unit::DegC),
        "degcd" | "\u{b0}cd" => plainly(Unit::DegCDay),
        "degfd" | "\u{b0}fd" => plainly(Unit::DegFDay),
        "a" => plainly(Unit::Ac),
        "hr" | "hrs" | "hour" | "hours" => plainly(Unit::H),
        "sec" | "secs" | "second" | "seconds" => plainly(Unit::S),
        "ml" | "cc" => plainly(Unit::Ml),
        // A label that pours says ounces and means fluid ones.
        "oz" if dimension == Dimension::Volume => (Unit::FlOz, Some("taken as fluid ounces".to_owned())),
        "oz/ac" if dimension == Dimension::VolumePerArea => (Unit::FlOzPerAc, Some("taken as fluid ounces".to_owned())),
        "sqft" | "sq ft" | "ft\u{b2}" => plainly(Unit::Ft2),
        "sqm" | "m\u{b2}" => plainly(Unit::M2),
        "mins" | "minute" | "minutes" => plainly(Unit::Min),
        "ac/hr" | "a/h" => plainly(Unit::AcPerH),
        "ha/hr" => plainly(Unit::HaPerH),
        "money/hr" | "money/hour" => plainly(Unit::MoneyPerH),
        "kmh" | "kph" => plainly(Unit::KmPerH),
        "litre" | "litres" | "liter" | "liters" => plainly(Unit::L),
        "gallon" | "gallons" | "gals" => plainly(Unit::Gal),
        "pct" | "percent" => plainly(Unit::Percent),
        "/sqft" => plainly(Unit::PerFt2),
        "/a" => plainly(Unit::PerAc),
        "money/a" => plainly(Unit::MoneyPerAc),
        "money/lbnutrient" => plainly(Unit::MoneyPerLbNutrient),
        "money/kgnutrient" => plainly(Unit::MoneyPerKgNutrient),
        other => {
            let unit = Unit::ALL.iter().copied().find(|unit| unit.symbol().eq_ignore_ascii_case(other));
            plainly(unit.ok_or_else(|| format!("“{written}” is not a known unit; enter {}", dimension.words()))?)
        }
    };
    Ok(found)
}
