//! Gates before a sowing: clean, fertile, firm, moist, warm, carry-over clear, seed in the shed, drill set.
//!
//! Each stands open or shut by evidence that has a day, and evidence grows old: a gate that nobody has looked at for
//! too long is shut, as one that nobody ever has. What a school has no use for is not asked: no boot is set on ground
//! that is not tilled, no warmth is waited for where seed is to sleep through winter.

use agronomy::{
    crop::{Crop, library},
    nutrients::{self, Nutrient},
    practice::{Practice, practice},
    said,
    said::Said,
    seed::{Method, Order},
    seedbed::{
        firmness::Firmness,
        seen::{Feel, Growing},
    },
    site::{Readiness, SiteCheck, Verdict},
    soil::SoilTest,
    units::{Measure, Temperature},
    weather::days_between,
    window::{Rule, window_kind},
};
use jiff::civil::Date;
use records::{
    Cover,
    book::{Dated, Operation},
    kinds::{drill_set::DrillSet, seedbed_look::SeedbedLook},
};
use serde::Serialize;
use utoipa::ToSchema;

use crate::{
    Facts, Plan, SeedNeed, Sky, State, Step,
    ground::Asked,
    mending::{boot_says, last_look, of_the_boot},
};

/// Days that a look at weeds tells: seedlings come up in a week.
const CLEAN_OLD: i32 = 10;
/// Days that a boot tells, where nobody worked the ground since.
const FIRM_OLD: i32 = 14;
/// Days that a handful of soil tells.
const MOIST_OLD: i32 = 3;
/// Days that a soil thermometer tells.
const WARM_OLD: i32 = 3;
/// Days that a setting of the drill tells.
const DRILL_OLD: i32 = 14;

/// Which gate.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[allow(missing_docs)]
pub enum GateKey {
    Clean,
    Fertile,
    Firm,
    /// Broadcast without tillage: bare soil shows under the thatch.
    Bare,
    Moist,
    Warm,
    CarryOver,
    Seed,
    Drill,
}

impl GateKey {
    fn words(self) -> &'static str {
        match self {
            Self::Clean => "Weed-free",
            Self::Fertile => "Lime and fertility",
            Self::Firm => "Firm",
            Self::Bare => "Seed-to-soil contact",
            Self::Moist => "Soil moisture",
            Self::Warm => "Soil temperature",
            Self::CarryOver => "Herbicide carry-over",
            Self::Seed => "Seed on hand",
            Self::Drill => "Drill calibrated",
        }
    }
}

/// How a gate stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[schema(as = GateStands)]
pub enum Stands {
    /// Nothing to wait for.
    Open,
    /// Something to do first.
    Shut,
    /// Nobody knows, or no longer: shut until somebody looks.
    Unknown,
}

/// A gate before the sowing.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
#[schema(as = SowingGate)]
pub struct Gate {
    /// Which.
    pub key: GateKey,
    /// In a word or two.
    pub title: String,
    /// How it stands.
    pub stands: Stands,
    /// By what evidence.
    #[schema(value_type = String)]
    pub evidence: Said,
    /// The day of the evidence.
    #[schema(value_type = Option<String>, format = Date)]
    pub on: Option<Date>,
    /// What would open it.
    #[schema(value_type = Option<String>)]
    pub wants: Option<Said>,
    /// The kind of record that tells of it.
    pub record: Option<&'static str>,
    /// The step of the plan that tells of it.
    pub step: Option<String>,
}

impl Gate {
    fn new(key: GateKey, stands: Stands, evidence: impl Into<Said>) -> Self {
        let evidence = evidence.into();
        Self { key, title: key.words().to_owned(), stands, evidence, on: None, wants: None, record: None, step: None }
    }

    fn open(key: GateKey, evidence: impl Into<Said>) -> Self {
        Self::new(key, Stands::Open, evidence)
    }

    fn shut(key: GateKey, evidence: impl Into<Said>, wants: impl Into<Said>) -> Self {
        Self { wants: Some(wants.into()), ..Self::new(key, Stands::Shut, evidence) }
    }

    fn unknown(key: GateKey, evidence: impl Into<Said>, wants: impl Into<Said>) -> Self {
        Self { wants: Some(wants.into()), ..Self::new(key, Stands::Unknown, evidence) }
    }

    fn on(mut self, on: Date) -> Self {
        self.on = Some(on);
        self
    }

    fn by(mut self, record: &'static str) -> Self {
        self.record = Some(record);
        self
    }

