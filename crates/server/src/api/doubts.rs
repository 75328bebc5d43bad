//! What is asked about before it is inked: what is far from usual, or was inked before. It may be meant.

use agronomy::{
    crop::library,
    establish::Bar,
    practice::{Role, operation},
    refusal::Refused,
    said,
    said::Said,
    units::{Length, Mass, Measure},
};
use jiff::civil::Date;
use ledger::{Connection, entry};
use planner::{GateKey, Stands, assess, young::barred};
use records::{
    About, Entry, Part, Payload, Subject, SubjectKind,
    book::{Books, LotBook, StandBook},
    kinds::{
        dressing::Nutrient, forage_split::ForageSplit, plants_set::PlantsSet, seed_sown::SeedSown,
        stand_count::StandCount,
    },
};

use crate::{api::story::Story, problem::Problem, sign_in::Member};

/// Deeper than the band by this factor is asked about: nobody measures a depth to the quarter (assumed).
const DEEPER: f64 = 1.25;

/// What is about to be inked, and about what.
struct Asked<'a> {
    member: &'a Member,
    about: &'a [About],
    on: Date,
}

impl Asked<'_> {
    fn of(&self, kind: SubjectKind) -> Option<Subject> {
        self.about.iter().find(|one| one.kind == kind).map(|one| one.subject())
    }

    async fn books(&self, connection: &mut Connection, of: Subject) -> Result<Books, ledger::Error> {
        entry::books(connection, &self.member.membership, Some(of)).await
    }
}

/// Ask about a record that nobody has confirmed, where there is something to ask.
///
/// # Errors
/// [`Problem::Unusual`] with the question at its field.
pub async fn raise(
    connection: &mut Connection,
    member: &Member,
    about: &[About],
    on: Date,
    payload: &Payload,
) -> Result<(), Problem> {
    let asked = Asked { member, about, on };
    let doubt = match payload {
        Payload::CutMade(_) => too_soon(connection, &asked, Bar::Cut).await?,
        Payload::DressingSpread(spread)
            if spread.dressing.analysis.get(&Nutrient::N).is_some_and(|share| share.base() > 0.0) =>
        {
            too_soon(connection, &asked, Bar::Nitrogen).await?
        }
        Payload::Sprayed(_) => too_soon(connection, &asked, Bar::Spray).await?,
        Payload::Step(done) if sows(&done.operation) => not_ready(connection, &asked).await?,
        Payload::SeedSown(sown) => seed(connection, &asked, sown).await?,
        Payload::PlantsSet(set) => set_twice(connection, &asked, set).await?,
        Payload::ForageSplit(split) => split_beyond(connection, &asked, split).await?,
        Payload::StandCount(count) => counted_twice(connection, &asked, count).await?,
        _ => None,
    };
    match doubt {
        Some((pointer, detail)) => Err(Problem::Unusual(Refused::one(pointer, detail))),
        None => Ok(()),
    }
}

