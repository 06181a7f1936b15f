//! Why a design cannot be planned, each with the nearest thing that works.

use std::fmt;

use study::TubeRef;

use crate::amounts::AmountError;
use crate::limits::{MOST_GRID, MOST_LADDERS, MOST_SQUARES};
use crate::steps::StepsError;

/// Why a design cannot be planned.
#[derive(Debug, Clone, PartialEq)]
pub enum PlanError {
    /// No chart asks for a swatch.
    NothingChosen,
    /// A tube is meant to be mixed with itself.
    AgainstItself(TubeRef),
    /// The third tube of a ladder is one of its ends, or its share is not between 0 and 1.
    Third(TubeRef),
    /// Tints are asked for, and there is no white.
    NoWhite,
    /// The white is under test, or in a grid or star, in its own right.
    WhiteTested,
    /// Parts of white that are not above 0 (alone) or below 0 (mixtures), or too many of them.
    Whites(f64),
    /// So many tubes in a grid.
    GridTooLarge(usize),
    /// So many squares.
    TooMany(usize),
    /// So many ladders.
    TooManyLadders(usize),
    /// Steps.
    Steps(StepsError),
    /// Scale, film or parts.
    Amount(AmountError),
    /// A square or film of no size.
    Film,
    /// The palette has room for fewer piles than one mixture needs at once.
    TooFewPlaces {
        /// Places there are.
        places: usize,
        /// Places that are needed at once.
        needed: usize,
    },
}

impl fmt::Display for PlanError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::NothingChosen => f.write_str(
                "choose a tube to test and what to mix it with: the swatches, the time and the paint it takes are shown here",
            ),
            Self::AgainstItself(_) => f.write_str(
                "a tube cannot be mixed with itself; choose another tube for one of the two",
            ),
            Self::Third(_) => f.write_str(
                "the third tube must be another than the two ends of the ladder, at more than 0 \
                 and less than 100 %",
            ),
            Self::NoWhite => f.write_str(
                "tints need a white; choose a palette or a tube that is white, or leave the tints \
                 out",
            ),
            Self::WhiteTested => f.write_str(
                "the white cannot be under test as well; choose another white, or make a ladder \
                 from a tube to the white",
            ),
            Self::Whites(found) => write!(
                f,
                "{found} parts of white to one; write up to 12 numbers from 0.1 to 1000, such as \
                 1, 2, 4"
            ),
            Self::GridTooLarge(tubes) => write!(
                f,
                "{tubes} tubes make {} mixtures; a grid takes up to {MOST_GRID} tubes here, and \
                 eight are enough for one sitting",
                tubes * (tubes - 1) / 2
            ),
            Self::TooMany(squares) => write!(
                f,
                "{squares} squares are too many for one trial; up to {MOST_SQUARES} work: plan \
                 fewer tubes, steps or tints, and a second trial for the rest"
            ),
            Self::TooManyLadders(ladders) => write!(
                f,
                "{ladders} ladders are too many for one trial; up to {MOST_LADDERS} work: plan \
                 fewer tubes, and a second trial for the rest"
            ),
            Self::Steps(error) => error.fmt(f),
            Self::Amount(error) => error.fmt(f),
            Self::Film => f.write_str(
                "square, film and density must be above 0; 20 mm, 0.15 mm and 1.3 g/ml are usual",
            ),
            Self::TooFewPlaces { places, needed } => write!(
                f,
                "one mixture with what is made from it takes {needed} places at once, and the \
                 palette has {places}; use one with {needed} or more"
            ),
        }
    }
}

impl std::error::Error for PlanError {}

impl From<StepsError> for PlanError {
    fn from(error: StepsError) -> Self {
        Self::Steps(error)
    }
}

impl From<AmountError> for PlanError {
    fn from(error: AmountError) -> Self {
        Self::Amount(error)
    }
}
