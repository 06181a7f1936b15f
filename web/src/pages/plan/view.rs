//! Finished text of the trial list, the trial form and the sheet.

use std::collections::HashMap;

use askama::Template;
use askama_web::WebTemplate;
use colour::{Illuminant, Observer};
use mixing::Sheen;
use store::{Role, ShelfTube, Trial, TubeId};
use trial::plan::cautions::{Caution, DEFERRAL, cautions};
use trial::{Basis, Mixture};

use super::form::TrialForm;
use crate::draw::{MiniUpright, Paint};
use crate::frame::{Frame, Heading, state};
use crate::judged::KnownColour;
use crate::pages::fields::FieldErrors;
use crate::words::counted;

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

/// A new trial.
#[derive(Template, WebTemplate)]
#[template(path = "plan/form.html")]
pub(crate) struct FormPage {
    frame: Frame,
    form: TrialForm,
    errors: FieldErrors,
    tubes: Vec<Choice>,
    bases: Vec<String>,
    sheens: Vec<String>,
    illuminants: Vec<String>,
    observers: Vec<String>,
}

/// A tube that can be chosen.
struct Choice {
    id: String,
    upright: String,
    name: String,
    about: String,
    tested: bool,
}

impl FormPage {
    pub fn new(
        frame: Frame,
        form: TrialForm,
        tubes: &[ShelfTube],
        known: &HashMap<TubeId, KnownColour>,
    ) -> Result<Self, askama::Error> {
        let tubes = tubes
            .iter()
            .map(|shelf| Choice::new(shelf, known.get(&shelf.id), &form))
            .collect::<Result<_, _>>()?;
        Ok(Self {
            frame,
            form,
            errors: FieldErrors::default(),
            tubes,
            bases: Basis::ALL.iter().map(ToString::to_string).collect(),
            sheens: [Sheen::Gloss, Sheen::Satin, Sheen::Matt].map(|it| it.to_string()).into(),
            illuminants: [Illuminant::D65, Illuminant::D50, Illuminant::A]
                .map(|it| it.to_string())
                .into(),
            observers: [Observer::Ten, Observer::Two].map(|it| it.to_string()).into(),
        })
    }

    pub fn with(self, errors: FieldErrors) -> Self {
        Self { errors, ..self }
    }
}

impl Choice {
    fn new(
        shelf: &ShelfTube,
        known: Option<&KnownColour>,
        form: &TrialForm,
    ) -> Result<Self, askama::Error> {
        let id = shelf.id.0.to_string();
        let paint = |colour| known.map(|known| Paint::of(colour, known.conditions));
        let tube = &shelf.tube;
        let words = [tube.maker.clone(), tube.code()];
        Ok(Self {
            tested: form.tested.contains(&id),
            id,
            upright: MiniUpright {
                title: tube.name.clone(),
                mass_tone: known.and_then(|known| known.mass_tone.as_ref()).and_then(paint),
                truest: known
                    .and_then(|known| known.truest.as_ref())
                    .and_then(|(_, colour)| paint(colour)),
            }
            .render()?,
            name: tube.name.clone(),
            about: words
                .into_iter()
                .filter(|word| !word.is_empty())
                .collect::<Vec<_>>()
                .join(" · "),
        })
    }
}

/// The swatches of a trial, numbered and labelled before painting.
#[derive(Template, WebTemplate)]
#[template(path = "plan/sheet.html")]
pub(crate) struct SheetPage {
    frame: Frame,
    heading: Heading,
    id: i64,
    summary: String,
    roles: String,
    groups: Vec<Group>,
    cautions: Vec<Caution>,
    deferral: &'static str,
}

/// The squares that share their tubes.
struct Group {
    title: String,
    squares: Vec<Square>,
}

struct Square {
    number: u32,
    ratio: String,
    amounts: String,
    readings: String,
}

impl SheetPage {
    pub fn new(frame: Frame, heading: Heading, trial: &Trial) -> Self {
        let (tubes, white) = (trial.labels(), trial.white());
        let mut groups: Vec<Group> = Vec::new();
        for planned in &trial.swatches {
            let label = planned.swatch.label(&tubes, white);
            let bare = planned.swatch.mixture.is_bare();
            let title = if bare { "Bare backings".to_owned() } else { label.tubes.clone() };
            let square = Square {
                number: planned.swatch.number,
                ratio: if bare { label.tubes } else { label.ratio },
                amounts: amounts(&planned.swatch.mixture, trial),
                readings: valid_readings(trial, planned.id),
            };
            match groups.iter_mut().find(|group| group.title == title) {
                Some(group) => group.squares.push(square),
                None => groups.push(Group { title, squares: vec![square] }),
            }
        }
        let repeats = trial.circumstances.repeats as usize;
        let summary = format!(
            "{}, {} of each, {} to take.",
            counted(trial.swatches.len(), "swatch", "swatches"),
            counted(repeats, "reading", "readings"),
            trial.swatches.len() * repeats
        );
        Self {
            frame,
            heading,
            id: trial.id.0,
            summary,
            roles: roles(trial),
            groups,
            cautions: cautions(trial.tubes.iter().map(|tube| &tube.tube.tube)),
            deferral: DEFERRAL,
        }
    }
}

fn roles(trial: &Trial) -> String {
    let named = |role: Role| {
        let tubes = trial.tubes.iter().filter(|tube| tube.role == role);
        tubes.map(|tube| tube.tube.tube.name.clone()).collect::<Vec<_>>().join(", ")
    };
    let reference = named(Role::Reference);
    if reference.is_empty() {
        return format!("Read from a file: {}.", named(Role::Tested));
    }
    format!("{} against {reference}, with {}.", named(Role::Tested), named(Role::White))
}

/// Grams of each tube in one pile, in the order of the group's title, the white last:
/// `1.50 g + 0.50 g + 2.00 g white`.
fn amounts(mixture: &Mixture, trial: &Trial) -> String {
    let Some(grams) = trial.grams(mixture) else { return String::new() };
    let white = trial.white();
    let (of_white, colours): (Vec<_>, Vec<_>) =
        mixture.parts().iter().zip(grams).partition(|(part, _)| Some(part.tube) == white);
    let words = colours.iter().map(|(_, grams)| format!("{grams:.2} g"));
    let white = of_white.iter().map(|(_, grams)| format!("{grams:.2} g white"));
    words.chain(white).collect::<Vec<_>>().join(" + ")
}

fn valid_readings(trial: &Trial, swatch: store::SwatchId) -> String {
    let of_swatch = trial.readings.iter().filter(|stored| stored.swatch == swatch);
    let (void, valid): (Vec<_>, Vec<_>) =
        of_swatch.partition(|stored| stored.reading.void.is_some());
    match (valid.len(), void.len()) {
        (0, 0) => String::new(),
        (valid, 0) => counted(valid, "reading", "readings"),
        (valid, void) => format!("{}, {void} void", counted(valid, "reading", "readings")),
    }
}
