//! The planner: every choice of a trial, and beside it what it costs.

pub(super) mod cost;
mod form;
mod pace;
mod presets;
mod request;
mod view;

use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::{Form, Query};
use cost::CostPanel;
use form::PlanForm;
use presets::Presets;
use request::at_fields;
use serde::Deserialize;
use view::{AdjustPanel, PlannerPage};
use workshop::{
    ShelfTube, StoreError, TrialId, TrialSummary, TubeId, WorkedOut, Workshop, WorkshopError,
};

use crate::error::PageError;
use crate::frame::{Frame, Room};
use crate::pages::fields::{FieldErrors, required};
use crate::pages::names::TubeNames;
use crate::posted::Posted;

/// A question as people ask it.
pub(super) fn question_words(question: plan::Question) -> &'static str {
    presets::words(question).0
}

/// Bytes of the choices that are kept as a plan of one's own.
const LARGEST_KEPT: usize = 100_000;

/// What a new plan may start from.
#[derive(Debug, Deserialize)]
pub(crate) struct Start {
    /// Numbers of tubes to be compared.
    #[serde(default)]
    tested: Vec<i64>,
    /// Numbers of tubes to mix them with.
    #[serde(default)]
    reference: Vec<i64>,
    /// Number of the white.
    white: Option<i64>,
    /// `yes` for the first trial of a workshop: small, and named already.
    #[serde(default)]
    first: String,
    /// A palette to try them against.
    palette: Option<i64>,
    /// A trial whose plan is copied.
    copy: Option<i64>,
    /// What is asked; a kept plan as `own-3`.
    #[serde(default)]
    question: String,
    /// How it is worked: `eye`, `measured` or `teaching`.
    #[serde(default)]
    pace: String,
}

pub(crate) async fn new(
    State(app): State<Workshop>,
    Query(start): Query<Start>,
) -> Result<PlannerPage, PageError> {
    let frame = Frame::load(&app, Room::Plan, None).await?;
    let shelf = app.shelf().await?;
    let names = TubeNames::new(&shelf);
    let form = match start.copy {
        Some(id) => {
            let form = of_trial(&app, TrialId(id), &names).await?;
            PlanForm { name: format!("{}, again", form.name), ..form }
        }
        None => {
            let palettes = app.palettes().await?;
            let usual =
                palettes.first().map(|palette| palette.id.0).filter(|_| start.reference.is_empty());
            let palette = start.palette.or(usual);
            // A palette has its white; without one it is the shelf's.
            let own = shelf.iter().find(|it| palette.is_none() && it.tube.is_white());
            let white = start.white.map(TubeId).or(own.map(|it| it.id));
            let all = |ids: &[i64]| ids.iter().map(|id| names.of(TubeId(*id))).collect();
            // Hardly anybody owns a meter, and whoever has none judges by eye.
            let usual = if app.meter_info().is_none() { "eye" } else { "measured" };
            let pace = if start.pace.is_empty() { usual } else { &start.pace };
            let question = if start.question.is_empty() { "mixes" } else { &start.question };
            let presets = presets(&app).await?;
            let pace = presets.pace(question, pace).key();
            let form = PlanForm {
                question: question.to_owned(),
                was_question: question.to_owned(),
                was_pace: pace.to_owned(),
                tested: all(&start.tested),
                reference: all(&start.reference),
                white: white.map_or_else(String::new, |id| names.of(id)),
                palette: palette.map_or_else(String::new, |id| id.to_string()),
                ..presets.form(question, pace)
            };
            if start.first == "yes" { form.first_trial() } else { form }
        }
    };
    page(&app, frame, form, None).await
}

pub(crate) async fn start(
    State(app): State<Workshop>,
    Posted { form, once }: Posted<PlanForm>,
) -> Result<Response, PageError> {
    let (shelf, trials) = (app.shelf().await?, app.trials().await?);
    match work_out(&app, &form, &shelf, &trials).await? {
        Ok(worked) => {
            let id = app.once(once.as_deref()).start_trial(worked).await?;
            Ok(Redirect::to(&format!("/trials/{}/plan", id.0)).into_response())
        }
        Err(_) => {
            let frame = Frame::load(&app, Room::Plan, None).await?;
            wrong(page(&app, frame, form, None).await?)
        }
    }
}

pub(crate) async fn edit(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
) -> Result<PlannerPage, PageError> {
    let id = TrialId(id);
    let frame = Frame::load(&app, Room::Plan, Some(id)).await?;
    open(frame.summary(id)?)?;
    no_recipe(&app, id).await?;
    let shelf = app.shelf().await?;
    let form = of_trial(&app, id, &TubeNames::new(&shelf)).await?;
    page(&app, frame, form, Some(id)).await
}

/// A recipe's pile is not planned in the planner.
async fn no_recipe(app: &Workshop, id: TrialId) -> Result<(), PageError> {
    let trial = app.trial(id).await?;
    let is_chosen = |chart: &plan::Chart| matches!(chart, plan::Chart::Chosen(_));
    match trial.plan.as_ref() {
        Some(plan) if plan.design.charts.iter().any(is_chosen) => {
            let why =
                "this trial is one recipe: choose another recipe in Decide, or plan a new trial";
            Err(WorkshopError::NotNow(why.into()).into())
        }
        _ => Ok(()),
    }
}

