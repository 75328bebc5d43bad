//! Seed mixes, seen three ways.
//!
//! People name a mix by share of the live seeds, by share of each member's full rate, or by mass.
//! The three say the same thing and convert into each other through the seeds in a mass and the
//! full rate of each member:
//!
//! - live seeds of a member = its PLS rate × its seeds per mass;
//! - share of full rate = its PLS rate ÷ its PLS rate when sown alone.
//!
//! Whatever view comes in, all three come out.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    crop::{Crop, Height, Kind, Pathway, SeedBox},
    given, reckon,
    refusal::{Checks, Refused, Unusual},
    seed::{Conditions, above_drilled, chart_rate, modifier},
    source::{Origin, Source},
    units::{CountPerArea, CountPerMass, Fraction, MassPerArea, Measure, PureLive, Unit},
    working::{Answer, Sheet},
};
use crate::{
    crop::{crop_of, sowing_of},
    seed::far_from_usual,
};

/// A member and its part, in the terms of the chosen view.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct MixMember {
    /// Crop of the library.
    pub crop: String,
    /// Share of the live seeds or of the full rate; none by mass.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub share: Option<Fraction>,
    /// PLS rate; by mass only.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rate: Option<MassPerArea>,
    /// Seeds in a mass, when the lot is known; the book value otherwise.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub seeds_per_mass: Option<CountPerMass>,
    /// PLS rate when sown alone with a drill; the library's low end otherwise.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub full_rate: Option<MassPerArea>,
}

/// The view a mix is entered in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum MixView {
    /// Shares of the live seeds, adding up to 100 %.
    LiveSeeds,
    /// Shares of each member's full rate.
    FullRate,
    /// PLS mass per area of each.
    Mass,
}

/// Request of the topic `mix.rates`, and the mix part of a plan.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct MixRequest {
    /// How the parts are entered.
    pub by: MixView,
    /// The members, at least one.
    pub members: Vec<MixMember>,
    /// Live seeds per area in all, for shares of live seeds; when absent, as many as make the
    /// shares of full rate add up to 100 %.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub total: Option<CountPerArea>,
    /// Drill or broadcast, seedbed, lateness.
    #[serde(default)]
    pub conditions: Conditions,
}

/// One member, in all three views.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct MemberRates {
    /// Crop id.
    pub crop: String,
    /// Common name.
    pub name: String,
    /// PLS rate, conditions included.
    #[schema(value_type = MassPerArea)]
    pub pls_rate: PureLive<MassPerArea>,
    /// PLS rate before conditions: for a drill in a good seedbed.
    #[schema(value_type = MassPerArea)]
    pub plain_rate: PureLive<MassPerArea>,
    /// Live seeds per area, conditions included.
    #[schema(value_type = CountPerArea)]
    pub live_seeds: PureLive<CountPerArea>,
    /// Live seeds per area before conditions.
    #[schema(value_type = CountPerArea)]
    pub plain_live_seeds: PureLive<CountPerArea>,
    /// Share of the live seeds, before conditions: the view a mix is named in.
    pub live_seed_share: Fraction,
    /// Share of its full rate, before conditions.
    pub full_rate_share: Fraction,
    /// Share of the PLS mass.
    pub mass_share: Fraction,
    /// The drill box it runs through.
    pub seed_box: SeedBox,
}

/// A mix, worked out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct MixRates {
    /// Its members, in the order given.
    pub members: Vec<MemberRates>,
    /// PLS mass per area in all.
    #[schema(value_type = MassPerArea)]
    pub pls_rate: PureLive<MassPerArea>,
    /// Live seeds per area in all.
    #[schema(value_type = CountPerArea)]
    pub live_seeds: PureLive<CountPerArea>,
    /// Live seeds per area in all, before conditions.
    #[schema(value_type = CountPerArea)]
    pub plain_live_seeds: PureLive<CountPerArea>,
    /// Shares of full rate, added up.
    pub full_rate_share: Fraction,
    /// Share of live seeds that are legumes.
    pub legume_share: Fraction,
    /// What a good agronomist would remark.
    pub remarks: Vec<String>,
    /// Far from usual: to be confirmed before it is planned.
    pub unusual: Vec<Unusual>,
}

