//! The topic `window.odds`: one decision, worked out.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{
    Forecast, Resolved, Rule, Tried, WindowKind,
    growing_time::enough,
    kinds::window_kinds,
    odds::{Edges, Odds, odds},
    resolve,
    rule::MOST_RULES,
};
use crate::{
    chance::{Z90, wilson},
    crop::{Crop, Drainage, crop_of},
    given, reckon,
    refusal::{Checks, Refused},
    source::{Origin, Source},
    texture::Texture,
    units::{Fraction, Length, Measure, Money, Unit},
    weather::{
        Basis, WeatherInput, plus,
        soil_temperature::{Correction, Ground, SoilCover, SoilReading, follow},
    },
    working::{Answer, Sheet},
    years::{Known, Scenarios, Site, SiteRuns},
};

/// Request of the topic `window.odds`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct OddsRequest {
    /// Crop of the library.
    pub crop: String,
    /// The way of timing, a key of `library/windows.toml`; the crop's usual when absent.
    #[serde(default)]
    pub window: Option<String>,
    /// The weather, up to yesterday.
    pub weather: WeatherInput,
    /// The first day that has not been yet; the day asked about when absent.
    #[serde(default)]
    #[schema(value_type = Option<String>, format = Date)]
    pub today: Option<Date>,
    /// The day asked about.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// Texture of the plough layer.
    pub texture: Texture,
    /// Drainage class.
    pub drainage: Drainage,
    /// What lies on the soil.
    #[serde(default)]
    pub cover: SoilCover,
    /// Depth at which the soil's warmth is asked for; the crop's own when absent.
    #[serde(default)]
    pub depth: Option<Length>,
    /// Water can be brought.
    #[serde(default)]
    pub irrigated: bool,
    /// Soil-thermometer readings.
    #[serde(default)]
    pub readings: Vec<SoilReading>,
    /// Further rules, such as a day before which lime has not worked.
    #[serde(default)]
    pub rules: Vec<Rule>,
    /// Odds at which the window opens and closes.
    #[serde(default = "half")]
    pub level: Fraction,
    /// What a failed sowing costs.
    #[serde(default)]
    pub stake: Option<Money>,
}

fn half() -> Fraction {
    Fraction::percent(50.0)
}

/// A window worked out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct WindowAnswer {
    /// Key of the way of timing.
    pub window: String,
    /// In words.
    pub name: String,
    /// Why one does it.
    pub for_it: String,
    /// Why one does not.
    pub against_it: String,
    /// Crops of the mix that are not usually sown so, by name.
    pub not_for: Vec<String>,
    /// Odds by day, and the rules.
    pub curve: Odds,
    /// Opens, best, closes at the level asked for.
    pub edges: Edges,
    /// Odds of the day asked about, when the curve reaches it.
    pub asked: Option<f64>,
    /// A week later.
    pub in_a_week: Option<f64>,
    /// What the week's delay costs on average: odds lost times the stake; negative when it gains.
    pub cost_of_a_week: Option<Money>,
}

/// Ways of timing offered to a crop at a place.
pub fn offered(crop: &Crop, frosty: bool) -> impl Iterator<Item = &'static WindowKind> + '_ {
    let known = |key: &String| window_kinds().iter().find(|kind| kind.key == *key);
    crop.climate.windows.iter().filter_map(known).filter(move |kind| kind.offered_at(frosty))
}

/// The rules of a way of timing for a crop at a place: those of frost fall away where none is seen,
/// those of rain where water can be brought.
pub fn rules_of(kind: &WindowKind, crop: &Crop, all: &Scenarios, irrigated: bool, further: &[Rule]) -> Vec<Resolved> {
    kind.conditions
        .iter()
        .chain(further)
        .map(|rule| resolve(rule, crop))
        .filter(|rule| all.frost_seen[0] || !rule.of_frost())
        .filter(|rule| !irrigated || !rule.of_rain())
        .collect()
}

/// Shallower than this no thermometer is read.
const SHALLOWEST: Length = Length::new(3.0, Unit::Cm);

