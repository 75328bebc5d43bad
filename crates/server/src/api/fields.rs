//! Fields.

use actix_web::{get, post, web};
use agronomy::{
    field::{Boundary, FieldArea, areas},
    units::{Area, Length, Measure, Unit},
    working::Answer,
};
use ledger::field::{self, Field};
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{
    app::State,
    body::{Body, Shown},
    problem::{Problem, ProblemDocument},
    sign_in::Member,
};

/// A field.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct FieldView {
    /// Id.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// GeoJSON polygon.
    pub boundary: Value,
    /// Along the boundary.
    pub setback: Length,
    /// Inside the boundary.
    pub area: Area,
    /// Inside the setback.
    pub sown_area: Area,
}

impl From<Field> for FieldView {
    fn from(field: Field) -> Self {
        Self {
            setback: Length::new(field.setback_m, Unit::M),
            area: Area::from_base(field.area_m2),
            sown_area: Area::from_base(field.sown_area_m2),
            id: field.id,
            name: field.name,
            boundary: field.boundary,
        }
    }
}

/// Fields of a farm.
#[derive(Debug, Serialize, ToSchema)]
pub struct Fields {
    /// By name.
    pub fields: Vec<FieldView>,
}

/// Fields of a farm.
#[utoipa::path(params(("farm" = Uuid, Path)), responses((status = 200, body = Fields)))]
#[get("/farms/{farm}/fields")]
pub async fn list(state: web::Data<State>, member: Member) -> Result<Shown<Fields>, Problem> {
    let fields = field::all(&mut *state.pool.get().await?, &member.membership).await?;
    Ok(Shown(member.person.units, Fields { fields: fields.into_iter().map(FieldView::from).collect() }))
}

/// A field with its sizes worked out.
#[derive(Debug, Serialize, ToSchema)]
pub struct FieldDetail {
    /// The field.
    pub field: FieldView,
    /// Its areas, with the working.
    pub areas: Answer<FieldArea>,
    /// The sown part, as GeoJSON MultiPolygon coordinates.
    pub inside: Vec<Vec<Vec<[f64; 2]>>>,
}

/// One field.
#[utoipa::path(params(("farm" = Uuid, Path), ("field" = Uuid, Path)), responses(
    (status = 200, body = FieldDetail), (status = 404, body = ProblemDocument, content_type = "application/problem+json")))]
#[get("/farms/{farm}/fields/{field}")]
pub async fn read_one(
    state: web::Data<State>,
    member: Member,
    path: web::Path<(String, Uuid)>,
) -> Result<Shown<FieldDetail>, Problem> {
    let field = field::one(&mut *state.pool.get().await?, &member.membership, path.1).await?;
    let detail = state.work.run(move || detailed(field)).await??;
    Ok(Shown(member.person.units, detail))
}

/// A field with its sizes and the outline of its sown part.
fn detailed(field: Field) -> Result<FieldDetail, Problem> {
    let boundary = Boundary::from_geojson(&field.boundary)?;
    let setback = Length::new(field.setback_m, Unit::M);
    let ring = |line: &geo::LineString| line.coords().map(|corner| [corner.x, corner.y]).collect::<Vec<_>>();
    let inside = boundary
        .inside(setback)
        .iter()
        .map(|part| std::iter::once(part.exterior()).chain(part.interiors()).map(ring).collect())
        .collect();
    Ok(FieldDetail { areas: areas(&boundary, setback)?, field: field.into(), inside })
}

/// A field to add.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewField {
    /// Made by the client.
    pub id: Uuid,
    /// Name.
    pub name: String,
    /// GeoJSON polygon, feature, or collection of one.
    pub boundary: Value,
    /// Along the boundary; none when absent.
    #[serde(default)]
    pub setback: Length,
}

/// Add a field; sent again, it is the same field.
#[utoipa::path(params(("farm" = Uuid, Path)), request_body = NewField, responses(
    (status = 200, body = FieldView),
    (status = 409, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/farms/{farm}/fields")]
pub async fn add(
    state: web::Data<State>,
    member: Member,
    Body(new): Body<NewField>,
) -> Result<Shown<FieldView>, Problem> {
    member.decides()?;
    let farm = member.membership.farm.id;
    let measured = move || Field::new(farm, new.id, &new.name, new.boundary, new.setback);
    let field = state.work.run(measured).await??;
    let kept = field::add(&mut *state.pool.get().await?, &member.membership, &field).await?;
    Ok(Shown(member.person.units, kept.into()))
}
