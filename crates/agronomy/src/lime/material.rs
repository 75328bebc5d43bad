//! Liming materials: what a ton of them is worth.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    given, reckon,
    refusal::{Checks, Refused},
    said,
    source::{Origin, Source},
    units::{Fraction, MassPerArea, Measure, MoneyPerArea, MoneyPerMass, Unit},
    working::{Answer, Sheet},
};

/// What a material is made of.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum LimeKind {
    Calcitic,
    Dolomitic,
    Hydrated,
    Burnt,
    WoodAsh,
    Pelleted,
    Marl,
}

/// Share of a material that passes a sieve.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Sieve {
    /// US mesh number: 8 is coarse, 60 fine.
    pub mesh: u32,
    /// Share that passes.
    pub passing: Fraction,
}

/// How much of a class of grains reacts: of what passes a sieve and not the next finer one.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Reacts {
    /// US mesh number of the sieve passed.
    pub mesh: u32,
    /// Share of it that reacts.
    pub share: Fraction,
}

/// The classes of most bulletins: coarser than 8 mesh nothing, 8 to 60 half, finer all.
const USUAL: [Reacts; 2] =
    [Reacts { mesh: 8, share: Fraction::percent(50.0) }, Reacts { mesh: 60, share: Fraction::percent(100.0) }];

/// A liming material.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Material {
    /// Its name.
    pub name: String,
    /// What it is made of.
    pub kind: LimeKind,
    /// Calcium carbonate equivalent: pure calcium carbonate is 100 %.
    pub cce: Fraction,
    /// Sieve analysis; mesh 8 and 60 are the ones used, or those of `reacts`.
    pub sieves: Vec<Sieve>,
    /// The laboratory's or the state's own classes of fineness; 8 mesh half and 60 mesh whole when there are none.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub reacts: Vec<Reacts>,
    /// Water in it.
    #[serde(default)]
    pub moisture: Fraction,
    /// Magnesium in it, as Mg.
    #[serde(default)]
    pub magnesium: Fraction,
    /// Price of a mass, spread on the field.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub price: Option<MoneyPerMass>,
}

impl Material {
    /// Refuse what can't be.
    ///
    /// # Errors
    /// One refusal per field, pointers relative to the material.
    pub fn check(&self) -> Result<(), Refused> {
        let mut checks = Checks::new();
        // Calcium oxide, the strongest in use, is 179 %; pure magnesium oxide 248 %.
        checks.positive("/cce", "CCE", self.cce, Unit::Percent, 250.0);
        checks.within("/moisture", "Moisture", self.moisture, Unit::Percent, 0.0, 90.0);
        checks.within("/magnesium", "Magnesium", self.magnesium, Unit::Percent, 0.0, 60.0);
        for (index, sieve) in self.sieves.iter().enumerate() {
            let at = format!("/sieves/{index}/passing");
            checks.within(&at, &format!("Share passing {} mesh", sieve.mesh), sieve.passing, Unit::Percent, 0.0, 100.0);
        }
        checks.require(self.reacts.len() <= 8, "/reacts", "enter at most eight fineness classes");
        let classes = self.classes();
        for (index, class) in classes.iter().enumerate() {
            let at = format!("/reacts/{index}");
            checks.within(&format!("{at}/share"), "Effective share", class.share, Unit::Percent, 0.0, 100.0);
            checks.require(
                self.sieves.iter().filter(|sieve| sieve.mesh == class.mesh).count() == 1,
                "/sieves",
                format!("enter the share passing {} mesh once", class.mesh),
            );
            let coarser = index.checked_sub(1).map(|before| classes[before]);
            let finer = coarser.is_none_or(|coarser| coarser.mesh < class.mesh && coarser.share <= class.share);
            checks.require(
                finer,
                at,
                "list fineness classes from coarse to fine, each at least as effective as the last",
            );
        }
        if checks.is_clean() {
            for pair in classes.windows(2) {
                let detail = said!(
                    "More passes {} mesh than {} mesh; the finer sieve must pass the same or less",
                    pair[1].mesh,
                    pair[0].mesh
                );
                checks.require(self.passing(pair[1].mesh) <= self.passing(pair[0].mesh), "/sieves", detail);
            }
        }
        if let Some(price) = self.price {
            checks.within("/price", "Price", price, Unit::MoneyPerTon, 0.0, 1e8);
        }
        checks.done()
    }

    fn passing(&self, mesh: u32) -> Fraction {
        self.sieves.iter().find(|sieve| sieve.mesh == mesh).map_or(Fraction::ZERO, |sieve| sieve.passing)
    }

