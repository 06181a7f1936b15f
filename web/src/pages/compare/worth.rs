//! What the work of each tube costs.

use serde_json::{Value, json};
use workshop::{Beside, Comparison};

use crate::words::number;

/// A tube's prices as text.
pub(super) struct WorthRow {
    pub name: String,
    /// `60 ml, 9.80 EUR`.
    pub bought: String,
    pub per_ml: String,
    /// Price of what colours like 1 ml of the standard.
    pub as_strong: String,
    pub interval: String,
    /// Price of tinting 100 ml of white to one depth.
    pub tinting: String,
    pub density: String,
}

/// The price table, and one sentence of it.
pub(super) struct Worths {
    pub rows: Vec<WorthRow>,
    pub sentence: String,
    /// Why some have no figure.
    pub note: String,
}

/// `None` where no price is known.
pub(super) fn worths(comparison: &Comparison) -> Option<Worths> {
    let tubes = &comparison.tubes;
    if tubes.iter().all(|tube| tube.price.is_none()) {
        return None;
    }
    let currency = |tube: &Beside| tube.price.as_ref().map(|it| it.currency.clone());
    let mut known = tubes.iter().filter_map(currency);
    let first = known.next().unwrap_or_default();
    let one_currency = known.all(|it| it == first);
    let note = if one_currency {
        ""
    } else {
        "Prices in different currencies are not converted, and so not compared."
    };
    Some(Worths {
        rows: tubes.iter().map(|tube| row(tube, comparison.by_weight)).collect(),
        sentence: sentence(tubes),
        note: note.to_owned(),
    })
}

fn row(tube: &Beside, by_weight: bool) -> WorthRow {
    let label = &tube.tube.tube;
    let volume = label.volume_ml.map(|volume| format!("{} ml", number(volume, 0)));
    let price = (!label.price.is_empty()).then(|| label.price.clone());
    let bought: Vec<String> = volume.into_iter().chain(price).collect();
    let money = |amount: f64| number(amount, if amount < 1.0 { 3 } else { 2 });
    let worth = tube.worth.as_ref();
    let per_ml =
        tube.price.as_ref().zip(label.volume_ml).map(|(price, volume)| price.amount / volume);
    let density = match label.density_g_ml {
        Some(density) => number(density, 2),
        None if by_weight => "not known, ± 25 %".into(),
        None => "–".into(),
    };
    let or_dash = |text: Option<String>| text.unwrap_or_else(|| "–".into());
    WorthRow {
        name: label.name.clone(),
        bought: if bought.is_empty() { "–".into() } else { bought.join(", ") },
        per_ml: or_dash(per_ml.map(money)),
        as_strong: or_dash(worth.map(|it| money(it.as_strong))),
        interval: worth
            .filter(|it| it.half_width > 0.0)
            .map_or_else(String::new, |it| format!("± {}", money(it.half_width))),
        tinting: or_dash(tube.tinting.map(|it| number(it, 2))),
        density,
    }
}

/// `The cheapest for its work is B: its 75 ml do the work of 62 ml of A (57 to 67).`
fn sentence(tubes: &[Beside]) -> String {
    let costs = tubes.iter().filter_map(|tube| Some((tube, tube.worth.as_ref()?)));
    let costs: Vec<_> = costs.collect();
    let [_, _, ..] = costs.as_slice() else { return String::new() };
    let by_cost = |a: &&(&Beside, &compare::Worth), b: &&(&Beside, &compare::Worth)| {
        a.1.as_strong.total_cmp(&b.1.as_strong)
    };
    let Some((best, worth)) = costs.iter().min_by(by_cost) else { return String::new() };
    let standard = &tubes[0].tube.tube;
    let label = &best.tube.tube;
    // Two whose intervals meet are not told apart.
    let is_sure =
        costs.iter().filter(|(tube, _)| tube.tube.id != best.tube.id).all(|(_, other)| {
            other.as_strong - worth.as_strong > other.half_width.hypot(worth.half_width)
        });
    let who = if is_sure {
        format!("The cheapest for its work is {}", label.name)
    } else {
        format!("The cheapest for its work may be {}, but these figures cannot tell", label.name)
    };
    if best.tube.id == tubes[0].tube.id {
        return format!("{who}.");
    }
    let volume = label.volume_ml.unwrap_or_default();
    let off = worth.half_width / worth.as_strong;
    format!(
        "{who}: its {} ml do the work of {} ml of {} ({} to {}).",
        number(volume, 0),
        number(worth.does_ml, 0),
        standard.name,
        number(worth.does_ml * (1.0 - off), 0),
        number(worth.does_ml * (1.0 + off), 0)
    )
}

/// Each tube beside the first, for other programs.
pub(super) fn to_json(comparison: &Comparison) -> Value {
    let rounded = |value: f64| (value * 1000.0).round() / 1000.0;
    let lab = |it: colour::Lab| json!([rounded(it.l), rounded(it.a), rounded(it.b)]);
    let of = |tube: &Beside| {
        let label = &tube.tube.tube;
        json!({
            "tube": label.name, "maker": label.maker, "code": label.code(),
            "steps": tube.steps.iter().map(|step| json!({
                "white_parts": rounded(step.white), "lab": lab(step.lab),
                "half_width": step.half_width.map(rounded), "brought_over": step.read.is_none(),
            })).collect::<Vec<_>>(),
            "at_equal_depth": tube.at_depths.iter().zip(&comparison.depths).map(|(it, depth)| json!({
                "depth": rounded(*depth), "white_parts": rounded(it.white), "lab": lab(it.lab),
            })).collect::<Vec<_>>(),
            "lean_degrees": tube.lean.map(|it| rounded(it.shift)),
            "lean_half_width": tube.lean.map(|it| rounded(it.half_width)),
            "use": tube.use_of.map(|it| rounded(it.0)),
            "use_interval": tube.use_of.map(|it| it.1.map(rounded)),
            "price": tube.price.as_ref().map(|it| it.amount),
            "currency": tube.price.as_ref().map(|it| it.currency.clone()),
            "per_ml": tube.worth.map(|it| rounded(it.per_ml)),
            "as_strong_as_1_ml": tube.worth.map(|it| rounded(it.as_strong)),
            "as_strong_half_width": tube.worth.map(|it| rounded(it.half_width)),
        })
    };
    comparison.tubes.iter().map(of).collect()
}
