//! What a third tube, or a third and a fourth, did to a pair.

use study::Study;
use study::numbers::number;

use super::words::percent;
use super::{and, toward};
use crate::{Figure, MixtureFigures};

/// `20 % Saddle Red turned it 12° toward red and took 18 % of its chroma.` Each part is said only where it
/// is surely more than nothing; empty where the pair was not read.
#[must_use]
pub fn what_others_did(study: &Study, mixture: &MixtureFigures) -> String {
    let Ok(difference) = mixture.delta_e else { return String::new() };
    let share = |(tube, share): (_, f64)| format!("{} {}", percent(share), study.label(tube).name);
    let others: Vec<String> = mixture.others().into_iter().map(share).collect();
    let mut did = Vec::new();
    if let Ok(shift) = mixture.hue_shift
        && is_sure(&shift, 1.0)
        && let Some(hue) = mixture.colour.lab.hue()
    {
        let degrees = number(shift.value.abs(), 0);
        did.push(format!(
            "turned it {degrees}° toward {}",
            toward(hue.turned(-shift.value), shift.value)
        ));
    }
    if let Ok(loss) = mixture.chroma_loss
        && is_sure(&loss, 0.02)
    {
        let (verb, size) = if loss.value > 0.0 { ("took", "of its") } else { ("gave it", "more") };
        did.push(format!("{verb} {} {size} chroma", percent(loss.value.abs())));
    }
    let others = and(&others);
    if did.is_empty() {
        return match difference.half_width {
            Ok(half) if difference.value + half < study::VISIBLE => {
                format!("{others} made no visible difference.")
            }
            _ => format!("These readings cannot tell what {others} did."),
        };
    }
    format!("{others} {}.", did.join(" and "))
}

/// More than its interval, and more than nothing to speak of.
fn is_sure(figure: &Figure, least: f64) -> bool {
    let size = figure.value.abs();
    size >= least && figure.half_width.is_ok_and(|half| size > half)
}
