//! Two trials with different whites, joined by tubes that both read.

use std::borrow::Cow;

use colour::{BANDS, Lab, wavelength};
use mixing::Constants;
use study::TubeRef;

use crate::cells::{Cell, Recipe, cells};
use crate::told::{Subject, Told};

/// Where the ratio of two whites has no slope, nm.
const MIDDLE: f64 = 550.0;
/// Ratios that the search starts from, as ln.
const STARTS: [f64; 7] = [-1.5, -1.0, -0.5, 0.0, 0.5, 1.0, 1.5];
/// Steps of Gauss and Newton.
const STEPS: usize = 8;
const NUDGE: f64 = 1e-4;

/// What a bridge leaves of a strength (95 %, a share), and of a tint that was brought over, ΔE00: with one tube, and
/// with more (found by simulation).
const USE: [f64; 2] = [0.08, 0.05];
const TINT: [f64; 2] = [1.6, 1.1];

/// S of the second trial's white over that of the first's: ln g = α + β·ln(λ/550 nm).
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Bridge {
    ratio: [f64; BANDS],
    /// The tubes that it rests on.
    pub tubes: Vec<String>,
}

impl Bridge {
    /// By all tubes but the compared ones that both trials read, each with its own white; `None` where there is none.
    pub fn between(one: &Told<'_>, other: &Told<'_>, tubes: [TubeRef; 2]) -> Option<Self> {
        let white = other.constants(other.study.white?)?;
        let compared = [one.study.label(tubes[0]), other.study.label(tubes[1])];
        let (mut names, mut tints) = (Vec::new(), Vec::new());
        for tube in (0..one.study.tubes.len()).map(TubeRef) {
            let label = one.study.label(tube);
            if Some(tube) == one.study.white || compared.contains(&label) {
                continue;
            }
            let place = other.study.tubes.iter().position(|it| *it == label).map(TubeRef);
            let (Some(constants), Some(place)) = (one.constants(tube), place) else { continue };
            let subject = Subject { told: *other, tube: place };
            let read = cells(&subject, one.frame());
            let read = read.into_iter().filter(|it| it.partners.is_empty() && it.white > 0.0);
            let before = tints.len();
            tints.extend(read.filter_map(|cell| Tint::of(&cell, constants, white)));
            if tints.len() > before {
                names.push(label.name);
            }
        }
        (!tints.is_empty()).then(|| Self { ratio: ratio(best(&tints)), tubes: names })
    }

    /// Constants in the unit of the second trial's white, in that of the first's.
    pub fn in_the_first(&self, constants: &Constants) -> Constants {
        let scaled = |values: &[f64; BANDS]| std::array::from_fn(|at| values[at] * self.ratio[at]);
        Constants { k: scaled(&constants.k), s: scaled(&constants.s), ..constants.clone() }
    }

    pub fn use_half_width(&self) -> f64 {
        USE[usize::from(self.tubes.len() > 1)]
    }

    pub fn tint_half_width(&self) -> f64 {
        TINT[usize::from(self.tubes.len() > 1)]
    }
}

fn ratio([alpha, beta]: [f64; 2]) -> [f64; BANDS] {
    std::array::from_fn(|band| (alpha + beta * (f64::from(wavelength(band)) / MIDDLE).ln()).exp())
}

/// A bridge's tint with the second white: as it was read, and all that predicts it.
struct Tint<'a> {
    read: Lab,
    recipe: Recipe<'a>,
}

impl<'a> Tint<'a> {
    /// `constants` are the tube's in the first trial, in the unit of that trial's white.
    fn of(cell: &Cell<'a>, constants: &'a Constants, white: &'a Constants) -> Option<Self> {
        let own = cell.recipe.as_ref()?;
        let others = vec![(cell.white, Cow::Borrowed(white))];
        let tube = Cow::Borrowed(constants);
        Some(Self { read: cell.lab, recipe: Recipe { tube, others, ..own.clone() } })
    }

    /// Read less predicted, per axis, where the second white's S is `ratio` times that of the first.
    fn off(&self, ratio: &[f64; BANDS]) -> [f64; 3] {
        let lowered = |values: &[f64; BANDS]| std::array::from_fn(|at| values[at] / ratio[at]);
        let own = self.recipe.tube.as_ref();
        let tube = Constants { k: lowered(&own.k), s: lowered(&own.s), ..own.clone() };
        let recipe = Recipe { tube: Cow::Owned(tube), ..self.recipe.clone() };
        let (read, told) = (self.read.axes(), recipe.colour(1.0).axes());
        [0, 1, 2].map(|axis| read[axis] - told[axis])
    }
}

fn off(tints: &[Tint<'_>], place: [f64; 2]) -> Vec<f64> {
    let ratio = ratio(place);
    tints.iter().flat_map(|tint| tint.off(&ratio)).collect()
}

fn squares(off: &[f64]) -> f64 {
    off.iter().map(|it| it * it).sum()
}

/// α and β of the least squares (Gauss and Newton).
fn best(tints: &[Tint<'_>]) -> [f64; 2] {
    let cost = |place: [f64; 2]| squares(&off(tints, place));
    let starts = STARTS.map(|alpha| [alpha, 0.0]);
    let mut place =
        starts.into_iter().min_by(|a, b| cost(*a).total_cmp(&cost(*b))).unwrap_or_default();
    for _ in 0..STEPS {
        let now = off(tints, place);
        let slope = |nudged: [f64; 2]| -> Vec<f64> {
            off(tints, nudged).iter().zip(&now).map(|(then, now)| (then - now) / NUDGE).collect()
        };
        let (u, v) = (slope([place[0] + NUDGE, place[1]]), slope([place[0], place[1] + NUDGE]));
        let dot = |a: &[f64], b: &[f64]| a.iter().zip(b).map(|(a, b)| a * b).sum::<f64>();
        let (uu, uv, vv) = (dot(&u, &u), dot(&u, &v), dot(&v, &v));
        let (ur, vr, whole) = (dot(&u, &now), dot(&v, &now), uu * vv - uv * uv);
        if whole <= f64::EPSILON * uu * vv {
            break;
        }
        let next = [place[0] - (vv * ur - uv * vr) / whole, place[1] - (uu * vr - uv * ur) / whole];
        if cost(next) >= squares(&now) {
            break;
        }
        place = next;
    }
    place
}
