//! Keep it, wait, thicken it or start over: what was counted, and what each way costs and gives.

use jiff::civil::Date;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::aims::{AimBy, aim_of};
use crate::{
    counting::{Against, CountAnswer, CountRequest, Counted, Enough, count_interval},
    crop::{Crop, Life, crop_of},
    given,
    refusal::{Checks, Refused},
    said,
    said::Said,
    source::{Origin, Source},
    units::{Fraction, Length, MassPerArea, Measure, MoneyPerArea, MoneyPerMass, Quantity, Unit},
    weather::{days_between, plus},
    working::{Answer, Sheet},
};

/// As good as sure.
const SURE: f64 = 0.8;
/// Years looked ahead, when nothing is said.
const YEARS: u32 = 4;
/// Days after which a stand that may still come is counted again.
const RECOUNT: i32 = 28;
/// Odds of the next sowing, where nothing is said (assumed).
const USUAL: f64 = 0.6;
/// Stations that must live, of those set, or gaps are filled (assumed).
const ALIVE: f64 = 0.6;
/// Rows so far apart belong to a crop of single plants, as maize.
const WIDE_ROWS: Length = Length::new(50.0, Unit::Cm);
/// A year, days.
const YEAR: i32 = 365;

/// Request of the topic `stand.decide`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct DecideRequest {
    /// Crop of the library: the one that was counted.
    pub crop: String,
    /// Sown or set on.
    #[schema(value_type = String, format = Date)]
    pub sown_on: Date,
    /// Counted on.
    #[schema(value_type = String, format = Date)]
    pub today: Date,
    /// What was counted.
    pub counted: Counted,
    /// Stems were counted, not plants.
    #[serde(default)]
    pub stems: bool,
    /// Enough for the full yield; the library's when absent.
    #[serde(default)]
    pub full: Option<Quantity>,
    /// Below it the stand is mended or given up; the library's when absent.
    #[serde(default)]
    pub thin: Option<Quantity>,
    /// Odds that a sowing works in its next window.
    #[serde(default)]
    pub next_odds: Option<Fraction>,
    /// What thickening costs.
    #[serde(default)]
    pub thicken_cost: Option<MoneyPerArea>,
    /// What starting over costs.
    #[serde(default)]
    pub start_over_cost: Option<MoneyPerArea>,
    /// What dry matter is worth.
    #[serde(default)]
    pub price: Option<MoneyPerMass>,
    /// Years looked ahead.
    #[serde(default)]
    pub years: Option<u32>,
}

/// What may be done.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[schema(as = StandWay)]
pub enum Way {
    /// Keep it as it is.
    Keep,
    /// Count more places.
    CountMore,
    /// Wait, and count again.
    Wait,
    /// Thicken it: sow into it, or fill its gaps.
    Thicken,
    /// Kill it and start over.
    StartOver,
}

/// A way, and what it comes to.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[schema(as = StandWayOut)]
pub struct WayOut {
    /// The way.
    pub way: Way,
    /// Why it can't be gone; none where it can.
    pub barred: Option<Said>,
    /// When: counted again, or at the earliest.
    #[schema(value_type = Option<String>, format = Date)]
    pub on: Option<Date>,
    /// Odds that it works.
    pub odds: Fraction,
    /// Dry matter expected, year by year.
    pub yields: Vec<MassPerArea>,
    /// Less than a full stand would give, over those years.
    pub lost: MassPerArea,
    /// What it costs.
    pub cost: Option<MoneyPerArea>,
    /// What the yields are worth, less the cost.
    pub left: Option<MoneyPerArea>,
}

/// The stand judged.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[schema(as = StandDecision)]
pub struct Decision {
    /// What the count says.
    pub count: CountAnswer,
    /// Enough for the full yield.
    pub full: Quantity,
    /// Below it, mended or given up.
    pub thin: Quantity,
    /// Of the full yield, as it stands.
    pub of_full_yield: Fraction,
    /// What is advised.
    pub advised: Way,
    /// Why.
    pub why: Said,
    /// It was set out as plants: it is thickened by filling its gaps.
    pub set_out: bool,
    /// All ways.
    pub ways: Vec<WayOut>,
}

