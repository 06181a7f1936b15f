//! The best choices of up to four tubes: all pairs, the best of which grow.

use std::collections::{HashMap, HashSet};

use crate::paints::{MOST_COLOURS, Paints};
use crate::solve::{Choice, Patience, Solver};
use crate::target::Target;

/// How far a search looks.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Effort {
    /// So many of the best pairs grow to triples.
    pub pairs: usize,
    /// So many of the best triples grow to quadruples.
    pub triples: usize,
}

impl Default for Effort {
    fn default() -> Self {
        Self { pairs: 60, triples: 80 }
    }
}

impl Effort {
    /// Every choice of tubes is looked at.
    pub const EVERY: Self = Self { pairs: usize::MAX, triples: usize::MAX };
}

/// What a recipe may be made of.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Limits {
    /// Colours besides the white, 1 to [`MOST_COLOURS`].
    pub most: usize,
    /// White may be in it.
    pub white: bool,
    /// How far is looked.
    pub effort: Effort,
}

impl Default for Limits {
    fn default() -> Self {
        Self { most: 3, white: true, effort: Effort::default() }
    }
}

/// So many are polished, at last as films.
const KEPT: usize = 30;

/// Told how much of a search is done, 0 to 1; answers whether it goes on.
pub type Watch<'a> = dyn FnMut(f64) -> bool + 'a;

/// The best choices, the best first; `None` where the search was stopped. `among` are places of tubes.
pub(crate) fn search(
    paints: &Paints,
    target: &Target,
    among: &[usize],
    limits: Limits,
    watch: &mut Watch<'_>,
) -> Option<Vec<Choice>> {
    let solver = Solver::new(paints, target, limits.white);
    let most = limits.most.clamp(1, MOST_COLOURS);
    let mut all: Vec<Choice> =
        among.iter().map(|tube| solver.solve(&[*tube], Patience::QUICK)).collect();
    let pairs = (among.len() * among.len().saturating_sub(1)) / 2;
    // What each stage costs, for the progress.
    let grown = |of: usize, size: usize| of.min(pairs) * among.len().saturating_sub(size);
    let stages = [pairs, grown(limits.effort.pairs, 2), grown(limits.effort.triples, 3)];
    let total: usize = stages[..most.saturating_sub(1)].iter().sum::<usize>().max(1);
    let mut done = 0;
    let mut known: HashMap<[usize; MOST_COLOURS], Choice> =
        all.iter().map(|choice| (key(choice.tubes()), *choice)).collect();
    // Singles all grow.
    let mut grow: Vec<Choice> = all.clone();
    for size in 2..=most {
        let mut seen: HashSet<[usize; MOST_COLOURS]> = HashSet::new();
        let mut next = Vec::new();
        for choice in &grow {
            for tube in among {
                let Some(tubes) = with(choice.tubes(), *tube) else { continue };
                if !seen.insert(key(&tubes)) {
                    continue;
                }
                let mut found = solver.solve(&tubes, Patience::QUICK);
                // With one tube more it is never worse: a search that ended above begins once more from there.
                let best = fewer(&tubes).filter_map(|fewer| known.get(&key(&fewer)));
                let best = best.min_by(|one, other| one.score.total_cmp(&other.score));
                if let Some(best) = best.filter(|it| it.score < found.score) {
                    found = solver.solve_onward(best, &tubes, Patience::QUICK);
                }
                next.push(found);
                done += 1;
                if done % 64 == 0 && !watch(done as f64 / total as f64) {
                    return None;
                }
            }
        }
        known.extend(next.iter().map(|choice| (key(choice.tubes()), *choice)));
        sort(&mut next);
        all.extend_from_slice(&next[..next.len().min(2 * KEPT)]);
        let kept = if size == 2 { limits.effort.pairs } else { limits.effort.triples };
        next.truncate(kept);
        grow = next;
    }
    Some(polished(&solver, all))
}

/// The best of all once more with care, and as films.
fn polished(solver: &Solver<'_>, mut all: Vec<Choice>) -> Vec<Choice> {
    sort(&mut all);
    let mut kept = best_of_each_size(&all);
    for choice in &mut kept {
        solver.polish(choice, Patience::CAREFUL, false);
        solver.polish(choice, Patience::CAREFUL, true);
    }
    sort(&mut kept);
    kept
}

/// The best thirty; a few of the best of each number of tubes are always among them.
fn best_of_each_size(sorted: &[Choice]) -> Vec<Choice> {
    const OF_EACH: usize = 4;
    let mut taken = [0; MOST_COLOURS + 1];
    let mut kept: Vec<Choice> = Vec::new();
    for choice in sorted {
        if taken[choice.count] < OF_EACH {
            taken[choice.count] += 1;
            kept.push(*choice);
        }
    }
    for choice in sorted {
        if kept.len() >= KEPT {
            break;
        }
        if !kept.contains(choice) {
            kept.push(*choice);
        }
    }
    kept
}

fn sort(choices: &mut [Choice]) {
    choices.sort_by(|one, other| {
        one.score.total_cmp(&other.score).then_with(|| one.tubes().cmp(other.tubes()))
    });
}

/// The tubes with one more, in order; `None` where it is among them.
fn with(tubes: &[usize], tube: usize) -> Option<Vec<usize>> {
    let place = tubes.partition_point(|it| *it < tube);
    if tubes.get(place) == Some(&tube) {
        return None;
    }
    let mut all = tubes.to_vec();
    all.insert(place, tube);
    Some(all)
}

/// The same tubes with one of them left out, each in turn.
fn fewer(tubes: &[usize]) -> impl Iterator<Item = Vec<usize>> + '_ {
    (0..tubes.len()).map(|without| {
        let kept = tubes.iter().enumerate().filter(|(at, _)| *at != without);
        kept.map(|(_, tube)| *tube).collect()
    })
}

fn key(tubes: &[usize]) -> [usize; MOST_COLOURS] {
    let mut key = [usize::MAX; MOST_COLOURS];
    key[..tubes.len()].copy_from_slice(tubes);
    key
}