type Doubt = Option<(&'static str, Said)>;

/// Within the wait of a label, or on a stand too young for it: the label may have been another, and what was done
/// was done.
async fn too_soon(connection: &mut Connection, asked: &Asked<'_>, what: Bar) -> Result<Doubt, Problem> {
    let Some(field) = asked.of(SubjectKind::Field) else { return Ok(None) };
    let on = asked.on;
    let story = Story::of_field(connection, asked.member, field.id).await?;
    if what == Bar::Cut
        && let Some((spray, free)) = story.books.field(field.id).no_cutting(on)
    {
        let detail = said!("The label of {} allows cutting from {}. Was it cut on {}?", spray.why, free, on);
        return Ok(Some(("/occurred_on", detail)));
    }
    // What is spread or sprayed on the day of sowing meets the seed; what is cut then stood there before it.
    let day = if what == Bar::Cut { on } else { on.tomorrow().unwrap_or(on) };
    let stood = story.succession(field.id).standing_on(day).and_then(|stand| {
        let book = story.books.stand(stand)?;
        let seen = story.books.field(field.id).seen.or_later(book.seen);
        // Seed of a later day has its own seedlings to guard.
        let first = book.sown_on()?;
        let seeded = book.last_seeded(on).map_or(first, |last| last.max(first));
        Some((seeded, book.decided()?, seen.leaves))
    });
    let young = stood.and_then(|(sown_on, decided, leaves)| {
        let leaves = leaves.filter(|(seen, _)| (sown_on..=on).contains(seen)).map(|(_, leaves)| leaves);
        barred(&decided.choices, story.latitude, sown_on, on, leaves, what)
    });
    Ok(young.map(|why| {
        let detail = match what {
            Bar::Cut => said!("{} Was it cut on {}?", why, on),
            Bar::Graze => said!("{} Was it grazed on {}?", why, on),
            Bar::Nitrogen => said!("{} Was nitrogen spread on {}?", why, on),
            Bar::Spray => said!("{} Was it sprayed on {}?", why, on),
        };
        ("/occurred_on", detail)
    }))
}

/// More sown than there was: it may have been another lot, or another unit. The same seed on the same ground twice a
/// day: it may have been inked before.
async fn seed(connection: &mut Connection, asked: &Asked<'_>, sown: &SeedSown) -> Result<Doubt, Problem> {
    let Some(lot) = asked.of(SubjectKind::SeedLot) else { return Ok(None) };
    if let Some(stand) = asked.of(SubjectKind::Stand) {
        let of_stand = asked.books(connection, stand).await?;
        let on_it = of_stand.stand(stand.id).map_or(&[][..], |book| &book.sown);
        let same = on_it
            .iter()
            .find(|one| one.lot == Some(lot.id) && one.sown.on == asked.on && close(one.sown.what.mass, sown.mass));
        if same.is_some() {
            let detail =
                said!("{} of this lot is already recorded for {}. Is this a second sowing?", sown.mass, asked.on);
            return Ok(Some(("/payload/mass", detail)));
        }
    }
    if let Some(doubt) = too_deep(connection, asked, sown).await? {
        return Ok(Some(doubt));
    }
    if let Some(doubt) = not_ready(connection, asked).await? {
        return Ok(Some(doubt));
    }
    let Some(left) = asked.books(connection, lot).await?.lot(lot.id).and_then(LotBook::left) else { return Ok(None) };
    // A bag is never weighed to the ounce.
    if sown.gone() <= left.base() * 1.02 + 0.05 {
        return Ok(None);
    }
    let detail = said!("Only {} of this lot is left, but {} is entered. Check the lot and the unit.", left, sown.mass);
    Ok(Some(("/payload/mass", detail)))
}

/// Deeper than any soil would have the shallowest of the crops: it may have been another unit.
async fn too_deep(connection: &mut Connection, asked: &Asked<'_>, sown: &SeedSown) -> Result<Doubt, Problem> {
    let (Some(depth), Some(stand)) = (sown.depth, asked.of(SubjectKind::Stand)) else { return Ok(None) };
    let books = asked.books(connection, stand).await?;
    let Some(decided) = books.stand(stand.id).and_then(StandBook::decided) else { return Ok(None) };
    let crops = decided.choices.cover.crops().into_iter().filter_map(|id| library().crop(id));
    let deepest = crops.filter_map(|crop| {
        let (_, most): (Length, Length) = crop.sowing.as_ref()?.depth_coarse.ends();
        Some((crop, most))
    });
    let Some((crop, most)) = deepest.min_by(|(_, one), (_, other)| one.base().total_cmp(&other.base())) else {
        return Ok(None);
    };
    let detail =
        said!("Depth is {}; {} is sown at most {} deep. Was it sown that deep?", depth, crop.name.as_str(), most);
    Ok((depth.base() > DEEPER * most.base()).then_some(("/payload/depth", detail)))
}

/// Sown although a check of the ground or the drill says no (what lime and fertilizer would better is no such check): it may have been another field, and what was sown was sown.
async fn not_ready(connection: &mut Connection, asked: &Asked<'_>) -> Result<Doubt, Problem> {
    let (Some(field), Some(stand)) = (asked.of(SubjectKind::Field), asked.of(SubjectKind::Stand)) else {
        return Ok(None);
    };
    let story = Story::of_field(connection, asked.member, field.id).await?;
    let Some(book) = story.books.stand(stand.id).filter(|book| book.sown_on().is_none()) else { return Ok(None) };
    let Some(decided) = book.decided() else { return Ok(None) };
    let ground = story.books.field(field.id);
    let core = assess(
        story.asked(&decided.choices, story.field()?, &ground, None),
        Some(book),
        &story.succession(field.id),
        None,
    );
    let shut: Vec<Said> = core
        .gates
        .iter()
        .filter(|gate| gate.stands == Stands::Shut && !matches!(gate.key, GateKey::Fertile | GateKey::Seed))
        .map(|gate| said!("{}: {}", gate.title.as_str(), gate.evidence))
        .collect();
    let many = shut.len();
    let detail = match many {
        0 => return Ok(None),
        1 => said!("A check has not passed. {}. Was it sown anyway?", Said::joined(shut, "")),
        _ => said!("{} checks have not passed. {}. Was it sown anyway?", many, Said::joined(shut, "; ")),
    };
    Ok(Some(("/occurred_on", detail)))
}

/// As many pieces on as much ground twice a day: they may have been inked before.
async fn set_twice(connection: &mut Connection, asked: &Asked<'_>, set: &PlantsSet) -> Result<Doubt, Problem> {
    let Some(stand) = asked.of(SubjectKind::Stand) else { return Ok(None) };
    let books = asked.books(connection, stand).await?;
    let kept = books.stand(stand.id).map_or(&[][..], |book| &book.planted);
    let same = kept.iter().any(|one| one.on == asked.on && one.what.set == set.set && close(one.what.area, set.area));
    let detail = said!("{} pieces are already recorded for {}. Is this a second planting?", set.set, asked.on);
    Ok(same.then_some(("/payload/set", detail)))
}

/// The same places counted twice on a day are one count, inked again.
async fn counted_twice(connection: &mut Connection, asked: &Asked<'_>, count: &StandCount) -> Result<Doubt, Problem> {
    let Some(stand) = asked.of(SubjectKind::Stand) else { return Ok(None) };
    let books = asked.books(connection, stand).await?;
    let kept = books.stand(stand.id).map_or(&[][..], |book| &book.counts);
    let same = kept.iter().any(|one| {
        one.on == asked.on
            && one.what.crop == count.crop
            && one.what.stems == count.stems
            && one.what.counted == count.counted
    });
    let detail = said!("The same count is already recorded for {}. Is this a different count?", asked.on);
    Ok(same.then_some(("/payload/counted", detail)))
}

/// More set apart than the lot holds: it may have been counted wrong before.
async fn split_beyond(connection: &mut Connection, asked: &Asked<'_>, split: &ForageSplit) -> Result<Doubt, Problem> {
    let from = asked.about.iter().find(|one| one.kind == SubjectKind::ForageLot && one.part == Some(Part::From));
    let Some(from) = from else { return Ok(None) };
    // What is in a lot hangs on those it was set apart from: the field it came off tells of all.
    let told = entry::all(connection, &asked.member.membership, Some(from.subject())).await?;
    let Some(field) = told.iter().find_map(Entry::field) else { return Ok(None) };
    let books = asked.books(connection, Subject::field(field)).await?;
    let left = books.forage_left(from.id);
    let pieces: u32 = split.parts.iter().filter_map(|part| part.pieces).fold(0, u32::saturating_add);
    if let Some(there) = left.pieces.filter(|there| pieces > *there) {
        let detail =
            said!("{} bales or loads are left in this lot, and {} are set apart: is that right?", there, pieces);
        return Ok(Some(("/payload/parts", detail)));
    }
    let mass: f64 = split.parts.iter().filter_map(|part| part.mass).map(Measure::base).sum();
    // A scale is never right to the pound.
    let beyond = left.mass.filter(|there| mass > there.base() * 1.02);
    Ok(beyond.map(|there| {
        let detail =
            said!("{} are left in this lot, and {} are set apart: is that right?", there, Mass::from_base(mass));
        ("/payload/parts", detail)
    }))
}

fn sows(key: &str) -> bool {
    operation(key).is_some_and(|known| known.role == Some(Role::Sowing))
}

/// Written alike, in whatever unit.
fn close<M: Measure>(one: M, other: M) -> bool {
    (one.base() - other.base()).abs() <= 1e-6 * one.base().abs()
}
