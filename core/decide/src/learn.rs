//! What mixtures that were read teach of the K and S of their tubes.
//!
//! Per band K and S of all tubes move together, by damped least squares (ours): the film of each mixture is to reflect
//! what was read of it, and what a tube's own mass tone and tints reflect holds it where it was fitted. Only mixtures
//! of read tubes in a known ratio teach; one that is far from all that is known teaches little.

use std::collections::BTreeMap;

use colour::{BANDS, Lab, Reflectance, ciede2000};
use mixing::{Film, InternalReflectance, KsRatio};
use nalgebra::{DMatrix, DVector};
use study::{Averages, RatioError, TubeRef};

use crate::paints::{Paints, Shares, Widths};

/// What the fit of a tube leaves open in what it reflects, one σ of a factor.
const OWN: f64 = 0.003;
/// What a mixture's reading is off, weighing and streaks included, one σ of a factor.
const MIXED: f64 = 0.006;
/// A mixture that is off by this, root mean square of a factor, teaches half.
const DOUBTED: f64 = 0.03;
/// K and S move by about this share of themselves, one σ.
const MOVES: f64 = 0.15;
/// Parts of white of the tints that hold a tube where it was fitted.
const TINTS: [f64; 4] = [0.0, 1.0, 4.0, 16.0];
/// Times that the films are taken as straight lines in K and S.
const STEPS: usize = 3;
/// The least S, in the white's.
const LEAST_S: f64 = 0.001;
/// A page waits for them: no more mixtures teach.
const MOST_LESSONS: usize = 500;
/// Mixtures are left out of their own prediction in so many rounds, those of the same tubes together.
const ROUNDS: usize = 5;

/// A dry mixture over paper, as a meter read it.
#[derive(Debug, Clone)]
pub struct ReadMixture {
    /// What it is made of.
    pub shares: Shares,
    /// Its colour.
    pub lab: Lab,
    /// Its spectrum, where it was read as one.
    pub read: Option<Reflectance>,
    /// Its ratio is known: it was not put out by eye.
    pub is_weighed: bool,
}

/// Every dry mixture over paper that a meter read, of tubes that have a place.
pub fn read_mixtures<'a>(
    white: Option<TubeRef>,
    averages: &'a Averages,
    place: &'a dyn Fn(TubeRef) -> Option<usize>,
) -> impl Iterator<Item = ReadMixture> + 'a {
    averages.dry_on_paper().filter(|it| it.colour.in_pictures.is_none()).filter_map(move |it| {
        let colours = it.mixture.colours(white);
        let tubes: Option<Vec<(usize, f64)>> =
            colours.map(|part| Some((place(part.tube)?, part.parts))).collect();
        let white = white.map_or(0.0, |white| it.mixture.parts_of(white));
        let tubes = tubes.filter(|tubes| !tubes.is_empty())?;
        Some(ReadMixture {
            shares: Shares::of(&tubes, white),
            lab: it.colour.lab,
            read: it.colour.reflectance,
            is_weighed: matches!(it.ratio_error, RatioError::AsStated | RatioError::Known(_)),
        })
    })
}

impl Paints {
    /// Takes what was read of mixtures: K and S of the tubes, and how far predictions of mixtures are off that taught
    /// nothing of themselves. How many mixtures taught.
    pub fn learn(&mut self, read: &[ReadMixture]) -> usize {
        let is_mixed = |it: &&ReadMixture| it.is_weighed && it.shares.tubes.len() > 1;
        let mixed: Vec<&ReadMixture> = read.iter().filter(is_mixed).collect();
        let mut by_tubes: BTreeMap<Vec<usize>, Vec<&ReadMixture>> = BTreeMap::new();
        // Of too many every second, third or later one counts.
        for mixture in mixed.iter().step_by(mixed.len().div_ceil(MOST_LESSONS).max(1)) {
            let tubes = mixture.shares.tubes.iter().map(|it| it.0).collect();
            by_tubes.entry(tubes).or_default().push(mixture);
        }
        let mut off = Vec::new();
        for round in 0..ROUNDS {
            let own = |at: usize| at % ROUNDS == round;
            let others = by_tubes.values().enumerate().filter(|(at, _)| !own(*at));
            let taught = self.taught_by(&others.flat_map(|it| it.1).copied().collect::<Vec<_>>());
            let left_out = by_tubes.values().enumerate().filter(|(at, _)| own(*at));
            off.extend(left_out.flat_map(|it| it.1).filter_map(|mixture| {
                let told = taught.0.colour(&mixture.shares)?;
                Some((mixture.shares.white, ciede2000(told, mixture.lab).value()))
            }));
        }
        let (mut taught, count) =
            self.taught_by(&by_tubes.into_values().flatten().collect::<Vec<_>>());
        taught.widths = Widths::of(off);
        *self = taught;
        count
    }

    /// With K and S of its tubes as these mixtures tell them, and how many did.
    fn taught_by(&self, read: &[&ReadMixture]) -> (Self, usize) {
        let lessons: Vec<Lesson> = read.iter().filter_map(|it| Lesson::of(it, self)).collect();
        let mut tubes: Vec<usize> =
            lessons.iter().flat_map(|it| it.parts.iter().map(|part| part.0)).collect();
        tubes.sort_unstable();
        tubes.dedup();
        let mut taught = self.clone();
        if !tubes.is_empty() {
            for band in 0..BANDS {
                Band { paints: self, tubes: &tubes, lessons: &lessons, band }.teach(&mut taught);
            }
        }
        (taught, lessons.len())
    }
}

/// A mixture's film.
struct Lesson {
    /// Place and share of each tube.
    parts: Vec<(usize, f64)>,
    white: f64,
    /// Of its film in the white's unit; `None` where it hides.
    thickness: Option<f64>,
    /// What it reflects, its surface off.
    inside: [f64; BANDS],
    /// How far it is believed, 0 to 1.
    weight: f64,
}

