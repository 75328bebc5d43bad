//! The formula a person reads gives the value beside it, in the units in which they stand on the screen:
//! every line of every working is worked out again from its presented text, in both unit systems.

use agronomy::{
    blend, choosing, counting, drill, establish, lime, machine, mix, nutrients, plants, seed, seedbed, site, soil,
    sowing, sprayer, spraying, spreader, tank,
    units::{Dimension, System},
    variety, water, weather, window,
    working::{Answer, Working},
};
use rstest::rstest;
use serde_json::{Value, json};

use crate::recompute::{presented, recompute};

fn lime_request(school: Value, target: f64) -> Value {
    json!({"school": school, "ph": 5.7, "target_ph": target, "depth": {"value": 6, "unit": "in"},
        "area": {"value": 20, "unit": "ac"}, "material": lime::library_materials()[0]})
}

fn tag(purity: f64, germination: f64, dormant: f64) -> Value {
    let percent = |value: f64| json!({"value": value, "unit": "%"});
    json!({"purity": percent(purity), "germination": percent(germination), "dormant": percent(dormant),
        "package": {"value": 50, "unit": "lb"}, "price": {"value": 212, "unit": "money"}})
}

fn each(unit: &str, values: &[f64]) -> Value {
    values.iter().map(|value| json!({"value": value, "unit": unit})).collect()
}

fn lb(value: f64) -> Value {
    json!({"value": value, "unit": "lb/ac"})
}

fn worked<Q, A>(request: Value, run: fn(&Q) -> Result<Answer<A>, agronomy::refusal::Refused>) -> Working
where
    Q: serde::de::DeserializeOwned,
{
    run(&serde_json::from_value(request).unwrap()).unwrap().working
}

fn years() -> Value {
    json!({"from": "generated", "years": {"place": "northern-hills", "seed": 3, "from": "1985-01-01", "years": 25}})
}

#[rstest]
#[case::pls(worked(json!({"tag": tag(98.0, 80.0, 9.0)}), seed::pls), 2)]
#[case::pls_left_out(worked(json!({"tag": tag(98.0, 80.0, 9.0), "dormant_seed": "left-out"}), seed::pls), 1)]
#[case::chart_drilled(worked(json!({"crop": "alfalfa", "target": {"by": "chart"}, "tag": tag(98.0, 80.0, 9.0),
    "conditions": {"seedbed": "fair"}}), seed::rate), 5)]
#[case::chart_broadcast(worked(json!({"crop": "timothy", "target": {"by": "chart"}, "tag": tag(99.0, 85.0, 0.0),
    "conditions": {"method": "broadcast", "late": true}}), seed::rate), 6)]
#[case::live_seeds(worked(json!({"crop": "switchgrass", "target": {"by": "live-seeds", "per_area": {"value": 40, "unit": "/ft2"}},
    "tag": tag(95.0, 40.0, 40.0), "conditions": {"seedbed": "poor"}}), seed::rate), 4)]
#[case::assumed(worked(json!({"crop": "alfalfa", "target": {"by": "assumed-germination", "rate": lb(20.0),
    "germination": {"value": 80, "unit": "%"}}, "tag": tag(62.4, 70.0, 0.0)}), seed::rate), 4)]
#[case::mix(worked(json!({"by": "mass", "members": [{"crop": "alfalfa", "rate": lb(10.0)}, {"crop": "timothy", "rate": lb(3.0)}],
    "conditions": {"method": "broadcast"}}), mix::rates), 8)]
#[case::mix_stated_for_broadcasting(worked(json!({"by": "mass", "members": [{"crop": "perennial-ryegrass", "rate": lb(18.0)}, {"crop": "white-clover", "rate": lb(3.0)}],
    "conditions": {"method": "broadcast", "broadcast": "as-given"}}), mix::rates), 8)]
#[case::top_of_the_range(worked(json!({"crop": "timothy", "target": {"by": "chart"}, "tag": tag(99.0, 85.0, 0.0),
    "conditions": {"method": "broadcast", "broadcast": "top-of-range"}}), seed::rate), 5)]
#[case::maize_by_the_ton(worked(json!({"crop": "silage-maize", "yield_goal": {"value": 7, "unit": "ton/ac"}}), nutrients::need), 12)]
#[case::crops_in_their_weather(worked(json!({"goal": "hay", "years": 4, "weather": years(),
    "site": {"sow_on": "2026-08-10", "today": "2026-05-14"}}), choosing::rank), 0)]
#[case::broadcast_depth(worked(json!({"crop": "alfalfa", "texture": "loam", "method": "broadcast", "depths": each("in", &[0.1, 0.2, 0.1]),
    "on_surface": 8, "on_residue": 3}), sowing::depth_check), 4)]
