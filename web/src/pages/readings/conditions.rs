//! Whether a file's readings were taken as a trial's are: what cannot be compared is refused, with the
//! reason.

use std::fmt::Display;

use formats::readings::ReadingsFile;
use mixing::Geometry;
use study::{Measured, TubeLabel};
use workshop::Trial;

/// The geometry that the file states, where everything fits.
///
/// Spectra are seen under the trial's own light; a colour is adapted to its illuminant, and cannot be
/// turned to another observer.
pub(super) fn fit(trial: &Trial, file: &ReadingsFile) -> Result<Option<Geometry>, String> {
    let (own, read) = (&trial.circumstances.protocol, &file.study.protocol);
    if file.states("basis") {
        same("parts are by", &read.basis, &own.basis, "convert them first")?;
    }
    if file.states("sheen") && own.geometry != Geometry::SphereIncluded {
        let advice = "the gloss is taken off by the sheen, so the two do not compare";
        same("film is", &read.sheen, &own.sheen, advice)?;
    }
    let conditions = trial.circumstances.conditions;
    for reading in &file.study.readings {
        if let Measured::Lab(stated) = &reading.measured
            && let Err(error) = stated.under(conditions)
        {
            let line = reading.line.map_or_else(String::new, |line| format!("line {line}: "));
            return Err(format!("{line}{error}"));
        }
    }
    let name = |label: &TubeLabel| label.name.clone();
    let whites = (file.study.white.map(|at| name(&file.study.label(at))), trial.white());
    if let (Some(of_file), Some(at)) = whites {
        let of_trial = name(&trial.tubes[at.0].tube.tube.label());
        same("white is", &of_file, &of_trial, "tints in two whites do not compare")?;
    }
    Ok(file.states("geometry").then_some(read.geometry))
}

fn same<T: PartialEq + Display>(what: &str, file: &T, trial: &T, why: &str) -> Result<(), String> {
    if file == trial {
        return Ok(());
    }
    Err(format!("the file's {what} {file}, and this trial's {what} {trial}: {why}"))
}
