//! What is done at the bench: each handler records one thing, at once, and shows what comes next.

use std::collections::HashMap;

use axum::Json;
use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::Form;
use bench::{BarShows, BenchEvent, Entry, Grain, Made, Tile, is_laid};
use instruments::DeviceError;
use serde::{Deserialize, Serialize};
use store::{How, PlannedSwatch, StoreError, Trial, TrialId, TubeId};
use study::{Basis, Measured, State as Wetness, TubeRef};

use super::asked::drying_on_sheet;
use super::form::{ChoiceForm, LabForm, LayForm, NoteForm};
use super::last::named;
use super::mixing::{left_ml, to_make};
use super::order::WorkOrder;
use super::{Chosen, Typed, address, find, page};
use crate::error::PageError;
use crate::pages::fields::FieldErrors;
use crate::pages::names::TubeNames;
use crate::pages::plan::sheet_of;
use crate::state::AppState;
use crate::token::{self, sent};
use crate::waiting::Waiting;

type At = Path<(i64, u32)>;

/// Records that a swatch was laid, and how its paint was put together.
pub(crate) async fn lay(
    State(app): State<AppState>,
    Path((id, number)): At,
    Form(form): Form<LayForm>,
) -> Result<Response, PageError> {
    let named = match checked(&app, (id, number), &form).await? {
        Ok(named) => named,
        Err(errors) => {
            let typed = Typed { lay: form, errors, ..Typed::default() };
            let page = page(&app, (id, number), None, typed).await?;
            return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
        }
    };
    let mut others = HashMap::new();
    for (line, tube) in named {
        let place = app.store.join_tube(TrialId(id), tube).await?;
        others.insert(line, TubeRef(place));
    }
    // Another table may have made the same pile meanwhile: then it is not made twice.
    for _ in 0..TRIES {
        let trial = app.trial(TrialId(id)).await?;
        let deeds = laying(&trial, number, &form, &others)?;
        let as_seen = |log: &[Entry]| log.len() == trial.log.len();
        let stored = app.store.record_deeds(trial.id, &deeds, sent(&form.token), as_seen).await?;
        if stored {
            app.news.tell(trial.id);
            return Ok(to_next(id));
        }
    }
    Err(unknown("other tables recorded at the same moment, so this was not: send it again"))
}

/// How often the run is looked at anew where other tables record at the very same moment.
const TRIES: usize = 5;

/// The tubes that were named in another's place, by line; or what is wrong at which field.
async fn checked<'a>(
    app: &AppState,
    (id, number): (i64, u32),
    form: &'a LayForm,
) -> Result<Result<HashMap<&'a str, TubeId>, FieldErrors>, PageError> {
    let trial = app.trial(TrialId(id)).await?;
    find(&trial, number)?;
    let run = trial.run().ok_or(StoreError::NotFound("plan"))?;
    let redo = run.redo(number, &left_ml(&trial));
    let mut errors = FieldErrors::default();
    for made in to_make(&run, number, redo.as_ref()) {
        form.parts(&made.lines, &HashMap::new(), step_of(&trial, form), &mut errors);
    }
    let mut named = HashMap::new();
    let typed = form.other_tubes();
    if !typed.is_empty() {
        let shelf = app.store.shelf().await?;
        let names = TubeNames::new(&shelf);
        for (line, name) in typed {
            match names.find(name) {
                Ok(tube) => {
                    named.insert(line, tube.id);
                }
                Err(message) => errors.add(&format!("tube-{line}"), message),
            }
        }
    }
    Ok(if errors.is_empty() { Ok(named) } else { Err(errors) })
}

/// What laying a swatch records now: its piles, as far as nobody made them, and the swatch.
fn laying(
    trial: &Trial,
    number: u32,
    form: &LayForm,
    others: &HashMap<&str, TubeRef>,
) -> Result<Vec<BenchEvent>, StoreError> {
    let (run, plan) = trial.run().zip(trial.plan.as_ref()).ok_or(StoreError::NotFound("plan"))?;
    if is_laid(&trial.log, number) {
        return Ok(Vec::new());
    }
    let how = form.how(plan.design.supply.measure);
    let redo = run.redo(number, &left_ml(trial));
    let made = to_make(&run, number, redo.as_ref()).into_iter().map(|made| {
        // What is wrong with a field was said before.
        let mut parts =
            form.parts(&made.lines, others, step_of(trial, form), &mut FieldErrors::default());
        if parts.is_empty() && made.again {
            parts = made.lines.iter().map(|line| (line.source, line.amount)).collect();
        }
        BenchEvent::Made(Made { step: made.step, how, parts, simulated: form.simulated() })
    });
    Ok(made.chain([BenchEvent::Laid { swatch: number }]).collect())
}

/// What can be read off at least: nothing is read off by eye.
fn step_of(trial: &Trial, form: &LayForm) -> f64 {
    let Some(plan) = &trial.plan else { return 0.0 };
    let supply = &plan.design.supply;
    if form.how(supply.measure) == Basis::Eye { 0.0 } else { supply.resolution }
}

