//! An analysis as JSON, for other programs.
//!
//! Angles in degrees, chroma loss and dulling as fractions, strength in percent; `null` where a
//! figure has no meaning. An interval stands beside its figure as `…_interval: [low, high]`, and
//! the reason for a missing figure as `…_why`.

use colour::{Conditions, Lab, munsell_value};
use figures::{
    Analysis, Bound, Drying, EqualDepth, EqualStrengthColour, Figure, LighteningPower,
    MixtureFigures, Opacity, Outcome, PairFigures, PairStep, SameRatio, Strength, StrengthBasis,
    TintFigures, TubeFigures, Vividness, WhyNot,
};
use serde_json::{Map, Value, json};
use study::{Part, Study, SwatchColour, TubeRef, Warning};

/// The whole analysis; `warnings` are those of the file it came from.
#[must_use]
pub fn to_json(study: &Study, analysis: &Analysis, warnings: &[Warning]) -> Value {
    json!({
        "conditions": {
            "illuminant": analysis.conditions.illuminant.to_string(),
            "observer": if analysis.conditions.observer == colour::Observer::Two { 2 } else { 10 },
        },
        "white": analysis.white.as_ref().map(|white| json!({
            "tube": study.label(white.tube).name,
            "mass_tone": white.mass_tone.as_ref().map(|tone| colour(tone.lab)),
            "opacity": opacity(white.opacity.as_ref()),
        })),
        "tubes": analysis.tubes.iter().map(|tube| self::tube(study, tube)).collect::<Vec<_>>(),
        "pairs": analysis.pairs.iter().map(|pair| self::pair(study, pair)).collect::<Vec<_>>(),
        "mixtures": analysis.mixtures.iter().map(|it| mixture(study, it)).collect::<Vec<_>>(),
        "warnings": warnings.iter().chain(&analysis.warnings).map(|warning| json!({
            "line": warning.line,
            "message": warning.message,
        })).collect::<Vec<_>>(),
    })
}

fn tube(study: &Study, figures: &TubeFigures) -> Value {
    let label = study.label(figures.tube);
    let mut object = Fields::default();
    object.set("tube", label.name);
    object.set("maker", label.maker);
    object.set("code", label.code);
    object.set("mass_tone", figures.mass_tone().map(|tone| colour(tone.lab)));
    object.set("truest_tint", figures.truest_tint().map(truest));
    object.outcome("tint_shift", &figures.tint_shift);
    object.outcome("undertone_shift", &figures.undertone_shift);
    object.set(
        "tints",
        figures.tints.iter().map(|it| tint(it, study.conditions)).collect::<Vec<_>>(),
    );
    object.set("opacity", opacity(figures.opacity.as_ref()));
    object.or_why("drying", figures.drying.as_ref().map(drying));
    object.or_why("staining", figures.staining.as_ref().map(staining));
    object.set("strength", strength(study, figures.strength.as_ref()));
    if !figures.lightening.is_empty() {
        let powers = figures.lightening.iter().map(|power| lightening_power(study, power));
        object.set("lightening_power", powers.collect::<Vec<_>>());
    }
    object.into()
}

fn truest(tint: &TintFigures) -> Value {
    let lab = tint.colour.lab;
    json!({ "white_parts": tint.white_parts, "L": lab.l, "C": lab.chroma(), "h": hue(lab) })
}

fn tint(tint: &TintFigures, conditions: Conditions) -> Value {
    let mut object = Fields::default();
    object.set("white_parts", tint.white_parts);
    object.colour(tint.colour.lab);
    object.munsell_value(tint.colour.lab, conditions);
    object.outcome("hue_shift", &tint.hue_shift);
    object.set("hue_shift_oklch", tint.oklch_shift);
    object.outcome("chroma_loss", &tint.chroma_loss);
    object.set("by_eye", tint.by_eye);
    object.set("ratio_estimated", tint.estimated);
    object.repeats(&tint.colour);
    object.into()
}

fn opacity(opacity: Result<&Opacity, &WhyNot>) -> Value {
    let mut object = Fields::default();
    match opacity {
        Ok(opacity) => {
            object.figure("contrast_ratio", &opacity.contrast_ratio);
            object.set("class", opacity.class.ok().map(|class| class.to_string()));
            if let Err(why) = opacity.class {
                object.set("class_why", why.to_string());
            }
            object.outcome("veil", &opacity.veil);
        }
        Err(why) => {
            object.set("contrast_ratio", Value::Null);
            object.set("class", Value::Null);
            object.set("veil", Value::Null);
            object.set("why", why.to_string());
        }
    }
    object.into()
}

