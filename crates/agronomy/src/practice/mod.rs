//! Operations and practices: what is done on a stand, and by which school, as data.
//!
//! An [`Operation`] is something that is done, with its words, its mark and the kind of record that inks
//! it (`library/operations`, a file each). A [`Practice`] is a school of making a stand: a template of
//! [`Template`] steps that name an operation, when it is done, after what, how often and by how much
//! (`library/practices`, a file each; what several share stands once, in `library/steps.toml`). A [`Regime`] is a way of using and keeping a stand that is made: what comes in each
//! season, and each time (`library/regimes`, a file each). The planner expands them to dated steps; nothing about a step
//! is written in code.

mod load;
mod operation;
mod regime;
mod template;

pub use load::{PracticeError, operation, operations, practice, practices, regime, regimes};
pub use operation::{Ask, Operation, Role, Setting, Variant};
pub use regime::{
    Chain, Comes, DaysOf, Each, OfCutting, Once, Regime, RegimeStep, SeasonAnchor, SeasonEdge, Span, Which,
};
pub use template::{
    Amount, Anchor, Asked, Condition, Counts, CropDays, Edge, Gate, OfCrop, Practice, Reason, Repeats, Situation,
    Template,
};
