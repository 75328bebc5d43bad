//! How the members of a mix drive one another out.

use std::sync::LazyLock;

use serde::Deserialize;

use super::design::MixUse;
use crate::crop::{Crop, Ease, Grade, Habit, Height, Kind, Life, library};

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Vigour {
    easy: f64,
    fair: f64,
    slow: f64,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct ByHeight {
    tall: f64,
    medium: f64,
    short: f64,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct ByHabit {
    sod: f64,
    crown: f64,
    bunch: f64,
    upright: f64,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct ByGrade {
    good: f64,
    fair: f64,
    poor: f64,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Doubt {
    first: f64,
    yearly: f64,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Beside {
    crop: String,
    others: Vec<String>,
    rate: f64,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct File {
    vigour: Vigour,
    cut: ByHeight,
    grazed: ByHeight,
    habit: ByHabit,
    grazing: ByGrade,
    past_its_years: f64,
    legume_thins: f64,
    doubt: Doubt,
    beside: Vec<Beside>,
}

fn file() -> &'static File {
    static FILE: LazyLock<File> = LazyLock::new(|| {
        let text = include_str!("../../../../library/rivalry.toml");
        let file: File = toml::from_str(text).unwrap_or_else(|error| panic!("rivalry.toml: {error}"));
        let named = file.beside.iter().flat_map(|one| one.others.iter().chain([&one.crop]));
        if let Some(unknown) = named.into_iter().find(|id| library().crop(id).is_none()) {
            panic!("rivalry.toml: no crop {unknown} in the library");
        }
        file
    });
    &FILE
}

/// Shares of a stand a year on, by relative rates: sᵢ′ = kᵢsᵢ ÷ Σkⱼsⱼ (de Wit 1960, On competition).
///
/// ```
/// // 30 % clover that gains by 1.25 a year on its grass holds 45.6 % three years on.
/// let mut shares = vec![0.3, 0.7];
/// for _ in 0..3 {
///     shares = agronomy::mix::replaced(&shares, &[1.25, 1.0]);
/// }
/// assert!((shares[0] - 0.45565).abs() < 5e-6);
/// ```
pub fn replaced(shares: &[f64], rates: &[f64]) -> Vec<f64> {
    let all: f64 = shares.iter().zip(rates).map(|(share, rate)| share * rate).sum();
    let of = |(share, rate): (&f64, &f64)| if all > 0.0 { share * rate / all } else { 0.0 };
    shares.iter().zip(rates).map(of).collect()
}

/// How a seed comes on in the first year beside others.
pub(super) fn vigour(crop: &Crop) -> f64 {
    let vigour = &file().vigour;
    match crop.stand.ease {
        Ease::Easy => vigour.easy,
        Ease::Fair => vigour.fair,
        Ease::Slow => vigour.slow,
    }
}

fn by_height(table: &ByHeight, height: Height) -> f64 {
    match height {
        Height::Tall => table.tall,
        Height::Medium => table.medium,
        Height::Short => table.short,
    }
}

/// The year from which on a legume of single crowns thins out of a mix.
const LEGUMES_THIN_FROM: usize = 2;

/// How much room a crop gains from a year to the next beside others, year 1 being that of the sowing.
pub(super) fn rate(crop: &Crop, others: &[&Crop], used: MixUse, year: usize) -> f64 {
    if crop.life == Life::Annual {
        return 0.0;
    }
    let file = file();
    let habit = match crop.habit {
        Habit::Sod => file.habit.sod,
        Habit::Crown => file.habit.crown,
        Habit::Bunch => file.habit.bunch,
        Habit::Upright => file.habit.upright,
    };
    let mouth = match crop.stand.grazing {
        Grade::Good => file.grazing.good,
        Grade::Fair => file.grazing.fair,
        Grade::Poor => file.grazing.poor,
    };
    let cut = by_height(&file.cut, crop.height);
    let grazed = by_height(&file.grazed, crop.height) * mouth;
    let use_of_it = match used {
        MixUse::Cut => cut,
        MixUse::Grazed => grazed,
        MixUse::Both => (cut * grazed).sqrt(),
    };
    let life = crop.stand.years.high.max(1) as usize;
    let last = if crop.life == Life::ShortPerennial { life.min(2) } else { life };
    let past = if year >= last { file.past_its_years } else { 1.0 };
    // What spreads sets new plants where old ones die; a legume of single crowns has as many as it began with, and fewer.
    let crowns = crop.kind == Kind::Legume && !matches!(crop.habit, Habit::Sod);
    let age = if crowns && year >= LEGUMES_THIN_FROM { past.min(file.legume_thins) } else { past };
    let shaded = file.beside.iter().filter(|one| one.crop == crop.id);
    let shaded = shaded.filter(|one| others.iter().any(|other| one.others.contains(&other.id)));
    shaded.map(|one| one.rate).fold(use_of_it * habit * age, |rate, beside| rate * beside)
}

/// A share as it may be off after so many years: by the odds, so that it stays a share.
pub(super) fn doubtful(share: f64, year: usize) -> (f64, f64) {
    if share <= 0.0 || share >= 1.0 {
        return (share, share);
    }
    let doubt = &file().doubt;
    let off = doubt.first + doubt.yearly * (year.saturating_sub(1) as f64);
    let odds = (share / (1.0 - share)).ln();
    let back = |odds: f64| 1.0 / (1.0 + (-odds).exp());
    (back(odds - off), back(odds + off))
}
