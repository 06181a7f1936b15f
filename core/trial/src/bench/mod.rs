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

pub use cells::{NoCell, cells};
pub use estimate::{Estimate, PartEstimate, estimate};
pub use gap::{Gap, gap};
pub use look::{Cause, Look, Seen, look};
pub use repeats::{Apart, apart};

use colour::{Lab, Reflectance};

use crate::Mixture;
use crate::prior::{Basis, Prior};

/// A colour that was read, and how well.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SeenColour {
    /// The mean of its readings.
    pub lab: Lab,
    /// The mean reflectance, where spectra were read.
    pub reflectance: Option<Reflectance>,
    /// One standard deviation of that mean, ΔE.
    pub spread: f64,
}

/// How far a mixture's colour usually lies from its prediction, one σ in ΔE: from mixtures that were
/// held back (docs/science.md), 95th percentiles over 1.96.
fn model_miss(prior: &Prior, mixture: &Mixture, with_white: bool) -> Option<f64> {
    let basis = prior.basis(mixture.parts().iter().map(|part| part.tube))?;
    Some(match (mixture.parts().len(), basis, with_white) {
        // One tube alone was read itself.
        (1, _, _) => 0.3,
        (_, Basis::KAndS, true) => 0.25,
        (_, Basis::KAndS, false) => 0.8,
        (_, Basis::Strengths, true) => 0.5,
        (_, Basis::Strengths, false) => 1.5,
    })
}
