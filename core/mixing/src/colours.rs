//! A tube's K and S where only colours were read: the smoothest curves that give them all.
//!
//! Many curves have the colours of one mass tone and a few tints. Paints that are made have K and S
//! that change little from one band to the next, so the sum of squares weighs each colour's miss
//! against the steps of ln K and ln S along the spectrum (ours).

use colour::{BANDS, Conditions, Lab, Reflectance, Xyz};
use levenberg_marquardt::{LeastSquaresProblem, LevenbergMarquardt};
use nalgebra::storage::Owned;
use nalgebra::{DMatrix, DVector, Dyn};

use crate::{Constants, Film, FitKind, InternalReflectance, KsRatio, Surface};

/// A colour is met within this, one σ, ΔE or so.
const MISS: f64 = 0.15;
/// ln K changes by this from one band to the next, one σ.
const K_STEP: f64 = 0.5;
/// ln S changes by this.
const S_STEP: f64 = 0.05;
/// ln S of most pigments lies about this, in the white's S, and within the second number, one σ.
const USUAL_S: (f64, f64) = (-1.6, 1.0);
/// ln of a film's thickness in the white's unit lies within this of the first guess, one σ.
const THICKNESS: f64 = 1.0;
/// For derivatives.
const SMALL: f64 = 1e-4;

/// The light and the observer of some colours, and the surface they were read through.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Light {
    /// Illuminant and observer.
    pub conditions: Conditions,
    /// The surface; `None` where the readings are free of it.
    pub surface: Option<Surface>,
}

/// One colour of a tube, alone or with white.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ColourReading {
    /// Share of the tube, above 0 and up to 1; the rest is white.
    pub tube: f64,
    /// What it was read over; `None` where the film is taken to hide.
    pub backing: Option<InternalReflectance>,
    /// Its colour.
    pub lab: Lab,
}

/// Fits a tube to its colours with `white`, from a first guess. `None` where there is no colour, or
/// where the guess leads nowhere.
#[must_use]
pub fn fit_colours(
    white: &Constants,
    guess: &Constants,
    readings: &[ColourReading],
    light: Light,
) -> Option<Constants> {
    if readings.is_empty() {
        return None;
    }
    let start = Curves {
        ln_k: std::array::from_fn(|band| guess.k[band].max(1e-4).ln()),
        ln_s: std::array::from_fn(|band| guess.s[band].max(1e-2).ln()),
        ln_thickness: guess.thickness.or(white.thickness).unwrap_or(10.0).ln(),
    };
    let problem = Problem {
        white,
        readings,
        light,
        weights: std::array::from_fn(|at| {
            let one = Reflectance::from_fn(|band| if band == at { 1.0 } else { 0.0 });
            let Xyz { x, y, z } = Xyz::from_reflectance(&one, light.conditions);
            [x, y, z]
        }),
        usual_thickness: start.ln_thickness,
        parameters: start.into_vector(),
    };
    let (found, report) = LevenbergMarquardt::new().with_patience(8).minimize(problem);
    if !report.objective_function.is_finite() {
        return None;
    }
    let curves = Curves::of(&found.parameters);
    let films = readings.iter().any(|reading| reading.backing.is_some());
    Some(Constants {
        k: curves.ln_k.map(f64::exp),
        s: curves.ln_s.map(f64::exp),
        thickness: films.then(|| curves.ln_thickness.exp()),
        kind: FitKind::TwoConstants,
        residual: guess.residual,
    })
}

/// The unknowns.
struct Curves {
    ln_k: [f64; BANDS],
    ln_s: [f64; BANDS],
    ln_thickness: f64,
}

const UNKNOWNS: usize = 2 * BANDS + 1;

impl Curves {
    fn of(vector: &DVector<f64>) -> Self {
        Self {
            ln_k: std::array::from_fn(|band| vector[band]),
            ln_s: std::array::from_fn(|band| vector[BANDS + band]),
            ln_thickness: vector[2 * BANDS],
        }
    }

    fn into_vector(self) -> DVector<f64> {
        let all = self.ln_k.into_iter().chain(self.ln_s).chain([self.ln_thickness]);
        DVector::from_iterator(UNKNOWNS, all)
    }
}

struct Problem<'a> {
    white: &'a Constants,
    readings: &'a [ColourReading],
    light: Light,
    /// What one band adds to X, Y and Z.
    weights: [[f64; 3]; BANDS],
    usual_thickness: f64,
    parameters: DVector<f64>,
}

