//! When it comes up: warmth in moist soil since sowing, in this year's weather and then in every year's of the record.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use statrs::distribution::{ContinuousCDF, Normal};
use utoipa::ToSchema;

use crate::{
    crop::{Crop, Drainage, EmergenceFacts, crop_of},
    given,
    refusal::{Checks, Refused},
    source::{Origin, Source},
    texture::Texture,
    units::{Fraction, Length, Measure, Temperature, ThermalTime, Unit},
    weather::{Forecast, WeatherInput, days_between, frost::quantile, soil_temperature::SoilCover},
    window::{enough, reading_depth, seed_depth},
    working::{Answer, Sheet},
    years::{Known, Scenarios, Site, SiteRuns},
};

/// Days followed after a sowing.
const AHEAD: usize = 240;
/// Share of what it can lose that the top decimetre must still hold for a day's warmth to count (assumed). A bare top
/// dries out in days, while a firm seedbed still feeds the seed from below: with half of it, as for plants, alfalfa of
/// May would take three weeks in a usual spring, and it takes one to two.
const MOIST: f64 = 0.2;
/// So shallow that it is told of small seed; deeper, the soil under a dry top is moist for longer.
const SMALL_SEED: f64 = 12.0;
/// From here on hardly a dry spell of spring reaches it: cereals are sown at 3 to 5 cm for that. And what the top must hold
/// then (assumed).
const DEEP_SEED: f64 = 38.0;
const MOIST_DEEP: f64 = 0.02;
/// The library's warmth is right within a quarter, nine times of ten: standard deviation of its share.
const STRAYS: f64 = 0.25 / 1.645;
/// Odds that a sowing comes at all, where nothing better is known (assumed).
const USUAL: f64 = 0.8;
/// Odds of the next window, where they are not known (assumed).
const NEXT: f64 = 0.6;
/// Days looked back over to see whether it is dry.
const LOOKS_BACK: usize = 10;

/// Request of the topic `emergence.forecast`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct EmergenceRequest {
    /// Crop of the library.
    pub crop: String,
    /// Sown on.
    #[schema(value_type = String, format = Date)]
    pub sown_on: Date,
    /// The first day that has not been yet.
    #[schema(value_type = String, format = Date)]
    pub today: Date,
    /// The weather, up to yesterday.
    pub weather: WeatherInput,
    /// Texture of the plough layer.
    pub texture: Texture,
    /// Drainage class.
    pub drainage: Drainage,
    /// What lies on the soil.
    #[serde(default)]
    pub cover: SoilCover,
    /// Depth of the seed; the crop's usual when absent.
    #[serde(default)]
    pub depth: Option<Length>,
    /// Seedlings were seen.
    #[serde(default)]
    pub seen: bool,
    /// Water is brought: the seed never lies dry.
    #[serde(default)]
    pub irrigated: bool,
    /// Odds that the sowing comes at all, as they were on its day.
    #[serde(default)]
    pub odds: Option<Fraction>,
    /// Odds of the next window, should it be sown again in it.
    #[serde(default)]
    pub again: Option<Fraction>,
}

/// How a sowing stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum EmergenceState {
    /// Seedlings were seen.
    Up,
    /// It has not had the warmth: nothing is to be seen yet.
    TooSoon,
    /// It has not, because the seed lies dry: it waits for rain.
    Dry,
    /// It should be showing about now.
    Due,
    /// It should be up: look for a crust, dig for seed.
    Late,
    /// It will hardly come.
    Gone,
}

/// What is expected of a sowing.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Emergence {
    /// How it stands.
    pub state: EmergenceState,
    /// Why, and what to do.
    pub why: String,
    /// Warmth in moist soil until yesterday.
    pub warmth_so_far: ThermalTime,
    /// Warmth until half of it is up.
    pub warmth_needed: ThermalTime,
    /// Of it.
    pub of_need: Fraction,
    /// Days since sowing that did not count for want of water.
    pub dry_days: usize,
    /// First seedlings, in one year of ten, in the middling one, in nine of ten; fewer where it does not come within the
    /// days followed.
    #[schema(value_type = Vec<String>)]
    pub first: Vec<Date>,
    /// Half of them, likewise.
    #[schema(value_type = Vec<String>)]
    pub half: Vec<Date>,
    /// Share of years in which half is up within the days followed.
    pub comes: Fraction,
    /// Odds that it still comes, as nothing has been seen; none once it is up.
    pub still: Option<Fraction>,
    /// Waiting is better than sowing again until this day, in the middling year; none once it is up, or when that day
    /// is past.
    #[schema(value_type = Option<String>, format = Date)]
    pub wait_until: Option<Date>,
    /// Years counted.
    pub years: usize,
}

