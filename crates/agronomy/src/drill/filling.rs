//! What a box of the drill holds: one seed, or several mixed, each with its own aim.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    crop::{Crop, SeedFacts, crop_of},
    given,
    refusal::Refused,
    source::Origin,
    units::{Bulk, CountPerMass, Fraction, MassPerArea, Measure, PureLive},
    working::Sheet,
};

/// Seed that runs through a box together with others.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = SeedInBox)]
pub struct InBox {
    /// Crop of the library.
    pub crop: String,
    /// Aim out of the bag, per area.
    pub aim: MassPerArea,
    /// Pure live seed in its lot.
    pub pls: Fraction,
    /// The lot's own; the library's when absent.
    #[serde(default)]
    pub seeds_per_mass: Option<CountPerMass>,
}

/// What a member of a box gets.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[schema(as = SeedOfBox)]
pub struct OfBox {
    /// Crop of the library.
    pub crop: String,
    /// Reached, out of the bag, as long as the box stays mixed.
    pub bulk_rate: MassPerArea,
    /// Pure live seed of it.
    #[schema(value_type = MassPerArea)]
    pub pls_rate: PureLive<MassPerArea>,
}

/// A kind of seed in the box, its crop known.
pub(super) struct Member<'a> {
    pub crop: &'a Crop,
    pub seed: &'a SeedFacts,
    pub aim: MassPerArea,
    pub pls: Fraction,
    pub seeds_per_mass: Option<CountPerMass>,
}

impl Member<'_> {
    /// Its crop, as a part of a name in a formula.
    pub fn word(&self) -> String {
        self.crop.id.replace('-', "_")
    }

    fn seeds(&self, sheet: &mut Sheet, name: &str) -> CountPerMass {
        match self.seeds_per_mass {
            Some(seeds) => sheet.input(name, seeds, Origin::measured("the tag")),
            None => sheet.input(name, self.seed.per_mass.measure(), self.seed.per_mass.origin()),
        }
    }
}

/// The other kinds in the box.
pub(super) fn members(also: &[InBox]) -> Result<Vec<Member<'static>>, Refused> {
    let known = also.iter().enumerate().map(|(index, one)| {
        let at = format!("/also/{index}/crop");
        let crop = crop_of(&one.crop, &at)?;
        let (Some(seed), Some(_)) = (&crop.seed, &crop.sowing) else {
            return Err(Refused::one(at, format!("{} is planted, not drilled", crop.name)));
        };
        Ok(Member { crop, seed, aim: one.aim, pls: one.pls, seeds_per_mass: one.seeds_per_mass })
    });
    known.collect()
}

/// What the box holds, as one.
pub(super) struct Filling {
    pub aim: MassPerArea,
    pub pls: Fraction,
    /// Out of the bag, living or not.
    pub seeds_per_mass: CountPerMass,
    /// Living, out of the bag; of one seed, pure live seed times seeds per mass.
    pub live_per_mass: Option<CountPerMass>,
}

/// What the box holds: one seed, or several weighed by what of each is aimed at.
pub(super) fn filling(sheet: &mut Sheet, first: &Member<'_>, others: &[Member<'_>]) -> Filling {
    if others.is_empty() { one_seed(sheet, first) } else { mixed(sheet, first, others) }
}

fn one_seed(sheet: &mut Sheet, member: &Member<'_>) -> Filling {
    given!(sheet; aim = Bulk(member.aim), Origin::Given);
    given!(sheet; pls = member.pls, Origin::measured("the tag"));
    let seeds_per_mass = member.seeds(sheet, "seeds_per_mass");
    Filling { aim: aim.0, pls, seeds_per_mass, live_per_mass: None }
}

fn mixed(sheet: &mut Sheet, first: &Member<'_>, others: &[Member<'_>]) -> Filling {
    let all: Vec<&Member<'_>> = std::iter::once(first).chain(others).collect();
    let seeds: Vec<f64> = all
        .iter()
        .map(|member| {
            let id = member.word();
            sheet.input(&format!("aim_of_{id}"), Bulk(member.aim), Origin::Given);
            sheet.input(&format!("pls_of_{id}"), member.pls, Origin::measured("the tag"));
            member.seeds(sheet, &format!("seeds_of_{id}")).base()
        })
        .collect();
    let sum = |of: &dyn Fn(usize, &Member<'_>) -> f64| all.iter().enumerate().map(|(at, one)| of(at, one)).sum::<f64>();
    let terms = |names: &[&str]| {
        let term = |member: &&Member<'_>| {
            let id = member.word();
            names.iter().map(|name| format!("{name}_of_{id}")).collect::<Vec<_>>().join(" * ")
        };
        all.iter().map(term).collect::<Vec<_>>().join(" + ")
    };
    let total = sum(&|_, one| one.aim.base());
    let aim = sheet.line("aim", &terms(&["aim"]), MassPerArea::from_base(total));
    let pls = Fraction::from_base(sum(&|_, one| one.aim.base() * one.pls.base()) / total);
    let pls = sheet.line("pls", &format!("({}) / aim", terms(&["aim", "pls"])), pls);
    let bulk = CountPerMass::from_base(sum(&|at, one| one.aim.base() * seeds[at]) / total);
    let seeds_per_mass = sheet.line("seeds_per_mass", &format!("({}) / aim", terms(&["aim", "seeds"])), bulk);
    let live = CountPerMass::from_base(sum(&|at, one| one.aim.base() * one.pls.base() * seeds[at]) / total);
    let formula = format!("({}) / aim", terms(&["aim", "pls", "seeds"]));
    let live_per_mass = Some(sheet.line("live_seeds_per_mass", &formula, live));
    Filling { aim, pls, seeds_per_mass, live_per_mass }
}
