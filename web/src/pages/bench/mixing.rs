//! The mixing of a swatch as the bench shows it: each pile with its lines, and room for what was
//! really done.

use bench::{Redo, Run};
use plan::{Source, Work};
use workshop::{OpenTrial, PlannedLine, PlannedSwatch, left_ml, to_make};

use super::form::LayForm;
use crate::pages::fields::FieldErrors;
use crate::pages::steps::{MixStep, WorkList};

/// What to mix for the swatch at hand.
#[derive(Default)]
pub(crate) struct Mixing {
    pub piles: Vec<PileForm>,
    /// Where the paint is, when nothing has to be mixed any more.
    pub ready: String,
    /// What painting it again takes.
    pub redo: String,
    /// Something is put together, and not only taken from a tube.
    pub mixes: bool,
    /// Paint is weighed, and not put out by spoon or eye.
    pub by_weight: bool,
    /// Amounts are put out by eye: nobody measures what they were.
    pub by_eye: bool,
    pub unit: &'static str,
}

/// One pile to be mixed.
pub(crate) struct PileForm {
    pub step: MixStep,
    pub lines: Vec<LineForm>,
}

/// One component.
pub(crate) struct LineForm {
    pub key: String,
    /// `6.00 g`.
    pub amount: String,
    /// The same as a bare number.
    pub planned: String,
    pub from: String,
    /// Another tube can take its place.
    pub is_tube: bool,
    pub typed: String,
    pub tube: String,
    pub wrong: String,
    pub wrong_tube: String,
}

impl Mixing {
    pub fn of(
        trial: &OpenTrial,
        planned: &PlannedSwatch,
        run: &Run,
        form: &LayForm,
        errors: &FieldErrors,
    ) -> Self {
        let Some(plan) = trial.planned() else { return Self::default() };
        let list = WorkList::of(trial, plan);
        let redo = run.redo(planned.swatch.number, &left_ml(trial));
        let piles: Vec<PileForm> = to_make(run, planned.swatch.number, redo.as_ref())
            .into_iter()
            .map(|made| PileForm {
                lines: made.lines.iter().map(|line| line_form(&list, line, form, errors)).collect(),
                step: list.step(made.step),
            })
            .collect();
        let ready = match run.step_of(planned.swatch.number).map(|step| &plan[step]) {
            Some(step) if piles.is_empty() => match (&step.work, step.place) {
                (Work::Mix(_), Some(place)) => {
                    format!("It is mixed already: take it from place {} of the palette.", place + 1)
                }
                _ => "Straight from the tube, as before.".to_owned(),
            },
            _ => String::new(),
        };
        Self {
            mixes: piles.iter().any(|pile| pile.lines.len() > 1),
            piles,
            ready,
            redo: redo.map_or_else(String::new, |redo| redo_line(&list, &redo)),
            by_weight: list.by_weight(),
            by_eye: list.by_eye(),
            unit: list.unit(),
        }
    }
}

fn line_form(
    list: &WorkList<'_>,
    line: &PlannedLine,
    form: &LayForm,
    errors: &FieldErrors,
) -> LineForm {
    let key = line.line.to_string();
    LineForm {
        planned: list.bare_amount(line.amount),
        amount: list.amount(line.amount),
        from: list.source(&line.source),
        is_tube: matches!(line.source, Source::Tube(_)),
        typed: form.amount_at(&key).to_owned(),
        tube: form.tube_at(&key).to_owned(),
        wrong: errors.at(&format!("amount-{}", key)).to_owned(),
        wrong_tube: errors.at(&format!("tube-{}", key)).to_owned(),
        key,
    }
}

/// `Painted again, it takes 0.12 g. 0.02 g are left, and 0.10 g are still to be taken for others: mix
/// 0.20 g more. Not enough is left of Lantern Yellow (0.1 g).`
fn redo_line(list: &WorkList<'_>, redo: &Redo) -> String {
    let amount = |value: f64| list.amount(value);
    let mut line = format!("Painted again, it takes {}.", amount(redo.takes));
    let owed = if redo.owed > 0.0 {
        format!(", and {} are still to be taken for others", amount(redo.owed))
    } else {
        String::new()
    };
    line.push_str(&format!(" {} are left{owed}", amount(redo.left)));
    if redo.again.is_empty() {
        line.push_str(": enough.");
        return line;
    }
    let more: f64 = redo.again.iter().map(|(_, amount)| amount).sum();
    line.push_str(&format!(": mix {} more.", amount(more)));
    for (source, left) in &redo.lacking {
        line.push_str(&format!(
            " Not enough is left of {} ({}).",
            list.source(source),
            amount(*left)
        ));
    }
    line
}
