//! What is known of one square: read, or predicted, or nothing; and what the eye saw.

use std::collections::HashMap;

use bench::Square;
use colour::Lab;
use plan::prior::{Prior, PriorLevel};
use plan::{CellNumber, Naming};
use study::{Averaged, Backing, FilmKind, Mixture, Part, RatioError, SwatchColour, TubeRef};

use super::Pale;
use crate::analysed::AnalysedTrial;

/// A square as a chart shows it.
#[derive(Debug, Clone)]
pub struct Shown {
    /// Its colour.
    pub colour: ShownColour,
    /// Its number, where it is planned.
    pub number: Option<CellNumber>,
    /// It is painted.
    pub laid: bool,
    /// What it is: tubes and ratio.
    pub label: String,
    /// What the eye saw, and what was noted, in words.
    pub seen: Vec<String>,
    /// How vivid the eye saw it.
    pub vividness: Option<bench::EyeVividness>,
    /// Where the eye saw it lean.
    pub lean: Option<bench::Lean>,
}

/// Where a colour comes from.
#[derive(Debug, Clone)]
pub enum ShownColour {
    /// It was read.
    Read {
        /// The mean of its readings.
        colour: Box<SwatchColour>,
        /// Its ratio was estimated from its colour.
        estimated: bool,
    },
    /// It is predicted.
    Predicted {
        /// The colour.
        lab: Lab,
        /// From typical paints, and not from these tubes.
        typical: bool,
    },
    /// Nobody knows.
    Unknown,
}

impl ShownColour {
    /// The colour, read or predicted.
    #[must_use]
    pub fn lab(&self) -> Option<Lab> {
        match self {
            Self::Read { colour, .. } => Some(colour.lab),
            Self::Predicted { lab, .. } => Some(*lab),
            Self::Unknown => None,
        }
    }

    /// True where it was read.
    #[must_use]
    pub fn is_read(&self) -> bool {
        matches!(self, Self::Read { .. })
    }
}

/// A planned or read mixture over paper.
pub(super) struct OneSquare {
    pub colours: Vec<Part>,
    pub white: f64,
    pub film: FilmKind,
    pub number: Option<CellNumber>,
}

impl OneSquare {
    /// True for a square of this kind: neat, with so much white, or thin.
    pub fn is(&self, pale: Pale) -> bool {
        match pale {
            Pale::None => self.white == 0.0 && self.film == FilmKind::Full,
            Pale::Film => self.white == 0.0 && self.film == FilmKind::Thin,
            Pale::White(parts) => {
                self.film == FilmKind::Full && figures::same_parts(self.white, parts)
            }
        }
    }
}

/// Everything that was planned or read.
pub(super) struct Squares<'a> {
    analysed: &'a AnalysedTrial,
    prior: &'a Prior,
    naming: Naming,
    list: Vec<OneSquare>,
    /// What stands beside the neat colours.
    pub pale: Pale,
    /// By the colours' shares, full strength and tint.
    numbers: HashMap<(Vec<(TubeRef, u32)>, bool), CellNumber>,
}

impl<'a> Squares<'a> {
    pub fn of(analysed: &'a AnalysedTrial, prior: &'a Prior) -> Self {
        let white = analysed.study.white;
        let square = |mixture: &Mixture, film: FilmKind, number: Option<CellNumber>| OneSquare {
            colours: mixture.colours(white).copied().collect(),
            white: mixture.white_per_colour(white).unwrap_or_default(),
            film,
            number,
        };
        let planned = analysed.trial.swatches.iter().map(|planned| &planned.swatch);
        let planned = planned.filter(|swatch| swatch.backing == Backing::Paper);
        let mut list: Vec<OneSquare> = planned
            .map(|swatch| square(&swatch.mixture, swatch.film, Some(swatch.number)))
            .collect();
        if list.is_empty() {
            let read = analysed.averages().dry_on_paper();
            list.extend(read.map(|it| square(&it.mixture, FilmKind::Full, None)));
        }
        let pale = pale(&list);
        let mut numbers = HashMap::new();
        for square in list.iter().rev() {
            let key = Mixture::new(square.colours.iter().copied()).ratio_key();
            if let (Some(number), true) = (square.number, square.is(Pale::None)) {
                numbers.insert((key, false), number);
            } else if let (Some(number), true) = (square.number, square.is(pale)) {
                numbers.insert((key, true), number);
            }
        }
        let naming = analysed.trial.naming();
        Self { analysed, prior, naming, list, pale, numbers }
    }

    pub fn all(&self) -> &[OneSquare] {
        &self.list
    }