#[case::order(worked(json!({"sown_area": {"value": 21.5, "unit": "ac"}, "spare": {"value": 5, "unit": "%"}, "members": [
    {"crop": "alfalfa", "pls_rate": lb(18.0), "lots": [{"label": "A", "available": {"value": 120, "unit": "lb"}, "tag": tag(98.0, 80.0, 9.0)},
        {"label": "B", "tag": tag(62.4, 80.0, 0.0)}]}]}), seed::order), 7)]
#[case::compare(worked(json!({"crop": "alfalfa", "pls_rate": lb(18.0), "lots": [{"label": "A", "tag": tag(98.0, 80.0, 9.0)}]}), seed::compare), 5)]
#[case::plants(worked(json!({"crop": "giant-miscanthus", "area": {"value": 3, "unit": "ha"}, "spare": {"value": 4, "unit": "%"}}), plants::count), 5)]
#[case::plants_in_twos(worked(json!({"crop": "giant-miscanthus", "area": {"value": 3, "unit": "ha"}, "pieces_per_station": 2}), plants::count), 6)]
#[case::row(worked(json!({"crop": "alfalfa", "bulk_rate": lb(20.0), "pls": {"value": 85, "unit": "%"},
    "course": {"value": 60, "unit": "m"}}), drill::row), 4)]
#[case::calibrated_by_turns(worked(json!({"crop": "alfalfa", "aim": lb(16.0), "pls": {"value": 88, "unit": "%"}, "row_spacing": {"value": 7.5, "unit": "in"},
    "course": {"by": "turns", "turns": 20, "circumference": {"value": 2.2, "unit": "m"}, "off_the_ground": true, "skid": {"value": 5, "unit": "%"}},
    "caught": {"by": "rows", "masses": each("g", &[50.0, 51.0, 49.0, 50.0, 52.0, 50.0, 0.0, 49.0])},
    "seen": {"by": "in-rows", "counts": [19, 22, 20], "length": {"value": 1, "unit": "ft"}}, "setting": 20}), drill::calibrate), 15)]
#[case::calibrated_by_count(worked(json!({"crop": "orchardgrass", "aim": lb(12.0), "pls": {"value": 80, "unit": "%"}, "setting": 12,
    "tried": [{"setting": 10, "rate": lb(8.0)}], "seen": {"by": "on-ground", "counts": [150, 170], "patch": {"value": 1, "unit": "m2"}}}), drill::calibrate), 6)]
#[case::calibrated_mix(worked(json!({"crop": "alfalfa", "aim": lb(10.0), "pls": {"value": 90, "unit": "%"}, "row_spacing": {"value": 7.5, "unit": "in"},
    "also": [{"crop": "orchardgrass", "aim": lb(4.0), "pls": {"value": 80, "unit": "%"}}], "course": {"by": "measured", "length": {"value": 200, "unit": "ft"}},
    "caught": {"by": "together", "mass": {"value": 300, "unit": "g"}, "rows": 8}}), drill::calibrate), 11)]
#[case::rows(worked(json!({"rows": each("g", &[20.0, 21.0, 19.0, 20.0, 22.0, 20.0, 19.0, 0.0])}), drill::drill_rows), 1)]
#[case::pattern(worked(json!({"trays": each("g", &[1.0, 4.0, 8.0, 10.0, 9.0, 4.0, 1.0]), "tray_spacing": {"value": 5, "unit": "ft"},
    "flow": {"mass": {"value": 20, "unit": "lb"}, "time": {"value": 30, "unit": "s"}, "speed": {"value": 6, "unit": "mph"}, "aim": lb(20.0), "two_passes": true}}), spreader::pattern), 5)]
#[case::sprayer(worked(json!({"nozzles": [{"value": 18, "unit": "floz"}, {"value": 19, "unit": "floz"}], "spacing": {"value": 20, "unit": "in"},
    "ran": {"by": "course", "length": {"value": 204, "unit": "ft"}}, "density": {"value": 1280, "unit": "kg/m3"}, "aim": {"value": 20, "unit": "gal/ac"}}), sprayer::sprayer_output), 7)]
#[case::sprayer_timed(worked(json!({"nozzles": [{"value": 1.2, "unit": "L"}], "spacing": {"value": 50, "unit": "cm"}, "aim": {"value": 150, "unit": "L/ha"},
    "ran": {"by": "timed", "time": {"value": 60, "unit": "s"}, "speed": {"value": 8, "unit": "km/h"}}}), sprayer::sprayer_output), 8)]
