//! Recipes for a tube, a colour that was read, or a colour that was typed.

use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::time::{Duration, Instant};

use colour::{Conditions, Lab, ciede2000};
use decide::{Effort, Limits, NoTarget, Recipes, Target};
use plan::CellNumber;
use store::{TrialId, TrialSummary, TubeId};
use study::Backing;

use crate::background::off_the_thread;
use crate::error::WorkshopError;
use crate::kept::{Kept, Same};
use crate::knowledge::{KnownShelf, Which};
use crate::workshop::Workshop;

/// One request works no longer.
const LONGEST: Duration = Duration::from_millis(1_800);
/// A tube that is further off than this does not look like a colour, ΔE00.
const LIKE: f64 = 5.0;
/// So many tubes are looked at where all would take too long: those that were read first.
const FEW: usize = 24;

/// What is to be mixed.
#[derive(Debug, Clone, PartialEq)]
pub enum Aim {
    /// A tube: its mass tone and its tints.
    Tube(TubeId),
    /// A square of a trial, as it was read.
    Swatch(TrialId, u32),
    /// A colour under a light; under that of the shelf's readings where none is said.
    Colour(Lab, Option<Conditions>),
}

/// What a recipe may be made of.
#[derive(Debug, Clone, PartialEq)]
pub struct RecipeRequest {
    /// What is to be mixed.
    pub aim: Aim,
    /// From which tubes; a tube that is to be mixed is never one of them.
    pub from: Which,
    /// Most colours.
    pub most: usize,
    /// White may be in it.
    pub white: bool,
}

/// Recipes, and what they were found among.
#[derive(Debug, Clone)]
pub struct RecipeAnswer {
    /// What was aimed at.
    pub target: Target,
    /// What was found.
    pub recipes: Recipes,
    /// How many tubes were looked at.
    pub among: usize,
    /// Not every choice was looked at in the time that one request may take.
    pub cut_short: bool,
    /// Tubes that were read and look most like it as they are, by their places with root mean square of ΔE00 over the
    /// looks, the nearest first.
    pub from_the_tube: Vec<(usize, f64)>,
}

impl Aim {
    /// The shelf under the light that colours are told under: another one than that of the readings, where a typed colour
    /// asks for it.
    pub(super) fn seen(&self, known: Arc<KnownShelf>) -> Arc<KnownShelf> {
        match self {
            Self::Colour(_, Some(light)) if *light != known.paints.conditions => {
                let mut known = KnownShelf::clone(&known);
                known.paints.conditions = *light;
                Arc::new(known)
            }
            Self::Colour(..) | Self::Tube(_) | Self::Swatch(..) => known,
        }
    }
}

impl KnownShelf {
    /// What an aim looks like.
    ///
    /// # Errors
    /// [`WorkshopError::NotNow`] where nothing is known of it, in words.
    pub fn aim(&self, aim: &Aim) -> Result<Target, WorkshopError> {
        let unread = || WorkshopError::NotNow(NoTarget::Unread.to_string());
        match aim {
            Aim::Tube(tube) if self.odd.contains(tube) => {
                Err(WorkshopError::NotNow(NoTarget::NotAPaint.to_string()))
            }
            Aim::Tube(tube) => {
                self.place(*tube).and_then(|place| self.target(place)).ok_or_else(unread)
            }
            Aim::Colour(lab, _) => Target::of_lab(*lab, &self.paints)
                .map_err(|error| WorkshopError::NotNow(error.to_string())),
            Aim::Swatch(trial, number) => self.swatch(*trial, *number).ok_or_else(|| {
                WorkshopError::NotNow(
                    "this square was not read yet, or in another light or with another white than the tubes: read it, \
                     or type its L*, a* and b*"
                        .into(),
                )
            }),
        }
    }

    /// Tubes that were read and look like a target as they are, the nearest first; `but` is the target itself.
    fn like(&self, target: &Target, but: Option<TubeId>) -> Vec<(usize, f64)> {
        let off = |place: usize| {
            let own = self.target(place)?;
            let pair = |look: &decide::Look| {
                let same = own.looks.iter().find(|it| it.at == look.at)?;
                Some(ciede2000(same.lab, look.lab).value().powi(2))
            };
            let all: Vec<f64> = target.looks.iter().map(pair).collect::<Option<_>>()?;
            Some((place, (all.iter().sum::<f64>() / all.len().max(1) as f64).sqrt()))
        };
        let others = self.read().into_iter().filter(|place| Some(self.tubes[*place].id) != but);
        let mut like: Vec<(usize, f64)> =
            others.filter_map(off).filter(|(_, off)| *off <= LIKE).collect();
        like.sort_by(|one, other| one.1.total_cmp(&other.1));
        like
    }

