//! Lots of forage of a farm over HTTP.

use std::collections::HashMap;

use actix_web::{get, web};
use agronomy::{
    caution::Caution,
    crop::library,
    forage::{Bale, nitrate_to_ask_about},
    units::{Fraction, Mass, Measure},
};
use jiff::civil::Date;
use ledger::field;
use records::{
    Payload,
    book::{Books, ForageBook},
    kinds::{
        forage_analysis::ForageAnalysis,
        forage_lot::{ForageForm, ForageLot},
    },
};
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{app::State, body::Shown, problem::Problem, sign_in::Member};

/// A field that forage came off.
#[derive(Debug, Serialize, ToSchema)]
pub struct GrownOn {
    /// Id.
    pub id: Uuid,
    /// Name.
    pub name: String,
}

/// A figure of a laboratory's report, in dry matter.
#[derive(Debug, Serialize, ToSchema)]
pub struct AnalysisFigure {
    /// What.
    pub name: String,
    /// Share of dry matter.
    pub share: Fraction,
}

/// A laboratory's report on a lot.
#[derive(Debug, Serialize, ToSchema)]
pub struct AnalysisView {
    /// The entry.
    pub entry: Uuid,
    /// The day.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// As it was recorded, with the word of its kind.
    #[schema(value_type = ForageAnalysis)]
    pub report: Payload,
    /// Its main figures, in dry matter.
    pub figures: Vec<AnalysisFigure>,
    /// Relative feed value, where both fibers were tested.
    pub relative_feed_value: Option<f64>,
    /// Nitrate nitrogen in dry matter, ppm, whatever form it was reported in.
    pub nitrate_nitrogen_ppm: Option<f64>,
}

/// A lot of forage, as it is now.
#[derive(Debug, Serialize, ToSchema)]
pub struct ForageView {
    /// Id.
    pub id: Uuid,
    /// The entry that tells of it last.
    pub entry: Uuid,
    /// The day it was made.
    #[schema(value_type = String, format = Date)]
    pub made_on: Date,
    /// As it was made, with the word of its kind; of a lot that was set apart, the lot it was part of.
    #[schema(value_type = ForageLot)]
    pub made: Payload,
    /// What it is, in words.
    pub words: String,
    /// The crop's name.
    pub crop: String,
    /// Fields it came off.
    pub fields: Vec<GrownOn>,
    /// The lot it was set apart from.
    pub part_of: Option<Uuid>,
    /// Where it is kept, in the person's words.
    pub place: Option<String>,
    /// Bales or loads left in it.
    pub pieces: Option<u32>,
    /// What is left of it, as it was weighed.
    pub mass: Option<Mass>,
    /// Dry matter of that; none without a weight and a moisture or a laboratory report.
    pub dry_matter: Option<Mass>,
    /// Laboratory reports, newest first.
    pub analyses: Vec<AnalysisView>,
    /// What to mind.
    pub cautions: Vec<Caution>,
}

/// Lots of forage of a farm.
#[derive(Debug, Serialize, ToSchema)]
pub struct ForageLots {
    /// Made last first.
    pub lots: Vec<ForageView>,
    /// Dry matter of all whose dry matter is known.
    pub dry_matter: Mass,
    /// Lots whose dry matter is not known.
    pub unknown: usize,
    /// Older lots that are not shown.
    pub older: usize,
}

/// Lots that are shown: a farm makes some dozens a year.
const MOST_LOTS: usize = 500;

