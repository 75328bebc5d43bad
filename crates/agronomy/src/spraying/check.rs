//! The topic `spray.check`: a spray held against its label and against what stands and is to stand there.

use jiff::{ToSpan, civil::Date};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{
    kinds::kind_of,
    label::{NamedOver, SprayLabel, base, check_rate, named_over, names},
};
use crate::{
    crop::{Crop, crop_of, library},
    reckon,
    refusal::{Checks, Refused},
    said,
    said::Said,
    source::{Origin, Source},
    units::{Fraction, Length, Measure, Quantity, Speed, Temperature, Unit},
    working::{Answer, Sheet},
};

/// Something that is to be sown after the spray.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ToSow {
    /// Crop of the library.
    pub crop: String,
    /// The day.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
}

/// What the variety that stands there tolerates.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct StandingVariety {
    /// Crop of the library.
    pub crop: String,
    /// Active ingredients that it was bred to tolerate; none of an ordinary variety.
    pub tolerates: Vec<String>,
}

impl StandingVariety {
    fn bears(&self, active: &str) -> bool {
        // Salts and esters are of their acid, on either side; 2,4-DB is not 2,4-D.
        let salt_of = |salt: &str, acid: &str| {
            salt.strip_prefix(acid).is_some_and(|rest| rest.is_empty() || rest.starts_with([' ', '-', '(']))
        };
        let asked = active.trim().to_lowercase();
        let known = self.tolerates.iter().map(|one| one.trim().to_lowercase()).filter(|one| !one.is_empty());
        !asked.is_empty() && known.into_iter().any(|one| salt_of(&asked, &one) || salt_of(&one, &asked))
    }
}

/// Request of the topic `spray.check`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SprayCheckRequest {
    /// The label, as somebody has read it.
    pub label: SprayLabel,
    /// What is to go out, per area.
    #[serde(default)]
    pub rate: Option<Quantity>,
    /// The day of the spray.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// Crops of the library that stand there and are to live.
    #[serde(default)]
    pub over: Vec<String>,
    /// What is known of the varieties that stand there.
    #[serde(default)]
    pub varieties: Vec<StandingVariety>,
    /// What is to be sown after it.
    #[serde(default)]
    pub to_sow: Vec<ToSow>,
    /// The next cut.
    #[serde(default)]
    #[schema(value_type = Option<String>, format = Date)]
    pub cut_on: Option<Date>,
    /// The next turning in.
    #[serde(default)]
    #[schema(value_type = Option<String>, format = Date)]
    pub graze_on: Option<Date>,
    /// How near the nearest water is.
    #[serde(default)]
    pub water: Option<Length>,
    /// The wind.
    #[serde(default)]
    pub wind: Option<Speed>,
    /// The air.
    #[serde(default)]
    pub temperature: Option<Temperature>,
}

/// How something is held against the label.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[schema(as = LabelHeld)]
pub enum Held {
    /// Within what was read.
    Within,
    /// Not read off the label: read it.
    NotRead,
    /// Against it.
    Against,
}

/// One thing that was looked at.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[schema(as = SprayFinding)]
pub struct Finding {
    /// What: `rate`, `over`, `plant-back`, `cut`, `graze`, `buffer`, `wind`, `temperature`.
    pub key: String,
    /// The crop it is about, where it is one.
    pub crop: Option<String>,
    /// How it is held.
    pub held: Held,
    /// It hangs on the variety that stands there.
    #[serde(default)]
    pub by_variety: bool,
    /// Why.
    #[schema(value_type = String)]
    pub reason: Said,
}

/// What is not free yet.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum Unfree {
    Cutting,
    Grazing,
    Sowing,
}

/// From when on something is allowed again.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct FreeFrom {
    /// What.
    pub what: Unfree,
    /// The crop, of a sowing.
    pub crop: Option<String>,
    /// The first day.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
}

/// A spray, held against its label.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct SprayAnswer {
    /// As the worst finding.
    pub held: Held,
    /// Worst first.
    pub findings: Vec<Finding>,
    /// From when on what is allowed again, by the label.
    pub free: Vec<FreeFrom>,
    /// Hours until the field may be entered.
    pub re_entry_hours: Option<u32>,
}

