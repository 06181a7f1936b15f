//! What is typed at the bench.

use bench::Word;
use colour::{Conditions, Lab, StatedLab};
use serde::Deserialize;
use study::State;
use workshop::{LayRequest, Line};

use crate::pages::fields::{FieldErrors, kept, read_number};
use crate::pages::names::TubeNames;

/// Nobody puts more than this on a palette, in g or ml.
const MOST_PAINT: f64 = 5000.0;

/// A CIELAB reading, as typed.
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
    #[serde(default)]
    again: String,
    #[serde(default)]
    pub token: String,
}

impl LabForm {
    /// A reading more than was planned.
    pub fn again(&self) -> bool {
        self.again == "yes"
    }

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
                Ok(None) => format!("write a number from {low:.0} to {high:.0}"),
                Err(found) => {
                    format!("“{found}” is not a number; write one from {low:.0} to {high:.0}")
                }
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

/// What was really put together, as typed: one entry a line, in the order of the page.
#[derive(Debug, Clone, Default, Deserialize)]
pub(crate) struct LayForm {
    #[serde(default)]
    pub token: String,
    /// `eye`, or anything else for as planned.
    #[serde(default)]
    pub how: String,
    /// `step.component`, as the page named them.
    #[serde(default)]
    pub line: Vec<String>,
    #[serde(default)]
    pub amount: Vec<String>,
    #[serde(default)]
    pub tube: Vec<String>,
    /// `simulated` where the simulated scale filled in a weight.
    #[serde(default)]
    weighed: String,
}

impl LayForm {
    fn typed<'a>(&'a self, list: &'a [String], key: &str) -> &'a str {
        let place = self.line.iter().position(|line| line == key);
        place.and_then(|at| list.get(at)).map_or("", |text| text.trim())
    }

    pub fn amount_at(&self, key: &str) -> &str {
        self.typed(&self.amount, key)
    }

    pub fn tube_at(&self, key: &str) -> &str {
        self.typed(&self.tube, key)
    }

    /// True where a tube was named in another's place.
    pub fn names_tubes(&self) -> bool {
        self.tube.iter().any(|name| !name.trim().is_empty())
    }

    /// What was really put together, or what is wrong at which field; `step` is the last digit of the
    /// scale or syringe.
    pub fn request(&self, step: f64, names: &TubeNames<'_>) -> Result<LayRequest, FieldErrors> {
        let mut errors = FieldErrors::default();
        let by_eye = self.how == "eye";
        let mut request =
            LayRequest { by_eye, simulated: self.weighed == "simulated", ..LayRequest::default() };
        for key in &self.line {
            let Ok(line) = key.parse::<Line>() else { continue };
            // Nothing is read off by eye.
            match read_amount(self.amount_at(key), if by_eye { 0.0 } else { step }) {
                Ok(Some(amount)) => {
                    request.amounts.insert(line, amount);
                }
                Ok(None) => {}
                Err(wrong) => errors.add(&format!("amount-{key}"), wrong),
            }
            let name = self.tube_at(key);
            if name.is_empty() {
                continue;
            }
            match names.find(name) {
                Ok(tube) => {
                    request.tubes.insert(line, tube.id);
                }
                Err(wrong) => errors.add(&format!("tube-{key}"), wrong),
            }
        }
        if errors.is_empty() { Ok(request) } else { Err(errors) }
    }
}

/// An amount as typed; what is less than `step` cannot have been read off.
fn read_amount(text: &str, step: f64) -> Result<Option<f64>, String> {
    match read_number(text) {
        Ok(None) => Ok(None),
        Ok(Some(value)) if value > 0.0 && value < step * (1.0 - 1e-9) => Err(format!(
            "{value} is less than the last digit of the scale, {step}: it cannot be read off. Make a \
             larger pile, or press “By eye”"
        )),
        Ok(Some(value)) if value > 0.0 && value <= MOST_PAINT => Ok(Some(value)),
        Ok(Some(_)) => Err("Enter the weight the scale shows, such as 1.98".into()),
        Err(found) => Err(format!("“{found}” is not a number; write it as 1.98")),
    }
}

/// Something seen.
#[derive(Debug, Clone, Default, Deserialize)]
pub(crate) struct NoteForm {
    #[serde(default)]
    pub token: String,
    #[serde(default)]
    word: Vec<String>,
    #[serde(default)]
    note: String,
}

impl NoteForm {
    /// The words that were picked, and one's own; `None` where there is neither.
    pub fn seen(&self) -> Option<(Vec<Word>, String)> {
        let words: Vec<Word> = self.word.iter().filter_map(|word| word.parse().ok()).collect();
        let note = kept(&self.note);
        (!words.is_empty() || !note.is_empty()).then_some((words, note))
    }
}

/// A word for what was seen.
#[derive(Debug, Clone, Default, Deserialize)]
#[serde(default)]
pub(crate) struct LookForm {
    pub token: String,
    pub choice: String,
    /// The cell of the page that asked.
    pub back: String,
    /// `yes` where it was lifted just now.
    pub lifted: String,
}

/// A choice among words, or a reason.
#[derive(Debug, Clone, Default, Deserialize)]
pub(crate) struct ChoiceForm {
    #[serde(default)]
    pub token: String,
    #[serde(default)]
    pub choice: String,
    /// `eye` where the page that compares by eye asked.
    #[serde(default)]
    pub back: String,
    #[serde(default)]
    reason: String,
}

impl ChoiceForm {
    pub fn reason(&self) -> String {
        let reason = kept(&self.reason);
        if reason.is_empty() { "no reason given".into() } else { reason }
    }
}
