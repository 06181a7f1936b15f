//! CIEDE2000 against Sharma, Wu and Dalal (2005), table 1.

use colour::{Lab, ciede2000};

use crate::{number, rows};

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
