//! A tube's own K and S from its mass tone and its tints, the white's S as unit.
//!
//! Per band the two constants minimise Σ ρ²·[c·K − q·c·S − w·(q − qW)]² over the readings, K ≥ 0 and
//! S ≥ 0.001; c and w are the weight shares of tube and white, q the measured K/S, qW the white's,
//! and ρ = R^(−2/3)·2R²/(1 − R²) turns an error in q into one that the eye sees: 2R²/(1 − R²) makes it one
//! in R, and lightness follows R^(1/3). Duncan (1940) for the sum, this weighting is ours.
//!
//! Where a tube absorbs about as little as the white, its tints look like the white whatever its S:
//! S is then told by its neighbours, since scattering changes slowly along the spectrum (ours).

use colour::{BANDS, wavelength};

use crate::{Film, InternalReflectance, KsRatio};

/// Over black and over white a hiding film differs by less than this (internal reflectance).
const HIDING: f64 = 0.01;
/// Least S, in the white's.
const LEAST_S: f64 = 0.001;
/// Reflectances are held within these, so that the weights stay finite.
const WITHIN: (f64, f64) = (0.001, 0.9999);

/// One paint as it was drawn down over both fields of an opacity card.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Drawdown {
    /// The film over black.
    pub over_black: InternalReflectance,
    /// The film over white.
    pub over_white: InternalReflectance,
    /// The black field itself.
    pub black: InternalReflectance,
    /// The white field itself.
    pub white: InternalReflectance,
}

/// K/S of a drawdown in one band, and its S times thickness where the backing shows.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(crate) struct BandFilm {
    pub ratio: f64,
    /// `None` where the film hides: any thickness would look the same.
    pub scattering: Option<f64>,
}

impl Drawdown {
    /// K/S from both films (Kubelka 1948): a·(R + Rg) + m·(R − Rg) = 1 + R·Rg for each backing is linear in a = 1 + K/S
    /// and m = b·coth(bSX). Where both films look alike that is the K/S of their reflectance, and only m is unsure. A
    /// band whose readings leave no absorption (a < 1) has none.
    pub(crate) fn band(&self, band: usize) -> Option<BandFilm> {
        let at = |reflectance: &InternalReflectance| reflectance.bands()[band];
        let (r1, r2) = (at(&self.over_black), at(&self.over_white));
        let (g1, g2) = (at(&self.black), at(&self.white));
        let at_the_floor = r1.min(r2) < InternalReflectance::SURFACE_FLOOR;
        if at_the_floor || (g2 - g1).abs() < HIDING {
            // It is all surface; or it was read over one backing alone, and is taken to hide.
            let mean = f64::midpoint(r1, r2).clamp(WITHIN.0, WITHIN.1);
            return Some(BandFilm { ratio: KsRatio::of_hiding_film(mean)?.0, scattering: None });
        }
        let determinant = (r1 + g1) * (r2 - g2) - (r2 + g2) * (r1 - g1);
        let (rhs1, rhs2) = (1.0 + r1 * g1, 1.0 + r2 * g2);
        let a = (rhs1 * (r2 - g2) - rhs2 * (r1 - g1)) / determinant;
        let m = ((r1 + g1) * rhs2 - (r2 + g2) * rhs1) / determinant;
        if !a.is_finite() || !m.is_finite() {
            return None;
        }
        let scattering = if a < 1.0 {
            // Noise: the film reflects all that it does not let through. Over black it is R = SX/(SX + 1), and what
            // the black adds.
            (r1 - g1) / ((1.0 - r1) * (1.0 - g1))
        } else {
            let b = (a * a - 1.0).sqrt();
            if b < 1e-6 { 1.0 / m } else { (b / m).atanh() / b }
        };
        let shows = (r1 - r2).abs() >= HIDING && scattering.is_finite() && scattering > 0.0;
        Some(BandFilm { ratio: (a - 1.0).max(0.0), scattering: shows.then_some(scattering) })
    }
}

/// A tint: weight shares of tube and white, which make 1, and what it reflects.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Tint {
    /// Share of the tube, above 0 and below 1.
    pub tube: f64,
    /// Internal reflectance of the film, which is taken to hide.
    pub reflectance: InternalReflectance,
}

