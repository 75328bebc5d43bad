//! The ground of a field: what was found in it and done to it, and what that asks of a stand.

use agronomy::{
    crop::{Crop, library},
    lime::{self, Acidifier, LimeDose, LimeNeed, LimeRequest, LimeSchool, PathRequest, PhPath, need, path},
    nutrients::{
        self, Amounts, Analysis, NeedRequest, NeedSide, Needs, Nutrient, RemovalRequest,
        account::{Account, account},
        supplied,
    },
    refusal::Refused,
    site::{self, Bioassay, PastCrop, Readiness, SiteFacts, SiteRequest, Spray, Verdict},
    soil::{AcidityTest, Layer, SoilTest, Texture},
    source::Source,
    units::{Area, Fraction, Length, MassPerArea, Measure},
    weather::soil_temperature::SoilReading,
    working::{Answer, Sheet},
};
use jiff::{ToSpan, civil::Date};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{Choices, GroundSteps, InkedStep, LimeMethod, SeedbedSchool, StepAmount, StepKind};

/// Months after which a soil test no longer plans a sowing.
const TEST_MONTHS: i32 = 36;

/// What a dressing was for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum DressingKind {
    Lime,
    Fertiliser,
    Manure,
}

/// The parts of a lime that react, as shares of its mass.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct EffectiveLime {
    /// Fine: within months.
    pub fast: Fraction,
    /// Coarser: over years.
    pub slow: Fraction,
}

/// Something spread on a field.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Dressing {
    /// What for.
    pub what: DressingKind,
    /// The product.
    pub product: String,
    /// How much of it.
    pub rate: MassPerArea,
    /// Nutrients in it, as available this year.
    #[serde(default)]
    #[schema(value_type = std::collections::BTreeMap<String, Fraction>)]
    pub analysis: Analysis,
    /// For lime: what of it reacts.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub effective: Option<EffectiveLime>,
}

/// A harvest carried off.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Cut {
    /// Crop of the library; of a mix, the one whose table fits best.
    pub crop: String,
    /// As weighed.
    pub harvested: MassPerArea,
    /// Its moisture; dry matter when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub moisture: Option<Fraction>,
    /// Cut in late winter or after frost.
    #[serde(default)]
    pub after_frost: bool,
    /// Shares of dry matter from a forage analysis.
    #[serde(default)]
    #[schema(value_type = std::collections::BTreeMap<String, Fraction>)]
    pub analysis: Analysis,
}

impl Cut {
    /// What it carried off.
    ///
    /// # Errors
    /// A crop, yield or analysis that can't be.
    pub fn removed(&self) -> Result<Answer<nutrients::Removed>, Refused> {
        nutrients::removal(&RemovalRequest {
            crop: self.crop.clone(),
            harvested: self.harvested,
            moisture: self.moisture,
            after_frost: self.after_frost,
            analysis: self.analysis.clone(),
        })
    }
}

/// Something that was inked on a day.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Dated<T> {
    /// The entry.
    pub entry: Uuid,
    /// The day.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// What.
    pub what: T,
}

/// The ground of a field, from its entries, struck ones left out; each list oldest first.
#[derive(Debug, Clone, PartialEq, Default, Serialize, ToSchema)]
pub struct Ground {
    /// What a walk and the maps tell.
    pub facts: SiteFacts,
    /// All there is to tell of three years has been told.
    pub history_known: bool,
    /// Soil tests.
    pub tests: Vec<Dated<SoilTest>>,
    /// Herbicides.
    pub sprays: Vec<Dated<Spray>>,
    /// Crops that were ended here.
    pub past_crops: Vec<Dated<PastCrop>>,
    /// Bioassays.
    pub bioassays: Vec<Dated<Bioassay>>,
    /// Lime, fertiliser and manure.
    pub dressings: Vec<Dated<Dressing>>,
    /// Harvests.
    pub cuts: Vec<Dated<Cut>>,
    /// Soil thermometer, mornings.
    pub soil_readings: Vec<SoilReading>,
    /// Rain gauge of the field.
    pub rain_gauge: Vec<Dated<Length>>,
    /// Water brought.
    pub irrigation: Vec<Dated<Length>>,
}

impl Ground {
    /// The latest soil test up to a day.
    pub fn test_by(&self, day: Date) -> Option<&Dated<SoilTest>> {
        self.tests.iter().filter(|test| test.on <= day).max_by_key(|test| test.on)
    }

