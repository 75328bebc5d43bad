//! The document tells the truth: every answer of the running API fits the shape it is described by.

use crate::{
    common::{Outside, Site, farm, lb, mix, of},
    worked::worked,
};
use serde_json::{Value, json};
use server::api;
use uuid::Uuid;

const HOLLOW: &str = "fennick-hollow";

/// Hold a value against an OpenAPI 3.1 schema; the parts of JSON Schema that the document uses.
fn fits(value: &Value, schema: &Value, document: &Value, at: &str) -> Result<(), String> {
    if let Some(reference) = schema["$ref"].as_str() {
        let target = document.pointer(reference.trim_start_matches('#')).ok_or(format!("{reference} leads nowhere"))?;
        return fits(value, target, document, at);
    }
    for (word, all) in [("allOf", true), ("oneOf", false), ("anyOf", false)] {
        if let Some(parts) = schema[word].as_array() {
            let outcomes: Vec<_> = parts.iter().map(|part| fits(value, part, document, at)).collect();
            let good = outcomes.iter().filter(|outcome| outcome.is_ok()).count();
            let fine = if all { good == parts.len() } else { good >= 1 };
            if !fine {
                let said: Vec<String> = outcomes.into_iter().filter_map(Result::err).take(4).collect();
                return Err(format!("{at}: none of {word}: {said:?}"));
            }
        }
    }
    if let Some(allowed) = schema["enum"].as_array()
        && !allowed.contains(value)
    {
        return Err(format!("{at}: {value} is not among {allowed:?}"));
    }
    let kinds: Vec<&str> = match &schema["type"] {
        Value::String(kind) => vec![kind],
        Value::Array(kinds) => kinds.iter().filter_map(Value::as_str).collect(),
        _ => vec![],
    };
    let is = |kind: &str| match kind {
        "null" => value.is_null(),
        "string" => value.is_string(),
        "boolean" => value.is_boolean(),
        "integer" => value.is_i64() || value.is_u64(),
        "number" => value.is_number(),
        "array" => value.is_array(),
        "object" => value.is_object(),
        other => panic!("a type {other}?"),
    };
    if !kinds.is_empty() && !kinds.iter().any(|kind| is(kind)) {
        return Err(format!("{at}: {value} is no {kinds:?}"));
    }
    if let Some(object) = value.as_object() {
        for needed in schema["required"].as_array().into_iter().flatten().filter_map(Value::as_str) {
            if !object.contains_key(needed) {
                return Err(format!("{at}: {needed} is missing"));
            }
        }
        let properties = &schema["properties"];
        for (key, inner) in object {
            let at = format!("{at}/{key}");
            if properties[key].is_object() {
                fits(inner, &properties[key], document, &at)?;
            } else if schema["additionalProperties"].is_object() {
                fits(inner, &schema["additionalProperties"], document, &at)?;
            } else if properties.is_object() && schema["additionalProperties"] == false {
                return Err(format!("{at}: nobody said that there is this"));
            }
        }
    }
    if let (Some(items), true) = (value.as_array(), schema["items"].is_object()) {
        for (index, item) in items.iter().enumerate() {
            fits(item, &schema["items"], document, &format!("{at}/{index}"))?;
        }
    }
    Ok(())
}

fn hold(document: &Value, method: &str, template: &str, answer: &Value) {
    let schema = &document["paths"][template][method]["responses"]["200"]["content"]["application/json"]["schema"];
    assert!(schema.is_object(), "{method} {template} has no described answer");
    if let Err(wrong) = fits(answer, schema, document, "") {
        panic!("{method} {template}: {wrong}");
    }
}

