//! What a palette reaches, where it falls short, and what would fill it.

use std::sync::Arc;

use decide::{Family, Forecast, Gap, Paint, Paints, Reach, darkest, gaps, hue_name, value_floor};
use mixing::typical::{LOAD_SIGMA, TypicalPaint, VIVID};
use rayon::prelude::*;
use store::{ShelfTube, TrialSummary};

use crate::background::off_the_thread;
use crate::error::WorkshopError;
use crate::kept::{Kept, Same};
use crate::knowledge::{KnownShelf, Which, is_of, pairs_of};
use crate::workshop::Workshop;

/// Gaps that are told.
const GAPS: usize = 4;
/// A palette of more tubes is told by its first ones: all pairs of hundreds would take minutes.
const MOST: usize = 24;

/// A tube that fills a gap.
#[derive(Debug, Clone)]
pub struct Filler {
    /// A tube of the shelf, or the common name of a typical paint that is not owned.
    pub tube: Tube,
    /// Share of the gap that it fills, 0 to 1.
    pub fills: f64,
}

/// What two tubes of the palette do together.
#[derive(Debug, Clone)]
pub struct PairForecast {
    /// Their places.
    pub pair: [usize; 2],
    /// What is to be expected with white.
    pub forecast: Forecast,
    /// Ways from one to the other with white 1 : 4, at equal steps of strength: the most vivid and the dullest.
    pub ladder: Vec<colour::Lab>,
    /// The lowest and the highest C* of its mixtures that were read, white or not; `None` where none was.
    pub read: Option<(f64, f64)>,
}

/// The most vivid pair of a hue.
#[derive(Debug, Clone, Copy)]
pub struct CleanPair {
    /// What painters call the hue.
    pub hue: &'static str,
    /// Places of the two tubes.
    pub pair: [usize; 2],
    /// The most vivid of that hue between them, with white 1 : 4, predicted.
    pub colour: colour::Lab,
}

/// What a palette reaches.
#[derive(Debug)]
pub struct PaletteReach {
    /// All tubes that are known.
    pub known: Arc<KnownShelf>,
    /// Places of the palette's tubes.
    pub own: Vec<usize>,
    /// Tubes that were left out, since there are too many.
    pub left_out: usize,
    /// Its reach.
    pub reach: Reach,
    /// Of the palette beside it, where one is asked for.
    pub beside: Option<Reach>,
    /// The share of what common pigments reach that it reaches, 0 to 1.
    pub coverage: f64,
    /// The same of the other palette.
    pub coverage_beside: Option<f64>,
    /// Where it falls short of what common pigments reach, each with what fills most of it.
    pub gaps: Vec<(Gap, Option<Filler>)>,
    /// Families of colours, and the share of each that it hits.
    pub families: Vec<(Family, f64)>,
    /// Every pair of it, the most vivid first.
    pub pairs: Vec<PairForecast>,
    /// The pair for a clean colour of each hue.
    pub clean: Vec<CleanPair>,
    /// The darkest that any two of them make, with their places and its colour.
    pub darkest: Option<([usize; 2], colour::Lab)>,
    /// Tubes that white keeps from going so dark, each with the lowest L* of its 1 : 1 mixtures.
    pub floors: Vec<(usize, f64)>,
}

/// The shelf, the palette's tubes and those of the one beside it.
type Asked = (Same<KnownShelf>, Vec<usize>, Option<Vec<usize>>);

impl Workshop {
    /// What a palette reaches, beside another one where that is asked for.
    ///
    /// # Errors
    /// [`WorkshopError::NotNow`] for fewer than two tubes that are known.
    pub async fn palette_reach(
        &self,
        trials: &[TrialSummary],
        which: &Which,
        beside: Option<&Which>,
    ) -> Result<Arc<PaletteReach>, WorkshopError> {
        let shelf = self.store.shelf().await?;
        let known = self.known_shelf(trials, &shelf).await?;
        let mut own = self.which(&known, which).await?;
        let mut other = match beside {
            Some(beside) => Some(self.which(&known, beside).await?),
            None => None,
        };
        if own.len() < 2 {
            return Err(WorkshopError::NotNow(
                "a reach takes two tubes that were read, or whose pigments are known: choose another palette, or read \
                 the mass tones and tints of its tubes"
                    .into(),
            ));
        }
        let left_out = own.len().saturating_sub(MOST);
        own.truncate(MOST);
        if let Some(other) = &mut other {
            other.truncate(MOST);
        }
        let asked = (Same::as_it(&known), own.clone(), other.clone());
        let work = off_the_thread(move || PaletteReach::of(known, own, other.as_deref(), left_out));
        let kept = self.kept::<Kept<8, Asked, PaletteReach>>();
        // Each holds its shelf, with every reading.
        kept.forget(|(of, ..)| *of != asked.0);
        kept.get(asked, work).await
    }
}

