//! Comparisons of tubes as JSON.

use compare::{Apart, Distance, Twins};
use serde_json::{Value, json};

use crate::cells::guarded;

/// Two tubes by their names, and what was found of them.
pub type Compared = ([String; 2], Result<Twins, Apart>);

/// The pairs as `compare --format json` gives them.
#[must_use]
pub fn to_json(pairs: &[Compared]) -> Value {
    json!({ "pairs": pairs.iter().map(pair).collect::<Vec<_>>() })
}

fn pair(([a, b], found): &Compared) -> Value {
    match found {
        Err(apart) => json!({
            "a": a, "b": b,
            "verdict": compare::Verdict::CannotTell.to_string(),
            "use": null, "use_interval": null,
            "distance": null, "distance_half_width": null,
            "mass_tone": null, "mass_tone_half_width": null,
            "no_visible_difference": false,
            "worst": null,
            "compared": 0,
            "reasons": [apart.to_string()],
        }),
        Ok(twins) => json!({
            "a": a, "b": b,
            "verdict": twins.verdict().to_string(),
            "use": twins.has_a_use().then(|| rounded(twins.use_of_second)),
            "use_interval": twins.has_a_use().then(|| twins.use_interval.map(rounded)),
            "distance": rounded(twins.distance.value),
            "distance_half_width": rounded(twins.distance.half_width),
            "mass_tone": twins.mass_tone.map(|it| rounded(it.value)),
            "mass_tone_half_width": twins.mass_tone.map(|it: Distance| rounded(it.half_width)),
            "no_visible_difference": twins.no_visible_difference(),
            "worst": twins.worst.as_ref().map(|worst| json!({
                "with": worst.with,
                "delta_e": rounded(worst.delta_e),
            })),
            "compared": twins.cells.len(),
            "simulated": twins.is_simulated,
            "reasons": twins.footing.brought_over,
        }),
    }
}

/// The pairs as lines of the same fields.
#[must_use]
pub fn to_csv(pairs: &[Compared]) -> String {
    const HEAD: [&str; 15] = [
        "a",
        "b",
        "verdict",
        "use",
        "use_low",
        "use_high",
        "distance",
        "distance_half_width",
        "mass_tone",
        "mass_tone_half_width",
        "worst_with",
        "worst_delta_e",
        "compared",
        "simulated",
        "reasons",
    ];
    let mut writer = csv::Writer::from_writer(Vec::new());
    // Writing to memory does not fail.
    let _ = writer.write_record(HEAD);
    for (pair, compared) in pairs.iter().map(|it| (pair(it), it)) {
        let text = |value: &Value| match value {
            Value::String(text) => guarded(text).into_owned(),
            Value::Null => String::new(),
            other => other.to_string(),
        };
        let reasons: Vec<String> = match &compared.1 {
            Ok(twins) => twins.footing.brought_over.clone(),
            Err(apart) => vec![apart.to_string()],
        };
        let fields = [
            text(&pair["a"]),
            text(&pair["b"]),
            text(&pair["verdict"]),
            text(&pair["use"]),
            text(&pair["use_interval"][0]),
            text(&pair["use_interval"][1]),
            text(&pair["distance"]),
            text(&pair["distance_half_width"]),
            text(&pair["mass_tone"]),
            text(&pair["mass_tone_half_width"]),
            text(&pair["worst"]["with"]),
            text(&pair["worst"]["delta_e"]),
            text(&pair["compared"]),
            text(&pair["simulated"]),
            guarded(&reasons.join("; ")).into_owned(),
        ];
        let _ = writer.write_record(fields);
    }
    writer
        .into_inner()
        .map(|bytes| String::from_utf8_lossy(&bytes).into_owned())
        .unwrap_or_default()
}

/// To a thousandth.
fn rounded(value: f64) -> f64 {
    (value * 1000.0).round() / 1000.0
}
