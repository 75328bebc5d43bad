//! Counts of a farm's stands over HTTP, to be held beside one another.

use actix_web::{get, web};
use agronomy::{
    counting::{CountAnswer, CountRequest, count_interval},
    units::Quantity,
};
use jiff::civil::Date;
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    api::story::Story,
    app::State,
    body::Shown,
    problem::{Problem, ProblemDocument},
    sign_in::Member,
};

/// A count that was made.
#[derive(Debug, Serialize, ToSchema)]
pub struct CountMade {
    /// The entry.
    pub entry: Uuid,
    /// Its day.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// Where.
    pub field: Uuid,
    /// Its name.
    pub field_name: String,
    /// Of which stand.
    pub stand: Uuid,
    /// Days after its sowing; none of a stand whose sowing was never inked.
    pub age: Option<i32>,
    /// Crop of the library.
    pub crop: String,
    /// Stems, not plants.
    pub stems: bool,
    /// Mean of the places.
    pub mean: Quantity,
    /// Of the field, nine times of ten; none of fewer than two places.
    pub interval: Option<[Quantity; 2]>,
    /// Places.
    pub places: usize,
}

/// All counts of a farm.
#[derive(Debug, Serialize, ToSchema)]
pub struct CountsView {
    /// The newest first.
    pub counts: Vec<CountMade>,
}

/// Counts of a farm's worked fields.
#[utoipa::path(params(("farm" = Uuid, Path)), responses(
    (status = 200, body = CountsView), (status = 404, body = ProblemDocument, content_type = "application/problem+json")))]
#[get("/farms/{farm}/counts")]
pub async fn made(state: web::Data<State>, member: Member) -> Result<Shown<CountsView>, Problem> {
    let mut connection = state.pool.get().await?;
    let (story, _) = Story::of_farm(&mut connection, &member, &state.shelf).await?;
    drop(connection);
    let work = move || {
        let mut counts: Vec<CountMade> = story
            .stands
            .iter()
            .filter_map(|stand| {
                let field = story.fields.iter().find(|field| field.id == stand.field_id)?;
                Some((stand, field, story.books.stand(stand.id)?))
            })
            .flat_map(|(stand, field, book)| {
                book.counts.iter().filter_map(move |count| {
                    let counted = count.what.counted.ready();
                    let told = count_interval(&CountRequest { counted, thresholds: vec![] }).ok()?;
                    let CountAnswer { mean, interval, places, .. } = told.value;
                    Some(CountMade {
                        entry: count.entry,
                        on: count.on,
                        field: field.id,
                        field_name: field.name.clone(),
                        stand: stand.id,
                        age: book.sown_on().map(|sown| agronomy::weather::days_between(sown, count.on)),
                        crop: count.what.crop.clone(),
                        stems: count.what.stems,
                        mean,
                        interval,
                        places,
                    })
                })
            })
            .collect();
        counts.sort_by_key(|one| (std::cmp::Reverse(one.on), one.entry));
        CountsView { counts }
    };
    Ok(Shown(member.reader(), state.work.run(member.farm(), work).await?))
}
