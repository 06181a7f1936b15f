//! Greys and near-blacks of two tubes or three.

use colour::Lab;

use crate::paints::{Paints, Shares};

/// Parts of white to one part of the mixture that a grey must stay grey at.
pub const GREY_TINTS: [f64; 4] = [0.0, 1.0, 4.0, 16.0];
/// Between them: no tint from mass tone to the palest may be more vivid than is said.
const BETWEEN: [f64; 5] = [0.25, 0.5, 2.0, 8.0, 12.0];
/// A mixture whose largest C* is above this does not neutralise.
pub const NEUTRALISES: f64 = 6.0;
/// The ratio is looked for between 1 : e^5 and e^5 : 1 by strength.
const WIDEST: f64 = 5.0;
const STEPS: usize = 41;

/// Two tubes, or three, at the ratio that makes their largest chroma least.
#[derive(Debug, Clone, PartialEq)]
pub struct Grey {
    /// The mixture without white.
    pub shares: Shares,
    /// The largest C* over mass tone and tints.
    pub chroma: f64,
    /// Its colour at each of [`GREY_TINTS`].
    pub colours: Vec<Lab>,
}

impl Grey {
    /// Every tint of it is near neutral.
    #[must_use]
    pub fn neutralises(&self) -> bool {
        self.chroma <= NEUTRALISES
    }

    /// Its mass tone.
    #[must_use]
    pub fn mass_tone(&self) -> Option<Lab> {
        self.colours.first().copied()
    }

    /// Parts of each tube, the smallest 1, as they are said and put out.
    #[must_use]
    pub fn parts(&self) -> Vec<f64> {
        let least = self.shares.tubes.iter().map(|it| it.1).fold(f64::INFINITY, f64::min);
        let rounded = |parts: f64| {
            if parts < 9.95 { (10.0 * parts).round() / 10.0 } else { parts.round() }
        };
        self.shares.tubes.iter().map(|it| rounded(it.1 / least)).collect()
    }

    /// The same in the parts that are said: its colours are theirs, and its chroma is the largest of all tints.
    #[must_use]
    pub fn put_out(&self, paints: &Paints) -> Option<Self> {
        let tubes = self.shares.tubes.iter().zip(self.parts());
        let parts: Vec<(usize, f64)> = tubes.map(|((at, _), parts)| (*at, parts)).collect();
        let own = Self::of(paints, Shares::of(&parts, 0.0))?;
        let tints = BETWEEN.iter().filter(|_| paints.white.is_some());
        let between = tints.filter_map(|white| paints.colour(&own.shares.tinted(*white)));
        let chroma = between.map(|lab| lab.chroma()).fold(own.chroma, f64::max);
        Some(Self { chroma, ..own })
    }

    /// Parts of the second tube to one part of the first.
    #[must_use]
    pub fn ratio(&self) -> Option<f64> {
        match self.shares.tubes.as_slice() {
            [(_, one), (_, other)] => Some(other / one),
            _ => None,
        }
    }

    fn of(paints: &Paints, shares: Shares) -> Option<Self> {
        let tints = GREY_TINTS.iter().filter(|white| **white == 0.0 || paints.white.is_some());
        let colours: Vec<Lab> =
            tints.map(|white| paints.colour(&shares.tinted(*white))).collect::<Option<_>>()?;
        let chroma = colours.iter().map(|lab| lab.chroma()).fold(0.0, f64::max);
        Some(Self { shares, chroma, colours })
    }
}

/// How much a tube absorbs, for a start: K summed over the bands.
pub(crate) fn strength(paints: &Paints, tube: usize) -> f64 {
    absorbs(&paints.tubes[tube].constants)
}

/// The same of a paint.
pub(crate) fn absorbs(paint: &mixing::Constants) -> f64 {
    paint.k.iter().sum::<f64>().max(1e-3)
}

/// The best grey of every pair of tubes, the most neutral first.
#[must_use]
pub fn grey_pairs(paints: &Paints, among: &[usize]) -> Vec<Grey> {
    let mut found = Vec::new();
    for (at, one) in among.iter().enumerate() {
        for other in &among[at + 1..] {
            found.extend(grey_pair(paints, *one, *other));
        }
    }
    sorted(found)
}

/// The ratio of two tubes at which the largest C* of mass tone and tints is least.
#[must_use]
pub fn grey_pair(paints: &Paints, one: usize, other: usize) -> Option<Grey> {
    let equal = strength(paints, one) / strength(paints, other);
    let at = |ln: f64| Grey::of(paints, Shares::of(&[(one, 1.0), (other, equal * ln.exp())], 0.0));
    let chroma = |ln: f64| at(ln).map_or(f64::INFINITY, |grey| grey.chroma);
    let step = 2.0 * WIDEST / (STEPS - 1) as f64;
    let places = (0..STEPS).map(|place| step.mul_add(place as f64, -WIDEST));
    let told = places.map(|place| (chroma(place), place));
    let (_, start) = told.min_by(|a, b| a.0.total_cmp(&b.0))?;
    at(least(start - step, start + step, chroma))
}

/// Three tubes where two do nearly as well only waste paint, C*.
const WORTH_A_THIRD: f64 = 1.0;

/// The best grey of three tubes, where it neutralises and no two of them do nearly as well.
#[must_use]
pub fn grey_triad(paints: &Paints, tubes: [usize; 3], pairs: &[Grey]) -> Option<Grey> {
    let within = |grey: &&Grey| grey.shares.tubes.iter().all(|(at, _)| tubes.contains(at));
    let of_two = pairs.iter().filter(within).map(|grey| grey.chroma).fold(f64::INFINITY, f64::min);
    if of_two <= WORTH_A_THIRD {
        return None;
    }
    let grey = best_of_three(paints, tubes)?;
    (grey.neutralises() && grey.chroma + WORTH_A_THIRD < of_two).then_some(grey)
}

