//! One folder a screen: handler, view of finished text, page.

pub(crate) mod bench;
mod beside;
pub(crate) mod charts;
pub(crate) mod compare;
pub(crate) mod copy;
pub(crate) mod decide;
pub(crate) mod eye;
mod fields;
pub(crate) mod import;
mod names;
mod paging;
pub(crate) mod palettes;
pub(crate) mod phones;
pub(crate) mod pictures;
pub(crate) mod plan;
pub(crate) mod planner;
pub(crate) mod readings;
pub(crate) mod results;
pub(crate) mod shelf;
mod steps;
mod upload;
pub(crate) mod words;

use axum::body::Body;
use axum::http::header::{CONTENT_DISPOSITION, CONTENT_TYPE};
use axum::response::{IntoResponse, Redirect, Response};
use workshop::Trial;

/// The work begins at the shelf.
pub(crate) async fn home() -> Redirect {
    Redirect::to("/shelf")
}

/// Something that the browser saves under a name.
fn download(kind: &str, name: &str, body: impl Into<Body>) -> Response {
    let disposition = format!("attachment; filename=\"{name}\"");
    let headers = [(CONTENT_TYPE, kind.to_owned()), (CONTENT_DISPOSITION, disposition)];
    (headers, body.into()).into_response()
}

/// A trial's name in letters that every file system takes.
fn file_name(trial: &Trial, extension: &str) -> String {
    let safe = |letter: char| {
        if letter.is_ascii_alphanumeric() { letter.to_ascii_lowercase() } else { '-' }
    };
    let name: String = trial.name.chars().map(safe).collect();
    let words: Vec<&str> = name.split('-').filter(|word| !word.is_empty()).collect();
    let name = if words.is_empty() { "trial".to_owned() } else { words.join("-") };
    format!("{name}.{extension}")
}
