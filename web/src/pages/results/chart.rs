//! The chart of a trial as finished text: the matrix, and rows of mixtures of three.

use std::ops::Range;

use study::TubeRef;
use study::numbers::Ratios;
use workshop::{
    AnalysedTrial, MOST_STEPS, Matrix, MatrixRow, PairCell, PairWord, Pale, Rising, SaidBy, Shown,
    ShownColour, ThirdRow, ThirdStep,
};

use crate::draw::{LadderCell, Paint, SmallLadder};
use crate::words::{number, parts};

/// Room for the ladders of a row, px.
const ROOM: u32 = 928;
/// Tubes and partners on one page: more stand on pages of their own.
const PART: usize = 24;
/// Rows of mixtures of three on one page.
const MOST_THIRDS: usize = 24;
/// More columns than this have their names set small.
const MANY: u32 = 9;
/// Between two of them.
const GAP: u32 = 12;

/// The chart.
pub(super) struct Chart {
    /// So many columns that their names are set small.
    pub many: bool,
    /// Names above the columns.
    pub heads: Vec<ChartHead>,
    pub rows: Vec<ChartRow>,
    /// Mixtures of three.
    pub thirds: Vec<ThirdRowText>,
    /// Rows of them that are too many for this page.
    pub more_thirds: usize,
    /// Where the chart is too large for one page: its parts.
    pub parts: Vec<ChartPart>,
    /// What stands where in a ladder, and what its edges mean.
    pub legend: String,
}

/// A part of a large chart.
pub(super) struct ChartPart {
    pub row: usize,
    pub column: usize,
    /// `tubes 1 to 24, partners 25 to 48`.
    pub label: String,
    pub here: bool,
}

pub(super) struct ChartHead {
    pub name: String,
    pub code: String,
}

/// One tube with every partner.
pub(super) struct ChartRow {
    pub name: String,
    pub code: String,
    /// Ratios beside the steps, where all ladders of the row have the same.
    pub steps: Vec<String>,
    pub step_height: u32,
    pub cells: Vec<Option<ChartCell>>,
}

/// One pair.
pub(super) struct ChartCell {
    /// Its own address; empty where the square is a tube alone.
    pub href: String,
    pub partner: String,
    pub svg: String,
    pub word: String,
    /// C* and ratio, or who says so.
    pub about: String,
    /// The word is not of readings.
    pub guessed: bool,
    /// There is something that was noted.
    pub noted: String,
}

/// A pair with a third.
pub(super) struct ThirdRowText {
    pub title: String,
    pub steps: Vec<(String, String)>,
    pub said: String,
}

impl Chart {
    /// The chart, or the part of it that begins at this tube and this partner, counted from 0.
    pub fn of(
        analysed: &AnalysedTrial,
        matrix: &Matrix,
        (from_row, from_column): (usize, usize),
    ) -> Result<Self, askama::Error> {
        // Several tubes against one partner stand side by side.
        let (all_rows, all_columns) = (matrix.rows.len(), matrix.columns.len());
        let turned = all_columns == 1 && (2..=PART).contains(&all_rows) && !matrix.is_grid;
        let (rows, columns) = (part(from_row, all_rows), part(from_column, all_columns));
        let across = if turned { all_rows } else { columns.len() };
        let shown = columns;
        let columns = u32::try_from(across).unwrap_or(1).max(1);
        let width = (ROOM / columns).saturating_sub(GAP).clamp(24, 104) / 2 * 2;
        let step = step_height(matrix, if turned { 1 } else { rows.len() });
        let pen = Pen { analysed, matrix, columns: shown.clone(), width, step };
        let heads: Vec<TubeRef> = match turned {
            true => matrix.rows.iter().map(|row| row.tube).collect(),
            false => matrix.columns[shown].to_vec(),
        };
        let drawn: Result<Vec<ChartRow>, _> = match turned {
            true => pen.turned().map(|row| vec![row]),
            false => matrix.rows[rows.clone()].iter().map(|row| pen.row(row)).collect(),
        };
        let thirds = matrix.thirds.iter().take(MOST_THIRDS).zip(0..);
        let thirds = thirds.map(|(row, place)| pen.third(row, place));
        Ok(Self {
            parts: parts_of((rows.start, all_rows), (pen.columns.start, all_columns)),
            many: columns > MANY,
            heads: heads.into_iter().map(|tube| pen.head(tube)).collect(),
            rows: drawn?,
            more_thirds: matrix.thirds.len().saturating_sub(MOST_THIRDS),
            thirds: thirds.collect::<Result<_, _>>()?,
            legend: legend(matrix),
        })
    }