/// Share of the full yield that a stand gives: plants that stand thin grow larger, up to a point (the rectangular
/// hyperbola of yield on density, normalised to give all at the full count, with half of it as the density of half
/// the potential; assumed). Stems of alfalfa by the line of Undersander & Cosgrove: 0.1 × stems on a square foot +
/// 0.38 ton an acre, no more beyond 55.
///
/// ```
/// use agronomy::establish::yield_share;
/// assert_eq!(yield_share(1.0, false), 1.0);
/// assert_eq!(yield_share(0.5, false), 0.75);
/// assert_eq!(yield_share(1.8, false), 1.0);
/// // 40 of 55 stems: 4.38 of 5.88 ton an acre.
/// assert!((yield_share(40.0 / 55.0, true) - 4.38 / 5.88).abs() < 1e-9);
/// ```
pub fn yield_share(of_full: f64, stems: bool) -> f64 {
    let of = of_full.clamp(0.0, 1.0);
    match stems {
        _ if of <= 0.0 => 0.0,
        true => (0.1 * 55.0 * of + 0.38) / (0.1 * 55.0 + 0.38),
        false => of / (of + 0.5) * 1.5,
    }
}

struct Judged<'a> {
    crop: &'a Crop,
    /// Days since it was sown.
    age: i32,
    full_yield: f64,
    share: f64,
    odds: f64,
    years: usize,
}

impl Judged<'_> {
    /// The year of the stand that the first of the years looked at is.
    fn year(&self) -> usize {
        (self.age / YEAR) as usize + 1
    }

    /// What a full stand gives, that of this age.
    fn whole(&self) -> Vec<f64> {
        let annual = self.crop.life == Life::Annual;
        let share = |at: usize| if annual && at > 0 { 0.0 } else { self.crop.stand.share_in(self.year() + at) };
        (0..self.years).map(|at| self.full_yield * share(at)).collect()
    }

    /// What was counted tells how old it has become by now; from here on it ages.
    fn kept(&self) -> Vec<f64> {
        let now = self.crop.stand.ageing(self.year());
        let ages = |at: usize| if now > 0.0 { self.crop.stand.ageing(self.year() + at) / now } else { 0.0 };
        self.whole().iter().enumerate().map(|(at, full)| full * self.share * ages(at)).collect()
    }

    /// What is sown into it begins its first year in the next.
    fn thickened(&self) -> Vec<f64> {
        let (whole, kept) = (self.whole(), self.kept());
        (0..self.years)
            .map(|at| {
                let come = if at == 0 { 0.0 } else { self.crop.stand.share_in(at) };
                kept[at] + self.odds * (whole[at] - kept[at]) * come
            })
            .collect()
    }

    /// Nothing in the year it is killed, and in the years it must rest; sown once more where it fails.
    fn anew(&self, rest: usize) -> Vec<f64> {
        // An annual is sown again in its own season, and is gone with it.
        if self.crop.life == Life::Annual {
            return (0..self.years).map(|at| if at == 0 { self.full_yield * self.odds } else { 0.0 }).collect();
        }
        let stand = &self.crop.stand;
        let share = |year: usize| if year == 0 { 0.0 } else { stand.share_in(year) * stand.ageing(year) };
        (0..self.years)
            .map(|at| {
                let year = at.saturating_sub(rest);
                self.full_yield * (self.odds * share(year) + (1.0 - self.odds) * share(year.saturating_sub(1)))
            })
            .collect()
    }

    /// Why its kind can't be sown into what stands.
    fn no_thickening(&self) -> Option<Said> {
        let crop = self.crop;
        if let Some(months) = &crop.site.autotoxic_months
            && self.age > months.low * 30
        {
            let months = months.low;
            return Some(said!(
                "{} is autotoxic from about {} months: seedlings sown into it die. Sow grass or clover into it, or rotate.",
                crop.name.clone(),
                months as f64
            ));
        }
        if crop.life != Life::Annual {
            return None;
        }
        let rows = crop.sowing.as_ref().map(|sowing| sowing.row_spacing.measure::<Length>());
        if rows.is_some_and(|rows| rows >= WIDE_ROWS) {
            let name = crop.name.clone();
            return Some(said!("{} in rows is not thickened: late plants are shaded and stay small", name));
        }
        (self.age > crop.establish.first_look.high)
            .then(|| said!("{} is an annual: too late to thicken it", crop.name.clone()))
    }
}