    fn classes(&self) -> &[Reacts] {
        if self.reacts.is_empty() { &USUAL } else { &self.reacts }
    }

    /// Of each class of grains, coarse to fine: which, and how much of the material it is.
    fn grains(&self) -> impl DoubleEndedIterator<Item = (Reacts, Fraction)> {
        let classes = self.classes();
        classes.iter().enumerate().map(|(index, class)| {
            let finer = classes.get(index + 1).map_or(Fraction::ZERO, |finer| self.passing(finer.mesh));
            (*class, self.passing(class.mesh) - finer)
        })
    }

    /// The effective value in its two parts: what dissolves fast (the finest class), and what of the coarser grains
    /// will react, slowly. What is coarser still is stone.
    pub fn fast_and_slow(&self) -> (Fraction, Fraction) {
        let dry = self.cce * (Fraction::ONE - self.moisture);
        let mut parts = self.grains().rev().map(|(class, part)| dry * part * class.share);
        (parts.next().unwrap_or_default(), parts.fold(Fraction::ZERO, |sum, part| sum + part))
    }
}

/// The effective value of a material: CCE × fineness efficiency × what is not water. A ton of it
/// neutralises as much as this share of a ton of pure, fine calcium carbonate.
///
/// # Errors
/// What [`Material::check`] refuses; a material of which nothing reacts.
pub fn effective_value(material: &Material) -> Result<Answer<Fraction>, Refused> {
    material.check()?;
    let mut sheet = Sheet::new(format!("effective value of {}", material.name));
    sheet.source(Source {
        class: crate::source::Class::FromMemory,
        citation: "Fineness efficiency of US lime bulletins: coarser than 8 mesh 0%, 8 to 60 mesh 50%, finer 100%; states differ, use the laboratory\u{2019}s".to_owned(),
    });
    given!(sheet; cce = material.cce, Origin::measured("the analysis"));
    let classes = material.classes();
    for class in classes {
        let name = format!("passing_{}_mesh", class.mesh);
        sheet.input(&name, material.passing(class.mesh), Origin::measured("the analysis"));
    }
    given!(sheet; moisture = material.moisture, Origin::measured("the analysis"));
    let terms: Vec<String> = classes
        .iter()
        .enumerate()
        .map(|(index, class)| {
            let share = class.share.to(Unit::Percent);
            match classes.get(index + 1) {
                Some(finer) => format!("{share} % × (passing_{}_mesh - passing_{}_mesh)", class.mesh, finer.mesh),
                None => format!("{share} % × passing_{}_mesh", class.mesh),
            }
        })
        .collect();
    let reacting = material.grains().fold(Fraction::ZERO, |sum, (class, part)| sum + class.share * part);
    let fineness = sheet.line("fineness", &terms.join(" + "), reacting);
    let dry = sheet.line("dry", "100 % - moisture", Fraction::ONE - moisture);
    reckon!(sheet; effective_value = cce * fineness * dry);
    if effective_value.base() <= 0.0 {
        return Err(Refused::one("/sieves", "none of this material is fine enough to be effective"));
    }
    if matches!(material.kind, LimeKind::Hydrated | LimeKind::Burnt) {
        sheet.caution("caustic-lime");
    }
    Ok(sheet.answer(effective_value))
}

/// Request of the topic `lime.material`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct MaterialRequest {
    /// Effective calcium carbonate that is needed; for comparing on an area.
    #[serde(default)]
    pub effective_need: Option<MassPerArea>,
    /// Whether the soil is low in magnesium, which dolomitic lime mends.
    #[serde(default)]
    pub low_magnesium: bool,
    /// The materials, at least one.
    pub materials: Vec<Material>,
}

/// One material's standing.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ComparedMaterial {
    /// Its name.
    pub name: String,
    /// Effective value.
    pub effective_value: Fraction,
    /// Price of what reacts, spread; absent without a price.
    pub price_of_effective: Option<MoneyPerMass>,
    /// How much of it the need takes.
    pub rate: Option<MassPerArea>,
    /// What that costs.
    pub cost: Option<MoneyPerArea>,
    /// Cheapest of those priced.
    pub cheapest: bool,
    /// What to think about.
    pub remarks: Vec<String>,
}

/// Materials side by side.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct MaterialComparison {
    /// In the order given.
    pub materials: Vec<ComparedMaterial>,
}