    fn swatch(&self, trial: TrialId, number: u32) -> Option<Target> {
        let analysed = self.telling.iter().find(|it| it.trial.id == trial)?;
        let planned =
            analysed.trial.swatches.iter().find(|it| it.swatch.number == CellNumber(number))?;
        let read = analysed.averages().dry(&planned.swatch.mixture, Backing::Paper)?;
        Target::of_swatch(read, &self.paints).ok()
    }
}

/// The shelf, the request and the tubes that it means.
type Asked = (Same<KnownShelf>, RecipeRequest, Vec<usize>);

/// What is not kept: another time there may be more time for it.
enum Unkept {
    CutShort(RecipeAnswer),
    Failed(WorkshopError),
}

impl Workshop {
    /// Recipes, the best first.
    ///
    /// # Errors
    /// [`WorkshopError::NotNow`] where there is no target or nothing to mix it of, in words.
    pub async fn recipes(
        &self,
        trials: &[TrialSummary],
        request: &RecipeRequest,
    ) -> Result<(Arc<KnownShelf>, Arc<RecipeAnswer>), WorkshopError> {
        let shelf = self.store.shelf().await?;
        let of_shelf = self.known_shelf(trials, &shelf).await?;
        let known = request.aim.seen(Arc::clone(&of_shelf));
        let target = known.aim(&request.aim)?;
        let mut among = self.which(&known, &request.from).await?;
        if let Aim::Tube(tube) = &request.aim {
            among.retain(|place| known.tubes[*place].id != *tube);
        }
        if among.is_empty() {
            return Err(WorkshopError::NotNow(
                "there is no other tube to mix it of: choose the whole shelf, or a palette with more tubes".into(),
            ));
        }
        let (most, white) = (request.most, request.white);
        let at_work = Arc::clone(&known);
        let aimed_at = match &request.aim {
            Aim::Tube(tube) => Some(*tube),
            Aim::Swatch(..) | Aim::Colour(..) => None,
        };
        let asked = (Same::as_it(&of_shelf), request.clone(), among.clone());
        let work = off_the_thread(move || {
            let cut = AtomicBool::new(false);
            let started = Instant::now();
            let find = |most: usize, effort: Effort| {
                let limits = Limits { most, white, effort };
                Recipes::find(&at_work.paints, &target, &among, limits, &mut |_| {
                    let goes_on = started.elapsed() < LONGEST;
                    cut.fetch_or(!goes_on, Ordering::Relaxed);
                    goes_on
                })
            };
            // Where the time does not suffice, a few tubes and three colours do: that takes a fifth of a second.
            let full = find(most, Effort::default());
            let recipes = full.or_else(|| {
                let mut few = among.clone();
                few.sort_by_key(|place| !at_work.is_read(*place));
                few.truncate(FEW);
                let effort = Effort { pairs: 30, triples: 0 };
                let limits = Limits { most: most.min(3), white, effort };
                Recipes::find(&at_work.paints, &target, &few, limits, &mut |_| true)
            });
            recipes.map(|recipes| RecipeAnswer {
                target: target.clone(),
                recipes,
                among: among.len(),
                cut_short: cut.load(Ordering::Relaxed),
                from_the_tube: at_work.like(&target, aimed_at),
            })
        });
        let work = async {
            match work.await.map_err(Unkept::Failed)? {
                Some(answer) if answer.cut_short => Err(Unkept::CutShort(answer)),
                Some(answer) => Ok(answer),
                None => Err(Unkept::Failed(WorkshopError::NotWorkedOut(
                    "no recipe was found in the time that one request may take".into(),
                ))),
            }
        };
        let answer = match self.kept::<Kept<16, Asked, RecipeAnswer>>().get(asked, work).await {
            Ok(answer) => answer,
            Err(Unkept::CutShort(answer)) => Arc::new(answer),
            Err(Unkept::Failed(error)) => return Err(error),
        };
        Ok((known, answer))
    }
}
