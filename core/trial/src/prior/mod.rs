//! What earlier readings tell of the tubes of a plan: enough to predict its mixtures, or less.
//!
//! [`learn`] takes it from a finished [`crate::Study`]; [`Prior`] predicts with it. Two models, the
//! better one first: K and S in 36 bands from spectra, and the same in the three tristimulus
//! channels from strengths, where there are no spectra.

mod channels;
mod learn;

use colour::{Conditions, Lab, Reflectance, ciede2000};
use mixing::{Constants, InternalReflectance, Surface, predict};

pub use channels::Channels;
pub use learn::learn;

use crate::{Mixture, Part, TubeRef};

/// Root mean square of measured less fitted reflectance above which a fit is not to be trusted
/// (ours): then the paint does not mix as the model says, or its parts were not what was written.
pub const POOR_FIT: f64 = 0.03;

/// L* of a paint that nobody has read, for the customary order alone.
const UNKNOWN_LIGHTNESS: f64 = 45.0;

/// What earlier readings tell of one tube.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Known {
    /// Its mass tone over paper.
    pub mass_tone: Option<Lab>,
    /// K and S from spectra.
    pub constants: Option<Constants>,
    /// K and S of the three tristimulus channels, from strengths.
    pub channels: Option<Channels>,
    /// All of it was read of another tube, which declares the same pigments.
    pub guessed: bool,
}

/// Which model a prediction comes from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Basis {
    /// K and S in 36 bands.
    KAndS,
    /// Strengths in the three tristimulus channels.
    Strengths,
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

    /// The best model that covers all of these tubes.
    #[must_use]
    pub fn basis(&self, tubes: impl IntoIterator<Item = TubeRef>) -> Option<Basis> {
        tubes
            .into_iter()
            .map(|tube| {
                let known = self.known(tube)?;
                let by_bands = known.constants.is_some().then_some(Basis::KAndS);
                by_bands.or(known.channels.as_ref().map(|_| Basis::Strengths))
            })
            .try_fold(Basis::KAndS, |worst, basis| Some(worst.max(basis?)))
    }

    /// The colour a mixture will have over paper, where every tube of it is known.
    #[must_use]
    pub fn colour(&self, mixture: &Mixture) -> Option<Lab> {
        match self.basis(mixture.parts().iter().map(|part| part.tube))? {
            Basis::KAndS => self.spectrum(mixture).map(|spectrum| self.lab(&spectrum)),
            Basis::Strengths => self.by_channels(mixture),
        }
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

    /// The same for mixtures, by the best model that covers both; `None` where none does.
    #[must_use]
    pub fn residue(&self, of: &Mixture, within: &Mixture, share: f64) -> Option<f64> {
        let of_total = of.total();
        let scaled = |mixture: &Mixture, by: f64| -> Vec<Part> {
            mixture.parts().iter().map(|part| Part { parts: part.parts * by, ..*part }).collect()
        };
        let clean = scaled(within, (1.0 - share) / within.total());
        let spoilt = Mixture::new(clean.into_iter().chain(scaled(of, share / of_total)));
        // Both by the same model, or the models' difference would look like a trace.
        let basis = self.basis(spoilt.parts().iter().map(|part| part.tube))?;
        let colour = |mixture: &Mixture| match basis {
            Basis::KAndS => self.colour(mixture),
            Basis::Strengths => self.by_channels(mixture),
        };
        Some(ciede2000(colour(within)?, colour(&spoilt)?).value())
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
            let known = self.known(part.tube).and_then(|known| known.channels);
            known.map_or(100.0, |channels| 10.0 * channels.k.iter().sum::<f64>())
        };
        let mean = |of: &dyn Fn(&Part) -> f64| {
            mixture.parts().iter().map(|part| share(part) * of(part)).sum::<f64>()
        };
        (mean(&lightness), mean(&strength))
    }

    fn lab(&self, spectrum: &Reflectance) -> Lab {
        Lab::from_reflectance(spectrum, self.conditions)
    }

    fn by_channels(&self, mixture: &Mixture) -> Option<Lab> {
        let total = mixture.total();
        let parts: Vec<(f64, Channels)> = mixture
            .parts()
            .iter()
            .map(|part| {
                let known = self.known(part.tube)?;
                let of_bands = || {
                    let constants = known.constants.as_ref()?;
                    Some(Channels::of_constants(constants, self.conditions))
                };
                Some((part.parts / total, known.channels.or_else(of_bands)?))
            })
            .collect::<Option<_>>()?;
        Channels::mixed(&parts).map(|mixed| mixed.colour(self.surface, self.conditions))
    }
}