/// The topic `spray.check`.
///
/// A crop that stands there is refused by its own name where the label that was read leaves it out, or, where that was
/// not read, where sprays of this kind commonly kill it.
///
/// # Errors
/// A label that says what none can, a rate that is not per area, an unknown crop, a day in another age.
pub fn spray_check(request: &SprayCheckRequest) -> Result<Answer<SprayAnswer>, Refused> {
    let mut checks = Checks::new();
    request.label.check(&mut checks);
    if let Some(rate) = request.rate {
        check_rate(&mut checks, "/rate", rate);
    }
    checks.require(request.over.len() <= 20, "/over", "check at most 20 crops");
    checks.require(
        request.varieties.len() <= 20,
        "/varieties",
        "more than twenty varieties can\u{2019}t be looked at here",
    );
    for (index, variety) in request.varieties.iter().enumerate() {
        let few = variety.tolerates.len() <= 12;
        checks.require(few, format!("/varieties/{index}/tolerates"), "enter at most 12");
    }
    checks.require(request.to_sow.len() <= 20, "/to_sow", "check at most 20 crops");
    let days = [("/cut_on", request.cut_on), ("/graze_on", request.graze_on)];
    let sown = request.to_sow.iter().enumerate().map(|(index, one)| (format!("/to_sow/{index}/on"), one.on));
    let all = days.into_iter().filter_map(|(at, day)| Some((at.to_owned(), day?))).chain(sown);
    for (at, day) in all {
        let years = (day - request.on).get_days().abs() / 365;
        checks.require(years < 20, at, said!("{} is {} years from {}", day, years, request.on));
    }
    if let Some(water) = request.water {
        checks.within("/water", "Distance", water, Unit::M, 0.0, 50_000.0);
    }
    if let Some(wind) = request.wind {
        checks.within("/wind", "Wind", wind, Unit::KmPerH, 0.0, 200.0);
    }
    if let Some(air) = request.temperature {
        checks.within("/temperature", "Air temperature", air, Unit::DegC, -40.0, 60.0);
    }
    let over: Vec<_> = request
        .over
        .iter()
        .enumerate()
        .filter_map(|(index, id)| checks.part("", crop_of(id, &format!("/over/{index}"))))
        .collect();
    let to_sow: Vec<_> = request
        .to_sow
        .iter()
        .enumerate()
        .filter_map(|(index, one)| {
            Some((checks.part("", crop_of(&one.crop, &format!("/to_sow/{index}/crop")))?, one.on))
        })
        .collect();
    checks.done()?;

    let mut sheet = Sheet::new("spray check against the label");
    sheet.source(Source::common_practice(
        "the label is the law; your label entry is checked against the plan, and the general table only warns",
    ));
    sheet.caution("spray-label");
    let mut findings = vec![rate_of(request, &mut sheet)];
    findings.extend(over.into_iter().map(|crop| sprayed_over(request, crop)));
    findings.extend(to_sow.iter().map(|(crop, on)| plant_back(request, crop, *on)));
    findings.extend(waits(request));
    findings.extend(weather(request));
    findings.sort_by_key(|finding| std::cmp::Reverse(finding.held));
    let against = findings.iter().filter(|finding| finding.held == Held::Against).count();
    sheet.input("items checked", findings.len() as f64, Origin::Given);
    sheet.gathered("off label", "items not allowed or not named", against as f64);
    sheet.would_change("The label itself; nothing here replaces it.");
    let held = findings.iter().map(|finding| finding.held).max().unwrap_or(Held::NotRead);
    let free = free_from(request, &to_sow);
    Ok(sheet.answer(SprayAnswer { held, findings, free, re_entry_hours: request.label.re_entry_hours }))
}

fn finding(key: &str, crop: Option<&Crop>, held: Held, reason: impl Into<Said>) -> Finding {
    Finding {
        key: key.to_owned(),
        crop: crop.map(|crop| crop.id.clone()),
        held,
        by_variety: false,
        reason: reason.into(),
    }
}

fn rate_of(request: &SprayCheckRequest, sheet: &mut Sheet) -> Finding {
    let (low, high) = (request.label.lowest, request.label.highest);
    let Some(rate) = request.rate else {
        return finding("rate", None, Held::NotRead, "no rate entered");
    };
    let of_one_kind = |limit: Quantity| limit.dimension() == rate.dimension();
    if ![low, high].into_iter().flatten().all(of_one_kind) {
        let reason = said!("{} cannot be compared: the label uses the other measure (weight or volume)", rate);
        return finding("rate", None, Held::Against, reason);
    }
    if let Some(high) = high {
        let rate = sheet.input("rate", Fraction::from_base(base(rate) / base(high)), Origin::Given);
        let highest = sheet.input("highest", Fraction::ONE, Origin::Given);
        reckon!(sheet; of_the_highest = rate / highest);
        let _ = of_the_highest;
    }
    // What was turned from one unit into another is the same rate.
    let above = |limit: Quantity| base(rate) > base(limit) * (1.0 + 1e-9);
    let below = |limit: Quantity| base(rate) < base(limit) * (1.0 - 1e-9);
    match (low, high) {
        (_, Some(high)) if above(high) => {
            finding("rate", None, Held::Against, said!("{} is above the label maximum {}", rate, high))
        }
        (Some(low), _) if below(low) => {
            let reason = said!("{} is below the label minimum {}: surviving weeds are harder to control", rate, low);
            finding("rate", None, Held::Against, reason)
        }
        (Some(low), Some(high)) => {
            finding("rate", None, Held::Within, said!("{} is within the label range {}–{}", rate, low, high))
        }
        (None, Some(high)) => {
            finding("rate", None, Held::Within, said!("{} is within the label maximum {}", rate, high))
        }
        (_, None) => finding("rate", None, Held::NotRead, "label maximum rate not entered"),
    }
}

