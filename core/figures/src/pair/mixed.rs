//! A mixture and its parents before they have figures.

use study::{SwatchColour, Uncertain};

use crate::footing::Footing;
use crate::interval::WhyNot;
use crate::ladder::{Ladder, Step};

/// One mixture before its figures.
#[derive(Debug, Clone)]
pub(super) struct Mixed {
    pub a_parts: f64,
    pub b_parts: f64,
    pub white_parts: f64,
    pub colour: SwatchColour,
    pub ratio: [f64; 3],
    pub ratio_half_width: f64,
    pub by_eye: bool,
    pub estimated: bool,
}

impl Mixed {
    pub fn uncertain(&self) -> Uncertain {
        self.colour.uncertain(self.ratio)
    }

    pub fn ln_ratio(&self) -> f64 {
        (self.b_parts / self.a_parts).ln()
    }
}

/// The parents as they stand at the same parts of white.
pub(super) struct Parents<'a> {
    pub a: Option<&'a Step>,
    pub b: Option<&'a Step>,
    /// `a`'s hue, or its truest tint's where that is near neutral, with the colour it is read from.
    pub reference: Option<Uncertain>,
}

impl<'a> Parents<'a> {
    pub fn find(a: &'a Ladder, b: &'a Ladder, white_parts: f64) -> Self {
        let own = a.at(white_parts);
        let truest = || a.truest().map(|at| a.steps[at].uncertain());
        let reference = match own {
            Some(step) if step.colour.lab.hue().is_some() => Some(step.uncertain()),
            Some(_) => truest(),
            None => None,
        };
        Self { a: own, b: b.at(white_parts), reference }
    }

    /// What these mixtures were read with, and both parents.
    pub fn footing<'c>(&self, mixed: impl IntoIterator<Item = &'c SwatchColour>) -> Footing
    where
        'a: 'c,
    {
        let parents = [self.a, self.b].into_iter().flatten().map(|step| &step.colour);
        Footing::of(mixed.into_iter().chain(parents))
    }

    pub fn both(&self) -> Result<[Uncertain; 2], WhyNot> {
        match (self.a, self.b) {
            (Some(a), Some(b)) => Ok([a.uncertain(), b.uncertain()]),
            _ => Err(WhyNot::ParentUnread),
        }
    }
}
