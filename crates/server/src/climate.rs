//! Weather years at hand: loaded once for a farm, kept until its weather or its day changes.
//!
//! Nothing here is a truth of its own: it is what the database holds, keyed by the station's revision
//! and the farm's day, and may be dropped at any moment.

use std::{
    collections::HashMap,
    sync::{Arc, Mutex, MutexGuard, PoisonError},
};

use agronomy::{
    soil::Texture,
    units::{Fraction, Length, Measure, Temperature},
    weather::{
        Place, Years,
        band::{WeatherBand, band},
        days_between, plus,
        soil_temperature::{Ground, SoilCover, follow},
        usual,
        usual_year::{UsualYear, usual_year},
        year_start,
    },
    window::Forecast,
    years::{Known, Scenarios, Site, SiteRuns},
};
use jiff::civil::Date;
use ledger::{
    Connection, entry,
    farm::Membership,
    weather::{self, Station},
};
use planner::weather::{Modelled, Mornings};
use records::{Payload, Record, kinds::climate_normals::ClimateNormals};
use uuid::Uuid;

use crate::{lately::Lately, problem::Problem};

/// Days of a curve: the year on the axis, and the spring after it.
pub const CURVE: usize = 500;
/// What the weather of all farms at hand may come to, bytes; that asked for longest ago goes first.
const MOST_BYTES: usize = 100_000_000;
/// Of each farm a little is taken by what is not counted.
const EACH: usize = 100_000;
/// What the stretches of years of one farm may come to, bytes: some six of a record of forty years.
const MOST_OF_STRETCHES: usize = 20_000_000;
/// What the runs of one farm's kinds of ground may come to, bytes.
const MOST_OF_SITES: usize = 50_000_000;
/// Soils and depths whose mornings are kept at hand.
const MOST_MORNINGS: usize = 48;
/// Depth of the soil in the band, m.
const BAND_DEPTH: f64 = 0.10;

/// A farm's weather as it stands on one day.
pub struct FarmWeather {
    /// What it hangs on.
    pub source: Source,
    /// The record, or the years made from what is usual.
    pub years: Years,
    /// The forecast, when one was heard that still tells of today.
    pub forecast: Forecast,
    today: Date,
    soil: Vec<Option<f64>>,
    stretches: Mutex<Lately<Date, Arc<Scenarios>>>,
    sites: Mutex<Lately<(Date, u64), Arc<SiteRuns>>>,
    mornings: Mutex<Lately<[u64; 4], Mornings>>,
    usual: Mutex<HashMap<[u64; 2], UsualYear>>,
}

impl Modelled for FarmWeather {
    fn mornings(&self, soil: Ground, depth: Length) -> Mornings {
        let key = [soil.diffusivity, soil.swing, soil.sunny, depth.base()].map(f64::to_bits);
        if let Some(kept) = locked(&self.mornings).get(&key) {
            return kept.clone();
        }
        let fresh = self.years.mornings(soil, depth);
        locked(&self.mornings).put(key, fresh.clone());
        fresh
    }
}

/// Memory of one farm's weather.
fn bytes(weather: &FarmWeather) -> usize {
    // What is being worked on is counted at the next look.
    let stretches = weather.stretches.try_lock().map_or(0, |stretches| stretches.weight());
    let sites = weather.sites.try_lock().map_or(0, |sites| sites.weight());
    EACH + size_of_val(&weather.years.days[..]) + size_of_val(&weather.soil[..]) + stretches + sites
}

/// What a farm's weather hangs on: changed, it is worked out anew.
#[derive(Debug, Clone, PartialEq)]
pub enum Source {
    /// The days of its station, at their revision.
    Station(Station),
    /// What its manager wrote down as usual.
    Usual {
        /// The entry.
        entry: Uuid,
        /// Where.
        place: Place,
    },
}

impl Source {
    /// A number that changes with it.
    fn revision(&self) -> i64 {
        match self {
            Self::Station(station) => station.revision,
            // No revision of a station is below nothing.
            Self::Usual { entry, place } => {
                let lies = place.latitude.to_bits() ^ place.elevation.to_bits().rotate_left(32);
                -1 - ((entry.as_u64_pair().1 ^ lies) >> 2) as i64
            }
        }
    }
}

/// The years as one person asks them: a farm's weather, when it has any, and the odds at which a
/// window counts as open for them.
#[derive(Clone)]
pub struct Outlook {
    /// The weather; none without a day of record and without what is usual.
    pub weather: Option<Arc<FarmWeather>>,
    /// The person's own level.
    pub level: Fraction,
}

