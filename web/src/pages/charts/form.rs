//! A hand-ruled chart as it is filled in: corners, squares, and what stands along both sides.

use std::collections::BTreeMap;

use sheet::{MOST_RULED, Ruling};
use study::ReadingSource;
use study::numbers::read_number;
use workshop::{ChartMeant, RuledChart, SidesHold, TypedChart, meant};

use crate::pages::fields::FieldErrors;
use crate::pages::names::TubeNames;

/// The fields, as far as they could be read.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct ChartForm {
    /// Pixels, clockwise from the chart's top left; `None` until somebody says where it lies.
    pub corners: Option<[[f64; 2]; 4]>,
    /// Where they are shown until then.
    pub guessed: [[f64; 2]; 4],
    pub source: ReadingSource,
    pub chart: RuledChart,
    /// The version that the page was opened with; empty where it does not say.
    pub read_at: String,
    /// Fields that are no numbers.
    pub wrong: FieldErrors,
}

/// What `hold` says.
pub(crate) const HOLDS: [(&str, SidesHold, &str); 3] = [
    ("tints", SidesHold::Tints, "Tints: a tube a line, more and more white"),
    ("ladders", SidesHold::Ladders, "Ladders: two tubes a line, from one to the other"),
    ("grid", SidesHold::Grid, "A grid: tubes along both sides"),
];

type Pairs = [(String, String)];

/// Letters of a field that are kept.
const LONGEST: usize = 2000;

/// `x0` to `y3`.
fn is_corner(key: &str) -> bool {
    matches!(key.as_bytes(), [b'x' | b'y', b'0'..=b'3'])
}

impl ChartForm {
    /// From the pairs of a request; fields that were not sent keep what is `known`.
    pub fn read(pairs: &Pairs, known: &Self) -> Self {
        let mut form = known.clone();
        form.wrong = FieldErrors::default();
        form.read_at = find(pairs, "read-at").unwrap_or_default();
        let value = |name: &str| find(pairs, name);
        let corner_fields = pairs.iter().filter(|(key, _)| is_corner(key));
        for (_, text) in corner_fields.filter(|(_, text)| !matches!(read_number(text), Ok(Some(_))))
        {
            let short: String = text.chars().take(20).collect();
            form.wrong.add(
                "corners",
                format!("a corner’s place is a number of pixels, and “{short}” is none"),
            );
        }
        // Corners that nobody touched tell nothing.
        let moved = |it: &[[f64; 2]; 4]| {
            let both = it.iter().flatten().zip(form.guessed.iter().flatten());
            both.into_iter().any(|(said, guessed)| (said - guessed).abs() > 0.05)
        };
        form.corners = corners(&value).filter(moved).or(form.corners);
        form.source = match value("source").as_deref() {
            Some("scan") => ReadingSource::Scan,
            Some("photo") => ReadingSource::Photo,
            _ => known.source,
        };
        // What stands in the squares is not sent once something was read.
        if value("hold").is_some() {
            let was_usual = known.has_usual_steps();
            form.ruling(&value);
            form.chart.typed = typed(pairs, &value);
            // Steps that nobody chose go with the number of squares.
            let same = form.chart.typed.steps == known.chart.typed.steps;
            if form.chart.typed.steps.is_empty() || (same && was_usual) {
                let (_, count) = form.lines_and_steps();
                form.chart.typed.steps = usual_steps(form.chart.typed.hold, count);
            }
        }
        form
    }

    /// What another page stored meanwhile, where it is not what was typed here: `Steps: “1:1”`.
    pub fn stored_otherwise(&self, stored: &Self) -> Vec<String> {
        let (mine, theirs) = (self.in_words(), stored.in_words());
        let none = |words: &[(String, String)], what: &str| {
            !words.iter().any(|(other, text)| other == what && !text.is_empty())
        };
        let mut told: Vec<String> = theirs
            .iter()
            .filter(|word| !mine.contains(word) && !word.1.is_empty())
            .map(|(what, text)| format!("{what}: “{text}”"))
            .collect();
        let gone = mine.iter().filter(|(what, text)| !text.is_empty() && none(&theirs, what));
        told.extend(gone.map(|(what, _)| format!("{what}: nothing")));
        told
    }

