//! What earlier trials tell of the tubes of a plan.

use std::sync::Arc;

use colour::Conditions;
use mixing::Surface;
use plan::prior::{Known, Prior};
use store::{ShelfTube, TrialSummary, TubeId};
use study::{State, TubeRef, same_code};

use super::as_of::AsOf;
use super::learning::learnt;
use super::white;
use crate::analysed::AnalysedTrial;
use crate::background::off_the_thread;
use crate::error::WorkshopError;
use crate::kept::Kept;
use crate::open_trial::OpenTrial;
use crate::workshop::Workshop;

/// What is known, and where from.
#[derive(Debug, Clone)]
pub struct Evidence {
    /// What predictions rest on.
    pub prior: Prior,
    /// By [`TubeRef`].
    pub sources: Vec<EvidenceSource>,
}

/// Where what is known of a tube comes from.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum EvidenceSource {
    /// Its own readings in a trial of this name.
    Readings(String),
    /// Readings of another tube, which declares the same pigments.
    Pigments(String),
    /// A typical paint of these Colour Index names, and no reading.
    Typical(String),
    /// The same, moved by what the eye said of this tube.
    Seen(String),
    /// Nowhere.
    Nothing,
}

impl Workshop {
    /// What is known of some tubes, wet or dry, from every trial with the same white, the newest first;
    /// `white` is the plan's own, where it has one.
    ///
    /// # Errors
    /// When the records cannot be read.
    pub async fn evidence(
        &self,
        trials: &[TrialSummary],
        tubes: Vec<ShelfTube>,
        white: Option<TubeId>,
        light: (Conditions, Option<Surface>),
        state: State,
    ) -> Result<Arc<Evidence>, WorkshopError> {
        let mut read = self.telling(trials).await?;
        // Each white is a unit of its own: without one, that of the newest trial of these tubes.
        let is_of = |tube: TubeId| tubes.iter().any(|it| it.id == tube);
        let unit = white.or_else(|| white::of_newest(&read, is_of));
        read.retain(|analysed| white::of_trial(analysed).map(|it| it.id) == unit);
        let judged = self.judged(trials).await?;
        let asked = Asked {
            of: AsOf::these(tubes.clone(), &read),
            judged: AsOf::these(Vec::new(), &judged),
            light,
            state,
        };
        let count = tubes.len();
        // Fitting K and S of a trial that has not been asked before takes a while.
        let gathered = off_the_thread(move || {
            let mut evidence = gather(&read, &tubes, light, state);
            learn_by_eye(&mut evidence, (&read, &judged), &tubes, light, state);
            evidence
        });
        let kept = self.kept::<Kept<48, Asked, Evidence>>();
        // Where even that fails, nothing is known, and the page is there all the same.
        Ok(kept.get(asked, gathered).await.unwrap_or_else(|_| {
            let sources = vec![EvidenceSource::Nothing; count];
            Arc::new(Evidence { prior: Prior::nothing(count, light.0), sources })
        }))
    }

    /// What is known of the tubes of a trial, wet or dry, from every trial with the same white.
    ///
    /// # Errors
    /// When the records cannot be read.
    pub async fn evidence_for(
        &self,
        trials: &[TrialSummary],
        trial: &OpenTrial,
        state: State,
    ) -> Result<Arc<Evidence>, WorkshopError> {
        let tubes = trial.tubes.iter().map(|tube| tube.tube.clone()).collect();
        let white = trial.white().map(|white| trial.tubes[white.0].tube.id);
        let own = &trial.circumstances;
        let light = (own.conditions, own.protocol.surface(None));
        self.evidence(trials, tubes, white, light, state).await
    }
}

/// What is asked, and what the answer rests on.
#[derive(Debug, PartialEq)]
struct Asked {
    of: AsOf,
    judged: AsOf,
    light: (Conditions, Option<Surface>),
    state: State,
}

