//! What stands around every page: the spine and the current trial.

use workshop::{StoreError, Trial, TrialId, TrialSummary, Workshop, WorkshopError};

/// A room of the spine.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Room {
    Shelf,
    Plan,
    Bench,
    Readings,
    Results,
    Compare,
    Decide,
    /// None of them.
    Elsewhere,
}

/// One line of the spine.
#[derive(Debug)]
pub(crate) struct SpineLine {
    pub name: &'static str,
    pub href: String,
    /// What is open there; empty where nothing is.
    pub count: String,
    pub here: bool,
    /// Single key that leads there.
    pub key: char,
}

/// The spine of one page.
#[derive(Debug)]
pub(crate) struct Frame {
    pub lines: Vec<SpineLine>,
    pub trials: Vec<TrialSummary>,
}

impl Frame {
    /// The spine as seen from `room`; `trial` is the one at hand, else the newest.
    pub async fn load(
        app: &Workshop,
        room: Room,
        trial: Option<TrialId>,
    ) -> Result<Self, WorkshopError> {
        let tubes = app.tube_count().await?;
        let trials = app.trials().await?;
        let current = match trial {
            Some(id) => trials.iter().find(|summary| summary.id == id),
            None => trials.iter().find(|summary| !summary.put_away),
        };
        let open = trials.iter().filter(|summary| !summary.put_away).count();
        let told = |it: &&TrialSummary| it.readings > 0 || it.stamp.log > 0;
        let read = trials.iter().any(|it| told(&it) && !it.put_away);
        let lines = lines(room, tubes, (open, read), current);
        Ok(Self { lines, trials })
    }

    /// The list entry of a trial.
    pub fn summary(&self, id: TrialId) -> Result<&TrialSummary, StoreError> {
        let found = self.trials.iter().find(|summary| summary.id == id);
        found.ok_or(StoreError::NotFound("trial"))
    }
}

/// So many tubes are a palette.
const FEW_TUBES: i64 = 3;

fn lines(
    room: Room,
    tubes: i64,
    (trials, trials_read): (usize, bool),
    current: Option<&TrialSummary>,
) -> Vec<SpineLine> {
    let line = |name, of: Room, href: String, count: String, key| SpineLine {
        name,
        href,
        count,
        here: of == room,
        key,
    };
    let mut lines = vec![
        line("Shelf", Room::Shelf, "/shelf".into(), tubes.to_string(), '1'),
        line("Plan", Room::Plan, "/trials".into(), trials.to_string(), '2'),
    ];
    if let Some(summary) = current {
        let at = |page: &str| format!("/trials/{}/{page}", summary.id.0);
        let left = summary.swatches - summary.done;
        let left = if left > 0 { left.to_string() } else { String::new() };
        // Nothing is painted of a chart that was painted elsewhere.
        if !summary.ruled {
            lines.push(line("Bench", Room::Bench, at("bench"), left, '3'));
        }
        let readings = summary.readings.to_string();
        lines.push(line("Readings", Room::Readings, at("readings"), readings, '4'));
        lines.push(line("Results", Room::Results, at("results"), String::new(), '5'));
    }
    // Comparing takes what was read or seen; a recipe takes a few tubes, and typical paints stand for them.
    if trials_read {
        lines.push(line("Compare", Room::Compare, "/compare".into(), String::new(), '6'));
    }
    if trials_read || tubes >= FEW_TUBES {
        lines.push(line("Decide", Room::Decide, "/decide".into(), String::new(), '7'));
    }
    lines
}

/// The trial at hand, in sight at the top of each of its pages.
#[derive(Debug)]
pub(crate) struct Heading {
    pub name: String,
    /// Tubes, white, readings and conditions in one line.
    pub about: String,
    /// `planned`, `at the bench` or `finished`.
    pub state: &'static str,
    pub plan: String,
    /// Where what to add to a recipe's pile is told; empty where the trial is none.
    pub correct: String,
}

impl Heading {
    pub fn of(trial: &Trial, summary: &TrialSummary) -> Self {
        let white = trial.white().map(|white| trial.tubes[white.0].tube.tube.name.clone());
        let tubes = trial.tubes.len() - usize::from(white.is_some());
        let mut about = vec![crate::words::counted(tubes, "tube", "tubes")];
        about.extend(white.map(|name| format!("white {name}")));
        if summary.by_eye && summary.readings + summary.voids == 0 {
            about.push("judged by eye".to_owned());
        } else {
            about.push(format!("{} readings, {} void", summary.readings, summary.voids));
            about.push(trial.circumstances.conditions.to_string());
        }
        Self {
            name: trial.name.clone(),
            about: about.join(" · "),
            state: state(summary),
            plan: format!("/trials/{}/plan", trial.id.0),
            correct: match trial.plan.as_ref() {
                Some(plan) if !plan.design.aim.is_empty() => {
                    format!("/decide/correct/{}", trial.id.0)
                }
                _ => String::new(),
            },
        }
    }
}

/// How far a trial is.
pub(crate) fn state(summary: &TrialSummary) -> &'static str {
    if summary.put_away {
        return "archived";
    }
    if summary.ruled {
        return if summary.readings > 0 { "read from a picture" } else { "not read yet" };
    }
    match summary.done {
        0 if summary.stamp.log == 0 => "planned",
        done if done < summary.swatches => "at the bench",
        _ => "finished",
    }
}
