//! A plan at a glance: what it takes, and every square.

use askama::Template;
use askama_web::WebTemplate;
use study::Tube;
use workshop::{Evidence, OpenTrial, Role};

use super::squares::{Group, groups};
use crate::frame::{Frame, Heading};
use crate::pages::planner::cost::{CostPanel, Planned};
use crate::words::counted;

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
    /// A chart that was not printed here.
    ruled: bool,
    /// It may still be changed.
    open: bool,
    cost: String,
    groups: Vec<Group>,
}

impl OverviewPage {
    pub fn new(
        frame: Frame,
        heading: Heading,
        trial: &OpenTrial,
        evidence: &Evidence,
    ) -> Result<Self, askama::Error> {
        let repeats = trial.circumstances.repeats as usize;
        Ok(Self {
            frame,
            heading,
            id: trial.id.0,
            title: match named(trial, Role::Tested) {
                // A palette against itself, or tubes with each other.
                none if none.is_empty() => named(trial, Role::Reference),
                tested => tested,
            },
            about: match (repeats, counted(trial.swatches.len(), "swatch", "swatches")) {
                (0, swatches) => format!("{}{swatches}, judged by eye.", against(trial)),
                (_, swatches) => format!(
                    "{}{} of each of {swatches}, {} to take.",
                    against(trial),
                    counted(repeats, "reading", "readings"),
                    trial.swatches.len() * repeats
                ),
            },
            planned: trial.plan.is_some(),
            ruled: trial.chart.is_some(),
            open: trial.plan.is_some() && trial.readings.is_empty(),
            cost: cost(trial, evidence)?,
            groups: groups(trial),
        })
    }

    fn tab(&self) -> &'static str {
        "plan"
    }
}

fn cost(trial: &OpenTrial, evidence: &Evidence) -> Result<String, askama::Error> {
    let Some(plan) = trial.planned() else { return Ok(String::new()) };
    let tubes: Vec<&Tube> = trial.tubes.iter().map(|tube| &tube.tube.tube).collect();
    let sheets = trial.sheets().len();
    let (white, ratios) = (trial.white(), trial.ratios());
    let own_pace = trial.plan.as_ref().is_some_and(|it| it.design.pace.is_learned());
    let by_eye = trial.plan.as_ref().is_some_and(|it| it.design.is_by_eye());
    let planned =
        Planned { plan, tubes: &tubes, white, sheets, ratios, by_eye, own_pace, evidence };
    CostPanel::of(planned)?.render()
}

fn named(trial: &OpenTrial, role: Role) -> String {
    let tubes = trial.tubes.iter().zip(trial.called()).filter(|(tube, _)| tube.role == role);
    tubes.map(|(_, called)| called.name).collect::<Vec<_>>().join(", ")
}

/// `Against Saddle Red, Awning Blue, with Workshop Titanium: `.
fn against(trial: &OpenTrial) -> String {
    let (references, white) = (named(trial, Role::Reference), named(trial, Role::White));
    if trial.chart.is_some() {
        return "A chart that was not printed here: ".into();
    }
    if trial.plan.is_some() && named(trial, Role::Tested).is_empty() {
        return match white.is_empty() {
            true => "With each other: ".into(),
            false => format!("With each other and {white}: "),
        };
    }
    match (trial.plan.is_some(), references.is_empty(), white.is_empty()) {
        (false, _, _) => "Read from a file: ".into(),
        (true, false, false) => format!("Against {references}, with {white}: "),
        (true, false, true) => format!("Against {references}: "),
        (true, true, false) => format!("With {white}: "),
        (true, true, true) => String::new(),
    }
}
