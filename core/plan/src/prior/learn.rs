//! From the readings of a study to what they tell of its tubes.

use study::{Averages, FittedTubes, State, Study};

use super::{Known, Prior, PriorLevel};

/// Everything that the dry readings of a study tell of its tubes, by its own [`study::TubeRef`]s.
#[must_use]
pub fn learn(study: &Study) -> Prior {
    learn_averages(study, &Averages::of(study), State::Dry)
}

/// What averaged readings tell of the paints in a state: wet, how they look and mix before they dry.
#[must_use]
pub fn learn_averages(study: &Study, averages: &Averages, state: State) -> Prior {
    let fitted = FittedTubes::of(study, averages, state);
    let tubes = fitted.tubes.into_iter().map(|tube| Known {
        mass_tone: tube.mass_tone,
        constants: tube.constants,
        level: if tube.is_spectral { PriorLevel::KAndS } else { PriorLevel::Strengths },
        guessed: false,
    });
    Prior {
        conditions: study.conditions,
        surface: fitted.surface,
        paper: fitted.paper,
        tubes: tubes.collect(),
    }
}
