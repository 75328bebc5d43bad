//! Gates before a sowing: what opens and shuts them, how evidence grows old, what a failing one asks to be done.

use agronomy::{
    mix::{MixMember, MixRequest, MixView},
    nutrients::Nutrient,
    seed::{Conditions, Method},
    seedbed::{
        firmness::{BootSchool, Mark, Surface},
        seen::{Feel, Growing},
    },
    soil::{Layer, PMethod, PTest, SoilTest},
    units::{Area, Fraction, Length, Mass, MassPerArea, SoilContent, Temperature, Unit},
    weather::soil_temperature::SoilReading,
};
use jiff::{
    ToSpan,
    civil::{Date, date},
};
use planner::{ground::Asked, *};
use records::{
    Choices, Cover,
    book::{Dated, Dressing, Ground, Operation, StandBook},
    kinds::{drill_set::DrillSet, seedbed_look::SeedbedLook},
};
use rstest::rstest;
use uuid::Uuid;

use crate::common::{choices, ink, inked_for, step};

const TODAY: Date = date(2026, 4, 20);
const SOW: Date = date(2026, 4, 22);

fn alfalfa() -> Choices {
    choices(&[("alfalfa", 15.0)], SOW)
}

/// Switchgrass broadcast into thatch that was killed.
fn broadcast() -> Choices {
    let member = MixMember {
        crop: "switchgrass".into(),
        share: None,
        rate: Some(MassPerArea::new(9.0, Unit::LbPerAc)),
        seeds_per_mass: None,
        full_rate: None,
    };
    let conditions = Conditions { method: Method::Broadcast, ..Conditions::default() };
    let mix = MixRequest { by: MixView::Mass, members: vec![member], total: None, conditions };
    Choices {
        practice: "killed-thatch-broadcast".into(),
        cover: Cover::Seed { mix, dormant_seed: None, lots: vec![] },
        ..alfalfa()
    }
}

fn sunk(mm: f64) -> SeedbedLook {
    SeedbedLook { sunk: Some(Length::new(mm, Unit::Mm)), ..SeedbedLook::default() }
}

fn growing(what: Growing) -> SeedbedLook {
    SeedbedLook { growing: Some(what), ..SeedbedLook::default() }
}

fn looked(looks: &[(u128, Date, SeedbedLook)]) -> Ground {
    let look = |(n, on, what): &(u128, Date, SeedbedLook)| Dated {
        entry: Uuid::from_u128(*n << 96),
        on: *on,
        what: what.clone(),
    };
    Ground { seedbeds: looks.iter().map(look).collect(), ..Ground::default() }
}

fn assessed_on(choices: &Choices, ground: &Ground, done: Vec<Operation>, today: Date) -> Whole {
    let (area, setback) = (Area::new(20.0, Unit::Ac), Length::new(5.0, Unit::M));
    let asked =
        Asked { choices, ground, area, setback, today, sown_on: None, year_start: date(2026, 1, 1), usual: None };
    let book = StandBook { operations: done, ..StandBook::default() };
    whole(asked, assess(asked, Some(&book), &Succession::default(), None), &[])
}

fn assessed(choices: &Choices, ground: &Ground, done: Vec<Operation>) -> Whole {
    assessed_on(choices, ground, done, TODAY)
}

fn gate(whole: &Whole, key: GateKey) -> &Gate {
    let found = whole.core.gates.iter().find(|gate| gate.key == key);
    found.unwrap_or_else(|| panic!("no gate {key:?} among {:?}", whole.core.gates))
}

#[test]
fn every_gate_is_shut_while_nobody_knows() {
    let whole = assessed(&alfalfa(), &Ground::default(), vec![]);
    let keys: Vec<GateKey> = whole.core.gates.iter().map(|gate| gate.key).collect();
    use GateKey::{CarryOver, Clean, Drill, Fertile, Firm, Moist, Seed, Warm};
    assert_eq!(keys, [Clean, Fertile, Firm, Moist, Warm, CarryOver, Seed, Drill]);
    assert!(whole.core.gates.iter().all(|gate| gate.stands != Stands::Open && gate.wants.is_some()));
}

