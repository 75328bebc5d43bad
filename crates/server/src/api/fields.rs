//! Fields.

use actix_web::{HttpResponse, get, post, put, web};
use agronomy::{
    field::FieldArea,
    refusal::Refused,
    units::{Area, Length, Measure, Unit},
    working::Answer,
};
use jiff::civil::Date;
use ledger::{
    field::{self, Extent, Field},
    parting::{self, Share},
};
use records::kinds::field_shape::FieldShape;
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
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
    /// GeoJSON polygon; none of a field that is known by its area alone.
    pub boundary: Option<Value>,
    /// Along the boundary.
    pub setback: Length,
    /// Inside the boundary.
    pub area: Area,
    /// Inside the setback.
    pub sown_area: Area,
    /// It is no longer worked: what was recorded of it stays.
    pub retired: bool,
    /// The entry that tells how it lies, handed back with a correction as `after`; none of a field that is as it was
    /// founded.
    pub shape: Option<Uuid>,
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
            retired: field.retired,
            shape: field.shape,
        }
    }
}

/// Fields of a farm.
#[derive(Debug, Serialize, ToSchema)]
pub struct Fields {
    /// By name; retired ones among them.
    pub fields: Vec<FieldView>,
}

/// Fields of a farm.
#[utoipa::path(params(("farm" = Uuid, Path)), responses((status = 200, body = Fields)))]
#[get("/farms/{farm}/fields")]
pub async fn list(state: web::Data<State>, member: Member) -> Result<Shown<Fields>, Problem> {
    let fields = field::all(&mut *state.pool.get().await?, &member.membership).await?;
    Ok(Shown(member.reader(), Fields { fields: fields.into_iter().map(FieldView::from).collect() }))
}

/// Fields that are drawn, as GeoJSON (RFC 7946): one feature each, with its name and areas.
#[utoipa::path(params(("farm" = Uuid, Path)), responses(
    (status = 200, body = String, content_type = "application/geo+json")))]
#[get("/farms/{farm}/fields.geojson")]
pub async fn export(state: web::Data<State>, member: Member) -> Result<HttpResponse, Problem> {
    let fields = field::all(&mut *state.pool.get().await?, &member.membership).await?;
    let collection = feature_collection(&fields);
    Ok(HttpResponse::Ok()
        .content_type("application/geo+json")
        .insert_header(("content-disposition", "attachment; filename=\"fields.geojson\""))
        .body(collection.to_string()))
}

/// Fields that are drawn, as one collection.
pub(crate) fn feature_collection(fields: &[Field]) -> Value {
    let features: Vec<Value> = fields.iter().filter_map(feature).collect();
    json!({"type": "FeatureCollection", "features": features})
}

/// A field as a feature; none of one that is not drawn. What was handed in as a feature is so no more: its properties
/// are ours.
fn feature(field: &Field) -> Option<Value> {
    let mut geometry = field.boundary.clone()?;
    while let Some(inner) = geometry.get("geometry").or_else(|| geometry.pointer("/features/0")).cloned() {
        geometry = inner;
    }
    Some(json!({
        "type": "Feature",
        "id": field.id,
        "geometry": geometry,
        "properties": {
            "name": field.name,
            "area_m2": field.area_m2,
            "sown_area_m2": field.sown_area_m2,
            "setback_m": field.setback_m,
            "retired": field.retired,
        },
    }))
}

/// A field with its sizes worked out.
#[derive(Debug, Serialize, ToSchema)]
pub struct FieldDetail {
    /// The field.
    pub field: FieldView,
    /// Its areas, with the working, where it is drawn.
    pub areas: Option<Answer<FieldArea>>,
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
    let outline = state.outlines.of(&state.work, &field).await?;
    let areas = outline.as_ref().map(|outline| outline.areas.clone());
    let inside = outline.map(|outline| outline.inside.clone()).unwrap_or_default();
    Ok(Shown(member.reader(), FieldDetail { field: field.into(), areas, inside }))
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
    #[serde(default)]
    pub boundary: Option<Value>,
    /// Its area, of a field that is not drawn.
    #[serde(default)]
    pub area: Option<Area>,
    /// Along the boundary; none when absent.
    #[serde(default)]
    pub setback: Length,
}

/// How far a field reaches: over its boundary, or by its area alone.
fn extent(boundary: Option<Value>, area: Option<Area>) -> Result<Extent, Refused> {
    match (boundary, area) {
        (Some(boundary), None) => Ok(Extent::Outline(boundary)),
        (None, Some(area)) => Ok(Extent::Area(area)),
        (Some(_), Some(_)) => Err(Refused::one("/area", "give a boundary or an area, not both")),
        (None, None) => Err(Refused::one("/boundary", "draw the field, or give its area")),
    }
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
    let extent = extent(new.boundary, new.area)?;
    let measured = move || Field::new(farm, new.id, &new.name, extent, new.setback);
    let field = state.work.run(member.farm(), measured).await??;
    let kept = field::add(&mut *state.pool.get().await?, &member.membership, &field).await?;
    Ok(Shown(member.reader(), kept.into()))
}

