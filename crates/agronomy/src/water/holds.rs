//! How soils hold water, and how fast they let it go.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{Holds, holds};
use crate::{
    refusal::{Checks, Refused},
    said,
    texture::Texture,
    units::{Fraction, Length, Measure, Unit},
};

/// A soil's own figures, from a test or a soil survey, where they are known; what is absent is its texture's.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct OwnSoil {
    /// Water at field capacity, by volume.
    #[serde(default)]
    pub field_capacity: Option<Fraction>,
    /// Water at the wilting point, by volume.
    #[serde(default)]
    pub wilting_point: Option<Fraction>,
    /// Evaporated at full speed before the surface dries.
    #[serde(default)]
    pub readily_evaporable: Option<Length>,
    /// Runoff curve number.
    #[serde(default)]
    pub curve_number: Option<f64>,
}

impl OwnSoil {
    /// How a soil of a texture holds water, with its own figures where they are known.
    ///
    /// # Errors
    /// Water that no soil holds, a wilting point at or above field capacity, a curve number out of range.
    pub fn over(self, texture: Texture) -> Result<Holds, Refused> {
        let of_texture = holds(texture);
        let mut checks = Checks::new();
        if let Some(share) = self.field_capacity {
            checks.within("/field_capacity", "Field capacity", share, Unit::Percent, 3.0, 80.0);
        }
        if let Some(share) = self.wilting_point {
            checks.within("/wilting_point", "Wilting point", share, Unit::Percent, 0.0, 70.0);
        }
        if let Some(depth) = self.readily_evaporable {
            checks.within("/readily_evaporable", "Readily evaporable water", depth, Unit::Mm, 1.0, 15.0);
        }
        if let Some(number) = self.curve_number {
            let detail = said!("Curve number is {}; enter 30–98", number);
            checks.require((30.0..=98.0).contains(&number), "/curve_number", detail);
        }
        let share = |own: Option<Fraction>, of_texture: f64| own.map_or(of_texture, Measure::base);
        let holds = Holds {
            field_capacity: share(self.field_capacity, of_texture.field_capacity),
            wilting_point: share(self.wilting_point, of_texture.wilting_point),
            readily_evaporable: self.readily_evaporable.map_or(of_texture.readily_evaporable, Measure::base),
            curve_number: self.curve_number.unwrap_or(of_texture.curve_number),
        };
        if holds.wilting_point + 0.01 > holds.field_capacity {
            let at = if self.wilting_point.is_some() { "/wilting_point" } else { "/field_capacity" };
            let percent = |share: f64| Fraction::from_base(share).quantity();
            let detail = said!(
                "Wilting point is {} and field capacity {}; field capacity must be higher",
                percent(holds.wilting_point),
                percent(holds.field_capacity)
            );
            checks.refuse(at, detail);
        }
        checks.done().map(|()| holds)
    }
}