/// Lots of forage of a farm: what was made, what is left, and what the laboratory says.
#[utoipa::path(operation_id = "forage_lots", params(("farm" = Uuid, Path)), responses((status = 200, body = ForageLots)))]
#[get("/farms/{farm}/forage")]
pub async fn lots(state: web::Data<State>, member: Member) -> Result<Shown<ForageLots>, Problem> {
    let mut connection = state.pool.get().await?;
    let fields = field::all(&mut connection, &member.membership).await?;
    let names: HashMap<Uuid, String> = fields.into_iter().map(|field| (field.id, field.name)).collect();
    let shelved = state.shelf.books(&mut connection, &member.membership).await?;
    drop(connection);
    let books = &shelved.books;
    let mut lots: Vec<ForageView> =
        books.forage_lots().filter_map(|(id, book)| seen(books, id, book, &names)).collect();
    lots.sort_by(|a, b| b.made_on.cmp(&a.made_on).then(a.id.cmp(&b.id)));
    let known = lots.iter().filter_map(|lot| lot.dry_matter).map(Measure::base).sum();
    let unknown = lots.iter().filter(|lot| lot.dry_matter.is_none()).count();
    let older = lots.len().saturating_sub(MOST_LOTS);
    lots.truncate(MOST_LOTS);
    Ok(Shown(member.reader(), ForageLots { lots, dry_matter: Mass::from_base(known), unknown, older }))
}

fn seen(books: &Books, id: Uuid, book: &ForageBook, names: &HashMap<Uuid, String>) -> Option<ForageView> {
    // Nothing stands of a lot whose making was struck.
    let origin = books.forage_origin(id)?;
    let made = origin.what.made.clone();
    let entry = book.made.as_ref().map(|made| made.entry).or(book.from.as_ref().map(|split| split.entry))?;
    let left = books.forage_left(id);
    let dry = books.forage_dry_matter(id);
    let place = match &book.from {
        Some(split) if book.made.is_none() => split.what.part.place.clone(),
        _ => made.place.clone(),
    };
    let analyses: Vec<AnalysisView> =
        book.analyses.iter().rev().map(|report| view(report.entry, report.on, &report.what)).collect();
    let name = |field: &Uuid| GrownOn { id: *field, name: names.get(field).cloned().unwrap_or_default() };
    Some(ForageView {
        id,
        entry,
        made_on: origin.on,
        words: made.form.words().to_owned(),
        crop: library().crop(&made.crop).map_or_else(|| made.crop.clone(), |crop| crop.name.clone()),
        fields: origin.what.fields.iter().map(name).collect(),
        part_of: book.from.as_ref().filter(|_| book.made.is_none()).map(|split| split.what.from),
        place,
        pieces: left.pieces,
        mass: left.mass,
        dry_matter: left.mass.zip(dry).map(|(mass, dry)| mass * dry.base()),
        cautions: cautions(&made, book),
        analyses,
        made: made.into(),
    })
}

fn view(entry: Uuid, on: Date, report: &ForageAnalysis) -> AnalysisView {
    let figures = [
        ("Crude protein", report.dry(report.crude_protein)),
        ("ADF", report.dry(report.adf)),
        ("NDF", report.dry(report.ndf)),
        ("TDN", report.dry(report.tdn)),
    ];
    let told = |(name, share): (&str, Option<Fraction>)| Some(AnalysisFigure { name: name.to_owned(), share: share? });
    AnalysisView {
        entry,
        on,
        figures: figures.into_iter().filter_map(told).collect(),
        relative_feed_value: report.relative_feed_value(),
        nitrate_nitrogen_ppm: report.nitrate_nitrogen().map(|share| share.base() * 1e6),
        report: report.clone().into(),
    }
}

fn cautions(made: &ForageLot, book: &ForageBook) -> Vec<Caution> {
    let bale = match made.form {
        ForageForm::SmallBales => Some(Bale::SmallSquare),
        ForageForm::LargeBales => Some(Bale::LargeSquare),
        ForageForm::RoundBales => Some(Bale::Round),
        _ => None,
    };
    let damp = bale.zip(made.moisture).is_some_and(|(bale, moisture)| moisture > bale.wettest());
    let nitrate = book.analyses.last().and_then(|report| report.what.nitrate_nitrogen());
    let found = nitrate.is_some_and(|share| share >= nitrate_to_ask_about());
    let keys = [damp.then_some("damp-bales"), found.then_some("nitrate-found")];
    keys.into_iter().flatten().filter_map(Caution::of).collect()
}
