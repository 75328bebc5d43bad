//! The weather years asked about a stand: how likely is its sowing, when does its field need water?
//!
//! What the field is like comes from its ground; what has not been looked at is assumed and said so.

use agronomy::{
    crop::{Crop, Drainage, library},
    given,
    practice::{Condition, practice},
    reckon, said,
    said::Said,
    soil::Texture,
    source::{Origin, Source},
    units::{Fraction, Length, Measure, Money, Quantity, Unit, WaterPerDay},
    water::{Bed, IrrigationAdvice, reached_by},
    weather::{
        Years, days_between, plus,
        soil_temperature::{Correction, Ground as Soil, SoilCover, follow},
    },
    window::{
        Resolved, Rule, WindowAnswer, WindowKind,
        growing_time::{TimeLeft, time_left},
        offered, reading_depth, resolve, rules_of, try_rules, window_kind, window_kinds, worked_out,
    },
    working::{Answer, Sheet},
    years::{Scenarios, Site, SiteRuns},
};
use std::sync::Arc;

use jiff::civil::Date;

use records::{
    Choices,
    book::{Dated, Ground},
};

use serde::Serialize;
use utoipa::ToSchema;

use crate::{StepOdds, ground::Asked};

/// Days of a record that a soil reading is compared within.
const RECENT: usize = 900;

/// What the years are asked of: a field's stand, at the odds at which a window counts as open.
#[derive(Debug, Clone, Copy)]
pub struct Question<'a> {
    /// The stand and its field.
    pub asked: Asked<'a>,
    /// The years, with what is known of this one.
    pub years: &'a Scenarios,
    /// Odds at which a window opens and closes.
    pub level: Fraction,
    /// What a failed sowing costs.
    pub stake: Option<Money>,
}

fn crops(choices: &Choices) -> Vec<&'static Crop> {
    choices.cover.crops().into_iter().filter_map(|id| library().crop(id)).collect()
}

fn texture(ground: &Ground) -> Texture {
    ground.facts.texture.unwrap_or(Texture::Loam)
}

fn drainage(ground: &Ground) -> Drainage {
    ground.facts.drainage.unwrap_or(Drainage::Moderate)
}

/// What is taken for granted of a field that nobody has looked at.
pub fn assumed(ground: &Ground) -> Vec<String> {
    let mut assumed = vec![];
    if ground.facts.texture.is_none() {
        assumed.push("Soil is assumed to be loam. Record the texture under the field’s site.".to_owned());
    }
    if ground.facts.drainage.is_none() {
        assumed.push("Drainage is assumed to be moderate. Record it under the field’s site.".to_owned());
    }
    if ground.soil_readings.is_empty() {
        assumed.push("Soil temperature is estimated from air temperature. Thermometer readings correct it.".to_owned());
    }
    assumed
}

/// Mornings of the soil at a depth over the last years of a record, as modelled; none of a day that does not tell.
#[derive(Debug, Clone)]
pub struct Mornings {
    /// The first day.
    pub first: Date,
    /// The days from it on, °C.
    pub mornings: Arc<[Option<f64>]>,
}

/// What the soil's temperature is modelled from: a record, or whoever keeps what was made of one.
pub trait Modelled {
    /// Mornings of a soil at a depth.
    fn mornings(&self, soil: Soil, depth: Length) -> Mornings;
}

impl Modelled for Years {
    fn mornings(&self, soil: Soil, depth: Length) -> Mornings {
        let skip = self.days.len().saturating_sub(RECENT);
        let recent = Self { first: plus(self.first, skip as i32), days: self.days[skip..].to_vec(), ..*self };
        let mornings = follow(&recent, soil, depth.base()).into_iter().map(|day| Some(day?.morning)).collect();
        Mornings { first: recent.first, mornings }
    }
}

/// The seedbed of a stand, with its field's own readings.
pub fn seedbed(choices: &Choices, ground: &Ground, record: &dyn Modelled) -> Site {
    let cover = practice(&choices.practice).map_or(SoilCover::Bare, |practice| practice.cover);
    let (texture, drainage) = (texture(ground), drainage(ground));
    let depth = crops(choices).into_iter().map(|crop| reading_depth(crop, texture).to(Unit::Mm)).fold(30.0, f64::max);
    let mut site = Site::seedbed(texture, drainage, cover, depth.round() as u16);
    site.correction = correction(ground, record, Soil::new(texture, cover));
    read_at_the_field(&mut site, ground);
    site
}

fn read_at_the_field(site: &mut Site, ground: &Ground) {
    let mm = |one: &Dated<Length>| (one.on, one.what.to(Unit::Mm));
    site.gauge = ground.rain_gauge.iter().map(mm).collect();
    site.irrigation = ground.irrigation.iter().map(mm).collect();
}

