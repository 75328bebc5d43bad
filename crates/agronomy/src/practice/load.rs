//! The embedded files: read, checked against each other, handed out.

use std::{collections::BTreeMap, sync::LazyLock};

use include_dir::{Dir, include_dir};
use serde::Deserialize;
use thiserror::Error;
use toml::{Table, Value};

use super::{
    Anchor, Asked, Comes, Condition, DaysOf, Operation, Practice, Reason, Regime, RegimeStep, Role, Span, Template,
};
use crate::{caution::Caution, crop::library, window::window_kind};

static OPERATIONS: Dir<'static> = include_dir!("$CARGO_MANIFEST_DIR/../../library/operations");
static PRACTICES: Dir<'static> = include_dir!("$CARGO_MANIFEST_DIR/../../library/practices");
static REGIMES: Dir<'static> = include_dir!("$CARGO_MANIFEST_DIR/../../library/regimes");
/// Steps that several practices have in common.
static SHARED: &str = include_str!("../../../../library/steps.toml");

/// Times that a step may come.
const MOST_TIMES: u32 = 60;

/// What is wrong with an operation or practice, and where.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
#[error("{file}{}: {what}", step.as_ref().map(|step| format!(", step {step}")).unwrap_or_default())]
pub struct PracticeError {
    /// The file.
    pub file: String,
    /// The step, where one is to blame.
    pub step: Option<String>,
    /// What is wrong.
    pub what: String,
}

struct Shelf {
    operations: BTreeMap<String, Operation>,
    practices: Vec<Practice>,
    regimes: Vec<Regime>,
}

fn shelf() -> &'static Shelf {
    static SHELF: LazyLock<Shelf> =
        LazyLock::new(|| Shelf::embedded().unwrap_or_else(|error| panic!("library: {error}")));
    &SHELF
}

/// An operation by its key.
pub fn operation(key: &str) -> Option<&'static Operation> {
    shelf().operations.get(key)
}

/// All operations, by key.
pub fn operations() -> impl Iterator<Item = &'static Operation> {
    shelf().operations.values()
}

/// A practice by its key.
pub fn practice(key: &str) -> Option<&'static Practice> {
    practices().iter().find(|practice| practice.key == key)
}

/// All practices, in their order.
pub fn practices() -> &'static [Practice] {
    &shelf().practices
}

/// A regime by its key.
pub fn regime(key: &str) -> Option<&'static Regime> {
    regimes().iter().find(|regime| regime.key == key)
}

/// All regimes, in their order.
pub fn regimes() -> &'static [Regime] {
    &shelf().regimes
}

fn wrong(file: &str, step: Option<&str>, what: impl Into<String>) -> PracticeError {
    PracticeError { file: file.to_owned(), step: step.map(str::to_owned), what: what.into() }
}

/// Files of a folder, by name.
fn texts(folder: &'static Dir<'static>, name: &str) -> Result<Vec<(String, &'static str)>, PracticeError> {
    let mut files: Vec<_> = folder.files().collect();
    files.sort_by_key(|file| file.path());
    files
        .into_iter()
        .map(|file| {
            let path = format!("{name}/{}", file.path().display());
            let text = file.contents_utf8().ok_or_else(|| wrong(&path, None, "is not text"))?;
            Ok((path, text))
        })
        .collect()
}

fn named(path: &str) -> &str {
    path.rsplit('/').next().and_then(|name| name.strip_suffix(".toml")).unwrap_or(path)
}

impl Shelf {
    fn embedded() -> Result<Self, PracticeError> {
        let mut operations = BTreeMap::new();
        for (path, text) in texts(&OPERATIONS, "operations")? {
            let operation = read_operation(&path, text)?;
            operations.insert(operation.key.clone(), operation);
        }
        let shared = Shared::read(SHARED)?;
        let mut practices = texts(&PRACTICES, "practices")?
            .into_iter()
            .map(|(path, text)| read_practice(&path, text, &shared, &operations))
            .collect::<Result<Vec<_>, _>>()?;
        practices.sort_by_key(|practice| practice.place);
        let mut regimes = texts(&REGIMES, "regimes")?
            .into_iter()
            .map(|(path, text)| read_regime(&path, text, &operations))
            .collect::<Result<Vec<_>, _>>()?;
        regimes.sort_by_key(|regime| regime.place);
        Ok(Self { operations, practices, regimes })
    }
}

