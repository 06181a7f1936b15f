//! Typical paints look as painters know them: a table of mass tones and tints, from memory and without a source.

use colour::{Conditions, Lab, ciede2000, unsigned_distance};
use mixing::typical::{Look, TypicalPaint, typical_constants};
use mixing::{Constants, Geometry, InternalReflectance, Sheen, Surface, predict};

/// Beside these the table is right, or was remembered so.
const RIGHT: [f64; 3] = [5.0, 10.0, 8.0];
/// Chroma of tints is remembered less well.
const OF_TINTS: [f64; 3] = [5.0, 12.0, 8.0];
/// Of these the tint is paler than remembered: with the remembered one they would not mix as painters know they do
/// (an even grey of ultramarine and burnt sienna lies at half and half).
const PALER: [&str; 3] = ["PB29", "PB27", "PBr7"];
fn seen(parts: &[(f64, &Constants)], backing: Option<f64>) -> Lab {
    let backing = backing.map(|r| InternalReflectance::from_fn(|_| r));
    let surface = Surface::nominal(Geometry::SphereIncluded, Sheen::Gloss);
    let film = predict(parts, backing.as_ref()).to_measured(surface);
    Lab::from_reflectance(&film, Conditions::D65_10)
}

/// Tolerances that a colour lies off, the largest of L*, C* and h.
fn off(seen: Lab, [l, c, h]: [Option<f64>; 3], within: [f64; 3]) -> f64 {
    let (l, c) = (l.expect("L*"), c.expect("C*"));
    let hue = h.filter(|_| c >= 6.0).map_or(0.0, |h| {
        seen.hue().map_or(90.0, |hue| unsigned_distance(hue, colour::Hue::from_degrees(h)))
    });
    [(seen.l - l) / within[0], (seen.chroma() - c) / within[1], hue / within[2]]
        .into_iter()
        .fold(0.0, |most, it| f64::max(most, it.abs()))
}

fn mass_tone_l(cells: &[&str]) -> f64 {
    cells[2].parse().expect("L*")
}

#[test]
fn mass_tones_and_tints_are_as_painters_know_them() {
    let white = TypicalPaint::named("PW6").expect("a white").constants();
    let rows = include_str!("typical_colours.csv").lines().filter(|line| !line.starts_with('#'));
    let (mut told, mut wrong) = (0, Vec::new());
    for row in rows.skip(1) {
        let cells: Vec<&str> = row.split(',').collect();
        let (name, form) = (cells[0], cells[1]);
        told += 1;
        let paint = TypicalPaint::of_tube(name, form).expect(name).constants();
        let numbers = |from: usize| [0, 1, 2].map(|at| cells[from + at].parse::<f64>().ok());
        let mass_tone = off(seen(&[(1.0, &paint)], None), numbers(2), RIGHT);
        if mass_tone > 1.1 {
            wrong.push(format!("{name} {form}: mass tone {mass_tone:.2}"));
        }
        if !cells[5].is_empty() {
            let tint = seen(&[(1.0 / 9.0, &paint), (8.0 / 9.0, &white)], None);
            let most = if PALER.contains(&name) && form != "raw umber" { 1.8 } else { 1.1 };
            let tint = off(tint, numbers(5), OF_TINTS);
            if tint > most {
                wrong.push(format!("{name} {form}: tint {tint:.2}"));
            }
        }
        // Over black and over white. Of a dark film the ratio says nothing: it looks black over both.
        if mass_tone_l(&cells) < 33.0 {
            continue;
        }
        let [black, light] = [0.01, 0.8].map(|r| seen(&[(1.0, &paint)], Some(r)));
        let y = |lab: Lab| lab.to_xyz(Conditions::D65_10).y;
        let ratio = 100.0 * y(black) / y(light);
        let (low, high) = match cells[8] {
            "o" => (93.0, 100.1),
            "so" => (74.0, 100.1),
            "st" => (60.0, 95.0),
            _ => (0.0, 89.0),
        };
        if !(low..=high).contains(&ratio) {
            wrong.push(format!("{name} {form} hides {ratio:.0} %, and is {}", cells[8]));
        }
    }
    assert!(wrong.is_empty(), "{wrong:#?}");
    assert_eq!(told, 48);
}

/// Names of tubes of several pigments with the hues of their tints that a painter expects (common practice, no source):
/// in equal parts the first was an emerald, and the third a forest green.
#[test]
fn a_convenience_tube_looks_as_its_name_says() {
    let white = TypicalPaint::named("PW6").expect("white").constants();
    let cases: [(&str, &[&str], [f64; 2]); 6] = [
        ("Bright Yellow Green", &["PG7", "PW6", "PY3", "PY83"], [95.0, 135.0]),
        ("Sap Green", &["PG7", "PY83"], [95.0, 145.0]),
        ("Olive Gold", &["PY83", "PG7", "PY129"], [75.0, 118.0]),
        ("Turquoise", &["PG7", "PB15:3"], [185.0, 225.0]),
        ("Orange", &["PY74", "PR254"], [40.0, 75.0]),
        ("Violet", &["PB29", "PR122"], [295.0, 340.0]),
    ];
    for (name, codes, [low, high]) in cases {
        let paint = typical_constants(name, codes.iter().copied()).expect(name);
        let tint = predict(&[(0.2, &paint), (0.8, &white)], None).to_measured(None);
        let hue = Lab::from_reflectance(&tint, Conditions::D65_10).hue().expect("no grey");
        assert!((low..=high).contains(&hue.degrees()), "{name}: {}", hue.degrees());
    }
}

/// What somebody chose is drawn close to it, whatever the label says.
#[test]
fn a_chosen_look_is_drawn_close_to_what_was_chosen() {
    let cases: [(&str, &[&str]); 5] = [
        ("Yellow", &["PY74"]),
        ("Ultramarine", &["PB29"]),
        ("Sap Green", &["PG7", "PY83"]),
        ("Old tube", &[]),
        ("Of a pigment nobody knows", &["PR999"]),
    ];
    let mut off = Vec::new();
    for (name, codes) in cases {
        let codes = codes.iter().copied();
        let first = Look::choices(name, codes.clone());
        for look in first.into_iter().flat_map(Look::nearer) {
            let drawn = look.drawn(name, codes.clone()).expect(name);
            let pairs = [(drawn.mass_tone, look.mass_tone), (drawn.tint, look.tint)];
            off.extend(pairs.map(|(drawn, chosen)| {
                ciede2000(drawn.expect("drawn"), chosen.expect("chosen")).value()
            }));
        }
    }
    off.sort_by(f64::total_cmp);
    assert_eq!(off.len(), 5 * 81 * 2);
    let (median, most) = (off[off.len() / 2], off[off.len() - 1]);
    eprintln!("drawn within {median:.1}, at most {most:.1}");
    assert!(median <= 2.2 && most <= 7.0, "{median} {most}");
}
