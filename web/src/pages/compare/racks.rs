//! The rack of the chosen tubes, and their ways from mass tone to palest tint.

use std::sync::Arc;

use colour::Lab;
use study::SwatchColour;
use workshop::{Beside, Comparison, OneStep};

use crate::draw::{Cell, Foot, Head, HuePath, HuePaths, Paint, PathPoint, RackDrawing};
use crate::words::{number, parts};

/// One row of the rack, by tube.
struct RackRow {
    step: String,
    cells: Vec<Option<RackCell>>,
}

struct RackCell {
    lab: Lab,
    half_width: [f64; 3],
    /// As it was read; `None` between the steps.
    read: Option<SwatchColour>,
    /// It was brought over from other parts, or from another white.
    predicted: bool,
    about: String,
}

/// The rack and the ways, with a table that tells the same.
pub(super) struct Racks {
    pub rack: RackDrawing,
    pub paths: HuePaths,
    pub table: Vec<TableRow>,
}

/// A colour in numbers.
pub(super) struct TableRow {
    pub step: String,
    /// `L* 40.1 C* 52.3 h 281°` by tube, with how much white brings it there.
    pub tubes: Vec<String>,
}

pub(super) fn racks(comparison: &Comparison, title: &str, by_parts: bool) -> Racks {
    let tubes = &comparison.tubes;
    let mut rows = vec![mass_tones(tubes)];
    rows.extend(thin(tubes));
    let tints = if by_parts { tints_by_parts(tubes) } else { tints_by_depth(comparison) };
    let first_tint = rows.len();
    rows.extend(tints);
    rows.extend(over_black(tubes));
    // Many uprights are too narrow for their makers.
    let maker =
        |it: &Beside| if tubes.len() > WIDE { "" } else { it.tube.tube.maker.as_str() }.to_owned();
    let heads = tubes.iter().enumerate().map(|(at, it)| Head {
        maker: format!("{} {}", letter(at), maker(it)).trim().to_owned(),
        name: it.tube.tube.name.clone(),
    });
    let cell = |cell: &RackCell| Cell {
        paint: match &cell.read {
            Some(read) => Paint::of(read, comparison.conditions),
            None => Paint::predicted(cell.lab, comparison.conditions),
        },
        predicted: cell.predicted,
        title: cell.about.clone(),
    };
    let rack = RackDrawing {
        title: title.to_owned(),
        heads: heads.collect(),
        steps: rows.iter().map(|row| row.step.clone()).collect(),
        cells: rows
            .iter()
            .map(|row| row.cells.iter().map(|it| it.as_ref().map(cell)).collect())
            .collect(),
        feet: tubes.iter().enumerate().map(|(at, it)| foot(at, it)).collect(),
        lights_up: true,
    };
    let paths = tubes.iter().enumerate().filter_map(|(at, it)| {
        let way: Vec<Lab> = it.steps.iter().map(|step| step.lab).collect();
        // The mass tone and the tints lie on the way; a thin film and one over black do not.
        let on_the_way = rows
            .iter()
            .enumerate()
            .filter(|(row, _)| *row == 0 || (*row >= first_tint && rows[*row].step != OVER_BLACK));
        let points = on_the_way.filter_map(|(step, row)| {
            let found = row.cells[at].as_ref()?;
            Some(PathPoint {
                lab: found.lab,
                half_width: found.half_width,
                paint: cell(found).paint,
                predicted: found.predicted,
                step,
                title: found.about.clone(),
            })
        });
        (!way.is_empty()).then(|| HuePath { letter: letter(at), way, points: points.collect() })
    });
    let paths = HuePaths { title: title.to_owned(), paths: paths.collect() };
    let table = rows.iter().map(|row| TableRow {
        step: row.step.clone(),
        tubes: row
            .cells
            .iter()
            .map(|it| it.as_ref().map_or_else(|| "–".to_owned(), |it| in_numbers(it.lab)))
            .collect(),
    });
    Racks { rack, paths, table: table.collect() }
}

/// Uprights up to which makers stand above them.
const WIDE: usize = 6;
const OVER_BLACK: &str = "over black";

/// A, B, C … by which plots and tables name the tubes.
pub(super) fn letter(at: usize) -> char {
    u8::try_from(at).map_or('?', |at| char::from(b'A' + at.min(25)))
}

fn in_numbers(lab: Lab) -> String {
    let hue = lab.hue().map_or_else(String::new, |hue| format!(" h {}°", number(hue.degrees(), 0)));
    format!("L* {} C* {}{hue}", number(lab.l, 1), number(lab.chroma(), 1))
}

impl RackCell {
    fn read(tube: &Beside, step: &OneStep, what: &str) -> Self {
        let source = if step.read.is_none() { ", brought over" } else { "" };
        Self {
            lab: step.lab,
            half_width: step.half_width,
            read: step.read.clone(),
            predicted: step.read.is_none(),
            about: format!("{}, {what}: {}{source}", tube.tube.tube.name, in_numbers(step.lab)),
        }
    }