fn read_operation(path: &str, text: &str) -> Result<Operation, PracticeError> {
    let operation: Operation = toml::from_str(text).map_err(|error| wrong(path, None, error.to_string()))?;
    if operation.key != named(path) {
        return Err(wrong(path, None, "its key differs from the file name"));
    }
    let variants = operation.variants.iter().filter_map(|variant| variant.cautions.as_ref()).flatten();
    if let Some(key) = operation.cautions.iter().chain(variants).find(|key| Caution::of(key).is_none()) {
        return Err(wrong(path, None, format!("unknown caution {key}")));
    }
    Ok(operation)
}

/// Steps by name that a practice may take: what it says of its own stands in place of what the shared one says.
struct Shared(Table);

impl Shared {
    fn read(text: &str) -> Result<Self, PracticeError> {
        toml::from_str(text).map(Self).map_err(|error| wrong("steps.toml", None, error.to_string()))
    }

    /// A practice's steps with all that they take filled in. A step that takes one bears its name where it has none of its
    /// own.
    fn fill(&self, path: &str, practice: &mut Table) -> Result<(), PracticeError> {
        let steps = practice.get_mut("step").and_then(Value::as_array_mut).into_iter().flatten();
        for step in steps.filter_map(Value::as_table_mut) {
            let Some(name) = step.remove("take") else { continue };
            let name = name.as_str().ok_or_else(|| wrong(path, None, "what a step takes is a name"))?;
            let taken = self.0.get(name).and_then(Value::as_table);
            let taken = taken.ok_or_else(|| wrong(path, None, format!("takes a step that is not shared: {name}")))?;
            step.entry("key").or_insert_with(|| Value::from(name));
            for (field, value) in taken {
                step.entry(field).or_insert_with(|| value.clone());
            }
        }
        Ok(())
    }
}

/// Read a practice and hold its steps against the operations and against each other.
///
/// # Errors
/// The first thing that is wrong, with file and step.
fn read_practice(
    path: &str,
    text: &str,
    shared: &Shared,
    operations: &BTreeMap<String, Operation>,
) -> Result<Practice, PracticeError> {
    let unread = |error: toml::de::Error| wrong(path, None, error.to_string());
    let mut filled: Table = toml::from_str(text).map_err(unread)?;
    shared.fill(path, &mut filled)?;
    let practice = Practice::deserialize(filled).map_err(unread)?;
    if practice.key != named(path) {
        return Err(wrong(path, None, "its key differs from the file name"));
    }
    for step in &practice.steps {
        check_step(path, step, &practice, operations)?;
    }
    if let Some(key) = practice.windows.iter().find(|key| window_kind(key).is_none()) {
        return Err(wrong(path, None, format!("unknown window {key}")));
    }
    let sowings = practice.steps.iter().filter(|step| operations[&step.operation].role == Some(Role::Sowing)).count();
    if sowings != 1 {
        return Err(wrong(path, None, format!("{sowings} steps begin the stand: there must be one")));
    }
    in_circles(path, &practice)?;
    Ok(practice)
}

