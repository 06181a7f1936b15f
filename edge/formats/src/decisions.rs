//! Recipes, and what to keep, as JSON.

use decide::{Grey, Kept, Reach, Recipe, Recipes};
use serde_json::{Value, json};

/// What recipes are told with.
#[derive(Debug)]
pub struct RecipeTold<'a> {
    /// By place.
    pub names: &'a [String],
    /// What the K and S of each tube rest on, by place.
    pub tubes_from: &'a [&'static str],
    /// What those of the white rest on; `None` without one.
    pub white_from: Option<&'static str>,
    /// What the target's looks rest on.
    pub target_from: &'static str,
    /// A simulated device made up some of the readings behind it.
    pub is_simulated: bool,
}

/// What K and S, or a look, rest on.
pub const READ: &str = "read";
/// Read, but from a picture.
pub const FROM_PICTURE: &str = "read from a picture";
/// On a tube of the same pigments by another maker.
pub const OTHER_MAKER: &str = "read of another tube of these pigments";
/// On what is typical of the pigments.
pub const TYPICAL: &str = "typical";
/// On the same, moved by what the eye said.
pub const TYPICAL_AS_SEEN: &str = "typical, moved by what the eye said";
/// On three numbers that somebody typed.
pub const TYPED: &str = "typed";

/// Recipes for one target as `recipe --format json` gives them.
#[must_use]
pub fn recipes_to_json(found: &Recipes, told: &RecipeTold<'_>) -> Value {
    let with_origin = |it: &Recipe| {
        let mut value = recipe(it, told.names);
        if let Some(tubes) = value["tubes"].as_array_mut() {
            for (entry, (at, _)) in tubes.iter_mut().zip(&it.shares.tubes) {
                entry["from"] = told.tubes_from.get(*at).copied().unwrap_or(TYPICAL).into();
            }
        }
        value
    };
    json!({
        "predicted": true,
        "target_from": told.target_from,
        "white_from": told.white_from,
        "recipes": found.recipes.iter().map(with_origin).collect::<Vec<_>>(),
        "alike": found.alike,
        "limit": found.limit.as_ref().map(|limit| json!({
            "most": limit.most,
            "at_least": rounded(limit.at_least),
            "lightness": rounded(limit.off.lightness),
            "chroma": rounded(limit.off.chroma),
            "hue": rounded(limit.off.hue),
            "words": limit.words(),
        })),
        "simulated": told.is_simulated,
    })
}

fn recipe(recipe: &Recipe, names: &[String]) -> Value {
    let tubes: Vec<Value> = recipe
        .shares
        .tubes
        .iter()
        .map(|(at, share)| {
            json!({
                "tube": names.get(*at),
                "share": share,
                "parts": recipe.parts.of_tube(*at),
            })
        })
        .collect();
    json!({
        "tubes": tubes,
        "white_share": recipe.shares.white,
        "white_parts": recipe.parts.white,
        "score": rounded(recipe.score),
        "delta_e": rounded(recipe.delta_e),
        "delta_e_parts": rounded(recipe.delta_e_parts),
        "delta_e_a": recipe.delta_e_second.map(rounded),
        "claim": rounded(recipe.claim),
        "contrast_ratio": recipe.contrast_ratio.map(rounded),
    })
}

/// What `decide --format json` gives: what to keep, greys and reach; `names` by place.
#[must_use]
pub fn decisions_to_json(
    kept: &[(String, Option<Kept>)],
    greys: &[Grey],
    reach: &Reach,
    names: &[String],
    is_simulated: bool,
) -> Value {
    let keep = |(name, kept): &(String, Option<Kept>)| {
        let verdict = kept.as_ref().map_or(decide::Keep::CannotTell, |it| it.verdict);
        let of = |pick: fn(&Kept) -> Option<f64>| kept.as_ref().and_then(pick).map(rounded);
        json!({
            "tube": name,
            "verdict": verdict.to_string(),
            "best": kept.as_ref().and_then(|it| it.best.as_ref()).map(|it| recipe(it, names)),
            "twin": kept.as_ref().and_then(|it| names.get(it.twin?)),
            "delta_e_mass": of(|it| it.mass_tone),
            "delta_e_tint": of(|it| it.tint),
            "delta_e_film": of(|it| it.film),
            "distance": of(|it| it.distance),
            "contrast_gap": of(|it| it.contrast_gap),
        })
    };
    let neutral = |grey: &Grey| {
        let [(a, _), (b, _)] = grey.shares.tubes.as_slice() else { return None };
        Some(json!({
            "a": names.get(*a),
            "b": names.get(*b),
            "ratio": grey.ratio(),
            "chroma": rounded(grey.chroma),
        }))
    };
    let cell = |(hue, lightness, chroma): (f64, f64, f64)| json!({ "hue": hue, "lightness": lightness, "chroma": rounded(chroma) });
    json!({
        "keep": kept.iter().map(keep).collect::<Vec<_>>(),
        "neutrals": greys.iter().filter_map(neutral).collect::<Vec<_>>(),
        "reach": reach.cells().map(cell).collect::<Vec<_>>(),
        "simulated": is_simulated,
    })
}

/// To a thousandth.
fn rounded(value: f64) -> f64 {
    (value * 1000.0).round() / 1000.0
}