fn locked<T>(mutex: &Mutex<T>) -> MutexGuard<'_, T> {
    // What is cached is whole after every step: a panic elsewhere does not spoil it.
    mutex.lock().unwrap_or_else(PoisonError::into_inner)
}

impl FarmWeather {
    /// The usual year above a base and until a killing frost.
    pub fn usual(&self, base: Temperature, killing: Temperature) -> UsualYear {
        let key = [base.base(), killing.base()].map(f64::to_bits);
        // Of as many crops as the library has, and no more.
        *locked(&self.usual).entry(key).or_insert_with(|| usual_year(&self.years, base, killing))
    }

    /// The stretch of years that holds a day: this year's when the day lies in it, else the day's own.
    pub fn scenarios(&self, day: Date) -> Arc<Scenarios> {
        let latitude = self.years.place.latitude;
        let own = year_start(latitude, self.today);
        let ahead = days_between(own, day);
        let first = if (0..CURVE as i32 - 45).contains(&ahead) { own } else { year_start(latitude, day) };
        let mut stretches = locked(&self.stretches);
        if let Some(scenarios) = stretches.get(&first) {
            return scenarios.clone();
        }
        let known = Known { years: &self.years, today: self.today, forecast: &self.forecast };
        let scenarios = Arc::new(Scenarios::new(known, first, CURVE));
        stretches.put(first, scenarios.clone());
        scenarios
    }

    /// A site's soil in every run of a stretch.
    pub fn runs(&self, scenarios: &Arc<Scenarios>, site: &Site) -> Arc<SiteRuns> {
        let key = (scenarios.first(), site.key());
        if let Some(runs) = locked(&self.sites).get(&key) {
            return runs.clone();
        }
        let runs = Arc::new(scenarios.site(site));
        locked(&self.sites).put(key, runs.clone());
        runs
    }

    /// The band over a stretch of days.
    pub fn band(&self, from: Date, days: usize) -> WeatherBand {
        band(&self.years, &self.soil, &self.forecast, self.today, from, days)
    }

    /// Rain of this axis year so far, mm, and what half of the years had by now; `None` where days are
    /// missing.
    pub fn rain_so_far(&self) -> (Option<f64>, Option<f64>) {
        let start = year_start(self.years.place.latitude, self.today);
        let length = days_between(start, self.today);
        let sum = |from: Date| {
            (0..length).map(|ahead| self.years.day(plus(from, ahead)).map(|day| day.rain)).sum::<Option<f64>>()
        };
        let mut others: Vec<f64> = (1..=200)
            .map_while(|back| start.with().year(start.year() - back).build().ok())
            .take_while(|from| *from >= self.years.first)
            .filter_map(sum)
            .collect();
        others.sort_by(f64::total_cmp);
        (sum(start), agronomy::weather::frost::quantile(&others, 0.5))
    }
}

/// A farm's weather as the database holds it.
pub struct Fresh {
    farm: Uuid,
    source: Source,
    told: Told,
    forecast: Forecast,
    today: Date,
}

/// Days, or what they are made from.
enum Told {
    Days(Years),
    Months(Vec<usual::Month>),
}

/// What was heard of a farm's weather.
pub enum Heard {
    /// It has not a day of record, and nobody has told what is usual.
    Nothing,
    /// It is at hand already.
    Kept(Arc<FarmWeather>),
    /// It has to be worked out.
    Fresh(Box<Fresh>),
}

impl Heard {
    /// A number that changes with the weather; `None` without any.
    pub fn revision(&self) -> Option<i64> {
        match self {
            Self::Nothing => None,
            Self::Kept(weather) => Some(weather.source.revision()),
            Self::Fresh(fresh) => Some(fresh.source.revision()),
        }
    }
}

/// Weather of the farms asked about lately.
pub struct Climates(Mutex<Lately<Uuid, Arc<FarmWeather>>>);

impl Default for Climates {
    fn default() -> Self {
        // Those at hand grow after they came.
        Self(Mutex::new(Lately::new(MOST_BYTES, |weather: &Arc<FarmWeather>| bytes(weather))))
    }
}

impl Climates {
    /// Farms whose weather is at hand, and the memory it takes, bytes.
    pub fn held(&self) -> (usize, usize) {
        let kept = locked(&self.0);
        (kept.len(), kept.weight())
    }

