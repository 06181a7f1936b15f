//! The simulated workshop behaves as paint does, and always the same way.

use colour::{Conditions, Lab, Reflectance, ciede2000};
use instruments::simulated::{HiddenPaint, MixingTable, SimulatedMeter, TableErrors};
use instruments::{Meter, Specimen};
use study::{Backing, FilmKind, State, TubeLabel};

fn label(name: &str, code: &str) -> TubeLabel {
    TubeLabel { name: name.into(), maker: "Tidewell".into(), code: code.into() }
}

fn neat(code: &str) -> Specimen {
    Specimen {
        swatch: 1,
        pile: 0,
        occasion: 0,
        paints: vec![(label("Paint", code), 1.0)],
        backing: Backing::Paper,
        film: FilmKind::Full,
        state: State::Dry,
        by_eye: false,
    }
}

fn read(specimen: &Specimen) -> Reflectance {
    SimulatedMeter::new(7, MixingTable::default()).read(specimen).expect("answers")
}

fn lab(specimen: &Specimen) -> Lab {
    Lab::from_reflectance(&read(specimen), Conditions::D65_10)
}

#[test]
fn one_seed_gives_the_same_readings_and_another_pile_gives_others() {
    let mixed = Specimen {
        paints: vec![(label("Blue", "PB29"), 1.0), (label("White", "PW6"), 8.0)],
        ..neat("PB29")
    };
    assert_eq!(read(&mixed), read(&mixed));
    let again = Specimen { occasion: 1, ..mixed.clone() };
    let noise = ciede2000(lab(&mixed), lab(&again));
    // A kitchen scale shows what weighing anew does.
    let errors = TableErrors { scale_g: 0.1, ..TableErrors::default() };
    let piles = [0, 1].map(|pile| {
        let specimen = Specimen { pile, ..mixed.clone() };
        let reading =
            SimulatedMeter::new(7, MixingTable { errors }).read(&specimen).expect("answers");
        Lab::from_reflectance(&reading, Conditions::D65_10)
    });
    let pile = ciede2000(piles[0], piles[1]);
    assert!(noise.value() > 0.0 && noise.value() < 0.2, "{noise}");
    assert!(pile.value() > 5.0 * noise.value(), "weighed anew: {pile} against {noise}");
    let other_seed = SimulatedMeter::new(8, MixingTable::default()).read(&mixed).expect("answers");
    assert_ne!(other_seed, read(&mixed));
}

#[test]
fn every_reading_is_a_possible_one_to_five_decimals() {
    for code in ["PW6", "PY74", "PR254", "PB15:3", "PBk9", "PV23", "PG7", ""] {
        for backing in Backing::ALL {
            let specimen = Specimen { backing: *backing, ..neat(code) };
            for r in read(&specimen).bands() {
                assert!((0.0..=1.0).contains(r), "{code} over {backing}: {r}");
                assert!((r * 1e5 - (r * 1e5).round()).abs() < 1e-6);
            }
        }
    }
}

/// Signs that a painter knows (common practice, no source).
#[test]
fn it_behaves_as_paint_does() {
    let of = |code: &str| lab(&neat(code));
    assert!(of("PW6").l > 93.0 && of("PBk9").l < 30.0);
    // Yellow lies near 90°, orange before it, red near 30°, ultramarine near 290°.
    let hues = [
        ("PY74", 80.0..100.0),
        ("PO73", 30.0..60.0),
        ("PR254", 15.0..45.0),
        ("PB29", 275.0..305.0),
    ];
    for (code, range) in hues {
        let hue = of(code).hue().expect("a hue").degrees();
        assert!(range.contains(&hue), "{code}: {hue}");
    }
    // A cadmium yellow hides better than an arylide one.
    let over = |code: &str, backing| lab(&Specimen { backing, ..neat(code) });
    let hidden = |code: &str| over(code, Backing::Black).l / over(code, Backing::White).l;
    assert!(hidden("PY35") > hidden("PY74") + 0.02);
    // Acrylics dry darker or deeper than they are wet, and a thin film is lighter than a full one.
    let wet = lab(&Specimen { state: State::Wet, ..neat("PB29") });
    let thin = lab(&Specimen { film: FilmKind::Thin, ..neat("PB29") });
    assert!(ciede2000(wet, of("PB29")).value() > 0.5);
    assert!(thin.l > of("PB29").l + 2.0, "{} {}", thin.l, of("PB29").l);
}

#[test]
fn less_pigment_makes_a_paler_tint_and_a_known_paint_is_not_made_up() {
    let blue = label("Blue", "PB29");
    let tint = Specimen {
        paints: vec![(blue.clone(), 1.0), (label("White", "PW6"), 4.0)],
        ..neat("PB29")
    };
    let with_load = |load: f64| {
        let paint = HiddenPaint::of(&blue).expect("a curve").with_load(load);
        let mut meter = SimulatedMeter::new(7, MixingTable::default()).knowing(blue.clone(), paint);
        Lab::from_reflectance(&meter.read(&tint).expect("answers"), Conditions::D65_10).l
    };
    assert!(with_load(0.5) > with_load(1.0) + 3.0);
}
