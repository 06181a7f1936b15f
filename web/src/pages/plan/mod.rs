//! Trials: the list, a new one, and the sheet of its swatches.

mod form;
mod view;

use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::{Form, Query};
use serde::Deserialize;
use store::{NewTrial, TrialId};

use crate::error::PageError;
use crate::frame::{Frame, Heading, Room};
use crate::state::AppState;

use form::TrialForm;
use view::{FormPage, ListPage, SheetPage};

pub(crate) async fn list(State(app): State<AppState>) -> Result<ListPage, PageError> {
    Ok(ListPage::new(Frame::load(&app.store, Room::Plan, None).await?))
}

/// A new trial; `?tested=1&tested=2` ticks tubes that are to be compared.
pub(crate) async fn new(
    State(app): State<AppState>,
    Query(chosen): Query<Chosen>,
) -> Result<FormPage, PageError> {
    form_page(&app, TrialForm { tested: chosen.tested, ..TrialForm::default() }).await
}

/// Tubes that were chosen elsewhere.
#[derive(Debug, Deserialize)]
pub(crate) struct Chosen {
    #[serde(default)]
    tested: Vec<String>,
}

pub(crate) async fn start(
    State(app): State<AppState>,
    Form(form): Form<TrialForm>,
) -> Result<Response, PageError> {
    let (_, geometry, repeatability) = app.about_meter();
    match form.trial(geometry, repeatability) {
        Ok(new) => {
            let id = store_trial(&app, &new).await?;
            Ok(Redirect::to(&format!("/trials/{}/plan", id.0)).into_response())
        }
        Err(errors) => {
            let page = form_page(&app, form).await?.with(errors);
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
    }
}

pub(crate) async fn sheet(
    State(app): State<AppState>,
    Path(id): Path<i64>,
) -> Result<SheetPage, PageError> {
    let frame = Frame::load(&app.store, Room::Plan, Some(TrialId(id))).await?;
    let trial = app.store.trial(TrialId(id)).await?;
    let heading = Heading::of(&trial, frame.summary(trial.id)?);
    Ok(SheetPage::new(frame, heading, &trial))
}

async fn store_trial(app: &AppState, new: &NewTrial) -> Result<TrialId, PageError> {
    for (tube, _) in &new.tubes {
        app.store.tube(*tube).await?;
    }
    Ok(app.store.start_trial(new).await?)
}

async fn form_page(app: &AppState, form: TrialForm) -> Result<FormPage, PageError> {
    let frame = Frame::load(&app.store, Room::Plan, None).await?;
    let tubes = app.store.shelf().await?;
    let known = app.known_colours(&frame.trials).await?;
    Ok(FormPage::new(frame, form, &tubes, &known)?)
}
