//! Finished text of one picture.

use askama::Template;
use askama_web::WebTemplate;
use colour::{Conditions, Lab};
use picture::{CellRefusal, Flag};
use workshop::{PictureRead, Square, Trial, WhyNotTaken};

use crate::draw::Paint;
use crate::frame::{Frame, Heading};
use crate::pages::bench::lab_line;
use crate::words::{counted, number};

/// One picture of a sheet.
#[derive(Template, WebTemplate)]
#[template(path = "pictures/page.html")]
pub(crate) struct PicturePage {
    frame: Frame,
    heading: Heading,
    id: i64,
    picture: i64,
    headline: String,
    evidence: String,
    remarks: Vec<String>,
    unread: Vec<Unread>,
    /// The straightened sheet and what lies around it, mm.
    image: Area,
    outlines: Vec<Outline>,
    chosen: Option<Chosen>,
    doubtful: Vec<Row>,
    planned: Vec<Row>,
    more_planned: Vec<Row>,
    /// Of tubes that nobody read before, beside typical paints of their pigments.
    typical: Vec<Row>,
    others: Vec<Row>,
    left: Vec<Row>,
    estimates: Vec<String>,
    to_take: usize,
    take: String,
    recorded: usize,
    /// Nothing calibrates it: the palette's card would.
    wants_card: bool,
    /// It was ruled by hand: its corners can be moved.
    is_chart: bool,
}

struct Area {
    x: String,
    y: String,
    width: String,
    height: String,
}

/// Where a square is read: the inner 60 % of its side.
struct Outline {
    number: u32,
    label: String,
    area: Area,
    class: &'static str,
}

/// A square in a list.
struct Row {
    number: u32,
    label: String,
    why: String,
    /// `2.1 ± 1.8`, from what was planned; empty where nothing was.
    off: String,
    read: Option<Paint>,
    planned: Option<Paint>,
    /// What can be done about it: `leave-out`, `take` or nothing.
    act: &'static str,
    act_label: &'static str,
}

/// Squares that could not be read for one reason.
struct Unread {
    title: String,
    advice: &'static str,
    squares: Vec<(u32, String)>,
}

/// The square that is looked at.
struct Chosen {
    row: Row,
    lab: String,
    moved: [f64; 2],
    right: String,
    down: String,
}

/// Of what was as planned, so much is shown at once.
const SHOWN: usize = 8;
/// One step of an outline, mm.
const STEP_MM: f64 = 0.5;
/// What a square's colour is read from, as a share of its side.
const INNER: f64 = 0.6;

impl PicturePage {
    pub fn new(
        frame: Frame,
        mut heading: Heading,
        trial: &Trial,
        read: &PictureRead,
        asked: Option<u32>,
    ) -> Self {
        let conditions = trial.circumstances.conditions;
        let row = |square: &Square| Row::of(square, conditions);
        let squares = &read.squares;
        let left_alone = |square: &&Square| {
            matches!(
                square.why_not,
                Some(WhyNotTaken::LeftOut | WhyNotTaken::ReadBetter | WhyNotTaken::Spoilt)
            )
        };
        let doubtful = squares.iter().filter(|it| is_doubtful(it) && !left_alone(it));
        let fine = || squares.iter().filter(|it| !it.needs_a_look() && !left_alone(it));
        // A typical paint is not this tube: beside it nothing is as planned, or otherwise.
        let by = |it: &&Square| it.planned.map(|planned| planned.typical);
        let mut planned: Vec<Row> = fine().filter(|it| by(it) == Some(false)).map(row).collect();
        let more_planned = planned.split_off(planned.len().min(SHOWN));
        let (to_take, recorded) = (read.to_take().count(), read.recorded());
        let sheets = match trial.plan.as_ref().map_or(0, |plan| plan.sheets.len()) {
            0 | 1 => String::new(),
            count => format!(" of {count}"),
        };
        let is_chart = trial.chart.is_some();
        heading.about = match is_chart {
            true => format!("a chart that was not printed here · a {}", read.picture.source),
            false => format!("sheet {}{sheets} · a {}", read.picture.sheet, read.picture.source),
        };
        Self {
            id: trial.id.0,
            picture: read.picture.id.0,
            headline: headline(read),
            evidence: evidence(read),
            remarks: remarks(read),
            unread: unread(read),
            image: Area::of(
                [-read.margin_mm; 2],
                [read.sheet.width_mm, read.sheet.height_mm].map(|it| it + 2.0 * read.margin_mm),
            ),
            outlines: squares.iter().map(|it| Outline::of(it, asked)).collect(),
            chosen: asked
                .and_then(|asked| squares.iter().find(|it| it.read.number == asked))
                .map(|square| Chosen::of(square, row(square))),
            doubtful: doubtful.map(row).collect(),
            planned,
            more_planned,
            typical: fine().filter(|it| by(it) == Some(true)).map(row).collect(),
            others: fine().filter(|it| by(it).is_none()).map(row).collect(),
            left: squares.iter().filter(left_alone).map(row).collect(),
            estimates: estimates(read),
            take: match to_take {
                1 => "Take this reading".into(),
                count => format!("Take these {count} readings"),
            },
            wants_card: !is_calibrated(read),
            is_chart,
            to_take,
            recorded,
            frame,
            heading,
        }
    }
}

