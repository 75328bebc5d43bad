//! Starting a stand, and its plan.

use std::sync::Arc;

use actix_web::{get, post, web};
use agronomy::{
    crop::library,
    lime::{self, LimeNeed, PhPath},
    mix::MixRates,
    nutrients::Needs,
    plants::PlantCount,
    refusal::{Refused, Unusual},
    said,
    seed::Order,
    site::Readiness,
    units::{Area, Length},
    window::{Edges, WindowAnswer},
    working::Answer,
};
use jiff::civil::Date;
use ledger::{
    entry::{self, NewEntry, Via},
    farm, lot, stand,
};
use planner::{
    Assessment, Gate, LotFacts, Plan, Proposal, SeedNeed, Trouble, Whole, Young,
    ground::{self, Asked},
    sowing_step,
    weather::Timing,
    whole,
};
use records::{
    Choices, Closes, Cover, Goal, LimeMethod, Subject,
    book::{Decided, Dressing, StandBook},
    kinds::{
        choices::{ChoicesRecord, ChoicesShape},
        step::Step,
    },
};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    api::{
        entries::EntryView,
        story::{Story, assessed, first_years},
    },
    app::State,
    body::{Body, Shown},
    climate::{Heard, Outlook},
    problem::{Problem, ProblemDocument},
    shelf::{Shelved, Sight},
    sign_in::Member,
};

/// What choices imply: steps, rates, seed, cost.
#[derive(Debug, Serialize, ToSchema)]
pub struct Implied {
    /// Steps in pencil.
    pub plan: Plan,
    /// Area that will be sown.
    pub sown_area: Area,
    /// The mix, when sown from seed.
    pub mix: Option<Answer<MixRates>>,
    /// The plants, when set out.
    pub plants: Option<Answer<PlantCount>>,
    /// Seed needed; absent where it can't be reckoned.
    pub need: Option<SeedNeed>,
    /// The order from the chosen lots.
    pub order: Option<Answer<Order>>,
    /// Far from usual: has to be confirmed.
    pub unusual: Vec<Unusual>,
    /// Whether the field is fit.
    pub readiness: Option<Answer<Readiness>>,
    /// Schools of lime that the latest soil test allows; empty without a test.
    pub lime_methods: Vec<LimeMethod>,
    /// pH to lime to: the fussiest crop decides.
    pub target_ph: Option<f64>,
    /// The lime decided on.
    pub lime: Option<Answer<LimeNeed>>,
    /// The dressing it comes to, ready to be inked.
    pub lime_dressing: Option<Dressing>,
    /// What becomes of pH.
    pub path: Option<Answer<PhPath>>,
    /// The day the path starts.
    #[schema(value_type = Option<String>, format = Date)]
    pub path_from: Option<Date>,
    /// The pH below which the stand suffers.
    pub floor: Option<f64>,
    /// Nutrients by every school.
    pub needs: Option<Answer<Needs>>,
    /// When it could be sown; empty without weather years or once it is.
    pub windows: Vec<StripWindow>,
    /// The ways of timing that it may be sown in here; as empty.
    pub timings: Vec<Timing>,
    /// The first sound day to sow, for a stand that is not started yet.
    pub proposal: Option<Proposal>,
    /// What must be so before it is sown; none once it is.
    pub gates: Vec<Gate>,
    /// Its first two years; none before it is sown, or once it is old.
    pub young: Option<Young>,
    /// Parts that can't be reckoned, and why.
    pub troubles: Vec<Trouble>,
}

impl Implied {
    fn of(asked: Asked<'_>, whole: Whole, young: Option<Young>, unusual: Vec<Unusual>) -> Self {
        let Whole { core, mix, plants, need, order, path } = whole;
        let Assessment { readiness, lime, needs, windows, timings, proposal, plan, gates, troubles } = core;
        let crops: Vec<_> = asked.choices.cover.crops().into_iter().filter_map(|id| library().crop(id)).collect();
        Self {
            plan,
            sown_area: asked.area,
            mix,
            plants,
            need,
            order,
            unusual,
            readiness,
            lime_methods: ground::lime_methods(asked.ground, asked.today),
            target_ph: lime::target_ph(crops.iter().copied()),
            lime_dressing: ground::planned_lime(asked.choices, lime.as_ref().map(|answer| &answer.value)),
            lime,
            path_from: path.as_ref().and_then(|_| asked.ground.test_by(asked.today).map(|test| test.on)),
            path,
            floor: crops.iter().map(|crop| crop.soil.ph_low.value).reduce(f64::max),
            needs,
            windows: windows.into_iter().map(StripWindow::of).collect(),
            timings,
            proposal,
            gates,
            young,
            troubles,
        }
    }
}