#[case::depth(worked(json!({"crop": "alfalfa", "texture": "loam", "depths": [{"value": 0.25, "unit": "in"}, {"value": 0.75, "unit": "in"}], "on_surface": 1}), sowing::depth_check), 4)]
#[case::progress(worked(json!({"area_done": {"value": 7.2, "unit": "ac"}, "seed_used": {"value": 130, "unit": "lb"}, "aim": lb(16.0),
    "area_left": {"value": 9, "unit": "ac"}, "seed_left": {"value": 150, "unit": "lb"}, "field_capacity": {"value": 4, "unit": "ac/h"}}), sowing::sowing_progress), 8)]
#[case::planting(worked(json!({"crop": "giant-miscanthus", "set": 3000, "lost": 200, "left": 2000, "area_done": {"value": 0.5, "unit": "ac"},
    "area_left": {"value": 0.5, "unit": "ac"}, "per_load": 400}), sowing::planting_progress), 9)]
#[case::count_of_plants(worked(json!({"counted": {"by": "frame", "frame": {"value": 0.25, "unit": "m2"}, "counts": [20, 31, 25, 28, 22, 30, 27]},
    "thresholds": [{"value": 12, "unit": "/ft2"}]}), counting::count_interval), 2)]
#[case::count_by_grid(worked(json!({"counted": {"by": "grid", "cells": 25, "hits": [10, 12, 14, 9, 11, 13]},
    "thresholds": [{"value": 25, "unit": "%"}, {"value": 50, "unit": "%"}]}), counting::count_interval), 2)]
#[case::count_of_none(worked(json!({"counted": {"by": "alive", "stations": [10, 10, 10], "alive": [0, 0, 0]}}), counting::count_interval), 2)]
#[case::count_plan(worked(json!({"deviation": {"value": 20, "unit": "%"}, "within": {"value": 8, "unit": "%"}}), counting::count_plan), 1)]
#[case::emergence(worked(json!({"crop": "alfalfa", "sown_on": "2008-05-10", "today": "2008-05-24", "weather": years(), "texture": "loam", "drainage": "well"}),
    establish::emergence_forecast), 1)]
#[case::decision(worked(json!({"crop": "alfalfa", "sown_on": "2025-05-10", "today": "2027-05-24", "stems": true, "price": {"value": 150, "unit": "money/t"},
    "counted": {"by": "frame", "frame": {"value": 0.25, "unit": "m2"}, "counts": [90, 101, 95, 88, 110, 99]}}), establish::stand_decide), 3)]
#[case::decision_by_plants(worked(json!({"crop": "giant-miscanthus", "sown_on": "2026-05-10", "today": "2026-07-24",
    "counted": {"by": "alive", "stations": [20, 20, 20, 20, 20, 20], "alive": [10, 12, 9, 14, 11, 8]}}), establish::stand_decide), 4)]
#[case::hours(worked(json!({"area": {"value": 40, "unit": "ac"}, "width": {"value": 30, "unit": "ft"}, "speed": {"value": 5, "unit": "mph"},
    "efficiency": {"value": 80, "unit": "%"}, "cost": {"value": 90, "unit": "money/h"}}), machine::hours), 3)]
#[case::hours_and_tanks(worked(json!({"area": {"value": 40, "unit": "ac"}, "width": {"value": 60, "unit": "ft"}, "speed": {"value": 6.5, "unit": "mph"},
    "efficiency": {"value": 65, "unit": "%"}, "cost": {"value": 90, "unit": "money/h"},
    "tank": {"holds": {"value": 300, "unit": "gal"}, "rate": {"value": 15, "unit": "gal/ac"}, "filling": {"value": 20, "unit": "min"}}}), machine::hours), 5)]
#[case::sampling(worked(json!({"area": {"value": 50, "unit": "ac"}, "crop": "alfalfa"}), soil::sampling), 2)]
#[case::smp(worked(lime_request(json!({"by": "smp", "buffer_ph": 6.4}), 6.8), lime::need), 7)]
#[case::smp_between(worked(lime_request(json!({"by": "smp", "buffer_ph": 6.4}), 6.6), lime::need), 9)]
#[case::mehlich(worked(lime_request(json!({"by": "mehlich", "acidity": {"value": 1.8, "unit": "meq/100cm3"}}), 6.4), lime::need), 6)]
#[case::base_saturation(worked(lime_request(json!({"by": "base-saturation", "cec": {"value": 12, "unit": "meq/100g"},
    "base_saturation": {"value": 55, "unit": "%"}, "aim": {"value": 80, "unit": "%"}}), 6.5), lime::need), 4)]
