//! An analysis as lines for people.

use std::fmt::Write as _;

use figures::finding::findings;
use figures::{
    Analysis, Bound, Figure, MixtureFigures, Outcome, PairFigures, Strength, TubeFigures,
};
use study::numbers::{ends, number, parts, signed_number};
use study::{Study, Warning};

pub(crate) fn text(study: &Study, analysis: &Analysis, warnings: &[Warning]) -> String {
    let mut out = String::new();
    for finding in findings(study, analysis) {
        line(&mut out, &finding.sentence);
        line(&mut out, &format!("    {}", finding.evidence));
    }
    line(&mut out, &format!("\nAll colours for {}.", analysis.conditions));
    for tube in &analysis.tubes {
        tube_lines(&mut out, study, tube);
    }
    for pair in &analysis.pairs {
        pair_lines(&mut out, study, pair);
    }
    for mixture in &analysis.mixtures {
        mixture_lines(&mut out, study, mixture);
    }
    for warning in warnings.iter().chain(&analysis.warnings) {
        line(&mut out, &format!("Note: {warning}"));
    }
    out
}

fn line(out: &mut String, text: &str) {
    // Writing to a string cannot fail.
    let _ = writeln!(out, "{text}");
}

fn tube_lines(out: &mut String, study: &Study, tube: &TubeFigures) {
    let label = study.label(tube.tube);
    line(out, &format!("\n{} · {} · {}", label.name, label.maker, label.code));
    line(out, "    white      L*      a*      b*      C*     h°  hue shift  chroma loss  repeats");
    for tint in &tube.tints {
        let lab = tint.colour.lab;
        let hue = lab.hue().map_or("    –".into(), |hue| format!("{:5.1}", hue.degrees()));
        line(
            out,
            &format!(
                "  1 : {:<4} {:6.2}  {:6.2}  {:6.2}  {:6.2}  {hue}  {:>9}  {:>11}  {:>7}",
                tint.white_parts,
                lab.l,
                lab.a,
                lab.b,
                lab.chroma(),
                degrees(&tint.hue_shift),
                fraction(&tint.chroma_loss),
                tint.colour.repeats
            ),
        );
    }
    match &tube.strength {
        Ok(strength) => strength_lines(out, study, strength),
        Err(why) => line(out, &format!("  tinting strength: – ({why})")),
    }
    match &tube.opacity {
        Ok(opacity) => {
            let class = opacity.class.map_or_else(|why| why.to_string(), |class| class.to_string());
            let ratio = with_interval(&opacity.contrast_ratio, " %");
            line(out, &format!("  contrast ratio: {ratio} ({class})"));
        }
        Err(why) => line(out, &format!("  contrast ratio: – ({why})")),
    }
    line(out, &format!("  undertone shift: {}", told(&tube.undertone_shift, "°")));
    match &tube.drying {
        Ok(drying) => line(
            out,
            &format!(
                "  drying shift: ΔE00 {} (ΔL* {}, ΔC* {}, Δh {})",
                with_interval(&drying.delta_e, ""),
                signed_number(drying.delta_lightness.value, 1),
                signed_number(drying.delta_chroma.value, 1),
                drying.delta_hue.map_or("–".into(), |hue| signed_number(hue.value, 1) + "°"),
            ),
        ),
        Err(why) => line(out, &format!("  drying shift: – ({why})")),
    }
    line(out, &format!("  staining: {}", told(&tube.staining, " %")));
    for power in &tube.lightening {
        let colour = study.label(power.colour).name;
        let percent = told(&power.percent, " %");
        line(
            out,
            &format!("  lightening power, with {colour} 1 : {}: {percent}", power.white_parts),
        );
    }
}

fn told(outcome: &Outcome, unit: &str) -> String {
    outcome.map_or_else(|why| format!("– ({why})"), |figure| with_interval(&figure, unit))
}

