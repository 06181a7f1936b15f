//! Results: the finding, the rack of uprights, the figures beside it.

mod by_eye;
mod pairs;
mod tubes;
mod view;

use std::sync::Arc;

use axum::Json;
use axum::extract::{Path, Query, State};
use serde::Deserialize;
use store::{TrialId, TubeId};
use view::ResultsPage;

use crate::error::PageError;
use crate::frame::{Frame, Heading, Room};
use crate::judged::AnalysedTrial;
use crate::state::AppState;

/// The tube that stands at 100 %; empty for the first of the same pigments.
#[derive(Debug, Default, Deserialize)]
pub(crate) struct Chosen {
    #[serde(default)]
    standard: String,
}

pub(crate) async fn page(
    State(app): State<AppState>,
    Path(id): Path<i64>,
    Query(chosen): Query<Chosen>,
) -> Result<ResultsPage, PageError> {
    let frame = Frame::load(&app.store, Room::Results, Some(TrialId(id))).await?;
    let judged = judged(&app, &frame, id, &chosen).await?;
    let heading = Heading::of(&judged.trial, frame.summary(TrialId(id))?);
    Ok(ResultsPage::new(frame, heading, &judged, &chosen.standard)?)
}

/// Every figure for other programs.
pub(crate) async fn json(
    State(app): State<AppState>,
    Path(id): Path<i64>,
    Query(chosen): Query<Chosen>,
) -> Result<Json<serde_json::Value>, PageError> {
    let frame = Frame::load(&app.store, Room::Results, Some(TrialId(id))).await?;
    let judged = judged(&app, &frame, id, &chosen).await?;
    Ok(Json(formats::analysis::to_json(&judged.study, &judged.analysis, &[])))
}

async fn judged(
    app: &AppState,
    frame: &Frame,
    id: i64,
    chosen: &Chosen,
) -> Result<Arc<AnalysedTrial>, PageError> {
    let summary = frame.summary(TrialId(id))?;
    match chosen.standard.parse() {
        Ok(tube) => Ok(app.judged_against(summary, TubeId(tube)).await?),
        Err(_) => Ok(app.judged(summary).await?),
    }
}
