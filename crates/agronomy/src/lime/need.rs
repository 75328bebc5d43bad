//! How much lime, by the school that the laboratory or the farm follows.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{
    material::{Material, effective_value},
    schools::{self, LimeSchool, Reference, memory, requirement},
};
use crate::{
    crop::Crop,
    given, reckon,
    refusal::{Checks, Refused},
    said,
    source::Origin,
    units::{Area, Fraction, Length, Mass, MassPerArea, Measure, MoneyPerArea, Unit},
    working::{Answer, Sheet},
};

/// Where the lime goes.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Placement {
    /// Worked in to the depth it was reckoned for.
    #[default]
    Incorporated,
    /// Left on the surface: no-till, or a standing sod.
    Surface,
}

/// Request of the topic `lime.requirement`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct LimeRequest {
    /// The school and its figures.
    pub school: LimeSchool,
    /// pH in water now.
    pub ph: f64,
    /// pH to reach.
    pub target_ph: f64,
    /// Depth to be limed; the school's reference depth when absent.
    #[serde(default)]
    pub depth: Option<Length>,
    /// Worked in or left on top.
    #[serde(default)]
    pub placement: Placement,
    /// Share of the school's reference lime that is fine enough to react; assumed when absent.
    #[serde(default)]
    pub reference_fineness: Option<Fraction>,
    /// The material to spread.
    #[serde(default)]
    pub material: Option<Material>,
    /// Area to lime.
    #[serde(default)]
    pub area: Option<Area>,
}

/// One trip over the field.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Pass {
    /// Of the material.
    pub rate: MassPerArea,
    /// When, in words.
    pub when: String,
}

/// What it takes.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct LimeNeed {
    /// Nothing is needed.
    pub enough: bool,
    /// Of the school's reference material, at its reference depth.
    pub requirement: MassPerArea,
    /// The reference material, in words.
    pub reference: String,
    /// The reference depth.
    pub reference_depth: Length,
    /// The same as pure, fine calcium carbonate, at the depth asked for.
    pub effective: MassPerArea,
    /// Pure, fine calcium carbonate that moves that depth by one pH unit; absent when nothing is
    /// needed.
    pub per_ph_unit: Option<MassPerArea>,
    /// Of the material.
    pub rate: Option<MassPerArea>,
    /// Of the material, on the area.
    pub total: Option<Mass>,
    /// Of the material, spread.
    pub cost: Option<MoneyPerArea>,
    /// Of the material, the part that reacts fast, as calcium carbonate.
    pub fast: Option<MassPerArea>,
    /// The part that reacts slowly.
    pub slow: Option<MassPerArea>,
    /// Trips over the field.
    pub passes: Vec<Pass>,
    /// What to think about.
    pub remarks: Vec<String>,
}

/// Above this much worked in, half goes on before primary tillage and half after, ton/ac.
const SPLIT_ABOVE: f64 = 3.5;
/// The most on a surface at a time, ton/ac (common practice: 1.5 to 2).
const SURFACE_MOST: f64 = 2.0;

/// The pH to lime to: the fussiest crop decides.
pub fn target_ph<'a>(crops: impl IntoIterator<Item = &'a Crop>) -> Option<f64> {
    crops.into_iter().map(|crop| crop.soil.ph_aim.value).reduce(f64::max)
}

