//! What the tubes of a trial can mix, as far as they are known: what a predicted colour is vivid beside.

use figures::Reach;
use plan::prior::Prior;
use study::TubeRef;

/// The reach of the known tubes with the white; `None` where nothing is known of the white.
pub(crate) fn reach_of(prior: &Prior, white: Option<TubeRef>) -> Option<Reach> {
    let known = |tube: TubeRef| prior.known(tube)?.constants.as_ref();
    let tubes = (0..prior.tubes.len()).map(TubeRef).filter(|tube| Some(*tube) != white);
    let paints: Vec<_> = tubes.filter_map(known).collect();
    Some(Reach::new(prior.conditions, (prior.surface, prior.paper), known(white?)?, &paints))
}
