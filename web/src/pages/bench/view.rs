//! Finished text of the bench.

use std::collections::{BTreeMap, HashMap};

use askama::Template;
use askama_web::WebTemplate;
use bench::{BarShows, Grain, PaceEvidence, Time, Word};
use plan::cautions::cautions;
use plan::{CellNumber, Naming};
use sheet::PlacedCell;
use study::{Part, State};
use workshop::{
    MeterInfo, OpenTrial, PlannedSwatch, Prompt, ReadingCheck, SwatchId, Waiting, WorkOrder,
    drift_line, until,
};

use super::Typed;
use super::devices::Plugs;
use super::form::{LabForm, LayForm};
use super::last::last_entry;
use super::looks::{LookAsk, LookChoice};
use super::mixing::Mixing;
use super::readings::{ReadingRow, paint, rows};
use crate::draw::{MapCell, MapState, Neighbour, Paint, SheetMap, neighbours};
use crate::frame::{Frame, Heading};
use crate::pages::fields::FieldErrors;
use crate::words::{hours, parts};

/// What is known besides the records.
pub(crate) struct Telling {
    /// What the eye may say of the swatch that lies before it.
    pub look: Option<LookAsk>,
    /// What lifting may leave, where it is judged by eye.
    pub lifts: Vec<LookChoice>,
    pub check: ReadingCheck,
    /// The prediction rests on a typical paint.
    pub typical: bool,
    pub neighbours: Vec<Neighbour>,
    pub prompt: Prompt,
    pub state: State,
    /// The user chose the state, which asks for a reading of it.
    pub chosen: bool,
    pub pace: PaceEvidence,
    pub now: Time,
    pub waiting: Option<Waiting>,
    /// `None` where readings can only be typed or come from a file.
    pub meter: Option<MeterInfo>,
    pub has_scale: bool,
    pub plugs: Option<Plugs>,
}

/// One swatch at hand.
#[derive(Template, WebTemplate)]
#[template(path = "bench/page.html")]
pub(crate) struct BenchPage {
    frame: Frame,
    heading: Heading,
    id: i64,
    number: CellNumber,
    token: String,
    progress: String,
    /// Share of swatches done, percent, for the bar.
    done: usize,
    time_left: String,
    wanted: String,
    what: String,
    where_to: String,
    /// Maker and pigments where one tube stands alone.
    about: String,
    /// The sheet it stands on.
    sheet: Option<usize>,
    /// Every sheet with the number of its first swatch.
    sheets: Vec<(usize, CellNumber)>,
    prompt: Prompt,
    mixing: Mixing,
    /// What to put out, where nothing was planned.
    mixture: Vec<MixLine>,
    /// `#rrggbb` of the predicted colour; empty where it cannot be told.
    predicted: String,
    /// `predicted`, or `typical` where a tube of it was never read.
    predicted_as: &'static str,
    check: ReadingCheck,
    trouble: String,
    waiting: String,
    drift: String,
    drying: String,
    how_to_read: &'static str,
    /// What in this swatch can hurt; the sheet tells what to do.
    cautions: String,
    state_word: String,
    planned: bool,
    /// The meter is a simulated one, and something is left to read.
    can_read_all: bool,
    has_scale: bool,
    /// What the meter is called; empty where there is none.
    meter: String,
    /// A copy of the trial would help.
    copy_helps: bool,
    /// A reading more than was planned is wanted.
    again: bool,
    /// The user chose in which state it is read.
    chosen: bool,
    plugs: Option<Plugs>,
    look: Option<LookAsk>,
    lifts: Vec<LookChoice>,
    /// The reference to dab beside the row; empty where none is.
    dab: String,
    readings: Vec<ReadingRow>,
    /// Readings of this swatch that are not shown here.
    more_readings: usize,
    /// What was seen, judged or spoilt, oldest first.
    seen: Vec<String>,
    /// What can be taken back: its name in the form, and what it says.
    last: Option<(String, String)>,
    finished: bool,
    before: Option<CellNumber>,
    after: Option<CellNumber>,
    map: String,
    /// The swatch between its neighbours; empty where nothing is known of them.
    between: String,
    tubes: Vec<String>,
    lab: LabForm,
    errors: FieldErrors,
    conditions: String,
}

/// One tube to put out.
struct MixLine {
    name: String,
    about: String,
    parts: String,
}

