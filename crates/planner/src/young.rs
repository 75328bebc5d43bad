//! The young stand: when it comes up, what to look at, what a count of it says, what is not done to it yet.

use agronomy::{
    crop::library,
    establish::{
        Bar, DecideRequest, Decision, Emergence, Waited, YoungLook, YoungStand, emergence_of, stand_decide, young_looks,
    },
    practice::{practice, regime},
    said,
    said::Said,
    soil::Texture,
    units::{Fraction, Length, Measure},
    weather::{days_between, plus, soil_temperature::SoilCover},
    window::seed_depth,
    working::Answer,
};
use jiff::civil::Date;
use records::{Choices, book::StandBook};
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    Sky,
    ground::Asked,
    weather::{Question, sowing},
};

/// Days after a sowing in which it is asked whether it comes up.
pub const COMES_UP: i32 = 200;
/// Days after a sowing in which a stand is young.
const YOUNG: i32 = 420;
/// Days within which seed was still sown for the same sowing (assumed).
const SAME_SOWING: i32 = 21;
/// Crops of a mix whose emergence is told: the first ones.
const MOST_CROPS: usize = 6;

/// A crop that was sown and is waited for.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct ComingUp {
    /// Crop of the library.
    pub crop: String,
    /// Its name.
    pub name: String,
    /// What is expected.
    pub told: Answer<Emergence>,
}

/// A count, and what follows.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct CountJudged {
    /// The entry.
    pub entry: Uuid,
    /// Its day.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// Crop of the library.
    pub crop: String,
    /// What it says; none where nobody has told how much is enough.
    pub decision: Option<Answer<Decision>>,
    /// Why it says nothing.
    #[schema(value_type = Option<String>)]
    pub untold: Option<Said>,
}

/// Something to look at.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct Watch {
    /// Stable name.
    pub key: String,
    /// In a word or two.
    pub title: String,
    /// What to do.
    #[schema(value_type = String)]
    pub text: Said,
    /// From this day.
    #[schema(value_type = String, format = Date)]
    pub from: Date,
    /// Until.
    #[schema(value_type = String, format = Date)]
    pub to: Date,
    /// Today lies in it.
    pub now: bool,
    /// The next time of what comes again.
    #[schema(value_type = Option<String>, format = Date)]
    pub next: Option<Date>,
    /// What is not done until its last day.
    pub bars: Vec<Bar>,
}

/// A stand in its first two years.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct Young {
    /// Days since it was sown.
    pub days: i32,
    /// What comes up when; nothing once a count was made, or where it is not known.
    pub coming: Vec<ComingUp>,
    /// The last count.
    pub counted: Option<CountJudged>,
    /// What to look at: what has begun, and what begins within two weeks.
    pub watch: Vec<Watch>,
}

/// Between the tropics no winter comes.
const TROPIC: f64 = 23.5;
/// A place with winters, where only its side of the equator is known.
const TEMPERATE: f64 = 45.0;

/// Whether days shorten before a winter: a stand sown then winters as a seedling.
fn autumn(latitude: f64, sown_on: Date) -> bool {
    if latitude.abs() < TROPIC {
        return false;
    }
    let south = latitude < 0.0;
    let after_midsummer = (7..=12).contains(&sown_on.month());
    // A few weeks past midsummer it is still summer.
    let late = !matches!(sown_on.month(), 7 | 1);
    late && after_midsummer != south
}

/// Looks of a stand sown on a day; where the place is not known, those of any.
fn looks<'a>(
    choices: &Choices,
    asked: Option<&Asked<'_>>,
    latitude: Option<f64>,
    sown_on: Date,
) -> impl Iterator<Item = &'a YoungLook> + use<'a> {
    let crops: Vec<_> = choices.cover.crops().into_iter().filter_map(|id| library().crop(id)).collect();
    let into = practice(&choices.practice).is_some_and(|school| school.cover == SoilCover::Sward);
    let stand = YoungStand {
        crops: &crops,
        texture: asked.and_then(|asked| asked.ground.facts.texture),
        plants: choices.cover.is_plants(),
        sown_into: into,
        autumn: latitude.is_some_and(|latitude| autumn(latitude, sown_on)),
        winter: latitude.is_some_and(|latitude| latitude.abs() >= TROPIC),
        after_frost: choices.regime.as_deref().and_then(regime).is_some_and(|regime| regime.after_frost),
    };
    young_looks().iter().filter(|look| look.is_of(stand)).collect::<Vec<_>>().into_iter()
}

/// What speaks against doing something on a stand on a day, in its first years.
pub fn barred(
    choices: &Choices,
    latitude: f64,
    sown_on: Date,
    on: Date,
    leaves: Option<f64>,
    what: Bar,
) -> Option<Said> {
    let days = days_between(sown_on, on);
    looks(choices, None, Some(latitude), sown_on)
        .find(|look| look.bars.contains(&what) && look.from <= days && look.stands(days, leaves))
        .map(|look| said!("{}. {}", look.title.as_str(), look.says()))
}