/// A tube's constants in the unit of the white's S.
#[derive(Debug, Clone, PartialEq)]
pub struct Constants {
    /// Absorption of the neat paint per band, 0 or more.
    pub k: [f64; BANDS],
    /// Scattering of the neat paint per band, 0.001 or more.
    pub s: [f64; BANDS],
    /// Thickness of its film in the white's unit, where its backing showed somewhere.
    pub thickness: Option<f64>,
    /// Whether S could be told from the readings.
    pub kind: FitKind,
    /// Root mean square of measured less fitted internal reflectance over all tints and bands.
    pub residual: f64,
}

/// Bands lie so many nm apart.
const BAND_NM: f64 = 10.0;

impl Constants {
    /// The same paint with so many times its pigment.
    #[must_use]
    pub fn with_load(&self, load: f64) -> Self {
        Self { k: self.k.map(|k| k * load), s: self.s.map(|s| s * load), ..self.clone() }
    }

    /// The curves moved toward longer wavelengths by so many nm; the ends stay as they are.
    #[must_use]
    pub fn shifted(&self, nm: f64) -> Self {
        let moved = |curve: &[f64; BANDS]| -> [f64; BANDS] {
            std::array::from_fn(|band| {
                let place = (band as f64 - nm / BAND_NM).clamp(0.0, (BANDS - 1) as f64);
                let below = (place as usize).min(BANDS - 2);
                let part = place - below as f64;
                curve[below] + part * (curve[below + 1] - curve[below])
            })
        };
        Self { k: moved(&self.k), s: moved(&self.s), ..self.clone() }
    }

    /// K and S of a mixture as a paint of its own: both add by share (Duncan 1940), and so does the
    /// thickness of its film where it is known. Only the ratios of the parts matter; `None` where
    /// there are none.
    #[must_use]
    pub fn mixed(parts: &[(f64, &Self)]) -> Option<Self> {
        let total: f64 = parts.iter().map(|(parts, _)| parts).sum();
        let mean = |of: &dyn Fn(&Self) -> f64| {
            parts.iter().map(|(parts, constants)| parts * of(constants)).sum::<f64>() / total
        };
        (total > 0.0).then(|| Self {
            k: std::array::from_fn(|band| mean(&|it| it.k[band])),
            s: std::array::from_fn(|band| mean(&|it| it.s[band])),
            thickness: film_thickness(parts),
            kind: FitKind::TwoConstants,
            residual: parts.iter().map(|(_, it)| it.residual).fold(0.0, f64::max),
        })
    }
}

/// Thickness of a mixture's film: the mean of those that are known, by share.
fn film_thickness(parts: &[(f64, &Constants)]) -> Option<f64> {
    let known: Vec<(f64, f64)> =
        parts.iter().filter_map(|(share, of)| Some((*share, of.thickness?))).collect();
    let total: f64 = known.iter().map(|(share, _)| share).sum();
    (total > 0.0)
        .then(|| known.iter().map(|(share, thickness)| share * thickness).sum::<f64>() / total)
}

/// Root mean square of measured less fitted reflectance above which a fit is not to be trusted
/// (ours): then the paint does not mix as the model says, or its parts were not what was written.
pub const POOR_FIT: f64 = 0.03;

/// What the readings allowed.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum FitKind {
    /// K and S each: a mass tone and two tints or more.
    TwoConstants,
    /// K alone, S taken as the least: the tube is taken to add no scattering of its own. Good for
    /// tints, poor for mixtures without white.
    OneConstant,
}

/// The white, the unit of every S. A band that leaves no K has none; `None` only where no band is a number.
#[must_use]
pub fn white_constants(white: &Drawdown) -> Option<Constants> {
    let mut k = [0.0; BANDS];
    let mut thickness = Vec::new();
    let films: Vec<Option<BandFilm>> = (0..BANDS).map(|band| white.band(band)).collect();
    films.iter().flatten().next()?;
    for (k, film) in k.iter_mut().zip(films) {
        *k = film.map_or(0.0, |film| film.ratio);
        thickness.extend(film.and_then(|film| film.scattering));
    }
    Some(Constants {
        k,
        s: [1.0; BANDS],
        thickness: median(thickness),
        kind: FitKind::TwoConstants,
        residual: 0.0,
    })
}

/// Fits a tube to its tints with `white` and its own drawdown. `None` where there is nothing to fit.
#[must_use]
pub fn fit(white: &Constants, mass_tone: Option<&Drawdown>, tints: &[Tint]) -> Option<Constants> {
    let kind = if mass_tone.is_some() && tints.len() >= 2 {
        FitKind::TwoConstants
    } else {
        FitKind::OneConstant
    };
    fit_as(kind, white, mass_tone, tints)
}

