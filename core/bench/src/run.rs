//! What became of each swatch: the log and the readings replayed.

use std::sync::Arc;

use plan::{CellNumber, Design, Plan, Source, StepRef};
use study::{Depth, Mixture, Quality, RatioError, SeenTint, State, TubeRef, Which};

use crate::actual::{ActualMixture, Piles};
use crate::event::{BarShows, BenchEvent, Grain, LogEntry, Word};
use crate::numbers::Time;
use crate::seen::Looks;

/// A reading, as far as the run is concerned.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Taken {
    /// Number of its swatch.
    pub swatch: CellNumber,
    /// Wet, dry or lifted.
    pub state: State,
    /// When.
    pub at: Time,
    /// It does not count.
    pub void: bool,
    /// By what.
    pub by: ReadBy,
}

/// What a swatch was read by.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum ReadBy {
    /// A meter, or whoever typed it: one of the repeats.
    Meter,
    /// A picture: no repeat would narrow this down.
    Picture,
    /// A picture that could not tell its colour: nothing more is wanted of it.
    NotInPicture,
}

/// What became of one swatch.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Square {
    /// When it was laid; `None` before, and after it was spoilt.
    pub laid: Option<Time>,
    /// When it was said to be dry.
    pub dry: Option<Time>,
    /// When it was lifted.
    pub lifted: Option<Time>,
    /// Left out for now.
    pub skipped: bool,
    /// Why earlier paintings of it do not count, oldest first.
    pub spoilt: Vec<String>,
    /// How the bar shows through it.
    pub bar: Option<BarShows>,
    /// How it dried.
    pub grain: Option<Grain>,
    /// What was seen, oldest first: words and note.
    pub observed: Vec<(Vec<Word>, String)>,
    /// What the eye saw.
    pub looks: Looks,
    /// Readings that count, wet, dry and lifted.
    pub read: [usize; 3],
    /// No more readings are wanted, wet, dry and lifted: a picture told, or cannot tell.
    pub enough: [bool; 3],
    /// The ratio that was estimated from its colour, and taken.
    pub estimated: Option<ActualMixture>,
    /// What it really holds, once it is laid.
    pub held: Option<ActualMixture>,
}

impl Square {
    /// What the eye saw of it, and what was noted, in words.
    #[must_use]
    pub fn seen(&self) -> Vec<String> {
        let mut seen = self.looks.words();
        seen.extend(self.bar.map(|bar| format!("{} (the black bar by eye)", bar.class())));
        seen.extend(self.grain.map(|grain| match grain {
            Grain::None => "dried smooth".to_owned(),
            Grain::Slight => "dried slightly speckled".to_owned(),
            Grain::Marked => "dried plainly speckled".to_owned(),
        }));
        let lifted = self.lifted.filter(|_| self.looks.lift.is_none());
        seen.extend(lifted.map(|_| "lifted".to_owned()));
        for (words, note) in &self.observed {
            let words = words.iter().map(ToString::to_string).chain([note.clone()]);
            seen.extend(words.filter(|word| !word.is_empty()));
        }
        seen
    }

    /// What it holds: its estimated ratio, else what was put together for it.
    #[must_use]
    pub fn holds(&self) -> Option<&ActualMixture> {
        self.estimated.as_ref().or(self.held.as_ref())
    }
}

/// A run as it stands.
#[derive(Debug, Clone)]
pub struct Run {
    pub(crate) plan: Arc<Plan>,
    pub(crate) design: Arc<Design>,
    /// By number, from 1.
    pub(crate) squares: Vec<Square>,
    pub(crate) piles: Piles,
    /// Steps that were carried out.
    pub(crate) made: Vec<bool>,
    /// When each swatch was laid, in order, each painting once.
    pub(crate) lays: Vec<(CellNumber, Time)>,
    depths: Vec<(SeenTint, SeenTint, Depth)>,
    compared: Vec<(Quality, [TubeRef; 2], Which)>,
}

impl Run {
    /// Replays the log, oldest first, and the readings.
    #[must_use]
    pub fn new(
        plan: &Arc<Plan>,
        design: &Arc<Design>,
        log: &[LogEntry],
        readings: &[Taken],
    ) -> Self {
        let mut run = Self {
            plan: Arc::clone(plan),
            design: Arc::clone(design),
            squares: vec![Square::default(); plan.swatches.len()],
            piles: Piles::of(plan, design),
            made: vec![false; plan.steps.len()],
            lays: Vec::new(),
            depths: Vec::new(),
            compared: Vec::new(),
        };
        for entry in log.iter().filter(|entry| entry.void.is_none()) {
            run.replay(&entry.event, entry.at);
        }
        for reading in readings.iter().filter(|reading| !reading.void) {
            run.count(reading);
        }
        run
    }

