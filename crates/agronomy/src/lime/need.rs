//! How much lime, by the school that the laboratory or the farm follows.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::material::{Material, effective_value};
use crate::{
    crop::Crop,
    given, reckon,
    refusal::{Checks, Refused},
    said,
    source::{Class, Origin, Source},
    texture::Texture,
    units::{Area, Charge, ChargePerVolume, Fraction, Length, Mass, MassPerArea, Measure, MoneyPerArea, Unit},
    working::{Answer, Sheet},
};

/// The school, with what it reckons from.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "by", rename_all = "kebab-case", deny_unknown_fields)]
pub enum LimeSchool {
    /// SMP buffer (Tri-State, 1995); for targets from pH 6.0 to 6.8.
    Smp {
        /// Buffer pH.
        buffer_ph: f64,
    },
    /// Mehlich buffer acidity (North Carolina); for targets up to pH 6.5.
    Mehlich {
        /// Acidity by volume.
        acidity: ChargePerVolume,
        /// Lime still at work from an earlier dressing.
        #[serde(default)]
        residual_credit: Option<MassPerArea>,
    },
    /// To a base saturation, by exchange capacity.
    BaseSaturation {
        /// Cation exchange capacity.
        cec: Charge,
        /// Share held by bases now.
        base_saturation: Fraction,
        /// Share aimed at.
        aim: Fraction,
    },
    /// No buffer test: by texture and organic matter. Rough.
    Texture {
        /// Texture class.
        texture: Texture,
        /// Organic matter; 3 % when nothing is said.
        #[serde(default)]
        organic_matter: Option<Fraction>,
    },
}

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

/// Tri-State equations: target, intercept and slope of tons per acre on the lime test index.
const SMP: [(f64, f64, f64); 3] = [(6.0, 49.3, 0.71), (6.5, 60.4, 0.87), (6.8, 71.4, 1.03)];
/// Above this much worked in, half goes on before primary tillage and half after, ton/ac.
const SPLIT_ABOVE: f64 = 3.5;
/// The most on a surface at a time, ton/ac (common practice: 1.5 to 2).
const SURFACE_MOST: f64 = 2.0;

fn memory(citation: &str) -> Source {
    Source { class: Class::FromMemory, citation: citation.to_owned() }
}

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
    given!(sheet; reference_depth, Origin::sourced(&memory("the school\u{2019}s furrow slice")));
    let depth = match request.depth {
        Some(depth) => sheet.input("depth", depth, Origin::Given),
        None => sheet.input("depth", reference_depth, Origin::assumed("the depth to which it will be worked in")),
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
                "so little of it reacts that {} would be wanted; more than {} of a material is no liming",
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
    checks.require(
        (3.0..=9.5).contains(&request.ph),
        "/ph",
        format!("pH is {}; a soil to be limed lies between 3 and 9.5", request.ph),
    );
    checks.require(
        (5.0..=7.5).contains(&request.target_ph),
        "/target_ph",
        format!("the target is pH {}; it must be from 5 to 7.5", request.target_ph),
    );
    if let Some(depth) = request.depth {
        checks.within("/depth", "the depth", depth, Unit::Cm, 2.0, 45.0);
    }
    if let Some(share) = request.reference_fineness {
        checks.positive("/reference_fineness", "the reference lime\u{2019}s fineness", share, Unit::Percent, 100.0);
    }
    if let Some(area) = request.area {
        checks.positive("/area", "the area", area, Unit::Ha, 20_000.0);
    }
    if let Some(material) = &request.material {
        checks.part("/material", material.check());
    }
    match request.school {
        LimeSchool::Smp { buffer_ph } => {
            checks.require(
                (4.8..=8.0).contains(&buffer_ph),
                "/school/buffer_ph",
                format!("buffer pH is {buffer_ph}; it must be from 4.8 to 8"),
            );
            checks.require(
                (6.0..=6.8).contains(&request.target_ph) || request.ph >= request.target_ph,
                "/target_ph",
                format!(
                    "the SMP equations serve targets from pH 6.0 to 6.8, not {}; take another school, or lime to 6.0",
                    request.target_ph
                ),
            );
        }
        LimeSchool::Mehlich { acidity, residual_credit } => {
            checks.within("/school/acidity", "acidity", acidity, Unit::MeqPer100Cm3, 0.0, 30.0);
            if let Some(credit) = residual_credit {
                checks.within("/school/residual_credit", "the credit", credit, Unit::TPerHa, 0.0, 20.0);
            }
            checks.require(
                request.target_ph <= 6.5,
                "/target_ph",
                format!(
                    "the Mehlich formula divides by 6.6 less pH and serves targets up to 6.5, not {}",
                    request.target_ph
                ),
            );
        }
        LimeSchool::BaseSaturation { cec, base_saturation, aim } => {
            checks.positive("/school/cec", "CEC", cec, Unit::MeqPer100G, 150.0);
            checks.within("/school/base_saturation", "base saturation", base_saturation, Unit::Percent, 0.0, 100.0);
            checks.within("/school/aim", "the base saturation aimed at", aim, Unit::Percent, 0.0, 100.0);
        }
        LimeSchool::Texture { organic_matter, .. } => {
            if let Some(share) = organic_matter {
                checks.within("/school/organic_matter", "organic matter", share, Unit::Percent, 0.0, 20.0);
            }
        }
    }
    checks.done()
}

