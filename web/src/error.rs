//! The one way from an error to a status and a page.

use std::any::Any;

use askama::Template;
use axum::extract::Request;
use axum::http::header::CONTENT_TYPE;
use axum::http::{Method, StatusCode};
use axum::middleware::Next;
use axum::response::{Html, IntoResponse, Response};
use formats::cgats::CgatsError;
use instruments::DeviceError;
use thiserror::Error;
use workshop::{StoreError, WorkshopError};

/// Why a page cannot be shown.
#[derive(Debug, Error)]
pub enum PageError {
    /// The records did not answer.
    #[error(transparent)]
    Store(#[from] StoreError),
    /// A device gave nothing.
    #[error(transparent)]
    Device(#[from] DeviceError),
    /// There is nothing to export.
    #[error(transparent)]
    Cgats(#[from] CgatsError),
    /// No page has this address.
    #[error("there is no page at this address; the menu leads to every page there is")]
    NoSuchPage,
    /// A page's template failed.
    #[error("the page could not be shown: {0}")]
    Drawing(#[from] askama::Error),
    /// A plan, its sheets or a file could not be made.
    #[error("this could not be worked out: {0}; what is stored stays as it was")]
    NotWorkedOut(String),
    /// A form that no person filled in is wrong.
    #[error("{0}")]
    Form(String),
    /// The figures of a trial failed.
    #[error(
        "the figures of this trial cannot be worked out; its readings are safe. Save the readings \
         file from the page Readings, void a reading that is not right, or archive the trial"
    )]
    NotAnalysed,
    /// It cannot be done as things stand.
    #[error("{0}")]
    NotNow(String),
    /// A file with more bytes than are read.
    #[error("{0}")]
    TooLarge(String),
    /// A file did not arrive whole.
    #[error("the upload broke off: {0}; nothing was stored, so send it again")]
    Upload(String),
}

impl From<WorkshopError> for PageError {
    fn from(error: WorkshopError) -> Self {
        match error {
            WorkshopError::Store(error) => Self::Store(error),
            WorkshopError::Device(error) => Self::Device(error),
            WorkshopError::Request(error) => Self::Form(error.to_string()),
            WorkshopError::NotAnalysed => Self::NotAnalysed,
            WorkshopError::NotWorkedOut(why) => Self::NotWorkedOut(why),
            WorkshopError::NotNow(why) => Self::NotNow(why),
        }
    }
}

#[derive(Template)]
#[template(path = "error.html")]
struct ErrorPage<'a> {
    title: &'a str,
    message: &'a str,
}

impl PageError {
    pub(crate) fn status(&self) -> StatusCode {
        match self {
            Self::NoSuchPage | Self::Store(StoreError::NotFound(_)) => StatusCode::NOT_FOUND,
            Self::Store(
                StoreError::AlreadyVoid
                | StoreError::Frozen
                | StoreError::Replaced
                | StoreError::Changed(_)
                | StoreError::Refused(_)
                | StoreError::OtherGeometry { .. },
            )
            | Self::NotNow(_)
            | Self::Cgats(_) => StatusCode::CONFLICT,
            Self::TooLarge(_) => StatusCode::PAYLOAD_TOO_LARGE,
            Self::Store(StoreError::Busy) => StatusCode::SERVICE_UNAVAILABLE,
            Self::Upload(_) | Self::Form(_) => StatusCode::BAD_REQUEST,
            Self::Device(_) => StatusCode::SERVICE_UNAVAILABLE,
            Self::Store(StoreError::NotWritten(_) | StoreError::File(_)) => {
                StatusCode::INSUFFICIENT_STORAGE
            }
            Self::Store(
                StoreError::Corrupt { .. } | StoreError::Database(_) | StoreError::Migration(_),
            )
            | Self::NotAnalysed
            | Self::NotWorkedOut(_)
            | Self::Drawing(_) => StatusCode::INTERNAL_SERVER_ERROR,
        }
    }

