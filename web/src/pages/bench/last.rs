//! What was entered last, which can be taken back.

use store::Trial;
use trial::run::{Deed, Entry};

/// `cell 14 laid`, `dry reading 2 of cell 14`; empty where nothing can be taken back.
pub(crate) fn last_entry(trial: &Trial) -> String {
    let deed = trial.log.iter().rfind(|entry| entry.void.is_none());
    match (deed, trial.readings.last()) {
        (Some(deed), Some(reading)) if deed.after >= reading.id.0 => told(deed),
        (Some(deed), None) => told(deed),
        (_, Some(reading)) if reading.reading.void.is_none() => {
            let number = trial.swatches.iter().find(|it| it.id == reading.swatch);
            number.map_or_else(String::new, |planned| {
                let (state, repeat) = (reading.reading.state, reading.reading.repeat);
                format!("{state} reading {repeat} of cell {}", planned.swatch.number)
            })
        }
        _ => String::new(),
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
        // A void stays.
        Deed::Spoilt { .. } => String::new(),
    }
}
