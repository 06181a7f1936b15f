//! Tubes of the shelf beside each other, from all that was read of them.
//!
//! 1. `ask`: what is asked for; `gathered`: trials of one footing as one study.
//! 2. `pairs`: every two of the chosen tubes; `beside`: each tube beside the standard; `comparison`: all of it.
//! 3. `by_eye`: what eyes alone have judged; `drifted`: a tube read more than once.
//! 4. `missing`: what would make two of them comparable.
//! 5. `shelf`: every tube of the shelf beside every other; `owned`: look-alikes of what is to be tested.

mod ask;
mod beside;
mod by_eye;
mod comparison;
mod drifted;
mod gathered;
mod missing;
mod owned;
mod pairs;
mod shelf;

pub use ask::MOST_COMPARED;
pub use beside::{Beside, OneStep, PartnerSquare, WithPartner};
pub use comparison::Comparison;
pub use drifted::TubeDrift;
pub(crate) use gathered::Gathered;
pub use owned::OwnedTwin;
pub use pairs::ComparedPair;
pub(crate) use pairs::verdict;
pub use shelf::{MostLike, ShelfLookAlike, ShelfLookAlikes};
