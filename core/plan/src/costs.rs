//! What a plan costs: squares, paint, time.

use serde::{Deserialize, Serialize};
use study::TubeRef;

use crate::charts::{Cell, Row};
use crate::design::Design;
use crate::piles::{Pile, Source};
use crate::schedule::{Step, Work};
use crate::swatch::Swatch;

/// Minutes to dab a reference beside its row (ours).
const DOT: f64 = 0.05;

/// What a plan costs.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Costs {
    /// Swatches that are read.
    pub swatches: usize,
    /// Squares on the sheets, those that are painted again included.
    pub squares: usize,
    /// Readings to take, wet, dry and lifted.
    pub readings: usize,
    /// Piles to mix.
    pub piles: usize,
    /// Clean-ups of knife, brush and water.
    pub clean_ups: usize,
    /// Fresh palettes after the first.
    pub clears: usize,
    /// Minutes at the table.
    pub table_minutes: f64,
    /// Minutes of waiting for paint to dry, when nothing else is left to do.
    pub waiting_minutes: f64,
    /// Paint per tube, in the plan's order of tubes.
    pub paint: Vec<PaintNeed>,
}

/// What a plan takes of one tube.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
pub struct PaintNeed {
    /// Which tube.
    pub tube: TubeRef,
    /// In the unit of the measure, g or ml.
    pub amount: f64,
    /// In ml.
    pub millilitres: f64,
}

impl Costs {
    pub(super) fn of(
        design: &Design,
        tubes: usize,
        swatches: &[Swatch],
        rows: &[Row],
        piles: &[Pile],
        steps: &[Step],
    ) -> Self {
        let painted = swatches.iter().filter(|swatch| !swatch.mixture.is_bare()).count();
        let lifted = if design.tests.lift { lifts(swatches) } else { 0 };
        let wet = if design.tests.wet { painted } else { 0 };
        let repeats = design.repeats as usize;
        let mut clock = Clock::run(design, swatches, piles, steps, lifted);
        let dots = rows.iter().flat_map(|row| &row.cells).filter(|it| matches!(it, Cell::Dot(_)));
        clock.work(DOT * dots.count() as f64);
        Self {
            swatches: swatches.len(),
            squares: rows.iter().flat_map(|row| &row.cells).filter(|it| is_square(**it)).count(),
            readings: repeats * (swatches.len() + wet + lifted),
            piles: piles.len(),
            clean_ups: steps.iter().filter(|step| step.clean).count(),
            clears: steps.iter().filter(|step| step.clear.is_some()).count(),
            table_minutes: clock.table,
            waiting_minutes: clock.waiting,
            paint: paint(design, tubes, piles, steps),
        }
    }
}

fn is_square(cell: Cell) -> bool {
    matches!(cell, Cell::First(_) | Cell::Again(_))
}

/// Tubes that are lifted: each mass tone over paper once.
fn lifts(swatches: &[Swatch]) -> usize {
    swatches.iter().filter(|swatch| swatch.is_mass_tone_on_paper()).count()
}

fn paint(design: &Design, tubes: usize, piles: &[Pile], steps: &[Step]) -> Vec<PaintNeed> {
    let mut amounts = vec![0.0; tubes];
    for step in steps {
        match &step.work {
            Work::Straight { tube, cells } => {
                amounts[tube.0] += design.supply.one_swatch() * cells.len() as f64;
            }
            Work::Mix(pile) => {
                for (source, amount) in &piles[pile.0].components {
                    if let Source::Tube(tube) = source {
                        amounts[tube.0] += amount;
                    }
                }
            }
        }
    }
    let need = |(at, amount): (usize, f64)| PaintNeed {
        tube: TubeRef(at),
        amount,
        millilitres: design.supply.millilitres(amount),
    };
    amounts.into_iter().enumerate().filter(|(_, amount)| *amount > 0.0).map(need).collect()
}

/// Paints everything, then reads each swatch as soon as it is dry.
#[derive(Default)]
struct Clock {
    now: f64,
    table: f64,
    waiting: f64,
}

impl Clock {
    fn run(
        design: &Design,
        swatches: &[Swatch],
        piles: &[Pile],
        steps: &[Step],
        lifted: usize,
    ) -> Self {
        let (pace, mut clock) = (&design.pace, Self::default());
        let reading = pace.read * f64::from(design.repeats);
        let wet = if design.tests.wet { reading } else { 0.0 };
        let mut dry_at: Vec<f64> = Vec::with_capacity(swatches.len());
        for step in steps {
            clock.work(if step.clean { pace.clean } else { 0.0 });
            clock.work(if step.wipe { pace.wipe } else { 0.0 });
            clock.work(if step.clear.is_some() { pace.clear } else { 0.0 });
            let cells = match &step.work {
                Work::Straight { cells, .. } => cells,
                Work::Mix(pile) => {
                    let pile = &piles[pile.0];
                    clock.work(2.0 * pace.weigh + pile.kind.minutes(pace));
                    &pile.cells
                }
            };
            for _ in cells {
                clock.work(pace.swatch + wet);
                dry_at.push(clock.now + pace.dry);
            }
        }
        // Bare backings need no waiting.
        let bare = swatches.iter().filter(|swatch| swatch.mixture.is_bare()).count();
        clock.work(reading * bare as f64);
        let painted = swatches.len() - bare;
        // Nobody waits for paint to dry that is neither read, nor lifted, nor looked at again.
        let again = design.tests.opacity || lifted > 0 || design.thins_to_a_film();
        let awaited = if design.repeats > 0 || again { painted } else { 0 };
        for dry_at in dry_at.iter().take(awaited) {
            clock.wait_until(*dry_at);
            clock.work(reading);
        }
        if lifted > 0 {
            clock.work(pace.lift * lifted as f64);
        }
        if lifted > 0 && design.repeats > 0 {
            let dry = clock.now + pace.dry;
            clock.wait_until(dry);
            clock.work(reading * lifted as f64);
        }
        clock
    }

    fn work(&mut self, minutes: f64) {
        self.now += minutes;
        self.table += minutes;
    }

    fn wait_until(&mut self, time: f64) {
        if time > self.now {
            self.waiting += time - self.now;
            self.now = time;
        }
    }
}
