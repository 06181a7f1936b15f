//! Readings that a meter kept in a file, into the cells of a run.

use std::collections::HashMap;

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Multipart, Path, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use bench::diagnosis::cells;
use formats::readings::{MAX_BYTES, ReadingsFile};
use mixing::Geometry;
use plan::{CellNumber, Swatch};
use study::Reading;
use workshop::{StoreError, SwatchId, Trial, TrialId, Workshop, WorkshopError};

use super::conditions;
use crate::error::PageError;
use crate::frame::{Frame, Heading, Room};
use crate::pages::import::read;
use crate::pages::upload::receive;

#[derive(Template, WebTemplate)]
#[template(path = "readings/file.html")]
pub(crate) struct FilePage {
    frame: Frame,
    heading: Heading,
    id: i64,
    wrong: String,
}

pub(crate) async fn form(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
) -> Result<FilePage, PageError> {
    page(&app, id, String::new()).await
}

async fn page(app: &Workshop, id: i64, wrong: String) -> Result<FilePage, PageError> {
    let frame = Frame::load(app, Room::Readings, Some(TrialId(id))).await?;
    let trial = app.trial(TrialId(id)).await?;
    let heading = Heading::of(&trial, frame.summary(trial.id)?);
    Ok(FilePage { frame, heading, id, wrong })
}

/// Stores every reading of a file in its cell, or nothing and what is wrong at which line.
pub(crate) async fn take(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    form: Multipart,
) -> Result<Response, PageError> {
    let sent = receive(form, MAX_BYTES).await?;
    let trial = app.trial(TrialId(id)).await?;
    let stored = match read(sent.file).await {
        Ok(_) if sent.file_name.is_empty() => Err("choose a readings file".to_owned()),
        Ok(file) => match conditions::fit(&trial, &file) {
            Ok(geometry) => store_all(&app, &trial, &file, geometry).await?,
            Err(why) => Err(why),
        },
        Err(message) => Err(message),
    };
    match stored {
        Ok((stored, there)) => {
            let list = format!("/trials/{id}/readings?stored={stored}&there={there}");
            Ok(Redirect::to(&list).into_response())
        }
        Err(message) => {
            let page = page(&app, id, format!("{message}; nothing was stored")).await?;
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
    }
}

/// Stores them all, or none and what is wrong; tells how many are new, and how many were there.
async fn store_all(
    app: &Workshop,
    trial: &Trial,
    file: &ReadingsFile,
    geometry: Option<Geometry>,
) -> Result<Result<(usize, usize), String>, PageError> {
    let swatches: Vec<Swatch> = trial.swatches.iter().map(|it| it.swatch.clone()).collect();
    let found = {
        let run = trial.run();
        let holds = |number: CellNumber| {
            let laid = run.as_ref().and_then(|run| run.square(number)?.held.as_ref());
            laid.map(|held| &held.mixture)
        };
        cells(&file.study, &trial.labels(), &swatches, holds)
    };
    let numbers = match found {
        Ok(numbers) => numbers,
        Err(wrong) => {
            let line = wrong.line.map_or_else(String::new, |line| format!("line {line}: "));
            return Ok(Err(format!("{line}{}", wrong.message)));
        }
    };
    let ids: HashMap<CellNumber, SwatchId> =
        trial.swatches.iter().map(|planned| (planned.swatch.number, planned.id)).collect();
    let swatch =
        |number: CellNumber| ids.get(&number).copied().ok_or(StoreError::NotFound("swatch"));
    let rows: Result<Vec<(SwatchId, &Reading)>, StoreError> = numbers
        .iter()
        .zip(&file.study.readings)
        .map(|(number, reading)| Ok((swatch(*number)?, reading)))
        .collect();
    let rows = rows?;
    match app.take_file(trial.id, geometry, &rows).await {
        Ok(new) => Ok(Ok((new, rows.len() - new))),
        Err(WorkshopError::Store(StoreError::OtherGeometry { meter, trial })) => Ok(Err(format!(
            "the file's meter measures at {meter}, and this trial is read at {trial}: the two do not \
             compare"
        ))),
        Err(error @ WorkshopError::Store(StoreError::Refused(_))) => Ok(Err(error.to_string())),
        Err(error) => Err(error.into()),
    }
}