/// A requirement with all that makes it more than a bare mass.
struct Reference {
    requirement: MassPerArea,
    words: String,
    depth: Length,
    /// Effective value of the reference material.
    effective: Fraction,
}

fn requirement(request: &LimeRequest, sheet: &mut Sheet) -> Reference {
    given!(sheet; ph = request.ph, Origin::measured("the soil test"));
    given!(sheet; target_ph = request.target_ph, Origin::Given);
    if ph >= target_ph {
        sheet.would_change("The soil is at or above the target already: no lime.");
    }
    match request.school {
        LimeSchool::Smp { buffer_ph } => smp(request, ph, target_ph, buffer_ph, sheet),
        LimeSchool::Mehlich { acidity, residual_credit } => {
            mehlich(request, ph, target_ph, acidity, residual_credit.unwrap_or_default(), sheet)
        }
        LimeSchool::BaseSaturation { cec, base_saturation, aim } => {
            by_base_saturation(ph >= target_ph, cec, base_saturation, aim, sheet)
        }
        LimeSchool::Texture { texture, organic_matter } => by_texture(ph, target_ph, texture, organic_matter, sheet),
    }
}

/// Both buffer schools speak of ordinary ground limestone of 90 % CCE.
fn ground_limestone(request: &LimeRequest, sheet: &mut Sheet) -> Fraction {
    given!(sheet; reference_cce = Fraction::percent(90.0), Origin::sourced(&memory("the school\u{2019}s reference lime: neutralising value 90")));
    let fineness = match request.reference_fineness {
        Some(share) => sheet.input("reference_fineness", share, Origin::Given),
        None => sheet.input(
            "reference_fineness",
            Fraction::percent(70.0),
            Origin::assumed("what the laboratory says of the fineness of its reference lime"),
        ),
    };
    sheet.line("reference_value", "reference_cce × reference_fineness", reference_cce * fineness)
}

fn smp(request: &LimeRequest, ph: f64, target_ph: f64, buffer_ph: f64, sheet: &mut Sheet) -> Reference {
    sheet.source(Source::published(
        "Vitosh, Johnson & Mengel 1995, Tri-State Fertilizer Recommendations, Bulletin E-2567: lime for mineral soils by SMP buffer, 8-inch furrow slice",
    ));
    given!(sheet; buffer_ph, Origin::measured("the soil test"));
    given!(sheet; one_ton_per_acre = MassPerArea::new(1.0, Unit::TonPerAc), Origin::sourced(&memory("unit of the table")));
    reckon!(sheet; lime_test_index = 10.0 * buffer_ph);
    let tons = |sheet: &mut Sheet, (target, intercept, slope): (f64, f64, f64)| {
        sheet.line(
            &format!("tons to {target:.1}"),
            &format!("{intercept} − {slope} × lime test index"),
            intercept - slope * lime_test_index,
        )
    };
    let upper = SMP.iter().position(|(target, ..)| *target >= target_ph - 1e-9).unwrap_or(SMP.len() - 1);
    let at_upper = tons(sheet, SMP[upper]);
    let exact = (SMP[upper].0 - target_ph).abs() < 1e-9 || upper == 0;
    let (tons_by_table, of) = if exact {
        (at_upper, format!("tons to {:.1}", SMP[upper].0))
    } else {
        let at_lower = tons(sheet, SMP[upper - 1]);
        let (low, high) = (SMP[upper - 1].0, SMP[upper].0);
        let part = sheet.line(
            "part_of_the_way",
            &format!("(target_ph − {low}) ÷ ({high} − {low})"),
            (target_ph - low) / (high - low),
        );
        sheet.would_change("Between the three targets of the bulletin the amount is interpolated.");
        let between = sheet.line(
            "tons between",
            &format!("tons to {low:.1} + part_of_the_way × (tons to {high:.1} − tons to {low:.1})"),
            at_lower + part * (at_upper - at_lower),
        );
        (between, "tons between".to_owned())
    };
    let tons = if ph >= target_ph {
        sheet.gathered("tons", "none at or above the target", 0.0)
    } else {
        sheet.line("tons", &format!("above_zero({of})"), tons_by_table.max(0.0))
    };
    let requirement = sheet.line("requirement", "one_ton_per_acre × tons", one_ton_per_acre * tons);
    Reference {
        requirement,
        words: "ground limestone of 90 % CCE".to_owned(),
        depth: Length::new(8.0, Unit::In),
        effective: ground_limestone(request, sheet),
    }
}

