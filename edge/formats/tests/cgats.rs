//! CGATS.17 as a general-purpose colour management tool reads it.

use std::io::Write as _;
use std::process::Command;

use colour::{Conditions, Lab, Reflectance, StatedLab};
use formats::cgats::{CgatsError, write};
use study::{
    Backing, Calibration, FilmKind, FromPicture, Measured, Mixture, Protocol, RatioError, Reading,
    ReadingSource, State, Study, TubeLabel, TubeRef,
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
    let text = write(&study).expect("two readings");
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
    assert_eq!(write(&study), Err(CgatsError::NoReadings));
}

/// The rows of a table by the names of its fields.
fn rows(table: &str) -> Vec<Vec<(String, String)>> {
    let between = |from: &str, to: &str| {
        let begin = table.find(&format!("{from}\n")).expect(from) + from.len() + 1;
        table[begin..][..table[begin..].find(to).expect(to)].trim().to_owned()
    };
    let fields: Vec<String> =
        between("BEGIN_DATA_FORMAT", "END_DATA_FORMAT").split('\t').map(str::to_owned).collect();
    let data = between("BEGIN_DATA", "END_DATA\n");
    let row = |line: &str| {
        let cells = line.split('\t').map(|cell| cell.trim_matches('"').to_owned());
        fields.iter().cloned().zip(cells).collect()
    };
    data.lines().map(row).collect()
}

/// What was estimated, guessed or made up is never taken for a measurement, and one colour without a spectrum drops no
/// spectrum.
#[test]
fn every_row_says_what_it_rests_on() {
    let mut study = study(&[Reflectance::flat(0.4), Reflectance::flat(0.5)]);
    study.white = Some(TubeRef(1));
    study.tubes.push(TubeLabel { name: "White".into(), ..TubeLabel::default() });
    let lab = StatedLab { lab: Lab::new(50.0, 20.0, -30.0), conditions: Conditions::D65_10 };
    let mixture = Mixture::of(&[(TubeRef(0), 1.0), (TubeRef(1), 4.0)]);
    let picture = FromPicture {
        picture: "0123".into(),
        uncertainty: 9.0,
        calibration: Calibration::Uncalibrated,
    };
    let of_picture = Reading {
        mixture,
        measured: Measured::Lab(lab),
        source: ReadingSource::Photo,
        ratio_error: RatioError::ByEye,
        from_picture: Some(picture),
        ..study.readings[0].clone()
    };
    let typed = Reading {
        source: ReadingSource::Typed,
        from_picture: None,
        ratio_error: RatioError::Estimated(0.12),
        ..of_picture.clone()
    };
    study.readings[1].simulated = true;
    study.readings.extend([of_picture, typed]);
    let text = write(&study).expect("readings");
    let (spectra, colours) = text.split_once("END_DATA\n\n").expect("two tables");
    let end = "END_DATA\n";
    let (spectra, colours) = (rows(&format!("{spectra}{end}")), rows(colours));
    assert_eq!((spectra.len(), colours.len()), (2, 2));
    assert!(
        spectra[0].iter().any(|(field, value)| field == "SPECTRAL_NM560" && value == "0.400000")
    );
    let says = |row: &[(String, String)]| {
        ["SOURCE", "GEOMETRY", "UNCERTAINTY_95_DE00", "CALIBRATION", "RATIO", "SIMULATED"]
            .map(|field| row.iter().find(|(name, _)| name == field).expect("a field").1.clone())
    };
    let meter = ["meter", "45:0", "not stated", "none", "not mixed"].map(str::to_owned);
    assert_eq!(says(&spectra[0])[..5], meter);
    assert_eq!((&*says(&spectra[0])[5], &*says(&spectra[1])[5]), ("no", "yes"));
    assert_eq!(says(&colours[0]), ["photo", "unknown", "9.00", "uncalibrated", "by eye", "no"]);
    let estimated = "by eye and estimated from its colour, ln 0.120";
    assert_eq!(says(&colours[1]), ["typed", "unknown", "not stated", "none", estimated, "no"]);
    // The geometry of the trial's meter is said of no other reading.
    assert!(!text.contains("MEASUREMENT_GEOMETRY"));
}
