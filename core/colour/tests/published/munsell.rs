//! Munsell value against colour-science 0.4.7, ASTM D1535.

use colour::munsell_value;

use super::{number, rows};

#[test]
fn value_of_a_luminance_factor() {
    for row in rows(include_str!("munsell_value.csv")) {
        let found = munsell_value(number(row[0]));
        // The library inverts by a table, which leaves up to 0.001.
        assert!((found - number(row[1])).abs() < 0.002, "Y {}: {found}", row[0]);
    }
}