/// The library's thresholds, or what the person said.
fn thresholds(request: &DecideRequest, crop: &Crop, age: i32) -> Result<[(Quantity, Origin); 2], Refused> {
    let by = match (&request.counted, request.stems) {
        (Counted::Grid { .. }, _) => Some(AimBy::Grid),
        (Counted::Frame { .. } | Counted::Row { .. }, false) => Some(AimBy::Plants),
        (Counted::Frame { .. }, true) => Some(AimBy::Stems),
        _ => None,
    };
    let known = by.and_then(|by| aim_of(crop, by, age));
    let set = crop.planting.as_ref().filter(|_| matches!(request.counted, Counted::Alive { .. }));
    let of_stations = set.map(|facts| {
        let stations = 1.0 / (facts.row_spacing.measure::<Length>() * facts.in_row.measure::<Length>());
        let full = facts.aim.as_ref().map_or(facts.survival.measure::<Fraction>().base(), |aim| {
            (aim.measure::<crate::units::CountPerArea>() / stations).base().min(1.0)
        });
        (full, facts.aim.as_ref().unwrap_or(&facts.survival).origin())
    });
    let pick = |said: Option<Quantity>, of_aim: Option<Quantity>, of_set: Option<Quantity>, pointer: &str| {
        let known = known
            .as_ref()
            .map(super::aims::Aim::origin)
            .or_else(|| of_stations.as_ref().map(|(_, origin)| origin.clone()));
        match (said, of_aim.or(of_set), known) {
            (Some(said), _, _) => Ok((said, Origin::Given)),
            (None, Some(amount), Some(origin)) => Ok((amount, origin)),
            _ => Err(Refused::one(
                pointer,
                format!("No target is known for {} with this count; enter one, or use the frequency grid", crop.name),
            )),
        }
    };
    let share = |share: f64| Fraction::from_base(share).quantity();
    let full = pick(
        request.full,
        known.as_ref().map(|aim| aim.full()),
        of_stations.as_ref().map(|(full, _)| share(*full)),
        "/full",
    )?;
    let thin = pick(
        request.thin,
        known.as_ref().map(|aim| aim.thin()),
        of_stations.as_ref().map(|(full, _)| share(full * ALIVE)),
        "/thin",
    )?;
    Ok([thin, full])
}