/// The topic `lime.requirement`.
///
/// # Errors
/// A pH, target, depth, buffer or material that can't be; a target that the school does not serve.
pub fn need(request: &LimeRequest) -> Result<Answer<LimeNeed>, Refused> {
    check(request)?;
    let mut sheet = Sheet::new("lime requirement");
    let enough = request.ph >= request.target_ph;
    let Reference { requirement, words, depth: reference_depth, effective: reference_value } =
        requirement(request, &mut sheet);
    given!(sheet; reference_depth, Origin::sourced(&memory("the method’s furrow slice")));
    let depth = match request.depth {
        Some(depth) => sheet.input("depth", depth, Origin::Given),
        None => sheet.input("depth", reference_depth, Origin::assumed("incorporation depth")),
    };
    reckon!(sheet; effective_need = requirement * reference_value * (depth / reference_depth));
    let per_ph_unit = (!enough && effective_need.base() > 0.0).then(|| {
        let rise = request.target_ph - request.ph;
        sheet.input("rise_in_ph", rise, Origin::Given);
        sheet.line("per_ph_unit", "effective_need / rise_in_ph", effective_need / rise)
    });

    let (mut rate, mut total, mut cost, mut passes) = (None, None, None, vec![]);
    let (mut fast, mut slow) = (None, None);
    if let Some(material) = &request.material {
        let value = effective_value(material).map_err(|refused| refused.under("/material"))?;
        let effective_value = sheet.carried("effective_value", value);
        reckon!(sheet; rate_of_material = effective_need / effective_value);
        if rate_of_material > most_material() {
            let detail = said!(
                "So little is effective that {} would be needed (limit {}); choose a finer material",
                rate_of_material,
                most_material()
            );
            return Err(Refused::one("/material", detail));
        }
        rate = Some(rate_of_material);
        let parts = material.fast_and_slow();
        (fast, slow) = (Some(rate_of_material * parts.0), Some(rate_of_material * parts.1));
        if let Some(area) = request.area {
            given!(sheet; area, Origin::measured("the field\u{2019}s boundary"));
            reckon!(sheet; on_the_area = rate_of_material * area);
            total = Some(on_the_area);
        }
        if let Some(price) = material.price {
            given!(sheet; price, Origin::measured("the offer, spread on the field"));
            reckon!(sheet; cost_per_area = rate_of_material * price);
            cost = Some(cost_per_area);
        }
        passes = passes_of(rate_of_material, request.placement);
    }
    let remarks = remarks(request, enough, effective_need);
    sheet.caution("lime-dust");
    Ok(sheet.answer(LimeNeed {
        enough,
        requirement,
        reference: words,
        reference_depth,
        effective: effective_need,
        per_ph_unit,
        rate,
        total,
        cost,
        fast,
        slow,
        passes,
        remarks,
    }))
}

fn check(request: &LimeRequest) -> Result<(), Refused> {
    let mut checks = Checks::new();
    checks.require((3.0..=9.5).contains(&request.ph), "/ph", format!("Soil pH is {}; enter 3–9.5", request.ph));
    checks.require(
        (5.0..=7.5).contains(&request.target_ph),
        "/target_ph",
        format!("Target pH is {}; enter 5–7.5", request.target_ph),
    );
    if let Some(depth) = request.depth {
        checks.within("/depth", "Depth", depth, Unit::Cm, 2.0, 45.0);
    }
    if let Some(share) = request.reference_fineness {
        checks.positive("/reference_fineness", "Fineness of the reference lime", share, Unit::Percent, 100.0);
    }
    if let Some(area) = request.area {
        checks.positive("/area", "Area", area, Unit::Ha, 20_000.0);
    }
    if let Some(material) = &request.material {
        checks.part("/material", material.check());
    }
    schools::check(request, &mut checks);
    checks.done()
}

/// More of a material than this is earth moved, not lime spread: 100 tons an acre.
fn most_material() -> MassPerArea {
    MassPerArea::new(100.0, Unit::TonPerAc)
}

fn passes_of(rate: MassPerArea, placement: Placement) -> Vec<Pass> {
    let tons = rate.to(Unit::TonPerAc);
    if tons <= 0.0 {
        return vec![];
    }
    let pass = |rate, when: &str| Pass { rate, when: when.to_owned() };
    match placement {
        Placement::Incorporated if tons > SPLIT_ABOVE => {
            vec![pass(rate / 2.0, "before primary tillage"), pass(rate / 2.0, "after tillage, incorporated shallow")]
        }
        Placement::Incorporated => vec![pass(rate, "before tillage, incorporated to the stated depth")],
        Placement::Surface => {
            let trips = (tons / SURFACE_MOST - 1e-9).ceil().max(1.0);
            let each = rate / trips;
            (0..trips as usize)
                .map(|trip| {
                    pass(
                        each,
                        if trip == 0 {
                            "on the surface, the autumn before sowing"
                        } else {
                            "on the surface, one year after the last pass"
                        },
                    )
                })
                .collect()
        }
    }
}

fn remarks(request: &LimeRequest, enough: bool, effective: MassPerArea) -> Vec<String> {
    let mut remarks = Vec::new();
    if enough {
        remarks
            .push(format!("Soil pH {} is at or above the target {}: no lime needed.", request.ph, request.target_ph));
        return remarks;
    }
    if effective.base() <= 0.0 {
        remarks.push(
            "Buffer pH shows little acidity although soil pH is below target. Retest before relying on either."
                .to_owned(),
        );
    }
    if request.placement == Placement::Surface {
        remarks.push(
            "Surface lime moves down slowly, about an inch a year. Lime acid soil before going to no-till.".to_owned(),
        );
    }
    if effective.to(Unit::TonPerAc) > 8.0 {
        remarks.push("Split a rate this high over two seasons and retest between.".to_owned());
    }
    if matches!(request.school, LimeSchool::Texture { .. }) {
        remarks.push("Rough estimate; use a buffer test when you have one.".to_owned());
    }
    remarks.push("Spread the autumn before a spring sowing, and at least six months before any sowing.".to_owned());
    remarks
}
