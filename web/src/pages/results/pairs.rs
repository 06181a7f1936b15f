//! The racks of mixtures: the tested tube at the top, the reference at the foot.

use figures::{PairFigures, PairStep, same_parts};
use study::{SwatchColour, TubeRef};
use workshop::AnalysedTrial;

use super::rack::{FactRow, FigureRow, Rack, head};
use crate::draw::{Cell, Paint, RackDrawing};
use crate::words::{FigureText, number, parts};

/// The racks of one pair: one for each number of parts of white.
pub(super) fn racks(
    analysed: &AnalysedTrial,
    [a, b]: [TubeRef; 2],
) -> Result<Vec<Rack>, askama::Error> {
    let of_pair = analysed.analysis.pairs.iter().filter(|pair| pair.a == a && pair.b == b);
    of_pair.map(|pair| rack(analysed, &[pair])).collect()
}

/// A step of a rack: a parent or a ratio, parts of the first to one of the second.
#[derive(Clone, Copy)]
enum Step {
    OnlyA,
    Ratio(f64),
    OnlyB,
}

fn rack(analysed: &AnalysedTrial, pairs: &[&PairFigures]) -> Result<Rack, askama::Error> {
    let white = pairs[0].white_parts;
    let reference = analysed.study.label(pairs[0].b).name;
    let with_white =
        if white > 0.0 { format!(", with white 1 : {}", parts(white)) } else { String::new() };
    let mut ratios: Vec<f64> = Vec::new();
    for step in pairs.iter().flat_map(|pair| &pair.steps) {
        // What was really weighed may differ by a little from tube to tube.
        if !ratios.iter().any(|known| same_parts(*known, ratio(step))) {
            ratios.push(ratio(step));
        }
    }
    ratios.sort_by(|one, other| other.total_cmp(one));
    let mut steps = vec![Step::OnlyA];
    steps.extend(ratios.into_iter().map(Step::Ratio));
    steps.push(Step::OnlyB);
    let drawing = RackDrawing {
        title: format!("Mixed with {reference}{with_white}"),
        heads: pairs.iter().map(|pair| head(analysed, pair.a)).collect(),
        steps: steps.iter().map(|step| step_name(*step, pairs.len(), &reference)).collect(),
        cells: steps
            .iter()
            .map(|step| pairs.iter().map(|pair| cell(analysed, pair, *step)).collect())
            .collect(),
        feet: Vec::new(),
        lights_up: false,
    };
    let rows = steps.iter().map(|step| FigureRow {
        step: step_name(*step, pairs.len(), &reference),
        figures: pairs.iter().flat_map(|pair| figures(pair, *step)).collect(),
    });
    Rack::new(&drawing, &["hue shift", "chroma", "dulling"], rows.collect(), facts(pairs))
}

fn ratio(step: &PairStep) -> f64 {
    step.a_parts / step.b_parts
}

/// `3 : 1`, the smaller of the two as one part.
fn ratio_text(ratio: f64) -> String {
    let nearly = |text: f64| if (text - text.round()).abs() < 0.02 { text.round() } else { text };
    if ratio >= 1.0 {
        format!("{} : 1", parts(nearly(ratio)))
    } else {
        format!("1 : {}", parts(nearly(1.0 / ratio)))
    }
}

fn step_name(step: Step, pairs: usize, reference: &str) -> String {
    match step {
        Step::OnlyA if pairs == 1 => "alone".into(),
        Step::OnlyA => "each alone".into(),
        Step::Ratio(ratio) => ratio_text(ratio),
        // The label column holds about fifteen condensed letters.
        Step::OnlyB if reference.chars().count() <= 15 => reference.into(),
        Step::OnlyB => "reference".into(),
    }
}

fn find(pair: &PairFigures, wanted: f64) -> Option<&PairStep> {
    pair.steps.iter().find(|step| same_parts(ratio(step), wanted))
}