/// Two constants from a mass tone and one tint or more. From one tint alone they take its whole error in parts with
/// them: they tell which spectra lie between the mass tone, the tint and the white, and not at which ratio. `None`
/// where there is no tint.
#[must_use]
pub fn fit_between(white: &Constants, mass_tone: &Drawdown, tints: &[Tint]) -> Option<Constants> {
    fit_as(FitKind::TwoConstants, white, Some(mass_tone), tints)
}

fn fit_as(
    kind: FitKind,
    white: &Constants,
    mass_tone: Option<&Drawdown>,
    tints: &[Tint],
) -> Option<Constants> {
    if tints.is_empty() {
        return None;
    }
    let films: [Option<BandFilm>; BANDS] =
        std::array::from_fn(|band| mass_tone.and_then(|drawdown| drawdown.band(band)));
    let rows: [Vec<Row>; BANDS] = std::array::from_fn(|band| {
        let tints = tints.iter().map(|tint| Row::of_tint(tint, white.k[band], band));
        tints.chain(films[band].map(|film| Row::of_mass_tone(film.ratio))).collect()
    });
    let (k, s) = match kind {
        FitKind::TwoConstants => two_constants(&rows),
        FitKind::OneConstant => {
            (std::array::from_fn(|band| solve_k(&rows[band], LEAST_S)), [LEAST_S; BANDS])
        }
    };
    let scattering = films.iter().zip(&s).filter_map(|(film, s)| Some((*film)?.scattering? / s));
    let thickness = median(scattering.collect());
    let residual = residual(white, &k, &s, tints);
    Some(Constants { k, s, thickness, kind, residual })
}

/// S of a band differs from that of its neighbours by about this share of it, one σ.
const S_CHANGES: f64 = 0.1;
/// What a fit misses a reflectance by, one σ, however good the readings are.
const R_MISSES: f64 = 0.003;
/// Neighbours count e times less every so many bands.
const NEAR: f64 = 3.0;
/// Scattering of pigments falls with wavelength to a power within these.
const FALLS: (f64, f64) = (-1.0, 3.0);

/// K and S of every band; S leans on the neighbours as far as a band's own readings leave it open.
fn two_constants(rows: &[Vec<Row>; BANDS]) -> ([f64; BANDS], [f64; BANDS]) {
    let alone: [Solved; BANDS] = std::array::from_fn(|band| solve_both(&rows[band]));
    let fall = fall(&alone);
    let s = std::array::from_fn(|band| {
        let (mut sum, mut weights) = (0.0, 0.0);
        for (at, other) in alone.iter().enumerate() {
            let near = (-(at.abs_diff(band) as f64) / NEAR).exp() * other.information;
            sum += near * other.s * (longer(at) / longer(band)).powf(fall);
            weights += near;
        }
        let (own, told) = (&alone[band], sum / weights);
        let lean = (R_MISSES / (S_CHANGES * told.max(LEAST_S))).powi(2);
        ((own.information * own.s + lean * told) / (own.information + lean)).max(LEAST_S)
    });
    (std::array::from_fn(|band| solve_k(&rows[band], s[band])), s)
}

/// A band's wavelength beside the first one's.
fn longer(band: usize) -> f64 {
    f64::from(wavelength(band)) / f64::from(wavelength(0))
}

/// Scattering falls with wavelength to this power, about: least squares of ln S over ln λ, each band by what it tells.
fn fall(alone: &[Solved; BANDS]) -> f64 {
    let points = alone.iter().enumerate().filter(|(_, band)| band.s > LEAST_S);
    let points: Vec<[f64; 3]> = points
        .map(|(at, band)| [longer(at).ln(), band.s.ln(), band.information * band.s * band.s])
        .collect();
    let sum = |of: &dyn Fn(&[f64; 3]) -> f64| points.iter().map(|it| it[2] * of(it)).sum::<f64>();
    let whole = sum(&|_| 1.0);
    let (x, y) = (sum(&|it| it[0]) / whole, sum(&|it| it[1]) / whole);
    let spread = sum(&|it| (it[0] - x).powi(2));
    let slope = sum(&|it| (it[0] - x) * (it[1] - y)) / spread;
    if slope.is_finite() { (-slope).clamp(FALLS.0, FALLS.1) } else { 0.0 }
}

/// One band by itself.
struct Solved {
    s: f64,
    /// How much the sum of squares grows with the square of an error in S, K following it.
    information: f64,
}