/// Leaves a swatch out for now.
pub(crate) async fn skip(
    State(app): State<AppState>,
    Path((id, number)): At,
    Form(form): Form<ChoiceForm>,
) -> Result<Response, PageError> {
    record(&app, id, BenchEvent::Skipped { swatch: number }, &form.token).await?;
    Ok(to_next(id))
}

/// Everything that is laid on the sheet of this swatch is dry.
pub(crate) async fn dry(
    State(app): State<AppState>,
    Path((id, number)): At,
    Form(form): Form<ChoiceForm>,
) -> Result<Response, PageError> {
    let trial = app.trial(TrialId(id)).await?;
    let sheets = sheet_of(&trial);
    let sheet = sheets.get(&number);
    let mut on_sheet: Vec<u32> =
        sheets.iter().filter(|(_, on)| Some(*on) == sheet).map(|(number, _)| *number).collect();
    on_sheet.sort_unstable();
    let swatches = trial
        .run()
        .map(|run| drying_on_sheet(&run, &on_sheet, token::now()))
        .filter(|swatches| !swatches.is_empty());
    if let Some(swatches) = swatches {
        record(&app, id, BenchEvent::Dry { swatches }, &form.token).await?;
    }
    Ok(to_next(id))
}

pub(crate) async fn lift(
    State(app): State<AppState>,
    Path((id, number)): At,
    Form(form): Form<ChoiceForm>,
) -> Result<Response, PageError> {
    record(&app, id, BenchEvent::Lifted { swatch: number }, &form.token).await?;
    Ok(to_next(id))
}

/// How the black bar shows through.
pub(crate) async fn bar(
    State(app): State<AppState>,
    Path((id, number)): At,
    Form(form): Form<ChoiceForm>,
) -> Result<Response, PageError> {
    let shows: BarShows = form.choice.parse().map_err(unknown)?;
    record(&app, id, BenchEvent::Bar { swatch: number, shows }, &form.token).await?;
    Ok(Redirect::to(&address(id, number, None)).into_response())
}

/// How speckled it dried.
pub(crate) async fn grain(
    State(app): State<AppState>,
    Path((id, number)): At,
    Form(form): Form<ChoiceForm>,
) -> Result<Response, PageError> {
    let grain: Grain = form.choice.parse().map_err(unknown)?;
    record(&app, id, BenchEvent::Grain { swatch: number, grain }, &form.token).await?;
    Ok(Redirect::to(&address(id, number, None)).into_response())
}

/// Something seen.
pub(crate) async fn note(
    State(app): State<AppState>,
    Path((id, number)): At,
    Form(form): Form<NoteForm>,
) -> Result<Response, PageError> {
    if let Some((words, note)) = form.seen() {
        record(&app, id, BenchEvent::Noted { swatch: number, words, note }, &form.token).await?;
    }
    Ok(Redirect::to(&address(id, number, None)).into_response())
}

/// Voids a swatch and all its readings, with the reason: it is painted again.
pub(crate) async fn spoil(
    State(app): State<AppState>,
    Path((id, number)): At,
    Form(form): Form<ChoiceForm>,
) -> Result<Response, PageError> {
    let trial = app.trial(TrialId(id)).await?;
    let planned = find(&trial, number)?;
    let swatch = (planned.id, number);
    app.store.spoil(trial.id, swatch, &form.reason(), sent(&form.token)).await?;
    app.stop_waiting(trial.id);
    Ok(Redirect::to(&address(id, number, None)).into_response())
}

/// Takes back what the page showed as recorded last; nothing where another table recorded since.
pub(crate) async fn undo(
    State(app): State<AppState>,
    Path(id): Path<i64>,
    Form(form): Form<ChoiceForm>,
) -> Result<Response, PageError> {
    let shown = named(&form.choice).ok_or_else(|| unknown("there is no such entry"))?;
    if app.store.undo(TrialId(id), shown).await? {
        app.news.tell(TrialId(id));
    }
    Ok(to_next(id))
}

/// Takes one reading with the meter; where it does not answer, the reading waits for it.
pub(crate) async fn read(
    State(app): State<AppState>,
    Path((id, number)): At,
    Form(chosen): Form<Chosen>,
) -> Result<Response, PageError> {
    let trial = app.trial(TrialId(id)).await?;
    let planned = find(&trial, number)?;
    let state = chosen.state().unwrap_or_default();
    if app.about_meter().is_none() {
        return Err(PageError::NotNow(
            "no meter is connected, so nothing was read: type what yours shows, or take its file"
                .into(),
        ));
    }
    app.stop_waiting(trial.id);
    still_asked(&trial, planned, chosen.again())?;
    let taken = app.take_one(&trial, planned, state, sent(&chosen.token)).await;
    if let Err(PageError::Device(DeviceError::Silent(_))) = taken {
        let token = if chosen.token.is_empty() { token::new() } else { chosen.token };
        let (trial, swatch) = (trial.id, planned.id);
        app.wait_for_meter(Waiting { trial, swatch, number, state, token });
    }
    after_device(&app, (id, number), taken, state).await
}

