//! Colours between the known squares of one tube: by Kubelka–Munk from its mass tone, its tints and the white.
//!
//! A device that leaves light out errs otherwise on a mass tone than on its tints. Where the meter gave spectra, those
//! between them are known well enough to say how; at which ratio they lie does not matter.

use std::collections::BTreeMap;

use colour::Reflectance;
use mixing::{
    Constants, Drawdown, InternalReflectance, Tint, fit_between, predict, white_constants,
};

use super::{Anchor, Sample};

/// Parts of white to one of a tube at the rungs.
const WHITES: [f64; 5] = [0.5, 1.0, 2.0, 8.0, 16.0];

/// A colour that the tube makes on its way to the white.
pub(super) struct Rung {
    /// The tube's mass tone.
    pub of: Sample,
    pub spectrum: Reflectance,
}

/// The rungs of every tube of which the mass tone and a tint are known as spectra, where the white is too. The surface
/// is left on: the ends are right as they are, and what lies between hardly differs.
pub(super) fn rungs(anchors: &[&Anchor]) -> Vec<Rung> {
    let white = anchors.iter().find(|it| it.is_white).and_then(|it| it.spectrum.as_ref());
    let white = white.and_then(|spectrum| white_constants(&hiding(spectrum)));
    let Some(white) = white else { return Vec::new() };
    let mut ladders: BTreeMap<usize, Vec<&Anchor>> = BTreeMap::new();
    for anchor in anchors {
        if let (Some(_), [(tube, _)]) = (anchor.tint, &anchor.sample.tubes[..]) {
            ladders.entry(*tube).or_default().push(anchor);
        }
    }
    ladders.values().flat_map(|ladder| between(ladder, &white)).collect()
}

fn between(ladder: &[&Anchor], white: &Constants) -> Vec<Rung> {
    let share = |anchor: &Anchor| anchor.tint.map_or(0.0, |white| 1.0 - white);
    let mass_tone = ladder.iter().find(|it| share(it) >= 1.0);
    let film = mass_tone.and_then(|it| Some((it, hiding(it.spectrum.as_ref()?))));
    let tints: Vec<Tint> = ladder
        .iter()
        .filter(|it| share(it) < 1.0)
        .filter_map(|it| {
            let reflectance = InternalReflectance::from_measured(it.spectrum.as_ref()?, None);
            Some(Tint { tube: share(it), reflectance })
        })
        .collect();
    let Some((mass_tone, film)) = film else { return Vec::new() };
    let Some(constants) = fit_between(white, &film, &tints) else { return Vec::new() };
    let rung = |parts: &f64| {
        let tube = 1.0 / (1.0 + parts);
        let spectrum = predict(&[(tube, &constants), (1.0 - tube, white)], None);
        Rung { of: mass_tone.sample.clone(), spectrum: spectrum.to_measured(None) }
    };
    WHITES.iter().map(rung).collect()
}

/// A film over paper alone is taken to hide it.
fn hiding(measured: &Reflectance) -> Drawdown {
    let film = InternalReflectance::from_measured(measured, None);
    Drawdown { over_black: film, over_white: film, black: film, white: film }
}