#[case::texture(worked(lime_request(json!({"by": "texture", "texture": "silt-loam"}), 6.5), lime::need), 4)]
#[case::material(worked(json!({"effective_need": {"value": 4, "unit": "t/ha"}, "materials": lime::library_materials()}), lime::compare), 12)]
#[case::path(worked(json!({"ph": 5.6, "per_ph_unit": {"value": 5, "unit": "t/ha"}, "floor": 6.0,
    "doses": [{"month": 0, "fast": {"value": 3, "unit": "t/ha"}, "slow": {"value": 1, "unit": "t/ha"}}]}), lime::path), 1)]
#[case::needs(worked(json!({"crop": "alfalfa", "yield_goal": {"value": 5, "unit": "ton/ac"},
    "p": {"value": {"value": 15, "unit": "ppm"}, "method": "bray-p1"}, "k": {"value": 90, "unit": "ppm"}}), nutrients::need), 12)]
#[case::needs_of_hay(worked(json!({"crop": "alfalfa", "yield_goal": {"value": 5, "unit": "ton/ac"}, "moisture": {"value": 15, "unit": "%"},
    "k": {"value": 100, "unit": "ppm"}}), nutrients::need), 6)]
#[case::et0_by_the_highest_humidity(worked(json!({"latitude": 50.8, "day": "2026-07-06", "tmin": {"value": 12.3, "unit": "degC"},
    "tmax": {"value": 21.5, "unit": "degC"}, "humidity_max": {"value": 84, "unit": "%"}, "sunshine_hours": 9.25}), weather::et0::et0), 9)]
#[case::et0_by_the_mean_humidity(worked(json!({"latitude": 50.8, "day": "2026-07-06", "tmin": {"value": 12.3, "unit": "degC"},
    "tmax": {"value": 21.5, "unit": "degC"}, "humidity_mean": {"value": 70, "unit": "%"}}), weather::et0::et0), 9)]
#[case::removal(worked(json!({"crop": "giant-miscanthus", "yield": {"value": 8, "unit": "ton/ac"}, "after_frost": true}), nutrients::removal), 4)]
#[case::slurry(worked(json!({"manure": "swine", "analysis": {"total_n": {"value": 28, "unit": "lb/1000gal"}, "ammonium_n": {"value": 12, "unit": "lb/1000gal"},
    "p2o5": {"value": 13, "unit": "lb/1000gal"}, "k2o": {"value": 25, "unit": "lb/1000gal"}}, "days_to_incorporation": 0,
    "needs": {"p2o5": {"value": 65, "unit": "lb/ac"}}}), nutrients::manure::rate), 8)]
#[case::adams_evans(worked(json!({"school": {"by": "adams-evans", "buffer_ph": 7.5}, "ph": 5.0, "target_ph": 6.5}), lime::need), 6)]
#[case::manure(worked(json!({"analysis": {"total_n": {"value": 0.5, "unit": "%"}, "ammonium_n": {"value": 0.2, "unit": "%"},
    "p2o5": {"value": 0.25, "unit": "%"}, "k2o": {"value": 0.45, "unit": "%"}}, "days_to_incorporation": 1,
    "needs": {"p2o5": {"value": 60, "unit": "lb/ac"}, "k2o": {"value": 180, "unit": "lb/ac"}}}), nutrients::manure::rate), 4)]
#[case::blend(worked(json!({"needs": {"p2o5": {"value": 65, "unit": "lb/ac"}, "k2o": {"value": 200, "unit": "lb/ac"}},
    "products": blend::library_products()}), blend::least_cost), 3)]
#[case::radiation(worked(json!({"latitude": -22.9, "day": "2026-05-15", "sunshine_hours": 7.1}), weather::sun::radiation), 9)]
#[case::et0(worked(json!({"latitude": 50.8, "day": "2026-07-06", "elevation": {"value": 100, "unit": "m"},
    "tmin": {"value": 12.3, "unit": "degC"}, "tmax": {"value": 70.7, "unit": "degF"}, "humidity_max": {"value": 84, "unit": "%"},
    "humidity_min": {"value": 63, "unit": "%"}, "wind": {"value": 10, "unit": "km/h"}, "wind_height": {"value": 10, "unit": "m"}}), weather::et0::et0), 24)]
#[case::hargreaves(worked(json!({"latitude": 45.7, "day": "2026-07-15", "method": "hargreaves",
    "tmin": {"value": 14.8, "unit": "degC"}, "tmax": {"value": 26.6, "unit": "degC"}}), weather::et0::et0), 8)]
