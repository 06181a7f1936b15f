//! How far two piles of one mixture lie apart, from what the model does not explain.

use rand::SeedableRng as _;
use rand_chacha::ChaCha8Rng;
use rand_distr::{Distribution as _, StandardNormal};
use study::Protocol;

use crate::pairs::Moved;

/// From the median absolute deviation to σ of a normal distribution.
const OF_MAD: f64 = 1.48;
/// No pile is surer than this, σ per axis.
const LEAST: f64 = 0.1;
/// Without white colours scatter more (found by simulation).
const WITHOUT_WHITE: f64 = 1.2;
/// What is drawn is always the same.
const SEED: u64 = 2026;

/// One standard deviation per axis of a square with white.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct Noise([f64; 3]);

impl Noise {
    /// From measured less predicted differences of squares with white.
    pub fn of(unexplained: &[[f64; 3]]) -> Self {
        Self([0, 1, 2].map(|axis| {
            let values: Vec<f64> = unexplained.iter().map(|it| it[axis]).collect();
            let middle = median(values.clone());
            let off = values.iter().map(|value| (value - middle).abs()).collect();
            (OF_MAD * median(off)).max(LEAST)
        }))
    }

    fn of_square(self, with_white: bool) -> [f64; 3] {
        self.0.map(|sigma| if with_white { sigma } else { WITHOUT_WHITE * sigma })
    }
}

fn median(mut values: Vec<f64>) -> f64 {
    values.sort_by(f64::total_cmp);
    values.get(values.len() / 2).copied().unwrap_or_default()
}

/// A source of noise that always gives the same.
pub(crate) struct Draws(ChaCha8Rng);

impl Draws {
    pub fn new() -> Self {
        Self(ChaCha8Rng::seed_from_u64(SEED))
    }

    /// What two piles of one mixture differ by, per axis, and what amounts put out by eye move both colours by.
    pub fn errors(&mut self, square: &Moved<'_>, noise: Noise) -> [f64; 3] {
        let mut off = |sigma: f64| {
            let drawn: f64 = StandardNormal.sample(&mut self.0);
            sigma * drawn
        };
        let piles = noise.of_square(square.one.white > 0.0).map(&mut off);
        if !square.is_by_eye() {
            return piles;
        }
        let mut all = piles;
        for (slopes, by_eye) in square.slopes.iter().zip([square.one.by_eye, square.other.by_eye]) {
            for slope in slopes.iter().filter(|_| by_eye) {
                let amount = off(Protocol::BY_EYE_ERROR);
                all = [0, 1, 2].map(|axis| all[axis] + amount * slope[axis]);
            }
        }
        all
    }
}
