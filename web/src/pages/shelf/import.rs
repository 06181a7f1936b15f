//! A shelf file: what it would do, line by line, and then doing it.

use std::hash::{DefaultHasher, Hash as _, Hasher as _};

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Multipart, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use formats::shelf::{ShelfEntry, Verdict, preview as judge, read};
use serde::Deserialize;
use study::Tube;
use workshop::{ShelfTube, StoreError, Workshop, WorkshopError};

use crate::error::PageError;
use crate::frame::{Frame, Room};
use crate::pages::upload::receive;
use crate::posted::Posted;
use crate::words::counted;

/// The form, with what is wrong with the file.
#[derive(Template, WebTemplate)]
#[template(path = "shelf/import.html")]
pub(crate) struct ImportPage {
    frame: Frame,
    error: String,
}

/// The preview of an import.
#[derive(Template, WebTemplate)]
#[template(path = "shelf/preview.html")]
pub(crate) struct PreviewPage {
    frame: Frame,
    summary: String,
    /// Something to store.
    useful: bool,
    lines: Vec<Line>,
    text: String,
    previewed: String,
}

struct Line {
    number: u64,
    name: String,
    verdict: &'static str,
    detail: String,
}

pub(crate) async fn form(State(app): State<Workshop>) -> Result<ImportPage, PageError> {
    let frame = Frame::load(&app, Room::Shelf, None).await?;
    Ok(ImportPage { frame, error: String::new() })
}

/// Judges an uploaded file; stores nothing.
pub(crate) async fn preview(
    State(app): State<Workshop>,
    form: Multipart,
) -> Result<Response, PageError> {
    answer(&app, receive(form, LARGEST).await?.file).await
}

/// Most bytes of a shelf: twice what its most lines need.
const LARGEST: u64 = 5_000_000;

/// The previewed text comes back to be stored.
#[derive(Deserialize)]
pub(crate) struct Confirmed {
    #[serde(default)]
    text: String,
    /// Which preview was seen: the shelf may have changed since, and then it is shown again.
    #[serde(default)]
    previewed: String,
}

/// Stores what was previewed: every line that is not refused, all or none.
pub(crate) async fn confirm(
    State(app): State<Workshop>,
    Posted { form: confirmed, once }: Posted<Confirmed>,
) -> Result<Response, PageError> {
    let shelf = app.shelf().await?;
    // A form sends every line end as CR LF, whatever the file had.
    let text = confirmed.text.replace("\r\n", "\n");
    let Ok(entries) = entries(text.as_bytes(), &shelf) else {
        return answer(&app, text.into_bytes()).await;
    };
    if !confirmed.previewed.is_empty() && confirmed.previewed != mark(&entries) {
        return answer(&app, text.into_bytes()).await;
    }
    let (mut new, mut corrected): (Vec<Tube>, Vec<(ShelfTube, Tube)>) = (Vec::new(), Vec::new());
    for entry in entries {
        match entry.verdict {
            Verdict::Add(tube) => new.push(tube),
            Verdict::Correct { place, tube, .. } => corrected.push((shelf[place].clone(), tube)),
            Verdict::Same | Verdict::Refuse(_) => {}
        }
    }
    match app.once(once.as_deref()).stock(&new, &corrected).await {
        Err(WorkshopError::Store(StoreError::Changed(_))) => answer(&app, text.into_bytes()).await,
        done => {
            done?;
            Ok(Redirect::to("/shelf").into_response())
        }
    }
}

/// What tells one preview from another: what it would do, line by line.
fn mark(entries: &[ShelfEntry]) -> String {
    let mut hasher = DefaultHasher::new();
    for line in entries.iter().map(Line::of) {
        (line.number, line.verdict, line.detail).hash(&mut hasher);
    }
    format!("{:016x}", hasher.finish())
}

async fn answer(app: &Workshop, bytes: Vec<u8>) -> Result<Response, PageError> {
    let frame = Frame::load(app, Room::Shelf, None).await?;
    let shelf = app.shelf().await?;
    match entries(&bytes, &shelf) {
        Ok(entries) => {
            // What could be read is UTF-8.
            let text = String::from_utf8(bytes).unwrap_or_default();
            Ok(PreviewPage::new(frame, &entries, text).into_response())
        }
        Err(error) => {
            Ok((StatusCode::UNPROCESSABLE_ENTITY, ImportPage { frame, error }).into_response())
        }
    }
}

fn entries(bytes: &[u8], shelf: &[ShelfTube]) -> Result<Vec<ShelfEntry>, String> {
    let rows = read(bytes).map_err(|error| error.to_string())?;
    let tubes: Vec<&Tube> = shelf.iter().map(|known| &known.tube).collect();
    Ok(judge(&rows, &tubes))
}

impl PreviewPage {
    fn new(frame: Frame, entries: &[ShelfEntry], text: String) -> Self {
        let count = |wanted: fn(&Verdict) -> bool| {
            entries.iter().filter(|entry| wanted(&entry.verdict)).count()
        };
        let added = count(|verdict| matches!(verdict, Verdict::Add(_)));
        let corrected = count(|verdict| matches!(verdict, Verdict::Correct { .. }));
        let same = count(|verdict| matches!(verdict, Verdict::Same));
        let refused = count(|verdict| matches!(verdict, Verdict::Refuse(_)));
        Self {
            frame,
            summary: format!(
                "{} would be added, {corrected} corrected; {same} stand so already, {refused} are refused.",
                counted(added, "tube", "tubes")
            ),
            useful: added + corrected > 0,
            lines: entries.iter().map(Line::of).collect(),
            text,
            previewed: mark(entries),
        }
    }
}

impl Line {
    fn of(entry: &ShelfEntry) -> Self {
        let (verdict, detail) = match &entry.verdict {
            Verdict::Add(tube) => ("add", [tube.maker.as_str(), &tube.code()].join(" ")),
            Verdict::Correct { changes, .. } => {
                let words = changes.iter().map(|change| {
                    let from = if change.from.is_empty() { "empty" } else { &change.from };
                    let to = if change.to.is_empty() { "empty" } else { &change.to };
                    format!("{}: {from} → {to}", change.column)
                });
                ("correct", words.collect::<Vec<_>>().join("; "))
            }
            Verdict::Same => ("as it is", String::new()),
            Verdict::Refuse(why) => ("refuse", why.clone()),
        };
        Self { number: entry.line, name: entry.name.clone(), verdict, detail }
    }
}
