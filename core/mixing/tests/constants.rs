//! K and S are found again from what they make.

use colour::{BANDS, Conditions, Lab, ciede2000};
use mixing::{
    ColourReading, Constants, Drawdown, FitKind, Geometry, InternalReflectance, Light, Sheen,
    Surface, Tint, fit, fit_between, fit_colours, predict, typical::typical_constants,
    white_constants,
};
use proptest::prelude::*;

const TINTS: [f64; 5] = [1.0, 2.0, 4.0, 8.0, 16.0];

fn flat(r: f64) -> InternalReflectance {
    InternalReflectance::from_fn(|_| r)
}

/// A white: hiding, with some absorption at the violet end.
fn white() -> Constants {
    let film = InternalReflectance::from_fn(|band| 0.96 - 0.5 * (-(band as f64) / 4.0).exp());
    let drawdown =
        Drawdown { over_black: film, over_white: film, black: flat(0.03), white: flat(0.85) };
    let mut white = white_constants(&drawdown).expect("a white");
    white.thickness = Some(12.0);
    white
}

/// A paint that absorbs in one region of the spectrum, as pigments do.
fn paint(peak: f64, width: f64, k: f64, s: f64, thickness: f64) -> Constants {
    let near = |band: usize| (-((band as f64 - peak) / width).powi(2)).exp();
    Constants {
        k: std::array::from_fn(|band| 0.003 + k * near(band)),
        s: std::array::from_fn(|band| s * (1.2 - 0.4 * band as f64 / BANDS as f64)),
        thickness: Some(thickness),
        kind: FitKind::TwoConstants,
        residual: 0.0,
    }
}

fn film(paint: &Constants, backing: f64) -> InternalReflectance {
    predict(&[(1.0, paint)], Some(&flat(backing)))
}

fn tint(paint: &Constants, white: &Constants, parts: f64) -> InternalReflectance {
    let tube = 1.0 / (1.0 + parts);
    predict(&[(tube, paint), (1.0 - tube, white)], None)
}

fn drawdown(paint: &Constants) -> Drawdown {
    Drawdown {
        over_black: film(paint, 0.03),
        over_white: film(paint, 0.85),
        black: flat(0.03),
        white: flat(0.85),
    }
}

fn fitted(paint: &Constants, white: &Constants) -> Constants {
    let tints = TINTS
        .map(|parts| Tint { tube: 1.0 / (1.0 + parts), reflectance: tint(paint, white, parts) });
    fit(white, Some(&drawdown(paint)), &tints).expect("tints")
}

/// Films are drawn down about as thick as the white's, 12.
fn any_paint() -> impl Strategy<Value = Constants> {
    (2.0..33.0_f64, 4.0..9.0_f64, 1.0..40.0_f64, 0.05..0.9_f64, 10.0..15.0_f64)
        .prop_map(|(peak, width, k, s, thickness)| paint(peak, width, k, s, thickness))
}

fn lab(internal: &InternalReflectance, surface: Surface) -> Lab {
    Lab::from_reflectance(&internal.to_measured(Some(surface)), Conditions::D65_10)
}

