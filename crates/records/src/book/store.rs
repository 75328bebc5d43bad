//! The books of machines, products and mixes.

use agronomy::units::{Mass, Measure, MoneyPerMass};
use jiff::civil::Date;
use uuid::Uuid;

use super::Dated;
use crate::kinds::{
    drill_set::DrillSet, machine::MachineFacts, own_mix::OwnMix, price::PriceTold, product::ProductFacts,
    stock_count::StockCounted, variety::Variety, variety_trial::VarietyTrial,
};

/// A machine, from its entries.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct MachineBook {
    /// As it is run; none while none stands.
    pub facts: Option<Dated<MachineFacts>>,
    /// What its settings came to, oldest first.
    pub catches: Vec<Dated<DrillSet>>,
}

/// A product, from its entries.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct ProductBook {
    /// As it is; none while none stands.
    pub facts: Option<Dated<ProductFacts>>,
    /// Who wrote that down: whoever read the label.
    pub read_by: Option<Uuid>,
    /// Prices, oldest first.
    pub prices: Vec<Dated<PriceTold>>,
    /// Counts of what lies in the shed, oldest first.
    pub counts: Vec<Dated<StockCounted>>,
    /// What was spread of it, as far as it was told on how much ground, oldest first.
    pub spread: Vec<Dated<Mass>>,
}

/// A mix of the farm's own, from its entries.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct MixBook {
    /// Its versions, oldest first; the last one counts.
    pub versions: Vec<Dated<OwnMix>>,
}

/// A variety that the farm knows, from its entries.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct VarietyBook {
    /// As it is; none while none stands.
    pub facts: Option<Dated<Variety>>,
    /// Its results in trials, oldest first.
    pub trials: Vec<Dated<VarietyTrial>>,
}

impl ProductBook {
    /// The last price told by a day.
    pub fn price_on(&self, day: Date) -> Option<MoneyPerMass> {
        self.prices.iter().rfind(|told| told.on <= day).map(|told| told.what.price)
    }

    /// What is there: counted last, and bought and spread since. None while nobody counted or bought.
    pub fn stock(&self) -> Option<Mass> {
        let counted = self.counts.last();
        // What came on the day of the count is in it.
        let since = self.prices.iter().filter(|told| counted.is_none_or(|count| told.on > count.on));
        let mut bought = since.filter_map(|told| told.what.bought).peekable();
        if counted.is_none() && bought.peek().is_none() {
            return None;
        }
        let there = counted.map_or(0.0, |count| count.what.there.base());
        let spread = self.spread.iter().filter(|spread| counted.is_none_or(|count| spread.on > count.on));
        let gone: f64 = spread.map(|spread| spread.what.base()).sum();
        Some(Mass::from_base((there + bought.map(Measure::base).sum::<f64>() - gone).max(0.0)))
    }
}
