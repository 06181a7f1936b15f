//! The greys of a palette.

use std::sync::Arc;

use colour::Lab;
use decide::{CastCure, Grey, cast_cures, grey_pair, grey_triad};
use rayon::prelude::*;
use store::TrialSummary;

use crate::background::off_the_thread;
use crate::error::WorkshopError;
use crate::kept::{Kept, Same};
use crate::knowledge::{KnownShelf, Which, pairs_of};
use crate::workshop::Workshop;

/// Pairs and triads that are told.
const PAIRS: usize = 12;
const TRIADS: usize = 4;
/// Pairs of more tubes, and triads of more, would take too long.
const MOST: usize = 24;
const MOST_IN_TRIADS: usize = 9;
/// A pair is told before a triad that is more neutral by less than this, C*.
const THIRD: f64 = 2.0;
/// The tint that a cast is looked at in: a middle grey.
const MIDDLE: f64 = 4.0;

/// A grey, with what takes its cast.
#[derive(Debug)]
pub struct PlacedGrey {
    /// The mixture and its tints.
    pub grey: Grey,
    /// What takes the cast from its tint 1 : 4, the best first.
    pub cures: Vec<CastCure>,
}

/// The greys of a palette.
#[derive(Debug)]
pub struct PaletteGreys {
    /// All tubes that are known.
    pub known: Arc<KnownShelf>,
    /// Places of the palette's tubes.
    pub own: Vec<usize>,
    /// Pairs and triads that pass near neutral, the most neutral first.
    pub greys: Vec<PlacedGrey>,
    /// The pair that comes nearest, where none passes near neutral.
    pub nearest: Option<Grey>,
    /// The darkest of the pairs that neutralise.
    pub darkest: Option<Grey>,
    /// Tubes of the shelf that are greys themselves, with their mass tone and their tint.
    pub ready_made: Vec<(usize, Lab, Lab)>,
    /// Tubes that were left out, since there are too many.
    pub left_out: usize,
}

impl Workshop {
    /// The greys that a palette mixes.
    ///
    /// # Errors
    /// [`WorkshopError::NotNow`] for fewer than two tubes that are known.
    pub async fn palette_greys(
        &self,
        trials: &[TrialSummary],
        which: &Which,
    ) -> Result<Arc<PaletteGreys>, WorkshopError> {
        let shelf = self.store.shelf().await?;
        let known = self.known_shelf(trials, &shelf).await?;
        let mut own = self.which(&known, which).await?;
        if own.len() < 2 {
            return Err(WorkshopError::NotNow(
                "a grey takes two tubes that were read, or whose pigments are known: choose another palette".into(),
            ));
        }
        let left_out = own.len().saturating_sub(MOST);
        own.truncate(MOST);
        let asked = (Same::as_it(&known), own.clone());
        let work = off_the_thread(move || PaletteGreys::of(known, own, left_out));
        let kept = self.kept::<Kept<8, (Same<KnownShelf>, Vec<usize>), PaletteGreys>>();
        // Each holds its shelf, with every reading.
        kept.forget(|(of, _)| *of != asked.0);
        kept.get(asked, work).await
    }
}

impl PaletteGreys {
    fn of(known: Arc<KnownShelf>, own: Vec<usize>, left_out: usize) -> Self {
        let of =
            |pair: [usize; 2]| grey_pair(&known.paints, pair[0], pair[1])?.put_out(&known.paints);
        let pairs = pairs_of(&own).into_par_iter().filter_map(of);
        let pairs = by_chroma(pairs.collect());
        let few = &own[..own.len().min(MOST_IN_TRIADS)];
        let threes = few.iter().enumerate().flat_map(|(at, one)| {
            pairs_of(&few[at + 1..]).into_iter().map(|[two, three]| [*one, two, three])
        });
        let threes: Vec<[usize; 3]> = threes.collect();
        let triads = threes
            .into_par_iter()
            .filter_map(|three| grey_triad(&known.paints, three, &pairs)?.put_out(&known.paints));
        let triads = by_chroma(triads.collect());
        let nearest = pairs.first().cloned();
        let neutral = pairs.iter().filter(|grey| grey.neutralises());
        let lightness = |grey: &&Grey| grey.mass_tone().map_or(100.0, |lab| lab.l);
        let darkest = neutral.clone().min_by(|a, b| lightness(a).total_cmp(&lightness(b))).cloned();
        let mut all: Vec<Grey> = neutral.take(PAIRS).cloned().collect();
        all.extend(triads.into_iter().take(TRIADS));
        // A third tube is worth its trouble where it takes so much chroma.
        let rank = |it: &Grey| it.chroma + if it.shares.tubes.len() > 2 { THIRD } else { 0.0 };
        all.sort_by(|one, other| rank(one).total_cmp(&rank(other)));
        let placed = |grey: Grey| {
            let cures = cast_cures(&known.paints, &grey.shares.tinted(MIDDLE), &own);
            PlacedGrey { grey, cures }
        };
        let ready_made = (0..known.tubes.len()).filter_map(|place| {
            let alone = decide::Shares::of(&[(place, 1.0)], 0.0);
            let mass_tone = known.paints.colour(&alone)?;
            let tint = known.paints.colour(&alone.tinted(MIDDLE))?;
            let is_grey = mass_tone.chroma() <= 8.0 && tint.chroma() <= 8.0;
            is_grey.then_some((place, mass_tone, tint))
        });
        Self {
            greys: all.into_par_iter().map(placed).collect(),
            nearest,
            darkest,
            ready_made: ready_made.collect(),
            left_out,
            own,
            known,
        }
    }
}

/// The most neutral first.
fn by_chroma(mut greys: Vec<Grey>) -> Vec<Grey> {
    greys.sort_by(|one, other| one.chroma.total_cmp(&other.chroma));
    greys
}