    fn film(tube: &Beside, read: &SwatchColour, what: &str) -> Self {
        Self {
            lab: read.lab,
            half_width: read.half_width,
            read: Some(read.clone()),
            predicted: false,
            about: format!("{}, {what}: {}", tube.tube.tube.name, in_numbers(read.lab)),
        }
    }
}

fn mass_tones(tubes: &[Beside]) -> RackRow {
    let of = |tube: &Beside| {
        let step = tube.steps.iter().find(|step| step.white == 0.0)?;
        Some(RackCell::read(tube, step, "mass tone"))
    };
    RackRow { step: "mass tone".into(), cells: tubes.iter().map(of).collect() }
}

fn thin(tubes: &[Beside]) -> Option<RackRow> {
    films(tubes, "undertone", |tube| tube.thin.as_ref())
}

fn over_black(tubes: &[Beside]) -> Option<RackRow> {
    films(tubes, OVER_BLACK, |tube| tube.over_black.as_ref())
}

/// A row of films, where any tube has one.
fn films(
    tubes: &[Beside],
    what: &str,
    film: impl Fn(&Beside) -> Option<&SwatchColour>,
) -> Option<RackRow> {
    let cells = tubes.iter().map(|tube| Some(RackCell::film(tube, film(tube)?, what)));
    let cells: Vec<Option<RackCell>> = cells.collect();
    cells.iter().any(Option::is_some).then(|| RackRow { step: what.to_owned(), cells })
}

/// Every tint that was read of any of the tubes.
fn tints_by_parts(tubes: &[Beside]) -> Vec<RackRow> {
    let mut whites: Vec<f64> = Vec::new();
    for step in tubes.iter().flat_map(|tube| &tube.steps).filter(|step| step.white > 0.0) {
        if !whites.iter().any(|known| figures::same_parts(*known, step.white)) {
            whites.push(step.white);
        }
    }
    whites.sort_by(f64::total_cmp);
    let row = |white: &f64| {
        let name = format!("1 : {}", parts(*white));
        let of = |tube: &Beside| {
            let mut steps = tube.steps.iter().filter(|step| step.white > 0.0);
            let step = steps.find(|step| figures::same_parts(step.white, *white))?;
            Some(RackCell::read(tube, step, &name))
        };
        RackRow { cells: tubes.iter().map(of).collect(), step: name.clone() }
    };
    whites.iter().map(row).collect()
}

/// The colours at the depths that all of them share, each named by the lightness of the first there.
fn tints_by_depth(comparison: &Comparison) -> Vec<RackRow> {
    let tubes = &comparison.tubes;
    let row = |(at, depth): (usize, &f64)| {
        let lightness = tubes.first().and_then(|tube| tube.at_depths.get(at)).map(|it| it.lab.l);
        let of = |tube: &Beside| {
            let found = tube.at_depths.get(at)?;
            let white = parts(round_parts(found.white));
            let unit = if white == "1" { "part" } else { "parts" };
            let about = format!(
                "{}, with {white} {unit} of white: {}",
                tube.tube.tube.name,
                in_numbers(found.lab)
            );
            let (lab, half_width) = (found.lab, found.half_width);
            let predicted = tube.is_brought;
            Some(RackCell { lab, half_width, read: None, predicted, about })
        };
        RackRow {
            step: lightness.map_or_else(
                || format!("depth {}", number(*depth, 0)),
                |lightness| format!("L* {}", number(lightness, 0)),
            ),
            cells: tubes.iter().map(of).collect(),
        }
    };
    comparison.depths.iter().enumerate().map(row).collect()
}

/// To two digits that matter.
fn round_parts(parts: f64) -> f64 {
    let digits = 10_f64.powi(parts.log10().floor() as i32 - 1);
    (parts / digits).round() * digits
}

/// How strong a tube is beside the first, in percent.
fn foot(at: usize, tube: &Beside) -> Foot {
    if at == 0 {
        return Foot { value: "100".into(), unit: String::new(), below: "standard".into() };
    }
    let Some((parts, [low, high])) = tube.use_of else { return Foot::default() };
    let percent = |parts: f64| number(100.0 / parts, 0);
    Foot {
        value: percent(parts),
        unit: "%".into(),
        below: format!("{} – {}", percent(high), percent(low)),
    }
}

/// What tells the lines of the plots apart.
pub(super) fn legend(comparison: &Comparison) -> Arc<[(char, &'static str, String)]> {
    let of = |(at, tube): (usize, &Beside)| {
        (letter(at), crate::draw::dash(at), tube.tube.tube.name.clone())
    };
    comparison.tubes.iter().enumerate().map(of).collect()
}
