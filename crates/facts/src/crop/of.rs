//! The library's crops as requests name them.

use super::{Crop, SowingFacts, library};
use crate::refusal::Refused;

/// The library's crop of an id, as a refusal when there is none.
///
/// # Errors
/// At the pointer given.
pub fn crop_of<'a>(id: &str, pointer: &str) -> Result<&'a Crop, Refused> {
    library().crop(id).ok_or_else(|| {
        let known: Vec<_> = library().crops().map(|crop| crop.id.as_str()).collect();
        Refused::one(pointer, format!("“{id}” is not in the library; choose from {}", known.join(", ")))
    })
}

/// The crop's sowing facts, as a refusal when it is not grown from seed.
///
/// # Errors
/// At the pointer given.
pub fn sowing_of<'a>(crop: &'a Crop, pointer: &str) -> Result<&'a SowingFacts, Refused> {
    crop.sowing
        .as_ref()
        .ok_or_else(|| Refused::one(pointer, format!("{} is planted, not sown; use plants.count", crop.name)))
}
