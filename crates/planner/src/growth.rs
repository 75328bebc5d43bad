//! What stands in a field, and what each cut to come will give: the stand followed by what was recorded and by the
//! weather, and on from today in each of the years.

use agronomy::{
    course::{Course, Deed, Evening, Followed, Harvest},
    crop::{Crop, Drainage, Kind, NitrogenRule, SeasonFacts, library},
    forage::quality::{ForageKind, IndicesRequest, indices},
    growth::{Cut, Plant, Quality, Soil, Stand},
    nutrients::Nutrient,
    said,
    said::Said,
    soil::Texture,
    source::{Origin, Source},
    units::{Fraction, Length, MassPerArea, Measure, Series, ThermalTime, Unit},
    water::{Profile, holds},
    weather::{Basis, Years, days_between, frost::quantile, plus, year_start},
    working::{Answer, Sheet},
    years::Scenarios,
};
use jiff::{ToSpan, civil::Date};
use serde::Serialize;
use utoipa::ToSchema;

use crate::{State, Step, ground::Asked};

/// Crops of a mix that are followed: the model has no room for more.
const MOST_CROPS: usize = 3;
/// Years of the past that a stand is followed for: what came before is forgotten.
const FOLLOWED: i32 = 8 * 365;
/// Days from sowing until a perennial is up (assumed; the field tells).
const UP_AFTER: i32 = 14;
/// Days shown ahead: to the end of the growing year, and no fewer than these.
const AHEAD: i32 = 150;
/// Days from sowing in which the model, which does not follow seedlings, is rough.
const YOUNG: i32 = 400;
/// Depth of a soil that nothing stops, m (assumed).
const DEEP: f64 = 2.0;
/// Nitrogen that humus frees in a moist year of 15 °C, kg/ha (assumed: sod, and ground that is worked each year).
const SUPPLIES: (f64, f64) = (140.0, 180.0);
/// Nitrogen taken for granted after each cut to come, where grass is cut that nobody has said will be fed, kg/ha.
pub(crate) const AFTER_CUT: f64 = 50.0;

/// Low, middle and high: one year of ten, half of them, nine of ten.
const SHARES: [f64; 3] = [0.1, 0.5, 0.9];

/// A cut that was or is to come.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct CutTold {
    /// The day; of one to come the middle of its days.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// It was done.
    pub done: bool,
    /// Dry matter it takes off the field: in one year of ten no more, in half of them, in nine of ten. Once it is done
    /// all three are what this year's weather made.
    pub taken: Series,
    /// What was weighed of it, as dry matter.
    pub weighed: Option<MassPerArea>,
    /// How tall it stands then, in the middling year.
    pub height: Length,
    /// Share of years that have it at early bloom, or headed.
    pub headed: Fraction,
    /// Share of the green that is leaf, in the middling year.
    pub leaf: Fraction,
    /// Feed in it as it stands, in the middling year.
    pub feed: Feed,
}

/// Feed in what stands, of dry matter, before harvest and storage take of it.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Feed {
    /// Crude protein.
    pub protein: Fraction,
    /// Neutral detergent fibre.
    pub ndf: Fraction,
    /// Of it what is digested in 48 hours.
    pub ndf_digestibility: Fraction,
    /// Relative forage quality.
    pub quality: Option<f64>,
}

/// Feed of a cut, with the index that markets and feeders read.
pub(crate) fn feed(crop: &Crop, Quality { protein, fibre, acid_fibre, digested }: Quality) -> Feed {
    let kind = if crop.kind == Kind::Grass { ForageKind::Grass } else { ForageKind::Legume };
    let (ndf, digestibility) = (Fraction::percent(fibre), Fraction::percent(digested));
    let request = IndicesRequest {
        kind,
        adf: Fraction::percent(acid_fibre),
        ndf,
        crude_protein: Some(Fraction::percent(protein)),
        ndf_digestibility: Some(digestibility),
        ash: None,
        fat: None,
    };
    let quality = indices(&request).ok().and_then(|told| told.value.relative_forage_quality);
    Feed {
        protein: Fraction::percent(protein),
        ndf,
        ndf_digestibility: digestibility,
        quality: quality.map(f64::round),
    }
}

