//! Keep or drop: how near the other tubes come to each, alone and mixed.

use colour::{Lab, ciede2000};
use compare::{LookAlike, SeenWith, Signature, Verdict, look_alikes};
use mixing::Constants;

use crate::neutral::{absorbs, least, strength};
use crate::paints::{Paints, Shares};
use crate::recipe::{Recipe, Recipes};
use crate::search::{Limits, Watch};
use crate::target::{At, Target};

/// A mixture that stands for a tube is no further off than this, ΔE00.
const ALIKE: f64 = 2.0;
/// Two tubes that may be one are no further apart than this by K and S (ours); whether they are is asked of what was read.
const LIKE: f64 = 6.0;
/// What a prediction may be wrong, ΔE00 (found by simulation).
const ALLOWED: f64 = 1.0;
/// Contrast ratios further apart than this are another paint in a glaze.
const OPACITY: f64 = 5.0;
/// Ratios to a reference, by strength, and parts of white, that a stand-in is tried at.
const RATIOS: [f64; 3] = [1.0 / 3.0, 1.0, 3.0];
const WHITES: [f64; 3] = [0.0, 1.0, 4.0];
/// ln of how far the parts that do the same lie from those that absorb the same, at most (ours).
const AS_STRONG: f64 = 0.7;
/// A single tube with less white than this is that tube, and no mixture.
const NO_WHITE: f64 = 0.02;

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
    /// ΔE00 of a film scraped down over paper, the mixture's as much thicker as it is weaker; `None` where the thickness
    /// of the films is not known.
    pub film: Option<f64>,
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
        let all = [self.mass_tone, self.tint, self.film, self.distance].into_iter().flatten();
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
            film: None,
            distance: None,
            contrast_gap: None,
            twin: None,
        }
    }
}

/// Two colours or more, or one with white.
fn is_mixture(recipe: &Recipe) -> bool {
    match recipe.colours_in_it() {
        0 => false,
        1 => recipe.shares.white >= NO_WHITE,
        _ => true,
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
    /// What was read of two tubes says of them.
    pub verdict: &'a dyn Fn([usize; 2]) -> Verdict,
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
            (kept.tint, kept.film) = (None, None);
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
            None if !is_mixture(&best) => self.beside_one(tube, &best),
            None => Keep::TryMixture,
        };
        kept.best = Some(best);
        Some(kept)
    }

    /// The simplest mixture that stands for the tube; where none does, the one that comes nearest. Another tube alone is
    /// told only where nothing can be mixed: whether it does the same is asked of what was read of both.
    fn stand_in(&self, tube: usize, target: &Target, found: &Recipes) -> Option<(Kept, Recipe)> {
        let beside = |it: &Recipe| (self.beside(tube, target, it), it.clone());
        let mut all: Vec<(Kept, Recipe)> =
            found.recipes.iter().filter(|it| is_mixture(it)).map(beside).collect();
        if all.is_empty() {
            all = found.recipes.iter().map(beside).collect();
        }
        let loss = |kept: &Kept| kept.loss().unwrap_or(f64::INFINITY);
        let simplest = all.iter().find(|(kept, _)| loss(kept) - ALLOWED <= ALIKE);
        let nearest = || all.iter().min_by(|one, other| loss(&one.0).total_cmp(&loss(&other.0)));
        simplest.or_else(nearest).cloned()
    }

    /// Where nothing can be mixed and one tube comes near: what was read of the two says whether it stands for this one.
    fn beside_one(&self, tube: usize, best: &Recipe) -> Keep {
        let other = best.shares.tubes.first().map(|it| it.0);
        match other.map(|other| (self.verdict)([tube, other])) {
            Some(Verdict::CannotTell) | None => Keep::CannotTell,
            Some(_) => Keep::Keep,
        }
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
            .filter(|it| (self.verdict)(it.pair) == Verdict::OneIsEnough)
            .collect()
    }

    /// How near a mixture comes to a tube, alone, with white, thin and with the references.
    fn beside(&self, tube: usize, target: &Target, best: &Recipe) -> Kept {
        let off = |at: At| {
            let place = target.looks.iter().position(|look| look.at == at)?;
            Some(ciede2000(target.looks[place].lab, best.colours[place]).value())
        };
        let gap = best.contrast_ratio.zip(target.contrast_ratio);
        let own = &self.paints.tubes[tube].constants;
        let stand_in = self.paints.blend(&best.shares);
        let weaker = stand_in.as_ref().map_or(1.0, |it| absorbs(own) / absorbs(it));
        let thin = |paint: &Constants, thicker: f64| {
            let thickness = paint.thickness.map(|full| thicker * full);
            self.paints.undertone(&Constants { thickness, ..paint.clone() })
        };
        let films = stand_in.and_then(|it| thin(own, 1.0).zip(thin(&it, weaker)));
        Kept {
            mass_tone: off(At::MassTone),
            tint: off(At::Tint),
            film: films.map(|(one, other)| ciede2000(one, other).value()),
            distance: self.with_references(tube, &best.shares, weaker),
            contrast_gap: gap.map(|(own, wanted)| own - wanted),
            ..Kept::unknown(tube)
        }
    }

    /// 90th percentile of ΔE00 between mixtures with the tube and with what stands for it, of which they take as many
    /// parts as make the least of it; about `parts`.
    fn with_references(&self, tube: usize, stand_in: &Shares, parts: f64) -> Option<f64> {
        let references: Vec<usize> =
            self.references.iter().copied().filter(|it| *it != tube).collect();
        let off = |ratio: f64, white: f64, times: f64| {
            references.iter().filter_map(move |reference| {
                let equal = strength(self.paints, tube) / strength(self.paints, *reference);
                let other = (*reference, ratio * equal);
                let own = self.mixed(&Shares::of(&[(tube, 1.0)], 0.0), 1.0, other, white)?;
                let instead = self.mixed(stand_in, times, other, white)?;
                Some(ciede2000(own, instead).value())
            })
        };
        let middling = |ln: f64| -> f64 {
            WHITES.iter().flat_map(|white| off(1.0, *white, ln.exp())).map(|it| it * it).sum()
        };
        let parts = least(parts.ln() - AS_STRONG, parts.ln() + AS_STRONG, middling).exp();
        let all = RATIOS.iter().flat_map(|ratio| WHITES.map(|white| (*ratio, white)));
        let mut all: Vec<f64> = all.flat_map(|(ratio, white)| off(ratio, white, parts)).collect();
        all.sort_by(f64::total_cmp);
        let place = 0.9 * (all.len().max(1) - 1) as f64;
        all.get(place.round() as usize).copied()
    }

    /// So many parts of a mixture with parts of a tube, and white to one part of both.
    fn mixed(
        &self,
        of: &Shares,
        times: f64,
        (tube, parts): (usize, f64),
        white: f64,
    ) -> Option<Lab> {
        let colours = of.tubes.iter().map(|(at, share)| (*at, times * share));
        let all: Vec<(usize, f64)> = colours.chain([(tube, parts)]).collect();
        self.paints.colour(&Shares::of(&all, times * of.white + white * (1.0 + parts)))
    }
}
