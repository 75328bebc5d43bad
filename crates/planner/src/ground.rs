//! The ground of a field: what was found in it and done to it, and what that asks of a stand.

use std::collections::BTreeSet;

use agronomy::{
    crop::{Crop, library},
    lime::{self, Acidifier, LimeDose, LimeNeed, LimeRequest, LimeSchool, PathRequest, PhPath, need, path},
    mix,
    nutrients::{
        self, Amounts, Analysis, NeedRequest, NeedSide, Needs, Nutrient,
        account::{Account, account},
        supplied,
    },
    practice::{Amount, practice, regime},
    refusal::Refused,
    said,
    site::{self, Readiness, SiteRequest, Verdict},
    soil::{AcidityTest, Layer, Texture},
    source::Source,
    units::{Area, Fraction, Length, MassPerArea, Measure},
    weather::usual_year::UsualYear,
    working::{Answer, Sheet},
};
use jiff::{ToSpan, civil::Date};
use records::{
    Choices, Cover, DressingKind, EffectiveLime, LimeMethod,
    book::{Dressing, Ground},
};

use crate::{GroundNeeds, StepAmount, YearNeed, calendar::months};

/// What is asked about the ground.
#[derive(Debug, Clone, Copy)]
pub struct Asked<'a> {
    /// The decisions.
    pub choices: &'a Choices,
    /// The field.
    pub ground: &'a Ground,
    /// Area to lime and dress.
    pub area: Area,
    /// Kept from the boundary.
    pub setback: Length,
    /// The day.
    pub today: Date,
    /// The day the stand was sown, when it was.
    pub sown_on: Option<Date>,
    /// The first day of the growing year that today lies in.
    pub year_start: Date,
    /// The usual year of the place for its crops; none where no weather tells.
    pub usual: Option<UsualYear>,
}

impl Asked<'_> {
    /// It is sown, and not in this growing year: it is an established stand.
    pub fn established(&self) -> bool {
        self.sown_on.is_some_and(|on| on < self.year_start)
    }

    fn crops(&self) -> Vec<&'static Crop> {
        self.choices.cover.crops().into_iter().filter_map(|id| library().crop(id)).collect()
    }

    /// The crop that decides what a mix is fed: the one that wants the richest soil in phosphorus,
    /// and of several such the one that carries off most potash.
    fn hungriest(&self) -> Option<&'static Crop> {
        let potash = |crop: &Crop| crop.nutrition.removal.share.get(&Nutrient::K2o).copied().unwrap_or_default();
        self.crops().into_iter().max_by(|a, b| {
            let level = |crop: &Crop| crop.nutrition.critical_p.value;
            level(a).total_cmp(&level(b)).then(potash(a).total_cmp(&potash(b)))
        })
    }
}

impl Asked<'_> {
    /// The crop of a mix that is fed with nitrogen: of those that are no legumes, the one sown most.
    fn fed(&self) -> Option<String> {
        let Cover::Seed { mix, .. } = &self.choices.cover else { return None };
        let rates = mix::rates(mix).ok()?.value;
        let grass = |id: &str| library().crop(id).is_some_and(|crop| crop.kind != agronomy::crop::Kind::Legume);
        let grasses = rates.members.iter().filter(|member| grass(&member.crop));
        grasses
            .max_by(|a, b| a.full_rate_share.base().total_cmp(&b.full_rate_share.base()))
            .map(|member| member.crop.clone())
    }
}

/// Years after a sowing in which it is still worth knowing what the ground was like for it.
const STOOD: i32 = 5;

/// Is the field fit for the crops chosen? None of a stand that has stood for years. Of a mix, each check stands as its fussiest member has it.
///
/// # Errors
/// As [`site::check`].
pub fn readiness(asked: Asked<'_>) -> Result<Option<Answer<Readiness>>, Refused> {
    let Asked { choices, ground, setback, today, .. } = asked;
    // Whether the field was fit for it is not asked of what has stood there for years.
    if asked.sown_on.is_some_and(|on| today.saturating_sub(STOOD.years()) > on) {
        return Ok(None);
    }
    let mut merged: Option<Answer<Readiness>> = None;
    for crop in asked.crops() {
        let answer = site::check(&SiteRequest {
            crop: crop.id.clone(),
            sow_on: choices.sow_on,
            tilled: practice(&choices.practice).is_none_or(|practice| practice.tilled),
            slope_limit: practice(&choices.practice).and_then(|practice| practice.slope),
            ..place(ground, setback, today)
        })?;
        merged = Some(match merged {
            None => answer,
            Some(so_far) => merge(so_far, answer),
        });
    }
    Ok(merged)
}

