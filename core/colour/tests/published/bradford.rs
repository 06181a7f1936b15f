//! Linear Bradford adaptation against colour-science 0.4.7.

use colour::{Conditions, Lab, StatedLab, delta_e_ab};

use super::{number, rows};

#[test]
fn a_reading_is_adapted_to_another_light_as_the_reference_library_does() {
    let cases = rows(include_str!("bradford.csv"));
    assert_eq!(cases.len(), 2 * 4 * 4);
    for row in cases {
        let observer = row[0].parse().expect("an observer");
        let under =
            |name: &str| Conditions { illuminant: name.parse().expect("a light"), observer };
        let lab = |at: usize| Lab::new(number(row[at]), number(row[at + 1]), number(row[at + 2]));
        let given = StatedLab { lab: lab(3), conditions: under(row[1]) };
        let found = given.under(under(row[2])).expect("the same observer");
        // The two print the Bradford matrix with different numbers of digits.
        let off = delta_e_ab(found, lab(6)).value();
        assert!(off < 0.005, "{row:?}: {found:?}, off by {off}");
    }
}
