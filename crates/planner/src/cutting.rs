//! When to cut a stand: ways of cutting it side by side, each grown on through the years from what stands there today.

use agronomy::{
    course::{Course, Followed, Harvest},
    crop::{Crop, Kind, Life, Pathway},
    cutting::{Limits, Policy, Tried, tried},
    refusal::{Checks, Refused},
    said,
    said::Said,
    source::{Origin, Source},
    units::{Fraction, Length, MassPerArea, Measure, MoneyPerArea, MoneyPerMass, Series, Unit},
    weather::{Basis, Years, days_between, plus, year_start},
    working::{Answer, Sheet},
    years::Scenarios,
    yields::BROUGHT_HOME,
};
use jiff::civil::Date;
use records::Goal;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    Step,
    ground::Asked,
    growth::{AFTER_CUT, Feed, Ready, enough, feed, mass, series, spread, tonnes},
};

/// Days of rest before the usual killing frost that ways of cutting keep: common practice, as `library/regimes` have it.
const REST: i32 = 35;
/// Days between cuts, at the least, whatever stands there (assumed).
const LEAST_DAYS: u32 = 18;
/// Less above the stubble is not worth a machine, kg/ha (assumed).
const WORTH_A_CUT: f64 = 900.0;
/// What is chosen is cut whatever stands there, dead stems without a green leaf too.
const ANYTHING: f64 = -1.0;
/// Days that are followed: to the next spring, as far as the years reach.
const FOLLOWED: usize = 480;
/// Cuts that are asked for at most.
const MOST_CUTS: usize = 16;
/// Quality at which the price is told, an index.
const PRICED_AT: f64 = 150.0;
/// Days by which the next cut is moved to see what that does.
const WEEK: i32 = 7;

/// What is asked of a stand.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CuttingRequest {
    /// Days on which the person would cut it this growing year; none asks for no such way.
    #[schema(value_type = Vec<String>)]
    pub own: Vec<Date>,
    /// Key of the way whose growth is drawn; the first when absent.
    #[serde(default)]
    pub drawn: Option<String>,
    /// What hay of relative forage quality 150 brings.
    #[serde(default)]
    pub price: Option<MoneyPerMass>,
    /// What ten points more of it bring, or ten fewer take.
    #[serde(default)]
    pub premium: Option<MoneyPerMass>,
    /// What a cut costs: mowing to the barn.
    #[serde(default)]
    pub cut_cost: Option<MoneyPerArea>,
}

impl CuttingRequest {
    /// # Errors
    /// Days too many, out of order, of the past or of another year; prices that can't be.
    pub fn check(&self, today: Date, year_ends: Date) -> Result<(), Refused> {
        let mut checks = Checks::new();
        checks.require(self.own.len() <= MOST_CUTS, "/own", said!("at most {} cuts", MOST_CUTS));
        for (at, on) in self.own.iter().enumerate() {
            let inside = (today..year_ends).contains(on);
            checks.require(
                inside,
                format!("/own/{at}"),
                said!("choose a day from {} to {}", today, plus(year_ends, -1)),
            );
        }
        let apart = self.own.windows(2).all(|pair| pair[0] < pair[1]);
        checks.require(apart, "/own", "each cut must be later than the one before it");
        for (pointer, price) in [("/price", self.price), ("/premium", self.premium)] {
            if let Some(price) = price {
                checks.within(pointer, "Price", price, Unit::MoneyPerT, 0.0, 1e9);
            }
        }
        if let Some(cost) = self.cut_cost {
            checks.within("/cut_cost", "Cost per cut", cost, Unit::MoneyPerHa, 0.0, 1e9);
        }
        checks.done()
    }
}

/// One cut of a way, over the years.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
#[schema(as = CuttingWayCut)]
pub struct WayCut {
    /// In the middling year.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// In one year of ten not after this day.
    #[schema(value_type = String, format = Date)]
    pub from: Date,
    /// In one of ten not before this.
    #[schema(value_type = String, format = Date)]
    pub to: Date,
    /// Share of years in which it comes at all.
    pub comes: Fraction,
    /// Dry matter: low, middle, high.
    pub taken: Series,
    /// How tall it stands, in the middling year.
    pub height: Length,
    /// Feed in it, in the middling year.
    pub feed: Feed,
}