#[rstest]
#[case::firm(sunk(8.0), Stands::Open)]
// Three eighths of an inch is the most for alfalfa: common practice, no source.
#[case::at_the_edge(sunk(9.525), Stands::Open)]
#[case::soft(sunk(14.0), Stands::Shut)]
#[case::hard(sunk(0.0), Stands::Shut)]
#[case::clods(SeedbedLook { surface: Some(Surface::LargeClods), ..sunk(8.0) }, Stands::Shut)]
#[case::clods_alone(SeedbedLook { surface: Some(Surface::LargeClods), ..SeedbedLook::default() }, Stands::Shut)]
#[case::small_clods_tell_nothing(SeedbedLook { surface: Some(Surface::SmallClods), ..SeedbedLook::default() }, Stands::Unknown)]
#[case::heel(SeedbedLook { mark: Some(Mark::Heel), ..SeedbedLook::default() }, Stands::Open)]
// When in doubt firmer: without a school named, heel and sole is too soft.
#[case::heel_and_sole(SeedbedLook { mark: Some(Mark::HeelAndSole), ..SeedbedLook::default() }, Stands::Shut)]
#[case::by_its_own_school(
    SeedbedLook { mark: Some(Mark::HeelAndSole), school: Some(BootSchool::HeelAndSole), ..SeedbedLook::default() }, Stands::Open)]
fn a_boot_tells_whether_it_is_firm(#[case] look: SeedbedLook, #[case] stands: Stands) {
    let whole = assessed(&alfalfa(), &looked(&[(1, TODAY, look)]), vec![]);
    assert_eq!(gate(&whole, GateKey::Firm).stands, stands);
}

#[test]
fn the_crop_that_bears_least_decides_for_a_mix() {
    // Big bluestem bears an inch, switchgrass a faint print.
    let ground = looked(&[(1, TODAY, sunk(15.0))]);
    let firm = |crops: &[(&str, f64)]| gate(&assessed(&choices(crops, SOW), &ground, vec![]), GateKey::Firm).stands;
    assert_eq!(firm(&[("big-bluestem", 8.0)]), Stands::Open);
    assert_eq!(firm(&[("big-bluestem", 6.0), ("switchgrass", 2.0)]), Stands::Shut);
}

#[test]
fn a_failing_gate_inserts_a_step_and_asks_for_a_new_look() {
    let soft = looked(&[(7, TODAY, sunk(20.0))]);
    let whole = assessed(&alfalfa(), &soft, vec![]);
    let plan = &whole.core.plan;
    let roll = plan.steps.iter().find(|step| step.from_where == From::Finding).expect("a rolling");
    assert_eq!((roll.look.operation.as_str(), &roll.state), ("roll", &State::Ready));
    assert!(roll.reasons[0].text.contains("20 Apr 2026"), "{}", roll.reasons[0].text);
    let sowing = plan.steps.iter().position(Step::is_sowing).unwrap();
    assert_eq!(plan.steps[sowing - 1].step, roll.step);
    assert!(plan.steps[sowing].after.contains(&roll.step));

    // Rolled as the step asked: it is ink, and nobody knows until the boot is set down again.
    let rolled = inked_for(&roll.step, None, ink(8, "roll", TODAY));
    let whole = assessed(&alfalfa(), &soft, vec![rolled.clone()]);
    assert!(whole.core.plan.steps.iter().all(|step| step.from_where != From::Finding));
    assert_eq!(step(&whole.core.plan, "roll").inked(), Some((Uuid::from_u128(8), TODAY)));
    let firm = gate(&whole, GateKey::Firm);
    assert_eq!((firm.stands, firm.on), (Stands::Unknown, Some(TODAY)));

    // Tested again the day after, and firm.
    let tomorrow = TODAY.saturating_add(1.day());
    let again = looked(&[(7, TODAY, sunk(20.0)), (9, tomorrow, sunk(6.0))]);
    let whole = assessed_on(&alfalfa(), &again, vec![rolled.clone()], tomorrow);
    assert_eq!(gate(&whole, GateKey::Firm).stands, Stands::Open);

    // Another rolling of the same day that names no step may have come before the look: it closes nothing.
    let before = ink(8, "roll", TODAY);
    let whole = assessed(&alfalfa(), &soft, vec![before]);
    assert!(whole.core.plan.steps.iter().any(|step| step.from_where == From::Finding));

    // Struck, it never was.
    let struck = Operation { struck: true, ..rolled };
    assert_eq!(assessed(&alfalfa(), &soft, vec![struck]).core.plan, assessed(&alfalfa(), &soft, vec![]).core.plan);
}

