//! The palette of so many tubes that reaches furthest, and what each tube of it adds.

use rand::SeedableRng as _;
use rand::seq::index;
use rand_chacha::ChaCha8Rng;

use crate::paints::Paints;
use crate::reach::Reach;
use crate::search::Watch;

/// Searches start from so many palettes: one that grows greedily, the others by chance, the same each time.
const STARTS: usize = 12;

/// What every pair of some tubes reaches, and all together.
#[derive(Debug, Clone)]
pub struct PairReaches {
    tubes: Vec<usize>,
    /// By place among [`Self::tubes`], the smaller first.
    pairs: Vec<Reach>,
    all: Reach,
}

impl PairReaches {
    /// Of all pairs of these tubes; `None` where it was stopped.
    pub fn of(paints: &Paints, among: &[usize], watch: &mut Watch<'_>) -> Option<Self> {
        let mut pairs = Vec::new();
        let total = (among.len() * among.len().saturating_sub(1) / 2).max(1);
        for (at, one) in among.iter().enumerate() {
            for other in &among[at + 1..] {
                pairs.push(Reach::of_pair(paints, *one, *other));
                if pairs.len() % 16 == 0 && !watch(pairs.len() as f64 / total as f64) {
                    return None;
                }
            }
        }
        let mut all = Reach::default();
        pairs.iter().for_each(|pair| all.join(pair));
        Some(Self { tubes: among.to_vec(), pairs, all })
    }

    /// What all tubes together reach.
    #[must_use]
    pub fn all(&self) -> &Reach {
        &self.all
    }

    /// The tubes, by their places.
    #[must_use]
    pub fn tubes(&self) -> &[usize] {
        &self.tubes
    }

    /// What two of them reach, by their places among [`Self::tubes`].
    #[must_use]
    pub fn pair(&self, one: usize, other: usize) -> &Reach {
        let (low, high) = (one.min(other), one.max(other));
        let before = low * (2 * self.tubes.len() - low - 1) / 2;
        &self.pairs[before + high - low - 1]
    }

    /// By places among [`Self::tubes`].
    fn reach(&self, chosen: &[usize]) -> Reach {
        let mut reach = Reach::default();
        for (at, one) in chosen.iter().enumerate() {
            for other in &chosen[at + 1..] {
                reach.join(self.pair(*one, *other));
            }
        }
        reach
    }

    fn coverage(&self, chosen: &[usize]) -> f64 {
        self.reach(chosen).coverage(&self.all)
    }

    fn with(&self, reach: &Reach, chosen: &[usize], tube: usize) -> f64 {
        let mut reach = reach.clone();
        chosen.iter().for_each(|other| reach.join(self.pair(tube, *other)));
        reach.coverage(&self.all)
    }

    /// How much one tube more would reach beyond them, as a share of what they reach.
    #[must_use]
    pub fn added_by(&self, paints: &Paints, tube: usize) -> f64 {
        let mut joined = self.all.clone();
        self.tubes.iter().for_each(|other| joined.join(&Reach::of_pair(paints, tube, *other)));
        match self.all.coverage(&joined) {
            covered if covered > 0.0 => 1.0 / covered - 1.0,
            _ => 0.0,
        }
    }

    /// The share of all that is lost without one tube, 0 to 1, by place among [`Self::tubes`].
    #[must_use]
    pub fn lost_without(&self) -> Vec<f64> {
        let without = |tube: usize| -> Vec<usize> {
            (0..self.tubes.len()).filter(|it| *it != tube).collect()
        };
        (0..self.tubes.len()).map(|tube| 1.0 - self.coverage(&without(tube))).collect()
    }
}

/// A palette that was chosen.
#[derive(Debug, Clone, PartialEq)]
pub struct Chosen {
    /// Its tubes, the one whose loss would cost most first, each with the share of all that is lost without it.
    pub tubes: Vec<(usize, f64)>,
    /// The share of what all tubes reach that it reaches, 0 to 1.
    pub coverage: f64,
}

/// The palette of so many tubes with the largest coverage that steepest exchange finds; `None` for fewer than two
/// tubes, for more than there are, and where the search was stopped.
pub fn choose(reaches: &PairReaches, size: usize, watch: &mut Watch<'_>) -> Option<Chosen> {
    let count = reaches.tubes.len();
    if size < 2 || size > count {
        return None;
    }
    let mut chance = ChaCha8Rng::seed_from_u64(1);
    let mut best: Option<(f64, Vec<usize>)> = None;
    for start in 0..STARTS {
        let from = match start {
            0 => greedy(reaches, size),
            _ => index::sample(&mut chance, count, size).into_vec(),
        };
        let found = exchanged(reaches, from);
        if best.as_ref().is_none_or(|(coverage, _)| found.0 > *coverage) {
            best = Some(found);
        }
        if !watch((start + 1) as f64 / STARTS as f64) {
            return None;
        }
    }
    let (coverage, chosen) = best?;
    let lost = |tube: &usize| {
        let rest: Vec<usize> = chosen.iter().copied().filter(|it| it != tube).collect();
        (reaches.tubes[*tube], coverage - reaches.coverage(&rest))
    };
    let mut tubes: Vec<(usize, f64)> = chosen.iter().map(lost).collect();
    tubes.sort_by(|one, other| other.1.total_cmp(&one.1).then(one.0.cmp(&other.0)));
    Some(Chosen { tubes, coverage })
}

/// The best pair, then whatever adds most.
fn greedy(reaches: &PairReaches, size: usize) -> Vec<usize> {
    let count = reaches.tubes.len();
    let pairs = (0..count).flat_map(|one| (one + 1..count).map(move |other| vec![one, other]));
    let best = pairs.max_by(|a, b| reaches.coverage(a).total_cmp(&reaches.coverage(b)));
    let mut chosen = best.unwrap_or_default();
    while chosen.len() < size {
        let reach = reaches.reach(&chosen);
        let free = (0..count).filter(|tube| !chosen.contains(tube));
        let value = |tube: &usize| reaches.with(&reach, &chosen, *tube);
        let Some(next) = free.max_by(|a, b| value(a).total_cmp(&value(b))) else { break };
        chosen.push(next);
    }
    chosen
}

/// Exchanges the one tube for another that gains most, until none gains.
fn exchanged(reaches: &PairReaches, mut chosen: Vec<usize>) -> (f64, Vec<usize>) {
    const GAIN: f64 = 1e-9;
    let mut coverage = reaches.coverage(&chosen);
    loop {
        let mut best = (coverage, None);
        for at in 0..chosen.len() {
            let mut rest = chosen.clone();
            rest.swap_remove(at);
            let reach = reaches.reach(&rest);
            for tube in (0..reaches.tubes.len()).filter(|tube| !chosen.contains(tube)) {
                let found = reaches.with(&reach, &rest, tube);
                if found > best.0 + GAIN {
                    best = (found, Some((at, tube)));
                }
            }
        }
        let Some((at, tube)) = best.1 else { break };
        chosen[at] = tube;
        coverage = best.0;
    }
    chosen.sort_unstable();
    (coverage, chosen)
}