    fn titled(mut self, title: &str) -> Self {
        title.clone_into(&mut self.title);
        self
    }

    fn step(mut self, step: &Step) -> Self {
        self.step = Some(step.step.clone());
        self
    }

    /// Evidence of so many days at the most: what is older tells no more.
    fn at_most_old(self, days: i32, today: Date) -> Self {
        match self.on {
            Some(on) if (today - on).get_days() > days => Self {
                stands: Stands::Unknown,
                wants: Some(said!("a new check: this one is {} days old", (today - on).get_days())),
                ..self
            },
            _ => self,
        }
    }
}

/// What the gates are read from.
#[derive(Clone, Copy)]
pub struct GateFacts<'a> {
    /// The stand and its ground.
    pub asked: Asked<'a>,
    /// What is known of it.
    pub facts: &'a Facts,
    /// Its plan.
    pub plan: &'a Plan,
    /// Whether the field is fit.
    pub readiness: Option<&'a Readiness>,
    /// The weather years with what is known of this one.
    pub sky: Option<Sky<'a>>,
    /// What the drill dropped when it was last calibrated for the stand.
    pub last_catch: Option<&'a Dated<DrillSet>>,
}

/// The gates of a stand that is not sown; none of one that is.
///
/// Seed is told of apart: [`seed_gate`] needs the lots.
pub fn gates(from: GateFacts<'_>) -> Vec<Gate> {
    let Some(school) = practice(&from.asked.choices.practice).filter(|_| !from.plan.sown) else { return vec![] };
    let mut gates = vec![clean(from), fertile(from)];
    gates.extend(firm(from, school));
    if awake(from) {
        gates.extend([moist(from), warm(from)]);
    }
    gates.push(carry_over(from));
    gates.extend(drill(from));
    gates
}

/// The seed is to come up at once, not to sleep until spring.
fn awake(from: GateFacts<'_>) -> bool {
    let chosen = from.asked.choices.timing.as_deref().or(from.facts.sowing.as_ref().map(|one| one.window.as_str()));
    let warm = |rule: &Rule| matches!(rule, Rule::SoilWarm { .. });
    chosen.and_then(window_kind).is_none_or(|kind| kind.conditions.iter().any(warm))
}

/// The last work on the ground that makes a look at it old.
fn worked_since<'a>(from: GateFacts<'a>, look: &Dated<SeedbedLook>) -> Option<&'a Operation> {
    let all = from.facts.on_ground.iter().chain(&from.facts.on_stand);
    let works =
        |one: &&Operation| matches!(one.operation.as_str(), "prepare" | "roll" | "mow" | "set-back" | "spray" | "weed");
    let own = from.facts.mendings.iter().filter(|mending| mending.entry == look.entry);
    let met = |one: &Operation| own.clone().any(|mending| mending.met_by(one));
    all.filter(works).filter(|one| !one.struck && (one.on > look.on || met(one))).max_by_key(|one| one.on)
}

fn check<'a>(from: GateFacts<'a>, key: &str) -> Option<&'a SiteCheck> {
    from.readiness?.checks.iter().find(|check| check.key == key)
}

/// The last look that told of something.
fn looked<'a>(from: GateFacts<'a>, told: impl Fn(&SeedbedLook) -> bool) -> Option<&'a Dated<SeedbedLook>> {
    last_look(from.asked.ground, from.asked.today, told)
}

/// A check of the site as a gate.
fn as_gate(key: GateKey, check: &SiteCheck) -> Gate {
    let wants = check.turn.clone().unwrap_or_else(|| "time".into());
    match check.verdict {
        Verdict::Fit => Gate::open(key, check.reason.clone()),
        Verdict::Unknown => Gate::unknown(key, check.reason.clone(), wants),
        Verdict::FitWithWork | Verdict::Unfit => {
            let wants = check.ready_on.map_or(wants, |on| said!("{}", on));
            Gate::shut(key, check.reason.clone(), wants)
        }
    }
}

