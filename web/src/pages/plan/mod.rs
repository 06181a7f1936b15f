//! Trials that are planned: the list, a plan at a glance, its mixing list and its sheets.

pub(crate) mod first;
mod list_view;
mod mixing;
mod overview;
mod sheets;
pub(super) use sheets::drawings as drawn_sheets;
mod squares;

use std::num::NonZeroUsize;
use std::sync::Arc;

use axum::Json;
use axum::extract::{Path, Query, State};
use axum::http::header::CONTENT_TYPE;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::Form;
use list_view::ListPage;
use mixing::MixingPage;
use overview::OverviewPage;
use plan::Plan;
use serde::Deserialize;
use sheets::{SheetsPage, drawings, for_pdf};
use workshop::{OpenTrial, StoreError, Trial, TrialId, Workshop, off_the_thread};

use crate::error::PageError;
use crate::frame::{Frame, Heading, Room};
use crate::pages::{download, file_name};

/// Which part of the list.
#[derive(Debug, Default, Deserialize)]
pub(crate) struct Part {
    #[serde(default)]
    page: usize,
}

pub(crate) async fn list(
    State(app): State<Workshop>,
    Query(part): Query<Part>,
) -> Result<ListPage, PageError> {
    let frame = Frame::load(&app, Room::Plan, None).await?;
    let first = match frame.trials.is_empty() {
        true => first::proposal(&app.shelf().await?),
        false => None,
    };
    Ok(ListPage::new(frame, part.page, first))
}

/// `yes` to put it away, anything else to take it back.
#[derive(Debug, Deserialize)]
pub(crate) struct PutAway {
    #[serde(default)]
    away: String,
}

/// Puts a trial away, or takes it back. It is never deleted.
pub(crate) async fn put_away(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Form(form): Form<PutAway>,
) -> Result<Redirect, PageError> {
    app.archive(TrialId(id), form.away == "yes").await?;
    Ok(Redirect::to("/trials"))
}

pub(crate) async fn overview(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
) -> Result<OverviewPage, PageError> {
    let (frame, heading, trial) = load(&app, id).await?;
    let evidence = app.evidence_for(&frame.trials, &trial, study::State::Dry).await?;
    Ok(OverviewPage::new(frame, heading, &trial, &evidence)?)
}

pub(crate) async fn mixing(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
) -> Result<MixingPage, PageError> {
    let (frame, heading, trial) = load(&app, id).await?;
    let plan = plan_of(&trial)?;
    Ok(MixingPage::new(frame, heading, &trial, plan))
}

/// The first sheet of a part of them.
#[derive(Debug, Deserialize)]
pub(crate) struct From {
    #[serde(default = "first")]
    from: NonZeroUsize,
}

fn first() -> NonZeroUsize {
    NonZeroUsize::MIN
}

pub(crate) async fn sheets(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Query(part): Query<From>,
) -> Result<SheetsPage, PageError> {
    let (frame, heading, trial) = load(&app, id).await?;
    plan_of(&trial)?;
    SheetsPage::new(frame, heading, &trial, part.from.get())
}

/// One sheet in true millimetres: as SVG, or as JSON for whoever reads a picture of it.
pub(crate) async fn sheet_file(
    State(app): State<Workshop>,
    Path((id, name)): Path<(i64, String)>,
) -> Result<Response, PageError> {
    let trial = app.trial(TrialId(id)).await?;
    let (number, kind) = name.split_once('.').ok_or(StoreError::NotFound("sheet"))?;
    let number = number.parse::<usize>().ok().filter(|number| *number > 0);
    let number = number.ok_or(StoreError::NotFound("sheet"))?;
    match kind {
        "svg" => {
            let (drawn, _) = drawings(&trial, number, 1)?;
            let drawing = drawn.first().ok_or(StoreError::NotFound("sheet"))?;
            let text = formats::sheet::svg(drawing, &format!("{}, sheet {number}", trial.name));
            Ok(([(CONTENT_TYPE, "image/svg+xml")], text).into_response())
        }
        "json" => {
            let file = trial.sheet_file(number).ok_or(StoreError::NotFound("sheet"))?;
            Ok(Json(file).into_response())
        }
        _ => Err(StoreError::NotFound("sheet").into()),
    }
}

/// Sheets as PDF, on the paper of the plan: all of them, or sixty from a number on.
pub(crate) async fn sheets_pdf(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Query(part): Query<From>,
) -> Result<Response, PageError> {
    let trial = app.trial(TrialId(id)).await?;
    let name = file_name(&trial, "pdf");
    let pdf = off_the_thread(move || {
        formats::sheet::pdf(&for_pdf(&trial, part.from.get())?)
            .map_err(|error| PageError::NotWorkedOut(error.to_string()))
    })
    .await??;
    Ok(download("application/pdf", &name, pdf))
}

async fn load(app: &Workshop, id: i64) -> Result<(Frame, Heading, Arc<OpenTrial>), PageError> {
    let frame = Frame::load(app, Room::Plan, Some(TrialId(id))).await?;
    let trial = app.trial(TrialId(id)).await?;
    let heading = Heading::of(&trial, frame.summary(trial.id)?);
    Ok((frame, heading, trial))
}

fn plan_of(trial: &Trial) -> Result<&Plan, StoreError> {
    trial.planned().ok_or(StoreError::NotFound("plan: this trial was not planned here"))
}
