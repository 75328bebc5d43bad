//! Who catches how much light.
//!
//! A crop's leaves lie in clumps where it covers little: of the light above it K = −ln(1 − c·(1 − e^(−k·L/c))) is its
//! optical depth. Where one stands above another, the part of it that is above catches first; what is left is shared by
//! optical depth.

use super::stand::MOST;
use crate::maths::{exp, ln};

/// Optical depth of a crop's leaves: extinction, leaf area, share of the ground that it covers.
///
/// ```
/// use kernels::growth::light::optical_depth;
/// // Under full cover that of Beer's law.
/// assert!((optical_depth(0.8, 3.0, 1.0) - 2.4).abs() < 1e-12);
/// // In clumps on a quarter of the ground at most a quarter is caught.
/// assert!(1.0 - (-optical_depth(0.8, 9.0, 0.25)).exp() < 0.25);
/// ```
#[inline]
pub fn optical_depth(extinction: f64, leaf_area: f64, cover: f64) -> f64 {
    if leaf_area <= 0.0 {
        return 0.0;
    }
    // Never all of it, or the depth would have no end.
    let caught = (cover * (1.0 - exp(-extinction * leaf_area / cover))).min(1.0 - 1e-12);
    -ln(1.0 - caught)
}

/// Of what stands higher than its neighbours so much counts as above them: leaves are dense below the top.
const ABOVE: f64 = 0.7;

/// Shares of the light that crops of these depths and heights catch.
///
/// ```
/// use kernels::growth::light::caught;
/// let alone = caught(&[1.2], &[40.0]);
/// assert!((alone[0] - (1.0 - (-1.2_f64).exp())).abs() < 1e-12);
/// // Of equal height they share by depth, and together catch what one of both depths would.
/// let even = caught(&[0.8, 0.4], &[30.0, 30.0]);
/// assert!((even[0] - 2.0 * even[1]).abs() < 1e-12 && (even[0] + even[1] - alone[0]).abs() < 1e-12);
/// // The taller one catches more than its part.
/// let taller = caught(&[0.8, 0.4], &[60.0, 20.0]);
/// assert!(taller[0] > even[0] && taller[1] < even[1]);
/// ```
#[inline]
pub fn caught(depths: &[f64], heights: &[f64]) -> [f64; MOST] {
    let count = depths.len().min(MOST);
    let mut shares = [0.0; MOST];
    if count == 1 {
        shares[0] = 1.0 - exp(-depths[0]);
        return shares;
    }
    let (mut left, mut order) = ([0.0; MOST], [0, 1, 2]);
    left[..count].copy_from_slice(&depths[..count]);
    order[..count].sort_by(|a, b| heights[*b].total_cmp(&heights[*a]));
    let mut light = 1.0;
    for place in 0..count {
        // Those down to this one, as far as they stand above the next; of the lowest all that is left.
        let here = heights[order[place]];
        let below = if place + 1 < count { heights[order[place + 1]] } else { 0.0 };
        let mut layer = [0.0; MOST];
        for one in &order[..=place] {
            layer[*one] = if place + 1 == count {
                left[*one]
            } else if heights[*one] > 0.0 {
                (ABOVE * depths[*one] * (here - below) / heights[*one]).min(left[*one])
            } else {
                0.0
            };
            left[*one] -= layer[*one];
        }
        let depth: f64 = layer.iter().sum();
        if depth > 0.0 {
            let caught = light * (1.0 - exp(-depth));
            for one in &order[..=place] {
                shares[*one] += caught * layer[*one] / depth;
            }
            light -= caught;
        }
    }
    shares
}
