//! What was found, in sentences.

use compare::{Apart, Verdict, headline};
use figures::finding::toward;
use workshop::{ComparedPair, Comparison, TubeDrift, is_warmer};

use crate::words::{counted, is_beyond, number};

/// All tubes beside the first, in one sentence.
pub(super) fn finding(comparison: &Comparison, names: &[String]) -> String {
    // Where nothing can be worked out, what eyes said is the answer.
    let is_told = comparison.pairs.iter().any(|pair| pair.found.is_ok());
    if let (false, Some(seen)) = (is_told, comparison.by_eye.first()) {
        return seen.clone();
    }
    let with_first = comparison.pairs.iter().filter(|pair| pair.of[0] == 0);
    let others: Vec<_> =
        with_first.map(|pair| (names[pair.of[1]].as_str(), pair.found.as_ref())).collect();
    headline(&names[0], &others)
}

/// Tubes whose figures stand beside the finding; the others have theirs below.
const BESIDE_THE_FINDING: usize = 3;

/// The figures behind it.
pub(super) fn evidence(comparison: &Comparison, names: &[String]) -> Vec<String> {
    let with_first = comparison.pairs.iter().filter(|pair| pair.of[0] == 0);
    let with_first = with_first.take(BESIDE_THE_FINDING);
    // Of two that stand apart the reason is all there is to say.
    if let [ComparedPair { found: Err(apart), .. }] = comparison.pairs.as_slice() {
        return vec![capital(&format!("{apart}."))];
    }
    let told = with_first.filter_map(|pair| {
        let twins = pair.found.as_ref().ok()?;
        let off = twins.distance;
        Some(format!(
            "{}: ΔE00 {} ± {} at equal strength{}",
            names[pair.of[1]],
            number(off.value, 1),
            number(off.half_width, 1),
            twins.mass_tone.map_or_else(String::new, |alone| {
                format!(", {} ± {} alone", number(alone.value, 1), number(alone.half_width, 1))
            })
        ))
    });
    told.collect()
}

/// A pair as the page lists it.
pub(super) struct PairRow {
    pub names: String,
    pub verdict: &'static str,
    pub sentence: String,
    /// What it rests on.
    pub note: String,
    /// Trials that were read, with their addresses.
    pub trials: Vec<(String, String)>,
}

pub(super) fn pair_rows(comparison: &Comparison, names: &[String]) -> Vec<PairRow> {
    comparison.pairs.iter().map(|pair| pair_row(pair, names)).collect()
}

fn pair_row(pair: &ComparedPair, names: &[String]) -> PairRow {
    let [one, other] = pair.of.map(|at| names[at].as_str());
    let mut trials: Vec<(String, String)> = Vec::new();
    for (id, name) in pair.trials.iter().flatten() {
        let line = (format!("/trials/{}/readings", id.0), name.clone());
        if !trials.contains(&line) {
            trials.push(line);
        }
    }
    let (verdict, sentence, note) = match &pair.found {
        Ok(twins) => {
            let mut note =
                vec![format!("{} compared", counted(twins.cells.len(), "square", "squares"))];
            if !twins.footing.brought_over.is_empty() {
                note.push(format!("brought over: {}", twins.footing.brought_over.join("; ")));
            }
            if twins.is_simulated {
                note.push("readings by a simulated device".into());
            }
            (words(twins.verdict()), twins.sentence([one, other]), note.join(" · "))
        }
        Err(apart) => ("not compared", capital(&format!("{apart}.")), String::new()),
    };
    PairRow { names: format!("{one} and {other}"), verdict, sentence, note, trials }
}

fn words(verdict: Verdict) -> &'static str {
    match verdict {
        Verdict::OneIsEnough => "one is enough",
        Verdict::AlikeInMixtures => "alike in mixtures",
        Verdict::AlikeInMassTone => "alike alone",
        Verdict::Different => "different",
        Verdict::CannotTell => "cannot tell",
    }
}

fn capital(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map_or_else(String::new, |first| first.to_uppercase().chain(letters).collect())
}

/// The tubes whose swatches would make more pairs comparable, by their places: only those that lack them, where the
/// reason says which.
pub(super) fn lacking(comparison: &Comparison) -> Vec<usize> {
    let name = |at: usize| comparison.tubes[at].tube.tube.name.as_str();
    let mut lacking: Vec<usize> = Vec::new();
    for pair in &comparison.pairs {
        let places = pair.of.into_iter();
        match &pair.found {
            Err(Apart::Unread(of) | Apart::Unfitted(of)) => {
                lacking.extend(places.filter(|at| name(*at) == of));
            }
            Err(
                Apart::White(..)
                | Apart::NoWhite
                | Apart::NothingShared(_)
                | Apart::Uncalibrated
                | Apart::Basis(..),
            ) => lacking.extend(places),
            Err(
                Apart::Observer(..)
                | Apart::Sheen
                | Apart::Geometry
                | Apart::Medium(..)
                | Apart::PoorFit(_)
                | Apart::IsWhite(_)
                | Apart::Same,
            ) => {}
            Ok(twins) if twins.verdict() == Verdict::CannotTell => lacking.extend(places),
            Ok(_) => {}
        }
    }
    lacking.sort_unstable();
    lacking.dedup();
    lacking
}

/// Which way each tube leans beside the first, at equal depth.
pub(super) fn leans(comparison: &Comparison, names: &[String], red_is_warm: bool) -> Vec<String> {
    let tubes = comparison.tubes.iter().zip(names).skip(1);
    let told = tubes.filter_map(|(tube, name)| {
        let lean = tube.lean?;
        let beside = &names[0];
        if !is_beyond(lean.shift, lean.half_width, 0) {
            return Some(format!(
                "Which way {name} leans beside {beside}, these readings cannot tell."
            ));
        }
        let toward = toward(lean.from, lean.shift);
        Some(format!(
            "At equal depth {name} leans {toward} by {}° ± {} beside {beside}: the {} of the two.",
            number(lean.shift.abs(), 0),
            number(lean.half_width, 0),
            if is_warmer(lean.from, toward, red_is_warm) { "warmer" } else { "cooler" }
        ))
    });
    told.collect()
}

/// What became of a tube that was read more than once.
pub(super) fn drift(drift: &TubeDrift, names: &[String]) -> String {
    let name = &names[drift.tube];
    let [(first, before), (second, later)] = &drift.trials;
    let between = if first == second {
        format!("since “{before}” was read first")
    } else {
        format!("between “{before}” and “{later}”")
    };
    let squares = match &drift.found {
        Ok(squares) => squares,
        Err(apart) => return format!("{name} {between}: {apart}."),
    };
    let seen: Vec<_> = squares.iter().filter(|it| it.is_visible() == Some(true)).collect();
    let unsure = squares.iter().filter(|it| it.is_visible().is_none()).count();
    let all = counted(squares.len(), "square", "squares");
    let most = seen.iter().max_by(|a, b| a.off.value.total_cmp(&b.off.value));
    match most {
        Some(most) => format!(
            "{name} has changed visibly {between} in {} of {all}, most of all with {}: ΔE00 {} ± {}.",
            seen.len(),
            most.with,
            number(most.off.value, 1),
            number(most.off.half_width, 1)
        ),
        None if unsure == 0 => {
            format!("{name} shows no visible difference {between}, in {all}.")
        }
        None => format!(
            "{name} {between}: none of {all} has changed visibly; for {unsure} of them these readings cannot tell."
        ),
    }
}