/// A window on a strip.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct StripWindow {
    /// Key of the way of timing.
    pub window: String,
    /// In words.
    pub name: String,
    /// The first day.
    #[schema(value_type = String, format = Date)]
    pub from: Date,
    /// Odds by day.
    pub odds: Vec<f64>,
    /// Opens, best, closes at the person's own level.
    pub edges: Edges,
}

impl StripWindow {
    fn of(answer: Answer<WindowAnswer>) -> Self {
        let WindowAnswer { window, name, curve, edges, .. } = answer.value;
        Self { window, name, from: curve.from, odds: curve.odds, edges }
    }
}

/// Choices to try on a field.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PreviewBody {
    /// The field.
    pub field: Uuid,
    /// The choices.
    pub choices: ChoicesShape,
}

/// What would these choices imply? Writes nothing.
#[utoipa::path(params(("farm" = Uuid, Path)), request_body = PreviewBody, responses(
    (status = 200, body = Implied),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/farms/{farm}/plan")]
pub async fn preview(
    state: web::Data<State>,
    member: Member,
    Body(body): Body<PreviewBody>,
) -> Result<Shown<Implied>, Problem> {
    let choices = body.choices.ready();
    let unusual = records::check(&choices, member.today()).map_err(|refused| refused.under("/choices"))?;
    let mut connection = state.pool.get().await?;
    let story = Story::of_field(&mut connection, &member, body.field).await?;
    let lots = state.shelf.lots(&mut connection, &member.membership).await?;
    let heard = state.climates.hear(&mut connection, &member.membership, story.today).await?;
    drop(connection);
    let (shared, level) = (state.clone(), member.person.odds_level);
    let work = move || {
        let outlook = shared.climates.outlook(heard, level);
        let field = story.field()?;
        let ground = story.books.field(field.id);
        let asked = story.asked(&choices, field, &ground, None);
        let core = assessed(asked, None, &story.succession(field.id), &outlook);
        Ok::<_, Problem>(Implied::of(asked, whole(asked, core, &lots), None, unusual))
    };
    Ok(Shown(member.reader(), state.work.run(member.farm(), work).await??))
}

/// A stand to start.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewStand {
    /// Made by the client.
    pub id: Uuid,
    /// Id of the entry that keeps the choices, made by the client.
    pub entry: Uuid,
    /// The field.
    pub field: Uuid,
    /// The choices.
    pub choices: ChoicesShape,
    /// What is far from usual is meant.
    #[serde(default)]
    pub confirmed: bool,
    /// It stands there already: when it was sown is inked with it.
    #[serde(default)]
    pub sown: Option<SownAlready>,
}

/// The sowing of a stand that is there already.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SownAlready {
    /// Id of the entry that keeps it, made by the client.
    pub entry: Uuid,
    /// How far that day is known, in the writer's words.
    #[serde(default)]
    pub note: Option<String>,
}

