//! OKLCh hue of the measured chart against colour-science 0.4.7.

use colour::{Conditions, Hue, Reflectance, Xyz, oklch_hue, unsigned_distance};

use super::{number, rows};

#[test]
fn hues_agree_and_greys_have_none() {
    for (patch, expected) in
        rows(include_str!("chart.csv")).iter().zip(rows(include_str!("oklch.csv")))
    {
        let bands: Vec<f64> = patch[1..].iter().map(|cell| number(cell)).collect();
        let spectrum = Reflectance::new(&bands).expect("a measured patch");
        let found = oklch_hue(Xyz::from_reflectance(&spectrum, Conditions::D65_2));
        let (chroma, hue) = (number(expected[1]), Hue::from_degrees(number(expected[2])));
        match found {
            Some(found) => {
                // The nearer to grey, the more the last digits of the matrices turn the hue.
                let off = unsigned_distance(found, hue);
                assert!(off < 0.02 / chroma, "patch {}: {off}", patch[0]);
            }
            None => assert!(chroma < 0.0081, "patch {}: C {chroma}", patch[0]),
        }
    }
}
