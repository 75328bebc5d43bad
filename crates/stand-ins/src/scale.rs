//! A kitchen scale that sends its weight: what lies on it, and whether it has settled.
//!
//! It is asked about a cup by its name, and makes up what a drill's row would have dropped into it: most rows alike,
//! one in ten choked. A real scale is asked for what lies on it, whatever it is called.

use actix_web::{HttpResponse, web};
use agronomy::units::{Mass, Unit};
use rand::RngExt;
use serde::{Deserialize, Serialize};

use crate::{
    seeds::{normal, seeded},
    weather_station::SIMULATED,
};

/// What a row of the drill drops, grams.
const USUAL: f64 = 21.0;
/// How far rows differ, as a share.
const SPREAD: f64 = 0.03;
/// One row in so many is choked.
const CHOKED: u32 = 10;

/// Which cup is on the scale.
#[derive(Debug, Clone, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Asked {
    /// Its name.
    #[serde(default)]
    pub cup: String,
}

/// What the scale sends.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Weighed {
    /// On it, the cup taken off.
    pub mass: Mass,
    /// It has settled.
    pub steady: bool,
}

/// The service's routes.
pub fn routes(config: &mut web::ServiceConfig) {
    config.route("/scale/weight", web::get().to(answer));
}

async fn answer(asked: web::Query<Asked>) -> HttpResponse {
    HttpResponse::Ok().insert_header((SIMULATED, "1")).json(weigh(&asked.cup))
}

/// Weigh a cup.
pub fn weigh(cup: &str) -> Weighed {
    let mut lot = seeded(("scale", cup));
    let choked = lot.random_range(0..CHOKED) == 0;
    let share = if choked { lot.random_range(0.0..0.5) } else { normal(&mut lot, 1.0, SPREAD) };
    // It shows tenths of a gram.
    let grams = (USUAL * share * 10.0).round().max(0.0) / 10.0;
    Weighed { mass: Mass::new(grams, Unit::G), steady: true }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn most_rows_are_alike_some_are_choked_and_a_cup_weighs_what_it_weighed() {
        let grams: Vec<f64> = (0..400).map(|row| weigh(&format!("Upper Larkin {row}")).mass.to(Unit::G)).collect();
        let alike = grams.iter().filter(|one| (18.5..=23.5).contains(*one)).count();
        assert!((330..=385).contains(&alike), "{alike} of 400");
        assert!(grams.iter().all(|one| (0.0..30.0).contains(one) && (one * 10.0).fract().abs() < 1e-6));
        assert_eq!(weigh("Upper Larkin 3"), weigh("Upper Larkin 3"));
    }
}
