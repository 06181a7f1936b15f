//! What a trial tells that no reading was taken of: bars, granulation and lifts by eye, and what was seen.

use bench::Run;
use study::State;
use workshop::Trial;

use crate::words::counted;

/// What was judged by eye, square by square, and one sentence about it.
pub(super) struct ByEye {
    /// Empty where nothing was judged or read.
    pub sentence: String,
    /// No reading is planned.
    pub only: bool,
    pub lines: Vec<String>,
}

impl ByEye {
    pub fn of(trial: &Trial) -> Self {
        let run = trial.run();
        let lines = run.as_ref().map(|run| lines(trial, run)).unwrap_or_default();
        let only = trial.circumstances.repeats == 0;
        let states = [State::Wet, State::Dry, State::Lifted];
        let read = trial
            .swatches
            .iter()
            .filter(|planned| states.iter().any(|state| trial.counting(planned.id, *state) > 0));
        let read = read.count();
        let mut words = Vec::new();
        let laid = |planned: &&workshop::PlannedSwatch| {
            let square = run.as_ref().and_then(|run| run.square(planned.swatch.number));
            square.is_some_and(|square| square.laid.is_some())
        };
        words.extend(only.then(|| {
            let (laid, all) = (trial.swatches.iter().filter(laid).count(), trial.swatches.len());
            format!("{laid} of {} laid", counted(all, "swatch", "swatches"))
        }));
        words.extend((read > 0).then(|| format!("{} read", counted(read, "square", "squares"))));
        words.extend(
            (!lines.is_empty())
                .then(|| format!("{} judged by eye", counted(lines.len(), "square", "squares"))),
        );
        let sentence =
            if words.is_empty() { String::new() } else { format!("{}.", words.join(", ")) };
        Self { sentence, only, lines }
    }
}

fn lines(trial: &Trial, run: &Run) -> Vec<String> {
    let naming = trial.naming();
    let line = |planned: &workshop::PlannedSwatch| {
        let swatch = &planned.swatch;
        let square = run.square(swatch.number)?;
        let said = square.seen();
        let label = naming.swatch(swatch);
        let name = format!("{} {}", label.tubes, label.ratio);
        (!said.is_empty()).then(|| format!("{}: {}", name.trim(), said.join(", ")))
    };
    trial.swatches.iter().filter_map(line).collect()
}
