//! Tubes and mixtures by their names.

use crate::pages::names::told_apart;
use decide::Target;
use decide::{Parts, Recipe};
use formats::decisions::{FROM_PICTURE, OTHER_MAKER, READ, TYPED, TYPICAL, TYPICAL_AS_SEEN};
use study::numbers::{counted, number, signed_number};
use workshop::{Aim, EvidenceSource, KnownShelf};

/// What is to be mixed.
pub(super) fn aim(aim: &Aim, known: &KnownShelf) -> String {
    match aim {
        Aim::Tube(tube) => {
            let place = known.place(*tube);
            place.map_or_else(String::new, |at| told_apart(&known.tubes)[at].clone())
        }
        Aim::Swatch(trial, number) => format!("square {number} of trial {}", trial.0),
        Aim::Colour(lab, light) => format!(
            "L* {}, a* {}, b* {}{}",
            number(lab.l, 1),
            signed_number(lab.a, 1),
            signed_number(lab.b, 1),
            light.map_or(String::new(), |light| format!(" ({light})"))
        ),
    }
}

/// `4 Lantern Yellow + 1 Awning Blue + 6 white`.
pub(super) fn mixture(parts: &Parts, names: &[String]) -> String {
    let tubes = parts.tubes.iter().map(|(at, parts)| format!("{parts} {}", names[*at]));
    let white = (parts.white > 0).then(|| format!("{} white", parts.white));
    tubes.chain(white).collect::<Vec<_>>().join(" + ")
}

/// What the K and S of each tube rest on, by place.
pub(super) fn tubes_from(known: &KnownShelf) -> Vec<&'static str> {
    known.sources.iter().map(from).collect()
}

/// What those of the white rest on.
pub(super) fn white_from(known: &KnownShelf) -> &'static str {
    if known.is_white_typical() { TYPICAL } else { READ }
}

/// What the look of a target rests on.
pub(super) fn target_from(known: &KnownShelf, aim: &Aim, target: &Target) -> &'static str {
    match aim {
        _ if target.from_picture.is_some() => FROM_PICTURE,
        Aim::Tube(tube) => {
            known.place(*tube).and_then(|at| known.sources.get(at)).map_or(TYPICAL, from)
        }
        Aim::Swatch(..) => READ,
        Aim::Colour(..) => TYPED,
    }
}

fn from(source: &EvidenceSource) -> &'static str {
    match source {
        EvidenceSource::Readings(_) => READ,
        EvidenceSource::Pigments(_) => OTHER_MAKER,
        EvidenceSource::Typical(_) | EvidenceSource::Nothing => TYPICAL,
        EvidenceSource::Seen(_) => TYPICAL_AS_SEEN,
    }
}

/// The first of these that nobody read, so many as one sitting takes.
pub(super) fn unread(places: impl Iterator<Item = usize>, known: &KnownShelf) -> Vec<i64> {
    const ONE_SITTING: usize = 8;
    let unread = places.filter(|place| !known.is_read(*place));
    unread.map(|place| known.tubes[place].id.0).take(ONE_SITTING).collect()
}

/// What a recipe rests on, where that is not the tubes' own readings; empty where it is.
pub(super) fn guesses(recipe: &Recipe, known: &KnownShelf, names: &[String]) -> String {
    let unread = recipe.shares.tubes.iter().filter(|(at, _)| !known.is_read(*at));
    let unread: Vec<&str> = unread.map(|(at, _)| names[*at].as_str()).collect();
    match unread.as_slice() {
        [] => String::new(),
        [one] => format!("{one} was not read: a typical paint of its pigments stands for it"),
        several => format!(
            "{} were not read ({}): typical paints of their pigments stand for them",
            counted(several.len(), "tube", "tubes"),
            several.join(", ")
        ),
    }
}
