//! Trials of one footing brought together: the same white, light, instrument, basis and sheen.

use std::collections::BTreeSet;
use std::ops::RangeInclusive;
use std::sync::Arc;

use bench::Time;
use colour::Conditions;
use compare::{Subject, Told};
use store::{ShelfTube, StoredReading, TrialId, TubeId};
use study::{Averages, FittedTubes, Mixture, Part, Protocol, Reading, Study, TubeRef};

use crate::analysed::AnalysedTrial;

/// What trials must share to be read as one.
#[derive(Debug, Clone, PartialEq)]
struct Footing {
    conditions: Conditions,
    protocol: Protocol,
    white: Option<TubeId>,
    instruments: BTreeSet<Arc<str>>,
    /// Nobody knows what read a file or what was typed: such a trial stands for itself.
    unknown: Option<TrialId>,
}

impl Footing {
    fn of(analysed: &AnalysedTrial) -> Self {
        let trial = &analysed.trial;
        // A picture says for each colour how sure it is: what took it changes no footing.
        let read = trial.readings.iter().filter(|it| it.reading.from_picture.is_none());
        let (by_meter, others): (Vec<_>, Vec<_>) = read.partition(|it| it.is_by_meter());
        Self {
            conditions: trial.circumstances.conditions,
            protocol: Protocol {
                scale_g: None,
                pile_g: None,
                repeatability: None,
                ..trial.circumstances.protocol
            },
            white: trial.white().map(|white| trial.tubes[white.0].tube.id),
            instruments: by_meter.iter().map(|it| Arc::clone(&it.instrument)).collect(),
            unknown: (!others.is_empty()).then_some(trial.id),
        }
    }
}

/// Trials of one footing as one study.
pub(crate) struct Gathered {
    pub trials: Vec<Arc<AnalysedTrial>>,
    /// By [`TubeRef`].
    tubes: Vec<ShelfTube>,
    study: Study,
    averages: Averages,
    fitted: FittedTubes,
    instrument: Option<String>,
}

impl Gathered {
    /// The trials, the newest first, by their footing.
    pub fn all(trials: &[Arc<AnalysedTrial>]) -> Vec<Self> {
        let mut groups: Vec<(Footing, Vec<Arc<AnalysedTrial>>)> = Vec::new();
        for analysed in trials {
            let footing = Footing::of(analysed);
            match groups.iter_mut().find(|(known, _)| *known == footing) {
                Some((_, group)) => group.push(Arc::clone(analysed)),
                None => groups.push((footing, vec![Arc::clone(analysed)])),
            }
        }
        groups.into_iter().map(|(_, group)| Self::of(group)).collect()
    }

    /// Those of its trials that read a tube.
    pub fn holding(&self, tube: TubeId) -> Option<Self> {
        let trials = self.trials.iter().filter(|it| counted(it, tube) > 0);
        let trials: Vec<Arc<AnalysedTrial>> = trials.map(Arc::clone).collect();
        (!trials.is_empty()).then(|| Self::of(trials))
    }

    /// One of its trials read both tubes.
    pub fn reads_both(&self, [one, other]: [TubeId; 2]) -> bool {
        self.trials.iter().any(|it| counted(it, one) > 0 && counted(it, other) > 0)
    }

    /// What one trial read in a time.
    pub fn within(analysed: &Arc<AnalysedTrial>, time: RangeInclusive<Time>) -> Self {
        Self::of_those(vec![Arc::clone(analysed)], |stored| time.contains(&stored.taken))
    }

    fn of(trials: Vec<Arc<AnalysedTrial>>) -> Self {
        Self::of_those(trials, |_| true)
    }

    fn of_those(
        trials: Vec<Arc<AnalysedTrial>>,
        is_wanted: impl Fn(&StoredReading) -> bool,
    ) -> Self {
        let mut tubes: Vec<ShelfTube> = Vec::new();
        let mut readings: Vec<Reading> = Vec::new();
        for analysed in &trials {
            let places: Vec<TubeRef> = analysed
                .trial
                .tubes
                .iter()
                .map(|tube| TubeRef(place(&mut tubes, &tube.tube)))
                .collect();
            let counted = analysed.trial.readings.iter();
            let counted = counted.filter(|it| it.reading.void.is_none() && is_wanted(it));
            readings.extend(counted.map(|stored| {
                let parts = stored.reading.mixture.parts().iter();
                let moved = parts.map(|part| Part { tube: places[part.tube.0], parts: part.parts });
                Reading { mixture: Mixture::new(moved), ..stored.reading.clone() }
            }));
        }
        let first = &trials[0].trial;
        let white = first.white().map(|white| first.tubes[white.0].tube.id);
        let study = Study {
            conditions: first.circumstances.conditions,
            protocol: first.circumstances.protocol,
            tubes: tubes.iter().map(|tube| tube.tube.label()).collect(),
            white: white.and_then(|id| tubes.iter().position(|tube| tube.id == id)).map(TubeRef),
            readings: Vec::new(),
        };
        let averages = Averages::again(&study, readings.iter(), None);
        let fitted = FittedTubes::with_pictures(&study, &averages);
        let footing = Footing::of(&trials[0]);
        let instrument: Vec<&str> = footing.instruments.iter().map(AsRef::as_ref).collect();
        let is_known = footing.unknown.is_none() && !instrument.is_empty();
        let instrument = is_known.then(|| instrument.join(", "));
        Self { trials, tubes, study, averages, fitted, instrument }
    }

    pub fn conditions(&self) -> Conditions {
        self.study.conditions
    }

    pub fn protocol(&self) -> &Protocol {
        &self.study.protocol
    }

    pub fn averages(&self) -> &Averages {
        &self.averages
    }

    /// Readings of a tube that count.
    pub fn readings_of(&self, tube: TubeId) -> usize {
        self.trials.iter().map(|it| counted(it, tube)).sum()
    }

    /// A tube of it; `None` where it has no reading of it, though a trial may hold it.
    pub fn subject(&self, tube: TubeId) -> Option<Subject<'_>> {
        if self.readings_of(tube) == 0 {
            return None;
        }
        let tube = self.tubes.iter().position(|known| known.id == tube).map(TubeRef)?;
        let told = Told {
            study: &self.study,
            averages: &self.averages,
            fitted: &self.fitted,
            instrument: self.instrument.as_deref(),
            // A trial of this workshop says how glossy its films are.
            sheen_stated: true,
        };
        Some(Subject { told, tube })
    }
}

/// Readings of a tube, alone or in a mixture, that count in a trial.
pub(super) fn counted(analysed: &AnalysedTrial, tube: TubeId) -> usize {
    let trial = &analysed.trial;
    let Some(place) = trial.tubes.iter().position(|it| it.tube.id == tube) else { return 0 };
    let counts = |it: &Reading| it.void.is_none() && it.mixture.parts_of(TubeRef(place)) > 0.0;
    trial.readings.iter().filter(|it| counts(&it.reading)).count()
}

fn place(tubes: &mut Vec<ShelfTube>, wanted: &ShelfTube) -> usize {
    if let Some(known) = tubes.iter().position(|tube| tube.id == wanted.id) {
        return known;
    }
    tubes.push(wanted.clone());
    tubes.len() - 1
}
