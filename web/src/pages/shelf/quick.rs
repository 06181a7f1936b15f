//! A tube that is added from inside another form: what was typed there stays.

use axum::Json;
use axum::extract::State;
use serde::Serialize;
use workshop::Workshop;

use super::form::TubeForm;
use crate::error::PageError;
use crate::pages::names::TubeNames;
use crate::posted::Posted;

/// How the new tube is offered, or what is wrong.
#[derive(Debug, Default, Serialize)]
pub(crate) struct Added {
    name: String,
    wrong: String,
}

pub(crate) async fn add(
    State(app): State<Workshop>,
    Posted { form, once }: Posted<TubeForm>,
) -> Result<Json<Added>, PageError> {
    // What the short form does not ask for is as usual.
    let usual = TubeForm::default();
    let form = TubeForm { grade: usual.grade, medium: usual.medium, ..form };
    let added = match form.tube() {
        Ok(tube) => {
            let id = app.once(once.as_deref()).add_tube(&tube).await?;
            let shelf = app.shelf().await?;
            Added { name: TubeNames::new(&shelf).of(id), wrong: String::new() }
        }
        Err(errors) => {
            let wrong: Vec<&str> = errors.all().map(|(_, message)| message).collect();
            Added { wrong: wrong.join("; "), ..Added::default() }
        }
    };
    Ok(Json(added))
}
