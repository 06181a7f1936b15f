//! How far places of paper that does not lie flat are moved: a smooth field through what was seen of some of them.

use nalgebra::{DMatrix, DVector};

/// The field is nothing, give or take this, where nobody says more, mm.
const PRIOR_MM: f64 = 3.0;
/// Places that a cubic field takes.
const FOR_CUBIC: usize = 32;
/// Places that any field takes.
const LEAST: usize = 12;
/// What lies this many standard deviations off counts less and less.
const FAR_OFF: f64 = 1.5;
const ROUNDS: usize = 6;

/// How far places of the paper are moved, by a polynomial of each axis.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Bend {
    centre: [f64; 2],
    half: [f64; 2],
    /// One for each of the terms, mm.
    factors: [Vec<f64>; 2],
}

/// A place on the paper and how far it is moved, mm, with one standard deviation.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Moved {
    pub at: [f64; 2],
    pub by: [f64; 2],
    pub sigma: f64,
}

impl Bend {
    /// Where a place would lie if the paper were flat.
    pub fn of(&self, mm: [f64; 2]) -> [f64; 2] {
        let terms = terms(self.scaled(mm), self.factors[0].len());
        [0, 1].map(|axis| {
            let moved = terms.iter().zip(&self.factors[axis]);
            mm[axis] + moved.map(|(term, factor)| term * factor).sum::<f64>()
        })
    }

    fn scaled(&self, mm: [f64; 2]) -> [f64; 2] {
        [0, 1].map(|axis| (mm[axis] - self.centre[axis]) / self.half[axis])
    }

    /// Through what was seen on paper of this size; `None` where that is too little.
    pub fn through(all: &[Moved], size_mm: [f64; 2]) -> Option<Self> {
        if all.len() < LEAST {
            return None;
        }
        let count = if all.len() < FOR_CUBIC { 6 } else { 10 };
        let half = size_mm.map(|side| side / 2.0);
        let bend = Self { centre: half, half, factors: [vec![0.0; count], vec![0.0; count]] };
        let factors = [bend.factors_of(all, 0)?, bend.factors_of(all, 1)?];
        Some(Self { factors, ..bend })
    }

    /// Least squares in which what lies far off counts less (Huber 1981, iterated), one axis.
    fn factors_of(&self, all: &[Moved], axis: usize) -> Option<Vec<f64>> {
        let count = self.factors[axis].len();
        let terms: Vec<Vec<f64>> = all.iter().map(|it| terms(self.scaled(it.at), count)).collect();
        let mut weights: Vec<f64> = all.iter().map(|it| 1.0 / it.sigma).collect();
        let mut factors = DVector::zeros(count);
        for _ in 0..ROUNDS {
            let rows = DMatrix::from_fn(all.len() + count, count, |row, column| {
                match row.checked_sub(all.len()) {
                    None => weights[row] * terms[row][column],
                    Some(own) => f64::from(u8::from(own == column)) / PRIOR_MM,
                }
            });
            let wanted = DVector::from_fn(all.len() + count, |row, _| {
                all.get(row).map_or(0.0, |it| weights[row] * it.by[axis])
            });
            factors = rows.svd(true, true).solve(&wanted, 1e-12).ok()?;
            for ((weight, it), terms) in weights.iter_mut().zip(all).zip(&terms) {
                let told: f64 = terms.iter().zip(factors.iter()).map(|(a, b)| a * b).sum();
                let off = (it.by[axis] - told).abs() / it.sigma;
                *weight = (FAR_OFF / off.max(FAR_OFF)).sqrt() / it.sigma;
            }
        }
        factors.iter().all(|it| it.is_finite()).then(|| factors.iter().copied().collect())
    }
}

/// 1, x, y, x², xy, y², and of a cubic field the four of third order.
fn terms([x, y]: [f64; 2], count: usize) -> Vec<f64> {
    let all = [1.0, x, y, x * x, x * y, y * y, x * x * x, x * x * y, x * y * y, y * y * y];
    all[..count].to_vec()
}
