//! The topic `variety.choose`.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::kinds::{VarietyKind, variety_kinds};
use crate::{
    chance::{spread, student_quantile},
    crop::{Crop, crop_of},
    refusal::{Checks, Refused},
    said,
    said::Said,
    source::{Origin, Source},
    units::{Fraction, MassPerArea, Measure, Temperature, Unit},
    working::{Answer, Sheet},
};

/// Trials worth as much as knowing nothing: one trial moves the estimate a third of the way, four two thirds (assumed).
const WORTH: f64 = 2.0;
/// Most of a farm's own.
const MOST_OWN: usize = 100;
/// Most trials of one.
const MOST_TRIALS: usize = 60;

/// A result of a trial.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = VarietyTrialResult)]
pub struct Trial {
    /// Of the variety.
    #[serde(rename = "yield")]
    pub yielded: MassPerArea,
    /// Of all varieties in that trial and year.
    pub mean: MassPerArea,
}

/// A variety of a farm's own.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct OwnVariety {
    /// What it is called.
    pub name: String,
    /// Key of its kind, where that is known.
    #[serde(default)]
    pub kind: Option<String>,
    /// Fall dormancy, 1 to 11.
    #[serde(default)]
    pub dormancy: Option<f64>,
    /// Its results in trials.
    #[serde(default)]
    pub trials: Vec<Trial>,
}

/// Request of the topic `variety.choose`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct VarietyRequest {
    /// Crop of the library.
    pub crop: String,
    /// The coldest night of a usual winter.
    #[serde(default)]
    pub winter: Option<Temperature>,
    /// Days from the sowing to the killing frost.
    #[serde(default)]
    pub days_to_frost: Option<f64>,
    /// The farm's own.
    #[serde(default)]
    pub own: Vec<OwnVariety>,
}

/// Whether something fits.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[schema(as = VarietyFit)]
pub enum Fit {
    /// It does.
    Fits,
    /// What would tell is not known.
    Unknown,
    /// It does not.
    Unfit,
}

/// A kind, and whether it fits.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[schema(as = VarietyKindFit)]
pub struct KindFit {
    /// Its key.
    pub key: String,
    /// In words.
    pub name: String,
    /// What for.
    pub about: String,
    /// Whether it fits.
    pub fit: Fit,
    /// Why it does not, or what is not known.
    pub why: Option<Said>,
}

/// What trials say of a variety.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct TrialStanding {
    /// How many.
    pub trials: usize,
    /// Its yield, of the mean of its trials.
    pub of_mean: Fraction,
    /// 90 % interval of that, by Student's t; none of a single trial.
    pub interval: Option<[Fraction; 2]>,
    /// What is to be expected of it: drawn towards the mean, the more the fewer the trials.
    pub expected: Fraction,
}

/// A variety of the farm's own, in the order of what is to be expected.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[schema(as = OwnVarietyFit)]
pub struct OwnFit {
    /// Its place in the request.
    pub index: usize,
    /// What it is called.
    pub name: String,
    /// Whether it fits.
    pub fit: Fit,
    /// Why not.
    pub why: Option<Said>,
    /// What trials say; none without one.
    pub standing: Option<TrialStanding>,
}

/// Kinds and own varieties.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct VarietyAnswer {
    /// Kinds of the crop, in the order of the library.
    pub kinds: Vec<KindFit>,
    /// Own ones: what fits first, then by what is to be expected.
    pub own: Vec<OwnFit>,
}

/// What is known of the place.
#[derive(Clone, Copy)]
struct Place {
    winter: Option<Temperature>,
    days: Option<f64>,
}

