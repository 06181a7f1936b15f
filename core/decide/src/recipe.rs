//! Recipes for a target, the best first, and what cannot be reached.

use colour::{Components, Lab, ciede2000, components};
use study::{CLOSE, VISIBLE};

use crate::paints::{Paints, Shares};
use crate::parts::Parts;
use crate::search::{Limits, Watch, search};
use crate::solve::Choice;
use crate::target::Target;

/// Recipes that are told.
pub const MOST_RECIPES: usize = 8;
/// A recipe of fewer tubes is told first within this of the best, or where it is off by no more than a difference that
/// is just seen, ΔE00.
const AS_GOOD: f64 = 0.5;
/// A smaller share of a tube is no part of a recipe.
const LEAST_SHARE: f64 = 1e-3;

/// One way to mix a target.
#[derive(Debug, Clone, PartialEq)]
pub struct Recipe {
    /// The exact shares.
    pub shares: Shares,
    /// The same in parts that can be put out.
    pub parts: Parts,
    /// What the search makes least: root mean square of ΔE00 over the looks, the second light at a quarter.
    pub score: f64,
    /// Root mean square of ΔE00 of the exact shares over the looks, under the palette's light.
    pub delta_e: f64,
    /// The same of the whole parts.
    pub delta_e_parts: f64,
    /// Of the exact shares under the second light; `None` where the target is a colour alone.
    pub delta_e_second: Option<f64>,
    /// ΔE00 within which a mixture of the exact shares comes, as far as is known (95 %).
    pub claim: f64,
    /// What its prediction may be wrong, root mean square over the looks, ΔE00 (95 %).
    pub width: f64,
    /// Each look as it is predicted.
    pub colours: Vec<Lab>,
    /// How its film hides; `None` where that is not known.
    pub contrast_ratio: Option<f64>,
    /// Its colour scraped down over the paper; `None` where that is not known.
    pub undertone: Option<Lab>,
}

impl Recipe {
    /// How many colours.
    #[must_use]
    pub fn colours_in_it(&self) -> usize {
        self.shares.tubes.len()
    }

    /// The same of the whole parts.
    #[must_use]
    pub fn claim_of_parts(&self) -> f64 {
        within(self.delta_e_parts, self.width)
    }

    fn of(choice: &Choice, target: &Target, paints: &Paints) -> Option<Self> {
        let shares = choice.shares();
        let parts = Parts::of(&shares, target, paints)?;
        let off = Off::of(&shares, target, paints)?;
        let paint = paints.blend(&shares)?;
        let width = width(&shares, target, paints);
        Some(Self {
            delta_e_parts: Off::of(&parts.shares(), target, paints)?.first,
            claim: within(off.first, width),
            width,
            contrast_ratio: paints.contrast_ratio(&paint),
            undertone: paints.undertone(&paint),
            score: off.score(),
            delta_e: off.first,
            delta_e_second: off.second,
            colours: off.colours,
            shares,
            parts,
        })
    }
}

/// How far shares are off a target.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Off {
    pub first: f64,
    pub second: Option<f64>,
    pub colours: Vec<Lab>,
}

impl Off {
    pub fn of(shares: &Shares, target: &Target, paints: &Paints) -> Option<Self> {
        let mut colours = Vec::new();
        let (mut first, mut second) = (0.0, Some(0.0));
        for look in &target.looks {
            let paint = paints.blend(&shares.tinted(look.at.white()))?;
            let inside = paints.inside(&paint);
            let lab = paints.seen(&inside, paints.conditions);
            first += ciede2000(look.lab, lab).value().powi(2);
            second = second.zip(look.second).map(|(sum, wanted)| {
                let lab = paints.seen(&inside, paints.second_light());
                sum + ciede2000(wanted, lab).value().powi(2)
            });
            colours.push(lab);
        }
        let looks = target.looks.len().max(1) as f64;
        let mean = |sum: f64| (sum / looks).sqrt();
        Some(Self { first: mean(first), second: second.map(mean), colours })
    }

    pub fn score(&self) -> f64 {
        self.first.hypot(self.second.unwrap_or(0.0) / 4.0)
    }
}

/// 95th percentile of how far a mixture is off that is predicted to be off by `off`, where predictions are off by `width`
/// or less 95 times in 100, in any direction: the length of a sum of both (of three normal parts; within 2 % of the
/// non-central χ distribution's).
fn within(off: f64, width: f64) -> f64 {
    /// σ of one of three parts is so much of the 95th percentile of their length; of one part alone 1.645 σ is the 95th.
    const ALONG: f64 = 1.645 / 2.795;
    width.mul_add(ALONG, off.hypot((1.0 - ALONG) * width))
}

fn width(shares: &Shares, target: &Target, paints: &Paints) -> f64 {
    paints.width_of_looks(shares, target.looks.iter().map(|look| look.at.white()))
}

/// What cannot be reached.
#[derive(Debug, Clone, PartialEq)]
pub struct Limit {
    /// Most colours that were tried together.
    pub most: usize,
    /// However it is mixed, it is at least so far off, ΔE00: the best less what its prediction may be wrong.
    pub at_least: f64,
    /// The best of them, less the target: lighter, more vivid, and which way its hue is turned.
    pub off: Components,
}

