//! Are tubes of the same pigments the same colour once they are equally strong?

use colour::signed_shift;
use study::numbers::number;
use study::{Study, TubeRef};

use super::words::signed;
use super::{Closeness, Finding, Subject, family, spoken_by_maker, toward};
use crate::{Analysis, EqualStrengthColour};

/// A hue that lies further off than this, in degrees, is another hue and no lean (ours).
const FARTHEST_LEAN: f64 = 60.0;

/// One tube beside the standard.
struct Entry<'a> {
    name: String,
    colour: &'a EqualStrengthColour,
    closeness: Closeness,
}

/// Each tube of one standard's family, the one that differs most first.
pub(super) fn finding(study: &Study, analysis: &Analysis, standard: TubeRef) -> Option<Finding> {
    let mut entries: Vec<Entry<'_>> = family(analysis, standard)
        .filter_map(|(tube, strength)| {
            let colour = strength.colour_at_equal_strength.as_ref().ok()?;
            let closeness = if colour.from_picture {
                Closeness::in_picture(&colour.delta_e)
            } else {
                Closeness::of(&colour.delta_e)
            };
            Some(Entry { name: spoken_by_maker(study, analysis, tube), colour, closeness })
        })
        .collect();
    let far = |entry: &Entry<'_>| entry.colour.delta_e.value;
    entries.sort_by(|one, other| far(other).total_cmp(&far(one)));
    let standard = spoken_by_maker(study, analysis, standard);
    let sentence = match entries.as_slice() {
        [] => return None,
        [only] => of_one(only, &standard),
        several => of_several(several, &standard),
    };
    let evidence = match entries.as_slice() {
        [only] => evidence(only.colour),
        several => several
            .iter()
            .map(|entry| format!("{}: {}", entry.name, evidence(entry.colour)))
            .collect::<Vec<_>>()
            .join(" "),
    };
    Some(Finding { subject: Subject::ColourAtEqualStrength, sentence, evidence })
}

fn of_one(Entry { name, colour, closeness }: &Entry<'_>, standard: &str) -> String {
    match closeness {
        Closeness::NoVisibleDifference => format!(
            "At equal strength there is no visible difference between {name} and {standard}: one \
             pigment at two loads."
        ),
        Closeness::CannotTell => {
            format!("At equal strength these readings cannot tell {name} from {standard}.")
        }
        Closeness::Close => {
            format!(
                "At equal strength {name} is close to {standard}{}.",
                direction(colour, ", leaning ")
            )
        }
        Closeness::Different => format!(
            "At equal strength {name} is another colour than {standard}{}.",
            direction(colour, ": it leans ")
        ),
    }
}

/// `Beside A at equal strength: B is another colour, leaning 4° toward red; C is close.`
fn of_several(entries: &[Entry<'_>], standard: &str) -> String {
    if entries.iter().all(|entry| entry.closeness == Closeness::NoVisibleDifference) {
        return format!(
            "At equal strength none differs visibly from {standard}: one pigment at other loads."
        );
    }
    let clause = |Entry { name, colour, closeness }: &Entry<'_>| match closeness {
        Closeness::NoVisibleDifference => format!("{name} shows no visible difference"),
        Closeness::CannotTell => format!("these readings cannot tell {name} from it"),
        Closeness::Close => format!("{name} is close{}", direction(colour, ", leaning ")),
        Closeness::Different => {
            format!("{name} is another colour{}", direction(colour, ", leaning "))
        }
    };
    let clauses: Vec<String> = entries.iter().map(clause).collect();
    format!("Beside {standard} at equal strength, {}.", clauses.join("; "))
}

/// The lean where hue makes most of the difference, else lightness or chroma.
fn direction(colour: &EqualStrengthColour, joined: &str) -> String {
    let (hue, chroma, lightness) = (
        colour.delta_hue.value.abs(),
        colour.delta_chroma.value.abs(),
        colour.delta_lightness.value.abs(),
    );
    if let (Some(from), Some(to)) = (colour.standard.hue(), colour.sample.hue())
        && hue >= chroma
        && hue >= lightness
    {
        let shift = signed_shift(from, to);
        if shift.abs() > FARTHEST_LEAN {
            return ", of another hue".into();
        }
        return format!("{joined}{}° toward {}", number(shift.abs(), 0), toward(from, shift));
    }
    let word = match (chroma >= lightness, colour.delta_chroma.value, colour.delta_lightness.value)
    {
        (true, more, _) if more > 0.0 => "more vivid",
        (true, _, _) => "duller",
        (false, _, lighter) if lighter > 0.0 => "lighter",
        (false, _, _) => "darker",
    };
    format!(", {word}")
}

fn evidence(colour: &EqualStrengthColour) -> String {
    let interval = match colour.delta_e.half_width {
        Ok(half) => format!(" ± {half:.1}"),
        Err(why) => format!(" (no interval: {why})"),
    };
    format!(
        "ΔE00 {:.1}{interval}; ΔL* {}, ΔC* {}, ΔH* {}.",
        colour.delta_e.value,
        signed(colour.delta_lightness.value),
        signed(colour.delta_chroma.value),
        signed(colour.delta_hue.value)
    )
}
