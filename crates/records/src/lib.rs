//! Records: what people write down, each kind declared once.
//!
//! A kind is one file in [`kinds`]: the shape it is stored in, its word and version, what it is about,
//! who may write it, what can't be, what it says, how older versions are read, and what it changes in
//! a [`book`]. The list in `kinds/mod.rs` names it once; ledger, API, OpenAPI document, role checks and
//! screens take it from there.
//!
//! Stored shapes are this crate's own and frozen: words, numbers and measures, never the types that the
//! reckonings use, which change with them. A shape that has to change gets a new version and an upgrade
//! from the one before; `fixtures/<kind>.v<N>.json` keeps an example of each for ever.
//!
//! ```
//! use records::{Payload, kind};
//!
//! let note = Payload::stored_as("note", 1, serde_json::json!({"text": "frost on the low ground"})).unwrap();
//! assert_eq!(note.says().to_string(), "frost on the low ground");
//! assert_eq!(kind("note").unwrap().title, "Note");
//! assert!(Payload::stored_as("note", 99, serde_json::json!({})).is_err());
//! ```

pub mod book;
mod choices;
mod closes;
mod entry;
pub mod kinds;
mod record;
mod shape;
mod subject;
pub mod typed;

pub use choices::{Choices, Cover, Extra, LimeChoice, LotChoice, NutrientChoice, PlantsChoice, check};
pub use closes::Closes;
pub use entry::{Content, Entry, Via};
pub use kinds::{KINDS, Payload, kind};
pub use record::{By, Founds, Kind, Record, Unreadable};
pub use subject::{About, Kept, Part, Subject, SubjectKind};

pub use kinds::{
    choices::{Goal, LimeMethod},
    dressing::{DressingKind, EffectiveLime},
};
