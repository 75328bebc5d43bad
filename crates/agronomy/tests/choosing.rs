//! Choosing a crop: facts of the trade, and what must hold of any place.

use agronomy::{
    choosing::{RankRequest, Ranked, rank, resown, traits},
    crop::{Drainage, GOALS, Life, library},
    site::{PastCrop, SiteFacts, SiteRequest, Verdict},
    soil::{Layer, SoilTest},
    units::{Fraction, Length, Measure, Temperature, Unit},
    weather::{Years, climate::Climate, place_normals},
};
use jiff::civil::{Date, date};
use proptest::prelude::*;
use rstest::rstest;

const TODAY: Date = date(2026, 5, 14);

fn celsius(value: f64) -> Temperature {
    Temperature::new(value, Unit::DegC)
}

/// A year as warm as a cosine around its mean.
fn climate(coldest_night: f64, mean: f64, swing: f64, rain: f64) -> Climate {
    let month = |month: i32| {
        let turn = f64::from(month) / 12.0 * std::f64::consts::TAU;
        celsius(mean - swing * turn.cos())
    };
    Climate {
        coldest_night: celsius(coldest_night),
        months: (0..12).map(month).collect(),
        rain: Length::new(rain, Unit::Mm),
        snow: None,
    }
}

/// Hills of the north-east of the United States: winters of -24 °C, a July of 20 °C, a metre of rain.
fn hills() -> Climate {
    climate(-24.0, 8.0, 12.5, 1000.0)
}

fn good_ground() -> SiteFacts {
    SiteFacts {
        drainage: Some(Drainage::Well),
        ponding_days: Some(0.0),
        restrictive_depth: Some(Length::new(1.5, Unit::M)),
        slope: Some(Fraction::percent(3.0)),
        ..SiteFacts::default()
    }
}

fn asked(goal: &str, years: u32, facts: SiteFacts, climate: Climate) -> RankRequest {
    RankRequest {
        goal: goal.to_owned(),
        years,
        site: SiteRequest::of("", TODAY, facts),
        climate: Some(climate),
        weather: None,
    }
}

fn crops(request: &RankRequest) -> Vec<Ranked> {
    rank(request).unwrap().value.crops
}

fn place_of(crops: &[Ranked], id: &str) -> usize {
    crops.iter().position(|one| one.crop == id).unwrap_or_else(|| panic!("{id} is not among them"))
}

fn one<'a>(crops: &'a [Ranked], id: &str) -> &'a Ranked {
    &crops[place_of(crops, id)]
}

/// Common practice, no source: on deep, dry-footed ground alfalfa gives the most hay of the legumes; where water
/// stands it is refused, and alsike clover and reed canarygrass are what is left.
#[test]
fn alfalfa_on_good_ground_and_not_on_wet() {
    let dry = crops(&asked("hay", 4, good_ground(), hills()));
    // What must be sown again every year comes behind it, whatever it yields.
    for other in ["red-clover", "birdsfoot-trefoil", "timothy", "crimson-clover", "sorghum-sudangrass", "winter-wheat"]
    {
        assert!(place_of(&dry, "alfalfa") < place_of(&dry, other), "{other}");
    }
    let wet = SiteFacts { drainage: Some(Drainage::Poor), ponding_days: Some(10.0), ..good_ground() };
    let wet = crops(&asked("hay", 4, wet, hills()));
    let alfalfa = one(&wet, "alfalfa");
    assert_eq!(alfalfa.verdict, Verdict::Unfit);
    assert!(alfalfa.turn.is_some());
    for bears in ["reed-canarygrass", "alsike-clover"] {
        assert!(one(&wet, bears).verdict < Verdict::Unfit, "{bears}");
        assert!(place_of(&wet, bears) < place_of(&wet, "alfalfa"));
    }
}

