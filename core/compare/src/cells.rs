//! The squares of one tube, each by what was mixed with it, and those that two tubes share.

use std::borrow::Cow;
use std::cmp::Ordering;
use std::sync::Arc;

use colour::Lab;
use mixing::{Constants, InternalReflectance, predict};
use study::{Part, TubeLabel};

use crate::told::{Frame, Subject};

/// Parts are the same within this, as ln.
const SAME_PARTS: f64 = 0.03;

/// Where a colour comes from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Origin {
    /// It was read.
    Read,
    /// It was brought over from parts that were read on both sides of these, by K and S.
    Between,
    /// It was predicted by K and S alone.
    Predicted,
}

/// What a mixture should look like, from K and S of everything in it.
#[derive(Debug, Clone)]
pub(crate) struct Recipe<'a> {
    /// Of the tube that is compared, one part of it.
    pub tube: Cow<'a, Constants>,
    /// Of what stands with it, with parts.
    pub others: Vec<(f64, Cow<'a, Constants>)>,
    pub paper: Option<&'a InternalReflectance>,
    pub frame: Frame,
}

impl Recipe<'_> {
    /// How its colour, with `times` as much of the tube, moves with ln of each amount, per axis: the tube's first.
    pub fn slopes(&self, times: f64) -> Vec<[f64; 3]> {
        let here = self.colour(times).axes();
        let of = |there: Lab| {
            let there = there.axes();
            [0, 1, 2].map(|axis| (there[axis] - here[axis]) / NUDGE.ln_1p())
        };
        let more = |at: usize| {
            let mut moved = self.clone();
            moved.others[at].0 *= 1.0 + NUDGE;
            of(moved.colour(times))
        };
        let own = of(self.colour(times * (1.0 + NUDGE)));
        std::iter::once(own).chain((0..self.others.len()).map(more)).collect()
    }

    /// With `times` as much of the tube.
    pub fn colour(&self, times: f64) -> Lab {
        let total = times + self.others.iter().map(|(parts, _)| parts).sum::<f64>();
        let others = self.others.iter().map(|(parts, of)| (parts / total, of.as_ref()));
        let known: Vec<(f64, &Constants)> =
            std::iter::once((times / total, self.tube.as_ref())).chain(others).collect();
        let internal = predict(&known, self.paper);
        Lab::from_reflectance(&internal.to_measured(self.frame.surface), self.frame.conditions)
    }
}

/// A square of one tube: dry, a full film over paper.
#[derive(Debug, Clone)]
pub(crate) struct Cell<'a> {
    /// The other tubes in it, each with its parts to one part of the tube.
    pub partners: Vec<(TubeLabel, f64)>,
    /// Parts of white to one part of the tube.
    pub white: f64,
    /// Its colour as the comparison sees it.
    pub lab: Lab,
    /// Half-width of the 95 % interval of its reading, per axis.
    pub half_width: [f64; 3],
    /// Its amounts were put out by eye. What a scale leaves of them is part of how two piles differ.
    pub by_eye: bool,
    /// Where that comes from.
    pub origin: Origin,
    /// `None` where K and S of something in it are not known.
    pub recipe: Option<Recipe<'a>>,
    /// The pictures it was read from.
    pub pictures: Vec<Arc<str>>,
    /// It was read from an uncalibrated picture.
    pub is_uncalibrated: bool,
    /// It was read from a photo.
    pub is_photo: bool,
}

