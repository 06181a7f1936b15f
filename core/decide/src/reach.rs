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
const RATIOS: usize = 15;
const FINER: usize = 8;

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
        let rows: Vec<Vec<Lab>> = (0..RATIOS).map(|step| tints(paints, one, other, step)).collect();
        for pair in rows.windows(2) {
            let cells = pair[0].windows(2).zip(pair[1].windows(2));
            for (low, high) in cells {
                reach.fill([low[0], low[1], high[0], high[1]]);
            }
        }
        reach
    }

    /// Colours that were read.
    pub fn add(&mut self, colour: Lab) {
        if let Some(place) = place(colour) {
            self.0[place] = self.0[place].max(colour.chroma());
        }
    }

    /// A patch of the mesh, filled in.
    fn fill(&mut self, [a, b, c, d]: [Lab; 4]) {
        for i in 0..FINER {
            let x = i as f64 / FINER as f64;
            let (low, high) = (a.lerp(c, x), b.lerp(d, x));
            for j in 0..FINER {
                self.add(low.lerp(high, j as f64 / FINER as f64));
            }
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

/// One ratio of two tubes with more and more white: the first step is the first tube alone, the last the second.
fn tints(paints: &Paints, one: usize, other: usize, step: usize) -> Vec<Lab> {
    let strengths = [strength(paints, one), strength(paints, other)];
    let paint = |tube: usize| &paints.tubes[tube].constants;
    let parts = match step {
        0 => [1.0, 0.0],
        step if step + 1 == RATIOS => [0.0, 1.0],
        step => {
            let ln = (step - 1) as f64 / (RATIOS - 3) as f64;
            let by_strength = 1024_f64.powf(ln) / 32.0;
            [1.0 / strengths[0], by_strength / strengths[1]]
        }
    };
    let mixed = Constants::mixed(&[(parts[0], paint(one)), (parts[1], paint(other))]);
    let Some(mixed) = mixed else { return Vec::new() };
    let strong = mixed.k.iter().sum::<f64>() / mixed.k.len() as f64;
    let tinted = |step: usize| {
        let white = match step {
            0 => 0.0,
            step => strong * 0.125 * 512_f64.powf((step - 1) as f64 / (RATIOS - 2) as f64),
        };
        let white = paints.white.as_ref().map(|of| (white, of)).filter(|it| it.0 > 0.0);
        let parts: Vec<(f64, &Constants)> = std::iter::once((1.0, &mixed)).chain(white).collect();
        Constants::mixed(&parts).map(|it| paints.lab(&it))
    };
    // Without white a mixture is one colour, and both edges of its patch.
    let count = if paints.white.is_some() { RATIOS } else { 2 };
    (0..count).filter_map(tinted).collect()
}