proptest! {
    /// A mass tone and one tint of which nobody knows the ratio well: what lies between them is right, at another ratio.
    #[test]
    fn spectra_between_a_mass_tone_and_a_tint_are_right(
        paint in any_paint(),
        misjudged in 0.7..1.4_f64,
        parts in 0.5..16.0_f64,
    ) {
        let white = white();
        let surface = Surface::nominal(Geometry::SphereIncluded, Sheen::Gloss).expect("a surface");
        let mass_tone = predict(&[(1.0, &paint)], None);
        let film = Drawdown {
            over_black: mass_tone,
            over_white: mass_tone,
            black: flat(0.03),
            white: flat(0.85),
        };
        let four = tint(&paint, &white, 4.0);
        let stated = Tint { tube: 1.0 / (1.0 + 4.0 * misjudged), reflectance: four };
        let found = fit_between(&white, &film, &[stated]).expect("a tint");
        let truth = lab(&tint(&paint, &white, parts), surface);
        let told = lab(&tint(&found, &white, parts * misjudged), surface);
        prop_assert!(ciede2000(truth, told).value() < 0.5, "{truth:?} {told:?}");
    }

    /// The fit's own model, without noise: two paints that were never mixed are predicted.
    #[test]
    fn mixtures_of_fitted_paints_are_predicted(a in any_paint(), b in any_paint(), share in 0.05..0.95_f64) {
        let white = white();
        let surface = Surface::nominal(Geometry::SphereIncluded, Sheen::Gloss).expect("a surface");
        let (found_a, found_b) = (fitted(&a, &white), fitted(&b, &white));
        let paper = flat(0.85);
        let mixed = |a: &Constants, b: &Constants| {
            lab(&predict(&[(share, a), (1.0 - share, b)], Some(&paper)), surface)
        };
        let error = ciede2000(mixed(&a, &b), mixed(&found_a, &found_b)).value();
        prop_assert!(error < 2.0, "{error}");
    }

}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(64))]

    /// From colours alone, a tint that was not read is predicted, and so is the film it came from.
    #[test]
    fn colours_alone_give_k_and_s_that_make_them(paint in any_paint()) {
        let white = white();
        let surface = Surface::nominal(Geometry::SphereIncluded, Sheen::Gloss).expect("a surface");
        let light = Light { conditions: Conditions::D65_10, surface: Some(surface) };
        let films = [0.03, 0.85].map(|backing| ColourReading {
            tube: 1.0,
            backing: Some(flat(backing)),
            lab: lab(&film(&paint, backing), surface),
        });
        let tints = TINTS.map(|parts| ColourReading {
            tube: 1.0 / (1.0 + parts),
            backing: None,
            lab: lab(&tint(&paint, &white, parts), surface),
        });
        let readings: Vec<ColourReading> = films.into_iter().chain(tints).collect();
        // A guess that knows nothing of the hue.
        let guess = Constants { k: [0.3; BANDS], s: [0.3; BANDS], ..paint };
        let found = fit_colours(&white, &guess, &readings, light).expect("a fit");
        for parts in [1.4, 3.0, 6.0, 12.0] {
            let (meant, told) = (tint(&paint, &white, parts), tint(&found, &white, parts));
            let error = ciede2000(lab(&meant, surface), lab(&told, surface)).value();
            prop_assert!(error < 1.0, "white 1 : {parts}: {error}");
        }
        let grey = (film(&paint, 0.4), film(&found, 0.4));
        let error = ciede2000(lab(&grey.0, surface), lab(&grey.1, surface)).value();
        prop_assert!(error < 1.5, "over grey: {error}");
    }
}

/// A yellow that hides absorbs nothing above 520 nm: there its tints look like the white whatever
/// its S, and only the neighbouring bands can tell it.
#[test]
fn s_is_told_by_its_neighbours_where_a_tint_leaves_it_open() {
    let white = white();
    let yellow = Constants {
        k: std::array::from_fn(|band| if band < 12 { 4.0 } else { 0.0 } + 1e-5),
        ..paint(0.0, 4.0, 1.0, 0.5, 30.0)
    };
    let found = fitted(&yellow, &white);
    for band in [15, 20, 30] {
        let off = (found.s[band] / yellow.s[band]).ln().abs();
        assert!(off < 0.35, "band {band}: {} for {}", found.s[band], yellow.s[band]);
    }
}

/// Twenty pigments of every kind, in full load.
const PAINTS: [&str; 20] = [
    "PY3", "PY74", "PY35", "PY43", "PY150", "PO20", "PO73", "PR108", "PR254", "PR122", "PV19",
    "PV23", "PB29", "PB28", "PB15:3", "PG7", "PG17", "PBr7", "PR101", "PBk9",
];

fn typical(name: &str) -> Constants {
    typical_constants("", [name]).expect("a typical paint")
}

