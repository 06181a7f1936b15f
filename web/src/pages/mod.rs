//! One folder a screen: handler, view of finished text, page.

pub(crate) mod bench;
mod fields;
pub(crate) mod import;
pub(crate) mod plan;
pub(crate) mod readings;
pub(crate) mod results;
pub(crate) mod shelf;

use axum::http::header::{CONTENT_DISPOSITION, CONTENT_TYPE};
use axum::response::{IntoResponse, Redirect, Response};

/// The work begins at the shelf.
pub(crate) async fn home() -> Redirect {
    Redirect::to("/shelf")
}

/// A text that the browser saves under a name.
fn download(kind: &str, name: &str, text: String) -> Response {
    let disposition = format!("attachment; filename=\"{name}\"");
    ([(CONTENT_TYPE, kind.to_owned()), (CONTENT_DISPOSITION, disposition)], text).into_response()
}
