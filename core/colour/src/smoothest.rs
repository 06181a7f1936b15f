//! A reflectance where only a colour was read: the smoothest one that has it.

use nalgebra::{Matrix3, SVector, Vector3};

use crate::spectrum::{BANDS, Reflectance};
use crate::xyz::weights;
use crate::{Conditions, Xyz};

/// Bands and one multiplier for each of X, Y and Z.
const UNKNOWNS: usize = BANDS + 3;
/// Newton steps; ten do for most colours.
const MOST_STEPS: usize = 60;
/// The colour is met when X, Y and Z are off by no more than this.
const MET: f64 = 1e-7;
/// No band moves by more than this in one step, in the transformed variable.
const LONGEST_MOVE: f64 = 1.5;

type Unknowns = SVector<f64, UNKNOWNS>;

impl Reflectance {
    /// The smoothest reflectance of a colour: of all that lie between 0 and 1 and have these
    /// tristimulus values, the one whose z changes least from band to band, R = (1 + tanh z)/2.
    /// `None` where no such reflectance was found: the colour is that of no surface.
    ///
    /// Burns S.A. (2020), "Numerical methods for smoothest reflectance reconstruction", Color
    /// Research & Application 45, 8–21: least hyperbolic tangent slope squared (from memory).
    #[must_use]
    pub fn smoothest(xyz: Xyz, conditions: Conditions) -> Option<Self> {
        let weights = weights(conditions);
        let wanted = [xyz.x, xyz.y, xyz.z];
        let mut unknowns = Unknowns::zeros();
        for _ in 0..MOST_STEPS {
            let (gradient, slopes) = equations(&unknowns, weights, wanted);
            let missed = (BANDS..UNKNOWNS).map(|at| gradient[at].abs()).fold(0.0, f64::max);
            let rough = (0..BANDS).map(|at| gradient[at].abs()).fold(0.0, f64::max);
            if missed < MET && rough < 1e-6 {
                return Some(Self::from_fn(|band| reflectance(unknowns[band])));
            }
            let step = slopes.solve(&gradient)?;
            let longest = (0..BANDS).map(|at| step[at].abs()).fold(0.0, f64::max);
            unknowns -= step * (LONGEST_MOVE / longest).min(1.0);
        }
        None
    }
}

fn reflectance(z: f64) -> f64 {
    f64::midpoint(1.0, z.tanh())
}

/// The derivative of the gradient: each band depends on its neighbours, and all on the three multipliers.
struct Slopes {
    /// Of each band by itself; by a neighbour it is [`BESIDE`].
    own: [f64; BANDS],
    /// Of each band by the multipliers, and of the three conditions by each band.
    border: [[f64; 3]; BANDS],
}

/// How a band's gradient changes with its neighbour.
const BESIDE: f64 = -2.0;
/// Added to each band's own slope, since at the start a change of all bands alike costs nothing. The gradient is exact, and
/// so is what the steps end at.
const HELD: f64 = 1e-7;

impl Slopes {
    /// The step that these slopes make of a gradient: bands by elimination along their row, then the multipliers by what is
    /// left (Schur's complement). `None` where they tell none.
    fn solve(&self, gradient: &Unknowns) -> Option<Unknowns> {
        // Right sides: the gradient, and the three columns of the border.
        let mut rows: [[f64; 4]; BANDS] = std::array::from_fn(|band| {
            let [x, y, z] = self.border[band];
            [gradient[band], x, y, z]
        });
        let mut pivots = self.own.map(|own| own + HELD);
        for band in 1..BANDS {
            let factor = BESIDE / pivots[band - 1];
            pivots[band] -= factor * BESIDE;
            let before = rows[band - 1];
            for (own, before) in rows[band].iter_mut().zip(before) {
                *own -= factor * before;
            }
        }
        let mut after = [0.0; 4];
        for (row, pivot) in rows.iter_mut().zip(pivots).rev() {
            for (own, after) in row.iter_mut().zip(after) {
                *own = (*own - BESIDE * after) / pivot;
            }
            after = *row;
        }
        let mut left = Matrix3::zeros();
        let mut right = Vector3::zeros();
        for (border, row) in self.border.iter().zip(&rows) {
            for axis in 0..3 {
                right[axis] += border[axis] * row[0];
                for other in 0..3 {
                    left[(axis, other)] += border[axis] * row[1 + other];
                }
            }
        }
        for axis in 0..3 {
            right[axis] -= gradient[BANDS + axis];
        }
        let multipliers = left.lu().solve(&right)?;
        let step = Unknowns::from_fn(|at, _| match at.checked_sub(BANDS) {
            Some(axis) => multipliers[axis],
            None => rows[at][0] - (0..3).map(|it| rows[at][1 + it] * multipliers[it]).sum::<f64>(),
        });
        step.iter().all(|it| it.is_finite()).then_some(step)
    }
}

/// The gradient of the Lagrangian, and its derivative.
fn equations(
    unknowns: &Unknowns,
    weights: &[[f64; 3]; BANDS],
    wanted: [f64; 3],
) -> (Unknowns, Slopes) {
    let mut gradient = Unknowns::zeros();
    let mut slopes = Slopes { own: [0.0; BANDS], border: [[0.0; 3]; BANDS] };
    for band in 0..BANDS {
        let z = unknowns[band];
        for other in [band.checked_sub(1), (band + 1 < BANDS).then_some(band + 1)] {
            let Some(other) = other else { continue };
            gradient[band] += 2.0 * (z - unknowns[other]);
            slopes.own[band] += 2.0;
        }
        let (tanh, slope) = (z.tanh(), 0.5 * (1.0 - z.tanh().powi(2)));
        for (axis, weight) in weights[band].iter().enumerate() {
            let multiplier = unknowns[BANDS + axis];
            gradient[band] += multiplier * weight * slope;
            slopes.own[band] += multiplier * weight * slope * -2.0 * tanh;
            slopes.border[band][axis] = weight * slope;
            gradient[BANDS + axis] += weight * reflectance(z);
        }
    }
    for (axis, value) in wanted.into_iter().enumerate() {
        gradient[BANDS + axis] -= value;
    }
    (gradient, slopes)
}
