//! Which crop? By what the stand is for and what the place is like, not by the price of the bag.
//!
//! Every crop that is grown for the goal is asked of the place in turn: the checks of [`site`], the winter, the
//! summer. What can't stand there comes last, whatever it yields elsewhere, and before it what must be sown again more
//! than once within the years wanted; the others stand in the order of the dry matter that a year brings, averaged over
//! these years, the thin ones at the beginning included. No weights: what is for and against a crop is told beside it,
//! for the person to weigh.

pub mod traits;

use std::cmp::Reverse;

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    caution::Caution,
    crop::{Crop, Drainage, Ease, GOALS, Grade, Kind, Life, Pathway, library},
    given, reckon,
    refusal::{Checks, Refused},
    said,
    said::Said,
    site::{self, SiteFacts, SiteRequest, Verdict},
    soil::Texture,
    source::{Origin, Source},
    units::{Fraction, Length, MassPerArea, Measure, Temperature, Unit},
    weather::{WeatherInput, Years, climate::Climate},
    working::{Answer, Sheet},
    yields::{self, LocalYield},
};

/// Years that a stand may be wanted for.
const MOST_YEARS: u32 = 40;
/// A cool-season perennial rests or thins where the warmest month is warmer, °C: common practice, no source.
const HOT_SUMMER: f64 = 25.0;
/// Less rain in a year is dry, mm.
const DRY: f64 = 600.0;

/// Request of the topic `crops.rank`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RankRequest {
    /// What the stand is for: one of hay, silage, grazing, green fodder, biomass, bedding, wildlife, cover.
    pub goal: String,
    /// For how many years.
    pub years: u32,
    /// The place and its history, as `site.check` is asked of it; its crop is not looked at: each is asked in turn.
    pub site: SiteRequest,
    /// What the weather there is like; that of `weather` when absent.
    #[serde(default)]
    pub climate: Option<Climate>,
    /// Its weather, day by day: yields are then those of the place, and not the library's.
    #[serde(default)]
    pub weather: Option<WeatherInput>,
}

/// A crop with what is for it and against it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Ranked {
    /// Its id.
    pub crop: String,
    /// Its name.
    pub name: String,
    /// Whether it can stand there.
    pub verdict: Verdict,
    /// The first day on which nothing stands in its way; none where something always will.
    #[schema(value_type = Option<String>, format = Date)]
    pub earliest: Option<Date>,
    /// Dry matter that a year brings, averaged over the years wanted.
    pub expected: Answer<MassPerArea>,
    /// An established stand brings from so much in a season, here where `local` says so.
    pub low: MassPerArea,
    /// To so much.
    pub high: MassPerArea,
    /// These yields are worked out from the weather of the place; otherwise the library's, which are the same everywhere.
    pub local: bool,
    /// Its full yield from this year on, the sowing year being the first.
    pub full_from: u32,
    /// It is kept from so many years.
    pub lasts_from: u32,
    /// To so many.
    pub lasts_to: u32,
    /// What speaks for it.
    #[schema(value_type = Vec<String>)]
    pub in_favour: Vec<Said>,
    /// What speaks against it, the gravest first.
    #[schema(value_type = Vec<String>)]
    pub against: Vec<Said>,
    /// Checks of the site that nobody can answer yet.
    pub unknown: Vec<String>,
    /// What would turn the gravest of them.
    #[schema(value_type = Option<String>)]
    pub turn: Option<Said>,
    /// Dangers that come with it.
    pub cautions: Vec<Caution>,
}

/// Crops for a goal and a place.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Ranking {
    /// What can stand there first, of that what is sown again once at the most, and of that by the dry matter of a year.
    pub crops: Vec<Ranked>,
    /// How many of the library are not grown for that.
    pub left_out: usize,
}

/// The topic `crops.rank`.
///
/// # Errors
/// A goal that no crop is grown for, no years, or a fact of the place that can't be.
pub fn rank(request: &RankRequest) -> Result<Answer<Ranking>, Refused> {
    match &request.weather {
        Some(weather) => {
            let years = weather.years()?;
            rank_in(request, Some(&years))
        }
        None => rank_in(request, None),
    }
}

