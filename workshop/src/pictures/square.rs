//! One square of a picture: what was read, what was planned, and whether it is taken.

use colour::{Lab, ciede2000};
use picture::{CellReading, Flag, Status};
use store::{Adjusted, SwatchId};

/// A colour this much farther from its prediction than its interval needs a look, ΔE00 (ours).
const NOT_AS_PLANNED: f64 = 8.0;

/// What a square should look like.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Planned {
    /// Its predicted colour.
    pub lab: Lab,
    /// By a typical paint, which tells little.
    pub typical: bool,
}

/// One square.
#[derive(Debug, Clone, PartialEq)]
pub struct Square {
    /// The swatch that it is in the records.
    pub swatch: SwatchId,
    /// What stands under it.
    pub label: String,
    /// Where its outline lies, mm from the left and the top.
    pub place_mm: [f64; 2],
    /// Its side, mm.
    pub side_mm: f64,
    /// How far the user moved its outline to the right and down, mm.
    pub moved_mm: [f64; 2],
    /// Nothing is painted there.
    pub is_bare: bool,
    /// What the picture tells.
    pub read: CellReading,
    /// What was planned.
    pub planned: Option<Planned>,
    /// It calibrates the picture.
    pub is_known: bool,
    /// It is not taken, and why; `None` for one that is.
    pub why_not: Option<WhyNotTaken>,
    /// A reading of it by this picture counts already.
    pub is_recorded: bool,
}

/// Why a square is not taken.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum WhyNotTaken {
    /// It has no colour.
    Unreadable,
    /// It looks like bare paper.
    NotPainted,
    /// The user left it out.
    LeftOut,
    /// Something in it needs a look first.
    NeedsALook,
    /// Something better read it.
    ReadBetter,
    /// Its paint was spoilt, and it was not laid again.
    Spoilt,
}

impl Square {
    /// ΔE00 between what was read and what was planned.
    #[must_use]
    pub fn off(&self) -> Option<f64> {
        Some(ciede2000(self.read.lab?, self.planned?.lab).value())
    }

    /// It is far from what was planned, by more than both can be off.
    #[must_use]
    pub fn is_not_as_planned(&self) -> bool {
        let sure = self.planned.is_some_and(|planned| !planned.typical);
        let beyond = |(off, u): (f64, f64)| off > u + NOT_AS_PLANNED;
        sure && self.off().zip(self.read.u).is_some_and(beyond)
    }

    /// Somebody should look at it.
    #[must_use]
    pub fn needs_a_look(&self) -> bool {
        match self.read.status {
            Status::Refused | Status::Empty => true,
            Status::Read => self.is_not_as_planned() || self.read.flags.iter().any(is_doubtful),
        }
    }
}

/// What makes a colour doubtful; grain and streaks belong to the paint.
fn is_doubtful(flag: &Flag) -> bool {
    matches!(flag, Flag::NotPainted | Flag::TwoTone | Flag::Swapped | Flag::Glare | Flag::Veiled)
}

/// Whether a square is taken as things stand, and why not.
pub(super) fn why_not(
    read: &CellReading,
    (adjusted, is_read_better, is_spoilt): (&Adjusted, bool, bool),
) -> Option<WhyNotTaken> {
    let insisted = adjusted.taken.contains(&read.number);
    let doubtful = read.flags.iter().any(is_doubtful);
    match read.status {
        Status::Refused => Some(WhyNotTaken::Unreadable),
        _ if adjusted.left_out.contains(&read.number) => Some(WhyNotTaken::LeftOut),
        _ if is_read_better => Some(WhyNotTaken::ReadBetter),
        _ if is_spoilt => Some(WhyNotTaken::Spoilt),
        Status::Empty if !insisted => Some(WhyNotTaken::NotPainted),
        Status::Read if doubtful && !insisted => Some(WhyNotTaken::NeedsALook),
        Status::Read | Status::Empty => None,
    }
}
