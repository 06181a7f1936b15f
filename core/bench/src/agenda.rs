//! What is left of each swatch, and what comes next.
//!
//! Everything is painted first, in the order of the plan, wet readings in between; then each swatch
//! is read, looked at and lifted as soon as it is dry.

use plan::{CellNumber, Pace, Pile, Step, StepRef, Swatch, Thinning, Work};
use study::{Backing, FilmKind, State};

use crate::numbers::Time;
use crate::run::{Run, Square};

/// Something to do with a swatch.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Task {
    /// Mix, where that is not done yet, and lay it.
    Lay,
    /// Read it in this state, once more.
    Read(State),
    /// Judge how the black bar shows through.
    Bar,
    /// Judge how speckled it dried.
    Grain,
    /// Wet it, brush it and dab it.
    Lift,
}

/// A task with the time before which it is not to be done.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Left {
    /// What.
    pub task: Task,
    /// When it is due; `None` for at once.
    pub due: Option<Time>,
}

/// What comes next.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Next {
    /// Do this with that swatch.
    Do {
        /// Its number.
        swatch: CellNumber,
        /// What.
        task: Task,
    },
    /// Nothing before this time: paint is drying.
    Wait {
        /// Until then.
        until: Time,
        /// The swatch that is dry first.
        swatch: CellNumber,
    },
    /// Everything is done.
    Finished,
}

/// Where the run stands, counted in swatches.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Tally {
    /// All of them.
    pub all: usize,
    /// With nothing left to do.
    pub done: usize,
    /// Laid, and not dry yet.
    pub drying: usize,
    /// Left out for now.
    pub skipped: usize,
}

impl Run {
    /// What is left to do with a swatch, first things first.
    #[must_use]
    pub fn left(&self, number: CellNumber) -> Vec<Left> {
        let (Some(swatch), Some(square)) = (self.plan.swatch(number), self.square(number)) else {
            return Vec::new();
        };
        let mut left = Vec::new();
        let bare = swatch.mixture.is_bare();
        if !bare && square.laid.is_none() {
            left.push(Left { task: Task::Lay, due: None });
        }
        let dry_at = if bare { None } else { self.dry_at(square) };
        let tests = self.design.tests;
        let missing = |state: State| match square.enough[state as usize] {
            true => 0,
            false => (self.design.repeats as usize).saturating_sub(square.read[state as usize]),
        };
        let mut push = |task: Task, due: Option<Time>, times: usize| {
            left.extend(std::iter::repeat_n(Left { task, due }, times));
        };
        let dry_begun = square.dry.is_some() || square.read[State::Dry as usize] > 0;
        if tests.wet && !bare && !dry_begun {
            push(Task::Read(State::Wet), None, missing(State::Wet));
        }
        // Once the film over black was read, nothing is left to be guessed.
        let dry_missing = missing(State::Dry);
        let to_judge = dry_missing > 0 || self.design.repeats == 0;
        if swatch.backing == Backing::Black && !bare && square.bar.is_none() && to_judge {
            push(Task::Bar, dry_at, 1);
        }
        push(Task::Read(State::Dry), dry_at, dry_missing);
        if self.shows_grain(swatch) && square.grain.is_none() {
            push(Task::Grain, dry_at, 1);
        }
        if tests.lift && swatch.is_mass_tone_on_paper() {
            if square.lifted.is_none() {
                push(Task::Lift, dry_at, 1);
            }
            let again = square.lifted.map_or(dry_at, |_| self.dry_at(square));
            push(Task::Read(State::Lifted), again, missing(State::Lifted));
        }
        left
    }

    /// A wash shows how a pigment settles (common practice, no source).
    fn shows_grain(&self, swatch: &Swatch) -> bool {
        self.design.thinning == Thinning::Water
            && swatch.film == FilmKind::Thin
            && swatch.mixture.parts().len() == 1
    }

    /// When a square that was laid, and perhaps lifted since, is dry.
    fn dry_at(&self, square: &Square) -> Option<Time> {
        let wetted = square.lifted.or(square.laid)?;
        let by_clock = wetted.after_minutes(self.design.pace.dry);
        match square.dry {
            Some(said) if said >= wetted => Some(said),
            _ => Some(by_clock),
        }
    }

    /// When a swatch is dry; `None` before it is laid.
    #[must_use]
    pub fn dry_time(&self, number: CellNumber) -> Option<Time> {
        self.dry_at(self.square(number)?)
    }

