//! The ground over the API: readiness, lime in pencil and ink, imports, the laboratory, the clock.

use crate::common::{Outside, Site, farm, lb, of};
use actix_web::http::StatusCode;
use rstest::rstest;
use serde_json::{Value, json};
use uuid::Uuid;

const HOLLOW: &str = "fennick-hollow";
const MARA: &str = "mara@fennick.example";

async fn mara() -> Site {
    Site::demo().await.signed_in_as(MARA).await
}

fn stand_of(crop: &str, rate: f64, sow_on: &str) -> Value {
    json!({"goal": "hay", "sow_on": sow_on, "spare": {"value": 5, "unit": "%"},
        "cover": {"as": "seed", "lots": [], "mix": {"by": "mass", "members": [{"crop": crop, "rate": lb(rate)}]}}})
}

fn ground_limestone() -> Value {
    serde_json::to_value(&agronomy::lime::library_materials()[0]).unwrap()
}

fn lime(method: &str, target: f64) -> Value {
    json!({"method": method, "target_ph": target, "material": ground_limestone()})
}

async fn implied(site: &Site, field: &str, choices: Value) -> Value {
    let body = json!({"field": of(HOLLOW, field), "choices": choices});
    site.post(&format!("{}/plan", farm(HOLLOW)), body).await.ok()
}

fn check<'a>(implied: &'a Value, key: &str) -> &'a Value {
    let checks = implied["readiness"]["value"]["checks"].as_array().unwrap();
    checks.iter().find(|check| check["key"] == key).unwrap_or_else(|| panic!("{key}: {checks:?}"))
}

#[actix_web::test]
async fn a_sour_sloping_sprayed_field_is_unfit_for_alfalfa_and_not_for_switchgrass() {
    let site = mara().await;
    let alfalfa = implied(&site, "North Ledge", stand_of("alfalfa", 18.0, "2026-08-10")).await;
    assert_eq!(alfalfa["readiness"]["value"]["verdict"], "unfit");
    assert_eq!(alfalfa["readiness"]["value"]["earliest"], "2027-09-12");
    assert_eq!(check(&alfalfa, "carry-over")["verdict"], "unfit");
    assert_eq!(check(&alfalfa, "slope")["verdict"], "fit-with-work");
    assert_eq!(check(&alfalfa, "ph")["verdict"], "fit-with-work");
    let steps: Vec<_> = alfalfa["plan"]["steps"].as_array().unwrap().iter().map(|step| step["step"].clone()).collect();
    assert!(steps.contains(&json!("bioassay")) && steps.contains(&json!("sample-soil")), "{steps:?}");
    let switchgrass = implied(&site, "North Ledge", stand_of("switchgrass", 6.0, "2026-05-30")).await;
    assert_eq!(check(&switchgrass, "carry-over")["verdict"], "fit");
    assert_eq!(check(&switchgrass, "slope")["verdict"], "fit");
    assert_ne!(switchgrass["readiness"]["value"]["verdict"], "unfit");
}

#[actix_web::test]
async fn lime_is_planned_in_pencil_and_inked_at_another_rate() {
    let site = mara().await;
    let (farm, field, stand) = (farm(HOLLOW), of(HOLLOW, "North Ledge"), Uuid::now_v7());
    let mut choices = stand_of("switchgrass", 6.0, "2027-05-20");
    choices["lime"] = lime("smp", 6.2);
    choices["nutrients"] = json!({"school": "replacement", "yield_goal": {"value": 4, "unit": "ton/ac"}});
    let start = json!({"id": stand, "entry": Uuid::now_v7(), "field": field, "choices": choices});
    let planned = site.post(&format!("{farm}/stands"), start).await.ok();
    let step = |detail: &Value, kind: &str| {
        let steps = detail["implied"]["plan"]["steps"].as_array().unwrap().clone();
        steps.into_iter().find(|step| step["step"] == kind).unwrap_or_else(|| panic!("no {kind}"))
    };
    assert_eq!(step(&planned, "lime")["amounts"][0]["of"], "ground limestone");
    assert_eq!(step(&planned, "lime")["amounts"][0]["amount"]["unit"], "ton/ac");
    assert_eq!(step(&planned, "sample-soil")["state"]["is"], "done");
    let peak = |detail: &Value| detail["implied"]["path"]["value"]["peak"]["ph"].as_f64().unwrap();
    let expected = peak(&planned);
    assert!(expected > 5.8, "{expected}");

    let dressing = json!({"what": "lime", "product": "ground limestone", "rate": {"value": 1, "unit": "ton/ac"},
        "effective": {"fast": {"value": 50.6, "unit": "%"}, "slow": {"value": 19.3, "unit": "%"}}});
    let entry = json!({"id": Uuid::now_v7(), "about": [{"kind": "field", "id": field}], "occurred_on": "2026-05-10",
        "payload": {"kind": "dressing", "dressing": dressing}});
    let kept = site.post(&format!("{farm}/entries"), entry).await.ok();
    let limed = site.get(&format!("{farm}/stands/{stand}")).await.ok();
    assert_eq!(step(&limed, "lime")["state"]["is"], "done");
    assert!(peak(&limed) < expected, "{} after {expected}", peak(&limed));

    // Struck, it is pencil again.
    let strike = format!("{farm}/entries/{}/strike", kept["id"].as_str().unwrap());
    site.post(&strike, json!({"id": Uuid::now_v7(), "reason": "the other field"})).await.ok();
    let again = site.get(&format!("{farm}/stands/{stand}")).await.ok();
    assert_ne!(step(&again, "lime")["state"]["is"], "done");
    assert!((peak(&again) - expected).abs() < 1e-9);
}

