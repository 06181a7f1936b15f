//! What the work of a tube costs.

/// How well a tube's volume and its stated density are known (95 %, as ln), and what a density nobody knows leaves.
const VOLUME: f64 = 0.03;
const DENSITY: f64 = 0.02;
const NO_DENSITY: f64 = 0.25;

/// A tube as it is bought.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Bought {
    /// What it cost, above 0, in the currency of all that it is compared with.
    pub price: f64,
    /// ml, above 0.
    pub volume_ml: f64,
    /// g/ml, where it is known.
    pub density_g_ml: Option<f64>,
}

/// How mixtures were made.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum PartsBy {
    /// By weight.
    Weight,
    /// By volume, or by eye.
    Volume,
}

/// What a tube's work costs beside a standard.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Worth {
    /// Price of 1 ml.
    pub per_ml: f64,
    /// Price of what colours like 1 ml of the standard.
    pub as_strong: f64,
    /// Half-width of its 95 % interval, in the price's own unit.
    pub half_width: f64,
    /// ml of the standard whose work the whole tube does.
    pub does_ml: f64,
    /// The density of one of the two is not known.
    pub guessed_density: bool,
}

impl Bought {
    /// Price of 1 ml.
    #[must_use]
    pub fn per_ml(&self) -> f64 {
        self.price / self.volume_ml
    }

    /// The cost of what colours like 1 ml of the standard, price/(ml·s·ρ/ρ of the standard), or without the densities
    /// where parts are volumes. `parts` of this tube do what one part of the standard does, within `interval`.
    #[must_use]
    pub fn worth(&self, standard: &Self, parts: f64, interval: [f64; 2], by: PartsBy) -> Worth {
        let densities = self.density_g_ml.zip(standard.density_g_ml);
        let (ratio, density) = match (by, densities) {
            (PartsBy::Volume, _) => (1.0, 0.0),
            (PartsBy::Weight, Some((own, other))) => (own / other, DENSITY * f64::sqrt(2.0)),
            (PartsBy::Weight, None) => (1.0, NO_DENSITY),
        };
        let strength = (interval[1] / interval[0].max(f64::MIN_POSITIVE)).ln() / 2.0;
        let work = ratio / parts;
        let as_strong = self.per_ml() / work;
        let off = VOLUME.hypot(VOLUME).hypot(strength).hypot(density);
        Worth {
            per_ml: self.per_ml(),
            as_strong,
            half_width: as_strong * off,
            does_ml: self.volume_ml * work,
            guessed_density: by == PartsBy::Weight && densities.is_none(),
        }
    }

    /// The standard itself.
    #[must_use]
    pub fn worth_as_standard(&self) -> Worth {
        Worth {
            per_ml: self.per_ml(),
            as_strong: self.per_ml(),
            half_width: 0.0,
            does_ml: self.volume_ml,
            guessed_density: false,
        }
    }

    /// The cost of tinting 100 ml of white to one depth, where `white` parts of it go to one part of the tube: what
    /// tubes of different pigments are compared by. By weight the tube is taken to be as dense as the white.
    #[must_use]
    pub fn tinting_100_ml(&self, white: f64) -> f64 {
        100.0 / white * self.per_ml()
    }
}
