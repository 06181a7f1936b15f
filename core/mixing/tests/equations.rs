//! Kubelka–Munk and Saunderson against worked values of the published equations.

use mixing::{Film, Geometry, InternalReflectance, KsRatio, Sheen, Surface};
use proptest::prelude::*;

/// Kubelka and Munk (1931): K/S = (1 − R)²/2R, worked by hand.
#[test]
fn ks_of_a_hiding_film() {
    // 0.5: 0.25/1. 0.25: 0.5625/0.5. 0.1: 0.81/0.2. 0.8: 0.04/1.6. 1: no absorption.
    let worked = [(0.5, 0.25), (0.25, 1.125), (0.1, 4.05), (0.8, 0.025), (1.0, 0.0)];
    for (r, ks) in worked {
        let found = KsRatio::of_hiding_film(r).expect("within 0–1");
        assert!((found.0 - ks).abs() < 1e-12, "R {r}");
        assert!((found.hiding_reflectance() - r).abs() < 1e-12, "R {r}");
    }
    assert_eq!([0.0, -0.1, 1.01].map(KsRatio::of_hiding_film), [None; 3]);
}

/// Saunderson (1942), k1 0.04 and k2 0.6, worked by hand for R = 0.5:
/// 0.96 × 0.4 × 0.5 / (1 − 0.3) = 0.192/0.7 = 0.274286, with the surface's 0.04: 0.314286.
#[test]
fn surface_by_geometry_and_sheen() {
    let worked = [
        (Geometry::SphereIncluded, Sheen::Gloss, 0.314_286),
        (Geometry::SphereIncluded, Sheen::Matt, 0.314_286),
        (Geometry::SphereExcluded, Sheen::Gloss, 0.274_286),
        (Geometry::FortyFive, Sheen::Gloss, 0.274_286),
        (Geometry::FortyFive, Sheen::Satin, 0.294_286),
        (Geometry::FortyFive, Sheen::Matt, 0.314_286),
    ];
    for (geometry, sheen, measured) in worked {
        let surface = Surface::nominal(geometry, sheen).expect("a surface");
        assert!((surface.apply(0.5) - measured).abs() < 1e-6, "{geometry} {sheen}");
        assert!((surface.correct(measured) - 0.5).abs() < 1e-5, "{geometry} {sheen}");
    }
    assert_eq!(Surface::nominal(Geometry::Internal, Sheen::Gloss), None);
}

/// The hyperbolic form of Kubelka (1948), which the film's own form is rearranged from.
fn kubelka_1948(k: f64, s: f64, backing: f64) -> f64 {
    let a = 1.0 + k / s;
    let b = (a * a - 1.0).sqrt();
    let coth = 1.0 / (b * s).tanh();
    (1.0 - backing * (a - b * coth)) / (a - backing + b * coth)
}

#[test]
fn a_film_without_absorption_and_limits() {
    // No absorption over black: R = SX/(SX + 1).
    let clear = Film { absorption: 0.0, scattering: 3.0 };
    assert!((clear.reflectance_over(0.0) - 0.75).abs() < 1e-9);
    // Nothing there: the backing is seen.
    let none = Film { absorption: 0.0, scattering: 1e-9 };
    assert!((none.reflectance_over(0.8) - 0.8).abs() < 1e-6);
}

#[test]
fn at_the_surface_floor_there_is_no_ks() {
    let black = colour::Reflectance::flat(0.0005);
    let internal = InternalReflectance::from_measured(
        &black,
        Surface::nominal(Geometry::FortyFive, Sheen::Gloss),
    );
    assert_eq!(internal.ks(10), None);
}

proptest! {
    #[test]
    fn film_agrees_with_kubelka_1948(k in 0.01..20.0_f64, s in 0.05..20.0_f64, rg in 0.0..1.0_f64) {
        let found = Film { absorption: k, scattering: s }.reflectance_over(rg);
        prop_assert!((found - kubelka_1948(k, s, rg)).abs() < 1e-9);
    }

    #[test]
    fn a_thick_film_hides(k in 0.1..5.0_f64, s in 0.1..5.0_f64, rg in 0.0..1.0_f64) {
        let thick = Film { absorption: k * 500.0, scattering: s * 500.0 };
        prop_assert!((thick.reflectance_over(rg) - KsRatio(k / s).hiding_reflectance()).abs() < 1e-9);
    }
}
