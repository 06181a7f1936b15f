//! The real ratio of a mixture, from its colour.
//!
//! Least squares over ln of the parts, each against the first: what is predicted must meet what was
//! read, band by band where there is a spectrum, else on the three axes of CIELAB. Each is weighed by
//! how well it was read and how well mixtures are predicted.

use colour::{BANDS, Lab};
use levenberg_marquardt::{LeastSquaresProblem, LevenbergMarquardt};
use nalgebra::storage::Owned;
use nalgebra::{DMatrix, DVector, Dyn};
use plan::prior::Prior;
use study::{Mixture, Part, TubeRef};

use super::seen::{ReadColour, model_miss};

/// Parts are looked for between e^−LIMIT and e^LIMIT to one, 1 : 400 either way.
const LIMIT: f64 = 6.0;
/// The search begins at so many places along each ratio.
const STARTS: usize = 9;
/// For derivatives, in ln of a ratio.
const SMALL: f64 = 1e-4;

/// What a mixture really holds.
#[derive(Debug, Clone, PartialEq)]
pub struct Estimate {
    /// Each tube with its share.
    pub parts: Vec<PartEstimate>,
    /// ΔE00 between the colour that was read and that of the estimate: large where the mixture
    /// cannot be of these tubes.
    pub off: f64,
}

/// One tube of an estimate.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PartEstimate {
    /// Which tube.
    pub tube: TubeRef,
    /// Its share of the whole, 0–1.
    pub share: f64,
    /// Half-width (95 %) of ln of its parts to one part of the first tube; 0 for the first itself.
    pub ln_half_width: f64,
}

impl Estimate {
    /// The mixture as it is estimated.
    #[must_use]
    pub fn mixture(&self) -> Mixture {
        Mixture::new(self.parts.iter().map(|it| Part { tube: it.tube, parts: it.share }))
    }
}

/// Estimates the parts of a mixture of these tubes; `None` for one tube alone, for more than four,
/// and where one of them is not known.
#[must_use]
pub fn estimate(
    prior: &Prior,
    tubes: &[TubeRef],
    white: Option<TubeRef>,
    seen: ReadColour,
) -> Option<Estimate> {
    if !(2..=4).contains(&tubes.len()) {
        return None;
    }
    let even = Mixture::new(tubes.iter().map(|tube| Part { tube: *tube, parts: 1.0 }));
    let with_white = white.is_some_and(|white| tubes.contains(&white));
    let miss = model_miss(prior, &even, with_white)?.hypot(seen.spread);
    let start = starts(tubes.len() - 1)
        .into_iter()
        .map(|ln| Problem { prior, tubes, seen, miss, ln })
        .min_by(|one, other| one.cost().total_cmp(&other.cost()))?;
    let (found, _) = LevenbergMarquardt::new().minimize(start);
    let variances = (found.jacobian()?.transpose() * found.jacobian()?).try_inverse();
    // Where the colour is missed by more than it should be, the interval grows with it.
    let told = if seen.reflectance.is_some() { INDEPENDENT } else { 3.0 };
    let strained = (2.0 * found.cost() / told).sqrt().max(1.0);
    let half_width = |at: usize| {
        let variance = variances.as_ref().map_or(f64::INFINITY, |it| it[(at, at)]);
        (colour::NORMAL_95 * strained * variance.sqrt()).max(seen.least_factor.ln()).min(LIMIT)
    };
    let mixture = found.mixture();
    let total = mixture.total();
    let part = |(at, tube): (usize, &TubeRef)| PartEstimate {
        tube: *tube,
        share: mixture.parts_of(*tube) / total,
        ln_half_width: if at == 0 { 0.0 } else { half_width(at - 1) },
    };
    let predicted = prior.colour(&mixture)?;
    Some(Estimate {
        parts: tubes.iter().enumerate().map(part).collect(),
        off: colour::ciede2000(predicted, seen.lab).value(),
    })
}

