//! The words for how vivid a mixture is are those that practitioners use of it (common practice, no source), said of
//! typical paints, which are from memory.

use colour::{Conditions, Lab};
use figures::{Scale, VividnessWord};
use mixing::typical::TypicalPaint;
use mixing::{Constants, Geometry, Sheen, Surface, predict};
use proptest::prelude::*;

fn surface() -> Option<Surface> {
    Surface::nominal(Geometry::SphereIncluded, Sheen::Gloss)
}

fn mixed(parts: &[(&str, f64)], white: f64) -> Lab {
    let paint = |name: &str| TypicalPaint::named(name).expect(name).constants();
    let total: f64 = parts.iter().map(|(_, parts)| parts).sum();
    let of_white = ("PW6", white * total);
    let all: Vec<(f64, Constants)> = parts
        .iter()
        .chain([&of_white])
        .map(|(name, parts)| (parts / total / (1.0 + white), paint(name)))
        .collect();
    let shares: Vec<(f64, &Constants)> = all.iter().map(|(share, it)| (*share, it)).collect();
    Lab::from_reflectance(&predict(&shares, None).to_measured(surface()), Conditions::D65_10)
}

fn scale() -> std::sync::Arc<Scale> {
    Scale::seen(Conditions::D65_10, surface())
}

/// The most vivid of a pair within a range of hues, with white and without.
fn best(a: &str, b: &str, [low, high]: [f64; 2]) -> (f64, VividnessWord) {
    let scale = scale();
    let ratios = (0..36).map(|step| 0.02 * 1.25_f64.powi(step));
    let looks = ratios.flat_map(|ratio| {
        [0.0, 0.5, 1.0, 2.0, 4.0, 8.0].map(|white| mixed(&[(a, 1.0), (b, ratio)], white))
    });
    let near =
        looks.filter(|lab| lab.hue().is_some_and(|hue| (low..=high).contains(&hue.degrees())));
    let shares = near.map(|lab| scale.vividness(lab)).map(|it| (it.share, it.word));
    shares.max_by(|one, other| one.0.total_cmp(&other.0)).unwrap_or((0.0, VividnessWord::Neutral))
}

const GREEN: [f64; 2] = [118.0, 180.0];
const VIOLET: [f64; 2] = [300.0, 335.0];
const ORANGE: [f64; 2] = [45.0, 70.0];

