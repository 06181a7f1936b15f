//! What white does to a tube: where its hue goes.

use super::words::signed;
use super::{Finding, Subject, spoken, toward};
use crate::figures::TubeFigures;
use crate::{Analysis, Study};

/// The tube whose hue moves most from mass tone to palest tint.
pub(super) fn finding(study: &Study, analysis: &Analysis) -> Option<Finding> {
    let moved = |tube: &&TubeFigures| tube.tint_shift.map_or(-1.0, |shift| shift.value.abs());
    let tube = analysis.tubes.iter().max_by(|one, other| moved(one).total_cmp(&moved(other)))?;
    let shift = tube.tint_shift.ok()?;
    let from = tube.mass_tone()?.lab.hue()?;
    let name = spoken(study, tube.tube);
    let sure = shift.half_width.is_ok_and(|half| shift.value.abs() > half);
    let sentence = if sure {
        format!(
            "From mass tone to palest tint {name} turns {:.0}° toward {}.",
            shift.value.abs(),
            toward(from, shift.value)
        )
    } else {
        format!(
            "From mass tone to palest tint {name} keeps its hue, as far as these readings tell."
        )
    };
    let interval = match shift.half_width {
        Ok(half) => format!("± {half:.1}°"),
        Err(why) => format!("no interval: {why}"),
    };
    Some(Finding {
        subject: Subject::Tint,
        sentence,
        evidence: format!("Tint shift {}° ({interval}).", signed(shift.value)),
    })
}