impl PaletteReach {
    fn of(
        known: Arc<KnownShelf>,
        own: Vec<usize>,
        beside: Option<&[usize]>,
        left_out: usize,
    ) -> Self {
        let all = of_common_pigments(&known);
        let mut reach = reach_of(&known.paints, &own);
        // What was really mixed counts, whatever was predicted.
        known.read_colours(&own).into_iter().for_each(|colour| reach.add(colour));
        let beside = beside.map(|other| reach_of(&known.paints, other));
        let candidates = Candidates::of(&known, &own, &reach);
        let found = gaps(&reach, &all).into_iter().take(GAPS);
        let found: Vec<(Gap, Option<Filler>)> = found
            .map(|gap| {
                let filler = candidates.filler(&reach, &all, &gap);
                (gap, filler)
            })
            .collect();
        let darkest = darkest(&known.paints, &own);
        let pairs = forecasts(&known, &own);
        let families = Family::ALL.into_par_iter();
        let families = families.map(|family| (family, family.hit(&known.paints, &own)));
        Self {
            coverage: reach.coverage(&all),
            coverage_beside: beside.as_ref().map(|it| it.coverage(&all)),
            gaps: found,
            families: families.collect(),
            clean: cleanest(&known, &pairs),
            pairs,
            floors: floors(&known, &own, darkest.map_or(100.0, |(_, lab)| lab.l)),
            darkest,
            reach,
            beside,
            left_out,
            own,
            known,
        }
    }
}

/// Tubes of the shelf that are tried in a gap, and pairs of them with the palette's: a page must not take long.
const MOST_CANDIDATES: usize = 60;
const MOST_PAIRS: usize = 400;

/// What typical paints of common pigments reach with this white.
fn of_common_pigments(known: &KnownShelf) -> Reach {
    let mut paints = known.paints.clone();
    paints.tubes =
        VIVID.iter().filter_map(|name| Some(typical(TypicalPaint::named(name)?))).collect();
    let all: Vec<usize> = (0..paints.tubes.len()).collect();
    reach_of(&paints, &all)
}

/// What the pairs of these tubes reach with white.
fn reach_of(paints: &Paints, among: &[usize]) -> Reach {
    if among.len() < 2 {
        return Reach::of(paints, among);
    }
    let pairs = pairs_of(among).into_par_iter();
    let reaches = pairs.map(|[one, other]| Reach::of_pair(paints, one, other));
    reaches.reduce(Reach::default, |mut joined, pair| {
        joined.join(&pair);
        joined
    })
}

pub(super) fn typical(paint: &TypicalPaint) -> Paint {
    Paint { constants: paint.constants(), pigments: 1, load_sigma: Some(LOAD_SIGMA) }
}

type Tube = Result<ShelfTube, &'static TypicalPaint>;

/// Tubes that the palette could take, each with what it would reach then.
struct Candidates {
    on_shelf: Vec<(Tube, Reach)>,
    not_owned: Vec<(Tube, Reach)>,
}

impl Candidates {
    fn of(known: &KnownShelf, own: &[usize], reach: &Reach) -> Self {
        let with = |paints: &Paints, tube: usize| {
            let mut joined = reach.clone();
            own.iter().for_each(|other| joined.join(&Reach::of_pair(paints, tube, *other)));
            joined
        };
        let places = (0..known.tubes.len())
            .filter(|it| !own.contains(it))
            .take(MOST_CANDIDATES.min(MOST_PAIRS / own.len().max(1)));
        let places: Vec<usize> = places.collect();
        let on_shelf = places
            .par_iter()
            .map(|place| (Ok(known.tubes[*place].clone()), with(&known.paints, *place)));
        let shelf = || known.tubes.iter().chain(&known.unknown);
        let is_owned = |name: &str| shelf().any(|tube| tube.tube.code() == name);
        let not_owned = VIVID.par_iter().filter(|name| !is_owned(name)).filter_map(|name| {
            let paint = TypicalPaint::named(name)?;
            let mut paints = known.paints.clone();
            paints.tubes.push(typical(paint));
            Some((Err(paint), with(&paints, paints.tubes.len() - 1)))
        });
        Self { on_shelf: on_shelf.collect(), not_owned: not_owned.collect() }
    }