    fn replay(&mut self, event: &BenchEvent, at: Time) {
        match event {
            BenchEvent::Depth { sample, standard, answer } => {
                self.depths.push((*sample, *standard, *answer));
                return;
            }
            BenchEvent::Compared { quality, tubes, answer } => {
                self.compared.push((*quality, *tubes, *answer));
                return;
            }
            _ => {}
        }
        if let BenchEvent::Made(made) = event {
            if let Some(done) = self.made.get_mut(made.step.0) {
                *done = true;
                self.piles.make(made);
            }
            return;
        }
        let held = event.swatch().and_then(|swatch| self.piles.held_by(swatch));
        let Some(square) = event.swatch().and_then(|swatch| self.square_mut(swatch)) else {
            if let BenchEvent::Dry { swatches } = event {
                for swatch in swatches {
                    if let Some(square) = self.square_mut(*swatch) {
                        square.dry = Some(at);
                    }
                }
            }
            return;
        };
        match event {
            BenchEvent::Laid { swatch } => {
                *square = Square {
                    laid: Some(at),
                    skipped: false,
                    dry: None,
                    estimated: None,
                    held,
                    ..std::mem::take(square)
                };
                let swatch = *swatch;
                self.piles.take(swatch);
                self.lays.push((swatch, at));
            }
            BenchEvent::Skipped { .. } => square.skipped = true,
            BenchEvent::Lifted { .. } => (square.lifted, square.dry) = (Some(at), None),
            BenchEvent::Bar { shows, .. } => square.bar = Some(*shows),
            BenchEvent::Grain { grain, .. } => square.grain = Some(*grain),
            BenchEvent::RatioEstimated { parts, sigma, .. } => {
                square.estimated = Some(ActualMixture {
                    mixture: Mixture::of(parts),
                    ratio_error: RatioError::Estimated(*sigma),
                    deviates: true,
                });
            }
            BenchEvent::Seen { look, .. } => square.looks.take(*look),
            BenchEvent::Noted { words, note, .. } => {
                square.observed.push((words.clone(), note.clone()))
            }
            BenchEvent::Spoilt { reason, .. } => {
                let mut spoilt = std::mem::take(&mut square.spoilt);
                spoilt.push(reason.clone());
                *square = Square { spoilt, ..Square::default() };
            }
            BenchEvent::Made(_)
            | BenchEvent::Dry { .. }
            | BenchEvent::Tile { .. }
            | BenchEvent::Depth { .. }
            | BenchEvent::Compared { .. } => {}
        }
    }

    fn count(&mut self, reading: &Taken) {
        // What was read has been laid, whether that was said or not; and what was read dry is dry.
        let unsaid = self.square(reading.swatch).is_some_and(|square| square.laid.is_none());
        let held = if unsaid { self.piles.held_by(reading.swatch) } else { None };
        let Some(square) = self.square_mut(reading.swatch) else { return };
        square.read[reading.state as usize] += usize::from(reading.by != ReadBy::NotInPicture);
        square.enough[reading.state as usize] |= reading.by != ReadBy::Meter;
        if unsaid {
            square.laid = Some(reading.at);
            square.held = held;
        }
        let dry = match reading.state {
            State::Wet => false,
            State::Dry => square.lifted.is_none(),
            State::Lifted => true,
        };
        if dry && square.dry.is_none() {
            square.dry = Some(reading.at);
        }
        if reading.state == State::Lifted && square.lifted.is_none() {
            square.lifted = Some(reading.at);
        }
        if let Some(step) = self.piles.step(reading.swatch).filter(|_| unsaid) {
            self.made[step.0] = true;
        }
    }

    fn square_mut(&mut self, swatch: CellNumber) -> Option<&mut Square> {
        self.squares.get_mut(swatch.place()?)
    }

    /// What became of a swatch.
    #[must_use]
    pub fn square(&self, swatch: CellNumber) -> Option<&Square> {
        swatch.of(&self.squares)
    }

    /// The swatches in the order in which they were laid, each painting once.
    #[must_use]
    pub fn lays(&self) -> &[(CellNumber, Time)] {
        &self.lays
    }

    /// Tints that were held beside those of a standard, oldest first: tint, standard's, answer.
    #[must_use]
    pub fn depths(&self) -> &[(SeenTint, SeenTint, Depth)] {
        &self.depths
    }

    /// Tubes that were looked at together, oldest first.
    #[must_use]
    pub fn compared(&self) -> &[(Quality, [TubeRef; 2], Which)] {
        &self.compared
    }

    /// The plan that is followed.
    #[must_use]
    pub fn plan(&self) -> &Plan {
        &self.plan
    }

    /// True once a step was carried out, whether that was said or its swatch was read.
    #[must_use]
    pub fn is_made(&self, step: StepRef) -> bool {
        self.made.get(step.0).copied().unwrap_or(false)
    }

    /// The step that a swatch is painted in; `None` for a bare backing.
    #[must_use]
    pub fn step_of(&self, swatch: CellNumber) -> Option<StepRef> {
        self.piles.step(swatch)
    }

    /// The steps that nobody carried out yet and a swatch needs, in the order of the plan: its own,
    /// and those that make what it is taken from.
    #[must_use]
    pub fn to_make(&self, swatch: CellNumber) -> Vec<StepRef> {
        let mut needed: Vec<StepRef> = self.step_of(swatch).into_iter().collect();
        let mut steps = Vec::new();
        while let Some(step) = needed.pop() {
            if self.is_made(step) || steps.contains(&step) {
                continue;
            }
            steps.push(step);
            needed.extend(self.planned_parts(step).iter().filter_map(|(source, _)| match source {
                Source::Pile(of) => Some(self.piles.step_of(*of)),
                Source::Tube(_) => None,
            }));
        }
        steps.sort_unstable();
        steps
    }

    /// What a step puts together by the plan, in the unit of its measure.
    #[must_use]
    pub fn planned_parts(&self, step: StepRef) -> Vec<(Source, f64)> {
        self.piles.planned(step)
    }

    /// What a swatch holds: what was really put together, else what is planned.
    #[must_use]
    pub fn mixture(&self, swatch: CellNumber) -> Option<&Mixture> {
        match self.square(swatch).and_then(Square::holds) {
            Some(held) => Some(&held.mixture),
            None => Some(&self.plan.swatch(swatch)?.mixture),
        }
    }

    /// How far the ratio of a swatch may be off.
    #[must_use]
    pub fn ratio_error(&self, swatch: CellNumber) -> RatioError {
        match self.square(swatch).and_then(Square::holds) {
            Some(held) => held.ratio_error,
            None => self.piles.planned_error(swatch),
        }
    }
}