    /// What comes next at `now`.
    #[must_use]
    pub fn next(&self, now: Time) -> Next {
        let open: Vec<(CellNumber, Left)> = self
            .plan
            .turns()
            .into_iter()
            .filter_map(|turn| Some((turn.swatch, *self.left(turn.swatch).first()?)))
            .collect();
        let skipped = |number: CellNumber| self.square(number).is_some_and(|square| square.skipped);
        let is_wet = |left: &Left| left.task == Task::Read(State::Wet);
        let is_lay = |left: &Left| left.task == Task::Lay;
        let due = |left: &Left| left.due.is_none_or(|due| due <= now);
        let first = |wanted: &dyn Fn(CellNumber, &Left) -> bool| {
            open.iter().find(|(number, left)| wanted(*number, left))
        };
        let found = first(&|_, left| is_wet(left))
            .or_else(|| first(&|number, left| is_lay(left) && !skipped(number)))
            .or_else(|| first(&|number, left| due(left) && !skipped(number)))
            .or_else(|| first(&|_, left| due(left)));
        if let Some((swatch, left)) = found {
            return Next::Do { swatch: *swatch, task: left.task };
        }
        let waits = open.iter().filter_map(|(number, left)| Some((left.due?, *number)));
        waits.min().map_or(Next::Finished, |(until, swatch)| Next::Wait { until, swatch })
    }

    /// How far the run is at `now`.
    #[must_use]
    pub fn tally(&self, now: Time) -> Tally {
        let mut tally = Tally { all: self.squares.len(), ..Tally::default() };
        for (at, square) in self.squares.iter().enumerate() {
            let left = self.left(CellNumber::at(at));
            tally.done += usize::from(left.is_empty());
            tally.skipped += usize::from(square.skipped && !left.is_empty());
            let wet = square.laid.is_some() && self.dry_at(square).is_some_and(|dry| dry > now);
            tally.drying += usize::from(wet && !left.is_empty());
        }
        tally
    }

    /// Minutes at the table that are left by the plan's pace, and, from `now`, until the last
    /// swatch that was laid is dry and everything is done. `factor` is how many times the usual minutes
    /// this user takes, as far as that is known by now.
    #[must_use]
    pub fn minutes_left(&self, now: Time, factor: Option<f64>) -> (f64, f64) {
        let pace = &self.design.pace;
        // A plan at the user's pace has that factor in its minutes already.
        let factor = factor.map_or(1.0, |factor| factor / pace.learned);
        let (mut laying, mut reading, mut lifts) = (0.0, 0.0, 0.0);
        let mut dry = now;
        let mut lays = Laying::new(self, self.made.clone());
        for turn in self.plan.turns() {
            for left in self.left(turn.swatch) {
                match left.task {
                    Task::Lay => laying += lays.minutes(turn.step),
                    Task::Read(_) => reading += pace.read,
                    Task::Lift => lifts += 1.0,
                    Task::Bar | Task::Grain => reading += pace.read,
                }
                dry = dry.max(left.due.unwrap_or(now));
            }
        }
        let lifting = pace.lift * lifts;
        // Lifted one after the other, they dry together.
        let read_again = lifts > 0.0 && self.design.repeats > 0;
        let dry_again = if read_again { pace.dry } else { 0.0 };
        let table = factor * (laying + reading + lifting);
        let mut end = dry.minutes_since(now);
        if laying > 0.0 {
            // Where nothing is looked at afterwards, nobody waits for the paint to dry.
            let drying = if reading + lifting > 0.0 { pace.dry } else { 0.0 };
            end = end.max(factor * laying + drying);
        }
        (table, end + factor * (reading + lifting) + dry_again)
    }
}

/// Adds up what laying takes, swatch by swatch in the order of the plan; each step is made once.
pub(super) struct Laying<'a> {
    pace: &'a Pace,
    steps: &'a [Step],
    piles: &'a [Pile],
    made: Vec<bool>,
    /// Every step before this one is made.
    upto: usize,
}

impl<'a> Laying<'a> {
    pub fn new(run: &'a Run, made: Vec<bool>) -> Self {
        Self {
            pace: &run.design.pace,
            steps: &run.plan.steps,
            piles: &run.plan.piles,
            made,
            upto: 0,
        }
    }

    /// Minutes by the plan to lay one swatch, with the steps up to its own that nobody made yet.
    pub fn minutes(&mut self, step: Option<StepRef>) -> f64 {
        let before = step.map_or(0, |step| step.0 + 1);
        let mut minutes = self.pace.swatch;
        for at in self.upto..before {
            let (step, pace) = (&self.steps[at], self.pace);
            if std::mem::replace(&mut self.made[at], true) {
                continue;
            }
            minutes += if step.clean { pace.clean } else { 0.0 };
            minutes += if step.wipe { pace.wipe } else { 0.0 };
            minutes += if step.clear.is_some() { pace.clear } else { 0.0 };
            if let Work::Mix(pile) = step.work {
                minutes += 2.0 * pace.weigh + self.piles[pile.0].kind.minutes(pace);
            }
        }
        self.upto = self.upto.max(before);
        minutes
    }
}