/// The same in weather that is at hand.
///
/// # Errors
/// As [`rank`].
pub fn rank_in(request: &RankRequest, years: Option<&Years>) -> Result<Answer<Ranking>, Refused> {
    let mut checks = Checks::new();
    checks.require(
        GOALS.contains(&request.goal.as_str()),
        "/goal",
        format!("“{}” is not a goal; choose from {}", request.goal, GOALS.join(", ")),
    );
    checks.require(
        (1..=MOST_YEARS).contains(&request.years),
        "/years",
        said!("{} years; enter 1–{}", request.years, MOST_YEARS),
    );
    if let Some(climate) = &request.climate {
        climate.check(&mut checks, "/climate");
    }
    checks.done()?;
    let mut place = request.site.clone();
    let of_years = || years.and_then(Climate::of);
    let climate = request.climate.clone().or_else(of_years);
    let airs = years.map(yields::airs);
    if let Some(climate) = &climate {
        place.facts.rain = place.facts.rain.or(Some(climate.rain));
        place.facts.warmest_month = place.facts.warmest_month.or(Some(climate.warmest_month()));
    }
    let mut crops = vec![];
    for crop in library().crops().filter(|crop| crop.uses.contains(&request.goal)) {
        let local = airs.as_ref().and_then(|airs| yields::local(crop, airs, ground(&place.facts)));
        crops.push(ranked(crop, request, &place, climate.as_ref(), local)?);
    }
    crops.sort_by(|a, b| {
        let key = |one: &Ranked| {
            let again = resown(one, request.years) > 1;
            (one.verdict == Verdict::Unfit, again, Reverse((one.expected.value.base() * 1e9) as i64))
        };
        key(a).cmp(&key(b)).then_with(|| a.crop.cmp(&b.crop))
    });
    let mut sheet = Sheet::new(format!("crops for {}", request.goal));
    sheet.source(Source::common_practice(
        "ranked by goal and site: suitable long-lived crops by annual dry matter, then crops resown more than once, then unsuitable ones",
    ));
    sheet.input("crops asked", crops.len() as f64, Origin::Given);
    let fit = crops.iter().filter(|one| one.verdict != Verdict::Unfit).count();
    sheet.gathered("suitable crops", "number of suitable crops", fit as f64);
    sheet.would_change("Your own yield records; they are better than any table.");
    let left_out = library().crops().count() - crops.len();
    Ok(sheet.answer(Ranking { crops, left_out }))
}

/// How often a stand is sown again within so many years.
pub fn resown(one: &Ranked, years: u32) -> u32 {
    years.div_ceil(one.lasts_to.max(1)).saturating_sub(1)
}

/// The ground as growth is asked of it; what nobody has looked at is a loam, moderately drained.
fn ground(facts: &SiteFacts) -> yields::Ground {
    yields::Ground {
        texture: facts.texture.unwrap_or(Texture::Loam),
        drainage: facts.drainage.unwrap_or(Drainage::Moderate),
        restrictive_depth: facts.restrictive_depth,
        irrigated: facts.irrigated,
    }
}

fn ranked(
    crop: &Crop,
    request: &RankRequest,
    place: &SiteRequest,
    climate: Option<&Climate>,
    local: Option<LocalYield>,
) -> Result<Ranked, Refused> {
    let asked = SiteRequest { crop: crop.id.clone(), ..place.clone() };
    let readiness = site::check(&asked).map_err(|refused| refused.under("/site"))?.value;
    let stand = &crop.stand;
    let (mut in_favour, mut against): (Vec<Said>, Vec<Said>) = (vec![], vec![]);
    let mut turn = None;
    let (mut verdict, mut earliest) = (readiness.verdict, readiness.earliest);

    let barred = climate.and_then(|climate| barred_by(crop, climate));
    let barred = barred.or_else(|| local.and_then(|local| yields_nothing(crop, local)));
    if let Some((why, otherwise)) = barred {
        (verdict, earliest) = (Verdict::Unfit, None);
        turn = Some(otherwise);
        against.push(why);
    }
    let unknown: Vec<String> = readiness
        .checks
        .iter()
        .filter(|check| check.verdict == Verdict::Unknown)
        .map(|check| check.title.clone())
        .collect();
    for check in readiness.checks.into_iter().filter(|check| check.verdict >= Verdict::FitWithWork) {
        turn = turn.or(check.turn);
        against.push(check.reason);
    }
    // Time mends it, but not by the day it is to be sown on.
    let late = earliest.filter(|day| verdict != Verdict::Unfit && *day > place.sow_on && place.sow_on > place.today);
    if let Some(day) = late {
        against.push(said!("cannot be sown on {}: earliest {}", place.sow_on, day));
        verdict = Verdict::Unfit;
    }
    weigh(crop, request, place, climate, &mut in_favour, &mut against);

    let (low, high) = local.map_or_else(|| stand.yields.ends(), |local| (local.low, local.high));
    Ok(Ranked {
        crop: crop.id.clone(),
        name: crop.name.clone(),
        verdict,
        earliest,
        expected: expected(crop, request.years, local),
        low,
        high,
        local: local.is_some(),
        full_from: stand.full_from() as u32,
        lasts_from: stand.years.low,
        lasts_to: stand.years.high,
        in_favour,
        against,
        unknown,
        turn,
        cautions: crop.cautions.iter().filter_map(|key| Caution::of(key)).collect(),
    })
}

