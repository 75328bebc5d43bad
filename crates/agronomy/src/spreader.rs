//! The spreader: how wide it spreads evenly, and how much goes out.
//!
//! Trays across the path catch one pass; passes laid beside one another overlap, and the width at which their sum is
//! even is the working width (the way of ASABE S341; the arithmetic is done by hand in the tests).

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::{
    chance::spread,
    given, reckon,
    refusal::{Checks, Refused},
    said,
    source::{Origin, Source},
    units::{Fraction, Length, Mass, MassPerArea, Measure, Speed, Time, Unit},
    working::{Answer, Sheet},
};

/// Trays: fewer show no pattern.
const TRAYS: std::ops::RangeInclusive<usize> = 5..=81;
/// Even enough: coefficient of variation (spreading bulletins, from memory).
const EVEN: f64 = 0.15;
/// Still bearable (spreading bulletins, from memory).
const BEARABLE: f64 = 0.20;

/// How passes lie beside one another.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Passes {
    /// There and back: the left of one pass meets the left of the next.
    #[default]
    BackAndForth,
    /// Always the same way round: left meets right.
    RoundAndRound,
}

/// What flowed out while it stood or drove.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
#[schema(as = SpreaderFlow)]
pub struct Flow {
    /// Caught.
    pub mass: Mass,
    /// In so much time.
    pub time: Time,
    /// Speed in the field.
    pub speed: Speed,
    /// Rate aimed at, in all.
    #[serde(default)]
    pub aim: Option<MassPerArea>,
    /// Two passes at right angles, half of it each way.
    #[serde(default)]
    pub two_passes: bool,
}

/// Request of the topic `spreader.pattern`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PatternRequest {
    /// What each tray caught of one pass, left to right; the middle one stands on the path.
    pub trays: Vec<Mass>,
    /// Between trays, middle to middle.
    pub tray_spacing: Length,
    /// How passes lie.
    #[serde(default)]
    pub passes: Passes,
    /// Width that is driven now; the widest that is even when absent.
    #[serde(default)]
    pub width: Option<Length>,
    /// Flow, for the rate.
    #[serde(default)]
    pub flow: Option<Flow>,
}

/// A width tried.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[schema(as = SwathTried)]
pub struct Swath {
    /// Between passes.
    pub width: Length,
    /// Standard deviation over mean of what falls across it.
    pub variation: Fraction,
}

/// What a flow comes to.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[schema(as = SpreaderRate)]
pub struct Rate {
    /// Of one pass.
    pub per_pass: MassPerArea,
    /// In all.
    pub in_all: MassPerArea,
    /// Of the flow, for the aim: open it to so much of what it is.
    pub open_to: Option<Fraction>,
}

/// A pattern worked out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[schema(as = SpreaderPattern)]
pub struct Pattern {
    /// Of one pass alone, over its whole reach.
    pub alone: Fraction,
    /// Widths tried, narrow to wide.
    pub widths: Vec<Swath>,
    /// The widest that is even; none where no width is.
    pub even_to: Option<Length>,
    /// The widest that is still bearable.
    pub bearable_to: Option<Length>,
    /// At the width that is driven, or at the widest that is even.
    pub at: Option<Swath>,
    /// What falls at each tray across that width, of the mean.
    pub across: Vec<f64>,
    /// Left more than right (+) or less (−), of all; beyond a tenth it throws to one side.
    pub leans: Fraction,
    /// What a flow comes to.
    pub rate: Option<Rate>,
    /// What to think about.
    pub remarks: Vec<String>,
}

