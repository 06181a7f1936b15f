//! Parts that can be put out: small whole numbers that look like the exact shares.

use colour::{Lab, ciede2000};

use crate::paints::{Paints, Shares};
use crate::target::Target;

/// Whole parts add up to no more.
pub const MOST_PARTS: u32 = 40;
/// They look like the exact shares within this, ΔE00.
pub const NEAR: f64 = 0.5;

/// Whole parts of each tube of a recipe, and of the white.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Parts {
    /// Place of each tube and its parts, 1 or more.
    pub tubes: Vec<(usize, u32)>,
    /// Parts of white.
    pub white: u32,
    /// They look like the exact shares within [`NEAR`]; else they are the nearest of up to [`MOST_PARTS`], and the
    /// exact shares want a scale.
    pub is_near: bool,
}

impl Parts {
    /// The fewest that look like these shares; `None` for more tubes than parts.
    #[must_use]
    pub fn of(shares: &Shares, target: &Target, paints: &Paints) -> Option<Self> {
        let looks = |shares: &Shares| -> Option<Vec<Lab>> {
            let each =
                target.looks.iter().map(|look| paints.colour(&shares.tinted(look.at.white())));
            each.collect()
        };
        let exact = looks(shares)?;
        let off = |parts: &Self| -> Option<f64> {
            let told = looks(&parts.shares())?;
            let each = told.iter().zip(&exact).map(|(one, other)| ciede2000(*one, *other).value());
            Some(each.fold(0.0, f64::max))
        };
        let mut best: Option<(f64, Self)> = None;
        let ingredients = shares.tubes.len() + usize::from(shares.white > 0.0);
        for total in u32::try_from(ingredients).ok()?..=MOST_PARTS {
            for parts in rounded(shares, total) {
                let Some(off) = off(&parts) else { continue };
                if best.as_ref().is_none_or(|(least, _)| off < *least) {
                    best = Some((off, parts));
                }
            }
            if best.as_ref().is_some_and(|(off, _)| *off <= NEAR) {
                break;
            }
        }
        best.map(|(off, parts)| Self { is_near: off <= NEAR, ..parts })
    }

    /// The same as shares.
    #[must_use]
    pub fn shares(&self) -> Shares {
        let tubes: Vec<(usize, f64)> =
            self.tubes.iter().map(|(at, parts)| (*at, f64::from(*parts))).collect();
        Shares::of(&tubes, f64::from(self.white))
    }

    /// Whole parts of one tube.
    #[must_use]
    pub fn of_tube(&self, tube: usize) -> u32 {
        self.tubes.iter().find(|it| it.0 == tube).map_or(0, |it| it.1)
    }
}

/// Whole numbers of this total near the shares: by largest remainder, each at least 1, and every one that moves one
/// part from one to another.
fn rounded(shares: &Shares, total: u32) -> Vec<Parts> {
    let mut exact: Vec<f64> = shares.tubes.iter().map(|it| it.1).collect();
    exact.extend((shares.white > 0.0).then_some(shares.white));
    let mut whole: Vec<u32> =
        exact.iter().map(|share| ((share * f64::from(total)).floor() as u32).max(1)).collect();
    let left = |whole: &[u32], at: usize| exact[at] * f64::from(total) - f64::from(whole[at]);
    loop {
        let sum: u32 = whole.iter().sum();
        let places = 0..whole.len();
        let place = match sum.cmp(&total) {
            std::cmp::Ordering::Equal => break,
            std::cmp::Ordering::Less => {
                places.max_by(|a, b| left(&whole, *a).total_cmp(&left(&whole, *b)))
            }
            std::cmp::Ordering::Greater => places
                .filter(|at| whole[*at] > 1)
                .min_by(|a, b| left(&whole, *a).total_cmp(&left(&whole, *b))),
        };
        let Some(place) = place else { return Vec::new() };
        if sum < total { whole[place] += 1 } else { whole[place] -= 1 }
    }
    let parts = |whole: &[u32]| Parts {
        tubes: shares.tubes.iter().zip(whole).map(|((tube, _), parts)| (*tube, *parts)).collect(),
        white: if shares.white > 0.0 { whole[whole.len() - 1] } else { 0 },
        is_near: false,
    };
    let mut all = vec![parts(&whole)];
    for from in 0..whole.len() {
        for to in 0..whole.len() {
            if from != to && whole[from] > 1 {
                let mut moved = whole.clone();
                moved[from] -= 1;
                moved[to] += 1;
                all.push(parts(&moved));
            }
        }
    }
    all
}
