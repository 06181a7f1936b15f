//! The squares in which two tubes are compared.

use colour::{Lab, ciede2000};

use crate::bridge::Bridge;
use crate::brought::brought_over;
use crate::cells::{Cell, Origin, cells, shared};
use crate::footing::Apart;
use crate::told::Subject;

/// Squares beside the mass tone that are needed.
const LEAST: usize = 3;

/// The squares that both were read in; where there are too few of them, or where their whites differ, also those that
/// one of them is brought over to.
pub(crate) fn pairs<'a>(
    one: &Subject<'a>,
    other: &Subject<'a>,
    bridge: Option<&Bridge>,
) -> Result<Vec<(Cell<'a>, Cell<'a>)>, Apart> {
    let frame = one.told.frame();
    let (ones, others) = (cells(one, frame), cells(other, frame));
    let mixed = |pairs: &[(Cell<'_>, Cell<'_>)]| {
        pairs.iter().filter(|(cell, _)| !cell.is_mass_tone()).count()
    };
    let mut pairs = shared(&ones, &others);
    // Parts of another white are other parts.
    pairs.retain(|(cell, _)| bridge.is_none() || cell.white == 0.0);
    let directly = mixed(&pairs);
    if directly < LEAST || bridge.is_some() {
        pairs.extend(brought_over((one, &ones), (other, &others), bridge));
        pairs.sort_by(|(one, _), (other, _)| one.order(other));
    }
    if mixed(&pairs) < LEAST {
        let unfitted = [one, other].into_iter().find(|it| it.constants().is_none());
        return Err(match unfitted {
            Some(subject) => Apart::Unfitted(subject.label().name),
            None => Apart::NothingShared(directly),
        });
    }
    Ok(pairs)
}

/// A square of both, the second at the strength of the first.
pub(crate) struct Moved<'a> {
    pub one: &'a Cell<'a>,
    pub other: &'a Cell<'a>,
    pub second: Lab,
    /// How each of the two colours moves with ln of each amount in it, per axis; the compared tube's first. Empty where it
    /// was weighed.
    pub slopes: [Vec<[f64; 3]>; 2],
}

impl<'a> Moved<'a> {
    /// A square of both, with `times` as much of the second tube. `None` where K and S of something in it are not known.
    pub fn new((one, other): &'a (Cell<'a>, Cell<'a>), times: f64) -> Option<Self> {
        let movable = other.movable()?;
        let by_eye = one.by_eye || other.by_eye;
        let of = |cell: &Cell<'_>, times| {
            cell.recipe.as_ref().filter(|_| by_eye).map(|it| it.slopes(times)).unwrap_or_default()
        };
        let slopes = [of(one, 1.0), of(other, times)];
        let second = movable.moved(times);
        Some(Self { one, other, second, slopes })
    }

    /// One of its amounts was put out by eye.
    pub fn is_by_eye(&self) -> bool {
        self.one.by_eye || self.other.by_eye
    }

    /// How the second colour moves with ln of the use.
    pub fn way(&self) -> [f64; 3] {
        self.slopes[1].first().copied().unwrap_or_default()
    }

    pub fn is_mixed(&self) -> bool {
        !self.one.is_mass_tone()
    }

    /// Where the less sure one of the two colours comes from.
    pub fn origin(&self) -> Origin {
        self.one.origin.max(self.other.origin)
    }

    /// ΔE00 of the two.
    pub fn off(&self) -> f64 {
        ciede2000(self.one.lab, self.second).value()
    }
}
