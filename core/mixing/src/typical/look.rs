//! A typical paint as somebody saw it: two colours chosen on a screen, or taken from a photo of a dab, move its load, its
//! scattering and its hue; of a tube of several pigments they also tell how much of each there may be. Still typical (ours).

use colour::{Conditions, Hue, Lab, ciede2000_terms, signed_shift};
use levenberg_marquardt::{LeastSquaresProblem, LevenbergMarquardt};
use nalgebra::storage::Owned;
use nalgebra::{DMatrix, DVector, Dyn};

use super::{HUE_SIGMA, LOAD_SIGMA};
use crate::{Constants, InternalReflectance, Light, predict};

/// What a tube looks like, in the light of [`Look::light`].
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Look {
    /// Thick.
    pub mass_tone: Option<Lab>,
    /// One part with four of white.
    pub tint: Option<Lab>,
}

impl Look {
    /// Parts of white in [`Self::tint`].
    pub const WHITE_PARTS: f64 = 4.0;

    /// How bad a chosen colour is, one σ, ΔE00.
    pub const CHOICE_SIGMA: f64 = 2.5;
    /// By how much a screen shows all colours wrong alike, one σ, ΔE00.
    pub const SCREEN_SIGMA: f64 = 1.9;

    /// What a paint with so many parts of white looks like in a full film on paper.
    #[must_use]
    pub fn colour(paint: &Constants, (white, white_parts): (&Constants, f64), light: Light) -> Lab {
        let share = 1.0 / (1.0 + white_parts);
        let paper = InternalReflectance::from_fn(|_| PAPER);
        let seen = predict(&[(share, paint), (1.0 - share, white)], Some(&paper));
        Lab::from_reflectance(&seen.to_measured(light.surface), light.conditions)
    }

    fn colours(self) -> impl Iterator<Item = (f64, Lab)> {
        let tint = self.tint.map(|lab| (Self::WHITE_PARTS, lab));
        self.mass_tone.map(|lab| (0.0, lab)).into_iter().chain(tint)
    }
}

/// One standard deviation of ln of its scattering beside the typical paint's.
const SCATTER_SIGMA: f64 = 0.3;
/// Its absorption beside its own largest one, to a power of which ln has this σ: how clean it is (ours).
const CLEAN_SIGMA: f64 = 0.3;
/// A pigment further down the label has so much of the one before it; one standard deviation of ln of that is 1.
const NEXT_ON_LABEL: f64 = 0.6;
/// A word for a hue stands for its angle within this, one σ, degrees.
const WORD_SIGMA: f64 = 15.0;
/// 8° of hue are never taken for less or for more than this, nm.
const NM_OF_HUE: (f64, f64) = (2.0, 12.0);
/// Paper below its surface, as most of it is.
const PAPER: f64 = 0.9;
/// For derivatives.
const SMALL: f64 = 1e-3;

/// Words of a tube's name that tell the hue of its tint, degrees of CIELAB under D65 (from memory): the first that fits.
pub const HUE_WORDS: [(&str, f64); 17] = [
    ("turquoise", 200.0),
    ("aqua", 200.0),
    ("teal", 200.0),
    ("yellow green", 115.0),
    ("green gold", 98.0),
    ("olive", 108.0),
    ("sap", 120.0),
    ("leaf", 125.0),
    ("lime", 112.0),
    ("gold", 80.0),
    ("brick", 40.0),
    ("orange", 58.0),
    ("violet", 315.0),
    ("purple", 325.0),
    ("pink", 5.0),
    ("green", 150.0),
    ("blue", 260.0),
];

/// The hue that a tube's name tells, degrees.
#[must_use]
pub fn hue_of_name(name: &str) -> Option<f64> {
    let lower = name.to_lowercase();
    let words: Vec<&str> = lower.split(|it: char| !it.is_alphabetic()).collect();
    let says = |wanted: &str| {
        let wanted: Vec<&str> = wanted.split(' ').collect();
        words.windows(wanted.len()).any(|it| it == wanted)
    };
    HUE_WORDS.iter().find(|(word, _)| says(word)).map(|(_, hue)| *hue)
}

/// K and S of a tube that declares `pigments`, in the order of its label, as `look` and the words of its name have them.
/// With no look and one pigment it is the typical paint. `None` where there is no pigment.
///
/// The most likely ln load (σ 0.45), ln scattering (0.3), shift (8°), cleanness (0.3), shares and offset of the screen, from
/// four starts. Within ΔE00 2.4 to 3.7 of simulated paints in the median, 4.7 to 6.9 at the 95th percentile (docs/science.md).
#[must_use]
pub fn seen_as(
    pigments: &[Constants],
    name: &str,
    white: &Constants,
    look: Look,
    light: Light,
) -> Option<Constants> {
    let name_hue = hue_of_name(name).filter(|_| pigments.len() > 1);
    let usual: Vec<f64> =
        (0..pigments.len()).map(|place| place as f64 * NEXT_ON_LABEL.ln()).collect();
    let first =
        Fit { pigments, white, look, light, name_hue, usual, nm: 4.0, at: DVector::zeros(0) };
    if name_hue.is_none() && look.colours().next().is_none() {
        return first.paint(&DVector::zeros(first.unknowns()));
    }
    let nm = nm_of_hue(&first.paint(&DVector::zeros(first.unknowns()))?, white);
    let fit = |start: DVector<f64>| {
        let fit = Fit { nm, at: start, usual: first.usual.clone(), ..first };
        let (found, report) = LevenbergMarquardt::new().with_patience(40).minimize(fit);
        let miss = report.objective_function;
        miss.is_finite().then_some((miss, found))
    };
    let found = first.starts().into_iter().filter_map(fit);
    let (_, best) = found.min_by(|one, other| one.0.total_cmp(&other.0))?;
    best.paint(&best.at)
}