/// What stands, and what is to come.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct StandGrowth {
    /// The first of them is a grass: it heads, and does not bloom.
    pub grass: bool,
    /// Names of the crops that were followed.
    pub crops: Vec<String>,
    /// The first day of what is drawn.
    #[schema(value_type = String, format = Date)]
    pub from: Date,
    /// Green dry matter above the usual stubble, day by day up to yesterday.
    pub so_far: Series,
    /// From today on, in one year of ten.
    pub low: Series,
    /// In half of the years.
    pub middle: Series,
    /// In nine of ten.
    pub high: Series,
    /// Green matter that stood above the stubble yesterday evening.
    pub above: MassPerArea,
    /// How tall it was.
    pub height: Length,
    /// Its stage, in words.
    pub stage: String,
    /// Cuts of this growing year, in order.
    pub cuts: Vec<CutTold>,
    /// All of this growing year: low, middle, high.
    pub year: Series,
    /// Years that what is to come was tried on.
    pub years: usize,
    /// Where they come from.
    pub basis: Basis,
    /// Days of the past that no station told.
    pub guessed: usize,
    /// What was taken for granted.
    #[schema(value_type = Vec<String>)]
    pub assumed: Vec<Said>,
}

/// A stand in words, by how far it is.
fn stage_words(crop: &Crop, facts: &SeasonFacts, plant: &Plant) -> &'static str {
    let grass = crop.kind == Kind::Grass;
    let (stage, bud) = (plant.stage(facts), facts.bud / facts.heads);
    match () {
        _ if !plant.alive => "ripe",
        _ if !plant.emerged => "not up yet",
        _ if !plant.grows(facts) => "at rest",
        _ if !plant.heading || stage < bud => "vegetative",
        _ if stage < 1.0 && grass => "boot",
        _ if stage < 1.0 => "bud",
        _ if stage < 1.3 && grass => "heading",
        _ if stage < 1.3 => "early bloom",
        _ if grass => "headed",
        _ => "full bloom",
    }
}

pub(crate) fn mass(kg_ha: f64) -> MassPerArea {
    MassPerArea::new(kg_ha, Unit::KgPerHa)
}

pub(crate) fn series(kg_ha: &mut dyn Iterator<Item = f64>) -> Series {
    Series::of::<MassPerArea>(Unit::KgPerHa, kg_ha.map(Some))
}

pub(crate) fn tonnes(kg_ha: &mut dyn Iterator<Item = f64>) -> Series {
    Series::of::<MassPerArea>(Unit::TPerHa, kg_ha.map(|one| Some(one / 1_000.0)))
}

/// Seasons back that are followed at most.
const MOST_SEASONS: i32 = 10;

const fn is_cut(deed: &Deed) -> bool {
    matches!(deed, Deed::Cut(_))
}

/// One stand asked about.
pub(crate) struct Followable<'a> {
    pub asked: Asked<'a>,
    pub crops: Vec<&'static Crop>,
    pub facts: Vec<&'static SeasonFacts>,
    pub soil: Soil,
    pub sown_on: Date,
    pub assumed: Vec<Said>,
}

