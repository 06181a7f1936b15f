//! The bench: one swatch at a time, with what to mix and how to read it.

mod acts;
pub(crate) mod devices;
mod form;
mod last;
mod looks;
mod mixing;
mod neighbours;
mod readings;
mod view;

pub(crate) use acts::{
    bar, dry, grain, lay, lift, look, no_check_tile, note, ratio, read, read_rest, skip, spoil,
    stop_waiting, tile, type_in, undo, weigh,
};
use axum::extract::{Path, Query, State};
use axum::response::{IntoResponse, Redirect};
use form::{LabForm, LayForm};
pub(crate) use last::last_entry;
use plan::CellNumber;
use plan::prior::PriorLevel;
pub(crate) use readings::{lab_line, paint};
use serde::Deserialize;
use study::{Mixture, State as Wetness};
use view::{BenchPage, Telling};
use workshop::{
    AtHand, Evidence, Prompt, ReadingCheck, TrialId, WorkOrder, Workshop, WorkshopError,
    state_to_judge,
};

use crate::error::PageError;
use crate::events::server_sent;
use crate::frame::{Frame, Heading, Room};
use crate::pages::fields::FieldErrors;

/// The setting of a user without a check tile.
const NO_CHECK_TILE: &str = "no check tile";

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
    State(app): State<Workshop>,
    Path(id): Path<i64>,
) -> Result<Redirect, PageError> {
    let trial = app.trial(TrialId(id)).await?;
    let order = WorkOrder::of(&trial);
    let number = order.next(workshop::now()).or(order.number(0)).unwrap_or(CellNumber::at(0));
    Ok(Redirect::to(&address(id, number, None)))
}

pub(crate) async fn swatch(
    State(app): State<Workshop>,
    Path((id, number)): Path<(i64, CellNumber)>,
    Query(chosen): Query<Chosen>,
) -> Result<BenchPage, PageError> {
    let typed = Typed { again: chosen.again(), ..Typed::default() };
    page(&app, (id, number), chosen.state(), typed).await
}

/// Tells a page that shows a trial whenever something was recorded in it.
pub(crate) async fn events(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
) -> Result<impl IntoResponse, PageError> {
    let trial = app.trial(TrialId(id)).await?;
    Ok(server_sent(app.news().of(trial.id)))
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
    fn trouble(error: &WorkshopError) -> Self {
        Self { trouble: error.to_string(), copy_helps: error.copy_helps(), ..Self::default() }
    }
}

async fn page(
    app: &Workshop,
    (id, number): (i64, CellNumber),
    chosen: Option<Wetness>,
    typed: Typed,
) -> Result<BenchPage, PageError> {
    let frame = Frame::load(app, Room::Bench, Some(TrialId(id))).await?;
    let trial = app.trial(TrialId(id)).await?;
    let heading = Heading::of(&trial, frame.summary(trial.id)?);
    let planned = trial.swatch(number)?;
    let state_to_judge = state_to_judge(&trial, planned);
    let evidence = app.evidence_for(&frame.trials, &trial, state_to_judge).await?;
    let pace = app.pace(&frame.trials, &trial).await?;
    let order = WorkOrder::of(&trial);
    let now = workshop::now();
    let has_meter = app.meter_info().is_some();
    let no_check = app.setting(NO_CHECK_TILE).await?.is_some();
    let at_hand = AtHand { meter: has_meter, check_tile: !no_check };
    let (prompt, state) = Prompt::of(&trial, planned, &order, (chosen, at_hand), now);
    let typed = match app.stopped(trial.id) {
        Some(stopped) if typed.trouble.is_empty() => {
            Typed { trouble: stopped.why, copy_helps: stopped.copy_helps, ..typed }
        }
        _ => typed,
    };
    let telling = Telling {
        look: looks::asked(&trial, &evidence.prior, (&prompt, number), now)?,
        lifts: looks::lifts(&trial)?,
        typical: is_typical(&evidence, &planned.swatch.mixture),
        check: ReadingCheck::of(&trial, planned, &order, &evidence),
        neighbours: neighbours::row(&trial, planned, &evidence.prior),
        prompt,
        state,
        chosen: chosen.is_some(),
        pace,
        now,
        waiting: app.waits_for(trial.id),
        meter: app.meter_info(),
        has_scale: app.has_scale(),
        plugs: devices::plugs(app.simulated()),
    };
    Ok(BenchPage::new(frame, heading, (&trial, planned), &order, telling, typed)?)
}

fn is_typical(evidence: &Evidence, mixture: &Mixture) -> bool {
    let tubes = mixture.parts().iter().map(|part| part.tube);
    evidence.prior.level(tubes) == Some(PriorLevel::Typical)
}

fn address(trial: i64, number: CellNumber, state: Option<Wetness>) -> String {
    match state {
        None => format!("/trials/{trial}/bench/{number}"),
        Some(state) => format!("/trials/{trial}/bench/{number}?state={state}"),
    }
}
