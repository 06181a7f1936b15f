//! A chart that was not printed here: its picture is sent, the chart is found in it by hand, and what stands in its
//! squares is said. From then on it is read as a sheet is.

mod form;
mod new;
mod view;

use axum::extract::{Path, State};
use axum::http::StatusCode;
use axum::http::header::{CACHE_CONTROL, CONTENT_TYPE};
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::Form;
use form::ChartForm;
pub(crate) use new::{draw, new, receive};
use view::ChartPage;
use workshop::{PictureId, StoreError, TrialId, Workshop, WorkshopError};

use crate::error::PageError;
use crate::frame::{Frame, Heading, Room};
use crate::pages::fields::FieldErrors;
use crate::pages::names::TubeNames;
use crate::posted::Posted;

type Pairs = Vec<(String, String)>;

/// Where the chart lies in a picture, and what stands in its squares.
pub(crate) async fn page(
    State(app): State<Workshop>,
    Path((id, picture)): Path<(i64, i64)>,
) -> Result<ChartPage, PageError> {
    let of = (TrialId(id), PictureId(picture));
    let known = known(&app, of).await?;
    show(&app, of, known, None).await
}

/// Keeps what was said so far, and reads the picture where that is asked for.
pub(crate) async fn keep(
    State(app): State<Workshop>,
    Path((id, picture)): Path<(i64, i64)>,
    Form(pairs): Form<Pairs>,
) -> Result<Response, PageError> {
    let of = (TrialId(id), PictureId(picture));
    let stored = known(&app, of).await?;
    let form = ChartForm::read(&pairs, &stored);
    let wanted = |act: &str| pairs.iter().any(|(key, text)| key == "act" && text == act);
    let read = Some(form.read_at.as_str()).filter(|it| !it.is_empty());
    let kept = app.keep_chart(of, (form.corners, form.source), &form.chart, read).await;
    if let Err(WorkshopError::Store(StoreError::Changed(_))) = kept {
        return changed(&app, of, form).await;
    }
    if let Err(WorkshopError::NotNow(why)) = kept {
        return wrong(&app, of, form, ("corners", why)).await;
    }
    kept?;
    if !wanted("read") {
        return Ok(Redirect::to(&format!("/trials/{id}/chart/{picture}")).into_response());
    }
    let shelf = app.shelf().await?;
    let meant = match form.understood(&TubeNames::new(&shelf)) {
        Ok(meant) => meant,
        Err(_) => return wrong(&app, of, form, ("", String::new())).await,
    };
    match app.lay_out_chart(of.0, &form.chart, meant).await {
        Err(WorkshopError::Store(StoreError::Changed(_))) => return changed(&app, of, form).await,
        Err(WorkshopError::Store(StoreError::Frozen)) => {
            let why =
                "readings were taken from this chart, so what stands in its squares stays".into();
            return wrong(&app, of, form, ("", why)).await;
        }
        done => done?,
    }
    match app.picture(of.0, of.1).await {
        Ok(_) => Ok(Redirect::to(&format!("/trials/{id}/pictures/{picture}")).into_response()),
        Err(WorkshopError::NotNow(why)) => wrong(&app, of, form, ("picture", why)).await,
        Err(error) => Err(error.into()),
    }
}

/// The picture as it came.
pub(crate) async fn picture(
    State(app): State<Workshop>,
    Path((id, picture)): Path<(i64, i64)>,
) -> Result<Response, PageError> {
    let (_, shown) = app.shown_picture(TrialId(id), PictureId(picture)).await?;
    let headers = [(CONTENT_TYPE, "image/jpeg"), (CACHE_CONTROL, "private, max-age=3600")];
    Ok((headers, shown.jpeg.clone()).into_response())
}

/// The same picture as a trial of its own, to be named otherwise.
pub(crate) async fn copy(
    State(app): State<Workshop>,
    Path((id, picture)): Path<(i64, i64)>,
    Posted { form: _, once }: Posted<Pairs>,
) -> Result<Redirect, PageError> {
    let (trial, picture) = app.copy_chart(TrialId(id), PictureId(picture), once.as_deref()).await?;
    Ok(Redirect::to(&format!("/trials/{}/chart/{}", trial.0, picture.0)))
}

async fn known(app: &Workshop, of: (TrialId, PictureId)) -> Result<ChartForm, PageError> {
    let trial = app.trial(of.0).await?;
    let picture = app.stored_picture(of.0, of.1).await?;
    let chart = trial.chart.clone().ok_or(StoreError::NotFound("chart"))?;
    let (_, shown) = app.shown_picture(of.0, of.1).await?;
    Ok(ChartForm {
        corners: picture.corners,
        guessed: shown.guessed_corners(),
        source: picture.source,
        read_at: chart.version(picture.corners, picture.source),
        chart,
        wrong: FieldErrors::default(),
    })
}

/// Another page changed the chart: both are shown, and what was typed here is stored when it is sent once more.
async fn changed(
    app: &Workshop,
    of: (TrialId, PictureId),
    form: ChartForm,
) -> Result<Response, PageError> {
    let stored = known(app, of).await?;
    let otherwise = form.stored_otherwise(&stored).join("; ");
    let why = format!(
        "another page changed this chart meanwhile, so nothing of this one was stored. It stored {otherwise}. Save or \
         read once more to keep what stands here, or open the page anew for the other"
    );
    let form = ChartForm { read_at: stored.read_at, ..form };
    let page = show(app, of, form, Some(("changed", why))).await?;
    Ok((StatusCode::CONFLICT, page).into_response())
}

async fn wrong(
    app: &Workshop,
    of: (TrialId, PictureId),
    form: ChartForm,
    why: (&'static str, String),
) -> Result<Response, PageError> {
    let read_at = known(app, of).await?.read_at;
    let page = show(app, of, ChartForm { read_at, ..form }, Some(why)).await?;
    Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
}

/// `told` is what was wrong when it was sent, with its field.
async fn show(
    app: &Workshop,
    of: (TrialId, PictureId),
    form: ChartForm,
    told: Option<(&'static str, String)>,
) -> Result<ChartPage, PageError> {
    let frame = Frame::load(app, Room::Readings, Some(of.0)).await?;
    let trial = app.trial(of.0).await?;
    let heading = Heading::of(&trial, frame.summary(of.0)?);
    let (_, shown) = app.shown_picture(of.0, of.1).await?;
    let shelf = app.shelf().await?;
    let names = TubeNames::new(&shelf);
    Ok(ChartPage::new((frame, heading), (&trial, of.1), (form, told), &shown, &names))
}
