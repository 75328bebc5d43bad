//! A soil laboratory: takes cores, reports after its turnaround.
//!
//! The soil's true state is drawn once from the field's name, so two samples of one field agree but
//! for the noise of sampling. The laboratory works by the farm's clock: asked before the report is
//! due, it says when. It keeps nothing: what it needs to know is in the question.

use actix_web::{HttpResponse, web};
use agronomy::{
    soil::{AcidityTest, Layer, PMethod, PTest, SoilTest},
    units::{Charge, Fraction, Length, SoilContent, Unit},
};
use jiff::{ToSpan, civil::Date};
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::seeds::{normal, seeded};

/// Days from a sample's arrival to its report.
pub const TURNAROUND_DAYS: i32 = 10;
/// As it signs its reports.
pub const NAME: &str = "Stand-in soil laboratory";

/// A question about a sample.
#[derive(Debug, Clone, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Sample {
    /// The sample's number, made by the sender.
    pub sample: Uuid,
    /// The field's name: stands for the soil itself, which can't be posted.
    pub field: String,
    /// The day the cores came in.
    pub received_on: Date,
    /// The day it is asked, by the farm's clock.
    pub today: Date,
    /// Whether the layer below was sampled too.
    #[serde(default)]
    pub subsoil: bool,
}

/// What the laboratory says.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Reply {
    /// The sample's number.
    pub sample: Uuid,
    /// Who answers.
    pub laboratory: String,
    /// The day the report is due.
    pub due_on: Date,
    /// The report, once it is due.
    pub report: Option<SoilTest>,
}

/// The service's routes.
pub fn routes(config: &mut web::ServiceConfig) {
    config.route("/soil-laboratory/samples", web::post().to(take));
}

async fn take(sample: web::Json<Sample>) -> HttpResponse {
    HttpResponse::Ok().json(answer(&sample))
}

/// Answer a question about a sample.
pub fn answer(sample: &Sample) -> Reply {
    let due_on = sample.received_on.saturating_add(TURNAROUND_DAYS.days());
    let report = (sample.today >= due_on).then(|| report(sample));
    Reply { sample: sample.sample, laboratory: NAME.to_owned(), due_on, report }
}

fn rounded(value: f64, places: i32) -> f64 {
    let scale = 10.0_f64.powi(places);
    (value * scale).round() / scale
}

fn report(sample: &Sample) -> SoilTest {
    let mut soil = seeded((&sample.field, "soil"));
    let ph = normal(&mut soil, 6.0, 0.4).clamp(4.8, 7.4);
    let cec = normal(&mut soil, 11.5, 2.5).clamp(4.0, 24.0);
    let organic = normal(&mut soil, 3.4, 0.8).clamp(1.0, 7.0);
    let p = normal(&mut soil, 22.0, 10.0).clamp(4.0, 80.0);
    let k = normal(&mut soil, 125.0, 40.0).clamp(35.0, 380.0);
    let below = ph - normal(&mut soil, 0.3, 0.2).clamp(-0.2, 0.9);

    let mut noise = seeded((sample.sample, &sample.field));
    let mut near = |value: f64, share: f64| normal(&mut noise, value, value * share);
    let ph = rounded(near(ph, 0.008), 1);
    let inch = |value: f64| Length::new(value, Unit::In);
    let ppm = |value: f64| SoilContent::new(rounded(value, 0), Unit::Ppm);
    let mut top = Layer::new(inch(0.0), inch(6.0), ph);
    // The sourer and the heavier the soil, the further it pulls the buffer down from 7.5.
    let buffer = 7.2 - (7.0 - ph).max(0.0) * 0.03 * cec;
    top.acidity = Some(AcidityTest::Smp { buffer_ph: rounded(buffer.clamp(5.6, 7.2), 1) });
    top.p = Some(PTest { value: ppm(near(p, 0.08)), method: PMethod::BrayP1 });
    top.k = Some(ppm(near(k, 0.06)));
    top.mg = Some(ppm(near(cec * 14.0, 0.06)));
    top.ca = Some(ppm(near(cec * 120.0, 0.05)));
    top.cec = Some(Charge::new(rounded(near(cec, 0.03), 1), Unit::MeqPer100G));
    top.base_saturation = Some(Fraction::percent(rounded((52.0 + (ph - 5.0) * 20.0).clamp(20.0, 100.0), 0)));
    top.organic_matter = Some(Fraction::percent(rounded(organic, 1)));
    let mut layers = vec![top];
    if sample.subsoil {
        layers.push(Layer::new(inch(6.0), inch(12.0), rounded(near(below, 0.008), 1)));
    }
    SoilTest { laboratory: NAME.to_owned(), sample: short(sample.sample), sampled_on: sample.received_on, layers }
}

