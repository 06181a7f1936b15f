//! Every two of the chosen tubes, by the readings that tell most of both.

use compare::{Apart, Twins, Verdict, compare};
use store::{ShelfTube, TrialId, TubeId};

use super::gathered::{Gathered, counted};

/// Two tubes and what was found of them.
#[derive(Debug)]
pub struct ComparedPair {
    /// Their places among the chosen tubes, the smaller first.
    pub of: [usize; 2],
    /// How far they differ, or why they stand apart.
    pub found: Result<Twins, Apart>,
    /// The trials that the readings of the first and of the second come from.
    pub trials: [Vec<(TrialId, String)>; 2],
}

/// Pairs that are worth a thread of their own.
const FOR_A_THREAD: usize = 8;

pub(super) fn all(tubes: &[ShelfTube], gathered: &[Gathered]) -> Vec<ComparedPair> {
    let places: Vec<[usize; 2]> = (0..tubes.len())
        .flat_map(|at| (at + 1..tubes.len()).map(move |other| [at, other]))
        .collect();
    let work = |places: &[[usize; 2]]| -> Vec<ComparedPair> {
        places.iter().map(|of| pair(of.map(|at| &tubes[at]), *of, gathered)).collect()
    };
    let threads = std::thread::available_parallelism().map_or(1, usize::from);
    let share = places.len().div_ceil(threads).max(FOR_A_THREAD);
    std::thread::scope(|scope| {
        let workers: Vec<_> =
            places.chunks(share).map(|chunk| scope.spawn(move || work(chunk))).collect();
        // A worker that failed fails the whole: nothing is left out silently.
        let joined = workers
            .into_iter()
            .map(|worker| worker.join().unwrap_or_else(|panic| std::panic::resume_unwind(panic)));
        joined.flatten().collect()
    })
}

/// Whether one of two tubes is enough, by what was read of them.
pub(crate) fn verdict(tubes: [&ShelfTube; 2], gathered: &[Gathered]) -> Verdict {
    pair(tubes, [0, 1], gathered).found.map_or(Verdict::CannotTell, |twins| twins.verdict())
}

/// The surest of all ways to compare two tubes; of equals that of the newest readings.
fn pair([one, other]: [&ShelfTube; 2], of: [usize; 2], gathered: &[Gathered]) -> ComparedPair {
    let unread = |tube: &ShelfTube| {
        let is_read = gathered.iter().any(|it| it.readings_of(tube.id) > 0);
        (!is_read).then(|| Apart::Unread(tube.tube.name.clone()))
    };
    let mut best = ComparedPair {
        of,
        found: Err(unread(one).or_else(|| unread(other)).unwrap_or(Apart::NothingShared(0))),
        trials: [Vec::new(), Vec::new()],
    };
    if one.tube.medium != other.tube.medium {
        best.found = Err(Apart::Medium(one.tube.medium, other.tube.medium));
        return best;
    }
    let mut nothing_yet = true;
    for first in gathered {
        let Some(subject) = first.subject(one.id) else { continue };
        for second in gathered {
            let Some(beside) = second.subject(other.id) else { continue };
            let found = if std::ptr::eq(first, second) && !first.reads_both([one.id, other.id]) {
                on_two_days(first, [one.id, other.id])
            } else {
                compare(&subject, &beside)
            };
            if nothing_yet || is_better(&found, &best.found) {
                let trials = [trials_of(first, one), trials_of(second, other)];
                best = ComparedPair { of, found, trials };
                nothing_yet = false;
            }
        }
    }
    best
}

/// Tubes that no trial read together: what differs between the trials is told by what both read.
fn on_two_days(gathered: &Gathered, [one, other]: [TubeId; 2]) -> Result<Twins, Apart> {
    let days = [one, other].map(|tube| gathered.holding(tube));
    let [Some(first), Some(second)] = days else { return Err(Apart::NothingShared(0)) };
    match (first.subject(one), second.subject(other)) {
        (Some(one), Some(other)) => compare(&one, &other),
        _ => Err(Apart::NothingShared(0)),
    }
}

fn is_better(found: &Result<Twins, Apart>, best: &Result<Twins, Apart>) -> bool {
    match (found, best) {
        (Ok(found), Ok(best)) => found.distance.half_width < best.distance.half_width,
        (Ok(_), Err(_)) => true,
        (Err(_), _) => false,
    }
}

fn trials_of(gathered: &Gathered, tube: &ShelfTube) -> Vec<(TrialId, String)> {
    let holds = gathered.trials.iter().filter(|analysed| counted(analysed, tube.id) > 0);
    holds.map(|analysed| (analysed.trial.id, analysed.trial.name.clone())).collect()
}
