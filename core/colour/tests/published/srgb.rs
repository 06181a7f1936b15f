//! Screen colours of the measured chart against colour-science 0.4.7.

use colour::{Reflectance, ScreenColour};

use super::{number, rows};

#[test]
fn patches_inside_srgb_agree_to_one_step_and_the_others_are_marked() {
    let chart = rows(include_str!("chart.csv"));
    for (patch, expected) in chart.iter().zip(rows(include_str!("srgb.csv"))) {
        let bands: Vec<f64> = patch[1..].iter().map(|cell| number(cell)).collect();
        let spectrum = Reflectance::new(&bands).expect("a measured patch");
        let shown = ScreenColour::from_reflectance(&spectrum);
        let outside = expected[1] == "-1";
        assert_eq!(shown.duller, outside, "patch {}", patch[0]);
        assert!(!shown.approximate);
        if outside {
            continue;
        }
        for (found, expected) in shown.rgb.iter().zip(&expected[1..]) {
            let off = (f64::from(*found) - number(expected)).abs();
            assert!(off < 1.0, "patch {}: {found} for {expected}", patch[0]);
        }
    }
}
