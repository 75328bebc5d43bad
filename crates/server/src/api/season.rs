//! The season: every field, its stand, and what is next.

use std::{
    collections::HashMap,
    io::Read,
    sync::{
        Arc,
        atomic::{AtomicUsize, Ordering},
    },
    time::Duration,
};

use actix_web::{
    HttpRequest, HttpResponse, get,
    http::header::{ACCEPT_ENCODING, CONTENT_ENCODING, ContentType, VARY},
    web::{self, Bytes},
};
use agronomy::{seed::Method, units::Reader};
use flate2::read::GzDecoder;
use jiff::{ToSpan, civil::Date};
use ledger::{Connection, chain, farm, field::Field, kept, people, stand::Stand};
use planner::{
    State as StepState, Step,
    effort::{Clash, Work, clashes},
};
use records::kinds::machine::MachineFacts;
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    api::{
        fields::FieldView,
        stands::{StandView, view_of},
        story::{Story, assessed},
    },
    app::State,
    body::written,
    climate::{Climates, Outlook},
    clock,
    pieces::{Piece, Uncompressed, gzip},
    problem::Problem,
    screens::takes,
    seasons::{Asked, Standing},
    shelf::{Seen, Shelved, Sight},
    sign_in::Member,
};

/// How far ahead a waiting step is worth naming, days.
const SOON: i32 = 21;

/// A field's strip.
#[derive(Debug, Serialize, ToSchema)]
pub struct Strip {
    /// The field.
    pub field: FieldView,
    /// Its stands, the current one last.
    #[schema(value_type = Vec<StandView>)]
    pub stands: Vec<Arc<StandView>>,
}

/// A step to see to.
#[derive(Debug, Serialize, ToSchema)]
pub struct NextStep {
    /// The field.
    pub field: Uuid,
    /// Its name.
    pub field_name: String,
    /// The stand.
    pub stand: Uuid,
    /// The step.
    pub step: Step,
}

/// A farm's season.
#[derive(Debug, Serialize, ToSchema)]
pub struct Season {
    /// The day at the farm.
    #[schema(value_type = String, format = Date)]
    pub today: Date,
    /// Degrees north.
    pub latitude: f64,
    /// Fields, by name.
    pub strips: Vec<Strip>,
    /// Overdue, ready, blocked and soon, in that order.
    pub next: Vec<NextStep>,
    /// Days on which several steps want one machine.
    pub clashes: Vec<Clash>,
}

/// A farm's season.
#[utoipa::path(params(("farm" = Uuid, Path)), responses((status = 200, body = Season)))]
#[get("/farms/{farm}/season")]
pub async fn season(request: HttpRequest, state: web::Data<State>, member: Member) -> Result<HttpResponse, Problem> {
    let mut connection = state.pool.get().await?;
    let standing = standing(&mut connection, &member).await?;
    let at_hand = at_hand(&state, &mut connection, &member, standing).await?;
    drop(connection);
    let body = match at_hand {
        Some(body) => body,
        None => draw(&state, &member).await?,
    };
    if takes(request.headers().get(ACCEPT_ENCODING), "gzip") {
        return Ok(told(body));
    }
    let mut plain = vec![];
    GzDecoder::new(&body[..]).read_to_end(&mut plain).map_err(|error| Problem::Internal(error.to_string()))?;
    Ok(HttpResponse::Ok().content_type(ContentType::json()).body(plain))
}

/// What a member's season hangs on.
async fn standing(connection: &mut Connection, member: &Member) -> Result<Standing, Problem> {
    let position = chain::head(connection, &member.membership).await?.position;
    let founded = kept::founded(connection, &member.membership).await?;
    let revision = Climates::revision(connection, &member.membership).await?;
    let sight = (member.today(), revision, member.person.odds_level.to_bits(), member.membership.farm.version);
    Ok(Standing { position, founded, sight, reader: member.reader() })
}

/// The season as it was answered before, here or by another server.
async fn at_hand(
    state: &web::Data<State>,
    connection: &mut Connection,
    member: &Member,
    standing: Standing,
) -> Result<Option<Bytes>, Problem> {
    let farm = member.membership.farm.id;
    if let Some(body) = state.seasons.kept(farm, &standing) {
        return Ok(Some(body));
    }
    // Where the books are at hand, drawing is quicker than asking.
    if !state.keeps_seasons || state.shelf.has(farm, standing.position) {
        return Ok(None);
    }
    let found = kept::find(connection, &member.membership, standing.key()).await?;
    let Some(body) = found.map(Bytes::from) else { return Ok(None) };
    state.seasons.keep(farm, member.person.id, standing, body.clone());
    // Whoever writes or opens a stand next finds the books at hand.
    let (state, member) = (state.clone(), member.clone());
    actix_web::rt::spawn(async move {
        state.shelf.books(&mut *state.pool.get().await?, &member.membership).await.map(drop)
    });
    Ok(Some(body))
}

