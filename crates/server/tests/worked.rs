//! A worked case of every topic: a request as a person would write it, and a figure of its answer.

use serde_json::{Value, json};

/// One of them.
pub struct Worked {
    pub topic: &'static str,
    pub request: Value,
    /// Of the figure in the answer.
    pub pointer: &'static str,
    pub expected: f64,
}

pub fn tag() -> Value {
    json!({"purity": {"value": 62.4, "unit": "%"}, "germination": {"value": 83, "unit": "%"},
        "package": {"value": 50, "unit": "lb"}, "price": {"value": 198, "unit": "money"}})
}

fn each(unit: &str, values: &[f64]) -> Value {
    values.iter().map(|value| json!({"value": value, "unit": unit})).collect()
}

fn alfalfa_choices(practice: &str) -> Value {
    json!({"goal": "hay", "sow_on": "2027-04-20", "practice": practice, "spare": {"value": 5, "unit": "%"},
        "cover": {"as": "seed", "mix": {"by": "mass", "members": [{"crop": "alfalfa", "rate": {"value": 15, "unit": "lb/ac"}}]}}})
}

fn made(years: u32) -> Value {
    json!({"from": "generated", "years": {"place": "northern-hills", "from": "1985-01-01", "years": years}})
}

/// Three days that are one like the other.
fn even() -> Value {
    let text = "date,tmin,tmax,rain,radiation\n2026-05-01,10,10,3,0\n2026-05-02,10,10,3,0\n2026-05-03,10,10,3,0\n";
    json!({"from": "file", "latitude": 42.5, "elevation": 380, "text": text})
}