impl BenchPage {
    pub(super) fn new(
        frame: Frame,
        heading: Heading,
        (trial, planned): (&OpenTrial, &PlannedSwatch),
        order: &WorkOrder<'_>,
        telling: Telling,
        typed: Typed,
    ) -> Result<Self, askama::Error> {
        let label = trial.naming().swatch(&planned.swatch);
        let number = planned.swatch.number;
        let at = order.place(number);
        let bare = planned.swatch.mixture.is_bare();
        let on_sheet = trial.sheet_numbers();
        let repeats = trial.circumstances.repeats as usize;
        let left = trial.missing(planned.id, telling.state);
        let (all, done) = done(trial, order, telling.now);
        let (readings, more_readings) = rows(trial, planned);
        Ok(Self {
            id: trial.id.0,
            number,
            token: crate::token::new(),
            progress: progress(order, all, done, telling.now),
            done: 100 * done / all.max(1),
            time_left: time_left(trial, order, done, &telling),
            wanted: wanted(&telling, repeats, left),
            what: if bare { format!("Read the {}", label.tubes) } else { label.tubes },
            where_to: if bare { "Nothing is painted here.".to_owned() } else { label.ratio },
            about: alone(trial, planned),
            sheet: on_sheet.get(&number).copied(),
            sheets: firsts(&on_sheet),
            mixing: mixing(trial, planned, order, &typed.lay, &typed.errors),
            mixture: mix_lines(trial, planned),
            predicted: predicted(&telling.check, trial),
            predicted_as: if telling.typical { "typical" } else { "predicted" },
            check: telling.check,
            trouble: typed.trouble,
            waiting: telling.waiting.map_or_else(String::new, |waiting| {
                format!(
                    "Waiting for the meter: leave its head on cell {}. The reading is taken as soon as \
                     the meter answers; meanwhile the run can go on.",
                    waiting.number
                )
            }),
            drift: drift_line(trial),
            drying: drying(order, number, telling.now),
            how_to_read: how_to_read(telling.state),
            cautions: caution_line(trial, planned),
            state_word: telling.state.to_string(),
            planned: order.run().is_some(),
            can_read_all: order.first_open().is_some()
                && telling.meter.as_ref().is_some_and(|meter| meter.simulated),
            has_scale: telling.has_scale,
            meter: telling.meter.map_or_else(String::new, |meter| meter.name),
            copy_helps: typed.copy_helps,
            again: typed.again,
            chosen: telling.chosen,
            plugs: telling.plugs,
            look: telling.look,
            lifts: telling.lifts,
            dab: dab(trial, number),
            readings,
            more_readings,
            seen: seen(order, number),
            last: last_entry(trial),
            finished: order.next(telling.now).is_none(),
            before: at.checked_sub(1).and_then(|at| order.number(at)),
            after: order.number(at + 1),
            map: sheet_map(trial, order, planned).svg()?,
            between: neighbours(&telling.neighbours)?,
            tubes: trial.called().into_iter().map(|tube| tube.name).collect(),
            lab: typed.lab,
            errors: typed.errors,
            conditions: trial.circumstances.conditions.to_string(),
            prompt: telling.prompt,
            frame,
            heading,
        })
    }

    fn words() -> &'static [Word] {
        Word::ALL
    }

    /// Each with its key and what is said of it.
    fn bars() -> [(&'static str, BarShows, &'static str); 4] {
        [
            ("h", BarShows::Hidden, "Nothing of it"),
            ("j", BarShows::Trace, "A trace"),
            ("k", BarShows::Plain, "Plain to see"),
            ("l", BarShows::Full, "As black as bare"),
        ]
    }

    fn grains() -> [(&'static str, Grain, &'static str); 3] {
        [
            ("h", Grain::None, "Smooth"),
            ("j", Grain::Slight, "Slightly speckled"),
            ("k", Grain::Marked, "Plainly speckled"),
        ]
    }
}

fn predicted(check: &ReadingCheck, trial: &OpenTrial) -> String {
    let paint = check.predicted.map(|lab| Paint::predicted(lab, trial.circumstances.conditions));
    paint.map_or_else(String::new, |paint| paint.fill)
}