/// By how much a field's thermometer corrects the model.
fn correction(ground: &Ground, record: &dyn Modelled, soil: Soil) -> Correction {
    // Read at one depth or two: the soil is followed once for each.
    let mut followed: Vec<(Length, Mornings)> = vec![];
    let mut differences = vec![];
    for reading in &ground.soil_readings {
        let place = followed.iter().position(|(depth, _)| *depth == reading.depth).unwrap_or_else(|| {
            followed.push((reading.depth, record.mornings(soil, reading.depth)));
            followed.len() - 1
        });
        let Mornings { first, mornings } = &followed[place].1;
        // A reading of this morning is held against yesterday, the last day that is told; one of later days than
        // that is held against nothing.
        let index = days_between(*first, reading.on);
        let index = if index == mornings.len() as i32 { index - 1 } else { index };
        let modelled = usize::try_from(index).ok().and_then(|index| mornings.get(index).copied().flatten());
        differences.extend(modelled.map(|modelled| (reading.on, reading.temperature.base() - modelled)));
    }
    Correction::new(differences)
}

/// A way of timing that a stand may be sown in.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
#[schema(as = TimingOffered)]
pub struct Timing {
    /// Its key.
    pub window: String,
    /// In words.
    pub name: String,
    /// It is weighed though nobody chose it.
    pub usual: bool,
}

/// Ways of timing that a stand may be sown in at a place with frost, or without: the usual ones are those that all crops of
/// a mix share, or the first crop's where they share none, and those that the practice is made for. The others are borne by
/// one crop of it at least.
pub fn timings(choices: &Choices, frosty: bool) -> Vec<Timing> {
    let usual = usual_ways(choices, frosty);
    let crops = crops(choices);
    let borne = window_kinds().iter().filter(|kind| kind.offered_at(frosty));
    let borne = borne.filter(|kind| crops.iter().any(|crop| crop.climate.bears(&kind.key)));
    let other = borne.filter(|kind| usual.iter().all(|one| one.key != kind.key));
    let told = |kind: &WindowKind, usual| Timing { window: kind.key.clone(), name: kind.name.clone(), usual };
    usual.iter().map(|kind| told(kind, true)).chain(other.map(|kind| told(kind, false))).collect()
}

fn usual_ways(choices: &Choices, frosty: bool) -> Vec<&'static WindowKind> {
    let crops = crops(choices);
    let Some((first, others)) = crops.split_first() else { return vec![] };
    let shared: Vec<_> = offered(first, frosty)
        .filter(|kind| others.iter().all(|crop| crop.climate.windows.contains(&kind.key)))
        .collect();
    let mut ways = if shared.is_empty() { offered(first, frosty).collect() } else { shared };
    let made_for = practice(&choices.practice).map_or(&[][..], |practice| &practice.windows);
    let made_for = made_for.iter().filter_map(|key| window_kind(key)).filter(|kind| kind.offered_at(frosty));
    for kind in made_for {
        // A way through frost or into a sleeping sod is only for what bears it; moist ground is for all.
        let borne = of_the_ground_alone(kind) || crops.iter().any(|crop| crop.climate.bears(&kind.key));
        if borne && ways.iter().all(|one| one.key != kind.key) {
            ways.push(kind);
        }
    }
    ways
}

/// No crop names it: it is a matter of the ground alone.
fn of_the_ground_alone(kind: &WindowKind) -> bool {
    library().crops().all(|crop| !crop.climate.bears(&kind.key))
}

/// The ways that are worked out: the usual ones, and the one that was chosen.
fn ways(choices: &Choices, frosty: bool) -> Vec<&'static WindowKind> {
    let mut ways = usual_ways(choices, frosty);
    let chosen = choices.timing.as_deref().and_then(window_kind).filter(|kind| kind.offered_at(frosty));
    if let Some(kind) = chosen.filter(|kind| ways.iter().all(|one| one.key != kind.key)) {
        ways.push(kind);
    }
    ways
}

/// The way that was chosen is none at a place with frost, or without: why. A way that was chosen is never silently another.
pub fn chosen_in_vain(choices: &Choices, frosty: bool) -> Option<Said> {
    let kind = choices.timing.as_deref().and_then(window_kind).filter(|kind| !kind.offered_at(frosty))?;
    let why = match frosty {
        true => "it is for places without frost",
        false => "it needs frost, and there is none in the weather years here",
    };
    Some(said!("No odds for {}: {}. Choose another sowing window.", kind.name.as_str(), why))
}

