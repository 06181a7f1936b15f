//! At the bench: what a reading says of a mixture while the swatch is still there.
//!
//! [`apart`] points out a repeat that does not belong; [`gap`] a step of a ladder that jumps.
//! [`cells`] finds the cells of readings that came in a file.
//! [`estimate`] tells the real ratio of a mixture from its colour; [`look`] says whether a colour is
//! what the plan expects, and if not, what is the most likely cause.

mod cells;
mod estimate;
mod gap;
mod look;
mod repeats;
mod seen;

pub use cells::{NoCell, cells};
pub use estimate::{Estimate, PartEstimate, estimate};
pub use gap::{Gap, gap};
pub use look::{Cause, Look, Seen, look};
pub use repeats::{Apart, apart};
pub use seen::SeenColour;
