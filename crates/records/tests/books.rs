//! Books say what entries come to.

use agronomy::units::{Mass, MoneyPerMass, Unit};
use jiff::civil::date;
use records::{
    book::{Dated, ProductBook},
    kinds::{price::PriceTold, stock_count::StockCounted},
};
use uuid::Uuid;

fn dated<T>(day: i8, what: T) -> Dated<T> {
    Dated { entry: Uuid::nil(), on: date(2026, 5, day), what }
}

fn bought(day: i8, price: f64, tons: Option<f64>) -> Dated<PriceTold> {
    let price = MoneyPerMass::new(price, Unit::MoneyPerT);
    dated(day, PriceTold { price, bought: tons.map(|tons| Mass::new(tons, Unit::T)) })
}

#[test]
fn stock_is_what_was_counted_and_bought_since() {
    let mut book = ProductBook::default();
    assert_eq!(book.stock(), None);
    book.prices = vec![bought(1, 500.0, Some(3.0)), bought(6, 560.0, None), bought(9, 540.0, Some(2.0))];
    assert_eq!(book.stock(), Some(Mass::new(5.0, Unit::T)));
    book.counts = vec![dated(6, StockCounted { there: Mass::new(1.0, Unit::T) })];
    assert_eq!(book.stock(), Some(Mass::new(3.0, Unit::T)));
    book.counts.push(dated(9, StockCounted { there: Mass::new(2.5, Unit::T) }));
    assert_eq!(book.stock(), Some(Mass::new(2.5, Unit::T)));
}

/// What was paid stays what it was: a later price changes no earlier day.
#[test]
fn a_price_holds_from_its_day_on() {
    let book = ProductBook { prices: vec![bought(1, 500.0, None), bought(6, 560.0, None)], ..Default::default() };
    let at = |day: i8| book.price_on(date(2026, 5, day)).map(|price| price.to(Unit::MoneyPerT).round());
    assert_eq!((book.price_on(date(2026, 4, 30)), at(1), at(5), at(6)), (None, Some(500.0), Some(500.0), Some(560.0)));
}
