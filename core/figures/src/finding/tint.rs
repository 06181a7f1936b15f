//! What white does to a tube: where its hue goes.

use study::Study;
use study::numbers::number;

use super::words::{as_far_as, signed};
use super::{Finding, Subject, spoken, toward};
use crate::{Analysis, Figure, TubeFigures};

/// The tube whose hue surely moves most from mass tone to palest tint; where none surely moves, that
/// the readings cannot tell.
pub(super) fn finding(study: &Study, analysis: &Analysis) -> Option<Finding> {
    let moved = analysis.tubes.iter().filter_map(|tube| Some((tube, tube.tint_shift.ok()?)));
    let rank = |(_, shift): &(&TubeFigures, Figure)| (is_sure(shift), shift.value.abs());
    let (tube, shift) = moved.max_by(|one, other| {
        let (one, other) = (rank(one), rank(other));
        one.0.cmp(&other.0).then(one.1.total_cmp(&other.1))
    })?;
    let from = tube.mass_tone()?.lab.hue()?;
    let name = spoken(study, tube.tube);
    let sentence = if is_sure(&shift) {
        format!(
            "From mass tone to palest tint {name} turns {}° toward {}{}.",
            number(shift.value.abs(), 0),
            toward(from, shift.value),
            as_far_as(shift.indicative)
        )
    } else {
        format!("These readings cannot tell whether white changes the hue of {name}.")
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

/// The shift is larger than its interval, and would not read as 0°.
fn is_sure(shift: &Figure) -> bool {
    shift.half_width.is_ok_and(|half| shift.value.abs() > half) && shift.value.abs() >= 0.5
}
