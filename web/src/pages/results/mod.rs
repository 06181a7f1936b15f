//! Results: the finding, the rack of uprights, the figures beside it.

mod pairs;
mod tubes;
mod view;

use axum::Json;
use axum::extract::{Path, State};
use store::TrialId;

use crate::error::PageError;
use crate::frame::{Frame, Heading, Room};
use crate::state::AppState;

use view::ResultsPage;

pub(crate) async fn page(
    State(app): State<AppState>,
    Path(id): Path<i64>,
) -> Result<ResultsPage, PageError> {
    let frame = Frame::load(&app.store, Room::Results, Some(TrialId(id))).await?;
    let judged = app.judged(frame.summary(TrialId(id))?).await?;
    let heading = Heading::of(&judged.trial, frame.summary(TrialId(id))?);
    Ok(ResultsPage::new(frame, heading, &judged)?)
}

/// Every figure for other programs.
pub(crate) async fn json(
    State(app): State<AppState>,
    Path(id): Path<i64>,
) -> Result<Json<serde_json::Value>, PageError> {
    let frame = Frame::load(&app.store, Room::Results, Some(TrialId(id))).await?;
    let judged = app.judged(frame.summary(TrialId(id))?).await?;
    Ok(Json(formats::analysis::to_json(&judged.study, &judged.analysis, &[])))
}
