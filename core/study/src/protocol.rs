//! How the mixtures of a trial were made and read.

use mixing::{Geometry, Sheen, Surface};
use serde::{Deserialize, Serialize};

use crate::{RatioError, short_names};

/// How the parts were measured out.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default, Serialize, Deserialize)]
pub enum Basis {
    /// On a scale.
    #[default]
    Weight,
    /// By spoon or syringe.
    Volume,
    /// By eye: the ratio is only meant, not known.
    Eye,
}

short_names!(
    Basis,
    "basis",
    "weight, volume or eye",
    Weight = "weight",
    Volume = "volume",
    Eye = "eye"
);

/// How the mixtures were made and read; decides the intervals and the surface correction.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Protocol {
    /// How the parts were measured out.
    pub basis: Basis,
    /// Resolution of the scale in g, above 0; `None` when it was not stated.
    pub scale_g: Option<f64>,
    /// Weight of one pile in g, above 0; `None` when it was not stated.
    pub pile_g: Option<f64>,
    /// The instrument's stated repeatability, MCDM in ΔE00, above 0; `None` when not stated.
    pub repeatability: Option<f64>,
    /// Measuring geometry.
    pub geometry: Geometry,
    /// Sheen of the dry film.
    pub sheen: Sheen,
}

impl Default for Protocol {
    fn default() -> Self {
        Self {
            basis: Basis::Weight,
            scale_g: None,
            pile_g: None,
            repeatability: None,
            geometry: Geometry::default(),
            sheen: Sheen::default(),
        }
    }
}

impl Protocol {
    /// Taken where the scale is not stated, in g (common practice, no source).
    pub const ASSUMED_SCALE_G: f64 = 0.01;
    /// Taken where the pile is not stated, in g (common practice, no source).
    pub const ASSUMED_PILE_G: f64 = 2.0;
    /// Taken where the instrument's repeatability is not stated, MCDM in ΔE00 (from memory: what
    /// hand-held instruments are sold with lies between 0.05 and 0.1).
    pub const ASSUMED_REPEATABILITY: f64 = 0.1;
    /// Error of a part by volume, one standard deviation, as a share of it.
    const VOLUME_ERROR: f64 = 0.05;
    /// Error of an amount that was put out by eye, one standard deviation of its logarithm (ours).
    pub const BY_EYE_ERROR: f64 = 0.25;

    /// The surface correction, with another internal reflection `k2` where one is to be tried.
    #[must_use]
    pub fn surface(&self, k2: Option<f64>) -> Option<Surface> {
        let nominal = Surface::nominal(self.geometry, self.sheen)?;
        Some(Surface { k2: k2.unwrap_or(nominal.k2), ..nominal })
    }

    /// Half-width (95 %) of ln(one part : the other part), where the two are the shares `one` and
    /// `other` (0–1) of a whole pile.
    ///
    /// What is known of the mixture itself comes first. Else a weighed amount is off by d/√12
    /// (rounding to the scale's step d), one by volume by 5 %, one by eye by
    /// [`Self::BY_EYE_ERROR`].
    #[must_use]
    pub fn ratio_half_width(&self, known: RatioError, one: f64, other: f64) -> f64 {
        if let RatioError::Known(sigma) | RatioError::Estimated(sigma) = known {
            return colour::NORMAL_95 * sigma;
        }
        let basis = if self.is_by_eye(known) { Basis::Eye } else { self.basis };
        let relative = |share: f64| match basis {
            Basis::Weight => {
                let step = self.scale_g.unwrap_or(Self::ASSUMED_SCALE_G);
                let pile = self.pile_g.unwrap_or(Self::ASSUMED_PILE_G);
                step / 12.0_f64.sqrt() / (pile * share)
            }
            Basis::Volume => Self::VOLUME_ERROR,
            Basis::Eye => Self::BY_EYE_ERROR,
        };
        colour::NORMAL_95 * relative(one).hypot(relative(other))
    }

    /// True where a mixture of this ratio error was put out by eye.
    #[must_use]
    pub fn is_by_eye(&self, known: RatioError) -> bool {
        match known {
            RatioError::ByEye => true,
            RatioError::AsStated => self.basis == Basis::Eye,
            RatioError::Known(_) | RatioError::Estimated(_) => false,
        }
    }
}