/// Depth at which the soil's warmth is asked for: the middle of a crop's seed depth on a
/// texture, and 3 cm at the least, where a thermometer can be read.
pub fn reading_depth(crop: &Crop, texture: Texture) -> Length {
    let depth = seed_depth(crop, texture);
    if depth < SHALLOWEST { SHALLOWEST } else { depth }
}

/// The middle of a crop's seed depth on a texture.
pub fn seed_depth(crop: &Crop, texture: Texture) -> Length {
    let coarse = matches!(texture, Texture::Sand | Texture::SandyLoam);
    let band = match (&crop.sowing, &crop.planting) {
        (Some(sowing), _) if coarse => &sowing.depth_coarse,
        (Some(sowing), _) => &sowing.depth_fine,
        (None, Some(planting)) => &planting.depth,
        (None, None) => return Length::new(2.0, Unit::Cm),
    };
    let (low, high) = band.ends::<Length>();
    (low + high) / 2.0
}

/// Work a window out around a day, from its odds and what was tried, with the working of that day.
#[allow(clippy::too_many_arguments)]
pub fn worked_out(
    kind: &WindowKind,
    crop: &Crop,
    all: &Scenarios,
    runs: &SiteRuns,
    rules: &[Resolved],
    on: Date,
    level: Fraction,
    stake: Option<Money>,
    look: (Date, Date),
) -> Answer<WindowAnswer> {
    let (curve, tried) = odds(all, runs, rules);
    let edges = curve.edges(level.base(), look.0, look.1, on);
    let asked = curve.on(on);
    let in_a_week = curve.on(plus(on, 7));
    let mut sheet = Sheet::new(format!("sowing odds for {} on {on}, {}", crop.name, kind.name));
    sheet.source(kind.source().clone());
    sheet.source(Source::published(
        "Wilson 1927, Probable inference, the law of succession, and statistical inference, Journal of the American Statistical Association 22:209-212",
    ));
    let cost = curve.index(on).and_then(|day| day_working(&mut sheet, &curve, &tried, day, stake));
    sheet.would_change("Each new day and forecast; a soil thermometer or rain gauge at the field; more years.");
    sheet.answer(WindowAnswer {
        window: kind.key.clone(),
        name: kind.name.clone(),
        for_it: kind.for_it.clone(),
        against_it: kind.against_it.clone(),
        not_for: vec![],
        curve,
        edges,
        asked,
        in_a_week,
        cost_of_a_week: cost,
    })
}

/// Write down how one day's odds came about; returns what a week's delay costs.
fn day_working(sheet: &mut Sheet, curve: &Odds, tried: &Tried, day: usize, stake: Option<Money>) -> Option<Money> {
    for rule in &curve.rules {
        for one in &rule.measured {
            sheet.quantity(&format!("{}: {}", rule.name, one.name), one.value, one.origin.clone());
        }
        let held = Fraction::from_base(rule.holds[day]);
        sheet.gathered(&format!("held: {}", rule.name), "share of years when it was met, weekly mean", held);
    }
    let years = tried.runs() as f64;
    let (counted, worked) = match curve.basis {
        Basis::Record => {
            (Origin::measured("the weather years"), Origin::measured("years when all conditions were met"))
        }
        Basis::Normals => {
            let made = || Origin::Assumed {
                replace_by: "daily records; these years are generated from average weather".into(),
            };
            (made(), made())
        }
    };
    given!(sheet; years_counted = years, counted);
    given!(sheet; years_that_worked = tried.hits(day) as f64, worked);
    reckon!(sheet; share_of_that_day: Fraction = years_that_worked / years_counted);
    let _ = share_of_that_day;
    let odds_of_the_day = curve.odds[day];
    sheet.gathered("odds", "mean of that day and three on either side", Fraction::from_base(odds_of_the_day));
    let mut interval = "Wilson interval, 90%";
    let worth = curve.basis.worth(tried.runs());
    if curve.basis == Basis::Normals {
        interval = "Wilson interval for the equivalent number of real years, 90%";
        given!(sheet; years_they_are_worth = worth, Origin::Assumed { replace_by: "a record of days".into() });
        let _ = years_they_are_worth;
    }
    let (low, high) = wilson(odds_of_the_day * worth, worth, Z90);
    sheet.gathered("lower_end", interval, Fraction::from_base(low));
    sheet.gathered("upper_end", interval, Fraction::from_base(high));
    let later = *curve.odds.get(day + 7)?;
    let stake = stake?;
    given!(sheet; odds_today = Fraction::from_base(odds_of_the_day), Origin::Worked { part: "odds".into() });
    given!(sheet; odds_in_a_week = Fraction::from_base(later), Origin::Worked { part: "odds".into() });
    given!(sheet; stake, Origin::Given);
    reckon!(sheet; cost_of_a_week = stake * (odds_today - odds_in_a_week));
    Some(cost_of_a_week)
}