#[rstest]
#[case::tilled(alfalfa(), "prepare")]
#[case::sprayed(Choices { practice: "no-till".into(), ..alfalfa() }, "spray")]
#[case::neither(Choices { practice: "overseeded".into(), ..alfalfa() }, "set-back")]
fn weeds_are_killed_as_the_school_does(#[case] choices: Choices, #[case] operation: &str) {
    let whole = assessed(&choices, &looked(&[(7, TODAY, growing(Growing::Seedlings))]), vec![]);
    let asked: Vec<&str> = (whole.core.plan.steps.iter())
        .filter(|step| step.from_where == From::Finding)
        .map(|step| step.look.operation.as_str())
        .collect();
    assert_eq!(asked, [operation]);
    assert_eq!(gate(&whole, GateKey::Clean).stands, Stands::Shut);
}

#[test]
fn evidence_grows_old() {
    let look =
        SeedbedLook { feel: Some(Feel::Moist), ..SeedbedLook { sunk: sunk(8.0).sunk, ..growing(Growing::Nothing) } };
    let on = |days: i32| {
        let ground = looked(&[(1, TODAY.saturating_sub(days.days()), look.clone())]);
        let whole = assessed(&alfalfa(), &ground, vec![]);
        [GateKey::Moist, GateKey::Clean, GateKey::Firm].map(|key| gate(&whole, key).stands == Stands::Open)
    };
    assert_eq!(on(3), [true, true, true]);
    assert_eq!(on(4), [false, true, true]);
    assert_eq!(on(11), [false, false, true]);
    assert_eq!(on(15), [false, false, false]);
    // A look of tomorrow is not known today.
    assert_eq!(on(-1), [false, false, false]);
}

#[rstest]
#[case::cold(&[4.0, 9.0, 9.0], Stands::Shut)]
#[case::warm(&[11.0, 12.0], Stands::Open)]
#[case::unread(&[], Stands::Unknown)]
fn the_thermometer_tells_whether_it_is_warm(#[case] mornings: &[f64], #[case] stands: Stands) {
    let readings = mornings.iter().enumerate().map(|(back, read)| SoilReading {
        on: TODAY.saturating_sub((back as i32).days()),
        depth: Length::new(5.0, Unit::Cm),
        temperature: Temperature::new(*read, Unit::DegC),
    });
    let ground = Ground { soil_readings: readings.collect(), ..Ground::default() };
    assert_eq!(gate(&assessed(&alfalfa(), &ground, vec![]), GateKey::Warm).stands, stands);
}

#[test]
fn what_a_school_has_no_use_for_is_not_asked() {
    let has = |choices: &Choices, key: GateKey| {
        assessed(choices, &Ground::default(), vec![]).core.gates.iter().any(|gate| gate.key == key)
    };
    // No boot on ground that is not tilled; the scuff only where seed falls on thatch.
    let no_till = Choices { practice: "no-till".into(), ..alfalfa() };
    assert!(!has(&no_till, GateKey::Firm) && !has(&no_till, GateKey::Bare));
    assert!(has(&broadcast(), GateKey::Bare) && !has(&broadcast(), GateKey::Firm));
    // Seed that is to sleep through winter waits for no warmth.
    let dormant = Choices { timing: Some("dormant".into()), ..alfalfa() };
    assert!(has(&alfalfa(), GateKey::Warm) && !has(&dormant, GateKey::Warm) && !has(&dormant, GateKey::Moist));
    // By hand there is no drill to set.
    assert!(!has(&Choices { practice: "by-hand".into(), ..alfalfa() }, GateKey::Drill));
}

#[test]
fn thatch_that_hides_the_soil_shuts_the_gate() {
    let look = |bare| looked(&[(1, TODAY, SeedbedLook { bare: Some(bare), ..SeedbedLook::default() })]);
    assert_eq!(gate(&assessed(&broadcast(), &look(true), vec![]), GateKey::Bare).stands, Stands::Open);
    assert_eq!(gate(&assessed(&broadcast(), &look(false), vec![]), GateKey::Bare).stands, Stands::Shut);
}

#[test]
fn a_drill_set_for_this_seed_opens_its_gate_for_two_weeks() {
    let set = |days: i32| {
        let done = vec![ink(3, "calibrate", TODAY.saturating_sub(days.days()))];
        gate(&assessed(&alfalfa(), &Ground::default(), done), GateKey::Drill).stands
    };
    assert_eq!((set(2), set(20)), (Stands::Open, Stands::Unknown));
}

