//! K and S of a study's tubes, fitted to what was read of them.

use colour::{Lab, Reflectance};
use mixing::{
    ColourReading, Constants, Drawdown, InternalReflectance, Light, Surface, Tint, fit,
    fit_colours, white_constants,
};

use crate::averages::{Averaged, Averages, SwatchColour};
use crate::mixture::{Mixture, TubeRef};
use crate::reading::{Backing, RatioError, State};
use crate::study::Study;

/// What the readings tell of one tube.
#[derive(Debug, Clone, PartialEq)]
pub struct FittedTube {
    /// Its mass tone over paper.
    pub mass_tone: Option<Lab>,
    /// Its K and S, the white's S as unit.
    pub constants: Option<Constants>,
    /// Films over black and white and every tint were read as spectra; else K and S are the smoothest
    /// curves that give its colours, or its films are taken to hide.
    pub is_spectral: bool,
}

/// What the readings tell of every tube.
#[derive(Debug, Clone, PartialEq)]
pub struct FittedTubes {
    /// The surface they were read through; `None` where the readings are free of it.
    pub surface: Option<Surface>,
    /// The paper, its surface off.
    pub paper: Option<InternalReflectance>,
    /// By [`TubeRef`].
    pub tubes: Vec<FittedTube>,
}

impl FittedTubes {
    /// From averaged readings of the paints in a state: wet, how they look and mix before they dry. What
    /// is never painted is never wet.
    #[must_use]
    pub fn of(study: &Study, averages: &Averages, state: State) -> Self {
        Self::fitted(study, averages, state, true)
    }

    /// The same without the search that colours alone take, from the smoothest reflectance of each: quick,
    /// and near enough to tell how vivid mixtures can be.
    #[must_use]
    pub fn quickly(study: &Study, averages: &Averages) -> Self {
        Self::fitted(study, averages, State::Dry, false)
    }

    /// What meters tell, and K and S from pictures of the tubes that no meter read: too rough to be told, and good
    /// enough to say how a colour that was read moves with the amount of its tube.
    #[must_use]
    pub fn with_pictures(study: &Study, averages: &Averages) -> Self {
        let mut fitted = Self::of(study, averages, State::Dry);
        if averages.from_pictures.iter().sum::<usize>() == 0 {
            return fitted;
        }
        let surface = study.protocol.surface(None);
        let (state, search, pictures) = (State::Dry, false, true);
        let readings = Readings { study, averages, surface, state, search, pictures };
        let white = study.white.and_then(|white| white_constants(&readings.film(white)?));
        for (at, tube) in fitted.tubes.iter_mut().enumerate() {
            if tube.constants.is_none() {
                tube.constants = readings.constants(TubeRef(at), white.as_ref());
            }
        }
        fitted.paper = fitted.paper.or(readings.internal(&Mixture::bare(), Backing::Paper));
        fitted
    }

    fn fitted(study: &Study, averages: &Averages, state: State, search: bool) -> Self {
        let surface = study.protocol.surface(None);
        let readings = Readings { study, averages, surface, state, search, pictures: false };
        let white = study.white.and_then(|white| white_constants(&readings.film(white)?));
        let fitted = |tube| FittedTube {
            mass_tone: readings.lab(&Mixture::neat(tube)),
            constants: readings.constants(tube, white.as_ref()),
            is_spectral: readings.is_spectral(tube),
        };
        Self {
            surface,
            paper: readings.internal(&Mixture::bare(), Backing::Paper),
            tubes: (0..study.tubes.len()).map(TubeRef).map(fitted).collect(),
        }
    }
}

struct Readings<'a> {
    study: &'a Study,
    averages: &'a Averages,
    surface: Option<Surface>,
    /// In which state of the paint.
    state: State,
    /// Colours alone are searched for the curves that give them.
    search: bool,
    /// Colours from pictures count too.
    pictures: bool,
}