/// What falls over one swath of so many tray spacings, passes beside it added. Of an even number of spacings the seam
/// to one neighbour lies on a tray: to the left, or to the right.
fn overlapped(trays: &[f64], swath: usize, passes: Passes, seam_on_the_right: bool) -> Vec<f64> {
    let middle = (trays.len() / 2) as i64;
    let swath_i = swath as i64;
    // Passes that reach the swath from either side.
    let reach = trays.len() as i64 / swath_i + 2;
    (0..swath_i)
        .map(|at| {
            let place = at - swath_i / 2 + i64::from(seam_on_the_right);
            (-reach..=reach)
                .map(|pass| {
                    let from_path = place - pass * swath_i;
                    let turned = passes == Passes::BackAndForth && pass.rem_euclid(2) == 1;
                    let index = middle + if turned { -from_path } else { from_path };
                    usize::try_from(index).ok().and_then(|index| trays.get(index)).copied().unwrap_or(0.0)
                })
                .sum()
        })
        .collect()
}

/// How uneven it falls at a swath. There and back, left meets left and right meets right: of an even number of spacings
/// each seam is a tray of its own, and the worse of them tells.
fn unevenness(trays: &[f64], swath: usize, passes: Passes) -> f64 {
    let one = variation(&overlapped(trays, swath, passes, false));
    match passes {
        Passes::BackAndForth if swath.is_multiple_of(2) => one.max(variation(&overlapped(trays, swath, passes, true))),
        _ => one,
    }
}

fn variation(values: &[f64]) -> f64 {
    spread(values).filter(|all| all.mean > 0.0).map_or(0.0, |all| all.deviation / all.mean)
}

