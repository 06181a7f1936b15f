//! Tubes of the shelf as paints: K and S by the white that most were read with, typical ones where nobody read them.

use std::sync::Arc;

use colour::Conditions;
use decide::{Paint, Paints, ReadMixture, Shares, Target, Widths, mixes_as_paint, read_mixtures};
use mixing::typical::LOAD_SIGMA;
use mixing::{Constants, InternalReflectance, POOR_FIT};
use plan::prior::PriorLevel;
use store::{PaletteId, ShelfTube, TrialSummary, TubeId};
use study::{Backing, Mixture, State, TubeRef};

use super::as_of::AsOf;
use super::evidence::{Evidence, EvidenceSource};
use super::white;
use crate::analysed::AnalysedTrial;
use crate::background::off_the_thread;
use crate::error::WorkshopError;
use crate::kept::{Kept, Same};
use crate::workshop::Workshop;

/// Which tubes are meant.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Which {
    /// Every tube of the shelf.
    Shelf,
    /// Those of a palette.
    Palette(PaletteId),
    /// These.
    These(Vec<TubeId>),
}

/// Tubes of the shelf as paints.
#[derive(Debug, Clone)]
pub struct KnownShelf {
    /// Their K and S, by place.
    pub paints: Paints,
    /// By place.
    pub tubes: Vec<ShelfTube>,
    /// What each rests on, by place.
    pub sources: Vec<EvidenceSource>,
    /// The white, where one is known.
    pub white: Option<ShelfTube>,
    /// It was read.
    white_is_read: bool,
    /// Tubes of which nothing is known.
    pub unknown: Vec<ShelfTube>,
    /// Those of them that were read, and do not mix as paint does.
    pub odd: Vec<TubeId>,
    /// How many mixtures that were read taught K and S.
    pub taught_by: usize,
    /// Trials with the same white, light and surface, the newest first.
    pub(crate) telling: Vec<Arc<AnalysedTrial>>,
}

impl KnownShelf {
    /// The place of a tube.
    #[must_use]
    pub fn place(&self, tube: TubeId) -> Option<usize> {
        self.tubes.iter().position(|it| it.id == tube)
    }

    /// Places of tubes that were read themselves.
    #[must_use]
    pub fn read(&self) -> Vec<usize> {
        (0..self.tubes.len()).filter(|at| self.is_read(*at)).collect()
    }

    /// A tube was read itself.
    #[must_use]
    pub fn is_read(&self, place: usize) -> bool {
        matches!(self.sources.get(place), Some(EvidenceSource::Readings(_)))
    }

    /// A trial tried others against this tube.
    #[must_use]
    pub fn is_reference(&self, tube: TubeId) -> bool {
        let mut tubes = self.telling.iter().flat_map(|analysed| &analysed.trial.tubes);
        tubes.any(|it| it.tube.id == tube && it.role == store::Role::Reference)
    }

    /// A simulated device made up some of what this rests on.
    #[must_use]
    pub fn is_simulated(&self) -> bool {
        self.telling.iter().any(|it| it.averages().counted.1 > 0)
    }

    /// The white stands for a typical one: nobody read it.
    #[must_use]
    pub fn is_white_typical(&self) -> bool {
        self.paints.white.is_some() && !self.white_is_read
    }

    /// Places of those of these tubes that are known.
    #[must_use]
    pub fn places(&self, tubes: &[TubeId]) -> Vec<usize> {
        tubes.iter().filter_map(|tube| self.place(*tube)).collect()
    }

    /// A tube was read, and K and S have no meaning for it.
    fn is_odd(&self, tube: TubeId, constants: Option<&Constants>) -> bool {
        self.telling.iter().any(|analysed| {
            let tubes = &analysed.trial.tubes;
            let at = tubes.iter().position(|it| it.tube.id == tube).map(TubeRef);
            let told = (&analysed.study, analysed.averages());
            at.is_some_and(|at| !mixes_as_paint(told, at, constants))
        })
    }

    /// What a tube looks like: as it was read, else as its K and S say.
    #[must_use]
    pub fn target(&self, place: usize) -> Option<Target> {
        let constants = &self.paints.tubes.get(place)?.constants;
        let id = self.tubes[place].id;
        let read = self.telling.iter().find_map(|analysed| {
            let at = analysed.trial.tubes.iter().position(|it| it.tube.id == id).map(TubeRef)?;
            analysed.averages().dry(&Mixture::neat(at), Backing::Paper)?;
            let told = (&analysed.study, analysed.averages());
            Target::of_tube(told, at, Some(constants), &self.paints).ok()
        });
        Some(read.unwrap_or_else(|| Target::of_constants(constants, &self.paints)))
    }
}

/// What the answer rests on.
type Asked = (AsOf, Same<Evidence>);

