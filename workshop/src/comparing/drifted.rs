//! A tube that was read in more than one trial, or again after a month: what became of its colours.

use std::ops::RangeInclusive;
use std::sync::Arc;

use bench::Time;
use compare::{Apart, Drifted, drift};
use store::{ShelfTube, TrialId};

use super::gathered::{Gathered, counted};
use crate::analysed::AnalysedTrial;

/// A tube in its oldest and in its newest trial.
#[derive(Debug)]
pub struct TubeDrift {
    /// Its place among the chosen tubes.
    pub tube: usize,
    /// The older trial and the newer one.
    pub trials: [(TrialId, String); 2],
    /// Every square that was read in both, or why they cannot be compared.
    pub found: Result<Vec<Drifted>, Apart>,
}

/// Readings of one trial that lie further apart are two occasions: the same sheet, read again.
const OCCASION_MINUTES: f64 = 30.0 * 24.0 * 60.0;

/// Every chosen tube that was read on two occasions or more; `telling` are the trials, the newest first.
pub(super) fn all(tubes: &[ShelfTube], telling: &[Arc<AnalysedTrial>]) -> Vec<TubeDrift> {
    let of = |(at, tube): (usize, &ShelfTube)| {
        let mut read = telling.iter().filter(|analysed| counted(analysed, tube.id) > 0);
        let newest = read.next()?;
        let oldest = read.next_back();
        let (before, later) = match oldest {
            Some(oldest) => (first_occasion(&taken(oldest))?, last_occasion(&taken(newest))?),
            // One trial: where all was read within a month there is nothing to tell.
            None => {
                let taken = taken(newest);
                let (before, later) = (first_occasion(&taken)?, last_occasion(&taken)?);
                (before.end() < later.start()).then_some((before, later))?
            }
        };
        let oldest = oldest.unwrap_or(newest);
        let [before, later] = [Gathered::within(oldest, before), Gathered::within(newest, later)];
        // The same sheet, read again, holds the same paint.
        let anew = oldest.trial.id != newest.trial.id;
        let found = drift(&before.subject(tube.id)?, &later.subject(tube.id)?, anew);
        let name = |it: &AnalysedTrial| (it.trial.id, it.trial.name.clone());
        Some(TubeDrift {
            tube: at,
            trials: [name(oldest), name(newest)],
            found: found.map(|(squares, _)| squares),
        })
    };
    let drifts = tubes.iter().enumerate().filter_map(of);
    // Two occasions on which never the same was read tell nothing, and need no line.
    drifts.filter(|it| it.found != Err(Apart::NothingShared(0))).collect()
}

fn taken(analysed: &AnalysedTrial) -> Vec<Time> {
    let mut taken: Vec<Time> = analysed.trial.readings.iter().map(|it| it.taken).collect();
    taken.sort_unstable();
    taken
}

/// From the first reading on, as long as no gap is longer than an occasion.
fn first_occasion(taken: &[Time]) -> Option<RangeInclusive<Time>> {
    let gap = taken.windows(2).position(|pair| pair[1].minutes_since(pair[0]) > OCCASION_MINUTES);
    Some(*taken.first()?..=gap.map_or(*taken.last()?, |at| taken[at]))
}

/// Back from the last reading in the same way.
fn last_occasion(taken: &[Time]) -> Option<RangeInclusive<Time>> {
    let gap = taken.windows(2).rposition(|pair| pair[1].minutes_since(pair[0]) > OCCASION_MINUTES);
    Some(gap.map_or(*taken.first()?, |at| taken[at + 1])..=*taken.last()?)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_sheet_that_is_read_again_after_months_has_two_occasions() {
        let day = |at: i64| Time(86_400 * at);
        for (days, first, last) in [
            (vec![0, 1, 2, 25], (0, 25), (0, 25)),
            (vec![0, 1, 100, 101], (0, 1), (100, 101)),
            (vec![0, 60, 61, 200], (0, 0), (200, 200)),
            (vec![7], (7, 7), (7, 7)),
        ] {
            let taken: Vec<Time> = days.iter().map(|at| day(*at)).collect();
            assert_eq!(first_occasion(&taken), Some(day(first.0)..=day(first.1)), "{days:?}");
            assert_eq!(last_occasion(&taken), Some(day(last.0)..=day(last.1)), "{days:?}");
        }
        assert_eq!(first_occasion(&[]), None);
    }
}