/// `Blue 3 + Yellow 1 + Red 1, white 1 : 4: L* 40.1 …, 12° toward red, 18 % less chroma than …`.
fn mixture_lines(out: &mut String, study: &Study, mixture: &MixtureFigures) {
    let name = |tube| study.label(tube).name;
    let part = |part: &study::Part| format!("{} {}", name(part.tube), parts(part.parts));
    let tubes: Vec<String> = mixture.tubes.iter().map(part).collect();
    line(out, &format!("\n{}, white 1 : {}", tubes.join(" + "), mixture.white_parts));
    let lab = mixture.colour.lab;
    line(out, &format!("  L* {:.2}  a* {:.2}  b* {:.2}", lab.l, lab.a, lab.b));
    let [a, b] = mixture.base.map(name);
    let loss = mixture.chroma_loss.map(|it| Figure {
        value: 100.0 * it.value,
        half_width: it.half_width.map(|half| 100.0 * half),
        ..it
    });
    line(
        out,
        &format!(
            "  beside {a} + {b}: hue shift {}, chroma loss {}",
            told(&mixture.hue_shift, "°"),
            told(&loss, " %")
        ),
    );
}

fn strength_lines(out: &mut String, study: &Study, strength: &Strength) {
    let standard = study.label(strength.standard).name;
    line(out, &format!("  tinting strength, {standard} = 100 %"));
    for (at, entry) in strength.same_ratio.iter().enumerate() {
        let percent = entry
            .percent
            .map_or_else(|why| format!("– ({why})"), |figure| with_interval(&figure, " %"));
        let marks = match (strength.headline == Some(at), entry.indicative) {
            (true, true) => ", to be quoted, indicative",
            (true, false) => ", to be quoted",
            (false, true) => ", indicative",
            (false, false) => "",
        };
        line(out, &format!("    same ratio at 1 : {}: {percent}{marks}", entry.white_parts));
    }
    match &strength.equal_depth {
        Ok(depth) => {
            let bound = match depth.bound {
                Some(Bound::Above) => "at least ",
                Some(Bound::Below) => "at most ",
                None => "",
            };
            line(out, &format!("    equal depth: {bound}{}", with_interval(&depth.percent, " %")));
        }
        Err(why) => line(out, &format!("    equal depth: – ({why})")),
    }
}

fn pair_lines(out: &mut String, study: &Study, pair: &PairFigures) {
    let name = |tube| study.label(tube).name;
    line(out, &format!("\n{} + {}, white 1 : {}", name(pair.a), name(pair.b), pair.white_parts));
    line(out, "      ratio      L*      a*      b*  hue shift  chroma loss  dulling  vividness");
    for step in &pair.steps {
        let lab = step.colour.lab;
        let vividness = step.vividness.word;
        line(
            out,
            &format!(
                "  {:>9}  {:6.2}  {:6.2}  {:6.2}  {:>9}  {:>11}  {:>7}  {vividness}",
                format!("{} : {}", step.a_parts, step.b_parts),
                lab.l,
                lab.a,
                lab.b,
                degrees(&step.hue_shift),
                fraction(&step.chroma_loss),
                fraction(&step.dulling),
            ),
        );
    }
    if let Ok(holding) = &pair.holding {
        let bound = match holding.bound {
            Some(Bound::Above) => "more than ",
            Some(Bound::Below) => "less than ",
            None => "",
        };
        let ratio = holding.ratio.value;
        let ratio = parts(ratio);
        line(out, &format!("  1 part of {} holds against {bound}{ratio} parts", name(pair.a)));
    }
    if let Some(neutral) = &pair.neutral {
        let chroma = neutral.lab.chroma();
        let ratio = parts(neutral.ratio.value);
        line(out, &format!("  neutral at 1 : {ratio}, cast C* {chroma:.1}"));
    }
}

fn degrees(outcome: &Outcome) -> String {
    outcome.map_or_else(|_| "–".into(), |figure| signed_number(figure.value, 1))
}

fn fraction(outcome: &Outcome) -> String {
    outcome.map_or_else(|_| "–".into(), |figure| number(100.0 * figure.value, 0) + " %")
}

fn with_interval(figure: &Figure, unit: &str) -> String {
    match figure.interval() {
        Some(interval) => {
            let [low, high] = ends(interval, 1);
            let told = if figure.indicative { ", indicative" } else { "" };
            format!("{}{unit} ({low} to {high}{told})", number(figure.value, 1))
        }
        None => format!("{}{unit}", number(figure.value, 1)),
    }
}
