//! The readings of the swatch at hand, as rows.

use bench::drifts;
use colour::{Lab, ciede2000};
use study::{Measured, State, SwatchColour};
use workshop::{PlannedSwatch, StoredReading, Trial};

use crate::draw::Paint;
use crate::words::number;

/// One reading of this swatch.
pub(crate) struct ReadingRow {
    pub id: i64,
    pub repeat: u32,
    pub state: String,
    pub lab: String,
    pub off: String,
    pub fill: String,
    pub void: String,
}

/// Readings of one swatch that the bench shows; the list of readings has them all.
const SHOWN: usize = 20;

/// The newest ones, newest first, and how many there are besides.
pub(crate) fn rows(trial: &Trial, planned: &PlannedSwatch) -> (Vec<ReadingRow>, usize) {
    let drifted = drifts(&trial.log, trial.circumstances.conditions);
    let lab =
        |stored: &StoredReading| stored.reading.measured.lab(trial.circumstances.conditions).ok();
    let means = [State::Wet, State::Dry, State::Lifted].map(|state| {
        let same: Vec<Lab> = trial
            .readings_of(planned.id)
            .filter(|stored| stored.reading.void.is_none() && stored.reading.state == state)
            .filter_map(lab)
            .collect();
        (same.len() > 1).then(|| Lab::mean(&same)).flatten()
    });
    let row = |stored: &StoredReading| {
        let reading = &stored.reading;
        let colour = lab(stored);
        let mut off = match (colour, means[reading.state as usize], &reading.void) {
            (Some(colour), Some(mean), None) => {
                format!("ΔE {} from the mean", number(ciede2000(colour, mean).value(), 2))
            }
            _ => String::new(),
        };
        if drifted.iter().any(|drift| drift.marks(stored.id)) {
            off.push_str(" · the meter had drifted");
        }
        ReadingRow {
            id: stored.id.0,
            repeat: reading.repeat,
            state: reading.state.to_string(),
            lab: colour.map_or_else(String::new, |it| lab_line(&it)),
            off,
            fill: paint(stored, trial).map_or_else(String::new, |paint| paint.fill),
            void: reading.void.clone().unwrap_or_default(),
        }
    };
    let shown: Vec<ReadingRow> = trial.readings_of(planned.id).rev().take(SHOWN).map(row).collect();
    let besides = trial.readings_of(planned.id).count() - shown.len();
    (shown, besides)
}

/// `L* 27.1  a* 12.0  b* −41.3`.
pub(crate) fn lab_line(lab: &Lab) -> String {
    format!("L* {}  a* {}  b* {}", number(lab.l, 1), number(lab.a, 1), number(lab.b, 1))
}

/// A single reading as a paint.
pub(crate) fn paint(stored: &StoredReading, trial: &Trial) -> Option<Paint> {
    let conditions = trial.circumstances.conditions;
    let measured = &stored.reading.measured;
    let colour = SwatchColour {
        lab: measured.lab(conditions).ok()?,
        reflectance: match measured {
            Measured::Spectrum(reflectance) => Some(*reflectance),
            Measured::Lab(_) => None,
        },
        repeats: 1,
        spread: None,
        half_width: [0.0; 3],
        band_half_width: None,
        between: [0.0; 3],
        in_pictures: None,
        line: None,
    };
    Some(Paint::of(&colour, conditions))
}
