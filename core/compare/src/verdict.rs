//! What two distances mean.

use std::fmt;

use crate::distance::Distance;
use crate::equal::is_beyond;
use crate::twins::Twins;

/// Nearer than this two colours pass for one in use, ΔE00 (ours).
pub const ALIKE: f64 = 2.0;
/// Nearer than this no difference is seen, ΔE00 (ours).
pub const UNSEEN: f64 = 1.0;

/// Whether one of two tubes is enough.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Verdict {
    /// They behave the same at equal strength.
    OneIsEnough,
    /// Their mixtures are alike, their mass tones are not.
    AlikeInMixtures,
    /// Their mass tones are alike, their mixtures are not.
    AlikeInMassTone,
    /// They differ.
    Different,
    /// These readings cannot tell.
    CannotTell,
}

impl fmt::Display for Verdict {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::OneIsEnough => "one_is_enough",
            Self::AlikeInMixtures => "alike_in_mixtures",
            Self::AlikeInMassTone => "alike_in_mass_tone",
            Self::Different => "different",
            Self::CannotTell => "cannot_tell",
        })
    }
}

/// Where a distance lies.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Place {
    Alike,
    Different,
    Between,
}

impl Distance {
    fn place(self) -> Place {
        if self.value + self.half_width <= ALIKE {
            Place::Alike
        } else if self.value - self.half_width > ALIKE {
            Place::Different
        } else {
            Place::Between
        }
    }
}

impl Twins {
    /// What the distances mean; a mass tone that was not read leaves it open where mixtures are alike.
    #[must_use]
    pub fn verdict(&self) -> Verdict {
        let mass_tone = self.mass_tone.map_or(Place::Between, Distance::place);
        match (self.distance.place(), mass_tone) {
            (Place::Alike, Place::Alike) => Verdict::OneIsEnough,
            (Place::Alike, Place::Different) => Verdict::AlikeInMixtures,
            (Place::Different, Place::Alike) => Verdict::AlikeInMassTone,
            (Place::Different, _) => Verdict::Different,
            (Place::Alike | Place::Between, _) => Verdict::CannotTell,
        }
    }

    /// Strengths of different pigments are not compared, unless the two behave alike; and one more than eight times as
    /// strong as the other has no figure.
    #[must_use]
    pub fn has_a_use(&self) -> bool {
        let is_compared = self.same_pigments || self.verdict() != Verdict::Different;
        is_compared && !is_beyond(self.use_of_second)
    }

    /// Nobody would see a difference: never said of pictures.
    #[must_use]
    pub fn no_visible_difference(&self) -> bool {
        let unseen = |it: Distance| it.value + it.half_width <= UNSEEN;
        !self.of_pictures && unseen(self.distance) && self.mass_tone.is_some_and(unseen)
    }
}
