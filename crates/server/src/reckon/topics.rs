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
        return Err(Refused::one("/to", format!("{from} is {expected}; it cannot be converted to {to}")));
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
        Topic::new("blend.least_cost", "Least-cost blend for a set of nutrient needs.", |request| {
            blend::least_cost_while(request, &work::wanted)
        }),
        Topic::new(
            "count.interval",
            "Mean and interval of a stand count, and whether to keep counting.",
            counting::count_interval,
        ),
        Topic::new("count.plan", "How many sample points to count, and where.", counting::count_plan),
        Topic::new("crops.rank", "Crops ranked for a goal and site, with pros and cons.", choosing::rank),
        Topic::new("depth.check", "Seeding depth check.", sowing::depth_check),
        Topic::new(
            "drill.calibrate",
            "Drill calibration: rate from a catch or count, and the next setting.",
            drill::calibrate,
        ),
        Topic::new("drill.row", "Target catch per row over a test course.", drill::row),
        Topic::new("drill.rows", "Comparison of drill rows.", drill::drill_rows),
        Topic::new("emergence.forecast", "Expected emergence, and how long to wait.", establish::emergence_forecast),
        Topic::new("field.hours", "Hours and refills for a field job.", machine::hours),
        Topic::new(
            "growing_time.left",
            "Days and heat units before killing frost, and stages reached.",
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
        Topic::new("lime.material", "Liming materials by cost per effective ton.", lime::compare),
        Topic::new("lime.path", "Soil pH month by month after liming.", lime::path),
        Topic::new("lime.requirement", "Lime requirement for a target pH, by the lab’s method.", lime::need)
            .written_in(|request| {
                let school: Option<lime::LimeSchool> = serde_json::from_value(request["school"].clone()).ok();
                school.map(lime::LimeSchool::written_in)
            }),
        Topic::new("manure.rate", "Manure rate by the first limit reached.", nutrients::manure::rate),
        Topic::new("mix.design", "How a mix develops by year; seed boxes and inoculants.", mix::design),
        Topic::new("mix.rates", "A seed mix by live seeds, by share of full rate and by mass.", mix::rates),
        Topic::new("nutrients.need", "N, P and K by three methods.", nutrients::need),
        Topic::new(
            "nutrients.starter",
            "Starter fertilizer with the seed or in a side band, by its salt.",
            nutrients::starter::starter,
        ),
        Topic::new("nutrients.removal", "Nutrient removal by a harvest.", nutrients::removal),
        Topic::new("plan.compare", "Establishment methods compared.", planner::topic::compared),
        Topic::new("plan.make", "A plan from records, choices and weather.", planner::topic::make),
        Topic::new("plants.count", "Plants by spacing and survival.", plants::count),
        Topic::new("seed.compare", "Lots by cost per million live seeds and per sown area.", seed::compare),
        Topic::new("seed.order", "A seed order in whole bags, lot by lot.", seed::order),
        Topic::new("seed.pls", "Pure live seed of a lot.", seed::pls),
        Topic::new("seed.rate", "Seeding rate as PLS, bulk and live seeds.", seed::rate),
        Topic::new("site.check", "Field suitability for a crop, and from when.", site::check),
        Topic::new("seedbed.firmness", "Seedbed firmness by boot tests.", seedbed::firmness::firmness),
        Topic::new("soil.loss", "Annual soil loss on a slope, by cover.", seedbed::loss::soil_loss),
        Topic::new("soil.sampling", "Number of soil cores and depths.", soil::sampling),
        Topic::new(
            "soil.temperature",
            "Soil temperature at seeding depth from air temperature.",
            weather::soil_temperature::soil_temperature,
        ),
        Topic::new(
            "planting.progress",
            "Planting progress: spacing, pieces and loads left.",
            sowing::planting_progress,
        ),
        Topic::new("sowing.progress", "Sowing progress: rate so far and seed left.", sowing::sowing_progress),
        Topic::new("spray.check", "Spray checked against its label and the stand.", spraying::spray_check),
        Topic::new("sprayer.output", "Sprayer output per area.", sprayer::sprayer_output),
        Topic::new("spreader.pattern", "Spreader pattern: even width and rate.", spreader::pattern),
        Topic::new("stand.decide", "Stand decision: keep, wait, thicken or reseed.", establish::stand_decide),
        Topic::new("tank.mix", "Tanks for a field, and what goes into each.", tank::tank_mix),
        Topic::new("units.convert", "An amount in another unit.", convert).in_its_own_unit(),
        Topic::new("variety.choose", "Variety types that fit, and your varieties by trial.", variety::choose_variety),
        Topic::new("water.balance", "Water in the root zone, day by day.", water::balance),
        Topic::new("weather.et0", "Reference evapotranspiration of a day.", weather::et0::et0),
        Topic::new("weather.frost", "Last and first frosts at three thresholds.", weather::frost::frost),
        Topic::new("weather.gdd", "Degree-days, by a named method.", weather::degree_days::degree_days),
        Topic::new("weather.generate", "Generated weather years, as CSV.", weather::generate),
        Topic::new("weather.radiation", "Length of day and radiation.", weather::sun::radiation),
        Topic::new("window.odds", "Sowing odds by day, and what limits them.", window::window_odds),
    ]
}