    /// What is said, each with what it is said of.
    fn in_words(&self) -> Vec<(String, String)> {
        let (ruling, typed) = (&self.chart.ruling, &self.chart.typed);
        let corners = self.corners.iter().flatten().map(|[x, y]| format!("{x:.0} {y:.0}"));
        let holds = HOLDS.iter().find(|it| it.1 == typed.hold).map_or("", |it| it.0);
        let mut words = vec![
            ("Corners".to_owned(), corners.collect::<Vec<_>>().join(", ")),
            ("Rows".into(), ruling.rows.to_string()),
            ("Columns".into(), ruling.columns.to_string()),
            ("Side".into(), ruling.side_mm.to_string()),
            ("Gaps".into(), ruling.gap_mm.map(|gap| gap.to_string()).join(", ")),
            ("Picture".into(), self.source.to_string()),
            ("Kind".into(), holds.to_owned()),
            ("Steps".into(), typed.steps.clone()),
            ("White".into(), format!("{} {}", typed.white, typed.with_white).trim().to_owned()),
        ];
        let lines = typed.lines.iter().map(|line| line.join(" ").trim().to_owned());
        words.extend(lines.enumerate().map(|(at, line)| (format!("Line {}", at + 1), line)));
        let across = typed.across.iter().enumerate();
        words.extend(across.map(|(at, tube)| (format!("Across {}", at + 1), tube.clone())));
        let others = typed.others.iter();
        words.extend(others.map(|(at, text)| (format!("Square {}", at + 1), text.clone())));
        words
    }

    fn ruling(&mut self, value: &impl Fn(&str) -> Option<String>) {
        let usual = self.chart.ruling;
        let mut number = |field: &str, usual: f64| {
            let text = value(field).unwrap_or_default();
            match read_number(&text) {
                Ok(Some(number)) => number,
                Ok(None) => usual,
                Err(text) => {
                    self.wrong.add(field, format!("“{text}” is not a number"));
                    usual
                }
            }
        };
        let rows = number("rows", usual.rows as f64);
        let columns = number("columns", usual.columns as f64);
        // One beyond the most is enough to be told of.
        let count = |number: f64| number.clamp(0.0, MOST_RULED as f64 + 1.0) as usize;
        self.chart.ruling = Ruling {
            rows: count(rows),
            columns: count(columns),
            side_mm: number("side", usual.side_mm),
            gap_mm: [number("gap-across", usual.gap_mm[0]), number("gap-down", usual.gap_mm[1])],
        };
    }

    fn has_usual_steps(&self) -> bool {
        let (_, count) = self.lines_and_steps();
        self.chart.typed.steps == usual_steps(self.chart.typed.hold, count)
    }

    /// Lines of the chart, and squares in each.
    pub fn lines_and_steps(&self) -> (usize, usize) {
        let Ruling { rows, columns, .. } = self.chart.ruling;
        let both = if self.chart.typed.lines_stand { (columns, rows) } else { (rows, columns) };
        (both.0.min(MOST_RULED), both.1.min(MOST_RULED))
    }

    /// What stands in the squares, or what is wrong at which field.
    pub fn understood(&self, names: &TubeNames<'_>) -> Result<ChartMeant, FieldErrors> {
        let mut errors = self.wrong.clone();
        let meant = meant(&self.chart, |name| names.find(name).map(|tube| tube.id));
        if self.corners.is_none() && errors.at("corners").is_empty() {
            errors.add(
                "corners",
                "drag the four corners onto the outermost squares of the chart first",
            );
        }
        match meant {
            Ok(meant) if errors.is_empty() => Ok(meant),
            Ok(_) => Err(errors),
            Err(wrong) => {
                for (field, message) in wrong {
                    errors.add(&field, message);
                }
                Err(errors)
            }
        }
    }
}

