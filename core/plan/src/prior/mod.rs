//! What earlier readings tell of the tubes of a plan: enough to predict its mixtures, or less.
//!
//! [`learn`] takes it from a finished [`study::Study`]; [`Prior`] predicts with it. There is one
//! model, K and S in 36 bands; where a tube's spectra are missing, each of its readings is taken to
//! be the smoothest reflectance of its colour ([`colour::Reflectance::smoothest`]).

mod adapt;
mod learn;

pub use adapt::{Adapted, EyeEvidence, SeenInTrial, adapted};
use colour::{Conditions, Lab, Reflectance, ciede2000};
pub use learn::{learn, learn_averages};
pub use mixing::POOR_FIT;
use mixing::typical::{constants_as_seen, typical_constants};
use mixing::{Constants, InternalReflectance, Surface, predict};
use study::{ColourIndexName, Mixture, Part, Tube, TubeRef};

/// L* of a paint that nobody has read, for the customary order alone.
const UNKNOWN_LIGHTNESS: f64 = 45.0;

/// What earlier readings tell of one tube.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Known {
    /// Its mass tone over paper.
    pub mass_tone: Option<Lab>,
    /// Its K and S.
    pub constants: Option<Constants>,
    /// What they come from.
    pub level: PriorLevel,
    /// Nothing of it was read of this tube: it is of another one that declares the same pigments, or typical.
    pub guessed: bool,
}

/// What a prediction rests on, the better first.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, PartialOrd, Ord)]
pub enum PriorLevel {
    /// K and S from spectra of the tube's films over black and white and of its tints.
    #[default]
    KAndS,
    /// How strong it is in its tints, from their colours alone or without films over black and
    /// white.
    Strengths,
    /// A typical paint of its pigments, and not the tube: load 0.5 to 1.6 times, hue ± 8°.
    Typical,
}

/// What is known before the first mixture of a plan is made.
#[derive(Debug, Clone, PartialEq)]
pub struct Prior {
    /// Illuminant and observer of every colour.
    pub conditions: Conditions,
    /// The surface that is put on a predicted film; `None` where readings are free of it.
    pub surface: Option<Surface>,
    /// The paper, its surface off.
    pub paper: Option<InternalReflectance>,
    /// By [`TubeRef`].
    pub tubes: Vec<Known>,
}

impl Known {
    /// The typical paint of a tube's name and pigments; nothing where it declares none, or one that is not known.
    #[must_use]
    pub fn typical<'a>(tube: &str, pigments: impl IntoIterator<Item = &'a str>) -> Option<Self> {
        let constants = Some(typical_constants(tube, pigments)?);
        Some(Self { mass_tone: None, constants, level: PriorLevel::Typical, guessed: true })
    }

    /// The same of a tube on the shelf, as somebody saw it.
    #[must_use]
    pub fn of_tube(tube: &Tube) -> Option<Self> {
        let names = tube.codes.iter().map(ColourIndexName::as_str);
        let constants = Some(constants_as_seen(&tube.name, names, tube.look.chosen())?);
        Some(Self { mass_tone: None, constants, level: PriorLevel::Typical, guessed: true })
    }
}

impl Prior {
    /// Nothing is known of so many tubes.
    #[must_use]
    pub fn nothing(tubes: usize, conditions: Conditions) -> Self {
        Self { conditions, surface: None, paper: None, tubes: vec![Known::default(); tubes] }
    }

    /// What is known of a tube.
    #[must_use]
    pub fn known(&self, tube: TubeRef) -> Option<&Known> {
        self.tubes.get(tube.0)
    }

    /// What a prediction of all of these tubes rests on; `None` where one of them is not known.
    #[must_use]
    pub fn level(&self, tubes: impl IntoIterator<Item = TubeRef>) -> Option<PriorLevel> {
        tubes
            .into_iter()
            .map(|tube| self.known(tube).filter(|known| known.constants.is_some()))
            .try_fold(PriorLevel::KAndS, |worst, known| Some(worst.max(known?.level)))
    }

    /// The colour a mixture will have over paper, where every tube of it is known.
    #[must_use]
    pub fn colour(&self, mixture: &Mixture) -> Option<Lab> {
        self.spectrum(mixture).map(|spectrum| self.lab(&spectrum))
    }

    /// The reflectance it will have, where K and S of every tube are known.
    #[must_use]
    pub fn spectrum(&self, mixture: &Mixture) -> Option<Reflectance> {
        let total = mixture.total();
        let parts: Vec<(f64, &Constants)> = mixture
            .parts()
            .iter()
            .map(|part| Some((part.parts / total, self.known(part.tube)?.constants.as_ref()?)))
            .collect::<Option<_>>()?;
        (!parts.is_empty()).then(|| predict(&parts, self.paper.as_ref()).to_measured(self.surface))
    }

    /// K and S of a mixture as a paint of its own; `None` where one of its tubes is not known.
    #[must_use]
    pub fn constants(&self, mixture: &Mixture) -> Option<Constants> {
        let parts: Vec<(f64, &Constants)> = mixture
            .parts()
            .iter()
            .map(|part| Some((part.parts, self.known(part.tube)?.constants.as_ref()?)))
            .collect::<Option<_>>()?;
        Constants::mixed(&parts)
    }

    /// The colour of a paint's film over paper.
    #[must_use]
    pub fn film(&self, paint: &Constants) -> Lab {
        self.lab(&predict(&[(1.0, paint)], self.paper.as_ref()).to_measured(self.surface))
    }

    /// ΔE00 that `share` (0–1) of one paint makes in another, whose clean colour is `clean`.
    #[must_use]
    pub fn trace(&self, of: &Constants, within: &Constants, clean: Lab, share: f64) -> f64 {
        let parts = [(1.0 - share, within), (share, of)];
        let spoilt = predict(&parts, self.paper.as_ref()).to_measured(self.surface);
        ciede2000(clean, self.lab(&spoilt)).value()
    }

    /// The same for mixtures; `None` where a tube of them is not known.
    #[must_use]
    pub fn residue(&self, of: &Mixture, within: &Mixture, share: f64) -> Option<f64> {
        let within = self.constants(within)?;
        Some(self.trace(&self.constants(of)?, &within, self.film(&within), share))
    }

    /// L* and strength in percent by which the customary order goes: as far as they are known, else
    /// guessed from the mass tone of a middling paint.
    #[must_use]
    pub fn custom(&self, mixture: &Mixture) -> (f64, f64) {
        let total = mixture.total();
        let share = |part: &Part| part.parts / total;
        let lightness = |part: &Part| {
            let known = self.known(part.tube).and_then(|known| known.mass_tone);
            known.map_or(UNKNOWN_LIGHTNESS, |lab| lab.l)
        };
        let strength = |part: &Part| {
            let constants = self.known(part.tube).and_then(|known| known.constants.as_ref());
            constants.map_or(100.0, |it| 100.0 * it.k.iter().sum::<f64>() / it.k.len() as f64)
        };
        let mean = |of: &dyn Fn(&Part) -> f64| {
            mixture.parts().iter().map(|part| share(part) * of(part)).sum::<f64>()
        };
        (mean(&lightness), mean(&strength))
    }

    fn lab(&self, spectrum: &Reflectance) -> Lab {
        Lab::from_reflectance(spectrum, self.conditions)
    }
}