fn gather(
    read: &[Arc<AnalysedTrial>],
    tubes: &[ShelfTube],
    (conditions, surface): (Conditions, Option<Surface>),
    state: State,
) -> Evidence {
    let mut prior = Prior::nothing(tubes.len(), conditions);
    prior.surface = surface;
    prior.paper = read.iter().find_map(|analysed| analysed.prior(state).paper);
    let mut sources = Vec::with_capacity(tubes.len());
    for (tube, place) in tubes.iter().zip(&mut prior.tubes) {
        let code = tube.tube.code();
        let own = best(read.iter().filter_map(|analysed| {
            let known = known_in(analysed, (conditions, state), |other| other.id == tube.id)?;
            Some((known.1, EvidenceSource::Readings(analysed.trial.name.clone())))
        }));
        let same_pigments = || {
            let others = read.iter().filter_map(|analysed| {
                let (name, known) = known_in(analysed, (conditions, state), |other| {
                    same_code(&other.tube.code(), &code)
                })?;
                Some((Known { guessed: true, ..known }, EvidenceSource::Pigments(name)))
            });
            best(others)
        };
        let typical = || {
            let source = match tube.tube.look.is_unset() {
                true => EvidenceSource::Typical(code.clone()),
                false => EvidenceSource::Seen(code.clone()),
            };
            Some((Known::of_tube(&tube.tube)?, source))
        };
        let predicts = |found: &(Known, EvidenceSource)| found.0.constants.is_some();
        let found = own.clone().filter(predicts);
        let found = found.or_else(|| same_pigments().filter(predicts)).or_else(typical).or(own);
        let (known, source) = found.unwrap_or((Known::default(), EvidenceSource::Nothing));
        *place = known;
        sources.push(source);
    }
    Evidence { prior, sources }
}

/// Typical paints become those of the tubes that somebody looked at.
fn learn_by_eye(
    evidence: &mut Evidence,
    (read, judged): (&[Arc<AnalysedTrial>], &[Arc<AnalysedTrial>]),
    tubes: &[ShelfTube],
    light: (Conditions, Option<Surface>),
    state: State,
) {
    let typical = |source: &EvidenceSource| {
        matches!(source, EvidenceSource::Typical(_) | EvidenceSource::Seen(_))
    };
    if !evidence.sources.iter().any(typical) {
        return;
    }
    // What is known of each trial's tubes is gathered once, whichever of them learn from it.
    let judged: Vec<(&Arc<AnalysedTrial>, Prior)> = judged
        .iter()
        .filter(|it| {
            it.trial.tubes.iter().any(|own| tubes.iter().any(|tube| tube.id == own.tube.id))
        })
        .map(|analysed| {
            let own = analysed.trial.tubes.iter().map(|tube| tube.tube.clone());
            let own: Vec<ShelfTube> = own.collect();
            (analysed, gather(read, &own, light, state).prior)
        })
        .collect();
    for (at, tube) in tubes.iter().enumerate() {
        if let EvidenceSource::Typical(code) | EvidenceSource::Seen(code) = &evidence.sources[at]
            && let Some(known) = learnt(&judged, tube)
        {
            evidence.sources[at] = EvidenceSource::Seen(code.clone());
            evidence.prior.tubes[at] = known;
        }
    }
}

/// What predicts best: K and S before strengths before a mass tone alone, and of equals the first.
fn best(found: impl Iterator<Item = (Known, EvidenceSource)>) -> Option<(Known, EvidenceSource)> {
    found.min_by_key(|(known, _)| (known.constants.is_none(), known.level))
}

/// What a trial tells of a tube that is wanted, with its name.
fn known_in(
    analysed: &AnalysedTrial,
    (conditions, state): (Conditions, State),
    wanted: impl Fn(&ShelfTube) -> bool,
) -> Option<(String, Known)> {
    let at = analysed.trial.tubes.iter().position(|tube| wanted(&tube.tube))?;
    let mut known = analysed.prior(state).known(TubeRef(at))?.clone();
    if analysed.study.conditions != conditions {
        // A colour of another light or observer cannot stand beside these; K and S can.
        known.mass_tone = None;
    }
    let anything = known.mass_tone.is_some() || known.constants.is_some();
    let tube = &analysed.trial.tubes[at].tube.tube;
    anything.then(|| (format!("{} {}", tube.maker, tube.name).trim().to_owned(), known))
}

#[cfg(test)]
mod tests {
    use colour::Lab;
    use plan::prior::PriorLevel;

    use super::*;

    /// A newer trial in which a tube was read alone does not hide an older one that tells its K and S.
    #[test]
    fn the_trial_that_tells_most_is_asked() {
        let typical = Known::typical("", ["PB29"]).expect("a typical paint");
        let of = |level| Known { level, guessed: false, ..typical.clone() };
        let alone = Known { mass_tone: Some(Lab::new(30.0, 40.0, -60.0)), ..Known::default() };
        let found = [
            (alone, "alone"),
            (of(PriorLevel::Strengths), "strengths"),
            (of(PriorLevel::KAndS), "newer"),
            (of(PriorLevel::KAndS), "older"),
        ];
        for from in 0..found.len() {
            let named = found[from..]
                .iter()
                .map(|(known, name)| (known.clone(), EvidenceSource::Readings((*name).to_owned())));
            let expected = ["newer", "newer", "newer", "older"][from];
            assert_eq!(
                best(named).map(|it| it.1),
                Some(EvidenceSource::Readings(expected.to_owned()))
            );
        }
        assert!(best(std::iter::empty()).is_none());
    }
}
