//! The phone at the table: a picture, at once whether it can be used, and the next sheet.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Multipart, Path, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use picture::{CellRefusal, Flag};
use workshop::{
    OpenTrial, PictureId, PictureRead, Received, StoredPicture, TrialId, Workshop, picture_name,
};

use crate::error::PageError;
use crate::frame::{Frame, Room};
use crate::pages::pictures::{SheetChoice, received};
use crate::words::counted;

/// What is on the phone's screen.
#[derive(Template, WebTemplate)]
#[template(path = "phones/table.html")]
pub(crate) struct TablePage {
    frame: Frame,
    id: i64,
    trial: String,
    /// `1 of 4 sheets read`.
    progress: String,
    /// Address of the picture that was taken; empty before.
    shown: String,
    picture: Option<i64>,
    verdict: String,
    advice: Vec<String>,
    /// It can be used.
    usable: bool,
    ask_sheet: Vec<SheetChoice>,
}

/// The newest trial that has sheets.
pub(crate) async fn home(State(app): State<Workshop>) -> Result<Redirect, PageError> {
    for summary in app.trials().await?.iter().filter(|it| !it.put_away) {
        if !app.trial(summary.id).await?.sheets().is_empty() {
            return Ok(Redirect::to(&format!("/trials/{}/phone", summary.id.0)));
        }
    }
    Ok(Redirect::to("/trials"))
}

/// Sheets of a trial, and those of which readings were taken from a picture.
async fn sheets_read(app: &Workshop, trial: &OpenTrial) -> Result<Vec<usize>, PageError> {
    let counts = |picture: &StoredPicture| {
        let name = picture_name(&picture.content);
        trial.readings.iter().any(|stored| {
            let from = stored.reading.from_picture.as_ref();
            stored.reading.void.is_none() && from.is_some_and(|from| &*from.picture == name)
        })
    };
    let pictures = app.pictures(trial.id).await?;
    let mut read: Vec<usize> = pictures.iter().filter(|it| counts(it)).map(|it| it.sheet).collect();
    read.sort_unstable();
    read.dedup();
    Ok(read)
}

async fn blank(app: &Workshop, id: i64) -> Result<TablePage, PageError> {
    let frame = Frame::load(app, Room::Bench, Some(TrialId(id))).await?;
    let trial = app.trial(TrialId(id)).await?;
    let read = sheets_read(app, &trial).await?;
    let count = trial.sheets().len();
    let next = (1..=count).find(|number| !read.contains(number));
    Ok(TablePage {
        frame,
        id,
        trial: trial.name.clone(),
        progress: format!("{} of {} read", read.len(), counted(count, "sheet", "sheets")),
        shown: String::new(),
        picture: None,
        verdict: match (next, count) {
            (_, 0) => "This trial has no ruled sheets.".into(),
            (Some(next), _) => format!("Take a picture of sheet {next}."),
            (None, 1) => "The sheet is read.".into(),
            (None, count) => format!("All {count} sheets are read."),
        },
        advice: vec![
            "From straight above, in even light, with all four corner marks in it, and the anchor card \
             beside the sheet."
                .into(),
        ],
        usable: false,
        ask_sheet: Vec::new(),
    })
}

/// Ready for the next picture.
pub(crate) async fn page(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
) -> Result<TablePage, PageError> {
    blank(&app, id).await
}

/// Takes a picture in, and says at once whether it can be used.
pub(crate) async fn receive(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    form: Multipart,
) -> Result<Response, PageError> {
    match received(&app, id, form).await? {
        Received::Kept(TrialId(trial), PictureId(picture)) => {
            Ok(Redirect::to(&format!("/trials/{trial}/phone/{picture}")).into_response())
        }
        Received::NotUsable(why) => {
            let trial = app.trial(TrialId(id)).await?;
            let sentence = |reason: &String| study::words::with_capital(reason) + ".";
            let page = TablePage {
                verdict: "This picture cannot be used.".into(),
                advice: why.reasons.iter().map(sentence).collect(),
                shown: why.as_address(),
                ask_sheet: if why.sheet_unknown { SheetChoice::of(&trial) } else { Vec::new() },
                ..blank(&app, id).await?
            };
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
        }
    }
}

/// What a picture is good for.
pub(crate) async fn verdict(
    State(app): State<Workshop>,
    Path((id, picture)): Path<(i64, i64)>,
) -> Result<TablePage, PageError> {
    let read = app.picture(TrialId(id), PictureId(picture)).await?;
    let blank = blank(&app, id).await?;
    Ok(TablePage {
        shown: format!("/trials/{id}/pictures/{picture}/sheet.jpg"),
        picture: Some(picture),
        verdict: format!(
            "Sheet {}: sharp, even light, {} of {} read.",
            read.picture.sheet,
            read.squares.iter().filter(|it| it.read.lab.is_some()).count(),
            counted(read.squares.len(), "square", "squares")
        ),
        advice: advice(&read),
        usable: true,
        ..blank
    })
}

/// What is left out, and what would mend it.
fn advice(read: &PictureRead) -> Vec<String> {
    let mut lines = Vec::new();
    let with = |flag: Flag| -> Vec<String> {
        let found = read.squares.iter().filter(|it| it.read.flags.contains(&flag));
        found.map(|it| it.read.number.to_string()).collect()
    };
    for (flag, what, remedy) in [
        (Flag::Glare, "has glare", "take the picture again with the lamp to the side"),
        (
            Flag::Veiled,
            "looks too light",
            "take the picture again with no window or lamp mirrored in it",
        ),
        (Flag::TwoTone, "is of two tones", "look whether it is dry and well mixed"),
        (Flag::NotPainted, "looks unpainted", "paint it, or leave it out"),
        (Flag::Swapped, "looks exchanged", "look whether two were swapped"),
    ] {
        let numbers = with(flag);
        if let [only] = numbers.as_slice() {
            lines.push(format!("One square {what} ({only}): it is left out, or {remedy}."));
        } else if !numbers.is_empty() {
            let what =
                what.replace("has ", "have ").replace("is ", "are ").replace("looks ", "look ");
            let list = numbers.join(", ");
            lines.push(format!(
                "{} squares {what} ({list}): they are left out, or {remedy}.",
                numbers.len()
            ));
        }
    }
    let beyond = read.squares.iter().filter(|it| it.read.why == Some(CellRefusal::Clipped)).count();
    if beyond > 0 {
        let squares = counted(beyond, "square is", "squares are");
        lines.push(format!(
            "{squares} deeper or more vivid than a picture holds: their tints tell of them."
        ));
    }
    let calibrated = read.reading.calibration.as_ref().is_some_and(|told| told.is_calibrated);
    if !calibrated {
        lines.push(
            "No square of known colour is in it: it compares its squares, and tells no colour. Lay the anchor card \
             beside the sheet."
                .into(),
        );
    }
    lines
}

/// Takes the readings, and goes on to the next sheet.
pub(crate) async fn take(
    State(app): State<Workshop>,
    Path((id, picture)): Path<(i64, i64)>,
) -> Result<Redirect, PageError> {
    app.take_picture(TrialId(id), PictureId(picture), study::State::Dry).await?;
    Ok(Redirect::to(&format!("/trials/{id}/phone")))
}