fn best_of_three(paints: &Paints, tubes: [usize; 3]) -> Option<Grey> {
    let weak = tubes.map(|tube| 1.0 / strength(paints, tube));
    let at = |[x, y]: [f64; 2]| {
        let parts =
            [(tubes[0], weak[0]), (tubes[1], weak[1] * x.exp()), (tubes[2], weak[2] * y.exp())];
        Grey::of(paints, Shares::of(&parts, 0.0))
    };
    let chroma = |place: [f64; 2]| at(place).map_or(f64::INFINITY, |grey| grey.chroma);
    const COARSE: [f64; 5] = [-2.6, -1.3, 0.0, 1.3, 2.6];
    const AROUND: [f64; 3] = [-1.0, 0.0, 1.0];
    let best_of = |places: &mut dyn Iterator<Item = [f64; 2]>| {
        let told = places.map(|place| (chroma(place), place));
        told.min_by(|a, b| a.0.total_cmp(&b.0))
    };
    let mut best = best_of(&mut COARSE.iter().flat_map(|x| COARSE.map(|y| [*x, y])))?;
    // The largest of several chromas has edges: smaller and smaller steps in eight directions.
    let mut step = 0.6;
    while step > 0.02 {
        let [x, y] = best.1;
        let near = AROUND.iter().flat_map(|i| AROUND.map(|j| [x + step * i, y + step * j]));
        let near = best_of(&mut near.into_iter())?;
        if near.0 < best.0 { best = near } else { step /= 2.0 }
    }
    at(best.1)
}

/// Where a function with one valley between two places is least (golden section).
pub(crate) fn least(mut low: f64, mut high: f64, of: impl Fn(f64) -> f64) -> f64 {
    const GOLDEN: f64 = 0.618_033_988_749_894_9;
    for _ in 0..16 {
        let (left, right) = (high - GOLDEN * (high - low), low + GOLDEN * (high - low));
        if of(left) < of(right) { high = right } else { low = left }
    }
    f64::midpoint(low, high)
}

fn sorted(mut greys: Vec<Grey>) -> Vec<Grey> {
    greys.sort_by(|one, other| one.chroma.total_cmp(&other.chroma));
    greys
}

/// Parts of white that take a mixture from its mass tone up in so many equal steps of L*, to L* 90 or as near as white
/// brings it; the mass tone itself is none of them. Empty where there is no white.
#[must_use]
pub fn value_steps(paints: &Paints, shares: &Shares, steps: usize) -> Vec<f64> {
    const LIGHTEST: f64 = 90.0;
    const MOST_WHITE: f64 = 100.0;
    let lightness = |white: f64| paints.colour(&shares.tinted(white)).map(|lab| lab.l);
    let (Some(_), Some(from), Some(most)) = (&paints.white, lightness(0.0), lightness(MOST_WHITE))
    else {
        return Vec::new();
    };
    let to = LIGHTEST.min(most);
    let whites = (1..=steps).map(|step| {
        let wanted = from + (to - from) * step as f64 / steps as f64;
        let (mut low, mut high) = (0.0, MOST_WHITE);
        for _ in 0..40 {
            let middle = f64::midpoint(low, high);
            if lightness(middle).unwrap_or(wanted) < wanted { low = middle } else { high = middle }
        }
        // Parts that can be put out.
        if high < 1.0 { (20.0 * high).round().max(1.0) / 20.0 } else { (4.0 * high).round() / 4.0 }
    });
    let mut whites: Vec<f64> = whites.collect();
    whites.dedup();
    whites
}

/// A tube that takes the cast from a grey.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct CastCure {
    /// Which tube.
    pub tube: usize,
    /// Parts of it to one part of the grey.
    pub parts: f64,
    /// The grey's colour then.
    pub to: Lab,
    /// It never comes near neutral: the cast only turns to another hue.
    pub turns: bool,
}

/// The tubes that take a cast away, the nearest to neutral first and, of like ones, the least of it. `shares` is the
/// grey, white included.
#[must_use]
pub fn cast_cures(paints: &Paints, shares: &Shares, among: &[usize]) -> Vec<CastCure> {
    /// Of like cures the one that needs least is the better.
    const ALIKE: f64 = 1.0;
    let Some(grey) = paints.blend(shares) else { return Vec::new() };
    let cast = paints.lab(&grey).chroma();
    let cure = |tube: usize| {
        let paint = &paints.tubes.get(tube)?.constants;
        let at = |ln: f64| {
            mixing::Constants::mixed(&[(1.0, &grey), (ln.exp(), paint)]).map(|it| paints.lab(&it))
        };
        let chroma = |ln: f64| at(ln).map_or(f64::INFINITY, Lab::chroma);
        let step = 0.25;
        let places = (0..36).map(|place| f64::from(place) * step - 9.0);
        let told = places.map(|place| (chroma(place), place));
        let (_, start) = told.min_by(|a, b| a.0.total_cmp(&b.0))?;
        let ln = least(start - step, start + step, chroma);
        let to = at(ln)?;
        (to.chroma() < 0.8 * cast).then(|| CastCure {
            tube,
            parts: ln.exp(),
            to,
            turns: to.chroma() > 2.0_f64.max(0.35 * cast),
        })
    };
    let mut cures: Vec<CastCure> = among.iter().filter_map(|tube| cure(*tube)).collect();
    cures.sort_by(|one, other| {
        let step = |it: &CastCure| (it.to.chroma() / ALIKE).round();
        step(one).total_cmp(&step(other)).then(one.parts.total_cmp(&other.parts))
    });
    cures
}