struct Part<'a> {
    crop: &'a Crop,
    seeds_per_mass: CountPerMass,
    full_rate: PureLive<MassPerArea>,
}

/// The topic `mix.rates`.
///
/// # Errors
/// An empty mix, an unknown crop or one named twice, a missing or impossible part, shares of live
/// seeds that do not add up to 100 %.
pub fn rates(request: &MixRequest) -> Result<Answer<MixRates>, Refused> {
    check(request)?;
    let mut sheet = Sheet::new("seed mix");
    sheet.source(Source::common_practice(
        "enter a mix by live seed share, full-rate share or mass; seeds per area = PLS rate × seeds per mass",
    ));
    let parts = request.members.iter().map(part).collect::<Result<Vec<_>, _>>()?;
    let base = plain_rates(request, &parts, &mut sheet);

    let mut rows = Vec::new();
    for ((member, part), base) in request.members.iter().zip(&parts).zip(&base) {
        rows.push(sheet.part(row(member, part, *base, request.conditions)?));
    }
    let live_seeds: CountPerArea = rows.iter().map(|row| row.live_seeds.0).sum();
    let pls: MassPerArea = rows.iter().map(|row| row.pls_rate.0).sum();
    let live_seeds = sheet.gathered("live_seeds", "sum of the members\u{2019} live seeds", PureLive(live_seeds));
    let pls_rate = sheet.gathered("pls_rate", "sum of the members\u{2019} PLS rates", PureLive(pls));
    let full_rate_share: Fraction = rows.iter().map(|row| row.full_rate_share).sum();
    let full_rate_share =
        sheet.gathered("share_of_full_rate", "sum of the members\u{2019} shares of full rate", full_rate_share);
    let plain_live_seeds = PureLive(rows.iter().map(|row| row.plain_live_seeds.0).sum::<CountPerArea>());
    for row in &mut rows {
        row.live_seed_share = row.plain_live_seeds.0 / plain_live_seeds.0;
        row.mass_share = row.pls_rate.0 / pls_rate.0;
    }
    let legumes = rows.iter().zip(&parts).filter(|(_, part)| part.crop.kind == Kind::Legume);
    let legume_share: Fraction = legumes.map(|(row, _)| row.live_seed_share).sum();
    let legume_share = sheet.gathered("legume_share", "live seeds of legumes ÷ live seeds", legume_share);

    let legume_room: Fraction = rows
        .iter()
        .zip(&parts)
        .filter(|(_, part)| part.crop.kind == Kind::Legume)
        .map(|(row, _)| row.full_rate_share / full_rate_share)
        .sum();
    let mostly_legume = legume_share.base() > 0.5 || legume_room.base() > 0.5;
    for key in parts.iter().flat_map(|part| &part.crop.cautions) {
        // Bloat is a matter of how much legume there will be, which neither seeds nor shares of
        // full rate tell for sure: the larger of the two counts. The rest stand with the crop.
        if key != "bloat" || mostly_legume {
            sheet.caution(key);
        }
    }
    let unusual = parts
        .iter()
        .zip(&rows)
        .enumerate()
        .filter_map(|(index, (part, row))| {
            far_from_usual(part.crop, row.pls_rate)
                .map(|detail| Unusual { pointer: format!("/members/{index}"), detail })
        })
        .collect();
    let remarks = remarks(&parts, &rows, full_rate_share, legume_share, mostly_legume);
    Ok(sheet.answer(MixRates {
        members: rows,
        pls_rate,
        live_seeds,
        plain_live_seeds,
        full_rate_share,
        legume_share,
        remarks,
        unusual,
    }))
}

