//! Machines and products of a farm over HTTP.

use actix_web::{get, web};
use agronomy::{
    blend::{Product, library_products},
    crop::{PlantBack, library},
    lime::{Material, library_materials},
    machine::{MachineKind, field_capacity},
    units::{AreaPerTime, Currency, Fraction, Mass, MoneyPerMass, Speed},
};
use jiff::civil::Date;
use records::{
    EffectiveLime,
    book::ProductBook,
    kinds::{
        drill_set::DrillSet,
        machine::MachineFacts,
        product::{Nature, ProductFacts},
    },
};
use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::{app::State, body::Shown, problem::Problem, sign_in::Member};

/// A machine as it is run.
#[derive(Debug, Serialize, ToSchema)]
pub struct MachineView {
    /// Id.
    pub id: Uuid,
    /// The entry that tells it.
    pub entry: Uuid,
    /// As it was written down.
    pub facts: MachineFacts,
    /// Area done in an hour, where width, speed and efficiency are known or usual.
    pub capacity: Option<AreaPerTime>,
    /// What its settings came to, newest first.
    pub catches: Vec<CatchView>,
}

/// What a setting of a drill came to.
#[derive(Debug, Serialize, ToSchema)]
pub struct CatchView {
    /// The day.
    #[schema(value_type = String, format = Date)]
    pub on: Date,
    /// As it was written down.
    pub catch: DrillSet,
}

/// How a kind of machine is usually run.
#[derive(Debug, Serialize, ToSchema)]
pub struct UsualRun {
    /// The kind.
    pub machine: MachineKind,
    /// Its word.
    pub words: String,
    /// How fast.
    pub speed: Option<Speed>,
    /// With what field efficiency.
    pub efficiency: Option<Fraction>,
}

/// Machines of a farm.
#[derive(Debug, Serialize, ToSchema)]
pub struct Machines {
    /// By name; those that are gone last.
    pub machines: Vec<MachineView>,
    /// What to begin with, by kind.
    pub usual: Vec<UsualRun>,
    /// Where that stands.
    pub usual_by: String,
}

/// Catches of a drill that are shown: a curve needs no more.
const MOST_CATCHES: usize = 50;

const KINDS: [MachineKind; 12] = [
    MachineKind::Drill,
    MachineKind::Spreader,
    MachineKind::Sprayer,
    MachineKind::Tillage,
    MachineKind::Mower,
    MachineKind::Tedder,
    MachineKind::Rake,
    MachineKind::Baler,
    MachineKind::Wrapper,
    MachineKind::Forager,
    MachineKind::Wagon,
    MachineKind::PlateMeter,
];

fn capacity(facts: &MachineFacts) -> Option<AreaPerTime> {
    let usual = facts.machine.usual();
    let speed = facts.speed.or(usual.map(|usual| usual.0))?;
    let efficiency = facts.efficiency.or(usual.map(|usual| usual.1))?;
    Some(field_capacity(speed, facts.width?, efficiency))
}

/// Machines of a farm.
#[utoipa::path(params(("farm" = Uuid, Path)), responses((status = 200, body = Machines)))]
#[get("/farms/{farm}/machines")]
pub async fn machines(state: web::Data<State>, member: Member) -> Result<Shown<Machines>, Problem> {
    let shelved = state.shelf.books(&mut *state.pool.get().await?, &member.membership).await?;
    let told = shelved.books.machines().filter_map(|(id, book)| Some((id, book.facts.as_ref()?, &book.catches)));
    let mut machines: Vec<MachineView> = told
        .map(|(id, told, catches)| MachineView {
            id,
            entry: told.entry,
            facts: told.what.clone(),
            capacity: capacity(&told.what),
            catches: catches
                .iter()
                .rev()
                .take(MOST_CATCHES)
                .map(|one| CatchView { on: one.on, catch: one.what.clone() })
                .collect(),
        })
        .collect();
    machines.sort_by(|a, b| (a.facts.gone, &a.facts.name, a.id).cmp(&(b.facts.gone, &b.facts.name, b.id)));
    let usual = KINDS.map(|machine| UsualRun {
        machine,
        words: machine.words().to_owned(),
        speed: machine.usual().map(|usual| usual.0),
        efficiency: machine.usual().map(|usual| usual.1),
    });
    let usual_by = agronomy::machine::usual_source().citation;
    Ok(Shown(member.reader(), Machines { machines, usual: usual.into(), usual_by }))
}

/// A product as it is, with what it costs and what is there.
#[derive(Debug, Serialize, ToSchema)]
pub struct ProductView {
    /// Id.
    pub id: Uuid,
    /// The entry that tells it.
    pub entry: Uuid,
    /// The day it was written down: of a label, the day it was read.
    #[schema(value_type = String, format = Date)]
    pub told_on: Date,
    /// By whom.
    pub told_by: String,
    /// As it was written down.
    pub facts: ProductFacts,
    /// What it costs today; nothing while no price was told.
    pub price: Option<MoneyPerMass>,
    /// Since when.
    #[schema(value_type = Option<String>, format = Date)]
    pub price_since: Option<Date>,
    /// What is in the shed; nothing while nobody counted or bought.
    pub stock: Option<Mass>,
}

