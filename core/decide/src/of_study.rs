//! The tubes of a trial as paints.

use mixing::{Constants, InternalReflectance, POOR_FIT};
use study::{Averages, FittedTubes, Study, TubeRef};

use crate::learn::read_mixtures;
use crate::paints::{Paint, Paints, Widths};

/// Paint throws back no more than all light, 1, and a little for a meter that is off (ours).
const MOST_LIGHT: f64 = 1.02;

/// K and S have a meaning for a tube: neither alone nor with white does it reflect more than all light anywhere, as
/// fluorescent paint does, and metal and pearl at their own angle; and its fit leaves little.
#[must_use]
pub fn mixes_as_paint(
    (study, averages): (&Study, &Averages),
    tube: TubeRef,
    constants: Option<&Constants>,
) -> bool {
    let is_own = |mixture: &study::Mixture| {
        mixture.parts_of(tube) > 0.0 && mixture.colours(study.white).all(|it| it.tube == tube)
    };
    let surface = study.protocol.surface(None);
    let by_meter = averages.dry_on_paper().filter(|it| it.colour.in_pictures.is_none());
    let mut read = by_meter.filter(|it| is_own(&it.mixture)).filter_map(|it| it.colour.reflectance);
    let is_above = read.any(|read| {
        let inside = InternalReflectance::from_measured(&read, surface);
        inside.bands().iter().any(|band| *band > MOST_LIGHT)
    });
    !is_above && constants.is_none_or(|it| it.residual <= POOR_FIT)
}

impl Paints {
    /// All of a trial's tubes that have K and S, which its mixtures have taught, with the place of each among the study's.
    #[must_use]
    pub fn of_study(
        study: &Study,
        averages: &Averages,
        fitted: &FittedTubes,
    ) -> (Self, Vec<TubeRef>) {
        let known = |tube: TubeRef| fitted.tubes.get(tube.0)?.constants.as_ref();
        let refs: Vec<TubeRef> = (0..study.tubes.len())
            .map(TubeRef)
            .filter(|tube| Some(*tube) != study.white && known(*tube).is_some())
            .filter(|tube| mixes_as_paint((study, averages), *tube, known(*tube)))
            .collect();
        let paint = |tube: &TubeRef| {
            let pigments = study.label(*tube).code.split_whitespace().count();
            Some(Paint::read(known(*tube)?.clone(), pigments))
        };
        let bare = |backing| {
            let read = averages.dry(&study::Mixture::bare(), backing)?.reflectance?;
            Some(InternalReflectance::from_measured(&read, fitted.surface))
        };
        let backings = bare(study::Backing::Black).zip(bare(study::Backing::White));
        let mut paints = Self {
            conditions: study.conditions,
            surface: fitted.surface,
            paper: fitted.paper,
            backings: backings.map(|(black, white)| [black, white]),
            white: study.white.and_then(known).cloned(),
            tubes: refs.iter().filter_map(paint).collect(),
            widths: Widths::default(),
        };
        let place = |tube: TubeRef| refs.iter().position(|it| *it == tube);
        paints.learn(&read_mixtures(study.white, averages, &place).collect::<Vec<_>>());
        (paints, refs)
    }
}
