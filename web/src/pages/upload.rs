//! A file that a form sends, taken in piece by piece: one that is too large is refused in words, and never
//! held.

use axum::extract::Multipart;
use axum::extract::multipart::{Field, MultipartError};

use crate::error::PageError;
use crate::posted::sending;

/// What was sent.
#[derive(Default)]
pub(crate) struct Upload {
    pub name: String,
    pub file_name: String,
    pub file: Vec<u8>,
    /// The name of this sending; see [`crate::posted::Posted`].
    pub once: Option<String>,
}

/// More than this is not even read to its end.
const PATIENCE: usize = 1_000_000_000;
/// A text field of such a form.
const LONGEST_TEXT: usize = 10_000;

/// Takes what a form sent, with a file of at most so many bytes.
pub(crate) async fn receive(mut form: Multipart, most: u64) -> Result<Upload, PageError> {
    let most = usize::try_from(most).unwrap_or(usize::MAX);
    let broken = |error: MultipartError| PageError::Upload(error.body_text());
    let mut upload = Upload::default();
    let mut token = String::new();
    while let Some(field) = form.next_field().await.map_err(broken)? {
        match field.name() {
            Some("name") => upload.name = text(field).await?,
            Some("token") => token = text(field).await?,
            Some("file") => {
                upload.file_name = field.file_name().unwrap_or_default().to_owned();
                upload.file = bytes(field, most).await?;
            }
            _ => {}
        }
    }
    let sent = [upload.name.as_bytes(), upload.file_name.as_bytes(), &upload.file].join(&b'\n');
    upload.once = sending(&token, &sent);
    Ok(upload)
}

async fn text(field: Field<'_>) -> Result<String, PageError> {
    let too_long = || {
        PageError::Form(format!(
            "a name has at most {} letters; shorten it, and send it again",
            study::names::LONGEST
        ))
    };
    let bytes = bytes(field, LONGEST_TEXT).await.map_err(|error| match error {
        PageError::TooLarge(_) => too_long(),
        other => other,
    })?;
    String::from_utf8(bytes).map_err(|_| PageError::Form("a field is not UTF-8 text".into()))
}

/// All of a field. What is beyond `most` is read and let go, so that the browser hears the answer.
async fn bytes(mut field: Field<'_>, most: usize) -> Result<Vec<u8>, PageError> {
    let (mut bytes, mut read) = (Vec::new(), 0_usize);
    while let Some(piece) =
        field.chunk().await.map_err(|error| PageError::Upload(error.body_text()))?
    {
        read += piece.len();
        if read <= most {
            bytes.extend_from_slice(&piece);
        } else {
            bytes = Vec::new();
        }
        if read > PATIENCE {
            break;
        }
    }
    if read <= most {
        return Ok(bytes);
    }
    let (found, most) = (read.div_ceil(1_000_000), most / 1_000_000);
    let beyond = if read > PATIENCE { "more than " } else { "" };
    Err(PageError::TooLarge(format!(
        "the file has {beyond}{found} MB, and at most {most} MB are read; nothing was stored. Split \
         it, and send the parts"
    )))
}
