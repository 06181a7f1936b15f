//! What is typed at the bench.

use std::collections::HashMap;

use bench::Word;
use colour::{Conditions, Lab, StatedLab};
use plan::Source;
use serde::Deserialize;
use study::{Basis, State, TubeRef};

use crate::pages::fields::{FieldErrors, kept, read_number};

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

/// One line of a pile as planned.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct PlannedLine {
    /// `step.component`.
    pub key: String,
    pub source: Source,
    pub amount: f64,
}

impl LayForm {
    /// A weight among these was made up by the simulated scale.
    pub fn simulated(&self) -> bool {
        self.weighed == "simulated"
    }

    /// How the piles of this page were put together; `measure` is what was planned.
    pub fn how(&self, measure: Basis) -> Basis {
        if self.how == "eye" { Basis::Eye } else { measure }
    }

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

    /// The names of other tubes that were typed, by line.
    pub fn other_tubes(&self) -> HashMap<&str, &str> {
        let lines = self.line.iter().map(String::as_str);
        lines.map(|line| (line, self.tube_at(line))).filter(|(_, name)| !name.is_empty()).collect()
    }

    /// What was really put together of one step's lines: empty where nothing else was typed than
    /// planned. `others` are the tubes that took another's place, by line; what is less than `step`,
    /// the last digit of the scale or syringe, cannot have been read off.
    pub fn parts(
        &self,
        lines: &[PlannedLine],
        others: &HashMap<&str, TubeRef>,
        step: f64,
        errors: &mut FieldErrors,
    ) -> Vec<(Source, f64)> {
        let mut typed = false;
        let mut parts = Vec::with_capacity(lines.len());
        for line in lines {
            let amount = match read_number(self.amount_at(&line.key)) {
                Ok(None) => line.amount,
                Ok(Some(value)) if value > 0.0 && value < step * (1.0 - 1e-9) => {
                    let wrong = format!(
                        "{value} is less than the last digit of the scale, {step}: it cannot be read \
                         off. Make a larger pile, or press “By eye”"
                    );
                    errors.add(&format!("amount-{}", line.key), wrong);
                    line.amount
                }
                Ok(Some(value)) if value > 0.0 && value <= MOST_PAINT => {
                    typed = true;
                    value
                }
                Ok(Some(value)) => {
                    let wrong =
                        format!("{value} cannot be; write what the scale showed, such as 1.98");
                    errors.add(&format!("amount-{}", line.key), wrong);
                    line.amount
                }
                Err(found) => {
                    let wrong = format!("“{found}” is not a number; write it as 1.98");
                    errors.add(&format!("amount-{}", line.key), wrong);
                    line.amount
                }
            };
            let source = match others.get(line.key.as_str()) {
                Some(tube) => {
                    typed = true;
                    Source::Tube(*tube)
                }
                None => line.source,
            };
            parts.push((source, amount));
        }
        if typed { parts } else { Vec::new() }
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

/// A choice among words, or a reason.
#[derive(Debug, Clone, Default, Deserialize)]
pub(crate) struct ChoiceForm {
    #[serde(default)]
    pub token: String,
    #[serde(default)]
    pub choice: String,
    #[serde(default)]
    reason: String,
}

impl ChoiceForm {
    pub fn reason(&self) -> String {
        let reason = kept(&self.reason);
        if reason.is_empty() { "no reason given".into() } else { reason }
    }
}
