//! What a trial reads of each tube by itself.

use colour::Conditions;
use mixing::Sheen;
use study::{
    Backing, FilmKind, Measured, Mixture, Protocol, RatioError, Reading, ReadingSource, State,
    Study, TubeLabel, TubeRef,
};

use super::SimulatedMeter;
use crate::{DeviceError, Meter, Specimen};

/// Parts of white to one part of each tube.
const TINTS: [f64; 5] = [1.0, 2.0, 4.0, 8.0, 16.0];

/// Each tube's films over paper, white and black, and its tints in the last tube, which is the
/// white; each read once.
///
/// # Errors
/// When the meter does not answer.
pub fn tubes_alone(meter: &mut SimulatedMeter, tubes: &[TubeLabel]) -> Result<Study, DeviceError> {
    let white = TubeRef(tubes.len().saturating_sub(1));
    let mut swatches = Vec::new();
    for backing in [Backing::Paper, Backing::White, Backing::Black] {
        swatches.push((Mixture::bare(), backing));
        swatches.extend((0..tubes.len()).map(|tube| (Mixture::neat(TubeRef(tube)), backing)));
    }
    for tube in (0..white.0).map(TubeRef) {
        let tint = |parts| (Mixture::of(&[(tube, 1.0), (white, parts)]), Backing::Paper);
        swatches.extend(TINTS.map(tint));
    }
    let mut readings = Vec::with_capacity(swatches.len());
    for (swatch, (mixture, backing)) in (0..).zip(swatches) {
        let paints = mixture.parts().iter().map(|part| (tubes[part.tube.0].clone(), part.parts));
        let specimen = Specimen {
            swatch,
            pile: 0,
            occasion: 0,
            paints: paints.collect(),
            backing,
            film: FilmKind::Full,
            state: State::Dry,
            by_eye: false,
        };
        readings.push(Reading {
            ratio_error: RatioError::AsStated,
            measured: Measured::Spectrum(meter.read(&specimen)?),
            source: ReadingSource::Meter,
            from_picture: None,
            simulated: true,
            mixture,
            state: State::Dry,
            backing,
            film: FilmKind::Full,
            repeat: 1,
            void: None,
            line: None,
        });
    }
    let protocol =
        Protocol { geometry: meter.geometry(), sheen: Sheen::Gloss, ..Protocol::default() };
    Ok(Study {
        conditions: Conditions::D65_10,
        protocol,
        tubes: tubes.to_vec(),
        white: Some(white),
        readings,
    })
}
