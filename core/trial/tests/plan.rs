//! Which swatches a chart needs, and what is written under them.

use trial::plan::{Chart, ChartError, MOST_TESTED};
use trial::{Backing, FilmKind, Mixture, TubeLabel, TubeRef};

fn labels(names: &[&str]) -> Vec<TubeLabel> {
    let label = |name: &&str| TubeLabel { name: (*name).to_owned(), ..TubeLabel::default() };
    names.iter().map(label).collect()
}

fn chart(tested: usize) -> Chart {
    Chart {
        tested: (0..tested).map(TubeRef).collect(),
        reference: TubeRef(tested),
        white: TubeRef(tested + 1),
    }
}

#[test]
fn every_mixture_stands_once_over_each_backing_and_is_numbered_from_one() {
    for tested in 1..=MOST_TESTED {
        let swatches = chart(tested).swatches().expect("a plan");
        // Bare backings; white; mass tone over three backings and five tints of each tube; three
        // ratios with three whites of each pair.
        assert_eq!(swatches.len(), 3 + 3 + 8 * (tested + 1) + 9 * tested);
        for (at, swatch) in swatches.iter().enumerate() {
            assert_eq!(swatch.number as usize, at + 1);
            let again = swatches.iter().filter(|other| {
                other.mixture.ratio_key() == swatch.mixture.ratio_key()
                    && other.backing == swatch.backing
            });
            assert_eq!(again.count(), 1, "cell {} stands twice", swatch.number);
        }
    }
}

#[test]
fn a_pair_has_its_ratios_each_with_its_parts_of_white() {
    let swatches = chart(1).swatches().expect("a plan");
    let (a, b, white) = (TubeRef(0), TubeRef(1), TubeRef(2));
    let of_pair = swatches
        .iter()
        .map(|swatch| &swatch.mixture)
        .filter(|mixture| mixture.parts_of(a) > 0.0 && mixture.parts_of(b) > 0.0);
    let found: Vec<(f64, f64)> = of_pair
        .map(|mixture| {
            let white = mixture.white_per_colour(Some(white)).expect("colour");
            (mixture.parts_of(b) / mixture.parts_of(a), white)
        })
        .collect();
    let mut expected = Vec::new();
    for ratio in [1.0 / 3.0, 1.0, 3.0] {
        expected.extend([0.0, 1.0, 4.0].map(|white| (ratio, white)));
    }
    assert_eq!(found, expected);
}

#[test]
fn what_cannot_be_planned_is_said() {
    let chart = |tested: &[usize], reference: usize, white: usize| Chart {
        tested: tested.iter().copied().map(TubeRef).collect(),
        reference: TubeRef(reference),
        white: TubeRef(white),
    };
    let cases = [
        (chart(&[], 0, 1), ChartError::NothingTested),
        (chart(&[0, 1, 2, 3, 4], 5, 6), ChartError::TooMany(5)),
        (chart(&[0, 0], 1, 2), ChartError::AgainstItself(TubeRef(0))),
        (chart(&[0, 1], 1, 2), ChartError::AgainstItself(TubeRef(1))),
        (chart(&[0], 1, 1), ChartError::AgainstItself(TubeRef(1))),
    ];
    for (chart, expected) in cases {
        assert_eq!(chart.swatches(), Err(expected));
        assert!(expected.to_string().contains("choose"), "{expected} has no remedy");
    }
}

#[test]
fn labels_say_tubes_ratio_white_film_and_backing() {
    let tubes = labels(&["Canopy Ultramarine", "Lantern Yellow", "Titanium"]);
    let (a, b, white) = (TubeRef(0), TubeRef(1), TubeRef(2));
    let (paper, black, full, thin) =
        (Backing::Paper, Backing::Black, FilmKind::Full, FilmKind::Thin);
    let cases = [
        (Mixture::bare(), black, full, "bare black", ""),
        (Mixture::neat(a), paper, full, "Canopy Ultramarine", "mass tone"),
        (Mixture::neat(a), black, full, "Canopy Ultramarine", "mass tone over black"),
        (Mixture::neat(a), paper, thin, "Canopy Ultramarine", "mass tone, thin"),
        (Mixture::neat(white), paper, full, "Titanium", "mass tone"),
        (
            Mixture::of(&[(a, 2.0), (white, 1.0)]),
            paper,
            full,
            "Canopy Ultramarine",
            "white 1 : 0.5",
        ),
        (
            Mixture::of(&[(a, 3.0), (b, 1.0), (white, 16.0)]),
            paper,
            full,
            "Canopy Ultramarine + Lantern Yellow",
            "3 : 1 with white 1 : 4",
        ),
    ];
    for (mixture, backing, film, names, ratio) in cases {
        let label = trial::plan::mixture_label(&mixture, backing, film, &tubes, Some(white));
        assert_eq!((label.tubes.as_str(), label.ratio.as_str()), (names, ratio));
    }
}
