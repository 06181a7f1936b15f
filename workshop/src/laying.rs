//! Laying a swatch: what was put together for it, as planned or otherwise.

use std::collections::HashMap;
use std::fmt;
use std::str::FromStr;

use bench::{BenchEvent, LogEntry, Made, Redo, Run, is_laid};
use plan::{CellNumber, Source, StepRef};
use store::{StoreError, Trial, TrialId, TubeId};
use study::{Basis, TubeRef};

use crate::error::WorkshopError;
use crate::open_trial::OpenTrial;
use crate::workshop::Workshop;

/// A line of a mixing list: the step, and the place of the component in it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub struct Line {
    /// Which step.
    pub step: StepRef,
    /// Place among its components, from 0.
    pub at: usize,
}

impl fmt::Display for Line {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}.{}", self.step.0, self.at)
    }
}

impl FromStr for Line {
    type Err = ();

    fn from_str(text: &str) -> Result<Self, ()> {
        let (step, at) = text.split_once('.').ok_or(())?;
        Ok(Self { step: StepRef(step.parse().map_err(|_| ())?), at: at.parse().map_err(|_| ())? })
    }
}

/// How the piles of a swatch were really put together; what is not named was as planned.
#[derive(Debug, Clone, Default)]
pub struct LayRequest {
    /// Put out by eye, and not by the plan's measure.
    pub by_eye: bool,
    /// What was weighed or measured out, in the unit of the plan's measure, above 0.
    pub amounts: HashMap<Line, f64>,
    /// The tube that was taken in another's place.
    pub tubes: HashMap<Line, TubeId>,
    /// A weight among these was made up by the simulated scale.
    pub simulated: bool,
}

/// One component as planned.
#[derive(Debug, Clone, PartialEq)]
pub struct PlannedLine {
    /// Where it stands.
    pub line: Line,
    /// What is taken.
    pub source: Source,
    /// How much, in the unit of the plan's measure.
    pub amount: f64,
}

/// A step that is still to be made for a swatch.
#[derive(Debug, Clone, PartialEq)]
pub struct ToMake {
    /// Which step.
    pub step: StepRef,
    /// Its components.
    pub lines: Vec<PlannedLine>,
    /// Some more of what was made before, and not as much as was planned.
    pub again: bool,
}

/// The steps that are still to be made for a swatch, each with its lines.
#[must_use]
pub fn to_make(run: &Run, number: CellNumber, redo: Option<&Redo>) -> Vec<ToMake> {
    let planned = run.to_make(number).into_iter().map(|step| ToMake {
        step,
        lines: lines(step, &run.planned_parts(step)),
        again: false,
    });
    let more = redo.filter(|redo| !redo.again.is_empty() && run.is_made(redo.step));
    let more = more.map(|redo| ToMake {
        step: redo.step,
        lines: lines(redo.step, &redo.again),
        again: true,
    });
    planned.chain(more).collect()
}

fn lines(step: StepRef, parts: &[(Source, f64)]) -> Vec<PlannedLine> {
    let line = |(at, (source, amount)): (usize, &(Source, f64))| PlannedLine {
        line: Line { step, at },
        source: *source,
        amount: *amount,
    };
    parts.iter().enumerate().map(line).collect()
}

/// What is left in each tube of a trial, in ml.
#[must_use]
pub fn left_ml(trial: &Trial) -> Vec<Option<f64>> {
    trial.tubes.iter().map(|tube| tube.tube.tube.left_ml).collect()
}

/// How often the run is looked at anew where other tables record at the very same moment.
const TRIES: usize = 5;

impl Workshop {
    /// Records that a swatch was laid, and how its paint was put together: its piles, as far as
    /// nobody made them, and the swatch.
    ///
    /// # Errors
    /// [`StoreError::Refused`] where it cannot have been laid, and [`WorkshopError::NotNow`] where
    /// other tables record all the time.
    pub async fn lay(
        &self,
        id: TrialId,
        number: CellNumber,
        request: &LayRequest,
        token: Option<&str>,
    ) -> Result<(), WorkshopError> {
        let mut others = HashMap::new();
        for (line, tube) in &request.tubes {
            let place = self.store.join_tube(id, *tube).await?;
            others.insert(*line, TubeRef(place));
        }
        // Another table may have made the same pile meanwhile: then it is not made twice.
        for _ in 0..TRIES {
            let trial = self.trial(id).await?;
            let events = laying(&trial, number, request, &others)?;
            let as_seen = |log: &[LogEntry]| log.len() == trial.log.len();
            if self.store.record_events(id, &events, token, as_seen).await? {
                self.news.tell(id);
                return Ok(());
            }
        }
        Err(WorkshopError::NotNow(
            "other tables recorded at the same moment, so this was not: send it again".into(),
        ))
    }

    /// Lets the simulated bench mix a swatch as planned and lay it, where it was not: its piles first.
    ///
    /// # Errors
    /// When the records cannot be written.
    pub async fn lay_as_planned(
        &self,
        trial: &OpenTrial,
        number: CellNumber,
    ) -> Result<(), WorkshopError> {
        if trial.plan.is_none() || is_laid(&trial.log, number) {
            return Ok(());
        }
        let as_planned = LayRequest { simulated: true, ..LayRequest::default() };
        let events = laying(trial, number, &as_planned, &HashMap::new())?;
        self.store.record_events(trial.id, &events, None, |_| true).await?;
        Ok(())
    }
}

/// What laying a swatch records now: its piles, as far as nobody made them, and the swatch.
fn laying(
    trial: &OpenTrial,
    number: CellNumber,
    request: &LayRequest,
    others: &HashMap<Line, TubeRef>,
) -> Result<Vec<BenchEvent>, StoreError> {
    let (run, plan) = trial.run().zip(trial.plan.as_ref()).ok_or(StoreError::NotFound("plan"))?;
    trial.swatch(number)?;
    if is_laid(&trial.log, number) {
        return Ok(Vec::new());
    }
    let how = if request.by_eye { Basis::Eye } else { plan.design.supply.measure };
    let redo = run.redo(number, &left_ml(trial));
    let made = to_make(run, number, redo.as_ref()).into_iter().map(|made| {
        let mut parts = parts(&made.lines, request, others);
        if parts.is_empty() && made.again {
            parts = made.lines.iter().map(|line| (line.source, line.amount)).collect();
        }
        BenchEvent::Made(Made { step: made.step, how, parts, simulated: request.simulated })
    });
    Ok(made.chain([BenchEvent::Laid { swatch: number }]).collect())
}

/// What was really put together of one step's lines: empty where nothing else was than planned.
fn parts(
    lines: &[PlannedLine],
    request: &LayRequest,
    others: &HashMap<Line, TubeRef>,
) -> Vec<(Source, f64)> {
    let typed =
        |it: &PlannedLine| request.amounts.contains_key(&it.line) || others.contains_key(&it.line);
    if !lines.iter().any(typed) {
        return Vec::new();
    }
    let part = |it: &PlannedLine| {
        let source = others.get(&it.line).map_or(it.source, |tube| Source::Tube(*tube));
        (source, request.amounts.get(&it.line).copied().unwrap_or(it.amount))
    };
    lines.iter().map(part).collect()
}
