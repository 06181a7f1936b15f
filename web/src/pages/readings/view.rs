//! Finished text of the readings list.

use std::collections::HashMap;

use askama::Template;
use askama_web::WebTemplate;
use store::{StoredReading, SwatchId, Trial};
use trial::Measured;
use trial::run::{Drift, drifts};

use crate::frame::{Frame, Heading};
use crate::pages::bench::{lab_line, paint};

/// Every reading of a trial.
#[derive(Template, WebTemplate)]
#[template(path = "readings/page.html")]
pub(crate) struct ReadingsPage {
    frame: Frame,
    heading: Heading,
    id: i64,
    /// It has a log of the bench.
    planned: bool,
    rows: Vec<Row>,
}

struct Row {
    id: i64,
    number: u32,
    tubes: String,
    ratio: String,
    state: String,
    fill: String,
    lab: String,
    kind: &'static str,
    instrument: String,
    taken_at: String,
    void: String,
}

impl ReadingsPage {
    pub fn new(frame: Frame, heading: Heading, trial: &Trial) -> Self {
        let (tubes, white) = (trial.labels(), trial.white());
        let labels: HashMap<SwatchId, (u32, String, String)> = trial
            .swatches
            .iter()
            .map(|planned| {
                let label = planned.swatch.label(&tubes, white);
                (planned.id, (planned.swatch.number, label.tubes, label.ratio))
            })
            .collect();
        let drifted = drifts(&trial.log, trial.circumstances.conditions);
        let rows =
            trial.readings.iter().rev().map(|stored| Row::new(stored, trial, &labels, &drifted));
        Self { frame, heading, id: trial.id.0, planned: trial.plan.is_some(), rows: rows.collect() }
    }
}

impl Row {
    fn new(
        stored: &StoredReading,
        trial: &Trial,
        labels: &HashMap<SwatchId, (u32, String, String)>,
        drifted: &[Drift],
    ) -> Self {
        let reading = &stored.reading;
        let (number, tubes, ratio) = labels.get(&stored.swatch).cloned().unwrap_or_default();
        let lab = reading.measured.lab(trial.circumstances.conditions);
        Self {
            id: stored.id.0,
            number,
            tubes,
            ratio,
            state: format!("{} {}", reading.state, reading.repeat),
            fill: paint(stored, trial).map_or_else(String::new, |paint| paint.fill),
            lab: lab.map_or_else(|error| error.to_string(), |lab| lab_line(&lab)),
            kind: match reading.measured {
                Measured::Spectrum(_) => "spectrum",
                Measured::Lab(_) => "CIELAB",
            },
            instrument: if drifted.iter().any(|drift| drift.marks(stored.id.0)) {
                format!("{}, while it drifted", stored.instrument)
            } else {
                stored.instrument.clone()
            },
            taken_at: stored.taken_at.replace('T', " ").trim_end_matches('Z').to_owned(),
            void: reading.void.clone().unwrap_or_default(),
        }
    }
}
