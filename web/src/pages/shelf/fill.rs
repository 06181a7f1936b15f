//! Filling a shelf in one step: lines that are pasted and pigments that are ticked become rows, which are
//! corrected in place and stored together.

use std::collections::HashSet;

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::Form;
use formats::shelf::pasted;
use mixing::typical::TypicalPaint;
use serde::Deserialize;
use study::numbers::counted;
use study::shelf::{HueFamily, pigment};
use study::words::with_capital;
use study::{ColourIndexName, Medium, Tube};
use workshop::{ShelfTube, Workshop};

use super::form::TubeForm;
use crate::error::PageError;
use crate::frame::{Frame, Room};
use crate::pages::fields::FieldErrors;
use crate::posted::Posted;

/// Most tubes that are stored in one step.
const MOST: usize = 200;

/// What a workshop usually begins with: split primaries, an orange, a violet and a white.
const USUAL: [&str; 9] = ["PW6", "PY3", "PY83", "PO73", "PR254", "PR122", "PV23", "PB29", "PB15:3"];

/// The page on which tubes are listed.
#[derive(Template, WebTemplate)]
#[template(path = "shelf/fill.html")]
pub(crate) struct FillPage {
    frame: Frame,
    families: Vec<Family>,
    wrong: String,
    lines: String,
    maker: String,
}

/// Pigments of one hue family.
struct Family {
    name: String,
    pigments: Vec<Tick>,
}

struct Tick {
    code: &'static str,
    common: &'static str,
    ticked: bool,
}

/// What was listed.
#[derive(Debug, Deserialize)]
pub(crate) struct ListForm {
    #[serde(default)]
    lines: String,
    #[serde(default)]
    maker: String,
    #[serde(default)]
    code: Vec<String>,
}

/// The page on which rows are corrected.
#[derive(Template, WebTemplate)]
#[template(path = "shelf/rows.html")]
pub(crate) struct RowsPage {
    frame: Frame,
    rows: Vec<Row>,
    media: Vec<String>,
    medium: String,
    trouble: String,
    /// What was listed and is not among the rows.
    left_out: String,
}

/// One tube to be.
#[derive(Debug, Clone, Default)]
struct Row {
    name: String,
    maker: String,
    line: String,
    codes: String,
    /// What is wrong with it; empty where nothing is.
    wrong: String,
}

/// The rows as they were sent.
#[derive(Debug, Deserialize)]
pub(crate) struct RowsForm {
    #[serde(default)]
    name: Vec<String>,
    #[serde(default)]
    maker: Vec<String>,
    #[serde(default)]
    line: Vec<String>,
    #[serde(default)]
    codes: Vec<String>,
    #[serde(default)]
    medium: String,
}

pub(crate) async fn page(State(app): State<Workshop>) -> Result<FillPage, PageError> {
    let frame = Frame::load(&app, Room::Shelf, None).await?;
    Ok(FillPage {
        frame,
        families: families(),
        wrong: String::new(),
        lines: String::new(),
        maker: String::new(),
    })
}

/// Common pigments by family, the usual ones ticked.
fn families() -> Vec<Family> {
    let tick = |family: HueFamily| {
        TypicalPaint::ALL.iter().filter_map(move |paint| {
            let known = pigment(&paint.name.parse::<ColourIndexName>().ok()?)?;
            let ticked = USUAL.contains(&paint.name);
            (known.family == family).then_some(Tick {
                code: paint.name,
                common: paint.common,
                ticked,
            })
        })
    };
    let families = HueFamily::ALL
        .iter()
        .map(|family| Family { name: family.to_string(), pigments: tick(*family).collect() });
    families.filter(|family| !family.pigments.is_empty()).collect()
}

