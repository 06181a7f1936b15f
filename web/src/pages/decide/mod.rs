//! Decide: which tubes to keep, how to mix a colour, what a palette reaches, its greys.

mod asked;
pub(crate) mod correct;
mod greys;
mod keep;
mod looks;
mod names;
mod reach;
mod recipe;

use asked::{PaletteChoice, ReachAsked};
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::Query;
use formats::decisions::RecipeTold;
use greys::GreysPage;
use keep::{KeepPage, WorkingPage};
use reach::ReachPage;
use recipe::{AskForm, RecipePage};
use serde::Deserialize;
use workshop::{Deciding, RecipeAsked, Workshop, WorkshopError};

use crate::error::PageError;
use crate::frame::{Frame, Room};
use crate::pages::download;
use crate::pages::names::told_apart;

/// What is asked of the list of all tubes.
#[derive(Debug, Default, Deserialize)]
#[serde(default)]
pub(crate) struct KeepAsked {
    /// The best palette of so many tubes.
    best: Option<usize>,
}

/// Which tubes to keep, or how far that is.
pub(crate) async fn keep(
    State(app): State<Workshop>,
    Query(asked): Query<KeepAsked>,
) -> Result<Response, PageError> {
    let frame = Frame::load(&app, Room::Decide, None).await?;
    match app.keep_or_drop(&frame.trials).await? {
        Deciding::Done(found) => {
            let size = asked.best.map(|size| size.clamp(3, 24));
            let for_palette = std::sync::Arc::clone(&found);
            let best = match size {
                Some(size) => {
                    workshop::off_the_thread(move || for_palette.best_palette(size)).await?
                }
                None => None,
            };
            Ok(KeepPage::new(frame, &found, size, best.as_ref())?.into_response())
        }
        Deciding::Working(done) => Ok(WorkingPage::at_work(frame, done).into_response()),
        Deciding::Stopped => Ok(WorkingPage::stopped(frame).into_response()),
    }
}

/// Stops the verdicts that are being worked out.
pub(crate) async fn stop(State(app): State<Workshop>) -> Redirect {
    app.stop_deciding();
    Redirect::to("/decide")
}

/// Works them out anew.
pub(crate) async fn again(State(app): State<Workshop>) -> Redirect {
    app.decide_again();
    Redirect::to("/decide")
}

/// A form for a target, or recipes for it.
pub(crate) async fn recipe(
    State(app): State<Workshop>,
    Query(asked): Query<RecipeAsked>,
) -> Result<Response, PageError> {
    let frame = Frame::load(&app, Room::Decide, None).await?;
    let shelf = app.shelf().await?;
    let palettes = app.palettes().await?;
    let ask = |why: String| AskForm::new(&asked, &shelf, &palettes, why);
    let request = match asked.request(&palettes) {
        Ok(Some(request)) => request,
        Ok(None) => return Ok(ask(String::new()).page(frame).into_response()),
        Err(why) => {
            return Ok((StatusCode::UNPROCESSABLE_ENTITY, ask(why).page(frame)).into_response());
        }
    };
    match app.recipes(&frame.trials, &request).await {
        Ok((known, answer)) => {
            let form = ask(String::new());
            Ok(RecipePage::new(frame, form, &request, &known, &answer)?.into_response())
        }
        Err(WorkshopError::NotNow(why)) => {
            Ok((StatusCode::UNPROCESSABLE_ENTITY, ask(why).page(frame)).into_response())
        }
        Err(error) => Err(error.into()),
    }
}

/// The same recipes for other programs.
pub(crate) async fn recipe_json(
    State(app): State<Workshop>,
    Query(asked): Query<RecipeAsked>,
) -> Result<Response, PageError> {
    let palettes = app.palettes().await?;
    let request = asked.request(&palettes).map_err(WorkshopError::NotNow)?;
    let request = request
        .ok_or_else(|| WorkshopError::NotNow("no target is named: a tube or L,a,b".into()))?;
    let trials = app.trials().await?;
    let (known, answer) = app.recipes(&trials, &request).await?;
    let (names, tubes_from) = (told_apart(&known.tubes), names::tubes_from(&known));
    let told = RecipeTold {
        names: &names,
        tubes_from: &tubes_from,
        white_from: known.white.is_some().then(|| names::white_from(&known)),
        target_from: names::target_from(&known, &request.aim, &answer.target),
        is_simulated: known.is_simulated(),
    };
    let value = formats::decisions::recipes_to_json(&answer.recipes, &told);
    let text = serde_json::to_string_pretty(&value).unwrap_or_default();
    Ok(download("application/json", "recipes.json", text + "\n"))
}

/// What a palette reaches.
pub(crate) async fn reach(
    State(app): State<Workshop>,
    Query(asked): Query<ReachAsked>,
) -> Result<Response, PageError> {
    let frame = Frame::load(&app, Room::Decide, None).await?;
    let palettes = app.palettes().await?;
    let choice = PaletteChoice::new(&palettes, &asked.palette, &asked.beside);
    let beside = choice.beside_which();
    match app.palette_reach(&frame.trials, &choice.which(), beside.as_ref()).await {
        Ok(found) => Ok(ReachPage::new(frame, choice, &found)?.into_response()),
        Err(WorkshopError::NotNow(why)) => {
            let page = ReachPage::nothing(frame, choice, why);
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
        Err(error) => Err(error.into()),
    }
}

/// The greys of a palette.
pub(crate) async fn greys(
    State(app): State<Workshop>,
    Query(asked): Query<ReachAsked>,
) -> Result<Response, PageError> {
    let frame = Frame::load(&app, Room::Decide, None).await?;
    let palettes = app.palettes().await?;
    let choice = PaletteChoice::new(&palettes, &asked.palette, "");
    match app.palette_greys(&frame.trials, &choice.which()).await {
        Ok(found) => Ok(GreysPage::new(frame, choice, &found)?.into_response()),
        Err(WorkshopError::NotNow(why)) => {
            let page = GreysPage::nothing(frame, choice, why);
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
        Err(error) => Err(error.into()),
    }
}
