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
    crop::{Crop, Ease, GOALS, Grade, Kind, Life, Pathway, library},
    given, reckon,
    refusal::{Checks, Refused},
    said,
    said::Said,
    site::{self, SiteRequest, Verdict},
    source::{Origin, Source},
    units::{Fraction, Length, MassPerArea, Measure, Temperature, Unit},
    weather::climate::Climate,
    working::{Answer, Sheet},
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
    /// What the weather there is like.
    #[serde(default)]
    pub climate: Option<Climate>,
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
    /// An established stand brings from so much in a season.
    pub low: MassPerArea,
    /// To so much.
    pub high: MassPerArea,
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
    if let Some(climate) = &request.climate {
        place.facts.rain = place.facts.rain.or(Some(climate.rain));
        place.facts.warmest_month = place.facts.warmest_month.or(Some(climate.warmest_month()));
    }
    let mut crops = vec![];
    for crop in library().crops().filter(|crop| crop.uses.contains(&request.goal)) {
        crops.push(ranked(crop, request, &place)?);
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

fn ranked(crop: &Crop, request: &RankRequest, place: &SiteRequest) -> Result<Ranked, Refused> {
    let asked = SiteRequest { crop: crop.id.clone(), ..place.clone() };
    let readiness = site::check(&asked).map_err(|refused| refused.under("/site"))?.value;
    let stand = &crop.stand;
    let (mut in_favour, mut against): (Vec<Said>, Vec<Said>) = (vec![], vec![]);
    let mut turn = None;
    let (mut verdict, mut earliest) = (readiness.verdict, readiness.earliest);

    let winter = request.climate.as_ref().and_then(|climate| too_cold(crop, climate.coldest_night));
    if let Some(why) = winter {
        (verdict, earliest) = (Verdict::Unfit, None);
        turn = Some("a hardier crop; deep snow helps but is not reliable".into());
        against.push(why);
    }
    for check in readiness.checks.into_iter().filter(|check| check.verdict >= Verdict::FitWithWork) {
        turn = turn.or(check.turn);
        against.push(check.reason);
    }
    weigh(crop, request, place, &mut in_favour, &mut against);

    let (low, high) = stand.yields.ends();
    Ok(Ranked {
        crop: crop.id.clone(),
        name: crop.name.clone(),
        verdict,
        earliest,
        expected: expected(crop, request.years),
        low,
        high,
        full_from: stand.full_from() as u32,
        lasts_from: stand.years.low,
        lasts_to: stand.years.high,
        in_favour,
        against,
        turn,
        cautions: crop.cautions.iter().filter_map(|key| Caution::of(key)).collect(),
    })
}

/// Why the winter takes it; nothing of what is gone by then.
fn too_cold(crop: &Crop, coldest: Temperature) -> Option<Said> {
    let bears: Temperature = crop.stand.winter.as_ref()?.measure();
    (coldest.base() < bears.base()).then(|| said!("usual winter low is {}; hardy varieties survive {}", coldest, bears))
}

/// Dry matter that a year brings, averaged over so many: the stand is sown again when its time is up.
fn expected(crop: &Crop, years: u32) -> Answer<MassPerArea> {
    let stand = &crop.stand;
    let mut sheet = Sheet::new(format!("{}, per year", crop.name));
    let (low, high) = stand.yields.ends::<MassPerArea>();
    given!(sheet; low, stand.yields.origin());
    given!(sheet; high, stand.yields.origin());
    let lasts = (f64::from(stand.years.low + stand.years.high) / 2.0).round().max(1.0) as usize;
    let shares: f64 = (0..years as usize).map(|year| stand.share_in(year % lasts + 1)).sum();
    let of_years = Fraction::from_base(shares / f64::from(years));
    let mean_share = sheet.gathered("mean_share", "mean of the shares of the full yield, year by year", of_years);
    reckon!(sheet; expected = (low + high) / 2.0 * mean_share);
    sheet.would_change("Your own yields, or a nearby trial.");
    sheet.answer(expected)
}

/// What is for and against it beside what the site says.
fn weigh(crop: &Crop, request: &RankRequest, place: &SiteRequest, in_favour: &mut Vec<Said>, against: &mut Vec<Said>) {
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
    let hot = request.climate.as_ref().map(Climate::warmest_month);
    let hot = hot.filter(|warmest| warmest.to(Unit::DegC) > HOT_SUMMER);
    if let Some(warmest) = hot.filter(|_| perennial && crop.pathway == Pathway::C3) {
        against.push(said!("cool-season crop; goes dormant or thins when a month averages {}", warmest));
    }
}
