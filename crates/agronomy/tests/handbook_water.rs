//! Water in the soil against FAO-56 and against arithmetic that has only one answer.

use agronomy::{
    crop::Drainage,
    soil::Texture,
    units::Length,
    water::{BalanceRequest, Bed, Canopy, Moved, Profile, Today, Water, balance, holds, reached_by},
    weather::WeatherInput,
    working::Blank,
};
use jiff::civil::date;
use proptest::prelude::*;
use rstest::rstest;
use serde_json::json;

/// FAO-56 example 37 (from memory): tomatoes in mid-season, field capacity 0.32, wilting point 0.12,
/// roots 0.8 m: 160 mm available, 64 of them freely (p 0.40); 55 mm missing, 6 mm wanted a day.
fn tomatoes() -> (Bed, Water, Today) {
    let canopy = Canopy { depletion_fraction: 0.40, exposed: 0.1, basal: 1.2, ..Canopy::seedbed(0.8) };
    let profile = Profile {
        upper: 0.160,
        upper_depth: 0.8,
        lower: 0.0,
        depth: 0.8,
        rises: 0.0,
        total_evaporable: 0.02,
        readily_evaporable: 0.008,
        drains: 1.0,
        most_excess: 0.0,
        lets_through: true,
        storage: 0.1,
    };
    let bed = Bed { profile, canopy };
    // A dry surface evaporates nothing: all of it is the crop's.
    let water = Water { root_missing: 0.055, top_missing: 0.02, ..Water::default() };
    (bed, water, Today { lowest: 15.0, mean: 22.0, rain: 0.0, irrigation: 0.0, reference: 0.005 })
}

#[test]
fn tomatoes_suffer_as_the_example_has_it() {
    let (bed, mut water, today) = tomatoes();
    let days: Vec<(f64, f64)> = (0..10)
        .map(|_| {
            let moved = day_on(&mut water, &bed, today);
            ((moved.stress * 100.0).round() / 100.0, (water.root_missing * 1e4).round() / 10.0)
        })
        .collect();
    assert_eq!(days[0], (1.0, 61.0));
    assert_eq!(days[1], (1.0, 67.0));
    assert_eq!(days[2].0, 0.97);
    // From then on the missing water nears the total as (1 − ETc / (TAW − RAW)) to the n, exactly.
    for (step, (_, missing)) in days.iter().enumerate().skip(1) {
        let left = (160.0 - 67.0) * (1.0_f64 - 6.0 / 96.0).powi(step as i32 - 1);
        assert!((missing - (160.0 - left)).abs() < 0.06, "{step}: {missing} {left}");
    }
}

/// FAO-56 example 35 (table 36; from memory): cotton on a sandy loam, irrigated by furrow on the first day and rained
/// on early on the sixth. TEW 18 mm, REW 8 mm; the share of soil exposed and wetted 0.8 but for the day of rain.
/// Each day's reference evapotranspiration, Kcb and share, and what the paper has missing from the top layer in the
/// morning (once wetted) and in the evening, mm.
#[test]
fn the_top_layer_dries_as_the_example_has_it() {
    let table = [
        (4.5, 0.0, 40.0, 0.80, 0.30, 0.0, 5.0),
        (5.0, 0.0, 0.0, 0.80, 0.31, 5.0, 11.0),
        (3.9, 0.0, 0.0, 0.80, 0.32, 11.0, 14.0),
        (4.2, 0.0, 0.0, 0.80, 0.33, 14.0, 16.0),
        (4.8, 0.0, 0.0, 0.80, 0.34, 16.0, 17.0),
        (2.7, 6.0, 0.0, 0.89, 0.36, 11.0, 13.0),
        (5.8, 0.0, 0.0, 0.88, 0.37, 13.0, 16.0),
        (5.1, 0.0, 0.0, 0.87, 0.38, 16.0, 17.0),
        (4.7, 0.0, 0.0, 0.86, 0.39, 17.0, 17.0),
        (5.2, 0.0, 0.0, 0.86, 0.40, 17.0, 18.0),
    ];
    let (bed, _, today) = tomatoes();
    let mut water = Water { top_missing: 0.018, root_missing: 0.05, ..Water::default() };
    for (day, (reference, rain, irrigation, exposed, basal, wetted, evening)) in table.into_iter().enumerate() {
        let profile = Profile { total_evaporable: 0.018, readily_evaporable: 0.008, storage: 1.0, ..bed.profile };
        let bed = Bed { profile, canopy: Canopy { exposed, basal, ..bed.canopy } };
        let today = Today { rain: rain / 1e3, irrigation: irrigation / 1e3, reference: reference / 1e3, ..today };
        let morning = (water.top_missing * 1e3 - rain - irrigation).max(0.0);
        day_on(&mut water, &bed, today);
        // The table is printed to whole millimetres, and has Kc max 1.21 where 1.2 stands here.
        assert!((morning - wetted).abs() < 0.65, "day {}: {morning} for {wetted}", day + 1);
        assert!((water.top_missing * 1e3 - evening).abs() < 0.65, "day {}: {water:?} for {evening}", day + 1);
    }
}