/// Draw a member's season, by gzip, and keep it: of many who ask one draws, and the others have it from them.
///
/// # Errors
/// When the database fails, or no turn comes in time.
pub async fn draw(state: &web::Data<State>, member: &Member) -> Result<Bytes, Problem> {
    let farm = member.membership.farm.id;
    let _turn = state.seasons.turn_to_draw(farm).await?;
    let mut connection = state.pool.get().await?;
    // What is written from here on may be shown, and is drawn again: the place is read first.
    let standing = standing(&mut connection, member).await?;
    if let Some(body) = state.seasons.kept(farm, &standing) {
        return Ok(body);
    }
    let (story, shelved) = Story::of_farm(&mut connection, member, &state.shelf).await?;
    let heard = state.climates.hear(&mut connection, &member.membership, story.today).await?;
    drop(connection);
    let (shared, reader, level) = (state.clone(), member.reader(), member.person.odds_level);
    let work = move || {
        let (shell, strips) = drawn(story, &shelved, standing.sight, &shared.climates.outlook(heard, level));
        tell(&shell, &strips, reader, &shelved)
    };
    let body = state.work.run(member.farm(), work).await??;
    state.seasons.keep(farm, member.person.id, standing, body.clone());
    if state.keeps_seasons {
        let (state, member, body) = (state.clone(), member.clone(), body.clone());
        actix_web::rt::spawn(async move {
            let connection = &mut *state.pool.get().await?;
            kept::keep(connection, &member.membership, standing.key(), &body).await
        });
    }
    Ok(body)
}

/// How often farms are looked at whose day may have changed.
const LOOK: Duration = Duration::from_secs(30);

/// Draw seasons of a new day before they are asked for: of the farms asked for lately, one after another, for whoever asked
/// last. For as long as the server runs.
pub async fn prepare(state: web::Data<State>) {
    let mut look = tokio::time::interval(LOOK);
    loop {
        look.tick().await;
        for asked in state.seasons.asked() {
            if let Err(problem) = prepared(&state, asked).await {
                tracing::debug!("the season of {} was not prepared: {problem}", asked.farm);
            }
        }
    }
}

/// Draw a farm's season if its day has changed since it was last drawn.
///
/// # Errors
/// When the database fails, or whoever asked last belongs there no more.
pub async fn prepared(state: &web::Data<State>, asked: Asked) -> Result<(), Problem> {
    let mut connection = state.pool.get().await?;
    let membership = farm::membership(&mut connection, asked.person, asked.farm).await?;
    if clock::today(&membership.farm) == asked.day {
        return Ok(());
    }
    let person = people::by_id(&mut connection, asked.person).await?;
    drop(connection);
    draw(state, &Member { person, membership }).await.map(drop)
}

fn untold(error: Uncompressed) -> Problem {
    Problem::Internal(error.to_string())
}

/// Write a season strip by strip: what was told of a strip before is told again.
fn tell(drawn: &Season, strips: &[Seen], reader: Reader, shelved: &Shelved) -> Result<Bytes, Problem> {
    let shell = written(reader, drawn)?;
    // Inside of a text a quote is escaped: this stands there once.
    let (before, after) =
        shell.split_once(NO_STRIPS).ok_or_else(|| Problem::Internal("a season of another shape".to_owned()))?;
    let mut pieces = vec![Piece::of(&format!("{before}\"strips\":[")).map_err(untold)?];
    let comma = Piece::of(",").map_err(untold)?;
    for (index, some) in strips.chunks(TOGETHER).enumerate() {
        if index > 0 {
            pieces.push(comma.clone());
        }
        let tell = || {
            let one = |(field, stands): &Seen| {
                written(reader, &Strip { stands: stands.clone(), field: field.clone().into() })
            };
            let all = some.iter().map(one).collect::<Result<Vec<_>, _>>()?;
            Piece::of(&all.join(",")).map_err(untold)
        };
        pieces.push(shelved.strips(reader, some, tell)?);
    }
    pieces.push(Piece::of(&format!("]{after}")).map_err(untold)?);
    Ok(gzip(&pieces))
}

/// Strips that are compressed together: what they have in common is told once.
const TOGETHER: usize = 4;

const NO_STRIPS: &str = "\"strips\":[]";

/// A body that is compressed already.
fn told(body: Bytes) -> HttpResponse {
    HttpResponse::Ok()
        .content_type(ContentType::json())
        .insert_header((CONTENT_ENCODING, "gzip"))
        .insert_header((VARY, "accept-encoding"))
        .body(body)
}