fn clean(from: GateFacts<'_>) -> Gate {
    let perennial = check(from, "weeds").filter(|check| matches!(check.verdict, Verdict::Unfit));
    if let Some(check) = perennial {
        return as_gate(GateKey::Clean, check).by("site");
    }
    let look = looked(from, |look| look.growing.is_some());
    let seen = look.and_then(|look| Some((look, look.what.growing?)));
    let Some((look, growing)) = seen else {
        return Gate::unknown(GateKey::Clean, "no recent weed check", "walk the seedbed").by("seedbed-look");
    };
    if growing != Growing::Nothing
        && let Some(work) = worked_since(from, look)
    {
        let evidence = said!("weeds seen {}; tilled since, {}", look.on, work.on);
        return Gate::unknown(GateKey::Clean, evidence, "check again").on(work.on).by("seedbed-look");
    }
    let gate = match growing {
        Growing::Nothing => Gate::open(GateKey::Clean, "no weeds or growth"),
        Growing::Seedlings => Gate::shut(GateKey::Clean, "weed seedlings", "kill the weeds, then check again"),
        Growing::Standing => Gate::shut(GateKey::Clean, "established weeds", "kill the weeds, then check again"),
    };
    gate.on(look.on).by("seedbed-look").at_most_old(CLEAN_OLD, from.asked.today)
}

fn fertile(from: GateFacts<'_>) -> Gate {
    let due = from.plan.steps.iter().find(|step| {
        let feeds = matches!(step.look.operation.as_str(), "lime" | "dress");
        // What is brought at sowing or after it stands in nobody's way before.
        feeds && step.from < from.asked.choices.sow_on && !matches!(step.state, State::Done { .. } | State::Passed)
    });
    let test = from.asked.ground.test_by(from.asked.today);
    if let Some(step) = due {
        let gate = Gate::shut(GateKey::Fertile, said!("not done yet: {}", step.title), said!("{}", step.title));
        return gate.step(step);
    }
    let by_ph = match (check(from, "ph"), test) {
        (Some(check), Some(test)) => {
            let limed = from.asked.ground.limed_since(test.on).next();
            match (check.verdict, limed) {
                (Verdict::FitWithWork, Some(lime)) => {
                    let evidence = said!("limed {}; soil test before that: {}", lime.on, check.reason.clone());
                    Gate::open(GateKey::Fertile, evidence).on(lime.on)
                }
                _ => as_gate(GateKey::Fertile, check).on(test.on),
            }
        }
        (Some(check), None) => as_gate(GateKey::Fertile, check).by("soil-test"),
        (None, _) => Gate::unknown(GateKey::Fertile, "not known", "a soil test").by("soil-test"),
    };
    match test.filter(|_| by_ph.stands == Stands::Open) {
        Some(test) => fed(from, test).unwrap_or(by_ph),
        None => by_ph,
    }
}

/// What is short of phosphorus and potassium, or not tested; none where neither stands in the way.
fn fed(from: GateFacts<'_>, test: &Dated<SoilTest>) -> Option<Gate> {
    let top = test.what.top()?;
    let crops: Vec<&Crop> = from.asked.choices.cover.crops().into_iter().filter_map(|id| library().crop(id)).collect();
    let untested: Vec<&str> = [("phosphorus", top.p.is_none()), ("potassium", top.k.is_none())]
        .into_iter()
        .filter(|(_, not)| *not)
        .map(|(name, _)| name)
        .collect();
    if !untested.is_empty() {
        let evidence = said!("the soil test has no {}", Said::joined(untested.into_iter().map(Said::from), " or "));
        return Some(
            Gate::unknown(GateKey::Fertile, evidence, "a soil test with phosphorus and potassium")
                .by("soil-test")
                .on(test.on),
        );
    }
    // Of a mix, what is short for the crop that wants most.
    let all = crops.iter().flat_map(|crop| nutrients::short(crop, top.p, top.k, top.cec));
    let mut worst: Vec<nutrients::Short> = vec![];
    for one in all {
        match worst.iter_mut().find(|known| known.nutrient == one.nutrient) {
            Some(known) if one.critical > known.critical => *known = one,
            Some(_) => {}
            None => worst.push(one),
        }
    }
    let brought = |nutrient: Nutrient| {
        let dressings = from.asked.ground.dressings.iter().filter(|one| one.on >= test.on);
        dressings
            .map(|one| &one.what.analysis)
            .any(|analysis| analysis.get(&nutrient).is_some_and(|share| share.base() > 0.0))
    };
    worst.retain(|one| !brought(one.nutrient));
    let names = |nutrient| if nutrient == Nutrient::P2o5 { "phosphorus" } else { "potassium" };
    let told = worst.iter().map(|one| said!("{} {}, critical level {}", names(one.nutrient), one.test, one.critical));
    let evidence = Said::joined(told, "; ");
    let wants = "set a yield goal to plan the rates, or record fertilizer or manure applied";
    (!worst.is_empty()).then(|| Gate::shut(GateKey::Fertile, evidence, wants).on(test.on).by("dressing"))
}