/// A stand that is young, from its book, the weather and the day; none of one that is not sown, or is old.
pub fn young(asked: Asked<'_>, book: &StandBook, sky: Option<Sky<'_>>) -> Option<Young> {
    let sown_on = asked.sown_on?;
    let days = days_between(sown_on, asked.today);
    let last = book.counts.last();
    // Seed of a later day, that thickened it or filled its gaps, has seedlings of its own.
    let again_on = book.last_seeded(asked.today).filter(|on| days_between(sown_on, *on) > SAME_SOWING);
    let since_again = again_on.map(|on| days_between(on, asked.today)).filter(|days| *days <= YOUNG);
    if days < 0 || (days > YOUNG && last.is_none() && since_again.is_none()) {
        return None;
    }
    let seen = asked.ground.seen.or_later(book.seen);
    let up = seen.up.is_some_and(|on| on >= sown_on) || last.is_some();
    let waits = days <= COMES_UP && last.is_none();
    let again = sky.filter(|_| last.is_some() || (waits && !up)).and_then(|sky| next_odds(asked, sky));
    let coming = match sky {
        Some(sky) if waits => {
            let again = again.map(Measure::base);
            let irrigated = asked.ground.facts.irrigated;
            let depth = Length::default();
            let waited = Waited { sown: 0, days: days as usize, seen: up, irrigated, depth, odds: None, again };
            coming_up(asked, sky, sown_on, waited)
        }
        _ => vec![],
    };
    let counted = last.map(|count| {
        let request = DecideRequest {
            crop: count.what.crop.clone(),
            sown_on,
            today: count.on,
            counted: count.what.counted.ready(),
            stems: count.what.stems,
            full: count.what.full,
            thin: count.what.thin,
            next_odds: again,
            thicken_cost: count.what.prices.thicken,
            start_over_cost: count.what.prices.start_over,
            price: count.what.prices.dry_matter,
            years: None,
        };
        let (decision, untold) = match stand_decide(&request) {
            Ok(decision) => (Some(decision), None),
            Err(refused) => (None, refused.0.into_iter().next().map(|one| one.detail)),
        };
        CountJudged { entry: count.entry, on: count.on, crop: count.what.crop.clone(), decision, untold }
    });
    // Where no weather is at hand, the growing year says on which side of the equator the place lies.
    let side = if asked.year_start.month() == 7 { -TEMPERATE } else { TEMPERATE };
    let latitude = sky.map_or(side, |sky| sky.years.place().latitude);
    let seen_by = |sown_on: Date| seen.leaves.filter(|(on, _)| *on >= sown_on).map(|(_, leaves)| leaves);
    let looked_at = |sown_on: Date, look: &YoungLook| {
        let days = days_between(sown_on, asked.today);
        let next = look.every.map(|every| {
            let times = (days - look.from).max(0).div_euclid(every) + i32::from((days - look.from) % every > 0);
            plus(sown_on, look.from + times * every)
        });
        let watch = Watch {
            key: look.key.clone(),
            title: look.title.clone(),
            text: look.says(),
            from: plus(sown_on, look.from),
            to: plus(sown_on, look.to),
            now: days >= look.from,
            next: next.filter(|next| *next <= plus(sown_on, look.to)),
            bars: look.bars.clone(),
        };
        (days >= look.from - 14 && look.stands(days, seen_by(sown_on))).then_some(watch)
    };
    let of = |sown_on: Date| looks(asked.choices, Some(&asked), Some(latitude), sown_on);
    let mut watch: Vec<Watch> = of(sown_on).filter_map(|look| looked_at(sown_on, look)).collect();
    if let Some(again_on) = again_on.filter(|_| since_again.is_some()) {
        let later: Vec<Watch> = of(again_on).filter_map(|look| looked_at(again_on, look)).collect();
        watch.retain(|one| later.iter().all(|other| other.key != one.key));
        watch.extend(later);
    }
    Some(Young { days, coming, counted, watch })
}

fn coming_up(asked: Asked<'_>, sky: Sky<'_>, sown_on: Date, waited: Waited) -> Vec<ComingUp> {
    let (years, runs) = (sky.ahead)(sown_on);
    let Ok(sown) = usize::try_from(days_between(years.first(), sown_on)) else { return vec![] };
    if years.runs().len() < 10 || sown >= years.days() {
        return vec![];
    }
    let texture = asked.ground.facts.texture.unwrap_or(Texture::Loam);
    let crops = asked.choices.cover.crops().into_iter().filter_map(|id| library().crop(id));
    crops
        .filter_map(|crop| {
            let facts = crop.establish.emergence.as_ref()?;
            let waited = Waited { sown, depth: seed_depth(crop, texture), ..waited };
            let told = emergence_of(crop, facts, &years, &runs, waited);
            Some(ComingUp { crop: crop.id.clone(), name: crop.name.clone(), told })
        })
        .take(MOST_CROPS)
        .collect()
}

/// Odds of the best day on which the stand could be sown again.
fn next_odds(asked: Asked<'_>, sky: Sky<'_>) -> Option<Fraction> {
    let choices = Choices { sow_on: plus(asked.today, 1), ..asked.choices.clone() };
    let again = Asked { choices: &choices, sown_on: None, ..asked };
    let (years, runs) = (sky.ahead)(choices.sow_on);
    let ways = sowing(Question { asked: again, years: &years, level: sky.level, stake: None }, &runs, None);
    let best = ways.iter().filter_map(|way| way.value.edges.best.as_ref()).map(|edge| edge.odds);
    best.reduce(f64::max).map(Fraction::from_base)
}
