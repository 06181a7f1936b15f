//! What eyes say of two paints side by side.

use serde::{Deserialize, Serialize};

use crate::{TubeRef, short_names};

/// A tint of a tube: so many parts of white to one.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct SeenTint {
    /// Which tube.
    pub tube: TubeRef,
    /// Parts of white.
    pub white: f64,
}

/// How deep one tint looks beside another: deep or pale, and not light or dark.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub enum Depth {
    /// There is less colour in it.
    Paler,
    /// As much.
    Same,
    /// More.
    Deeper,
}

short_names!(
    Depth,
    "depth",
    "paler, same or deeper",
    Paler = "paler",
    Same = "same",
    Deeper = "deeper"
);

/// What two tubes are compared by.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
pub enum Quality {
    /// Which is greener.
    Greener,
    /// Which is warmer.
    Warmer,
    /// Which is cleaner.
    Cleaner,
}

short_names!(
    Quality,
    "quality",
    "greener, warmer or cleaner",
    Greener = "greener",
    Warmer = "warmer",
    Cleaner = "cleaner"
);

/// Which of two it is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub enum Which {
    /// The first.
    First,
    /// The eye cannot tell.
    Neither,
    /// The second.
    Second,
}

short_names!(
    Which,
    "answer",
    "first, neither or second",
    First = "first",
    Neither = "neither",
    Second = "second"
);