/// A day on which more rains than the top layer misses still dries it: by equation 77 the surplus goes down (DPe)
/// and the day's evaporation is missing in the evening.
#[test]
fn surplus_rain_does_not_cancel_the_days_evaporation() {
    let bed = Bed::seedbed(Texture::Loam, Drainage::Well);
    let mut water = Water { top_missing: 0.003, root_missing: 0.02, ..Water::default() };
    let wet = Today { lowest: 12.0, mean: 18.0, rain: 0.015, irrigation: 0.0, reference: 0.004 };
    day_on(&mut water, &bed, wet);
    // Wet soil at full speed: (1.2 − 0.15) × 4 mm.
    assert!((water.top_missing - 1.05 * 0.004).abs() < 1e-12, "{water:?}");
}

/// What runs off is what the curve number's own equation says of each day's rain (NEH 630, chapter 10), and what finds
/// no room leaves over the surface only where the soil lets nothing through.
#[rstest]
#[case::drained_sand(Texture::Sand, Drainage::Well, true)]
#[case::moderate_loam(Texture::Loam, Drainage::Moderate, true)]
#[case::wet_clay(Texture::Clay, Drainage::Poor, false)]
fn runoff_is_told_from_what_drains(#[case] texture: Texture, #[case] drainage: Drainage, #[case] through: bool) {
    let bed = Bed::seedbed(texture, drainage);
    let mut water = Water::default();
    let (mut runoff, mut overflow, mut drained, mut by_number) = (0.0, 0.0, 0.0, 0.0);
    let number = agronomy::water::holds(texture).curve_number;
    let storage = 25_400.0 / number - 254.0;
    for day in 0..90 {
        let mm = [0.0, 4.0, 38.0, 0.0, 22.0, 61.0][day % 6];
        let moved = day_on(
            &mut water,
            &bed,
            Today { lowest: 12.0, mean: 18.0, rain: mm / 1e3, irrigation: 0.0, reference: 0.004 },
        );
        runoff += moved.runoff * 1e3;
        overflow += moved.overflow * 1e3;
        drained += moved.drained * 1e3;
        let above = (mm - 0.2 * storage).max(0.0);
        by_number += above * above / (mm + 0.8 * storage);
    }
    assert!((runoff - by_number).abs() < 1e-9, "{runoff} {by_number}");
    assert_eq!(overflow == 0.0, through, "{overflow}");
    assert!(drained > 0.0);
}

/// A stand that rests takes little, whatever its coefficient in growth; awake it takes all of it.
#[rstest]
#[case::deep_winter(-8.0, 0.15)]
#[case::at_its_base(5.0, 0.15)]
#[case::half_awake(7.0, 0.525)]
#[case::growing(16.0, 0.90)]
fn a_stand_rests_in_the_cold(#[case] warmth: f64, #[case] basal: f64) {
    let alfalfa = agronomy::crop::library().crop("alfalfa").unwrap();
    let bed = Bed::stand(alfalfa, Texture::Loam, Drainage::Well);
    assert!((bed.canopy.basal_at(warmth) - basal).abs() < 1e-12, "{}", bed.canopy.basal_at(warmth));
    assert_eq!(Bed::seedbed(Texture::Loam, Drainage::Well).canopy.basal_at(warmth), 0.15);
}