/// Common practice, no source: where winter goes to -24 °C there is no bermudagrass and no perennial ryegrass to rely on,
/// but orchardgrass and timothy; where it hardly freezes and summers are hot, bermudagrass comes before all of these.
#[test]
fn winter_and_summer_choose() {
    let north = crops(&asked("hay", 8, good_ground(), hills()));
    assert_eq!(one(&north, "bermudagrass").verdict, Verdict::Unfit);
    assert!(
        one(&north, "bermudagrass").against[0].contains("-24")
            || one(&north, "bermudagrass").against[0].contains("\u{2212}24")
    );
    assert!(one(&north, "timothy").verdict < Verdict::Unfit);
    let south = crops(&asked("hay", 8, good_ground(), climate(-6.0, 19.0, 9.0, 1200.0)));
    assert!(place_of(&south, "bermudagrass") < place_of(&south, "orchardgrass"));
    assert!(one(&south, "timothy").against.iter().any(|why| why.contains("cool-season")));
    let grazed = crops(&asked("grazing", 3, good_ground(), hills()));
    assert_eq!(one(&grazed, "perennial-ryegrass").verdict, Verdict::Unfit);
}

/// Alfalfa after an old alfalfa stand waits for a season and more (extension bulletins on autotoxicity, from memory).
/// Lime needs half a year (common practice): a sour field is no place for alfalfa this August, and is next spring.
#[rstest]
#[case(date(2026, 8, 10), Verdict::Unfit)]
#[case(date(2027, 4, 20), Verdict::FitWithWork)]
fn the_day_it_is_to_be_sown_on_counts(#[case] sow_on: Date, #[case] verdict: Verdict) {
    let mut request = asked("hay", 5, good_ground(), hills());
    let layer = Layer::new(Length::default(), Length::new(15.0, Unit::Cm), 5.3);
    let (laboratory, sample) = ("L".to_owned(), String::new());
    request.site.soil = Some(SoilTest { laboratory, sample, sampled_on: date(2026, 3, 20), layers: vec![layer] });
    request.site.sow_on = sow_on;
    let found = crops(&request);
    let alfalfa = one(&found, "alfalfa");
    assert_eq!(alfalfa.verdict, verdict, "{alfalfa:?}");
    let too_late = alfalfa.against.iter().any(|why| why.contains("cannot be sown on"));
    assert_eq!(too_late, verdict == Verdict::Unfit, "{:?}", alfalfa.against);
}

#[test]
fn alfalfa_does_not_follow_itself() {
    let mut request = asked("hay", 4, good_ground(), hills());
    request.site.past_crops = vec![PastCrop { crop: "alfalfa".to_owned(), ended: date(2026, 5, 1), years: Some(6.0) }];
    request.site.history_known = true;
    let alfalfa = crops(&request);
    let alfalfa = one(&alfalfa, "alfalfa");
    assert!(alfalfa.earliest.is_some_and(|day| day >= date(2027, 5, 1)), "{alfalfa:?}");
}

/// The sowing year counts: wanted for one season an annual comes before switchgrass, which then brings nothing; for ten
/// years it is the other way round. By hand: (0 + 0.75 + 8 × 1) ÷ 10 of 5.5 ton/ac.
#[test]
fn the_thin_years_count() {
    let ten = crops(&asked("hay", 10, good_ground(), hills()));
    let switchgrass = one(&ten, "switchgrass").expected.value;
    assert!((switchgrass.to(Unit::TonPerAc) - 5.5 * 0.875).abs() < 1e-9, "{switchgrass:?}");
    let season = crops(&asked("hay", 1, good_ground(), hills()));
    assert_eq!(one(&season, "switchgrass").expected.value.base(), 0.0);
    assert!(place_of(&season, "forage-oats") < place_of(&season, "switchgrass"));
}

#[rstest]
#[case("straw", 4, "/goal", "” is not a goal; choose from")]
#[case("hay", 0, "/years", "enter 1–40")]
#[case("hay", 400, "/years", "enter 1–40")]
fn what_can_not_be_asked(#[case] goal: &str, #[case] years: u32, #[case] pointer: &str, #[case] why: &str) {
    let refused = rank(&asked(goal, years, good_ground(), hills())).unwrap_err();
    assert_eq!(refused.0[0].pointer, pointer);
    assert!(refused.0[0].detail.contains(why), "{refused}");
}

