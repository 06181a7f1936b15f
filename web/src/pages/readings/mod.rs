//! Every reading of a trial, void ones included, and the files it can be taken away as.

mod conditions;
pub(crate) mod file;
mod view;

use std::sync::Arc;

use axum::extract::{Path, Query, State};
use axum::response::{Redirect, Response};
use formats::readings::ExportRow;
use plan::CellNumber;
use serde::Deserialize;
use view::ReadingsPage;
pub(crate) use view::at_utc;
use workshop::{ReadingId, StoreError, TrialId, Workshop, off_the_thread};

use crate::error::PageError;
use crate::frame::{Frame, Heading, Room};
use crate::pages::fields::kept;
use crate::pages::{download, file_name};
use crate::posted::Posted;
use crate::words::counted;

/// Which part of the list, and what a file that was just read has brought.
#[derive(Debug, Default, Deserialize)]
pub(crate) struct WhichPart {
    #[serde(default)]
    page: usize,
    stored: Option<usize>,
    there: Option<usize>,
}

impl WhichPart {
    /// `12 readings of the file are stored, 3 were there already, and none was refused.`
    fn told(&self) -> String {
        let Some((stored, there)) = self.stored.zip(self.there) else { return String::new() };
        let were = if there == 1 { "was" } else { "were" };
        format!(
            "{} stored from the file, {there} {were} there already, none refused.",
            counted(stored, "reading", "readings")
        )
    }
}

pub(crate) async fn list(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Query(asked): Query<WhichPart>,
) -> Result<ReadingsPage, PageError> {
    let frame = Frame::load(&app, Room::Readings, Some(TrialId(id))).await?;
    let trial = app.trial(TrialId(id)).await?;
    let heading = Heading::of(&trial, frame.summary(trial.id)?);
    Ok(ReadingsPage::new(frame, heading, &trial, asked.page, asked.told()))
}

/// Why a reading does not count, and the swatch to go back to.
#[derive(Debug, Deserialize)]
pub(crate) struct VoidForm {
    #[serde(default)]
    reason: String,
    #[serde(default)]
    back: String,
}

pub(crate) async fn void(
    State(app): State<Workshop>,
    Path((id, reading)): Path<(i64, i64)>,
    Posted { form, once }: Posted<VoidForm>,
) -> Result<Redirect, PageError> {
    let reason = kept(&form.reason);
    let reason = if reason.is_empty() { "no reason given" } else { &reason };
    app.once(once.as_deref()).void_reading(TrialId(id), ReadingId(reading), reason).await?;
    let back = match form.back.parse::<CellNumber>() {
        Ok(number) => format!("/trials/{id}/bench/{number}"),
        Err(_) => format!("/trials/{id}/readings"),
    };
    Ok(Redirect::to(&back))
}

/// The readings file.
pub(crate) async fn csv(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
) -> Result<Response, PageError> {
    let trial = app.trial(TrialId(id)).await?;
    let sources = app.source_rows(trial.id).await?;
    let name = file_name(&trial, "csv");
    let text = off_the_thread(move || {
        let mut rows: Vec<ExportRow<'_>> = trial
            .readings
            .iter()
            .map(|stored| ExportRow {
                reading: &stored.reading,
                source: sources.get(&stored.id).map(String::as_str),
                voided_since: stored.voided_since,
            })
            .collect();
        if trial.source_head.is_none() {
            // A file's tubes stand in the order in which they first appear: let that be the trial's.
            rows.sort_by_key(|row| match row.reading.mixture.parts() {
                [] => (0, 0),
                [alone] => (1, alone.tube.0),
                _ => (2, 0),
            });
        }
        formats::readings::export(&trial.study(), trial.source_head.as_deref(), &rows)
    })
    .await?;
    Ok(download("text/csv; charset=utf-8", &name, text))
}

/// What else was done at the bench.
pub(crate) async fn log(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
) -> Result<Response, PageError> {
    let trial = app.trial(TrialId(id)).await?;
    let plan = trial
        .plan
        .as_ref()
        .ok_or(StoreError::NotFound("bench: this trial was not planned here"))?;
    let (plan, unit) = (Arc::clone(&plan.plan), plan.design.supply.unit());
    let name = file_name(&trial, "csv").replace(".csv", "-bench.csv");
    let text =
        off_the_thread(move || formats::log::write(&trial.log, &plan, &trial.labels(), unit))
            .await?;
    Ok(download("text/csv; charset=utf-8", &name, text))
}

/// The same as CGATS.17 for general colour tools.
pub(crate) async fn cgats(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
) -> Result<Response, PageError> {
    let trial = app.trial(TrialId(id)).await?;
    let name = file_name(&trial, "txt");
    let text = off_the_thread(move || formats::cgats::write(&trial.study())).await??;
    Ok(download("text/plain; charset=utf-8", &name, text))
}
