//! A CIELAB reading as it is typed.

use colour::{Conditions, Lab, StatedLab};
use serde::Deserialize;
use trial::State;

use crate::pages::fields::{FieldErrors, read_number};

/// The fields, as typed.
#[derive(Debug, Clone, Default, Deserialize)]
pub(crate) struct LabForm {
    #[serde(default)]
    pub l: String,
    #[serde(default)]
    pub a: String,
    #[serde(default)]
    pub b: String,
    #[serde(default)]
    state: String,
}

impl LabForm {
    pub fn state(&self) -> State {
        self.state.parse().unwrap_or_default()
    }

    /// The colour under `conditions`, or what is wrong at which field.
    pub fn lab(&self, conditions: Conditions) -> Result<StatedLab, FieldErrors> {
        let mut errors = FieldErrors::default();
        let mut axis = |field: &str, text: &str, low: f64, high: f64| {
            let message = match read_number(text) {
                Ok(Some(value)) if (low..=high).contains(&value) => return value,
                Ok(Some(value)) => {
                    format!("{value} is out of range; write {low:.0} to {high:.0}")
                }
                Ok(None) => "missing".to_owned(),
                Err(found) => format!("“{found}” is not a number"),
            };
            errors.add(field, message);
            0.0
        };
        let lab = Lab::new(
            axis("l", &self.l, 0.0, 120.0),
            axis("a", &self.a, -150.0, 150.0),
            axis("b", &self.b, -150.0, 150.0),
        );
        if errors.is_empty() { Ok(StatedLab { lab, conditions }) } else { Err(errors) }
    }
}
