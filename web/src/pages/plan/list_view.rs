//! Finished text of the trial list.

use askama::Template;
use askama_web::WebTemplate;

use super::first::Proposal;
use crate::frame::{Frame, state};
use crate::pages::paging::Paging;

/// Every trial.
#[derive(Template, WebTemplate)]
#[template(path = "plan/list.html")]
pub(crate) struct ListPage {
    trials: Vec<TrialRow>,
    paging: Paging,
    away: Vec<TrialRow>,
    /// What to plan first; `None` where there is nothing to mix yet.
    first: Option<Proposal>,
    frame: Frame,
}

/// Trials on one page.
const ON_ONE_PAGE: usize = 100;

struct TrialRow {
    id: i64,
    name: String,
    state: &'static str,
    swatches: String,
    readings: String,
    /// A chart that was not printed here: it has no bench.
    ruled: bool,
}

impl ListPage {
    pub fn new(frame: Frame, page: usize, first: Option<Proposal>) -> Self {
        let row = |summary: &workshop::TrialSummary| TrialRow {
            id: summary.id.0,
            name: summary.name.clone(),
            state: state(summary),
            swatches: format!(
                "{} of {} {}",
                summary.done,
                summary.swatches,
                if summary.by_eye { "laid" } else { "read" }
            ),
            readings: format!("{}, {} void", summary.readings, summary.voids),
            ruled: summary.ruled,
        };
        let (away, here): (Vec<_>, Vec<_>) = frame.trials.iter().partition(|it| it.put_away);
        let address = |page| format!("/trials?page={page}");
        let paging = Paging::of(here.len(), page, ON_ONE_PAGE, address);
        Self {
            trials: paging.part(&here).iter().copied().map(row).collect(),
            away: away.into_iter().map(row).collect(),
            paging,
            first,
            frame,
        }
    }
}
