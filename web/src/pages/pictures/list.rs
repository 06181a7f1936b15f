//! The pictures of a trial, and a place to drop the next one.

use askama::Template;
use askama_web::WebTemplate;
use axum::extract::{Path, State};
use picture::CardOff;
use workshop::{CardByDevice, OpenTrial, StoredPicture, TrialId, Workshop, picture_name};

use crate::error::PageError;
use crate::frame::{Frame, Heading, Room};
use crate::pages::readings::at_utc;
use crate::words::{counted, number};

/// The list.
#[derive(Template, WebTemplate)]
#[template(path = "pictures/list.html")]
pub(crate) struct ListPage {
    frame: Frame,
    heading: Heading,
    id: i64,
    /// The trial has sheets that can be read.
    planned: bool,
    /// It is a chart that was ruled by hand.
    is_chart: bool,
    /// `Sheets 1 and 3 of 4 are read.`
    told: String,
    rows: Vec<Row>,
    /// What pictures say of this card, where it is one.
    devices: Vec<DeviceRow>,
    /// The card should be read again.
    is_due: bool,
    sheets: Vec<SheetChoice>,
    /// The code tells which sheet is in a picture.
    ask_sheet: [SheetChoice; 0],
    /// A simulated phone and scanner take pictures.
    simulated: bool,
}

/// A device that took pictures of a card.
struct DeviceRow {
    device: String,
    pictures: usize,
    from_to: String,
    first: String,
    last: String,
    told: &'static str,
}

struct Row {
    id: i64,
    sheet: usize,
    kind: String,
    added: String,
    size: String,
    readings: String,
    is_deleted: bool,
}

/// A sheet to choose where its code cannot be read.
pub(crate) struct SheetChoice {
    pub number: usize,
    pub label: String,
}

impl SheetChoice {
    pub fn of(trial: &OpenTrial) -> Vec<Self> {
        let choice = |sheet: &sheet::Sheet| {
            let numbers = sheet.cells.iter().map(|cell| cell.number);
            let (first, last) = (numbers.clone().min(), numbers.max());
            let squares =
                first.zip(last).map(|(first, last)| format!(", squares {first} to {last}"));
            let label = format!("sheet {}{}", sheet.number, squares.unwrap_or_default());
            Self { number: sheet.number, label }
        };
        trial.sheets().iter().map(choice).collect()
    }
}

pub(crate) async fn list(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
) -> Result<ListPage, PageError> {
    let frame = Frame::load(&app, Room::Readings, Some(TrialId(id))).await?;
    let trial = app.trial(TrialId(id)).await?;
    let heading = Heading::of(&trial, frame.summary(trial.id)?);
    let pictures = app.pictures(trial.id).await?;
    let rows: Vec<Row> = pictures.iter().rev().map(|it| Row::of(it, &trial)).collect();
    let taken =
        |number: usize| pictures.iter().any(|it| it.sheet == number && counting(it, &trial) > 0);
    let count = trial.sheets().len();
    let read: Vec<String> =
        (1..=count).filter(|number| taken(*number)).map(|it| it.to_string()).collect();
    let told = match (read.len(), count) {
        (_, 0) | (0, _) => String::new(),
        (read, count) if read == count => {
            if count == 1 {
                "The sheet is read.".into()
            } else {
                format!("All {count} sheets are read.")
            }
        }
        (1, count) => format!("Sheet {} of {count} is read.", read.concat()),
        (_, count) => format!("Sheets {} of {count} are read.", read.join(", ")),
    };
    let (planned, sheets) = (trial.plan.is_some(), SheetChoice::of(&trial));
    let simulated = app.has_simulated_camera();
    let is_chart = trial.chart.is_some();
    let devices = match trial.is_card() {
        true => app.card_by_device(trial.id).await?,
        false => Vec::new(),
    };
    let is_due = devices.iter().filter_map(|it| it.off).any(CardOff::is_due);
    let devices = devices.into_iter().map(DeviceRow::of).collect();
    Ok(ListPage {
        devices,
        is_due,
        frame,
        heading,
        id,
        planned,
        is_chart,
        told,
        rows,
        sheets,
        ask_sheet: [],
        simulated,
    })
}

/// Readings of a picture that count.
fn counting(picture: &StoredPicture, trial: &OpenTrial) -> usize {
    let name = picture_name(&picture.content);
    let counting = trial.readings.iter().filter(|it| it.reading.void.is_none());
    let of_it = counting.filter_map(|it| it.reading.from_picture.as_ref());
    of_it.filter(|from| &*from.picture == name).count()
}

impl DeviceRow {
    fn of(card: CardByDevice) -> Self {
        // The day is enough.
        let [from, to] = card.from_to.map(|at| at_utc(at).chars().take(10).collect::<String>());
        Self {
            pictures: card.pictures,
            from_to: if from == to { from } else { format!("{from} to {to}") },
            first: card.off.map_or_else(String::new, |off| number(off.first, 1)),
            last: number(card.off.map_or(card.last, |off| off.last), 1),
            told: match card.off.map(CardOff::is_due) {
                None => "six pictures are needed to compare",
                Some(false) => "as at first",
                Some(true) => "farther off than at first",
            },
            device: card.device,
        }
    }
}

impl Row {
    fn of(picture: &StoredPicture, trial: &OpenTrial) -> Self {
        let count = counting(picture, trial);
        let drawn = if picture.simulated { ", drawn by a simulated device" } else { "" };
        Self {
            id: picture.id.0,
            sheet: picture.sheet,
            kind: match &picture.device {
                Some(device) => format!("{}, {device}{drawn}", picture.source),
                None => format!("{}{drawn}", picture.source),
            },
            added: at_utc(picture.added),
            size: format!("{:.1} MB", picture.bytes as f64 / 1e6),
            readings: match count {
                0 => "none taken".into(),
                count => counted(count, "reading", "readings"),
            },
            is_deleted: picture.is_deleted,
        }
    }
}