/// A way of cutting.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
#[schema(as = CuttingWay)]
pub struct Way {
    /// Stable name.
    pub key: String,
    /// In words.
    #[schema(value_type = String)]
    pub title: Said,
    /// Cuts still to come this growing year, in the order of days.
    pub cuts: Vec<WayCut>,
    /// Cuts to come, in one year of ten no more, in half of them, in nine of ten.
    pub times: [u32; 3],
    /// Dry matter of this growing year, what was cut already too: low, middle, high.
    pub year: Series,
    /// Relative forage quality, mean of what is still cut, in the middling year.
    pub quality: Option<f64>,
    /// Crude protein, likewise.
    pub protein: Option<Fraction>,
    /// Share of the cuts to come on which rain falls before they are up.
    pub rained: Option<Fraction>,
    /// Share of its reserve that it goes into winter with, in the middling year.
    pub stored: Option<Fraction>,
    /// How full it stands at the end of what is followed, of how full it stands today.
    pub kept: Fraction,
    /// Growth above the stubble on the last day that is followed; none of what is over by then.
    pub spring: Option<MassPerArea>,
    /// What is brought home is worth, less the cost of the cuts, in the middling year.
    pub worth: Option<MoneyPerArea>,
}

/// How it stands day by day under one of the ways: green dry matter above the stubble.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
#[schema(as = DrawnWay)]
pub struct Drawn {
    /// Key of the way.
    pub key: String,
    /// The first day.
    #[schema(value_type = String, format = Date)]
    pub from: Date,
    /// Up to yesterday.
    pub so_far: Series,
    /// From today on, in one year of ten.
    pub low: Series,
    /// In half of the years.
    pub middle: Series,
    /// In nine of ten.
    pub high: Series,
}

/// Ways of cutting side by side.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Cutting {
    /// The first crop is a grass: it heads, and does not bloom.
    pub grass: bool,
    /// As it is planned first, where cuts are planned; what the person asked for last.
    pub ways: Vec<Way>,
    /// How it stands under one of them.
    pub drawn: Drawn,
    /// What was cut this growing year already.
    #[schema(value_type = Vec<String>)]
    pub done: Vec<Date>,
    /// The last day of cutting that keeps the rest before winter; none where no frost comes.
    #[schema(value_type = Option<String>, format = Date)]
    pub rest_from: Option<Date>,
    /// The usual killing frost.
    #[schema(value_type = Option<String>, format = Date)]
    pub frost: Option<Date>,
    /// The last day that is followed.
    #[schema(value_type = String, format = Date)]
    pub followed_to: Date,
    /// What a week earlier or later would do to the next cut.
    #[schema(value_type = Vec<String>)]
    pub weeks: Vec<Said>,
    /// The first day of the next growing year.
    #[schema(value_type = String, format = Date)]
    pub year_ends: Date,
    /// Years it was tried on.
    pub years: usize,
    /// Where they come from.
    pub basis: Basis,
    /// What was taken for granted.
    #[schema(value_type = Vec<String>)]
    pub assumed: Vec<Said>,
}

/// A way that is to be tried.
struct Asking {
    key: &'static str,
    title: Said,
    policy: Policy,
    /// It keeps the rest before winter.
    rests: bool,
}

fn of_stages(crop: &Crop, then: u32) -> Vec<Asking> {
    let grass = crop.kind == Kind::Grass;
    let at = |key, stage, words: &str| Asking {
        key,
        title: words.into(),
        policy: Policy::AtStage { stage, then },
        rests: true,
    };
    match grass {
        true => vec![at("early", 0.85, "at boot"), at("usual", 1.0, "at heading"), at("late", 1.3, "after heading")],
        false => {
            vec![at("early", 0.75, "at bud"), at("usual", 1.0, "at early bloom"), at("late", 1.35, "at full bloom")]
        }
    }
}

/// Fibre at which a quality target stops the clock, % of dry matter: prime hay (common practice).
const fn prime(kind: Kind) -> f64 {
    if matches!(kind, Kind::Grass) { 55.0 } else { 40.0 }
}

/// A cool-season annual is taken once: what regrows after is not worth waiting for (common practice).
fn once(crop: &Crop) -> bool {
    crop.life == Life::Annual && crop.pathway == Pathway::C3
}

/// The ways of cutting a stand that are compared, its plan first. What is grown for its dead stems is cut after frost, as its
/// regime has it, and by no stage.
fn ways(goal: Goal, crop: &Crop, frost: Option<Date>, planned: &[Date], own: &[Date]) -> Vec<Asking> {
    let on_days = |key, title: &str, days: &[Date]| Asking {
        key,
        title: title.into(),
        policy: Policy::OnDays(days.to_vec()),
        rests: false,
    };
    let mut all = vec![];
    if !planned.is_empty() {
        all.push(on_days("planned", "as planned", planned));
    }
    match goal {
        Goal::Biomass | Goal::Bedding => {
            let after =
                frost.map(|frost| on_days("after-frost", "two weeks after the killing frost", &[plus(frost, 14)]));
            all.extend(after);
        }
        _ => all.extend(by_growth(crop)),
    }
    if !own.is_empty() {
        all.push(on_days("own", "your dates", own));
    }
    all
}

