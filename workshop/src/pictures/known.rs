//! Which colours of a sheet are known, from every trial that read the same mixtures of the same tubes.

use std::collections::HashMap;
use std::sync::Arc;

use colour::Lab;
use formats::sheet::SheetFile;
use picture::Known;
use plan::CellNumber;
use store::TubeId;
use study::{Mixture, Part, RatioError, SwatchColour, TubeRef};

use crate::analysed::AnalysedTrial;
use crate::open_trial::OpenTrial;

/// One standard deviation per axis: read on this sheet, painted again, and from somebody else's file (found by
/// simulation, docs/science.md).
const ON_THIS_SHEET: f64 = 0.15;
const REPAINTED: f64 = 0.6;
const FROM_A_FILE: f64 = 1.5;

/// The known squares of a sheet.
#[derive(Debug, Default)]
pub(crate) struct KnownSquares {
    /// By number.
    pub colours: HashMap<u32, Known>,
    /// A simulated device read some of them.
    pub simulated: bool,
}

/// The squares of a sheet whose colour a trial tells, its own first; colours from pictures teach no picture, and a
/// mixture put together by eye, here or there, is not the same one again.
pub(crate) fn known_squares(
    sheet: &SheetFile,
    trial: &OpenTrial,
    telling: &[Arc<AnalysedTrial>],
) -> KnownSquares {
    let mut known = KnownSquares::default();
    let mut sources: Vec<(f64, &AnalysedTrial)> =
        telling.iter().map(|analysed| (sigma(analysed, trial), &**analysed)).collect();
    // Stable: of equals the newest.
    sources.sort_by(|one, other| one.0.total_cmp(&other.0));
    for (sigma, analysed) in sources {
        let places = places(trial, analysed);
        for cell in &sheet.cells {
            if known.colours.contains_key(&cell.number) {
                continue;
            }
            let number = CellNumber(cell.number);
            let told = colour_in(analysed, trial, number, &places);
            let Some((colour, lab)) = told.filter(|_| is_the_same(analysed, trial, number)) else {
                continue;
            };
            let spectrum = colour.reflectance;
            known.colours.insert(cell.number, Known { lab, sigma, spectrum });
            known.simulated |= analysed.averages().counted.1 > 0;
        }
    }
    known
}

fn sigma(analysed: &AnalysedTrial, trial: &OpenTrial) -> f64 {
    match (analysed.trial.id == trial.id, analysed.trial.plan.is_some()) {
        (true, _) => ON_THIS_SHEET,
        (false, true) => REPAINTED,
        (false, false) => FROM_A_FILE,
    }
}

/// One tube alone is the same wherever it was painted.
fn is_the_same(analysed: &AnalysedTrial, trial: &OpenTrial, number: CellNumber) -> bool {
    let Ok(square) = trial.swatch(number) else { return false };
    let run = trial.run();
    let (held, error) = match run {
        Some(run) => (run.mixture(number), run.ratio_error(number)),
        None => (None, RatioError::AsStated),
    };
    let held = held.unwrap_or(&square.swatch.mixture);
    let by_eye = trial.circumstances.protocol.is_by_eye(error)
        || analysed.study.protocol.is_by_eye(RatioError::AsStated);
    analysed.trial.id == trial.id || held.parts().len() == 1 || !by_eye
}

/// Where each tube of a trial stands in another one.
fn places(trial: &OpenTrial, other: &AnalysedTrial) -> Vec<Option<TubeRef>> {
    let at: HashMap<TubeId, usize> =
        other.trial.tubes.iter().enumerate().map(|(at, tube)| (tube.tube.id, at)).collect();
    trial.tubes.iter().map(|tube| at.get(&tube.tube.id).copied().map(TubeRef)).collect()
}

fn colour_in<'a>(
    analysed: &'a AnalysedTrial,
    trial: &OpenTrial,
    number: CellNumber,
    places: &[Option<TubeRef>],
) -> Option<(&'a SwatchColour, Lab)> {
    let swatch = &trial.swatch(number).ok()?.swatch;
    let held = trial.run().and_then(|run| run.mixture(number)).unwrap_or(&swatch.mixture);
    let part = |part: &Part| Some(Part { tube: (*places.get(part.tube.0)?)?, parts: part.parts });
    let parts: Vec<Part> = held.parts().iter().map(part).collect::<Option<_>>()?;
    let mixture = Mixture::new(parts);
    let found = analysed.averages().of_square(&mixture, swatch.backing, swatch.film)?;
    if found.in_pictures.is_some() {
        return None;
    }
    let conditions = trial.circumstances.conditions;
    let lab = match &found.reflectance {
        Some(reflectance) => Lab::from_reflectance(reflectance, conditions),
        None if analysed.study.conditions == conditions => found.lab,
        None => return None,
    };
    Some((found, lab))
}
