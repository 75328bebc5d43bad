//! The schools of lime: from a report's figures to an amount of a reference material.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::need::LimeRequest;
use crate::{
    given, reckon,
    refusal::Checks,
    source::{Class, Origin, Source},
    texture::Texture,
    units::{Charge, ChargePerVolume, Fraction, Length, MassPerArea, Measure, System, Unit},
    working::Sheet,
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
    /// Sikora buffer, made to read as SMP does without its poisons: the same equations.
    Sikora {
        /// Buffer pH.
        buffer_ph: f64,
    },
    /// Adams–Evans buffer, for soils that hold little charge (the South-East of the United States); for targets up to
    /// pH 6.5.
    AdamsEvans {
        /// Buffer pH; 8.00 with no soil in it.
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

impl LimeSchool {
    /// The units that the school itself writes: those of an answer to a request that names none.
    pub fn written_in(self) -> System {
        match self {
            Self::Smp { .. } | Self::Sikora { .. } | Self::AdamsEvans { .. } | Self::Mehlich { .. } => System::Us,
            Self::BaseSaturation { .. } | Self::Texture { .. } => System::Metric,
        }
    }
}

/// Tri-State equations: target, intercept and slope of tons per acre on the lime test index.
const SMP: [(f64, f64, f64); 3] = [(6.0, 49.3, 0.71), (6.5, 60.4, 0.87), (6.8, 71.4, 1.03)];
/// A source from memory.
pub(super) fn memory(citation: &str) -> Source {
    Source { class: Class::FromMemory, citation: citation.to_owned() }
}

/// Refuse what the school can't take, and what it does not serve.
pub(super) fn check(request: &LimeRequest, checks: &mut Checks) {
    match request.school {
        LimeSchool::Smp { buffer_ph } | LimeSchool::Sikora { buffer_ph } => {
            checks.require(
                (4.8..=8.0).contains(&buffer_ph),
                "/school/buffer_ph",
                format!("Buffer pH is {buffer_ph}; enter 4.8–8"),
            );
            checks.require(
                (6.0..=6.8).contains(&request.target_ph) || request.ph >= request.target_ph,
                "/target_ph",
                format!(
                    "SMP equations cover target pH 6.0–6.8, not {}; use another method, or lime to 6.0",
                    request.target_ph
                ),
            );
        }
        LimeSchool::AdamsEvans { buffer_ph } => {
            checks.require(
                (6.0..=8.0).contains(&buffer_ph),
                "/school/buffer_ph",
                format!("Adams–Evans buffer pH is {buffer_ph}; enter 6–8"),
            );
            checks.require(
                request.ph >= LEAST_ADAMS_EVANS,
                "/ph",
                format!("The Adams–Evans equation covers soil pH {LEAST_ADAMS_EVANS} and up, not {}", request.ph),
            );
            checks.require(
                request.target_ph <= 6.5 || request.ph >= request.target_ph,
                "/target_ph",
                format!("The Adams–Evans equation covers target pH up to 6.5, not {}", request.target_ph),
            );
        }
        LimeSchool::Mehlich { acidity, residual_credit } => {
            checks.within("/school/acidity", "Acidity", acidity, Unit::MeqPer100Cm3, 0.0, 30.0);
            if let Some(credit) = residual_credit {
                checks.within("/school/residual_credit", "Residual lime credit", credit, Unit::TPerHa, 0.0, 20.0);
            }
            checks.require(
                request.target_ph <= 6.5,
                "/target_ph",
                format!("The Mehlich formula covers target pH up to 6.5, not {}", request.target_ph),
            );
        }
        LimeSchool::BaseSaturation { cec, base_saturation, aim } => {
            checks.positive("/school/cec", "CEC", cec, Unit::MeqPer100G, 150.0);
            checks.within("/school/base_saturation", "Base saturation", base_saturation, Unit::Percent, 0.0, 100.0);
            checks.within("/school/aim", "Target base saturation", aim, Unit::Percent, 0.0, 100.0);
        }
        LimeSchool::Texture { organic_matter, .. } => {
            if let Some(share) = organic_matter {
                checks.within("/school/organic_matter", "Organic matter", share, Unit::Percent, 0.0, 20.0);
            }
        }
    }
}

/// A requirement with all that makes it more than a bare mass.
pub(super) struct Reference {
    pub requirement: MassPerArea,
    pub words: String,
    pub depth: Length,
    /// Effective value of the reference material.
    pub effective: Fraction,
}

/// The requirement by the school asked for.
pub(super) fn requirement(request: &LimeRequest, sheet: &mut Sheet) -> Reference {
    given!(sheet; ph = request.ph, Origin::measured("the soil test"));
    given!(sheet; target_ph = request.target_ph, Origin::Given);
    if ph >= target_ph {
        sheet.would_change("Soil is already at or above the target: no lime needed.");
    }
    match request.school {
        LimeSchool::Smp { buffer_ph } => smp(request, ph, target_ph, buffer_ph, sheet),
        LimeSchool::Sikora { buffer_ph } => {
            sheet.source(memory(
                "Sikora 2006, A buffer that mimics the SMP buffer for determining lime requirement of soil, Soil Science Society of America Journal 70:474-486",
            ));
            smp(request, ph, target_ph, buffer_ph, sheet)
        }
        LimeSchool::AdamsEvans { buffer_ph } => adams_evans(request, ph, target_ph, buffer_ph, sheet),
        LimeSchool::Mehlich { acidity, residual_credit } => {
            mehlich(request, ph, target_ph, acidity, residual_credit.unwrap_or_default(), sheet)
        }
        LimeSchool::BaseSaturation { cec, base_saturation, aim } => {
            by_base_saturation(ph >= target_ph, cec, base_saturation, aim, sheet)
        }
        LimeSchool::Texture { texture, organic_matter } => by_texture(ph, target_ph, texture, organic_matter, sheet),
    }
}

/// Both buffer schools speak of ordinary ground limestone of 90% CCE.
fn ground_limestone(request: &LimeRequest, sheet: &mut Sheet) -> Fraction {
    given!(sheet; reference_cce = Fraction::percent(90.0), Origin::sourced(&memory("the method’s reference lime: neutralizing value 90")));
    let fineness = match request.reference_fineness {
        Some(share) => sheet.input("reference_fineness", share, Origin::Given),
        None => sheet.input(
            "reference_fineness",
            Fraction::percent(70.0),
            Origin::assumed("the lab’s fineness of its reference lime"),
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
        sheet.would_change("Rates between the bulletin’s three targets are interpolated.");
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
        words: "ground limestone, 90% CCE".to_owned(),
        depth: Length::new(8.0, Unit::In),
        effective: ground_limestone(request, sheet),
    }
}

/// The lowest pH on the Adams–Evans curve: all of the exchange capacity acid.
const LEAST_ADAMS_EVANS: f64 = 4.6;

fn adams_evans(request: &LimeRequest, ph: f64, target_ph: f64, buffer_ph: f64, sheet: &mut Sheet) -> Reference {
    sheet.source(memory(
        "Adams & Evans 1962, A rapid method for measuring lime requirement of Red-Yellow Podzolic soils, Soil Science Society of America Proceedings 26:355-357: pH = 7.79 \u{2212} 5.55 H + 2.27 H\u{b2}, H the acid share of the exchange capacity; pounds per acre of two million pounds of soil",
    ));
    given!(sheet; buffer_ph, Origin::measured("the soil test"));
    given!(sheet; one_pound_per_acre = MassPerArea::new(1.0, Unit::LbPerAc), Origin::sourced(&memory("unit of the formula")));
    let acid = |sheet: &mut Sheet, name: &str, of: &str, ph: f64| {
        let root = (5.55 * 5.55 - 4.0 * 2.27 * (7.79 - ph)).max(0.0).sqrt();
        sheet.line(
            name,
            &format!("(5.55 − sqrt(above_zero(5.55 × 5.55 − 4 × 2.27 × (7.79 − {of})))) ÷ (2 × 2.27)"),
            (5.55 - root) / (2.0 * 2.27),
        )
    };
    let acid_now = acid(sheet, "acid_share_now", "ph", ph);
    let acid_then = acid(sheet, "acid_share_then", "target_ph", target_ph);
    let pounds = if ph >= target_ph {
        sheet.gathered("pounds", "none at or above the target", 0.0)
    } else {
        sheet.line(
            "pounds",
            "8000 × (8 − buffer_ph) ÷ acid_share_now × (acid_share_now − acid_share_then) × 1.5",
            8_000.0 * (8.0 - buffer_ph) / acid_now * (acid_now - acid_then) * 1.5,
        )
    };
    let requirement = sheet.line("requirement", "one_pound_per_acre × pounds", one_pound_per_acre * pounds);
    Reference {
        requirement,
        words: "ground limestone, 90% CCE".to_owned(),
        // Two million pounds of soil on an acre.
        depth: Length::new(6.67, Unit::In),
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
        words: "ground limestone, 90% CCE".to_owned(),
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
    given!(sheet; soil_mass = soil, Origin::assumed("the soil’s bulk density; a settled loam is assumed"));
    given!(sheet; lime_factor = 1.5, Origin::assumed("a buffer test; not all lime reacts"));
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
