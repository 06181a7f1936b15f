//! What the parts of a plan are known by, each a type of its own: a step is never taken for a pile.

use std::fmt;
use std::num::ParseIntError;
use std::str::FromStr;

use serde::{Deserialize, Serialize};

/// The number that is printed under a cell, from 1: its place in [`crate::Plan::swatches`] plus 1.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(transparent)]
pub struct CellNumber(pub u32);

impl CellNumber {
    /// The number of the cell at a place in a list, from 0.
    #[must_use]
    pub fn at(place: usize) -> Self {
        Self(u32::try_from(place).unwrap_or(u32::MAX).saturating_add(1))
    }

    /// Its place in a list, from 0; `None` for 0, which no cell has.
    #[must_use]
    pub fn place(self) -> Option<usize> {
        (self.0 as usize).checked_sub(1)
    }

    /// What a list has at its place.
    #[must_use]
    pub fn of<T>(self, list: &[T]) -> Option<&T> {
        list.get(self.place()?)
    }
}

impl fmt::Display for CellNumber {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.0.fmt(f)
    }
}

impl FromStr for CellNumber {
    type Err = ParseIntError;

    fn from_str(text: &str) -> Result<Self, ParseIntError> {
        text.parse().map(Self)
    }
}

/// A step, by its place in [`crate::Plan::steps`]; `plan[step]` is the step.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(transparent)]
pub struct StepRef(pub usize);

/// A pile, by its place in [`crate::Plan::piles`]; `plan[pile]` is the pile.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(transparent)]
pub struct PileRef(pub usize);
