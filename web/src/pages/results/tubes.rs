//! The rack of tubes: mass tone at the top, tints down to the palest.

use bench::Square;
use colour::{Conditions, munsell_value};
use figures::{
    Bound, Drying, Figure, Opacity, Outcome, Strength, TintFigures, TubeFigures, WhyNot, same_parts,
};
use study::TubeRef;
use workshop::AnalysedTrial;

use super::rack::{FactRow, FigureRow, Rack, head};
use crate::draw::{Cell, Foot, Paint, RackDrawing};
use crate::words::{FigureText, number, parts, signed_number};

/// Uprights in one rack; more stand in a second one.
const WIDEST_RACK: usize = 5;

/// Racks of the given tubes; none where nothing of them was read.
pub(super) fn racks(
    analysed: &AnalysedTrial,
    tubes: &[TubeRef],
    title: &str,
) -> Result<Vec<Rack>, askama::Error> {
    let racks = tubes.chunks(WIDEST_RACK).map(|group| rack(analysed, group, title));
    racks.filter_map(Result::transpose).collect()
}

fn rack(
    analysed: &AnalysedTrial,
    tubes: &[TubeRef],
    title: &str,
) -> Result<Option<Rack>, askama::Error> {
    let figures: Vec<&TubeFigures> = tubes
        .iter()
        .filter_map(|tube| analysed.tube(*tube))
        .filter(|figures| !figures.tints.is_empty())
        .collect();
    if figures.is_empty() {
        return Ok(None);
    }
    let steps = steps(&figures);
    let at = |figures: &TubeFigures, step: f64| -> Option<TintFigures> {
        figures.tints.iter().find(|tint| same_parts(tint.white_parts, step)).cloned()
    };
    let grid: Vec<Vec<Option<TintFigures>>> = steps
        .iter()
        .map(|step| figures.iter().map(|figures| at(figures, *step)).collect())
        .collect();
    let drawing = RackDrawing {
        title: title.to_owned(),
        heads: figures.iter().map(|figures| head(analysed, figures.tube)).collect(),
        steps: steps.iter().map(|step| step_name(*step)).collect(),
        cells: grid
            .iter()
            .map(|row| {
                let cells = row.iter().zip(&figures);
                cells.map(|(tint, of)| tint.as_ref().map(|tint| cell(analysed, of, tint))).collect()
            })
            .collect(),
        feet: figures.iter().map(|figures| foot(figures)).collect(),
        lights_up: false,
    };
    let rows = grid
        .iter()
        .zip(&steps)
        .map(|(row, step)| FigureRow {
            step: step_name(*step),
            figures: row
                .iter()
                .flat_map(|tint| tint_figures(tint.as_ref(), analysed.analysis.conditions))
                .collect(),
        })
        .collect();
    let mut facts = facts(&figures);
    facts.extend(seen_at_bench(analysed, &figures));
    Rack::new(&drawing, &["L*", "hue shift", "chroma"], rows, facts).map(Some)
}

/// Every number of parts of white that one of the tubes has, fewest first.
fn steps(figures: &[&TubeFigures]) -> Vec<f64> {
    let mut steps: Vec<f64> = figures
        .iter()
        .flat_map(|figures| figures.tints.iter().map(|tint| tint.white_parts))
        .collect();
    steps.sort_by(f64::total_cmp);
    steps.dedup_by(|later, earlier| same_parts(*later, *earlier));
    steps
}

fn step_name(white_parts: f64) -> String {
    if white_parts > 0.0 { format!("1 : {}", parts(white_parts)) } else { "mass tone".into() }
}

fn cell(analysed: &AnalysedTrial, figures: &TubeFigures, tint: &TintFigures) -> Cell {
    let lab = tint.colour.lab;
    let name = analysed.study.label(figures.tube).name;
    Cell {
        predicted: false,
        paint: Paint::of(&tint.colour, analysed.analysis.conditions),
        title: format!(
            "{name}, {}: L* {}, a* {}, b* {}",
            step_name(tint.white_parts),
            number(lab.l, 1),
            number(lab.a, 1),
            number(lab.b, 1)
        ),
    }
}

