//! What was entered last, which can be taken back.

use bench::{BenchEvent, EntryId, LogEntry};
use workshop::{Last, ReadingId, Trial};

/// What can be taken back: how it is named in a form, and what it says.
pub(crate) fn last_entry(trial: &Trial) -> Option<(String, String)> {
    let last = trial.last_entry()?;
    let said = match last {
        Last::BenchEvent(id) => told(trial.log.iter().find(|entry| entry.id == id)?),
        Last::Reading(id) => {
            let stored = trial.readings.iter().find(|stored| stored.id == id)?;
            let planned = trial.swatches.iter().find(|it| it.id == stored.swatch)?;
            let (state, repeat) = (stored.reading.state, stored.reading.repeat);
            format!("{state} reading {repeat} of cell {}", planned.swatch.number)
        }
    };
    Some((name(last), said))
}

fn name(last: Last) -> String {
    match last {
        Last::BenchEvent(id) => format!("event-{}", id.0),
        Last::Reading(id) => format!("reading-{}", id.0),
    }
}

/// The entry that a form names.
pub(crate) fn named(text: &str) -> Option<Last> {
    let (kind, id) = text.split_once('-')?;
    let id = id.parse().ok()?;
    match kind {
        "event" => Some(Last::BenchEvent(EntryId(id))),
        "reading" => Some(Last::Reading(ReadingId(id))),
        _ => None,
    }
}

fn told(entry: &LogEntry) -> String {
    match &entry.event {
        BenchEvent::Made(made) => format!("step {} mixed", made.step.0 + 1),
        BenchEvent::Laid { swatch } => format!("cell {swatch} laid"),
        BenchEvent::Skipped { swatch } => format!("cell {swatch} left out"),
        BenchEvent::Dry { swatches } => {
            format!("{} dry", crate::words::counted(swatches.len(), "swatch", "swatches"))
        }
        BenchEvent::Lifted { swatch } => format!("cell {swatch} lifted"),
        BenchEvent::Bar { swatch, .. } => format!("the black bar of cell {swatch} judged"),
        BenchEvent::Grain { swatch, .. } => format!("the granulation of cell {swatch} judged"),
        BenchEvent::Noted { swatch, .. } => format!("a note to cell {swatch}"),
        BenchEvent::Seen { swatch, look } => format!("cell {swatch}: {look}"),
        BenchEvent::Depth { answer, .. } => format!("a tint judged: {answer}"),
        BenchEvent::Compared { quality, .. } => format!("two tubes compared: which is {quality}"),
        BenchEvent::RatioEstimated { swatch, .. } => format!("estimated ratio of cell {swatch}"),
        BenchEvent::Tile { tile, .. } => format!("the {tile} tile read"),
        BenchEvent::Spoilt { swatch, .. } => format!("cell {swatch} void"),
    }
}
