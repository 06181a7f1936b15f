//! A tube of which only the pigments are known: what the bench says of its first readings, against simulated
//! paints that differ from the typical ones in load, hue and shape.

use bench::diagnosis::far_from_typical;
use colour::{Conditions, Lab};
use instruments::simulated::{MixingTable, SimulatedMeter};
use instruments::{Meter as _, Specimen};
use mixing::typical::TypicalPaint;
use mixing::{Geometry, Sheen, Surface};
use plan::prior::{Known, Prior};
use study::{Backing, FilmKind, Mixture, State, TubeLabel, TubeRef};

const TUBE: TubeRef = TubeRef(0);
const WHITE: TubeRef = TubeRef(1);

fn read(meter: &mut SimulatedMeter, code: &str, maker: &str, white: f64, swatch: u64) -> Lab {
    let label =
        |code: &str| TubeLabel { name: code.into(), maker: maker.into(), code: code.into() };
    let of_white = (white > 0.0).then(|| (label("PW6"), white));
    let paints = [(label(code), 1.0)].into_iter().chain(of_white).collect();
    let (backing, film, state) = (Backing::Paper, FilmKind::Full, State::Dry);
    let pile = 0;
    let specimen =
        Specimen { swatch, pile, occasion: 0, paints, by_eye: false, backing, film, state };
    Lab::from_reflectance(&meter.read(&specimen).expect("a reading"), Conditions::D65_10)
}

#[test]
fn another_pigment_is_told_and_another_makers_is_not() {
    let names: Vec<&str> = TypicalPaint::ALL
        .iter()
        .map(|paint| paint.name)
        .filter(|name| !name.starts_with("PW"))
        .collect();
    let mut meter = SimulatedMeter::new(1, MixingTable::default());
    let (mut own, mut false_alarms, mut others, mut told) = (0, 0, 0, 0);
    for (at, name) in names.iter().enumerate() {
        let mut prior = Prior::nothing(2, Conditions::D65_10);
        prior.surface = Surface::nominal(Geometry::SphereIncluded, Sheen::Gloss);
        prior.tubes = vec![
            Known::typical("", [*name]).expect("known"),
            Known::typical("", ["PW6"]).expect("known"),
        ];
        for white in [0.0, 4.0] {
            let mixture = Mixture::of(&[(TUBE, 1.0), (WHITE, white)]);
            let far = |lab| far_from_typical(&prior, &mixture, Some(WHITE), lab);
            for maker in ["Tidewell", "Harrow & Pike", "Nettlebed"] {
                own += 1;
                let seen = read(&mut meter, name, maker, white, at as u64);
                false_alarms += usize::from(far(seen).is_some());
            }
            // The one that stands 20 further on in the list is a paint of another colour.
            for apart in [20, 40] {
                let other = names[(at + apart) % names.len()];
                others += 1;
                let seen = read(&mut meter, other, "Tidewell", white, at as u64);
                told += usize::from(far(seen).is_some());
            }
        }
    }
    eprintln!("{false_alarms} of {own}, {told} of {others}");
    assert_eq!(own, 462);
    assert!(false_alarms <= 2, "{false_alarms}");
    assert!(100 * told >= 92 * others, "{told} of {others} told");
}
