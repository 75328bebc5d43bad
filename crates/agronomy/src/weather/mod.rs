//! Weather years, and what follows from them day by day.
//!
//! A station's record is [`Years`]: one [`Day`] after another, what was not measured left open.
//! Nothing here fills a gap in silence: reading ([`csv`]) reports what is missing or can't be, and
//! whoever counts years leaves out those it can't tell about and says how many.
//!
//! | module | what |
//! |---|---|
//! | [`sun`] | day length and radiation |
//! | [`et0`] | reference evapotranspiration |
//! | [`degree_days`] | warmth above a base, by a named method |
//! | [`frost`] | last and first frosts at three thresholds |
//! | [`soil_temperature`] | the soil at seed depth, from the air above it |
//! | [`band`] | what is usual on each day, and this year against it |
//! | [`generator`] | years of weather for any place, from its monthly normals |
//! | [`usual`] | what climate tables print, and years made from it |
//! | [`usual_year`] | green-up and the killing frost of a usual year |
//! | [`csv`] | files in and out |
//!
//! Numbers in long series are plain: °C, mm, MJ/m², m/s; single answers carry their units.
//!
//! ```
//! use agronomy::weather::sun::sky_on;
//! use jiff::civil::date;
//!
//! // FAO-56 example 8: 20° south on 3 September
//! let sky = sky_on(-20.0, date(1998, 9, 3));
//! assert!((sky.extraterrestrial - 32.2).abs() < 0.05);
//! ```

pub mod ahead;
pub mod band;
pub mod climate;
pub mod csv;
pub mod degree_days;
pub mod et0;
pub mod frost;
mod input;
pub mod soil_temperature;
pub mod sun;
pub mod usual;
pub mod usual_year;

pub use input::{GenerateRequest, Generated, WeatherInput, generate};
pub use kernels::{
    forecast::Forecast,
    generator,
    normals::{Normals, place_normals},
    snow,
};

pub use kernels::day::{Basis, Day, Place, Years, days_between, plus, warm_middle, year_start};
