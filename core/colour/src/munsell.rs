//! Munsell value from luminance.

/// Munsell value, 0–10, of a luminance factor Y in percent of the perfect diffuser (0–100; held
/// within that range).
///
/// Inverts the renotation polynomial of ASTM D1535, 1.1914 V − 0.22533 V² + 0.23352 V³ −
/// 0.020484 V⁴ + 0.00081939 V⁵. Its coefficients are those of 1943 times 0.975, so Y already
/// counts from the perfect diffuser (V = 10 gives 100.0) and no factor is applied again.
#[must_use]
pub fn munsell_value(luminance_factor: f64) -> f64 {
    let wanted = luminance_factor.clamp(0.0, 100.0);
    let (mut low, mut high) = (0.0_f64, 10.0_f64);
    for _ in 0..60 {
        let middle = f64::midpoint(low, high);
        if renotation(middle) < wanted {
            low = middle;
        } else {
            high = middle;
        }
    }
    f64::midpoint(low, high)
}

fn renotation(v: f64) -> f64 {
    v * (1.1914 + v * (-0.225_33 + v * (0.233_52 + v * (-0.020_484 + v * 0.000_819_39))))
}