    /// The number of the square that shows some colours, neat or paler.
    pub fn number_of(&self, colours: &Mixture, pale: Pale) -> Option<CellNumber> {
        self.numbers.get(&(colours.ratio_key(), pale != Pale::None)).copied()
    }

    /// The paler colour, where there is one.
    pub fn paler(
        &self,
        colours: &Mixture,
        pale: Pale,
        number: Option<CellNumber>,
    ) -> Option<Shown> {
        (pale != Pale::None).then(|| self.shown(colours, pale, number))
    }

    /// Some colours neat or paler, as far as anything is known of them.
    pub fn shown(&self, colours: &Mixture, pale: Pale, number: Option<CellNumber>) -> Shown {
        let film = if pale == Pale::Film { FilmKind::Thin } else { FilmKind::Full };
        self.mixture(self.with_white(colours, pale), film, number)
    }

    /// The square of a number, where it is painted on paper.
    pub fn square(&self, number: CellNumber) -> Option<Shown> {
        let swatch = &number.of(&self.analysed.trial.swatches)?.swatch;
        let painted = swatch.backing == Backing::Paper && !swatch.mixture.is_bare();
        painted.then(|| self.mixture(swatch.mixture.clone(), swatch.film, Some(number)))
    }

    fn mixture(&self, planned: Mixture, film: FilmKind, number: Option<CellNumber>) -> Shown {
        let run = self.analysed.trial.run();
        // What was really put together is where its reading stands.
        let held = number.and_then(|number| run?.mixture(number).cloned()).unwrap_or(planned);
        let done = number.and_then(|number| run?.square(number));
        let label = self.naming.mixture(&held, Backing::Paper, film);
        Shown {
            colour: self.colour(&held, film),
            number,
            laid: done.is_some_and(|done| done.laid.is_some()),
            label: format!("{} {}", label.tubes, label.ratio).trim().to_owned(),
            seen: done.map(Square::seen).unwrap_or_default(),
            vividness: done.and_then(|done| done.looks.vividness),
            lean: done.and_then(|done| done.looks.lean),
        }
    }

    fn colour(&self, mixture: &Mixture, film: FilmKind) -> ShownColour {
        if film == FilmKind::Thin {
            // A film of nobody knows what thickness is not predicted.
            return match self.analysed.averages().thin(mixture) {
                Some(colour) => {
                    ShownColour::Read { colour: Box::new(colour.clone()), estimated: false }
                }
                None => ShownColour::Unknown,
            };
        }
        if let Some(averaged) = self.analysed.averages().dry_averaged(mixture) {
            return read(averaged);
        }
        let tubes = mixture.parts().iter().map(|part| part.tube);
        match (self.prior.colour(mixture), self.prior.level(tubes)) {
            (Some(lab), Some(level)) => {
                ShownColour::Predicted { lab, typical: level == PriorLevel::Typical }
            }
            _ => ShownColour::Unknown,
        }
    }

    fn with_white(&self, colours: &Mixture, pale: Pale) -> Mixture {
        let (Pale::White(parts), Some(tube)) = (pale, self.analysed.study.white) else {
            return colours.clone();
        };
        let white = Part { tube, parts: parts * colours.total() };
        Mixture::new(colours.parts().iter().copied().chain([white]))
    }
}

/// What most mixtures stand in beside their neat colour; of equals the least white.
fn pale(list: &[OneSquare]) -> Pale {
    let mixed = |square: &&OneSquare| square.colours.len() > 1;
    let mut counts: Vec<(Pale, usize)> = Vec::new();
    for square in list.iter().filter(mixed) {
        let pale = match (square.film, square.white) {
            (FilmKind::Thin, _) => Pale::Film,
            (FilmKind::Full, white) if white > 0.0 => Pale::White(white),
            _ => continue,
        };
        match counts.iter_mut().find(|(known, _)| square.is(*known)) {
            Some((_, count)) => *count += 1,
            None => counts.push((pale, 1)),
        }
    }
    let parts = |pale: &Pale| match pale {
        Pale::White(parts) => *parts,
        _ => f64::INFINITY,
    };
    counts.sort_by(|(one, count), (other, others)| {
        others.cmp(count).then(parts(one).total_cmp(&parts(other)))
    });
    counts.first().map_or(Pale::None, |(pale, _)| *pale)
}

fn read(averaged: &Averaged) -> ShownColour {
    let estimated = matches!(averaged.ratio_error, RatioError::Estimated(_));
    ShownColour::Read { colour: Box::new(averaged.colour.clone()), estimated }
}