#[rstest]
#[case::far("smp", 9.0, "/choices/lime/target_ph", "enter 5–7.5")]
#[case::sour("smp", 4.0, "/choices/lime/target_ph", "enter 5–7.5")]
#[actix_web::test]
async fn lime_that_cannot_be(#[case] method: &str, #[case] target: f64, #[case] pointer: &str, #[case] said: &str) {
    let site = mara().await;
    let mut choices = stand_of("switchgrass", 6.0, "2027-05-20");
    choices["lime"] = lime(method, target);
    let body = json!({"field": of(HOLLOW, "North Ledge"), "choices": choices});
    let answer = site.post(&format!("{}/plan", farm(HOLLOW)), body).await;
    assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(answer.at(pointer).contains(said), "{}", answer.body);
}

/// Lime that the test at hand does not serve is told beside all the rest, before the stand is started and
/// after: neither the page nor the season goes down with it, nor does the lime vanish in silence.
#[rstest]
#[case::no_acidity("mehlich", 6.4, "/lime/method", "Mehlich acidity")]
#[case::target("smp", 5.6, "/lime/target_ph", "6.0–6.8")]
#[actix_web::test]
async fn lime_that_cannot_be_reckoned(
    #[case] method: &str,
    #[case] target: f64,
    #[case] pointer: &str,
    #[case] said: &str,
) {
    let site = mara().await;
    let (farm, field, stand) = (farm(HOLLOW), of(HOLLOW, "North Ledge"), Uuid::now_v7());
    let mut choices = stand_of("switchgrass", 6.0, "2027-05-20");
    choices["lime"] = lime(method, target);
    let told = |troubles: &Value| {
        let found = troubles.as_array().unwrap().iter().find(|one| one["pointer"] == pointer).cloned();
        let found = found.unwrap_or_else(|| panic!("nothing at {pointer}: {troubles}"));
        assert!(found["part"] == "lime" && found["detail"].as_str().unwrap().contains(said), "{found}");
    };
    let implied = implied(&site, "North Ledge", choices.clone()).await;
    told(&implied["troubles"]);
    assert!(implied["lime"].is_null() && implied["mix"].is_object() && implied["readiness"].is_object());
    let start = json!({"id": stand, "entry": Uuid::now_v7(), "field": field, "choices": choices});
    let started = site.post(&format!("{farm}/stands"), start).await.ok();
    told(&started["implied"]["troubles"]);
    assert_eq!(started["choices"]["lime"]["method"], method, "what was stored is answered");
    told(&site.get(&format!("{farm}/stands/{stand}")).await.ok()["implied"]["troubles"]);
    let season = site.get(&format!("{farm}/season")).await.ok();
    let strips = season["strips"].as_array().unwrap();
    let strip = strips.iter().find(|strip| strip["field"]["name"] == "North Ledge").unwrap();
    told(&strip["stands"][0]["troubles"]);
    told(&site.get(&format!("{farm}/fields/{field}/ground")).await.ok()["troubles"]);
}