/// A crop that the label names is within it, but not under what kills all that is green, and not where it names tolerant
/// varieties alone: there the variety that stands there decides.
fn named(request: &SprayCheckRequest, crop: &Crop, ways: &[NamedOver]) -> Finding {
    let name = crop.name.as_str();
    let kills = request.label.ingredients.iter().filter_map(|active| {
        let kind = kind_of(active).filter(|kind| kind.non_selective && kind.harms(crop))?;
        Some((active.as_str(), kind.tolerated.iter().any(|one| active.trim().to_lowercase().starts_with(one.as_str()))))
    });
    let (bred_for, burns): (Vec<_>, Vec<_>) = kills.partition(|(_, bred_for)| *bred_for);
    let traits = ways.iter().filter_map(|way| match way {
        NamedOver::Tolerant(what) if !ways.contains(&NamedOver::Crop) => Some(what.as_str()),
        _ => None,
    });
    // One trait of those named is enough; each that kills has to be tolerated.
    let traits: Vec<&str> = traits.collect();
    let variety = request.varieties.iter().find(|one| one.crop == crop.id);
    let by_variety = |held, reason: Said| Finding { by_variety: true, ..finding("over", Some(crop), held, reason) };
    let asks = bred_for.first().map(|(active, _)| *active).or(traits.first().copied());
    match (asks, variety) {
        (Some(active), None) => {
            let reason = said!("{} kills {} unless the current variety tolerates it; choose the variety", active, name);
            return by_variety(Held::NotRead, reason);
        }
        (Some(active), Some(variety)) => {
            let missing = bred_for.iter().map(|(active, _)| *active).find(|active| !variety.bears(active));
            let trait_missing = !traits.is_empty() && !traits.iter().any(|one| variety.bears(one));
            if let Some(killer) = missing.or(trait_missing.then_some(active)) {
                let reason = said!("this variety of {} does not tolerate {}: it would be killed", name, killer);
                return by_variety(Held::Against, reason);
            }
        }
        (None, _) => {}
    }
    if let Some((active, _)) = burns.first() {
        let reason = said!(
            "{} is on the label, but {} burns all green growth: check on the label when it may be used, such as on dormant \
             plants or right after a cut",
            name,
            *active
        );
        return finding("over", Some(crop), Held::NotRead, reason);
    }
    match asks {
        Some(active) => {
            by_variety(Held::Within, said!("{} is on the label, and this variety tolerates {}", name, active))
        }
        None => finding("over", Some(crop), Held::Within, said!("{} is on the label", name)),
    }
}

fn sprayed_over(request: &SprayCheckRequest, crop: &Crop) -> Finding {
    let label = &request.label;
    let ways: Vec<NamedOver> = label.over.iter().filter_map(|written| named_over(written, crop)).collect();
    if !ways.is_empty() {
        return named(request, crop, &ways);
    }
    let killer = label
        .ingredients
        .iter()
        .find_map(|active| Some((active, kind_of(active)?)).filter(|(_, kind)| kind.harms(crop)));
    let name = crop.name.as_str();
    if let Some((active, kind)) = killer {
        let reason = said!("{} does not tolerate {}. {}", name, active.as_str(), kind.note.as_str());
        return finding("over", Some(crop), Held::Against, reason);
    }
    if label.over.is_empty() {
        return finding("over", Some(crop), Held::NotRead, said!("label tolerance of {} not entered", name));
    }
    finding("over", Some(crop), Held::Against, said!("{} is not on the label entered", name))
}

fn wait_of(label: &SprayLabel, crop: &Crop) -> Option<u32> {
    // Of several that name it, a kind and the crop, the longest.
    label.plant_back.iter().filter(|wait| names(&wait.crop, crop)).map(|wait| wait.days).max()
}

fn after(on: Date, days: u32) -> Date {
    on.saturating_add(i64::from(days).days())
}

fn plant_back(request: &SprayCheckRequest, crop: &Crop, sow_on: Date) -> Finding {
    let name = crop.name.as_str();
    match wait_of(&request.label, crop).map(|days| (days, after(request.on, days))) {
        Some((days, free)) if sow_on < free => {
            let reason = said!("{}: {}-day plant-back interval, from {}; planned {}", name, days, free, sow_on);
            finding("plant-back", Some(crop), Held::Against, reason)
        }
        Some((days, _)) => {
            finding("plant-back", Some(crop), Held::Within, said!("{}: {}-day plant-back interval, met", name, days))
        }
        None => by_table(request, crop, sow_on),
    }
}