/// What the top decimetre must still hold, as a share of what it can lose, for seed at a depth to lie moist.
///
/// ```
/// use agronomy::{establish::least_moisture, units::{Length, Unit}};
/// assert_eq!(least_moisture(Length::new(6.0, Unit::Mm)), 0.2);
/// assert!(least_moisture(Length::new(25.0, Unit::Mm)) < 0.15);
/// ```
pub fn least_moisture(depth: Length) -> f64 {
    let deeper = (depth.to(Unit::Mm) - SMALL_SEED) / (DEEP_SEED - SMALL_SEED);
    MOIST + (MOIST_DEEP - MOIST) * deeper.clamp(0.0, 1.0)
}

/// Share of sowings that would be up by so much of the warmth they need, as it is known within a quarter.
///
/// ```
/// use agronomy::establish::emerged_by;
/// assert!((emerged_by(1.0) - 0.5).abs() < 1e-9);
/// assert!((emerged_by(1.25) - 0.95).abs() < 1e-3);
/// ```
pub fn emerged_by(of_need: f64) -> f64 {
    Normal::new(1.0, STRAYS).map_or(0.0, |law| law.cdf(of_need))
}

/// Odds that it still comes, with nothing seen at so much of its warmth: Bayes' rule on odds that it comes at all.
///
/// ```
/// use agronomy::establish::still_comes;
/// // Nothing is known yet, and nothing seen means little.
/// assert!((still_comes(0.8, 0.2) - 0.8).abs() < 1e-3);
/// // Half should be up.
/// assert!((still_comes(0.8, 1.0) - 0.4 / 0.6).abs() < 1e-9);
/// assert!(still_comes(0.8, 1.6) < 0.01);
/// ```
pub fn still_comes(odds: f64, of_need: f64) -> f64 {
    let unseen = odds * (1.0 - emerged_by(of_need));
    unseen / (unseen + 1.0 - odds).max(1e-12)
}

/// A sowing that has been waited for.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Waited {
    /// Day of the sowing, counted from the scenarios' first.
    pub sown: usize,
    /// Days since then that have been.
    pub days: usize,
    /// Seedlings were seen.
    pub seen: bool,
    /// Water is brought: the seed never lies dry.
    pub irrigated: bool,
    /// Where the seed lies.
    pub depth: Length,
    /// Odds that it comes at all, as they were on its day; the usual ones when absent.
    pub odds: Option<f64>,
    /// Odds of the next window, should it be sown again in it; the usual ones when absent.
    pub again: Option<f64>,
}

impl Waited {
    fn odds(&self) -> f64 {
        self.odds.unwrap_or(USUAL)
    }

    /// The weather of the next window is right, and what is sown in it comes as what is sown usually does.
    fn again(&self) -> f64 {
        self.again.unwrap_or(NEXT) * USUAL
    }
}

