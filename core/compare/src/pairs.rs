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
}

impl Moved<'_> {
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