/// What is known of a field, as the checks of a crop ask for it: of no crop yet, to be sown today.
pub fn place(ground: &Ground, setback: Length, today: Date) -> SiteRequest {
    let limed = |test: Date| ground.limed_since(test).map(|lime| lime.on).filter(|on| *on <= today).min();
    SiteRequest {
        soil: ground.test_by(today).map(|test| test.what.clone()),
        sprays: ground.sprays.iter().map(|spray| spray.what.clone()).collect(),
        past_crops: ground.past_crops.iter().map(|past| past.what.clone()).collect(),
        history_known: ground.history_known,
        bioassay: ground.bioassays.last().map(|test| test.what),
        setback,
        limed_on: ground.test_by(today).and_then(|test| limed(test.on)),
        weeds_seen_on: ground.looked_on.filter(|on| *on <= today),
        ..SiteRequest::of("", today, ground.facts.clone())
    }
}

fn merge(mut one: Answer<Readiness>, other: Answer<Readiness>) -> Answer<Readiness> {
    let mut sheet = Sheet::new("field suitability for the mix");
    sheet.source(Source::common_practice("for a mix, the most demanding species decides each check"));
    for check in other.value.checks {
        match one.value.checks.iter_mut().find(|known| known.key == check.key) {
            Some(known) if check.verdict > known.verdict => *known = check,
            Some(_) => {}
            None => one.value.checks.push(check),
        }
    }
    one.value.checks.sort_by_key(|check| std::cmp::Reverse(check.verdict));
    let never = one.value.checks.iter().any(|check| check.verdict == Verdict::Unfit && check.ready_on.is_none());
    one.value.earliest = match (one.value.earliest, other.value.earliest) {
        (Some(a), Some(b)) if !never => Some(a.max(b)),
        _ => None,
    };
    if other.value.verdict > one.value.verdict {
        one.value.says = other.value.says;
    }
    one.value.verdict = one.value.verdict.max(other.value.verdict);
    one.value.wants_bioassay |= other.value.wants_bioassay;
    one.value.wants_soil_test |= other.value.wants_soil_test;
    let value = one.value.clone();
    sheet.part(one);
    sheet.part(Answer { value: (), working: other.working, cautions: other.cautions });
    sheet.answer(value)
}

/// The lime that was decided on, from the latest soil test. `None` when none was, or there is no
/// test to reckon from.
///
/// # Errors
/// At `/lime`: a test that lacks what the school reckons from; and as [`need`].
pub fn lime_need(asked: Asked<'_>) -> Result<Option<Answer<LimeNeed>>, Refused> {
    let Some(choice) = &asked.choices.lime else { return Ok(None) };
    let Some(test) = asked.ground.test_by(asked.today) else { return Ok(None) };
    let Some(top) = test.what.top() else { return Ok(None) };
    let school = school_of(choice.method, top, asked.ground.facts.texture, test.on)?;
    let request = LimeRequest {
        school,
        ph: top.ph,
        target_ph: choice.target_ph,
        depth: choice.depth,
        placement: choice.placement,
        reference_fineness: None,
        material: Some(choice.material.clone()),
        area: Some(asked.area),
    };
    need(&request).map(Some).map_err(|refused| refused.under("/lime"))
}

