//! The plugs of the simulated devices, for trying what happens when one goes wrong.

use axum::extract::{Path, State};
use axum::response::Redirect;
use axum_extra::extract::Form;
use instruments::simulated::{Fault, SimulatedBench};
use plan::CellNumber;
use serde::Deserialize;
use workshop::{TrialId, Workshop};

use crate::error::PageError;

/// What can be done to the devices, and how they are.
pub(crate) struct Plugs {
    /// `The simulated meter works, the simulated scale is unplugged`.
    pub standing: String,
    /// Each with the word that is sent and what it says.
    pub choices: Vec<(&'static str, &'static str)>,
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

/// The plugs of the devices that are simulated here; `None` where none is.
pub(crate) fn plugs(bench: &SimulatedBench) -> Option<Plugs> {
    let meter = bench.meter.as_ref().map(|device| ("meter", word(device.running().fault())));
    let scale = bench.scale.as_ref().map(|device| ("scale", word(device.running().fault())));
    let standing: Vec<String> = [meter, scale]
        .into_iter()
        .flatten()
        .map(|(device, how)| format!("the simulated {device} {how}"))
        .collect();
    let here = |(word, _): &&(&'static str, &'static str)| {
        *word == "well"
            || (word.starts_with("meter") && meter.is_some())
            || (word.starts_with("scale") && scale.is_some())
    };
    (!standing.is_empty()).then(|| Plugs {
        standing: standing.join(", "),
        choices: CHOICES.iter().filter(here).copied().collect(),
    })
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
    back: Option<CellNumber>,
}

/// Pulls a plug, or puts everything right.
pub(crate) async fn set(
    State(app): State<Workshop>,
    Path(id): Path<i64>,
    Form(form): Form<PlugForm>,
) -> Result<Redirect, PageError> {
    let no_plug = || PageError::Form("there is no such simulated device".into());
    let (meter, scale) = (app.simulated().meter.as_ref(), app.simulated().scale.as_ref());
    let set = |fault| meter.map(|device| device.running().set(fault));
    let done = match form.choice.as_str() {
        "well" => {
            let well = meter.map(|device| device.drift(0.0)).and_then(|()| set(Fault::None));
            let scale_well = scale.map(|device| device.running().set(Fault::None));
            well.or(scale_well)
        }
        "meter-unplugged" => set(Fault::Unplugged),
        "meter-half" => set(Fault::HalfLine),
        "meter-nan" => set(Fault::NotANumber),
        "meter-seven" => set(Fault::Seven),
        "meter-flood" => set(Fault::Flood),
        "meter-drifts" => meter.map(|device| device.drift(0.004)),
        "scale-unplugged" => scale.map(|device| device.running().set(Fault::Unplugged)),
        _ => None,
    };
    done.ok_or_else(no_plug)?;
    app.news().tell(TrialId(id));
    Ok(match form.back {
        Some(number) => Redirect::to(&format!("/trials/{id}/bench/{number}")),
        None => Redirect::to(&format!("/trials/{id}/bench")),
    })
}
