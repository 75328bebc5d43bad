//! Who reads: in which units, and what money is called where they pay with it.

use std::{fmt, str::FromStr};

use serde::{Deserialize, Serialize, de};
use thiserror::Error;

use super::System;

/// The money of a farm, by its code of ISO 4217. Amounts of money carry none: all of a farm's are in the same.
///
/// ```
/// use facts::units::Currency;
/// let pesos: Currency = "ARS".parse().unwrap();
/// assert_eq!((Currency::default().sign(), pesos.sign()), ("$", "ARS\u{a0}"));
/// assert!("pesos".parse::<Currency>().is_err());
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub struct Currency {
    // Three capitals, and the space that parts them from a number.
    code: [u8; 5],
}

/// Three letters that are none.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
#[error("use a three-letter currency code, e.g. USD or EUR")]
pub struct NoCurrency;

impl Currency {
    /// Its code, such as `EUR`.
    pub fn code(&self) -> &str {
        self.written(3)
    }

    /// What stands before an amount: `$`, `€`, `£`, and otherwise the code.
    pub fn sign(&self) -> &str {
        match self.code() {
            "USD" => "$",
            "EUR" => "\u{20ac}",
            "GBP" => "\u{a3}",
            _ => self.written(5),
        }
    }

    fn written(&self, bytes: usize) -> &str {
        std::str::from_utf8(&self.code[..bytes]).unwrap_or_default()
    }
}

impl Default for Currency {
    fn default() -> Self {
        Self { code: *b"USD\xc2\xa0" }
    }
}

impl FromStr for Currency {
    type Err = NoCurrency;

    fn from_str(text: &str) -> Result<Self, NoCurrency> {
        match text.as_bytes() {
            &[a, b, c] if [a, b, c].iter().all(u8::is_ascii_uppercase) => Ok(Self { code: [a, b, c, 0xc2, 0xa0] }),
            _ => Err(NoCurrency),
        }
    }
}

impl fmt::Display for Currency {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.code())
    }
}

impl Serialize for Currency {
    fn serialize<S: serde::Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_str(self.code())
    }
}

impl<'de> Deserialize<'de> for Currency {
    fn deserialize<D: serde::Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        let text = <std::borrow::Cow<'de, str>>::deserialize(deserializer)?;
        text.parse().map_err(de::Error::custom)
    }
}

/// Whoever reads an answer.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default)]
pub struct Reader {
    /// The units they read.
    pub system: System,
    /// What money is called there.
    pub currency: Currency,
}

impl From<System> for Reader {
    /// Who pays in dollars, until something else is told.
    fn from(system: System) -> Self {
        Self { system, currency: Currency::default() }
    }
}