fn fit_of(kind: &VarietyKind, place: Place) -> (Fit, Option<Said>) {
    let by_winter = kind.winter.from.is_some() || kind.winter.to.is_some();
    let by_time = kind.time.from.is_some() || kind.time.to.is_some();
    if by_winter && let Some(winter) = place.winter {
        let night = winter.to(Unit::DegC);
        if let Some(from) = kind.winter.from.filter(|from| night < *from) {
            let bears = VarietyKind::night(from);
            return (Fit::Unfit, Some(said!("usual winter low is {}; survives {}", winter, bears)));
        }
        if let Some(to) = kind.winter.to.filter(|to| night > *to) {
            let enough = VarietyKind::night(to);
            let why =
                said!("winters are mild here ({}, not below {}); goes dormant earlier than necessary", winter, enough);
            return (Fit::Unfit, Some(why));
        }
    }
    if by_time && let Some(days) = place.days {
        if let Some(from) = kind.time.from.filter(|from| days < *from) {
            return (Fit::Unfit, Some(said!("{} days to killing frost; needs {}", days, from)));
        }
        if let Some(to) = kind.time.to.filter(|to| days > *to) {
            return (Fit::Unfit, Some(said!("{} days to killing frost; above {} a later type yields more", days, to)));
        }
    }
    match (by_winter && place.winter.is_none(), by_time && place.days.is_none()) {
        (true, _) => (Fit::Unknown, Some("winter lows here are not known".into())),
        (_, true) => (Fit::Unknown, Some("days to killing frost are not known".into())),
        _ => (Fit::Fits, None),
    }
}

fn own_fit(own: &OwnVariety, crop: &Crop, place: Place) -> (Fit, Option<Said>) {
    if let Some(kind) = own.kind.as_ref().and_then(|key| variety_kinds(&crop.id).find(|kind| kind.key == *key)) {
        return fit_of(kind, place);
    }
    let Some(dormancy) = own.dormancy else { return (Fit::Unknown, Some("type not recorded".into())) };
    let takes_in = |kind: &&VarietyKind| kind.dormancy.is_some_and(|[low, high]| (low..=high).contains(&dormancy));
    let fits: Vec<_> = variety_kinds(&crop.id).filter(takes_in).map(|kind| fit_of(kind, place)).collect();
    // Kinds overlap: one that fits is enough.
    let best = fits.into_iter().min_by_key(|(fit, _)| *fit);
    best.unwrap_or((Fit::Unknown, Some(said!("dormancy {} is not known for {}", dormancy, crop.name.clone()))))
}

/// What trials say: the mean of its yields, each of its trial's mean, drawn towards that mean as few trials tell little.
///
/// ```
/// use agronomy::{units::{MassPerArea, Measure, Unit}, variety::{Trial, standing}};
/// let trial = |yielded, mean| Trial { yielded: MassPerArea::new(yielded, Unit::TonPerAc), mean: MassPerArea::new(mean, Unit::TonPerAc) };
/// // A tenth above the mean in each of two trials: half of it is to be expected.
/// let told = standing(&[trial(5.5, 5.0), trial(6.6, 6.0)]).unwrap();
/// assert!((told.of_mean.base() - 1.1).abs() < 1e-9 && (told.expected.base() - 1.05).abs() < 1e-9);
/// ```
pub fn standing(trials: &[Trial]) -> Option<TrialStanding> {
    let shares: Vec<f64> = trials.iter().map(|trial| (trial.yielded / trial.mean).base()).collect();
    let all = spread(&shares)?;
    let n = all.n as f64;
    let interval = student_quantile(0.95, all.n - 1).map(|t| {
        let reach = t * all.deviation / n.sqrt();
        [(all.mean - reach).max(0.0), all.mean + reach].map(Fraction::from_base)
    });
    let expected = 1.0 + n / (n + WORTH) * (all.mean - 1.0);
    Some(TrialStanding {
        trials: all.n,
        of_mean: Fraction::from_base(all.mean),
        interval,
        expected: Fraction::from_base(expected),
    })
}