#[test]
fn a_drill_with_a_dead_row_keeps_its_gate_shut() {
    let caught = |grams: [f64; 4], on: Date| {
        let rows = grams.map(|gram| Mass::new(gram, Unit::G)).to_vec();
        let what = DrillSet {
            crop: "alfalfa".into(),
            also: vec![],
            rate: MassPerArea::new(16.0, Unit::LbPerAc),
            setting: Some(20.0),
            rows,
            course: None,
            note: None,
        };
        Dated { entry: Uuid::from_u128(9 << 96), on, what }
    };
    let choices = alfalfa();
    let asked = |ground| Asked {
        choices: &choices,
        ground,
        area: Area::new(20.0, Unit::Ac),
        setback: Length::new(5.0, Unit::M),
        today: TODAY,
        sown_on: None,
        year_start: date(2026, 1, 1),
        usual: None,
    };
    let ground = Ground::default();
    let stands = |calibrated: Vec<Dated<DrillSet>>| {
        let operations = vec![ink(3, "calibrate", TODAY.saturating_sub(2.days()))];
        let book = StandBook { operations, calibrated, ..StandBook::default() };
        let asked = asked(&ground);
        let whole = whole(asked, assess(asked, Some(&book), &Succession::default(), None), &[]);
        let gate = gate(&whole, GateKey::Drill);
        (gate.stands, gate.evidence.told(None))
    };
    let (dead, sound) = ([21.0, 20.0, 0.0, 22.0], [21.0, 20.0, 19.0, 22.0]);
    let yesterday = TODAY.saturating_sub(1.days());
    assert_eq!(stands(vec![caught(dead, TODAY)]), (Stands::Shut, "Row 3 blocked".to_owned()));
    // Cleared and caught again, it is open; a row that fails afterwards shuts it.
    assert_eq!(stands(vec![caught(dead, yesterday), caught(sound, TODAY)]).0, Stands::Open);
    assert_eq!(stands(vec![caught(sound, yesterday), caught(dead, TODAY)]).0, Stands::Shut);
}

fn top(ph: f64) -> Layer {
    Layer::new(Length::new(0.0, Unit::In), Length::new(6.0, Unit::In), ph)
}

fn ppm(value: f64) -> Option<SoilContent> {
    Some(SoilContent::new(value, Unit::Ppm))
}

fn bray(value: f64) -> Option<PTest> {
    Some(PTest { value: SoilContent::new(value, Unit::Ppm), method: PMethod::BrayP1 })
}

/// A field at P 8 and K 70 ppm is not fertile for alfalfa, whatever its pH (critical levels 25 and 100 ppm, Tri-State);
/// what was not tested is not known, and what was brought since opens it.
#[rstest]
#[case::enough(bray(30.0), ppm(150.0), &[], Stands::Open, "pH")]
#[case::both(bray(8.0), ppm(70.0), &[], Stands::Shut, "phosphorus 8 ppm, critical level 25 ppm; potassium 70 ppm")]
#[case::phosphorus(bray(8.0), ppm(150.0), &[], Stands::Shut, "phosphorus 8 ppm")]
#[case::brought(bray(8.0), ppm(150.0), &[Nutrient::P2o5], Stands::Open, "pH")]
#[case::the_other_brought(bray(8.0), ppm(150.0), &[Nutrient::K2o], Stands::Shut, "phosphorus 8 ppm")]
#[case::untested(None, ppm(150.0), &[], Stands::Unknown, "the soil test has no phosphorus")]
#[case::neither_tested(None, None, &[], Stands::Unknown, "no phosphorus or potassium")]
fn the_gate_of_fertility_asks_phosphorus_and_potassium(
    #[case] p: Option<PTest>,
    #[case] k: Option<SoilContent>,
    #[case] brought: &[Nutrient],
    #[case] stands: Stands,
    #[case] says: &str,
) {
    let layers = vec![Layer { p, k, ..top(6.8) }];
    let test = SoilTest { laboratory: "L".into(), sample: String::new(), sampled_on: TODAY, layers };
    let on = date(2026, 2, 1);
    let mut ground = Ground { tests: vec![Dated { entry: Uuid::from_u128(1), on, what: test }], ..Ground::default() };
    let spread = Dressing {
        what: records::DressingKind::Fertiliser,
        product: "blend".into(),
        rate: MassPerArea::new(200.0, Unit::LbPerAc),
        analysis: brought.iter().map(|nutrient| (*nutrient, Fraction::percent(30.0))).collect(),
        effective: None,
    };
    ground.dressings.push(Dated { entry: Uuid::from_u128(2), on: date(2026, 4, 1), what: spread });
    let whole = assessed(&alfalfa(), &ground, vec![]);
    let gate = gate(&whole, GateKey::Fertile);
    assert_eq!(gate.stands, stands, "{}", gate.evidence.told(None));
    assert!(gate.evidence.told(None).contains(says), "{}", gate.evidence.told(None));
}

