//! How strong the tubes of one family are beside their standard: each of them is judged.

use study::numbers::{ends, number, parts};
use study::words::with_capital;
use study::{Study, TubeRef};

use super::words::as_far_as;
use super::{Finding, Subject, and, family, spoken_by_maker};
use crate::{Analysis, Bound, Figure, Strength};

/// What can be said of a strength in percent of the standard.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Verdict {
    /// The interval lies below 100.
    Weaker,
    /// The interval lies above 100.
    Stronger,
    /// The interval holds 100, or there is none.
    CannotTell,
    /// Only a lower limit.
    AtLeast,
    /// Only an upper limit.
    AtMost,
    /// The two methods answer differently, beyond their intervals.
    Contradicts,
}

pub(crate) fn verdict(percent: &Figure, bound: Option<Bound>, contradicts: bool) -> Verdict {
    match (bound, percent.interval()) {
        _ if contradicts => Verdict::Contradicts,
        (Some(Bound::Above), _) => Verdict::AtLeast,
        (Some(Bound::Below), _) => Verdict::AtMost,
        (None, Some([low, _])) if low > 100.0 => Verdict::Stronger,
        (None, Some([_, high])) if high < 100.0 => Verdict::Weaker,
        (None, _) => Verdict::CannotTell,
    }
}

/// One tube's strength, by the method that answers.
struct Entry<'a> {
    name: String,
    strength: &'a Strength,
    percent: Figure,
    verdict: Verdict,
}

impl<'a> Entry<'a> {
    fn of(name: String, strength: &'a Strength) -> Option<Self> {
        let (percent, bound) = strength.quoted()?;
        let verdict = verdict(&percent, bound, strength.contradiction().is_some());
        Some(Self { name, strength, percent, verdict })
    }

    fn times(&self) -> String {
        how_many_times(self.percent.value / 100.0)
    }
}

/// `1.4`, with as many decimals as tell it from 1.
fn how_many_times(factor: f64) -> String {
    let digits = (1..4).find(|digits| number(factor, *digits) != number(1.0, *digits));
    number(factor, digits.unwrap_or(1))
}

/// The tubes of one standard's family, the farthest from it first.
pub(super) fn finding(study: &Study, analysis: &Analysis, standard: TubeRef) -> Option<Finding> {
    let mut entries: Vec<Entry<'_>> = family(analysis, standard)
        .filter_map(|(tube, strength)| Entry::of(spoken_by_maker(study, analysis, tube), strength))
        .collect();
    let far = |entry: &Entry<'_>| super::departure(&entry.percent);
    entries.sort_by(|one, other| far(other).total_cmp(&far(one)));
    let standard = spoken_by_maker(study, analysis, standard);
    let by_eye = entries.iter().any(|entry| entry.strength.is_by_eye());
    let sentence = match entries.as_slice() {
        [] => return None,
        [only] => of_one(only, &standard),
        several => of_several(several, &standard),
    };
    let indicative = entries.iter().any(|entry| entry.percent.indicative);
    let by_eye = if by_eye { ", by eye" } else { "" };
    Some(Finding {
        subject: Subject::Strength,
        sentence: sentence + by_eye + as_far_as(indicative) + ".",
        evidence: evidence(&entries),
    })
}

fn of_one(entry: &Entry<'_>, standard: &str) -> String {
    let (sample, times) = (&entry.name, entry.times());
    match entry.verdict {
        Verdict::Stronger => format!("{sample} is {times} times as strong as {standard}"),
        Verdict::Weaker => {
            let times = how_many_times(100.0 / entry.percent.value);
            format!("{standard} is {times} times as strong as {sample}")
        }
        Verdict::CannotTell => {
            format!("These readings cannot tell whether {sample} or {standard} is stronger")
        }
        Verdict::AtLeast => format!(
            "{sample} is at least {times} times as strong as {standard}; their tints don't overlap \
             in depth"
        ),
        Verdict::AtMost => format!(
            "{sample} is at most {times} times as strong as {standard}; their tints don't overlap \
             in depth"
        ),
        Verdict::Contradicts => {
            format!(
                "How strong {sample} is beside {standard} depends on how it is asked: {}",
                both_ways(entry)
            )
        }
    }
}

