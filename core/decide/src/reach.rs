//! How vivid a palette's pairs can be at every hue and lightness.

use colour::Lab;
use mixing::Constants;

use crate::neutral::strength;
use crate::paints::Paints;

/// Sectors of the hue circle, 10° each.
pub const SECTORS: usize = 36;
/// Levels of lightness, from L* 20 to 90, 5 each.
pub const LEVELS: usize = 14;
const DARKEST: f64 = 20.0;
const LEVEL: f64 = 5.0;
/// Ratios and parts of white of a pair, by strength, and how much finer their mesh is filled.
const RATIOS: usize = 17;
const WHITES: usize = 18;
const FINER: usize = 8;
/// The least of one tube in the other, by strength.
const LEAST: f64 = 1.0 / 200.0;
/// Parts of white, to one part of a paint that absorbs all over as much as white scatters, in its palest tint; to one
/// part of any.
const PALEST: f64 = 400.0;
const MOST_WHITE: f64 = 500.0;

/// The highest C* of each sector and level, 0 where nothing reaches.
#[derive(Debug, Clone, PartialEq)]
pub struct Reach(Vec<f64>);

impl Default for Reach {
    fn default() -> Self {
        Self(vec![0.0; SECTORS * LEVELS])
    }
}

impl Reach {
    /// What the pairs of these tubes reach with white.
    #[must_use]
    pub fn of(paints: &Paints, among: &[usize]) -> Self {
        let mut reach = Self::default();
        if let [only] = among {
            reach.join(&Self::of_pair(paints, *only, *only));
        }
        for (at, one) in among.iter().enumerate() {
            for other in &among[at + 1..] {
                reach.join(&Self::of_pair(paints, *one, *other));
            }
        }
        reach
    }

    /// What two tubes reach with white.
    #[must_use]
    pub fn of_pair(paints: &Paints, one: usize, other: usize) -> Self {
        let mut reach = Self::default();
        let rows: Vec<Vec<Lab>> =
            (0..RATIOS).map(|step| finer(&tints(paints, one, other, step))).collect();
        for tint in 0..rows.iter().map(Vec::len).min().unwrap_or(0) {
            let across: Vec<Lab> = rows.iter().map(|row| row[tint]).collect();
            finer(&across).into_iter().for_each(|lab| reach.add(lab));
        }
        reach
    }

    /// Colours that were read.
    pub fn add(&mut self, colour: Lab) {
        if let Some(place) = place(colour) {
            self.0[place] = self.0[place].max(colour.chroma());
        }
    }

    /// Takes what the other reaches as well.
    pub fn join(&mut self, other: &Self) {
        for (own, other) in self.0.iter_mut().zip(&other.0) {
            *own = own.max(*other);
        }
    }

    /// Highest C* of a sector and a level.
    #[must_use]
    pub fn at(&self, sector: usize, level: usize) -> f64 {
        self.0.get(sector * LEVELS + level).copied().unwrap_or(0.0)
    }

    /// Highest C* near a colour's hue and lightness.
    #[must_use]
    pub fn beside(&self, colour: Lab) -> f64 {
        place(colour).map_or(0.0, |place| self.0[place])
    }

    /// The share of what `all` reaches that this reaches too, by area: Σ min(C, C_all)² / Σ C_all² (ours).
    #[must_use]
    pub fn coverage(&self, all: &Self) -> f64 {
        let (mut own, mut whole) = (0.0, 0.0);
        for (one, all) in self.0.iter().zip(&all.0) {
            own += one.min(*all).powi(2);
            whole += all * all;
        }
        if whole > 0.0 { own / whole } else { 0.0 }
    }

    /// Every sector and level that is reached: lower edges of hue in degrees and of L*, and the highest C*.
    pub fn cells(&self) -> impl Iterator<Item = (f64, f64, f64)> {
        self.0.iter().enumerate().filter(|(_, chroma)| **chroma > 0.0).map(|(place, chroma)| {
            let (sector, level) = (place / LEVELS, place % LEVELS);
            (10.0 * sector as f64, LEVEL.mul_add(level as f64, DARKEST), *chroma)
        })
    }

