//! A trial as it stands in the records.

use std::fmt;
use std::str::FromStr;
use std::sync::Arc;

use bench::{BenchEvent, EntryId, LogEntry, ReadBy, ReadingId, Run, Taken, Time};
use colour::Conditions;
use plan::{CellNumber, Naming, Pile, Plan, Swatch};
use rustc_hash::{FxHashMap, FxHashSet};
use study::numbers::Ratios;
use study::{
    Mixture, Protocol, RatioError, Reading, ReadingSource, State, Study, TubeLabel, TubeRef,
};

use crate::ids::TrialId;
use crate::plans::TrialPlan;
use crate::ruled_chart::RuledChart;
use crate::tubes::{ShelfTube, TubeId, called};

/// A swatch in the records.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct SwatchId(pub i64);

/// What a tube is in a trial.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Role {
    /// Under test.
    Tested,
    /// What each is mixed with.
    Reference,
    /// The white.
    White,
}

impl fmt::Display for Role {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::Tested => "tested",
            Self::Reference => "reference",
            Self::White => "white",
        })
    }
}

impl FromStr for Role {
    type Err = ();

    fn from_str(text: &str) -> Result<Self, ()> {
        match text {
            "tested" => Ok(Self::Tested),
            "reference" => Ok(Self::Reference),
            "white" => Ok(Self::White),
            _ => Err(()),
        }
    }
}

/// A tube in a trial; its place in [`Trial::tubes`] is its [`TubeRef`].
#[derive(Debug, Clone, PartialEq)]
pub struct TrialTube {
    /// The tube.
    pub tube: ShelfTube,
    /// What it is here.
    pub role: Role,
}

/// How a trial's mixtures are made and read.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Circumstances {
    /// Illuminant and observer of the figures.
    pub conditions: Conditions,
    /// Amounts, instrument and surface.
    pub protocol: Protocol,
    /// Readings that each swatch is meant to get, 0 to 10; 0 where it is judged by eye.
    pub repeats: u32,
    /// Geometry and repeatability are a meter's own, or stated by a file. Else the first meter that
    /// reads the trial decides them.
    pub meter_known: bool,
}

/// A trial to be started.
#[derive(Debug, Clone)]
pub struct NewTrial {
    /// What it is called.
    pub name: String,
    /// Tubes with their roles; the plan's [`TubeRef`]s are places in this list.
    pub tubes: Vec<(TubeId, Role)>,
    /// How it is made and read.
    pub circumstances: Circumstances,
    /// What is painted.
    pub plan: TrialPlan,
}

/// A swatch with its number in the records.
#[derive(Debug, Clone, PartialEq)]
pub struct PlannedSwatch {
    /// Its number in the records.
    pub id: SwatchId,
    /// The plan.
    pub swatch: Swatch,
}

/// A whole trial.
#[derive(Debug, Clone, PartialEq)]
pub struct Trial {
    /// Its number.
    pub id: TrialId,
    /// What it is called.
    pub name: String,
    /// Its tubes, by [`TubeRef`].
    pub tubes: Vec<TrialTube>,
    /// How it is made and read.
    pub circumstances: Circumstances,
    /// Its swatches by number.
    pub swatches: Vec<PlannedSwatch>,
    /// Its readings, oldest first, void ones included.
    pub readings: Vec<Arc<StoredReading>>,
    /// Comments and header row of the file it was imported from.
    pub source_head: Option<String>,
    /// The chart that was ruled by hand, where it is one of such a chart.
    pub chart: Option<RuledChart>,
    /// How it was planned; `None` for a trial that was not planned here.
    pub plan: Option<TrialPlan>,
    /// What was done at the bench besides reading, oldest first.
    pub log: Vec<LogEntry>,
    /// It is archived: kept, and used nowhere.
    pub put_away: bool,
    /// Squares whose colour a picture could not tell, and when that was.
    pub not_in_pictures: Vec<(CellNumber, Time)>,
    /// How far the records had come when it was read.
    pub stamp: Stamp,
    /// Readings that count, by swatch and state.
    pub(crate) counts: FxHashMap<(SwatchId, State), usize>,
    /// Places of the readings of each swatch.
    pub(crate) places: FxHashMap<SwatchId, Vec<usize>>,
    /// Swatches of which no more readings are wanted, by state.
    pub(crate) enough: FxHashSet<(SwatchId, State)>,
}

/// How far the records of a trial have come: another stamp, another trial.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Stamp {
    /// Number of the last reading, void ones included.
    pub last_reading: i64,
    /// Void readings.
    pub voids: i64,
    /// Lines of the bench's log.
    pub log: i64,
    /// Lines of it that were taken back.
    pub taken_back: i64,
    /// Rises with every other change.
    pub revision: i64,
}

