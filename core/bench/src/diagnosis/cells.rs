//! Which cell of a run a reading of a file belongs to.

use std::collections::HashMap;

use plan::{CellNumber, Naming, Swatch};
use study::{Backing, FilmKind, Mixture, Part, Reading, Study, TubeLabel, TubeRef};

/// Shares of each tube count as the same within this, 3 %: a ratio is written with a few digits.
const SAME_SHARE: f64 = 0.03;

/// A reading that belongs to no cell.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct NoCell {
    /// Its line in the file, from 1.
    pub line: Option<usize>,
    /// What is wrong, and what to do.
    pub message: String,
}

/// The number of the cell of each reading of `file`, in their order. `tubes` are the trial's own,
/// by [`TubeRef`]; `holds` tells what a cell really holds.
///
/// # Errors
/// For the first reading of a tube that the trial does not have, or of a mixture that no cell holds.
pub fn cells<'a>(
    file: &Study,
    tubes: &[TubeLabel],
    swatches: &'a [Swatch],
    holds: impl Fn(CellNumber) -> Option<&'a Mixture>,
) -> Result<Vec<CellNumber>, NoCell> {
    let places: Vec<Option<TubeRef>> = file.tubes.iter().map(|label| place(label, tubes)).collect();
    let mut by_tubes: HashMap<Key, Vec<(CellNumber, &Mixture)>> = HashMap::new();
    for swatch in swatches {
        let held = holds(swatch.number).unwrap_or(&swatch.mixture);
        let alike = by_tubes.entry(key(held, swatch.backing, swatch.film)).or_default();
        alike.push((swatch.number, held));
    }
    file.readings
        .iter()
        .map(|reading| {
            let wrong = |message: String| NoCell { line: reading.line, message };
            let mut parts = Vec::new();
            for part in reading.mixture.parts() {
                let found = places.get(part.tube.0).copied().flatten();
                let tube = found.ok_or_else(|| {
                    let label = file.label(part.tube);
                    wrong(format!(
                        "the trial has no tube “{} {}”; only what it mixes can be read into it",
                        label.maker, label.name
                    ))
                })?;
                parts.push(Part { tube, parts: part.parts });
            }
            let mixture = Mixture::new(parts);
            let alike = by_tubes.get(&key(&mixture, reading.backing, reading.film));
            let nearest = alike
                .into_iter()
                .flatten()
                .filter_map(|(number, held)| Some((ln_distance(&mixture, held)?, *number)))
                .min_by(|one, other| one.0.total_cmp(&other.0));
            nearest.map(|(_, number)| number).ok_or_else(|| wrong(no_cell(file, reading)))
        })
        .collect()
}

fn no_cell(file: &Study, reading: &Reading) -> String {
    let naming = Naming { tubes: file.tubes.clone(), white: file.white, ..Naming::default() };
    let label = naming.mixture(&reading.mixture, reading.backing, reading.film);
    format!(
        "no cell of this trial holds {} {}; import the file as a trial of its own",
        label.tubes, label.ratio
    )
}

/// The trial's tube of this name, by this maker where one is given.
fn place(label: &TubeLabel, tubes: &[TubeLabel]) -> Option<TubeRef> {
    let same = |one: &str, other: &str| one.trim().to_lowercase() == other.trim().to_lowercase();
    let named = tubes.iter().position(|tube| {
        let by_maker = label.maker.is_empty() || same(&label.maker, &tube.maker);
        by_maker && same(&label.name, &tube.name)
    });
    named.map(TubeRef)
}

/// What cells of the same tubes on the same ground have in common.
type Key = (Vec<TubeRef>, Backing, FilmKind);

fn key(mixture: &Mixture, backing: Backing, film: FilmKind) -> Key {
    (mixture.parts().iter().map(|part| part.tube).collect(), backing, film)
}

/// How far the shares of two mixtures of the same tubes lie apart at most, in ln; `None` beyond
/// [`SAME_SHARE`].
fn ln_distance(one: &Mixture, other: &Mixture) -> Option<f64> {
    let share = |mixture: &Mixture, part: &Part| part.parts / mixture.total();
    let off = one
        .parts()
        .iter()
        .zip(other.parts())
        .map(|(part, same)| (share(one, part) / share(other, same)).ln().abs());
    let most = off.fold(0.0, f64::max);
    (most <= SAME_SHARE).then_some(most)
}
