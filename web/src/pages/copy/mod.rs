//! Save a copy: everything of the workshop as one file.

use askama::Template;
use askama_web::WebTemplate;
use axum::body::{Body, Bytes};
use axum::extract::State;
use axum::response::Response;
use futures_util::stream::try_unfold;
use time::OffsetDateTime;
use tokio::io::AsyncReadExt as _;
use workshop::Workshop;

use crate::error::PageError;
use crate::frame::{Frame, Room};
use crate::pages::download;
use crate::words::counted;

#[derive(Template, WebTemplate)]
#[template(path = "copy/page.html")]
pub(crate) struct CopyPage {
    frame: Frame,
    holds: String,
    /// What pictures stand beside it; empty where there are none.
    pictures: String,
}

pub(crate) async fn page(State(app): State<Workshop>) -> Result<CopyPage, PageError> {
    let frame = Frame::load(&app, Room::Elsewhere, None).await?;
    let tubes = usize::try_from(app.tube_count().await?).unwrap_or_default();
    let readings: i64 = frame.trials.iter().map(|trial| trial.readings + trial.voids).sum();
    let holds = format!(
        "{}, {} and {}",
        counted(tubes, "tube", "tubes"),
        counted(frame.trials.len(), "trial", "trials"),
        counted(usize::try_from(readings).unwrap_or_default(), "reading", "readings")
    );
    let pictures = match app.picture_sizes().await? {
        (0, _) => String::new(),
        (count, bytes) => format!(
            "{} of sheets ({:.1} MB) {} in a folder beside the workshop and {} not in this file: upright-swatch \
             backup takes them along.",
            counted(count, "picture", "pictures"),
            bytes as f64 / 1e6,
            if count == 1 { "stands" } else { "stand" },
            if count == 1 { "is" } else { "are" },
        ),
    };
    Ok(CopyPage { frame, holds, pictures })
}

/// Bytes that are sent at a time.
const PIECE: usize = 64 * 1024;

/// A checked copy, sent piece by piece.
pub(crate) async fn save(State(app): State<Workshop>) -> Result<Response, PageError> {
    let copy = app.copy_to_send().await?;
    let file = copy.reopen().map_err(|error| PageError::Upload(error.to_string()))?;
    let start = (tokio::fs::File::from_std(file), copy);
    let pieces = try_unfold(start, |(mut file, copy)| async move {
        let mut piece = vec![0; PIECE];
        let read = file.read(&mut piece).await?;
        piece.truncate(read);
        Ok::<_, std::io::Error>((read > 0).then(|| (Bytes::from(piece), (file, copy))))
    });
    let day = OffsetDateTime::now_utc().date();
    let name = format!("workshop-{day}.db");
    Ok(download("application/vnd.sqlite3", &name, Body::from_stream(pieces)))
}