fn tint_figures(tint: Option<&TintFigures>, conditions: Conditions) -> [FigureText; 3] {
    let Some(tint) = tint else { return Default::default() };
    let luminance = tint.colour.lab.to_xyz(conditions).y;
    let lightness = FigureText {
        value: number(tint.colour.lab.l, 1),
        word: format!("V {}", number(munsell_value(luminance), 1)),
        ..FigureText::default()
    };
    [lightness, hue_shift(tint), FigureText::loss(&tint.chroma_loss)]
}

/// With the angle in OKLCh beside it for blues.
fn hue_shift(tint: &TintFigures) -> FigureText {
    let mut text = FigureText::degrees(&tint.hue_shift);
    let itself = tint.hue_shift.is_ok_and(|shift| shift.half_width == Ok(0.0));
    if let (Some(shift), false) = (tint.oklch_shift, itself) {
        text.word = format!("OKLCh {}°", signed_number(shift, 1));
    }
    text
}

/// The strength to quote.
fn foot(figures: &TubeFigures) -> Foot {
    let Ok(strength) = &figures.strength else { return Foot::default() };
    if strength.standard == figures.tube {
        return Foot { value: "100".into(), unit: String::new(), below: "standard".into() };
    }
    let Some((percent, bound)) = strength.quoted() else { return Foot::default() };
    let sign = match bound {
        Some(Bound::Above) => "≥ ",
        Some(Bound::Below) => "≤ ",
        None => "",
    };
    Foot {
        value: format!("{sign}{}", number(percent.value, 0)),
        unit: "%".into(),
        below: percent.interval().map_or_else(
            || "no interval".into(),
            |[low, high]| format!("{} – {}", number(low, 0), number(high, 0)),
        ),
    }
}

fn facts(figures: &[&TubeFigures]) -> Vec<FactRow> {
    let row = |name, of: &dyn Fn(&TubeFigures) -> FigureText| {
        FactRow::new(name, figures.iter().map(|figures| of(figures)).collect())
    };
    let mut rows = vec![
        row("Strength at equal depth", &|figures| strength(figures, &equal_depth)),
        row("Strength at the same ratio", &|figures| strength(figures, &same_ratio)),
        row("ΔE00 at equal strength", &|figures| strength(figures, &at_equal_strength)),
        row("Tint shift", &|figures| FigureText::degrees(&figures.tint_shift)),
        row("Undertone shift", &|figures| FigureText::degrees(&figures.undertone_shift)),
        row("Contrast ratio", &|figures| opacity(figures.opacity.as_ref())),
        row("Veil over black, ΔE00", &|figures| {
            let veil = figures.opacity.as_ref().map_err(|why| *why).and_then(|it| it.veil);
            FigureText::one_decimal(&veil)
        }),
        row("Drying shift, ΔE00", &|figures| drying(figures.drying.as_ref())),
        row("Staining", &|figures| percent(&figures.staining, "")),
    ];
    if figures.iter().any(|figures| !figures.lightening.is_empty()) {
        rows.push(row("Lightening power", &lightening));
    }
    rows
}

/// `3.2`, with how it dries.
fn drying(drying: Result<&Drying, &WhyNot>) -> FigureText {
    let Ok(drying) = drying else {
        return drying.map_or_else(|why| FigureText::missing(*why), |_| FigureText::default());
    };
    let mut words = Vec::new();
    let sure = |figure: &Figure| figure.half_width.is_ok_and(|half| figure.value.abs() > half);
    let mut say = |figure: &Figure, less: &str, more: &str| {
        if sure(figure) {
            let word = if figure.value < 0.0 { less } else { more };
            words.push(format!("{word} by {}", number(figure.value.abs(), 1)));
        }
    };
    say(&drying.delta_lightness, "darker", "lighter");
    say(&drying.delta_chroma, "duller", "more vivid");
    if let Ok(hue) = &drying.delta_hue
        && sure(hue)
    {
        words.push(format!("hue {}°", signed_number(hue.value, 1)));
    }
    FigureText { word: words.join(", "), ..FigureText::number(&drying.delta_e, 1, false) }
}