/// The crops whose rules a way goes by, and the others: those of a mix that bear it; all of them where none does.
fn going_by(kind: &WindowKind, choices: &Choices) -> (Vec<&'static Crop>, Vec<&'static Crop>) {
    let crops = crops(choices);
    let bears = |crop: &&Crop| crop.climate.bears(&kind.key);
    if of_the_ground_alone(kind) {
        (crops, vec![])
    } else if crops.iter().any(bears) {
        crops.into_iter().partition(bears)
    } else {
        (crops.clone(), crops)
    }
}

/// The rules of a way for a mix: of two of a kind, the stricter stands.
fn rules(kind: &WindowKind, crops: &[&Crop], question: Question<'_>, not_before: Option<Date>) -> Vec<Resolved> {
    let Question { asked, years, .. } = question;
    let further: Vec<Rule> =
        not_before.map(|on| Rule::NotBefore { on, why: "field ready by then".to_owned() }).into_iter().collect();
    let mut kept: Vec<Resolved> = vec![];
    for crop in crops {
        for rule in rules_of(kind, crop, years, asked.ground.facts.irrigated, &further) {
            match kept.iter_mut().find(|known| known.key == rule.key) {
                Some(known) if rule.stricter_than(known) => *known = rule,
                Some(_) => {}
                None => kept.push(rule),
            }
        }
    }
    kept
}

/// Every way of timing a stand's sowing, worked out around its day, on a field that is fit from a day on.
pub fn sowing(question: Question<'_>, runs: &SiteRuns, fit_from: Option<Date>) -> Vec<Answer<WindowAnswer>> {
    let Question { asked, years, level, stake } = question;
    let crops = crops(asked.choices);
    let Some(crop) = crops.first().filter(|_| !years.runs().is_empty()) else { return vec![] };
    // A field that becomes fit on a day is no place for seed before it; one fit today asks nothing.
    let fit_from = fit_from.filter(|day| *day > asked.today);
    let look = (asked.today.max(years.first()), plus(years.first(), years.days() as i32));
    let look = if look.0 < look.1 { look } else { (years.first(), look.1) };
    let answers = ways(asked.choices, years.frosty()).into_iter().map(|kind| {
        let (by, not_for) = going_by(kind, asked.choices);
        let rules = rules(kind, &by, question, fit_from);
        let of = by.first().copied().unwrap_or(crop);
        let mut answer = worked_out(kind, of, years, runs, &rules, asked.choices.sow_on, level, stake, look);
        answer.value.not_for = not_for.iter().map(|crop| crop.name.clone()).collect();
        answer
    });
    answers.collect()
}

/// Whether the weather holds, today, what a step of the practice waits for.
#[derive(Debug, Clone, PartialEq)]
pub struct WeatherHeld {
    /// Key of the step.
    pub step: String,
    /// It does, in most of the years laid after this one so far.
    pub today: bool,
    /// What is waited for.
    pub words: Said,
}

/// What the practice's steps wait for of the weather, by the rules of the odds.
pub fn held_today(question: Question<'_>, runs: &SiteRuns) -> Vec<WeatherHeld> {
    let Question { asked, years, .. } = question;
    let crops = crops(asked.choices);
    let day = usize::try_from(days_between(years.first(), asked.today)).ok().filter(|day| *day < years.days());
    let (Some(crop), Some(day), Some(school)) = (crops.first(), day, practice(&asked.choices.practice)) else {
        return vec![];
    };
    let rules = school.steps.iter().flat_map(|step| {
        step.conditions.iter().filter_map(|condition| match condition {
            Condition::Weather(rule) => Some((step.key.clone(), resolve(rule, crop))),
            Condition::Seen(_) => None,
        })
    });
    rules
        .map(|(step, rule)| {
            let words = rule.name.as_str().into();
            let tried = try_rules(years, runs, std::slice::from_ref(&rule));
            WeatherHeld { step, today: 2 * tried.hits(day) >= tried.runs(), words }
        })
        .collect()
}

/// The odds of a stand's own day: by the way that was chosen, and none where that is none here; else by the likeliest.
pub fn on_its_day(choices: &Choices, answers: &[Answer<WindowAnswer>]) -> Option<StepOdds> {
    let chosen = answers.iter().find(|answer| choices.timing.as_ref() == Some(&answer.value.window));
    if chosen.is_none() && choices.timing.as_deref().is_some_and(|key| window_kind(key).is_some()) {
        return None;
    }
    let likeliest = || {
        let told = answers.iter().filter(|answer| answer.value.asked.is_some());
        // Of equals the first: the crop's usual way.
        told.reduce(|best, one| if one.value.asked > best.value.asked { one } else { best })
    };
    let value = &chosen.or_else(likeliest)?.value;
    let day = value.curve.index(choices.sow_on)?;
    Some(StepOdds {
        window: value.window.clone(),
        name: value.name.clone(),
        odds: value.curve.odds[day],
        low: value.curve.low[day],
        high: value.curve.high[day],
        years: value.curve.years,
        basis: value.curve.basis,
        in_a_week: value.in_a_week,
        limited_by: value.curve.limit(day).map(|rule| rule.name.clone()),
        edges: value.edges.clone(),
    })
}