impl<'a> Followable<'a> {
    fn new(asked: Asked<'a>) -> Result<Self, Said> {
        let sown_on =
            asked.sown_on.ok_or_else(|| Said::from("Not sown yet: growth is shown once the sowing is recorded."))?;
        let all: Vec<&Crop> = asked.choices.cover.crops().into_iter().filter_map(|id| library().crop(id)).collect();
        let crops: Vec<&Crop> = all.iter().copied().take(MOST_CROPS).collect();
        let facts: Vec<&SeasonFacts> = crops.iter().filter_map(|crop| library().season(&crop.id)).collect();
        if facts.is_empty() || facts.len() < crops.len() {
            return Err("The library has no growth figures for this crop.".into());
        }
        let mut assumed = vec![];
        if all.len() > crops.len() {
            let names = crops.iter().map(|crop| Said::from(crop.name.as_str()));
            assumed.push(said!(
                "Only {} are modelled: the growth model takes up to three crops.",
                Said::joined(names, ", ")
            ));
        }
        let site = &asked.ground.facts;
        let (texture, drainage) = (site.texture.unwrap_or(Texture::Loam), site.drainage.unwrap_or(Drainage::Moderate));
        let depth = site.restrictive_depth.map_or(DEEP, Measure::base).clamp(0.3, DEEP);
        if site.restrictive_depth.is_none() {
            assumed.push(said!(
                "Rooting depth up to {}: no restrictive layer is recorded.",
                Length::from_base(DEEP).quantity()
            ));
        }
        let profile = Profile::root_zone(holds(texture), drainage, depth.min(0.6)).down_to(depth);
        let supplies = if facts.iter().all(|facts| facts.annual) { SUPPLIES.1 } else { SUPPLIES.0 };
        Ok(Self { asked, crops, facts, soil: Soil { profile, supplies }, sown_on, assumed })
    }

    /// What was recorded of it since a day.
    fn done(&self, since: Date) -> Vec<(Date, Deed)> {
        let ground = self.asked.ground;
        let cuts = ground.cuts.iter().map(|cut| cut.on).chain(ground.unweighed.iter().copied());
        let mut cuts: Vec<Date> = cuts.filter(|on| *on > since).collect();
        cuts.sort_unstable();
        cuts.dedup();
        let nitrogen = ground.dressings.iter().filter_map(|dressing| {
            let share = dressing.what.analysis.get(&Nutrient::N)?;
            Some((dressing.on, Deed::Nitrogen((dressing.what.rate * *share).to(Unit::KgPerHa))))
        });
        let irrigation = ground.irrigation.iter().map(|water| (water.on, Deed::Irrigation(water.what.base())));
        let rain = ground.rain_gauge.iter().map(|gauge| (gauge.on, Deed::Rain(gauge.what.base())));
        let cut = cuts.into_iter().map(|on| (on, Deed::Cut(Cut::MOWN)));
        let mut all: Vec<(Date, Deed)> = nitrogen.chain(irrigation).chain(rain).chain(cut).collect();
        all.sort_by_key(|(on, _)| *on);
        all
    }

    /// Cuts to come, each in the middle of its days.
    fn planned(&self, steps: &[Step]) -> Vec<Date> {
        let today = self.asked.today;
        let open =
            |step: &&Step| step.look.operation == "cut" && !matches!(step.state, State::Done { .. } | State::Passed);
        let middle = |step: &Step| plus(step.from, days_between(step.from, step.to) / 2).max(today);
        let mut days: Vec<Date> = steps.iter().filter(open).map(middle).collect();
        days.sort_unstable();
        days.dedup();
        days
    }

    /// Cuts of past seasons of which nothing is recorded: as they are planned for this one, or the old growth cleared off at
    /// its beginning where none are planned. A stand that was entered when it stood already was not left uncut for years.
    fn unrecorded(&self, since: Date, planned: &[Date]) -> Vec<Date> {
        if self.facts.iter().all(|facts| facts.annual) {
            return vec![];
        }
        let season = self.asked.year_start;
        let next = season.saturating_add(1.year());
        let recorded: Vec<Date> = self.done(since).iter().filter(|(_, deed)| is_cut(deed)).map(|(on, _)| *on).collect();
        let of_this_season = |on: &&Date| (season..next).contains(*on);
        let this_season: Vec<Date> = recorded.iter().chain(planned).filter(of_this_season).copied().collect();
        let mut cuts = vec![];
        for ago in 1..=MOST_SEASONS {
            let (from, to) = (season.saturating_sub(ago.years()), season.saturating_sub((ago - 1).years()));
            // What was sown in a season was not cut in it as one that stood.
            if to <= since || self.sown_on >= from {
                break;
            }
            if recorded.iter().any(|on| (from..to).contains(on)) {
                continue;
            }
            let as_planned = this_season.iter().map(|on| on.saturating_sub(ago.years()));
            let cleared = this_season.is_empty().then(|| plus(to, -1));
            cuts.extend(as_planned.chain(cleared).filter(|on| *on > since));
        }
        cuts.sort_unstable();
        cuts
    }