/// Start a stand; sent again, it is the same stand.
#[utoipa::path(params(("farm" = Uuid, Path)), request_body = NewStand, responses(
    (status = 200, body = StandDetail),
    (status = 404, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/farms/{farm}/stands")]
pub async fn start(
    state: web::Data<State>,
    member: Member,
    Body(new): Body<NewStand>,
) -> Result<Shown<StandDetail>, Problem> {
    member.decides()?;
    let mut connection = state.pool.get().await?;
    // What was kept once is not asked about again: sent again after midnight, it is the same stand.
    if entry::find(&mut connection, &member.membership, new.entry).await?.is_none() {
        let under = |refused: Refused| refused.under("/choices");
        let choices = new.choices.ready();
        let unusual = records::check(&choices, member.today()).map_err(under)?;
        // A stand that is there already was sown long ago.
        let unusual: Vec<_> =
            unusual.into_iter().filter(|one| new.sown.is_none() || one.pointer != "/sow_on").collect();
        if !unusual.is_empty() && !new.confirmed {
            return Err(Problem::Unusual(under(Refused(unusual))));
        }
        check_lots(&choices, &state.shelf.lots(&mut connection, &member.membership).await?).map_err(under)?;
    }
    // What stands there already was sown by the step that its practice has for it, on the day that the choices name.
    let sowing = match &new.sown {
        Some(sown) => Some(sowing_of(&new, sown, member.today())?),
        None => None,
    };
    ledger::together(&mut connection, async |connection| {
        stand::add(connection, &member.membership, new.id, new.field).await?;
        let payload = ChoicesRecord { choices: new.choices.clone() }.into();
        let about = [Subject::field(new.field), Subject::stand(new.id)];
        let entry = NewEntry::of(new.entry, about, member.today(), Via::Web, payload).today();
        entry::write(connection, &member.membership, &entry, member.today()).await?;
        if let Some(sowing) = &sowing {
            entry::write(connection, &member.membership, sowing, member.today()).await?;
        }
        Ok(())
    })
    .await?;
    drop(connection);
    detail(&state, &member, new.id).await
}

fn sowing_of(new: &NewStand, sown: &SownAlready, today: Date) -> Result<NewEntry, Problem> {
    let choices = new.choices.ready();
    let on = choices.sow_on;
    if on > today {
        let detail = said!("{} is still to come; enter the day it was sown", on);
        return Err(Refused::one("/choices/sow_on", detail).into());
    }
    let step = sowing_step(&choices).ok_or_else(|| Refused::one("/choices/practice", "this method has no sowing"))?;
    let done = Step {
        operation: step.operation.clone(),
        area: None,
        bulk_rate: None,
        depth: None,
        setting: None,
        emerged: None,
        note: sown.note.clone(),
    };
    let about = [Subject::field(new.field), Subject::stand(new.id)];
    let closes = Closes { stand: new.id, step: step.key.clone(), season: None, occurrence: Some(1) };
    Ok(NewEntry { closes: Some(closes), ..NewEntry::of(sown.entry, about, on, Via::Web, done.into()) })
}

/// Chosen lots must be this farm's, and of a crop in the mix.
///
/// # Errors
/// At the lot, relative to the choices.
pub fn check_lots(choices: &Choices, lots: &[LotFacts]) -> Result<(), Refused> {
    let Cover::Seed { lots: chosen, .. } = &choices.cover else { return Ok(()) };
    let crops = choices.cover.crops();
    for (index, choice) in chosen.iter().enumerate() {
        let found = lots.iter().find(|lot| lot.id == choice.lot);
        if !found.is_some_and(|lot| crops.contains(&lot.crop.as_str())) {
            let detail = "lot not found, has no tag, or is not a crop in the mix";
            return Err(Refused::one(format!("/cover/lots/{index}/lot"), detail));
        }
    }
    Ok(())
}

/// An inked step on the season.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct Mark {
    /// The entry.
    pub entry: Uuid,
    /// The outline it is drawn by.
    pub mark: String,
    /// In a word.
    pub word: String,
    /// How much it matters when there is not room for all.
    pub weight: u32,
    /// Its outline is enough.
    pub quiet: bool,
    /// It begins the stand.
    pub sowing: bool,
    /// The day it happened.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// It was struck: drawn with a line through it.
    pub struck: bool,
}

/// A stand in short.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct StandView {
    /// Id.
    pub id: Uuid,
    /// The field.
    pub field: Uuid,
    /// Its crops, in words.
    pub cover: String,
    /// Crop ids.
    pub crops: Vec<String>,
    /// What it is for.
    pub goal: Goal,
    /// Between its rows, where that was decided.
    pub row_spacing: Option<Length>,
    /// The entry of the decision that counts.
    pub decided: Uuid,
    /// The plan for today.
    pub plan: Plan,
    /// Inked steps, struck ones too.
    pub marks: Vec<Mark>,
    /// When it could be sown, while it is not; empty without weather years.
    pub windows: Vec<StripWindow>,
    /// Parts of it that can't be reckoned, and why.
    pub troubles: Vec<Trouble>,
}

/// Crops in words: "alfalfa, orchardgrass and timothy".
pub fn cover_in_words(cover: &Cover) -> String {
    let names: Vec<&str> =
        cover.crops().into_iter().map(|id| library().crop(id).map_or(id, |crop| crop.name.as_str())).collect();
    match names.as_slice() {
        [] => String::new(),
        [one] => (*one).to_owned(),
        [first @ .., last] => format!("{} and {last}", first.join(", ")),
    }
}

/// A stand in short, from its assessment.
pub fn view_of(stand: &stand::Stand, book: &StandBook, decided: &Decided, core: &Assessment) -> StandView {
    let choices = &decided.choices;
    let mut marks: Vec<Mark> = core
        .plan
        .steps
        .iter()
        .filter_map(|step| {
            let (entry, on) = step.inked()?;
            let (mark, word) = (step.look.mark.clone(), step.look.done.clone());
            let (weight, quiet, sowing) = (step.look.weight, step.look.quiet, step.is_sowing());
            Some(Mark { entry, mark, word, weight, quiet, sowing, on, struck: false })
        })
        .collect();
    let struck = book.operations.iter().filter(|done| done.struck).map(|done| {
        let known = agronomy::practice::operation(&done.operation);
        Mark {
            entry: done.entry,
            mark: known.map_or_else(|| "ring".to_owned(), |one| one.mark.clone()),
            word: known.map_or_else(|| done.operation.clone(), |one| one.done.clone()),
            weight: known.map_or(1, |one| one.weight),
            quiet: known.is_none_or(|one| one.quiet),
            sowing: false,
            on: done.on,
            struck: true,
        }
    });
    marks.extend(struck);
    StandView {
        id: stand.id,
        field: stand.field_id,
        cover: cover_in_words(&choices.cover),
        crops: choices.cover.crops().into_iter().map(str::to_owned).collect(),
        goal: choices.goal,
        row_spacing: match &choices.cover {
            Cover::Seed { .. } => choices.row_spacing,
            Cover::Plants { plants } => plants.row_spacing,
        },
        decided: decided.entry,
        plan: core.plan.clone(),
        marks,
        windows: core.windows.iter().cloned().map(StripWindow::of).collect(),
        troubles: core.troubles.clone(),
    }
}