/// Swatches in all, and those with nothing left to do; for a trial from a file, those that were read.
fn done(trial: &OpenTrial, order: &WorkOrder<'_>, now: Time) -> (usize, usize) {
    match order.run() {
        Some(run) => (trial.swatches.len(), run.tally(now).done),
        None => {
            let read = trial.swatches.iter().filter(|it| trial.dry_readings(it.id) > 0);
            (trial.swatches.len(), read.count())
        }
    }
}

/// `14 of 38 done · 3 drying · 1 left out`.
fn progress(order: &WorkOrder<'_>, all: usize, done: usize, now: Time) -> String {
    let mut words = vec![format!("{done} of {all} done")];
    if let Some(tally) = order.run().map(|run| run.tally(now)) {
        words.extend((tally.drying > 0).then(|| format!("{} drying", tally.drying)));
        words.extend((tally.skipped > 0).then(|| format!("{} left out", tally.skipped)));
    }
    words.join(" · ")
}

/// `about 1 h 20 min left at your pace`, from the plan's times.
fn time_left(trial: &OpenTrial, order: &WorkOrder<'_>, done: usize, telling: &Telling) -> String {
    let Some(run) = order.run().filter(|_| done < trial.swatches.len()) else {
        return String::new();
    };
    let factor = telling.pace.factor();
    let (table, until_end) = run.minutes_left(telling.now, factor);
    let pace = if factor.is_some() { " at your pace" } else { "" };
    let drying = until_end - table;
    let waiting = if drying > 5.0 { format!(" + {} drying", hours(drying)) } else { String::new() };
    format!("about {}{waiting} left{pace}", hours(table))
}

/// `reading 2 of 3, dry` where one is wanted.
fn wanted(telling: &Telling, repeats: usize, left: usize) -> String {
    match telling.prompt {
        Prompt::Lay => "to be laid".into(),
        Prompt::Bar | Prompt::Grain => "to be judged".into(),
        Prompt::Lift => "to be lifted".into(),
        _ if repeats == 0 => "nothing to read".into(),
        _ if left == 0 => format!("{repeats} of {repeats} read, {}", telling.state),
        _ => format!("reading {} of {repeats}, {}", repeats - left + 1, telling.state),
    }
}

fn mixing(
    trial: &OpenTrial,
    planned: &PlannedSwatch,
    order: &WorkOrder<'_>,
    form: &LayForm,
    errors: &FieldErrors,
) -> Mixing {
    order.run().map_or_else(Mixing::default, |run| Mixing::of(trial, planned, run, form, errors))
}

/// When this swatch is dry; empty where that is past or nothing is laid.
fn drying(order: &WorkOrder<'_>, number: CellNumber, now: Time) -> String {
    let due = order.run().and_then(|run| run.dry_time(number)).filter(|due| *due > now);
    due.map_or_else(String::new, |due| format!("dry {}", until(due, now)))
}

/// What was seen of a swatch besides its readings.
fn seen(order: &WorkOrder<'_>, number: CellNumber) -> Vec<String> {
    let Some(square) = order.run().and_then(|run| run.square(number)) else { return Vec::new() };
    let spoilt = square.spoilt.iter().map(|reason| format!("painted before, and void: {reason}"));
    let bar = square.bar.map(|bar| format!("the bar by eye: {bar} ({}, an estimate)", bar.class()));
    let grain = square.grain.map(|grain| format!("granulation by eye: {grain}"));
    let observed = square.observed.iter().map(|(words, note)| {
        let words = words.iter().map(ToString::to_string).chain([note.clone()]);
        words.filter(|word| !word.is_empty()).collect::<Vec<_>>().join(", ")
    });
    let looks = square.looks.words();
    spoilt.chain(bar).chain(grain).chain(looks).chain(observed).collect()
}

/// The reference that is dabbed beside the row of a swatch.
fn dab(trial: &OpenTrial, number: CellNumber) -> String {
    let tube = trial.planned().and_then(|plan| plan.dab_beside(number));
    let called = tube.and_then(|tube| trial.called().into_iter().nth(tube.0));
    called.map_or_else(String::new, |tube| tube.name)
}

fn maker_and_codes(tube: &study::Tube) -> String {
    let words = [tube.maker.clone(), tube.code()];
    words.into_iter().filter(|word| !word.is_empty()).collect::<Vec<_>>().join(" · ")
}