    /// Lime spread after a day.
    pub fn limed_since(&self, day: Date) -> impl Iterator<Item = &Dated<Dressing>> {
        self.dressings.iter().filter(move |one| one.what.what == DressingKind::Lime && one.on >= day)
    }
}

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
}

impl Asked<'_> {
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

/// Is the field fit for the crops chosen? Of a mix, each check stands as its fussiest member has it.
///
/// # Errors
/// As [`site::check`].
pub fn readiness(asked: Asked<'_>) -> Result<Option<Answer<Readiness>>, Refused> {
    let Asked { choices, ground, setback, today, .. } = asked;
    let mut merged: Option<Answer<Readiness>> = None;
    for crop in asked.crops() {
        let answer = site::check(&SiteRequest {
            crop: crop.id.clone(),
            today,
            sow_on: choices.sow_on,
            tilled: choices.seedbed != SeedbedSchool::NoTill,
            facts: ground.facts.clone(),
            soil: ground.test_by(today).map(|test| test.what.clone()),
            sprays: ground.sprays.iter().map(|spray| spray.what.clone()).collect(),
            past_crops: ground.past_crops.iter().map(|past| past.what.clone()).collect(),
            history_known: ground.history_known,
            bioassay: ground.bioassays.last().map(|test| test.what),
            setback,
        })?;
        merged = Some(match merged {
            None => answer,
            Some(so_far) => merge(so_far, answer),
        });
    }
    Ok(merged)
}

