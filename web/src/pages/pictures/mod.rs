//! Pictures of a trial's sheets: sent, looked at, taken as readings.

mod list;
mod upload;
mod view;

use axum::extract::{Path, Query, State};
use axum::http::StatusCode;
use axum::http::header::{CACHE_CONTROL, CONTENT_TYPE};
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::Form;
pub(crate) use list::{SheetChoice, list};
use serde::Deserialize;
use study::State as PaintState;
pub(crate) use upload::{Sent, draw, receive, received, sent};
use view::PicturePage;
use workshop::{PictureId, TrialId, Workshop};

use crate::error::PageError;
use crate::frame::{Frame, Heading, Room};

/// Which square is looked at.
#[derive(Debug, Default, Deserialize)]
pub(crate) struct Asked {
    #[serde(default)]
    square: Option<u32>,
}

/// The sheet as from above, with what it told.
pub(crate) async fn page(
    State(app): State<Workshop>,
    Path((id, picture)): Path<(i64, i64)>,
    Query(asked): Query<Asked>,
) -> Result<Response, PageError> {
    if is_unplaced(&app, (TrialId(id), PictureId(picture))).await? {
        return Ok(Redirect::to(&format!("/trials/{id}/chart/{picture}")).into_response());
    }
    let frame = Frame::load(&app, Room::Readings, Some(TrialId(id))).await?;
    let read = app.picture(TrialId(id), PictureId(picture)).await?;
    let trial = app.trial(TrialId(id)).await?;
    let heading = Heading::of(&trial, frame.summary(trial.id)?);
    let is_card_due = match read.picture.card {
        Some(card) => app.is_card_due(card).await?,
        None => false,
    };
    let page = PicturePage::new(frame, heading, &trial, &read, asked.square);
    Ok(page.and_of_its_card(is_card_due).into_response())
}

/// A hand-ruled chart of which nobody has said yet where it lies, or what stands in its squares.
async fn is_unplaced(app: &Workshop, of: (TrialId, PictureId)) -> Result<bool, PageError> {
    let trial = app.trial(of.0).await?;
    let Some(chart) = &trial.chart else { return Ok(false) };
    let picture = app.stored_picture(of.0, of.1).await?;
    Ok(!picture.is_deleted && (chart.numbers.is_empty() || picture.corners.is_none()))
}

/// The straightened sheet.
pub(crate) async fn sheet(
    State(app): State<Workshop>,
    Path((id, picture)): Path<(i64, i64)>,
) -> Result<Response, PageError> {
    let seen = app.straightened(TrialId(id), PictureId(picture)).await?;
    let headers = [(CONTENT_TYPE, "image/jpeg"), (CACHE_CONTROL, "private, max-age=3600")];
    Ok((headers, seen.straight.clone()).into_response())
}

/// In which state the paint was.
#[derive(Debug, Default, Deserialize)]
pub(crate) struct TakeForm {
    #[serde(default)]
    state: String,
}

/// Takes all readings that can be taken.
pub(crate) async fn take(
    State(app): State<Workshop>,
    Path((id, picture)): Path<(i64, i64)>,
    Form(form): Form<TakeForm>,
) -> Result<Redirect, PageError> {
    let state: PaintState = form.state.parse().unwrap_or_default();
    app.take_picture(TrialId(id), PictureId(picture), state).await?;
    Ok(at(id, picture))
}

/// Takes back all readings of a picture.
pub(crate) async fn take_back(
    State(app): State<Workshop>,
    Path((id, picture)): Path<(i64, i64)>,
) -> Result<Redirect, PageError> {
    app.take_back_picture(TrialId(id), PictureId(picture)).await?;
    Ok(at(id, picture))
}

/// Deletes the picture's file.
pub(crate) async fn delete(
    State(app): State<Workshop>,
    Path((id, picture)): Path<(i64, i64)>,
) -> Result<Redirect, PageError> {
    app.delete_picture(TrialId(id), PictureId(picture)).await?;
    Ok(Redirect::to(&format!("/trials/{id}/pictures")))
}

/// What the user changes about a square.
#[derive(Debug, Default, Deserialize)]
pub(crate) struct SquareForm {
    #[serde(default)]
    act: String,
    #[serde(default)]
    right: String,
    #[serde(default)]
    down: String,
}

/// Leaves a square out, takes it all the same, or moves its outline.
pub(crate) async fn square(
    State(app): State<Workshop>,
    Path((id, picture, number)): Path<(i64, i64, u32)>,
    Form(form): Form<SquareForm>,
) -> Result<Response, PageError> {
    let (trial, of) = (TrialId(id), PictureId(picture));
    match form.act.as_str() {
        "leave-out" => app.leave_out(trial, of, number, true).await?,
        "take" => app.leave_out(trial, of, number, false).await?,
        "move" => {
            let to = [&form.right, &form.down].map(|text| text.trim().parse::<f64>());
            let [Ok(right), Ok(down)] = to else {
                return Err(PageError::Form(
                    "an outline is moved by millimetres, such as 1.5; nothing was moved".into(),
                ));
            };
            app.move_outline(trial, of, number, [right, down]).await?;
        }
        _ => return Ok((StatusCode::BAD_REQUEST, at(id, picture)).into_response()),
    }
    let back = format!("/trials/{id}/pictures/{picture}?square={number}#square");
    Ok(Redirect::to(&back).into_response())
}

fn at(id: i64, picture: i64) -> Redirect {
    Redirect::to(&format!("/trials/{id}/pictures/{picture}"))
}
