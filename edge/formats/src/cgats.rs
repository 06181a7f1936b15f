//! CGATS.17 (ISO 28178): readings for general colour tools.

use std::fmt::Write as _;

use colour::{BANDS, Conditions, wavelength};
use plan::Naming;
use study::{Basis, Measured, RatioError, Reading, ReadingSource, Study};
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

/// Fields of our own, beside the colours: what a reading rests on stands with it, wherever the file goes.
const OWN_FIELDS: [&str; 6] =
    ["SOURCE", "GEOMETRY", "UNCERTAINTY_95_DE00", "CALIBRATION", "RATIO", "SIMULATED"];

/// Writes every valid reading: those that are spectra in a table with `LAB_*` for D50/2° and `SPECTRAL_NM380` to
/// `SPECTRAL_NM730` as fractions of 1, and the others in a second table with `LAB_*` for the study's own conditions.
/// Fields of our own tell each reading's source, its geometry where an instrument gave one, the half-width of its 95 %
/// interval (ΔE00) and its calibration where it comes from a picture, where its ratio comes from, and whether a simulated
/// device made it up.
///
/// Some tools take printed `LAB_*` as D50/2° whatever the header says, so spectra are written for that.
///
/// # Errors
/// When there is no valid reading, or a CIELAB reading is for another observer.
pub fn write(study: &Study) -> Result<String, CgatsError> {
    let valid = study.readings.iter().filter(|reading| reading.void.is_none());
    let (spectra, colours): (Vec<&Reading>, Vec<&Reading>) =
        valid.partition(|reading| matches!(reading.measured, Measured::Spectrum(_)));
    if spectra.is_empty() && colours.is_empty() {
        return Err(CgatsError::NoReadings);
    }
    let mut text = "CGATS.17\n\n".to_owned();
    let tables = [(spectra, Conditions::D50_2, true), (colours, study.conditions, false)];
    for (readings, conditions, spectral) in tables {
        if !readings.is_empty() {
            table(&mut text, study, &readings, (conditions, spectral))?;
        }
    }
    Ok(text)
}

fn table(
    text: &mut String,
    study: &Study,
    readings: &[&Reading],
    (conditions, spectral): (Conditions, bool),
) -> Result<(), CgatsError> {
    let naming = Naming { tubes: study.tubes.clone(), white: study.white, ..Naming::default() };
    text.push_str(&header(conditions, spectral));
    let mut fields = vec!["SAMPLE_ID".to_owned(), "SAMPLE_NAME".to_owned()];
    fields.extend(OWN_FIELDS.map(str::to_owned));
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
        for word in rests_on(study, reading) {
            let _ = write!(text, "\t\"{word}\"");
        }
        let _ = write!(text, "\t{:.4}\t{:.4}\t{:.4}", lab.l, lab.a, lab.b);
        if let (true, Measured::Spectrum(reflectance)) = (spectral, &reading.measured) {
            reflectance.bands().iter().for_each(|value| {
                let _ = write!(text, "\t{value:.6}");
            });
        }
        text.push('\n');
    }
    text.push_str("END_DATA\n\n");
    Ok(())
}

/// What a reading rests on, in the order of [`OWN_FIELDS`].
fn rests_on(study: &Study, reading: &Reading) -> [String; 6] {
    // A typed colour may come from anywhere, and a picture has no geometry.
    let by_meter =
        reading.source == ReadingSource::Meter || matches!(reading.measured, Measured::Spectrum(_));
    let geometry = if by_meter { study.protocol.geometry.to_string() } else { "unknown".into() };
    let from = reading.from_picture.as_ref();
    [
        reading.source.to_string(),
        geometry,
        from.map_or_else(|| "not stated".into(), |from| format!("{:.2}", from.uncertainty)),
        from.map_or_else(|| "none".into(), |from| from.calibration.to_string()),
        ratio_from(study, reading),
        if reading.simulated { "yes" } else { "no" }.into(),
    ]
}

/// Where the ratio comes from, with the standard deviation of its logarithm where that is known.
fn ratio_from(study: &Study, reading: &Reading) -> String {
    if reading.mixture.parts().len() < 2 {
        return "not mixed".into();
    }
    match (reading.ratio_error, study.protocol.basis) {
        (RatioError::Estimated(sigma), _) => {
            format!("by eye and estimated from its colour, ln {sigma:.3}")
        }
        (RatioError::Known(sigma), _) => format!("as put out, ln {sigma:.3}"),
        (RatioError::ByEye, _) | (RatioError::AsStated, Basis::Eye) => "by eye".into(),
        (RatioError::AsStated, Basis::Weight) => "by weight".into(),
        (RatioError::AsStated, Basis::Volume) => "by volume".into(),
    }
}

fn header(Conditions { illuminant, observer }: Conditions, spectral: bool) -> String {
    let what = if spectral { "spectra" } else { "colours without a spectrum" };
    let scale = if spectral { " SPECTRAL_* are fractions of 1." } else { "" };
    let own = OWN_FIELDS.map(|field| format!("KEYWORD \"{field}\"\n")).concat();
    format!(
        "ORIGINATOR \"Upright Swatch\"\nDESCRIPTOR \"Readings of artists' colours: {what}\"\n\
         WEIGHTING_FUNCTION \"ILLUMINANT, {illuminant}\"\n\
         WEIGHTING_FUNCTION \"OBSERVER, {observer} degree\"\n{own}\
         # LAB_* is for {illuminant}/{observer} degree.{scale}\n\
         # Each row says what it rests on: a colour from an uncalibrated picture is no measurement.\n"
    )
}

/// Quotes would end the text, so they become apostrophes.
fn sample_name(naming: &Naming, reading: &Reading) -> String {
    let label = naming.mixture(&reading.mixture, reading.backing, reading.film);
    let words = [label.tubes, label.ratio, reading.state.to_string(), reading.repeat.to_string()];
    let words: Vec<String> = words.into_iter().filter(|word| !word.is_empty()).collect();
    guarded(&words.join(", ")).replace('"', "'")
}
