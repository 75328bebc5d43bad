//! While it is sown: is the seed at its depth, and will it last?

mod depth;
mod planting;
mod progress;

pub use depth::{DepthAnswer, DepthRequest, DepthVerdict, depth_check};
pub use planting::{Planting, PlantingRequest, planting_progress};
pub use progress::{Progress, ProgressRequest, ProgressVerdict, sowing_progress};