impl Cell<'_> {
    pub fn is_mass_tone(&self) -> bool {
        self.partners.is_empty() && self.white == 0.0
    }

    /// What stands with the tube: the partners, or white alone.
    pub fn with(&self) -> String {
        let names: Vec<&str> = self.partners.iter().map(|(label, _)| label.name.as_str()).collect();
        if names.is_empty() { "white".into() } else { names.join(" and ") }
    }

    /// What moves its colour; `None` where K and S of something in it are not known.
    pub fn movable(&self) -> Option<Movable<'_>> {
        let recipe = self.recipe.as_ref()?;
        let (read, told) = (self.lab.axes(), recipe.colour(1.0).axes());
        Some(Movable { recipe, left: [0, 1, 2].map(|axis| read[axis] - told[axis]) })
    }

    /// Parts of the partners to one part of the tube.
    pub fn partner_parts(&self) -> f64 {
        self.partners.iter().map(|it| it.1).sum()
    }

    pub fn order(&self, other: &Self) -> Ordering {
        let names = self.with().cmp(&other.with());
        let parts = self.partner_parts().total_cmp(&other.partner_parts());
        names.then(parts).then(self.white.total_cmp(&other.white))
    }

    pub fn is_same(&self, other: &Cell<'_>) -> bool {
        self.partners.len() == other.partners.len()
            && near(self.white, other.white)
            && self.partners.iter().all(|(label, parts)| {
                let mut same = other.partners.iter().filter(|(it, _)| it == label);
                same.any(|(_, others)| near(*parts, *others))
            })
    }
}

/// For slopes, a share of an amount.
const NUDGE: f64 = 0.02;

/// A colour that follows the amount of its tube.
pub(crate) struct Movable<'a> {
    recipe: &'a Recipe<'a>,
    /// Read less predicted.
    left: [f64; 3],
}

impl Movable<'_> {
    /// The colour with `times` as much of the tube: what was read, moved by what K and S say of it.
    pub fn moved(&self, times: f64) -> Lab {
        let told = self.recipe.colour(times).axes();
        Lab::from_axes([0, 1, 2].map(|axis| told[axis] + self.left[axis]))
    }
}

fn near(one: f64, other: f64) -> bool {
    (one == 0.0 && other == 0.0) || (one / other).ln().abs() <= SAME_PARTS
}

/// Every square of a tube, as it would be seen there.
pub(crate) fn cells<'a>(subject: &Subject<'a>, frame: Frame) -> Vec<Cell<'a>> {
    let (told, tube) = (&subject.told, subject.tube);
    let of = |averaged: &study::Averaged| {
        let own = averaged.mixture.parts_of(tube);
        if own <= 0.0 {
            return None;
        }
        let mixed = averaged.mixture.parts().iter().filter(|part| part.tube != tube);
        let (white, partners): (Vec<&Part>, Vec<&Part>) =
            mixed.clone().partition(|part| Some(part.tube) == told.study.white);
        let partners = partners.iter().map(|it| (told.study.label(it.tube), it.parts / own));
        let from = averaged.colour.in_pictures.as_ref();
        let others = mixed
            .map(|part| Some((part.parts / own, Cow::Borrowed(told.constants(part.tube)?))))
            .collect::<Option<Vec<_>>>();
        let recipe = others.and_then(|others| {
            let tube = Cow::Borrowed(told.constants(tube)?);
            Some(Recipe { tube, others, paper: told.fitted.paper.as_ref(), frame })
        });
        Some(Cell {
            partners: partners.collect(),
            white: white.iter().map(|part| part.parts / own).sum(),
            lab: told.lab_in(&averaged.colour, frame)?,
            half_width: averaged.colour.half_width,
            by_eye: averaged.mixture.parts().len() > 1
                && told.study.protocol.is_by_eye(averaged.ratio_error),
            origin: Origin::Read,
            recipe,
            pictures: from.map(|from| from.pictures.clone()).unwrap_or_default(),
            is_photo: from.is_some_and(|from| from.is_photo),
            is_uncalibrated: from
                .is_some_and(|from| from.calibration == study::Calibration::Uncalibrated),
        })
    };
    told.averages.dry_on_paper().filter_map(of).collect()
}

/// Squares of two tubes that hold the same but for the tube, always in the same order, however they were read.
pub(crate) fn shared<'a>(one: &[Cell<'a>], other: &[Cell<'a>]) -> Vec<(Cell<'a>, Cell<'a>)> {
    let pair = |cell: &Cell<'a>| {
        let same = other.iter().find(|it| it.is_same(cell))?.clone();
        Some((cell.clone(), same))
    };
    let mut pairs: Vec<(Cell<'a>, Cell<'a>)> = one.iter().filter_map(pair).collect();
    pairs.sort_by(|(one, _), (other, _)| one.order(other));
    pairs
}