/// A stand with everything about it.
#[derive(Debug, Serialize, ToSchema)]
pub struct StandDetail {
    /// In short.
    pub stand: StandView,
    /// The decisions that stand.
    pub choices: ChoicesShape,
    /// What they imply.
    pub implied: Implied,
    /// Its entries, newest first.
    pub entries: Vec<EntryView>,
}

/// A story's stand as it stands: its book and its last decision.
fn told(story: &Story, id: Uuid) -> Result<(&stand::Stand, &StandBook, &Decided), Problem> {
    let stand = story.stands.iter().find(|stand| stand.id == id).ok_or(Problem::NotFound)?;
    let book = story.books.stand(id).ok_or(Problem::NotFound)?;
    Ok((stand, book, book.decided().ok_or(Problem::NotFound)?))
}

fn detailed(
    story: &Story,
    id: Uuid,
    lots: &[LotFacts],
    names: &[(Uuid, String)],
    (shelved, sight): (&Shelved, Sight),
    outlook: &Outlook,
) -> Result<StandDetail, Problem> {
    let (stand, book, decided) = told(story, id)?;
    let field = story.field()?;
    let ground = story.books.field(field.id);
    let asked = story.asked(&decided.choices, field, &ground, book.sown_on());
    let core = shelved.core(id, sight, || assessed(asked, Some(book), &story.succession(field.id), outlook));
    let view = view_of(stand, book, decided, &core);
    let own = story.entries.iter().rev().filter(|entry| entry.stand() == Some(id));
    Ok(StandDetail {
        stand: view,
        choices: decided.shape.clone(),
        implied: Implied::of(asked, whole(asked, (*core).clone(), lots), first_years(asked, book, outlook), vec![]),
        entries: own.map(|entry| EntryView::of(entry.clone(), names)).collect(),
    })
}

/// What a stand's page is worked out from.
struct Loaded {
    story: Story,
    lots: Vec<LotFacts>,
    names: Vec<(Uuid, String)>,
    heard: Heard,
    shelved: Arc<Shelved>,
}

/// Everything that a stand's page needs, by one connection that is given back before anything is reckoned.
async fn load(state: &State, member: &Member, id: Uuid) -> Result<Loaded, Problem> {
    let connection = &mut *state.pool.get().await?;
    // Before the story: what is written in between is in the story, and no older assessment is kept for it.
    let shelved = state.shelf.books(connection, &member.membership).await?;
    let stand = stand::one(connection, &member.membership, id).await?;
    let story = Story::of_field(connection, member, stand.field_id).await?;
    let lots = lot::facts(connection, &member.membership, &shelved.books).await?;
    let names = farm::member_names(connection, &member.membership).await?;
    let heard = state.climates.hear(connection, &member.membership, story.today).await?;
    Ok(Loaded { story, lots, names, heard, shelved })
}

async fn detail(state: &web::Data<State>, member: &Member, id: Uuid) -> Result<Shown<StandDetail>, Problem> {
    let Loaded { story, lots, names, heard, shelved } = load(state, member, id).await?;
    let (shared, level) = (state.clone(), member.person.odds_level);
    let sight = (story.today, heard.revision(), level.to_bits(), member.membership.farm.version);
    let work = move || detailed(&story, id, &lots, &names, (&shelved, sight), &shared.climates.outlook(heard, level));
    Ok(Shown(member.reader(), state.work.run(member.farm(), work).await??))
}

/// One stand.
#[utoipa::path(params(("farm" = Uuid, Path), ("stand" = Uuid, Path)), responses(
    (status = 200, body = StandDetail), (status = 404, body = ProblemDocument, content_type = "application/problem+json")))]
#[get("/farms/{farm}/stands/{stand}")]
pub async fn read_one(
    state: web::Data<State>,
    member: Member,
    path: web::Path<(String, Uuid)>,
) -> Result<Shown<StandDetail>, Problem> {
    detail(&state, &member, path.1).await
}