/// The topic `spreader.pattern`.
///
/// # Errors
/// Too few trays, an even number of them, nothing caught, a spacing, width or flow that can't be.
///
/// ```
/// use agronomy::{spreader::{PatternRequest, pattern}, units::{Length, Mass, Unit}};
/// // A triangle of trays: laid at half its foot, neighbours add up to the same everywhere.
/// let trays = [0.0, 1.0, 2.0, 3.0, 4.0, 3.0, 2.0, 1.0, 0.0].map(|g| Mass::new(g, Unit::G)).to_vec();
/// let request = PatternRequest { trays, tray_spacing: Length::new(1.0, Unit::M), passes: Default::default(), width: None, flow: None };
/// let found = pattern(&request).unwrap().value;
/// assert_eq!(found.widths[2].variation.to(Unit::Percent), 0.0);
/// ```
pub fn pattern(request: &PatternRequest) -> Result<Answer<Pattern>, Refused> {
    let many = request.trays.len();
    let mut checks = Checks::new();
    let right = TRAYS.contains(&many) && many % 2 == 1;
    checks.require(
        right,
        "/trays",
        said!("{} trays; use an odd number from 5 to 81, with the middle one on the driving line", many),
    );
    for (index, tray) in request.trays.iter().enumerate().take(*TRAYS.end()) {
        checks.within(&format!("/trays/{index}"), &format!("Tray {}", index + 1), *tray, Unit::Kg, 0.0, 100.0);
    }
    checks.within("/tray_spacing", "Tray spacing", request.tray_spacing, Unit::M, 0.1, 10.0);
    if let Some(width) = request.width {
        checks.within("/width", "Width", width, Unit::M, 0.2, 100.0);
    }
    if let Some(flow) = request.flow {
        checks.positive("/flow/mass", "Catch", flow.mass, Unit::Kg, 5_000.0);
        checks.within("/flow/time", "Time", flow.time, Unit::S, 2.0, 3_600.0);
        checks.within("/flow/speed", "Speed", flow.speed, Unit::KmPerH, 0.5, 40.0);
        if let Some(aim) = flow.aim {
            checks.positive("/flow/aim", "Target rate", aim, Unit::KgPerHa, 20_000.0);
        }
    }
    checks.done()?;
    let trays: Vec<f64> = request.trays.iter().map(|tray| tray.base()).collect();
    let all: f64 = trays.iter().sum();
    if all <= 0.0 {
        return Err(Refused::one("/trays", "nothing was caught, so there is no pattern"));
    }
    let middle = many / 2;
    let (left, right): (f64, f64) = (trays[..middle].iter().sum(), trays[middle + 1..].iter().sum());

    let mut sheet = Sheet::new("the spreader\u{2019}s pattern");
    sheet.source(Source::published("ASABE S341 (test procedure); overlapping passes added tray by tray"));
    sheet.input("tray_spacing", request.tray_spacing, Origin::Given);
    sheet.input("caught_in_all", Mass::from_base(all), Origin::Given);
    sheet.input("left_of_the_path", Mass::from_base(left), Origin::Given);
    sheet.input("right_of_the_path", Mass::from_base(right), Origin::Given);
    let leans = Fraction::from_base((left - right) / all);
    let leans = sheet.line("leans", "(left_of_the_path - right_of_the_path) / caught_in_all", leans);
    let alone = Fraction::from_base(variation(&trays));
    let alone = sheet.gathered("variation_of_one_pass", "standard deviation over mean of the trays", alone);

    let step = request.tray_spacing.base();
    let told = |swath: usize| Swath {
        width: Length::from_base(swath as f64 * step),
        variation: Fraction::from_base(unevenness(&trays, swath, request.passes)),
    };
    let widths: Vec<Swath> = (2..=many).map(told).collect();
    let widest =
        |limit: f64| widths.iter().rev().find(|swath| swath.variation.base() <= limit + 1e-9).map(|swath| swath.width);
    let (even_to, bearable_to) = (widest(EVEN), widest(BEARABLE));
    // A width between two that can be told is told for the nearer one; wider than the trays, strips get nothing.
    let at = request.width.or(even_to).map(|width| ((width.base() / step).round() as usize).max(2));
    let across = at.map(|swath| overlapped(&trays, swath, request.passes, false)).unwrap_or_default();
    let mean = spread(&across).map_or(0.0, |all| all.mean);
    let across: Vec<f64> = across.iter().map(|one| if mean > 0.0 { one / mean } else { 0.0 }).collect();
    let at = at.map(told);
    if let Some(swath) = &at {
        sheet.gathered("width", "between the passes", swath.width);
        sheet.gathered(
            "variation_at_that_width",
            "standard deviation over mean of the spread, with overlap",
            swath.variation,
        );
    }
    let mut remarks = Vec::new();
    if leans.base().abs() > 0.10 {
        remarks.push("Throws to one side. Level it, and check the drop point on the disc and blade wear.".to_owned());
    }
    match even_to {
        None => remarks.push(
            "Not even at any width. Two half-rate passes at right angles hide some of it; check the machine first."
                .to_owned(),
        ),
        Some(even) if request.width.is_some_and(|width| width.base() > even.base() + step / 2.0) => {
            remarks.push("Pass width is wider than the even width: strips between passes get too little.".to_owned());
        }
        Some(_) => {}
    }
    let rate = request.flow.zip(at.as_ref()).map(|(flow, swath)| {
        given!(sheet; flow_caught = flow.mass, Origin::Given);
        given!(sheet; time = flow.time, Origin::Given);
        given!(sheet; speed = flow.speed, Origin::Given);
        let width_driven = match request.width {
            Some(width) => sheet.input("width_driven", width, Origin::Given),
            None => sheet.line("width_driven", "width", swath.width),
        };
        reckon!(sheet; area_in_that_time = speed * width_driven * time);
        let per_pass = sheet.line("rate_of_a_pass", "flow_caught / area_in_that_time", flow_caught / area_in_that_time);
        given!(sheet; passes = if flow.two_passes { 2.0 } else { 1.0 }, Origin::Given);
        let in_all = MassPerArea::from_base(per_pass.base() * passes);
        let in_all = sheet.line("rate_in_all", "rate_of_a_pass * passes", in_all);
        let open_to = flow.aim.map(|aim| {
            given!(sheet; aim, Origin::Given);
            sheet.line("open_to", "aim / rate_in_all", aim / in_all)
        });
        Rate { per_pass, in_all, open_to }
    });
    sheet.would_change("Wind, damp or lighter seed, or another disc speed.");
    sheet.caution("drill-moving-parts");
    Ok(sheet.answer(Pattern { alone, widths, even_to, bearable_to, at, across, leans, rate, remarks }))
}
