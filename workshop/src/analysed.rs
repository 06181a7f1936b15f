//! A trial with everything worked out.

use std::sync::{Arc, OnceLock};

use colour::{Conditions, Hue};
use figures::finding::{Finding, findings};
use figures::{Analysis, TubeFigures, analyse_averages};
use plan::prior::{Prior, learn_averages};
use study::{Averages, State, Study, SwatchColour, TubeRef};

use crate::open_trial::OpenTrial;

/// A trial, its figures and its findings.
#[derive(Debug)]
pub struct AnalysedTrial {
    /// The trial itself.
    pub trial: Arc<OpenTrial>,
    /// Without its readings: their averages stand beside it.
    pub study: Study,
    /// Its figures.
    pub analysis: Analysis,
    /// What they say.
    pub findings: Vec<Finding>,
    averages: Averages,
    prior: OnceLock<Prior>,
    wet_prior: OnceLock<Prior>,
}

impl AnalysedTrial {
    /// `before` is what was worked out of the same trial last.
    pub(crate) fn of(
        trial: Arc<OpenTrial>,
        standard: Option<TubeRef>,
        before: Option<&Self>,
    ) -> Self {
        let study = trial.circumstances_as_study();
        let same = before.filter(|it| it.trial.stamp.revision == trial.stamp.revision);
        let readings = trial.readings.iter().map(|stored| &stored.reading);
        let averages = Averages::again(&study, readings, same.map(|it| &it.averages));
        let analysis = analyse_averages(&study, &averages, standard);
        let findings = findings(&study, &analysis);
        Self {
            trial,
            study,
            analysis,
            findings,
            averages,
            prior: OnceLock::new(),
            wet_prior: OnceLock::new(),
        }
    }

    /// What it tells of its tubes, wet or dry, worked out when it is first asked.
    #[must_use]
    pub fn prior(&self, state: State) -> &Prior {
        let (kept, state) = match state {
            State::Wet => (&self.wet_prior, State::Wet),
            State::Dry | State::Lifted => (&self.prior, State::Dry),
        };
        kept.get_or_init(|| learn_averages(&self.study, &self.averages, state))
    }

    /// Its readings, averaged.
    pub(crate) fn averages(&self) -> &Averages {
        &self.averages
    }

    /// The figures of one of its tubes.
    #[must_use]
    pub fn tube(&self, tube: TubeRef) -> Option<&TubeFigures> {
        self.analysis.tubes.iter().find(|figures| figures.tube == tube)
    }
}

/// A tube's mass tone and truest tint, as far as they were read.
#[derive(Debug, Clone)]
pub struct KnownColour {
    /// Its mass tone.
    pub mass_tone: Option<SwatchColour>,
    /// Parts of white and colour.
    pub truest: Option<(f64, SwatchColour)>,
    /// Illuminant and observer of both.
    pub conditions: Conditions,
}

impl KnownColour {
    /// Hue of the truest tint, else of the mass tone.
    #[must_use]
    pub fn hue(&self) -> Option<Hue> {
        let truest = self.truest.as_ref().map(|(_, colour)| colour);
        truest.or(self.mass_tone.as_ref())?.lab.hue()
    }

    pub(crate) fn in_trial(analysed: &AnalysedTrial, tube: TubeRef) -> Option<Self> {
        let conditions = analysed.analysis.conditions;
        if let Some(white) = analysed.analysis.white.as_ref().filter(|white| white.tube == tube) {
            let mass_tone = Some(white.mass_tone.clone()?);
            return Some(Self { mass_tone, truest: None, conditions });
        }
        let figures = analysed.tube(tube)?;
        let truest = figures.truest_tint()?;
        Some(Self {
            mass_tone: figures.mass_tone().cloned(),
            truest: Some((truest.white_parts, truest.colour.clone())),
            conditions,
        })
    }
}
