//! A reflectance where only a colour was read: the smoothest one that has it.

use nalgebra::{SMatrix, SVector};

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
            let step = slopes.lu().solve(&gradient)?;
            let longest = (0..BANDS).map(|at| step[at].abs()).fold(0.0, f64::max);
            unknowns -= step * (LONGEST_MOVE / longest).min(1.0);
        }
        None
    }
}

fn reflectance(z: f64) -> f64 {
    f64::midpoint(1.0, z.tanh())
}

/// The gradient of the Lagrangian, and its derivative.
fn equations(
    unknowns: &Unknowns,
    weights: &[[f64; 3]; BANDS],
    wanted: [f64; 3],
) -> (Unknowns, SMatrix<f64, UNKNOWNS, UNKNOWNS>) {
    let mut gradient = Unknowns::zeros();
    let mut slopes = SMatrix::zeros();
    for band in 0..BANDS {
        let z = unknowns[band];
        for other in [band.checked_sub(1), (band + 1 < BANDS).then_some(band + 1)] {
            let Some(other) = other else { continue };
            gradient[band] += 2.0 * (z - unknowns[other]);
            slopes[(band, band)] += 2.0;
            slopes[(band, other)] -= 2.0;
        }
        let (tanh, slope) = (z.tanh(), 0.5 * (1.0 - z.tanh().powi(2)));
        for (axis, weight) in weights[band].iter().enumerate() {
            let multiplier = unknowns[BANDS + axis];
            gradient[band] += multiplier * weight * slope;
            slopes[(band, band)] += multiplier * weight * slope * -2.0 * tanh;
            slopes[(band, BANDS + axis)] = weight * slope;
            slopes[(BANDS + axis, band)] = weight * slope;
            gradient[BANDS + axis] += weight * reflectance(z);
        }
    }
    for (axis, value) in wanted.into_iter().enumerate() {
        gradient[BANDS + axis] -= value;
    }
    (gradient, slopes)
}
