//! Tinting strength by eye: a tint held beside one of the standard, paler, the same or deeper.

use study::Depth;

/// A just noticeable difference of depth, ΔE*ab from white (ours).
const NOTICEABLE: f64 = 2.0;
/// Answers that have nothing to do with what is seen (ours).
const WRONG: f64 = 0.05;
/// Strength lies between 1/8 and 8 before anybody looks, evenly in its logarithm (ours).
const WIDEST: f64 = 8.0;
/// Strengths and errors of the tints that are tried.
const DRAWS: usize = 4096;
/// So many pairs of tints are looked into before a question is asked.
const NEAREST: usize = 6;
/// A question must promise so much of a bit, or it is not asked (ours).
const WORTH_ASKING: f64 = 0.12;
/// Most looks at one tube's tints (ours): beyond, new paint tells more than another look.
pub const MOST_LOOKS: usize = 5;

/// A tint that was put out, with what its ratio may be off by.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct HeldTint {
    /// Parts of white to one of the tube, above 0.
    pub white: f64,
    /// One standard deviation of ln of its ratio.
    pub sigma: f64,
}

/// Two tints to be held side by side: places in the lists that were given.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct NextTint {
    /// Of the tube's own tints.
    pub sample: usize,
    /// Of the standard's.
    pub standard: usize,
}

/// What the answers so far tell of one tube's strength against its standard.
///
/// A posterior over ln strength, uniform between 1/8 and 8, over fixed draws of what each tint may be off by;
/// each answer is as likely as a normal step of one just noticeable difference makes it, and wrong in 5 % of
/// cases. Ours.
#[derive(Debug, Clone)]
pub struct EyeStrength {
    /// Depth of each of the tube's tints, and of the standard's, draw by draw.
    samples: Vec<Vec<f64>>,
    standards: Vec<Vec<f64>>,
    weights: Vec<f64>,
    asked: Vec<NextTint>,
}

impl EyeStrength {
    /// Nothing asked yet. `depth` is how far the standard lies from its white, ΔE*ab, by parts of white, falling.
    pub fn new(samples: &[HeldTint], standards: &[HeldTint], depth: impl Fn(f64) -> f64) -> Self {
        let off = |tint: &HeldTint, draw: usize, place: usize| tint.sigma * normal(draw, place);
        // A tube of strength s with w parts of white is as deep as the standard with w / s.
        let own = |draw: usize, (at, tint): (usize, &HeldTint)| {
            depth((tint.white.ln() + off(tint, draw, 2 * at) - ln_strength(draw)).exp())
        };
        let beside = |draw: usize, (at, tint): (usize, &HeldTint)| {
            depth((tint.white.ln() + off(tint, draw, 2 * at + 1)).exp())
        };
        let list = |tints: &[HeldTint], of: &dyn Fn(usize, (usize, &HeldTint)) -> f64| {
            (0..DRAWS)
                .map(|draw| tints.iter().enumerate().map(|tint| of(draw, tint)).collect())
                .collect()
        };
        Self {
            samples: list(samples, &own),
            standards: list(standards, &beside),
            weights: vec![1.0 / DRAWS as f64; DRAWS],
            asked: Vec::new(),
        }
    }

    /// Takes in how deep a tint looks beside the standard's.
    pub fn take(&mut self, tints: NextTint, answer: Depth) {
        for draw in 0..DRAWS {
            self.weights[draw] *= likely(self.difference(draw, tints), answer);
        }
        let sum: f64 = self.weights.iter().sum();
        if sum > 0.0 {
            self.weights.iter_mut().for_each(|weight| *weight /= sum);
        }
        self.asked.push(tints);
    }

    /// How many answers were taken in.
    #[must_use]
    pub fn answers(&self) -> usize {
        self.asked.len()
    }

    /// The 95 % range of the strength, standard 1; `None` before any answer.
    #[must_use]
    pub fn range(&self) -> Option<[f64; 2]> {
        if self.asked.is_empty() {
            return None;
        }
        let mut order: Vec<usize> = (0..DRAWS).collect();
        order.sort_by(|one, other| ln_strength(*one).total_cmp(&ln_strength(*other)));
        let at = |share: f64| {
            let mut sum = 0.0;
            let found = order.iter().find(|draw| {
                sum += self.weights[**draw];
                sum >= share
            });
            ln_strength(found.copied().unwrap_or(DRAWS - 1)).exp()
        };
        Some([at(0.025), at(0.975)])
    }

    /// Its middle: as likely stronger as weaker.
    #[must_use]
    pub fn middle(&self) -> f64 {
        let sum: f64 = (0..DRAWS).map(|draw| self.weights[draw] * ln_strength(draw)).sum();
        sum.exp()
    }

