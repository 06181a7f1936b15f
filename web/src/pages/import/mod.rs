//! A readings file as a new trial.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::multipart::MultipartError;
use axum::extract::{Multipart, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use formats::readings::ReadingsFile;

use crate::error::PageError;
use crate::frame::{Frame, Room};
use crate::pages::fields::FieldErrors;
use crate::state::AppState;

#[derive(Template, WebTemplate)]
#[template(path = "import/page.html")]
pub(crate) struct ImportPage {
    frame: Frame,
    trial_name: String,
    errors: FieldErrors,
}

/// What was sent.
#[derive(Default)]
pub(super) struct Sent {
    name: String,
    pub file_name: String,
    pub file: Vec<u8>,
}

pub(crate) async fn form(State(app): State<AppState>) -> Result<ImportPage, PageError> {
    page(&app, String::new(), FieldErrors::default()).await
}

pub(crate) async fn take(
    State(app): State<AppState>,
    form: Multipart,
) -> Result<Response, PageError> {
    let sent = receive(form).await?;
    let mut errors = FieldErrors::default();
    let name = match sent.name.trim() {
        "" => sent.file_name.trim_end_matches(".csv").to_owned(),
        typed => typed.to_owned(),
    };
    if sent.file_name.is_empty() {
        errors.add("file", "choose a readings file");
    }
    match read(sent.file).await {
        Ok(file) if errors.is_empty() => {
            let ReadingsFile { study, source, .. } = file;
            let rows: Vec<&str> = source.rows().collect();
            let id = app.store.import(&name, &study, source.head(), &rows).await?;
            Ok(Redirect::to(&format!("/trials/{}/results", id.0)).into_response())
        }
        outcome => {
            if let Err(message) = outcome {
                errors.add("file", message);
            }
            let page = page(&app, sent.name, errors).await?;
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
    }
}

/// Reads the file on a thread of its own: a large one takes a while.
pub(super) async fn read(bytes: Vec<u8>) -> Result<ReadingsFile, String> {
    tokio::task::spawn_blocking(move || formats::readings::read(&bytes))
        .await
        .map_err(|_| "the file could not be read; try again".to_owned())?
        .map_err(|error| error.to_string())
}

/// Takes what a form sent.
pub(super) async fn receive(form: Multipart) -> Result<Sent, PageError> {
    fields(form).await.map_err(|error| PageError::Upload(error.body_text()))
}

async fn fields(mut form: Multipart) -> Result<Sent, MultipartError> {
    let mut sent = Sent::default();
    while let Some(field) = form.next_field().await? {
        match field.name() {
            Some("name") => sent.name = field.text().await?,
            Some("file") => {
                sent.file_name = field.file_name().unwrap_or_default().to_owned();
                sent.file = field.bytes().await?.to_vec();
            }
            _ => {}
        }
    }
    Ok(sent)
}

async fn page(
    app: &AppState,
    trial_name: String,
    errors: FieldErrors,
) -> Result<ImportPage, PageError> {
    let frame = Frame::load(&app.store, Room::Plan, None).await?;
    Ok(ImportPage { frame, trial_name, errors })
}
