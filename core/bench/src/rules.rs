//! What can be done to a square, as it stands: nobody reads, lifts or judges paint that is not there.

use plan::CellNumber;
use thiserror::Error;

use crate::event::{BenchEvent, LogEntry};

/// What became of the paint of one square, as far as an act needs to know it.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Standing {
    /// It is painted: that was said, or it was read.
    pub laid: bool,
    /// Why its last painting does not count; `None` for one that was never spoilt, or is painted
    /// again.
    pub spoilt: Option<String>,
}

impl Standing {
    /// From the entries of a log, oldest first; `read` where a reading of the square counts.
    #[must_use]
    pub fn of<'a>(
        number: CellNumber,
        log: impl IntoIterator<Item = &'a LogEntry>,
        read: bool,
    ) -> Self {
        let mut standing = Self { laid: read, spoilt: None };
        for entry in log.into_iter().filter(|entry| entry.void.is_none()) {
            match &entry.event {
                BenchEvent::Laid { swatch } if *swatch == number => {
                    standing = Self { laid: true, spoilt: None };
                }
                BenchEvent::Spoilt { swatch, reason } if *swatch == number => {
                    // What was read before is void with it; what counts was read since.
                    standing = Self { laid: read, spoilt: (!read).then(|| reason.clone()) };
                }
                _ => {}
            }
        }
        standing
    }
}

/// Why something cannot have been done to a square.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum Refused {
    /// Nothing is painted there.
    #[error(
        "cell {0} is not painted yet, so this was not recorded; say first that it is mixed and swatched"
    )]
    NotPainted(CellNumber),
    /// Its paint does not count any more.
    #[error(
        "cell {cell} was marked as spoilt ({reason}), so this was not recorded; paint it again first"
    )]
    Spoilt {
        /// Number of the cell.
        cell: CellNumber,
        /// Why.
        reason: String,
    },
    /// It is painted, so it cannot be left out.
    #[error(
        "cell {0} is painted already, so it was not left out; void the swatch where it does not count"
    )]
    Painted(CellNumber),
}

/// Whether a reading of a painted square can have been taken.
///
/// # Errors
/// For a square on which no paint stands.
pub fn may_read(number: CellNumber, standing: &Standing) -> Result<(), Refused> {
    match &standing.spoilt {
        _ if standing.laid => Ok(()),
        Some(reason) => Err(Refused::Spoilt { cell: number, reason: reason.clone() }),
        None => Err(Refused::NotPainted(number)),
    }
}

/// Whether something else can have been done to a square.
///
/// # Errors
/// For judging, lifting or spoiling what is not painted, and for leaving out what is.
pub fn may_do(event: &BenchEvent, standing: &Standing) -> Result<(), Refused> {
    match event {
        BenchEvent::Lifted { swatch }
        | BenchEvent::Bar { swatch, .. }
        | BenchEvent::Grain { swatch, .. }
        | BenchEvent::Seen { swatch, .. }
        | BenchEvent::RatioEstimated { swatch, .. }
        | BenchEvent::Spoilt { swatch, .. } => may_read(*swatch, standing),
        BenchEvent::Skipped { swatch } if standing.laid => Err(Refused::Painted(*swatch)),
        // A note may be made of a square at any time, and what is laid twice is laid once.
        BenchEvent::Skipped { .. }
        | BenchEvent::Noted { .. }
        | BenchEvent::Laid { .. }
        | BenchEvent::Made(_)
        | BenchEvent::Dry { .. }
        | BenchEvent::Depth { .. }
        | BenchEvent::Compared { .. }
        | BenchEvent::Tile { .. } => Ok(()),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{BarShows, EntryId, Grain, Time};

    const CELL: CellNumber = CellNumber(3);

    fn log(events: &[BenchEvent]) -> Vec<LogEntry> {
        let entry = |(id, event): (i64, &BenchEvent)| LogEntry {
            id: EntryId(id),
            batch: EntryId(id),
            event: event.clone(),
            at: Time(id),
            after: None,
            void: None,
        };
        (1..).zip(events).map(entry).collect()
    }

    #[test]
    fn paint_that_is_not_there_is_neither_read_nor_judged() {
        let laid = BenchEvent::Laid { swatch: CELL };
        let spoilt = BenchEvent::Spoilt { swatch: CELL, reason: "streaks".into() };
        let not_painted = Err(Refused::NotPainted(CELL));
        let is_spoilt = Err(Refused::Spoilt { cell: CELL, reason: "streaks".into() });
        let cases = [
            (vec![], false, not_painted.clone()),
            (vec![BenchEvent::Laid { swatch: CellNumber(4) }], false, not_painted),
            (vec![laid.clone()], false, Ok(())),
            (vec![], true, Ok(())),
            (vec![laid.clone(), spoilt.clone()], false, is_spoilt),
            (vec![laid.clone(), spoilt.clone()], true, Ok(())),
            (vec![laid.clone(), spoilt, laid], false, Ok(())),
        ];
        for (events, read, expected) in cases {
            let standing = Standing::of(CELL, &log(&events), read);
            assert_eq!(may_read(CELL, &standing), expected, "{events:?}");
            for act in [
                BenchEvent::Lifted { swatch: CELL },
                BenchEvent::Bar { swatch: CELL, shows: BarShows::Trace },
                BenchEvent::Grain { swatch: CELL, grain: Grain::None },
                BenchEvent::Spoilt { swatch: CELL, reason: "smeared".into() },
            ] {
                assert_eq!(may_do(&act, &standing), expected, "{act:?}");
            }
            let skip = may_do(&BenchEvent::Skipped { swatch: CELL }, &standing);
            assert_eq!(
                skip.is_ok(),
                expected.is_err(),
                "left out exactly where nothing is painted"
            );
        }
    }
}