/// Field capacity, wilting point, roots, depletion and coefficients of one's own: FAO-56 example 37's soil and crop.
#[test]
fn ones_own_figures_count() {
    let lines: String = (1..=9).map(|day| format!("2026-07-0{day},14,28,0\n")).collect();
    let asked = |coefficients: serde_json::Value| -> BalanceRequest {
        serde_json::from_value(json!({
            "weather": {"from": "file", "latitude": 40, "elevation": 100, "text": format!("date,tmin,tmax,rain\n{lines}")},
            "texture": "loam", "drainage": "well", "crop": "alfalfa",
            "soil": {"field_capacity": {"value": 32, "unit": "%"}, "wilting_point": {"value": 12, "unit": "%"}},
            "root_depth": {"value": 0.8, "unit": "m"}, "depletion": {"value": 40, "unit": "%"},
            "missing": {"value": 55, "unit": "mm"}, "top_missing": {"value": 26, "unit": "mm"},
            "coefficients": coefficients,
        }))
        .unwrap()
    };
    let full = balance(&asked(json!([{"on": "2026-07-01", "basal": 1.2}]))).unwrap().value;
    assert!((full.total_available.value - 160.0).abs() < 1e-9 && (full.readily_available.value - 64.0).abs() < 1e-9);
    // Dry on top, so that only the crop takes: as the coefficient grows by straight line, so does what is taken.
    let growing = json!([{"on": "2026-07-01", "basal": 0.0}, {"on": "2026-07-05", "basal": 0.2}, {"on": "2026-07-09", "basal": 0.2}]);
    let growing = balance(&asked(growing)).unwrap().value;
    let taken = |value: &agronomy::water::Balance, day: usize| value.missing[day] - value.missing[day - 1];
    let even = balance(&asked(json!([{"on": "2026-07-01", "basal": 0.2}]))).unwrap().value;
    for (day, share) in [(1, 0.25), (2, 0.5), (3, 0.75), (4, 1.0), (7, 1.0)] {
        let (got, whole) = (taken(&growing, day), taken(&even, day));
        assert!((got - share * whole).abs() < 0.02 * whole, "day {day}: {got} of {whole}");
    }
    assert!(full.stress_days > 0 && growing.stress_days == 0, "{full:?}");
}

/// Curve number 80: 50 mm of rain run off 13.8 mm (NEH 630 chapter 10, arithmetic of its equation).
#[test]
fn heavy_rain_runs_off() {
    let storage = 0.0254 * 1_000.0 / 80.0 - 0.254;
    let (bed, mut water, today) = tomatoes();
    let bed = Bed { profile: Profile { storage, ..bed.profile }, ..bed };
    water.root_missing = 0.15;
    let moved = day_on(&mut water, &bed, Today { rain: 0.050, ..today });
    assert!((moved.runoff - 0.0138).abs() < 5e-5, "{}", moved.runoff);
    let little = day_on(&mut water, &bed, Today { rain: 0.010, ..today });
    assert_eq!(little.runoff, 0.0);
}

#[test]
fn snow_lies_and_melts() {
    let bed = Bed::seedbed(Texture::Loam, Drainage::Well);
    let mut water = Water::default();
    let cold = Today { lowest: -9.0, mean: -5.0, rain: 0.010, irrigation: 0.0, reference: 0.0 };
    day_on(&mut water, &bed, cold);
    assert_eq!(water.snow.water(), 0.010);
    assert!(!water.workable(&bed.profile, cold) && !water.trafficable(cold));
    day_on(&mut water, &bed, Today { mean: 2.0, rain: 0.0, ..cold });
    assert!((water.snow.water() - 0.0046).abs() < 1e-12);
}

#[rstest]
#[case(Drainage::Well, 4)]
#[case(Drainage::Moderate, 7)]
#[case(Drainage::Poor, 30)]
fn wet_ground_keeps_tractors_out_by_its_drainage(#[case] drainage: Drainage, #[case] at_most: usize) {
    let bed = Bed::seedbed(Texture::SiltLoam, drainage);
    let mut water = Water { excess: 0.02, ..Water::default() };
    let dry = Today { lowest: 8.0, mean: 15.0, rain: 0.0, irrigation: 0.0, reference: 0.004 };
    let days = (1..60)
        .find(|_| {
            day_on(&mut water, &bed, dry);
            water.workable(&bed.profile, dry)
        })
        .unwrap();
    assert!(days <= at_most, "{drainage:?} takes {days} days");
}

