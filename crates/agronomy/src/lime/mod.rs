//! Lime: how much, of what, when, and what becomes of it.
//!
//! The chain is where the costliest slips happen, so each link is kept apart:
//!
//! 1. a [`need`] is an amount of a school's **reference material** for its **reference depth**,
//!    never a bare mass;
//! 2. a [`Material`] has an **effective value**: its calcium carbonate equivalent × the share that
//!    its fineness lets react × what is not water;
//! 3. the **rate** of a material = need × reference effective value ÷ its own × depth ÷ reference
//!    depth;
//! 4. the [`path`] follows pH month by month, up as the lime dissolves, down as nitrogen and
//!    harvests acidify.

mod material;
mod need;
mod path;
mod schools;

pub use material::{
    ComparedMaterial, LimeKind, Material, MaterialComparison, MaterialRequest, Reacts, Sieve, compare, effective_value,
    library_materials,
};
pub use need::{LimeNeed, LimeRequest, Pass, Placement, need, target_ph};
pub use path::{Acidifier, LimeDose, PathMonth, PathRequest, PhPath, nitrogen_acidity, path};
pub use schools::LimeSchool;