fn find(pairs: &Pairs, name: &str) -> Option<String> {
    let found = pairs.iter().find(|(key, _)| key == name);
    found.map(|(_, text)| text.trim().chars().take(LONGEST).collect())
}

fn corners(value: &impl Fn(&str) -> Option<String>) -> Option<[[f64; 2]; 4]> {
    let number = |name: String| read_number(&value(&name)?).ok().flatten();
    let mut corners = [[0.0; 2]; 4];
    for (at, corner) in corners.iter_mut().enumerate() {
        *corner = [number(format!("x{at}"))?, number(format!("y{at}"))?];
    }
    Some(corners)
}

fn typed(pairs: &Pairs, value: &impl Fn(&str) -> Option<String>) -> TypedChart {
    let text = |name: String| value(&name).unwrap_or_default();
    let wanted = text("hold".into());
    let hold =
        HOLDS.iter().find(|(key, ..)| *key == wanted).map_or_else(Default::default, |it| it.1);
    let mut typed = TypedChart {
        hold,
        lines_stand: value("lines-stand").is_some(),
        lines: (0..MOST_RULED)
            .map(|at| [text(format!("line-{at}")), text(format!("line-{at}-2"))])
            .collect(),
        across: (0..MOST_RULED).map(|at| text(format!("across-{at}"))).collect(),
        steps: text("steps".into()),
        white: text("white".into()),
        with_white: text("with-white".into()),
        basis: text("basis".into()),
        others: others(pairs),
    };
    while typed.lines.last().is_some_and(|line| line.iter().all(String::is_empty)) {
        typed.lines.pop();
    }
    while typed.across.last().is_some_and(String::is_empty) {
        typed.across.pop();
    }
    typed
}

/// Squares that hold something else: those that were known, and the one that is said now.
fn others(pairs: &Pairs) -> BTreeMap<usize, String> {
    let place = |key: &str| key.strip_prefix("other-")?.parse::<usize>().ok();
    let mut others: BTreeMap<usize, String> = pairs
        .iter()
        .filter_map(|(key, text)| Some((place(key)?, text.trim().to_owned())))
        .filter(|(at, text)| *at < MOST_RULED * MOST_RULED && !text.is_empty())
        .collect();
    let one = |name: &str| pairs.iter().find(|(key, _)| key == name).map(|(_, text)| text.trim());
    let number = |name: &str| one(name).and_then(|text| text.parse::<usize>().ok());
    let columns = number("columns").unwrap_or_default();
    if let (Some(row @ 1..), Some(column @ 1..)) = (number("square-row"), number("square-column"))
        && column <= columns
        && row <= MOST_RULED
    {
        let at = (row - 1) * columns + column - 1;
        match one("square-holds") {
            Some(text) if !text.is_empty() => others.insert(at, text.to_owned()),
            _ => others.remove(&at),
        };
    }
    others
}

/// The commonest steps of so many squares (common practice, no source).
pub(crate) fn usual_steps(hold: SidesHold, count: usize) -> String {
    let steps: Vec<String> = match hold {
        SidesHold::Grid => return "1:1".into(),
        SidesHold::Tints => (0..count)
            .map(|at| if at == 0 { "mass tone".into() } else { format!("1:{}", 1_u64 << (at - 1)) })
            .collect(),
        SidesHold::Ladders if count < 2 => vec!["1:1".into(); count],
        SidesHold::Ladders => (0..count)
            .map(|at| {
                let percent = 100.0 * (1.0 - at as f64 / (count - 1) as f64);
                format!("{percent:.0} %")
            })
            .collect(),
    };
    steps.join(", ")
}
