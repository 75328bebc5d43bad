//! A seed laboratory: takes a sample, returns purity and germination.
//!
//! The lot's true worth is drawn once from its name: near what the tag claims, seldom better,
//! sometimes clearly worse. The test then counts 400 seeds, as the rules for testing seed have it,
//! so two samples of one lot differ as real ones do. A real germination test takes one to four
//! weeks; this stand-in answers at once and dates the report the day the sample came in.

use actix_web::{HttpResponse, web};
use agronomy::{
    seed::{LabReport, REPORT_FORMAT, Tag},
    units::{Fraction, Measure},
};
use jiff::civil::Date;
use rand_chacha::ChaCha8Rng;
use rand_distr::{Binomial, Distribution};
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use crate::seeds::{normal, seeded};

/// Seeds in a germination test (common practice of seed laboratories: four times a hundred).
pub const SEEDS_TESTED: u32 = 400;

/// A sample handed in.
#[derive(Debug, Clone, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Sample {
    /// The sample's number, made by the sender.
    pub sample: Uuid,
    /// Crop id.
    pub crop: String,
    /// The lot's name.
    pub lot: String,
    /// What the bag claims: stands for the seed itself, which can't be posted.
    pub claimed: Tag,
    /// The day it comes in.
    pub received_on: Date,
}

/// The service's routes.
pub fn routes(config: &mut web::ServiceConfig) {
    config.route("/seed-laboratory/samples", web::post().to(take));
}

async fn take(sample: web::Json<Sample>) -> HttpResponse {
    match sample.claimed.check() {
        Ok(()) => HttpResponse::Ok().json(test(&sample)),
        Err(refused) => HttpResponse::UnprocessableEntity().body(refused.to_string()),
    }
}

fn share_of_test(rng: &mut ChaCha8Rng, truth: f64) -> f64 {
    let counted = Binomial::new(u64::from(SEEDS_TESTED), truth.clamp(0.0, 1.0)).map_or(0, |law| law.sample(rng));
    counted as f64 / f64::from(SEEDS_TESTED)
}

/// Test a sample.
pub fn test(sample: &Sample) -> LabReport {
    let claimed = &sample.claimed;
    let dormant_claimed = claimed.dormant.unwrap_or_default().base();
    // The lot itself: fixed by its name.
    let mut lot = seeded((&sample.crop, &sample.lot));
    let loss = normal(&mut lot, 0.02, 0.03).clamp(-0.02, 0.15);
    let purity = (claimed.purity.base() + normal(&mut lot, 0.0, 0.004)).clamp(0.01, 0.9999);
    let germination = (claimed.germination.base() - loss).clamp(0.0, 1.0);
    // The test: fixed by the sample.
    let mut test = seeded((sample.sample, &sample.lot));
    let germination = share_of_test(&mut test, germination);
    let dormant = share_of_test(&mut test, dormant_claimed).min(1.0 - germination);
    let rest = 1.0 - purity;
    let (other_crop, weed_seed) = (rest * 0.05, rest * 0.02);
    let share = Fraction::from_base;
    LabReport {
        format: REPORT_FORMAT.to_owned(),
        laboratory: "Stand-in seed laboratory".to_owned(),
        sample: sample.sample,
        crop: sample.crop.clone(),
        lot: sample.lot.clone(),
        tested_on: sample.received_on,
        purity: share(purity),
        inert: share(rest - other_crop - weed_seed),
        other_crop: share(other_crop),
        weed_seed: share(weed_seed),
        germination: share(germination),
        dormant: share(dormant),
        seeds_tested: SEEDS_TESTED,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use actix_web::{App, test as service};
    use jiff::civil::date;
    use rstest::rstest;

    fn sample(number: u128, lot: &str, germination: f64, dormant: f64) -> Sample {
        Sample {
            sample: Uuid::from_u128(number),
            crop: "alfalfa".into(),
            lot: lot.into(),
            claimed: Tag::new(Fraction::percent(99.0), Fraction::percent(germination), Fraction::percent(dormant)),
            received_on: date(2026, 5, 14),
        }
    }

    #[rstest]
    #[case(85.0, 8.0)]
    #[case(20.0, 70.0)]
    #[case(99.5, 0.5)]
    fn a_report_is_a_report_and_near_the_claim(#[case] germination: f64, #[case] dormant: f64) {
        for number in 0..200 {
            let report = test(&sample(number, "NL-204", germination, dormant));
            report.check().unwrap();
            assert!((report.germination.base() * 100.0 - germination).abs() < 25.0, "{report:?}");
        }
    }

    #[test]
    fn the_same_sample_gives_the_same_report_and_another_one_differs() {
        assert_eq!(test(&sample(1, "A", 85.0, 8.0)), test(&sample(1, "A", 85.0, 8.0)));
        let germinations: Vec<_> = (0..10).map(|n| test(&sample(n, "A", 85.0, 8.0)).germination.base()).collect();
        assert!(germinations.iter().any(|one| *one != germinations[0]));
    }

    #[actix_web::test]
    async fn answers_over_http_and_refuses_what_cannot_be() {
        let app = service::init_service(App::new().configure(routes)).await;
        let post = |sample: Sample| service::TestRequest::post().uri("/seed-laboratory/samples").set_json(sample);
        let report: LabReport =
            service::call_and_read_body_json(&app, post(sample(1, "A", 85.0, 8.0)).to_request()).await;
        assert_eq!(report.format, REPORT_FORMAT);
        let refused = service::call_service(&app, post(sample(1, "A", 130.0, 0.0)).to_request()).await;
        assert_eq!(refused.status(), 422);
    }
}
