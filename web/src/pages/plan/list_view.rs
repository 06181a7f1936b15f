//! Finished text of the trial list.

use askama::Template;
use askama_web::WebTemplate;

use crate::frame::{Frame, state};

/// Every trial.
#[derive(Template, WebTemplate)]
#[template(path = "plan/list.html")]
pub(crate) struct ListPage {
    trials: Vec<TrialRow>,
    frame: Frame,
}

struct TrialRow {
    id: i64,
    name: String,
    state: &'static str,
    swatches: String,
    readings: String,
}

impl ListPage {
    pub fn new(frame: Frame) -> Self {
        let row = |summary: &store::TrialSummary| TrialRow {
            id: summary.id.0,
            name: summary.name.clone(),
            state: state(summary),
            swatches: format!("{} of {} swatches read", summary.read, summary.swatches),
            readings: format!("{} readings, {} void", summary.readings, summary.voids),
        };
        Self { trials: frame.trials.iter().map(row).collect(), frame }
    }
}
