//! How far two tubes differ at equal strength.

use std::collections::BTreeMap;

use colour::Lab;
use mixing::POOR_FIT;
use study::same_code;

use crate::brought::{added, half_width};
use crate::cells::Origin;
use crate::distance::{Added, Distance, Distances};
use crate::equal::use_of_second;
use crate::footing::{Apart, Footing, footing};
use crate::noise::Noise;
use crate::pairs::{Moved, pairs};
use crate::pictures::Pictures;
use crate::told::Subject;

/// Squares with white that tell noise.
const FOR_NOISE: usize = 3;
/// How sure a use is: a share of itself, and of its ln.
const USE: (f64, f64) = (0.03, 0.10);
/// The same as [`POOR_FIT`] where amounts were put out by eye (ours).
const POOR_FIT_BY_EYE: f64 = 4.0 * POOR_FIT;

/// A square that both tubes have.
#[derive(Debug, Clone, PartialEq)]
pub struct TwinCell {
    /// What stands with the tube: `white`, or the partners.
    pub with: String,
    /// Parts of the partners together, and of white, to one part of the first tube.
    pub parts: [f64; 2],
    /// The first tube's colour.
    pub first: Lab,
    /// The second tube's, at equal strength.
    pub second: Lab,
    /// ΔE00 between them as they were read.
    pub delta_e: f64,
    /// The same without what noise alone makes, with its interval.
    pub distance: Distance,
    /// Where the less sure one of the two colours comes from.
    pub origin: Origin,
}

/// The partner with which two tubes differ most.
#[derive(Debug, Clone, PartialEq)]
pub struct Worst {
    /// `white`, or the partners.
    pub with: String,
    /// The largest ΔE00 with it.
    pub delta_e: f64,
}

/// Two tubes at equal strength.
#[derive(Debug, Clone, PartialEq)]
pub struct Twins {
    /// Parts of the second that do what one part of the first does.
    pub use_of_second: f64,
    /// Its 95 % interval.
    pub use_interval: [f64; 2],
    /// Over all squares but the mass tone: the 90th percentile of ΔE00, or the root mean square of fewer than eight.
    pub distance: Distance,
    /// Between the mass tones; `None` where one was not read.
    pub mass_tone: Option<Distance>,
    /// Where they differ most.
    pub worst: Option<Worst>,
    /// Every square that both have.
    pub cells: Vec<TwinCell>,
    /// They rest on pictures.
    pub of_pictures: bool,
    /// Both declare the same pigments.
    pub same_pigments: bool,
    /// A simulated device made up readings of one of the two trials.
    pub is_simulated: bool,
    /// How the two trials may be compared.
    pub footing: Footing,
}

/// Two tubes beside each other.
///
/// # Errors
/// With why they stand apart, and what would bring them together.
pub fn compare(one: &Subject<'_>, other: &Subject<'_>) -> Result<Twins, Apart> {
    if std::ptr::eq(one.told.study, other.told.study) && one.tube == other.tube {
        return Err(Apart::Same);
    }
    for subject in [one, other] {
        if Some(subject.tube) == subject.told.study.white {
            return Err(Apart::IsWhite(subject.label().name));
        }
    }
    let (mut footing, bridge) = footing((&one.told, &other.told), [one.tube, other.tube])?;
    let pairs = pairs(one, other, bridge.as_ref())?;
    for subject in [one, other] {
        // What an eye puts out is off by more than any paint that does not mix as the model says.
        let poor = if by_eye(subject) { POOR_FIT_BY_EYE } else { POOR_FIT };
        if subject.constants().is_some_and(|it| it.residual > poor) {
            return Err(Apart::PoorFit(subject.label().name));
        }
    }
    if other.constants().is_none() {
        return Err(Apart::Unfitted(other.label().name));
    }
    let pictures = Pictures::of(&pairs)?;
    let unfitted = || Apart::Unfitted(other.label().name);
    let times = use_of_second(&pairs).ok_or_else(unfitted)?;
    let moved: Vec<Moved<'_>> = pairs.iter().filter_map(|pair| Moved::new(pair, times)).collect();
    let added = Added {
        everywhere: footing.added,
        brought: added(&pairs, bridge.as_ref()),
        of_each: &|it| {
            let of = |cell| half_width(cell, bridge.as_ref());
            f64::max(of(it.one), of(it.other))
        },
    };
    footing.added = added.of_all();
    if moved.iter().any(|it| it.origin() != Origin::Read) && bridge.is_none() {
        footing.brought_over.push("other parts, by K and S".into());
    }
    let distances = Distances::of(&moved, noise(&moved, times), &added, pictures);
    let of_pictures = pictures.map_or(0.0, |it| it.use_added);
    let use_added = footing.use_added.hypot(of_pictures);
    Ok(Twins {
        use_of_second: times,
        use_interval: use_interval(times, use_added.hypot(colour::NORMAL_95 * distances.use_sigma)),
        distance: distances.mixtures,
        mass_tone: distances.mass_tone,
        worst: worst(&moved),
        cells: moved.iter().zip(distances.each).map(|(it, off)| TwinCell::of(it, off)).collect(),
        of_pictures: pictures.is_some(),
        is_simulated: one.told.is_simulated() || other.told.is_simulated(),
        same_pigments: same_code(&one.label().code, &other.label().code),
        footing,
    })
}