/// Stands as they are seen, on as many cores as there are: those that nobody has looked at since they changed take a while
/// each.
fn seen(story: &Story, shelved: &Shelved, sight: Sight, outlook: &Outlook) -> Vec<Arc<StandView>> {
    let fields: HashMap<Uuid, &Field> = story.fields.iter().map(|field| (field.id, field)).collect();
    let one = |stand: &Stand| {
        let seen = || {
            let book = story.books.stand(stand.id)?;
            let decided = book.decided()?;
            let field = fields.get(&stand.field_id)?;
            let ground = story.books.field(field.id);
            let asked = story.asked(&decided.choices, field, &ground, book.sown_on());
            let core = assessed(asked, Some(book), &story.succession(field.id), outlook);
            Some(view_of(stand, book, decided, &core))
        };
        shelved.view(stand.id, sight, seen)
    };
    let cores = std::thread::available_parallelism().map_or(1, usize::from);
    let next = AtomicUsize::new(0);
    // Each takes the next that nobody has taken.
    let some = || {
        let mut own = vec![];
        loop {
            let at = next.fetch_add(1, Ordering::Relaxed);
            let Some(stand) = story.stands.get(at) else { return own };
            own.extend(one(stand).map(|view| (at, view)));
        }
    };
    let others = if story.stands.len() < WORTH_SHARING { 0 } else { cores - 1 };
    let mut all: Vec<(usize, Arc<StandView>)> = std::thread::scope(|scope| {
        let others: Vec<_> = (0..others).map(|_| scope.spawn(some)).collect();
        let mut all = some();
        for other in others {
            match other.join() {
                Ok(own) => all.extend(own),
                Err(panic) => std::panic::resume_unwind(panic),
            }
        }
        all
    });
    // In their own order, whichever thread saw them.
    all.sort_by_key(|(at, _)| *at);
    all.into_iter().map(|(_, view)| view).collect()
}

/// Stands from which on another thread is worth beginning.
const WORTH_SHARING: usize = 40;

/// A season without its strips, and these, each with the field it is of.
fn drawn(story: Story, shelved: &Shelved, sight: Sight, outlook: &Outlook) -> (Season, Vec<Seen>) {
    let today = story.today;
    let mut views = seen(&story, shelved, sight, outlook);
    views.sort_by_key(|view| view.plan.sown_on);

    let latitude = story.latitude;
    let mut of_field: HashMap<Uuid, Vec<Arc<StandView>>> = HashMap::new();
    for view in views {
        of_field.entry(view.field).or_default().push(view);
    }
    let strips: Vec<Seen> = story
        .fields
        .into_iter()
        .map(|field| {
            let stands = of_field.remove(&field.id).unwrap_or_default();
            (field, stands)
        })
        .collect();
    let mut next: Vec<NextStep> = strips
        .iter()
        .filter_map(|(field, stands)| stands.last().map(|stand| (field, stand)))
        .flat_map(|(field, stand)| {
            stand.plan.steps.iter().filter(|step| rank(step, today).is_some()).map(|step| NextStep {
                field: field.id,
                field_name: field.name.clone(),
                stand: stand.id,
                step: step.clone(),
            })
        })
        .collect();
    next.sort_by_key(|next| (rank(&next.step, today), next.step.to, next.field_name.clone()));
    let machines: Vec<&MachineFacts> =
        story.books.machines().filter_map(|(_, book)| Some(&book.facts.as_ref()?.what)).collect();
    let work: Vec<Work<'_>> = strips
        .iter()
        .flat_map(|(field, stands)| stands.iter().map(move |stand| (field, stand)))
        .filter_map(|(field, stand)| {
            let choices = &story.books.stand(stand.id)?.decided()?.choices;
            Some(Work {
                field: field.id,
                name: &field.name,
                stand: stand.id,
                area: field.sown_area(),
                broadcast: choices.cover.method() == Some(Method::Broadcast),
                plants: choices.cover.is_plants(),
                plan: &stand.plan,
            })
        })
        .collect();
    let clashes = if machines.is_empty() { vec![] } else { clashes(&work, &machines, today) };
    (Season { today, latitude, strips: vec![], next, clashes }, strips)
}

/// Order of urgency; `None` for what needs no attention.
fn rank(step: &Step, today: Date) -> Option<u8> {
    match step.state {
        StepState::Overdue => Some(0),
        StepState::Ready => Some(1),
        StepState::Blocked { .. } => Some(2),
        StepState::Waiting if step.from <= today.saturating_add(SOON.days()) => Some(3),
        StepState::Waiting | StepState::Done { .. } | StepState::Passed => None,
    }
}
