//! One folder a screen: handler, view of finished text, page.

pub(crate) mod bench;
mod fields;
pub(crate) mod import;
pub(crate) mod plan;
pub(crate) mod readings;
pub(crate) mod results;
pub(crate) mod shelf;

use axum::response::Redirect;

/// The work begins at the shelf.
pub(crate) async fn home() -> Redirect {
    Redirect::to("/shelf")
}
