//! Finished text of a hand-ruled chart in its picture.

use askama::Template;
use askama_web::WebTemplate;
use picture::{Camera, PlacedByHand};
use sheet::Ruling;
use study::ReadingSource;
use workshop::{ChartMeant, OpenTrial, PictureId, ShownPicture, SidesHold, in_square};

use super::form::{ChartForm, HOLDS, usual_steps};
use crate::frame::{Frame, Heading};
use crate::pages::fields::FieldErrors;
use crate::pages::names::TubeNames;
use crate::words::counted;

/// Where a chart lies in its picture, and what stands in its squares.
#[derive(Template, WebTemplate)]
#[template(path = "charts/page.html")]
pub(crate) struct ChartPage {
    frame: Frame,
    heading: Heading,
    id: i64,
    picture: i64,
    /// The version that stands on the page.
    read_at: String,
    /// Width and height of the picture, pixels.
    size: [usize; 2],
    headline: String,
    /// What was wrong with the picture or with its corners.
    alerts: Vec<String>,
    corners: Vec<Corner>,
    squares: Vec<SquareShape>,
    ruling: [NumberField; 5],
    is_scan: bool,
    holds: [(&'static str, bool, &'static str); 3],
    lines_stand: bool,
    lines: Vec<Line>,
    across: Vec<Line>,
    across_are: &'static str,
    steps: String,
    steps_label: &'static str,
    steps_hint: &'static str,
    is_ladder: bool,
    is_grid: bool,
    white: String,
    with_white: String,
    basis: String,
    others: Vec<Other>,
    /// What stands where, row by row; empty while something is wrong.
    table: Vec<Vec<SquareHolds>>,
    errors: FieldErrors,
    /// Names of the shelf's tubes.
    tubes: Vec<String>,
    read: String,
    /// Something was read: what stands in the squares stays.
    frozen: bool,
    is_ready: bool,
}

struct Corner {
    at: usize,
    name: &'static str,
    x: String,
    y: String,
}

/// Tubes and their ratio; both empty where nothing stands.
#[derive(Default)]
struct SquareHolds {
    tubes: String,
    ratio: String,
}

impl SquareHolds {
    fn in_a_line(&self) -> String {
        format!("{} {}", self.tubes, self.ratio).trim().to_owned()
    }
}

/// A square as four points.
struct SquareShape {
    row: usize,
    column: usize,
    label: String,
    points: String,
    class: &'static str,
}

struct NumberField {
    name: &'static str,
    label: &'static str,
    value: String,
}

/// A row or a column with the fields of its tubes.
struct Line {
    label: String,
    first: String,
    second: String,
    name: String,
}

/// A square that holds something else.
struct Other {
    at: usize,
    place: String,
    text: String,
}

const CORNERS: [&str; 4] = ["top left", "top right", "bottom right", "bottom left"];