impl Lesson {
    fn of(mixture: &ReadMixture, paints: &Paints) -> Option<Self> {
        let is_read = |(place, _): &(usize, f64)| paints.tubes[*place].load_sigma.is_none();
        let read = mixture.read.as_ref().filter(|_| mixture.shares.tubes.iter().all(is_read))?;
        let told = paints.blend(&mixture.shares)?;
        let inside = InternalReflectance::from_measured(read, paints.surface);
        let pairs = inside.bands().iter().zip(paints.inside(&told).bands().to_owned());
        let off = pairs.map(|(read, told)| (read - told).powi(2)).sum::<f64>() / BANDS as f64;
        Some(Self {
            parts: mixture.shares.tubes.clone(),
            white: mixture.shares.white,
            thickness: told.thickness,
            inside: *inside.bands(),
            weight: 1.0 / (1.0 + off / DOUBTED.powi(2)),
        })
    }
}

/// One band of some tubes.
struct Band<'a> {
    paints: &'a Paints,
    tubes: &'a [usize],
    lessons: &'a [Lesson],
    band: usize,
}

impl Band<'_> {
    /// K and S of each tube, one after the other.
    fn fitted(&self) -> DVector<f64> {
        let constants = |place: &usize| &self.paints.tubes[*place].constants;
        let both = |place| [constants(place).k[self.band], constants(place).s[self.band]];
        DVector::from_iterator(2 * self.tubes.len(), self.tubes.iter().flat_map(both))
    }

    fn teach(&self, taught: &mut Paints) {
        let fitted = self.fitted();
        let held = self.held(&fitted);
        let mut now = fitted.clone();
        for _ in 0..STEPS {
            let mut normal = held.clone();
            let mut right = DVector::zeros(now.len());
            for lesson in self.lessons {
                let (told, slopes) = self.film(lesson, &now);
                let weight = lesson.weight / MIXED.powi(2);
                let moved: f64 =
                    slopes.iter().map(|(at, slope)| slope * (now[*at] - fitted[*at])).sum();
                let off = lesson.inside[self.band] - told + moved;
                for (at, slope) in &slopes {
                    right[*at] += weight * slope * off;
                    for (other, slope_of_other) in &slopes {
                        normal[(*at, *other)] += weight * slope * slope_of_other;
                    }
                }
            }
            let Some(solved) = normal.cholesky() else { return };
            now = &fitted + solved.solve(&right);
            for place in 0..self.tubes.len() {
                now[2 * place] = now[2 * place].max(0.0);
                now[2 * place + 1] = now[2 * place + 1].max(LEAST_S);
            }
        }
        for (at, tube) in self.tubes.iter().enumerate() {
            let constants = &mut taught.tubes[*tube].constants;
            constants.k[self.band] = now[2 * at];
            constants.s[self.band] = now[2 * at + 1];
        }
    }

    /// What holds each tube where it was fitted: its mass tone and its tints.
    fn held(&self, fitted: &DVector<f64>) -> DMatrix<f64> {
        let mut held = DMatrix::zeros(fitted.len(), fitted.len());
        for (at, tube) in self.tubes.iter().enumerate() {
            for white in TINTS.iter().filter(|white| **white <= 0.0 || self.paints.white.is_some())
            {
                let shares = Shares::of(&[(*tube, 1.0)], *white);
                let thickness = self.paints.blend(&shares).and_then(|it| it.thickness);
                let own = Lesson {
                    parts: shares.tubes,
                    white: shares.white,
                    thickness,
                    inside: [0.0; BANDS],
                    weight: 1.0,
                };
                let (_, slopes) = self.film(&own, fitted);
                for (one, slope) in &slopes {
                    for (other, slope_of_other) in &slopes {
                        held[(*one, *other)] += slope * slope_of_other / OWN.powi(2);
                    }
                }
            }
            for place in [2 * at, 2 * at + 1] {
                held[(place, place)] += (MOVES * fitted[place].max(LEAST_S)).powi(-2);
            }
        }
        held
    }

    /// What a film reflects, and how that changes with K and S of each of its tubes.
    fn film(&self, lesson: &Lesson, now: &DVector<f64>) -> (f64, Vec<(usize, f64)>) {
        let white =
            self.paints.white.as_ref().map_or((0.0, 0.0), |it| (it.k[self.band], it.s[self.band]));
        let (mut k, mut s) = (lesson.white * white.0, lesson.white * white.1);
        let places = lesson.parts.iter().filter_map(|(tube, share)| {
            Some((self.tubes.iter().position(|it| it == tube)?, *share))
        });
        let places: Vec<(usize, f64)> = places.collect();
        for (at, share) in &places {
            k += share * now[2 * at];
            s += share * now[2 * at + 1];
        }
        let paper = self.paints.paper.map(|it| it.bands()[self.band]);
        let reflected = |k: f64, s: f64| match lesson.thickness.zip(paper) {
            Some((thickness, paper)) => {
                Film { absorption: k * thickness, scattering: s * thickness }
                    .reflectance_over(paper)
            }
            None => KsRatio(k / s).hiding_reflectance(),
        };
        let told = reflected(k, s);
        let (by_k, by_s) = (1e-4 * k + 1e-6, 1e-4 * s + 1e-7);
        let slopes =
            [(reflected(k + by_k, s) - told) / by_k, (reflected(k, s + by_s) - told) / by_s];
        let of_each = places
            .iter()
            .flat_map(|(at, share)| [(2 * at, share * slopes[0]), (2 * at + 1, share * slopes[1])]);
        (told, of_each.collect())
    }
}