impl PicturePage {
    /// Says so where the card in it should be read again.
    pub fn and_of_its_card(mut self, is_due: bool) -> Self {
        if is_due {
            let due = "The card in it should be read again by a meter: the known squares of its pictures lie \
                       farther from their colours than at first.";
            self.remarks.insert(0, due.into());
        }
        self
    }
}

/// `38 squares read, right within ΔE00 1.9; 2 need a look.`
fn headline(read: &PictureRead) -> String {
    if read.recorded() > 0 && read.to_take().next().is_none() {
        let taken = counted(read.recorded(), "reading", "readings");
        let are = if read.recorded() == 1 { "is" } else { "are" };
        return format!("{taken} {are} taken from this picture.");
    }
    let told = read.squares.iter().filter(|it| it.read.lab.is_some()).count();
    let count = counted(told, "square", "squares");
    let unread = read.squares.len() - told;
    let look = read.squares.iter().filter(|it| is_doubtful(it)).count();
    let mut rest = Vec::new();
    if unread > 0 {
        rest.push(format!("; {unread} cannot be read"));
    }
    match look {
        0 => {}
        1 => rest.push("; one needs a look".into()),
        look => rest.push(format!("; {look} need a look")),
    }
    let rest = rest.concat();
    match within(read, |it| it.read.is_anchored).or_else(|| within(read, |_| true)) {
        Some(most) if is_calibrated(read) => {
            format!("{count} read, right within ΔE00 {}{rest}.", number(most, 1))
        }
        _ => format!("{count} read for comparing, not for colour{rest}."),
    }
}

/// The U that nearly all of some squares have: a few are less sure.
fn within(read: &PictureRead, of: impl Fn(&Square) -> bool) -> Option<f64> {
    let mut all: Vec<f64> =
        read.squares.iter().filter(|it| of(it)).filter_map(|it| it.read.u).collect();
    all.sort_by(f64::total_cmp);
    all.get(all.len().saturating_sub(1) * 9 / 10).copied()
}

/// It has a colour, and needs a look all the same.
fn is_doubtful(square: &Square) -> bool {
    square.read.lab.is_some() && square.needs_a_look()
}

fn is_calibrated(read: &PictureRead) -> bool {
    read.reading.calibration.as_ref().is_some_and(|told| told.is_calibrated)
}

/// What the colours rest on, in one line.
fn evidence(read: &PictureRead) -> String {
    let Some(told) = &read.reading.calibration else { return String::new() };
    let known = counted(told.anchors, "square", "squares");
    match (told.is_calibrated, told.anchors) {
        (true, _) => format!(
            "{known} of known colour{} calibrate it. What is compared within one picture is surer than that.",
            of_card(told.of_card)
        ),
        (false, 0) => {
            "No square's colour is known here: compare the squares of this picture, and nothing \
                       else."
                .into()
        }
        (false, _) => format!(
            "{known} of known colour {} too few to calibrate it: compare the squares of this picture, and \
             nothing else.",
            if told.anchors == 1 { "is" } else { "are" }
        ),
    }
}

/// How many of the known squares lie on a card.
fn of_card(count: usize) -> String {
    if count > 0 { format!(", {count} of them on the card,") } else { String::new() }
}