/// Places to begin at: a grid over ln of every ratio.
fn starts(dimensions: usize) -> Vec<DVector<f64>> {
    let along: Vec<f64> = (0..STARTS)
        .map(|at| LIMIT * (2.0 * at as f64 / (STARTS - 1) as f64 - 1.0) * 0.75)
        .collect();
    let mut places = vec![Vec::new()];
    for _ in 0..dimensions {
        places = places
            .into_iter()
            .flat_map(|place: Vec<f64>| {
                along.iter().map(move |ln| [place.as_slice(), &[*ln]].concat())
            })
            .collect();
    }
    places.into_iter().map(DVector::from_vec).collect()
}

/// Neighbouring bands err together: all of them tell about as much as so many (ours).
const INDEPENDENT: f64 = 5.0;

/// A band's reflectance on the scale of L*, so that dark and light count alike.
fn lightness(r: f64) -> f64 {
    116.0 * r.max(1e-4).cbrt()
}

struct Problem<'a> {
    prior: &'a Prior,
    tubes: &'a [TubeRef],
    seen: ReadColour,
    /// One σ of each axis.
    miss: f64,
    /// ln of the parts of each tube after the first to one part of the first.
    ln: DVector<f64>,
}

impl Problem<'_> {
    fn mixture(&self) -> Mixture {
        let parts = [0.0].into_iter().chain(self.ln.iter().copied());
        let part = |(tube, ln): (&TubeRef, f64)| Part {
            tube: *tube,
            parts: ln.clamp(-2.0 * LIMIT, 2.0 * LIMIT).exp(),
        };
        Mixture::new(self.tubes.iter().zip(parts).map(part))
    }

    /// Half the sum of squares.
    fn cost(&self) -> f64 {
        self.residuals().map_or(f64::INFINITY, |all| 0.5 * all.norm_squared())
    }

    fn residuals_at(&self, ln: &DVector<f64>) -> Option<DVector<f64>> {
        let there = Problem { ln: ln.clone(), ..*self };
        let spectrum = self.prior.spectrum(&there.mixture())?;
        if let Some(read) = &self.seen.reflectance {
            let bands = spectrum.bands().iter().zip(read.bands());
            let miss = self.miss * (BANDS as f64 / INDEPENDENT).sqrt();
            let rows = bands.map(|(told, read)| (lightness(*told) - lightness(*read)) / miss);
            return Some(DVector::from_iterator(BANDS, rows));
        }
        let lab = Lab::from_reflectance(&spectrum, self.prior.conditions);
        let seen = self.seen.lab;
        // Chroma counts less where it is large (the S_C of CIE94).
        let chroma = self.miss * (1.0 + 0.045 * seen.chroma());
        Some(DVector::from_vec(vec![
            (lab.l - seen.l) / self.miss,
            (lab.a - seen.a) / chroma,
            (lab.b - seen.b) / chroma,
        ]))
    }
}

impl LeastSquaresProblem<f64, Dyn, Dyn> for Problem<'_> {
    type ParameterStorage = Owned<f64, Dyn>;
    type ResidualStorage = Owned<f64, Dyn>;
    type JacobianStorage = Owned<f64, Dyn, Dyn>;

    fn set_params(&mut self, ln: &DVector<f64>) {
        self.ln.copy_from(ln);
    }

    fn params(&self) -> DVector<f64> {
        self.ln.clone()
    }

    fn residuals(&self) -> Option<DVector<f64>> {
        self.residuals_at(&self.ln)
    }

    fn jacobian(&self) -> Option<DMatrix<f64>> {
        let here = self.residuals()?;
        let mut slopes = DMatrix::zeros(here.len(), self.ln.len());
        for column in 0..self.ln.len() {
            let mut moved = self.ln.clone();
            moved[column] += SMALL;
            slopes.set_column(column, &((self.residuals_at(&moved)? - &here) / SMALL));
        }
        Some(slopes)
    }
}
