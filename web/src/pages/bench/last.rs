//! What was entered last, which can be taken back.

use bench::{Deed, Entry};
use store::{Last, ReadingId, Trial};

/// What can be taken back: how it is named in a form, and what it says.
pub(crate) fn last_entry(trial: &Trial) -> Option<(String, String)> {
    let last = trial.last_entry()?;
    let said = match last {
        Last::Deed(id) => told(trial.log.iter().find(|entry| entry.id == id)?),
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
        Last::Deed(id) => format!("deed-{id}"),
        Last::Reading(id) => format!("reading-{}", id.0),
    }
}

/// The entry that a form names.
pub(crate) fn named(text: &str) -> Option<Last> {
    let (kind, id) = text.split_once('-')?;
    let id = id.parse().ok()?;
    match kind {
        "deed" => Some(Last::Deed(id)),
        "reading" => Some(Last::Reading(ReadingId(id))),
        _ => None,
    }
}

fn told(entry: &Entry) -> String {
    match &entry.deed {
        Deed::Made(made) => format!("step {} mixed", made.step + 1),
        Deed::Laid { swatch } => format!("cell {swatch} laid"),
        Deed::Skipped { swatch } => format!("cell {swatch} left out"),
        Deed::Dry { swatches } => {
            format!("{} dry", crate::words::counted(swatches.len(), "swatch", "swatches"))
        }
        Deed::Lifted { swatch } => format!("cell {swatch} lifted"),
        Deed::Bar { swatch, .. } => format!("the bar of cell {swatch} judged"),
        Deed::Grain { swatch, .. } => format!("the granulation of cell {swatch} judged"),
        Deed::Noted { swatch, .. } => format!("a note to cell {swatch}"),
        Deed::Tile { tile, .. } => format!("the {tile} tile read"),
        Deed::Spoilt { swatch, .. } => format!("cell {swatch} void"),
    }
}