/// Shows what was listed as rows; stores nothing.
pub(crate) async fn rows(
    State(app): State<Workshop>,
    Form(form): Form<ListForm>,
) -> Result<Response, PageError> {
    let frame = Frame::load(&app, Room::Shelf, None).await?;
    let maker = form.maker.trim().to_owned();
    let listed = pasted(&form.lines).into_iter().map(|tube| Row {
        maker: if tube.maker.is_empty() { maker.clone() } else { tube.maker },
        name: tube.name,
        line: tube.line,
        codes: tube.codes,
        wrong: String::new(),
    });
    let ticked = form.code.iter().filter_map(|code| {
        let name = code.parse::<ColourIndexName>().ok()?;
        let paint = TypicalPaint::named(name.as_str())?;
        Some(Row {
            name: with_capital(paint.common),
            maker: maker.clone(),
            codes: name.to_string(),
            ..Row::default()
        })
    });
    let shelf = app.shelf().await?;
    let listed: Vec<Row> = listed.chain(ticked).collect();
    let count = listed.len();
    let rows = without_known(listed, &shelf);
    let known = count - rows.len();
    if rows.is_empty() || rows.len() > MOST {
        let wrong = match (count, rows.len()) {
            (0, _) => "list a tube, or tick a pigment".to_owned(),
            (_, 0) => "all of these stand on the shelf already".to_owned(),
            (_, more) => format!("these are {more} tubes: list at most {MOST} in one go"),
        };
        let page = FillPage { frame, families: families(), wrong, lines: form.lines, maker };
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    }
    let mut page = RowsPage::new(frame, rows, Medium::default().to_string());
    if known > 0 {
        let stand = counted(known, "tube stands", "tubes stand");
        page.left_out =
            format!("{stand} on the shelf already, or twice in the list: left out here.");
    }
    Ok(page.into_response())
}

/// Those that stand neither on the shelf nor earlier in the list, by maker, line and name whatever the
/// capitals; a row that names no line is known whatever the line.
fn without_known(listed: Vec<Row>, shelf: &[ShelfTube]) -> Vec<Row> {
    let label = |words: [&str; 3]| words.map(str::to_lowercase);
    let mut known: HashSet<[String; 3]> = HashSet::new();
    for ShelfTube { tube, .. } in shelf {
        known.insert(label([&tube.maker, &tube.name, &tube.line]));
        known.insert(label([&tube.maker, &tube.name, ""]));
    }
    listed
        .into_iter()
        .filter(|row| known.insert(label([&row.maker, &row.name, &row.line])))
        .collect()
}

impl RowsPage {
    fn new(frame: Frame, rows: Vec<Row>, medium: String) -> Self {
        let media = Medium::ALL.iter().map(ToString::to_string).collect();
        Self { frame, rows, media, medium, trouble: String::new(), left_out: String::new() }
    }
}

/// Stores every row, or shows what is wrong with which. A row without a name is left out.
pub(crate) async fn save(
    State(app): State<Workshop>,
    Posted { form, once }: Posted<RowsForm>,
) -> Result<Response, PageError> {
    let at =
        |list: &[String], at: usize| list.get(at).map_or(String::new(), |it| it.trim().to_owned());
    let mut rows = Vec::new();
    let mut tubes: Vec<Tube> = Vec::new();
    for place in 0..form.name.len().min(MOST) {
        let mut row = Row {
            name: at(&form.name, place),
            maker: at(&form.maker, place),
            line: at(&form.line, place),
            codes: at(&form.codes, place),
            wrong: String::new(),
        };
        if row.name.is_empty() {
            continue;
        }
        let typed = TubeForm {
            name: row.name.clone(),
            maker: row.maker.clone(),
            line: row.line.clone(),
            codes: row.codes.clone(),
            medium: form.medium.clone(),
            ..TubeForm::default()
        };
        match typed.tube() {
            Ok(tube) => tubes.push(tube),
            Err(errors) => row.wrong = told(&errors),
        }
        rows.push(row);
    }
    if !rows.is_empty() && rows.iter().all(|row| row.wrong.is_empty()) {
        app.once(once.as_deref()).stock(&tubes, &[]).await?;
        return Ok(Redirect::to("/shelf").into_response());
    }
    let frame = Frame::load(&app, Room::Shelf, None).await?;
    let mut page = RowsPage::new(frame, rows, form.medium);
    page.trouble = if page.rows.is_empty() {
        "every row lost its name, so nothing was stored".into()
    } else {
        "nothing was stored yet: one row or more is not right".into()
    };
    Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response())
}

fn told(errors: &FieldErrors) -> String {
    errors.all().map(|(_, message)| message.to_owned()).collect::<Vec<_>>().join("; ")
}