    /// How much of what `all` reaches is missing in each sector and level, C*².
    pub(crate) fn missing(&self, all: &Self) -> impl Iterator<Item = (usize, usize, f64)> {
        self.0.iter().zip(&all.0).enumerate().map(|(place, (own, all))| {
            (place / LEVELS, place % LEVELS, (all * all - own.min(*all).powi(2)).max(0.0))
        })
    }
}

/// Lower edge of a level, L*.
#[must_use]
pub fn level_from(level: usize) -> f64 {
    LEVEL.mul_add(level as f64, DARKEST)
}

fn place(colour: Lab) -> Option<usize> {
    let level = ((colour.l - DARKEST) / LEVEL).floor();
    if !(0.0..LEVELS as f64).contains(&level) {
        return None;
    }
    let degrees = colour.b.atan2(colour.a).to_degrees().rem_euclid(360.0);
    Some((degrees / 10.0) as usize % SECTORS * LEVELS + level as usize)
}

/// A row of colours with others put between them, on a smooth curve through all (Catmull and Rom 1974).
fn finer(row: &[Lab]) -> Vec<Lab> {
    let at = |place: usize| row[place.min(row.len() - 1)];
    let between = |[a, b, c, d]: [f64; 4], x: f64| {
        b + 0.5 * x * (c - a + x * (2.0 * a - 5.0 * b + 4.0 * c - d + x * (3.0 * (b - c) + d - a)))
    };
    let mut all = Vec::with_capacity(FINER * row.len());
    for place in 0..row.len().saturating_sub(1) {
        let near = [place.saturating_sub(1), place, place + 1, place + 2].map(at);
        all.extend((0..FINER).map(|step| {
            let x = step as f64 / FINER as f64;
            let of = |axis: fn(Lab) -> f64| between(near.map(axis), x);
            Lab::new(of(|lab| lab.l), of(|lab| lab.a), of(|lab| lab.b))
        }));
    }
    all.extend(row.last());
    all
}

/// One ratio of two tubes with more and more white: the first step is the first tube alone, the last the second.
fn tints(paints: &Paints, one: usize, other: usize, step: usize) -> Vec<Lab> {
    let strengths = [strength(paints, one), strength(paints, other)];
    let paint = |tube: usize| &paints.tubes[tube].constants;
    let parts = match step {
        0 => [1.0, 0.0],
        step if step + 1 == RATIOS => [0.0, 1.0],
        step => {
            let along = (step - 1) as f64 / (RATIOS - 3) as f64;
            let by_strength = LEAST.powf(1.0 - 2.0 * along);
            [1.0 / strengths[0], by_strength / strengths[1]]
        }
    };
    let mixed = Constants::mixed(&[(parts[0], paint(one)), (parts[1], paint(other))]);
    let Some(mixed) = mixed else { return Vec::new() };
    // Equal steps of ln of what scatters: from the mixture's own to that of its palest tint.
    let mean = |of: &[f64]| of.iter().sum::<f64>() / of.len() as f64;
    let scatters = mean(&mixed.s);
    let most = 1.0 + MOST_WHITE.min(PALEST * mean(&mixed.k)) / scatters;
    let tinted = |step: usize| {
        let white = scatters * (most.powf(step as f64 / (WHITES - 1) as f64) - 1.0);
        let white = paints.white.as_ref().map(|of| (white, of)).filter(|it| it.0 > 0.0);
        let parts: Vec<(f64, &Constants)> = std::iter::once((1.0, &mixed)).chain(white).collect();
        Constants::mixed(&parts).map(|it| paints.lab(&it))
    };
    // Without white a mixture is one colour.
    let count = if paints.white.is_some() { WHITES } else { 1 };
    (0..count).filter_map(tinted).collect()
}
