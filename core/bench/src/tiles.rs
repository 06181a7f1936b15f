//! Whether the meter has drifted: two tiles that never change are read again and again.

use colour::{Conditions, Lab, Reflectance, ciede2000};

use crate::event::{BenchEvent, LogEntry, Tile};
use crate::numbers::ReadingId;

/// A tile that reads farther than this, ΔE00, from its first reading: the meter has drifted.
pub const MOST_DRIFT: f64 = 0.5;
/// After so many readings the tiles are due again (common practice, no source).
pub const TILE_EVERY: usize = 36;

/// Readings at one end of which a tile read differently than at the start.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Drift {
    /// Which tile.
    pub tile: Tile,
    /// ΔE00 from its first reading.
    pub off: f64,
    /// Readings later than this one, or from the first …
    pub after: Option<ReadingId>,
    /// … up to this one were taken meanwhile.
    pub up_to: Option<ReadingId>,
}

impl Drift {
    /// True for a reading that may be off.
    #[must_use]
    pub fn marks(&self, reading: ReadingId) -> bool {
        self.after < Some(reading) && Some(reading) <= self.up_to
    }
}

/// Which tile is to be read now, and why.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum TileDue {
    /// Before the first reading.
    Start(Tile),
    /// Some time has passed.
    Regular(Tile),
    /// After the last reading.
    End(Tile),
}

impl TileDue {
    /// The tile.
    #[must_use]
    pub fn tile(self) -> Tile {
        match self {
            Self::Start(tile) | Self::Regular(tile) | Self::End(tile) => tile,
        }
    }
}

/// The readings of a tile that count, oldest first: after which reading of the trial, and what.
fn of_tile(log: &[LogEntry], wanted: Tile) -> impl Iterator<Item = (Option<ReadingId>, &[f64])> {
    log.iter().filter(|entry| entry.void.is_none()).filter_map(move |entry| match &entry.event {
        BenchEvent::Tile { tile, bands, .. } if *tile == wanted => {
            Some((entry.after, bands.as_slice()))
        }
        _ => None,
    })
}

/// Every stretch of readings at one end of which a tile had drifted beyond [`MOST_DRIFT`].
#[must_use]
pub fn drifts(log: &[LogEntry], conditions: Conditions) -> Vec<Drift> {
    Tile::ALL.iter().flat_map(|tile| drifts_of(log, *tile, conditions)).collect()
}

fn drifts_of(log: &[LogEntry], tile: Tile, conditions: Conditions) -> Vec<Drift> {
    let lab = |bands: &[f64]| {
        Reflectance::new(bands).ok().map(|it| Lab::from_reflectance(&it, conditions))
    };
    let mut first = None;
    let (mut after, mut before) = (None, 0.0_f64);
    let mut found = Vec::new();
    for (up_to, colour) in of_tile(log, tile).filter_map(|(at, bands)| Some((at, lab(bands)?))) {
        let here = ciede2000(*first.get_or_insert(colour), colour).value();
        let off = here.max(before);
        if off > MOST_DRIFT {
            found.push(Drift { tile, off, after, up_to });
        }
        (after, before) = (up_to, here);
    }
    found
}

/// The tile to be read now. `readings` are the numbers of the trial's readings by a meter, oldest
/// first; `finished` is true where no other task is left; `tiles` are those that there are.
#[must_use]
pub fn tile_due(
    log: &[LogEntry],
    readings: &[ReadingId],
    finished: bool,
    tiles: &[Tile],
) -> Option<TileDue> {
    tiles.iter().copied().find_map(|tile| {
        let Some((last, _)) = of_tile(log, tile).last() else {
            return (!finished || !readings.is_empty()).then_some(TileDue::Start(tile));
        };
        let since = readings.iter().filter(|reading| Some(**reading) > last).count();
        match since {
            0 => None,
            _ if finished => Some(TileDue::End(tile)),
            since if since >= TILE_EVERY => Some(TileDue::Regular(tile)),
            _ => None,
        }
    })
}
