//! The crop library: one data file per crop, every value with its source, validated at load.
//!
//! The files stand in `library/crops`, the sources they name in `library/sources.toml`; both are
//! embedded in the binary. A value is a [`Figure`] (one number) or a [`Band`] (a range with the
//! rule that picks inside it), never a silent midpoint.

mod facts;
mod library;
mod of;
mod rotation;
mod season;

pub use facts::{
    Band, Crop, CuttingFacts, Days, DormantKind, Drainage, Ease, EmergenceFacts, EstablishFacts, Figure, GOALS, Grade,
    GrowthFacts, Habit, Height, Kind, Life, NitrogenByYield, NitrogenRule, NutritionFacts, Pathway, PlantingFacts,
    RemovalFacts, SeedBox, SeedFacts, SiteNeeds, SoilFacts, SowingFacts, StandFacts, Years,
};
pub use library::{Library, LibraryError, library};
pub use of::{crop_of, sowing_of};
pub use rotation::{ActiveWait, PlantBack, Rotation};
pub use season::{SeasonFacts, SeasonTable};
