//! A tube read twice: how far each of its squares has moved.

use colour::ciede2000;
use study::RatioError;

use crate::cells::{Cell, cells, shared};
use crate::distance::Distance;
use crate::footing::{Apart, Footing, footing};
use crate::told::Subject;
use crate::verdict::UNSEEN;

/// A square that was read twice.
#[derive(Debug, Clone, PartialEq)]
pub struct Drifted {
    /// What stands with the tube: `white`, or the partners.
    pub with: String,
    /// Parts of the partners together, and of white, to one part of the tube.
    pub parts: [f64; 2],
    /// How it looked first and later.
    pub colours: [colour::Lab; 2],
    /// ΔE00 between the two.
    pub off: Distance,
}

impl Drifted {
    /// The change can be seen, cannot be seen, or these readings cannot tell (`None`).
    #[must_use]
    pub fn is_visible(&self) -> Option<bool> {
        let Distance { value, half_width } = self.off;
        if value - half_width > UNSEEN {
            Some(true)
        } else {
            (value + half_width <= UNSEEN).then_some(false)
        }
    }
}

/// Two piles of one mixture differ by so much whatever their parts are, ΔE00 (ours).
const TWO_PILES: f64 = 0.4;

/// Every square that was read `before` and `later`, as it stands: no strength is taken off. Readings' intervals and
/// what the footing costs are in the half-widths; where paint was mixed `anew`, also what its parts may be off by, twice,
/// and mixtures whose K and S are not known are left out, since nobody can say what that does.
///
/// # Errors
/// With why the two cannot be compared.
pub fn drift(
    before: &Subject<'_>,
    later: &Subject<'_>,
    anew: bool,
) -> Result<(Vec<Drifted>, Footing), Apart> {
    if std::ptr::eq(before.told.study, later.told.study) && before.tube == later.tube {
        return Err(Apart::Same);
    }
    let (footing, bridge) = footing((&before.told, &later.told), [before.tube, later.tube])?;
    let frame = before.told.frame();
    let (ones, mut others) = (cells(before, frame), cells(later, frame));
    if bridge.is_some() {
        others.retain(|it| it.white == 0.0);
    }
    let drifted = shared(&ones, &others).into_iter().filter_map(|(one, other)| {
        let of_parts = if anew { of_parts(&one, before)? } else { 0.0 };
        let [l, a, b] = [0, 1, 2].map(|axis| one.half_width[axis].hypot(other.half_width[axis]));
        let half_width = ((l * l + a * a + b * b) / 3.0).sqrt().hypot(footing.added);
        let half_width = half_width.hypot(of_parts);
        Some(Drifted {
            with: one.with(),
            parts: [one.partner_parts(), one.white],
            colours: [one.lab, other.lab],
            off: Distance { value: ciede2000(one.lab, other.lab).value(), half_width },
        })
    });
    let drifted: Vec<Drifted> = drifted.collect();
    if drifted.is_empty() {
        return Err(Apart::NothingShared(0));
    }
    Ok((drifted, footing))
}

/// ΔE00 that two piles of a square may differ by; `None` where K and S of something in it are not known.
fn of_parts(cell: &Cell<'_>, told: &Subject<'_>) -> Option<f64> {
    if cell.is_mass_tone() {
        return Some(TWO_PILES);
    }
    let share = 1.0 / (1.0 + cell.white + cell.partner_parts());
    let protocol = &told.told.study.protocol;
    let off = protocol.ratio_half_width(RatioError::AsStated, share, 1.0 - share);
    let moved = cell.movable()?.moved((std::f64::consts::SQRT_2 * off).exp());
    Some(TWO_PILES.hypot(ciede2000(cell.lab, moved).value()))
}