fn school_of(method: LimeMethod, top: &Layer, texture: Option<Texture>, on: Date) -> Result<LimeSchool, Refused> {
    let lacks = |what: &str| {
        Refused::one(
            "/lime/method",
            said!("the soil test of {} has no {}; use another method or have it tested", on, what),
        )
    };
    Ok(match method {
        LimeMethod::Smp => match top.acidity {
            Some(AcidityTest::Smp { buffer_ph }) => LimeSchool::Smp { buffer_ph },
            _ => return Err(lacks("SMP buffer pH")),
        },
        LimeMethod::Sikora => match top.acidity {
            Some(AcidityTest::Sikora { buffer_ph }) => LimeSchool::Sikora { buffer_ph },
            _ => return Err(lacks("Sikora buffer pH")),
        },
        LimeMethod::AdamsEvans => match top.acidity {
            Some(AcidityTest::AdamsEvans { buffer_ph }) => LimeSchool::AdamsEvans { buffer_ph },
            _ => return Err(lacks("Adams\u{2013}Evans buffer pH")),
        },
        LimeMethod::Mehlich => match top.acidity {
            Some(AcidityTest::Mehlich { acidity }) => LimeSchool::Mehlich { acidity, residual_credit: None },
            _ => return Err(lacks("Mehlich acidity")),
        },
        LimeMethod::BaseSaturation => match (top.cec, top.base_saturation) {
            (Some(cec), Some(base_saturation)) => {
                LimeSchool::BaseSaturation { cec, base_saturation, aim: Fraction::percent(80.0) }
            }
            _ => return Err(lacks("CEC and base saturation")),
        },
        LimeMethod::Texture => {
            LimeSchool::Texture { texture: texture.unwrap_or(Texture::SiltLoam), organic_matter: top.organic_matter }
        }
    })
}

/// The schools of lime that a field's latest test allows.
pub fn lime_methods(ground: &Ground, today: Date) -> Vec<LimeMethod> {
    let Some(top) = ground.test_by(today).and_then(|test| test.what.top()) else { return vec![] };
    use LimeMethod::{AdamsEvans, BaseSaturation, Mehlich, Sikora, Smp, Texture};
    [Smp, Sikora, AdamsEvans, Mehlich, BaseSaturation, Texture]
        .into_iter()
        .filter(|method| school_of(*method, top, ground.facts.texture, today).is_ok())
        .collect()
}

/// The pH path from the latest soil test on: inked lime as it was spread, planned lime in pencil,
/// harvests as they acidify. `None` without a soil test.
///
/// # Errors
/// As [`path`].
pub fn ph_path(asked: Asked<'_>, lime: Option<&LimeNeed>) -> Result<Option<Answer<PhPath>>, Refused> {
    let Some(test) = asked.ground.test_by(asked.today) else { return Ok(None) };
    let Some(top) = test.what.top() else { return Ok(None) };
    let per_ph_unit = match lime.and_then(|lime| lime.per_ph_unit) {
        Some(mass) => mass,
        None => by_texture(asked, top)?,
    };
    let mut doses: Vec<LimeDose> = asked
        .ground
        .limed_since(test.on)
        .filter_map(|dressing| {
            let parts = dressing.what.effective?;
            let rate = dressing.what.rate;
            Some(LimeDose { month: months(test.on, dressing.on), fast: rate * parts.fast, slow: rate * parts.slow })
        })
        .collect();
    let planned = lime.and_then(|lime| lime.fast.zip(lime.slow));
    if let (true, Some((fast, slow))) = (doses.is_empty(), planned) {
        doses.push(LimeDose { month: months(test.on, lime_day(asked)).max(0), fast, slow });
    }
    let mut acidifiers = Vec::new();
    if let (Some(crop), Some(choice)) = (asked.hungriest(), asked.choices.nutrients) {
        acidifiers.push(Acidifier {
            what: format!("bases removed in {}", crop.name),
            from: months(test.on, asked.choices.sow_on).max(0),
            a_year: nutrients::alkalinity(crop, choice.yield_goal),
        });
    }
    let floor = asked.crops().iter().map(|crop| crop.soil.ph_low.value).fold(5.0, f64::max);
    let request = PathRequest { ph: top.ph, per_ph_unit, months: Some(72), doses, acidifiers, floor };
    path(&request).map(Some)
}

/// The day lime is planned for: half a year and more before sowing, never before today.
fn lime_day(asked: Asked<'_>) -> Date {
    asked.choices.sow_on.saturating_sub(183.days()).max(asked.today)
}