/// By stage, by interval, by a quality target, and without the rest before winter.
fn by_growth(crop: &Crop) -> Vec<Asking> {
    let (low, high) = crop.cutting.as_ref().map_or((28, 35), |cutting| (cutting.regrowth.low, cutting.regrowth.high));
    let (then, days) = (low.unsigned_abs(), high.unsigned_abs());
    let mut all = of_stages(crop, then);
    let most = prime(crop.kind);
    let fibre = said!("before NDF passes {}", Fraction::percent(most));
    let by_fibre = Asking { key: "fibre", title: fibre, policy: Policy::BelowFibre { most, then: days }, rests: true };
    if once(crop) {
        all.push(by_fibre);
        return all;
    }
    let interval = Policy::Every { first: 1.0, days };
    all.push(Asking { key: "interval", title: said!("every {} days", days), policy: interval, rests: true });
    all.push(by_fibre);
    if crop.life != Life::Annual {
        let usual = Policy::AtStage { stage: 1.0, then };
        let title =
            if crop.kind == Kind::Grass { "at heading, no autumn rest" } else { "at early bloom, no autumn rest" };
        all.push(Asking { key: "no-rest", title: title.into(), policy: usual, rests: false });
    }
    all
}

/// When to cut a stand: the ways that growers go by, each from what stands there today.
///
/// # Errors
/// [`Untold::Refused`] for a request that can't be, [`Untold::Why`] where nothing can be told.
pub fn cutting(
    asked: Asked<'_>,
    steps: &[Step],
    record: &Years,
    all: &Scenarios,
    request: &CuttingRequest,
) -> Result<Answer<Cutting>, Untold> {
    let today = asked.today;
    let year_ends = year_start(record.place.latitude, plus(asked.year_start, 370));
    request.check(today, year_ends).map_err(Untold::Refused)?;
    let mut ready = Ready::new(asked, steps, record).map_err(Untold::Why)?;
    enough(all).map_err(Untold::Why)?;
    ready.assume(today);
    ready.planned.retain(|on| *on < year_ends);
    let Ready { stand, begin, deeds, planned, hungry } = &ready;
    let course = Course { facts: &stand.facts, soil: &stand.soil, deeds };
    let past = course.past(record, *begin, today);
    let past = past.ok_or_else(|| Untold::Why("Weather data since sowing are missing.".into()))?;
    let crop = stand.crops[0];

    let usual_frost = asked.usual.and_then(|usual| usual.frost).map(|day| plus(asked.year_start, day));
    let rest_from = usual_frost.map(|frost| plus(frost, -REST));
    let limits = |rests: bool| Limits {
        year_ends,
        until: rest_from.filter(|_| rests && crop.life != Life::Annual).unwrap_or(year_ends),
        least_days: LEAST_DAYS,
        most: if once(crop) { 1 } else { MOST_CUTS },
        worth: WORTH_A_CUT,
        feeds: if *hungry { AFTER_CUT } else { 0.0 },
        frost: usual_frost.unwrap_or(plus(year_ends, -1)),
    };
    let days = FOLLOWED.min(all.days());
    let brought: f64 = past.harvests.iter().filter(|one| one.on >= asked.year_start).map(|one| one.taken).sum();
    let mut sheet = sheet(crop, all);
    let grown = |asking: &Asking| {
        let limits = limits(asking.rests);
        // What a person chose to cut is cut, however little stands there.
        let chosen = matches!(asking.policy, Policy::OnDays(_));
        let limits = if chosen { Limits { least_days: 0, most: MOST_CUTS, worth: ANYTHING, ..limits } } else { limits };
        tried(&course, all, &past, days, (&asking.policy, &limits))
    };
    let asking = ways(asked.choices.goal, crop, usual_frost, planned, &request.own);
    let at = asking.iter().position(|one| Some(one.key) == request.drawn.as_deref()).unwrap_or(0);
    let mut drawn = None;
    let mut found = vec![];
    for (place, one) in asking.iter().enumerate() {
        let years = grown(one);
        let way = way(crop, one, &years, brought, request);
        let name = format!("{}_year", one.key);
        sheet.gathered(&name, "median of the weather years, all cuts together", way.taken());
        found.push(way);
        if place == at {
            drawn = Some(drawing(one.key, asked.year_start, begin.0, &past, &years));
        }
    }
    let moved = |one: &Asking| way(crop, one, &grown(one), brought, request);
    let weeks = weeks(planned, found.first(), today, year_ends, moved);
    let drawn = drawn.ok_or_else(|| {
        Untold::Why("A stand for biomass is harvested after frost: choose its regime, or try your own dates.".into())
    })?;
    let done = past.harvests.iter().map(|one| one.on).filter(|on| *on >= asked.year_start).collect();
    let followed_to = plus(all.first(), all.days() as i32 - 1).min(plus(today, days as i32 - 1));
    let cutting = Cutting {
        grass: crop.kind == Kind::Grass,
        ways: found,
        drawn,
        done,
        rest_from: rest_from.filter(|_| crop.life != Life::Annual),
        frost: usual_frost,
        followed_to,
        weeks,
        year_ends,
        years: all.runs().len(),
        basis: all.basis,
        assumed: stand.assumed.clone(),
    };
    Ok(sheet.answer(cutting))
}

