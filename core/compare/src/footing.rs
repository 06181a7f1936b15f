//! How two trials may be compared, and what is added to the interval for it.
//!
//! The half-widths are those of docs/science.md, "Comparing", found by simulation.

use std::fmt;

use colour::{Observer, ciede2000};
use mixing::Geometry;
use study::{Backing, Basis, Medium, Mixture, TubeRef};

use crate::bridge::Bridge;
use crate::told::Told;

/// What bringing a colour over costs, half-width in ΔE00.
const OTHER_ILLUMINANT: f64 = 1.3;
const OTHER_INSTRUMENT: f64 = 0.85;
const OTHER_PAPER: f64 = 0.5;
/// Papers are the same within this, ΔE00.
const SAME_PAPER: f64 = 1.0;
/// Colours that both trials read tell what their instruments differ by, from so many on.
const COMMON: usize = 5;

/// How far two trials may be compared.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Footing {
    /// What is added to every half-width in quadrature, ΔE00.
    pub added: f64,
    /// What was brought over, in words; empty where the two compare directly.
    pub brought_over: Vec<String>,
    /// What is added to the share by which a use may be off, in quadrature.
    pub use_added: f64,
}

/// Why two tubes stand apart.
#[derive(Debug, Clone, PartialEq)]
pub enum Apart {
    /// Their colours are for other observers.
    Observer(Observer, Observer),
    /// A geometry that does not see gloss, and nobody said how glossy the films are.
    Sheen,
    /// Colours without spectra, read with and without gloss.
    Geometry,
    /// Their tints are made with other whites.
    White(String, String),
    /// A tint's white is not known.
    NoWhite,
    /// They were never mixed with the same things in the same parts: so many squares are shared.
    NothingShared(usize),
    /// K and S of one are not known, so it cannot be brought to the other's strength.
    Unfitted(String),
    /// They come from two pictures that nothing calibrates.
    Uncalibrated,
    /// Their parts were measured out in different ways.
    Basis(Basis, Basis),
    /// They are bound by different media.
    Medium(Medium, Medium),
    /// One does not mix as the model says.
    PoorFit(String),
    /// Nothing that counts was read of one.
    Unread(String),
    /// One is the white that the other's tints are made with.
    IsWhite(String),
    /// A tube and itself.
    Same,
}

impl fmt::Display for Apart {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Observer(one, other) => write!(
                f,
                "one was read for the {one}° observer and the other for the {other}° one: read one again, or bring \
                 spectra of both"
            ),
            Self::Sheen => f.write_str(
                "a geometry that sees no gloss needs the sheen of the films: state gloss, satin or matt",
            ),
            Self::Geometry => f.write_str(
                "one was read with its gloss and the other without, and colours alone cannot be brought over: read \
                 both the same way, or bring spectra",
            ),
            Self::White(one, other) => write!(
                f,
                "their tints are made with different whites, {one} and {other}, and no tube was read with both: read \
                 any tube with both, or make the tints of one again with the other's white, 1 : 1, 1 : 4 and 1 : 16"
            ),
            Self::NoWhite => f.write_str(
                "it is not said which white the tints are made with: name it at the top of the file, as “# white: NAME”",
            ),
            Self::NothingShared(shared) => write!(
                f,
                "{shared} of their squares hold the same but for the tube; three are needed: mix both with the same white \
                 1 : 1, 1 : 4 and 1 : 16"
            ),
            Self::Unfitted(name) => write!(
                f,
                "{name} cannot be brought to the other's strength: read its mass tone and two tints with white by a meter"
            ),
            Self::Uncalibrated => f.write_str(
                "they were read from different pictures that no known colour calibrates: take both in one picture, or \
                 lay an anchor card beside them",
            ),
            Self::Basis(one, other) => write!(
                f,
                "the parts of one were measured out by {one} and those of the other by {other}: make three tints of \
                 both in the same way"
            ),
            Self::Medium(one, other) => write!(
                f,
                "one is {one} and the other {other}: they dry to different films, and only eyes can compare them"
            ),
            Self::PoorFit(name) => write!(
                f,
                "{name} does not mix as paint usually does: it may be metallic, pearl or fluorescent, or its parts were \
                 not what was written, and so it has no strength; compare what it looks like by eye"
            ),
            Self::Unread(name) => write!(
                f,
                "nothing of {name} has been read: mix it with white 1 : 1, 1 : 4 and 1 : 16, and read these and its mass \
                 tone"
            ),
            Self::IsWhite(name) => write!(
                f,
                "{name} is the white that tints are made with: whites are compared by their lightening power, in a trial \
                 in which they are under test"
            ),
            Self::Same => f.write_str("it is the same tube: choose two"),
        }
    }
}

