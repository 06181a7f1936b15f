//! The log of a bench as CSV: a header row, then one row for each event, void ones included.

use bench::{BenchEvent, LogEntry};
use csv::{Terminator, WriterBuilder};
use plan::{CellNumber, Plan, Source};
use study::{SeenTint, TubeLabel, TubeRef};
use time::OffsetDateTime;
use time::format_description::well_known::Rfc3339;

use crate::cells::guarded;

const COLUMNS: [&str; 7] = ["at", "what", "cell", "how", "put_together", "said", "void"];

/// Writes the log, oldest first. Amounts stand in `unit`, g or ml.
#[must_use]
pub fn write(log: &[LogEntry], plan: &Plan, tubes: &[TubeLabel], unit: &str) -> String {
    let mut out = WriterBuilder::new().terminator(Terminator::Any(b'\n')).from_writer(Vec::new());
    // Writing text to memory cannot fail.
    let _ = out.write_record(COLUMNS);
    for entry in log {
        let _ = out.write_record(row(entry, plan, tubes, unit));
    }
    String::from_utf8(out.into_inner().unwrap_or_default()).unwrap_or_default()
}

fn row(entry: &LogEntry, plan: &Plan, tubes: &[TubeLabel], unit: &str) -> [String; 7] {
    let at = OffsetDateTime::from_unix_timestamp(entry.at.0).ok();
    let at = at.and_then(|at| at.format(&Rfc3339).ok()).unwrap_or_default();
    let cell = entry.event.swatch().map_or_else(String::new, |cell| cell.to_string());
    let void = entry.void.clone().unwrap_or_default();
    let (mut how, mut put_together) = (String::new(), String::new());
    let (what, said) = match &entry.event {
        BenchEvent::Made(made) => {
            how = made.how.to_string();
            let part = |(source, amount): &(Source, f64)| {
                format!("{amount} {unit} {}", named(source, plan, tubes))
            };
            let parts: Vec<String> = made.parts.iter().map(part).collect();
            put_together = if parts.is_empty() { "as planned".into() } else { parts.join(" + ") };
            if made.simulated {
                put_together.push_str(" (simulated)");
            }
            ("mixed", format!("step {}", made.step.0 + 1))
        }
        BenchEvent::Laid { .. } => ("laid", String::new()),
        BenchEvent::Skipped { .. } => ("left out", String::new()),
        BenchEvent::Dry { swatches } => {
            let cells: Vec<String> = swatches.iter().map(CellNumber::to_string).collect();
            ("dry", format!("cells {}", cells.join(" ")))
        }
        BenchEvent::Lifted { .. } => ("lifted", String::new()),
        BenchEvent::Bar { shows, .. } => ("black bar", shows.to_string()),
        BenchEvent::Grain { grain, .. } => ("granulation", grain.to_string()),
        BenchEvent::Noted { words, note, .. } => {
            let words = words.iter().map(ToString::to_string).chain([note.clone()]);
            let said: Vec<String> = words.filter(|word| !word.is_empty()).collect();
            ("noted", said.join(", "))
        }
        BenchEvent::Seen { look, .. } => ("seen", look.to_string()),
        BenchEvent::Depth { sample, standard, answer } => {
            let tint = |tint: &SeenTint| {
                format!("{} white 1 : {}", named(&Source::Tube(tint.tube), plan, tubes), tint.white)
            };
            ("depth by eye", format!("{} is {answer} beside {}", tint(sample), tint(standard)))
        }
        BenchEvent::Compared { quality, tubes: [first, second], answer } => {
            let name = |tube: &TubeRef| named(&Source::Tube(*tube), plan, tubes);
            let (first, second) = (name(first), name(second));
            ("compared by eye", format!("{first} or {second}, which is {quality}: the {answer}"))
        }
        BenchEvent::RatioEstimated { parts, sigma, .. } => {
            let part = |(tube, share): &(TubeRef, f64)| {
                format!("{share} {}", named(&Source::Tube(*tube), plan, tubes))
            };
            put_together = parts.iter().map(part).collect::<Vec<_>>().join(" + ");
            ("ratio estimated", format!("sigma of ln {sigma}"))
        }
        BenchEvent::Spoilt { reason, .. } => ("spoilt", reason.clone()),
        BenchEvent::Tile { tile, simulated, .. } => {
            let mark = if *simulated { " (simulated)" } else { "" };
            ("tile", format!("{tile}{mark}"))
        }
    };
    let cells = [at, what.to_owned(), cell, how, put_together, said, void];
    cells.map(|cell| guarded(&cell).into_owned())
}

/// A tube, or the pile that a step made.
fn named(source: &Source, plan: &Plan, tubes: &[TubeLabel]) -> String {
    match source {
        Source::Tube(tube) => tubes.get(tube.0).map_or("?", |label| label.name.as_str()).to_owned(),
        Source::Pile(pile) => {
            let mixes = |work: &plan::Work| *work == plan::Work::Mix(*pile);
            let step = plan.steps.iter().position(|step| mixes(&step.work)).unwrap_or_default();
            format!("from step {}", step + 1)
        }
    }
}