impl Readings<'_> {
    /// The full film of a mixture over a backing; what is never painted is always dry. Colours from pictures
    /// feed no fit that is told.
    fn film_of(&self, mixture: &Mixture, backing: Backing) -> Option<&SwatchColour> {
        let state = if mixture.is_bare() { State::Dry } else { self.state };
        self.averages.full(mixture, backing, state).filter(|it| self.counts(it))
    }

    /// Mixtures whose ratio was estimated by K and S are left out: they would confirm themselves.
    fn on_paper(&self) -> impl Iterator<Item = &Averaged> {
        let of_record = |it: &&Averaged| {
            self.counts(&it.colour) && !matches!(it.ratio_error, RatioError::Estimated(_))
        };
        self.averages.on_paper(self.state).filter(of_record)
    }

    fn counts(&self, colour: &SwatchColour) -> bool {
        self.pictures || colour.in_pictures.is_none()
    }

    fn lab(&self, mixture: &Mixture) -> Option<Lab> {
        self.film_of(mixture, Backing::Paper).map(|colour| colour.lab)
    }

    /// What a mixture reflects, its surface off; the smoothest reflectance where only its colour
    /// was read.
    fn internal(&self, mixture: &Mixture, backing: Backing) -> Option<InternalReflectance> {
        let conditions = self.study.conditions;
        let colour = self.film_of(mixture, backing)?;
        let reflectance = colour
            .reflectance
            .or_else(|| Reflectance::smoothest(colour.lab.to_xyz(conditions), conditions))?;
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

    /// The tube's film over black and white; one that was read over paper alone is taken to hide.
    fn film(&self, tube: TubeRef) -> Option<Drawdown> {
        self.drawdown(tube).or_else(|| {
            let film = self.internal(&Mixture::neat(tube), Backing::Paper)?;
            Some(Drawdown { over_black: film, over_white: film, black: film, white: film })
        })
    }

    /// True where some reading of the tube has no spectrum.
    fn colours_only(&self, tube: TubeRef) -> bool {
        let alone = |mixture: &Mixture| mixture.colours(self.study.white).all(|it| it.tube == tube);
        let mut of_tube = self.on_paper().filter(|averaged| alone(&averaged.mixture));
        of_tube.any(|averaged| averaged.colour.reflectance.is_none())
    }

    /// Every colour of a tube: its films over each backing that was read, and its tints.
    fn colours(&self, tube: TubeRef) -> Vec<ColourReading> {
        let neat = Mixture::neat(tube);
        let backings = [Backing::Paper, Backing::White, Backing::Black];
        let films = backings.into_iter().filter_map(|backing| {
            let lab = self.film_of(&neat, backing)?.lab;
            Some(ColourReading {
                tube: 1.0,
                backing: self.internal(&Mixture::bare(), backing),
                lab,
            })
        });
        let tints = self.tints(tube).filter_map(|(parts, mixture)| {
            Some(ColourReading {
                tube: 1.0 / (1.0 + parts),
                backing: None,
                lab: self.lab(mixture)?,
            })
        });
        films.chain(tints).collect()
    }

    /// Films over black and white and every tint were read as spectra.
    fn is_spectral(&self, tube: TubeRef) -> bool {
        let spectral = |mixture: &Mixture, backing| {
            let read = self.film_of(mixture, backing);
            read.is_some_and(|colour| colour.reflectance.is_some())
        };
        let neat = Mixture::neat(tube);
        let films = [Backing::Black, Backing::White].iter().all(|it| spectral(&neat, *it));
        let tints = self.tints(tube).all(|(_, mixture)| spectral(mixture, Backing::Paper));
        films && tints
    }

    /// Every dry tint of a tube, with its parts of white and its mixture.
    fn tints(&self, tube: TubeRef) -> impl Iterator<Item = (f64, &Mixture)> {
        self.on_paper().filter_map(move |averaged| {
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
        let fitted = fit(white, self.film(tube).as_ref(), &tints)?;
        if self.search && self.colours_only(tube) {
            let light = Light { conditions: self.study.conditions, surface: self.surface };
            return fit_colours(white, &fitted, &self.colours(tube), light);
        }
        Some(fitted)
    }
}
