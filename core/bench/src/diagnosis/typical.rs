//! A reading of a tube of which nothing but its Colour Index names is known.

use colour::{Lab, ciede2000};
use mixing::Constants;
use plan::prior::{Known, Prior, PriorLevel};
use study::{Mixture, TubeRef};

/// Loads of paints of one name beside the typical one's.
const LOADS: [f64; 7] = [0.4, 0.55, 0.75, 1.0, 1.35, 1.85, 2.5];
/// Hues of paints of one name lie this far from the typical one's, degrees.
const HUE: f64 = 20.0;
/// ΔE00 from the nearest of these beyond which it is worth a look: beyond all but one of 462 readings of simulated
/// paints of 77 names, and within it 6 % of readings of another pigment.
const FAR: f64 = 13.0;

/// ΔE00 from a colour to the nearest that a paint of these names may give, a load of 0.4 to 2.5 times and a
/// hue of ± 20° allowed; `None` where that is not far, and for what is not one tube, alone or with white, that
/// is known as a typical paint only.
#[must_use]
pub fn far_from_typical(
    prior: &Prior,
    mixture: &Mixture,
    white: Option<TubeRef>,
    seen: Lab,
) -> Option<f64> {
    let mut colours = mixture.colours(white);
    let (Some(only), None) = (colours.next(), colours.next()) else { return None };
    let known = prior.known(only.tube).filter(|known| known.level == PriorLevel::Typical)?;
    let constants = known.constants.as_ref()?;
    let off = LOADS.into_iter().filter_map(|load| {
        let mut loaded = prior.clone();
        let constants = Constants {
            k: constants.k.map(|k| k * load),
            s: constants.s.map(|s| s * load),
            ..constants.clone()
        };
        *loaded.tubes.get_mut(only.tube.0)? = Known { constants: Some(constants), ..known.clone() };
        let expected = loaded.colour(mixture)?;
        Some(ciede2000(expected, turned_towards(seen, expected)).value())
    });
    off.min_by(f64::total_cmp).filter(|off| *off > FAR)
}

/// A colour with its hue brought nearer to another's, by [`HUE`] at most.
fn turned_towards(seen: Lab, expected: Lab) -> Lab {
    let angle = |lab: Lab| lab.b.atan2(lab.a).to_degrees();
    let away = (angle(expected) - angle(seen) + 540.0).rem_euclid(360.0) - 180.0;
    let hue = (angle(seen) + away.clamp(-HUE, HUE)).to_radians();
    Lab::new(seen.l, seen.chroma() * hue.cos(), seen.chroma() * hue.sin())
}
