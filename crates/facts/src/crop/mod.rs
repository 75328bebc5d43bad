//! The crop library: one data file per crop, every value with its source, validated at load.
//!
//! The files stand in `library/crops`, the sources they name in `library/sources.toml`; both are
//! embedded in the binary. A value is a [`Figure`] (one number) or a [`Band`] (a range with the
//! rule that picks inside it), never a silent midpoint.

mod bushel;
mod facts;
mod figure;
mod library;
mod nutrition;
mod of;
mod rotation;
mod season;
mod stand;

pub use bushel::read_amount;
pub use facts::{
    ClimateFacts, Crop, CuttingFacts, DormantKind, Drainage, EmergenceFacts, EstablishFacts, GOALS, GrowthFacts, Habit,
    Height, Kind, Life, Pathway, PlantingFacts, SaltFacts, SeedBox, SeedFacts, SiteNeeds, SoilFacts, SowingFacts,
};
pub use figure::{Band, Days, Figure};
pub use library::{Library, LibraryError, library};
pub use nutrition::{NitrogenByYield, NitrogenRule, NutritionFacts, RemovalFacts};
pub use of::{crop_of, sowing_of};
pub use rotation::{ActiveWait, PlantBack, Rotation};
pub use season::{SeasonFacts, SeasonTable};
pub use stand::{Ease, Grade, StandFacts, Years};
