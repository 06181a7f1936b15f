//! Compare: tubes of the shelf beside each other, from all that was read of them.

mod asked;
mod choose;
mod racks;
mod sentences;
mod view;
mod worth;

use asked::Asked;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::Query;
use choose::ChoosePage;
use serde::Deserialize;
use view::ComparePage;
use workshop::{TubeId, Workshop, WorkshopError};

use crate::error::PageError;
use crate::frame::{Frame, Room};
use crate::pages::beside::address;
use crate::pages::download;
use crate::pages::eye::red_is_warm;
use crate::posted::Posted;

/// The tubes beside each other, or what may be compared, where fewer than two are chosen.
pub(crate) async fn page(
    State(app): State<Workshop>,
    Query(asked): Query<Asked>,
) -> Result<Response, PageError> {
    let frame = Frame::load(&app, Room::Compare, None).await?;
    if let Some(near) = asked.near {
        return Ok(Redirect::to(&nearest(&app, &frame, TubeId(near)).await?).into_response());
    }
    let wanted = asked.tubes();
    if wanted.len() < 2 {
        return Ok(choose_page(&app, frame, asked, String::new()).await?.into_response());
    }
    let warm = red_is_warm(&app).await?;
    match app.compared(&frame.trials, &wanted, warm).await {
        Ok(comparison) => Ok(ComparePage::new(frame, &asked, &comparison, warm)?.into_response()),
        Err(WorkshopError::NotNow(why)) => {
            let page = choose_page(&app, frame, asked, why).await?;
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
        Err(error) => Err(error.into()),
    }
}

async fn choose_page(
    app: &Workshop,
    frame: Frame,
    asked: Asked,
    why: String,
) -> Result<ChoosePage, PageError> {
    let shelf = app.shelf().await?;
    let known = app.known_colours(&frame.trials).await?;
    let seen = app.seen_tubes(&frame.trials).await?;
    let alike = app.look_alikes(&frame.trials).await?;
    Ok(ChoosePage::new(frame, asked, &shelf, (&known, &seen), &alike, why)?)
}

/// The address of a tube beside those that are nearest to it.
async fn nearest(app: &Workshop, frame: &Frame, tube: TubeId) -> Result<String, PageError> {
    let alike = app.look_alikes(&frame.trials).await?;
    let others = alike.beside(tube).take(3).map(|(other, _)| other.id);
    let ids: Vec<TubeId> = [tube].into_iter().chain(others).collect();
    Ok(address(&ids, ""))
}

/// Every pair, as the command line gives it, and each tube beside the first.
pub(crate) async fn json(
    State(app): State<Workshop>,
    Query(asked): Query<Asked>,
) -> Result<Response, PageError> {
    let comparison = compared(&app, &asked).await?;
    let mut value = formats::comparison::to_json(&view::named(&comparison));
    value["tubes"] = worth::to_json(&comparison);
    let text = serde_json::to_string_pretty(&value).unwrap_or_default();
    Ok(download("application/json", "comparison.json", text + "\n"))
}

/// Every pair as one line.
pub(crate) async fn csv(
    State(app): State<Workshop>,
    Query(asked): Query<Asked>,
) -> Result<Response, PageError> {
    let comparison = compared(&app, &asked).await?;
    let text = formats::comparison::to_csv(&view::named(&comparison));
    Ok(download("text/csv; charset=utf-8", "comparison.csv", text))
}

async fn compared(
    app: &Workshop,
    asked: &Asked,
) -> Result<std::sync::Arc<workshop::Comparison>, PageError> {
    let trials = app.trials().await?;
    let warm = red_is_warm(app).await?;
    Ok(app.compared(&trials, &asked.tubes(), warm).await?)
}

/// Tubes whose missing swatches are to be planned.
#[derive(Debug, Default, Deserialize)]
#[serde(default)]
pub(crate) struct MissingForm {
    tube: Vec<i64>,
}

/// Plans what makes the tubes comparable: their mass tones and three tints with one white.
pub(crate) async fn plan_missing(
    State(app): State<Workshop>,
    Posted { form, once }: Posted<MissingForm>,
) -> Result<Redirect, PageError> {
    let tubes: Vec<TubeId> = form.tube.iter().map(|id| TubeId(*id)).collect();
    let request = app.missing_swatches(&app.trials().await?, &tubes).await?;
    let id = app.once(once.as_deref()).plan_trial(request).await?;
    Ok(Redirect::to(&format!("/trials/{}/plan", id.0)))
}
