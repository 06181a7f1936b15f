//! The order of mixing in which residue does least harm.
//!
//! The residue cost of b after a is the ΔE00 that 1 % of a makes in b. The order with the least sum
//! is found exactly for small plans (Held and Karp 1962) and by insertion and moved runs above.

/// A visible difference: where one step would leave more, knife and brush are cleaned.
const VISIBLE: f64 = study::VISIBLE;
/// Most mixtures whose best order is searched exactly.
pub const MOST_EXACT: usize = 12;
/// Passes over a larger plan; each only ever improves it.
const PASSES: usize = 12;
/// Longest run that is moved as one.
const LONGEST_RUN: usize = 3;

/// An order of work.
#[derive(Debug, Clone, PartialEq)]
pub struct WorkingOrder {
    /// Places of the mixtures in the order of work.
    pub order: Vec<usize>,
    /// For each step of `order`: clean knife and brush before it.
    pub clean_before: Vec<bool>,
    /// Sum of the residue costs, cleaning left out.
    pub total: f64,
    /// No other order has a smaller sum.
    pub exact: bool,
}

/// Finds the order for a square table: `residue[a][b]` is the cost of mixing b right after a, in
/// ΔE00, 0 or more. The order that the mixtures are given in is never beaten by the answer's sum.
#[must_use]
pub fn working_order(residue: &[Vec<f64>]) -> WorkingOrder {
    let count = residue.len();
    let exact = count <= MOST_EXACT;
    let order = if exact {
        shortest(residue)
    } else {
        let given: Vec<usize> = (0..count).collect();
        let nearest = nearest_first(residue);
        let start = if sum(residue, &nearest) <= sum(residue, &given) { nearest } else { given };
        improved(residue, start)
    };
    WorkingOrder {
        clean_before: clean_before(residue, &order),
        total: sum(residue, &order),
        order,
        exact,
    }
}

/// Before anything is known of strengths: light before dark, then weak before strong, which puts
/// yellow before blue (common practice, no source). Each mixture as L* and strength in percent.
#[must_use]
pub fn customary_order(mixtures: &[(f64, f64)]) -> Vec<usize> {
    let mut order: Vec<usize> = (0..mixtures.len()).collect();
    order.sort_by(|one, other| {
        let ((l, strength), (other_l, other_strength)) = (mixtures[*one], mixtures[*other]);
        other_l.total_cmp(&l).then(strength.total_cmp(&other_strength))
    });
    order
}

/// True at each step before which the residue would show.
fn clean_before(residue: &[Vec<f64>], order: &[usize]) -> Vec<bool> {
    let first = order.first().map(|_| false);
    first
        .into_iter()
        .chain(order.windows(2).map(|pair| residue[pair[0]][pair[1]] > VISIBLE))
        .collect()
}

fn sum(residue: &[Vec<f64>], order: &[usize]) -> f64 {
    order.windows(2).map(|pair| residue[pair[0]][pair[1]]).sum()
}

/// Held and Karp: the best way through each set of mixtures, by its last one.
fn shortest(residue: &[Vec<f64>]) -> Vec<usize> {
    let count = residue.len();
    if count == 0 {
        return Vec::new();
    }
    let sets = 1_usize << count;
    let mut best = vec![vec![f64::INFINITY; count]; sets];
    let mut before = vec![vec![usize::MAX; count]; sets];
    for (last, row) in (0..count).map(|last| (last, 1_usize << last)) {
        best[row][last] = 0.0;
    }
    for set in 1..sets {
        for last in (0..count).filter(|last| set >> last & 1 == 1) {
            let so_far = best[set][last];
            for next in (0..count).filter(|next| set >> next & 1 == 0) {
                let cost = so_far + residue[last][next];
                let larger = set | 1 << next;
                if cost < best[larger][next] {
                    best[larger][next] = cost;
                    before[larger][next] = last;
                }
            }
        }
    }
    let mut set = sets - 1;
    let mut last =
        (0..count).min_by(|a, b| best[set][*a].total_cmp(&best[set][*b])).unwrap_or_default();
    let mut order = Vec::with_capacity(count);
    while last != usize::MAX {
        order.push(last);
        let previous = before[set][last];
        set &= !(1 << last);
        last = previous;
    }
    order.reverse();
    order
}

/// Always the mixture that the last one spoils least, from the one that is spoilt most by others.
fn nearest_first(residue: &[Vec<f64>]) -> Vec<usize> {
    let count = residue.len();
    let harm = |at: usize| residue.iter().map(|row| row[at]).sum::<f64>();
    let mut last = (0..count).max_by(|a, b| harm(*a).total_cmp(&harm(*b))).unwrap_or_default();
    let mut open: Vec<usize> = (0..count).filter(|at| *at != last).collect();
    let mut order = vec![last];
    while let Some(place) =
        (0..open.len()).min_by(|a, b| residue[last][open[*a]].total_cmp(&residue[last][open[*b]]))
    {
        last = open.swap_remove(place);
        order.push(last);
    }
    order
}

/// Moves runs of up to three mixtures to where they do less harm, for as long as that helps.
fn improved(residue: &[Vec<f64>], mut order: Vec<usize>) -> Vec<usize> {
    for _ in 0..PASSES {
        let mut moved = false;
        for length in 1..=LONGEST_RUN {
            let mut from = 0;
            while from + length <= order.len() {
                if let Some(to) = better_place(residue, &order, from, length) {
                    let run: Vec<usize> = order.drain(from..from + length).collect();
                    order.splice(to..to, run);
                    moved = true;
                }
                from += 1;
            }
        }
        if !moved {
            break;
        }
    }
    order
}

/// Where the run that starts at `from` does most good, counted in the order without it.
fn better_place(
    residue: &[Vec<f64>],
    order: &[usize],
    from: usize,
    length: usize,
) -> Option<usize> {
    let cost = |a: Option<&usize>, b: Option<&usize>| match (a, b) {
        (Some(a), Some(b)) => residue[*a][*b],
        _ => 0.0,
    };
    let (first, last) = (order.get(from), order.get(from + length - 1));
    let before = from.checked_sub(1).and_then(|at| order.get(at));
    let after = order.get(from + length);
    let saved = cost(before, first) + cost(last, after) - cost(before, after);
    let rest = |at: usize| order.get(if at < from { at } else { at + length });
    let place = |to: usize| {
        let left = to.checked_sub(1).and_then(rest);
        cost(left, first) + cost(last, rest(to)) - cost(left, rest(to))
    };
    let best = (0..=order.len() - length)
        .filter(|to| *to != from)
        .min_by(|a, b| place(*a).total_cmp(&place(*b)))?;
    (place(best) < saved - 1e-12).then_some(best)
}
