//! A colour that was read, beside what was predicted.

use colour::{Lab, Reflectance};
use plan::prior::{Prior, PriorLevel};
use study::Mixture;

/// A colour that was read, and how well.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ReadColour {
    /// The mean of its readings.
    pub lab: Lab,
    /// The mean reflectance, where spectra were read.
    pub reflectance: Option<Reflectance>,
    /// One standard deviation of that mean, ΔE.
    pub spread: f64,
    /// A ratio that it tells may be off by this factor, 1 or more, whatever else is known.
    pub least_factor: f64,
}

/// How far a mixture's colour usually lies from its prediction, one σ in ΔE: from mixtures that were
/// held back (docs/science.md), 95th percentiles with the usual errors over 1.96.
pub(super) fn model_miss(prior: &Prior, mixture: &Mixture, with_white: bool) -> Option<f64> {
    let level = prior.level(mixture.parts().iter().map(|part| part.tube))?;
    Some(match (mixture.parts().len(), level, with_white) {
        // One tube alone was read itself.
        (1, PriorLevel::KAndS | PriorLevel::Strengths, _) => 0.3,
        (_, PriorLevel::KAndS, true) => 0.25,
        (_, PriorLevel::KAndS, false) => 1.1,
        (_, PriorLevel::Strengths, true) => 0.5,
        (_, PriorLevel::Strengths, false) => 1.5,
        // What a typical paint would do tells nothing of a pile that was mixed of real ones.
        (_, PriorLevel::Typical, _) => return None,
    })
}
