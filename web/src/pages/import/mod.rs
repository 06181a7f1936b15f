//! A readings file as a new trial.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Multipart, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use formats::readings::{MAX_BYTES, ReadingsFile};
use study::names;
use workshop::Workshop;

use crate::error::PageError;
use crate::frame::{Frame, Room};
use crate::pages::fields::{FieldErrors, short};
use crate::pages::upload::receive;

#[derive(Template, WebTemplate)]
#[template(path = "import/page.html")]
pub(crate) struct ImportPage {
    frame: Frame,
    trial_name: String,
    errors: FieldErrors,
}

pub(crate) async fn form(State(app): State<Workshop>) -> Result<ImportPage, PageError> {
    page(&app, String::new(), FieldErrors::default()).await
}

pub(crate) async fn take(
    State(app): State<Workshop>,
    form: Multipart,
) -> Result<Response, PageError> {
    let sent = receive(form, MAX_BYTES).await?;
    let mut errors = FieldErrors::default();
    errors.check("name", short(&sent.name, &()));
    let name = match (sent.name.trim(), of_file(&sent.file_name)) {
        ("", name) if name.is_empty() => "Readings from a file".to_owned(),
        ("", name) => name,
        (typed, _) => typed.to_owned(),
    };
    if sent.file_name.is_empty() {
        errors.add("file", "choose a readings file");
    }
    match read(sent.file).await {
        Ok(file) if errors.is_empty() => {
            let ReadingsFile { study, source, .. } = file;
            let rows: Vec<&str> = source.rows().collect();
            let app = app.once(sent.once.as_deref());
            let id = app.import_trial(&name, &study, source.head(), &rows).await?;
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

/// A trial's name from that of its file.
fn of_file(file_name: &str) -> String {
    names::tidied(file_name.strip_suffix(".csv").unwrap_or(file_name))
}

async fn page(
    app: &Workshop,
    trial_name: String,
    errors: FieldErrors,
) -> Result<ImportPage, PageError> {
    let frame = Frame::load(app, Room::Plan, None).await?;
    Ok(ImportPage { frame, trial_name, errors })
}
