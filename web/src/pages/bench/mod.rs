//! The bench: one swatch at a time, with what to mix and how to read it.

mod acts;
mod asked;
mod at_once;
pub(crate) mod devices;
mod form;
mod last;
mod mixing;
mod neighbours;
mod order;
mod readings;
mod view;

pub(crate) use acts::{
    bar, dry, grain, lay, lift, note, read, read_rest, skip, spoil, stop_waiting, tile, type_in,
    undo, weigh,
};
use asked::Asked;
use at_once::AtOnce;
use axum::extract::{Path, Query, State};
use axum::response::{IntoResponse, Redirect};
use bench::PaceEvidence;
use form::{LabForm, LayForm};
use order::WorkOrder;
pub(crate) use readings::{lab_line, paint};
use serde::Deserialize;
use store::{PlannedSwatch, StoreError, Trial, TrialId};
use study::State as Wetness;
use view::{BenchPage, Telling};

use crate::error::PageError;
use crate::frame::{Frame, Heading, Room};
use crate::pages::fields::FieldErrors;
use crate::state::AppState;
use crate::token;

/// In which state the paint is read, where the user says so.
#[derive(Debug, Default, Deserialize)]
pub(crate) struct Chosen {
    #[serde(default)]
    state: String,
    #[serde(default)]
    token: String,
    /// `yes` for a reading more than was planned.
    #[serde(default)]
    again: String,
}

impl Chosen {
    fn again(&self) -> bool {
        self.again == "yes"
    }

    fn state(&self) -> Option<Wetness> {
        self.state.parse().ok()
    }
}

/// The swatch that is due, else the one that is dry first, else the first of all.
pub(crate) async fn next(
    State(app): State<AppState>,
    Path(id): Path<i64>,
) -> Result<Redirect, PageError> {
    let trial = app.trial(TrialId(id)).await?;
    let order = WorkOrder::of(&trial);
    let number = order.next(token::now()).or(order.number(0)).unwrap_or(1);
    Ok(Redirect::to(&address(id, number, None)))
}

pub(crate) async fn swatch(
    State(app): State<AppState>,
    Path((id, number)): Path<(i64, u32)>,
    Query(chosen): Query<Chosen>,
) -> Result<BenchPage, PageError> {
    let typed = Typed { again: chosen.again(), ..Typed::default() };
    page(&app, (id, number), chosen.state(), typed).await
}

/// Tells a page that shows a trial whenever something was recorded in it.
pub(crate) async fn events(
    State(app): State<AppState>,
    Path(id): Path<i64>,
) -> Result<impl IntoResponse, PageError> {
    let trial = app.trial(TrialId(id)).await?;
    Ok(app.news.of(trial.id))
}

/// What was sent and could not be taken, to be shown again.
#[derive(Default)]
struct Typed {
    lab: LabForm,
    lay: LayForm,
    errors: FieldErrors,
    /// What went wrong, where it is no field's fault.
    trouble: String,
    /// A copy of the trial would help.
    copy_helps: bool,
    /// A reading more than was planned is wanted.
    again: bool,
}

impl Typed {
    fn trouble(error: &PageError) -> Self {
        Self { trouble: error.to_string(), copy_helps: error.copy_helps(), ..Self::default() }
    }
}

async fn page(
    app: &AppState,
    (id, number): (i64, u32),
    chosen: Option<Wetness>,
    typed: Typed,
) -> Result<BenchPage, PageError> {
    let frame = Frame::load(&app.store, Room::Bench, Some(TrialId(id))).await?;
    let trial = app.trial(TrialId(id)).await?;
    let heading = Heading::of(&trial, frame.summary(trial.id)?);
    let planned = find(&trial, number)?;
    let circumstances = &trial.circumstances;
    let knowledge = app
        .knowledge(
            &frame.trials,
            trial.tubes.iter().map(|tube| tube.tube.clone()).collect(),
            trial.white().map(|white| trial.tubes[white.0].tube.id),
            (circumstances.conditions, circumstances.protocol.surface(None)),
            at_once::judged_state(&trial, planned),
        )
        .await?;
    let pace = pace(app, &frame, &trial).await?;
    let order = WorkOrder::of(&trial);
    let now = token::now();
    let has_meter = app.about_meter().is_some();
    let (asked, state) = Asked::of(&trial, planned, &order, (chosen, has_meter), now);
    let typed = match app.stopped(trial.id) {
        Some(stopped) if typed.trouble.is_empty() => {
            Typed { trouble: stopped.why, copy_helps: stopped.copy_helps, ..typed }
        }
        _ => typed,
    };
    let telling = Telling {
        at_once: AtOnce::of(&trial, planned, &order, &knowledge),
        neighbours: neighbours::row(&trial, planned, &knowledge.prior),
        asked,
        state,
        chosen: chosen.is_some(),
        pace,
        now,
        waiting: app.waits_for(trial.id),
        meter: app.about_meter(),
        has_scale: app.has_scale(),
        plugs: devices::plugs(&app.simulated),
    };
    Ok(BenchPage::new(frame, heading, (&trial, planned), &order, telling, typed)?)
}

/// What this run and every other one tell of the user's pace.
async fn pace(app: &AppState, frame: &Frame, trial: &Trial) -> Result<PaceEvidence, PageError> {
    let own = trial.run().map(|run| run.pace()).unwrap_or_default();
    let others = app.telling(&frame.trials).await?;
    let others = others.iter().filter(|judged| judged.trial.id != trial.id);
    Ok(others.fold(own, |pace, judged| pace.and(judged.pace())))
}

fn find(trial: &Trial, number: u32) -> Result<&PlannedSwatch, StoreError> {
    let found = trial.swatches.iter().find(|planned| planned.swatch.number == number);
    found.ok_or(StoreError::NotFound("swatch"))
}

fn address(trial: i64, number: u32, state: Option<Wetness>) -> String {
    match state {
        None => format!("/trials/{trial}/bench/{number}"),
        Some(state) => format!("/trials/{trial}/bench/{number}?state={state}"),
    }
}
