//! How far two piles of one mixture lie apart, from what the model does not explain.

use colour::Lab;
use rand::SeedableRng as _;
use rand_chacha::ChaCha8Rng;
use rand_distr::{Distribution as _, StandardNormal};

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

    pub fn disturbed(&mut self, lab: Lab, noise: Noise, with_white: bool) -> Lab {
        let [l, a, b] = noise.of_square(with_white);
        let mut off = |sigma: f64| {
            let drawn: f64 = StandardNormal.sample(&mut self.0);
            sigma * drawn
        };
        Lab::new(lab.l + off(l), lab.a + off(a), lab.b + off(b))
    }
}
