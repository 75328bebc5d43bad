//! The next setting to try: from one catch by proportion, from two by the line through them, from more by this
//! drill's and this seed's own curve.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::units::{MassPerArea, Measure};

/// Beyond what was tried by more than this share, the next setting is a guess.
const FAR: f64 = 0.25;

/// A setting that was tried, and what it came to.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SettingTried {
    /// On the drill's own scale.
    pub setting: f64,
    /// Out of the bag, per area.
    pub rate: MassPerArea,
}

/// How a setting was found.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
#[schema(as = SettingFrom)]
pub enum How {
    /// One catch: twice the opening, twice the seed.
    Proportion,
    /// The line through two.
    TwoCatches,
    /// The curve of three or more.
    Curve,
}

/// The setting to try next.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct NextSetting {
    /// On the drill's own scale.
    pub setting: f64,
    /// How it was found.
    pub how: How,
    /// It lies well beyond what was tried: catch again before trusting it.
    pub far: bool,
}

/// Catches at one setting are one point, their mean; and seed does not get less as a meter opens: where catches say
/// so, both are taken for their mean (pool adjacent violators: Ayer et al. 1955, Ann. Math. Stat. 26:641–647).
fn curve(tried: &[SettingTried]) -> Vec<(f64, f64)> {
    let mut sorted: Vec<(f64, f64)> = tried.iter().map(|one| (one.setting, one.rate.base())).collect();
    sorted.sort_by(|a, b| a.0.total_cmp(&b.0));
    // Setting, mean, how many.
    let mut points: Vec<(f64, f64, f64)> = vec![];
    for (setting, rate) in sorted {
        match points.last_mut() {
            Some(last) if (last.0 - setting).abs() < 1e-9 => {
                last.1 = (last.1 * last.2 + rate) / (last.2 + 1.0);
                last.2 += 1.0;
            }
            _ => points.push((setting, rate, 1.0)),
        }
    }
    let mut blocks: Vec<(f64, f64, f64, usize)> = vec![];
    for (_, rate, weight) in points.iter().copied() {
        blocks.push((rate, weight, 0.0, 1));
        while let [.., before, last] = blocks.as_slice() {
            if before.0 < last.0 {
                break;
            }
            let (before, last) = (*before, *last);
            let weight = before.1 + last.1;
            blocks.truncate(blocks.len() - 2);
            blocks.push(((before.0 * before.1 + last.0 * last.1) / weight, weight, 0.0, before.3 + last.3));
        }
    }
    let mut settings = points.iter().map(|point| point.0);
    blocks
        .iter()
        .map(|block| {
            let of: Vec<f64> = settings.by_ref().take(block.3).collect();
            (of.iter().sum::<f64>() / of.len() as f64, block.0)
        })
        .collect()
}

/// The setting at which a rate may be reached; none where what was tried does not tell: nothing came out, or two
/// settings gave the same.
///
/// ```
/// use agronomy::{drill::{How, SettingTried, next_setting}, units::{MassPerArea, Unit}};
/// let lb = |rate| MassPerArea::new(rate, Unit::LbPerAc);
/// let tried = |setting, rate| SettingTried { setting, rate: lb(rate) };
/// let next = next_setting(&[tried(20.0, 9.6)], lb(12.0)).unwrap();
/// assert!((next.setting - 25.0).abs() < 1e-9 && next.how == How::Proportion);
/// let next = next_setting(&[tried(20.0, 9.6), tried(26.0, 13.2)], lb(12.0)).unwrap();
/// assert!((next.setting - 24.0).abs() < 1e-9 && next.how == How::TwoCatches);
/// assert_eq!(next_setting(&[tried(20.0, 0.0)], lb(12.0)), None);
/// ```
pub fn next_setting(tried: &[SettingTried], aim: MassPerArea) -> Option<NextSetting> {
    let points = curve(tried);
    let wanted = aim.base();
    let (how, setting) = match points.as_slice() {
        [] => return None,
        [(setting, rate)] => (How::Proportion, (*rate > 0.0).then(|| setting * wanted / rate)?),
        more => {
            // The two around it; beyond the ends, the two nearest.
            let after = more.iter().position(|point| point.1 >= wanted).unwrap_or(more.len() - 1).max(1);
            let (low, high) = (more[after - 1], more[after]);
            let setting = low.0 + (wanted - low.1) * (high.0 - low.0) / (high.1 - low.1);
            (if more.len() == 2 { How::TwoCatches } else { How::Curve }, setting)
        }
    };
    let lowest = points.first().map_or(0.0, |point| point.1);
    let highest = points.last().map_or(0.0, |point| point.1);
    let far = wanted > highest * (1.0 + FAR) || wanted < lowest * (1.0 - FAR);
    (setting.is_finite() && setting > 0.0).then_some(NextSetting { setting, how, far })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::units::Unit;

    fn tried(pairs: &[(f64, f64)]) -> Vec<SettingTried> {
        let of = |(setting, rate): &(f64, f64)| SettingTried {
            setting: *setting,
            rate: MassPerArea::new(*rate, Unit::KgPerHa),
        };
        pairs.iter().map(of).collect()
    }

    fn at(pairs: &[(f64, f64)], aim: f64) -> Option<(f64, bool)> {
        next_setting(&tried(pairs), MassPerArea::new(aim, Unit::KgPerHa))
            .map(|next| ((next.setting * 1e6).round() / 1e6, next.far))
    }

    #[test]
    fn a_curve_is_followed_between_its_catches_and_along_its_end() {
        let caught = [(10.0, 5.0), (20.0, 15.0), (30.0, 20.0)];
        assert_eq!(at(&caught, 10.0), Some((15.0, false)));
        assert_eq!(at(&caught, 17.5), Some((25.0, false)));
        assert_eq!(at(&caught, 30.0), Some((50.0, true)));
    }

    #[test]
    fn catches_that_contradict_each_other_are_pooled() {
        // 20 gave more than 22: both are taken for 15 at 21.
        assert_eq!(at(&[(10.0, 5.0), (20.0, 16.0), (22.0, 14.0)], 10.0), Some((15.5, false)));
        // The same setting twice is its mean.
        assert_eq!(at(&[(10.0, 4.0), (10.0, 6.0)], 10.0), Some((20.0, true)));
        // Nothing between settings can't be told.
        assert_eq!(at(&[(10.0, 6.0), (20.0, 6.0)], 10.0), Some((25.0, true)));
    }
}