/// `112 % at equal depth, 87 % at the same ratio`.
fn both_ways(entry: &Entry<'_>) -> String {
    entry.strength.contradiction().map_or_else(String::new, |(depth, ratio)| {
        format!(
            "{} % at equal depth, but {} % at the same ratio",
            number(depth.value, 0),
            number(ratio.value, 0)
        )
    })
}

/// `Beside A, B is 0.7 times as strong and C 0.9 times; these readings cannot tell D from it`.
fn of_several(entries: &[Entry<'_>], standard: &str) -> String {
    let mut told = Vec::new();
    let mut unsure = Vec::new();
    let mut contradicting = Vec::new();
    for entry in entries {
        let (name, times) = (&entry.name, entry.times());
        match entry.verdict {
            Verdict::Weaker | Verdict::Stronger => told.push(format!("{name} is {times} times")),
            Verdict::AtLeast => told.push(format!("{name} is at least {times} times")),
            Verdict::AtMost => told.push(format!("{name} is at most {times} times")),
            Verdict::CannotTell => unsure.push(name.clone()),
            Verdict::Contradicts => {
                contradicting
                    .push(format!("{name} depends on how it is asked ({})", both_ways(entry)));
            }
        }
    }
    let mut clauses = Vec::new();
    if !told.is_empty() {
        clauses.push(format!("{} as strong", and(&told)));
    }
    clauses.extend(contradicting);
    if clauses.is_empty() {
        return format!("These readings cannot tell any of the tubes from {standard} by strength");
    }
    if !unsure.is_empty() {
        clauses.push(format!("these readings cannot tell {} from it", and(&unsure)));
    }
    format!("Beside {standard}, {}", clauses.join("; "))
}

fn evidence(entries: &[Entry<'_>]) -> String {
    let several = entries.len() > 1;
    let lines = entries.iter().map(|entry| {
        let figures = evidence_of(entry.strength);
        if several { format!("{}: {figures}.", entry.name) } else { with_capital(&figures) + "." }
    });
    lines.collect::<Vec<_>>().join(" ")
}

fn evidence_of(strength: &Strength) -> String {
    let mut lines = Vec::new();
    if let Ok(depth) = &strength.equal_depth
        && let Some(lightness) = depth.lightness
    {
        let lightness = number(lightness, 0);
        lines.push(format!("equal depth at L* {lightness}: {}", with_interval(&depth.percent)));
    }
    if let Some(headline) = strength.headline()
        && let Ok(percent) = headline.percent
    {
        let indicative = if headline.indicative { ", indicative" } else { "" };
        lines.push(format!(
            "same ratio at 1 : {}: {}{indicative}",
            parts(headline.white_parts),
            with_interval(&percent)
        ));
        if strength.disagrees() {
            lines.push("the two methods disagree, so the pigments may differ".into());
        }
    }
    if lines.is_empty() { "only a limit is known".into() } else { lines.join("; ") }
}

fn with_interval(percent: &Figure) -> String {
    let value = number(percent.value, 0);
    match (percent.interval(), percent.half_width) {
        (Some(interval), _) => {
            let [low, high] = ends(interval, 0);
            format!("{value} % of the standard, interval {low} to {high}")
        }
        (None, Err(why)) => format!("{value} % of the standard, no interval: {why}"),
        (None, Ok(_)) => format!("{value} % of the standard"),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::WhyNot;

    #[test]
    fn every_kind_of_strength_has_its_verdict() {
        let sure = |value, half| Figure { value, half_width: Ok(half), indicative: false };
        let bare = |value| Figure { value, half_width: Err(WhyNot::NotSteady), indicative: false };
        let cases = [
            (sure(70.0, 4.0), None, false, Verdict::Weaker),
            (sure(140.0, 4.0), None, false, Verdict::Stronger),
            (sure(97.0, 4.0), None, false, Verdict::CannotTell),
            (sure(104.0, 4.0), None, false, Verdict::CannotTell),
            (bare(70.0), None, false, Verdict::CannotTell),
            (bare(1600.0), Some(Bound::Above), false, Verdict::AtLeast),
            (bare(6.0), Some(Bound::Below), false, Verdict::AtMost),
            (sure(112.0, 4.0), None, true, Verdict::Contradicts),
        ];
        for (percent, bound, contradicts, expected) in cases {
            assert_eq!(verdict(&percent, bound, contradicts), expected, "{percent:?}");
        }
    }
}
