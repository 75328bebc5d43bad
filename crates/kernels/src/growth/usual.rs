//! What a stand gives in a year at a place, when it is kept as is usual there: run over years of weather, no day of it
//! chosen by hand.
//!
//! For choosing among crops and for what to expect of a stand that nobody has weighed yet; a stand that is there is
//! followed by what was done to it ([`crate::course`]).

use facts::crop::SeasonFacts;

use super::{Air, Cut, Plant, Soil, Stand};

/// When a perennial is cut.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Mowing {
    /// At early bloom or heading, each time.
    AtBloom,
    /// First at heading, then every so many days; where no winter makes it head, every so many days.
    HeadingThen(u32),
    /// Once, so many days after midwinter.
    Once(u32),
}

/// How a stand is kept.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Keeping {
    /// When it is cut.
    pub mowing: Mowing,
    /// Nitrogen in a year, kg/ha, in six dressings a month apart from the third month on.
    pub nitrogen: f64,
    /// Water is brought whenever too much of it is gone.
    pub irrigated: bool,
}

/// Less above the stubble is not worth a cut, kg/ha.
const WORTH_A_CUT: f64 = 900.0;
/// Where no winter makes it head, so much is cut, kg/ha.
const WITHOUT_HEADING: f64 = 2_500.0;
/// Age of a stand that is told of, years: neither young nor worn.
const IN_ITS_PRIME: f64 = 3.0;
/// Days after midwinter on which an annual may be sown: early and late spring, late summer, autumn.
const SOWN_ON: [usize; 4] = [100, 135, 217, 260];
/// Days for which an annual is followed.
const ANNUAL: usize = 330;

/// Share of the upper soil's water that may be gone before an irrigated stand is watered (assumed).
const WATERED_AT: f64 = 0.45;

/// A day with the water that is brought on it: all that the upper soil has lost, once too much of it is gone.
fn watered(air: &Air, stand: &Stand, soil: &Soil, irrigated: bool) -> Air {
    let missing = stand.water.root_missing;
    let irrigation = if irrigated && missing > WATERED_AT * soil.profile.upper { missing } else { 0.0 };
    Air { irrigation: air.irrigation + irrigation, ..*air }
}

/// Dry matter above the stubble that a perennial in its prime gives in each year but the first, kg/ha.
pub fn perennial(airs: &[Air], facts: &SeasonFacts, soil: &Soil, keeping: Keeping) -> Vec<f64> {
    let Some(tropics) = airs.first().map(|air| air.tropics) else { return vec![] };
    let crops = [facts];
    let mut stand = Stand::new(soil, &[Plant::resting(facts, tropics, IN_ITS_PRIME)]);
    let mut given = vec![];
    let (mut year, mut day, mut since, mut of_year) = (0, 0, 0, 0.0);
    for air in airs {
        if air.turns {
            if year > 1 {
                given.push(of_year);
            }
            (year, day, of_year) = (year + 1, 0, 0.0);
            for plant in stand.plants_mut() {
                (plant.stand, plant.age) = (1.0, IN_ITS_PRIME);
            }
        }
        (day, since) = (day + 1, since + 1);
        let dressed = day % 30 == 5 && (90..260).contains(&day);
        let air = watered(air, &stand, soil, keeping.irrigated);
        stand.day(&crops, soil, &air, if dressed { keeping.nitrogen / 6.0 } else { 0.0 });
        let plant = stand.plants()[0];
        let above = stand.herbage() - facts.stubble * facts.stubble_mass;
        let due = match keeping.mowing {
            Mowing::AtBloom => plant.warmth >= facts.heads,
            Mowing::HeadingThen(days) => {
                let headed = plant.cuts == 0 && plant.heading && plant.warmth >= facts.heads;
                headed || (since >= days && (plant.cuts > 0 || above > WITHOUT_HEADING || tropics))
            }
            Mowing::Once(on) => day == on,
        };
        if due && above > WORTH_A_CUT {
            of_year += stand.cut(&crops, Cut::MOWN).iter().map(|one| one.mass()).sum::<f64>();
            since = 0;
        }
    }
    given
}

/// The most that an annual stands at, kg/ha above the stubble, in each year, sown on the best of a few days for that place.
pub fn annual(airs: &[Air], facts: &SeasonFacts, soil: &Soil, keeping: Keeping) -> Vec<f64> {
    let turns: Vec<usize> = (0..airs.len()).filter(|day| airs[*day].turns).collect();
    let sown = |after: usize| -> Vec<f64> {
        let begun = turns.iter().map(|turn| turn + after).filter(|day| day + ANNUAL <= airs.len());
        begun.map(|day| tallest(&airs[day..day + ANNUAL], facts, soil, keeping)).collect()
    };
    let mean = |given: &[f64]| given.iter().sum::<f64>() / given.len().max(1) as f64;
    let all = SOWN_ON.map(sown);
    all.into_iter().max_by(|a, b| mean(a).total_cmp(&mean(b))).unwrap_or_default()
}

fn tallest(airs: &[Air], facts: &SeasonFacts, soil: &Soil, keeping: Keeping) -> f64 {
    let mut stand = Stand::new(soil, &[Plant::sown(facts)]);
    let mut most = 0.0_f64;
    for air in airs {
        let air = watered(air, &stand, soil, keeping.irrigated);
        stand.day(&[facts], soil, &air, keeping.nitrogen / ANNUAL as f64);
        most = most.max(stand.herbage() - facts.stubble * facts.stubble_mass);
    }
    most
}