/// The topic `stand.decide`.
///
/// # Errors
/// An unknown crop, a count or threshold that can't be, a day before the sowing, a cost or price that can't be.
pub fn stand_decide(request: &DecideRequest) -> Result<Answer<Decision>, Refused> {
    let crop = crop_of(&request.crop, "/crop")?;
    let age = days_between(request.sown_on, request.today);
    let mut checks = Checks::new();
    checks.require((0..=40 * YEAR).contains(&age), "/sown_on", format!("counted {age} days after sowing"));
    if let Some(odds) = request.next_odds {
        checks.within("/next_odds", "Odds", odds, Unit::Percent, 0.0, 100.0);
    }
    for (pointer, cost) in [("/thicken_cost", request.thicken_cost), ("/start_over_cost", request.start_over_cost)] {
        if let Some(cost) = cost {
            checks.within(pointer, "Cost", cost, Unit::MoneyPerHa, 0.0, 1e6);
        }
    }
    if let Some(price) = request.price {
        checks.within("/price", "Price", price, Unit::MoneyPerT, 0.0, 1e5);
    }
    let years = request.years.unwrap_or(YEARS);
    checks.require((1..=15).contains(&years), "/years", format!("{years} years; enter 1–15"));
    checks.done()?;
    let [thin, full] = thresholds(request, crop, age)?;
    let counted = count_interval(&CountRequest { counted: request.counted.clone(), thresholds: vec![thin.0, full.0] })
        .map_err(|refused| threshold_named(refused, request))?;

    let mut sheet = Sheet::new(format!("stand of {}", crop.name));
    let count = sheet.part(counted);
    let base = |amount: Quantity| amount.unit.to_base(amount.value);
    if base(thin.0) >= base(full.0) {
        return Err(Refused::one("/thin", said!("Thin is {} and full is {}; thin must be lower", thin.0, full.0)));
    }
    sheet.quantity("mean of the places", count.mean, Origin::Worked { part: "the count".into() });
    sheet.quantity("full", full.0, full.1);
    sheet.quantity("thin", thin.0, thin.1);
    let of_full =
        sheet.line("share_of_full", "mean of the places / full", Fraction::from_base(base(count.mean) / base(full.0)));
    let share = Fraction::from_base(yield_share(of_full.base(), request.stems));
    let (formula, source) = if request.stems {
        (
            None,
            Source::published("Undersander & Cosgrove, University of Wisconsin: yield potential by stems, from memory"),
        )
    } else {
        (
            Some("smaller(share_of_full, 1) / (smaller(share_of_full, 1) + 0.5) * 1.5"),
            Source::common_practice(
                "plants grow larger in thin stands: yield follows a hyperbola of density (curvature assumed)",
            ),
        )
    };
    sheet.source(source);
    match formula {
        Some(formula) => sheet.line("share_of_full_yield", formula, share),
        None => sheet.gathered(
            "share_of_full_yield",
            "0.1 × stems on a square foot + 0.38 ton an acre, of what 55 give",
            share,
        ),
    };
    let (low, high) = crop.stand.yields.ends::<MassPerArea>();
    let full_yield = MassPerArea::from_base((low.base() + high.base()) / 2.0);
    given!(sheet; full_yield, crop.stand.yields.origin());
    given!(sheet; odds_of_the_next_sowing = request.next_odds.unwrap_or(Fraction::from_base(USUAL)),
        if request.next_odds.is_some() { Origin::Given } else { Origin::assumed("the odds of its next window") });
    let judged = Judged {
        crop,
        age,
        full_yield: full_yield.base(),
        share: share.base(),
        odds: odds_of_the_next_sowing.base(),
        years: years as usize,
    };

    let rest = crop
        .site
        .autotoxic_months
        .as_ref()
        .filter(|months| age > months.low * 30)
        .map_or(0, |months| (months.low + 11) / 12);
    let whole: f64 = judged.whole().iter().sum();
    let out =
        |way: Way, barred: Option<Said>, on: Option<Date>, odds: f64, yields: Vec<f64>, cost: Option<MoneyPerArea>| {
            let sum: f64 = yields.iter().sum();
            WayOut {
                way,
                barred,
                on,
                odds: Fraction::from_base(odds),
                lost: MassPerArea::from_base((whole - sum).max(0.0)),
                left: request
                    .price
                    .map(|price| MoneyPerArea::from_base(sum * price.base() - cost.map_or(0.0, Measure::base))),
                yields: yields.into_iter().map(MassPerArea::from_base).collect(),
                cost,
            }
        };
    let young = age < crop.establish.count.high;
    let early = age < crop.establish.count.low;
    let recount = if early {
        plus(request.sown_on, crop.establish.count.low)
    } else if young {
        plus(request.sown_on, crop.establish.count.high)
    } else {
        plus(request.today, RECOUNT)
    };
    let settled = (!young && age > YEAR).then(|| said!("at {} days, no more seedlings will emerge", f64::from(age)));
    let no_thickening = judged.no_thickening();
    let sown_again = if rest == 0 { None } else { Some(plus(request.today, rest * YEAR)) };
    let above = |at: usize| count.against.get(at).and_then(|against: &Against| against.above).map(Measure::base);
    let keep_odds = above(1).unwrap_or(0.5);
    let ways = vec![
        out(Way::Keep, None, None, keep_odds, judged.kept(), None),
        out(Way::Wait, settled.clone(), Some(recount), keep_odds, judged.kept(), None),
        out(Way::Thicken, no_thickening.clone(), None, judged.odds, judged.thickened(), request.thicken_cost),
        out(Way::StartOver, None, sown_again, judged.odds, judged.anew(rest as usize), request.start_over_cost),
    ];
    for one in ways.iter().filter(|one| one.barred.is_none()) {
        let (name, how) = match one.way {
            Way::Keep | Way::CountMore => ("kept", "as it is, year by year"),
            Way::Wait => continue,
            Way::Thicken => ("thickened", "as it is, plus thickening from next year at its odds"),
            Way::StartOver => ("reseeded", "zero in the year it is killed, then a new stand at its odds"),
        };
        let sum = one.yields.iter().map(|one| one.base()).sum();
        sheet.gathered(
            &format!("dry matter {name}"),
            &format!("sum over the years: {how}"),
            MassPerArea::from_base(sum),
        );
    }
    let (advised, why) = if early && above(1).is_none_or(|full| full < SURE) {
        let from = plus(request.sown_on, crop.establish.count.low);
        (Way::Wait, said!("Too early to judge; seedlings are still emerging. Count from {}.", from))
    } else {
        advise(&count, [above(0), above(1)], young || age <= YEAR, no_thickening.is_none(), &ways)
    };
    sheet.would_change("More sample points, the next window’s odds, or prices.");
    if matches!(request.counted, Counted::Grid { .. }) {
        sheet.would_change("A grid shows that plants are present, not how big they are.");
    }
    Ok(sheet.answer(Decision {
        count,
        full: full.0,
        thin: thin.0,
        of_full_yield: share,
        advised,
        why,
        set_out: crop.planting.is_some(),
        ways,
    }))
}