#[actix_web::test]
async fn the_account_follows_dressings_cuts_and_strikes() {
    let site = mara().await;
    let (farm, field) = (farm(HOLLOW), of(HOLLOW, "Long Acre"));
    let path = format!("{farm}/fields/{field}/ground");
    let k = |view: &Value| {
        let lines = view["account"]["lines"].as_array().unwrap();
        let line = lines.iter().find(|line| line["nutrient"] == "k2o").cloned().unwrap_or_default();
        (line["applied"]["value"].as_f64().unwrap_or_default(), line["removed"]["value"].as_f64().unwrap_or_default())
    };
    let before = site.get(&path).await.ok();
    let (applied, removed) = k(&before);
    assert!((applied - 37.5).abs() < 1e-6, "150 lb of 25 %: {applied}");
    assert_eq!(removed, 0.0, "nothing cut this year yet");
    let cut = json!({"id": Uuid::now_v7(), "about": [{"kind": "field", "id": field}], "occurred_on": "2026-05-12", "payload": {"kind": "cut",
        "cut": {"crop": "alfalfa", "harvested": {"value": 2, "unit": "ton/ac"}, "moisture": {"value": 15, "unit": "%"}}}});
    let kept = site.post(&format!("{farm}/entries"), cut).await.ok();
    let (_, removed) = k(&site.get(&path).await.ok());
    assert!((removed - 2.0 * 0.85 * 50.0).abs() < 1e-6, "{removed}");
    let strike = format!("{farm}/entries/{}/strike", kept["id"].as_str().unwrap());
    site.post(&strike, json!({"id": Uuid::now_v7(), "reason": "weighed twice"})).await.ok();
    let after = site.get(&path).await.ok();
    assert_eq!(after["account"], before["account"]);
    // Cut, and not weighed: the account says that it lacks it.
    let bare = json!({"id": Uuid::now_v7(), "about": [{"kind": "field", "id": field}], "occurred_on": "2026-05-13",
        "payload": {"kind": "cut"}});
    assert_eq!(site.post(&format!("{farm}/entries"), bare).await.ok()["says"], "Cut");
    let lacking = site.get(&path).await.ok();
    assert_eq!((&before["not_accounted"], &lacking["not_accounted"]), (&json!(0), &json!(1)));
    assert_eq!(lacking["account"], before["account"]);
}

const REPORT: &str = "Field,pH,Buffer pH,P,K,CEC\nCooper Piece,6.1,6.6,19,110,11.2\nSheep Hill,5.9,6.5,15,98,12.4\n";

fn file(text: &str, dry_run: bool, id: Uuid) -> Value {
    json!({"id": id, "text": text, "dry_run": dry_run, "mapping":
        {"p_method": "bray-p1", "laboratory": "County", "depth_unit": "in", "sampled_on": "2026-05-04"}})
}

#[actix_web::test]
async fn a_laboratory_file_is_all_or_nothing() {
    let site = mara().await;
    let (farm, id) = (farm(HOLLOW), Uuid::now_v7());
    let path = format!("{farm}/soil-tests");
    let count = async || site.get(&format!("{farm}/entries?kind=soil-test")).await.ok()["total"].as_i64().unwrap();
    let before = count().await;
    let bad = site.post(&path, file(&REPORT.replace("5.9,6.5", "59,6.5"), false, id)).await.ok();
    assert_eq!((bad["written"].as_i64(), bad["imported"]["errors"][0]["line"].as_i64()), (Some(0), Some(3)));
    assert_eq!(count().await, before);
    let unknown = site.post(&path, file(&REPORT.replace("Sheep Hill", "Moon Hill"), false, id)).await.ok();
    assert!(unknown["imported"]["errors"][0]["detail"].as_str().unwrap().contains("Moon Hill"));
    let looked = site.post(&path, file(REPORT, true, id)).await.ok();
    assert_eq!((looked["written"].as_i64(), looked["imported"]["rows"].as_array().map(Vec::len)), (Some(0), Some(2)));
    assert_eq!(count().await, before);
    let mended = site.post(&path, file(REPORT, false, id)).await.ok();
    assert_eq!(mended["written"], 2);
    site.post(&path, file(REPORT, false, id)).await.ok();
    assert_eq!(count().await, before + 2, "sent again, it is the same import");
}

#[actix_web::test]
async fn the_soil_laboratory_reports_when_the_clock_has_come_to_it() {
    let laboratory = Outside::start(|| actix_web::App::new().configure(stand_ins::soil_laboratory::routes));
    let address = format!("http://{}", laboratory.addr());
    let site = Site::demo().await.with(Some(address), 100).signed_in_as(MARA).await;
    let (farm, field, id) = (farm(HOLLOW), of(HOLLOW, "Fox Cover"), Uuid::now_v7());
    let samples = format!("{farm}/fields/{field}/samples");
    let sent = site.post(&samples, json!({"id": id})).await.ok();
    assert_eq!(sent["payload"]["due_on"], "2026-05-24");
    assert_eq!(site.post(&samples, json!({"id": id})).await.ok()["recorded_at"], sent["recorded_at"]);
    let report = format!("{samples}/{id}/report");
    let early = site.post(&report, json!({})).await;
    assert_eq!(early.status, StatusCode::CONFLICT);
    assert!(early.body["detail"].as_str().unwrap().contains("2026-05-24"));
    site.post(&format!("{farm}/clock"), json!({"day": "2026-05-25"})).await.ok();
    let test = site.post(&report, json!({})).await.ok();
    assert_eq!(test["payload"]["kind"], "soil-test");
    assert_eq!(site.post(&report, json!({})).await.ok()["id"], test["id"]);
    let ground = site.get(&format!("{farm}/fields/{field}/ground")).await.ok();
    assert_eq!(ground["samples"][0]["collected"], true);
    assert_eq!(ground["ground"]["tests"].as_array().unwrap().len(), 1);
}