#[actix_web::test]
async fn what_is_read_is_as_described() {
    let document = serde_json::to_value(api::document()).unwrap();
    let outside = Outside::start(|| {
        let station = |config: &mut _| stand_ins::weather_station::routes(config, &Default::default());
        actix_web::App::new().configure(stand_ins::scale::routes).configure(station)
    });
    let site = Site::demo().await.with(Some(format!("http://{}", outside.addr())), 1_000);
    let site = site.signed_in_as("mara@fennick.example").await;
    let hollow = farm(HOLLOW);
    let entry = site.get(&format!("{hollow}/entries")).await.ok()["entries"][0]["id"].as_str().unwrap().to_owned();
    let field = of(HOLLOW, "Long Acre").to_string();
    let stand = of(HOLLOW, "Upper Larkin 2026-08-12").to_string();
    let asked = json!({"id": uuid::Uuid::now_v7(), "role": "crew", "days": 7});
    let made = site.post(&format!("{hollow}/invitations"), asked).await.ok();
    let people = site.get(&format!("{hollow}/people")).await.ok();
    let crew = people["people"].as_array().unwrap().iter().find(|one| one["role"] == "crew").unwrap();
    let person = crew["id"].as_str().unwrap().to_owned();
    let made_reset =
        site.post(&format!("{hollow}/people/{person}/reset"), json!({"id": uuid::Uuid::now_v7()})).await.ok();
    let mut looked_at = 0;
    for (template, item) in document["paths"].as_object().unwrap() {
        if item["get"].is_null() || template == "/api/openapi.json" {
            continue;
        }
        let path = template
            .replace("/api/farms/{farm}", &hollow)
            .replace("{field}", &field)
            .replace("{stand}", &stand)
            .replace("{crop}", "giant-miscanthus")
            .replace("resets/{key}", &format!("resets/{}", made_reset["key"].as_str().unwrap()))
            .replace("{key}", made["key"].as_str().unwrap())
            .replace("{entry}", &entry);
        let path = match template.rsplit('/').next() {
            Some("weather") => format!("{path}?from=2026-01-01&to=2026-12-31"),
            Some("hours") => format!("{path}?from=2026-05-12&to=2026-05-12"),
            Some("ranking") => format!("{path}?goal=hay&years=4&field={field}"),
            Some("time-zone") => format!("{path}?latitude=43.2&longitude=-72.4"),
            // A file, not a document.
            Some("record.csv" | "fields.geojson" | "archive.zip" | "{photo}") => continue,
            _ => path,
        };
        let answer = site.get(&path).await;
        assert_eq!(answer.status, 200, "{path}: {}", answer.body);
        hold(&document, "get", template, &answer.body);
        looked_at += 1;
    }
    assert!(looked_at >= 10, "only {looked_at}");
}

#[actix_web::test]
async fn every_entry_of_both_farms_is_as_described() {
    let document = serde_json::to_value(api::document()).unwrap();
    for (key, email) in [(HOLLOW, "mara@fennick.example"), ("chacra-del-ceibo", "joaquin@ceibo.example")] {
        let site = Site::demo().await.signed_in_as(email).await;
        let mut page = String::new();
        loop {
            let entries = site.get(&format!("{}/entries{page}", farm(key))).await.ok();
            hold(&document, "get", "/api/farms/{farm}/entries", &entries);
            let Some(last) = entries["entries"].as_array().unwrap().last() else { break };
            page = format!("?older_than={}", last["id"].as_str().unwrap());
        }
        for field in site.get(&format!("{}/fields", farm(key))).await.ok()["fields"].as_array().unwrap() {
            let id = field["id"].as_str().unwrap();
            let ground = site.get(&format!("{}/fields/{id}/ground", farm(key))).await.ok();
            hold(&document, "get", "/api/farms/{farm}/fields/{field}/ground", &ground);
        }
    }
}

#[actix_web::test]
async fn what_is_tried_and_started_is_as_described() {
    let document = serde_json::to_value(api::document()).unwrap();
    let site = Site::demo().await.signed_in_as("mara@fennick.example").await;
    let hollow = farm(HOLLOW);
    let mut choices = mix();
    choices["lime"] = json!({"method": "smp", "target_ph": 6.8, "material": agronomy::lime::library_materials()[1]});
    choices["nutrients"] = json!({"school": "build-maintain", "yield_goal": {"value": 5, "unit": "ton/ac"}});
    let field = of(HOLLOW, "Cooper Piece");
    let implied = site.post(&format!("{hollow}/plan"), json!({"field": field, "choices": choices})).await.ok();
    hold(&document, "post", "/api/farms/{farm}/plan", &implied);
    assert!(implied["lime"].is_object() && implied["path"].is_object() && implied["needs"].is_object());
    let start = json!({"id": Uuid::now_v7(), "entry": Uuid::now_v7(), "field": field, "choices": choices});
    let started = site.post(&format!("{hollow}/stands"), start).await.ok();
    hold(&document, "post", "/api/farms/{farm}/stands", &started);
    let note = json!({"id": Uuid::now_v7(), "about": [{"kind": "field", "id": field}], "occurred_on": "2026-05-01", "payload": {"kind": "note", "text": "dry"}});
    hold(&document, "post", "/api/farms/{farm}/entries", &site.post(&format!("{hollow}/entries"), note).await.ok());
    let asked = json!({"field": field, "choices": choices, "stake": {"value": 900, "unit": "money"}});
    let windows = site.post(&format!("{hollow}/windows"), asked).await.ok();
    hold(&document, "post", "/api/farms/{farm}/windows", &windows);
    let read = json!({"text": "2.5 t/ac", "bare": "ton/ac"});
    hold(&document, "post", "/api/read", &site.post("/api/read", read).await.ok());
}