/// All of them.
pub fn worked() -> Vec<Worked> {
    let cases = [
        (
            "units.convert",
            json!({"quantity": {"value": 15, "unit": "lb/ac"}, "to": "kg/ha"}),
            "/value/value",
            16.812_767,
        ),
        ("seed.pls", json!({"tag": tag()}), "/value/value", 51.792),
        (
            "soil.loss",
            json!({"slope": {"value": 9, "unit": "%"}, "slope_length": {"value": 22.13, "unit": "m"}, "erosivity": 1000, "erodibility": 0.3}),
            "/value/slope_factor",
            1.0059,
        ),
        (
            "seedbed.firmness",
            json!({"crop": "alfalfa", "sunk": {"value": 10, "unit": "mm"}}),
            "/value/most/value",
            9.525,
        ),
        (
            "tank.mix",
            json!({"area": {"value": 7, "unit": "ac"}, "tank": {"value": 25, "unit": "gal"}, "output": {"value": 12.5, "unit": "gal/ac"},
                "products": [{"name": "label", "rate": {"value": 1, "unit": "gal/ac"}, "form": "solution"}]}),
            "/value/area_per_tank/value",
            2.0,
        ),
        // Tilled, with nothing done: the sample, the order, the bed, the drill, the sowing, two looks.
        (
            "plan.make",
            json!({"place": {"today": "2026-05-14", "area": {"value": 20, "unit": "ac"}}, "choices": alfalfa_choices("tilled")}),
            "/value/plan/steps/0/occurrence",
            1.0,
        ),
        (
            "plan.compare",
            json!({"place": {"today": "2026-05-14", "area": {"value": 20, "unit": "ac"}}, "ways": [
                {"name": "a", "choices": alfalfa_choices("tilled")}, {"name": "b", "choices": alfalfa_choices("no-till")}]}),
            "/value/ways/1/late",
            0.0,
        ),
        // Sown alone, it is the stand.
        (
            "mix.design",
            json!({"mix": {"by": "full-rate", "members": [{"crop": "alfalfa", "share": {"value": 100, "unit": "%"}}]}, "used": "cut", "years": 3}),
            "/value/members/0/years/2/share/value",
            100.0,
        ),
        // Twice the highest rate of the label that was read.
        (
            "spray.check",
            json!({"label": {"ingredients": ["glyphosate"], "highest": {"value": 2, "unit": "L/ha"}, "re_entry_hours": 12},
                "rate": {"value": 4, "unit": "L/ha"}, "on": "2026-05-14"}),
            "/value/re_entry_hours",
            12.0,
        ),
        // Giant miscanthus: nothing in the first year, then 0.6 and the whole of 11 ton/ac.
        (
            "crops.rank",
            json!({"goal": "bedding", "years": 3, "site": {"today": "2026-05-14", "sow_on": "2027-05-01"}, "units": "us"}),
            "/value/crops/0/expected/value/value",
            11.0 * 1.6 / 3.0,
        ),
        (
            "seed.rate",
            json!({"crop": "alfalfa", "tag": tag(), "target": {"by": "pls-mass", "rate": {"value": 15, "unit": "lb/ac"}}}),
            "/value/bulk_rate/value",
            28.962,
        ),
        (
            "seed.order",
            json!({"sown_area": {"value": 10, "unit": "ac"}, "members": [{"crop": "alfalfa", "pls_rate": {"value": 15, "unit": "lb/ac"}, "lots": [{"label": "A", "tag": tag()}]}]}),
            "/value/cost/value",
            6.0 * 198.0,
        ),
        (
            "seed.compare",
            json!({"crop": "alfalfa", "pls_rate": {"value": 15, "unit": "lb/ac"}, "lots": [{"label": "A", "tag": tag()}]}),
            "/value/lots/0/cost_per_area/value",
            114.689_5,
        ),
        (
            "mix.rates",
            json!({"by": "mass", "members": [{"crop": "perennial-ryegrass", "rate": {"value": 15, "unit": "lb/ac"}}, {"crop": "white-clover", "rate": {"value": 2, "unit": "lb/ac"}}]}),
            "/value/live_seeds/value",
            119.37,
        ),
        (
            "plants.count",
            json!({"crop": "giant-miscanthus", "area": {"value": 1, "unit": "ac"}}),
            "/value/stations",
            6_969.6,
        ),
        (
            "drill.row",
            json!({"crop": "alfalfa", "bulk_rate": {"value": 10, "unit": "lb/ac"}, "pls": {"value": 90, "unit": "%"}, "course": {"value": 100, "unit": "ft"}}),
            "/value/catch_per_row/value",
            0.214_3,
        ),
        // Thirty seeds on a square foot in 7.5-inch rows would be 18.75 in a foot; five rows, 100 ft, 0.30 lb are 41.8 lb/ac.
        (
            "drill.calibrate",
            json!({"crop": "alfalfa", "aim": {"value": 40, "unit": "lb/ac"}, "pls": {"value": 90, "unit": "%"},
                "row_spacing": {"value": 7.5, "unit": "in"}, "course": {"by": "measured", "length": {"value": 100, "unit": "ft"}},
                "caught": {"by": "together", "mass": {"value": 0.30, "unit": "lb"}, "rows": 5}}),
            "/value/bulk_rate/value",
            41.818,
        ),
        // A tenth above the mean in two trials: half of it is to be expected.
        (
            "variety.choose",
            json!({"crop": "alfalfa", "winter": {"value": -20, "unit": "degC"}, "own": [{"name": "ours", "dormancy": 4,
                "trials": [{"yield": {"value": 5.5, "unit": "ton/ac"}, "mean": {"value": 5, "unit": "ton/ac"}},
                    {"yield": {"value": 6.6, "unit": "ton/ac"}, "mean": {"value": 6, "unit": "ton/ac"}}]}]}),
            "/value/own/0/standing/expected/value",
            105.0,
        ),
        (
            "drill.rows",
            json!({"rows": each("g", &[20.0, 21.0, 19.0, 20.0, 22.0, 20.0, 19.0, 0.0])}),
            "/value/median/value",
            20.0,
        ),
        (
            "spreader.pattern",
            json!({"trays": each("g", &[1.0, 2.0, 3.0, 2.0, 1.0]), "tray_spacing": {"value": 1, "unit": "m"}}),
            "/value/leans/value",
            0.0,
        ),
        // 5,940 × 0.3 ÷ (5 × 30)
        (
            "sprayer.output",
            json!({"nozzles": [{"value": 0.3, "unit": "gal"}], "spacing": {"value": 30, "unit": "in"},
                "ran": {"by": "timed", "time": {"value": 1, "unit": "min"}, "speed": {"value": 5, "unit": "mph"}}}),
            "/value/output/value",
            11.88,
        ),
        (
            "depth.check",
            json!({"crop": "alfalfa", "texture": "loam", "depths": [{"value": 0.25, "unit": "in"}, {"value": 0.35, "unit": "in"}]}),
            "/value/mean/value",
            0.3,
        ),
        (
            "sowing.progress",
            json!({"area_done": {"value": 7.2, "unit": "ac"}, "seed_used": {"value": 130, "unit": "lb"}, "aim": {"value": 16, "unit": "lb/ac"},
                "area_left": {"value": 9, "unit": "ac"}, "seed_left": {"value": 150, "unit": "lb"}}),
            "/value/lasts/value",
            8.307_7,
        ),
        // 43,560 × 144 ÷ 900 = 6,969.6 an acre; 7,000 are 0.436 % more.
        (
            "planting.progress",
            json!({"crop": "giant-miscanthus", "set": 7000, "left": 13000, "area_done": {"value": 1, "unit": "ac"},
                "area_left": {"value": 2, "unit": "ac"}, "row_spacing": {"value": 30, "unit": "in"}, "in_row": {"value": 30, "unit": "in"}}),
            "/value/off_plan/value",
            0.436_2,
        ),
        (
            "count.interval",
            json!({"counted": {"by": "grid", "cells": 100, "hits": [40, 55, 35, 60, 48, 52, 44, 30, 58, 50]}}),
            "/value/mean/value",
            47.2,
        ),
        // (1.645 × 15 ÷ 8)² is 9.51.
        ("count.plan", json!({"within": {"value": 8, "unit": "%"}}), "/value/places", 10.0),
        (
            "emergence.forecast",
            json!({"crop": "alfalfa", "sown_on": "2008-05-10", "today": "2008-05-10", "weather": made(24), "texture": "loam", "drainage": "well"}),
            "/value/warmth_needed/value",
            95.0,
        ),
        // Half of what a full stand counts gives three quarters of its yield.
        (
            "stand.decide",
            json!({"crop": "switchgrass", "sown_on": "2026-05-20", "today": "2027-06-20", "counted": {"by": "grid", "cells": 100, "hits": [25, 25, 25, 25, 25, 25]}}),
            "/value/of_full_yield/value",
            75.0,
        ),
        // ASABE EP496.3, 3.1: 5 mph × 30 ft × 0.80 ÷ 8.25 = 14.545 ac/h; 40 acres take 2.75 h.
        (
            "field.hours",
            json!({"area": {"value": 40, "unit": "ac"}, "width": {"value": 30, "unit": "ft"}, "speed": {"value": 5, "unit": "mph"}, "efficiency": {"value": 80, "unit": "%"}}),
            "/value/hours/value",
            2.75,
        ),
        (
            "lime.requirement",
            json!({"units": "us", "school": {"by": "smp", "buffer_ph": 6.5}, "ph": 5.8, "target_ph": 6.8}),
            "/value/requirement/value",
            4.45,
        ),
        (
            "lime.material",
            json!({"effective_need": {"value": 2, "unit": "ton/ac"}, "materials": [agronomy::lime::library_materials()[0]]}),
            "/value/materials/0/rate/value",
            2.860_4,
        ),
        (
            "lime.path",
            json!({"ph": 5.6, "per_ph_unit": {"value": 5, "unit": "t/ha"}, "floor": 6.0, "months": 2, "doses": [{"month": 0, "fast": {"value": 4, "unit": "t/ha"}, "slow": {"value": 0, "unit": "t/ha"}}]}),
            "/value/months/2/ph",
            6.0,
        ),
        (
            "nutrients.need",
            json!({"crop": "alfalfa", "yield_goal": {"value": 5, "unit": "ton/ac"}, "p": {"value": {"value": 10, "unit": "ppm"}, "method": "bray-p1"}}),
            "/value/schools/1/p2o5/rate/value",
            140.0,
        ),
        // 10-34-0 with maize seed in 30-inch rows: 10 lb of salts are in 100 lb of it.
        (
            "nutrients.starter",
            json!({"crop": "silage-maize", "place": "with-seed", "rate": {"value": 60, "unit": "lb/ac"}, "analysis": {"n": {"value": 10, "unit": "%"}, "p2o5": {"value": 34, "unit": "%"}}}),
            "/value/most/value",
            100.0,
        ),
        (
            "nutrients.removal",
            json!({"crop": "giant-miscanthus", "yield": {"value": 8, "unit": "ton/ac"}, "after_frost": true}),
            "/value/removed/k2o/value",
            136.0,
        ),
        (
            "manure.rate",
            json!({"analysis": {"total_n": {"value": 0.5, "unit": "%"}, "p2o5": {"value": 0.25, "unit": "%"}, "k2o": {"value": 0.45, "unit": "%"}}, "needs": {"p2o5": {"value": 60, "unit": "lb/ac"}}}),
            "/value/rate/value",
            12.0,
        ),
        (
            "blend.least_cost",
            json!({"needs": {"k2o": {"value": 60, "unit": "kg/ha"}}, "products": [{"name": "potash", "analysis": {"k2o": {"value": 60, "unit": "%"}}, "price": {"value": 500, "unit": "money/t"}}]}),
            "/value/cost/value",
            50.0,
        ),
        ("soil.sampling", json!({"area": {"value": 50, "unit": "ac"}, "crop": "alfalfa"}), "/value/composites", 6.0),
        // FAO-56 examples 8 and 18; McMaster & Wilhelm's two methods; even weather, whose soil is as even.
        ("weather.radiation", json!({"latitude": -20, "day": "1998-09-03"}), "/value/extraterrestrial/value", 32.19),
        (
            "weather.et0",
            json!({"latitude": 50.8, "day": "1998-07-06", "elevation": {"value": 100, "unit": "m"}, "tmin": {"value": 12.3, "unit": "degC"}, "tmax": {"value": 21.5, "unit": "degC"}, "humidity_max": {"value": 84, "unit": "%"}, "humidity_min": {"value": 63, "unit": "%"}, "wind": {"value": 10, "unit": "km/h"}, "wind_height": {"value": 10, "unit": "m"}, "sunshine_hours": 9.25}),
            "/value/value",
            3.880,
        ),
        (
            "weather.gdd",
            json!({"base": {"value": 10, "unit": "degC"}, "method": "each-then-base", "days": [{"tmin": {"value": 6, "unit": "degC"}, "tmax": {"value": 18, "unit": "degC"}}]}),
            "/value/value",
            4.0,
        ),
        ("weather.frost", json!({"weather": made(24), "year": 2026}), "/value/0/summers", 24.0),
        (
            "weather.generate",
            json!({"place": "northern-hills", "from": "2001-01-01", "years": 4}),
            "/value/days",
            1461.0,
        ),
        (
            "soil.temperature",
            json!({"depth": {"value": 5, "unit": "cm"}, "weather": even()}),
            "/value/last_morning/value",
            10.0,
        ),
        (
            "water.balance",
            json!({"texture": "loam", "drainage": "well", "missing": {"value": 20, "unit": "mm"}, "weather": even()}),
            "/value/rain/value",
            9.0,
        ),
        (
            "window.odds",
            json!({"crop": "alfalfa", "texture": "loam", "drainage": "well", "on": "2009-08-10", "weather": made(24)}),
            "/value/curve/years",
            22.0,
        ),
        // Undersander & Moore 2002: 3.241 % of live weight × 63.63 % / 1.23.
        (
            "quality.indices",
            json!({"kind": "legume", "adf": {"value": 30, "unit": "%"}, "ndf": {"value": 38, "unit": "%"},
                "crude_protein": {"value": 22, "unit": "%"}, "ndf_digestibility": {"value": 48, "unit": "%"}}),
            "/value/relative_forage_quality",
            167.66,
        ),
        // Hintz & Albrecht 1991: 16.89 + 0.27 × 76.2 + 0.81 × 3.
        (
            "quality.standing",
            json!({"height": {"value": 30, "unit": "in"}, "stage": "bud"}),
            "/value/ndf/value",
            39.894,
        ),
        (
            "growing_time.left",
            json!({"crop": "alfalfa", "from": "2009-08-10", "weather": made(24)}),
            "/value/years",
            23.0,
        ),
    ];
    cases.into_iter().map(|(topic, request, pointer, expected)| Worked { topic, request, pointer, expected }).collect()
}
