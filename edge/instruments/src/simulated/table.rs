//! The table: weighing, mixing and drawing down.

use colour::{BANDS, Reflectance, wavelength};
use mixing::{Film, Surface};
use rand::Rng;
use rand_chacha::ChaCha8Rng;
use rand_distr::{Distribution, Normal};
use study::{Backing, FilmKind, State};

use super::HiddenPaint;
use crate::Specimen;

/// How carefully the hidden workshop works.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct TableErrors {
    /// Resolution of the scale in g; a weighed amount is off by up to half of it.
    pub scale_g: f64,
    /// Weight of a pile in g.
    pub pile_g: f64,
    /// Streaks left in the pile: relative error of each share where it is read, one σ.
    pub mixing: f64,
    /// Relative error of the film's thickness, one σ.
    pub thickness: f64,
    /// Error of the surface's internal reflection k2, one σ.
    pub surface: f64,
}

impl TableErrors {
    /// A workshop that makes no errors at all.
    pub const NONE: Self =
        Self { scale_g: 0.0, pile_g: 4.0, mixing: 0.0, thickness: 0.0, surface: 0.0 };
}

impl Default for TableErrors {
    fn default() -> Self {
        Self { scale_g: 0.01, pile_g: 4.0, mixing: 0.002, thickness: 0.03, surface: 0.003 }
    }
}

/// A place where hidden paints are mixed and drawn down.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct MixingTable {
    /// How carefully it works.
    pub errors: TableErrors,
}

/// Error of ln of an amount that is put out by eye, one σ.
const BY_EYE: f64 = 0.25;
/// White pigment crowds: at full load it scatters this much less than its amount would tell.
const CROWDING: f64 = 0.04;
/// A thin film has this share of a full film's thickness.
const THIN: f64 = 0.2;
/// A wet dispersion is milky: its binder scatters until it dries, so that acrylics dry darker.
const MILKY: f64 = 0.30;

impl MixingTable {
    /// True measured reflectance of one swatch, with gloss included.
    pub(super) fn swatch(
        &self,
        paints: &[(HiddenPaint, f64)],
        specimen: &Specimen,
        chance: &mut ChaCha8Rng,
    ) -> Reflectance {
        let below = backing_reflectance(specimen.backing);
        if paints.is_empty() {
            return below;
        }
        let shares = if specimen.by_eye {
            put_out_by_eye(paints, chance)
        } else {
            self.weigh_and_mix(paints, chance)
        };
        let thickness = self.thickness(specimen, paints, &shares, chance);
        let milky = if specimen.state == State::Wet { MILKY } else { 0.0 };
        let surface = Surface {
            k1: 0.04,
            k2: 0.6 + self.errors.surface * standard_normal(chance),
            lost: 0.0,
        };
        Reflectance::from_fn(|band| {
            let (k, s) = absorb_and_scatter(paints, &shares, band);
            let film = Film { absorption: k * thickness, scattering: (s + milky) * thickness };
            // The film lies in contact: no air between it and the backing.
            surface.apply(film.reflectance_over(surface.correct(below.bands()[band])))
        })
    }

    fn weigh_and_mix(&self, paints: &[(HiddenPaint, f64)], chance: &mut ChaCha8Rng) -> Vec<f64> {
        let total: f64 = paints.iter().map(|(_, parts)| parts).sum();
        let alone = paints.len() == 1;
        let amounts: Vec<f64> = paints
            .iter()
            .map(|(_, parts)| {
                let meant = self.errors.pile_g * parts / total;
                if alone {
                    return meant;
                }
                let half_step = self.errors.scale_g / 2.0;
                let weighed = meant + chance.random_range(-half_step..=half_step);
                weighed * (1.0 + self.errors.mixing * standard_normal(chance))
            })
            .collect();
        let weighed: f64 = amounts.iter().sum();
        amounts.iter().map(|amount| amount / weighed).collect()
    }

    fn thickness(
        &self,
        specimen: &Specimen,
        paints: &[(HiddenPaint, f64)],
        shares: &[f64],
        chance: &mut ChaCha8Rng,
    ) -> f64 {
        let meant = if specimen.film == FilmKind::Thin { THIN } else { 1.0 };
        let left = if specimen.state == State::Lifted {
            let of = |((paint, _), share): (&(HiddenPaint, f64), &f64)| share * paint.staining();
            // Little is left of a film of which four fifths are rubbed off.
            paints.iter().zip(shares).map(of).sum::<f64>().powi(3)
        } else {
            1.0
        };
        meant * left * (1.0 + self.errors.thickness * standard_normal(chance))
    }
}

/// Shares as an eye puts them out.
fn put_out_by_eye(paints: &[(HiddenPaint, f64)], chance: &mut ChaCha8Rng) -> Vec<f64> {
    let amounts: Vec<f64> =
        paints.iter().map(|(_, parts)| parts * (BY_EYE * standard_normal(chance)).exp()).collect();
    let total: f64 = amounts.iter().sum();
    amounts.iter().map(|amount| amount / total).collect()
}

fn absorb_and_scatter(paints: &[(HiddenPaint, f64)], shares: &[f64], band: usize) -> (f64, f64) {
    let sum = |of: &dyn Fn(&HiddenPaint) -> f64| -> f64 {
        paints.iter().zip(shares).map(|((paint, _), share)| share * of(paint)).sum()
    };
    let (k, s) = (sum(&|paint| paint.k(band)), sum(&|paint| paint.s(band)));
    // Full white has S 15 or so at 550 nm: that is where crowding is full.
    (k, s * (1.0 - CROWDING * (s / 15.0).min(1.2)))
}

/// Measured reflectance of the sheet, the white and the black of an opacity card.
fn backing_reflectance(backing: Backing) -> Reflectance {
    Reflectance::from_fn(|band| {
        let nm = f64::from(wavelength(band));
        let dip = |level: f64, depth: f64| level - depth * (-(nm - 380.0) / 40.0).exp();
        match backing {
            Backing::Paper => dip(0.88, 0.22),
            Backing::White => dip(0.84, 0.30),
            Backing::Black => 0.045 + 0.002 * (band as f64 / BANDS as f64),
        }
    })
}

pub(super) fn standard_normal(chance: &mut ChaCha8Rng) -> f64 {
    // A standard normal has valid parameters by definition.
    Normal::new(0.0, 1.0).map_or(0.0, |normal| normal.sample(chance))
}