/// Products of a farm.
#[derive(Debug, Serialize, ToSchema)]
pub struct Products {
    /// By name; those that are bought no more last.
    pub products: Vec<ProductView>,
}

/// Products of a farm.
#[utoipa::path(params(("farm" = Uuid, Path)), responses((status = 200, body = Products)))]
#[get("/farms/{farm}/products")]
pub async fn products(state: web::Data<State>, member: Member) -> Result<Shown<Products>, Problem> {
    let mut connection = state.pool.get().await?;
    let names = ledger::farm::member_names(&mut connection, &member.membership).await?;
    let shelved = state.shelf.books(&mut connection, &member.membership).await?;
    let today = member.today();
    let name_of = |id: Option<Uuid>| {
        let found = names.iter().find(|(one, _)| Some(*one) == id);
        found.map_or_else(|| "a former member".to_owned(), |(_, name)| name.clone())
    };
    let mut products: Vec<ProductView> = shelved
        .books
        .products()
        .filter_map(|(id, book)| {
            let told = book.facts.as_ref()?;
            Some(ProductView {
                id,
                entry: told.entry,
                told_on: told.on,
                told_by: name_of(book.read_by),
                facts: told.what.clone(),
                price: book.price_on(today),
                price_since: book.prices.iter().rfind(|price| price.on <= today).map(|price| price.on),
                stock: book.stock(),
            })
        })
        .collect();
    products.sort_by(|a, b| (a.facts.gone, &a.facts.name, a.id).cmp(&(b.facts.gone, &b.facts.name, b.id)));
    Ok(Shown(member.reader(), Products { products }))
}

/// A liming material, with what of it reacts.
#[derive(Debug, Serialize, ToSchema)]
pub struct OfferedLime {
    /// The material.
    pub material: Material,
    /// Its parts that react.
    pub effective: EffectiveLime,
}

/// Materials and products to weigh against each other.
#[derive(Debug, Serialize, ToSchema)]
pub struct Materials {
    /// Liming materials.
    pub lime: Vec<OfferedLime>,
    /// Whether those are the farm's own; ordinary ones at invented prices in dollars otherwise.
    pub own_lime: bool,
    /// Fertilisers; none on a farm that pays in something else than dollars and has told no price.
    pub products: Vec<Product>,
    /// Whether those are the farm's own; ordinary ones at invented prices otherwise.
    pub own_products: bool,
    /// The farm's own fertilisers that were left out: nobody has told what they cost.
    pub without_price: Vec<String>,
    /// Herbicides that outlive their crop.
    pub plant_back: Vec<PlantBack>,
}

/// Materials and products to weigh against each other: the farm's own, or ordinary ones to begin with.
#[utoipa::path(params(("farm" = Uuid, Path)), responses((status = 200, body = Materials)))]
#[get("/farms/{farm}/materials")]
pub async fn materials(state: web::Data<State>, member: Member) -> Result<Shown<Materials>, Problem> {
    let shelved = state.shelf.books(&mut *state.pool.get().await?, &member.membership).await?;
    let today = member.today();
    let told = || {
        let all = shelved.books.products().filter_map(|(_, book)| Some((book, &book.facts.as_ref()?.what)));
        all.filter(|(_, facts)| !facts.gone)
    };
    let (mut own, mut without_price) = (vec![], vec![]);
    for (book, facts) in told() {
        let Nature::Fertiliser { analysis } = &facts.nature else { continue };
        let name = facts.name.clone();
        match book.price_on(today) {
            Some(price) => {
                own.push(Product { name, analysis: analysis.clone(), price, bag: facts.package, most: None })
            }
            None => without_price.push(name),
        }
    }
    let lime: Vec<Material> = told().filter_map(|(book, facts)| own_lime(book, facts, today)).collect();
    own.sort_by_key(|product| product.name.to_lowercase());
    let (own_lime, own_products) = (!lime.is_empty(), !own.is_empty());
    // What is invented is invented in dollars: on a farm that pays in something else it would mislead.
    let dollars = member.membership.farm.currency() == Currency::default();
    let lime = match own_lime {
        true => lime,
        false if dollars => library_materials(),
        false => library_materials().into_iter().map(|material| Material { price: None, ..material }).collect(),
    };
    let on_offer = if own_products || !dollars { own } else { library_products() };
    let lime = lime
        .into_iter()
        .map(|material| {
            let (fast, slow) = material.fast_and_slow();
            OfferedLime { material, effective: EffectiveLime { fast, slow } }
        })
        .collect();
    let plant_back = library().plant_backs().to_vec();
    let materials = Materials { lime, own_lime, products: on_offer, own_products, without_price, plant_back };
    Ok(Shown(member.reader(), materials))
}

fn own_lime(book: &ProductBook, facts: &ProductFacts, today: Date) -> Option<Material> {
    let Nature::Lime(lime) = &facts.nature else { return None };
    Some(Material { price: book.price_on(today), ..lime.material(&facts.name) })
}