fn alone(trial: &OpenTrial, planned: &PlannedSwatch) -> String {
    match planned.swatch.mixture.parts() {
        [only] => trial.tubes.get(only.tube.0).map_or_else(String::new, |tube| {
            format!("{}, straight from the tube", maker_and_codes(&tube.tube.tube))
        }),
        _ => String::new(),
    }
}

/// What to put out, for a mixture of two tubes or more that came from a file.
fn mix_lines(trial: &OpenTrial, planned: &PlannedSwatch) -> Vec<MixLine> {
    let mixture = &planned.swatch.mixture;
    if trial.plan.is_some() || mixture.parts().len() < 2 {
        return Vec::new();
    }
    mixture.parts().iter().filter_map(|part| typed_line(trial, part)).collect()
}

fn typed_line(trial: &OpenTrial, part: &Part) -> Option<MixLine> {
    let tube = &trial.tubes.get(part.tube.0)?.tube.tube;
    Some(MixLine {
        name: tube.name.clone(),
        about: maker_and_codes(tube),
        parts: if (part.parts - 1.0).abs() < 1e-9 {
            "1 part".into()
        } else {
            format!("{} parts", parts(part.parts))
        },
    })
}

/// `chromium (Sap Green), acrylic` for the tubes of this swatch.
fn caution_line(trial: &OpenTrial, planned: &PlannedSwatch) -> String {
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
        State::Lifted => "Lay the head on the half that was lifted, once that is dry again.",
    }
}

/// The sheet that a swatch stands on, ruled as it is printed; every square for a trial from a file.
fn sheet_map(trial: &OpenTrial, order: &WorkOrder<'_>, at_hand: &PlannedSwatch) -> SheetMap {
    let states = SquareStates::of(trial, order, at_hand);
    let Some(sheet) = trial.sheet_with(at_hand.swatch.number) else {
        return SheetMap::grid(trial.swatches.iter().map(|it| states.cell(it)).collect());
    };
    let square = |placed: &PlacedCell| {
        let planned = placed.number.of(&trial.swatches)?;
        Some((placed.x_mm, placed.y_mm, states.cell(planned)))
    };
    SheetMap {
        cells: sheet.cells.iter().filter_map(square).collect(),
        size: sheet.paper.size_mm(),
        side_mm: sheet.side_mm,
    }
}

/// Each sheet with the number of its first swatch.
fn firsts(on_sheet: &HashMap<CellNumber, usize>) -> Vec<(usize, CellNumber)> {
    let mut firsts: BTreeMap<usize, CellNumber> = BTreeMap::new();
    for (number, sheet) in on_sheet {
        let first = firsts.entry(*sheet).or_insert(*number);
        *first = (*first).min(*number);
    }
    firsts.into_iter().collect()
}

/// What the squares of a map look like.
struct SquareStates<'a> {
    trial: &'a OpenTrial,
    order: &'a WorkOrder<'a>,
    at_hand: SwatchId,
    naming: Naming,
}

impl<'a> SquareStates<'a> {
    fn of(trial: &'a OpenTrial, order: &'a WorkOrder<'a>, at_hand: &PlannedSwatch) -> Self {
        Self { trial, order, at_hand: at_hand.id, naming: trial.naming() }
    }

    fn cell(&self, planned: &PlannedSwatch) -> MapCell {
        let number = planned.swatch.number;
        let mut of_swatch = self.trial.readings_of(planned.id).rev();
        let read = self.trial.readings_of(planned.id).next().is_some();
        let valid = of_swatch.find(|stored| stored.reading.void.is_none());
        let label = self.naming.swatch(&planned.swatch);
        let square = self.order.run().and_then(|run| run.square(number));
        let laid = square.is_some_and(|square| square.laid.is_some());
        let spoilt = square.is_some_and(|square| !square.spoilt.is_empty());
        MapCell {
            number,
            title: format!("{number}: {} {}", label.tubes, label.ratio),
            href: format!("/trials/{}/bench/{number}", self.trial.id.0),
            state: match valid.and_then(|stored| paint(stored, self.trial)) {
                Some(paint) => MapState::Read(paint),
                None if laid => MapState::Laid,
                None if spoilt || read => MapState::Void,
                None => MapState::Unread,
            },
            here: planned.id == self.at_hand,
        }
    }
}