/// Why winter or summer takes it, and what would do instead.
fn barred_by(crop: &Crop, climate: &Climate) -> Option<(Said, Said)> {
    if let Some(why) = too_cold(crop, climate) {
        return Some((why, "a hardier crop; deep snow helps but is not reliable".into()));
    }
    let warmest = climate.warmest_month();
    let lives = crop.stand.summer.as_ref().map(|summer| summer.measure::<Temperature>());
    if let Some(lives) = lives.filter(|lives| warmest.base() > lives.base()) {
        let why = said!("the warmest month averages {}; stands last where it stays below {}", warmest, lives);
        return Some((why, "a warm-season crop, or a cool-season annual for the cool months".into()));
    }
    let needs = crop.stand.warmth.as_ref().map(|warmth| warmth.measure::<Temperature>());
    if let Some(needs) = needs.filter(|needs| warmest.base() < needs.base()) {
        let why = said!("summers too cool: the warmest month averages {}; needs {}", warmest, needs);
        return Some((why, "a cool-season crop".into()));
    }
    let coldest = climate.coldest_month();
    let cool_annual = crop.life == Life::Annual && yields::is_cool_season(crop);
    if cool_annual && coldest.to(Unit::DegC) > COOL_SEASON {
        let why = said!("cool-season annual, and the coldest month still averages {}", coldest);
        return Some((why, "a warm-season crop".into()));
    }
    None
}

/// A cool-season annual wants months that are cooler, °C: common practice, no source.
const COOL_SEASON: f64 = 20.0;
/// Less than this share of what the library says a poor stand gives is not worth the seed (assumed).
const NOTHING: f64 = 0.25;

/// What a place gives that is no place for it.
fn yields_nothing(crop: &Crop, local: LocalYield) -> Option<(Said, Said)> {
    let (low, _) = crop.stand.yields.ends::<MassPerArea>();
    if local.middle.base() >= NOTHING * low.base() {
        return None;
    }
    let why = said!("about {} a year here: too dry, too hot or too cold for it", local.middle);
    Some((why, "irrigation, or a crop that suits the climate".into()))
}

/// Snow that keeps the cold of the air off the crowns in full, as water: about 15 cm (assumed).
const SNOW: f64 = 0.038;
/// By how much it does, °C (from memory of winter-wheat and alfalfa trials under snow).
const UNDER_SNOW: f64 = 12.0;

/// Why the winter takes it; nothing of what is gone by then, or is sown after it.
fn too_cold(crop: &Crop, climate: &Climate) -> Option<Said> {
    let bears: Temperature = crop.stand.winter.as_ref()?.measure();
    let in_spring = |key: &String| matches!(key.as_str(), "spring" | "warm-season" | "with-maize" | "rains");
    if crop.life == Life::Annual && crop.climate.windows.iter().any(in_spring) {
        return None;
    }
    let covered = climate.snow.map_or(0.0, |snow| (snow.base() / SNOW).clamp(0.0, 1.0));
    let felt = climate.coldest_night.base() + UNDER_SNOW * covered;
    (felt < bears.base()).then(|| {
        let snow = if covered > 0.0 { ", and the usual snow does not make up the difference" } else { "" };
        said!("usual winter low is {}; hardy varieties survive {}{}", climate.coldest_night, bears, snow)
    })
}