fn cell(analysed: &AnalysedTrial, pair: &PairFigures, step: Step) -> Option<Cell> {
    let name = |tube: TubeRef| analysed.study.label(tube).name;
    let (colour, what) = match step {
        Step::OnlyA => (parent(analysed, pair.a, pair.white_parts)?, name(pair.a)),
        Step::OnlyB => (parent(analysed, pair.b, pair.white_parts)?, name(pair.b)),
        Step::Ratio(ratio) => {
            let what = format!("{} {} {}", name(pair.a), ratio_text(ratio), name(pair.b));
            (&find(pair, ratio)?.colour, what)
        }
    };
    let lab = colour.lab;
    Some(Cell {
        predicted: false,
        paint: Paint::of(colour, analysed.analysis.conditions),
        title: format!(
            "{what}: L* {}, a* {}, b* {}",
            number(lab.l, 1),
            number(lab.a, 1),
            number(lab.b, 1)
        ),
    })
}

fn parent(analysed: &AnalysedTrial, tube: TubeRef, white_parts: f64) -> Option<&SwatchColour> {
    let tints = &analysed.tube(tube)?.tints;
    tints.iter().find(|tint| same_parts(tint.white_parts, white_parts)).map(|tint| &tint.colour)
}

fn figures(pair: &PairFigures, step: Step) -> [FigureText; 3] {
    let Step::Ratio(ratio) = step else {
        return std::array::from_fn(|_| FigureText::plain("—".into()));
    };
    let Some(step) = find(pair, ratio) else { return Default::default() };
    [FigureText::degrees(&step.hue_shift), chroma(step), dulling(step)]
}

/// The loss, with how vivid the mixture is; a gain says so.
fn chroma(step: &PairStep) -> FigureText {
    let mut text = FigureText::loss(&step.chroma_loss);
    text.word = step.vividness.word.to_string();
    if step.gain {
        text.why = "more vivid than expected of the two".into();
    }
    text
}

/// Where the straight line is nearly grey, a mixture is easily many times as vivid: that is said,
/// and not counted out.
fn dulling(step: &PairStep) -> FigureText {
    match &step.dulling {
        Ok(dulling) if dulling.value < -1.0 => FigureText {
            value: "> 100 %".into(),
            why: format!("{} times as vivid as a straight blend", number(1.0 - dulling.value, 1)),
            word: "brighter".into(),
            ..FigureText::default()
        },
        outcome => FigureText::loss(outcome),
    }
}

fn facts(pairs: &[&PairFigures]) -> Vec<FactRow> {
    let row = |name, of: &dyn Fn(&PairFigures) -> FigureText| {
        FactRow::new(name, pairs.iter().map(|pair| of(pair)).collect())
    };
    vec![
        row("Hues apart", &|pair| match &pair.hue_gap {
            Ok(gap) => {
                let text = FigureText::number(gap, 0, false);
                FigureText { value: text.value + "°", ..text }
            }
            Err(why) => FigureText::missing(*why),
        }),
        row("Balance point", &holding),
        row("Neutral", &neutral),
    ]
}

fn holding(pair: &PairFigures) -> FigureText {
    match &pair.holding {
        Ok(holding) => {
            let before = match holding.bound {
                Some(figures::Bound::Above) => "more than ",
                Some(figures::Bound::Below) => "less than ",
                None => "",
            };
            let text = FigureText::number(&holding.ratio, 2, false);
            FigureText { value: format!("{before}1 : {}", text.value), ..text }
        }
        Err(why) => FigureText::missing(*why),
    }
}

fn neutral(pair: &PairFigures) -> FigureText {
    let Some(neutral) = &pair.neutral else {
        return FigureText {
            value: "–".into(),
            why: "no mixture comes near grey".into(),
            ..FigureText::default()
        };
    };
    let text = FigureText::number(&neutral.ratio, 2, false);
    let chroma = number(neutral.lab.chroma(), 1);
    FigureText {
        value: format!("1 : {}", text.value),
        why: format!("a cast of C* {chroma} is left"),
        ..text
    }
}
