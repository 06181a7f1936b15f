//! A plan at a glance: what it takes, and every square.

use askama::Template;
use askama_web::WebTemplate;
use store::{Role, SwatchId, Trial};
use trial::plan::{Cell, Pile, Source, Swatch};
use trial::{Tube, TubeRef};

use crate::frame::{Frame, Heading};
use crate::known::Knowledge;
use crate::pages::planner::cost::{CostPanel, Planned};
use crate::words::{counted, number};

/// A planned trial, or the squares of one that came from a file.
#[derive(Template, WebTemplate)]
#[template(path = "plan/overview.html")]
pub(crate) struct OverviewPage {
    frame: Frame,
    heading: Heading,
    id: i64,
    /// What is tested.
    title: String,
    about: String,
    planned: bool,
    /// It may still be changed.
    open: bool,
    cost: String,
    groups: Vec<Group>,
}

/// The squares of one row.
struct Group {
    title: String,
    squares: Vec<Square>,
}

struct Square {
    number: u32,
    ratio: String,
    amounts: String,
    readings: String,
}

impl OverviewPage {
    pub fn new(
        frame: Frame,
        heading: Heading,
        trial: &Trial,
        knowledge: &Knowledge,
    ) -> Result<Self, askama::Error> {
        let repeats = trial.circumstances.repeats as usize;
        Ok(Self {
            frame,
            heading,
            id: trial.id.0,
            title: named(trial, Role::Tested),
            about: format!(
                "{}{} of each of {}, {} to take.",
                against(trial),
                counted(repeats, "reading", "readings"),
                counted(trial.swatches.len(), "swatch", "swatches"),
                trial.swatches.len() * repeats
            ),
            planned: trial.plan.is_some(),
            open: trial.plan.is_some() && trial.readings.is_empty(),
            cost: cost(trial, knowledge)?,
            groups: groups(trial),
        })
    }

    fn tab(&self) -> &'static str {
        "plan"
    }
}

fn cost(trial: &Trial, knowledge: &Knowledge) -> Result<String, askama::Error> {
    let Some(plan) = trial.planned() else { return Ok(String::new()) };
    let tubes: Vec<&Tube> = trial.tubes.iter().map(|tube| &tube.tube.tube).collect();
    let sheets = super::sheets::sheet_of(trial).into_values().max().unwrap_or_default();
    let planned = Planned { plan, tubes: &tubes, white: trial.white(), sheets, knowledge };
    CostPanel::of(planned)?.render()
}

fn groups(trial: &Trial) -> Vec<Group> {
    let (tubes, white) = (trial.labels(), trial.white());
    let Some(plan) = trial.planned() else {
        let squares = trial.swatches.iter().map(|it| square(trial, &it.swatch, true)).collect();
        return vec![Group { title: "Squares".into(), squares }];
    };
    let group = |row: &trial::plan::Row| {
        let whole = white.is_some() && matches!(row.about, trial::plan::RowAbout::Grid(_));
        let squares: Vec<Square> = row
            .cells
            .iter()
            .filter_map(|cell| match cell {
                Cell::First(number) => plan.swatches.get(*number as usize - 1),
                _ => None,
            })
            .map(|swatch| square(trial, swatch, whole))
            .collect();
        (!squares.is_empty()).then(|| Group { title: row.about.title(&tubes), squares })
    };
    plan.rows.iter().filter_map(group).collect()
}

fn square(trial: &Trial, swatch: &Swatch, whole_label: bool) -> Square {
    let label = swatch.label(&trial.labels(), trial.white());
    let id = trial.swatches.iter().find(|it| it.swatch.number == swatch.number).map(|it| it.id);
    Square {
        number: swatch.number,
        ratio: if label.ratio.is_empty() {
            label.tubes
        } else if whole_label {
            format!("{}, {}", label.tubes, label.ratio)
        } else {
            label.ratio
        },
        amounts: trial.pile_of(swatch).map_or_else(String::new, |pile| amounts(trial, pile)),
        readings: id.map_or_else(String::new, |id| valid_readings(trial, id)),
    }
}

/// `0.30 g + 0.10 g of Lantern Yellow`, as the pile is put together.
fn amounts(trial: &Trial, pile: &Pile) -> String {
    let supply = trial.plan.as_ref().map(|plan| plan.design.supply).unwrap_or_default();
    let name = |tube: TubeRef| trial.tubes[tube.0].tube.tube.name.as_str();
    let part = |(source, amount): &(Source, f64)| {
        let amount = format!("{} {}", number(*amount, 2), supply.unit());
        match source {
            Source::Tube(tube) => format!("{amount} {}", name(*tube)),
            Source::Pile(_) => format!("{amount} mixed"),
        }
    };
    pile.components.iter().map(part).collect::<Vec<_>>().join(" + ")
}

fn named(trial: &Trial, role: Role) -> String {
    let tubes = trial.tubes.iter().filter(|tube| tube.role == role);
    tubes.map(|tube| tube.tube.tube.name.clone()).collect::<Vec<_>>().join(", ")
}

/// `Against Saddle Red, Awning Blue, with Workshop Titanium: `.
fn against(trial: &Trial) -> String {
    let (references, white) = (named(trial, Role::Reference), named(trial, Role::White));
    match (trial.plan.is_some(), references.is_empty(), white.is_empty()) {
        (false, _, _) => "Read from a file: ".into(),
        (true, false, false) => format!("Against {references}, with {white}: "),
        (true, false, true) => format!("Against {references}: "),
        (true, true, false) => format!("With {white}: "),
        (true, true, true) => String::new(),
    }
}

fn valid_readings(trial: &Trial, swatch: SwatchId) -> String {
    let of_swatch = trial.readings.iter().filter(|stored| stored.swatch == swatch);
    let (void, valid): (Vec<_>, Vec<_>) =
        of_swatch.partition(|stored| stored.reading.void.is_some());
    match (valid.len(), void.len()) {
        (0, 0) => String::new(),
        (valid, 0) => counted(valid, "reading", "readings"),
        (valid, void) => format!("{}, {void} void", counted(valid, "reading", "readings")),
    }
}