/// A reading that a band of is at the surface floor tells nothing there of what the paint is.
fn is_above_floor(internal: &InternalReflectance) -> bool {
    internal.bands().iter().all(|r| *r >= InternalReflectance::SURFACE_FLOOR)
}

/// Readings without noise give back every mixture of two, with white and without.
#[test]
fn readings_without_noise_give_back_every_mixture() {
    let white = typical("PW6");
    let surface = Surface::nominal(Geometry::SphereIncluded, Sheen::Gloss).expect("a surface");
    let paper = flat(0.85);
    let paints: Vec<(Constants, Constants)> = PAINTS
        .map(|name| {
            let paint = typical(name);
            let found = fitted(&paint, &white);
            (paint, found)
        })
        .into();
    let mut told = 0;
    for (at, a) in paints.iter().enumerate() {
        for b in &paints[at..] {
            for (of_b, whites) in [(1.0, 0.0), (0.25, 0.0), (1.0, 2.0), (0.25, 8.0)] {
                let total = 1.0 + of_b + whites;
                let mixed = |a, b| {
                    let parts = [(1.0 / total, a), (of_b / total, b), (whites / total, &white)];
                    predict(&parts, Some(&paper))
                };
                let (truth, found) = (mixed(&a.0, &b.0), mixed(&a.1, &b.1));
                if is_above_floor(&film(&a.0, 0.03)) && is_above_floor(&film(&b.0, 0.03)) {
                    told += 1;
                    let error = ciede2000(lab(&truth, surface), lab(&found, surface)).value();
                    assert!(error < 0.1, "{at} {of_b} {whites}: {error}");
                }
            }
        }
    }
    assert!(told > 200, "only {told} mixtures were told");
}

/// A band of the white that noise leaves without absorption has none; the other bands keep theirs, and every tube
/// is fitted.
#[test]
fn one_noisy_band_of_the_white_silences_nothing() {
    let white = white();
    let mut noisy = drawdown(&white);
    for band in [20, 27, 35] {
        // What a meter of MCDM 0.14 does to a white of L* 98: more comes back than came in.
        let r = |film: InternalReflectance| {
            InternalReflectance::from_fn(|at| {
                film.bands()[at] * if at == band { 1.03 } else { 1.0 }
            })
        };
        noisy =
            Drawdown { over_black: r(noisy.over_black), over_white: r(noisy.over_white), ..noisy };
    }
    let found = white_constants(&noisy).expect("the white is known by its other bands");
    assert!([20, 27, 35].iter().all(|band| found.k[*band] == 0.0));
    assert!(found.k[2] > 0.01 && found.thickness.is_some_and(|it| (8.0..18.0).contains(&it)));
    let paint = paint(20.0, 6.0, 5.0, 0.3, 10.0);
    let tints = TINTS
        .map(|parts| Tint { tube: 1.0 / (1.0 + parts), reflectance: tint(&paint, &white, parts) });
    let of_tube = fit(&found, Some(&drawdown(&paint)), &tints).expect("the tube is fitted");
    let surface = Surface::nominal(Geometry::SphereIncluded, Sheen::Gloss).expect("a surface");
    let error = ciede2000(lab(&film(&paint, 0.85), surface), lab(&film(&of_tube, 0.85), surface));
    assert!(error.value() < 0.3, "{error:?}");
}

#[test]
fn too_few_readings_give_one_constant_and_say_so() {
    let (white, paint) = (white(), paint(20.0, 6.0, 5.0, 0.3, 10.0));
    let one = [Tint { tube: 0.5, reflectance: tint(&paint, &white, 1.0) }];
    let cases = [(None, FitKind::OneConstant), (Some(drawdown(&paint)), FitKind::OneConstant)];
    for (drawdown, kind) in cases {
        assert_eq!(fit(&white, drawdown.as_ref(), &one).map(|it| it.kind), Some(kind));
    }
    assert_eq!(fit(&white, Some(&drawdown(&paint)), &[]), None);
    let light = Light { conditions: Conditions::D65_10, surface: None };
    assert_eq!(fit_colours(&white, &paint, &[], light), None);
}
