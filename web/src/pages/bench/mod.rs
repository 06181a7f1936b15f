//! The bench: one swatch at a time, with what to mix and how to read it.

mod at_once;
mod form;
mod run;
mod view;

pub(crate) use view::{lab_line, paint};

use axum::extract::{Path, Query, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::Form;
use serde::Deserialize;
use store::{PlannedSwatch, StoreError, Trial, TrialId};
use trial::{Measured, State as Wetness};

use crate::error::PageError;
use crate::frame::{Frame, Heading, Room};
use crate::state::AppState;

use at_once::AtOnce;
use form::LabForm;
use run::Run;
use view::BenchPage;

/// In which state the paint is read.
#[derive(Debug, Default, Deserialize)]
pub(crate) struct Chosen {
    #[serde(default)]
    state: String,
}

impl Chosen {
    fn state(&self) -> Wetness {
        self.state.parse().unwrap_or_default()
    }
}

/// The first swatch in the order of work that has too few dry readings, else the first of all.
pub(crate) async fn next(
    State(app): State<AppState>,
    Path(id): Path<i64>,
) -> Result<Redirect, PageError> {
    let trial = app.store.trial(TrialId(id)).await?;
    let run = Run::of(&trial);
    let open = run.first_open().map(|it| it.swatch.number);
    let number = open.or(run.number(0)).unwrap_or(1);
    Ok(Redirect::to(&format!("/trials/{id}/bench/{number}")))
}

pub(crate) async fn swatch(
    State(app): State<AppState>,
    Path((id, number)): Path<(i64, u32)>,
    Query(chosen): Query<Chosen>,
) -> Result<BenchPage, PageError> {
    page(&app, id, number, chosen.state(), LabForm::default()).await
}

/// Takes one reading with the meter.
pub(crate) async fn read(
    State(app): State<AppState>,
    Path((id, number)): Path<(i64, u32)>,
    Form(chosen): Form<Chosen>,
) -> Result<Redirect, PageError> {
    let trial = app.store.trial(TrialId(id)).await?;
    app.take(&trial, find(&trial, number)?, chosen.state(), 1).await?;
    Ok(Redirect::to(&address(id, number, chosen.state())))
}

/// Lets the simulated bench paint and read every swatch that is left.
pub(crate) async fn read_rest(
    State(app): State<AppState>,
    Path(id): Path<i64>,
) -> Result<Redirect, PageError> {
    let trial = app.store.trial(TrialId(id)).await?;
    for planned in &trial.swatches {
        let missing = trial.dry_readings_missing(planned.id);
        app.take(&trial, planned, Wetness::Dry, missing).await?;
    }
    Ok(Redirect::to(&format!("/trials/{id}/results")))
}

/// Stores a CIELAB reading typed by hand, under the trial's conditions.
pub(crate) async fn type_in(
    State(app): State<AppState>,
    Path((id, number)): Path<(i64, u32)>,
    Form(form): Form<LabForm>,
) -> Result<Response, PageError> {
    let trial = app.store.trial(TrialId(id)).await?;
    let planned = find(&trial, number)?;
    let state = form.state();
    match form.lab(trial.circumstances.conditions) {
        Ok(lab) => {
            let measured = Measured::Lab(lab);
            app.store.record(trial.id, planned.id, state, &measured, "by hand").await?;
            Ok(Redirect::to(&address(id, number, state)).into_response())
        }
        Err(errors) => {
            let page = page(&app, id, number, state, form).await?.with(errors);
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
    }
}

async fn page(
    app: &AppState,
    id: i64,
    number: u32,
    state: Wetness,
    form: LabForm,
) -> Result<BenchPage, PageError> {
    let frame = Frame::load(&app.store, Room::Bench, Some(TrialId(id))).await?;
    let trial = app.store.trial(TrialId(id)).await?;
    let heading = Heading::of(&trial, frame.summary(trial.id)?);
    let (meter, ..) = app.about_meter();
    let planned = find(&trial, number)?;
    let circumstances = &trial.circumstances;
    let knowledge = app
        .knowledge(
            &frame.trials,
            trial.tubes.iter().map(|tube| tube.tube.clone()).collect(),
            trial.white().map(|white| trial.tubes[white.0].tube.id),
            (circumstances.conditions, circumstances.protocol.surface(None)),
        )
        .await?;
    let run = Run::of(&trial);
    let at_once = AtOnce::of(&trial, planned, &run, &knowledge);
    Ok(BenchPage::new(frame, heading, &trial, (planned, state), (&run, at_once), &meter, form)?)
}

fn find(trial: &Trial, number: u32) -> Result<&PlannedSwatch, StoreError> {
    let found = trial.swatches.iter().find(|planned| planned.swatch.number == number);
    found.ok_or(StoreError::NotFound("swatch"))
}

fn address(trial: i64, number: u32, state: Wetness) -> String {
    match state {
        Wetness::Dry => format!("/trials/{trial}/bench/{number}"),
        other => format!("/trials/{trial}/bench/{number}?state={other}"),
    }
}