    /// A number that changes with a farm's weather, without reading it: that of what [`Self::hear`] would give.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn revision(connection: &mut Connection, member: &Membership) -> Result<Option<i64>, Problem> {
        let station = weather::station(connection, member).await?;
        if let Some(station) = &station
            && weather::last_day(connection, member).await?.is_some()
        {
            return Ok(Some(Source::Station(station.clone()).revision()));
        }
        let usual = Self::usual(connection, member, station.as_ref()).await?;
        Ok(usual.map(|(source, _)| source.revision()))
    }

    /// What its manager wrote down as usual, where it lies.
    async fn usual(
        connection: &mut Connection,
        member: &Membership,
        station: Option<&Station>,
    ) -> Result<Option<(Source, ClimateNormals)>, Problem> {
        let Some(usual) = entry::counting(connection, member, ClimateNormals::KIND).await? else { return Ok(None) };
        let Some(Payload::ClimateNormals(normals)) = usual.payload() else { return Ok(None) };
        let farm = &member.farm;
        let here = Place { latitude: farm.latitude, elevation: farm.elevation_m };
        let place = station.map_or(here, |station| station.place());
        Ok(Some((Source::Usual { entry: usual.id, place }, (**normals).clone())))
    }

    /// What the database knows of a farm's weather on a day, by the caller's own connection: nothing is
    /// reckoned while it is held.
    ///
    /// # Errors
    /// When the database fails.
    pub async fn hear(&self, connection: &mut Connection, member: &Membership, today: Date) -> Result<Heard, Problem> {
        let station = weather::station(connection, member).await?;
        if let Some(station) = station.clone() {
            let source = Source::Station(station.clone());
            if let Some(kept) = self.kept(member.farm.id, &source, today) {
                return Ok(Heard::Kept(kept));
            }
            if let Some(years) = weather::years(connection, member, &station).await? {
                let told = weather::forecast(connection, member).await?;
                let forecast = told.map(|(from, members)| Forecast { from: Some(from), members }).unwrap_or_default();
                let told = Told::Days(years);
                return Ok(Heard::Fresh(Box::new(Fresh { farm: member.farm.id, source, told, forecast, today })));
            }
        }
        let Some((source, normals)) = Self::usual(connection, member, station.as_ref()).await? else {
            return Ok(Heard::Nothing);
        };
        let farm = &member.farm;
        if let Some(kept) = self.kept(farm.id, &source, today) {
            return Ok(Heard::Kept(kept));
        }
        let (told, forecast) = (Told::Months(normals.usual()), Forecast::default());
        Ok(Heard::Fresh(Box::new(Fresh { farm: farm.id, source, told, forecast, today })))
    }

    fn kept(&self, farm: Uuid, source: &Source, today: Date) -> Option<Arc<FarmWeather>> {
        let kept = locked(&self.0).get(&farm).cloned();
        kept.filter(|kept| kept.source == *source && kept.today == today)
    }

    /// The same as a person asks it, worked out.
    pub fn outlook(&self, heard: Heard, odds_level: f64) -> Outlook {
        Outlook { weather: self.settle(heard), level: Fraction::from_base(odds_level) }
    }

    /// A farm's weather, worked out from what was heard; `None` where there is none.
    pub fn settle(&self, heard: Heard) -> Option<Arc<FarmWeather>> {
        let Fresh { farm, source, told, forecast, today } = match heard {
            Heard::Nothing => return None,
            Heard::Kept(weather) => return Some(weather),
            Heard::Fresh(fresh) => *fresh,
        };
        // Somebody else may have worked it out since it was heard.
        if let Some(kept) = self.kept(farm, &source, today) {
            return Some(kept);
        }
        let years = match (told, &source) {
            (Told::Days(years), _) => years,
            (Told::Months(months), Source::Usual { entry, place }) => {
                // Checked when they were written; months that can't be any more are no weather.
                usual::made(&months, *place, entry.as_u64_pair().1, today).ok()?
            }
            (Told::Months(_), Source::Station(_)) => return None,
        };
        let soil = follow(&years, Ground::new(Texture::Loam, SoilCover::Sward), BAND_DEPTH);
        let weather = Arc::new(FarmWeather {
            soil: soil.into_iter().map(|day| day.map(|soil| soil.mean)).collect(),
            stretches: Mutex::new(Lately::new(MOST_OF_STRETCHES, |all: &Arc<Scenarios>| all.bytes())),
            sites: Mutex::new(Lately::new(MOST_OF_SITES, |runs: &Arc<SiteRuns>| runs.bytes())),
            mornings: Mutex::new(Lately::of_so_many(MOST_MORNINGS)),
            usual: Mutex::default(),
            source,
            years,
            forecast,
            today,
        });
        locked(&self.0).put(farm, weather.clone());
        Some(weather)
    }
}