fn drying(drying: &Drying) -> Value {
    let mut object = Fields::default();
    object.figure("delta_L", &drying.delta_lightness);
    object.figure("delta_C", &drying.delta_chroma);
    object.outcome("delta_h", &drying.delta_hue);
    object.figure("delta_e", &drying.delta_e);
    object.into()
}

fn staining(percent: &Figure) -> Value {
    let mut object = Fields::default();
    object.figure("percent", percent);
    object.into()
}

fn lightening_power(study: &Study, power: &LighteningPower) -> Value {
    let mut object = Fields::default();
    object.set("standard", study.label(power.standard).name);
    object.set("colour", study.label(power.colour).name);
    object.set("white_parts", power.white_parts);
    object.outcome("percent", &power.percent);
    object.set("indicative", power.indicative);
    object.set("by_eye", power.by_eye);
    object.into()
}

fn mixture(study: &Study, mixture: &MixtureFigures) -> Value {
    let name = |tube: TubeRef| study.label(tube).name;
    let part = |part: &Part| json!({ "tube": name(part.tube), "parts": part.parts });
    let mut object = Fields::default();
    object.set("tubes", mixture.tubes.iter().map(part).collect::<Vec<_>>());
    object.set("white_parts", mixture.white_parts);
    object.colour(mixture.colour.lab);
    object.set("base", mixture.base.map(name));
    object.outcome("hue_shift", &mixture.hue_shift);
    object.outcome("chroma_loss", &mixture.chroma_loss);
    object.outcome("delta_e", &mixture.delta_e);
    object.vividness(mixture.vividness);
    object.set("by_eye", mixture.by_eye);
    object.repeats(&mixture.colour);
    object.into()
}

fn strength(study: &Study, strength: Result<&Strength, &WhyNot>) -> Value {
    let mut object = Fields::default();
    match strength {
        Ok(found) => {
            let standard = study.label(found.standard).name;
            let entries = found.same_ratio.iter().enumerate();
            object.set(
                "same_ratio",
                entries
                    .map(|(at, entry)| same_ratio(&standard, entry, found.headline == Some(at)))
                    .collect::<Vec<_>>(),
            );
            object.or_why(
                "equal_depth",
                found.equal_depth.as_ref().map(|it| equal_depth(&standard, it)),
            );
            object.or_why(
                "colour_at_equal_strength",
                found.colour_at_equal_strength.as_ref().map(|it| equal_strength(&standard, it)),
            );
        }
        Err(why) => {
            object.set("same_ratio", Vec::<Value>::new());
            object.set("equal_depth", Value::Null);
            object.set("colour_at_equal_strength", Value::Null);
            object.set("why", why.to_string());
        }
    }
    object.into()
}

fn same_ratio(standard: &str, entry: &SameRatio, headline: bool) -> Value {
    let mut object = Fields::default();
    object.set("standard", standard);
    object.set("white_parts", entry.white_parts);
    object.outcome("percent", &entry.percent);
    object.set(
        "basis",
        match entry.basis {
            StrengthBasis::Spectral => "spectral",
            StrengthBasis::Tristimulus => "tristimulus",
        },
    );
    object.set("wavelength", entry.wavelength);
    object.set("indicative", entry.indicative);
    object.set("headline", headline);
    object.set("by_eye", entry.by_eye);
    object.into()
}

fn equal_depth(standard: &str, found: &EqualDepth) -> Value {
    let mut object = Fields::default();
    object.set("standard", standard);
    object.set("depth", found.depth);
    object.set("lightness", found.lightness);
    object.figure("percent", &found.percent);
    object.set("bound", found.bound.map(bound));
    object.set("by_eye", found.by_eye);
    object.into()
}

fn equal_strength(standard: &str, found: &EqualStrengthColour) -> Value {
    let mut object = Fields::default();
    object.set("standard", standard);
    object.figure("delta_e", &found.delta_e);
    object.figure("delta_L", &found.delta_lightness);
    object.figure("delta_C", &found.delta_chroma);
    object.figure("delta_H", &found.delta_hue);
    object.into()
}