    pub fn is_empty(&self) -> bool {
        self.rows.is_empty() && self.thirds.is_empty()
    }
}

/// So many from a place on; from the first where there is no such place.
fn part(from: usize, count: usize) -> Range<usize> {
    let from = if from < count { from } else { 0 };
    from..count.min(from + PART)
}

/// The parts of a chart; none where it stands on one page.
fn parts_of((row, rows): (usize, usize), (column, columns): (usize, usize)) -> Vec<ChartPart> {
    if rows <= PART && columns <= PART {
        return Vec::new();
    }
    let span = |from: usize, count: usize| format!("{} to {}", from + 1, count.min(from + PART));
    let of_row = |from: usize| {
        (0..columns).step_by(PART).map(move |to| ChartPart {
            row: from,
            column: to,
            label: format!("tubes {}, partners {}", span(from, rows), span(to, columns)),
            here: (from, to) == (row, column),
        })
    };
    (0..rows).step_by(PART).flat_map(of_row).collect()
}

/// Few steps are drawn high, many low; large charts lower, so that they stay short.
fn step_height(matrix: &Matrix, rows: usize) -> u32 {
    let steps = matrix.pairs().map(|cell| cell.steps.len()).max().unwrap_or(1);
    let height: u32 = match rows {
        0..=3 => 170,
        4..=8 => 110,
        _ => 76,
    };
    let of_grid = if matrix.is_grid { steps.saturating_sub(2) } else { steps };
    (height / u32::try_from(of_grid.max(1)).unwrap_or(1)).clamp(12, 34)
}

struct Pen<'a> {
    analysed: &'a AnalysedTrial,
    matrix: &'a Matrix,
    /// The partners that are drawn.
    columns: Range<usize>,
    width: u32,
    step: u32,
}

