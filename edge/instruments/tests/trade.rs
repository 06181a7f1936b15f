//! Simulated paints behave as practitioners say paints do, under every seed's own errors left out.

use crate::facts::{On, Paints, broken};
use colour::{Conditions, Lab};
use instruments::simulated::{HiddenPaint, MixingTable, SimulatedMeter, TableErrors};
use instruments::{DeviceError, Meter as _, Specimen};
use mixing::typical::TypicalPaint;
use study::{Backing, FilmKind, State, TubeLabel};

fn label(code: &str) -> TubeLabel {
    TubeLabel { name: code.into(), maker: String::new(), code: code.into() }
}

fn specimen(paints: Vec<(TubeLabel, f64)>, backing: Backing, state: State) -> Specimen {
    let film = FilmKind::Full;
    Specimen { swatch: 1, pile: 0, occasion: 0, paints, by_eye: false, backing, film, state }
}

fn meter() -> SimulatedMeter {
    SimulatedMeter::new(1, MixingTable { errors: TableErrors::NONE }).without_noise()
}

/// What every maker's tube of a name has in common: full load, and no hue of its own.
struct Simulated;

impl Paints for Simulated {
    fn look(&self, parts: &[(&str, f64)], white: f64, on: On) -> Lab {
        let total: f64 = parts.iter().map(|(_, parts)| parts).sum();
        let of_white = (white > 0.0).then(|| (label("PW6"), white * total));
        let paints: Vec<(TubeLabel, f64)> =
            parts.iter().map(|(name, parts)| (label(name), *parts)).chain(of_white).collect();
        let mut meter = meter();
        for (label, _) in &paints {
            let usual = HiddenPaint::of(label).expect("a curve").usual();
            meter = meter.knowing(label.clone(), usual);
        }
        let backing = match on {
            On::Paper => Backing::Paper,
            On::White => Backing::White,
            On::Black => Backing::Black,
        };
        let read = meter.read(&specimen(paints, backing, State::Dry)).expect("a reading");
        Lab::from_reflectance(&read, Conditions::D65_10)
    }
}

#[test]
fn simulated_paints_do_what_practitioners_say() {
    let broken = broken(&Simulated);
    assert!(broken.is_empty(), "{broken:#?}");
}

/// Acrylics dry darker; PB15:3 hardly lifts and PB29 does; a name without a curve is refused in words, and
/// a tube without a name is not.
#[test]
fn drying_lifting_and_unknown_pigments() {
    let read = |code: &str, state| {
        let read = meter().read(&specimen(vec![(label(code), 1.0)], Backing::Paper, state));
        read.map(|read| Lab::from_reflectance(&read, Conditions::D65_10))
    };
    for paint in TypicalPaint::ALL.iter().filter(|paint| !paint.name.starts_with("PW")) {
        let [wet, dry] = [State::Wet, State::Dry].map(|it| read(paint.name, it).expect("read"));
        assert!(dry.l < wet.l + 0.3, "{}: wet {:.1}, dry {:.1}", paint.name, wet.l, dry.l);
    }
    let left = |code| {
        let [dry, lifted] = [State::Dry, State::Lifted].map(|it| read(code, it).expect("read"));
        let paper = meter().read(&specimen(Vec::new(), Backing::Paper, State::Dry)).expect("paper");
        let paper = Lab::from_reflectance(&paper, Conditions::D65_10);
        let from_paper = |lab| colour::ciede2000(lab, paper).value();
        100.0 * from_paper(lifted) / from_paper(dry)
    };
    assert!(left("PB15:3") > 80.0 && left("PB29") < 40.0, "{} {}", left("PB15:3"), left("PB29"));
    let refused = read("PY999", State::Dry).expect_err("no curve");
    let DeviceError::Refused(why) = refused else { unreachable!("{refused}") };
    assert!(why.starts_with("no simulated paint is known for PY999"), "{why}");
    assert!(read("", State::Dry).is_ok());
}