fn pair(study: &Study, pair: &PairFigures) -> Value {
    let name = |tube: TubeRef| study.label(tube).name;
    let mut object = Fields::default();
    object.set("a", name(pair.a));
    object.set("b", name(pair.b));
    object.set("white_parts", pair.white_parts);
    object.set("steps", pair.steps.iter().map(step).collect::<Vec<_>>());
    object.outcome("hue_gap", &pair.hue_gap);
    match &pair.holding {
        Ok(holding) => {
            object.figure("holding_ratio", &holding.ratio);
            object.set("holding_bound", holding.bound.map(bound));
            object.set("holding_by_eye", holding.by_eye);
        }
        Err(why) => {
            object.set("holding_ratio", Value::Null);
            object.set("holding_bound", Value::Null);
            object.set("holding_ratio_why", why.to_string());
        }
    }
    object.set(
        "neutral",
        pair.neutral.as_ref().map(|neutral| {
            let mut object = Fields::default();
            object.set("a_parts", 1.0);
            object.figure("b_parts", &neutral.ratio);
            object.colour(neutral.lab);
            Value::from(object)
        }),
    );
    object.into()
}

fn step(step: &PairStep) -> Value {
    let mut object = Fields::default();
    object.set("a_parts", step.a_parts);
    object.set("b_parts", step.b_parts);
    object.colour(step.colour.lab);
    object.outcome("hue_shift", &step.hue_shift);
    object.outcome("chroma_loss", &step.chroma_loss);
    object.set("gain", step.gain);
    object.outcome("dulling", &step.dulling);
    object.vividness(step.vividness);
    object.set("grade", step.grade.ok().map(|grade| grade.to_string()));
    object.outcome("delta_e_a", &step.delta_e_a);
    object.outcome("delta_e_b", &step.delta_e_b);
    object.set("by_eye", step.by_eye);
    object.set("ratio_estimated", step.estimated);
    object.repeats(&step.colour);
    object.into()
}

fn bound(bound: Bound) -> &'static str {
    match bound {
        Bound::Above => "above",
        Bound::Below => "below",
    }
}

fn hue(lab: Lab) -> Option<f64> {
    lab.hue().map(colour::Hue::degrees)
}

fn colour(lab: Lab) -> Value {
    let mut object = Fields::default();
    object.colour(lab);
    object.into()
}

/// An object under construction.
#[derive(Default)]
struct Fields(Map<String, Value>);

impl Fields {
    fn set(&mut self, name: &str, value: impl serde::Serialize) {
        self.0.insert(name.to_owned(), json!(value));
    }

    fn colour(&mut self, lab: Lab) {
        self.set("L", lab.l);
        self.set("a", lab.a);
        self.set("b", lab.b);
        self.set("C", lab.chroma());
        self.set("h", hue(lab));
    }

    fn munsell_value(&mut self, lab: Lab, conditions: Conditions) {
        self.set("munsell_value", munsell_value(lab.to_xyz(conditions).y));
    }

    fn repeats(&mut self, colour: &SwatchColour) {
        self.set("repeats", colour.repeats);
        self.set("spread", colour.spread.map(colour::DeltaE::value));
    }

    fn vividness(&mut self, vividness: Vividness) {
        self.set("vividness", vividness.word.to_string());
        self.set("vividness_share", vividness.share);
    }

    fn figure(&mut self, name: &str, figure: &Figure) {
        self.set(name, figure.value);
        if figure.indicative {
            self.set(&format!("{name}_indicative"), true);
        }
        match figure.interval() {
            Some(interval) => self.set(&format!("{name}_interval"), interval),
            None => {
                if let Err(why) = figure.half_width {
                    self.set(&format!("{name}_interval_why"), why.to_string());
                }
            }
        }
    }

    fn outcome(&mut self, name: &str, outcome: &Outcome) {
        match outcome {
            Ok(figure) => self.figure(name, figure),
            Err(why) => self.missing(name, *why),
        }
    }

    fn missing(&mut self, name: &str, why: WhyNot) {
        self.set(name, Value::Null);
        self.set(&format!("{name}_why"), why.to_string());
    }

    fn or_why(&mut self, name: &str, found: Result<Value, &WhyNot>) {
        match found {
            Ok(value) => self.set(name, value),
            Err(why) => self.missing(name, *why),
        }
    }
}

impl From<Fields> for Value {
    fn from(fields: Fields) -> Self {
        Self::Object(fields.0)
    }
}