/// A use within 3 % and a tenth of its ln; `added` comes to that.
fn use_interval(times: f64, added: f64) -> [f64; 2] {
    let width = (USE.0 + USE.1 * times.ln().abs()).hypot(added);
    [times * (1.0 - width).max(0.0), times * (1.0 + width)]
}

impl TwinCell {
    fn of(moved: &Moved<'_>, distance: Distance) -> Self {
        Self {
            with: moved.one.with(),
            parts: [moved.one.partner_parts(), moved.one.white],
            first: moved.one.lab,
            second: moved.second,
            delta_e: moved.off(),
            distance,
            origin: moved.origin(),
        }
    }

    /// It is the mass tone.
    #[must_use]
    pub fn is_mass_tone(&self) -> bool {
        self.parts.iter().all(|parts| *parts == 0.0)
    }
}

fn by_eye(subject: &Subject<'_>) -> bool {
    subject.told.study.protocol.is_by_eye(study::RatioError::AsStated)
}

/// What the model leaves of the differences of squares with white that both were read in; of each tube's own squares,
/// where there are too few of these.
fn noise(moved: &[Moved<'_>], times: f64) -> Noise {
    let tints = moved.iter().filter(|it| it.one.white > 0.0);
    let of_both = tints.clone().filter(|it| it.origin() == Origin::Read).filter_map(|it| {
        let told =
            less(it.one.recipe.as_ref()?.colour(1.0), it.other.recipe.as_ref()?.colour(times));
        let seen = less(it.one.lab, it.second);
        let off = [0, 1, 2].map(|axis| seen[axis] - told[axis]);
        Some(if it.is_by_eye() { beside_the_way(off, it.way()) } else { off })
    });
    let of_both: Vec<[f64; 3]> = of_both.collect();
    if of_both.len() >= FOR_NOISE {
        return Noise::of(&of_both);
    }
    let read = tints.flat_map(|it| [it.one, it.other]).filter(|it| it.origin == Origin::Read);
    let of_each = read.filter_map(|cell| Some(less(cell.lab, cell.recipe.as_ref()?.colour(1.0))));
    let of_two = of_each.map(|off| off.map(|it| std::f64::consts::SQRT_2 * it));
    Noise::of(&of_two.collect::<Vec<_>>())
}

/// What is left of a difference beside the way that an amount put out by eye moves it.
fn beside_the_way(off: [f64; 3], way: [f64; 3]) -> [f64; 3] {
    let dot =
        |one: [f64; 3], other: [f64; 3]| (0..3).map(|axis| one[axis] * other[axis]).sum::<f64>();
    let along = dot(off, way) / dot(way, way).max(f64::MIN_POSITIVE);
    [0, 1, 2].map(|axis| off[axis] - along * way[axis])
}

fn less(one: Lab, other: Lab) -> [f64; 3] {
    [one.l - other.l, one.a - other.a, one.b - other.b]
}

/// The partner of the largest root mean square.
fn worst(moved: &[Moved<'_>]) -> Option<Worst> {
    let mut by: BTreeMap<String, Vec<f64>> = BTreeMap::new();
    for it in moved.iter().filter(|it| it.is_mixed()) {
        by.entry(it.one.with()).or_default().push(it.off());
    }
    let rms = |off: &[f64]| (off.iter().map(|it| it * it).sum::<f64>() / off.len() as f64).sqrt();
    let (with, off) = by.into_iter().max_by(|one, other| rms(&one.1).total_cmp(&rms(&other.1)))?;
    Some(Worst { with, delta_e: off.into_iter().fold(0.0, f64::max) })
}