/// Reads a tile.
pub(crate) async fn tile(
    State(app): State<AppState>,
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
    app: &AppState,
    (id, number): (i64, u32),
    taken: Result<(), PageError>,
    state: Wetness,
) -> Result<Response, PageError> {
    match taken {
        Ok(()) => {
            // A wet or lifted reading that was asked for out of turn stays in its state.
            let trial = app.trial(TrialId(id)).await?;
            let planned = find(&trial, number)?;
            let stay = state != Wetness::Dry && trial.missing(planned.id, state) > 0;
            Ok(Redirect::to(&address(id, number, stay.then_some(state))).into_response())
        }
        Err(
            error @ (PageError::Device(_) | PageError::Store(StoreError::OtherGeometry { .. })),
        ) => {
            let chosen = (state != Wetness::Dry).then_some(state);
            let status = error.status();
            let page = page(app, (id, number), chosen, Typed::trouble(&error)).await?;
            Ok((status, page).into_response())
        }
        Err(error) => Err(error),
    }
}

/// The reading that waits for the meter is not wanted any more.
pub(crate) async fn stop_waiting(
    State(app): State<AppState>,
    Path((id, number)): At,
) -> Result<Response, PageError> {
    app.stop_waiting(TrialId(id));
    Ok(Redirect::to(&address(id, number, None)).into_response())
}

/// Stores a CIELAB reading typed by hand, under the trial's conditions.
pub(crate) async fn type_in(
    State(app): State<AppState>,
    Path((id, number)): At,
    Form(form): Form<LabForm>,
) -> Result<Response, PageError> {
    let trial = app.trial(TrialId(id)).await?;
    let planned = find(&trial, number)?;
    let state = form.state();
    let chosen = (state != Wetness::Dry).then_some(state);
    still_asked(&trial, planned, form.again())?;
    match form.lab(trial.circumstances.conditions) {
        Ok(lab) => {
            let measured = Measured::Lab(lab);
            let by_hand = (How::Typed, sent(&form.token));
            app.store.record(trial.id, planned.id, state, &measured, by_hand).await?;
            // What was typed takes the place of what waited.
            app.stop_waiting(trial.id);
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
    State(app): State<AppState>,
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

/// Lets the simulated bench paint and read every swatch that is left. A real meter reads what lies
/// under it, and never this.
pub(crate) async fn read_rest(
    State(app): State<AppState>,
    Path(id): Path<i64>,
) -> Result<Redirect, PageError> {
    let simulated = app.about_meter().is_some_and(|meter| meter.simulated);
    if !simulated {
        return Err(PageError::NotNow(
            "a meter reads only the square that it lies on, so nothing was recorded; take one reading at a \
             time"
                .into(),
        ));
    }
    let Ok(_one_at_a_time) = app.reading_all.try_lock() else {
        return Err(PageError::NotNow(
            "everything that is left is being read already; wait until that is done".into(),
        ));
    };
    let order: Vec<u32> = {
        let trial = app.trial(TrialId(id)).await?;
        WorkOrder::of(&trial).swatches().iter().map(|planned| planned.swatch.number).collect()
    };
    for number in order {
        read_all(&app, TrialId(id), number).await?;
    }
    Ok(Redirect::to(&format!("/trials/{id}/results")))
}

async fn read_all(app: &AppState, id: TrialId, number: u32) -> Result<(), PageError> {
    let trial = app.trial(id).await?;
    let missing =
        |trial: &Trial| Ok::<_, StoreError>(trial.dry_readings_missing(find(trial, number)?.id));
    if missing(&trial)? == 0 {
        return Ok(());
    }
    app.lay_as_planned(&trial, number).await?;
    let trial = app.trial(id).await?;
    match app.take(&trial, find(&trial, number)?, Wetness::Dry, missing(&trial)?).await {
        // A head that was moved is laid down again.
        Err(PageError::Device(DeviceError::Failed { .. })) => {
            let trial = app.trial(id).await?;
            app.take(&trial, find(&trial, number)?, Wetness::Dry, missing(&trial)?).await
        }
        taken => taken,
    }
}

/// A trial in which nothing is left to do takes more readings only where they are asked for as such.
fn still_asked(trial: &Trial, planned: &PlannedSwatch, again: bool) -> Result<(), PageError> {
    if again || trial.missing(planned.id, Wetness::Dry) > 0 {
        return Ok(());
    }
    if WorkOrder::of(trial).next(token::now()).is_some() {
        return Ok(());
    }
    Err(PageError::NotNow(
        "this trial is finished, so nothing was recorded; press “Read again” at its square to take \
         another reading"
            .into(),
    ))
}

async fn record(app: &AppState, id: i64, deed: BenchEvent, token: &str) -> Result<(), PageError> {
    let trial = app.trial(TrialId(id)).await?;
    if let Some(number) = deed.swatch() {
        find(&trial, number)?;
    }
    app.store.record_deeds(trial.id, &[deed], sent(token), |_| true).await?;
    app.news.tell(trial.id);
    Ok(())
}

fn unknown(error: impl std::fmt::Display) -> PageError {
    PageError::Form(error.to_string())
}

fn to_next(id: i64) -> Response {
    Redirect::to(&format!("/trials/{id}/bench")).into_response()
}
