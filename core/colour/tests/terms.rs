//! The three terms of CIEDE2000 add up to it.

use colour::{Lab, ciede2000, ciede2000_terms};
use proptest::prelude::*;

fn colours() -> impl Strategy<Value = Lab> {
    (0.0..100.0, -90.0..90.0, -90.0..90.0).prop_map(|(l, a, b)| Lab::new(l, a, b))
}

proptest! {
    #[test]
    fn the_squares_of_the_terms_add_up(one in colours(), other in colours()) {
        let told: f64 = ciede2000_terms(one, other).iter().map(|it| it * it).sum();
        let whole = ciede2000(one, other).value();
        prop_assert!((told.sqrt() - whole).abs() < 1e-6, "{} {whole}", told.sqrt());
    }
}

/// Sharma, Wu and Dalal (2005), pairs 1, 7 (a grey) and 20; the first term is lightness alone.
#[test]
fn published_pairs() {
    let pairs = [
        (Lab::new(50.0, 2.6772, -79.7751), Lab::new(50.0, 0.0, -82.7485), 2.0425),
        (Lab::new(50.0, 0.0, 0.0), Lab::new(50.0, -1.0, 2.0), 2.3669),
        (Lab::new(50.0, 2.5, 0.0), Lab::new(50.0, 3.2592, 0.3350), 1.0),
    ];
    for (one, other, expected) in pairs {
        let terms = ciede2000_terms(one, other);
        let told = terms.iter().map(|it| it * it).sum::<f64>().sqrt();
        assert!((told - expected).abs() < 1e-4, "{told} {expected}");
        assert!(terms[0].abs() < 1e-12);
    }
}