fn mehlich(
    request: &LimeRequest,
    ph: f64,
    target_ph: f64,
    acidity: ChargePerVolume,
    residual_credit: MassPerArea,
    sheet: &mut Sheet,
) -> Reference {
    sheet.source(memory(
        "North Carolina Department of Agriculture: lime in tons/acre = acidity × (target − pH) ÷ (6.6 − pH), less residual credit (Mehlich 1976 buffer)",
    ));
    given!(sheet; acidity = acidity.to(Unit::MeqPer100Cm3), Origin::measured("the soil test, meq/100 cm³"));
    given!(sheet; one_ton_per_acre = MassPerArea::new(1.0, Unit::TonPerAc), Origin::sourced(&memory("unit of the formula")));
    given!(sheet; residual_credit, Origin::Given);
    let tons = if ph >= target_ph {
        sheet.gathered("tons", "none at or above the target", 0.0)
    } else {
        reckon!(sheet; tons = acidity * (target_ph - ph) / (6.6 - ph));
        tons
    };
    let before = sheet.line("before_credit", "one_ton_per_acre × tons", one_ton_per_acre * tons);
    let requirement = sheet.line(
        "requirement",
        "above_zero(before_credit - residual_credit)",
        MassPerArea::from_base((before.base() - residual_credit.base()).max(0.0)),
    );
    Reference {
        requirement,
        words: "ground limestone of 90 % CCE".to_owned(),
        depth: Length::new(8.0, Unit::In),
        effective: ground_limestone(request, sheet),
    }
}

fn by_base_saturation(enough: bool, cec: Charge, now: Fraction, aim: Fraction, sheet: &mut Sheet) -> Reference {
    sheet.source(Source::common_practice("a soil\u{2019}s acidity is its exchange capacity less its bases; one cmol of it takes half a gram of calcium carbonate"));
    given!(sheet; cec, Origin::measured("the soil test"));
    given!(sheet; base_saturation = now, Origin::measured("the soil test"));
    given!(sheet; aim, Origin::Given);
    let bulk_density = 1_300.0;
    let depth = Length::new(15.0, Unit::Cm);
    let soil = MassPerArea::from_base(bulk_density * depth.base());
    given!(sheet; soil_mass = soil, Origin::assumed("the soil\u{2019}s bulk density: that of a settled loam is taken"));
    given!(sheet; lime_factor = 1.5, Origin::assumed("a buffer test: not all lime meets the acidity it could"));
    given!(sheet; carbonate_per_charge = Fraction::from_base(0.000_5), Origin::sourced(&Source::common_practice("50 g of calcium carbonate neutralise a mole of charge")));
    let short = if enough {
        sheet.gathered("short_of_bases", "none at or above the target", Fraction::ZERO)
    } else {
        let short = Fraction::from_base((aim.base() - base_saturation.base()).max(0.0));
        sheet.line("short_of_bases", "above_zero(aim - base_saturation)", short)
    };
    // cmol/kg as a plain number, with the carbonate per cmol beside it.
    given!(sheet; one_cmol_per_kg = Charge::from_base(1.0), Origin::sourced(&Source::common_practice("unit of the formula")));
    let charge = sheet.line("charge", "cec / one_cmol_per_kg", (cec / one_cmol_per_kg).base());
    let requirement = sheet.line(
        "requirement",
        "soil_mass × charge × short_of_bases × carbonate_per_charge × lime_factor",
        soil_mass * charge * short * carbonate_per_charge * lime_factor,
    );
    given!(sheet; reference_value = Fraction::ONE, Origin::sourced(&Source::common_practice("pure, fine calcium carbonate")));
    Reference { requirement, words: "pure, fine calcium carbonate".to_owned(), depth, effective: reference_value }
}

