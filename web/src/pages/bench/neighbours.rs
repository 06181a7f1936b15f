//! The row that a swatch stands in, as far as it was read or can be predicted.

use plan::prior::Prior;
use plan::{Cell, CellNumber, Row};
use workshop::{PlannedSwatch, Trial};

use super::readings::paint;
use crate::draw::{Neighbour, Paint};

/// Swatches on either side.
const BESIDE: usize = 2;

/// The swatch at hand between its neighbours on the same backing in its row; none where it stands alone, and
/// for a trial from a file.
pub(crate) fn row(trial: &Trial, at_hand: &PlannedSwatch, prior: &Prior) -> Vec<Neighbour> {
    let number = at_hand.swatch.number;
    let Some(mut row) = trial.planned().and_then(|plan| row_of(&plan.rows, number)) else {
        return Vec::new();
    };
    row.retain(|number| {
        let swatch = number.of(&trial.swatches).map(|planned| &planned.swatch);
        swatch.is_some_and(|swatch| swatch.backing == at_hand.swatch.backing)
    });
    if row.len() < 2 {
        return Vec::new();
    }
    let place = row.iter().position(|it| *it == number).unwrap_or_default();
    let from = place.saturating_sub(BESIDE);
    let near = row.iter().skip(from).take(place - from + BESIDE + 1);
    near.filter_map(|number| {
        let planned = number.of(&trial.swatches)?;
        Some(neighbour(trial, planned, prior, at_hand))
    })
    .collect()
}

/// The numbers of the row in which a swatch stands first.
fn row_of(rows: &[Row], number: CellNumber) -> Option<Vec<CellNumber>> {
    let row = rows.iter().find(|row| row.cells.contains(&Cell::First(number)))?;
    let numbers = row.cells.iter().filter_map(|cell| match cell {
        Cell::First(number) | Cell::Again(number) => Some(*number),
        Cell::Dot(_) | Cell::Gap => None,
    });
    Some(numbers.collect())
}

fn neighbour(
    trial: &Trial,
    planned: &PlannedSwatch,
    prior: &Prior,
    at_hand: &PlannedSwatch,
) -> Neighbour {
    let read = trial
        .readings
        .iter()
        .rfind(|stored| stored.swatch == planned.id && stored.reading.void.is_none())
        .and_then(|stored| paint(stored, trial));
    let predicted = || {
        let lab = prior.colour(&planned.swatch.mixture)?;
        Some(Paint::predicted(lab, prior.conditions))
    };
    let colours = |it: &PlannedSwatch| it.swatch.mixture.colours(trial.white()).count();
    let ratio = trial.naming().swatch(&planned.swatch).ratio;
    let label = if colours(planned) < colours(at_hand) {
        "alone".to_owned()
    } else {
        ratio.split(" with ").next().unwrap_or_default().replace("white ", "")
    };
    let here = planned.id == at_hand.id;
    Neighbour { read: read.is_some(), paint: read.or_else(predicted), label, here }
}