impl Pen<'_> {
    fn head(&self, tube: TubeRef) -> ChartHead {
        let label = self.analysed.study.label(tube);
        ChartHead { name: label.name, code: label.code }
    }

    /// Every tube with the one partner.
    fn turned(&self) -> Result<ChartRow, askama::Error> {
        let partner = self.matrix.columns.first().copied().unwrap_or(TubeRef(0));
        let cells: Vec<&PairCell> = self.matrix.pairs().collect();
        let (name, code) = self.title(partner);
        Ok(ChartRow {
            name: format!("with {name}"),
            code,
            steps: self.ratios(&cells),
            step_height: self.step,
            cells: cells
                .into_iter()
                .map(|cell| self.cell(cell).map(Some))
                .collect::<Result<_, _>>()?,
        })
    }

    /// Name, and maker with Colour Index names.
    fn title(&self, tube: TubeRef) -> (String, String) {
        let label = self.analysed.study.label(tube);
        let about = [label.maker, label.code].into_iter().filter(|it| !it.is_empty());
        (label.name, about.collect::<Vec<_>>().join(" · "))
    }

    /// The ratios beside the steps; none where the ladders differ.
    fn ratios(&self, cells: &[&PairCell]) -> Vec<String> {
        let told = self.analysed.trial.ratios();
        let ratios = |cell: &&PairCell| -> Vec<String> {
            cell.steps.iter().map(|step| ratio(told, step.parts)).collect()
        };
        let first = cells.first().map(ratios).unwrap_or_default();
        let alike = cells.iter().all(|cell| ratios(cell) == first) && !self.matrix.is_grid;
        if alike { first } else { Vec::new() }
    }

    fn row(&self, row: &MatrixRow) -> Result<ChartRow, askama::Error> {
        let (name, code) = self.title(row.tube);
        let (own, partners) =
            (&row.cells[self.columns.clone()], &self.matrix.columns[self.columns.clone()]);
        let ladders: Vec<&PairCell> = own.iter().flatten().collect();
        let cells = own.iter().zip(partners).map(|(cell, column)| match cell {
            Some(cell) => self.cell(cell).map(Some),
            None if self.matrix.is_grid && *column == row.tube => self.alone(row.tube),
            None => Ok(None),
        });
        Ok(ChartRow {
            name,
            code,
            steps: self.ratios(&ladders),
            step_height: self.step,
            cells: cells.collect::<Result<_, _>>()?,
        })
    }

    fn cell(&self, cell: &PairCell) -> Result<ChartCell, askama::Error> {
        let [a, b] = cell.pair;
        let between = 1..cell.steps.len().saturating_sub(1);
        // The ends of a grid's ladders stand along its middle.
        let shown = if self.matrix.is_grid { cell.steps.get(between) } else { cell.steps.get(..) };
        let shown = shown.unwrap_or_default();
        let squares = shown.iter().map(|step| self.squares(&step.neat, step.pale.as_ref()));
        let name = |tube: TubeRef| self.analysed.study.label(tube).name;
        let noted: Vec<String> = shown
            .iter()
            .flat_map(|step| [Some(&step.neat), step.pale.as_ref()])
            .flatten()
            .filter(|shown| !shown.colour.is_read())
            .flat_map(|shown| shown.seen.clone())
            .collect();
        let svg =
            self.ladder(format!("{} with {}", name(a), name(b)), (a, b), squares.collect())?;
        // The word below the ladder need not be noted once more.
        let said = cell.word.map_or_else(String::new, |word| word.word.to_string());
        Ok(ChartCell {
            href: format!("/trials/{}/results/pair/{}-{}", self.analysed.trial.id.0, a.0, b.0),
            partner: name(b),
            svg,
            word: cell.word.map_or_else(String::new, |word| word.word.to_string()),
            about: cell.word.as_ref().map_or_else(String::new, |word| about(self.analysed, word)),
            guessed: cell.word.is_some_and(|word| word.said_by != SaidBy::Readings),
            noted: noted.into_iter().find(|it| *it != said).unwrap_or_default(),
        })
    }

    /// A tube alone, along the middle of a grid.
    fn alone(&self, tube: TubeRef) -> Result<Option<ChartCell>, askama::Error> {
        let ends = self.matrix.pairs().find_map(|cell| {
            let last = cell.steps.len().checked_sub(1)?;
            match cell.pair {
                [a, _] if a == tube => cell.steps.first(),
                [_, b] if b == tube => cell.steps.get(last),
                _ => None,
            }
        });
        let Some(step) = ends else { return Ok(None) };
        let rows = self.matrix.pairs().map(|cell| cell.steps.len()).max().unwrap_or(3);
        let squares = self.squares(&step.neat, step.pale.as_ref());
        let squares = vec![squares; rows.saturating_sub(2).max(1)];
        let label = self.analysed.study.label(tube);
        Ok(Some(ChartCell {
            href: String::new(),
            partner: "alone".into(),
            svg: self.ladder(format!("{} alone", label.name), (tube, tube), squares)?,
            word: String::new(),
            about: label.code,
            guessed: false,
            noted: String::new(),
        }))
    }

    fn ladder(
        &self,
        title: String,
        (a, b): (TubeRef, TubeRef),
        cells: Vec<Vec<LadderCell>>,
    ) -> Result<String, askama::Error> {
        let id = format!("{}-{}", a.0, b.0);
        SmallLadder { title, id, cells, width: self.width, step: self.step }.svg()
    }

    fn squares(&self, neat: &Shown, pale: Option<&Shown>) -> Vec<LadderCell> {
        [Some(neat), pale].into_iter().flatten().map(|shown| square(self.analysed, shown)).collect()
    }

    fn third(&self, row: &ThirdRow, place: usize) -> Result<ThirdRowText, askama::Error> {
        let name = |tube: TubeRef| self.analysed.study.label(tube).name;
        let ([a, b], third) = (row.base.map(name), name(row.third));
        let ratios = self.analysed.trial.ratios();
        let steps = row.steps.iter().zip(0..).map(|(step, at)| {
            let cells = vec![self.squares(&step.neat, step.pale.as_ref())];
            let (title, id) = (step.neat.label.clone(), format!("t{place}-{at}"));
            let svg = SmallLadder { title, id, cells, width: 104, step: 64 }.svg()?;
            let [first, second, third] = step.parts;
            let label = match row.rising {
                Rising::Third if third == 0.0 => "none".to_owned(),
                Rising::Third => ratios.of(first + second, third),
                Rising::Second => ratios.of(first, second),
            };
            Ok((label, svg))
        });
        let first = row.steps.last().map_or([1.0; 3], |step| step.parts);
        let pair = match (first[0] / first[1] - 1.0).abs() < 0.02 || row.rising == Rising::Second {
            true => format!("{a} and {b}"),
            false => format!("{a} and {b}, {}", ratios.of(first[0], first[1])),
        };
        let title = match row.rising {
            Rising::Third => format!("{pair}, with more and more {third}"),
            Rising::Second => {
                let share = number(100.0 * first[2] / first.iter().sum::<f64>(), 0);
                format!("{pair}, {share} % {third} in each")
            }
        };
        let said = match row.rising {
            Rising::Third => what_it_did(row, &third),
            Rising::Second => String::new(),
        };
        Ok(ThirdRowText { title, steps: steps.collect::<Result<_, askama::Error>>()?, said })
    }
}