fn check(request: &MixRequest) -> Result<(), Refused> {
    let mut checks = Checks::new();
    checks.require(!request.members.is_empty(), "/members", "a mix needs at least one member");
    checks.require(request.members.len() <= 20, "/members", "use at most 20 species");
    for (index, member) in request.members.iter().enumerate() {
        let at = |field: &str| format!("/members/{index}/{field}");
        if let Some(crop) = checks.part("", crop_of(&member.crop, &at("crop"))) {
            checks.part("", sowing_of(crop, &at("crop")));
        }
        let twice = request.members[..index].iter().any(|other| other.crop == member.crop);
        checks.require(!twice, at("crop"), format!("{} is in the mix twice", member.crop));
        match (request.by, member.share, member.rate) {
            (MixView::Mass, _, Some(rate)) => {
                checks.positive(&at("rate"), "Rate", rate, Unit::KgPerHa, 1_000.0);
            }
            (MixView::Mass, _, None) => checks.refuse(at("rate"), "enter a rate"),
            (_, Some(share), _) => {
                let most = if request.by == MixView::LiveSeeds { 100.0 } else { 300.0 };
                checks.positive(&at("share"), "Share", share, Unit::Percent, most);
            }
            (_, None, _) => checks.refuse(at("share"), "enter a share"),
        }
        match request.by {
            MixView::Mass => {
                checks.require(member.share.is_none(), at("share"), "a mix by mass uses rates, not shares");
            }
            _ => checks.require(member.rate.is_none(), at("rate"), "a mix by shares uses shares, not rates"),
        }
        if let Some(seeds) = member.seeds_per_mass {
            checks.within(&at("seeds_per_mass"), "Seeds per mass", seeds, Unit::PerLb, 100.0, 20_000_000.0);
        }
        if let Some(rate) = member.full_rate {
            checks.positive(&at("full_rate"), "Full rate", rate, Unit::KgPerHa, 1_000.0);
        }
    }
    if request.by == MixView::LiveSeeds && checks.is_clean() {
        let sum: Fraction = request.members.iter().filter_map(|member| member.share).sum();
        checks.require(
            (sum.base() - 1.0).abs() <= 0.001,
            "/members",
            format!("Live seed shares total {:.1}%; they must total 100%", sum.to(Unit::Percent)),
        );
    }
    if let Some(total) = request.total {
        checks.positive("/total", "Live seeds per area", total, Unit::PerM2, 20_000.0);
        let used = request.by == MixView::LiveSeeds;
        checks.require(used, "/total", "total live seeds applies only to a mix by live seed share");
    }
    checks.done()
}

fn part(member: &MixMember) -> Result<Part<'static>, Refused> {
    let crop = crop_of(&member.crop, "/crop")?;
    let book = crop.seed.as_ref().map(|seed| seed.per_mass.measure()).unwrap_or_default();
    let full_rate = match member.full_rate {
        Some(rate) => PureLive(rate),
        None => chart_rate(crop, Conditions::default())?.value,
    };
    Ok(Part { crop, seeds_per_mass: member.seeds_per_mass.unwrap_or(book), full_rate })
}