    fn title(&self) -> &'static str {
        match self {
            Self::NoSuchPage | Self::Store(StoreError::NotFound(_)) => "Nothing here",
            Self::Store(StoreError::AlreadyVoid) => "Already void",
            Self::Store(StoreError::Frozen) => "The bench has begun",
            Self::Store(StoreError::NotWritten(_) | StoreError::Busy | StoreError::Refused(_)) => {
                "Not recorded"
            }
            Self::Store(StoreError::OtherGeometry { .. }) => "Another meter",
            Self::Store(StoreError::File(_)) => "Nothing was written",
            Self::NotAnalysed => "No figures",
            Self::NotNow(_) => "Not recorded",
            Self::TooLarge(_) => "The file is too large",
            Self::Store(StoreError::Replaced) => "A later version exists",
            Self::Store(StoreError::Changed(_)) => "Changed meanwhile",
            Self::NotWorkedOut(_) => "Not worked out",
            Self::Cgats(_) => "Nothing to export",
            Self::Upload(_) => "The file did not arrive",
            Self::Form(_) => "The form is not right",
            Self::Device(_) => "No reading",
            Self::Store(_) => "The records cannot be used",
            Self::Drawing(_) => "The page cannot be shown",
        }
    }
}

/// Where files lie on this machine is nobody's business who asks over the network: of each path its last part is told.
fn without_folders(text: &str) -> String {
    let told = |word: &str| match word.rsplit_once('/') {
        Some((folders, name)) if folders.is_empty() || folders.starts_with('/') => name.to_owned(),
        _ => word.to_owned(),
    };
    text.split(' ').map(told).collect::<Vec<_>>().join(" ")
}

/// What no handler was asked for is answered by a page too: an address that names no number, a form that none of these
/// pages sent.
pub(crate) async fn in_words(request: Request, next: Next) -> Response {
    let asks = request.method() == Method::GET;
    let is_asked_more = request.uri().query().is_some();
    let answer = next.run(request).await;
    let kind = answer.headers().get(CONTENT_TYPE).and_then(|it| it.to_str().ok());
    let is_plain = kind.is_some_and(|it| it.starts_with("text/plain"));
    let unreadable = [
        StatusCode::BAD_REQUEST,
        StatusCode::UNSUPPORTED_MEDIA_TYPE,
        StatusCode::UNPROCESSABLE_ENTITY,
    ];
    match answer.status() {
        status if is_plain && asks && status == StatusCode::BAD_REQUEST => match is_asked_more {
            true => {
                PageError::Form("what stands behind the ? in this address cannot be read".into())
            }
            false => PageError::NoSuchPage,
        }
        .into_response(),
        status if is_plain && !asks && unreadable.contains(&status) => {
            let why = "the form cannot be read: some of it is missing, or it is none of these pages'; nothing was stored";
            PageError::Form(why.into()).into_response()
        }
        StatusCode::METHOD_NOT_ALLOWED => PageError::NoSuchPage.into_response(),
        _ => answer,
    }
}

impl IntoResponse for PageError {
    fn into_response(self) -> Response {
        let status = self.status();
        if status.is_server_error() {
            tracing::error!(error = %self, "a page failed");
        }
        let message = match &self {
            Self::Store(StoreError::File(why)) => without_folders(why),
            other => other.to_string(),
        };
        let page = ErrorPage { title: self.title(), message: &message }.render();
        (status, Html(page.unwrap_or(message))).into_response()
    }
}

/// What a handler that panicked is answered with.
pub(crate) fn panicked(_: Box<dyn Any + Send>) -> Response {
    PageError::NotWorkedOut("the program met a case it does not know".into()).into_response()
}

pub(crate) async fn no_such_page() -> PageError {
    PageError::NoSuchPage
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_message_tells_no_folder() {
        let cases = [
            (
                "/srv/w.db cannot be written (disk full): make room",
                "w.db cannot be written (disk full): make room",
            ),
            (
                "the picture /srv/w/0a.jpg cannot be read; 1/2 of it is there",
                "the picture 0a.jpg cannot be read; 1/2 of it is there",
            ),
        ];
        for (text, told) in cases {
            assert_eq!(without_folders(text), told);
        }
    }
}
