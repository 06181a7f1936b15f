//! Styles, scripts and fonts, all inside the program.

use std::borrow::Cow;

use axum::extract::Path;
use axum::http::StatusCode;
use axum::http::header::{CACHE_CONTROL, CONTENT_TYPE};
use axum::response::{IntoResponse, Response};
use rust_embed::{Embed, EmbeddedFile};

#[derive(Embed)]
#[folder = "assets"]
struct Assets;

/// The address of an asset with its content's hash, so that a browser may keep it for good.
pub(crate) fn url(path: &str) -> String {
    let hash = Assets::get(path).map_or([0; 32], |file| file.metadata.sha256_hash());
    let [a, b, c, d, ..] = hash;
    format!("/assets/{path}?v={a:02x}{b:02x}{c:02x}{d:02x}")
}

pub(crate) async fn file(Path(path): Path<String>) -> Response {
    Assets::get(&path).map_or_else(|| StatusCode::NOT_FOUND.into_response(), served)
}

pub(crate) async fn favicon() -> Response {
    Assets::get("own/favicon.svg").map_or_else(|| StatusCode::NOT_FOUND.into_response(), served)
}

fn served(file: EmbeddedFile) -> Response {
    let kind = file.metadata.mimetype().to_owned();
    let body = match file.data {
        Cow::Borrowed(bytes) => bytes.into_response(),
        Cow::Owned(bytes) => bytes.into_response(),
    };
    ([(CONTENT_TYPE, kind), (CACHE_CONTROL, "public, max-age=31536000, immutable".into())], body)
        .into_response()
}