fn check_step(
    path: &str,
    step: &Template,
    practice: &Practice,
    operations: &BTreeMap<String, Operation>,
) -> Result<(), PracticeError> {
    let at = |what: String| wrong(path, Some(&step.key), what);
    let known = |key: &str| practice.steps.iter().any(|other| other.key == key);
    let needed = |key: &str| match known(key) {
        true if key == step.key => Err(at("names itself".to_owned())),
        true => Ok(()),
        false => Err(at(format!("names a step that is not here: {key}"))),
    };
    if practice.steps.iter().filter(|other| other.key == step.key).count() > 1 {
        return Err(at("is given twice".to_owned()));
    }
    if let Some(unknown) = std::iter::once(&step.operation).chain(&step.also).find(|key| !operations.contains_key(*key))
    {
        return Err(at(format!("unknown operation {unknown}")));
    }
    step.after.iter().chain(&step.until).try_for_each(|key| needed(key))?;
    for edge in [&step.from, &step.to] {
        if let Anchor::Step(key) = &edge.anchor {
            needed(key)?;
        }
        if edge.days.abs() > 3_660 {
            return Err(at(format!("{} days; the limit is ten years", edge.days)));
        }
    }
    if let Some(since) = step.counts.as_ref().and_then(|counts| counts.since.as_ref()) {
        needed(since)?;
    }
    if let Some(repeats) = step.repeats
        && (!(1..=MOST_TIMES).contains(&repeats.times) || !(1..=366).contains(&repeats.every_days))
    {
        return Err(at(format!("{} times every {} days can\u{2019}t be", repeats.times, repeats.every_days)));
    }
    for condition in &step.conditions {
        if let Condition::Seen(Asked::DaysSince { step: key, .. } | Asked::Passed { step: key }) = condition {
            needed(key)?;
        }
    }
    if let Some(key) = unknown_source(&step.reasons) {
        return Err(at(format!("unknown source {key}")));
    }
    match step.cautions.iter().find(|key| Caution::of(key).is_none()) {
        Some(key) => Err(at(format!("unknown caution {key}"))),
        None => Ok(()),
    }
}

fn unknown_source(reasons: &[Reason]) -> Option<&str> {
    reasons.iter().filter_map(|reason| reason.source.as_deref()).find(|key| !library().has_source(key))
}

/// Read a regime and hold its steps against the operations and against each other.
///
/// # Errors
/// The first thing that is wrong, with file and step.
fn read_regime(path: &str, text: &str, operations: &BTreeMap<String, Operation>) -> Result<Regime, PracticeError> {
    let regime: Regime = toml::from_str(text).map_err(|error| wrong(path, None, error.to_string()))?;
    if regime.key != named(path) {
        return Err(wrong(path, None, "its key differs from the file name"));
    }
    regime.steps.iter().try_for_each(|step| check_regime_step(path, step, &regime, operations))?;
    Ok(regime)
}

fn check_regime_step(
    path: &str,
    step: &RegimeStep,
    regime: &Regime,
    operations: &BTreeMap<String, Operation>,
) -> Result<(), PracticeError> {
    let at = |what: String| Err(wrong(path, Some(&step.key), what));
    if regime.steps.iter().filter(|other| other.key == step.key).count() > 1 {
        return at("is given twice".to_owned());
    }
    if !operations.contains_key(&step.operation) {
        return at(format!("unknown operation {}", step.operation));
    }
    if let Some(key) = unknown_source(&step.reasons) {
        return at(format!("unknown source {key}"));
    }
    let spans: Vec<(Span, i32)> = match &step.comes {
        Comes::Chain(chain) => {
            if !(1..=MOST_TIMES).contains(&chain.most) {
                return at(format!("{} times a season can\u{2019}t be", chain.most));
            }
            let own = |days: DaysOf| match days {
                DaysOf::Own(span) => Some(span),
                DaysOf::Crop(_) => None,
            };
            // What comes again on the same day would come for ever.
            [(own(chain.first), 0), (own(chain.every), 1), (Some(chain.young), 0)]
                .into_iter()
                .filter_map(|(span, least)| Some((span?, least)))
                .collect()
        }
        Comes::Each(each) => {
            let chained = regime.step(&each.step).is_some_and(|other| matches!(other.comes, Comes::Chain(_)));
            if !chained {
                return at(format!("comes with a step that is no chain here: {}", each.step));
            }
            vec![(each.after, 0)]
        }
        Comes::Once(once) => vec![(once.young, 0)],
    };
    match spans.into_iter().find(|(span, least)| span.low < *least || span.high < span.low || span.high > 3_660) {
        Some((span, _)) => at(format!("{} to {} days can\u{2019}t be", span.low, span.high)),
        None => Ok(()),
    }
}