impl Problem<'_> {
    /// Reflectance of one band, the surface on.
    fn band(&self, reading: &ColourReading, band: usize, [ln_k, ln_s, ln_x]: [f64; 3]) -> f64 {
        let of_white = 1.0 - reading.tube;
        let k = reading.tube * ln_k.exp() + of_white * self.white.k[band];
        let s = reading.tube * ln_s.exp() + of_white * self.white.s[band];
        let internal = match reading.backing {
            Some(backing) => {
                let thickness = ln_x.exp();
                Film { absorption: k * thickness, scattering: s * thickness }
                    .reflectance_over(backing.bands()[band])
            }
            None => KsRatio(k / s).hiding_reflectance(),
        };
        self.light.surface.map_or(internal, |surface| surface.apply(internal))
    }

    fn xyz(&self, reading: &ColourReading, curves: &Curves) -> [f64; 3] {
        let mut sum = [0.0; 3];
        for (band, weights) in self.weights.iter().enumerate() {
            let at = [curves.ln_k[band], curves.ln_s[band], curves.ln_thickness];
            let r = self.band(reading, band, at);
            for (total, weight) in sum.iter_mut().zip(weights) {
                *total += weight * r;
            }
        }
        sum
    }

    /// Lab scaled so that a visible step counts alike everywhere: chroma less where it is large
    /// (the S_C of CIE94).
    fn scaled(&self, [x, y, z]: [f64; 3], wanted: Lab) -> [f64; 3] {
        let lab = Lab::from_xyz(Xyz { x, y, z }, self.light.conditions);
        let chroma = MISS * (1.0 + 0.045 * wanted.chroma());
        [(lab.l - wanted.l) / MISS, (lab.a - wanted.a) / chroma, (lab.b - wanted.b) / chroma]
    }

    fn rows(&self) -> usize {
        3 * self.readings.len() + 2 * (BANDS - 1) + 2
    }
}

impl LeastSquaresProblem<f64, Dyn, Dyn> for Problem<'_> {
    type ParameterStorage = Owned<f64, Dyn>;
    type ResidualStorage = Owned<f64, Dyn>;
    type JacobianStorage = Owned<f64, Dyn, Dyn>;

    fn set_params(&mut self, parameters: &DVector<f64>) {
        self.parameters.copy_from(parameters);
    }

    fn params(&self) -> DVector<f64> {
        self.parameters.clone()
    }

    fn residuals(&self) -> Option<DVector<f64>> {
        let curves = Curves::of(&self.parameters);
        let mut rows = Vec::with_capacity(self.rows());
        for reading in self.readings {
            rows.extend(self.scaled(self.xyz(reading, &curves), reading.lab));
        }
        rows.extend(curves.ln_k.windows(2).map(|pair| (pair[1] - pair[0]) / K_STEP));
        rows.extend(curves.ln_s.windows(2).map(|pair| (pair[1] - pair[0]) / S_STEP));
        let mean_s = curves.ln_s.iter().sum::<f64>() / BANDS as f64;
        rows.push((mean_s - USUAL_S.0) / USUAL_S.1);
        rows.push((curves.ln_thickness - self.usual_thickness) / THICKNESS);
        Some(DVector::from_vec(rows))
    }

    fn jacobian(&self) -> Option<DMatrix<f64>> {
        let curves = Curves::of(&self.parameters);
        let mut slopes = DMatrix::zeros(self.rows(), UNKNOWNS);
        for (at, reading) in self.readings.iter().enumerate() {
            let xyz = self.xyz(reading, &curves);
            let here = self.scaled(xyz, reading.lab);
            // How the scaled colour follows X, Y and Z.
            let by_axis: [[f64; 3]; 3] = std::array::from_fn(|axis| {
                let mut moved = xyz;
                moved[axis] += SMALL;
                let there = self.scaled(moved, reading.lab);
                std::array::from_fn(|row| (there[row] - here[row]) / SMALL)
            });
            for band in 0..BANDS {
                let unknowns = [curves.ln_k[band], curves.ln_s[band], curves.ln_thickness];
                let r = self.band(reading, band, unknowns);
                for (which, column) in [band, BANDS + band, 2 * BANDS].into_iter().enumerate() {
                    let mut moved = unknowns;
                    moved[which] += SMALL;
                    let slope = (self.band(reading, band, moved) - r) / SMALL;
                    for row in 0..3 {
                        let follows: f64 =
                            (0..3).map(|axis| by_axis[axis][row] * self.weights[band][axis]).sum();
                        slopes[(3 * at + row, column)] += follows * slope;
                    }
                }
            }
        }
        let first = 3 * self.readings.len();
        for band in 0..BANDS - 1 {
            slopes[(first + band, band)] = -1.0 / K_STEP;
            slopes[(first + band, band + 1)] = 1.0 / K_STEP;
            let row = first + BANDS - 1 + band;
            slopes[(row, BANDS + band)] = -1.0 / S_STEP;
            slopes[(row, BANDS + band + 1)] = 1.0 / S_STEP;
        }
        let row = first + 2 * (BANDS - 1);
        for band in 0..BANDS {
            slopes[(row, BANDS + band)] = 1.0 / (BANDS as f64 * USUAL_S.1);
        }
        slopes[(row + 1, 2 * BANDS)] = 1.0 / THICKNESS;
        Some(slopes)
    }
}
