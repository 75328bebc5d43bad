//! A field's nutrient account for a year: needed, applied, removed, balance.

use std::collections::BTreeSet;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{Amounts, Nutrient, add, amount};
use crate::units::MassPerArea;
#[cfg(test)]
use crate::units::{Measure, Unit};

/// One nutrient's line.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct AccountLine {
    /// Which.
    pub nutrient: Nutrient,
    /// What the crop needs this year.
    pub needed: MassPerArea,
    /// Brought by inked dressings.
    pub applied: MassPerArea,
    /// Carried off by inked harvests.
    pub removed: MassPerArea,
    /// Applied less removed.
    pub balance: MassPerArea,
    /// Still to be brought; none when over.
    pub to_bring: MassPerArea,
}

/// The account.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
pub struct Account {
    /// In the order of the trade: N, P₂O₅, K₂O, then the rest.
    pub lines: Vec<AccountLine>,
}

/// Draw an account up. Amounts are summed in the order of their nutrients and entries, so that the
/// same entries give the same balance to the last digit.
pub fn account<'a>(
    needed: &Amounts,
    applied: impl IntoIterator<Item = &'a Amounts>,
    removed: impl IntoIterator<Item = &'a Amounts>,
) -> Account {
    let sum = |all: &mut dyn Iterator<Item = &'a Amounts>| {
        let mut total = Amounts::new();
        all.for_each(|one| add(&mut total, one));
        total
    };
    let applied = sum(&mut applied.into_iter());
    let removed = sum(&mut removed.into_iter());
    let nutrients: BTreeSet<Nutrient> = needed.keys().chain(applied.keys()).chain(removed.keys()).copied().collect();
    let zero = MassPerArea::default();
    let lines = nutrients
        .into_iter()
        .map(|nutrient| {
            let (need, brought, gone) =
                (amount(needed, nutrient), amount(&applied, nutrient), amount(&removed, nutrient));
            let short = need - brought;
            AccountLine {
                nutrient,
                needed: need,
                applied: brought,
                removed: gone,
                balance: brought - gone,
                to_bring: if short > zero { short } else { zero },
            }
        })
        .collect();
    Account { lines }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn one(nutrient: Nutrient, kg: f64) -> Amounts {
        Amounts::from([(nutrient, MassPerArea::new(kg, Unit::KgPerHa))])
    }

    #[test]
    fn what_is_needed_shrinks_as_it_is_brought() {
        let account = account(
            &one(Nutrient::K2o, 200.0),
            &[one(Nutrient::K2o, 80.0), one(Nutrient::N, 20.0)],
            &[one(Nutrient::K2o, 150.0)],
        );
        let line = |nutrient| account.lines.iter().find(|line| line.nutrient == nutrient).unwrap();
        let kg = |mass: MassPerArea| mass.to(Unit::KgPerHa);
        assert!((kg(line(Nutrient::K2o).to_bring) - 120.0).abs() < 1e-9);
        assert!((kg(line(Nutrient::K2o).balance) + 70.0).abs() < 1e-9);
        assert!((kg(line(Nutrient::N).balance) - 20.0).abs() < 1e-9);
        assert_eq!(line(Nutrient::N).to_bring.base(), 0.0);
    }

    proptest! {
        /// Entries and their strikes, in any order, leave a balance true to the gram.
        #[test]
        fn strikes_leave_no_trace(kept in proptest::collection::vec((0..3_usize, 0.0..500.0_f64), 0..12), struck in proptest::collection::vec((0..3_usize, 0.0..500.0_f64), 0..12)) {
            let kinds = [Nutrient::N, Nutrient::P2o5, Nutrient::K2o];
            let amounts = |all: &[(usize, f64)]| all.iter().map(|(kind, kg)| one(kinds[*kind], *kg)).collect::<Vec<_>>();
            let plain = account(&Amounts::new(), &amounts(&kept), &amounts(&struck));
            // Struck entries are left out before the account is drawn up: it does not depend on them.
            let again = account(&Amounts::new(), amounts(&kept).iter().rev(), amounts(&struck).iter().rev());
            for (a, b) in plain.lines.iter().zip(&again.lines) {
                prop_assert!((a.balance.to(Unit::KgPerHa) - b.balance.to(Unit::KgPerHa)).abs() < 1e-6);
                prop_assert!((a.balance.base() - (a.applied.base() - a.removed.base())).abs() < 1e-15);
            }
        }
    }
}