/// How many nm turn the tint of a paint by 8° of hue.
pub(super) fn nm_of_hue(paint: &Constants, white: &Constants) -> f64 {
    let light = Light { conditions: Conditions::D65_10, surface: None };
    let hue = |nm| Look::colour(&paint.shifted(nm), (white, Look::WHITE_PARTS), light).hue();
    let turned = hue(-5.0).zip(hue(5.0)).map_or(0.0, |(from, to)| signed_shift(from, to));
    (HUE_SIGMA / (turned / 10.0).abs().max(1e-6)).clamp(NM_OF_HUE.0, NM_OF_HUE.1)
}

/// The search. Unknowns in units of their own σ: load, scattering, shift, lightness, chroma and hue of the screen, cleanness,
/// then ln of each share beside the usual one.
struct Fit<'a> {
    pigments: &'a [Constants],
    white: &'a Constants,
    look: Look,
    light: Light,
    name_hue: Option<f64>,
    /// ln of the share that the label's order tells.
    usual: Vec<f64>,
    /// What 8° of hue are, nm.
    nm: f64,
    at: DVector<f64>,
}

/// Unknowns before the shares.
const SHARES: usize = 7;

impl Fit<'_> {
    fn unknowns(&self) -> usize {
        SHARES + if self.pigments.len() > 1 { self.pigments.len() } else { 0 }
    }

    /// The label's order, all alike, and mostly the first or the last.
    fn starts(&self) -> Vec<DVector<f64>> {
        let order = DVector::zeros(self.unknowns());
        if self.pigments.len() < 2 {
            return vec![order];
        }
        let last = self.pigments.len() - 1;
        let with = |share: &dyn Fn(usize) -> f64| {
            let mut start = order.clone();
            (0..=last).for_each(|place| start[SHARES + place] = share(place));
            start
        };
        vec![
            order.clone(),
            with(&|place| -self.usual[place]),
            with(&|place| if place == 0 { 1.5 } else { -0.5 }),
            with(&|place| if place == last { 1.5 } else { -0.5 }),
        ]
    }

    /// Without the offset of the screen.
    fn paint(&self, at: &DVector<f64>) -> Option<Constants> {
        let share = |place: usize| match self.pigments.len() {
            1 => 1.0,
            _ => (self.usual[place] + at[SHARES + place]).exp(),
        };
        let parts: Vec<(f64, &Constants)> =
            self.pigments.iter().enumerate().map(|(place, it)| (share(place), it)).collect();
        let mixed = Constants::mixed(&parts)?;
        let load = (LOAD_SIGMA * at[0].clamp(-4.0, 4.0)).exp();
        let scatter = (SCATTER_SIGMA * at[1].clamp(-4.0, 4.0)).exp();
        let moved = mixed.shifted(self.nm * at[2].clamp(-4.0, 4.0)).with_load(load);
        let clean = (CLEAN_SIGMA * at[6].clamp(-4.0, 4.0)).exp();
        let most = moved.k.iter().copied().fold(1e-9, f64::max);
        let k = moved.k.map(|k| most * (k / most).max(1e-9).powf(clean));
        Some(Constants { k, s: moved.s.map(|s| s * scatter), ..moved })
    }

    fn colour(&self, paint: &Constants, white_parts: f64) -> Lab {
        Look::colour(paint, (self.white, white_parts), self.light)
    }

    fn off(&self, at: &DVector<f64>) -> Option<DVector<f64>> {
        let paint = self.paint(at)?;
        let mut rows: Vec<f64> = at.iter().copied().collect();
        for (white_parts, seen) in self.look.colours() {
            let lab = self.colour(&paint, white_parts);
            // The screen's offset in steps that look alike: each axis by what ΔE00 makes of it there. What is off by σ in
            // all is off by σ/√3 along each of three axes.
            let terms = ciede2000_terms(lab, seen).map(|it| it * 3_f64.sqrt());
            rows.extend((0..3).map(|axis| {
                (terms[axis] + Look::SCREEN_SIGMA * at[3 + axis]) / Look::CHOICE_SIGMA
            }));
        }
        if let Some(wanted) = self.name_hue {
            let tint = self.colour(&paint, Look::WHITE_PARTS);
            let turned = tint.hue().map_or(0.0, |hue| signed_shift(Hue::from_degrees(wanted), hue));
            rows.push(turned / WORD_SIGMA);
        }
        Some(DVector::from_vec(rows))
    }
}

impl LeastSquaresProblem<f64, Dyn, Dyn> for Fit<'_> {
    type ParameterStorage = Owned<f64, Dyn>;
    type ResidualStorage = Owned<f64, Dyn>;
    type JacobianStorage = Owned<f64, Dyn, Dyn>;

    fn set_params(&mut self, parameters: &DVector<f64>) {
        self.at.copy_from(parameters);
    }

    fn params(&self) -> DVector<f64> {
        self.at.clone()
    }

    fn residuals(&self) -> Option<DVector<f64>> {
        self.off(&self.at)
    }

    fn jacobian(&self) -> Option<DMatrix<f64>> {
        let columns: Option<Vec<DVector<f64>>> = (0..self.at.len())
            .map(|which| {
                let moved = |by: f64| {
                    let mut at = self.at.clone();
                    at[which] += by;
                    self.off(&at)
                };
                Some((moved(SMALL)? - moved(-SMALL)?) / (2.0 * SMALL))
            })
            .collect();
        Some(DMatrix::from_columns(&columns?))
    }
}
