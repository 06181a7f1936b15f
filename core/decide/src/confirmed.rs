//! Mixtures that were read, and do the same as a tube.

use colour::ciede2000;
use study::{Averaged, Averages, Mixture, Part, Study, TubeRef};

use crate::paints::TINT;
use crate::target::{At, Target};

/// No further off than this, ΔE00.
const SAME: f64 = 2.0;

/// A mixture without this tube was read by a meter that has its mass tone, and its tint 1 : 4 with white; the first that
/// does. Pictures never show that there is no difference.
#[must_use]
pub fn confirmed_by<'a>(
    study: &Study,
    averages: &'a Averages,
    tube: TubeRef,
    target: &Target,
) -> Option<&'a Mixture> {
    let wanted = |at: At| target.looks.iter().find(|look| look.at == at).map(|look| look.lab);
    let (mass_tone, tint) = (wanted(At::MassTone)?, wanted(At::Tint)?);
    let is_same = |lab, wanted| ciede2000(lab, wanted).value() <= SAME;
    let stands_for_it = |averaged: &&Averaged| {
        let mixture = &averaged.mixture;
        let by_meter = averaged.colour.in_pictures.is_none();
        let is_mixture = by_meter && mixture.colours(study.white).count() > 1;
        if !is_mixture || mixture.parts_of(tube) > 0.0 || !is_same(averaged.colour.lab, mass_tone) {
            return false;
        }
        let with_white = study.white.map(|tube| Part { tube, parts: TINT * mixture.total() });
        let tinted = Mixture::new(mixture.parts().iter().copied().chain(with_white));
        let read = averages.dry(&tinted, study::Backing::Paper);
        read.is_some_and(|read| is_same(read.lab, tint))
    };
    averages.dry_on_paper().find(stands_for_it).map(|it| &it.mixture)
}
