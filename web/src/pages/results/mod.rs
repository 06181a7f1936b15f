//! Results: the finding, the rack of uprights, the figures beside it.

mod by_eye;
mod mixtures;
mod pairs;
mod rack;
mod tubes;
mod view;

use std::sync::Arc;

use axum::Json;
use axum::extract::{Path, Query, State};
use serde::Deserialize;
use store::{TrialId, TubeId};
use view::ResultsPage;
use workshop::{AnalysedTrial, Workshop, off_the_thread};

use crate::error::PageError;
use crate::frame::{Frame, Heading, Room};

/// The tube that stands at 100 %; empty for the first of the same pigments.
#[derive(Debug, Default, Deserialize)]
pub(crate) struct Chosen {
    #[serde(default)]
    standard: String,
}

pub(crate) async fn page(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Query(chosen): Query<Chosen>,
) -> Result<ResultsPage, PageError> {
    let frame = Frame::load(app.store(), Room::Results, Some(TrialId(id))).await?;
    let analysed = analysed(&app, &frame, id, &chosen).await?;
    let heading = Heading::of(&analysed.trial, frame.summary(TrialId(id))?);
    Ok(ResultsPage::new(frame, heading, &analysed, &chosen.standard)?)
}

/// Every figure for other programs.
pub(crate) async fn json(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Query(chosen): Query<Chosen>,
) -> Result<Json<serde_json::Value>, PageError> {
    let frame = Frame::load(app.store(), Room::Results, Some(TrialId(id))).await?;
    let analysed = analysed(&app, &frame, id, &chosen).await?;
    let figures = move || formats::analysis::to_json(&analysed.study, &analysed.analysis, &[]);
    Ok(Json(off_the_thread(figures).await?))
}

async fn analysed(
    app: &Workshop,
    frame: &Frame,
    id: i64,
    chosen: &Chosen,
) -> Result<Arc<AnalysedTrial>, PageError> {
    let summary = frame.summary(TrialId(id))?;
    match chosen.standard.parse() {
        Ok(tube) => Ok(app.analysed_against(summary, TubeId(tube)).await?),
        Err(_) => Ok(app.analysed(summary).await?),
    }
}