/// Why nothing is told.
#[derive(Debug, Clone, PartialEq)]
pub enum Untold {
    /// What was asked can't be.
    Refused(Refused),
    /// It can't be told of this stand.
    Why(Said),
}

fn sheet(crop: &Crop, all: &Scenarios) -> Sheet {
    let mut sheet = Sheet::new(format!("cutting {}", crop.name));
    sheet.source(agronomy::crop::library().source(&crop.season.source).clone());
    sheet.source(Source::common_practice(
        "cut by stage, by interval, by a quality target; the last cut five weeks before the killing frost",
    ));
    sheet.input("years_counted", all.runs().len() as f64, Origin::measured("the weather years"));
    sheet.input("brought_home", Fraction::from_base(BROUGHT_HOME), Origin::assumed("your own weighed loads"));
    sheet.would_change("What was cut, spread or watered and not recorded; a stand count; a lab test of the cut.");
    sheet
}

/// How it stands under a way, day by day.
fn drawing(key: &str, season: Date, begin: Date, past: &Followed, years: &[Tried]) -> Drawn {
    let from = plus(begin, 1).max(season);
    let skip = usize::try_from(days_between(plus(begin, 1), from)).unwrap_or(0).min(past.evenings.len());
    let days = years.iter().map(|year| year.above.len()).min().unwrap_or(0);
    let each: Vec<Vec<f64>> = (0..days).map(|day| spread(years.iter().map(|year| year.above[day]))).collect();
    let at = |place: usize| series(&mut each.iter().map(|spread| spread.get(place).copied().unwrap_or(0.0)));
    Drawn {
        key: key.to_owned(),
        from,
        so_far: series(&mut past.evenings[skip..].iter().map(|one| one.above)),
        low: at(0),
        middle: at(1),
        high: at(2),
    }
}

impl Way {
    /// Dry matter of the growing year, in the middling year.
    fn taken(&self) -> MassPerArea {
        let value = self.year.values.get(1).copied().flatten().unwrap_or(0.0);
        MassPerArea::from_base(self.year.unit.to_base(value))
    }
}

fn middle(values: impl Iterator<Item = f64>) -> Option<f64> {
    spread(values).get(1).copied()
}

/// Feed of a harvest with its index.
fn fed(crop: &Crop, harvest: &Harvest) -> Feed {
    feed(crop, harvest.quality)
}

/// Mean of something over a year's cuts, by what each takes.
fn mean(harvests: &[Harvest], of: impl Fn(&Harvest) -> Option<f64>) -> Option<f64> {
    let all: f64 = harvests.iter().map(|one| one.taken).sum();
    let sum: f64 = harvests.iter().map(|one| of(one).map(|value| value * one.taken)).sum::<Option<f64>>()?;
    (all > 0.0).then(|| sum / all)
}

