//! Tristimulus values by ASTM E308, 10 nm weighting factors, the ends folded.

use crate::spectrum::{BANDS, Reflectance, wavelength};
use crate::{Conditions, Illuminant, Observer};

type Weights = [[f64; 3]; BANDS];

mod tables {
    use super::Weights;
    include!("../data/weights.rs");
}

/// CIE tristimulus values; Y of the perfect diffuser is 100.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Xyz {
    /// X, 0 to about 115.
    pub x: f64,
    /// Y, the luminance factor in percent, 0–100 (120 for R = 1.2).
    pub y: f64,
    /// Z, 0 to about 130.
    pub z: f64,
}

impl Xyz {
    /// Tristimulus values of a reflectance under the given conditions.
    ///
    /// ASTM E308 with the 10 nm weighting factors made by its practice E2022; what lies below
    /// 380 nm is added to 380, what lies above 730 nm to 730.
    #[must_use]
    pub fn from_reflectance(reflectance: &Reflectance, conditions: Conditions) -> Self {
        let mut sum = [0.0; 3];
        for (r, weights) in reflectance.bands().iter().zip(weights(conditions)) {
            for (total, weight) in sum.iter_mut().zip(weights) {
                *total += r * weight;
            }
        }
        let [x, y, z] = sum;
        Self { x, y, z }
    }

    /// The perfect diffuser: the sum of the same weights, so that it is exactly neutral.
    #[must_use]
    pub fn white(conditions: Conditions) -> Self {
        Self::from_reflectance(&Reflectance::flat(1.0), conditions)
    }
}

/// The share of X's weight that lies at 490 nm and below, 0–1 (0.189 for D65/10°).
///
/// Used to take the blue lobe out of X where only tristimulus values are known.
#[must_use]
pub fn short_wave_share_of_x(conditions: Conditions) -> f64 {
    let below: f64 = weights(conditions)
        .iter()
        .enumerate()
        .filter(|(band, _)| wavelength(*band) <= 490)
        .map(|(_, weight)| weight[0])
        .sum();
    below / Xyz::white(conditions).x
}

pub(crate) fn weights(conditions: Conditions) -> &'static Weights {
    match (conditions.illuminant, conditions.observer) {
        (Illuminant::D50, Observer::Two) => &tables::D50_TWO,
        (Illuminant::D65, Observer::Two) => &tables::D65_TWO,
        (Illuminant::A, Observer::Two) => &tables::A_TWO,
        (Illuminant::D50, Observer::Ten) => &tables::D50_TEN,
        (Illuminant::D65, Observer::Ten) => &tables::D65_TEN,
        (Illuminant::A, Observer::Ten) => &tables::A_TEN,
    }
}