#[test]
fn the_words_are_those_of_practitioners() {
    use VividnessWord::{Muted, Neutral, Softened, Vivid};
    let word = |parts: &[(&str, f64)], white: f64| scale().vividness(mixed(parts, white)).word;
    let least = |a: &str, b: &str, white: f64| {
        let ratios = (0..36).map(|step| 0.02 * 1.25_f64.powi(step));
        ratios.map(|ratio| word(&[(a, 1.0), (b, ratio)], white)).max().expect("ratios")
    };
    let green_blue = [("PR122", 2.0), ("PB15:3", 0.5), ("PG7", 0.5)];
    let black_yellow = [("PB29", 1.0), ("PBk9", 0.3), ("PY35", 4.0)];
    let cases = [
        (
            "1 a blue and a burnt earth make grey",
            word(&[("PB29", 0.55), ("PBr7", 0.45)], 4.0),
            vec![Neutral],
        ),
        ("4 yellow and magenta, a red", best("PY74", "PR122", [30.0, 42.0]).1, vec![Vivid]),
        ("5 cadmiums, an orange", best("PY35", "PR108", ORANGE).1, vec![Vivid]),
        ("5 a muddy violet", best("PR108", "PB29", VIOLET).1, vec![Muted, Neutral]),
        ("5 a muddy green", best("PY35", "PB29", GREEN).1, vec![Softened, Muted]),
        ("6 lemon and phthalo, a green", best("PY3", "PB15:3", GREEN).1, vec![Vivid]),
        ("7 rose and phthalo, a violet", best("PV19", "PB15:3", VIOLET).1, vec![Vivid]),
        ("7 a brownish one", word(&[("PR254", 1.0), ("PB29", 1.0)], 4.0), vec![Muted, Neutral]),
        ("8 violet and yellow, a grey", least("PV23", "PY74", 8.0), vec![Neutral]),
        ("10 purple, not mud", word(&green_blue, 4.0), vec![Softened, Muted]),
        ("11 periwinkle", word(&[("PR122", 2.0), ("PB15:3", 1.0)], 8.0), vec![Vivid, Softened]),
        ("12 sage, dull but green", best("PY43", "PB29", [103.0, 175.0]).1, vec![Muted, Softened]),
        ("13 evergreen", best("PBr7", "PB15:3", [105.0, 200.0]).1, vec![Softened, Muted]),
        ("16 a grayed green", word(&black_yellow, 1.0), vec![Softened, Muted, Neutral]),
        ("18 turquoise greens", best("PG7", "PY3", [160.0, 205.0]).1, vec![Vivid]),
        ("18 the more muted", best("PB36", "PY3", [160.0, 205.0]).1, vec![Vivid, Softened]),
        ("19 turquoise", best("PB15:3", "PY97", [188.0, 230.0]).1, vec![Vivid]),
        ("21 a bought orange", word(&[("PO20", 1.0)], 0.0), vec![Vivid]),
        ("23 bright violets", best("PV19", "PB15:3", [280.0, 335.0]).1, vec![Vivid]),
        ("23 bright greens", best("PY175", "PB15:3", GREEN).1, vec![Vivid]),
        (
            "24 a cured grey",
            word(&[("PBk9", 1.0), ("PY43", 1.0), ("PV19", 0.02)], 10.0),
            vec![Neutral],
        ),
        // What led to one scale: this stood as vivid beside a sentence that called it muted.
        ("ultramarine with a warm yellow", best("PB29", "PY74", GREEN).1, vec![Softened, Muted]),
    ];
    let wrong: Vec<_> = cases.iter().filter(|(_, word, right)| !right.contains(word)).collect();
    assert!(wrong.len() <= 2, "{wrong:#?}");
    // Duller than: whatever the words.
    for (dull, vivid) in [
        (best("PY3", "PR254", [52.0, 64.0]), best("PY74", "PR254", [52.0, 64.0])),
        (best("PY43", "PR254", [52.0, 64.0]), best("PY3", "PR254", [52.0, 64.0])),
        (best("PR254", "PB29", VIOLET), best("PV19", "PB15:3", VIOLET)),
        (best("PY35", "PB29", GREEN), best("PY3", "PB15:3", GREEN)),
        (best("PG18", "PY3", [135.0, 180.0]), best("PG7", "PY3", [135.0, 180.0])),
        (best("PY175", "PV19", [49.0, 61.0]), best("PY83", "PV19", [49.0, 61.0])),
    ] {
        assert!(dull.0 < vivid.0, "{dull:?} {vivid:?}");
    }
}

proptest! {
    /// More chroma at one hue and lightness is never a duller word, and a small step is a small step.
    #[test]
    fn the_scale_is_even(l in 25.0..90.0_f64, hue in 0.0..360.0_f64, chroma in 1.0..110.0_f64) {
        let at = |chroma: f64, hue: f64| {
            let (sin, cos) = hue.to_radians().sin_cos();
            scale().vividness(Lab::new(l, chroma * cos, chroma * sin))
        };
        let (less, more) = (at(chroma, hue), at(1.2 * chroma, hue));
        prop_assert!(more.word <= less.word && more.share >= less.share);
        let beside = at(chroma, hue + 1.0);
        prop_assert!((beside.share - less.share).abs() <= 0.3 * less.share.max(0.1));
        prop_assert!(chroma >= 6.0 || less.word == VividnessWord::Neutral);
    }
}