/// One square with its edge and its words.
pub(super) fn square(analysed: &AnalysedTrial, shown: &Shown) -> LadderCell {
    let conditions = analysed.analysis.conditions;
    let (paint, edge, source) = match &shown.colour {
        ShownColour::Read { colour, estimated } => {
            let edge = if *estimated { "estimated" } else { "" };
            let source = if *estimated { "read, its ratio estimated" } else { "read" };
            (Some(Paint::of(colour, conditions)), edge, source)
        }
        ShownColour::Predicted { lab, typical } => {
            let source = if *typical { "typical, not read" } else { "predicted, not read" };
            (Some(Paint::predicted(*lab, conditions)), "predicted", source)
        }
        ShownColour::Unknown => (None, "", "not read"),
    };
    let remark = paint.as_ref().map_or("", Paint::remark);
    let lab = shown.colour.lab().map_or_else(String::new, |lab| {
        format!(": L* {}, a* {}, b* {}", number(lab.l, 1), number(lab.a, 1), number(lab.b, 1))
    });
    let seen =
        if shown.seen.is_empty() { String::new() } else { format!("; {}", shown.seen.join(", ")) };
    LadderCell { title: format!("{}, {source}{lab}{remark}{seen}", shown.label), paint, edge }
}

fn about(analysed: &AnalysedTrial, word: &PairWord) -> String {
    let at = ratio(analysed.trial.ratios(), word.parts);
    let chroma = word.chroma.map(|(chroma, _)| format!("C* {}", number(chroma, 0)));
    match (word.said_by, chroma) {
        (SaidBy::Readings, Some(chroma)) => format!("{chroma} at {at}"),
        (SaidBy::Readings, None) => format!("at {at}"),
        (SaidBy::Eye, _) => format!("by eye, {at}"),
        (SaidBy::Prediction, _) => format!("predicted, {at}"),
        (SaidBy::Typical, _) => format!("typical, {at}"),
    }
}

/// What the third did, from none to most.
fn what_it_did(row: &ThirdRow, temper: &str) -> String {
    let chroma = |step: &ThirdStep| {
        let shown = step.pale.as_ref().unwrap_or(&step.neat);
        Some((shown.colour.lab()?.chroma(), shown.colour.is_read()))
    };
    let ends = row.steps.first().and_then(chroma).zip(row.steps.last().and_then(chroma));
    let Some(((before, read), (after, also_read))) = ends else { return String::new() };
    let source = if read && also_read { "" } else { ", as predicted" };
    let word = match after / before.max(1e-6) {
        share if share < 0.35 => "turns it grey",
        share if share < 0.85 => "softens it",
        share if share <= 1.15 => "hardly changes how vivid it is",
        _ => "makes it more vivid",
    };
    format!("{temper} {word}: C* {} to {}{source}.", number(before, 0), number(after, 0))
}

fn legend(matrix: &Matrix) -> String {
    let pale = match matrix.pale {
        Pale::White(white) => format!("Left of each neat, right with white 1 : {}.", parts(white)),
        Pale::Film => "Left of each thick, right thin.".to_owned(),
        Pale::None => String::new(),
    };
    let shown = || {
        let steps = matrix.pairs().flat_map(|cell| &cell.steps);
        steps.flat_map(|step| [Some(&step.neat), step.pale.as_ref()]).flatten()
    };
    let any = |of: fn(&ShownColour) -> bool| shown().any(|it| of(&it.colour));
    let mut words = vec![pale];
    if any(|colour| matches!(colour, ShownColour::Predicted { typical: true, .. })) {
        words.push("Dotted: a typical paint of the same pigments, not your tube.".into());
    } else if any(|colour| matches!(colour, ShownColour::Predicted { .. })) {
        words.push("Dotted: predicted, not read.".into());
    }
    if any(|colour| matches!(colour, ShownColour::Read { estimated: true, .. })) {
        words.push("Dashed: its ratio was estimated.".into());
    }
    if any(|colour| matches!(colour, ShownColour::Unknown)) {
        words.push("Hatched: no colour is known.".into());
    }
    if matrix.pairs().any(|cell| cell.steps.len() == MOST_STEPS + 2) {
        words.push(format!("A ladder shows {MOST_STEPS} steps at most."));
    }
    words.retain(|it| !it.is_empty());
    words.join(" ")
}

/// `1 : 4`, the smaller of the two as one part; an end is the tube alone.
pub(super) fn ratio(ratios: Ratios, [a, b]: [f64; 2]) -> String {
    if b == 0.0 {
        return "alone".into();
    }
    if a == 0.0 {
        return "partner".into();
    }
    ratios.of(a, b)
}
