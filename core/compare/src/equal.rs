//! One tube brought to the strength of another.

use colour::{Lab, ciede2000};

use crate::cells::{Cell, Movable};

/// Strengths that are looked for, as ln: from an eighth to eight times.
const MOST: f64 = 2.08;
/// Places at which the search begins.
const GRID: usize = 25;
/// Golden section (Kiefer 1953), to a ten-thousandth of a strength.
const GOLDEN: f64 = 0.618_033_988_749_895;
const CLOSE: f64 = 1e-4;

/// A use so near the end of what is looked for is none.
const AT_THE_END: f64 = 0.02;

/// Nobody knows how much stronger one of the two is: more than is looked for.
pub(crate) fn is_beyond(times: f64) -> bool {
    times.ln().abs() > MOST - AT_THE_END
}

/// Parts of the second tube that do what one part of the first does: least mean square of ΔE00 over tints and
/// mixtures. `None` where none of them can be moved.
pub(crate) fn use_of_second(pairs: &[(Cell<'_>, Cell<'_>)]) -> Option<f64> {
    let mixed = pairs.iter().filter(|(one, _)| !one.is_mass_tone());
    let movable: Vec<(Lab, Movable<'_>)> =
        mixed.filter_map(|(one, other)| Some((one.lab, other.movable()?))).collect();
    if movable.is_empty() {
        return None;
    }
    let off = |ln: f64| -> f64 {
        let times = ln.exp();
        movable.iter().map(|(one, other)| ciede2000(*one, other.moved(times)).value().powi(2)).sum()
    };
    let place = |at: usize| MOST * (2.0 * at as f64 / (GRID - 1) as f64 - 1.0);
    let tried: Vec<f64> = (0..GRID).map(|at| off(place(at))).collect();
    let best = (0..GRID).min_by(|a, b| tried[*a].total_cmp(&tried[*b]))?;
    Some(least(place(best.saturating_sub(1)), place((best + 1).min(GRID - 1)), off).exp())
}

/// Where a function that falls and then rises is least.
fn least(mut low: f64, mut high: f64, of: impl Fn(f64) -> f64) -> f64 {
    let (mut a, mut b) = (high - GOLDEN * (high - low), low + GOLDEN * (high - low));
    let (mut at_a, mut at_b) = (of(a), of(b));
    while high - low > CLOSE {
        if at_a < at_b {
            (high, b, at_b) = (b, a, at_a);
            a = high - GOLDEN * (high - low);
            at_a = of(a);
        } else {
            (low, a, at_a) = (a, b, at_b);
            b = low + GOLDEN * (high - low);
            at_b = of(b);
        }
    }
    f64::midpoint(low, high)
}