/// What the table warns of, where the label's interval was not read: the same table that a field is held against before it
/// is sown.
fn by_table(request: &SprayCheckRequest, crop: &Crop, sow_on: Date) -> Finding {
    let name = crop.name.as_str();
    let ingredients = &request.label.ingredients;
    let months = |active: &String| library().plant_backs_of(active).map(|(_, waits)| waits.months_for(crop)).max();
    let all_known = ingredients.iter().all(|active| months(active).is_some());
    // Of several ingredients the one that lasts longest; one that is not in the table may last longer still.
    let longest =
        ingredients.iter().filter_map(|active| Some((active, months(active)?))).max_by_key(|(_, months)| *months);
    let late = |months: i32| sow_on < request.on.saturating_add(i64::from(months).months());
    match longest.filter(|(_, months)| all_known || late(*months)) {
        Some((active, months)) => {
            let free = request.on.saturating_add(i64::from(months).months());
            let held = if sow_on < free { Held::Against } else { Held::NotRead };
            let reason = match held {
                Held::Against => said!(
                    "{} usually keeps {} out for {} months, until {}; it is planned for {}. Read the interval on the label",
                    active.as_str(),
                    name,
                    months,
                    free,
                    sow_on
                ),
                _ => said!(
                    "the plant-back interval for {} was not read off the label; {} is usually gone in time",
                    name,
                    active.as_str()
                ),
            };
            finding("plant-back", Some(crop), held, reason)
        }
        None => {
            let reason = said!("plant-back interval for {} not entered", name);
            finding("plant-back", Some(crop), Held::NotRead, reason)
        }
    }
}

fn waits(request: &SprayCheckRequest) -> Vec<Finding> {
    let of = |key: &str, deed: &str, day: Option<Date>, days: Option<u32>| {
        let day = day?;
        Some(match days.map(|days| (days, after(request.on, days))) {
            Some((days, free)) if day < free => {
                let reason = said!("{} {} days after spraying, from {}; planned {}", deed, days, free, day);
                finding(key, None, Held::Against, reason)
            }
            Some((days, _)) => finding(key, None, Held::Within, said!("{} {} days after spraying: met", deed, days)),
            None => finding(key, None, Held::NotRead, "interval not entered from the label"),
        })
    };
    let label = &request.label;
    let all = [
        of("cut", "may be cut", request.cut_on, label.harvest_days),
        of("graze", "may be grazed", request.graze_on, label.grazing_days),
    ];
    all.into_iter().flatten().collect()
}

fn weather(request: &SprayCheckRequest) -> Vec<Finding> {
    let label = &request.label;
    let mut all = vec![];
    if let (Some(water), Some(buffer)) = (request.water, label.buffer) {
        all.push(match water < buffer {
            true => finding("buffer", None, Held::Against, said!("water is {} away; buffer is {}", water, buffer)),
            false => finding("buffer", None, Held::Within, said!("{} buffer to water: met", buffer)),
        });
    }
    if let Some(wind) = request.wind {
        all.push(match label.most_wind {
            Some(most) if wind > most => {
                finding("wind", None, Held::Against, said!("wind {}; label maximum {}", wind, most))
            }
            Some(most) => finding("wind", None, Held::Within, said!("wind {}, within label maximum {}", wind, most)),
            None => finding("wind", None, Held::NotRead, "label wind limit not entered"),
        });
    }
    if let Some(air) = request.temperature {
        let cold = label.coolest.filter(|least| air < *least);
        let hot = label.hottest.filter(|most| air > *most);
        all.push(match (cold.or(hot), label.coolest.or(label.hottest)) {
            (Some(limit), _) => {
                finding("temperature", None, Held::Against, said!("air {}; label limit {}", air, limit))
            }
            (None, Some(_)) => finding("temperature", None, Held::Within, said!("air {}, within label limits", air)),
            (None, None) => finding("temperature", None, Held::NotRead, "label temperature limits not entered"),
        });
    }
    all
}

fn free_from(request: &SprayCheckRequest, to_sow: &[(&'static Crop, Date)]) -> Vec<FreeFrom> {
    let label = &request.label;
    let of = |what, days: Option<u32>| days.map(|days| FreeFrom { what, crop: None, on: after(request.on, days) });
    let sown = to_sow.iter().filter_map(|(crop, _)| {
        let on = after(request.on, wait_of(label, crop)?);
        Some(FreeFrom { what: Unfree::Sowing, crop: Some(crop.id.clone()), on })
    });
    let cut = of(Unfree::Cutting, label.harvest_days);
    cut.into_iter().chain(of(Unfree::Grazing, label.grazing_days)).chain(sown).collect()
}
