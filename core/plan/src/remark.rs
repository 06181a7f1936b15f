//! What the user should know of a plan before starting.

use serde::{Deserialize, Serialize};
use study::numbers::counted;
use study::{TubeLabel, TubeRef};

/// More tubes than this are counted, and not named one by one.
const MOST_NAMED: usize = 3;

/// Something to know before starting.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub enum Remark {
    /// A tube holds less than the plan takes.
    NotEnough {
        /// Which tube.
        tube: TubeRef,
        /// ml that the plan takes.
        takes_ml: f64,
        /// ml that are left.
        left_ml: f64,
    },
    /// The parents look alike: one mixture instead of a ladder.
    Alike {
        /// The first parent.
        from: TubeRef,
        /// The second.
        to: TubeRef,
        /// Their ΔE00.
        difference: f64,
    },
    /// More than eight tubes in a grid.
    LargeGrid {
        /// How many.
        tubes: usize,
        /// Minutes at the table that the whole plan takes.
        minutes: f64,
    },
    /// K and S do not describe a tube well.
    PoorFit {
        /// Which tube.
        tube: TubeRef,
        /// Root mean square of measured less fitted reflectance.
        residual: f64,
    },
    /// The order follows custom, since some tubes have never been read.
    CustomaryOrder {
        /// Those tubes.
        unread: Vec<TubeRef>,
    },
    /// Steps, order and predicted colours of these tubes come from typical paints.
    Typical {
        /// Those tubes.
        tubes: Vec<TubeRef>,
    },
    /// It is asked which of several is stronger, and there is one.
    OneTube,
    /// It is asked which is stronger, and each has one tint.
    OneTint,
    /// The paint dries longer than a day: dry readings are another day's work.
    AnotherDay {
        /// Days until everything is dry.
        days: f64,
    },
}

impl Remark {
    /// One plain sentence.
    #[must_use]
    pub fn sentence(&self, tubes: &[TubeLabel]) -> String {
        let name = |tube: &TubeRef| tubes.get(tube.0).map_or("?", |label| label.name.as_str());
        match self {
            Self::NotEnough { tube, takes_ml, left_ml } => format!(
                "Not enough left in {}: the plan takes {takes_ml:.1} ml, and {left_ml:.1} ml are \
                 left.",
                name(tube)
            ),
            Self::Alike { from, to, difference } => format!(
                "{} and {} look nearly alike (ΔE {difference:.1}): one mixture of them is enough, \
                 and a ladder would teach nothing.",
                name(from),
                name(to)
            ),
            Self::LargeGrid { tubes, minutes } => format!(
                "{tubes} tubes in a grid are too many for one sitting: the whole plan takes about \
                 {} at the table. Eight are enough.",
                counted((minutes / 60.0).ceil() as usize, "hour", "hours")
            ),
            Self::PoorFit { tube, residual } => format!(
                "K and S do not fit the readings of {} well (off by {:.1} % reflectance): take \
                 its predictions with caution.",
                name(tube),
                100.0 * residual
            ),
            Self::CustomaryOrder { unread } => {
                let names: Vec<&str> = unread.iter().map(name).collect();
                format!(
                    "Nothing is known yet of {}, so the order follows custom: light before dark, \
                     weak before strong, with a clean knife for every colour.",
                    names.join(", ")
                )
            }
            Self::Typical { tubes: unread } => {
                let names: Vec<&str> = unread.iter().map(name).collect();
                let of = match names.as_slice() {
                    few if few.len() <= MOST_NAMED => few.join(", "),
                    many => format!("{} tubes", many.len()),
                };
                format!(
                    "Too little was read yet of {of}: steps, order and predicted colours are those of \
                     typical paints of the same pigments, and not of your tubes."
                )
            }
            Self::OneTube => {
                "One tube alone is neither strong nor weak: choose two or more to compare.".into()
            }
            Self::OneTint => {
                "One tint of each tells little of their strength: three or more, such as \
                              1, 4 and 16 parts of white, tell it as a range."
                    .into()
            }
            Self::AnotherDay { days } => format!(
                "The paint takes about {days:.0} days to dry: the dry readings are another day’s \
                 work."
            ),
        }
    }
}