/// The topic `variety.choose`.
///
/// # Errors
/// An unknown crop or kind, a dormancy, temperature, time or trial that can't be, nothing to choose from.
pub fn choose_variety(request: &VarietyRequest) -> Result<Answer<VarietyAnswer>, Refused> {
    let crop = crop_of(&request.crop, "/crop")?;
    let mut checks = Checks::new();
    if let Some(winter) = request.winter {
        checks.within("/winter", "Winter low", winter, Unit::DegC, -60.0, 30.0);
    }
    if let Some(days) = request.days_to_frost {
        checks.require((0.0..=400.0).contains(&days), "/days_to_frost", said!("{} days; enter 0–400", days));
    }
    checks.require(
        request.own.len() <= MOST_OWN,
        "/own",
        said!("{} varieties; the limit is {}", request.own.len(), MOST_OWN),
    );
    for (index, own) in request.own.iter().enumerate().take(MOST_OWN) {
        let at = |name: &str| format!("/own/{index}/{name}");
        if let Some(key) = &own.kind {
            let known = variety_kinds(&crop.id).any(|kind| kind.key == *key);
            checks.require(known, at("kind"), said!("“{}” is not a known type of {}", key.as_str(), crop.name.clone()));
        }
        if let Some(dormancy) = own.dormancy {
            checks.require(
                (1.0..=11.0).contains(&dormancy),
                at("dormancy"),
                said!("Fall dormancy is {}; enter 1–11", dormancy),
            );
        }
        checks.require(
            own.trials.len() <= MOST_TRIALS,
            at("trials"),
            said!("{} trials; the limit is {}", own.trials.len(), MOST_TRIALS),
        );
        for (place, trial) in own.trials.iter().enumerate().take(MOST_TRIALS) {
            let at = |name: &str| format!("/own/{index}/trials/{place}/{name}");
            checks.within(&at("yield"), "Yield", trial.yielded, Unit::TPerHa, 0.0, 100.0);
            checks.positive(&at("mean"), "Trial mean", trial.mean, Unit::TPerHa, 100.0);
        }
    }
    checks.done()?;
    let place = Place { winter: request.winter, days: request.days_to_frost };
    let kinds: Vec<KindFit> = variety_kinds(&crop.id)
        .map(|kind| {
            let (fit, why) = fit_of(kind, place);
            KindFit { key: kind.key.clone(), name: kind.name.clone(), about: kind.about.clone(), fit, why }
        })
        .collect();
    if kinds.is_empty() && request.own.is_empty() {
        return Err(Refused::one(
            "/crop",
            said!("no variety types are listed for {}; add your own varieties", crop.name.clone()),
        ));
    }

    let mut sheet = Sheet::new(format!("which {}", crop.name));
    sheet.source(VarietyKind::source().clone());
    if let Some(winter) = request.winter {
        sheet.input("coldest_night_of_a_usual_winter", winter, Origin::Given);
    }
    if let Some(days) = request.days_to_frost {
        sheet.input("days_to_the_killing_frost", days, Origin::Given);
    }
    let mut own: Vec<OwnFit> = request
        .own
        .iter()
        .enumerate()
        .map(|(index, one)| {
            let (fit, why) = own_fit(one, crop, place);
            OwnFit { index, name: one.name.clone(), fit, why, standing: standing(&one.trials) }
        })
        .collect();
    let expected = |one: &OwnFit| one.standing.map_or(1.0, |standing| standing.expected.base());
    own.sort_by(|a, b| {
        let unfit = |one: &OwnFit| one.fit == Fit::Unfit;
        unfit(a).cmp(&unfit(b)).then(expected(b).total_cmp(&expected(a))).then(a.index.cmp(&b.index))
    });
    if own.iter().any(|one| one.standing.is_some()) {
        sheet.source(Source::common_practice(
            "nearby trials tell more than any list; a few tell little (weight assumed)",
        ));
    }
    for (place, one) in own.iter().enumerate() {
        let Some(standing) = one.standing else { continue };
        let named = |what: &str| format!("{what} of own {}", place + 1);
        sheet.input(&named("trials"), standing.trials as f64, Origin::Given);
        let mean =
            sheet.gathered(&named("of the mean"), "mean of its yields relative to trial means", standing.of_mean);
        let _ = mean;
        let formula = format!("1 + {t} / ({t} + 2) * ({m} - 1)", t = named("trials"), m = named("of the mean"));
        sheet.line(&named("expected"), &formula, standing.expected);
    }
    sheet.would_change("More nearby trials, winter records, or another sowing day.");
    Ok(sheet.answer(VarietyAnswer { kinds, own }))
}
