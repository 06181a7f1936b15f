//! Keep or drop: how near the other tubes come to each, alone and mixed.

use colour::{Lab, ciede2000};
use compare::{LookAlike, SeenWith, Signature, look_alikes};
use mixing::Constants;

use crate::neutral::strength;
use crate::paints::{Paints, Shares};
use crate::recipe::{Recipe, Recipes};
use crate::search::{Limits, Watch};
use crate::target::{At, Target};

/// A mixture that stands for a tube is no further off than this, ΔE00.
const ALIKE: f64 = 2.0;
/// Two tubes that may be one are no further apart than this by K and S (ours); whether they are is asked of what was read.
const LIKE: f64 = 4.0;
/// What a prediction may be wrong, ΔE00 (found by simulation).
const ALLOWED: f64 = 1.0;
/// Contrast ratios further apart than this are another paint in a glaze.
const OPACITY: f64 = 5.0;
/// Ratios to a reference, by strength, and parts of white, that a stand-in is tried at.
const RATIOS: [f64; 3] = [1.0 / 3.0, 1.0, 3.0];
const WHITES: [f64; 2] = [1.0, 4.0];

/// What to do with a tube.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Keep {
    /// Nothing comes near it.
    Keep,
    /// Another tube does the same: one of the two is enough.
    Twin,
    /// A mixture should do the same: it is to be tried.
    TryMixture,
    /// A mixture was tried, and does the same by its reading or by eye.
    Replaceable,
    /// Too little was read.
    CannotTell,
}

/// One tube beside all others.
#[derive(Debug, Clone, PartialEq)]
pub struct Kept {
    /// Its place.
    pub tube: usize,
    /// What to do with it.
    pub verdict: Keep,
    /// The best mixture of the others; `None` where there is none.
    pub best: Option<Recipe>,
    /// ΔE00 of the mass tones; of the twin's, where there is one.
    pub mass_tone: Option<f64>,
    /// ΔE00 of the tints 1 : 4.
    pub tint: Option<f64>,
    /// 90th percentile of ΔE00 over mixtures with the references, at equal strength.
    pub distance: Option<f64>,
    /// Contrast ratio of the mixture less the tube's: positive hides more.
    pub contrast_gap: Option<f64>,
    /// The tube that does the same.
    pub twin: Option<usize>,
}

impl std::fmt::Display for Keep {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(match self {
            Self::Keep => "keep",
            Self::Twin => "twin",
            Self::TryMixture => "try_mixture",
            Self::Replaceable => "replaceable",
            Self::CannotTell => "cannot_tell",
        })
    }
}

impl Kept {
    /// The largest difference: what is lost without the tube, ΔE00.
    #[must_use]
    pub fn loss(&self) -> Option<f64> {
        let all = [self.mass_tone, self.tint, self.distance].into_iter().flatten();
        all.max_by(f64::total_cmp)
    }

    /// The best mixture of the others is predicted to do the same.
    #[must_use]
    pub fn may_be_mixed(&self) -> bool {
        self.loss().is_some_and(|loss| loss - ALLOWED <= ALIKE)
    }

    /// The mixture looks the same and hides otherwise.
    #[must_use]
    pub fn only_in_colour(&self) -> bool {
        self.contrast_gap.is_some_and(|gap| gap.abs() > OPACITY)
    }

    fn unknown(tube: usize) -> Self {
        Self {
            tube,
            verdict: Keep::CannotTell,
            best: None,
            mass_tone: None,
            tint: None,
            distance: None,
            contrast_gap: None,
            twin: None,
        }
    }
}

/// What is asked of a shelf.
pub struct Shelf<'a> {
    /// Its tubes.
    pub paints: &'a Paints,
    /// What each looks like, by place; `None` for one that is not known.
    pub targets: &'a [Option<Target>],
    /// The reference palette.
    pub references: &'a [usize],
    /// Whether a mixture was found to do the same as a tube, by its reading or by eye.
    pub is_confirmed: &'a dyn Fn(usize, &Recipe) -> bool,
    /// Whether two tubes that behave alike by K and S are one by what was read of them.
    pub is_twin: &'a dyn Fn([usize; 2]) -> bool,
}