#[rstest]
#[case::back("2026-05-01")]
#[case::far("2029-01-01")]
#[actix_web::test]
async fn a_practice_clock_goes_forward_a_year_at_most(#[case] day: &str) {
    let site = mara().await;
    let answer = site.post(&format!("{}/clock", farm(HOLLOW)), json!({"day": day})).await;
    assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(answer.at("/day").contains("forward"), "{}", answer.body);
}

/// Of two who move it at once the later day holds, in whatever order they come.
#[actix_web::test]
async fn a_practice_clock_moved_twice_at_once_goes_forward() {
    let site = mara().await;
    let path = format!("{}/clock", farm(HOLLOW));
    let days = ["2026-05-25", "2026-05-20", "2026-05-24", "2026-05-19", "2026-05-23"];
    futures_util::future::join_all(days.map(|day| site.post(&path, json!({"day": day})))).await;
    let me = site.get("/api/me").await.ok();
    assert_eq!(me["farms"][0]["today"], "2026-05-25");
}

#[actix_web::test]
async fn a_step_on_the_ground_is_inked_by_what_was_done() {
    let site = mara().await;
    let field = of(HOLLOW, "Upper Larkin");
    let entry = json!({"id": Uuid::now_v7(), "about": [{"kind": "field", "id": field}, {"kind": "stand", "id": of(HOLLOW, "Upper Larkin 2026-08-12")}],
        "occurred_on": "2026-05-10", "payload": {"kind": "step", "operation": "lime"}});
    let answer = site.post(&format!("{}/entries", farm(HOLLOW)), entry).await;
    assert!(answer.at("/payload/operation").contains("dressing"), "{}", answer.body);
}

#[rstest]
#[case(json!({"kind": "soil-test", "test": {"laboratory": "L", "sampled_on": "2026-05-01", "layers": [{"from": {"value": 0, "unit": "in"}, "to": {"value": 6, "unit": "in"}, "ph": 15}]}}), "/payload/test/layers/0/ph")]
#[case(json!({"kind": "spray", "active": ""}), "/payload/active")]
#[case(json!({"kind": "dressing", "dressing": {"what": "fertiliser", "product": "x", "rate": {"value": -1, "unit": "lb/ac"}}}), "/payload/dressing/rate")]
#[case(json!({"kind": "dressing", "dressing": {"what": "fertiliser", "product": "x", "rate": {"value": 10, "unit": "lb/ac"}, "analysis": {"n": {"value": 130, "unit": "%"}}}}), "/payload/dressing/analysis")]
#[case(json!({"kind": "cut", "cut": {"crop": "alfalfa", "harvested": {"value": 0, "unit": "ton/ac"}}}), "/payload/cut/harvested")]
#[case(json!({"kind": "cut", "height": {"value": 3, "unit": "in"}, "stubble": {"value": 4, "unit": "in"}}), "/payload/stubble")]
#[case(json!({"kind": "cut", "area": {"value": 0, "unit": "ac"}}), "/payload/area")]
#[case(json!({"kind": "site", "facts": {"slope": {"value": 170, "unit": "%"}}}), "/payload/facts/slope")]
#[case(json!({"kind": "past-crop", "crop": "maize", "years": -3}), "/payload/years")]
#[actix_web::test]
async fn ground_that_cannot_be_is_refused_at_the_field(#[case] payload: Value, #[case] pointer: &str) {
    let site = mara().await;
    let entry = json!({"id": Uuid::now_v7(), "about": [{"kind": "field", "id": of(HOLLOW, "Sheep Hill")}], "occurred_on": "2026-05-10", "payload": payload});
    let answer = site.post(&format!("{}/entries", farm(HOLLOW)), entry.clone()).await;
    assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY);
    answer.at(pointer);
    let mut homeless = entry;
    homeless["about"] = json!([]);
    assert!(site.post(&format!("{}/entries", farm(HOLLOW)), homeless).await.status.is_client_error());
}

