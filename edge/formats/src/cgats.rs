//! CGATS.17 (ISO 28178): readings for general colour tools.

use std::fmt::Write as _;

use colour::{BANDS, Conditions, wavelength};
use plan::Naming;
use study::{Measured, Reading, Study};
use thiserror::Error;

use crate::cells::guarded;

/// Why readings cannot be written.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum CgatsError {
    /// There is nothing to write.
    #[error("there is no valid reading to export; take one first")]
    NoReadings,
    /// CIELAB of another observer.
    #[error(transparent)]
    Observer(#[from] colour::ConversionError),
}

/// Writes every valid reading: `LAB_*` under `conditions`, and, where every reading is a spectrum,
/// `SPECTRAL_NM380` to `SPECTRAL_NM730` as fractions of 1.
///
/// Some tools take printed `LAB_*` as D50/2° whatever the header says, so [`Conditions::D50_2`] is
/// what to offer first; [`usual_conditions`] tells when it can be had.
///
/// # Errors
/// When there is no valid reading, or a CIELAB reading is for another observer.
pub fn write(study: &Study, conditions: Conditions) -> Result<String, CgatsError> {
    let readings: Vec<&Reading> =
        study.readings.iter().filter(|reading| reading.void.is_none()).collect();
    if readings.is_empty() {
        return Err(CgatsError::NoReadings);
    }
    let spectral = all_spectral(&readings);
    let naming = Naming { tubes: study.tubes.clone(), white: study.white, ..Naming::default() };
    let mut text = header(study, conditions);
    let mut fields = vec!["SAMPLE_ID".to_owned(), "SAMPLE_NAME".to_owned()];
    fields.extend(["LAB_L", "LAB_A", "LAB_B"].map(str::to_owned));
    if spectral {
        fields.extend((0..BANDS).map(|band| format!("SPECTRAL_NM{}", wavelength(band))));
    }
    // Writing to a string cannot fail.
    let _ = writeln!(text, "NUMBER_OF_FIELDS {}", fields.len());
    let _ = writeln!(text, "BEGIN_DATA_FORMAT\n{}\nEND_DATA_FORMAT", fields.join("\t"));
    let _ = writeln!(text, "NUMBER_OF_SETS {}\nBEGIN_DATA", readings.len());
    for (at, reading) in readings.iter().enumerate() {
        let lab = reading.measured.lab(conditions)?;
        let _ = write!(text, "{}\t\"{}\"", at + 1, sample_name(&naming, reading));
        let _ = write!(text, "\t{:.4}\t{:.4}\t{:.4}", lab.l, lab.a, lab.b);
        if let (true, Measured::Spectrum(reflectance)) = (spectral, &reading.measured) {
            reflectance.bands().iter().for_each(|value| {
                let _ = write!(text, "\t{value:.6}");
            });
        }
        text.push('\n');
    }
    text.push_str("END_DATA\n");
    Ok(text)
}

/// D50/2° where every valid reading is a spectrum, else the study's own conditions.
#[must_use]
pub fn usual_conditions(study: &Study) -> Conditions {
    let readings: Vec<&Reading> =
        study.readings.iter().filter(|reading| reading.void.is_none()).collect();
    if all_spectral(&readings) { Conditions::D50_2 } else { study.conditions }
}

fn all_spectral(readings: &[&Reading]) -> bool {
    readings.iter().all(|reading| matches!(reading.measured, Measured::Spectrum(_)))
}

fn header(study: &Study, conditions: Conditions) -> String {
    let Conditions { illuminant, observer } = conditions;
    format!(
        "CGATS.17\n\nORIGINATOR \"Upright Swatch\"\nDESCRIPTOR \"Readings of artists' colours\"\n\
         MEASUREMENT_GEOMETRY \"{}\"\nWEIGHTING_FUNCTION \"ILLUMINANT, {illuminant}\"\n\
         WEIGHTING_FUNCTION \"OBSERVER, {observer} degree\"\n\
         # LAB_* is for {illuminant}/{observer} degree; SPECTRAL_* are fractions of 1.\n",
        study.protocol.geometry
    )
}

/// Quotes would end the text, so they become apostrophes.
fn sample_name(naming: &Naming, reading: &Reading) -> String {
    let label = naming.mixture(&reading.mixture, reading.backing, reading.film);
    let simulated = if reading.simulated { "simulated" } else { "" };
    let words = [
        label.tubes,
        label.ratio,
        reading.state.to_string(),
        reading.repeat.to_string(),
        simulated.to_owned(),
    ];
    let words: Vec<String> = words.into_iter().filter(|word| !word.is_empty()).collect();
    guarded(&words.join(", ")).replace('"', "'")
}
