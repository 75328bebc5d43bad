//! Whether all numbers of an answer are numbers.
//!
//! JSON has no word for an infinity or for what is no number: written as JSON they turn into `null`, which a reader
//! takes for "not asked" or "none". So an answer is walked through before it is written, and one that holds such a
//! number is no answer.

use std::fmt::{self, Display};

use serde::ser::{self, Serialize};

/// Where a number is none: keys and places from the outside inwards.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct NotFinite(Vec<String>);

impl Display for NotFinite {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let place: Vec<&str> = self.0.iter().rev().map(String::as_str).collect();
        write!(f, "{}", place.join("/"))
    }
}

impl std::error::Error for NotFinite {}

impl ser::Error for NotFinite {
    fn custom<T: Display>(message: T) -> Self {
        Self(vec![message.to_string()])
    }
}

impl NotFinite {
    fn under(mut self, key: impl Display) -> Self {
        self.0.push(key.to_string());
        self
    }
}

/// Nothing, when every number in a value is one.
///
/// # Errors
/// The place of the first that is none.
///
/// ```
/// use server::finite::all_finite;
/// assert!(all_finite(&(1.0, "two", Some(3.0))).is_ok());
/// let error = all_finite(&[("a", vec![1.0, f64::NAN])]).unwrap_err();
/// assert_eq!(error.to_string(), "0/1/1");
/// ```
pub fn all_finite(value: &impl Serialize) -> Result<(), NotFinite> {
    value.serialize(Walk)
}

/// Walks and keeps nothing.
struct Walk;

/// Inside of a list, an object or a tuple, at a place.
struct Inside {
    at: usize,
}

impl Inside {
    fn element<T: Serialize + ?Sized>(&mut self, value: &T) -> Result<(), NotFinite> {
        let at = self.at;
        self.at += 1;
        value.serialize(Walk).map_err(|error| error.under(at))
    }
}

macro_rules! nothing {
    ($($method:ident: $kind:ty),*) => {
        $(fn $method(self, _: $kind) -> Result<(), NotFinite> { Ok(()) })*
    };
}

impl ser::Serializer for Walk {
    type Ok = ();
    type Error = NotFinite;
    type SerializeSeq = Inside;
    type SerializeTuple = Inside;
    type SerializeTupleStruct = Inside;
    type SerializeTupleVariant = Inside;
    type SerializeMap = Inside;
    type SerializeStruct = Inside;
    type SerializeStructVariant = Inside;

    nothing!(serialize_bool: bool, serialize_i8: i8, serialize_i16: i16, serialize_i32: i32, serialize_i64: i64,
        serialize_u8: u8, serialize_u16: u16, serialize_u32: u32, serialize_u64: u64, serialize_char: char,
        serialize_str: &str, serialize_bytes: &[u8], serialize_unit_struct: &'static str);

    fn serialize_f32(self, value: f32) -> Result<(), NotFinite> {
        self.serialize_f64(f64::from(value))
    }

    fn serialize_f64(self, value: f64) -> Result<(), NotFinite> {
        if value.is_finite() { Ok(()) } else { Err(NotFinite(vec![])) }
    }

    fn serialize_none(self) -> Result<(), NotFinite> {
        Ok(())
    }

    fn serialize_unit(self) -> Result<(), NotFinite> {
        Ok(())
    }

    fn serialize_some<T: Serialize + ?Sized>(self, value: &T) -> Result<(), NotFinite> {
        value.serialize(self)
    }

    fn serialize_unit_variant(self, _: &'static str, _: u32, _: &'static str) -> Result<(), NotFinite> {
        Ok(())
    }

    fn serialize_newtype_struct<T: Serialize + ?Sized>(self, _: &'static str, value: &T) -> Result<(), NotFinite> {
        value.serialize(self)
    }

    fn serialize_newtype_variant<T: Serialize + ?Sized>(
        self,
        _: &'static str,
        _: u32,
        variant: &'static str,
        value: &T,
    ) -> Result<(), NotFinite> {
        value.serialize(self).map_err(|error| error.under(variant))
    }

    fn serialize_seq(self, _: Option<usize>) -> Result<Inside, NotFinite> {
        Ok(Inside { at: 0 })
    }

    fn serialize_tuple(self, _: usize) -> Result<Inside, NotFinite> {
        Ok(Inside { at: 0 })
    }

    fn serialize_tuple_struct(self, _: &'static str, _: usize) -> Result<Inside, NotFinite> {
        Ok(Inside { at: 0 })
    }

    fn serialize_tuple_variant(self, _: &'static str, _: u32, _: &'static str, _: usize) -> Result<Inside, NotFinite> {
        Ok(Inside { at: 0 })
    }

    fn serialize_map(self, _: Option<usize>) -> Result<Inside, NotFinite> {
        Ok(Inside { at: 0 })
    }

    fn serialize_struct(self, _: &'static str, _: usize) -> Result<Inside, NotFinite> {
        Ok(Inside { at: 0 })
    }

    fn serialize_struct_variant(self, _: &'static str, _: u32, _: &'static str, _: usize) -> Result<Inside, NotFinite> {
        Ok(Inside { at: 0 })
    }
}

macro_rules! elements {
    ($($kind:ident $method:ident),*) => {
        $(impl ser::$kind for Inside {
            type Ok = ();
            type Error = NotFinite;

            fn $method<T: Serialize + ?Sized>(&mut self, value: &T) -> Result<(), NotFinite> {
                self.element(value)
            }

            fn end(self) -> Result<(), NotFinite> {
                Ok(())
            }
        })*
    };
}

elements!(
    SerializeSeq serialize_element,
    SerializeTuple serialize_element,
    SerializeTupleStruct serialize_field,
    SerializeTupleVariant serialize_field
);

macro_rules! fields {
    ($($kind:ident),*) => {
        $(impl ser::$kind for Inside {
            type Ok = ();
            type Error = NotFinite;

            fn serialize_field<T: Serialize + ?Sized>(&mut self, key: &'static str, value: &T) -> Result<(), NotFinite> {
                value.serialize(Walk).map_err(|error| error.under(key))
            }

            fn end(self) -> Result<(), NotFinite> {
                Ok(())
            }
        })*
    };
}

fields!(SerializeStruct, SerializeStructVariant);

impl ser::SerializeMap for Inside {
    type Ok = ();
    type Error = NotFinite;

    fn serialize_key<T: Serialize + ?Sized>(&mut self, _: &T) -> Result<(), NotFinite> {
        Ok(())
    }

    fn serialize_value<T: Serialize + ?Sized>(&mut self, value: &T) -> Result<(), NotFinite> {
        self.element(value)
    }

    fn end(self) -> Result<(), NotFinite> {
        Ok(())
    }
}
