//! One tube brought to the strength of another.

use colour::ciede2000;

use crate::cells::Cell;

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
    let off = |ln: f64| {
        let times = ln.exp();
        let squares = pairs.iter().filter(|(one, _)| !one.is_mass_tone());
        let squares = squares.filter_map(|(one, other)| {
            Some(ciede2000(one.lab, other.moved(times)?).value().powi(2))
        });
        let (sum, count) = squares.fold((0.0, 0), |(sum, count), it| (sum + it, count + 1));
        (count > 0).then(|| sum / f64::from(count))
    };
    let place = |at: usize| MOST * (2.0 * at as f64 / (GRID - 1) as f64 - 1.0);
    let tried: Vec<f64> = (0..GRID).map(|at| off(place(at))).collect::<Option<_>>()?;
    let best = (0..GRID).min_by(|a, b| tried[*a].total_cmp(&tried[*b]))?;
    let (mut low, mut high) = (place(best.saturating_sub(1)), place((best + 1).min(GRID - 1)));
    while high - low > CLOSE {
        let (a, b) = (high - GOLDEN * (high - low), low + GOLDEN * (high - low));
        if off(a)? < off(b)? { high = b } else { low = a }
    }
    Some((0.5 * (low + high)).exp())
}
