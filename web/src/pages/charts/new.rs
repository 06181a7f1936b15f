//! The picture of a chart that was not printed here, sent.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Multipart, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use study::names;
use workshop::{NotUsable, Received, TrialId, Workshop};

use crate::error::PageError;
use crate::frame::{Frame, Room};
use crate::pages::fields::{FieldErrors, short};
use crate::pages::pictures::{Sent, sent};
use crate::posted::{Posted, sending};

#[derive(Template, WebTemplate)]
#[template(path = "charts/new.html")]
pub(crate) struct NewPage {
    frame: Frame,
    trial_name: String,
    errors: FieldErrors,
    reasons: Vec<String>,
    /// A simulated phone photographs an old chart.
    simulated: bool,
}

/// What a chart is called that has no name.
const USUAL_NAME: &str = "Chart from a picture";

type Pairs = Vec<(String, String)>;

pub(crate) async fn new(State(app): State<Workshop>) -> Result<NewPage, PageError> {
    page(&app, String::new(), FieldErrors::default(), Vec::new()).await
}

pub(crate) async fn receive(
    State(app): State<Workshop>,
    form: Multipart,
) -> Result<Response, PageError> {
    let Sent { name, file_name, picture, token, .. } = sent(&app, form).await?;
    let mut errors = FieldErrors::default();
    errors.check("name", short(&name, &()));
    let picture = match picture {
        Ok(picture) if errors.is_empty() => picture,
        Ok(_) => return wrong(&app, name, errors, Vec::new()).await,
        Err(why) => return wrong(&app, name, errors, vec![why]).await,
    };
    let called = match (name.trim(), of_file(&file_name)) {
        ("", of_file) if of_file.is_empty() => USUAL_NAME.to_owned(),
        ("", of_file) => of_file,
        (typed, _) => typed.to_owned(),
    };
    let once = sending(&token, format!("{called}/{file_name}/{}", picture.bytes()).as_bytes());
    match app.receive_chart(&called, picture, once.as_deref()).await? {
        Received::Kept(trial, picture) => Ok(to_chart(trial, picture.0).into_response()),
        Received::NotUsable(NotUsable { reasons, .. }) => wrong(&app, name, errors, reasons).await,
    }
}

/// Lets the simulated phone photograph an old chart.
pub(crate) async fn draw(
    State(app): State<Workshop>,
    Posted { form: _, once }: Posted<Pairs>,
) -> Result<Response, PageError> {
    match app.draw_chart("Tints from an old notebook", once.as_deref()).await? {
        Received::Kept(trial, picture) => Ok(to_chart(trial, picture.0).into_response()),
        Received::NotUsable(NotUsable { reasons, .. }) => {
            wrong(&app, String::new(), FieldErrors::default(), reasons).await
        }
    }
}

fn to_chart(TrialId(trial): TrialId, picture: i64) -> Redirect {
    Redirect::to(&format!("/trials/{trial}/chart/{picture}"))
}

/// A trial's name from that of its file.
fn of_file(file_name: &str) -> String {
    let stem = file_name.rsplit_once('.').map_or(file_name, |(stem, _)| stem);
    names::tidied(stem)
}

async fn wrong(
    app: &Workshop,
    name: String,
    errors: FieldErrors,
    reasons: Vec<String>,
) -> Result<Response, PageError> {
    let page = page(app, name, errors, reasons).await?;
    Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
}

async fn page(
    app: &Workshop,
    trial_name: String,
    errors: FieldErrors,
    reasons: Vec<String>,
) -> Result<NewPage, PageError> {
    let frame = Frame::load(app, Room::Plan, None).await?;
    let sentence = |reason: String| study::words::with_capital(&reason) + ".";
    let reasons = reasons.into_iter().map(sentence).collect();
    let simulated = app.has_simulated_camera();
    Ok(NewPage { frame, trial_name, errors, reasons, simulated })
}
