//! From the readings of a study to what they tell of its tubes.

use colour::{Lab, Reflectance};
use mixing::{Constants, Drawdown, InternalReflectance, Surface, Tint, fit, white_constants};

use super::{Channels, Known, Prior};
use crate::figures::average::Averages;
use crate::{Backing, Mixture, Study, TubeRef};

/// Everything that a study tells of its tubes, by its own [`TubeRef`]s.
#[must_use]
pub fn learn(study: &Study) -> Prior {
    let averages = Averages::of(study, &mut Vec::new());
    let surface = study.protocol.surface(None);
    let readings = Readings { study, averages: &averages, surface };
    let white = study.white.and_then(|white| white_constants(&readings.drawdown(white)?));
    let tubes = (0..study.tubes.len())
        .map(TubeRef)
        .map(|tube| Known {
            mass_tone: readings.lab(&Mixture::neat(tube)),
            constants: readings.constants(tube, white.as_ref()),
            channels: readings.channels(tube),
            guessed: false,
        })
        .collect();
    Prior {
        conditions: study.conditions,
        surface,
        paper: readings.internal(&Mixture::bare(), Backing::Paper),
        tubes,
    }
}

struct Readings<'a> {
    study: &'a Study,
    averages: &'a Averages,
    surface: Option<Surface>,
}

impl Readings<'_> {
    fn lab(&self, mixture: &Mixture) -> Option<Lab> {
        self.averages.dry(mixture, Backing::Paper).map(|colour| colour.lab)
    }

    fn internal(&self, mixture: &Mixture, backing: Backing) -> Option<InternalReflectance> {
        let reflectance: Reflectance = self.averages.dry(mixture, backing)?.reflectance?;
        Some(InternalReflectance::from_measured(&reflectance, self.surface))
    }

    fn drawdown(&self, tube: TubeRef) -> Option<Drawdown> {
        let (neat, bare) = (Mixture::neat(tube), Mixture::bare());
        Some(Drawdown {
            over_black: self.internal(&neat, Backing::Black)?,
            over_white: self.internal(&neat, Backing::White)?,
            black: self.internal(&bare, Backing::Black)?,
            white: self.internal(&bare, Backing::White)?,
        })
    }

    /// Every dry tint of a tube, with its parts of white and its mixture.
    fn tints(&self, tube: TubeRef) -> impl Iterator<Item = (f64, &Mixture)> {
        self.averages.dry_on_paper().filter_map(move |averaged| {
            let parts = self.study.white_per_colour(&averaged.mixture)?;
            let of_tube = averaged.mixture.colours(self.study.white).all(|part| part.tube == tube);
            (of_tube && parts > 0.0).then_some((parts, &averaged.mixture))
        })
    }

    fn constants(&self, tube: TubeRef, white: Option<&Constants>) -> Option<Constants> {
        let white = white?;
        if Some(tube) == self.study.white {
            return Some(white.clone());
        }
        let tints: Vec<Tint> = self
            .tints(tube)
            .filter_map(|(parts, mixture)| {
                let reflectance = self.internal(mixture, Backing::Paper)?;
                Some(Tint { tube: 1.0 / (1.0 + parts), reflectance })
            })
            .collect();
        fit(white, self.drawdown(tube).as_ref(), &tints)
    }

    fn channels(&self, tube: TubeRef) -> Option<Channels> {
        let (surface, conditions) = (self.surface, self.study.conditions);
        let white = self.lab(&Mixture::neat(self.study.white?))?;
        if Some(tube) == self.study.white {
            return Some(Channels::of_white(white, surface, conditions));
        }
        let tints: Vec<(f64, Lab)> = self
            .tints(tube)
            .filter_map(|(parts, mixture)| Some((parts, self.lab(mixture)?)))
            .collect();
        Channels::learn(white, self.lab(&Mixture::neat(tube))?, &tints, surface, conditions)
    }
}
