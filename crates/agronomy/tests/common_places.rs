//! Ten very different places, by their monthly normals (rounded, of no station in particular, from memory).

use agronomy::weather::{Normals, Years, generator::Climate, place_normals};
use jiff::civil::date;

/// Their names.
pub const PLACES: [&str; 10] = [
    "northern hills",
    "boreal",
    "cold plains",
    "warm south",
    "gulf coast",
    "irrigated desert",
    "southern temperate",
    "tropical highland",
    "tropical lowland",
    "maritime",
];

/// A year as warm as a cosine around its mean; `wet` are days of rain in a month.
fn made(latitude: f64, elevation: f64, mean: f64, swing: f64, range: f64, rain: [f64; 12], wet: f64) -> Normals {
    let north = latitude >= 0.0;
    let warmth = |month: usize| {
        // The coldest in the middle of January, or of July.
        let turn = (month as f64 - if north { 0.0 } else { 6.0 }) / 12.0 * std::f64::consts::TAU;
        mean - swing * turn.cos()
    };
    let each = |of: &dyn Fn(f64) -> f64| std::array::from_fn(|month| of(warmth(month)));
    let spread = |month: usize| if swing > 8.0 { 3.0 + 3.0 * ((mean - warmth(month)) / swing).max(0.0) } else { 2.0 };
    Normals {
        latitude,
        elevation,
        tmin: each(&|warm| warm - range / 2.0),
        tmax: each(&|warm| warm + range / 2.0),
        spread: std::array::from_fn(spread),
        rain,
        wet_days: rain.map(|mm| (mm / 9.0).clamp(0.5, wet)),
        wind: [2.4; 12],
    }
}

pub fn normals(place: &str) -> Normals {
    match place {
        "northern hills" => place_normals("northern-hills").unwrap(),
        "southern temperate" => place_normals("southern-plains").unwrap(),
        "tropical highland" => place_normals("tropical-highland").unwrap(),
        "boreal" => {
            made(61.5, 120.0, 2.0, 13.5, 9.0, [32., 26., 28., 30., 38., 55., 72., 74., 58., 52., 46., 40.], 14.0)
        }
        // Snow from November to April.
        "cold plains" => {
            made(50.0, 500.0, 2.5, 17.5, 11.0, [24., 19., 26., 31., 60., 96., 86., 67., 50., 31., 26., 26.], 12.0)
        }
        "warm south" => made(
            33.0,
            150.0,
            16.5,
            10.0,
            12.0,
            [118., 116., 128., 98., 86., 100., 112., 96., 84., 76., 86., 104.],
            11.5,
        ),
        "gulf coast" => {
            made(29.8, 15.0, 20.2, 8.6, 11.0, [110., 96., 98., 92., 106., 140., 150., 140., 120., 92., 98., 102.], 12.0)
        }
        "irrigated desert" => {
            made(33.0, 30.0, 23.0, 10.5, 15.0, [12., 10., 7., 3., 1., 1., 4., 8., 6., 6., 6., 10.], 3.0)
        }
        "tropical lowland" => {
            made(6.0, 60.0, 26.8, 1.0, 9.0, [40., 60., 110., 180., 220., 190., 160., 170., 210., 230., 160., 70.], 18.0)
        }
        "maritime" => {
            made(52.0, 60.0, 10.6, 6.4, 7.4, [70., 52., 54., 54., 56., 60., 58., 66., 64., 80., 80., 76.], 15.0)
        }
        other => panic!("{other} is none of the places"),
    }
}

pub fn years(place: &str, count: i16) -> Years {
    Climate::new(&normals(place)).years(11, date(2001, 1, 1), date(2000 + count, 12, 31))
}
