//! Tubes beside each other: all that is told of them.

use std::sync::Arc;

use colour::Conditions;
use store::ShelfTube;

use super::beside::{self, Beside, WithPartner};
use super::drifted::{self, TubeDrift};
use super::gathered::Gathered;
use super::pairs::{self, ComparedPair};
use crate::analysed::AnalysedTrial;

/// Tubes beside each other.
#[derive(Debug)]
pub struct Comparison {
    /// The chosen tubes, in their order, the standard first.
    pub tubes: Vec<Beside>,
    /// Illuminant and observer of every colour.
    pub conditions: Conditions,
    /// Depths of the rack, ΔE*ab from the white, the deepest first; empty where the tubes share none.
    pub depths: Vec<f64>,
    /// Each with each.
    pub pairs: Vec<ComparedPair>,
    /// With each partner that the standard and another tube were mixed with, at equal strength.
    pub partners: Vec<WithPartner>,
    /// What eyes alone have judged of them.
    pub by_eye: Vec<String>,
    /// Tubes among them that were read more than once.
    pub drifts: Vec<TubeDrift>,
    /// The parts of its tints were weighed.
    pub by_weight: bool,
}

impl Comparison {
    pub(super) fn of(
        tubes: &[ShelfTube],
        telling: &[Arc<AnalysedTrial>],
        by_eye: Vec<String>,
    ) -> Self {
        let gathered = Gathered::all(telling);
        let pairs = pairs::all(tubes, &gathered);
        let (depths, beside) = beside::all(tubes, &gathered, &pairs);
        let partners = beside::partners(tubes.len(), &pairs);
        let drifts = drifted::all(tubes, telling);
        let first = beside::telling_most(&tubes[0], &gathered);
        Self {
            tubes: beside,
            conditions: first.map_or(Conditions::D65_10, Gathered::conditions),
            depths,
            pairs,
            partners,
            by_eye,
            drifts,
            by_weight: first.is_none_or(|it| it.protocol().basis == study::Basis::Weight),
        }
    }

    /// Two of its tubes, by their places.
    #[must_use]
    pub fn pair(&self, one: usize, other: usize) -> Option<&ComparedPair> {
        self.pairs.iter().find(|pair| pair.of == [one.min(other), one.max(other)])
    }
}