impl Trial {
    /// Labels of the tubes, by [`TubeRef`].
    #[must_use]
    pub fn labels(&self) -> Vec<TubeLabel> {
        self.tubes.iter().map(|tube| tube.tube.tube.label()).collect()
    }

    /// The same with names of which none can be taken for another's: for whoever paints and looks.
    #[must_use]
    pub fn called(&self) -> Vec<TubeLabel> {
        called(self.tubes.iter().map(|it| &it.tube))
    }

    /// How its mixtures are called.
    #[must_use]
    pub fn naming(&self) -> Naming {
        Naming { tubes: self.called(), white: self.white(), ratios: self.ratios() }
    }

    /// How its ratios are told.
    #[must_use]
    pub fn ratios(&self) -> Ratios {
        self.plan.as_ref().map(|plan| plan.design.ratios).unwrap_or_default()
    }

    /// The white, where the trial has one.
    #[must_use]
    pub fn white(&self) -> Option<TubeRef> {
        self.tubes.iter().position(|tube| tube.role == Role::White).map(TubeRef)
    }

    /// What the analysis works from.
    #[must_use]
    pub fn study(&self) -> Study {
        let readings = self.readings.iter().map(|stored| stored.reading.clone()).collect();
        Study { readings, tubes: self.labels(), ..self.circumstances_as_study() }
    }

    /// The same without its readings, its tubes as they are [`Trial::called`].
    #[must_use]
    pub fn circumstances_as_study(&self) -> Study {
        Study {
            conditions: self.circumstances.conditions,
            protocol: self.circumstances.protocol,
            tubes: self.called(),
            white: self.white(),
            readings: Vec::new(),
        }
    }

    /// The plan itself.
    #[must_use]
    pub fn planned(&self) -> Option<&Plan> {
        self.plan.as_ref().map(|it| &*it.plan)
    }

    /// The bench as it stands; `None` for a trial that came from a file.
    #[must_use]
    pub fn run(&self) -> Option<Run> {
        let plan = self.plan.as_ref()?;
        let numbers: FxHashMap<SwatchId, CellNumber> =
            self.swatches.iter().map(|planned| (planned.id, planned.swatch.number)).collect();
        let taken = |stored: &Arc<StoredReading>| {
            Some(Taken {
                swatch: *numbers.get(&stored.swatch)?,
                state: stored.reading.state,
                at: stored.taken,
                void: stored.reading.void.is_some(),
                by: match stored.reading.from_picture {
                    Some(_) => ReadBy::Picture,
                    None => ReadBy::Meter,
                },
            })
        };
        let unread = self.not_in_pictures.iter().map(|(swatch, at)| Taken {
            swatch: *swatch,
            state: State::Dry,
            at: *at,
            void: false,
            by: ReadBy::NotInPicture,
        });
        let readings: Vec<Taken> = self.readings.iter().filter_map(taken).chain(unread).collect();
        Some(Run::new(&plan.plan, &plan.design, &self.log, &readings))
    }

    /// What was entered last, as far as it can be taken back.
    #[must_use]
    pub fn last_entry(&self) -> Option<Last> {
        let reading = self.readings.last();
        Last::of(&self.log, reading.map(|stored| (stored.id, stored.reading.void.is_none())))
    }

    /// Gives each reading from a place on what its swatch really holds, in place of what was planned.
    pub(crate) fn with_what_was_done(mut self, from: usize) -> Self {
        let concerned: FxHashSet<SwatchId> =
            self.readings[from..].iter().map(|it| it.swatch).collect();
        let mut done: FxHashMap<SwatchId, (Mixture, RatioError)> = FxHashMap::default();
        if let Some(run) = self.run().filter(|_| !concerned.is_empty()) {
            for planned in self.swatches.iter().filter(|planned| concerned.contains(&planned.id)) {
                let number = planned.swatch.number;
                if let Some(mixture) = run.mixture(number) {
                    done.insert(planned.id, (mixture.clone(), run.ratio_error(number)));
                }
            }
        }
        for stored in &mut self.readings[from..] {
            if let Some((mixture, error)) = done.get(&stored.swatch)
                && (stored.reading.mixture != *mixture || stored.reading.ratio_error != *error)
            {
                let reading = &mut Arc::make_mut(stored).reading;
                reading.mixture = mixture.clone();
                reading.ratio_error = *error;
            }
        }
        self
    }