/// One equation: weight · (c·K − q·c·S − target) = 0.
struct Row {
    weight: f64,
    c: f64,
    q: f64,
    target: f64,
}

impl Row {
    fn of_tint(tint: &Tint, white_ratio: f64, band: usize) -> Self {
        let r = tint.reflectance.bands()[band].clamp(WITHIN.0, WITHIN.1);
        let q = (1.0 - r).powi(2) / (2.0 * r);
        let white = 1.0 - tint.tube;
        Self { weight: weight(r), c: tint.tube, q, target: white * (q - white_ratio) }
    }

    fn of_mass_tone(ratio: f64) -> Self {
        let r = KsRatio(ratio).hiding_reflectance().clamp(WITHIN.0, WITHIN.1);
        Self { weight: weight(r), c: 1.0, q: ratio, target: 0.0 }
    }
}

/// dR/dq of a hiding film is −2R²/(1 − R²), and lightness goes with R^(1/3).
fn weight(r: f64) -> f64 {
    r.powf(-2.0 / 3.0) * 2.0 * r * r / (1.0 - r * r)
}

/// Least squares in K and S, held within their bounds.
fn solve_both(rows: &[Row]) -> Solved {
    let (mut kk, mut ks, mut ss, mut kt, mut st) = (0.0, 0.0, 0.0, 0.0, 0.0);
    for row in rows {
        let (x, y) = (row.weight * row.c, -row.weight * row.q * row.c);
        let target = row.weight * row.target;
        kk += x * x;
        ks += x * y;
        ss += y * y;
        kt += x * target;
        st += y * target;
    }
    let determinant = kk * ss - ks * ks;
    let information = (determinant / kk).max(f64::MIN_POSITIVE);
    let (k, s) = ((kt * ss - st * ks) / determinant, (st * kk - kt * ks) / determinant);
    if k >= 0.0 && s >= LEAST_S {
        return Solved { s, information };
    }
    // On a bound the other constant is free; the better of the two bounds wins.
    let at_least_s = (solve_k(rows, LEAST_S), LEAST_S);
    let at_no_k = (0.0, (st / ss).max(LEAST_S));
    let (_, s) = if cost(rows, at_no_k) < cost(rows, at_least_s) { at_no_k } else { at_least_s };
    Solved { s, information }
}

fn solve_k(rows: &[Row], s: f64) -> f64 {
    let (mut above, mut below) = (0.0, 0.0);
    for row in rows {
        let w = row.weight * row.weight;
        above += w * row.c * (row.target + row.q * row.c * s);
        below += w * row.c * row.c;
    }
    (above / below).max(0.0)
}

fn cost(rows: &[Row], (k, s): (f64, f64)) -> f64 {
    let error = |row: &Row| row.weight * (row.c * k - row.q * row.c * s - row.target);
    rows.iter().map(|row| error(row).powi(2)).sum()
}

fn residual(white: &Constants, k: &[f64; BANDS], s: &[f64; BANDS], tints: &[Tint]) -> f64 {
    let mut sum = 0.0;
    for tint in tints {
        let of_white = 1.0 - tint.tube;
        for band in 0..BANDS {
            let absorbs = tint.tube * k[band] + of_white * white.k[band];
            let scatters = tint.tube * s[band] + of_white;
            let fitted = KsRatio(absorbs / scatters).hiding_reflectance();
            sum += (fitted - tint.reflectance.bands()[band]).powi(2);
        }
    }
    (sum / (tints.len() * BANDS) as f64).sqrt()
}

/// Predicts the internal reflectance of a mixture: weight shares that make 1, each with its
/// constants. With a backing, and where a thickness is known, the film is finite.
#[must_use]
pub fn predict(
    parts: &[(f64, &Constants)],
    backing: Option<&InternalReflectance>,
) -> InternalReflectance {
    let thickness = film_thickness(parts);
    InternalReflectance::from_fn(|band| {
        let (mut k, mut s) = (0.0, 0.0);
        for (share, constants) in parts {
            k += share * constants.k[band];
            s += share * constants.s[band];
        }
        match (thickness, backing) {
            (Some(thickness), Some(backing)) => {
                Film { absorption: k * thickness, scattering: s * thickness }
                    .reflectance_over(backing.bands()[band])
            }
            _ => KsRatio(k / s).hiding_reflectance(),
        }
    })
}

fn median(mut values: Vec<f64>) -> Option<f64> {
    values.retain(|value| value.is_finite() && *value > 0.0);
    values.sort_by(f64::total_cmp);
    values.get(values.len() / 2).copied()
}
