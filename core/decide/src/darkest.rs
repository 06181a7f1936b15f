//! How dark a palette goes, and what keeps a tube from it.

use colour::Lab;

use crate::paints::{Paints, Shares};

/// Steps between two tubes.
const STEPS: u32 = 8;

/// The darkest mixture without white of any two of these tubes, with their places; `None` for fewer than two.
#[must_use]
pub fn darkest(paints: &Paints, among: &[usize]) -> Option<([usize; 2], Lab)> {
    let pairs =
        among.iter().enumerate().flat_map(|(at, one)| among[at + 1..].iter().map(|it| [*one, *it]));
    let mixtures = pairs.flat_map(|pair| {
        let shares = (1..STEPS).map(move |step| f64::from(step) / f64::from(STEPS));
        shares.filter_map(move |share| {
            let mixed = Shares::of(&[(pair[0], 1.0 - share), (pair[1], share)], 0.0);
            Some((pair, paints.colour(&mixed)?))
        })
    });
    mixtures.min_by(|one, other| one.1.l.total_cmp(&other.1.l))
}

/// The value floor of a tube: the lowest L* that it makes half and half with any of these (ours). A tube that holds
/// white goes no darker; `None` where there is no other tube.
#[must_use]
pub fn value_floor(paints: &Paints, tube: usize, among: &[usize]) -> Option<f64> {
    let others = among.iter().filter(|it| **it != tube);
    let halves = others.map(|other| Shares::of(&[(tube, 1.0), (*other, 1.0)], 0.0));
    halves.filter_map(|shares| Some(paints.colour(&shares)?.l)).min_by(f64::total_cmp)
}
