//! Finished text of the bench.

use askama::Template;
use askama_web::WebTemplate;
use colour::{Lab, ciede2000};
use store::{PlannedSwatch, StoredReading, Trial};
use trial::figures::SwatchColour;
use trial::plan::cautions::cautions;
use trial::{Measured, Part, State};

use super::at_once::AtOnce;
use super::form::LabForm;
use super::run::Run;
use crate::draw::{MapCell, MapState, Paint, SheetMap};
use crate::frame::{Frame, Heading};
use crate::pages::fields::FieldErrors;
use crate::pages::steps::{MixStep, WorkList};
use crate::words::{hours, number, parts};

/// One swatch at hand.
#[derive(Template, WebTemplate)]
#[template(path = "bench/page.html")]
pub(crate) struct BenchPage {
    frame: Frame,
    heading: Heading,
    id: i64,
    number: u32,
    progress: String,
    /// Share of swatches done, percent, for the bar.
    done: usize,
    what: String,
    where_to: String,
    /// Maker and pigments where one tube stands alone.
    about: String,
    /// The sheet it stands on.
    sheet: Option<usize>,
    /// The steps that lead to it, as planned.
    steps: Vec<MixStep>,
    /// What to put out, where nothing was planned.
    mixture: Vec<MixLine>,
    at_once: AtOnce,
    time_left: String,
    how_to_read: &'static str,
    /// What in this swatch can hurt; the sheet tells what to do.
    cautions: String,
    state_word: String,
    wanted: String,
    enough: bool,
    something_left: bool,
    meter: String,
    readings: Vec<ReadingRow>,
    before: Option<u32>,
    after: Option<u32>,
    map: String,
    form: LabForm,
    errors: FieldErrors,
    conditions: String,
}

/// One tube to put out.
struct MixLine {
    name: String,
    about: String,
    parts: String,
}

/// One reading of this swatch.
struct ReadingRow {
    id: i64,
    repeat: u32,
    state: String,
    lab: String,
    off: String,
    fill: String,
    void: String,
}

impl BenchPage {
    pub fn new(
        frame: Frame,
        heading: Heading,
        trial: &Trial,
        (planned, state): (&PlannedSwatch, State),
        (run, at_once): (&Run<'_>, AtOnce),
        meter: &str,
        form: LabForm,
    ) -> Result<Self, askama::Error> {
        let label = planned.swatch.label(&trial.labels(), trial.white());
        let at = run.place(planned.swatch.number);
        let readings = reading_rows(trial, planned);
        let valid =
            readings.iter().filter(|row| row.void.is_empty() && row.state == state.to_string());
        let valid = valid.count();
        let repeats = trial.circumstances.repeats as usize;
        let done = trial.swatches.iter().filter(|it| trial.dry_readings(it.id) > 0).count();
        let bare = planned.swatch.mixture.is_bare();
        Ok(Self {
            frame,
            heading,
            id: trial.id.0,
            number: planned.swatch.number,
            progress: format!("{done} of {} swatches", trial.swatches.len()),
            done: 100 * done / trial.swatches.len().max(1),
            what: if bare { format!("Read the {}", label.tubes) } else { label.tubes },
            where_to: if bare { "Nothing is painted here.".to_owned() } else { label.ratio },
            about: alone(trial, planned),
            sheet: super::super::plan::sheet_of(trial).get(&planned.swatch.number).copied(),
            steps: steps(trial, planned),
            mixture: mix_lines(trial, planned),
            at_once,
            time_left: time_left(trial, done),
            how_to_read: how_to_read(state),
            cautions: caution_line(trial, planned),
            state_word: state.to_string(),
            wanted: format!("reading {} of {repeats}, {state}", (valid + 1).min(repeats)),
            enough: valid >= repeats,
            something_left: run.first_open().is_some(),
            meter: meter.to_owned(),
            readings,
            before: at.checked_sub(1).and_then(|at| run.number(at)),
            after: run.number(at + 1),
            map: sheet_map(trial, planned).svg()?,
            form,
            errors: FieldErrors::default(),
            conditions: trial.circumstances.conditions.to_string(),
        })
    }

    pub fn with(self, errors: FieldErrors) -> Self {
        Self { errors, ..self }
    }
}

fn maker_and_codes(tube: &trial::Tube) -> String {
    let words = [tube.maker.clone(), tube.code()];
    words.into_iter().filter(|word| !word.is_empty()).collect::<Vec<_>>().join(" · ")
}

fn alone(trial: &Trial, planned: &PlannedSwatch) -> String {
    match planned.swatch.mixture.parts() {
        [only] => trial.tubes.get(only.tube.0).map_or_else(String::new, |tube| {
            format!("{}, straight from the tube", maker_and_codes(&tube.tube.tube))
        }),
        _ => String::new(),
    }
}

/// The steps that lead to a swatch, for a trial that was planned.
fn steps(trial: &Trial, planned: &PlannedSwatch) -> Vec<MixStep> {
    let plan = trial.planned();
    plan.map_or_else(Vec::new, |plan| WorkList::of(trial, plan).steps_to(planned.swatch.number))
}

/// What to put out, for a mixture of two tubes or more that came from a file.
fn mix_lines(trial: &Trial, planned: &PlannedSwatch) -> Vec<MixLine> {
    let mixture = &planned.swatch.mixture;
    if trial.plan.is_some() || mixture.parts().len() < 2 {
        return Vec::new();
    }
    mixture.parts().iter().filter_map(|part| typed_line(trial, part)).collect()
}

/// `about 3 h 20 min left`, from the plan's time and the swatches that are done.
fn time_left(trial: &Trial, done: usize) -> String {
    let left = trial.swatches.len().saturating_sub(done) as f64;
    match trial.planned() {
        Some(plan) if left > 0.0 => {
            let all = plan.costs.table_minutes / trial.swatches.len().max(1) as f64;
            format!("about {} left", hours(all * left))
        }
        _ => String::new(),
    }
}

fn typed_line(trial: &Trial, part: &Part) -> Option<MixLine> {
    let tube = &trial.tubes.get(part.tube.0)?.tube.tube;
    let one = (part.parts - 1.0).abs() < 1e-9;
    Some(MixLine {
        name: tube.name.clone(),
        about: maker_and_codes(tube),
        parts: if one { "1 part".into() } else { format!("{} parts", parts(part.parts)) },
    })
}

/// `chromium (Sap Green), acrylic` for the tubes of this swatch.
fn caution_line(trial: &Trial, planned: &PlannedSwatch) -> String {
    let parts = planned.swatch.mixture.parts().iter();
    let tubes = parts.filter_map(|part| trial.tubes.get(part.tube.0)).map(|tube| &tube.tube.tube);
    cautions(tubes).into_iter().map(|caution| caution.about).collect::<Vec<_>>().join(", ")
}

fn how_to_read(state: State) -> &'static str {
    match state {
        State::Wet => "Hold the head just above the wet square, without touching the paint.",
        State::Dry => {
            "Lay the head flat on the dry square, away from its edges, and keep still until the \
             reading appears."
        }
        State::Lifted => {
            "Wet the dry square, brush it, dab it with tissue, let it dry, and lay the head on it."
        }
    }
}