fn firm(from: GateFacts<'_>, school: &Practice) -> Option<Gate> {
    if !school.tilled {
        let broadcast = from.asked.choices.cover.method() == Some(Method::Broadcast);
        return broadcast.then(|| bare(from));
    }
    let look = looked(from, of_the_boot);
    let boot =
        look.and_then(|look| Some((look, boot_says(from.asked.choices, &look.what, from.asked.ground.facts.texture)?)));
    let Some((look, boot)) = boot else {
        let wants = "boot test in several places";
        return Some(Gate::unknown(GateKey::Firm, "not tested", wants).by("seedbed-look"));
    };
    if let Some(work) = worked_since(from, look).filter(|one| matches!(one.operation.as_str(), "prepare" | "roll")) {
        let evidence = said!("tilled {}; not tested since", work.on);
        return Some(Gate::unknown(GateKey::Firm, evidence, "repeat the boot test").on(work.on).by("seedbed-look"));
    }
    let gate = match boot.verdict {
        Firmness::Ready => Gate::open(GateKey::Firm, boot.reason),
        Firmness::RollAgain => Gate::shut(GateKey::Firm, boot.reason, "roll again, then repeat the boot test"),
        Firmness::TooHard => {
            Gate::shut(GateKey::Firm, "no boot print: too hard", "loosen the surface, then repeat the boot test")
        }
        Firmness::WorkAgain => Gate::shut(GateKey::Firm, boot.reason, "break clods, roll, then repeat the boot test"),
    };
    Some(gate.on(look.on).by("seedbed-look").at_most_old(FIRM_OLD, from.asked.today))
}

fn bare(from: GateFacts<'_>) -> Gate {
    let scuffed = looked(from, |look| look.bare.is_some()).and_then(|look| Some((look, look.what.bare?)));
    let Some((look, bare)) = scuffed else {
        let wants = "scuff with a heel in several places";
        return Gate::unknown(GateKey::Bare, "thatch not checked", wants).by("seedbed-look");
    };
    let gate = match bare {
        true => Gate::open(GateKey::Bare, "heel scuff shows bare soil: seed will reach it"),
        false => Gate::shut(
            GateKey::Bare,
            "heel scuff shows no bare soil",
            "mow, graze or (where allowed) burn the thatch, or use a drill",
        ),
    };
    gate.on(look.on).by("seedbed-look").at_most_old(FIRM_OLD, from.asked.today)
}

fn moist(from: GateFacts<'_>) -> Gate {
    let felt = looked(from, |look| look.feel.is_some()).and_then(|look| Some((look, look.what.feel?)));
    let Some((look, feel)) = felt else {
        let wants = "squeeze a handful of soil from seeding depth";
        return Gate::unknown(GateKey::Moist, "not checked recently", wants).by("seedbed-look");
    };
    let gate = match feel {
        Feel::Moist => Gate::open(GateKey::Moist, "moist at seeding depth"),
        Feel::Dry => Gate::shut(GateKey::Moist, "dry at seeding depth", "rain or irrigation"),
        Feel::Wet => Gate::shut(GateKey::Moist, "too wet: wheels and openers would smear and seal it", "drying"),
    };
    gate.on(look.on).by("seedbed-look").at_most_old(MOIST_OLD, from.asked.today)
}