pub(crate) async fn change(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Form(mut form): Form<PlanForm>,
) -> Result<Response, PageError> {
    let id = TrialId(id);
    let frame = Frame::load(&app, Room::Plan, Some(id)).await?;
    open(frame.summary(id)?)?;
    no_recipe(&app, id).await?;
    let shelf = app.shelf().await?;
    match work_out(&app, &form, &shelf, &frame.trials).await? {
        Ok(worked) => {
            // A page that says none is older than any.
            let read_at = form.edition.parse().unwrap_or_default();
            match app.change_trial(id, worked, read_at).await {
                Ok(()) => Ok(Redirect::to(&format!("/trials/{}/plan", id.0)).into_response()),
                Err(WorkshopError::Store(StoreError::Changed(_))) => {
                    // What was typed stays; sent once more, it takes the place of the other.
                    let now = app.trial(id).await?;
                    form.edition =
                        now.plan.as_ref().map_or_else(String::new, |it| it.edition.to_string());
                    let page = page(&app, frame, form, Some(id)).await?;
                    Ok((StatusCode::CONFLICT, page.changed_meanwhile(id)).into_response())
                }
                Err(error) => Err(error.into()),
            }
        }
        Err(_) => wrong(page(&app, frame, form, Some(id)).await?),
    }
}

/// Works out what a form asks for, or says what is wrong at which field.
async fn work_out(
    app: &Workshop,
    form: &PlanForm,
    shelf: &[ShelfTube],
    trials: &[TrialSummary],
) -> Result<Result<WorkedOut, FieldErrors>, PageError> {
    let (request, rows) = match form.request(&TubeNames::new(shelf), &presets(app).await?) {
        Ok(request) => request,
        Err(errors) => return Ok(Err(errors)),
    };
    let worked = app.work_out(request, shelf, trials).await?;
    Ok(worked.map_err(|errors| at_fields(&errors, &rows)))
}

async fn presets(app: &Workshop) -> Result<Presets, WorkshopError> {
    Ok(Presets::new(app.presets().await?))
}

/// The choices of another question or pace: what was changed stays.
pub(crate) async fn adjust(
    State(app): State<Workshop>,
    Form(form): Form<PlanForm>,
) -> Result<AdjustPanel, PageError> {
    let presets = presets(&app).await?;
    let form = presets.switched(form);
    Ok(AdjustPanel::new(form, &presets))
}

/// Keeps the choices of a plan as one of one's own.
pub(crate) async fn keep(
    State(app): State<Workshop>,
    Posted { form, once }: Posted<PlanForm>,
) -> Result<Response, PageError> {
    let presets = presets(&app).await?;
    let name = form.preset_name.trim();
    if let Err(error) = required("give the plan a name that you will know it by")(name, &()) {
        let frame = Frame::load(&app, Room::Plan, None).await?;
        let mut errors = FieldErrors::default();
        errors.check("preset_name", Err(error));
        let page = page(&app, frame, form, None).await?.with(errors, &presets)?;
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    }
    let text = presets.kept(&form).map_err(|error| PageError::Form(error.to_string()))?;
    if text.len() > LARGEST_KEPT {
        return Err(PageError::TooLarge(
            "these choices are too long to be kept as a plan of your own; nothing was stored"
                .into(),
        ));
    }
    let id = app.once(once.as_deref()).keep_preset(name, &text).await?;
    Ok(Redirect::to(&format!("/trials/new?question=own-{id}")).into_response())
}

/// Forgets a kept plan.
pub(crate) async fn forget(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
) -> Result<Redirect, PageError> {
    app.forget_preset(id).await?;
    Ok(Redirect::to("/trials/new"))
}

/// The cost of what is chosen so far: the panel alone.
pub(crate) async fn cost(
    State(app): State<Workshop>,
    Form(form): Form<PlanForm>,
) -> Result<CostPanel, PageError> {
    let (shelf, trials) = (app.shelf().await?, app.trials().await?);
    Ok(panel(&app, &form, &shelf, &trials).await?.0)
}

async fn panel(
    app: &Workshop,
    form: &PlanForm,
    shelf: &[ShelfTube],
    trials: &[TrialSummary],
) -> Result<(CostPanel, FieldErrors), PageError> {
    match work_out(app, form, shelf, trials).await? {
        Ok(worked) => Ok((CostPanel::before(&worked)?, FieldErrors::default())),
        Err(errors) => Ok((CostPanel::wrong(&errors), errors)),
    }
}

async fn page(
    app: &Workshop,
    frame: Frame,
    form: PlanForm,
    changes: Option<TrialId>,
) -> Result<PlannerPage, PageError> {
    let shelf = app.shelf().await?;
    let palettes = app.palettes().await?;
    let chosen = app.palette_still_there(form.palette_id()).await?;
    let presets = presets(app).await?;
    let (panel, errors) = panel(app, &form, &shelf, &frame.trials).await?;
    let of = (&TubeNames::new(&shelf), &presets);
    let page = PlannerPage::new(frame, form, of, (palettes, chosen), &panel, changes)?;
    Ok(page.with(errors, &presets)?)
}

/// A page that was sent with something wrong.
fn wrong(page: PlannerPage) -> Result<Response, PageError> {
    Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
}

/// Only a trial that nobody has begun can be planned anew.
fn open(summary: &TrialSummary) -> Result<(), StoreError> {
    if summary.readings + summary.voids > 0 { Err(StoreError::Frozen) } else { Ok(()) }
}

async fn of_trial(
    app: &Workshop,
    id: TrialId,
    names: &TubeNames<'_>,
) -> Result<PlanForm, PageError> {
    let trial = app.trial(id).await?;
    let planned = trial.plan.as_ref().ok_or(StoreError::NotFound("plan of this trial"))?;
    let mut form = PlanForm::of(&trial, planned, names);
    if let Some(palette) = planned.palette {
        // What the palette brings need not be named again.
        let palette = app.palette(palette).await?;
        let brought: Vec<String> = palette.colours().iter().map(|tube| names.of(tube.id)).collect();
        form.reference.retain(|name| !brought.contains(name));
        if palette.white().is_some_and(|white| names.of(white.id) == form.white) {
            form.white = String::new();
        }
    }
    Ok(form)
}