    /// How it began, where the record reaches back to that; else as a stand in its rest, in the record's first winter.
    fn begins(&self, years: &Years) -> (Date, Stand) {
        let tropics = years.place.latitude.abs() < 11.0;
        let annual = self.facts.iter().all(|facts| facts.annual);
        let up = if annual { self.sown_on } else { plus(self.sown_on, UP_AFTER) };
        let earliest = years.first.max(plus(self.asked.today, -FOLLOWED));
        if up >= earliest {
            let begin = |facts: &&SeasonFacts| if facts.annual { Plant::sown(facts) } else { Plant::come_up(facts) };
            let plants: Vec<Plant> = self.facts.iter().map(begin).collect();
            return (plus(up, -1), Stand::new(&self.soil, &plants));
        }
        let turn = year_start(years.place.latitude, earliest);
        let from = if turn < earliest { year_start(years.place.latitude, plus(turn, 366)) } else { turn };
        let age = f64::from(days_between(self.sown_on, from)) / 365.25;
        let plants: Vec<Plant> =
            self.facts.iter().map(|facts| Plant::resting(facts, tropics, age.floor().max(1.0))).collect();
        (plus(from, -1), Stand::new(&self.soil, &plants))
    }
}

/// The quantiles of what is told of each of the years.
pub(crate) fn spread(values: impl Iterator<Item = f64>) -> Vec<f64> {
    let mut values: Vec<f64> = values.collect();
    values.sort_by(f64::total_cmp);
    SHARES.iter().filter_map(|share| quantile(&values, *share)).collect()
}

/// A stand that can be followed, and what was done to it.
pub(crate) struct Ready<'a> {
    pub stand: Followable<'a>,
    /// The evening it is followed from, and how it stood then.
    pub begin: (Date, Stand),
    /// What was done, and what is taken for done, in the order of days.
    pub deeds: Vec<(Date, Deed)>,
    /// Cuts to come, as they are planned.
    pub planned: Vec<Date>,
    /// It is grass that is fed after each cut.
    pub hungry: bool,
}

impl<'a> Ready<'a> {
    /// # Errors
    /// Why it can't be followed: nothing is sown, no figures, not up yet.
    pub fn new(asked: Asked<'a>, steps: &[Step], record: &Years) -> Result<Self, Said> {
        let mut stand = Followable::new(asked)?;
        let begin = stand.begins(record);
        if begin.0 >= plus(asked.today, -1) {
            return Err("Not emerged yet.".into());
        }
        let mut deeds = stand.done(begin.0);
        let planned = stand.planned(steps);
        let unrecorded = stand.unrecorded(begin.0, &planned);
        if !unrecorded.is_empty() {
            let this_season = planned.iter().any(|on| *on < asked.year_start.saturating_add(1.year()));
            let assumed = match this_season || deeds.iter().any(|(on, deed)| is_cut(deed) && *on >= asked.year_start) {
                true => "Earlier seasons without recorded cuts are assumed cut as this one is planned.",
                false => "Growth of earlier seasons without recorded cuts is assumed cleared off at their end.",
            };
            stand.assumed.push(assumed.into());
            deeds.extend(unrecorded.into_iter().map(|on| (on, Deed::Cut(Cut::MOWN))));
        }
        deeds.sort_by_key(|(on, _)| *on);
        let fed_by_cut =
            |crop: &&Crop| matches!(crop.nutrition.nitrogen, NitrogenRule::CoolGrass | NitrogenRule::TropicalCut);
        let hungry = stand.facts.iter().all(|facts| !facts.fixes) && stand.crops.iter().any(fed_by_cut);
        Ok(Self { stand, begin, deeds, planned, hungry })
    }

