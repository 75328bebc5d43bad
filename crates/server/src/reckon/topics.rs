//! The list of topics.

use agronomy::{
    blend, choosing, counting, drill, establish, forage, lime, machine, mix, nutrients, plants,
    refusal::Refused,
    seed, seedbed, site, soil,
    source::{Origin, Source},
    sowing, sprayer, spraying, spreader, tank,
    units::{Quantity, Unit},
    variety, water, weather, window,
    working::{Answer, Sheet},
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::Topic;
use crate::work;

/// Request of the topic `units.convert`.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ConvertRequest {
    /// The amount.
    pub quantity: Quantity,
    /// The unit wanted, such as `kg/ha`.
    pub to: String,
}

fn convert(request: &ConvertRequest) -> Result<Answer<Quantity>, Refused> {
    let from = request.quantity.unit;
    let to: Unit = request.to.parse().map_err(|error| Refused::one("/to", format!("{error}")))?;
    let Some(converted) = request.quantity.to(to) else {
        let expected = from.dimension().words();
        return Err(Refused::one("/to", format!("{from} is {expected}; it can\u{2019}t be told in {to}")));
    };
    let mut sheet = Sheet::new(format!("{from} in {to}"));
    sheet.source(Source::published("NIST Special Publication 811 (2008), appendix B.8: exact factors"));
    sheet.quantity("amount", request.quantity, Origin::Given);
    let factor = from.factor() / to.factor();
    sheet.input("factor", factor, Origin::sourced(&Source::published("NIST SP 811, B.8")));
    if from.offset() == to.offset() {
        sheet.line("converted", "amount × factor", converted);
    } else {
        sheet.gathered("converted", "amount × factor, and the offset of the scales", converted);
    }
    Ok(sheet.answer(converted))
}

/// All topics, by name.
pub fn all() -> Vec<Topic> {
    vec![
        Topic::new("blend.least_cost", "The cheapest products for a set of needs.", |request| {
            blend::least_cost_while(request, &work::wanted)
        }),
        Topic::new(
            "count.interval",
            "What so many places say of the field, and whether to go on.",
            counting::count_interval,
        ),
        Topic::new("count.plan", "How many places to count, and where.", counting::count_plan),
        Topic::new("crops.rank", "Crops for a goal and a place, with what is for and against each.", choosing::rank),
        Topic::new("depth.check", "Whether the seed lies at its depth.", sowing::depth_check),
        Topic::new("drill.calibrate", "A catch or a count as a rate, and the setting to try next.", drill::calibrate),
        Topic::new("drill.row", "What one row should drop over a measured course.", drill::row),
        Topic::new("drill.rows", "Rows of a drill beside one another.", drill::drill_rows),
        Topic::new(
            "emergence.forecast",
            "When a sowing comes up, and until when to wait.",
            establish::emergence_forecast,
        ),
        Topic::new("field.hours", "Hours and fillings of a job on a field.", machine::hours),
        Topic::new(
            "growing_time.left",
            "Days and warmth before the killing frost, and the stages reached.",
            window::growing_time::growing_time_left,
        ),
        Topic::new(
            "quality.indices",
            "Feed value, energy and class of a forage from its laboratory analysis.",
            forage::quality::indices,
        ),
        Topic::new(
            "quality.standing",
            "Fibre of standing alfalfa from its height and stage.",
            forage::quality::standing,
        ),
        Topic::new("lime.material", "Liming materials by the cost of what reacts.", lime::compare),
        Topic::new("lime.path", "Soil pH month by month after liming.", lime::path),
        Topic::new("lime.requirement", "Lime to a target pH, by the laboratory\u{2019}s school.", lime::need)
            .written_in(|request| {
                let school: Option<lime::LimeSchool> = serde_json::from_value(request["school"].clone()).ok();
                school.map(lime::LimeSchool::written_in)
            }),
        Topic::new("manure.rate", "A rate of manure, by whichever limit is met first.", nutrients::manure::rate),
        Topic::new("mix.design", "The stand a mix becomes, year by year; its boxes and inoculants.", mix::design),
        Topic::new("mix.rates", "A seed mix by live seeds, by share of full rate and by mass.", mix::rates),
        Topic::new("nutrients.need", "N, P and K by three schools side by side.", nutrients::need),
        Topic::new("nutrients.removal", "What a harvest carries off.", nutrients::removal),
        Topic::new("plan.compare", "Ways of making one stand, side by side.", planner::topic::compared),
        Topic::new("plan.make", "A plan from facts, choices and weather.", planner::topic::make),
        Topic::new("plants.count", "Plants by spacing and survival.", plants::count),
        Topic::new("seed.compare", "Lots by cost per million live seeds and per sown area.", seed::compare),
        Topic::new("seed.order", "A seed order in whole bags, lot by lot.", seed::order),
        Topic::new("seed.pls", "Pure live seed of a lot.", seed::pls),
        Topic::new("seed.rate", "A seeding rate as PLS, out of the bag, and as live seeds.", seed::rate),
        Topic::new("site.check", "Whether a field is fit for a crop, and from when.", site::check),
        Topic::new(
            "seedbed.firmness",
            "Whether the seedbed is firm enough, by the boot tests.",
            seedbed::firmness::firmness,
        ),
        Topic::new("soil.loss", "Soil that a slope may lose in a year, by cover.", seedbed::loss::soil_loss),
        Topic::new("soil.sampling", "How many soil cores, from which depths.", soil::sampling),
        Topic::new(
            "soil.temperature",
            "The soil at seed depth, from the air above it.",
            weather::soil_temperature::soil_temperature,
        ),
        Topic::new(
            "planting.progress",
            "How far apart plants stand so far, whether they last, and the loads that are left.",
            sowing::planting_progress,
        ),
        Topic::new("sowing.progress", "The rate so far, and whether the seed lasts.", sowing::sowing_progress),
        Topic::new("spray.check", "A spray held against its label and what stands there.", spraying::spray_check),
        Topic::new("sprayer.output", "What goes out of the nozzles per area.", sprayer::sprayer_output),
        Topic::new("spreader.pattern", "How wide a spreader spreads evenly, and how much.", spreader::pattern),
        Topic::new("stand.decide", "Keep a stand, wait, thicken it or start over.", establish::stand_decide),
        Topic::new("tank.mix", "Tanks for a field, and what goes into each.", tank::tank_mix),
        Topic::new("units.convert", "An amount in another unit.", convert).in_its_own_unit(),
        Topic::new(
            "variety.choose",
            "Kinds of a crop that fit, and own varieties by their trials.",
            variety::choose_variety,
        ),
        Topic::new("water.balance", "Water in the root zone, day by day.", water::balance),
        Topic::new("weather.et0", "Reference evapotranspiration of a day.", weather::et0::et0),
        Topic::new("weather.frost", "Last and first frosts at three thresholds.", weather::frost::frost),
        Topic::new("weather.gdd", "Degree-days, by a named method.", weather::degree_days::degree_days),
        Topic::new("weather.generate", "Years that could be, as a CSV file.", weather::generate),
        Topic::new("weather.radiation", "Length of day and radiation.", weather::sun::radiation),
        Topic::new("window.odds", "The odds of a sowing, day by day, and what limits them.", window::window_odds),
    ]
}