fn by_texture(asked: Asked<'_>, top: &Layer) -> Result<MassPerArea, Refused> {
    let school = LimeSchool::Texture {
        texture: asked.ground.facts.texture.unwrap_or(Texture::SiltLoam),
        organic_matter: top.organic_matter,
    };
    let ph = top.ph.clamp(4.5, 6.4);
    let request = LimeRequest {
        school,
        ph,
        target_ph: ph + 1.0,
        depth: None,
        placement: lime::Placement::Incorporated,
        reference_fineness: None,
        material: None,
        area: None,
    };
    need(&request).map(|answer| answer.value.effective)
}

/// What the crops need this year, by every school. `None` while no yield goal was set.
///
/// # Errors
/// As [`nutrients::need`].
pub fn needs(asked: Asked<'_>) -> Result<Option<Answer<Needs>>, Refused> {
    needs_of(asked, asked.established())
}

/// What the crops need in the year of the sowing, or once they stand.
///
/// # Errors
/// As [`nutrients::need`].
pub fn needs_of(asked: Asked<'_>, established: bool) -> Result<Option<Answer<Needs>>, Refused> {
    let (Some(choice), Some(crop)) = (asked.choices.nutrients, asked.hungriest()) else { return Ok(None) };
    let top = asked.ground.test_by(asked.today).and_then(|test| test.what.top());
    let request = NeedRequest {
        crop: crop.id.clone(),
        yield_goal: choice.yield_goal,
        moisture: None,
        p: top.and_then(|top| top.p),
        k: top.and_then(|top| top.k),
        cec: top.and_then(|top| top.cec),
        mg: top.and_then(|top| top.mg),
        s: top.and_then(|top| top.s),
        b: top.and_then(|top| top.b),
        sowing_year: !established,
        legume_share: Some(legume_share(asked)?),
        grass: asked.fed(),
        after_frost: asked.choices.regime.as_deref().and_then(regime).is_some_and(|regime| regime.after_frost),
        potash: choice.potash,
        prices: None,
    };
    nutrients::need(&request).map(Some).map_err(|refused| refused.under("/nutrients"))
}

/// The share of legumes in a stand: of a mix, by live seeds or by shares of full rate, whichever is
/// larger, for neither tells for sure what will stand.
///
/// # Errors
/// A mix that can't be.
fn legume_share(asked: Asked<'_>) -> Result<Fraction, Refused> {
    let legume = |id: &str| library().crop(id).is_some_and(|crop| crop.kind == agronomy::crop::Kind::Legume);
    let Cover::Seed { mix, .. } = &asked.choices.cover else {
        let all = asked.choices.cover.crops().into_iter().all(legume);
        return Ok(if all { Fraction::ONE } else { Fraction::ZERO });
    };
    let rates = mix::rates(mix).map_err(|refused| refused.under("/cover/mix"))?.value;
    let full: Fraction = rates.members.iter().map(|member| member.full_rate_share).sum();
    let legumes: Fraction =
        rates.members.iter().filter(|member| legume(&member.crop)).map(|member| member.full_rate_share).sum();
    let room = if full.base() > 0.0 { legumes / full } else { Fraction::ZERO };
    Ok(if room > rates.legume_share { room } else { rates.legume_share })
}

/// The chosen school's side of the needs.
pub fn chosen_side<'a>(needs: &'a Needs, choices: &Choices) -> Option<&'a NeedSide> {
    let school = choices.nutrients?.school;
    needs.schools.iter().find(|side| side.school == school)
}

/// The amounts that the chosen school asks for: N, P₂O₅, K₂O, and what a test finds short.
pub fn amounts(needs: &Needs, choices: &Choices) -> Amounts {
    let Some(side) = chosen_side(needs, choices) else { return Amounts::new() };
    [(Nutrient::N, needs.n), (Nutrient::P2o5, side.p2o5.rate), (Nutrient::K2o, side.k2o.rate)]
        .into_iter()
        .chain(needs.others.iter().map(|other| (other.nutrient, other.rate)))
        .filter(|(_, mass)| mass.base() > 0.0)
        .collect()
}