#[test]
fn a_climate_that_can_not_be() {
    let short = Climate { months: vec![celsius(5.0)], ..hills() };
    let refused = rank(&asked("hay", 4, good_ground(), short)).unwrap_err();
    assert_eq!(refused.0[0].pointer, "/climate/months");
}

/// The coldest night is that of a whole winter, and the record's own figures come back.
#[test]
fn the_climate_of_made_years() {
    let normals = place_normals("northern-hills").unwrap();
    let made = agronomy::weather::generator::Climate::new(&normals);
    let years: Years = made.years(7, date(1990, 1, 1), date(2010, 12, 31));
    let told = Climate::of(&years).unwrap();
    let warmest = told.warmest_month().to(Unit::DegC);
    assert!((15.0..=26.0).contains(&warmest), "{warmest}");
    assert!((-45.0..=-10.0).contains(&told.coldest_night.to(Unit::DegC)), "{:?}", told.coldest_night);
    let half = Years { days: years.days[..150].to_vec(), ..years };
    assert_eq!(Climate::of(&half), None);
}

/// Every figure lies on its scale, and every crop has all that its nature gives it.
#[test]
fn every_trait_is_on_its_scale() {
    for crop in library().crops() {
        let all = traits::traits(crop);
        assert!(all.len() >= 16, "{}: {}", crop.id, all.len());
        for one in &all {
            let base = |quantity: agronomy::units::Quantity| quantity.unit.to_base(quantity.value);
            let (from, to) = (base(one.from), base(one.to));
            for figure in [Some(one.low), one.high].into_iter().flatten() {
                assert_eq!(figure.dimension(), one.from.dimension(), "{} {}", crop.id, one.key);
                assert!((from..=to).contains(&base(figure)), "{} {}: {figure}", crop.id, one.key);
            }
        }
        let seasons = traits::seasons(crop);
        assert_eq!(seasons.len() == 1, crop.stand.years.high == 1, "{}", crop.id);
        assert!(seasons.iter().all(|season| season.low <= season.high));
        assert!(crop.life == Life::Annual || crop.stand.winter.is_some());
    }
    assert!(
        traits::forbids(library().crop("alfalfa").unwrap())[0]
            .contains("months after the same species, and do not thicken it once it is a year old")
    );
}

proptest! {
    /// Whatever the place: nothing unfit before what can stand, yields in order, and more years never bring a crop less
    /// than its thin beginning.
    #[test]
    fn ranks_are_in_order(
        goal in 0..GOALS.len(),
        years in 1u32..40,
        coldest in -45.0..5.0f64,
        mean in 2.0..26.0f64,
        rain in 150.0..2500.0f64,
        slope in 0.0..30.0f64,
    ) {
        let facts = SiteFacts { slope: Some(Fraction::percent(slope)), ..good_ground() };
        let crops = crops(&asked(GOALS[goal], years, facts, climate(coldest, mean, 10.0, rain)));
        let unfit = |one: &Ranked| one.verdict == Verdict::Unfit;
        for pair in crops.windows(2) {
            prop_assert!(!unfit(&pair[0]) || unfit(&pair[1]));
            let again = |one: &Ranked| resown(one, years) > 1;
            prop_assert!(unfit(&pair[0]) != unfit(&pair[1]) || !again(&pair[0]) || again(&pair[1]));
            if unfit(&pair[0]) == unfit(&pair[1]) && again(&pair[0]) == again(&pair[1]) {
                prop_assert!(pair[0].expected.value.base() >= pair[1].expected.value.base() - 1e-9);
            }
        }
        for one in &crops {
            prop_assert!(one.expected.value <= one.high);
            prop_assert!(!unfit(one) || !one.against.is_empty());
            prop_assert!(one.expected.value.base().is_finite());
        }
    }
}
