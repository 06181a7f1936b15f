//! K and S of the three tristimulus channels: what can be had without a spectrum.
//!
//! Each tristimulus value over the white's is taken as a reflectance, as in the tristimulus form of
//! tinting strength. A tint tells K, the tube's strength in that channel; the mass tone then tells
//! S = K/(K/S). Ours; rough, but it knows which of two tubes swamps the other.

use colour::{Conditions, Lab, Xyz};
use mixing::{Constants, InternalReflectance, KsRatio, Surface};

/// Absorption and scattering in the X, Y and Z channels, in the unit of the white's S.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Channels {
    /// Absorption of the neat paint, 0 or more.
    pub k: [f64; 3],
    /// Scattering of the neat paint, above 0.
    pub s: [f64; 3],
}

/// Least S, in the white's.
const LEAST_S: f64 = 0.001;

impl Channels {
    /// From the colours of the white, of the mass tone and of tints with so many parts of white
    /// (above 0). `None` without a tint.
    #[must_use]
    pub fn learn(
        white: Lab,
        mass_tone: Lab,
        tints: &[(f64, Lab)],
        surface: Option<Surface>,
        conditions: Conditions,
    ) -> Option<Self> {
        let (of_white, of_mass_tone) =
            (ratios(white, surface, conditions), ratios(mass_tone, surface, conditions));
        let of_tints: Vec<(f64, [f64; 3])> =
            tints.iter().map(|(parts, lab)| (*parts, ratios(*lab, surface, conditions))).collect();
        if of_tints.is_empty() {
            return None;
        }
        let mut found = Self { k: [0.0; 3], s: [LEAST_S; 3] };
        for channel in 0..3 {
            let neat = of_mass_tone[channel];
            // c·K + w·KW = q·(c·S + w) with K = neat·S: each tint gives K on its own.
            let mut of_each: Vec<f64> = of_tints
                .iter()
                .filter(|(_, q)| neat > 0.0 && q[channel] < 0.9 * neat)
                .map(|(white_parts, q)| {
                    let above_white = (q[channel] - of_white[channel]).max(0.0);
                    white_parts * above_white / (1.0 - q[channel] / neat)
                })
                .collect();
            of_each.sort_by(f64::total_cmp);
            let k = of_each.get(of_each.len() / 2).copied().unwrap_or_default();
            found.k[channel] = k;
            found.s[channel] = if neat > 0.0 { (k / neat).max(LEAST_S) } else { LEAST_S };
        }
        Some(found)
    }

    /// The white itself, the unit of S.
    #[must_use]
    pub fn of_white(white: Lab, surface: Option<Surface>, conditions: Conditions) -> Self {
        Self { k: ratios(white, surface, conditions), s: [1.0; 3] }
    }

    /// K and S in 36 bands brought down to the three channels: mean S, and the K that gives the
    /// channel's own reflectance with it.
    #[must_use]
    pub fn of_constants(constants: &Constants, conditions: Conditions) -> Self {
        let neat = InternalReflectance::from_fn(|band| {
            KsRatio(constants.k[band] / constants.s[band]).hiding_reflectance()
        });
        let q =
            ratios(Lab::from_reflectance(&neat.to_measured(None), conditions), None, conditions);
        let s = constants.s.iter().sum::<f64>() / constants.s.len() as f64;
        Self { k: q.map(|q| q * s), s: [s; 3] }
    }

    /// K and S add by share; `None` for an empty list.
    #[must_use]
    pub fn mixed(parts: &[(f64, Self)]) -> Option<Self> {
        let sum = |of: &dyn Fn(&Self) -> f64| {
            parts.iter().map(|(share, channels)| share * of(channels)).sum::<f64>()
        };
        (!parts.is_empty()).then(|| Self {
            k: std::array::from_fn(|channel| sum(&|it| it.k[channel])),
            s: std::array::from_fn(|channel| sum(&|it| it.s[channel])),
        })
    }

    /// The colour of a hiding film.
    #[must_use]
    pub fn colour(&self, surface: Option<Surface>, conditions: Conditions) -> Lab {
        let white = Xyz::white(conditions);
        let factor = |channel: usize| {
            let internal = KsRatio(self.k[channel] / self.s[channel]).hiding_reflectance();
            surface.map_or(internal, |surface| surface.apply(internal))
        };
        let xyz = Xyz { x: factor(0) * white.x, y: factor(1) * white.y, z: factor(2) * white.z };
        Lab::from_xyz(xyz, conditions)
    }
}

/// K/S of the three tristimulus values over the white's.
fn ratios(lab: Lab, surface: Option<Surface>, conditions: Conditions) -> [f64; 3] {
    let (xyz, white) = (lab.to_xyz(conditions), Xyz::white(conditions));
    [xyz.x / white.x, xyz.y / white.y, xyz.z / white.z].map(|measured| {
        let internal = surface.map_or(measured, |surface| surface.correct(measured));
        KsRatio::of_hiding_film(internal.clamp(0.002, 0.9999)).map_or(0.0, |ratio| ratio.0)
    })
}
