//! Reference palettes: what every new tube is tried against.

mod form;
mod view;

use std::collections::HashMap;

use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::{Form, Query};
use form::PaletteForm;
use view::{CheckPanel, FormPage, ListPage, Standing};
use workshop::{KnownColour, PaletteId, TubeId, Workshop};

use crate::error::PageError;
use crate::frame::{Frame, Room};
use crate::pages::names::TubeNames;
use crate::posted::Posted;

type Pairs = Vec<(String, String)>;

pub(crate) async fn list(State(app): State<Workshop>) -> Result<ListPage, PageError> {
    let frame = Frame::load(&app, Room::Shelf, None).await?;
    let known = app.known_colours(&frame.trials).await?;
    Ok(ListPage::new(frame, &app.palettes().await?, &known)?)
}

/// Plans the palette's anchor card, where it has none yet, and shows it.
pub(crate) async fn card(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
) -> Result<Redirect, PageError> {
    let trial = app.make_card(PaletteId(id)).await?;
    Ok(Redirect::to(&format!("/trials/{}/sheets", trial.0)))
}

/// A new palette; another template is asked for with what was typed so far.
pub(crate) async fn new(
    State(app): State<Workshop>,
    Query(pairs): Query<Pairs>,
) -> Result<FormPage, PageError> {
    page(&app, PaletteForm::read(&pairs), Standing::New, false).await
}

pub(crate) async fn add(
    State(app): State<Workshop>,
    Posted { form: pairs, once }: Posted<Pairs>,
) -> Result<Response, PageError> {
    let form = PaletteForm::read(&pairs);
    let shelf = app.shelf().await?;
    let names = TubeNames::new(&shelf);
    let understood = form.understood(&names);
    if understood.errors.is_empty() {
        app.once(once.as_deref()).add_palette(&understood.palette(&form)).await?;
        return Ok(Redirect::to("/palettes").into_response());
    }
    wrong(page(&app, form, Standing::New, true).await?)
}

pub(crate) async fn edit(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
) -> Result<FormPage, PageError> {
    let palette = app.palette(PaletteId(id)).await?;
    let shelf = app.shelf().await?;
    let form = PaletteForm::of(&palette, &TubeNames::new(&shelf));
    page(&app, form, Standing::Known(palette), false).await
}

pub(crate) async fn change(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Posted { form: pairs, once }: Posted<Pairs>,
) -> Result<Response, PageError> {
    let form = PaletteForm::read(&pairs);
    let palette = app.palette(PaletteId(id)).await?;
    let shelf = app.shelf().await?;
    let names = TubeNames::new(&shelf);
    let understood = form.understood(&names);
    if understood.errors.is_empty() {
        let app = app.once(once.as_deref());
        app.change_palette(PaletteId(id), &understood.palette(&form)).await?;
        return Ok(Redirect::to("/palettes").into_response());
    }
    wrong(page(&app, form, Standing::Known(palette), true).await?)
}

/// What is missing, doubled or crossed so far: the panel alone.
pub(crate) async fn check(
    State(app): State<Workshop>,
    Form(pairs): Form<Pairs>,
) -> Result<CheckPanel, PageError> {
    let form = PaletteForm::read(&pairs);
    let shelf = app.shelf().await?;
    let known = app.known_colours(&app.trials().await?).await?;
    panel(&form, &TubeNames::new(&shelf), &known)
}

fn panel(
    form: &PaletteForm,
    names: &TubeNames<'_>,
    known: &HashMap<TubeId, KnownColour>,
) -> Result<CheckPanel, PageError> {
    Ok(CheckPanel::new(form, &form.understood(names), known)?)
}

async fn page(
    app: &Workshop,
    form: PaletteForm,
    standing: Standing,
    sent: bool,
) -> Result<FormPage, PageError> {
    let frame = Frame::load(app, Room::Shelf, None).await?;
    let shelf = app.shelf().await?;
    let known = app.known_colours(&frame.trials).await?;
    let names = TubeNames::new(&shelf);
    let panel = panel(&form, &names, &known)?;
    let errors = if sent { form.understood(&names).errors } else { Default::default() };
    Ok(FormPage::new(frame, form, (&shelf, &names), &panel, &standing)?.with(errors))
}

fn wrong(page: FormPage) -> Result<Response, PageError> {
    Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
}