/// The nutrient account of the growing year that begins on a day. `area` is that of the field on a day.
pub fn year_account(ground: &Ground, needed: &Amounts, start: Date, area: impl Fn(Date) -> Area) -> Account {
    let year = start..start.saturating_add(1.year());
    let applied: Vec<Amounts> = ground
        .dressings
        .iter()
        .filter(|one| year.contains(&one.on))
        .map(|one| supplied(one.what.rate, &one.what.analysis))
        .collect();
    let removed: Vec<Amounts> = ground
        .harvests(year, area)
        .0
        .iter()
        .filter_map(|one| one.what.removed().ok())
        .map(|answer| answer.value.removed)
        .collect();
    account(needed, &applied, &removed)
}

/// Harvests of the same year whose amount can't be told: what they removed is not in the account.
pub fn not_accounted(ground: &Ground, start: Date, area: impl Fn(Date) -> Area) -> usize {
    let year = start..start.saturating_add(1.year());
    let untold: BTreeSet<Date> = ground.harvests(year, area).1.iter().map(|(day, _)| *day).collect();
    untold.len()
}

/// What the ground asks of a stand's plan, from what was reckoned of it.
pub fn ground_needs(
    asked: Asked<'_>,
    readiness: Option<&Readiness>,
    lime: Option<&LimeNeed>,
    needs: Option<&Needs>,
) -> GroundNeeds {
    // An untold history alone is a question, not yet a step: a spray that reaches the sowing is.
    let carries_over = readiness
        .and_then(|readiness| readiness.checks.iter().find(|check| check.key == "carry-over"))
        .is_some_and(|check| check.verdict == Verdict::Unfit);
    let tested = asked.ground.bioassays.iter().any(|test| test.what.passed) && !asked.ground.sprays.is_empty();
    let lime = lime.filter(|lime| !lime.enough).and_then(|lime| {
        let of = asked.choices.lime.as_ref()?.material.name.clone();
        Some(vec![StepAmount { amount: lime.rate?, of }])
    });
    // What is due of its making is asked while it is made; what it needs once it stands, of every season after.
    let (making, upkeep) = match asked.established() {
        true => (None, year_need(asked, needs)),
        false => {
            let later = needs_of(asked, true).ok().flatten();
            (year_need(asked, needs), year_need(asked, later.as_ref().map(|answer| &answer.value)))
        }
    };
    let steps = practice(&asked.choices.practice).map_or(&[][..], |practice| &practice.steps);
    let comes = |time| steps.iter().any(|step| step.amount == Some(Amount::Nutrients(time)));
    let making = making.map(|year| year.parts(false, comes)).unwrap_or_default();
    GroundNeeds { bioassay: carries_over || tested, lime, making, upkeep }
}

/// What is due in a year by the school that was chosen.
fn year_need(asked: Asked<'_>, needs: Option<&Needs>) -> Option<YearNeed> {
    let amounts = amounts(needs?, asked.choices);
    let crop = asked.hungriest()?;
    let fed = asked.fed().and_then(|id| library().crop(&id)).unwrap_or(crop);
    let potash = asked.choices.nutrients?.potash;
    (!amounts.is_empty()).then_some(YearNeed { amounts, crop, fed, potash })
}

/// The dressing that was decided on, as it would be inked.
pub fn planned_lime(choices: &Choices, lime: Option<&LimeNeed>) -> Option<Dressing> {
    let rate = lime.filter(|need| !need.enough).and_then(|need| need.rate)?;
    Some(lime_dressing(&choices.lime.as_ref()?.material, rate))
}

/// A dressing of a liming material.
pub fn lime_dressing(material: &lime::Material, rate: MassPerArea) -> Dressing {
    let (fast, slow) = material.fast_and_slow();
    let analysis = if material.magnesium.base() > 0.0 {
        Analysis::from([(Nutrient::Mg, material.magnesium)])
    } else {
        Analysis::new()
    };
    Dressing {
        what: DressingKind::Lime,
        product: material.name.clone(),
        rate,
        analysis,
        effective: Some(EffectiveLime { fast, slow }),
    }
}
