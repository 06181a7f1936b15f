//! The shelf: every tube with its mass tone and truest tint once they are known.

pub(crate) mod fill;
mod form;
pub(crate) mod import;
pub(crate) mod look;
mod query;
pub(crate) mod quick;
mod view;

use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::{Form, Query};
use form::TubeForm;
use query::Search;
use study::Tube;
pub(crate) use view::upright;
use view::{FormPage, ShelfPage};
use workshop::{StoreError, TubeId, Workshop, WorkshopError};

use crate::error::PageError;
use crate::frame::{Frame, Room};
use crate::pages::download;
use crate::pages::fields::FieldErrors;
use crate::posted::Posted;

pub(crate) async fn list(
    State(app): State<Workshop>,
    Query(search): Query<Search>,
) -> Result<ShelfPage, PageError> {
    let frame = Frame::load(&app, Room::Shelf, None).await?;
    let tubes = app.shelf().await?;
    let known = app.known_colours(&frame.trials).await?;
    Ok(ShelfPage::new(frame, search, &tubes, &known)?)
}

/// The whole shelf as CSV.
pub(crate) async fn export(State(app): State<Workshop>) -> Result<Response, PageError> {
    let shelf = app.shelf().await?;
    let text = formats::shelf::write(shelf.iter().map(|known| &known.tube));
    Ok(download("text/csv; charset=utf-8", "shelf.csv", text))
}

pub(crate) async fn new(State(app): State<Workshop>) -> Result<FormPage, PageError> {
    let frame = Frame::load(&app, Room::Shelf, None).await?;
    Ok(FormPage::new(frame, None, TubeForm::default()))
}

pub(crate) async fn add(
    State(app): State<Workshop>,
    Posted { form, once }: Posted<TubeForm>,
) -> Result<Response, PageError> {
    match form.tube() {
        Ok(tube) => {
            let id = app.once(once.as_deref()).add_tube(&tube).await?;
            Ok(Redirect::to(&format!("/shelf#tube-{}", id.0)).into_response())
        }
        Err(errors) => {
            let frame = Frame::load(&app, Room::Shelf, None).await?;
            let page = FormPage::new(frame, None, form).with(errors);
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
    }
}

pub(crate) async fn edit(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
) -> Result<FormPage, PageError> {
    let known = app.tube(TubeId(id)).await?;
    let frame = Frame::load(&app, Room::Shelf, None).await?;
    Ok(FormPage::new(frame, Some(known.id), TubeForm::to_change(&known.tube)))
}

pub(crate) async fn change(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Form(form): Form<TubeForm>,
) -> Result<Response, PageError> {
    let known = app.tube(TubeId(id)).await?;
    let (form, told) = form.merged(&known.tube);
    let (status, errors) = match form.tube() {
        Err(errors) => (StatusCode::UNPROCESSABLE_ENTITY, errors),
        Ok(_) if !told.is_empty() => (StatusCode::CONFLICT, told),
        Ok(tube) => match app.change_tube(known.id, &known.tube, &as_seen(&known.tube, tube)).await
        {
            Err(WorkshopError::Store(StoreError::Changed(_))) => {
                // Changed once more between the two lines above.
                let known = app.tube(known.id).await?;
                let (form, told) = form.merged(&known.tube);
                return again(&app, known.id, (StatusCode::CONFLICT, told), form).await;
            }
            done => {
                done?;
                return Ok(Redirect::to(&format!("/shelf#tube-{id}")).into_response());
            }
        },
    };
    again(&app, known.id, (status, errors), form).await
}

/// What was typed, with the look that another page keeps.
fn as_seen(known: &Tube, typed: Tube) -> Tube {
    Tube { look: known.look, ..typed }
}

/// The form once more, with what was typed.
async fn again(
    app: &Workshop,
    id: TubeId,
    (status, errors): (StatusCode, FieldErrors),
    form: TubeForm,
) -> Result<Response, PageError> {
    let frame = Frame::load(app, Room::Shelf, None).await?;
    let page = FormPage::new(frame, Some(id), form).with(errors);
    Ok((status, page).into_response())
}