fn short(sample: Uuid) -> String {
    sample.simple().to_string().chars().rev().take(6).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;
    use rstest::rstest;

    fn sample(number: u128, field: &str, day: i8) -> Sample {
        Sample {
            sample: Uuid::from_u128(number),
            field: field.into(),
            received_on: date(2026, 5, 14),
            today: date(2026, 5, day),
            subsoil: true,
        }
    }

    #[rstest]
    #[case(14, false)]
    #[case(23, false)]
    #[case(24, true)]
    #[case(30, true)]
    fn reports_when_it_is_due(#[case] day: i8, #[case] ready: bool) {
        let reply = answer(&sample(1, "North", day));
        assert_eq!((reply.due_on, reply.report.is_some()), (date(2026, 5, 24), ready));
    }

    #[test]
    fn every_report_is_a_soil_test_and_one_field_is_one_soil() {
        for number in 0..200 {
            let field = format!("Field {number}");
            let report = answer(&sample(number, &field, 30)).report.unwrap();
            report.check().unwrap_or_else(|refused| panic!("{refused}"));
            assert_eq!(report.layers.len(), 2);
            let again = answer(&sample(number + 1_000, &field, 30)).report.unwrap();
            assert!((report.layers[0].ph - again.layers[0].ph).abs() < 0.35, "{report:?} {again:?}");
            assert_eq!(
                answer(&sample(number, &field, 30)).report.unwrap(),
                report,
                "the same question, the same answer"
            );
        }
    }

    #[actix_web::test]
    async fn answers_over_http_and_refuses_what_is_no_question() {
        use actix_web::{App, test as service};
        let app = service::init_service(App::new().configure(routes)).await;
        let post = || service::TestRequest::post().uri("/soil-laboratory/samples");
        let asked = post().set_json(sample(1, "North", 25)).to_request();
        let reply: Reply = service::call_and_read_body_json(&app, asked).await;
        assert_eq!((reply.laboratory.as_str(), reply.report.is_some()), (NAME, true));
        let nonsense = post().set_json(serde_json::json!({"sample": 7})).to_request();
        assert!(service::call_service(&app, nonsense).await.status().is_client_error());
    }

    /// Without the subsoil only the plough layer is told; the sourer the soil, the lower its buffer.
    #[test]
    fn the_report_holds_together() {
        let mut tops: Vec<(f64, f64)> = (0..100)
            .map(|number| {
                let asked = Sample { subsoil: false, ..sample(number, &format!("Field {number}"), 30) };
                let report = answer(&asked).report.unwrap();
                assert_eq!(report.layers.len(), 1);
                let Some(AcidityTest::Smp { buffer_ph }) = report.layers[0].acidity else { panic!("no buffer") };
                (report.layers[0].ph, buffer_ph)
            })
            .collect();
        tops.sort_by(|a, b| a.0.total_cmp(&b.0));
        let mean = |part: &[(f64, f64)]| part.iter().map(|(_, buffer)| buffer).sum::<f64>() / part.len() as f64;
        assert!(mean(&tops[..20]) < mean(&tops[80..]), "{tops:?}");
    }
}