fn way(crop: &Crop, asking: &Asking, years: &[Tried], brought: f64, request: &CuttingRequest) -> Way {
    let count = years.len().max(1) as f64;
    let lasts = crop.life != Life::Annual;
    let taken = |year: &Tried| brought + year.harvests.iter().map(|one| one.taken).sum::<f64>();
    let times = spread(years.iter().map(|year| year.harvests.len() as f64));
    let usual = times.get(1).map_or(0, |times| times.round() as usize);
    let quality = |harvest: &Harvest| fed(crop, harvest).quality;
    let all_cuts: usize = years.iter().map(|year| year.harvests.len()).sum();
    let rained: u32 = years.iter().map(|year| year.rained).sum();
    let worth = request.price.and_then(|price| {
        let of = |year: &Tried| worth(crop, &year.harvests, price, request);
        middle(years.iter().map(of)).map(MoneyPerArea::from_base)
    });
    Way {
        key: asking.key.to_owned(),
        title: asking.title.clone(),
        cuts: (0..usual.min(MOST_CUTS)).filter_map(|place| cut(crop, years, place)).collect(),
        times: [0, 1, 2].map(|at| times.get(at).map_or(0, |times| times.round() as u32)),
        year: tonnes(&mut spread(years.iter().map(taken)).into_iter()),
        quality: middle(years.iter().filter_map(|year| mean(&year.harvests, quality))).map(f64::round),
        protein: middle(years.iter().filter_map(|year| mean(&year.harvests, |one| Some(one.quality.protein))))
            .map(Fraction::percent),
        rained: (all_cuts > 0).then(|| Fraction::from_base(f64::from(rained) / all_cuts as f64)),
        stored: middle(years.iter().filter_map(|year| year.stored)).filter(|_| lasts).map(Fraction::from_base),
        kept: Fraction::from_base(years.iter().map(|year| year.kept).sum::<f64>() / count),
        spring: middle(years.iter().map(Tried::spring)).filter(|_| lasts).map(mass),
        worth,
    }
}

/// What a year's cuts are worth, less what they cost, money/m².
fn worth(crop: &Crop, harvests: &[Harvest], price: MoneyPerMass, request: &CuttingRequest) -> f64 {
    let premium = request.premium.map_or(0.0, Measure::base);
    let cost = request.cut_cost.map_or(0.0, Measure::base);
    let of = |harvest: &Harvest| {
        let points = fed(crop, harvest).quality.map_or(0.0, |quality| (quality - PRICED_AT) / 10.0);
        let paid = (price.base() + premium * points).max(0.0);
        mass(harvest.taken).base() * BROUGHT_HOME * paid - cost
    };
    harvests.iter().map(of).sum()
}

/// One cut of a way, over the years that have it.
fn cut(crop: &Crop, years: &[Tried], place: usize) -> Option<WayCut> {
    let having: Vec<&Harvest> = years.iter().filter_map(|year| year.harvests.get(place)).collect();
    let first = having.first()?.on;
    let days = spread(having.iter().map(|one| f64::from(days_between(first, one.on))));
    let day = |at: usize| plus(first, days.get(at).map_or(0, |days| days.round() as i32));
    let of = |value: fn(&Harvest) -> f64| middle(having.iter().map(|one| value(one))).unwrap_or(0.0);
    let quality = agronomy::growth::Quality {
        protein: of(|one| one.quality.protein),
        fibre: of(|one| one.quality.fibre),
        acid_fibre: of(|one| one.quality.acid_fibre),
        digested: of(|one| one.quality.digested),
    };
    Some(WayCut {
        on: day(1),
        from: day(0),
        to: day(2),
        comes: Fraction::from_base(having.len() as f64 / years.len().max(1) as f64),
        taken: tonnes(&mut spread(having.iter().map(|one| one.taken)).into_iter()),
        height: Length::new(of(|one| one.stood.height), Unit::Cm),
        feed: feed(crop, quality),
    })
}

/// What a week earlier or later does to the next planned cut, each as a sentence.
fn weeks(
    planned: &[Date],
    as_planned: Option<&Way>,
    today: Date,
    year_ends: Date,
    moved: impl Fn(&Asking) -> Way,
) -> Vec<Said> {
    let (Some(next), Some(held)) = (planned.first(), as_planned.filter(|way| way.key == "planned")) else {
        return vec![];
    };
    let mut sentences = vec![];
    for (by, key, words) in [(-WEEK, "earlier", "A week earlier"), (WEEK, "later", "A week later")] {
        let on = plus(*next, by);
        let apart = planned.get(1).is_none_or(|second| days_between(on, *second) >= LEAST_DAYS as i32);
        if on < today || on >= year_ends || !apart {
            continue;
        }
        let mut days = planned.to_vec();
        days[0] = on;
        let other = moved(&Asking { key, title: words.into(), policy: Policy::OnDays(days), rests: false });
        let (Some(now), Some(then)) = (held.cuts.first(), other.cuts.first()) else { continue };
        let (was, is) = (held.taken(), other.taken());
        let difference = MassPerArea::from_base((is.base() - was.base()).abs());
        let more = if is.base() >= was.base() { "more" } else { "less" };
        let quality = match (now.feed.quality, then.feed.quality) {
            (Some(now), Some(then)) => said!(", that cut at RFQ {} instead of {}", format!("{then}"), format!("{now}")),
            _ => Said::from(""),
        };
        sentences.push(said!("{} ({}): {} {} over the year{}.", words, on, difference, more, quality));
    }
    sentences
}