    /// The tube that fills most of a gap: one of the shelf before one that is not owned.
    fn filler(&self, reach: &Reach, all: &Reach, gap: &Gap) -> Option<Filler> {
        /// A tube of the shelf is told before a better one that is not owned.
        const ENOUGH: f64 = 0.4;
        const LEAST: f64 = 0.15;
        let best = |of: &[(Tube, Reach)]| {
            let fills = of.iter().map(|(tube, with)| Filler {
                tube: tube.clone(),
                fills: gap.filled_by(reach, with, all),
            });
            fills.max_by(|a, b| a.fills.total_cmp(&b.fills))
        };
        let owned = best(&self.on_shelf);
        if owned.as_ref().is_some_and(|it| it.fills >= ENOUGH) {
            return owned;
        }
        let all = owned.into_iter().chain(best(&self.not_owned));
        all.max_by(|a, b| a.fills.total_cmp(&b.fills)).filter(|it| it.fills >= LEAST)
    }
}

/// Steps of a ladder.
const STEPS: usize = 7;
/// The same where each hue between two tubes is looked for.
const FINE_STEPS: usize = 25;

fn forecasts(known: &KnownShelf, own: &[usize]) -> Vec<PairForecast> {
    let mixtures = known.mixtures();
    let of = |pair: [usize; 2]| {
        let [one, other] = pair.map(|place| &known.paints.tubes[place].constants);
        let forecast = Forecast::of(&known.paints, one, other)?;
        let ladder = decide::ladder(&known.paints, pair, STEPS);
        let of_pair = mixtures.iter().filter(|it| is_of(&it.shares, &pair));
        let read = of_pair.map(|it| it.lab.chroma());
        let read = read.fold(None, |range: Option<(f64, f64)>, chroma| {
            let (low, high) = range.unwrap_or((chroma, chroma));
            Some((low.min(chroma), high.max(chroma)))
        });
        Some(PairForecast { pair, forecast, ladder, read })
    };
    let mut all: Vec<PairForecast> = pairs_of(own).into_par_iter().filter_map(of).collect();
    let vivid = |it: &PairForecast| it.forecast.loss.unwrap_or(1.0);
    all.sort_by(|one, other| vivid(one).total_cmp(&vivid(other)));
    all
}

/// The pair whose ladder is most vivid at each hue that it passes, by the names of the hues, in their order on the hue
/// circle.
fn cleanest(known: &KnownShelf, pairs: &[PairForecast]) -> Vec<CleanPair> {
    let mut found: Vec<CleanPair> = Vec::new();
    for pair in pairs {
        let ladder = decide::ladder(&known.paints, pair.pair, FINE_STEPS);
        // The ends are the tubes themselves.
        let mixed = ladder.len().saturating_sub(1);
        for colour in ladder.iter().take(mixed).skip(1) {
            let Some(hue) = colour.hue() else { continue };
            let own = CleanPair { hue: hue_name(hue), pair: pair.pair, colour: *colour };
            match found.iter_mut().find(|it| it.hue == own.hue) {
                Some(known) if known.colour.chroma() < colour.chroma() => *known = own,
                Some(_) => {}
                None => found.push(own),
            }
        }
    }
    let degrees = |it: &CleanPair| it.colour.hue().map_or(0.0, |hue| hue.degrees());
    found.sort_by(|one, other| degrees(one).total_cmp(&degrees(other)));
    found
}

/// Tubes that hold white beside other pigments, and cannot go as dark as the palette does: the lowest L* of their 1 : 1
/// mixtures.
fn floors(known: &KnownShelf, own: &[usize], darkest: f64) -> Vec<(usize, f64)> {
    /// A floor that is higher than the darkest by less is not worth a word, L*.
    const TELLS: f64 = 5.0;
    let holds_white = |place: &&usize| {
        known.tubes[**place].tube.codes.iter().any(|code| code.as_str().starts_with("PW"))
    };
    let floor = |place: &usize| Some((*place, value_floor(&known.paints, *place, own)?));
    let floors = own.iter().filter(holds_white).filter_map(floor);
    floors.filter(|(_, floor)| *floor > darkest + TELLS).collect()
}
