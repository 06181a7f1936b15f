//! Everything the figures are worked out from: tubes, readings and the circumstances they share.

use colour::Conditions;

use crate::{Mixture, Protocol, Reading, TubeLabel, TubeRef};

/// Tubes, circumstances and readings: what [`figures::analyse`] works from.
#[derive(Debug, Clone, PartialEq)]
pub struct Study {
    /// Illuminant and observer of every figure.
    pub conditions: Conditions,
    /// How the mixtures were made and read.
    pub protocol: Protocol,
    /// The tubes in the order they first appear.
    pub tubes: Vec<TubeLabel>,
    /// Which of them is the white.
    pub white: Option<TubeRef>,
    /// What was measured, void readings included.
    pub readings: Vec<Reading>,
}

impl Study {
    /// The label of a tube; an empty one for a reference to no tube.
    #[must_use]
    pub fn label(&self, tube: TubeRef) -> TubeLabel {
        self.tubes.get(tube.0).cloned().unwrap_or_default()
    }

    /// The tube of this name, the first where several share it.
    #[must_use]
    pub fn tube_named(&self, name: &str) -> Option<TubeRef> {
        self.tubes.iter().position(|tube| tube.name == name).map(TubeRef)
    }

    /// Parts of white to one part of colour in a mixture of this study.
    #[must_use]
    pub fn white_per_colour(&self, mixture: &Mixture) -> Option<f64> {
        mixture.white_per_colour(self.white)
    }
}
