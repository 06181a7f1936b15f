//! Tubes that nobody has read, as somebody chose their colours on a screen: simulated paints that differ from the typical
//! ones, screens that are off, and choices that are.

use colour::{Conditions, Hue, Lab, ciede2000, unsigned_distance};
use instruments::simulated::{MixingTable, SimulatedMeter};
use instruments::{Meter as _, Specimen};
use mixing::typical::{Look, TypicalPaint, hue_of_name, seen_as};
use mixing::{Constants, Geometry, Light, Sheen, Surface};
use rand::{Rng, SeedableRng};
use rand_chacha::ChaCha8Rng;
use rand_distr::StandardNormal;
use study::{Backing, FilmKind, State, TubeLabel};

/// Convenience tubes: names, and pigments in the order of the label.
const CONVENIENCE: [(&str, &[&str]); 14] = [
    ("Bright Yellow Green", &["PG7", "PY3"]),
    ("Meadow Yellow Green", &["PG7", "PW6", "PY3", "PY83"]),
    ("Sap Green", &["PG7", "PY83"]),
    ("Olive Green", &["PY83", "PG36", "PBk9"]),
    ("Olive Gold", &["PY129", "PG7", "PY83"]),
    ("Turquoise", &["PB15:3", "PG7"]),
    ("Turquoise Light", &["PB15:3", "PG7", "PW6"]),
    ("Orange", &["PY74", "PR254"]),
    ("Violet", &["PR122", "PB29"]),
    ("Violet Deep", &["PV23", "PR122"]),
    ("Brick", &["PR101", "PY43"]),
    ("Pink", &["PR122", "PW6"]),
    ("Leaf Green", &["PY74", "PB15:3"]),
    ("Grey", &["PW6", "PBk9", "PB29"]),
];
const TINTS: [f64; 4] = [1.0, 2.0, 4.0, 8.0];

struct Hidden {
    paints: Vec<(TubeLabel, f64)>,
    swatch: u64,
}

impl Hidden {
    fn colour(&self, meter: &mut SimulatedMeter, white: f64) -> Lab {
        let workshop =
            TubeLabel { name: "White".into(), maker: "Tidewell".into(), code: "PW6".into() };
        let of_white = (white > 0.0).then_some((workshop, white));
        let specimen = Specimen {
            swatch: self.swatch,
            pile: 0,
            occasion: 0,
            paints: self.paints.iter().cloned().chain(of_white).collect(),
            by_eye: false,
            backing: Backing::Paper,
            film: FilmKind::Full,
            state: State::Dry,
        };
        Lab::from_reflectance(&meter.read(&specimen).expect("a reading"), Conditions::D65_10)
    }
}

/// A colour as somebody chose it: each axis is off in steps that look alike.
fn off(lab: Lab, [l, c, h]: [f64; 3]) -> Lab {
    let chroma = lab.chroma();
    let [along, across] = [c * (1.0 + 0.045 * chroma), h * (1.0 + 0.015 * chroma)];
    let (x, y) = if chroma > 1e-6 { (lab.a / chroma, lab.b / chroma) } else { (1.0, 0.0) };
    Lab {
        l: (lab.l + l).clamp(0.0, 100.0),
        a: lab.a + x * along - y * across,
        b: lab.b + y * along + x * across,
    }
}

fn median_and_95th(mut off: Vec<f64>) -> [f64; 2] {
    off.sort_by(f64::total_cmp);
    [0.5, 0.95].map(|share| off[(share * (off.len() - 1) as f64).round() as usize])
}