fn merge(mut one: Answer<Readiness>, other: Answer<Readiness>) -> Answer<Readiness> {
    let mut sheet = Sheet::new("is the field fit for the mix");
    sheet.source(Source::common_practice("of a mix, the fussiest member decides each check"));
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
            format!("the soil test of {on} has no {what}: take another school, or test for it"),
        )
    };
    Ok(match method {
        LimeMethod::Smp => match top.acidity {
            Some(AcidityTest::Smp { buffer_ph }) => LimeSchool::Smp { buffer_ph },
            _ => return Err(lacks("SMP buffer pH")),
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
    [LimeMethod::Smp, LimeMethod::Mehlich, LimeMethod::BaseSaturation, LimeMethod::Texture]
        .into_iter()
        .filter(|method| school_of(*method, top, ground.facts.texture, today).is_ok())
        .collect()
}

/// Months from one day to another, whole.
fn months(from: Date, to: Date) -> i32 {
    from.until((jiff::Unit::Month, to)).map_or(0, |span| span.get_months())
}

/// The pH path from the latest soil test on: inked lime as it was spread, planned lime in pencil,
/// harvests as they acidify. `None` without a soil test.
///
/// # Errors
/// As [`lime_need`] and [`path`].
pub fn ph_path(asked: Asked<'_>) -> Result<Option<Answer<PhPath>>, Refused> {
    let Some(test) = asked.ground.test_by(asked.today) else { return Ok(None) };
    let Some(top) = test.what.top() else { return Ok(None) };
    let lime = lime_need(asked)?;
    let per_ph_unit = match lime.as_ref().and_then(|lime| lime.value.per_ph_unit) {
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
    let planned = lime.as_ref().and_then(|lime| lime.value.fast.zip(lime.value.slow));
    if let (true, Some((fast, slow))) = (doses.is_empty(), planned) {
        doses.push(LimeDose { month: months(test.on, lime_day(asked)).max(0), fast, slow });
    }
    let mut acidifiers = Vec::new();
    if let (Some(crop), Some(choice)) = (asked.hungriest(), asked.choices.nutrients) {
        acidifiers.push(Acidifier {
            what: format!("bases carried off in {}", crop.name),
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

/// What the crops need, by every school. `None` while no yield goal was set.
///
/// # Errors
/// As [`nutrients::need`].
pub fn needs(asked: Asked<'_>) -> Result<Option<Answer<Needs>>, Refused> {
    let (Some(choice), Some(crop)) = (asked.choices.nutrients, asked.hungriest()) else { return Ok(None) };
    let top = asked.ground.test_by(asked.today).and_then(|test| test.what.top());
    let crops = asked.crops();
    let legumes = crops.iter().filter(|crop| crop.kind == agronomy::crop::Kind::Legume).count();
    let request = NeedRequest {
        crop: crop.id.clone(),
        yield_goal: choice.yield_goal,
        p: top.and_then(|top| top.p),
        k: top.and_then(|top| top.k),
        cec: top.and_then(|top| top.cec),
        mg: top.and_then(|top| top.mg),
        s: top.and_then(|top| top.s),
        b: top.and_then(|top| top.b),
        sowing_year: true,
        legume_share: Some(Fraction::from_base(legumes as f64 / crops.len().max(1) as f64)),
        prices: None,
    };
    nutrients::need(&request).map(Some).map_err(|refused| refused.under("/nutrients"))
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

/// The nutrient account of a calendar year.
pub fn year_account(ground: &Ground, needed: &Amounts, year: i16) -> Account {
    let applied: Vec<Amounts> = ground
        .dressings
        .iter()
        .filter(|one| one.on.year() == year)
        .map(|one| supplied(one.what.rate, &one.what.analysis))
        .collect();
    let removed: Vec<Amounts> = ground
        .cuts
        .iter()
        .filter(|one| one.on.year() == year)
        .filter_map(|one| one.what.removed().ok())
        .map(|answer| answer.value.removed)
        .collect();
    account(needed, &applied, &removed)
}

/// What the ground asks of a stand's plan, and what of it has been done: until the sowing, if
/// it has been sown.
pub fn steps(asked: Asked<'_>, sown_on: Option<Date>) -> (GroundSteps, Vec<InkedStep>) {
    let until = sown_on.unwrap_or(asked.today);
    let asked = Asked { today: until, ..asked };
    let ground = asked.ground;
    let mut inked = Vec::new();
    let test = ground.test_by(until).filter(|test| months(test.on, asked.choices.sow_on) <= TEST_MONTHS);
    if let Some(test) = test {
        inked.push(InkedStep { entry: test.entry, kind: StepKind::SampleSoil, on: test.on });
    }
    let since = test.map_or(until.saturating_sub(1.year()), |test| test.on);
    let first = |wanted: fn(DressingKind) -> bool| {
        ground.dressings.iter().find(|one| wanted(one.what.what) && one.on >= since && one.on <= until)
    };
    if let Some(lime) = first(|what| what == DressingKind::Lime) {
        inked.push(InkedStep { entry: lime.entry, kind: StepKind::Lime, on: lime.on });
    }
    if let Some(dressing) = first(|what| what != DressingKind::Lime) {
        inked.push(InkedStep { entry: dressing.entry, kind: StepKind::Dress, on: dressing.on });
    }
    let bioassay = ground.bioassays.iter().rfind(|test| test.what.passed && test.on <= until);
    if let Some(bioassay) = bioassay {
        inked.push(InkedStep { entry: bioassay.entry, kind: StepKind::Bioassay, on: bioassay.on });
    }
    let wants_bioassay = readiness(asked).ok().flatten().is_some_and(|answer| {
        // An untold history alone is a question, not yet a step: a spray that reaches the sowing is.
        let carry_over = answer.value.checks.iter().find(|check| check.key == "carry-over");
        carry_over.is_some_and(|check| check.verdict == Verdict::Unfit)
    });
    let lime = lime_need(asked).ok().flatten().filter(|lime| !lime.value.enough).and_then(|lime| {
        let choice = asked.choices.lime.as_ref()?;
        Some(vec![StepAmount { amount: lime.value.rate?, of: choice.material.name.clone() }])
    });
    let dress = needs(asked).ok().flatten().and_then(|needs| {
        let amounts = amounts(&needs.value, asked.choices).into_iter();
        let all: Vec<_> =
            amounts.map(|(nutrient, amount)| StepAmount { amount, of: nutrient.words().to_owned() }).collect();
        (!all.is_empty()).then_some(all)
    });
    let done = |kind: StepKind| inked.iter().any(|step| step.kind == kind).then(Vec::new);
    let steps = GroundSteps {
        sample: true,
        bioassay: wants_bioassay || (bioassay.is_some() && !ground.sprays.is_empty()),
        lime: lime.or_else(|| done(StepKind::Lime)),
        dress: dress.or_else(|| done(StepKind::Dress)),
    };
    (steps, inked)
}

/// The dressing that was decided on, as it would be inked.
///
/// # Errors
/// As [`lime_need`].
pub fn planned_lime(asked: Asked<'_>) -> Result<Option<Dressing>, Refused> {
    let need = lime_need(asked)?.filter(|need| !need.value.enough);
    let rate = need.and_then(|need| need.value.rate);
    Ok(rate.zip(asked.choices.lime.as_ref()).map(|(rate, choice)| lime_dressing(&choice.material, rate)))
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
