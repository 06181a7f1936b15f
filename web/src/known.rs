//! What earlier trials tell of the tubes of a plan.

use std::sync::Arc;

use colour::Conditions;
use mixing::Surface;
use plan::prior::{Known, Prior};
use store::{ShelfTube, TrialSummary, TubeId};
use study::{State, TubeRef, same_code};

use crate::error::PageError;
use crate::judged::AnalysedTrial;
use crate::state::AppState;

/// What is known, and where from.
#[derive(Debug)]
pub(crate) struct Knowledge {
    pub prior: Prior,
    /// By [`TubeRef`].
    pub sources: Vec<KnownFrom>,
}

/// Where what is known of a tube comes from.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) enum KnownFrom {
    /// Its own readings in a trial of this name.
    Readings(String),
    /// Readings of another tube, which declares the same pigments.
    Pigments(String),
    /// Nowhere.
    Nothing,
}

impl AppState {
    /// What is known of some tubes, wet or dry, from every trial with the same white, the newest first;
    /// `white` is the plan's own, where it has one.
    pub(crate) async fn knowledge(
        &self,
        trials: &[TrialSummary],
        tubes: Vec<ShelfTube>,
        white: Option<TubeId>,
        light: (Conditions, Option<Surface>),
        state: State,
    ) -> Result<Knowledge, PageError> {
        let mut read = self.telling(trials).await?;
        // Each white is a unit of its own: without one, that of the newest trial of these tubes.
        let holds = |judged: &&Arc<AnalysedTrial>| {
            judged.trial.tubes.iter().any(|it| tubes.iter().any(|tube| tube.id == it.tube.id))
        };
        let unit = white.or_else(|| read.iter().find(holds).and_then(|judged| white_of(judged)));
        read.retain(|judged| white_of(judged) == unit);
        // Fitting K and S of a trial that has not been asked before takes a while.
        let count = tubes.len();
        let gathered = tokio::task::spawn_blocking(move || gather(&read, &tubes, light, state));
        // Where even that fails, nothing is known, and the page is there all the same.
        Ok(gathered.await.unwrap_or_else(|error| {
            tracing::error!(%error, "what earlier trials tell could not be worked out");
            Knowledge {
                prior: Prior::nothing(count, light.0),
                sources: vec![KnownFrom::Nothing; count],
            }
        }))
    }
}

fn white_of(judged: &AnalysedTrial) -> Option<TubeId> {
    judged.trial.white().map(|at| judged.trial.tubes[at.0].tube.id)
}

fn gather(
    read: &[Arc<AnalysedTrial>],
    tubes: &[ShelfTube],
    (conditions, surface): (Conditions, Option<Surface>),
    state: State,
) -> Knowledge {
    let mut prior = Prior::nothing(tubes.len(), conditions);
    prior.surface = surface;
    prior.paper = read.iter().find_map(|judged| judged.prior(state).paper);
    let mut sources = Vec::with_capacity(tubes.len());
    for (tube, place) in tubes.iter().zip(&mut prior.tubes) {
        let own = read.iter().find_map(|judged| {
            let known = known_in(judged, (conditions, state), |other| other.id == tube.id)?;
            Some((known.1, KnownFrom::Readings(judged.trial.name.clone())))
        });
        let code = tube.tube.code();
        let found = own.or_else(|| {
            read.iter().find_map(|judged| {
                let (name, known) = known_in(judged, (conditions, state), |other| {
                    same_code(&other.tube.code(), &code)
                })?;
                Some((Known { guessed: true, ..known }, KnownFrom::Pigments(name)))
            })
        });
        let (known, source) = found.unwrap_or((Known::default(), KnownFrom::Nothing));
        *place = known;
        sources.push(source);
    }
    Knowledge { prior, sources }
}

/// What a trial tells of a tube that is wanted, with its name.
fn known_in(
    judged: &AnalysedTrial,
    (conditions, state): (Conditions, State),
    wanted: impl Fn(&ShelfTube) -> bool,
) -> Option<(String, Known)> {
    let at = judged.trial.tubes.iter().position(|tube| wanted(&tube.tube))?;
    let mut known = judged.prior(state).known(TubeRef(at))?.clone();
    if judged.study.conditions != conditions {
        // A colour of another light or observer cannot stand beside these; K and S can.
        known.mass_tone = None;
    }
    let anything = known.mass_tone.is_some() || known.constants.is_some();
    let tube = &judged.trial.tubes[at].tube.tube;
    anything.then(|| (format!("{} {}", tube.maker, tube.name).trim().to_owned(), known))
}
