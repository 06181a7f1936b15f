//! Squares that only one of two tubes has: the other one's colour there, by its K and S.

use std::borrow::Cow;

use colour::Lab;
use mixing::Constants;

use crate::bridge::Bridge;
use crate::cells::{Cell, Origin, Recipe};
use crate::told::Subject;

/// What bringing a colour over costs, half-width in ΔE00, with white and without (found by simulation).
const BETWEEN: [f64; 2] = [0.2, 0.65];
/// The same beyond what was read of the tube, and in mixtures that it was never read in (ours, by the same simulation).
const PREDICTED: [f64; 2] = [0.5, 1.0];

/// The pairs of squares that one of the two has to itself. Over a bridge only the second tube is brought over.
pub(crate) fn brought_over<'a>(
    (one, ones): (&Subject<'a>, &[Cell<'a>]),
    (other, others): (&Subject<'a>, &[Cell<'a>]),
    bridge: Option<&Bridge>,
) -> Vec<(Cell<'a>, Cell<'a>)> {
    let mut pairs = brought_to(ones, (other, others), bridge);
    if bridge.is_none() {
        let turned = brought_to(others, (one, ones), None);
        pairs.extend(turned.into_iter().map(|(cell, brought)| (brought, cell)));
    }
    pairs
}

/// The squares of one tube that another one lacks, each with what that one would be there.
pub(crate) fn brought_to<'a>(
    ones: &[Cell<'a>],
    (other, others): (&Subject<'a>, &[Cell<'a>]),
    bridge: Option<&Bridge>,
) -> Vec<(Cell<'a>, Cell<'a>)> {
    let Some(constants) = other.constants() else { return Vec::new() };
    let constants = match bridge {
        Some(bridge) => Cow::Owned(bridge.in_the_first(constants)),
        None => Cow::Borrowed(constants),
    };
    let left = Left::of(others);
    // Parts of another white are other parts.
    let has = |cell: &Cell<'_>| {
        let mut same = others.iter().filter(|it| bridge.is_none() || it.white == 0.0);
        same.any(|it| it.is_same(cell))
    };
    let lacking = ones.iter().filter(|cell| !has(cell));
    lacking.filter_map(|cell| Some((cell.clone(), of_another(cell, &constants, &left)?))).collect()
}

/// What bringing one square over costs, half-width in ΔE00.
pub(crate) fn half_width(cell: &Cell<'_>, bridge: Option<&Bridge>) -> f64 {
    let without_white = usize::from(cell.white == 0.0);
    match (cell.origin, bridge) {
        (Origin::Read, _) => 0.0,
        (_, Some(bridge)) => bridge.tint_half_width(),
        (Origin::Between, None) => BETWEEN[without_white],
        (Origin::Predicted, None) => PREDICTED[without_white],
    }
}

/// A square with another tube in the place of its own; a mass tone is never brought over.
fn of_another<'a>(cell: &Cell<'a>, tube: &Cow<'a, Constants>, left: &Left) -> Option<Cell<'a>> {
    if cell.is_mass_tone() {
        return None;
    }
    let recipe = Recipe { tube: tube.clone(), ..cell.recipe.clone()? };
    let told = recipe.colour(1.0);
    let left = if cell.partners.is_empty() { left.at(cell.white) } else { None };
    let origin = if left.is_some() { Origin::Between } else { Origin::Predicted };
    let [l, a, b] = left.unwrap_or_default();
    let lab = Lab::new(told.l + l, told.a + a, told.b + b);
    let (pictures, is_uncalibrated, is_photo) = (Vec::new(), false, false);
    Some(Cell {
        lab,
        origin,
        recipe: Some(recipe),
        pictures,
        is_uncalibrated,
        is_photo,
        ..cell.clone()
    })
}

/// What K and S leave of a tube's tints, by parts of white.
struct Left(Vec<(f64, [f64; 3])>);

impl Left {
    fn of(cells: &[Cell<'_>]) -> Self {
        let tints = cells.iter().filter(|it| it.partners.is_empty() && it.white > 0.0);
        let mut points: Vec<(f64, [f64; 3])> = tints
            .filter_map(|cell| {
                let (read, told) = (cell.lab.axes(), cell.recipe.as_ref()?.colour(1.0).axes());
                Some((cell.white.ln(), [0, 1, 2].map(|axis| read[axis] - told[axis])))
            })
            .collect();
        points.sort_by(|one, other| one.0.total_cmp(&other.0));
        Self(points)
    }

    /// Between two steps that were read, straight over ln(parts).
    fn at(&self, white: f64) -> Option<[f64; 3]> {
        let ln = white.ln();
        let pair = self.0.windows(2).find(|pair| (pair[0].0..=pair[1].0).contains(&ln))?;
        let share = (ln - pair[0].0) / (pair[1].0 - pair[0].0).max(f64::MIN_POSITIVE);
        Some([0, 1, 2].map(|axis| pair[0].1[axis] * (1.0 - share) + pair[1].1[axis] * share))
    }
}

/// What bringing squares over adds to a half-width: their root mean square.
pub(crate) fn added(pairs: &[(Cell<'_>, Cell<'_>)], bridge: Option<&Bridge>) -> f64 {
    let of = |(one, other): &(Cell<'_>, Cell<'_>)| {
        half_width(one, bridge).max(half_width(other, bridge))
    };
    let mixed = pairs.iter().filter(|(one, _)| !one.is_mass_tone());
    let (sum, count) = mixed.fold((0.0, 0), |(sum, count), it| (sum + of(it).powi(2), count + 1));
    (sum / f64::from(count.max(1))).sqrt()
}