/// What is expected of a sowing in the years' weather: see [`emergence_forecast`].
fn forecast(all: &Scenarios, runs: &SiteRuns, facts: &EmergenceFacts, waited: Waited) -> Emergence {
    let need = facts.warmth.measure::<ThermalTime>().base();
    let base = facts.base.measure::<Temperature>().base();
    let moist = least_moisture(waited.depth);
    let ahead = AHEAD.min(all.days().saturating_sub(waited.sown + 1));
    // Warmth up to the end of each day, run by run; and which days were dry.
    let followed: Vec<(Vec<f64>, Vec<bool>)> = runs
        .runs()
        .iter()
        .map(|run| {
            let days = run.means().iter().zip(run.tops()).skip(waited.sown).take(ahead);
            let mut sum = 0.0;
            days.map(|(mean, top)| {
                let dry = !waited.irrigated && f64::from(*top) < moist;
                if !dry {
                    sum += (f64::from(*mean) - base).max(0.0);
                }
                (sum, dry)
            })
            .unzip()
        })
        .collect();
    let reaches = |share: f64| -> Vec<f64> {
        let mut days: Vec<f64> = followed
            .iter()
            .map(|(warmth, _)| {
                warmth.iter().position(|sum| *sum >= need * share).map_or(f64::INFINITY, |day| day as f64)
            })
            .collect();
        days.sort_by(f64::total_cmp);
        days
    };
    let date = |day: f64| all.date(waited.sown + day.round() as usize);
    let spread = |days: &[f64]| -> Vec<Date> {
        let at = [0.1, 0.5, 0.9].into_iter().filter_map(|share| quantile(days, share));
        at.filter(|day| day.is_finite()).map(date).collect()
    };
    let (first, half) = (reaches(0.75), reaches(1.0));
    let comes = half.iter().filter(|day| day.is_finite()).count() as f64 / half.len().max(1) as f64;
    // What has been is the same in all runs.
    let so_far = followed
        .first()
        .map(|(warmth, dry)| (&warmth[..waited.days.min(warmth.len())], &dry[..waited.days.min(dry.len())]));
    let warmth = so_far.and_then(|(warmth, _)| warmth.last()).copied().unwrap_or(0.0);
    let dry_days = so_far.map_or(0, |(_, dry)| dry.iter().filter(|dry| **dry).count());
    let lately = so_far.map_or(0, |(_, dry)| dry.iter().rev().take(LOOKS_BACK).filter(|dry| **dry).count());
    let of_need = warmth / need;
    let still = still_comes(waited.odds(), of_need);
    let mut ends: Vec<f64> = followed
        .iter()
        .map(|(warmth, _)| {
            let end = warmth.iter().position(|sum| still_comes(waited.odds(), sum / need) < waited.again());
            end.map_or(warmth.len() as f64, |day| day as f64)
        })
        .collect();
    ends.sort_by(f64::total_cmp);
    let wait_until = quantile(&ends, 0.5).filter(|day| *day >= waited.days as f64).map(date);
    let (state, why) = match of_need {
        _ if waited.seen => (EmergenceState::Up, "Emerged."),
        of if of < 0.75 && lately * 2 > LOOKS_BACK => (
            EmergenceState::Dry,
            "Seed is dry and waiting; nothing is lost but time. Do not till or reseed; count days from the first good rain.",
        ),
        of if of < 0.75 => {
            (EmergenceState::TooSoon, "Too early: it has not had enough heat. Seeing no seedlings means nothing yet.")
        }
        of if of < 1.25 => {
            (EmergenceState::Due, "Should be emerging. Kneel and check along the rows in several spots.")
        }
        of if of < 1.6 => (
            EmergenceState::Late,
            "Overdue. Dig for seed. Swollen or sprouting: wait. Under a crust: break it with a light roller or rotary hoe. Rotten or gone: reseed.",
        ),
        _ => (
            EmergenceState::Gone,
            "Emergence is now unlikely unless the seed was dormant. Dig for seed before you give up on it.",
        ),
    };
    Emergence {
        state,
        why: why.to_owned(),
        warmth_so_far: ThermalTime::from_base(warmth),
        warmth_needed: ThermalTime::from_base(need),
        of_need: Fraction::from_base(of_need),
        dry_days,
        first: spread(&first),
        half: spread(&half),
        comes: Fraction::from_base(comes),
        still: (!waited.seen).then(|| Fraction::from_base(still)),
        wait_until: wait_until.filter(|_| !waited.seen),
        years: all.runs().len(),
    }
}

/// What is known of a crop's emergence, or why it can't be told.
fn facts_of(crop: &Crop) -> Result<&EmergenceFacts, Refused> {
    crop.establish.emergence.as_ref().ok_or_else(|| {
        Refused::one(
            "/crop",
            format!(
                "heat needed by {} is not known; check after {} to {} days",
                crop.name, crop.establish.first_look.low, crop.establish.first_look.high
            ),
        )
    })
}