/// Calcium carbonate per pH unit over 15 cm, t/ha (from memory of extension tables; rough).
fn buffering(texture: Texture) -> f64 {
    match texture {
        Texture::Sand => 1.5,
        Texture::SandyLoam => 2.5,
        Texture::Loam => 4.0,
        Texture::SiltLoam => 5.0,
        Texture::ClayLoam => 6.0,
        Texture::Clay => 7.0,
    }
}

fn by_texture(
    ph: f64,
    target_ph: f64,
    texture: Texture,
    organic_matter: Option<Fraction>,
    sheet: &mut Sheet,
) -> Reference {
    sheet.source(memory("Extension tables of lime per pH unit by texture; a buffer test would replace this"));
    given!(sheet; by_texture = MassPerArea::new(buffering(texture), Unit::TPerHa), Origin::assumed("a buffer test"));
    let organic = match organic_matter {
        Some(share) => sheet.input("organic_matter", share, Origin::measured("the soil test")),
        None => {
            sheet.input("organic_matter", Fraction::percent(3.0), Origin::assumed("the organic matter of a soil test"))
        }
    };
    given!(sheet; for_each_percent = MassPerArea::new(0.4, Unit::TPerHa), Origin::assumed("a buffer test"));
    let above = sheet.line(
        "percent_above_3",
        "above_zero(organic_matter - 3 %) / 1 %",
        (organic.to(Unit::Percent) - 3.0).max(0.0),
    );
    let per_ph = sheet.line(
        "lime_per_ph_unit",
        "by_texture + for_each_percent × percent_above_3",
        by_texture + for_each_percent * above,
    );
    let rise = sheet.line("rise", "above_zero(target_ph - ph)", (target_ph - ph).max(0.0));
    let requirement = sheet.line("requirement", "lime_per_ph_unit × rise", per_ph * rise);
    given!(sheet; reference_value = Fraction::ONE, Origin::sourced(&Source::common_practice("pure, fine calcium carbonate")));
    Reference {
        requirement,
        words: "pure, fine calcium carbonate".to_owned(),
        depth: Length::new(15.0, Unit::Cm),
        effective: reference_value,
    }
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
            vec![pass(rate / 2.0, "before primary tillage"), pass(rate / 2.0, "after it, worked in shallow")]
        }
        Placement::Incorporated => vec![pass(rate, "before tillage, worked in to the depth reckoned")],
        Placement::Surface => {
            let trips = (tons / SURFACE_MOST - 1e-9).ceil().max(1.0);
            let each = rate / trips;
            (0..trips as usize)
                .map(|trip| {
                    pass(
                        each,
                        if trip == 0 {
                            "on the surface, the autumn before"
                        } else {
                            "on the surface, a year after the last"
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
        remarks.push(format!("The soil stands at pH {}, at or above {}: no lime.", request.ph, request.target_ph));
        return remarks;
    }
    if effective.base() <= 0.0 {
        remarks.push("The buffer finds no acidity worth liming, though pH is below the target: test again before trusting either.".to_owned());
    }
    if request.placement == Placement::Surface {
        remarks.push("Left on the surface it moves down slowly, an inch or so a year: lime a sour soil before it goes to no-till.".to_owned());
    }
    if effective.to(Unit::TonPerAc) > 8.0 {
        remarks.push("So much is better spread over two seasons with a test between.".to_owned());
    }
    if matches!(request.school, LimeSchool::Texture { .. }) {
        remarks.push("A rough figure: a buffer test would replace it.".to_owned());
    }
    remarks.push("The autumn before a spring sowing; six months at least before any sowing.".to_owned());
    remarks
}
