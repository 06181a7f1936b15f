//! What is done at the bench: each handler records one thing, at once, and shows what comes next.

use axum::Json;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::Form;
use bench::{BarShows, BenchEvent, Grain, Look, Tile};
use instruments::DeviceError;
use plan::CellNumber;
use serde::{Deserialize, Serialize};
use study::State as Wetness;
use workshop::{StoreError, TrialId, Waiting, Workshop, WorkshopError};

use super::form::{ChoiceForm, LabForm, LayForm, LookForm, NoteForm};
use super::last::named;
use super::{Chosen, Typed, address, looks, page};
use crate::error::PageError;
use crate::pages::names::TubeNames;
use crate::token::{self, sent};

type At = Path<(i64, CellNumber)>;

/// Records that a swatch was laid, and how its paint was put together.
pub(crate) async fn lay(
    State(app): State<Workshop>,
    Path((id, number)): At,
    Form(form): Form<LayForm>,
) -> Result<Response, PageError> {
    let trial = app.trial(TrialId(id)).await?;
    trial.swatch(number)?;
    let plan = trial.plan.as_ref().ok_or(StoreError::NotFound("plan"))?;
    let shelf = if form.names_tubes() { app.shelf().await? } else { Vec::new() };
    let step = plan.design.supply.resolution;
    match form.request(step, &TubeNames::new(&shelf)) {
        Ok(request) => {
            app.lay(trial.id, number, &request, sent(&form.token)).await?;
            Ok(to_next(id))
        }
        Err(errors) => {
            let typed = Typed { lay: form, errors, ..Typed::default() };
            let page = page(&app, (id, number), None, typed).await?;
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
    }
}

/// Leaves a swatch out for now.
pub(crate) async fn skip(
    State(app): State<Workshop>,
    Path((id, number)): At,
    Form(form): Form<ChoiceForm>,
) -> Result<Response, PageError> {
    record(&app, id, BenchEvent::Skipped { swatch: number }, &form.token).await?;
    Ok(to_next(id))
}

/// Everything that is laid on the sheet of this swatch is dry.
pub(crate) async fn dry(
    State(app): State<Workshop>,
    Path((id, number)): At,
    Form(form): Form<ChoiceForm>,
) -> Result<Response, PageError> {
    app.dry_sheet(TrialId(id), number, sent(&form.token)).await?;
    Ok(to_next(id))
}

pub(crate) async fn lift(
    State(app): State<Workshop>,
    Path((id, number)): At,
    Form(form): Form<ChoiceForm>,
) -> Result<Response, PageError> {
    record(&app, id, BenchEvent::Lifted { swatch: number }, &form.token).await?;
    Ok(to_next(id))
}

/// How the black bar shows through.
pub(crate) async fn bar(
    State(app): State<Workshop>,
    Path((id, number)): At,
    Form(form): Form<ChoiceForm>,
) -> Result<Response, PageError> {
    let shows: BarShows = form.choice.parse().map_err(unknown)?;
    record(&app, id, BenchEvent::Bar { swatch: number, shows }, &form.token).await?;
    Ok(Redirect::to(&address(id, number, None)).into_response())
}

/// How speckled it dried.
pub(crate) async fn grain(
    State(app): State<Workshop>,
    Path((id, number)): At,
    Form(form): Form<ChoiceForm>,
) -> Result<Response, PageError> {
    let grain: Grain = form.choice.parse().map_err(unknown)?;
    record(&app, id, BenchEvent::Grain { swatch: number, grain }, &form.token).await?;
    Ok(Redirect::to(&address(id, number, None)).into_response())
}

/// A word for what the eye saw; the page that asked is shown again.
pub(crate) async fn look(
    State(app): State<Workshop>,
    Path((id, number)): At,
    Form(form): Form<LookForm>,
) -> Result<Response, PageError> {
    let unknown = || PageError::Form(format!("“{}” is none of the words offered", form.choice));
    let look = looks::read(&form.choice).ok_or_else(unknown)?;
    let seen = BenchEvent::Seen { swatch: number, look };
    let lifted = matches!(look, Look::Lift(_)) && form.lifted == "yes";
    let events =
        if lifted { vec![BenchEvent::Lifted { swatch: number }, seen] } else { vec![seen] };
    app.record_all(TrialId(id), &events, sent(&form.token)).await?;
    if lifted {
        return Ok(to_next(id));
    }
    let back = form.back.parse().unwrap_or(number);
    Ok(Redirect::to(&address(id, back, None)).into_response())
}

/// There is no check tile: it is not asked for any more.
pub(crate) async fn no_check_tile(
    State(app): State<Workshop>,
    Path((id, number)): At,
) -> Result<Response, PageError> {
    app.settle(super::NO_CHECK_TILE, "yes").await?;
    Ok(Redirect::to(&address(id, number, None)).into_response())
}

/// Something seen.
pub(crate) async fn note(
    State(app): State<Workshop>,
    Path((id, number)): At,
    Form(form): Form<NoteForm>,
) -> Result<Response, PageError> {
    if let Some((words, note)) = form.seen() {
        record(&app, id, BenchEvent::Noted { swatch: number, words, note }, &form.token).await?;
    }
    Ok(Redirect::to(&address(id, number, None)).into_response())
}

/// Takes the estimated ratio as the ratio of record.
pub(crate) async fn ratio(
    State(app): State<Workshop>,
    Path((id, number)): At,
    Form(form): Form<ChoiceForm>,
) -> Result<Response, PageError> {
    app.take_estimate(TrialId(id), number, sent(&form.token)).await?;
    Ok(Redirect::to(&address(id, number, None)).into_response())
}

/// Voids a swatch and all its readings, with the reason: it is painted again.
pub(crate) async fn spoil(
    State(app): State<Workshop>,
    Path((id, number)): At,
    Form(form): Form<ChoiceForm>,
) -> Result<Response, PageError> {
    app.spoil(TrialId(id), number, &form.reason(), sent(&form.token)).await?;
    Ok(Redirect::to(&address(id, number, None)).into_response())
}

/// Takes back what the page showed as recorded last; nothing where another table recorded since.
pub(crate) async fn undo(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Form(form): Form<ChoiceForm>,
) -> Result<Response, PageError> {
    let shown = named(&form.choice).ok_or_else(|| unknown("there is no such entry"))?;
    app.undo(TrialId(id), shown).await?;
    if form.back == "eye" {
        return Ok(Redirect::to(&format!("/trials/{id}/eye")).into_response());
    }
    Ok(to_next(id))
}

/// Takes one reading with the meter; where it does not answer, the reading waits for it.
pub(crate) async fn read(
    State(app): State<Workshop>,
    Path((id, number)): At,
    Form(chosen): Form<Chosen>,
) -> Result<Response, PageError> {
    let trial = app.trial(TrialId(id)).await?;
    let planned = trial.swatch(number)?;
    let state = chosen.state().unwrap_or_default();
    if app.meter_info().is_none() {
        return Err(PageError::NotNow(
            "no meter is connected, so nothing was read: type what yours shows, or take its file"
                .into(),
        ));
    }
    app.stop_waiting(trial.id);
    app.still_asked(&trial, planned, chosen.again())?;
    let taken = app.take_one(&trial, planned, state, sent(&chosen.token)).await;
    if let Err(WorkshopError::Device(DeviceError::Silent(_))) = taken {
        let token = if chosen.token.is_empty() { token::new() } else { chosen.token };
        let (trial, swatch) = (trial.id, planned.id);
        app.wait_for_meter(Waiting { trial, swatch, number, state, token });
    }
    after_device(&app, (id, number), taken, state).await
}

/// Reads a tile.
pub(crate) async fn tile(
    State(app): State<Workshop>,
    Path((id, number)): At,
    Form(form): Form<ChoiceForm>,
) -> Result<Response, PageError> {
    let trial = app.trial(TrialId(id)).await?;
    let tile: Tile = form.choice.parse().map_err(unknown)?;
    let taken = app.take_tile(&trial, tile, sent(&form.token)).await;
    after_device(&app, (id, number), taken, Wetness::Dry).await
}

/// On with the swatch; or the same page with what the device said.
async fn after_device(
    app: &Workshop,
    (id, number): (i64, CellNumber),
    taken: Result<(), WorkshopError>,
    state: Wetness,
) -> Result<Response, PageError> {
    match taken {
        Ok(()) => {
            // A wet or lifted reading that was asked for out of turn stays in its state.
            let trial = app.trial(TrialId(id)).await?;
            let planned = trial.swatch(number)?;
            let stay = state != Wetness::Dry && trial.missing(planned.id, state) > 0;
            Ok(Redirect::to(&address(id, number, stay.then_some(state))).into_response())
        }
        Err(
            error @ (WorkshopError::Device(_)
            | WorkshopError::Store(StoreError::OtherGeometry { .. })),
        ) => {
            let chosen = (state != Wetness::Dry).then_some(state);
            let page = page(app, (id, number), chosen, Typed::trouble(&error)).await?;
            Ok((PageError::from(error).status(), page).into_response())
        }
        Err(error) => Err(error.into()),
    }
}

/// The reading that waits for the meter is not wanted any more.
pub(crate) async fn stop_waiting(
    State(app): State<Workshop>,
    Path((id, number)): At,
) -> Result<Response, PageError> {
    app.stop_waiting(TrialId(id));
    Ok(Redirect::to(&address(id, number, None)).into_response())
}

/// Stores a CIELAB reading typed by hand, under the trial's conditions.
pub(crate) async fn type_in(
    State(app): State<Workshop>,
    Path((id, number)): At,
    Form(form): Form<LabForm>,
) -> Result<Response, PageError> {
    let trial = app.trial(TrialId(id)).await?;
    let planned = trial.swatch(number)?;
    let state = form.state();
    let chosen = (state != Wetness::Dry).then_some(state);
    app.still_asked(&trial, planned, form.again())?;
    match form.lab(trial.circumstances.conditions) {
        Ok(lab) => {
            app.type_in(&trial, planned, (state, lab), sent(&form.token)).await?;
            Ok(Redirect::to(&address(id, number, chosen)).into_response())
        }
        Err(errors) => {
            let typed = Typed { again: form.again(), lab: form, errors, ..Typed::default() };
            let page = page(&app, (id, number), chosen, typed).await?;
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
    }
}

/// What should lie on the scale.
#[derive(Debug, Deserialize)]
pub(crate) struct WeighForm {
    about: f64,
}

/// What lies on it, or what is wrong.
#[derive(Debug, Serialize)]
pub(crate) struct Weighed {
    grams: Option<f64>,
    simulated: bool,
    trouble: String,
}

/// Weighs what is put on the scale now.
pub(crate) async fn weigh(
    State(app): State<Workshop>,
    Form(form): Form<WeighForm>,
) -> Json<Weighed> {
    Json(match app.weigh(form.about).await {
        Ok((grams, simulated)) => Weighed { grams: Some(grams), simulated, trouble: String::new() },
        Err(error) => {
            let trouble = format!("{error}, or type the weight");
            Weighed { grams: None, simulated: false, trouble }
        }
    })
}

/// Lets the simulated bench paint and read every swatch that is left.
pub(crate) async fn read_rest(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
) -> Result<Redirect, PageError> {
    app.read_rest(TrialId(id)).await?;
    Ok(Redirect::to(&format!("/trials/{id}/results")))
}

async fn record(app: &Workshop, id: i64, event: BenchEvent, token: &str) -> Result<(), PageError> {
    Ok(app.record(TrialId(id), event, sent(token)).await?)
}

fn unknown(error: impl std::fmt::Display) -> PageError {
    PageError::Form(error.to_string())
}

fn to_next(id: i64) -> Response {
    Redirect::to(&format!("/trials/{id}/bench")).into_response()
}