/// The topic `lime.material`: cost per effective mass, spread.
///
/// # Errors
/// No material, or one that can't be.
pub fn compare(request: &MaterialRequest) -> Result<Answer<MaterialComparison>, Refused> {
    let mut checks = Checks::new();
    checks.require(!request.materials.is_empty(), "/materials", "add a material to compare");
    if let Some(need) = request.effective_need {
        checks.within("/effective_need", "Effective lime needed", need, Unit::TPerHa, 0.0, 60.0);
    }
    let values: Vec<_> = request
        .materials
        .iter()
        .enumerate()
        .map(|(index, material)| checks.part(&format!("/materials/{index}"), effective_value(material)))
        .collect();
    checks.done()?;
    let mut sheet = Sheet::new("liming materials");
    sheet.source(Source::common_practice("compare lime by cost per effective ton, spread"));
    let mut rows = Vec::new();
    for (material, value) in request.materials.iter().zip(values.into_iter().flatten()) {
        let mut part = Sheet::new(material.name.clone());
        let effective_value = part.carried("effective_value", value);
        let price_of_effective = material.price.map(|price| {
            given!(part; price, Origin::measured("the offer"));
            reckon!(part; price_of_effective = price / effective_value);
            price_of_effective
        });
        let rate = request.effective_need.map(|need| {
            given!(part; effective_need = need, Origin::Given);
            reckon!(part; rate = effective_need / effective_value);
            rate
        });
        let cost = rate.zip(material.price).map(|(rate, price)| {
            reckon!(part; cost = rate * price);
            cost
        });
        let mut remarks = Vec::new();
        if request.low_magnesium && material.magnesium.base() >= 0.05 {
            remarks.push("Supplies the magnesium this soil needs.".to_owned());
        } else if request.low_magnesium {
            remarks.push("Supplies no magnesium, and this soil is low in it.".to_owned());
        }
        if material.kind == LimeKind::WoodAsh {
            remarks.push("Wood ash also supplies potash and acts fast. Have each load tested.".to_owned());
        }
        if material.kind == LimeKind::Pelleted {
            remarks
                .push("Pelleted lime is fine lime bound together; it is only as effective as its analysis.".to_owned());
        }
        rows.push(sheet.part(part.answer(ComparedMaterial {
            name: material.name.clone(),
            effective_value,
            price_of_effective,
            rate,
            cost,
            cheapest: false,
            remarks,
        })));
    }
    let least = rows.iter().filter_map(|row| row.price_of_effective).map(|price| price.base()).reduce(f64::min);
    for row in &mut rows {
        row.cheapest = least.is_some() && row.price_of_effective.map(|price| price.base()) == least;
    }
    if let Some(least) = least {
        sheet.gathered("cheapest", "lowest price per effective ton", MoneyPerMass::from_base(least));
    }
    sheet.caution("lime-dust");
    Ok(sheet.answer(MaterialComparison { materials: rows }))
}

/// Ordinary materials to start from; analyses are typical, not of anybody's product.
pub fn library_materials() -> Vec<Material> {
    let sieves = |eight: f64, sixty: f64| {
        vec![
            Sieve { mesh: 8, passing: Fraction::percent(eight) },
            Sieve { mesh: 60, passing: Fraction::percent(sixty) },
        ]
    };
    let material = |name: &str, kind, cce, eight, sixty, magnesium, price| Material {
        name: name.to_owned(),
        kind,
        cce: Fraction::percent(cce),
        sieves: sieves(eight, sixty),
        reacts: vec![],
        moisture: Fraction::ZERO,
        magnesium: Fraction::percent(magnesium),
        price: Some(MoneyPerMass::new(price, Unit::MoneyPerTon)),
    };
    vec![
        material("ground limestone", LimeKind::Calcitic, 92.0, 97.0, 55.0, 0.5, 42.0),
        material("ground dolomite", LimeKind::Dolomitic, 100.0, 96.0, 50.0, 11.0, 48.0),
        material("hydrated lime", LimeKind::Hydrated, 132.0, 100.0, 99.0, 0.5, 260.0),
        material("pelleted lime", LimeKind::Pelleted, 94.0, 100.0, 95.0, 0.5, 240.0),
        Material {
            moisture: Fraction::percent(25.0),
            ..material("wood ash", LimeKind::WoodAsh, 48.0, 100.0, 70.0, 1.0, 12.0)
        },
        Material { moisture: Fraction::percent(20.0), ..material("marl", LimeKind::Marl, 75.0, 95.0, 60.0, 0.5, 22.0) },
    ]
}
