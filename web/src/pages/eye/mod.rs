//! Compare by eye: two paints side by side, one question at a time.

mod view;

use axum::extract::{Path, Query, State};
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::Form;
use bench::BenchEvent;
use serde::Deserialize;
use study::{Depth, Quality, SeenTint, TubeRef, Which};
use view::EyePage;
use workshop::{TrialId, Workshop, order_by_eye, strengths_by_eye};

use crate::error::PageError;
use crate::frame::{Frame, Heading, Room};
use crate::token::sent;

/// The setting that says which blue is called warm.
const WARM: &str = "warm";

/// The user calls the blue that leans red the warm one, as most charts teach.
pub(crate) async fn red_is_warm(app: &Workshop) -> Result<bool, PageError> {
    Ok(app.setting(WARM).await?.as_deref() != Some("green"))
}

/// What is compared.
#[derive(Debug, Default, Deserialize)]
pub(crate) struct About {
    /// `strength`, `greener`, `warmer` or `cleaner`.
    #[serde(default)]
    about: String,
}

pub(crate) async fn page(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Query(about): Query<About>,
) -> Result<EyePage, PageError> {
    let frame = Frame::load(&app, Room::Results, Some(TrialId(id))).await?;
    let summary = frame.summary(TrialId(id))?;
    let analysed = app.analysed(summary).await?;
    let heading = Heading::of(&analysed.trial, summary);
    let state = study::State::Dry;
    let evidence = app.evidence_for(&frame.trials, &analysed.trial, state).await?;
    let strengths = strengths_by_eye(&analysed, &evidence.prior);
    let quality = about.about.parse::<Quality>().ok();
    let quality = if strengths.is_empty() { quality.or(Some(Quality::Warmer)) } else { quality };
    let order = quality.map(|quality| order_by_eye(&analysed, quality));
    let red_is_warm = red_is_warm(&app).await?;
    Ok(EyePage::new(
        frame,
        heading,
        &analysed,
        &evidence.prior,
        &strengths,
        order.as_ref(),
        red_is_warm,
    ))
}

/// An answer.
#[derive(Debug, Default, Deserialize)]
#[serde(default)]
pub(crate) struct AnswerForm {
    token: String,
    answer: String,
    /// What it is about: tubes, and parts of white for a depth.
    first: String,
    second: String,
    quality: String,
}

impl AnswerForm {
    /// A tube of the trial with its parts of white, as the page wrote it: `2/4`.
    fn tint(text: &str) -> Option<SeenTint> {
        let (tube, white) = text.split_once('/')?;
        let white: f64 = white.parse().ok()?;
        let tint = SeenTint { tube: TubeRef(tube.parse().ok()?), white };
        (white > 0.0 && white.is_finite()).then_some(tint)
    }
}

/// How deep a tint looks beside the standard's.
pub(crate) async fn depth(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Form(form): Form<AnswerForm>,
) -> Result<Response, PageError> {
    let answer: Depth = form.answer.parse().map_err(unknown)?;
    let tints = AnswerForm::tint(&form.first).zip(AnswerForm::tint(&form.second));
    let (sample, standard) =
        tints.ok_or_else(|| unknown("these are no two tints of this trial"))?;
    in_trial(&app, id, [sample.tube, standard.tube]).await?;
    let trial = app.trial(TrialId(id)).await?;
    if [sample, standard].iter().any(|tint| view::square_of(&trial, *tint).is_none()) {
        return Err(unknown("this trial has no such tint to be held beside another"));
    }
    let event = BenchEvent::Depth { sample, standard, answer };
    app.record(TrialId(id), event, sent(&form.token)).await?;
    Ok(Redirect::to(&format!("/trials/{id}/eye?about=strength")).into_response())
}

/// Which of two tubes it is.
pub(crate) async fn compare(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Form(form): Form<AnswerForm>,
) -> Result<Response, PageError> {
    let answer: Which = form.answer.parse().map_err(unknown)?;
    let quality: Quality = form.quality.parse().map_err(unknown)?;
    let place = |text: &str| {
        text.parse().map(TubeRef).map_err(|_| unknown("this is no tube of this trial"))
    };
    let tubes = [place(&form.first)?, place(&form.second)?];
    in_trial(&app, id, tubes).await?;
    let event = BenchEvent::Compared { quality, tubes, answer };
    app.record(TrialId(id), event, sent(&form.token)).await?;
    Ok(Redirect::to(&format!("/trials/{id}/eye?about={quality}")).into_response())
}

/// Which blue is called warm.
#[derive(Debug, Default, Deserialize)]
#[serde(default)]
pub(crate) struct WarmForm {
    warm: String,
}

pub(crate) async fn settle_warm(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Form(form): Form<WarmForm>,
) -> Result<Response, PageError> {
    let warm = if form.warm == "green" { "green" } else { "red" };
    app.settle(WARM, warm).await?;
    Ok(Redirect::to(&format!("/trials/{id}/eye?about=warmer")).into_response())
}

/// Both tubes belong to the trial, and are two.
async fn in_trial(app: &Workshop, id: i64, tubes: [TubeRef; 2]) -> Result<(), PageError> {
    let trial = app.trial(TrialId(id)).await?;
    let known = tubes.iter().all(|tube| tube.0 < trial.tubes.len());
    match known && tubes[0] != tubes[1] {
        true => Ok(()),
        false => Err(unknown("a tube cannot be compared with itself, or is not in this trial")),
    }
}

fn unknown(error: impl std::fmt::Display) -> PageError {
    PageError::Form(error.to_string())
}
