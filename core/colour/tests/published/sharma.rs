//! CIEDE2000 against Sharma, Wu and Dalal (2005), table 1.

use colour::{Lab, LabColumns, ciede2000, ciede2000_columns};

use super::{number, rows};

#[test]
fn all_34_pairs_agree_to_four_decimals_both_ways_round() {
    let pairs = rows(include_str!("sharma_2005.csv"));
    assert_eq!(pairs.len(), 34);
    for pair in pairs {
        let v: Vec<f64> = pair[1..].iter().map(|cell| number(cell)).collect();
        let (one, other) = (Lab::new(v[0], v[1], v[2]), Lab::new(v[3], v[4], v[5]));
        for found in [ciede2000(one, other).value(), ciede2000(other, one).value()] {
            // Pair 14 lies on a hue difference of exactly 180°, where the last bit of atan2 decides
            // whether the mean hue is taken on one side or the other (4.8045 or 4.7461).
            let flipped = pair[0] == "14" && (found - 4.7461).abs() < 1e-4;
            assert!((found - v[6]).abs() < 1e-4 || flipped, "pair {}: {found}", pair[0]);
        }
    }
}

#[test]
fn pair_14_falls_on_the_published_side() {
    let difference = ciede2000(Lab::new(50.0, -0.001, 2.49), Lab::new(50.0, 0.001, -2.49));
    assert!((difference.value() - 4.8045).abs() < 1e-4, "{difference}");
}

/// colour-science 0.4.7 (make_reference.py) over pairs far apart, near each other, and about a hue of 0°.
#[test]
fn pairs_one_by_one_and_in_columns_agree_with_a_reference_library() {
    let pairs = rows(include_str!("ciede2000.csv"));
    let lab = |row: &[&str], at: usize| {
        let [l, a, b] = [0, 1, 2].map(|axis| number(row[at + axis]));
        Lab::new(l, a, b)
    };
    let [one, other]: [LabColumns; 2] =
        [0, 3].map(|at| pairs.iter().map(|row| lab(row, at)).collect());
    let [there, back] = [ciede2000_columns(&one, &other), ciede2000_columns(&other, &one)];
    assert_eq!((pairs.len(), there.len()), (300, 300));
    for (at, row) in pairs.iter().enumerate() {
        let single = ciede2000(lab(row, 0), lab(row, 3)).value();
        let wanted = number(row[6]);
        for found in [single, there[at], back[at]] {
            assert!((found - wanted).abs() < 1e-7, "row {at}: {found} for {wanted}");
        }
    }
}

/// Colours without hue and hues right across from each other take the way of single pairs.
#[test]
fn columns_of_greys_and_of_opposite_hues_are_as_single_pairs() {
    let greys =
        [(50.0, 0.0, 0.0), (20.0, 0.0, 0.0), (60.0, 40.0, 0.0), (60.0, 0.0, 3.0), (0.0, 0.0, 0.0)];
    let greys = greys.map(|(l, a, b)| Lab::new(l, a, b));
    for one in greys {
        for other in
            greys.into_iter().chain([Lab::new(60.0, -40.0, 0.0), Lab::new(55.0, 0.0, -3.0)])
        {
            let columns = |lab: Lab| -> LabColumns { [lab].into_iter().collect() };
            let found = ciede2000_columns(&columns(one), &columns(other));
            let single = ciede2000(one, other).value();
            assert!((found[0] - single).abs() < 1e-7, "{one:?} {other:?}: {} {single}", found[0]);
        }
    }
    let none = LabColumns::default();
    assert!(none.is_empty() && ciede2000_columns(&none, &none).is_empty());
}