/// Dry matter that a year brings, averaged over so many: the stand is sown again when its time is up.
fn expected(crop: &Crop, years: u32, local: Option<LocalYield>) -> Answer<MassPerArea> {
    let stand = &crop.stand;
    let mut sheet = Sheet::new(format!("{}, per year", crop.name));
    let lasts = (f64::from(stand.years.low + stand.years.high) / 2.0).round().max(1.0) as usize;
    let shares: f64 =
        (0..years as usize).map(|year| year % lasts + 1).map(|year| stand.share_in(year) * stand.ageing(year)).sum();
    let of_years = Fraction::from_base(shares / f64::from(years));
    let share = "mean of the shares of the full yield, year by year, as it thickens and ages";
    let expected = match local {
        Some(local) => {
            sheet.source(library().source(&crop.season.source).clone());
            given!(sheet; years_counted = local.years as f64, Origin::measured("the weather years"));
            let _ = years_counted;
            let full =
                sheet.gathered("full_yield_here", "median of the growth model over the weather years", local.middle);
            let mean_share = sheet.gathered("mean_share", share, of_years);
            sheet.line("expected", "full_yield_here * mean_share", full * mean_share)
        }
        None => {
            let (low, high) = stand.yields.ends::<MassPerArea>();
            given!(sheet; low, stand.yields.origin());
            given!(sheet; high, stand.yields.origin());
            let mean_share = sheet.gathered("mean_share", share, of_years);
            reckon!(sheet; expected = (low + high) / 2.0 * mean_share);
            sheet.would_change(
                "Daily weather or average weather of the place: the library\u{2019}s yields are the same everywhere.",
            );
            expected
        }
    };
    sheet.would_change("Your own yields, or a nearby trial.");
    sheet.answer(expected)
}

/// What is for and against it beside what the site says.
fn weigh(
    crop: &Crop,
    request: &RankRequest,
    place: &SiteRequest,
    climate: Option<&Climate>,
    in_favour: &mut Vec<Said>,
    against: &mut Vec<Said>,
) {
    let stand = &crop.stand;
    let perennial = crop.life != Life::Annual;
    let dry = place.facts.rain.is_some_and(|rain| rain < Length::new(DRY, Unit::Mm)) && !place.facts.irrigated;
    let grazed = request.goal == "grazing";
    if crop.kind == Kind::Legume {
        in_favour.push("fixes nitrogen for itself and its companions".into());
    }
    match (stand.drought, dry) {
        (Grade::Good, _) => in_favour.push("tolerates drought well".into()),
        (Grade::Poor, true) => against.push("poor drought tolerance, and this site is dry".into()),
        (Grade::Poor, false) => against.push("poor drought tolerance".into()),
        _ => {}
    }
    match stand.grazing {
        Grade::Good if grazed => in_favour.push("tolerates grazing well".into()),
        Grade::Poor if grazed => against.push("tolerates grazing poorly; needs long rest".into()),
        _ => {}
    }
    match stand.ease {
        Ease::Easy => in_favour.push("establishes quickly and reliably".into()),
        Ease::Slow => against.push("slow to establish; weed control is critical in year 1".into()),
        Ease::Fair => {}
    }
    if perennial && stand.years.low >= request.years {
        in_favour.push(said!("lasts {} years or more", stand.years.low));
    } else if stand.years.high < request.years {
        let lasts = if stand.years.high == 1 { "one season".to_owned() } else { format!("{} years", stand.years.high) };
        against.push(said!("lasts {} at most; needs reseeding within your {} years", lasts, request.years));
    }
    if stand.full_from() > 1 && perennial {
        against.push(said!("full yield from year {}", stand.full_from()));
    }
    let hot = climate.map(Climate::warmest_month);
    let hot = hot.filter(|warmest| warmest.to(Unit::DegC) > HOT_SUMMER);
    if let Some(warmest) = hot.filter(|_| perennial && crop.pathway == Pathway::C3) {
        against.push(said!("cool-season crop; goes dormant or thins when a month averages {}", warmest));
    }
}
