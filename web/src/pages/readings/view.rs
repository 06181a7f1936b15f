//! Finished text of the readings list.

use std::collections::HashMap;

use askama::Template;
use askama_web::WebTemplate;
use bench::{Drift, Time, drifts};
use study::numbers::number;
use study::{Backing, Calibration, FilmKind, FromPicture, Measured, State};
use time::OffsetDateTime;
use time::format_description::well_known::Rfc3339;
use workshop::{StoredReading, SwatchId, Trial};

use crate::frame::{Frame, Heading};
use crate::pages::bench::{lab_line, paint};
use crate::pages::paging::Paging;

/// Every reading of a trial.
#[derive(Template, WebTemplate)]
#[template(path = "readings/page.html")]
pub(crate) struct ReadingsPage {
    frame: Frame,
    heading: Heading,
    id: i64,
    /// It has a log of the bench.
    planned: bool,
    /// A chart that was not printed here.
    ruled: bool,
    /// What a file has brought; empty where none was just read.
    told: String,
    paging: Paging,
    rows: Vec<Row>,
}

/// Readings on one page.
const ON_ONE_PAGE: usize = 200;

struct Row {
    id: i64,
    number: String,
    tubes: String,
    ratio: String,
    /// Recipes can be found for it.
    is_target: bool,
    state: String,
    fill: String,
    lab: String,
    /// `± 9.0 · uncalibrated`, of a colour from a picture; empty otherwise.
    sure: String,
    kind: &'static str,
    instrument: String,
    taken_at: String,
    void: String,
}

impl ReadingsPage {
    pub fn new(frame: Frame, heading: Heading, trial: &Trial, page: usize, told: String) -> Self {
        let naming = trial.naming();
        let labels: HashMap<SwatchId, (String, String, String)> = trial
            .swatches
            .iter()
            .map(|planned| {
                let label = naming.swatch(&planned.swatch);
                (planned.id, (planned.swatch.number.to_string(), label.tubes, label.ratio))
            })
            .collect();
        let drifted = drifts(&trial.log, trial.circumstances.conditions);
        let newest: Vec<&StoredReading> = trial.readings.iter().rev().map(AsRef::as_ref).collect();
        let address = |page| format!("/trials/{}/readings?page={page}", trial.id.0);
        let paging = Paging::of(newest.len(), page, ON_ONE_PAGE, address);
        let part = paging.part(&newest);
        let rows = part.iter().map(|stored| Row::new(stored, trial, &labels, &drifted)).collect();
        Self {
            id: trial.id.0,
            planned: trial.plan.is_some(),
            ruled: trial.chart.is_some(),
            told,
            paging,
            rows,
            frame,
            heading,
        }
    }
}

impl Row {
    fn new(
        stored: &StoredReading,
        trial: &Trial,
        labels: &HashMap<SwatchId, (String, String, String)>,
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
            is_target: reading.void.is_none()
                && reading.state == State::Dry
                && reading.backing == Backing::Paper
                && reading.film == FilmKind::Full
                && !reading.mixture.is_bare(),
            state: format!("{} {}", reading.state, reading.repeat),
            fill: paint(stored, trial).map_or_else(String::new, |paint| paint.fill),
            lab: lab.map_or_else(|error| error.to_string(), |lab| lab_line(&lab)),
            sure: reading.from_picture.as_ref().map_or_else(String::new, sure),
            kind: match reading.measured {
                Measured::Spectrum(_) => "spectrum",
                Measured::Lab(_) => "CIELAB",
            },
            instrument: taken_with(stored, drifted),
            taken_at: at_utc(stored.taken),
            void: reading.void.clone().unwrap_or_default(),
        }
    }
}

/// How far a colour from a picture may be off, and what it rests on.
fn sure(from: &FromPicture) -> String {
    let off = number(from.uncertainty, 1);
    match from.calibration {
        Calibration::Calibrated => format!("± {off}"),
        Calibration::Guessed => format!("± {off} · no square of it is known"),
        Calibration::Uncalibrated => format!("± {off} · uncalibrated"),
    }
}

/// `bench meter, while it drifted`; what was made up says so.
fn taken_with(stored: &StoredReading, drifted: &[Drift]) -> String {
    let mut words = vec![stored.instrument.to_string()];
    let source = stored.reading.source.to_string();
    // What came in a file may say how it was taken there.
    if !stored.is_by_meter() && !["typed", "file"].contains(&source.as_str()) {
        words.push(source);
    }
    if stored.reading.simulated && !stored.instrument.contains("simulated") {
        words.push("simulated".to_owned());
    }
    if drifted.iter().any(|drift| drift.marks(stored.id)) {
        words.push("while it drifted".to_owned());
    }
    words.join(", ")
}

/// `2026-11-26 09:30:00`, UTC.
pub(crate) fn at_utc(taken: Time) -> String {
    let at =
        OffsetDateTime::from_unix_timestamp(taken.0).ok().and_then(|at| at.format(&Rfc3339).ok());
    at.map_or_else(String::new, |at| at.replace('T', " ").trim_end_matches('Z').to_owned())
}