impl Shelf<'_> {
    /// Every tube, in the order of their places; `None` where it was stopped.
    pub fn keep_or_drop(&self, limits: Limits, watch: &mut Watch<'_>) -> Option<Vec<Kept>> {
        let twins = self.twins();
        let count = self.paints.tubes.len();
        let mut all = Vec::with_capacity(count);
        for tube in 0..count {
            let mut own = |done: f64| watch((tube as f64 + done) / count as f64);
            all.push(self.one(tube, &twins, limits, &mut own)?);
        }
        Some(all)
    }

    /// One tube; `None` where it was stopped.
    pub fn one(
        &self,
        tube: usize,
        twins: &[LookAlike],
        limits: Limits,
        watch: &mut Watch<'_>,
    ) -> Option<Kept> {
        let unread = self.paints.tubes[tube].load_sigma.is_some();
        let Some(target) = self.targets.get(tube).and_then(Option::as_ref) else {
            return Some(Kept::unknown(tube));
        };
        let others: Vec<usize> = (0..self.paints.tubes.len()).filter(|it| *it != tube).collect();
        let found = Recipes::find(self.paints, target, &others, limits, watch)?;
        let Some((mut kept, best)) = self.stand_in(tube, target, &found) else {
            return Some(Kept::unknown(tube));
        };
        let mut alike = twins.iter().filter(|it| it.pair.contains(&tube));
        if let Some(twin) = alike.next() {
            kept.twin = Some(if twin.pair[0] == tube { twin.pair[1] } else { twin.pair[0] });
            kept.mass_tone = Some(twin.mass_tone);
            kept.distance = Some(twin.distance);
            kept.tint = None;
        }
        let loss = kept.loss().unwrap_or(f64::INFINITY);
        let is_guess =
            best.shares.tubes.iter().any(|(at, _)| self.paints.tubes[*at].load_sigma.is_some());
        kept.verdict = match kept.twin {
            Some(_) => Keep::Twin,
            // Of a tube that nobody read only the eye can tell.
            None if unread && !(self.is_confirmed)(tube, &best) => Keep::CannotTell,
            None if loss - ALLOWED > ALIKE && !is_guess && !unread => Keep::Keep,
            None if (self.is_confirmed)(tube, &best) => Keep::Replaceable,
            None if loss - ALLOWED > ALIKE => Keep::CannotTell,
            None => Keep::TryMixture,
        };
        kept.best = Some(best);
        Some(kept)
    }

    /// The simplest recipe that stands for the tube; where none does, the one that comes nearest.
    fn stand_in(&self, tube: usize, target: &Target, found: &Recipes) -> Option<(Kept, Recipe)> {
        let beside = found.recipes.iter().map(|it| (self.beside(tube, target, it), it.clone()));
        let all: Vec<(Kept, Recipe)> = beside.collect();
        let loss = |kept: &Kept| kept.loss().unwrap_or(f64::INFINITY);
        let simplest = all.iter().find(|(kept, _)| loss(kept) - ALLOWED <= ALIKE);
        let nearest = || all.iter().min_by(|one, other| loss(&one.0).total_cmp(&loss(&other.0)));
        simplest.or_else(nearest).cloned()
    }

    /// Tubes that are one, the nearest first.
    #[must_use]
    pub fn twins(&self) -> Vec<LookAlike> {
        let Some(white) = &self.paints.white else { return Vec::new() };
        let seen = SeenWith {
            white,
            conditions: self.paints.conditions,
            surface: self.paints.surface,
            paper: self.paints.paper.as_ref(),
        };
        let references: Vec<&Constants> =
            self.references.iter().map(|at| &self.paints.tubes[*at].constants).collect();
        let mut places = Vec::new();
        let mut signatures = Vec::new();
        for (place, tube) in self.paints.tubes.iter().enumerate() {
            if tube.load_sigma.is_none()
                && let Some(signature) = Signature::of(&tube.constants, &references, &seen)
            {
                places.push(place);
                signatures.push(signature);
            }
        }
        let found = look_alikes(&signatures, LIKE);
        found
            .into_iter()
            .map(|it| LookAlike { pair: it.pair.map(|at| places[at]), ..it })
            .filter(|it| (self.is_twin)(it.pair))
            .collect()
    }

    /// How near a mixture comes to a tube, alone, with white and with the references.
    fn beside(&self, tube: usize, target: &Target, best: &Recipe) -> Kept {
        let off = |at: At| {
            let place = target.looks.iter().position(|look| look.at == at)?;
            Some(ciede2000(target.looks[place].lab, best.colours[place]).value())
        };
        let gap = best.contrast_ratio.zip(target.contrast_ratio);
        Kept {
            mass_tone: off(At::MassTone),
            tint: off(At::Tint),
            distance: self.with_references(tube, &best.shares),
            contrast_gap: gap.map(|(own, wanted)| own - wanted),
            ..Kept::unknown(tube)
        }
    }

    /// 90th percentile of ΔE00 between mixtures with the tube and with what stands for it.
    fn with_references(&self, tube: usize, stand_in: &Shares) -> Option<f64> {
        let paints = self.paints;
        let own = Shares::of(&[(tube, 1.0)], 0.0);
        let mut off = Vec::new();
        for reference in self.references.iter().filter(|it| **it != tube) {
            let equal = strength(paints, tube) / strength(paints, *reference);
            for ratio in RATIOS {
                let mixed = |of: &Shares, white: f64| -> Option<Lab> {
                    let mut parts = of.tubes.clone();
                    let other = equal * ratio;
                    match parts.iter_mut().find(|it| it.0 == *reference) {
                        Some(known) => known.1 += other,
                        None => parts.push((*reference, other)),
                    }
                    let white = of.white + white * (1.0 + other);
                    paints.colour(&Shares::of(&parts, white))
                };
                for white in WHITES {
                    let pair = mixed(&own, white).zip(mixed(stand_in, white));
                    off.extend(pair.map(|(one, other)| ciede2000(one, other).value()));
                }
            }
        }
        off.sort_by(f64::total_cmp);
        let place = 0.9 * (off.len().max(1) - 1) as f64;
        off.get(place.round() as usize).copied()
    }
}
