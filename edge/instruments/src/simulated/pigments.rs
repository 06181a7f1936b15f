//! Hidden absorption and scattering of pigments by Colour Index name.
//!
//! Each lies about the curve of its name, with edges, widths, heights and scattering of its own. Units: K and S
//! of a full film (150 µm wet) of neat paint.

use colour::wavelength;
use mixing::typical::Feature;

use super::curves::CURVES;
use super::hash::stable_hash;

/// Edges and centres lie up to so many nm off the curve's.
const SHIFT_NM: f64 = 2.5;
/// Widths, heights and scattering by up to this share.
const WIDTH: f64 = 0.10;
const HEIGHT: f64 = 0.12;
const SCATTERING: f64 = 0.08;

/// A pigment in full load.
#[derive(Debug, Clone)]
pub(super) struct Pigment {
    absorption: Vec<Feature>,
    scattering: f64,
    fall: f64,
    /// Share of a dry film that lifting leaves.
    pub staining: f64,
}

impl Pigment {
    /// The pigment of a Colour Index name; `None` for one that has no curve.
    pub fn named(name: &str) -> Option<Self> {
        let (_, features, scattering, fall, staining) =
            *CURVES.iter().find(|(known, ..)| *known == name)?;
        let mut own = Own { name, count: 0 };
        let absorption = features.iter().map(|feature| own.feature(*feature)).collect();
        Some(Self { absorption, scattering: scattering * own.factor(SCATTERING), fall, staining })
    }

    /// K of a full film in a band, its features moved by `shift` nm.
    pub fn k(&self, band: usize, shift: f64) -> f64 {
        let nm = f64::from(wavelength(band)) - shift;
        self.absorption.iter().map(|feature| feature.at(nm)).sum()
    }

    /// S of a full film in a band.
    pub fn s(&self, band: usize) -> f64 {
        self.scattering * (f64::from(wavelength(band)) / 550.0).powf(-self.fall)
    }
}

/// Numbers that are a pigment's own: the same on every machine and in every release.
struct Own<'a> {
    name: &'a str,
    count: u32,
}

impl Own<'_> {
    /// The next one, −1 to 1.
    fn next(&mut self) -> f64 {
        self.count += 1;
        let hash = stable_hash(&format!("{}, {}", self.name, self.count));
        2.0 * (hash >> 11) as f64 / (1_u64 << 53) as f64 - 1.0
    }

    fn factor(&mut self, spread: f64) -> f64 {
        1.0 + spread * self.next()
    }

    fn feature(&mut self, usual: Feature) -> Feature {
        let moved = SHIFT_NM * self.next();
        let (width, height) = (self.factor(WIDTH), self.factor(HEIGHT));
        match usual {
            Feature::Bell(centre, wide, high) => {
                Feature::Bell(centre + moved, wide * width, high * height)
            }
            Feature::Below(edge, soft, high) => {
                Feature::Below(edge + moved, soft * width, high * height)
            }
            Feature::Above(edge, soft, high) => {
                Feature::Above(edge + moved, soft * width, high * height)
            }
            Feature::Band(lower, upper, soft, softer, high) => Feature::Band(
                lower + moved,
                upper - moved,
                soft * width,
                softer * width,
                high * height,
            ),
            Feature::Flat(high) => Feature::Flat(high * height),
        }
    }
}
