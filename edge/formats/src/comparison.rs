//! Comparisons of tubes as JSON.

use compare::{Apart, Distance, Twins};
use serde_json::{Value, json};

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

/// To a thousandth.
fn rounded(value: f64) -> f64 {
    (value * 1000.0).round() / 1000.0
}
