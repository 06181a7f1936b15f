//! At the bench: what a reading says of a mixture while the swatch is still there.
//!
//! [`outlier`] points out a repeat that does not belong; [`gap`] a step of a ladder that jumps.
//! [`cells`] finds the cells of readings that came in a file.
//! [`estimate`] tells the real ratio of a mixture from its colour; [`diagnose`] says whether a colour is
//! what the plan expects, and if not, what is the most likely cause; [`far_from_typical`] does so for a tube
//! of which only the pigments are known.

mod cells;
mod diagnose;
mod estimate;
mod gap;
mod repeats;
mod seen;
mod typical;

pub use cells::{NoCell, cells};
pub use diagnose::{Cause, Context, Diagnosis, diagnose};
pub use estimate::{Estimate, PartEstimate, estimate};
pub use gap::{Gap, gap};
pub use repeats::{Outlier, outlier};
pub use seen::ReadColour;
pub use typical::far_from_typical;