#[test]
fn a_soil_test_opens_or_shuts_the_gate_of_fertility() {
    let of_ph = |ph: f64| {
        let layers = vec![Layer { p: bray(30.0), k: ppm(150.0), ..top(ph) }];
        let test = SoilTest { laboratory: "L".into(), sample: String::new(), sampled_on: TODAY, layers };
        let on = date(2026, 2, 1);
        let ground = Ground { tests: vec![Dated { entry: Uuid::from_u128(1), on, what: test }], ..Ground::default() };
        gate(&assessed(&alfalfa(), &ground, vec![]), GateKey::Fertile).stands
    };
    assert_eq!((of_ph(6.8), of_ph(5.2)), (Stands::Open, Stands::Shut));
}

/// A look leaves out what was not looked at: a handful of soil the day after takes nothing back of the boot.
#[test]
fn what_was_seen_stands_until_it_is_looked_at_again() {
    let yesterday = TODAY.saturating_sub(1.days());
    let soft = SeedbedLook { sunk: sunk(20.0).sunk, ..growing(Growing::Seedlings) };
    let felt = SeedbedLook { feel: Some(Feel::Moist), ..SeedbedLook::default() };
    let whole = assessed(&alfalfa(), &looked(&[(1, yesterday, soft.clone()), (2, TODAY, felt.clone())]), vec![]);
    let stands = [GateKey::Firm, GateKey::Clean, GateKey::Moist].map(|key| gate(&whole, key).stands);
    assert_eq!(stands, [Stands::Shut, Stands::Shut, Stands::Open]);
    let asked = |whole: &Whole| whole.core.plan.steps.iter().filter(|step| step.from_where == From::Finding).count();
    assert_eq!(asked(&whole), 2);
    // The boot alone, a day on: the weeds are where they were.
    let firm = assessed(&alfalfa(), &looked(&[(1, yesterday, soft), (2, TODAY, sunk(6.0))]), vec![]);
    assert_eq!((gate(&firm, GateKey::Firm).stands, gate(&firm, GateKey::Clean).stands), (Stands::Open, Stands::Shut));
    assert_eq!(asked(&firm), 1);
}

/// Where the practice rolls too, the rolling that a look asked for is that one's and not the practice's: it stays in
/// ink beside it, also after a later look.
#[test]
fn what_a_look_asked_for_closes_no_step_of_the_practice() {
    let plants = records::PlantsChoice {
        crop: "giant-miscanthus".into(),
        row_spacing: None,
        in_row: None,
        pieces_per_station: None,
    };
    let choices = Choices { practice: "rows-of-plants".into(), cover: Cover::Plants { plants }, ..alfalfa() };
    let soft = (7, TODAY.saturating_sub(2.days()), sunk(60.0));
    let asked = assessed_on(&choices, &looked(std::slice::from_ref(&soft)), vec![], soft.1).core.plan;
    let roll = asked.steps.iter().find(|step| step.from_where == From::Finding).expect("a rolling");
    let rolled = inked_for(&roll.step, None, ink(8, "roll", soft.1));
    for looks in [vec![soft.clone()], vec![soft.clone(), (9, TODAY, sunk(10.0))]] {
        let plan = assessed(&choices, &looked(&looks), vec![rolled.clone()]).core.plan;
        let rolls: Vec<_> = plan.steps.iter().filter(|step| step.look.operation == "roll").collect();
        assert_eq!(rolls.len(), 2, "{rolls:?}");
        assert!(rolls.iter().any(|step| step.from_where == From::Practice && step.inked().is_none()));
        assert!(rolls.iter().any(|step| step.from_where == From::Record && step.inked().is_some()));
    }
}

#[test]
fn a_sown_stand_has_no_gates() {
    let soft = looked(&[(7, TODAY, sunk(20.0))]);
    let whole = assessed(&alfalfa(), &soft, vec![ink(2, "sow", TODAY)]);
    assert!(whole.core.gates.is_empty());
    assert!(whole.core.plan.steps.iter().all(|step| step.from_where != From::Finding));
}
