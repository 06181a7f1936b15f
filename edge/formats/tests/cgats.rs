//! CGATS.17 as a general-purpose colour management tool reads it.

use std::io::Write as _;
use std::process::Command;

use colour::{Conditions, Lab, Reflectance};
use formats::cgats::{CgatsError, usual_conditions, write};
use study::{
    Backing, FilmKind, Measured, Mixture, Protocol, RatioError, Reading, ReadingSource, State,
    Study, TubeLabel, TubeRef,
};

fn study(spectra: &[Reflectance]) -> Study {
    let reading = |spectrum: &Reflectance| Reading {
        ratio_error: RatioError::AsStated,
        mixture: Mixture::neat(TubeRef(0)),
        film: FilmKind::Full,
        backing: Backing::Paper,
        state: State::Dry,
        repeat: 1,
        measured: Measured::Spectrum(*spectrum),
        source: ReadingSource::Meter,
        from_picture: None,
        simulated: false,
        void: None,
        line: None,
    };
    Study {
        conditions: Conditions::D65_10,
        protocol: Protocol::default(),
        tubes: vec![TubeLabel { name: "A \"quoted\" name".into(), ..TubeLabel::default() }],
        white: None,
        readings: spectra.iter().map(reading).collect(),
    }
}

/// Little CMS's transicc (Debian: liblcms2-utils, installed by `make test`) reads the file and
/// turns its LAB_* into XYZ under D50, which must be what the core says.
#[test]
fn little_cms_reads_the_export() {
    let spectra = [
        Reflectance::flat(0.02),
        Reflectance::from_fn(|band| 0.05 + 0.02 * band as f64),
        Reflectance::from_fn(|band| 0.9 - 0.02 * band as f64),
    ];
    let mut study = study(&spectra);
    study.readings[0].void = Some("not to be exported".into());
    assert_eq!(usual_conditions(&study), Conditions::D50_2);
    let text = write(&study, Conditions::D50_2).expect("two readings");
    assert!(text.contains("SPECTRAL_NM380") && text.contains("SPECTRAL_NM730"));
    let mut file = tempfile::Builder::new().suffix(".txt").tempfile().expect("a file");
    file.write_all(text.as_bytes()).expect("write");
    let output = Command::new("transicc")
        .args(["-i", "*Lab", "-o", "*XYZ", "-t", "1"])
        .arg(file.path())
        .output()
        .expect("transicc is installed by make test");
    let answer = String::from_utf8_lossy(&output.stdout);
    assert!(output.status.success(), "{answer}{}", String::from_utf8_lossy(&output.stderr));
    // One line a sample: X=42.6716 Y=41.0832 Z=16.9318
    let numbers: Vec<f64> =
        answer.split_whitespace().filter_map(|word| word.split_once('=')?.1.parse().ok()).collect();
    assert_eq!(numbers.len(), 6, "{answer}");
    for (spectrum, found) in spectra[1..].iter().zip(numbers.chunks(3)) {
        let expected = Lab::from_reflectance(spectrum, Conditions::D50_2).to_xyz(Conditions::D50_2);
        for (found, expected) in found.iter().zip([expected.x, expected.y, expected.z]) {
            assert!((found - expected).abs() < 0.05, "{found} for {expected} in\n{answer}");
        }
    }
}

#[test]
fn nothing_valid_is_nothing_to_write() {
    let mut study = study(&[Reflectance::flat(0.5)]);
    study.readings[0].void = Some("void".into());
    assert_eq!(write(&study, Conditions::D50_2), Err(CgatsError::NoReadings));
}