impl Limit {
    /// What is wrong with the best, the largest first: "8 too dull", "3 too light", "4 off in hue".
    #[must_use]
    pub fn words(&self) -> Vec<String> {
        let Components { lightness, chroma, hue } = self.off;
        let mut all = vec![
            (lightness, if lightness > 0.0 { "too light" } else { "too dark" }),
            (chroma, if chroma > 0.0 { "too vivid" } else { "too dull" }),
            (hue, "off in hue"),
        ];
        all.retain(|(off, _)| off.abs() >= 1.0);
        all.sort_by(|one, other| other.0.abs().total_cmp(&one.0.abs()));
        all.into_iter().map(|(off, word)| format!("{:.0} {word}", off.abs())).collect()
    }
}

/// Recipes for one target.
#[derive(Debug, Clone, PartialEq)]
pub struct Recipes {
    /// The best first: the fewest colours among those that are as good as the best, then by the second light, then by
    /// opacity. The least ΔE00 that was found is always among them.
    pub recipes: Vec<Recipe>,
    /// How many of the first are as good as each other.
    pub alike: usize,
    /// `None` where the target is reached.
    pub limit: Option<Limit>,
}

impl Recipes {
    /// Recipes for a target of some of the tubes; `None` where the search was stopped.
    pub fn find(
        paints: &Paints,
        target: &Target,
        among: &[usize],
        limits: Limits,
        watch: &mut Watch<'_>,
    ) -> Option<Self> {
        let choices = search(paints, target, among, limits, watch)?;
        let mut recipes: Vec<Recipe> = Vec::new();
        for choice in &choices {
            // Less than a thousandth cannot be put out; without it the choice is one of fewer tubes.
            if choice.shares().tubes.iter().any(|(_, share)| *share < LEAST_SHARE) {
                continue;
            }
            let Some(recipe) = Recipe::of(choice, target, paints) else { continue };
            let places = |recipe: &Recipe| -> Vec<usize> {
                recipe.shares.tubes.iter().map(|it| it.0).collect()
            };
            let same = recipes.iter_mut().find(|it| places(it) == places(&recipe));
            match same {
                Some(known) if recipe.delta_e_parts < known.delta_e_parts => *known = recipe,
                Some(_) => {}
                None => recipes.push(recipe),
            }
        }
        Some(Self::ordered(recipes, target, paints, limits))
    }

    fn ordered(mut recipes: Vec<Recipe>, target: &Target, paints: &Paints, limits: Limits) -> Self {
        // By the parts that are shown: nobody puts out others.
        recipes.sort_by(|one, other| one.delta_e_parts.total_cmp(&other.delta_e_parts));
        let Some(first) = recipes.first() else {
            return Self { recipes, alike: 0, limit: None };
        };
        let within = VISIBLE.max(first.delta_e_parts + AS_GOOD);
        let best = recipes.iter().min_by(|one, other| one.delta_e.total_cmp(&other.delta_e));
        let best = best.unwrap_or(first).clone();
        let pigments = |recipe: &Recipe| -> usize {
            recipe.shares.tubes.iter().map(|(at, _)| paints.tubes[*at].pigments.max(1)).sum()
        };
        let gap = |recipe: &Recipe| {
            let both = target.contrast_ratio.zip(recipe.contrast_ratio);
            both.map_or(0.0, |(one, other)| (one - other).abs())
        };
        let rank = |recipe: &Recipe| {
            let second = recipe.delta_e_second.unwrap_or(recipe.delta_e);
            // Within half a step a second light says nothing of which is better.
            let second = (second / AS_GOOD).round();
            (recipe.colours_in_it(), pigments(recipe), second, gap(recipe), recipe.delta_e_parts)
        };
        let (mut good, rest): (Vec<Recipe>, Vec<Recipe>) =
            recipes.into_iter().partition(|recipe| recipe.delta_e_parts <= within);
        good.sort_by(|one, other| {
            let (a, b) = (rank(one), rank(other));
            let by_number = a.0.cmp(&b.0).then(a.1.cmp(&b.1));
            by_number.then(a.2.total_cmp(&b.2)).then(a.3.total_cmp(&b.3)).then(a.4.total_cmp(&b.4))
        });
        let mut told: Vec<Recipe> = good;
        told.truncate(MOST_RECIPES);
        let mut alike = told.len();
        told.extend(rest.into_iter().take(MOST_RECIPES - alike.min(MOST_RECIPES)));
        // The least ΔE00 by exact shares is always told, beside the others where its parts are no longer as good.
        if !told.iter().any(|it| it.shares == best.shares) {
            told.truncate(MOST_RECIPES - 1);
            alike = alike.min(told.len());
            told.push(best.clone());
        }
        let at_least = best.delta_e - best.width;
        let limit = (at_least > CLOSE).then(|| limit(&best, target, limits.most, at_least));
        Self { recipes: told, alike, limit: limit.flatten() }
    }

    /// The one whose exact shares come nearest.
    #[must_use]
    pub fn nearest(&self) -> Option<&Recipe> {
        self.recipes.iter().min_by(|one, other| one.delta_e.total_cmp(&other.delta_e))
    }
}

fn limit(best: &Recipe, target: &Target, most: usize, at_least: f64) -> Option<Limit> {
    let looks = target.looks.iter().zip(&best.colours);
    let worst = looks.max_by(|one, other| {
        let off = |(look, lab): &(&crate::target::Look, &Lab)| ciede2000(look.lab, **lab).value();
        off(one).total_cmp(&off(other))
    });
    let (look, lab) = worst?;
    Some(Limit { most, at_least, off: components(*lab, look.lab) })
}
