//! What the bench asks for now, of the swatch at hand.

use bench::{Run, Task, Tile, TileDue, Time, drifts, tile_due};
use plan::CellNumber;
use store::{PlannedSwatch, ReadingId};
use study::State;
use study::numbers::{counted, hours, number};

use crate::open_trial::OpenTrial;
use crate::work_order::WorkOrder;

/// The one thing to do.
#[derive(Debug, Clone, PartialEq)]
pub enum Prompt {
    /// Read a tile before anything else is read.
    Tile {
        /// Which.
        tile: Tile,
        /// Why now.
        why: String,
    },
    /// Mix, where that is not done yet, and lay it.
    Lay,
    /// Read it.
    Read,
    /// Nothing before it is dry.
    Drying {
        /// When the first is.
        due: Time,
    },
    /// Judge the black bar.
    Bar,
    /// Judge the granulation.
    Grain,
    /// Lift it.
    Lift,
    /// Go on.
    Nothing,
}

/// What the user has to read with.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct AtHand {
    /// A meter.
    pub meter: bool,
    /// A tile of a colour that never changes, besides the meter's own white one.
    pub check_tile: bool,
}

fn tiles(at_hand: AtHand) -> &'static [Tile] {
    if at_hand.check_tile { Tile::ALL } else { &[Tile::White] }
}

impl Prompt {
    /// What the page asks for, and in which state the paint is read; `chosen` is the user's own
    /// choice of it.
    #[must_use]
    pub fn of(
        trial: &OpenTrial,
        planned: &PlannedSwatch,
        order: &WorkOrder<'_>,
        (chosen, at_hand): (Option<State>, AtHand),
        now: Time,
    ) -> (Self, State) {
        let run = order.run();
        let left = run.map(|run| run.left(planned.swatch.number)).unwrap_or_default();
        let first = left.first();
        let reads = left.iter().find_map(|it| match it.task {
            Task::Read(state) => Some(state),
            _ => None,
        });
        let state = chosen.or(reads).unwrap_or_default();
        let tiles = tiles(at_hand);
        let to_read = || match tile(trial, order, tiles).filter(|_| at_hand.meter) {
            Some((tile, why)) => Self::Tile { tile, why },
            None => Self::Read,
        };
        let prompt = match (chosen, run, first) {
            (None, Some(_), Some(left)) => match (left.task, left.due) {
                (Task::Lay, _) => Self::Lay,
                (_, Some(due)) if due > now => Self::Drying { due },
                (Task::Read(_), _) => to_read(),
                (Task::Bar, _) => Self::Bar,
                (Task::Grain, _) => Self::Grain,
                (Task::Lift, _) => Self::Lift,
            },
            (None, Some(_), None) => {
                match end_tile(trial, order, tiles).filter(|_| at_hand.meter) {
                    Some((tile, why)) => Self::Tile { tile, why },
                    None => Self::Nothing,
                }
            }
            (Some(chosen), ..) if trial.missing(planned.id, chosen) > 0 => to_read(),
            (None, None, _) if trial.dry_readings_missing(planned.id) > 0 => to_read(),
            _ => Self::Nothing,
        };
        (prompt, state)
    }
}

/// Numbers of the readings that a meter took.
fn by_meter(trial: &OpenTrial) -> Vec<ReadingId> {
    trial.readings.iter().filter(|it| it.is_by_meter()).map(|it| it.id).collect()
}

/// The tile that is due before the next reading, where readings are taken with a meter.
fn tile(trial: &OpenTrial, order: &WorkOrder<'_>, tiles: &[Tile]) -> Option<(Tile, String)> {
    order.run()?;
    let readings = by_meter(trial);
    if readings.is_empty() && !trial.readings.is_empty() {
        return None;
    }
    told(tile_due(&trial.log, &readings, false, tiles)?)
}

/// The tile that is due at the end of the run.
fn end_tile(trial: &OpenTrial, order: &WorkOrder<'_>, tiles: &[Tile]) -> Option<(Tile, String)> {
    if order.first_open().is_some() {
        return None;
    }
    // Where none was read at the start, one at the end tells nothing.
    match tile_due(&trial.log, &by_meter(trial), true, tiles)? {
        TileDue::Start(_) => None,
        due => told(due),
    }
}

fn told(due: TileDue) -> Option<(Tile, String)> {
    let why = match due {
        TileDue::Start(_) => "before the first reading, so that a drift of the meter shows later",
        TileDue::Regular(_) => "once more: some time has passed since it was read",
        TileDue::End(_) => "once more, after the last reading",
    };
    Some((due.tile(), why.to_owned()))
}

/// What the tiles say of the readings so far; empty while the meter stands where it stood.
#[must_use]
pub fn drift_line(trial: &OpenTrial) -> String {
    let found = drifts(&trial.log, trial.circumstances.conditions);
    let Some(worst) = found.iter().max_by(|one, other| one.off.total_cmp(&other.off)) else {
        return String::new();
    };
    let marked = trial
        .readings
        .iter()
        .filter(|stored| found.iter().any(|drift| drift.marks(stored.id)))
        .count();
    format!(
        "The {} tile reads ΔE {} from where it was at the start: the meter has drifted. Calibrate it, \
         and read the tile again. {} taken in between {} marked.",
        worst.tile,
        number(worst.off, 1),
        counted(marked, "reading", "readings"),
        if marked == 1 { "is" } else { "are" }
    )
}

/// `in 20 min`, `in 2 h 5 min`, `now`.
#[must_use]
pub fn until(due: Time, now: Time) -> String {
    match due.minutes_since(now) {
        left if left <= 0.0 => "now".into(),
        left if left < 60.0 => format!("in {} min", left.ceil()),
        left => format!("in {}", hours(left)),
    }
}

/// The swatches of a sheet that are laid and not said to be dry.
pub(crate) fn drying_on_sheet(run: &Run, on_sheet: &[CellNumber], now: Time) -> Vec<CellNumber> {
    let drying = |number: &&CellNumber| {
        run.square(**number).is_some_and(|square| square.laid.is_some())
            && run.dry_time(**number).is_some_and(|dry| dry > now)
    };
    on_sheet.iter().filter(drying).copied().collect()
}
