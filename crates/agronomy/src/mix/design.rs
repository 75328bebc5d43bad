//! The topic `mix.design`: the stand that a mix becomes, and how its seed is boxed and inoculated.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{
    MixRequest,
    rates::{MixRates, rates},
    rivalry::{doubtful, rate, replaced, vigour},
};
use crate::{
    crop::{Crop, Kind, Life, SeedBox, crop_of},
    refusal::{Checks, Refused},
    source::{Origin, Source},
    units::{Fraction, Measure},
    working::{Answer, Sheet},
};

/// Most years that are told.
const MOST_YEARS: u32 = 15;

/// What the stand is used for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum MixUse {
    Cut,
    Grazed,
    Both,
}

/// Request of the topic `mix.design`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct DesignRequest {
    /// The mix.
    pub mix: MixRequest,
    /// What the stand is used for.
    pub used: MixUse,
    /// Years to tell, the sowing year being the first.
    pub years: u32,
    /// How much room a member gains in a year beside the others, by crop id, where a count has told it: 1 holds its own.
    #[serde(default)]
    pub rates: BTreeMap<String, f64>,
}

/// A member's share of the stand in a year.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct ShareInYear {
    /// The year, 1 for the sowing year.
    pub year: u32,
    /// Its share.
    pub share: Fraction,
    /// As low as it may well be.
    pub low: Fraction,
    /// As high.
    pub high: Fraction,
}

/// A member of the stand to come.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct DesignedMember {
    /// Crop id.
    pub crop: String,
    /// Common name.
    pub name: String,
    /// It is a legume.
    pub legume: bool,
    /// Year by year.
    pub years: Vec<ShareInYear>,
}

/// Seed that runs through one box of the drill.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct BoxLoad {
    /// The box.
    pub seed_box: SeedBox,
    /// Names of the members.
    pub members: Vec<String>,
    /// What to mind.
    pub mind: Option<String>,
}

/// Legumes that one inoculant serves.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct Inoculated {
    /// The cross-inoculation group.
    pub group: String,
    /// Names of the members.
    pub members: Vec<String>,
}

/// A mix as the stand it becomes.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct DesignedMix {
    /// Its rates.
    pub rates: MixRates,
    /// Members of the stand, in the order given.
    pub members: Vec<DesignedMember>,
    /// Share of legumes, year by year.
    pub legumes: Vec<Fraction>,
    /// The drill's boxes.
    pub boxes: Vec<BoxLoad>,
    /// Inoculants.
    pub inoculants: Vec<Inoculated>,
    /// What a good agronomist would remark of the stand to come.
    pub remarks: Vec<String>,
}

fn check(request: &DesignRequest) -> Result<(), Refused> {
    let mut checks = Checks::new();
    let years = (1..=MOST_YEARS).contains(&request.years);
    checks.require(years, "/years", format!("{} years; enter 1–{MOST_YEARS}", request.years));
    for (crop, rate) in &request.rates {
        let known = request.mix.members.iter().any(|member| member.crop == *crop);
        checks.require(known, format!("/rates/{crop}"), "not in this mix");
        let sound = rate.is_finite() && (0.0..=10.0).contains(rate);
        checks.require(sound, format!("/rates/{crop}"), format!("Rate is {rate}; enter 0–10"));
    }
    checks.done()
}

