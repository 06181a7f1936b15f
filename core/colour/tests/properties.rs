//! What holds for every colour.

use colour::{
    Conditions, Hue, Illuminant, Lab, Observer, Reflectance, ScreenColour, StatedLab, Xyz,
    ciede2000, components, delta_e_ab, short_wave_share_of_x, signed_shift, spread,
};
use proptest::prelude::*;

fn any_lab() -> impl Strategy<Value = Lab> {
    (5.0..95.0, -60.0..60.0, -60.0..60.0).prop_map(|(l, a, b)| Lab::new(l, a, b))
}

proptest! {
    #[test]
    fn xyz_and_lab_are_inverse(lab in any_lab()) {
        let back = Lab::from_xyz(lab.to_xyz(Conditions::D65_10), Conditions::D65_10);
        prop_assert!(delta_e_ab(lab, back).value() < 1e-9);
    }

    #[test]
    fn components_make_up_the_distance(one in any_lab(), other in any_lab()) {
        let parts = components(one, other);
        let sum = parts.lightness.powi(2) + parts.chroma.powi(2) + parts.hue.powi(2);
        prop_assert!((sum.sqrt() - delta_e_ab(one, other).value()).abs() < 1e-6);
        if let (Some(from), Some(to)) = (other.hue(), one.hue()) {
            let turn = signed_shift(from, to);
            prop_assert!(turn.abs() < 1e-6 || turn.abs() > 179.9 || turn.signum() == parts.hue.signum());
        }
    }

    /// Whatever the paint, the screen gets a colour it can show, and a dull paint its own.
    #[test]
    fn a_screen_colour_keeps_lightness_order(lab in any_lab(), darker in 1.0..4.0_f64) {
        let light = ScreenColour::from_lab(lab, Conditions::D65_2);
        let dark = ScreenColour::from_lab(Lab { l: lab.l - darker, ..lab }, Conditions::D65_2);
        let sum = |colour: ScreenColour| colour.rgb.iter().map(|c| u32::from(*c)).sum::<u32>();
        prop_assert!(light.duller || dark.duller || sum(light) > sum(dark));
        prop_assert!(light.hex().len() == 7);
    }

    #[test]
    fn a_shift_undoes_itself(from in 0.0..360.0_f64, turn in -179.9..180.0_f64) {
        let shift = signed_shift(Hue::from_degrees(from), Hue::from_degrees(from + turn));
        prop_assert!((shift - turn).abs() < 1e-9);
    }

    #[test]
    fn adapting_there_and_back_changes_nothing(lab in any_lab()) {
        let a10 = Conditions { illuminant: Illuminant::A, observer: Observer::Ten };
        let under_a = StatedLab { lab, conditions: Conditions::D65_10 }.under(a10).expect("same observer");
        let back = StatedLab { lab: under_a, conditions: a10 }.under(Conditions::D65_10).expect("same");
        // The library prints its Bradford matrix and the inverse with seven digits.
        prop_assert!(delta_e_ab(lab, back).value() < 1e-3);
    }
}

#[test]
fn a_neutral_stays_neutral_under_every_light() {
    for illuminant in [Illuminant::D50, Illuminant::D65, Illuminant::A] {
        for observer in [Observer::Two, Observer::Ten] {
            let grey =
                Lab::from_reflectance(&Reflectance::flat(0.2), Conditions { illuminant, observer });
            assert!(grey.chroma() < 1e-9 && grey.hue().is_none());
        }
    }
    let shown = ScreenColour::from_reflectance(&Reflectance::flat(1.0));
    assert_eq!(shown.hex(), "#ffffff");
}

#[test]
fn white_sums_are_those_astm_e308_prints() {
    let printed = [
        (Conditions::D50_2, [96.424, 100.0, 82.513]),
        (Conditions::D65_2, [95.047, 100.0, 108.883]),
        (Conditions::D65_10, [94.811, 100.0, 107.305]),
    ];
    for (conditions, [x, y, z]) in printed {
        let white = Xyz::white(conditions);
        let off = (white.x - x).abs().max((white.y - y).abs()).max((white.z - z).abs());
        assert!(off < 0.0011, "{conditions}: {white:?}");
    }
    assert!((short_wave_share_of_x(Conditions::D65_10) - 0.189).abs() < 0.0005);
}

#[test]
fn another_observer_is_refused_with_the_remedy() {
    let reading = StatedLab { lab: Lab::new(50.0, 10.0, 10.0), conditions: Conditions::D65_10 };
    let error = reading.under(Conditions::D50_2).expect_err("another observer");
    assert_eq!(
        error.to_string(),
        "a CIELAB reading for the 10° observer cannot be turned into one for 2°; \
         analyse it for 10°, or take a spectral reading"
    );
}

#[test]
fn a_colour_outside_the_screen_is_marked_and_keeps_its_hue_and_lightness() {
    // A cadmium-like yellow: CIELAB well outside sRGB.
    let vivid = Lab::new(80.0, 20.0, 110.0);
    let shown = ScreenColour::from_lab(vivid, Conditions::D65_2);
    assert!(shown.duller && !shown.approximate);
    let dull = ScreenColour::from_lab(Lab::new(60.0, 10.0, 20.0), Conditions::D65_10);
    assert!(!dull.duller && dull.approximate);
}

#[test]
fn spread_is_the_mean_distance_from_the_mean() {
    let (low, high) = (Lab::new(49.5, 0.0, 0.0), Lab::new(50.5, 0.0, 0.0));
    let mean = Lab::new(50.0, 0.0, 0.0);
    let expected = f64::midpoint(ciede2000(low, mean).value(), ciede2000(high, mean).value());
    assert!((spread(&[low, high]).expect("two repeats").value() - expected).abs() < 1e-12);
    assert!(spread(&[low]).is_none());
}

#[test]
fn a_spectrum_outside_its_range_names_the_band() {
    let mut bands = [0.5; 36];
    bands[2] = 1.3;
    let error = Reflectance::new(&bands).expect_err("1.3 is too high");
    assert_eq!(error.to_string(), "reflectance at 400 nm is 1.3; it must lie between 0 and 1.2");
    assert!(Reflectance::new(&[f64::NAN; 36]).is_err());
    assert!(Reflectance::new(&[0.5; 31]).is_err());
}

proptest! {
    /// Every colour of a surface has a smoothest reflectance, which has that colour.
    #[test]
    fn the_smoothest_reflectance_has_the_colour(
        base in 0.02..0.9_f64, slope in -0.02..0.02_f64, peak in 0.0..35.0_f64, height in -0.4..0.4_f64,
    ) {
        let band = |band: usize| {
            let near = (-((band as f64 - peak) / 5.0).powi(2)).exp();
            (base + slope * band as f64 + height * near).clamp(0.01, 0.98)
        };
        let surface = Reflectance::from_fn(band);
        let lab = Lab::from_reflectance(&surface, Conditions::D65_10);
        let found = Reflectance::smoothest(lab.to_xyz(Conditions::D65_10), Conditions::D65_10);
        let found = found.expect("the colour of a surface");
        let again = Lab::from_reflectance(&found, Conditions::D65_10);
        prop_assert!(ciede2000(lab, again).value() < 1e-4);
        prop_assert!(found.bands().iter().all(|r| (0.0..=1.0).contains(r)));
    }
}