/// How colours of the second trial compare with those of the first, and the bridge between their whites, where these
/// differ; within one trial they compare directly.
pub(crate) fn footing(
    (one, other): (&Told<'_>, &Told<'_>),
    tubes: [TubeRef; 2],
) -> Result<(Footing, Option<Bridge>), Apart> {
    let mut footing = Footing::default();
    if std::ptr::eq(one.study, other.study) {
        return Ok((footing, None));
    }
    let [a, b] = [one.study.conditions, other.study.conditions];
    if a.observer != b.observer && !(has_spectra(one) && has_spectra(other)) {
        return Err(Apart::Observer(a.observer, b.observer));
    }
    let [basis, others] = [one, other].map(|told| told.study.protocol.basis);
    if basis != others {
        return Err(Apart::Basis(basis, others));
    }
    for told in [one, other] {
        let geometry = told.study.protocol.geometry;
        let wants_sheen = matches!(geometry, Geometry::FortyFive | Geometry::SphereExcluded);
        if wants_sheen && !told.sheen_stated {
            return Err(Apart::Sheen);
        }
    }
    if one.fitted.surface != other.fitted.surface && !(has_spectra(one) && has_spectra(other)) {
        return Err(Apart::Geometry);
    }
    let bridge = match (one.white(), other.white()) {
        (Some(white), Some(others)) if white == others => None,
        (Some(white), Some(others)) => {
            let bridge = Bridge::between(one, other, tubes);
            Some(bridge.ok_or(Apart::White(white.name, others.name))?)
        }
        _ => return Err(Apart::NoWhite),
    };
    let mut add = |half_width: f64, words: &str| {
        footing.added = footing.added.hypot(half_width);
        footing.brought_over.push(words.to_owned());
    };
    if a.illuminant != b.illuminant && !has_spectra(other) {
        add(OTHER_ILLUMINANT, "colours under another illuminant, converted");
    }
    match (one.instrument, other.instrument) {
        // The same instrument on another day.
        (Some(own), Some(others)) if own == others => {
            if let Some(most) = difference_of_common((one, other), tubes) {
                add(most, "another day, by what both trials read");
            }
        }
        _ => match difference_of_common((one, other), tubes) {
            Some(most) => add(most, "another instrument, by what both read"),
            None => add(OTHER_INSTRUMENT, "another instrument"),
        },
    }
    let paper = |told: &Told<'_>| {
        told.averages
            .dry(&Mixture::bare(), Backing::Paper)
            .and_then(|it| told.lab_in(it, one.frame()))
    };
    if let (Some(paper), Some(others)) = (paper(one), paper(other))
        && ciede2000(paper, others).value() > SAME_PAPER
    {
        add(OTHER_PAPER, "another paper");
    }
    if let Some(bridge) = &bridge {
        footing.use_added = bridge.use_half_width();
        let by = bridge.tubes.join(", ");
        footing.brought_over.push(format!("another white, by what both trials read of {by}"));
    }
    Ok((footing, bridge))
}

fn has_spectra(told: &Told<'_>) -> bool {
    told.averages.dry_on_paper().all(|it| it.colour.reflectance.is_some())
}

/// The 95th percentile of what two instruments differ by, over squares of neither tube that both trials read.
fn difference_of_common((one, other): (&Told<'_>, &Told<'_>), tubes: [TubeRef; 2]) -> Option<f64> {
    let mut off = Vec::new();
    for averaged in one.averages.dry_on_paper() {
        if averaged.mixture.is_bare() || averaged.mixture.parts_of(tubes[0]) > 0.0 {
            continue;
        }
        let parts = averaged.mixture.parts().iter().map(|part| {
            let label = one.study.label(part.tube);
            let tube = other.study.tubes.iter().position(|it| *it == label).map(TubeRef)?;
            (tube != tubes[1]).then_some((tube, part.parts))
        });
        let Some(parts) = parts.collect::<Option<Vec<_>>>() else { continue };
        let same = other.averages.dry(&Mixture::of(&parts), Backing::Paper);
        let lab = same.and_then(|colour| other.lab_in(colour, one.frame()));
        off.extend(lab.map(|lab| ciede2000(averaged.colour.lab, lab).value()));
    }
    off.sort_by(f64::total_cmp);
    let at = (0.95 * off.len().saturating_sub(1) as f64).ceil() as usize;
    (off.len() >= COMMON).then(|| off[at])
}