/// The topic `mix.design`.
///
/// The first year's shares are those of full rate, weighed by how easily each comes; from there each year's follow by
/// de Wit's replacement form, at rates of our own that say the direction and roughly how fast.
///
/// # Errors
/// A mix that can't be, more years than are told, a rate that is none.
pub fn design(request: &DesignRequest) -> Result<Answer<DesignedMix>, Refused> {
    check(request)?;
    let worked = rates(&request.mix).map_err(|refused| refused.under("/mix"))?;
    let crops = request
        .mix
        .members
        .iter()
        .map(|member| crop_of(&member.crop, "/mix/members"))
        .collect::<Result<Vec<_>, _>>()?;
    let mut sheet = Sheet::new("stand forecast of a mix");
    sheet.source(Source::published("de Wit 1960, On competition: shares a year on are rate × share over their sum"));
    sheet.source(Source::common_practice("our own rates from experience; they show direction and rough speed"));
    let plain = |own: &crate::mix::MemberRates| own.full_rate_share.base();
    let weights: Vec<f64> =
        worked.value.members.iter().zip(&crops).map(|(own, crop)| plain(own) * vigour(crop)).collect();
    let sum: f64 = weights.iter().sum();
    let mut shares: Vec<f64> = weights.iter().map(|weight| weight / sum).collect();
    let mut members: Vec<DesignedMember> = crops
        .iter()
        .map(|crop| DesignedMember {
            crop: crop.id.clone(),
            name: crop.name.clone(),
            legume: crop.kind == Kind::Legume,
            years: vec![],
        })
        .collect();
    let mut legumes = vec![];
    for year in 1..=request.years {
        for (member, share) in members.iter_mut().zip(&shares) {
            let (low, high) = doubtful(*share, year as usize);
            let of = Fraction::from_base;
            member.years.push(ShareInYear { year, share: of(*share), low: of(low), high: of(high) });
        }
        let of_legumes = members.iter().zip(&shares).filter(|(member, _)| member.legume);
        legumes.push(Fraction::from_base(of_legumes.map(|(_, share)| share).sum()));
        let rates: Vec<f64> = crops.iter().map(|crop| yearly(request, crop, &crops, year as usize)).collect();
        shares = replaced(&shares, &rates);
    }
    for member in &members {
        if let Some(first) = member.years.first() {
            sheet.input(
                &format!("{} in year 1", member.name),
                first.share,
                Origin::assumed("a count of the seedlings"),
            );
        }
    }
    sheet.gathered("legumes in year 1", "sum of their shares", legumes.first().copied().unwrap_or_default());
    sheet.would_change("A stand count by species; it replaces this estimate.");
    let boxes = boxes(&worked.value, &crops);
    let remarks = remarks(request, &crops, &members, &legumes);
    let inoculants = inoculants(&crops);
    let rates = sheet.part(worked);
    Ok(sheet.answer(DesignedMix { rates, members, legumes, boxes, inoculants, remarks }))
}

fn yearly(request: &DesignRequest, crop: &Crop, all: &[&Crop], year: usize) -> f64 {
    request.rates.get(&crop.id).copied().unwrap_or_else(|| rate(crop, all, request.used, year))
}

fn boxes(rates: &MixRates, crops: &[&Crop]) -> Vec<BoxLoad> {
    let mut loads: Vec<BoxLoad> = vec![];
    for (own, crop) in rates.members.iter().zip(crops) {
        match loads.iter_mut().find(|load| load.seed_box == own.seed_box) {
            Some(load) => load.members.push(crop.name.clone()),
            None => {
                loads.push(BoxLoad { seed_box: own.seed_box, members: vec![crop.name.clone()], mind: None });
            }
        }
    }
    for load in &mut loads {
        let several = load.members.len() > 1;
        load.mind = match load.seed_box {
            SeedBox::Fluffy => {
                Some("Agitated box with picker wheels; if shared, fill to two thirds at most.".to_owned())
            }
            _ if several => {
                Some("Seeds of different weight separate with shaking; stir, and fill a little at a time.".to_owned())
            }
            _ => None,
        };
    }
    loads
}

fn inoculants(crops: &[&Crop]) -> Vec<Inoculated> {
    let mut groups: Vec<Inoculated> = vec![];
    for crop in crops {
        let Some(group) = crop.seed.as_ref().and_then(|seed| seed.inoculant.clone()) else { continue };
        match groups.iter_mut().find(|one| one.group == group) {
            Some(one) => one.members.push(crop.name.clone()),
            None => groups.push(Inoculated { group, members: vec![crop.name.clone()] }),
        }
    }
    groups
}

fn remarks(request: &DesignRequest, crops: &[&Crop], members: &[DesignedMember], legumes: &[Fraction]) -> Vec<String> {
    let mut told = vec![];
    let half = |share: &Fraction| share.base() > 0.5;
    let bloats = crops.iter().any(|crop| crop.cautions.iter().any(|key| key == "bloat"));
    if bloats
        && request.used != MixUse::Cut
        && crops.len() > 1
        && let Some(year) = legumes.iter().position(half)
    {
        told.push(format!("Over half legumes in year {}: bloat risk when grazed.", year + 1));
    }
    let third = |share: &Fraction| share.base() < 1.0 / 3.0;
    if legumes.first().is_some_and(|share| !third(share))
        && let Some(year) = legumes.iter().position(third)
    {
        told.push(format!("Under a third legumes from year {}: needs nitrogen from then on.", year + 1));
    }
    for (member, crop) in members.iter().zip(crops) {
        let gone = member.years.iter().find(|one| one.share.base() < 0.03).filter(|one| one.year > 1);
        if let Some(gone) = gone {
            let why = match crop.life {
                Life::Annual => "an annual",
                Life::ShortPerennial => "short-lived",
                Life::Perennial => "crowded out by the others",
            };
            told.push(format!("{} is nearly gone by year {} ({why}).", crop.name, gone.year));
        }
    }
    let horses = |crop: &&&Crop| crop.cautions.iter().any(|key| key == "horses-clover");
    if request.used != MixUse::Cut
        && let Some(crop) = crops.iter().find(horses)
    {
        told.push(format!("Not suitable for horses: {}.", crop.name));
    }
    told
}