/// The topic `window.odds`.
///
/// # Errors
/// An unknown crop or window, one that is not offered here, weather that can't be read or is too
/// short.
pub fn window_odds(request: &OddsRequest) -> Result<Answer<WindowAnswer>, Refused> {
    let crop = crop_of(&request.crop, "/crop")?;
    let mut checks = Checks::new();
    checks.within("/level", "Odds level", request.level, Unit::Percent, 1.0, 99.0);
    if let Some(depth) = request.depth {
        checks.within("/depth", "Depth", depth, Unit::Cm, 0.0, 30.0);
    }
    let count = request.rules.len();
    checks.require(count <= MOST_RULES, "/rules", format!("{count} extra rules; the limit is {MOST_RULES}"));
    for (index, rule) in request.rules.iter().enumerate().take(MOST_RULES) {
        rule.check(&mut checks, &format!("/rules/{index}"));
    }
    if let Some(stake) = request.stake {
        checks.within("/stake", "Cost of a failed sowing", stake, Unit::Money, 0.0, 1e12);
    }
    checks.done()?;
    let years = request.weather.years()?;
    let mut checks = Checks::new();
    for (index, reading) in request.readings.iter().enumerate() {
        years.check_day(&mut checks, format!("/readings/{index}/on"), "Reading date", reading.on);
    }
    checks.done()?;
    let forecast = Forecast::default();
    let today = request.today.unwrap_or(request.on);
    let first = plus(request.on, -200);
    let all = Scenarios::new(Known { years: &years, today, forecast: &forecast }, first, 400);
    enough(all.runs().len())?;
    let borne = |key: &str| {
        let kind = window_kinds().iter().find(|kind| kind.key == key);
        kind.filter(|kind| crop.climate.bears(key) && kind.offered_at(all.frosty()))
    };
    let kind = match &request.window {
        None => offered(crop, all.frosty()).next(),
        Some(key) => borne(key),
    };
    let Some(kind) = kind else {
        let all = crop.climate.windows.iter().chain(&crop.climate.also);
        let names: Vec<&str> = all.filter_map(|key| borne(key)).map(|kind| kind.key.as_str()).collect();
        let detail = format!("{} has no such sowing window here; choose {}", crop.name, names.join(", "));
        return Err(Refused::one("/window", detail));
    };
    let depth = request.depth.unwrap_or_else(|| reading_depth(crop, request.texture));
    let ground = Ground::new(request.texture, request.cover);
    let differences = request.readings.iter().filter_map(|reading| {
        let index = usize::try_from(crate::weather::days_between(years.first, reading.on)).ok()?;
        let modelled = follow(&years, ground, reading.depth.base()).get(index).copied().flatten()?.morning;
        Some((reading.on, reading.temperature.base() - modelled))
    });
    let mut site = Site::seedbed(request.texture, request.drainage, request.cover, depth.to(Unit::Mm).round() as u16);
    site.correction = Correction::new(differences.collect());
    let runs = all.site(&site);
    let rules = rules_of(kind, crop, &all, request.irrigated, &request.rules);
    let look = (plus(request.on, -180), plus(request.on, 180));
    Ok(worked_out(kind, crop, &all, &runs, &rules, request.on, request.level, request.stake, look))
}