fn day_on(water: &mut Water, bed: &Bed, today: Today) -> Moved {
    water.step(&mut Blank, &bed.profile, &bed.canopy, today)
}

fn any_day() -> impl Strategy<Value = Today> {
    (-15.0..35.0_f64, 0.0..0.06_f64, 0.0..0.02_f64, 0.0..0.009_f64)
        .prop_map(|(mean, rain, irrigation, reference)| Today { lowest: mean - 5.0, mean, rain, irrigation, reference })
}

proptest! {
    /// Nothing is made or lost: what came in is what ran off, drained, was used, or is there now.
    #[test]
    fn water_is_kept(days in prop::collection::vec(any_day(), 1..200), drainage in 0..4_usize) {
        let drainage = [Drainage::Well, Drainage::Moderate, Drainage::SomewhatPoor, Drainage::Poor][drainage];
        let bed = Bed::seedbed(Texture::ClayLoam, drainage);
        let mut water = Water { root_missing: 0.02, ..Water::default() };
        for today in days {
            let before = water;
            let moved = day_on(&mut water, &bed, today);
            let inside = |water: &Water| water.snow.water() + water.excess - water.root_missing;
            let gone = moved.runoff + moved.overflow + moved.drained + moved.used;
            let balance = today.rain + today.irrigation - gone;
            prop_assert!((inside(&water) - inside(&before) - balance).abs() < 1e-12);
            prop_assert!((0.0..=bed.profile.upper).contains(&water.root_missing));
            prop_assert!((0.0..=bed.profile.total_evaporable).contains(&water.top_missing));
            prop_assert!((0.0..=1.0).contains(&moved.stress) && water.excess >= 0.0 && water.snow.water() >= 0.0);
        }
    }
}

/// Roots, cover and coefficient of a day that may be anything.
fn any_canopy() -> impl Strategy<Value = Canopy> {
    (0.05..2.5_f64, 0.0..1.25_f64, 0.0..1.0_f64, 0.1..0.8_f64, 0.0..0.7_f64).prop_map(
        |(roots, basal, exposed, depletion_fraction, drinks_top)| Canopy {
            roots,
            basal,
            exposed,
            depletion_fraction,
            drinks_top,
            rests_below: None,
            drawn: None,
        },
    )
}

proptest! {
    /// Whatever the roots do from day to day, deeper, shallower, gone: none of the water is made or lost, and no layer
    /// holds less than none or more than it can.
    #[test]
    fn water_is_kept_whatever_the_roots_do(
        days in prop::collection::vec((any_day(), any_canopy()), 1..300), drainage in 0..4_usize, depth in 0.3..2.5_f64,
    ) {
        let drainage = [Drainage::Well, Drainage::Moderate, Drainage::SomewhatPoor, Drainage::Poor][drainage];
        let profile = Profile::root_zone(holds(Texture::SandyLoam), drainage, 0.6).down_to(depth);
        let mut water = Water { root_missing: 0.02, lower_missing: profile.lower, ..Water::default() };
        let (first, mut came) = (water.held(&profile), 0.0);
        for (today, canopy) in days {
            let moved = water.day(&profile, &canopy, today);
            came += today.rain + today.irrigation - moved.runoff - moved.overflow - moved.drained - moved.used;
            prop_assert!((water.held(&profile) - first - came).abs() < 1e-9, "{water:?} {moved:?}");
            prop_assert!((0.0..=profile.upper).contains(&water.root_missing), "{water:?}");
            prop_assert!((0.0..=profile.lower).contains(&water.lower_missing), "{water:?}");
            prop_assert!((0.0..=1.0).contains(&moved.stress) && moved.drained >= 0.0, "{moved:?}");
            prop_assert!(moved.transpired <= moved.used + 1e-15);
        }
    }

    /// More roots never get less, and a wetter layer never gives less.
    #[test]
    fn deeper_roots_get_no_less(canopy in any_canopy(), missing in 0.0..1.0_f64, below in 0.0..1.0_f64, more in 0.0..1.0_f64) {
        let profile = Profile::root_zone(holds(Texture::Loam), Drainage::Well, 0.6).down_to(2.0);
        let today = Today { lowest: 12.0, mean: 20.0, rain: 0.0, irrigation: 0.0, reference: 0.006 };
        let stress = |root_missing: f64, lower_missing: f64, roots: f64| {
            let mut water = Water {
                root_missing: root_missing * profile.upper,
                lower_missing: lower_missing * profile.lower,
                top_missing: profile.total_evaporable,
                ..Water::default()
            };
            water.day(&profile, &Canopy { roots, ..canopy }, today).stress
        };
        let base = stress(missing, below, canopy.roots.max(0.6));
        prop_assert!(stress(missing * (1.0 - more), below, canopy.roots.max(0.6)) >= base - 1e-12);
        prop_assert!(stress(missing, below * (1.0 - more), canopy.roots.max(0.6)) >= base - 1e-12);
    }
}