impl Workshop {
    /// The tubes of the shelf as paints, seen under the light of the newest trial of the white that most were read with.
    ///
    /// # Errors
    /// When the records cannot be read.
    pub async fn known_shelf(
        &self,
        trials: &[TrialSummary],
        shelf: &[ShelfTube],
    ) -> Result<Arc<KnownShelf>, WorkshopError> {
        let mut telling = self.telling(trials).await?;
        let white = white::usual(&telling, shelf);
        let id = white.as_ref().map(|it| it.id);
        telling.retain(|it| white::of_trial(it).map(|it| it.id) == id);
        let newest = telling.first().map(|it| &it.study);
        let conditions = newest.map_or(Conditions::D65_10, |study| study.conditions);
        let surface = newest.and_then(|study| study.protocol.surface(None));
        telling.retain(|it| {
            it.study.conditions == conditions && it.study.protocol.surface(None) == surface
        });
        let colours = shelf.iter().filter(|tube| Some(tube.id) != id && !tube.tube.is_white());
        let tubes: Vec<ShelfTube> = colours.chain(&white).cloned().collect();
        let light = (conditions, surface);
        let evidence = self.evidence(trials, tubes.clone(), id, light, State::Dry).await?;
        let asked = (AsOf::these(tubes.clone(), &telling), Same::as_it(&evidence));
        let work = off_the_thread(move || KnownShelf::of(&evidence, tubes, white, telling));
        self.kept::<Kept<2, Asked, KnownShelf>>().get(asked, work).await
    }

    /// Places of the tubes that are meant.
    ///
    /// # Errors
    /// When the records cannot be read.
    pub async fn which(
        &self,
        known: &KnownShelf,
        which: &Which,
    ) -> Result<Vec<usize>, WorkshopError> {
        Ok(match which {
            Which::Shelf => (0..known.tubes.len()).collect(),
            Which::These(tubes) => known.places(tubes),
            Which::Palette(id) => {
                let palette = self.store.palette(*id).await?;
                let tubes: Vec<TubeId> = palette.colours().iter().map(|tube| tube.id).collect();
                known.places(&tubes)
            }
        })
    }
}

impl KnownShelf {
    /// The white is the last of `tubes`, where there is one.
    fn of(
        evidence: &Evidence,
        tubes: Vec<ShelfTube>,
        white: Option<ShelfTube>,
        telling: Vec<Arc<AnalysedTrial>>,
    ) -> Self {
        let Evidence { prior, sources } = evidence.clone();
        let bare = |backing| {
            let read = telling
                .iter()
                .find_map(|it| it.averages().dry(&Mixture::bare(), backing)?.reflectance)?;
            Some(InternalReflectance::from_measured(&read, prior.surface))
        };
        let backings = bare(Backing::Black).zip(bare(Backing::White));
        let mut known = Self {
            paints: Paints {
                conditions: prior.conditions,
                surface: prior.surface,
                paper: prior.paper,
                backings: backings.map(|(black, white)| [black, white]),
                white: None,
                tubes: Vec::new(),
                widths: Widths::default(),
            },
            tubes: Vec::new(),
            sources: Vec::new(),
            unknown: Vec::new(),
            odd: Vec::new(),
            taught_by: 0,
            white_is_read: false,
            telling,
            white,
        };
        for ((tube, of), source) in tubes.into_iter().zip(prior.tubes).zip(sources) {
            let usable = |it: &Constants| it.residual <= POOR_FIT;
            // Everything rests on the white, which is near all light anyway.
            let is_white = known.white.as_ref().is_some_and(|it| it.id == tube.id);
            let is_odd = !is_white && known.is_odd(tube.id, of.constants.as_ref());
            let constants = of.constants.filter(usable).filter(|_| !is_odd);
            if is_odd {
                known.odd.push(tube.id);
            }
            if is_white {
                known.paints.white = constants;
                known.white_is_read = matches!(source, EvidenceSource::Readings(_));
                continue;
            }
            let Some(constants) = constants else {
                known.unknown.push(tube);
                continue;
            };
            let is_guess = of.guessed || of.level == PriorLevel::Typical;
            known.paints.tubes.push(Paint {
                constants,
                pigments: tube.tube.codes.len(),
                load_sigma: is_guess.then_some(LOAD_SIGMA),
            });
            known.tubes.push(tube);
            known.sources.push(source);
        }
        known.taught_by = known.paints.learn(&known.mixtures());
        known
    }

    /// Every mixture of known tubes that was read.
    pub(crate) fn mixtures(&self) -> Vec<ReadMixture> {
        let of_trial = |analysed: &Arc<AnalysedTrial>| {
            let place = |tube: TubeRef| self.place(analysed.trial.tubes.get(tube.0)?.tube.id);
            let read = read_mixtures(analysed.study.white, analysed.averages(), &place);
            read.collect::<Vec<_>>()
        };
        self.telling.iter().flat_map(of_trial).collect()
    }

    /// Colours of mixtures of two of these tubes that were read.
    pub(crate) fn read_colours(&self, among: &[usize]) -> Vec<colour::Lab> {
        let within = |it: &ReadMixture| is_of(&it.shares, among);
        self.mixtures().into_iter().filter(within).map(|it| it.lab).collect()
    }
}

/// Every two of them.
pub(crate) fn pairs_of(places: &[usize]) -> Vec<[usize; 2]> {
    let pairs = places.iter().enumerate();
    pairs.flat_map(|(at, one)| places[at + 1..].iter().map(|other| [*one, *other])).collect()
}

/// A mixture of two of these tubes or more, and of no others.
pub(crate) fn is_of(shares: &Shares, among: &[usize]) -> bool {
    shares.tubes.len() > 1 && shares.tubes.iter().all(|it| among.contains(&it.0))
}