/// A step that waits for itself by way of others would never be done.
fn in_circles(path: &str, practice: &Practice) -> Result<(), PracticeError> {
    let before = |step: &'_ Template| -> Vec<String> {
        let anchors = [&step.from, &step.to].into_iter().filter_map(|edge| match &edge.anchor {
            Anchor::Step(key) => Some(key.clone()),
            _ => None,
        });
        step.after.iter().cloned().chain(anchors).collect()
    };
    let mut settled: Vec<&str> = vec![];
    loop {
        let next = practice.steps.iter().find(|step| {
            !settled.contains(&step.key.as_str()) && before(step).iter().all(|key| settled.contains(&key.as_str()))
        });
        match next {
            Some(step) => settled.push(&step.key),
            None if settled.len() == practice.steps.len() => break,
            None => {
                let stuck = practice.steps.iter().find(|step| !settled.contains(&step.key.as_str()));
                return Err(wrong(path, stuck.map(|step| step.key.as_str()), "waits for itself in a circle"));
            }
        }
    }
    // Being left behind goes one way, too.
    for step in &practice.steps {
        let mut at = step;
        for _ in 0..=practice.steps.len() {
            match at.until.as_ref().and_then(|key| practice.step(key)) {
                Some(next) => at = next,
                None => break,
            }
            if at.key == step.key {
                return Err(wrong(path, Some(&step.key), "leaves itself behind in a circle"));
            }
        }
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    #[test]
    fn the_embedded_files_are_sound() {
        let shelf = Shelf::embedded().unwrap();
        // Each file is one, none is passed over, and no two claim a place in the lists.
        assert_eq!(shelf.practices.len(), PRACTICES.files().count());
        assert_eq!(shelf.operations.len(), OPERATIONS.files().count());
        assert_eq!(shelf.regimes.len(), REGIMES.files().count());
        let places: Vec<u32> = shelf.practices.iter().map(|practice| practice.place).collect();
        assert_eq!(places, (1..=places.len() as u32).collect::<Vec<_>>());
        let places: Vec<u32> = shelf.regimes.iter().map(|regime| regime.place).collect();
        assert_eq!(places, (1..=places.len() as u32).collect::<Vec<_>>());
    }

    const STEP: &str = r#"
        [[step]]
        key = "sow"
        operation = "sow"
        from = { anchor = "planned-sowing" }
        to = { anchor = "planned-sowing", days = 6 }
    "#;

    fn read(steps: &str) -> Result<Practice, PracticeError> {
        let head =
            "key = \"school\"\nname = \"n\"\nwhy = \"w\"\ntilled = true\ncover = \"bare\"\nfor = \"any\"\nplace = 1\n";
        let shared = Shared::read(
            "[look]\noperation = \"scout\"\nfrom = { anchor = \"sowing\" }\nto = { anchor = \"sowing\", days = 9 }\n",
        )?;
        let operations = Shelf::embedded()?.operations;
        read_practice("practices/school.toml", &format!("{head}{steps}"), &shared, &operations)
    }

    #[rstest]
    #[case::operation(&STEP.replace("operation = \"sow\"", "operation = \"dance\""), "practices/school.toml, step sow: unknown operation dance")]
    #[case::also(&format!("{STEP}\nalso = [\"dance\"]"), "step sow: unknown operation dance")]
    #[case::after(&format!("{STEP}\nafter = [\"plough\"]"), "step sow: names a step that is not here: plough")]
    #[case::itself(&format!("{STEP}\nafter = [\"sow\"]"), "step sow: names itself")]
    #[case::none("step = []", "0 steps begin the stand")]
    #[case::twice(&format!("{STEP}{STEP}"), "step sow: is given twice")]
    #[case::often(&format!("{STEP}\nrepeats = {{ times = 900, every_days = 3 }}"), "900 times")]
    #[case::caution(&format!("{STEP}\ncautions = [\"dragons\"]"), "unknown caution dragons")]
    #[case::source(&format!("{STEP}\nreasons = [{{ text = \"t\", source = \"hearsay\" }}]"), "unknown source hearsay")]
    #[case::field(&format!("{STEP}\ncolour = \"red\""), "unknown field `colour`")]
    #[case::shared(&format!("{STEP}\n[[step]]\ntake = \"plough\""), "takes a step that is not shared: plough")]
    #[case::no_name(&format!("{STEP}\n[[step]]\ntake = 3"), "what a step takes is a name")]
    #[case::taken_twice(&format!("{STEP}\n[[step]]\ntake = \"look\"\n[[step]]\ntake = \"look\""), "step look: is given twice")]
    #[case::circle(&format!("{STEP}\nafter = [\"a\"]\n{}{}", other("a", "b"), other("b", "a")), "in a circle")]
    fn what_is_wrong_is_named_with_file_and_step(#[case] steps: &str, #[case] said: &str) {
        let error = read(steps).unwrap_err().to_string();
        assert!(error.contains(said), "{error}");
    }

    fn other(key: &str, after: &str) -> String {
        STEP.replace("key = \"sow\"", &format!("key = \"{key}\""))
            .replace("operation = \"sow\"", "operation = \"scout\"")
            + &format!("\nafter = [\"{after}\"]\n")
    }

    const CUT: &str = r#"
        [[step]]
        key = "cut"
        operation = "cut"
        comes.chain = { first = "crop", every = { low = 30, high = 35 }, most = 8, young = { low = 60, high = 80 } }
    "#;

    fn read_as_regime(steps: &str) -> Result<Regime, PracticeError> {
        let head = "key = \"way\"\nname = \"n\"\nwhy = \"w\"\nplace = 1\n";
        read_regime("regimes/way.toml", &format!("{head}{steps}"), &Shelf::embedded().unwrap().operations)
    }

    #[rstest]
    #[case::operation(&CUT.replace("operation = \"cut\"", "operation = \"dance\""), "regimes/way.toml, step cut: unknown operation dance")]
    #[case::twice(&format!("{CUT}{CUT}"), "step cut: is given twice")]
    #[case::never(&CUT.replace("most = 8", "most = 0"), "0 times a season")]
    #[case::too_often(&CUT.replace("most = 8", "most = 61"), "61 times a season")]
    #[case::at_once(&CUT.replace("low = 30", "low = 0"), "0 to 35 days")]
    #[case::backwards(&CUT.replace("low = 30", "low = 36"), "36 to 35 days")]
    #[case::word(&CUT.replace("\"crop\"", "\"soil\""), "did not match any variant")]
    #[case::with_what(&format!("{CUT}{}", CUT.replace("key = \"cut\"", "key = \"feed\"").split("comes").next().unwrap().to_owned() + "comes.each = { step = \"hoe\", after = { low = 0, high = 7 } }"), "step feed: comes with a step that is no chain here: hoe")]
    fn what_is_wrong_with_a_regime_is_named(#[case] steps: &str, #[case] said: &str) {
        let error = read_as_regime(steps).unwrap_err().to_string();
        assert!(error.contains(said), "{error}");
        assert_eq!(read_as_regime(CUT).unwrap().steps.len(), 1);
    }

    #[test]
    fn what_a_step_says_of_its_own_stands_in_place_of_what_it_takes() {
        let practice =
            read(&format!("{STEP}\n[[step]]\ntake = \"look\"\n[[step]]\nkey = \"look-again\"\ntake = \"look\"\nto = {{ anchor = \"sowing\", days = 30 }}")).unwrap();
        let days = |key: &str| practice.step(key).map(|step| (step.operation.as_str(), step.from.days, step.to.days));
        assert_eq!(days("look"), Some(("scout", 0, 9)));
        assert_eq!(days("look-again"), Some(("scout", 0, 30)));
    }

    #[test]
    fn a_sound_practice_is_read() {
        let practice = read(STEP).unwrap();
        assert_eq!(practice.step("sow").unwrap().to.days, 6);
    }
}
