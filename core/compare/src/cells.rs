//! The squares of one tube, each by what was mixed with it, and those that two tubes share.

use std::cmp::Ordering;
use std::sync::Arc;

use colour::Lab;
use study::{Mixture, Part, TubeLabel};

use crate::told::{Frame, Subject};

/// Parts are the same within this, as ln.
const SAME_PARTS: f64 = 0.03;

/// A square of one tube: dry, a full film over paper.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Cell {
    /// The other tubes in it, each with its parts to one part of the tube.
    pub partners: Vec<(TubeLabel, f64)>,
    /// Parts of white to one part of the tube.
    pub white: f64,
    /// What was mixed.
    pub mixture: Mixture,
    /// Its colour as the comparison sees it.
    pub lab: Lab,
    /// The pictures it was read from.
    pub pictures: Vec<Arc<str>>,
    /// It was read from an uncalibrated picture.
    pub is_uncalibrated: bool,
}

impl Cell {
    pub fn is_mass_tone(&self) -> bool {
        self.partners.is_empty() && self.white == 0.0
    }

    /// What stands with the tube: the partners, or white alone.
    pub fn with(&self) -> String {
        let names: Vec<&str> = self.partners.iter().map(|(label, _)| label.name.as_str()).collect();
        if names.is_empty() { "white".into() } else { names.join(" and ") }
    }

    fn order(&self, other: &Self) -> Ordering {
        let parts = |cell: &Self| cell.partners.iter().map(|it| it.1).sum::<f64>();
        let names = self.with().cmp(&other.with());
        names.then(parts(self).total_cmp(&parts(other))).then(self.white.total_cmp(&other.white))
    }

    fn is_same(&self, other: &Self) -> bool {
        self.partners.len() == other.partners.len()
            && near(self.white, other.white)
            && self.partners.iter().all(|(label, parts)| {
                let mut same = other.partners.iter().filter(|(it, _)| it == label);
                same.any(|(_, others)| near(*parts, *others))
            })
    }
}

fn near(one: f64, other: f64) -> bool {
    (one == 0.0 && other == 0.0) || (one / other).ln().abs() <= SAME_PARTS
}

/// Every square of a tube, as it would be seen there.
pub(crate) fn cells(subject: &Subject<'_>, frame: Frame) -> Vec<Cell> {
    let (told, tube) = (&subject.told, subject.tube);
    let of = |averaged: &study::Averaged| {
        let own = averaged.mixture.parts_of(tube);
        if own <= 0.0 {
            return None;
        }
        let mixed = averaged.mixture.parts().iter().filter(|part| part.tube != tube);
        let (white, partners): (Vec<&Part>, Vec<&Part>) =
            mixed.partition(|part| Some(part.tube) == told.study.white);
        let partners = partners.iter().map(|it| (told.study.label(it.tube), it.parts / own));
        let from = averaged.colour.in_pictures.as_ref();
        Some(Cell {
            partners: partners.collect(),
            white: white.iter().map(|part| part.parts / own).sum(),
            mixture: averaged.mixture.clone(),
            lab: told.lab_in(&averaged.colour, frame)?,
            pictures: from.map(|from| from.pictures.clone()).unwrap_or_default(),
            is_uncalibrated: from
                .is_some_and(|from| from.calibration == study::Calibration::Uncalibrated),
        })
    };
    told.averages.dry_on_paper().filter_map(of).collect()
}

/// Squares of two tubes that hold the same but for the tube, always in the same order, however they were read.
pub(crate) fn shared(one: Vec<Cell>, other: &[Cell]) -> Vec<(Cell, Cell)> {
    let pair = |cell: Cell| {
        let same = other.iter().find(|it| it.is_same(&cell))?.clone();
        Some((cell, same))
    };
    let mut pairs: Vec<(Cell, Cell)> = one.into_iter().filter_map(pair).collect();
    pairs.sort_by(|(one, _), (other, _)| one.order(other));
    pairs
}