fn reading_rows(trial: &Trial, planned: &PlannedSwatch) -> Vec<ReadingRow> {
    let of_swatch: Vec<&StoredReading> =
        trial.readings.iter().filter(|stored| stored.swatch == planned.id).collect();
    let lab =
        |stored: &StoredReading| stored.reading.measured.lab(trial.circumstances.conditions).ok();
    let mean_of = |state: State| {
        let same: Vec<Lab> = of_swatch
            .iter()
            .filter(|stored| stored.reading.void.is_none() && stored.reading.state == state)
            .filter_map(|stored| lab(stored))
            .collect();
        (same.len() > 1).then(|| Lab::mean(&same)).flatten()
    };
    of_swatch
        .iter()
        .rev()
        .map(|stored| {
            let reading = &stored.reading;
            let colour = lab(stored);
            let off = match (colour, mean_of(reading.state), &reading.void) {
                (Some(colour), Some(mean), None) => {
                    format!("ΔE {} from the mean", number(ciede2000(colour, mean).value(), 2))
                }
                _ => String::new(),
            };
            ReadingRow {
                id: stored.id.0,
                repeat: reading.repeat,
                state: reading.state.to_string(),
                lab: colour.map_or_else(String::new, |it| lab_line(&it)),
                off,
                fill: paint(stored, trial).map_or_else(String::new, |paint| paint.fill),
                void: reading.void.clone().unwrap_or_default(),
            }
        })
        .collect()
}

/// `L* 27.1  a* 12.0  b* −41.3`.
pub(crate) fn lab_line(lab: &Lab) -> String {
    format!("L* {}  a* {}  b* {}", number(lab.l, 1), number(lab.a, 1), number(lab.b, 1))
}

/// A single reading as a paint.
pub(crate) fn paint(stored: &StoredReading, trial: &Trial) -> Option<Paint> {
    let conditions = trial.circumstances.conditions;
    let measured = &stored.reading.measured;
    let colour = SwatchColour {
        lab: measured.lab(conditions).ok()?,
        reflectance: match measured {
            Measured::Spectrum(reflectance) => Some(*reflectance),
            Measured::Lab(_) => None,
        },
        repeats: 1,
        spread: None,
        half_width: [0.0; 3],
        band_half_width: None,
        line: None,
    };
    Some(Paint::of(&colour, conditions))
}

fn sheet_map(trial: &Trial, at_hand: &PlannedSwatch) -> SheetMap {
    let (tubes, white) = (trial.labels(), trial.white());
    let cell = |planned: &PlannedSwatch| {
        let of_swatch: Vec<_> =
            trial.readings.iter().filter(|stored| stored.swatch == planned.id).collect();
        let valid = of_swatch.iter().rev().find(|stored| stored.reading.void.is_none());
        let label = planned.swatch.label(&tubes, white);
        MapCell {
            number: planned.swatch.number,
            title: format!("{}: {} {}", planned.swatch.number, label.tubes, label.ratio),
            href: format!("/trials/{}/bench/{}", trial.id.0, planned.swatch.number),
            state: match (valid.and_then(|stored| paint(stored, trial)), of_swatch.is_empty()) {
                (Some(paint), _) => MapState::Read(paint),
                (None, true) => MapState::Unread,
                (None, false) => MapState::Void,
            },
            here: planned.id == at_hand.id,
        }
    };
    SheetMap { cells: trial.swatches.iter().map(cell).collect() }
}