    /// The two tints that tell most next; `None` where another look would not help.
    #[must_use]
    pub fn next(&self) -> Option<NextTint> {
        if self.asked.len() >= MOST_LOOKS {
            return None;
        }
        let count = |list: &[Vec<f64>]| list.first().map_or(0, Vec::len);
        let (samples, standards) = (count(&self.samples), count(&self.standards));
        let mut pairs: Vec<NextTint> = (0..samples)
            .flat_map(|sample| (0..standards).map(move |standard| NextTint { sample, standard }))
            .collect();
        // Tints that look alike tell most: only those that are nearest to it are worth working out.
        let apart = |tints: &NextTint| {
            let sum = (0..DRAWS).map(|draw| self.weights[draw] * self.difference(draw, *tints));
            sum.sum::<f64>().abs()
        };
        pairs.sort_by_cached_key(|tints| (1000.0 * apart(tints)) as u64);
        let told = pairs.into_iter().take(NEAREST).map(|tints| (self.information(tints), tints));
        let (bits, tints) = told.max_by(|one, other| one.0.total_cmp(&other.0))?;
        (bits >= WORTH_ASKING).then_some(tints)
    }

    /// Bits that an answer is expected to tell of the strength.
    fn information(&self, tints: NextTint) -> f64 {
        const BINS: usize = 64;
        let mut mass = [0.0; BINS];
        let mut each = [[0.0; 3]; BINS];
        for draw in 0..DRAWS {
            let weight = self.weights[draw];
            if weight < 1e-12 {
                continue;
            }
            let place = (ln_strength(draw) / WIDEST.ln() + 1.0) / 2.0 * BINS as f64;
            let bin = (place as usize).min(BINS - 1);
            mass[bin] += weight;
            let difference = self.difference(draw, tints);
            for (at, answer) in Depth::ALL.iter().enumerate() {
                each[bin][at] += weight * likely(difference, *answer);
            }
        }
        let entropy = |shares: [f64; 3]| -> f64 {
            shares.iter().filter(|share| **share > 0.0).map(|share| -share * share.log2()).sum()
        };
        let all = [0, 1, 2].map(|at| each.iter().map(|bin| bin[at]).sum::<f64>());
        let within: f64 = (0..BINS)
            .filter(|bin| mass[*bin] > 0.0)
            .map(|bin| mass[bin] * entropy(each[bin].map(|share| share / mass[bin])))
            .sum();
        entropy(all) - within
    }

    /// How much deeper the tint is than the standard's, in just noticeable differences, in one draw.
    fn difference(&self, draw: usize, NextTint { sample, standard }: NextTint) -> f64 {
        (self.samples[draw][sample] - self.standards[draw][standard]) / NOTICEABLE
    }
}

/// ln strength of a draw: evenly over its range.
fn ln_strength(draw: usize) -> f64 {
    WIDEST.ln() * (2.0 * (draw as f64 + 0.5) / DRAWS as f64 - 1.0)
}

/// A normal deviate, always the same for a draw and a tint.
fn normal(draw: usize, place: usize) -> f64 {
    let seed = (draw as u64).wrapping_mul(0x9E37_79B9_7F4A_7C15)
        ^ (place as u64 + 1).wrapping_mul(0xD1B5_4A32_D192_ED03);
    let uniform = |salt: u64| {
        // SplitMix64 (Steele, Lea and Flood 2014).
        let mut bits = seed.wrapping_add(salt.wrapping_mul(0xBF58_476D_1CE4_E5B9));
        bits = (bits ^ (bits >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
        bits = (bits ^ (bits >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
        bits ^= bits >> 31;
        ((bits >> 11) as f64 + 0.5) / (1_u64 << 53) as f64
    };
    // Box and Muller 1958.
    (-2.0 * uniform(1).ln()).sqrt() * (std::f64::consts::TAU * uniform(2)).cos()
}

/// How likely an answer is where the difference of depth is so many just noticeable ones.
fn likely(difference: f64, answer: Depth) -> f64 {
    let deeper = step(difference - 0.5);
    let paler = step(-difference - 0.5);
    let right = match answer {
        Depth::Deeper => deeper,
        Depth::Paler => paler,
        Depth::Same => (1.0 - deeper - paler).max(0.0),
    };
    WRONG / 3.0 + (1.0 - WRONG) * right
}

/// The normal distribution function of one just noticeable difference, by its logistic likeness (Bowling et
/// al. 2009, off by less than 0.0002).
fn step(z: f64) -> f64 {
    1.0 / (1.0 + (-(0.07056 * z.powi(3) + 1.5976 * z)).exp())
}
