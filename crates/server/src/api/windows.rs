//! One decision over HTTP: what the years say of a sowing.

use std::sync::Arc;

use actix_web::{post, web};
use agronomy::{
    refusal::Checks,
    units::{Fraction, Length, Measure, Money, Series, Temperature, Unit},
    weather::days_between,
    window::{WindowAnswer, growing_time::TimeLeft, reading_depth},
    working::Answer,
};
use planner::{
    ground::readiness,
    weather::{Question, assumed, growing_time, seedbed, sowing},
};
use records::{Choices, kinds::choices::ChoicesShape};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    api::{account::check_level, story::Story},
    app::State,
    body::{Body, Shown},
    climate::FarmWeather,
    problem::{Problem, ProblemDocument},
    sign_in::Member,
};

/// A sowing to ask the years about.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct WindowsBody {
    /// The field.
    pub field: Uuid,
    /// The choices; the day asked about is their sowing day.
    pub choices: ChoicesShape,
    /// Odds at which a window opens and closes; the person's own level when absent.
    #[serde(default)]
    pub level: Option<Fraction>,
    /// What a failed sowing costs.
    #[serde(default)]
    pub stake: Option<Money>,
}

/// How far a crop gets.
#[derive(Debug, Serialize, ToSchema)]
pub struct CropTime {
    /// Crop id.
    pub crop: String,
    /// Its time.
    pub left: TimeLeft,
}

/// What the years say of a sowing.
#[derive(Debug, Serialize, ToSchema)]
pub struct WindowsView {
    /// The ways of timing it, the usual first; none without weather years.
    pub windows: Vec<Answer<WindowAnswer>>,
    /// Key of the way that its day is read by.
    pub read_by: Option<String>,
    /// How far each crop gets before the killing frost; empty where frost is not known.
    pub growing_time: Vec<CropTime>,
    /// Morning soil temperature at seed depth in each year, thinned to the years drawn; from
    /// the curve's first day on.
    pub soil_years: Vec<Series>,
    /// The same of this year as far as it is known.
    pub soil_so_far: Series,
    /// Depth it is read at.
    pub depth: Length,
    /// What the soil has to hold.
    pub soil_wanted: Option<Temperature>,
    /// What is taken for granted of the field.
    pub assumed: Vec<String>,
    /// Frost is known here.
    pub frosty: bool,
}

/// What do the years say of this sowing? Writes nothing.
#[utoipa::path(params(("farm" = Uuid, Path)), request_body = WindowsBody, responses(
    (status = 200, body = WindowsView),
    (status = 404, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/farms/{farm}/windows")]
pub async fn windows(
    state: web::Data<State>,
    member: Member,
    Body(body): Body<WindowsBody>,
) -> Result<Shown<WindowsView>, Problem> {
    let choices = body.choices.ready();
    records::check(&choices, member.today()).map_err(|refused| refused.under("/choices"))?;
    let level = body.level.unwrap_or(Fraction::from_base(member.person.odds_level));
    let mut checks = Checks::new();
    check_level(&mut checks, "/level", level);
    if let Some(stake) = body.stake {
        checks.within("/stake", "Cost of a failed sowing", stake, Unit::Money, 0.0, 1e12);
    }
    checks.done()?;
    let mut connection = state.pool.get().await?;
    let story = Story::of_field(&mut connection, &member, body.field).await?;
    let heard = state.climates.hear(&mut connection, &member.membership, story.today).await?;
    drop(connection);
    let (shared, system) = (state.clone(), member.reader());
    let work = move || asked_of_the_years(&story, &choices, shared.climates.settle(heard), level, body.stake);
    Ok(Shown(system, state.work.run(member.farm(), work).await??))
}

fn asked_of_the_years(
    story: &Story,
    choices: &Choices,
    weather: Option<Arc<FarmWeather>>,
    level: Fraction,
    stake: Option<Money>,
) -> Result<WindowsView, Problem> {
    let (field, today) = (story.field()?, story.today);
    let ground = story.books.field(field.id);
    let crops: Vec<_> = choices.cover.crops().into_iter().filter_map(|id| agronomy::crop::library().crop(id)).collect();
    let texture = ground.facts.texture.unwrap_or(agronomy::soil::Texture::Loam);
    let depth = crops.iter().map(|crop| reading_depth(crop, texture)).reduce(|a, b| if a > b { a } else { b });
    let wanted = crops.iter().map(|crop| crop.establish.soil_temperature.measure::<Temperature>());
    let mut view = WindowsView {
        windows: vec![],
        read_by: None,
        growing_time: vec![],
        soil_years: vec![],
        soil_so_far: Series { values: vec![], unit: Unit::DegC },
        depth: depth.unwrap_or_default(),
        soil_wanted: wanted.reduce(|a, b| if a > b { a } else { b }),
        assumed: assumed(&ground),
        frosty: false,
    };
    let Some(weather) = weather else { return Ok(view) };
    let years = weather.scenarios(choices.sow_on);
    let runs = weather.runs(&years, &seedbed(choices, &ground, &*weather));
    let asked = story.asked(choices, field, &ground, None);
    // A field that can't be judged is taken as fit: the site check says what is wrong with it.
    let fit = readiness(asked).ok().flatten().and_then(|answer| answer.value.earliest);
    view.windows = sowing(Question { asked, years: &years, level, stake }, &runs, fit);
    view.read_by = planner::weather::on_its_day(choices, &view.windows).map(|odds| odds.window);
    view.frosty = years.frosty();
    if view.frosty {
        let left = growing_time(choices, &years);
        view.growing_time = left.into_iter().map(|(crop, left)| CropTime { crop, left }).collect();
    }
    let draw = |run: &agronomy::years::GroundRun, days: usize| {
        let mornings = run.mornings()[..days].iter().map(|one| Some(f64::from(*one)));
        Series::of::<Temperature>(Unit::DegC, mornings)
    };
    let whole = |run| draw(run, years.days());
    // A dozen years are enough to see the spread.
    view.soil_years = runs.runs().iter().step_by((runs.runs().len() / 12).max(1)).map(whole).collect();
    let known = usize::try_from(days_between(years.first(), today)).unwrap_or(0).min(years.days());
    if let Some(run) = runs.runs().first() {
        view.soil_so_far = draw(run, known);
    }
    Ok(view)
}
