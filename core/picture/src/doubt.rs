//! Known squares that hold something else than they should.

use std::fmt;

use colour::{Lab, ciede2000, delta_e_ab};

use crate::calibrate::{LeftOut, Sample};
use crate::target::OF_CARD;

/// Two squares whose colours lie within this of each other tell of each other, ΔE.
const NEAR: f64 = 15.0;
/// What the device leaves between two squares, one σ per axis: of the same pigments, and of others (ours).
const ALIKE_SIGMA: f64 = 1.0;
const UNLIKE_SIGMA: f64 = 5.0;
/// The map stretches differences by about this share.
const STRETCHED: f64 = 0.1;
/// Beyond so many σ two squares contradict each other.
const SIGMAS: f64 = 4.0;
/// A square that all others tell within this is not the one that is wrong, ΔE00.
const LEAST: f64 = 6.0;
/// Two labels that, exchanged, lower the sum of ΔE00 by more than this are swapped.
const SWAPPED: f64 = 6.0;
/// Exchanged, each of two labels is off by no more than this share of before: both are explained.
pub(crate) const EXPLAINED: f64 = 0.5;

/// Why a known square is not believed.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Doubt {
    /// It looks like bare paper.
    Bare,
    /// This one, of nearly the same colour, contradicts it.
    Contradicted(u32),
    /// It and this one look as each other should.
    Swapped(u32),
}

impl fmt::Display for Doubt {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Bare => f.write_str("it looks like bare paper"),
            Self::Contradicted(by) => {
                write!(f, "{}, of nearly the same colour, contradicts it", square_named(*by))
            }
            Self::Swapped(with) => {
                write!(f, "it and {} look as each other should", square_named(*with))
            }
        }
    }
}

/// A square by its number, one of a card as such: `square 5`, `square 12 of the card`.
#[must_use]
pub fn square_named(number: u32) -> String {
    match number.checked_sub(OF_CARD) {
        Some(own) => format!("square {own} of the card"),
        None => format!("square {number}"),
    }
}

/// A known square as it was seen.
pub(crate) struct KnownSquare<'a> {
    pub number: u32,
    pub sample: &'a Sample,
    /// By the map alone, which believes no square by itself.
    pub seen: Lab,
    pub left: &'a LeftOut,
    /// It should be a colour far from the paper's, and is not.
    pub is_bare: bool,
}

/// The squares that are not believed: those that look like paper, those that are swapped with another one, and the worst of
/// those that a neighbour contradicts. Of other squares stand their number, what they look like and what they should.
pub(crate) fn doubts(known: &[KnownSquare<'_>], others: &[(u32, Lab, Lab)]) -> Vec<(u32, Doubt)> {
    let bare = known.iter().filter(|it| it.is_bare).map(|it| (it.number, Doubt::Bare));
    let mut all: Vec<(u32, Doubt)> = bare.collect();
    let told = known.iter().map(|it| (it.number, it.left.told.lab, it.left.known));
    let told: Vec<(u32, Lab, Lab)> = told.chain(others.iter().copied()).collect();
    if let Some([one, other]) = swapped(&told, EXPLAINED) {
        let pair = [(one, Doubt::Swapped(other)), (other, Doubt::Swapped(one))];
        let is_known = |number: u32| known.iter().any(|it| it.number == number);
        all.extend(pair.into_iter().filter(|(number, _)| is_known(*number)));
    }
    all.extend(contradicted(known));
    all
}

/// Of all pairs of neighbours that contradict each other, the square that the others tell worst.
fn contradicted(known: &[KnownSquare<'_>]) -> Option<(u32, Doubt)> {
    let mut worst: Option<(f64, (u32, Doubt))> = None;
    for (at, one) in known.iter().enumerate() {
        for other in &known[at + 1..] {
            if !contradict(one, other) {
                continue;
            }
            let (wrong, by) =
                if one.left.delta_e() > other.left.delta_e() { (one, other) } else { (other, one) };
            let off = wrong.left.delta_e();
            if off > LEAST && worst.as_ref().is_none_or(|(most, _)| off > *most) {
                worst = Some((off, (wrong.number, Doubt::Contradicted(by.number))));
            }
        }
    }
    worst.map(|(_, doubt)| doubt)
}

fn contradict(one: &KnownSquare<'_>, other: &KnownSquare<'_>) -> bool {
    let should = delta_e_ab(one.left.known, other.left.known).value();
    let looks = delta_e_ab(one.seen, other.seen).value();
    if should.min(looks) > NEAR {
        return false;
    }
    let way = |from: Lab, to: Lab| {
        let (from, to) = (from.axes(), to.axes());
        [0, 1, 2].map(|axis| to[axis] - from[axis])
    };
    let (wanted, seen) = (way(one.left.known, other.left.known), way(one.seen, other.seen));
    let off = wanted.iter().zip(seen).map(|(one, other)| (one - other).powi(2)).sum::<f64>().sqrt();
    let alike = one.sample.colours == other.sample.colours;
    let device = if alike { ALIKE_SIGMA } else { UNLIKE_SIGMA };
    let sigma = device.hypot(one.left.sigma).hypot(other.left.sigma).hypot(STRETCHED * should);
    off > SIGMAS * sigma
}

/// The two squares that look most as each other should, and neither as it should itself: exchanged, the sum of ΔE00
/// falls by more than 6, and that of each to a share of what it was.
pub(crate) fn swapped(told: &[(u32, Lab, Lab)], share: f64) -> Option<[u32; 2]> {
    let off = |read: Lab, expected: Lab| ciede2000(read, expected).value();
    let mut best: Option<(f64, [u32; 2])> = None;
    for (place, (one, read, expected)) in told.iter().enumerate() {
        for (other, other_read, other_expected) in &told[place + 1..] {
            let both = [off(*read, *expected), off(*other_read, *other_expected)];
            if both.iter().any(|off| *off < SWAPPED / 2.0) {
                continue;
            }
            let then = [off(*read, *other_expected), off(*other_read, *expected)];
            let explained = then.iter().zip(both).all(|(then, now)| *then <= share * now);
            let gain = both.iter().sum::<f64>() - then.iter().sum::<f64>();
            if explained && gain > best.map_or(SWAPPED, |(most, _)| most) {
                best = Some((gain, [*one, *other]));
            }
        }
    }
    best.map(|(_, pair)| pair)
}
