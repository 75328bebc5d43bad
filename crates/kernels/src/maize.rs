//! When maize sowing begins here: the mark by which warm-season grasses are timed.
//!
//! Maize goes in once the soil at its depth has held 10 °C for five mornings and a week that stays as
//! warm lies ahead: cold water in its first days ruins it, so people look at the forecast too
//! (common practice, no source).

/// Depth it is sown at, m.
pub(crate) const DEPTH: f64 = 0.05;
/// What it wants of the soil, °C.
const WARM: f32 = 10.0;
/// Mornings that must have been warm.
const MORNINGS: u32 = 5;
/// Days that must stay so.
const STAYS: usize = 7;

/// For each day, how many days ago maize was sown, or, below zero, in how many it will be; far beyond
/// either when it never is. `begins` marks the midwinters from which it is looked for anew; mornings
/// and daily means are those of the soil at [`DEPTH`].
pub(crate) fn days_since(begins: &[bool], mornings: &[f32], means: &[f32]) -> Vec<i32> {
    let (mut warm, mut sown) = (0, None);
    let mut since: Vec<i32> = (0..mornings.len())
        .map(|at| {
            if begins[at] {
                (warm, sown) = (0, None);
            }
            warm = if mornings[at] >= WARM { warm + 1 } else { 0 };
            sown = match sown {
                Some(days) => Some(days + 1),
                None => {
                    let ahead = &means[(at + 1).min(means.len())..(at + 1 + STAYS).min(means.len())];
                    (warm >= MORNINGS && ahead.iter().all(|mean| *mean >= WARM)).then_some(0)
                }
            };
            sown.unwrap_or(i32::MIN)
        })
        .collect();
    count_down(&mut since);
    since
}

/// Before it is sown, count down to it.
fn count_down(since: &mut [i32]) {
    let mut to_come = None;
    for days in since.iter_mut().rev() {
        match *days {
            0 => to_come = Some(0),
            i32::MIN => {
                to_come = to_come.map(|days| days + 1);
                if let Some(ahead) = to_come {
                    *days = -ahead;
                }
            }
            _ => to_come = None,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_warm_spell_that_does_not_last_sows_nothing() {
        // Warm for six days, cold for two, then warm for good from day 10 on.
        let warm = |day: usize| day >= 10 || (2..8).contains(&day);
        let soil: Vec<f32> = (0..40).map(|day| if warm(day) { 12.0 } else { 8.0 }).collect();
        let mut begins = vec![false; 40];
        begins[0] = true;
        let since = days_since(&begins, &soil, &soil);
        assert_eq!(since.iter().position(|days| *days == 0), Some(14), "the fifth warm morning of those that last");
        assert_eq!((since[0], since[13], since[15], since[39]), (-14, -1, 1, 25));
        // Without a beginning in sight the next one is what is counted to.
        assert!(days_since(&begins, &[8.0; 40], &[8.0; 40]).iter().all(|days| *days == i32::MIN));
    }
}