impl ChartPage {
    pub fn new(
        (frame, mut heading): (Frame, Heading),
        (trial, picture): (&OpenTrial, PictureId),
        (form, told): (ChartForm, Option<(&'static str, String)>),
        shown: &ShownPicture,
        names: &TubeNames<'_>,
    ) -> Self {
        let understood = form.understood(names);
        let (lines, steps) = form.lines_and_steps();
        let typed = &form.chart.typed;
        let is_grid = typed.hold == SidesHold::Grid;
        let corners = form.corners.unwrap_or(form.guessed);
        let meant = understood.as_ref().ok();
        let table = meant.map_or_else(Vec::new, |meant| table(&form.chart.ruling, meant, names));
        let labels: Vec<String> = table.iter().flatten().map(SquareHolds::in_a_line).collect();
        let named = meant.map_or(0, |meant| meant.squares.iter().flatten().count());
        heading.about = "a chart that was not printed here".into();
        let sent = told.is_some();
        let told = told.map(|it| it.1).filter(|why| !why.is_empty());
        let corners_wrong = understood.as_ref().err().map(|errors| errors.at("corners").to_owned());
        let corners_wrong = corners_wrong.filter(|why| sent && !why.is_empty());
        let frozen = !trial.readings.is_empty();
        Self {
            id: trial.id.0,
            picture: picture.0,
            read_at: form.read_at.clone(),
            size: shown.size,
            headline: headline(&form, named),
            alerts: told.into_iter().chain(corners_wrong).map(|why| sentence(&why)).collect(),
            corners: corner_fields(&corners),
            squares: shapes(&form, &corners, shown.size, &labels),
            ruling: ruling_fields(&form.chart.ruling),
            is_scan: form.source == ReadingSource::Scan,
            holds: HOLDS.map(|(key, hold, label)| (key, hold == typed.hold, label)),
            lines_stand: typed.lines_stand,
            lines: (0..lines)
                .map(|at| {
                    let [first, second] = typed.lines.get(at).cloned().unwrap_or_default();
                    let label = format!("{} {}", side(typed.lines_stand), at + 1);
                    Line { label, first, second, name: format!("line-{at}") }
                })
                .collect(),
            across: (0..if is_grid { steps } else { 0 })
                .map(|at| Line {
                    label: format!("{} {}", side(!typed.lines_stand), at + 1),
                    first: typed.across.get(at).cloned().unwrap_or_default(),
                    second: String::new(),
                    name: format!("across-{at}"),
                })
                .collect(),
            across_are: if typed.lines_stand { "rows" } else { "columns" },
            steps: match typed.steps.as_str() {
                "" => usual_steps(typed.hold, steps),
                typed => typed.to_owned(),
            },
            steps_label: match typed.hold {
                SidesHold::Tints => "Steps of every line, parts of white",
                SidesHold::Ladders => "Steps of every line, first to second tube",
                SidesHold::Grid => "Ratio in every square",
            },
            steps_hint: match typed.hold {
                SidesHold::Tints => "such as mass tone, 1:1, 1:4, 1:16; undertone for a thin one",
                SidesHold::Ladders => {
                    "such as 3:1, 1:1, 1:3, or percent of the first: 100/75/50/25/0"
                }
                SidesHold::Grid => "the tube at the side to the tube at the top",
            },
            is_ladder: typed.hold == SidesHold::Ladders,
            is_grid,
            white: typed.white.clone(),
            with_white: typed.with_white.clone(),
            basis: if typed.basis.is_empty() { "eye".into() } else { typed.basis.clone() },
            others: typed
                .others
                .iter()
                .map(|(at, text)| Other {
                    at: *at,
                    place: in_square(&form.chart.ruling, *at),
                    text: text.clone(),
                })
                .collect(),
            errors: match understood.err() {
                Some(errors) if sent || !typed.lines.is_empty() => errors,
                _ => FieldErrors::default(),
            },
            read: match named {
                0 => "Read the squares".into(),
                named => format!("Read {}", counted(named, "square", "squares")),
            },
            is_ready: named > 0,
            tubes: names.all().to_vec(),
            table,
            frozen,
            frame,
            heading,
        }
    }

    /// What is wrong at a field, to be shown where somebody has begun to fill in.
    fn wrong(&self, field: &str) -> &str {
        self.errors.at(field)
    }

    fn wrong_second(&self, line: &Line) -> &str {
        self.errors.at(&format!("{}-2", line.name))
    }

    /// What is wrong with squares that hold something else.
    fn wrong_other(&self, other: &Other) -> &str {
        self.errors.at(&format!("other-{}", other.at))
    }
}

fn headline(form: &ChartForm, named: usize) -> String {
    match (form.corners.is_some(), named) {
        (false, _) => "Drag the four corners onto the chart, then name its lines.".into(),
        (true, 0) => "The chart is found. What stands in it?".into(),
        (true, named) => {
            format!("{} named: they can be read.", counted(named, "square is", "squares are"))
        }
    }
}

fn sentence(why: &str) -> String {
    study::words::with_capital(why) + "."
}

fn side(stands: bool) -> &'static str {
    if stands { "Column" } else { "Row" }
}

fn corner_fields(corners: &[[f64; 2]; 4]) -> Vec<Corner> {
    let all = corners.iter().zip(CORNERS).enumerate();
    all.map(|(at, ([x, y], name))| Corner { at, name, x: format!("{x:.1}"), y: format!("{y:.1}") })
        .collect()
}

fn ruling_fields(ruling: &Ruling) -> [NumberField; 5] {
    let field = |name, label, value: f64| NumberField { name, label, value: value.to_string() };
    [
        field("rows", "Rows", ruling.rows as f64),
        field("columns", "Columns", ruling.columns as f64),
        field("side", "Side of a square, mm", ruling.side_mm),
        field("gap-across", "Gap between columns, mm", ruling.gap_mm[0]),
        field("gap-down", "Gap between rows, mm", ruling.gap_mm[1]),
    ]
}

/// Every square as it lies in the picture.
fn shapes(
    form: &ChartForm,
    corners: &[[f64; 2]; 4],
    size: [usize; 2],
    labels: &[String],
) -> Vec<SquareShape> {
    let ruling = &form.chart.ruling;
    let mm = ruling.corners_mm();
    let places = [0, 1, 2, 3].map(|at| (mm[at], corners[at]));
    let placed = PlacedByHand { places, is_scan: false };
    let Some(fitted) = Camera::by_hand(&placed, size) else { return Vec::new() };
    let squares = ruling.squares().min(sheet::MOST_RULED * sheet::MOST_RULED);
    let one = |at: usize| {
        let [x, y] = ruling.place_mm(at);
        let side = ruling.side_mm;
        let points = [[x, y], [x + side, y], [x + side, y + side], [x, y + side]];
        let points = points.map(|place| {
            let [x, y] = fitted.camera.to_pixels(place);
            format!("{x:.1},{y:.1}")
        });
        let holds = labels.get(at).cloned().unwrap_or_default();
        SquareShape {
            row: at / ruling.columns.max(1) + 1,
            column: at % ruling.columns.max(1) + 1,
            label: format!("{} {holds}", in_square(ruling, at)).trim().to_owned(),
            points: points.join(" "),
            class: if holds.is_empty() && !labels.is_empty() { "ruled is-empty" } else { "ruled" },
        }
    };
    (0..squares).map(one).collect()
}

/// What stands in each square, in short.
fn table(ruling: &Ruling, meant: &ChartMeant, names: &TubeNames<'_>) -> Vec<Vec<SquareHolds>> {
    let naming = plan::Naming {
        tubes: meant.tubes.iter().map(|(tube, _)| names.label(*tube)).collect(),
        white: meant.tubes.iter().position(|it| it.1 == workshop::Role::White).map(study::TubeRef),
        ..plan::Naming::default()
    };
    let label = |square: &Option<(study::Mixture, study::FilmKind)>| {
        let Some((mixture, film)) = square.clone() else {
            return SquareHolds::default();
        };
        let number = plan::CellNumber(1);
        let swatch = plan::Swatch { number, mixture, film, backing: study::Backing::Paper };
        let label = naming.swatch(&swatch);
        SquareHolds { tubes: label.tubes, ratio: label.ratio }
    };
    let mut all = meant.squares.iter().map(label);
    (0..ruling.rows).map(|_| all.by_ref().take(ruling.columns).collect()).collect()
}