fn place() -> Value {
    json!({"today": "2026-05-14", "area": {"value": 8, "unit": "ha"}, "history_known": true,
        "done": [{"operation": "sample-soil", "on": "2026-05-01"}], "weather": years()})
}

fn years() -> Value {
    json!({"from": "generated", "years": {"place": "southern-plains", "from": "1985-01-01", "years": 20}})
}

#[actix_web::test]
async fn what_is_reckoned_is_as_described() {
    let document = serde_json::to_value(api::document()).unwrap();
    let site = Site::demo().await.signed_in_as("joaquin@ceibo.example").await;
    let tag = json!({"purity": {"value": 98, "unit": "%"}, "germination": {"value": 85, "unit": "%"},
        "package": {"value": 50, "unit": "lb"}, "price": {"value": 240, "unit": "money"}});
    let lots = json!([{"label": "A", "tag": tag}]);
    let asked = [
        ("seed.pls", json!({"tag": tag})),
        ("seed.compare", json!({"crop": "alfalfa", "pls_rate": lb(18.0), "lots": lots})),
        (
            "seed.order",
            json!({"sown_area": {"value": 9, "unit": "ac"}, "members": [{"crop": "alfalfa", "pls_rate": lb(18.0), "lots": lots}]}),
        ),
        ("seed.rate", json!({"crop": "alfalfa", "tag": tag, "target": {"by": "chart"}})),
        (
            "mix.rates",
            json!({"by": "full-rate", "members": [{"crop": "alfalfa", "share": {"value": 70, "unit": "%"}}, {"crop": "timothy", "share": {"value": 40, "unit": "%"}}]}),
        ),
        ("plants.count", json!({"crop": "hybrid-napier", "area": {"value": 2, "unit": "ha"}})),
        (
            "drill.row",
            json!({"crop": "alfalfa", "bulk_rate": lb(20.0), "pls": {"value": 90, "unit": "%"}, "course": {"value": 50, "unit": "m"}}),
        ),
        (
            "field.hours",
            json!({"area": {"value": 12, "unit": "ha"}, "width": {"value": 3, "unit": "m"}, "speed": {"value": 8, "unit": "km/h"},
                "efficiency": {"value": 70, "unit": "%"}, "cost": {"value": 90, "unit": "money/h"},
                "tank": {"holds": {"value": 600, "unit": "L"}, "rate": {"value": 200, "unit": "L/ha"}, "filling": {"value": 15, "unit": "min"}}}),
        ),
        ("units.convert", json!({"quantity": {"value": 1, "unit": "ac"}, "to": "ha"})),
        ("soil.sampling", json!({"area": {"value": 12, "unit": "ha"}, "crop": "alfalfa"})),
        (
            "soil.loss",
            json!({"slope": {"value": 12, "unit": "%"}, "slope_length": {"value": 100, "unit": "m"}, "rain": {"value": 900, "unit": "mm"}, "texture": "silt-loam", "across": true}),
        ),
        (
            "seedbed.firmness",
            json!({"crop": "switchgrass", "school": "heel-alone", "mark": "arch", "surface": "powder"}),
        ),
        (
            "mix.design",
            json!({"mix": {"by": "mass", "members": [{"crop": "red-clover", "rate": {"value": 6, "unit": "kg/ha"}}, {"crop": "timothy", "rate": {"value": 5, "unit": "kg/ha"}}]},
                "used": "both", "years": 6, "rates": {"red-clover": 0.8}}),
        ),
        (
            "plan.make",
            json!({"place": place(), "first_sound_day": true, "choices": {"goal": "hay", "sow_on": "2027-04-20",
                "cover": {"as": "seed", "mix": {"by": "mass", "members": [{"crop": "alfalfa", "rate": {"value": 16, "unit": "kg/ha"}}]}}}}),
        ),
        (
            "plan.compare",
            json!({"place": place(), "ways": [{"name": "tilled", "choices": {"goal": "hay", "sow_on": "2027-04-20",
                "cover": {"as": "seed", "mix": {"by": "mass", "members": [{"crop": "alfalfa", "rate": {"value": 16, "unit": "kg/ha"}}]}}}}]}),
        ),
        (
            "spray.check",
            json!({"label": {"ingredients": ["2,4-D"], "highest": {"value": 2, "unit": "L/ha"}, "most_wind": {"value": 15, "unit": "km/h"},
                    "coolest": {"value": 8, "unit": "degC"}, "buffer": {"value": 20, "unit": "m"}, "plant_back": [{"crop": "alfalfa", "days": 30}]},
                "rate": {"value": 3, "unit": "L/ha"}, "on": "2026-05-14", "over": ["alfalfa"], "to_sow": [{"crop": "alfalfa", "on": "2026-06-01"}],
                "wind": {"value": 20, "unit": "km/h"}, "temperature": {"value": 5, "unit": "degC"}, "water": {"value": 10, "unit": "m"}}),
        ),
        (
            "tank.mix",
            json!({"area": {"value": 5, "unit": "ha"}, "tank": {"value": 300, "unit": "L"}, "output": {"value": 120, "unit": "L/ha"},
                "products": [{"name": "label", "rate": {"value": 2, "unit": "kg/ha"}, "form": "dry-flowable"}]}),
        ),
        (
            "crops.rank",
            json!({"goal": "hay", "years": 4, "site": {"today": "2026-05-14", "sow_on": "2027-05-01"},
                "climate": {"coldest_night": {"value": -24, "unit": "degC"}, "rain": {"value": 1000, "unit": "mm"},
                    "months": vec![json!({"value": 8, "unit": "degC"}); 12]}}),
        ),
        ("site.check", json!({"crop": "giant-miscanthus", "today": "2026-05-14", "sow_on": "2027-05-01"})),
        (
            "lime.requirement",
            json!({"school": {"by": "texture", "texture": "clay"}, "ph": 5.2, "target_ph": 6.4, "material": agronomy::lime::library_materials()[4]}),
        ),
        ("weather.radiation", json!({"latitude": -33.9, "day": "2026-05-14"})),
        (
            "weather.et0",
            json!({"latitude": -33.9, "day": "2026-05-14", "tmin": {"value": 6, "unit": "degC"}, "tmax": {"value": 18, "unit": "degC"}}),
        ),
        (
            "weather.gdd",
            json!({"base": {"value": 5, "unit": "degC"}, "days": [{"tmin": {"value": 6, "unit": "degC"}, "tmax": {"value": 18, "unit": "degC"}}]}),
        ),
        ("weather.frost", json!({"weather": years(), "year": 2026})),
        ("weather.generate", json!({"place": "southern-plains", "from": "2020-01-01", "years": 1})),
        ("soil.temperature", json!({"weather": years(), "depth": {"value": 5, "unit": "cm"}})),
        ("water.balance", json!({"weather": years(), "texture": "loam", "drainage": "well"})),
        (
            "window.odds",
            json!({"weather": years(), "crop": "alfalfa", "texture": "loam", "drainage": "well", "on": "2005-04-01"}),
        ),
        ("growing_time.left", json!({"weather": years(), "crop": "alfalfa", "from": "2004-03-20"})),
        ("lime.material", json!({"materials": agronomy::lime::library_materials()})),
        ("lime.path", json!({"ph": 5.2, "per_ph_unit": {"value": 6, "unit": "t/ha"}, "floor": 6.0, "months": 12})),
        ("nutrients.need", json!({"crop": "timothy", "yield_goal": {"value": 9, "unit": "t/ha"}})),
        ("nutrients.removal", json!({"crop": "timothy", "yield": {"value": 9, "unit": "t/ha"}})),
        (
            "manure.rate",
            json!({"analysis": {"total_n": {"value": 0.5, "unit": "%"}, "p2o5": {"value": 0.2, "unit": "%"}, "k2o": {"value": 0.4, "unit": "%"}}, "needs": {"k2o": lb(200.0)}}),
        ),
        (
            "blend.least_cost",
            json!({"needs": {"k2o": lb(200.0), "b": lb(2.0)}, "products": agronomy::blend::library_products()}),
        ),
    ];
    let others = worked().into_iter().filter(|case| asked.iter().all(|(name, _)| *name != case.topic));
    let others: Vec<_> = others.map(|case| (case.topic, case.request)).collect();
    let asked = asked.into_iter().chain(others).collect::<Vec<_>>();
    let topics: Vec<&str> = server::reckon::topics().iter().map(|topic| topic.name).collect();
    for topic in &topics {
        assert!(asked.iter().any(|(name, _)| name == topic), "{topic} is not held against the document here");
    }
    for (topic, request) in asked {
        let template = format!("/api/reckon/{topic}");
        let answer = site.post(&template, request.clone()).await;
        assert_eq!(answer.status, 200, "{topic}: {}", answer.body);
        hold(&document, "post", &template, &answer.body);
        let schema = &document["paths"][&template]["post"]["requestBody"]["content"]["application/json"]["schema"];
        if let Err(wrong) = fits(&request, schema, &document, "") {
            panic!("the request of {topic}: {wrong}");
        }
        // Every answer is in the reader's units: metric here.
        assert!(!answer.body["value"].to_string().contains("lb/ac"), "{topic}: {}", answer.body["value"]);
    }
}