    /// What is taken for granted of its feeding and its youth.
    pub fn assume(&mut self, today: Date) {
        let stand = &mut self.stand;
        if self.hungry && !self.planned.is_empty() {
            let each = mass(AFTER_CUT).quantity();
            stand.assumed.push(said!("{} of nitrogen applied after each upcoming cut.", each));
        }
        if days_between(stand.sown_on, today) < YOUNG && !stand.facts.iter().all(|facts| facts.annual) {
            stand.assumed.push("Growth in the first year after sowing is a rough estimate.".into());
        }
    }
}

/// Fewer years say too little of what is to come.
///
/// # Errors
/// That there are too few.
pub(crate) fn enough(all: &Scenarios) -> Result<(), Said> {
    match all.runs().len() < 10 {
        true => Err("Forecasting growth needs at least ten years of weather.".into()),
        false => Ok(()),
    }
}

/// What stands in a field, and what each cut to come will give; `steps` are those of its plan, `record` the weather that
/// was, `all` the years from today on.
///
/// # Errors
/// Why it can't be told: nothing is sown, no figures, too few years.
pub fn growth(asked: Asked<'_>, steps: &[Step], record: &Years, all: &Scenarios) -> Result<Answer<StandGrowth>, Said> {
    let today = asked.today;
    let mut ready = Ready::new(asked, steps, record)?;
    enough(all)?;
    for on in &ready.planned {
        ready.deeds.push((*on, Deed::Cut(Cut::MOWN)));
        if ready.hungry {
            ready.deeds.push((plus(*on, 2), Deed::Nitrogen(AFTER_CUT)));
        }
    }
    ready.assume(today);
    ready.deeds.sort_by_key(|(on, _)| *on);
    let Ready { stand, begin, deeds, .. } = ready;
    let course = Course { facts: &stand.facts, soil: &stand.soil, deeds: &deeds };
    let past = course.past(record, begin, today).ok_or_else(|| Said::from("Weather data since sowing are missing."))?;
    let season = asked.year_start;
    let next = year_start(record.place.latitude, plus(season, 370));
    let days = days_between(today, next).max(AHEAD) as usize;
    let futures = course.futures(all, &past, days);
    Ok(told(&stand, (begin.0, season), &past, &futures, all))
}

