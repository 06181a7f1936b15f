//! Which tubes of the shelf to keep.

use std::sync::Arc;
use std::time::Duration;

use decide::{Chosen, Kept, Limits, PairReaches, Shelf, Target, choose};
use mixing::typical::TypicalPaint;
use rayon::prelude::*;
use store::{ShelfTube, TrialSummary, TubeId};

use super::confirmed::Confirmed;
use super::job::Jobs;
use super::reach::typical;
use crate::background::leaving_a_core;
use crate::comparing::{Gathered, verdict};
use crate::error::WorkshopError;
use crate::knowledge::{AsOf, KnownShelf};
use crate::workshop::Workshop;

/// Tubes that are looked at, at most.
pub const MOST_KEPT: usize = 60;
/// Fewer tubes that were read tell nothing of each other.
const FEWEST: usize = 3;
/// A page waits so long for the answer before it shows how far it is.
const PATIENCE: Duration = Duration::from_millis(1_500);
/// Of the work, the verdicts are so much; then comes what each tube adds to the reach, then what others would add.
const VERDICTS: f64 = 0.85;
const REACHES: f64 = 0.9;
/// Tubes that are not owned are told from this share on, and so many of them.
const ADDS: f64 = 0.005;
const TOLD: usize = 4;

/// The shelf with a verdict of each tube.
#[derive(Debug)]
pub struct KeptShelf {
    /// The tubes.
    pub known: KnownShelf,
    /// Those that were looked at, the largest loss first.
    pub kept: Vec<Kept>,
    /// A painted mixture that does the same as each tube, by place.
    pub confirmed: Vec<Option<Confirmed>>,
    /// Share of the reach that is lost without each, by place; 0 for those that were not looked at.
    pub lost_reach: Vec<f64>,
    /// Pigments that no tube of the shelf has, each with what a typical paint of it would add to the reach of all, as a
    /// share of it, the most first.
    pub not_owned: Vec<(&'static TypicalPaint, f64)>,
    /// Too few tubes were read: typical paints stand for those that were not, and only the eye can tell.
    pub is_typical: bool,
    /// Tubes that were not looked at since there are too many.
    pub left_out: Vec<ShelfTube>,
    reaches: Option<PairReaches>,
}

impl KeptShelf {
    /// The palette of so many tubes that reaches furthest; `None` where there are too few.
    #[must_use]
    pub fn best_palette(&self, size: usize) -> Option<Chosen> {
        choose(self.reaches.as_ref()?, size, &mut |_| true)
    }
}

/// How far the verdicts are.
#[derive(Debug, Clone)]
pub enum Deciding {
    /// All of it.
    Done(Arc<KeptShelf>),
    /// Still at work: the share that is done.
    Working(f64),
    /// It was stopped.
    Stopped,
}

/// The verdicts that are being worked out.
type Decided = Jobs<KeptShelf>;
type Job = super::job::Job<KeptShelf>;

impl Workshop {
    /// A verdict of every tube that was read: the answer, or how far it is.
    ///
    /// # Errors
    /// When the records cannot be read.
    pub async fn keep_or_drop(&self, trials: &[TrialSummary]) -> Result<Deciding, WorkshopError> {
        let shelf = self.store.shelf().await?;
        let decided = self.kept::<Decided>();
        let (job, is_new) = decided.job(AsOf::listed(shelf.clone(), trials));
        if is_new {
            let known = self.known_shelf(trials, &shelf).await;
            let (known, by_eye) = match (known, self.confirmed_by_eye(trials).await) {
                (Ok(known), Ok(by_eye)) => (KnownShelf::clone(&known), by_eye),
                (Err(error), _) | (_, Err(error)) => {
                    decided.stop(true);
                    return Err(error);
                }
            };
            let at_work = Arc::clone(&job);
            tokio::spawn(async move {
                let of_job = Arc::clone(&at_work);
                match leaving_a_core(move || KeptShelf::of(known, &by_eye, &of_job)).await {
                    Ok(Some(found)) => at_work.finish(Arc::new(found)),
                    // Whoever waits for it is told, and can start it again.
                    Ok(None) | Err(_) => at_work.stop(),
                }
            });
        }
        let wait = async {
            while job.found().is_none() && !job.is_stopped() {
                tokio::time::sleep(Duration::from_millis(20)).await;
            }
        };
        // Whoever looks again at what is still at work is told how far it is at once.
        let patience = if is_new { PATIENCE } else { Duration::from_millis(50) };
        let _ = tokio::time::timeout(patience, wait).await;
        Ok(match job.found() {
            Some(found) => Deciding::Done(found),
            None if job.is_stopped() => Deciding::Stopped,
            None => Deciding::Working(job.done()),
        })
    }

    /// Stops the verdicts that are being worked out.
    pub fn stop_deciding(&self) {
        self.kept::<Decided>().stop(false);
    }

