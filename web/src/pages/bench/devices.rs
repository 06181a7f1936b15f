//! The plugs of the simulated devices, for trying what happens when one goes wrong.

use axum::extract::{Path, State};
use axum::response::Redirect;
use axum_extra::extract::Form;
use instruments::simulated::{Fault, SimulatedBench};
use serde::Deserialize;
use store::TrialId;

use crate::error::PageError;
use crate::state::AppState;

/// What can be done to the devices, and how they are.
pub(crate) struct Plugs {
    pub meter: &'static str,
    pub scale: &'static str,
    /// Each with the word that is sent and what it says.
    pub choices: &'static [(&'static str, &'static str)],
}

const CHOICES: &[(&str, &str)] = &[
    ("well", "everything works"),
    ("meter-unplugged", "the meter is unplugged"),
    ("meter-half", "the meter breaks off within a line"),
    ("meter-nan", "the meter says NaN"),
    ("meter-seven", "the meter says 7"),
    ("meter-flood", "the meter never stops talking"),
    ("meter-drifts", "the meter drifts"),
    ("scale-unplugged", "the scale is unplugged"),
];

pub(crate) fn plugs(bench: &SimulatedBench) -> Plugs {
    Plugs {
        meter: word(bench.meter.running().fault()),
        scale: word(bench.scale.running().fault()),
        choices: CHOICES,
    }
}

fn word(fault: Fault) -> &'static str {
    match fault {
        Fault::None => "works",
        Fault::Unplugged => "is unplugged",
        _ => "is broken on purpose",
    }
}

/// What is done to the devices.
#[derive(Debug, Deserialize)]
pub(crate) struct PlugForm {
    choice: String,
    #[serde(default)]
    back: u32,
}

/// Pulls a plug, or puts everything right.
pub(crate) async fn set(
    State(app): State<AppState>,
    Path(id): Path<i64>,
    Form(form): Form<PlugForm>,
) -> Result<Redirect, PageError> {
    let no_plug = || PageError::Form("there is no such simulated device".into());
    let bench = app.simulated.as_ref().ok_or_else(no_plug)?;
    let (meter, scale) = (bench.meter.running(), bench.scale.running());
    match form.choice.as_str() {
        "well" => {
            meter.set(Fault::None);
            scale.set(Fault::None);
            bench.meter.drift(0.0);
        }
        "meter-unplugged" => meter.set(Fault::Unplugged),
        "meter-half" => meter.set(Fault::HalfLine),
        "meter-nan" => meter.set(Fault::NotANumber),
        "meter-seven" => meter.set(Fault::Seven),
        "meter-flood" => meter.set(Fault::Flood),
        "meter-drifts" => bench.meter.drift(0.004),
        "scale-unplugged" => scale.set(Fault::Unplugged),
        _ => return Err(no_plug()),
    }
    app.news.tell(TrialId(id));
    Ok(Redirect::to(&format!("/trials/{id}/bench/{}", form.back)))
}