async fn inked(site: &Site, field: &str, on: &str, payload: Value) -> crate::common::Answer {
    let entry = json!({"id": Uuid::now_v7(), "about": [{"kind": "field", "id": of(HOLLOW, field)}], "occurred_on": on, "payload": payload});
    site.post(&format!("{}/entries", farm(HOLLOW)), entry).await
}

/// What was cut was cut: it is asked about, and taken when it is meant.
#[actix_web::test]
async fn a_cut_within_the_wait_of_a_label_is_asked_about() {
    let site = mara().await;
    let spray = json!({"kind": "spray", "active": "glyphosate", "product": "sod killer", "harvest_days": 14, "grazing_days": 7});
    inked(&site, "Heron Bottom", "2026-05-04", spray).await.ok();
    let ground = site.get(&format!("{}/fields/{}/ground", farm(HOLLOW), of(HOLLOW, "Heron Bottom"))).await.ok();
    assert_eq!(ground["ground"]["unfree"][0]["what"]["cutting"], "2026-05-18");
    assert_eq!(ground["ground"]["unfree"][0]["what"]["grazing"], "2026-05-11");
    let cut = json!({"kind": "cut", "cut": {"crop": "alfalfa", "harvested": {"value": 1.5, "unit": "ton/ac"}}});
    let soon = inked(&site, "Heron Bottom", "2026-05-14", cut.clone()).await;
    assert_eq!(soon.status, StatusCode::UNPROCESSABLE_ENTITY);
    let said = soon.at("/occurred_on");
    assert!(said.contains("sod killer") && said.contains("May 18, 2026"), "{said}");
    // Before the spray nothing was forbidden.
    inked(&site, "Heron Bottom", "2026-05-03", cut.clone()).await.ok();
    let meant = json!({"id": Uuid::now_v7(), "about": [{"kind": "field", "id": of(HOLLOW, "Heron Bottom")}], "occurred_on": "2026-05-14",
        "payload": cut, "confirmed": true});
    site.post(&format!("{}/entries", farm(HOLLOW)), meant).await.ok();
}

#[actix_web::test]
async fn a_soft_bed_puts_a_rolling_before_the_sowing_and_a_firm_one_takes_it_away() {
    let site = mara().await;
    let (field, stand) = ("Upper Larkin", of(HOLLOW, "Upper Larkin 2026-08-12"));
    let told = async || site.get(&format!("{}/stands/{stand}", farm(HOLLOW))).await.ok()["implied"].clone();
    let look = |inches: f64| json!({"kind": "seedbed-look", "sunk": {"value": inches, "unit": "in"}});
    let firm = |implied: &Value| {
        let gates = implied["gates"].as_array().unwrap().clone();
        gates.into_iter().find(|gate| gate["key"] == "firm").map(|gate| gate["stands"].clone())
    };
    let found = |implied: &Value| {
        let steps = implied["plan"]["steps"].as_array().unwrap().clone();
        steps
            .into_iter()
            .filter(|step| step["from_where"] == "finding")
            .map(|step| step["look"]["operation"].clone())
            .collect::<Vec<_>>()
    };
    assert_eq!(firm(&told().await), Some(json!("unknown")));
    inked(&site, field, "2026-05-12", look(1.5)).await.ok();
    let soft = told().await;
    assert_eq!((firm(&soft), found(&soft)), (Some(json!("shut")), vec![json!("roll")]));
    inked(&site, field, "2026-05-14", look(0.25)).await.ok();
    let hard = told().await;
    assert_eq!((firm(&hard), found(&hard)), (Some(json!("open")), vec![]));
}

/// The first sound day is the same wherever the sowing stood when it was asked for.
#[actix_web::test]
async fn what_is_proposed_does_not_hang_on_the_day_at_hand() {
    let site = mara().await;
    let member = |crop: &str, share: f64| json!({"crop": crop, "share": {"value": share, "unit": "%"}});
    for (field, crop) in [("Sheep Hill", "white-clover"), ("North Ledge", "alfalfa")] {
        let mut proposed = vec![];
        for day in ["2026-05-14", "2026-11-13", "2027-05-04", "2027-09-20", "2028-06-01"] {
            let mix = json!({"by": "full-rate", "members": [member("orchardgrass", 50.0), member(crop, 35.0)]});
            let choices = json!({"goal": "hay-and-grazing", "sow_on": day, "spare": {"value": 5, "unit": "%"},
                "cover": {"as": "seed", "lots": [], "mix": mix}});
            proposed.push(implied(&site, field, choices).await["proposal"].clone());
        }
        assert!(proposed.iter().all(|one| *one == proposed[0]), "{field}: {proposed:#?}");
    }
}