/// The members' PLS rates for a drill in a good seedbed.
fn plain_rates(request: &MixRequest, parts: &[Part<'_>], sheet: &mut Sheet) -> Vec<PureLive<MassPerArea>> {
    let members = request.members.iter().zip(parts);
    let share = |member: &MixMember| member.share.unwrap_or_default();
    match request.by {
        MixView::Mass => members.map(|(member, _)| PureLive(member.rate.unwrap_or_default())).collect(),
        MixView::FullRate => members.map(|(member, part)| part.full_rate * share(member)).collect(),
        MixView::LiveSeeds => {
            let total = match request.total {
                Some(total) => sheet.input("live_seeds_asked", PureLive(total), Origin::Given),
                None => {
                    // Each seed takes up 1 ÷ (full rate in seeds) of an area's room.
                    let room: f64 = request
                        .members
                        .iter()
                        .zip(parts)
                        .map(|(member, part)| share(member).base() / (part.full_rate * part.seeds_per_mass).base())
                        .sum();
                    sheet.line(
                        "live_seeds_asked",
                        "1 ÷ sum of (share ÷ live seeds at full rate)",
                        PureLive(CountPerArea::from_base(1.0 / room)),
                    )
                }
            };
            members.map(|(member, part)| total * share(member) / part.seeds_per_mass).collect()
        }
    }
}

fn row(
    member: &MixMember,
    part: &Part<'_>,
    base: PureLive<MassPerArea>,
    conditions: Conditions,
) -> Result<Answer<MemberRates>, Refused> {
    let Part { crop, seeds_per_mass, full_rate } = *part;
    let mut sheet = Sheet::new(crop.name.clone());
    let book = || crop.seed.as_ref().map_or(Origin::Given, |seed| seed.per_mass.origin());
    let seeds_from = member.seeds_per_mass.map_or_else(book, |_| Origin::measured("the lot\u{2019}s tag"));
    let full_from = match (member.full_rate, &crop.sowing) {
        (None, Some(sowing)) => sowing.rate.origin(),
        _ => Origin::Given,
    };
    given!(sheet; rate_before_conditions = base, Origin::Given);
    given!(sheet; seeds_per_mass, seeds_from);
    given!(sheet; full_rate, full_from);
    let above_drilled = above_drilled(crop, conditions)?;
    let conditions = sheet.carried("conditions", modifier(crop, conditions)?);
    reckon!(sheet; pls_rate = rate_before_conditions * conditions);
    reckon!(sheet; live_seeds = pls_rate * seeds_per_mass);
    let (plain, share) = if above_drilled == 1.0 {
        (rate_before_conditions, "rate_before_conditions / full_rate")
    } else {
        let factor = crop.sowing.as_ref().map_or(Origin::Given, |sowing| sowing.broadcast_factor.origin());
        given!(sheet; broadcast_factor = above_drilled, factor);
        let plain = rate_before_conditions * broadcast_factor.recip();
        (
            sheet.line("same_when_drilled", "rate_before_conditions / broadcast_factor", plain),
            "same_when_drilled / full_rate",
        )
    };
    let full_rate_share = sheet.gathered("share_of_full_rate", share, plain.0 / full_rate.0);
    Ok(sheet.answer(MemberRates {
        crop: crop.id.clone(),
        name: crop.name.clone(),
        pls_rate,
        plain_rate: plain,
        live_seeds,
        plain_live_seeds: plain * seeds_per_mass,
        live_seed_share: Fraction::ZERO,
        full_rate_share,
        mass_share: Fraction::ZERO,
        seed_box: crop.seed.as_ref().map_or(SeedBox::Main, |seed| seed.seed_box),
    }))
}

fn remarks(
    parts: &[Part<'_>],
    rows: &[MemberRates],
    full: Fraction,
    legumes: Fraction,
    mostly_legume: bool,
) -> Vec<String> {
    let mut remarks = Vec::new();
    let percent = |share: Fraction| format!("{:.0}%", share.to(Unit::Percent));
    let full_percent = full.to(Unit::Percent);
    if full_percent > 140.0 {
        remarks.push(format!(
            "Full-rate shares total {}: species will crowd each other; 100–130% is usual.",
            percent(full)
        ));
    } else if full_percent < 80.0 {
        remarks.push(format!("Full-rate shares total {}: thin; 100–130% is usual.", percent(full)));
    }
    let bloats = parts.iter().any(|part| part.crop.cautions.iter().any(|key| key == "bloat"));
    if bloats && parts.len() > 1 && mostly_legume {
        remarks.push(format!(
            "{} of live seeds are legumes (by seed, not by final stand). Watch for bloat if grazed.",
            percent(legumes)
        ));
    }
    if [Pathway::C3, Pathway::C4].iter().all(|pathway| parts.iter().any(|part| part.crop.pathway == *pathway)) {
        remarks.push(
            "Cool- and warm-season species peak at different times; cutting timing usually favors one of them."
                .to_owned(),
        );
    }
    let tall = parts.iter().any(|part| part.crop.height == Height::Tall);
    for (part, row) in parts.iter().zip(rows) {
        if tall && part.crop.height == Height::Short {
            remarks.push(format!("{} is short: shaded out under tall hay, lasts under grazing.", part.crop.name));
        }
        if part.crop.id == "switchgrass" && parts.len() > 1 && row.full_rate_share.base() < 0.4 {
            remarks.push("Switchgrass at 1–2 pounds with taller natives is shaded out by year 3 or 4.".to_owned());
        }
    }
    if rows.iter().any(|row| row.seed_box == SeedBox::Fluffy) {
        remarks.push("Chaffy seed needs an agitated box with picker wheels. If conditioned seed shares it, fill to two thirds so it does not separate.".to_owned());
    }
    remarks
}
