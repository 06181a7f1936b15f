//! Are two tubes of the same pigments the same colour once they are equally strong?

use colour::signed_shift;

use super::words::signed;
use super::{Closeness, Finding, Subject, spoken_by_maker, toward};
use crate::figures::EqualStrengthColour;
use crate::{Analysis, Study, TubeRef};

/// The tube that differs most from its standard at equal strength.
pub(super) fn finding(study: &Study, analysis: &Analysis) -> Option<Finding> {
    let entries: Vec<(TubeRef, TubeRef, &EqualStrengthColour)> = analysis
        .tubes
        .iter()
        .filter_map(|tube| {
            let strength = tube.strength.as_ref().ok()?;
            let colour = strength.colour_at_equal_strength.as_ref().ok()?;
            (strength.standard != tube.tube).then_some((tube.tube, strength.standard, colour))
        })
        .collect();
    let (tube, standard, colour) = entries
        .iter()
        .max_by(|one, other| one.2.delta_e.value.total_cmp(&other.2.delta_e.value))?;
    let name = |tube| spoken_by_maker(study, analysis, tube);
    let of_family = entries.iter().filter(|other| other.1 == *standard).count();
    Some(Finding {
        subject: Subject::ColourAtEqualStrength,
        sentence: sentence(&name(*tube), &name(*standard), colour, of_family),
        evidence: evidence(colour),
    })
}

fn sentence(sample: &str, standard: &str, colour: &EqualStrengthColour, tubes: usize) -> String {
    match Closeness::of(&colour.delta_e) {
        Closeness::NoVisibleDifference if tubes > 1 => {
            format!(
                "At equal strength none differs visibly from {standard}: one pigment at other loads."
            )
        }
        Closeness::NoVisibleDifference => format!(
            "At equal strength there is no visible difference between {sample} and {standard}: one \
             pigment at two loads."
        ),
        Closeness::CannotTell => {
            format!("At equal strength these readings cannot tell {sample} from {standard}.")
        }
        Closeness::Close => {
            format!(
                "At equal strength {sample} is close to {standard}{}.",
                direction(colour, ", leaning ")
            )
        }
        Closeness::Different => format!(
            "At equal strength {sample} is another colour than {standard}{}.",
            direction(colour, ": it leans ")
        ),
    }
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
        return format!("{joined}{:.0}° toward {}", shift.abs(), toward(from, shift));
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
