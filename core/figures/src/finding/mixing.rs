//! Which tube stays vivid in mixtures with the reference, and which goes dull.

use study::Study;
use study::numbers::parts;

use super::words::{as_far_as, half_percent, percent};
use super::{Finding, Subject, spoken};
use crate::{Analysis, Figure, PairFigures, PairStep};

/// Hue gaps within this many degrees of each other may be ranked; straight mixing alone loses more
/// the wider the gap.
const SAME_GAP: f64 = 15.0;

/// Losses that differ by less than this are not worth a rank, however sure they are (ours).
const WORTH_RANKING: f64 = 0.10;

/// A loss this small, interval included, is none (ours).
const NOTHING_TO_SPEAK_OF: f64 = 0.05;

/// The dullest step of a pair.
struct Dullest<'a> {
    pair: &'a PairFigures,
    step: &'a PairStep,
    loss: Figure,
}

impl Dullest<'_> {
    /// The loss is larger than its interval; a pair that loses nothing to speak of is sure of that.
    fn is_sure(&self) -> bool {
        self.loss.half_width.is_ok_and(|half| half < self.loss.value.max(NOTHING_TO_SPEAK_OF))
    }
}

/// The pair that loses most chroma; ranked against the one that loses least where their gaps are
/// alike and their intervals apart.
pub(super) fn finding(study: &Study, analysis: &Analysis) -> Option<Finding> {
    let dullest: Vec<Dullest<'_>> = analysis.pairs.iter().filter_map(dullest_step).collect();
    let worst = dullest.iter().max_by(|one, other| {
        one.is_sure().cmp(&other.is_sure()).then(one.loss.value.total_cmp(&other.loss.value))
    })?;
    let rival = dullest
        .iter()
        .filter(|other| other.pair.a != worst.pair.a && comparable(worst, other))
        .min_by(|one, other| one.loss.value.total_cmp(&other.loss.value));
    let (a, b) = (spoken(study, worst.pair.a), spoken(study, worst.pair.b));
    if !worst.is_sure() {
        let sentence =
            format!("These readings cannot tell how much chroma {a} loses in mixtures with {b}.");
        return Some(Finding { subject: Subject::Mixing, sentence, evidence: evidence(worst) });
    }
    let told = as_far_as(worst.loss.indicative);
    let losing =
        format!("Mixed with {b}, {a} loses {} of the expected chroma", percent(worst.loss.value));
    let sentence = match rival {
        Some(rival) => {
            format!(
                "{losing}, {} only {}{told}.",
                spoken(study, rival.pair.a),
                percent(rival.loss.value)
            )
        }
        None => format!("{losing}; the mixture is {}{told}.", worst.step.vividness.word),
    };
    Some(Finding { subject: Subject::Mixing, sentence, evidence: evidence(worst) })
}

fn dullest_step(pair: &PairFigures) -> Option<Dullest<'_>> {
    pair.steps
        .iter()
        .filter_map(|step| Some(Dullest { pair, step, loss: step.chroma_loss.ok()? }))
        .max_by(|one, other| one.loss.value.total_cmp(&other.loss.value))
}

fn comparable(one: &Dullest<'_>, other: &Dullest<'_>) -> bool {
    let (Ok(gap), Ok(other_gap)) = (one.pair.hue_gap, other.pair.hue_gap) else { return false };
    let same_white = (one.pair.white_parts - other.pair.white_parts).abs() < 1e-6;
    let apart = match (one.loss.interval(), other.loss.interval()) {
        (Some([low, high]), Some([other_low, other_high])) => low > other_high || other_low > high,
        _ => false,
    };
    one.pair.b == other.pair.b
        && one.loss.value - other.loss.value >= WORTH_RANKING
        && same_white
        && apart
        && (gap.value - other_gap.value).abs() < SAME_GAP
}

fn evidence(dullest: &Dullest<'_>) -> String {
    let step = dullest.step;
    let white = match dullest.pair.white_parts {
        white if white > 0.0 => format!(" with white 1 : {}", parts(white)),
        _ => String::new(),
    };
    let interval = dullest
        .loss
        .half_width
        .map_or_else(|why| format!(" ({why})"), |half| format!(" ± {}", half_percent(half)));
    let gap = dullest
        .pair
        .hue_gap
        .map_or_else(|_| String::new(), |gap| format!("; the hues lie {:.0}° apart", gap.value));
    let dulling = step.dulling.map_or_else(
        |_| String::new(),
        |dulling| {
            let word = if dulling.value < 0.0 { "brighter" } else { "duller" };
            format!("; {} {word} than a straight blend", percent(dulling.value.abs()))
        },
    );
    let by_eye = if step.by_eye { ", by eye" } else { "" };
    let word = step.vividness.word;
    format!(
        "At {} : {}{white}{by_eye}: {}{interval}, {word}{gap}{dulling}.",
        parts(step.a_parts),
        parts(step.b_parts),
        percent(dullest.loss.value),
    )
}