/// Roots that grow down find what was kept there: a dry summer on a full subsoil is borne by deep roots alone, and what
/// they drank is what is missing below.
#[test]
fn deepening_roots_find_what_is_kept() {
    let profile = Profile { rises: 0.0, ..Profile::root_zone(holds(Texture::Loam), Drainage::Well, 0.6).down_to(2.0) };
    let dry = Today { lowest: 14.0, mean: 22.0, rain: 0.0, irrigation: 0.0, reference: 0.006 };
    let canopy = |roots| Canopy { basal: 1.1, exposed: 0.0, depletion_fraction: 0.55, ..Canopy::seedbed(roots) };
    let after = |roots: f64| {
        let mut water = Water::default();
        let used: f64 = (0..60).map(|_| water.day(&profile, &canopy(roots), dry).transpired).sum();
        (water, used)
    };
    let ((shallow, little), (deep, much)) = (after(0.6), after(1.8));
    // 60 days of 6.6 mm: the upper 78 mm are gone, and shallow roots have nothing else.
    assert!(little <= profile.upper && little > 0.95 * profile.upper, "{little}");
    assert_eq!(shallow.lower_missing, 0.0);
    assert!(much > 2.0 * little && deep.lower_missing > 0.08, "{much} {deep:?}");
}

#[test]
fn the_topic_sums_what_it_steps() {
    let weather: WeatherInput = serde_json::from_value(json!({"from": "file", "latitude": 42.5, "elevation": 300,
        "text": "date,tmin,tmax,rain\n2026-06-01,10,22,0\n2026-06-02,11,24,12\n2026-06-03,9,20,0\n"}))
    .unwrap();
    let request = BalanceRequest {
        weather,
        crop: Some("alfalfa".into()),
        texture: Texture::Loam,
        drainage: Drainage::Well,
        missing: Length::new(60.0, agronomy::units::Unit::Mm),
        irrigation: vec![],
        soil: Default::default(),
        root_depth: None,
        depletion: None,
        coefficients: vec![],
        top_missing: None,
    };
    let answer = balance(&request).unwrap();
    let value = answer.value;
    assert_eq!(value.missing.len(), 3);
    let mm = |depth: agronomy::units::Quantity| depth.value;
    assert!((mm(value.missing_at_end) - (60.0 - 12.0 + mm(value.used))).abs() < 1e-9);
    // 0.13 m³/m³ over 1.2 m, 55 % of it freely.
    assert!((mm(value.total_available) - 156.0).abs() < 1e-9 && (mm(value.readily_available) - 85.8).abs() < 1e-9);
    let request = BalanceRequest { missing: Length::new(2.0, agronomy::units::Unit::M), ..request };
    assert_eq!(balance(&request).unwrap_err().0[0].pointer, "/missing");
}

#[test]
fn a_share_of_years_is_there_by_a_day() {
    let from = date(2026, 6, 1);
    let days = [Some(3), Some(10), None, Some(5)];
    assert_eq!(reached_by(&days, 0.5, from), Some(date(2026, 6, 6)));
    assert_eq!(reached_by(&days, 0.75, from), Some(date(2026, 6, 11)));
    assert_eq!(reached_by(&days, 1.0, from), None);
}
