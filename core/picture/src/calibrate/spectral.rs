//! The device's effective sensitivities, from anchors whose spectra are known: what it would see of any other spectrum.

use colour::{BANDS, Reflectance};
use nalgebra::{SMatrix, SVector};

/// How strongly sensitivities are held smooth.
const SMOOTH: f64 = 0.02;
/// Light below this share of white is no dearer.
const DARKEST: f64 = 0.05;
/// The bands, and light that is the same for all: gloss that goes elsewhere, haze.
const UNKNOWN: usize = BANDS + 1;

type Unknown = SVector<f64, UNKNOWN>;

/// Three curves, lamp and sensor in one.
pub(super) struct Sensitivities([Unknown; 3]);

impl Sensitivities {
    /// From light beside bare paper's and spectra; `None` where they tell nothing.
    pub fn of(seen: &[([f64; 3], Reflectance)]) -> Option<Self> {
        let mut normal = bent() * (SMOOTH * seen.len() as f64);
        let mut right = [Unknown::zeros(); 3];
        for (x, reflectance) in seen {
            let row = row(reflectance);
            for (channel, right) in right.iter_mut().enumerate() {
                *right += row * (x[channel] * weight(x));
            }
            normal += row * row.transpose() * weight(x);
        }
        let cholesky = normal.cholesky()?;
        Some(Self(right.map(|right| cholesky.solve(&right))))
    }

    /// What the device would see of a spectrum.
    pub fn seen(&self, reflectance: &Reflectance) -> [f64; 3] {
        let row = row(reflectance);
        self.0.map(|sensitivity| sensitivity.dot(&row).max(0.0))
    }
}

fn row(reflectance: &Reflectance) -> Unknown {
    Unknown::from_fn(|at, _| reflectance.bands().get(at).copied().unwrap_or(1.0))
}

/// A square counts by its own light, so that dark ones count as they are seen.
fn weight([r, g, b]: &[f64; 3]) -> f64 {
    ((r + g + b) / 3.0).max(DARKEST).powi(-1)
}

/// Squares of second differences of the bands, and a little of the size itself.
fn bent() -> SMatrix<f64, UNKNOWN, UNKNOWN> {
    let mut sum = SMatrix::<f64, UNKNOWN, UNKNOWN>::identity() * 1e-4;
    for band in 1..BANDS - 1 {
        let mut row = Unknown::zeros();
        (row[band - 1], row[band], row[band + 1]) = (1.0, -2.0, 1.0);
        sum += row * row.transpose();
    }
    sum
}