/// Share of the squares that the device cannot record from which on another exposure is worth while.
const MANY_BEYOND: f64 = 0.15;

/// What else is to be known of it.
fn remarks(read: &PictureRead) -> Vec<String> {
    let mut lines = Vec::new();
    if read.simulated {
        lines.push(
            "A simulated device drew this picture, or read what calibrates it: it shows how the work goes, \
             and says nothing of any paint."
                .into(),
        );
    }
    let told = read.reading.calibration.as_ref();
    match told.and_then(|told| told.leave_one_out) {
        Some(off) => lines.push(format!(
            "Each square of known colour, told by the others, is off by ΔE00 {} in the middle.",
            number(off, 1)
        )),
        None => lines.push(format!(
            "With {} squares of known colour a picture is calibrated: what a meter reads of this sheet, or \
             has read of the same mixtures in another trial.",
            picture::LEAST_ANCHORS
        )),
    }
    for (number, why) in told.map_or(&[][..], |told| &told.doubted) {
        lines.push(format!(
            "The known colour of {} was not used: {why}.",
            picture::square_named(*number)
        ));
    }
    lines.extend(read.reading.not_flat());
    let beyond = read.squares.iter().filter(|it| it.read.why == Some(CellRefusal::Clipped)).count();
    if beyond as f64 >= MANY_BEYOND * read.squares.len() as f64 && beyond > 0 {
        lines.push(format!(
            "{} more than this device records: take the picture once more, one stop darker (−1).",
            counted(beyond, "square is", "squares are")
        ));
    }
    let guessed = read.squares.iter().filter(|it| it.read.lab.is_some() && !it.read.is_anchored);
    let guessed = guessed.filter(|it| !it.is_bare).count();
    if is_calibrated(read) && guessed > 0 {
        let unsure = within(read, |it| !it.read.is_anchored).unwrap_or_default();
        lines.push(format!(
            "{} of tubes without a known square: their colour is a guess within ΔE00 {}, helped by what is typical of their \
             pigments; comparisons hold.",
            counted(guessed, "square is", "squares are"),
            number(unsure, 0)
        ));
    }
    lines
}

/// Squares that have no colour, by why.
fn unread(read: &PictureRead) -> Vec<Unread> {
    let mut groups: Vec<Unread> = Vec::new();
    for square in read.squares.iter().filter(|it| it.read.lab.is_none()) {
        let why = square.read.why;
        let title = why.map_or_else(|| "not read".to_owned(), |why| why.to_string());
        let (number, label) = (square.read.number, square.label.clone());
        match groups.iter_mut().find(|group| group.title == title) {
            Some(group) => group.squares.push((number, label)),
            None => groups.push(Unread {
                advice: why.map_or("", advice),
                squares: vec![(number, label)],
                title,
            }),
        }
    }
    groups
}

fn advice(why: CellRefusal) -> &'static str {
    match why {
        CellRefusal::Outside => "Take the whole sheet into the picture.",
        CellRefusal::Clipped => {
            "Thick paint this deep or vivid is more than a picture holds. Its tints tell of it; a meter \
             reads it."
        }
        CellRefusal::Shaded => "Even out the light, and take another picture.",
        CellRefusal::NoPaint => {
            "Look whether paint or a shadow lies beside the square, and take another picture."
        }
    }
}

fn estimates(read: &PictureRead) -> Vec<String> {
    let label = |number: u32| {
        let found = read.squares.iter().find(|it| it.read.number == number);
        found.map_or_else(String::new, |it| it.label.clone())
    };
    let contrast = |it: &picture::ContrastEstimate| {
        format!(
            "{}: contrast ratio about {} ± {}",
            label(it.over_black),
            number(it.ratio, 0),
            number(it.half_width, 0)
        )
    };
    let staining = |it: &picture::StainingEstimate| {
        let (percent, half_width) = (number(it.percent, 0), number(it.half_width, 0));
        format!("{}: staining about {percent} ± {half_width} %", label(it.number))
    };
    let contrast = read.estimates.contrast_ratios.iter().map(contrast);
    contrast.chain(read.estimates.staining.iter().map(staining)).collect()
}

impl Area {
    fn of([x, y]: [f64; 2], [width, height]: [f64; 2]) -> Self {
        let [x, y, width, height] = [x, y, width, height].map(|it| format!("{it:.2}"));
        Self { x, y, width, height }
    }
}