/// A threshold is refused where it was said.
fn threshold_named(mut refused: Refused, request: &DecideRequest) -> Refused {
    for one in &mut refused.0 {
        one.pointer = match one.pointer.as_str() {
            "/thresholds/0" if request.thin.is_some() => "/thin".to_owned(),
            "/thresholds/1" if request.full.is_some() => "/full".to_owned(),
            "/thresholds/0" | "/thresholds/1" => "/counted".to_owned(),
            other => other.to_owned(),
        };
    }
    refused
}

fn advise(
    count: &CountAnswer,
    above: [Option<f64>; 2],
    may_come: bool,
    thickens: bool,
    ways: &[WayOut],
) -> (Way, Said) {
    let [Some(not_thin), Some(full)] = above else {
        return (Way::CountMore, "One sample point is not enough to judge the field.".into());
    };
    let percent = |share: f64| Fraction::from_base(share).quantity();
    if count.enough == Enough::TooFew {
        let more = count.more.unwrap_or(1) as f64;
        return (Way::CountMore, said!("Too few points to judge: count at least {} more.", more));
    }
    if count.enough == Enough::GoOn {
        let likely = match () {
            () if full >= 0.5 => said!("More likely full than not ({})", percent(full)),
            () if not_thin < 0.5 => said!("More likely thin than not ({})", percent(1.0 - not_thin)),
            () => "Between thin and full".into(),
        };
        return match count.more {
            Some(more) => (Way::CountMore, said!("{}: about {} more points may settle it.", likely, more as f64)),
            None => {
                let next = if may_come { "Wait and recount." } else { "Keep the stand for now and recount." };
                let last = said!("{}: so near the line that more points are unlikely to settle it. {}", likely, next);
                (if may_come { Way::Wait } else { Way::Keep }, last)
            }
        };
    }
    if full >= SURE {
        return (Way::Keep, said!("Full stand: {} probability.", percent(full)));
    }
    if not_thin <= 1.0 - SURE {
        // What is left in money decides, where it is known of all that can be done.
        let left = |way: Way| ways.iter().find(|one| one.way == way).and_then(|one| one.left).map(Measure::base);
        let way = match (left(Way::Thicken).filter(|_| thickens), left(Way::StartOver), left(Way::Keep)) {
            (_, Some(anew), Some(kept))
                if kept > anew && left(Way::Thicken).is_none_or(|more| !thickens || kept > more) =>
            {
                Way::Keep
            }
            (Some(thick), Some(anew), _) if anew > thick => Way::StartOver,
            _ if thickens => Way::Thicken,
            _ => Way::StartOver,
        };
        let thin = percent(1.0 - not_thin);
        let why = match way {
            Way::Keep => said!("Thin stand: {} probability. Repair costs more than it returns in these years.", thin),
            Way::Thicken => said!("Thin stand: {} probability. It can still be thickened.", thin),
            _ if thickens => {
                said!("Thin stand: {} probability. Reseeding returns more than thickening.", thin)
            }
            _ => said!("Thin stand: {} probability. It cannot be thickened with the same species.", thin),
        };
        return (way, why);
    }
    if may_come {
        return (
            Way::Wait,
            "Between thin and full, and seedlings may still emerge. Waiting is often right; recount.".into(),
        );
    }
    (
        Way::Keep,
        said!(
            "Not thin; {} probability of a full stand. It yields less than a full stand each year, so repair is a question of cost.",
            percent(full)
        ),
    )
}