/// How far each crop sown on its day gets before the frost that ends its growth.
pub fn growing_time(choices: &Choices, years: &Scenarios) -> Vec<(String, TimeLeft)> {
    let day = usize::try_from(days_between(years.first(), choices.sow_on)).ok().filter(|day| *day < years.days());
    let Some(day) = day.filter(|_| !years.runs().is_empty()) else { return vec![] };
    crops(choices).into_iter().map(|crop| (crop.id.clone(), time_left(years, crop, day))).collect()
}

/// When an irrigated field's stand needs water, by the balance of each of the years.
pub fn irrigation(question: Question<'_>, sown_on: Option<Date>) -> Option<Answer<IrrigationAdvice>> {
    let Question { asked, years, .. } = question;
    let crop = *crops(asked.choices).first()?;
    let start = usize::try_from(days_between(years.first(), asked.today)).ok().filter(|day| *day < years.days())?;
    if !asked.ground.facts.irrigated || years.runs().is_empty() {
        return None;
    }
    let (texture, drainage) = (texture(asked.ground), drainage(asked.ground));
    let established = sown_on.is_some_and(|on| days_between(on, asked.today) >= 60);
    let bed = if established { Bed::stand(crop, texture, drainage) } else { Bed::seedbed(texture, drainage) };
    let mut site = Site::seedbed(texture, drainage, SoilCover::Sward, 30);
    read_at_the_field(&mut site, asked.ground);
    site.bed = Some(bed);
    let runs = years.site(&site);

    let mut sheet = Sheet::new(format!("when to irrigate {}", crop.name));
    sheet.source(Source::published(
        "Allen, Pereira, Raes & Smith 1998, FAO Irrigation and Drainage Paper 56, chapter 8: irrigate when the readily available water is used",
    ));
    given!(sheet; total_available: Length = bed.profile.upper, Origin::assumed("a water-holding test of this soil"));
    given!(sheet; depletion_fraction = bed.canopy.depletion_fraction, crop.climate.depletion.origin());
    reckon!(sheet; readily_available: Length = depletion_fraction * total_available);
    let last = start.saturating_sub(1);
    let evening: Vec<f64> = runs.runs().iter().map(|run| f64::from(run.missing()[last])).collect();
    let missing_mm = evening.iter().sum::<f64>() / evening.len() as f64;
    let missing = sheet.gathered(
        "missing",
        "mean over years of rain, irrigation and use to date",
        Length::new(missing_mm, Unit::Mm),
    );
    let threshold = readily_available * 1_000.0;
    let days_to: Vec<Option<i32>> = runs
        .runs()
        .iter()
        .map(|run| run.missing()[start..].iter().take(200).position(|gone| f64::from(*gone) >= threshold))
        .map(|days| days.and_then(|days| i32::try_from(days).ok()))
        .collect();
    let reference = years.runs().iter().map(|run| run.reference(start)).sum::<f64>() / years.runs().len() as f64;
    // A wet bare seedbed evaporates at full speed (FAO-56 table 17); a stand by its own coefficient.
    let use_today = reference * if established { bed.canopy.basal + 0.05 } else { 1.15 };
    // It is watered before its surface, not its root zone, is dry: half-way into slow drying.
    let surface = (bed.profile.readily_evaporable + bed.profile.total_evaporable) / 2.0;
    let every_days = (!established).then(|| surface * 1_000.0 / use_today.max(0.2));
    let depth = Quantity::water(Length::from_base(if established { readily_available } else { surface }));
    sheet.would_change("Recording a rain gauge in the field and each irrigation.");
    sheet.caution("wastewater");
    let rule_of_thumb = if established {
        "Rule of thumb: irrigate every 8–10 days in dry weather, and once before sowing."
    } else {
        "Rule of thumb: water seedlings lightly every few days, and cuttings three days after planting."
    };
    let by = |share| reached_by(&days_to, share, asked.today);
    Some(sheet.answer(IrrigationAdvice {
        missing: Quantity::water(missing),
        readily_available: Quantity::water(Length::from_base(readily_available)),
        use_today: WaterPerDay::from_base(use_today),
        by: by(0.5),
        earliest: by(0.1),
        latest: by(0.9),
        depth,
        every_days,
        rule_of_thumb: rule_of_thumb.to_owned(),
    }))
}