fn told(
    stand: &Followable<'_>,
    (begin, season): (Date, Date),
    past: &Followed,
    futures: &[Followed],
    all: &Scenarios,
) -> Answer<StandGrowth> {
    let (crop, facts) = (stand.crops[0], stand.facts[0]);
    let first = plus(begin, 1).max(season);
    let skip = usize::try_from(days_between(plus(begin, 1), first)).unwrap_or(0);
    let days = futures.iter().map(|one| one.evenings.len()).min().unwrap_or(0);
    let each_day: Vec<Vec<f64>> =
        (0..days).map(|day| spread(futures.iter().map(|one| one.evenings[day].above))).collect();
    let at = |place: usize| series(&mut each_day.iter().map(|spread| spread[place]));
    let now = past.evenings.last().copied().unwrap_or_default();
    let mut sheet = Sheet::new(format!("growth of {}", crop.name));
    let source = library().source(&crop.season.source);
    sheet.source(source.clone());
    sheet.source(Source::published(
        "Monteith 1977, Phil. Trans. R. Soc. B 281:277\u{2013}294: matter made of light caught",
    ));
    sheet.source(Source::published("Allen, Pereira, Raes & Smith 1998, FAO-56: the water it draws on"));
    sheet.input("years_counted", futures.len() as f64, Origin::measured("the weather years"));
    sheet.input("early_bloom_or_heading", ThermalTime::from_base(facts.heads), Origin::sourced(source));
    sheet.gathered(
        "above_stubble",
        "each day: light intercepted, dry matter made of it, less what died",
        mass(now.above),
    );
    let mut cuts = vec![];
    for harvest in past.harvests.iter().filter(|harvest| harvest.on >= season) {
        cuts.push(done(stand, harvest));
    }
    let ahead = futures.iter().map(|one| one.harvests.len()).min().unwrap_or(0);
    let recorded = |on: Date| {
        let ground = stand.asked.ground;
        ground.unweighed.contains(&on) || ground.cuts.iter().any(|cut| cut.on == on)
    };
    for place in 0..ahead {
        let of = |value: fn(&Harvest) -> f64| spread(futures.iter().map(|one| value(&one.harvests[place])));
        let on = futures[0].harvests[place].on;
        let headed = futures.iter().filter(|one| one.harvests[place].stood.stage >= 1.0).count();
        let middle = |values: Vec<f64>| values.get(1).copied().unwrap_or(0.0);
        let taken = of(|harvest| harvest.taken);
        let name = format!("cut_of_{}", on.strftime("%-d_%b_%Y"));
        sheet.gathered(&name, "median of the weather years", mass(taken[1]));
        cuts.push(CutTold {
            on,
            done: recorded(on),
            taken: tonnes(&mut taken.into_iter()),
            weighed: weighed(stand, on),
            height: Length::new(middle(of(|harvest| harvest.stood.height)), Unit::Cm),
            headed: Fraction::from_base(headed as f64 / futures.len() as f64),
            leaf: Fraction::from_base(middle(of(|harvest| harvest.stood.leafy))),
            feed: feed(
                crop,
                Quality {
                    protein: middle(of(|harvest| harvest.quality.protein)),
                    fibre: middle(of(|harvest| harvest.quality.fibre)),
                    acid_fibre: middle(of(|harvest| harvest.quality.acid_fibre)),
                    digested: middle(of(|harvest| harvest.quality.digested)),
                },
            ),
        });
    }
    let next = plus(season, 366);
    let so_far: f64 = past.harvests.iter().filter(|one| one.on >= season).map(|one| one.taken).sum();
    let year =
        spread(futures.iter().map(|one| {
            so_far + one.harvests.iter().filter(|harvest| harvest.on < next).map(|one| one.taken).sum::<f64>()
        }));
    sheet.gathered("this_year", "median of the weather years, all cuts together", mass(year[1]));
    sheet.would_change(
        "Cuts, fertilizer and irrigation that were not recorded; pests, weeds, waterlogging; a stand count.",
    );
    sheet.answer(StandGrowth {
        grass: crop.kind == Kind::Grass,
        crops: stand.crops.iter().map(|crop| crop.name.clone()).collect(),
        from: first,
        so_far: series(&mut past.evenings[skip.min(past.evenings.len())..].iter().map(|one: &Evening| one.above)),
        low: at(0),
        middle: at(1),
        high: at(2),
        above: mass(now.above),
        height: Length::new(now.height, Unit::Cm),
        stage: stage_words(crop, facts, &past.stand.plants()[0]).to_owned(),
        cuts,
        year: tonnes(&mut year.into_iter()),
        years: futures.len(),
        basis: all.basis,
        guessed: past.guessed,
        assumed: stand.assumed.clone(),
    })
}

/// What was weighed of a cut, as dry matter.
fn weighed(stand: &Followable<'_>, on: Date) -> Option<MassPerArea> {
    let cut = stand.asked.ground.cuts.iter().find(|cut| cut.on == on)?;
    let dry = 1.0 - cut.what.moisture.map_or(0.0, Measure::base);
    Some(cut.what.harvested * Fraction::from_base(dry))
}

fn done(stand: &Followable<'_>, harvest: &Harvest) -> CutTold {
    CutTold {
        on: harvest.on,
        done: true,
        taken: tonnes(&mut SHARES.iter().map(|_| harvest.taken)),
        weighed: weighed(stand, harvest.on),
        height: Length::new(harvest.stood.height, Unit::Cm),
        headed: Fraction::from_base(f64::from(u8::from(harvest.stood.stage >= 1.0))),
        leaf: Fraction::from_base(harvest.stood.leafy),
        feed: feed(stand.crops[0], harvest.quality),
    }
}
