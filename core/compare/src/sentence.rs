//! What was found of two tubes, in one sentence.

use crate::distance::Distance;
use crate::equal::is_beyond;
use crate::footing::Apart;
use crate::twins::Twins;
use crate::verdict::{ALIKE, Verdict};

impl Twins {
    /// The verdict in one sentence, with its figure; the tubes by these names.
    #[must_use]
    pub fn sentence(&self, [one, other]: [&str; 2]) -> String {
        let off = self.distance.in_words();
        let use_of = self.use_in_words([one, other]);
        let mass_tone = self.mass_tone.map(Distance::in_words).unwrap_or_default();
        let worst = self.worst.as_ref().map_or_else(String::new, |worst| {
            format!(", most of all with {}, up to ΔE00 {:.1}", worst.with, worst.delta_e)
        });
        match self.verdict() {
            Verdict::OneIsEnough if self.no_visible_difference() => {
                format!(
                    "One of the two is enough: {use_of}, and no difference is to be seen ({off})."
                )
            }
            Verdict::OneIsEnough => {
                format!("One of the two is enough: {use_of} ({off} at equal strength).")
            }
            Verdict::AlikeInMixtures => format!(
                "Alike in mixtures, different alone: {use_of} ({off}), and their mass tones differ by {mass_tone}."
            ),
            Verdict::AlikeInMassTone => {
                format!("Alike alone, different in mixtures{worst}: {use_of}, and {off} is left.")
            }
            Verdict::Different if self.has_a_use() => {
                format!("Different{worst}: {use_of}, and {off} is left.")
            }
            Verdict::Different => format!("Different{worst}."),
            Verdict::CannotTell => {
                let alone = match self.mass_tone {
                    None => "; a mass tone was not read".into(),
                    Some(_) => format!(", and {mass_tone} between the mass tones"),
                };
                format!(
                    "These readings cannot tell: {off} at equal strength{alone}; the limit is {ALIKE:.0}."
                )
            }
        }
    }

    /// `one part of A does what 1.16 parts of B do (1.12 to 1.20)`.
    fn use_in_words(&self, [one, other]: [&str; 2]) -> String {
        if is_beyond(self.use_of_second) {
            return "one is more than eight times as strong as the other".into();
        }
        let [low, high] = self.use_interval;
        let parts = self.use_of_second;
        format!(
            "one part of {one} does what {parts:.2} parts of {other} do ({low:.2} to {high:.2})"
        )
    }
}

impl Distance {
    fn in_words(self) -> String {
        format!("ΔE00 {:.1} ± {:.1}", self.value, self.half_width)
    }
}

/// Several tubes beside a standard, in one sentence: those of one verdict together.
#[must_use]
pub fn headline(standard: &str, others: &[(&str, Result<&Twins, &Apart>)]) -> String {
    if let [(other, Ok(twins))] = others {
        return twins.sentence([standard, other]);
    }
    let of = |wanted: Option<Verdict>| -> Vec<String> {
        let names = others.iter().filter(|(_, found)| {
            let verdict = found.as_ref().ok().map(|twins| twins.verdict());
            verdict == wanted
        });
        names
            .map(|(name, found)| match found {
                Ok(twins) if twins.has_a_use() && twins.verdict() != Verdict::CannotTell => {
                    format!("{name} ({:.2} parts for 1)", twins.use_of_second)
                }
                _ => (*name).to_owned(),
            })
            .collect()
    };
    let mut clauses = Vec::new();
    let mut say = |names: Vec<String>, one: &str, more: &str| {
        if !names.is_empty() {
            let verb = if names.len() == 1 { one } else { more };
            clauses.push(format!("{} {verb}", listed(&names)));
        }
    };
    say(
        of(Some(Verdict::OneIsEnough)),
        &format!("does all that {standard} does"),
        &format!("do all that {standard} does"),
    );
    say(
        of(Some(Verdict::AlikeInMixtures)),
        &format!("does the same as {standard} in every mixture and differs alone"),
        &format!("do the same as {standard} in every mixture and differ alone"),
    );
    say(
        of(Some(Verdict::AlikeInMassTone)),
        &format!("looks like {standard} alone and mixes otherwise"),
        &format!("look like {standard} alone and mix otherwise"),
    );
    say(of(Some(Verdict::Different)), "is another colour", "are other colours");
    say(of(Some(Verdict::CannotTell)), "cannot be told yet", "cannot be told yet");
    say(of(None), "cannot be compared yet", "cannot be compared yet");
    format!("{}.", clauses.join("; "))
}

/// Tubes that one clause names; more are counted.
const NAMED: usize = 3;

/// `A, B and C`, or `A, B and 4 more`.
fn listed(names: &[String]) -> String {
    match names {
        [one, other, rest @ ..] if names.len() > NAMED => {
            format!("{one}, {other} and {} more", rest.len())
        }
        [] => String::new(),
        [one] => one.clone(),
        [rest @ .., last] => format!("{} and {last}", rest.join(", ")),
    }
}