impl Outline {
    fn of(square: &Square, asked: Option<u32>) -> Self {
        let side = INNER * square.side_mm;
        let inset = (square.side_mm - side) / 2.0;
        let class = match (&square.why_not, square.needs_a_look()) {
            _ if asked == Some(square.read.number) => "outline is-chosen",
            (Some(WhyNotTaken::LeftOut | WhyNotTaken::ReadBetter), _) => "outline is-left",
            (_, true) => "outline is-doubtful",
            _ => "outline",
        };
        Self {
            number: square.read.number,
            label: square.label.clone(),
            area: Area::of(square.place_mm.map(|at| at + inset), [side; 2]),
            class,
        }
    }
}

impl Row {
    fn of(square: &Square, conditions: Conditions) -> Self {
        let paint = |lab: Lab| Paint::predicted(lab, conditions);
        let off = square.off().zip(square.read.u);
        let (act, act_label) = match square.why_not {
            _ if square.is_recorded => ("", ""),
            None => ("leave-out", "Leave it out"),
            Some(WhyNotTaken::LeftOut) => ("take", "Take it after all"),
            Some(WhyNotTaken::NeedsALook | WhyNotTaken::NotPainted) => {
                ("take", "Take it all the same")
            }
            Some(WhyNotTaken::Unreadable | WhyNotTaken::ReadBetter | WhyNotTaken::Spoilt) => {
                ("", "")
            }
        };
        let is_typical = square.planned.is_some_and(|planned| planned.typical);
        Self {
            number: square.read.number,
            label: square.label.clone(),
            why: why(square),
            off: off.filter(|_| !is_typical).map_or_else(String::new, |(off, u)| {
                format!("{} ± {}", number(off, 1), number(u, 1))
            }),
            read: square.read.lab.map(paint),
            planned: square.planned.map(|planned| paint(planned.lab)),
            act,
            act_label,
        }
    }
}

impl Chosen {
    fn of(square: &Square, row: Row) -> Self {
        let told = square.read.lab.zip(square.read.u);
        Self {
            row,
            lab: told.map_or_else(String::new, |(lab, u)| {
                format!("{} ± ΔE00 {}", lab_line(&lab), number(u, 1))
            }),
            moved: square.moved_mm,
            right: format!("{:.1}", square.moved_mm[0]),
            down: format!("{:.1}", square.moved_mm[1]),
        }
    }

    /// The way to the right or down with one more step.
    fn stepped(&self, axis: usize, steps: &f64) -> String {
        format!("{:.1}", self.moved[axis] + steps * STEP_MM)
    }

    fn is_moved(&self) -> bool {
        self.moved.iter().any(|axis| axis.abs() > 0.01)
    }
}

/// What there is to say of a square, in words.
fn why(square: &Square) -> String {
    let mut words: Vec<String> = Vec::new();
    match square.why_not {
        Some(WhyNotTaken::LeftOut) => words.push("left out".into()),
        Some(WhyNotTaken::ReadBetter) => {
            words.push("read by something better already, which counts".into());
        }
        Some(WhyNotTaken::Spoilt) => words.push("spoilt, and not laid again".into()),
        _ => {}
    }
    words.extend(square.read.why.map(|why| why.to_string()));
    words.extend(square.read.flags.iter().map(|flag| flag_words(*flag).to_owned()));
    if square.is_not_as_planned() {
        words.push("far from what was planned: another ratio, or another tube?".into());
    }
    if square.planned.is_some_and(|planned| planned.typical) {
        words.push("planned by a typical paint".into());
    }
    words.join("; ")
}

fn flag_words(flag: Flag) -> &'static str {
    match flag {
        Flag::NotPainted => "looks like bare paper: not painted?",
        Flag::TwoTone => "two-tone: half of it may be wet, or mixed badly",
        Flag::Granulates => "dried speckled",
        Flag::Swapped => "it and another look as each other should: exchanged?",
        Flag::Glare => "glare: tilt the phone, or move the lamp to the side",
        Flag::Veiled => {
            "lighter all over: a window or a lamp mirrored in it, or more white than planned?"
        }
        Flag::Streaky => "streaky",
    }
}
