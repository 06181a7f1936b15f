//! Typical paints behave as practitioners say paints do.

use crate::facts::{On, Paints, broken};
use colour::{Conditions, Lab};
use mixing::typical::{TypicalPaint, typical_constants};
use mixing::{Constants, Geometry, InternalReflectance, Sheen, Surface, predict};

struct Typical;

impl Paints for Typical {
    fn look(&self, parts: &[(&str, f64)], white: f64, on: On) -> Lab {
        let surface = Surface::nominal(Geometry::SphereIncluded, Sheen::Gloss);
        let backing = InternalReflectance::from_fn(|_| match on {
            On::Paper | On::White => 0.8,
            On::Black => 0.01,
        });
        let total: f64 = parts.iter().map(|(_, parts)| parts).sum();
        let paint = |name: &str| TypicalPaint::named(name).expect("a known name").constants();
        let of_white = (white * total, paint("PW6"));
        let parts: Vec<(f64, Constants)> =
            parts.iter().map(|(name, parts)| (*parts, paint(name))).chain([of_white]).collect();
        let whole: f64 = parts.iter().map(|(parts, _)| parts).sum();
        let shares: Vec<(f64, &Constants)> =
            parts.iter().filter(|(parts, _)| *parts > 0.0).map(|(p, it)| (p / whole, it)).collect();
        let seen = if shares.is_empty() {
            backing
        } else if on == On::Paper {
            predict(&shares, None)
        } else {
            predict(&shares, Some(&backing))
        };
        Lab::from_reflectance(&seen.to_measured(surface), Conditions::D65_10)
    }
}

#[test]
fn typical_paints_do_what_practitioners_say() {
    let broken = broken(&Typical);
    assert!(broken.is_empty(), "{broken:#?}");
}

#[test]
fn names_are_known_once_and_unknown_ones_are_not_guessed() {
    let mut names: Vec<&str> = TypicalPaint::ALL.iter().map(|paint| paint.name).collect();
    names.sort_unstable();
    names.dedup();
    assert_eq!(names.len(), TypicalPaint::ALL.len());
    assert!(names.len() >= 45);
    assert!(typical_constants("", ["PG7", "PY83"]).is_some());
    assert_eq!(typical_constants("", ["PG7", "PX1"]), None);
    assert_eq!(typical_constants("", []), None);
}
