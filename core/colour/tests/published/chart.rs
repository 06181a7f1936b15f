//! Reflectance to CIELAB against colour-science 0.4.7 for a measured 24-patch chart.

use colour::{Conditions, Lab, Reflectance, ciede2000};

use super::{number, rows};

#[test]
fn lab_of_the_chart_agrees_with_the_reference_library() {
    let chart: Vec<Reflectance> = rows(include_str!("chart.csv"))
        .iter()
        .map(|row| row[1..].iter().map(|cell| number(cell)).collect::<Vec<_>>())
        .map(|bands| Reflectance::new(&bands).expect("a measured patch"))
        .collect();
    let references = rows(include_str!("chart_lab.csv"));
    assert_eq!(references.len(), 24 * 6 * 2);
    for row in references {
        let patch: usize = row[0].parse().expect("a patch number");
        let conditions = Conditions {
            illuminant: row[1].parse().expect("an illuminant"),
            observer: row[2].parse().expect("an observer"),
        };
        // "Integration" interpolates to 1 nm instead of weighting 10 nm bands: another road to the
        // same colour, so a coarser agreement.
        let tolerance = if row[3] == "ASTM E308" { 0.001 } else { 0.01 };
        let expected = Lab::new(number(row[4]), number(row[5]), number(row[6]));
        let found = Lab::from_reflectance(&chart[patch - 1], conditions);
        let difference = ciede2000(found, expected).value();
        assert!(difference < tolerance, "patch {patch}, {conditions}, {}: {difference}", row[3]);
    }
}