/// The topic `emergence.forecast`: soil warmth above a base at seed depth, counted on the days on which the seed lies
/// moist.
///
/// # Errors
/// A crop whose warmth is not known, a day or weather that can't be, fewer than ten years of it.
pub fn emergence_forecast(request: &EmergenceRequest) -> Result<Answer<Emergence>, Refused> {
    let crop = crop_of(&request.crop, "/crop")?;
    let facts = facts_of(crop)?;
    let mut checks = Checks::new();
    let days = days_between(request.sown_on, request.today);
    checks.require(
        (0..=AHEAD as i32).contains(&days),
        "/sown_on",
        format!("sown {days} days ago; emergence is tracked for {AHEAD} days"),
    );
    if let Some(depth) = request.depth {
        checks.within("/depth", "Depth", depth, Unit::Cm, 0.0, 20.0);
    }
    for (pointer, name, odds) in [("/odds", "Odds", request.odds), ("/again", "Odds of reseeding", request.again)] {
        if let Some(odds) = odds {
            checks.within(pointer, name, odds, Unit::Percent, 0.0, 100.0);
        }
    }
    checks.done()?;
    let years = request.weather.years()?;
    let forecast_ahead = Forecast::default();
    let known = Known { years: &years, today: request.today, forecast: &forecast_ahead };
    let all = Scenarios::new(known, request.sown_on, AHEAD + 1);
    enough(all.runs().len())?;
    let depth = request.depth.unwrap_or_else(|| reading_depth(crop, request.texture));
    let site = Site::seedbed(request.texture, request.drainage, request.cover, depth.to(Unit::Mm).round() as u16);
    let waited = Waited {
        sown: 0,
        days: days as usize,
        seen: request.seen,
        irrigated: request.irrigated,
        depth: request.depth.unwrap_or_else(|| seed_depth(crop, request.texture)),
        odds: request.odds.map(Measure::base),
        again: request.again.map(Measure::base),
    };
    Ok(emergence_of(crop, facts, &all, &all.site(&site), waited))
}

/// The same of a sowing in years and ground that are at hand.
pub fn emergence_of(
    crop: &Crop,
    facts: &EmergenceFacts,
    all: &Scenarios,
    runs: &SiteRuns,
    waited: Waited,
) -> Answer<Emergence> {
    let told = forecast(all, runs, facts, waited);
    let mut sheet = Sheet::new(format!("emergence of {}", crop.name));
    sheet.source(Source::common_practice("heat units above a base, counted on days when the seed is moist"));
    sheet.input("base", facts.base.measure::<Temperature>(), facts.base.origin());
    given!(sheet; warmth_needed = told.warmth_needed, facts.warmth.origin());
    let least = Fraction::from_base(least_moisture(waited.depth));
    sheet.input("least_moisture", least, Origin::assumed("a check of the seed in the row"));
    sheet.input("years_counted", told.years as f64, Origin::measured("the weather years"));
    let warmth_so_far = sheet.gathered(
        "warmth_so_far",
        "sum of daily mean soil temperature above the base, on moist days since sowing",
        told.warmth_so_far,
    );
    sheet.line("share_of_need", "warmth_so_far / warmth_needed", warmth_so_far / warmth_needed);
    if let Some(still) = told.still {
        let odds = Fraction::from_base(waited.odds());
        let from =
            if waited.odds.is_some() { Origin::Given } else { Origin::assumed("the odds of the day it was sown") };
        sheet.input("odds_that_it_comes_at_all", odds, from);
        let up = Fraction::from_base(emerged_by(told.of_need.base()));
        sheet.gathered("would_be_up", "normal distribution of heat received, 90% within a quarter", up);
        let formula = "odds_that_it_comes_at_all * (1 - would_be_up) / (odds_that_it_comes_at_all * (1 - would_be_up) + 1 - odds_that_it_comes_at_all)";
        if waited.odds() < 1.0 {
            sheet.line("still_comes", formula, still);
        }
    }
    if told.still.is_some() {
        let from = if waited.again.is_some() { Origin::Given } else { Origin::assumed("the odds of its next window") };
        sheet.input("odds_of_the_next_window", Fraction::from_base(waited.again.unwrap_or(NEXT)), from);
        let usual = Origin::assumed("share of past sowings that came up");
        sheet.input("usual_odds", Fraction::from_base(USUAL), usual);
        let again = Fraction::from_base(waited.again());
        sheet.line("sown_again_it_comes", "odds_of_the_next_window * usual_odds", again);
    }
    sheet.would_change("Rain and heat to come; seed deeper or drier than assumed; dormant seed.");
    sheet.answer(told)
}