    /// Counts the readings from a place on, besides those that were counted before.
    pub(crate) fn counted(mut self, from: usize) -> Self {
        if from == 0 {
            self.counts.clear();
            self.places.clear();
            self.enough.clear();
            for (number, _) in &self.not_in_pictures {
                let swatch = self.swatches.iter().find(|it| it.swatch.number == *number);
                self.enough.extend(swatch.map(|it| (it.id, State::Dry)));
            }
        }
        for (at, stored) in self.readings.iter().enumerate().skip(from) {
            self.places.entry(stored.swatch).or_default().push(at);
        }
        for stored in self.readings[from..].iter().filter(|stored| stored.reading.void.is_none()) {
            let key = (stored.swatch, stored.reading.state);
            *self.counts.entry(key).or_default() += 1;
            if stored.reading.from_picture.is_some() {
                self.enough.insert(key);
            }
        }
        self
    }

    /// The pile that a swatch is painted from; `None` for paint straight from the tube.
    #[must_use]
    pub fn pile_of(&self, swatch: &Swatch) -> Option<&Pile> {
        self.planned()?.pile_of(swatch.number)
    }

    /// The readings of a swatch, oldest first, void ones included.
    pub fn readings_of(&self, swatch: SwatchId) -> impl DoubleEndedIterator<Item = &StoredReading> {
        let places = self.places.get(&swatch).map_or(&[][..], Vec::as_slice);
        places.iter().filter_map(|at| self.readings.get(*at)).map(AsRef::as_ref)
    }

    /// Readings of a swatch that count in a state.
    #[must_use]
    pub fn counting(&self, swatch: SwatchId, state: State) -> usize {
        self.counts.get(&(swatch, state)).copied().unwrap_or_default()
    }

    /// Readings that a swatch is still meant to get in a state, where that is read at all.
    #[must_use]
    pub fn missing(&self, swatch: SwatchId, state: State) -> usize {
        if self.enough.contains(&(swatch, state)) {
            return 0;
        }
        (self.circumstances.repeats as usize).saturating_sub(self.counting(swatch, state))
    }

    /// Dry readings of a swatch that count.
    #[must_use]
    pub fn dry_readings(&self, swatch: SwatchId) -> usize {
        self.counting(swatch, State::Dry)
    }

    /// Dry readings that a swatch is still meant to get.
    #[must_use]
    pub fn dry_readings_missing(&self, swatch: SwatchId) -> usize {
        self.missing(swatch, State::Dry)
    }
}

/// A trial in a list.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct TrialSummary {
    /// Its number.
    pub id: TrialId,
    /// What it is called.
    pub name: String,
    /// Swatches planned.
    pub swatches: i64,
    /// Swatches that are done: read dry, or laid where the trial is judged by eye.
    pub done: i64,
    /// It is judged by eye: no reading is planned.
    pub by_eye: bool,
    /// It is a chart that was ruled by hand, and read from its picture.
    pub ruled: bool,
    /// Readings that count.
    pub readings: i64,
    /// Void readings.
    pub voids: i64,
    /// How far its records have come.
    pub stamp: Stamp,
    /// It is archived.
    pub put_away: bool,
}

/// A reading with what the records add to it.
#[derive(Debug, Clone, PartialEq)]
pub struct StoredReading {
    /// Its number.
    pub id: ReadingId,
    /// Which swatch it is of.
    pub swatch: SwatchId,
    /// What was measured, and why it is void where it is.
    pub reading: Reading,
    /// What it was taken with: an instrument, `by hand` or `file`.
    pub instrument: Arc<str>,
    /// When.
    pub taken: Time,
    /// It was voided here, and not by the file it came from.
    pub voided_since: bool,
}

impl StoredReading {
    /// True where an instrument gave it here.
    #[must_use]
    pub fn is_by_meter(&self) -> bool {
        self.reading.source == ReadingSource::Meter
    }
}

/// What was entered last in a trial, as far as it can be taken back.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Last {
    /// The event of this number, with those that were stored together with it.
    BenchEvent(EntryId),
    /// This reading.
    Reading(ReadingId),
}

impl Last {
    /// From the log and the last reading of a trial, with whether that counts. A void stays: where
    /// the last entry is one, there is nothing to take back.
    pub(crate) fn of(log: &[LogEntry], reading: Option<(ReadingId, bool)>) -> Option<Self> {
        let event = log.iter().rfind(|entry| entry.void.is_none());
        match (event, reading) {
            (Some(event), reading) if event.after >= reading.map(|(id, _)| id) => {
                (!matches!(event.event, BenchEvent::Spoilt { .. }))
                    .then_some(Self::BenchEvent(event.id))
            }
            (_, Some((id, true))) => Some(Self::Reading(id)),
            _ => None,
        }
    }
}
