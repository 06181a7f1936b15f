//! A picture as it arrives: written to its file piece by piece, and never held as a whole.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::multipart::{Field, MultipartError};
use axum::extract::{Multipart, Path, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::Form;
use formats::picture::MAX_BYTES;
use instruments::simulated::picture::PictureDevice;
use serde::Deserialize;
use workshop::{NotUsable, PictureDraft, Received, TrialId, Workshop};

use super::list::SheetChoice;
use crate::error::PageError;
use crate::frame::{Frame, Heading, Room};

/// Why a picture cannot be used, with another try.
#[derive(Template, WebTemplate)]
#[template(path = "pictures/refused.html")]
pub(crate) struct RefusedPage {
    frame: Frame,
    heading: Heading,
    id: i64,
    reasons: Vec<String>,
    /// The picture itself, small, as an address; empty where it is none.
    small: String,
    /// To be chosen from where the code could not be read.
    ask_sheet: Vec<SheetChoice>,
}

/// Which sheet the simulated phone is to take.
#[derive(Debug, Default, Deserialize)]
pub(crate) struct DrawForm {
    #[serde(default)]
    sheet: String,
}

/// Lets the simulated phone take a picture.
pub(crate) async fn draw(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Form(form): Form<DrawForm>,
) -> Result<Response, PageError> {
    let sheet = form.sheet.trim().parse().unwrap_or(1);
    let received = app.draw_picture(TrialId(id), sheet, PictureDevice::Phone).await?;
    answer(&app, id, received).await
}

/// Takes a picture in: to its own page where it can be used, else why not.
pub(crate) async fn receive(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    form: Multipart,
) -> Result<Response, PageError> {
    let received = received(&app, id, form).await?;
    answer(&app, id, received).await
}

/// What a form with a picture sent.
pub(crate) struct Sent {
    pub name: String,
    pub file_name: String,
    pub sheet: Option<usize>,
    pub token: String,
    /// The picture, or why there is none.
    pub picture: Result<PictureDraft, String>,
}

/// Takes in what a form with a picture sends.
pub(crate) async fn sent(app: &Workshop, mut form: Multipart) -> Result<Sent, PageError> {
    let broken = |error: MultipartError| PageError::Upload(error.body_text());
    let (mut name, mut file_name, mut token) = (String::new(), String::new(), String::new());
    let (mut sheet, mut draft) = (None, None);
    while let Some(mut field) = form.next_field().await.map_err(broken)? {
        match field.name() {
            Some("name") => name = short(&mut field).await?,
            Some("token") => token = short(&mut field).await?,
            Some("sheet") => sheet = short(&mut field).await?.trim().parse().ok(),
            Some("file") => {
                field.file_name().unwrap_or_default().clone_into(&mut file_name);
                draft = Some(stream(&mut field, app.picture_draft()?).await?);
            }
            _ => {}
        }
    }
    let picture = match draft.filter(|draft| draft.bytes() > 0) {
        None => Err("choose a picture first: a scan, or a photo".into()),
        Some(draft) if draft.bytes() > MAX_BYTES => Err(
            "the picture is larger than 128 MB; save it with 8 bits a channel, or as JPEG or PNG"
                .into(),
        ),
        Some(draft) => Ok(draft),
    };
    Ok(Sent { name, file_name, sheet, token, picture })
}

/// What becomes of a picture that a form sends.
pub(crate) async fn received(
    app: &Workshop,
    id: i64,
    form: Multipart,
) -> Result<Received, PageError> {
    // A trial that is not there is said before anything is sent.
    app.trial(TrialId(id)).await?;
    let Sent { sheet, picture, .. } = sent(app, form).await?;
    Ok(match picture {
        Err(why) => refused(why),
        Ok(draft) => app.receive_picture(TrialId(id), draft, sheet).await?,
    })
}

async fn answer(app: &Workshop, id: i64, received: Received) -> Result<Response, PageError> {
    match received {
        Received::Kept(TrialId(id), picture) => {
            Ok(Redirect::to(&format!("/trials/{id}/pictures/{}", picture.0)).into_response())
        }
        Received::NotUsable(why) => {
            let page = refused_page(app, id, why).await?;
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
    }
}

fn refused(why: String) -> Received {
    let reasons = vec![why];
    Received::NotUsable(NotUsable { reasons, small: Vec::new(), sheet_unknown: false })
}

async fn refused_page(app: &Workshop, id: i64, why: NotUsable) -> Result<RefusedPage, PageError> {
    let frame = Frame::load(app, Room::Readings, Some(TrialId(id))).await?;
    let trial = app.trial(TrialId(id)).await?;
    let heading = Heading::of(&trial, frame.summary(trial.id)?);
    let small = why.as_address();
    let ask_sheet = if why.sheet_unknown { SheetChoice::of(&trial) } else { Vec::new() };
    let sentence = |reason: String| study::words::with_capital(&reason) + ".";
    let reasons = why.reasons.into_iter().map(sentence).collect();
    Ok(RefusedPage { frame, heading, id, reasons, small, ask_sheet })
}

/// What is beyond the largest file is read and let go, so that the browser hears the answer.
const PATIENCE: u64 = 1_000_000_000;

async fn stream(field: &mut Field<'_>, mut draft: PictureDraft) -> Result<PictureDraft, PageError> {
    let broken = |error: MultipartError| PageError::Upload(error.body_text());
    let mut beyond = 0_u64;
    while let Some(piece) = field.chunk().await.map_err(broken)? {
        if draft.bytes() <= MAX_BYTES {
            draft.write(&piece)?;
        } else {
            beyond += piece.len() as u64;
        }
        if beyond > PATIENCE {
            break;
        }
    }
    Ok(draft)
}

/// Beyond this a text field is not read.
const LONGEST_TEXT: usize = 2000;

/// A field of a few letters.
async fn short(field: &mut Field<'_>) -> Result<String, PageError> {
    let broken = |error: MultipartError| PageError::Upload(error.body_text());
    let mut text = Vec::new();
    while let Some(piece) = field.chunk().await.map_err(broken)? {
        if text.len() < LONGEST_TEXT {
            text.extend_from_slice(&piece);
        }
    }
    Ok(String::from_utf8_lossy(&text).into_owned())
}
