//! Which of two tubes with the same pigments is stronger.

use super::{Finding, Subject, family_size, spoken_by_maker};
use crate::figures::{Bound, Figure, Strength, WhyNot};
use crate::{Analysis, Study, TubeRef};

/// What can be said of a strength in percent of the standard.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Verdict {
    /// The interval lies below 100.
    Weaker,
    /// The interval lies above 100.
    Stronger,
    /// The interval holds 100.
    CannotTell,
    /// No interval: the number stands alone.
    Unsure,
    /// Only a lower limit.
    AtLeast,
    /// Only an upper limit.
    AtMost,
}

pub(crate) fn verdict(percent: &Figure, bound: Option<Bound>) -> Verdict {
    match (bound, percent.interval()) {
        (Some(Bound::Above), _) => Verdict::AtLeast,
        (Some(Bound::Below), _) => Verdict::AtMost,
        (None, None) => Verdict::Unsure,
        (None, Some([low, _])) if low > 100.0 => Verdict::Stronger,
        (None, Some([_, high])) if high < 100.0 => Verdict::Weaker,
        (None, Some(_)) => Verdict::CannotTell,
    }
}

/// One tube's strength, by the method that answers.
struct Entry<'a> {
    tube: TubeRef,
    strength: &'a Strength,
    percent: Figure,
    bound: Option<Bound>,
}

impl<'a> Entry<'a> {
    fn of(tube: TubeRef, strength: &'a Strength) -> Option<Self> {
        let (percent, bound) = strength.quoted()?;
        Some(Self { tube, strength, percent, bound })
    }

    fn departure(&self) -> f64 {
        (self.percent.value.max(1e-6) / 100.0).ln().abs()
    }
}

/// The tube that departs most from its standard.
pub(super) fn finding(study: &Study, analysis: &Analysis) -> Option<Finding> {
    let entries: Vec<Entry<'_>> = analysis
        .tubes
        .iter()
        .filter_map(|tube| Some((tube.tube, tube.strength.as_ref().ok()?)))
        .filter(|(tube, strength)| strength.standard != *tube)
        .filter_map(|(tube, strength)| Entry::of(tube, strength))
        .collect();
    let entry =
        entries.iter().max_by(|one, other| one.departure().total_cmp(&other.departure()))?;
    Some(Finding {
        subject: Subject::Strength,
        sentence: sentence(study, analysis, entry),
        evidence: evidence(entry),
    })
}

fn sentence(study: &Study, analysis: &Analysis, entry: &Entry<'_>) -> String {
    let of_several = family_size(analysis, entry.strength.standard) > 2;
    let sample = spoken_by_maker(study, analysis, entry.tube);
    let standard = spoken_by_maker(study, analysis, entry.strength.standard);
    let percent = entry.percent.value;
    let rank = |word: &str| {
        if of_several { format!("{sample} tints {word}: ") } else { String::new() }
    };
    let weaker = |rank: String| {
        format!("{rank}1 part of {standard} does what {:.2} parts of {sample} do.", 100.0 / percent)
    };
    let stronger = |rank: String| {
        format!("{rank}1 part of {sample} does what {:.2} parts of {standard} do.", percent / 100.0)
    };
    match verdict(&entry.percent, entry.bound) {
        Verdict::Weaker => weaker(rank("weakest")),
        Verdict::Stronger => stronger(rank("strongest")),
        Verdict::Unsure if percent < 100.0 => weaker(String::new()),
        Verdict::Unsure => stronger(String::new()),
        Verdict::CannotTell if of_several => {
            format!("These readings cannot tell any of the tubes from {standard} by strength.")
        }
        Verdict::CannotTell => {
            format!(
                "{sample} tints as strongly as {standard}: these readings cannot tell them apart."
            )
        }
        Verdict::AtLeast => format!(
            "{sample} is at least {:.2} times as strong as {standard}; their tints share no depth.",
            percent / 100.0
        ),
        Verdict::AtMost => format!(
            "{sample} is at most {:.2} times as strong as {standard}; their tints share no depth.",
            percent / 100.0
        ),
    }
}

fn evidence(entry: &Entry<'_>) -> String {
    let mut parts = Vec::new();
    if let Ok(depth) = &entry.strength.equal_depth
        && let Some(lightness) = depth.lightness
    {
        parts.push(format!("equal depth at L* {lightness:.0}: {}", with_interval(&depth.percent)));
    }
    if let Some(headline) = entry.strength.headline()
        && let Ok(percent) = headline.percent
    {
        let indicative = if headline.indicative { ", indicative" } else { "" };
        parts.push(format!(
            "same ratio at 1 : {:.0}: {}{indicative}",
            headline.white_parts,
            with_interval(&percent)
        ));
        if disagree(entry, &percent) {
            parts.push("the two methods disagree, so the pigments may differ".into());
        }
    }
    super::with_capital(&parts.join("; ")) + "."
}

/// Equal depth and same ratio lie apart by more than both their intervals.
fn disagree(entry: &Entry<'_>, same_ratio: &Figure) -> bool {
    let Ok(depth) = &entry.strength.equal_depth else { return false };
    match (depth.bound, depth.percent.interval(), same_ratio.interval()) {
        (None, Some([low, high]), Some([other_low, other_high])) => {
            low > other_high || other_low > high
        }
        _ => false,
    }
}

fn with_interval(percent: &Figure) -> String {
    match (percent.interval(), percent.half_width) {
        (Some([low, high]), _) => {
            format!("{:.0} % of the standard, interval {low:.0} to {high:.0}", percent.value)
        }
        (None, Err(WhyNot::ByEye)) => {
            format!("{:.0} % of the standard, no interval: made by eye", percent.value)
        }
        (None, _) => format!("{:.0} % of the standard, no interval", percent.value),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_kind_of_strength_has_its_verdict() {
        let sure = |value, half| Figure { value, half_width: Ok(half) };
        let bare = |value| Figure { value, half_width: Err(WhyNot::ByEye) };
        let cases = [
            (sure(70.0, 4.0), None, Verdict::Weaker),
            (sure(140.0, 4.0), None, Verdict::Stronger),
            (sure(97.0, 4.0), None, Verdict::CannotTell),
            (sure(104.0, 4.0), None, Verdict::CannotTell),
            (bare(70.0), None, Verdict::Unsure),
            (bare(1600.0), Some(Bound::Above), Verdict::AtLeast),
            (bare(6.0), Some(Bound::Below), Verdict::AtMost),
        ];
        for (percent, bound, expected) in cases {
            assert_eq!(verdict(&percent, bound), expected, "{percent:?}");
        }
    }
}