fn warm(from: GateFacts<'_>) -> Gate {
    let crops = from.asked.choices.cover.crops().into_iter().filter_map(|id| library().crop(id));
    let asks = |crop: &&Crop| crop.establish.soil_temperature.measure::<Temperature>().base();
    let Some(crop) = crops.max_by(|a, b| asks(a).total_cmp(&asks(b))) else {
        return Gate::unknown(GateKey::Warm, "not known", "a crop of the library");
    };
    let needed = Temperature::from_base(asks(&crop));
    let today = from.asked.today;
    let read: Vec<_> = from
        .asked
        .ground
        .soil_readings
        .iter()
        .filter(|one| one.on <= today && (today - one.on).get_days() <= WARM_OLD)
        .collect();
    let told = |lowest: Temperature, evidence: Said, on: Date| {
        let gate = if lowest >= needed {
            Gate::open(GateKey::Warm, evidence)
        } else {
            Gate::shut(GateKey::Warm, evidence, said!("{} at seeding depth for {}", needed, crop.name.as_str()))
        };
        gate.on(on).by("soil-temperature")
    };
    let lowest = read.iter().map(|one| one.temperature.base()).reduce(f64::min).map(Temperature::from_base);
    if let (Some(lowest), Some(last)) = (lowest, read.iter().map(|one| one.on).max()) {
        let evidence = said!("lowest reading {}; needs {}", lowest, needed);
        return told(lowest, evidence, last);
    }
    let modelled = from.sky.and_then(|sky| {
        let day = usize::try_from(days_between(sky.years.first(), today)).ok()?;
        let days = day.checked_sub(3)?..=day;
        let mornings =
            sky.runs.runs().iter().flat_map(|run| run.mornings().get(days.clone()).unwrap_or_default().to_vec());
        let all: Vec<f64> = mornings.map(f64::from).filter(|one| one.is_finite()).collect();
        (!all.is_empty()).then(|| Temperature::from_base(all.iter().sum::<f64>() / all.len() as f64))
    });
    match modelled {
        Some(lowest) => {
            let evidence = said!("{} estimated from air temperature on recent mornings; needs {}", lowest, needed);
            told(lowest, evidence, today)
        }
        None => Gate::unknown(GateKey::Warm, "not measured recently", "morning thermometer readings at seeding depth")
            .by("soil-temperature"),
    }
}

fn carry_over(from: GateFacts<'_>) -> Gate {
    let worst = [check(from, "carry-over"), check(from, "autotoxicity")].into_iter().flatten();
    match worst.max_by_key(|check| check.verdict) {
        Some(check) => as_gate(GateKey::CarryOver, check).by("site"),
        None => Gate::unknown(GateKey::CarryOver, "not known", "three years of spray and crop history").by("site"),
    }
}

fn drill(from: GateFacts<'_>) -> Option<Gate> {
    let step = from.plan.steps.iter().find(|step| step.look.operation == "calibrate")?;
    let plants = from.asked.choices.cover.is_plants();
    let (title, done, not) = match plants {
        true => ("Rows marked", "rows marked out", "rows not marked out"),
        false => ("Drill calibrated", "calibrated with this seed", "not calibrated with this seed"),
    };
    let blocked = from.last_catch.and_then(|last| Some((last.what.blocked_said()?, last.on)));
    let gate = match (blocked, step.inked()) {
        // However well the other rows run.
        (Some((rows, on)), _) => Gate::shut(GateKey::Drill, rows, "clear and calibrate again").on(on),
        (None, Some((_, on))) => {
            let gate = Gate::open(GateKey::Drill, done).on(on);
            if plants { gate } else { gate.at_most_old(DRILL_OLD, from.asked.today) }
        }
        (None, None) => Gate::unknown(GateKey::Drill, not, "the step in the plan"),
    };
    Some(gate.titled(title).step(step))
}

/// Whether the seed is at hand: its lots cover what is needed, or plants were ordered.
pub fn seed_gate(asked: Asked<'_>, plan: &Plan, need: Option<&SeedNeed>, order: Option<&Order>) -> Option<Gate> {
    if plan.sown {
        return None;
    }
    let ordered = plan.steps.iter().find(|step| step.look.operation == "order-seed");
    let name = |id: &str| library().crop(id).map_or_else(|| id.to_owned(), |crop| crop.name.clone());
    let gate = if let Cover::Plants { .. } = &asked.choices.cover {
        match ordered.and_then(Step::inked) {
            Some((_, on)) => Gate::open(GateKey::Seed, "ordered").on(on),
            None => Gate::unknown(GateKey::Seed, "planting stock not ordered", "place the order"),
        }
        .titled("Planting stock on hand")
    } else {
        let need = need?;
        match (need.without_lot.as_slice(), order) {
            ([], Some(order)) if order.short.is_empty() => {
                Gate::open(GateKey::Seed, said!("chosen lots are enough: {} bulk", order.mass))
            }
            ([], Some(order)) => {
                let short = order.short.iter().map(|one| said!("{} of {}", one.pls_mass.0, name(&one.crop)));
                let evidence = said!("chosen lots are {} short", Said::joined(short, ", "));
                Gate::shut(GateKey::Seed, evidence, "another lot")
            }
            (without, _) => {
                let names: Vec<String> = without.iter().map(|id| name(id)).collect();
                Gate::unknown(
                    GateKey::Seed,
                    said!("no lot chosen for {}", names.join(", ")),
                    "choose a lot and enter its tag",
                )
            }
        }
    };
    Some(match ordered {
        Some(step) => gate.step(step),
        None => gate,
    })
}