#[case::gdd(worked(json!({"days": [{"tmin": {"value": 6, "unit": "degC"}, "tmax": {"value": 18, "unit": "degC"}}],
    "base": {"value": 10, "unit": "degC"}}), weather::degree_days::degree_days), 0)]
#[case::frost(worked(json!({"weather": years(), "year": 2026}), weather::frost::frost), 0)]
#[case::soil(worked(json!({"weather": years(), "depth": {"value": 3, "unit": "cm"},
    "readings": [{"on": "2009-12-30", "depth": {"value": 3, "unit": "cm"}, "temperature": {"value": 4, "unit": "degC"}}]}),
    weather::soil_temperature::soil_temperature), 4)]
#[case::water(worked(json!({"weather": years(), "crop": "alfalfa", "texture": "loam", "drainage": "well"}), water::balance), 7)]
#[case::odds(worked(json!({"weather": years(), "crop": "alfalfa", "texture": "loam", "drainage": "well", "on": "2010-05-10",
    "stake": {"value": 1500, "unit": "money"}}), window::window_odds), 2)]
#[case::growing_time(worked(json!({"weather": years(), "crop": "forage-oats", "from": "2009-08-10"}),
    window::growing_time::growing_time_left), 3)]
#[case::generated(worked(json!({"place": "northern-hills", "from": "2000-01-01", "years": 1}), weather::generate), 0)]
#[case::tanks(worked(json!({"area": {"value": 7.5, "unit": "ac"}, "tank": {"value": 25, "unit": "gal"},
    "output": {"value": 12.5, "unit": "gal/ac"}}), tank::tank_mix), 2)]
#[case::design(worked(json!({"mix": {"by": "full-rate", "members": [{"crop": "alfalfa", "share": {"value": 75, "unit": "%"}},
    {"crop": "orchardgrass", "share": {"value": 30, "unit": "%"}}]}, "used": "cut", "years": 5}), mix::design), 4)]
#[case::spray(worked(json!({"label": {"ingredients": ["glyphosate"], "highest": {"value": 4, "unit": "L/ha"}},
    "rate": {"value": 3, "unit": "L/ha"}, "on": "2026-05-14"}), spraying::spray_check), 1)]
#[case::soil_loss(worked(json!({"slope": {"value": 12, "unit": "%"}, "slope_length": {"value": 100, "unit": "m"},
    "rain": {"value": 900, "unit": "mm"}, "texture": "loam"}), seedbed::loss::soil_loss), 0)]
#[case::firmness(worked(json!({"crop": "alfalfa", "sunk": {"value": 10, "unit": "mm"}}), seedbed::firmness::firmness), 1)]
#[case::variety(worked(json!({"crop": "alfalfa", "winter": {"value": -4, "unit": "degF"}, "own": [{"name": "ours", "trials": [
    {"yield": lb(11_000.0), "mean": lb(10_000.0)}]}]}), variety::choose_variety), 1)]
#[case::rank(worked(json!({"goal": "hay", "years": 4, "site": {"today": "2026-05-14", "sow_on": "2026-08-10"}}), choosing::rank), 0)]
#[case::site(worked(json!({"crop": "alfalfa", "today": "2026-05-14", "sow_on": "2026-08-10"}), site::check), 0)]
fn each_line_gives_its_value(#[case] working: Working, #[case] at_least: usize) {
    for system in [System::Us, System::Metric] {
        let checked = recompute(&presented(&working, system));
        assert!(checked >= at_least, "only {checked} lines could be worked out: {working:#?}");
    }
}

/// Nothing a person would be shown lacks its unit, its source or its name.
#[rstest]
fn every_input_says_where_it_is_from(
    #[values("alfalfa", "switchgrass", "orchardgrass", "forage-oats")] crop: &str,
    #[values("drill", "broadcast")] method: &str,
) {
    let request =
        json!({"crop": crop, "target": {"by": "chart"}, "tag": tag(95.0, 80.0, 5.0), "conditions": {"method": method}});
    fn look(working: &Working) {
        assert!(!working.title.is_empty());
        for input in &working.inputs {
            assert!(!input.name.is_empty() && !input.name.contains('_'), "{input:?}");
            assert!(input.value.value.is_finite(), "{input:?}");
        }
        for line in &working.lines {
            assert!(!line.formula.is_empty() && !line.formula.contains('_') && !line.formula.contains('*'), "{line:?}");
            assert!(line.value.unit.dimension() != Dimension::Temperature || line.value.value > -90.0);
        }
        working.parts.iter().for_each(look);
    }
    let working = worked(request, seed::rate);
    assert!(!working.sources.is_empty());
    look(&working);
}