/// How far mass tones and tints are off, and the mass tones of the typical paints before anybody looked.
fn misses(tubes: &[(&str, Vec<&str>, Hidden)], seed: u64) -> [[f64; 2]; 3] {
    let mut meter = SimulatedMeter::new(seed, MixingTable::default());
    let mut chance = ChaCha8Rng::seed_from_u64(seed);
    let white = TypicalPaint::named("PW6").expect("white").constants();
    let light = Light {
        conditions: Conditions::D65_10,
        surface: Surface::nominal(Geometry::SphereIncluded, Sheen::Gloss),
    };
    let seen = |paint: &Constants, parts: f64| Look::colour(paint, (&white, parts), light);
    let (mut thick, mut pale, mut before) = (Vec::new(), Vec::new(), Vec::new());
    for (name, codes, hidden) in tubes {
        let mut normal = |sigma: f64| -> [f64; 3] {
            std::array::from_fn(|_| sigma / 3_f64.sqrt() * chance.sample::<f64, _>(StandardNormal))
        };
        let screen = normal(Look::SCREEN_SIGMA);
        let mut chosen = |lab: Lab| {
            let own = normal(Look::CHOICE_SIGMA);
            off(lab, std::array::from_fn(|axis| screen[axis] + own[axis]))
        };
        let mass_tone = hidden.colour(&mut meter, 0.0);
        let look = Look {
            mass_tone: Some(chosen(mass_tone)),
            tint: Some(chosen(hidden.colour(&mut meter, Look::WHITE_PARTS))),
        };
        let pigments: Vec<Constants> = codes
            .iter()
            .map(|code| TypicalPaint::named(code).expect("known").constants())
            .collect();
        let fitted = |look| seen_as(&pigments, name, &white, look, light).expect("a paint");
        let (unseen, paint) = (fitted(Look::default()), fitted(look));
        before.push(ciede2000(seen(&unseen, 0.0), mass_tone).value());
        thick.push(ciede2000(seen(&paint, 0.0), mass_tone).value());
        pale.extend(
            TINTS.map(|parts| {
                ciede2000(seen(&paint, parts), hidden.colour(&mut meter, parts)).value()
            }),
        );
    }
    [thick, pale, before].map(median_and_95th)
}

#[test]
fn two_chosen_colours_bring_a_paint_of_one_pigment_near() {
    let names = TypicalPaint::ALL.iter().map(|paint| paint.name);
    let tubes: Vec<_> = names
        .filter(|name| !name.starts_with("PW"))
        .zip(0..)
        .map(|(code, swatch)| {
            let label = |maker: &str| TubeLabel {
                name: code.into(),
                maker: maker.into(),
                code: code.into(),
            };
            (code, vec![code], Hidden { paints: vec![(label("Nettlebed"), 1.0)], swatch })
        })
        .collect();
    assert!(tubes.len() >= 70);
    let [thick, pale, before] = misses(&tubes, 1);
    eprintln!(
        "one pigment: mass tone {thick:.1?}, tints {pale:.1?}; typical mass tone {before:.1?}"
    );
    assert!(thick[0] <= 3.7 && thick[1] <= 8.5, "{thick:?}");
    assert!(pale[0] <= 3.3 && pale[1] <= 8.0, "{pale:?}");
}

/// A tube of these pigments in shares about those that the order of its label tells.
fn convenience(codes: &[&str], swatch: u64, chance: &mut ChaCha8Rng) -> Hidden {
    let mut share = |place: usize| {
        let own: f64 = chance.sample(StandardNormal);
        (place as f64 * 0.6_f64.ln() + own).exp()
    };
    let shares: Vec<f64> = (0..codes.len()).map(&mut share).collect();
    let total: f64 = shares.iter().sum();
    let label = |code: &str| TubeLabel {
        name: format!("{code} {swatch}"),
        maker: "Harrow & Pike".into(),
        code: code.into(),
    };
    let paints = codes.iter().zip(shares).map(|(code, share)| (label(code), share / total));
    Hidden { paints: paints.collect(), swatch }
}

#[test]
fn two_chosen_colours_tell_a_convenience_tube_whose_shares_nobody_knows() {
    let mut chance = ChaCha8Rng::seed_from_u64(7);
    let mut meter = SimulatedMeter::new(3, MixingTable::default());
    let mut tubes = Vec::new();
    // Makers name a tube by what it looks like: shares that give another hue are no tube of this name.
    for swatch in 0.. {
        let (name, codes) = CONVENIENCE[tubes.len() % CONVENIENCE.len()];
        let hidden = convenience(codes, swatch, &mut chance);
        let hue = hidden.colour(&mut meter, Look::WHITE_PARTS).hue();
        let wanted = hue_of_name(name).map(Hue::from_degrees);
        if hue.zip(wanted).is_none_or(|(one, other)| unsigned_distance(one, other) <= 35.0) {
            tubes.push((name, codes.to_vec(), hidden));
        }
        if tubes.len() == 70 {
            break;
        }
    }
    let [thick, pale, before] = misses(&tubes, 2);
    eprintln!(
        "convenience: mass tone {thick:.1?}, tints {pale:.1?}; typical mass tone {before:.1?}"
    );
    assert!(thick[0] <= 4.4 && thick[1] <= 8.0, "{thick:?}");
    assert!(pale[0] <= 3.7 && pale[1] <= 8.0, "{pale:?}");
}