/// How a field lies from a day on.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CorrectedField {
    /// Id of the entry, made by the client.
    pub id: Uuid,
    /// From this day on; what was sown before keeps the area it was sown on.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// Name.
    pub name: String,
    /// GeoJSON polygon, feature, or collection of one.
    #[serde(default)]
    pub boundary: Option<Value>,
    /// Its area, of a field that is not drawn.
    #[serde(default)]
    pub area: Option<Area>,
    /// Along the boundary; none when absent.
    #[serde(default)]
    pub setback: Length,
    /// It is no longer worked.
    #[serde(default)]
    pub retired: bool,
    /// The `shape` of the field that the writer looked at.
    #[serde(default)]
    pub after: Option<Uuid>,
}

/// Correct a field: rename it, draw it anew, retire it. Its older shapes stay in the ledger, each with its day.
#[utoipa::path(params(("farm" = Uuid, Path), ("field" = Uuid, Path)), request_body = CorrectedField, responses(
    (status = 200, body = FieldView),
    (status = 409, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[put("/farms/{farm}/fields/{field}")]
pub async fn correct(
    state: web::Data<State>,
    member: Member,
    path: web::Path<(String, Uuid)>,
    Body(body): Body<CorrectedField>,
) -> Result<Shown<FieldView>, Problem> {
    member.decides()?;
    let extent = extent(body.boundary, body.area)?;
    let measured = move || field::measured(&body.name, extent, body.setback);
    let shape = FieldShape { retired: body.retired, ..state.work.run(member.farm(), measured).await?? };
    let mut connection = state.pool.get().await?;
    let told = (body.id, body.on, body.after);
    field::reshape(&mut connection, &member.membership, path.1, shape, told, member.today()).await?;
    let field = field::one(&mut connection, &member.membership, path.1).await?;
    Ok(Shown(member.reader(), field.into()))
}

/// A part of a field that is to be one of its own.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Splitting {
    /// Id of the entry, made by the client.
    pub id: Uuid,
    /// Id of the new field, made by the client.
    pub part: Uuid,
    /// What the new field is called.
    pub name: String,
    /// From this day on.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// Across a drawn field: longitudes and latitudes. What lies on its left, as one walks along it, is the new field.
    #[serde(default)]
    pub line: Option<Vec<(f64, f64)>>,
    /// Of a field that is not drawn: how much of it is the new field.
    #[serde(default)]
    pub area: Option<Area>,
    /// The `shape` of the field that the writer looked at.
    #[serde(default)]
    pub after: Option<Uuid>,
}

/// Split a field: a part of it goes on as a field of its own, with what was recorded of the whole.
#[utoipa::path(params(("farm" = Uuid, Path), ("field" = Uuid, Path)), request_body = Splitting, responses(
    (status = 200, body = FieldView),
    (status = 409, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/farms/{farm}/fields/{field}/split")]
pub async fn split(
    state: web::Data<State>,
    member: Member,
    path: web::Path<(String, Uuid)>,
    Body(body): Body<Splitting>,
) -> Result<Shown<FieldView>, Problem> {
    member.decides()?;
    let share = match (body.line, body.area) {
        (Some(line), None) => Share::LeftOf(line),
        (None, Some(area)) => Share::Area(area),
        _ => return Err(Refused::one("/line", "draw the dividing line, or enter the area of one part").into()),
    };
    let mut connection = state.pool.get().await?;
    let of = field::one(&mut connection, &member.membership, path.1).await?;
    let whole = of.clone();
    let halves =
        state.work.run(member.farm(), move || parting::halves(&whole, share, (body.part, &body.name))).await??;
    let told = (body.id, body.on, body.after);
    let part = parting::split(&mut connection, &member.membership, &of, halves, told, member.today()).await?;
    Ok(Shown(member.reader(), part.into()))
}

/// Fields that are to be one.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Joining {
    /// Id of the entry, made by the client.
    pub id: Uuid,
    /// The fields that end in this one.
    pub with: Vec<Uuid>,
    /// From this day on.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// The `shape` of the field that the writer looked at.
    #[serde(default)]
    pub after: Option<Uuid>,
}

/// Join fields: this one goes on over all of them, and the others are worked no more. What forbids a crop on any of
/// them goes along; their soil tests and stands stay where they are.
#[utoipa::path(params(("farm" = Uuid, Path), ("field" = Uuid, Path)), request_body = Joining, responses(
    (status = 200, body = FieldView),
    (status = 409, body = ProblemDocument, content_type = "application/problem+json"),
    (status = 422, body = ProblemDocument, content_type = "application/problem+json")))]
#[post("/farms/{farm}/fields/{field}/join")]
pub async fn join(
    state: web::Data<State>,
    member: Member,
    path: web::Path<(String, Uuid)>,
    Body(body): Body<Joining>,
) -> Result<Shown<FieldView>, Problem> {
    member.decides()?;
    let mut connection = state.pool.get().await?;
    let mut all = vec![];
    for id in std::iter::once(path.1).chain(body.with.into_iter().take(100)) {
        if all.iter().any(|field: &Field| field.id == id) {
            return Err(Refused::one("/with", "list each field to join once").into());
        }
        all.push(field::one(&mut connection, &member.membership, id).await?);
    }
    let fields = all.clone();
    let whole = state.work.run(member.farm(), move || parting::whole(&fields)).await??;
    let told = (body.id, body.on, body.after);
    let field = parting::join(&mut connection, &member.membership, &all, whole, told, member.today()).await?;
    Ok(Shown(member.reader(), field.into()))
}
