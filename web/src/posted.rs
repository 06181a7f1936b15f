//! A form that adds something: what is sent twice adds it once.

use std::hash::{DefaultHasher, Hash as _, Hasher as _};

use axum::body::Bytes;
use axum::extract::{FromRequest, Request};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Response};
use serde::de::DeserializeOwned;

use crate::error::PageError;
use crate::token;

/// What was sent, and the one name of this sending: the page's token with what was typed. The same page
/// with something else typed is another sending; one without a token is an act of its own.
pub(crate) struct Posted<T> {
    pub form: T,
    pub once: Option<String>,
}

impl<T: DeserializeOwned, S: Send + Sync> FromRequest<S> for Posted<T> {
    type Rejection = Response;

    async fn from_request(request: Request, state: &S) -> Result<Self, Response> {
        let body = Bytes::from_request(request, state).await.map_err(|error| {
            let why = match error.status() {
                StatusCode::PAYLOAD_TOO_LARGE => PageError::TooLarge(
                    "the form holds more than is taken at once; nothing was stored. Send less of it at a \
                     time"
                        .into(),
                ),
                _ => PageError::Upload(error.body_text()),
            };
            why.into_response()
        })?;
        let wrong = |error: serde_html_form::de::Error| {
            PageError::Form(format!("the form cannot be read: {error}")).into_response()
        };
        let form = serde_html_form::from_bytes(&body).map_err(wrong)?;
        let pairs: Vec<(String, String)> = serde_html_form::from_bytes(&body).map_err(wrong)?;
        let token = pairs.iter().find(|(name, _)| name == "token").map(|(_, token)| token.as_str());
        Ok(Self { form, once: sending(token.unwrap_or_default(), &body) })
    }
}

/// The name of one sending of a page's token with what was sent.
pub(crate) fn sending(text: &str, content: &[u8]) -> Option<String> {
    let token = token::sent(text)?;
    let mut hasher = DefaultHasher::new();
    content.hash(&mut hasher);
    Some(format!("{token}/{:016x}", hasher.finish()))
}
