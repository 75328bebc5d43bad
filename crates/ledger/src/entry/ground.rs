//! The ground of a field, from its entries.

use agronomy::{
    site::{Bioassay, PastCrop, Spray},
    weather::soil_temperature::SoilReading,
};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use planner::ground::{Dated, Ground};
use uuid::Uuid;

use super::{Entry, Payload, Row, with_strikes};
use crate::{Connection, Result, farm::Membership, schema::entries};

/// Kinds of entries that the ground of a field is made of.
pub(super) const GROUND: [&str; 11] = [
    "site",
    "soil-test",
    "soil-sample",
    "spray",
    "past-crop",
    "bioassay",
    "dressing",
    "cut",
    "soil-temperature",
    "rain-gauge",
    "irrigation",
];

/// All entries about the ground of a farm's fields, or of one, oldest first.
///
/// # Errors
/// When the database fails or an entry can't be read.
pub async fn of_ground(connection: &mut Connection, member: &Membership, field: Option<Uuid>) -> Result<Vec<Entry>> {
    let mut query =
        entries::table.filter(entries::farm_id.eq(member.farm.id).and(entries::kind.eq_any(GROUND))).into_boxed();
    if let Some(field) = field {
        query = query.filter(entries::field_id.eq(field));
    }
    let rows = query
        .order((entries::occurred_on, entries::recorded_at, entries::id))
        .select(Row::as_select())
        .load(connection)
        .await?;
    with_strikes(connection, member, rows).await
}

/// The ground of a field as its entries tell it, struck ones left out.
pub fn ground(entries: &[Entry], field: Uuid) -> Ground {
    let mut ground = Ground::default();
    for entry in entries.iter().filter(|entry| entry.field == Some(field) && entry.struck_by.is_none()) {
        let (id, on) = (entry.id, entry.occurred_on);
        match &entry.payload {
            Payload::Site { facts, history_known } => {
                ground.facts = (**facts).clone();
                ground.history_known = *history_known;
            }
            Payload::SoilTest { test } => {
                ground.tests.push(Dated { entry: id, on: test.sampled_on, what: (**test).clone() });
            }
            Payload::Spray { active, label_months, .. } => {
                let spray = Spray { active: active.clone(), on, label_months: *label_months };
                ground.sprays.push(Dated { entry: id, on, what: spray });
            }
            Payload::PastCrop { crop, years } => {
                let past = PastCrop { crop: crop.clone(), ended: on, years: *years };
                ground.past_crops.push(Dated { entry: id, on, what: past });
            }
            Payload::Bioassay { passed, .. } => {
                ground.bioassays.push(Dated { entry: id, on, what: Bioassay { on, passed: *passed } });
            }
            Payload::Dressing { dressing } => {
                ground.dressings.push(Dated { entry: id, on, what: (**dressing).clone() });
            }
            Payload::SoilTemperature { depth, temperature } => {
                ground.soil_readings.push(SoilReading { on, depth: *depth, temperature: *temperature });
            }
            Payload::RainGauge { rain } => ground.rain_gauge.push(Dated { entry: id, on, what: *rain }),
            Payload::Irrigation { depth } => ground.irrigation.push(Dated { entry: id, on, what: *depth }),
            Payload::Cut { cut } => ground.cuts.push(Dated { entry: id, on, what: (**cut).clone() }),
            _ => {}
        }
    }
    ground.tests.sort_by_key(|test| test.on);
    ground
}