/// What the first coloured tube tells.
fn lightening(figures: &TubeFigures) -> FigureText {
    match figures.lightening.first() {
        Some(power) => {
            let text = percent(&power.percent, "");
            let mark = if power.indicative { "indicative" } else { "" };
            FigureText { word: mark.into(), ..text }
        }
        None => FigureText::plain("—".into()),
    }
}

/// What was judged by eye and noted at the bench; none where nothing was.
fn seen_at_bench(analysed: &AnalysedTrial, figures: &[&TubeFigures]) -> Vec<FactRow> {
    let Some(run) = analysed.trial.run() else { return Vec::new() };
    let of_tube = |tube: TubeRef| {
        analysed.trial.swatches.iter().filter(move |planned| {
            let mut colours = planned.swatch.mixture.colours(analysed.study.white);
            colours.next().is_some_and(|part| part.tube == tube) && colours.next().is_none()
        })
    };
    let row = |name, of: &dyn Fn(&Square) -> Vec<String>| {
        let told = |figures: &&TubeFigures| {
            let squares = of_tube(figures.tube).filter_map(|it| run.square(it.swatch.number));
            let mut words: Vec<String> = squares.flat_map(of).collect();
            words.dedup();
            FigureText::plain(words.join(", "))
        };
        let values: Vec<FigureText> = figures.iter().map(told).collect();
        values.iter().any(|text| !text.value.is_empty()).then(|| FactRow::new(name, values))
    };
    let bar = |square: &Square| -> Vec<String> {
        square.bar.iter().map(|bar| format!("{}, an estimate", bar.class())).collect()
    };
    let grain =
        |square: &Square| -> Vec<String> { square.grain.iter().map(ToString::to_string).collect() };
    let noted = |square: &Square| -> Vec<String> {
        let noted = square
            .observed
            .iter()
            .flat_map(|(words, note)| words.iter().map(ToString::to_string).chain([note.clone()]));
        noted.filter(|word| !word.is_empty()).collect()
    };
    [
        row("Opacity by the black bar", &bar),
        row("Granulation by eye", &grain),
        row("Noted at the bench", &noted),
    ]
    .into_iter()
    .flatten()
    .collect()
}

fn strength(figures: &TubeFigures, of: &dyn Fn(&Strength) -> FigureText) -> FigureText {
    match &figures.strength {
        Ok(strength) if strength.standard == figures.tube => FigureText::plain("standard".into()),
        Ok(strength) => of(strength),
        Err(why) => FigureText::missing(*why),
    }
}

fn percent(outcome: &Outcome, before: &str) -> FigureText {
    match outcome {
        Ok(figure) => {
            let text = FigureText::number(figure, 1, false);
            FigureText { value: format!("{before}{} %", text.value), ..text }
        }
        Err(why) => FigureText::missing(*why),
    }
}

fn equal_depth(strength: &Strength) -> FigureText {
    match &strength.equal_depth {
        Ok(depth) => {
            let before = match depth.bound {
                Some(Bound::Above) => "≥ ",
                Some(Bound::Below) => "≤ ",
                None => "",
            };
            percent(&Ok(depth.percent), before)
        }
        Err(why) => FigureText::missing(*why),
    }
}

fn same_ratio(strength: &Strength) -> FigureText {
    match strength.headline() {
        Some(headline) => {
            let text = percent(&headline.percent, "");
            let mark = if headline.indicative { "indicative" } else { "" };
            FigureText { word: mark.into(), ..text }
        }
        None => FigureText::missing(WhyNot::StandardUnread),
    }
}

fn at_equal_strength(strength: &Strength) -> FigureText {
    let colour = strength.colour_at_equal_strength.as_ref();
    FigureText::one_decimal(&colour.map(|colour| colour.delta_e).map_err(|why| *why))
}

fn opacity(opacity: Result<&Opacity, &WhyNot>) -> FigureText {
    match opacity {
        Ok(opacity) => {
            let text = percent(&Ok(opacity.contrast_ratio), "");
            let class = opacity.class.map_or_else(|_| "dark".into(), |class| class.to_string());
            FigureText { word: class, ..text }
        }
        Err(why) => FigureText::missing(*why),
    }
}