    /// Lets them be worked out anew.
    pub fn decide_again(&self) {
        self.kept::<Decided>().stop(true);
    }
}

impl KeptShelf {
    /// `None` where it was stopped.
    fn of(mut known: KnownShelf, by_eye: &[(TubeId, Confirmed)], job: &Job) -> Option<Self> {
        let codes = known.tubes.iter().chain(&known.unknown).map(|tube| tube.tube.code());
        let shelf_codes: Vec<String> = codes.collect();
        let mut among = known.read();
        let is_typical = among.len() < FEWEST;
        if is_typical {
            among = (0..known.tubes.len()).collect();
        }
        let left_out: Vec<ShelfTube> =
            among.iter().skip(MOST_KEPT).map(|at| known.tubes[*at].clone()).collect();
        among.truncate(MOST_KEPT);
        keep_only(&mut known, &among);
        let places: Vec<usize> = (0..known.tubes.len()).collect();
        let targets: Vec<Option<Target>> = places.iter().map(|at| known.target(*at)).collect();
        let references = references(&known);
        let confirmed: Vec<_> = places.iter().map(|at| known.confirmed(*at, by_eye)).collect();
        let is_confirmed = |place: usize, _: &decide::Recipe| confirmed[place].is_some();
        let gathered = Gathered::all(&known.telling);
        let shelf = Asking { known: &known, targets: &targets, references: &references, gathered };
        let mut kept = shelf.verdicts(&is_confirmed, job)?;
        let loss = |it: &Kept| it.loss().unwrap_or(f64::INFINITY);
        kept.sort_by(|one, other| {
            loss(other).total_cmp(&loss(one)).then(one.tube.cmp(&other.tube))
        });
        let mut watch = |done: f64| job.goes_on(VERDICTS + (REACHES - VERDICTS) * done);
        let reaches = PairReaches::of(&known.paints, &places, &mut watch)?;
        let lost_reach = reaches.lost_without();
        let not_owned = not_owned(&known, &shelf_codes, &reaches, job)?;
        Some(Self {
            kept,
            is_typical,
            confirmed,
            lost_reach,
            not_owned,
            left_out,
            reaches: Some(reaches),
            known,
        })
    }
}

struct Asking<'a> {
    known: &'a KnownShelf,
    targets: &'a [Option<Target>],
    references: &'a [usize],
    /// What was read of them, for Compare's verdict.
    gathered: Vec<Gathered>,
}

impl Asking<'_> {
    fn verdicts(
        &self,
        is_confirmed: &(dyn Fn(usize, &decide::Recipe) -> bool + Sync),
        job: &Job,
    ) -> Option<Vec<Kept>> {
        let verdict =
            |pair: [usize; 2]| verdict(pair.map(|at| &self.known.tubes[at]), &self.gathered);
        let shelf = || Shelf {
            paints: &self.known.paints,
            targets: self.targets,
            references: self.references,
            is_confirmed,
            verdict: &verdict,
        };
        let twins = shelf().twins();
        let count = self.known.tubes.len();
        let done = std::sync::atomic::AtomicUsize::new(0);
        (0..count)
            .into_par_iter()
            .map(|tube| {
                let before = |done: usize| VERDICTS * done as f64 / count.max(1) as f64;
                let mut watch =
                    |_: f64| job.goes_on(before(done.load(std::sync::atomic::Ordering::Relaxed)));
                let kept = shelf().one(tube, &twins, Limits::default(), &mut watch)?;
                done.fetch_add(1, std::sync::atomic::Ordering::Relaxed);
                watch(0.0).then_some(kept)
            })
            .collect()
    }
}

/// Pigments that the shelf lacks, with what a typical paint of each would add; `None` where it was stopped.
fn not_owned(
    known: &KnownShelf,
    shelf_codes: &[String],
    reaches: &PairReaches,
    job: &Job,
) -> Option<Vec<(&'static TypicalPaint, f64)>> {
    let lacks = |paint: &&TypicalPaint| {
        !paint.name.starts_with("PW") && !shelf_codes.iter().any(|code| code == paint.name)
    };
    let lacking: Vec<&TypicalPaint> = TypicalPaint::ALL.iter().filter(lacks).collect();
    let added = lacking.par_iter().map(|paint| {
        let mut paints = known.paints.clone();
        paints.tubes.push(typical(paint));
        let added = reaches.added_by(&paints, paints.tubes.len() - 1);
        job.goes_on(REACHES).then_some((*paint, added))
    });
    let mut added: Vec<(&TypicalPaint, f64)> = added.collect::<Option<_>>()?;
    added.retain(|it| it.1 >= ADDS);
    added.sort_by(|one, other| other.1.total_cmp(&one.1));
    added.truncate(TOLD);
    Some(added)
}

/// Tubes that a trial has tried others against, eight at most.
fn references(known: &KnownShelf) -> Vec<usize> {
    const MOST: usize = 8;
    let mut references: Vec<usize> = Vec::new();
    for analysed in &known.telling {
        for tube in analysed.trial.tubes.iter().filter(|it| it.role == store::Role::Reference) {
            if let Some(place) = known.place(tube.tube.id)
                && !references.contains(&place)
            {
                references.push(place);
            }
        }
    }
    references.truncate(MOST);
    references
}

/// Leaves out all other tubes.
fn keep_only(known: &mut KnownShelf, among: &[usize]) {
    let keep = |place: usize| among.contains(&place);
    let mut place = 0..;
    known.paints.tubes.retain(|_| place.next().is_some_and(keep));
    let mut place = 0..;
    known.tubes.retain(|_| place.next().is_some_and(keep));
    let mut place = 0..;
    known.sources.retain(|_| place.next().is_some_and(keep));
}
