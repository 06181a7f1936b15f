//! Amounts and order of work.

use plan::amounts::{AmountError, Film, Scale, pile};
use plan::order::{MOST_EXACT, customary_order, working_order};
use proptest::prelude::*;

fn scale(step: f64) -> Scale {
    Scale::new(step).expect("a scale")
}

/// Worked by hand: 20 × 20 mm × 0.15 mm = 60 mm³ = 0.06 ml; × 1.3 g/ml = 0.078 g; with 60 % waste
/// 0.1248 g.
#[test]
fn a_swatch_takes_its_film_and_what_stays_on_the_knife() {
    let film = Film::default();
    assert!((film.grams() - 0.1248).abs() < 1e-12);
    assert!((film.millilitres() - 0.096).abs() < 1e-12);
    let large = Film { side_mm: 40.0, waste: 0.0, ..film };
    assert!((large.grams() - 0.312).abs() < 1e-12);
}

/// Worked by hand for a scale of 0.01 g: the least weighable part is 0.005/0.05 = 0.1 g.
/// 1:1 for 0.34 g: 0.17 g each. 1:4 for 0.34 g: the part would be 0.068 g, so the pile grows to
/// 0.5 g: 0.10 and 0.40 g.
#[test]
fn a_pile_is_what_is_needed_or_what_can_be_weighed() {
    let even = pile(0.34, 0.5, scale(0.01)).expect("a pile");
    assert_eq!((even.scarce_g, even.other_g, even.let_downs.len()), (0.17, 0.17, 0));
    let quarter = pile(0.34, 0.2, scale(0.01)).expect("a pile");
    assert_eq!((quarter.scarce_g, quarter.other_g, quarter.let_downs.len()), (0.1, 0.4, 0));
    assert!((quarter.share - 0.2).abs() < 1e-12);
    // One standard deviation: 0.01/√12 of 0.10 and of 0.40 g, in quadrature.
    let expected = (0.01 / 12.0_f64.sqrt()) * (1.0_f64 / 0.1).hypot(1.0 / 0.4);
    assert!((quarter.ratio_error - expected).abs() < 1e-12);
}

/// 1:150 for 0.34 g would take 15.1 g to weigh the strong part: 44 times the need. A let-down 1:9
/// (0.10 g in 0.90 g) takes its place, and 1 part of tube to 150 is 10 parts of it to 141.
#[test]
fn a_strong_tinter_is_let_down_first_and_the_ratio_stays_exact() {
    let share = 1.0 / 151.0;
    let found = pile(0.34, share, scale(0.01)).expect("a pile");
    assert_eq!(found.let_downs.len(), 1);
    assert_eq!((found.let_downs[0].strong_g, found.let_downs[0].other_g), (0.1, 0.9));
    assert_eq!((found.scarce_g, found.other_g), (0.1, 1.41));
    assert!((found.share - share).abs() < 1e-12, "{}", found.share);
    // A tenth for very little: the let-down is no thinner than it may be.
    let little = pile(0.05, 0.1, scale(0.01)).expect("a pile");
    assert!((little.share - 0.1).abs() < 1e-12 && little.total() < 0.5, "{little:?}");
    // A kitchen scale of 0.1 g needs two let-downs for the same.
    let coarse = pile(0.34, share, scale(0.1)).expect("a pile");
    assert_eq!(coarse.let_downs.len(), 2);
    assert!((coarse.share / share - 1.0).abs() < 0.05);
}

/// For 4 g on a scale of 0.01 g: 1:16 would be 0.235 and 3.765 g, and 0.24 with 3.84 g keeps the
/// ratio.
#[test]
fn simple_ratios_stay_exact_on_the_scale() {
    for (white, need, wanted) in
        [(16.0, 4.0, [0.24, 3.84]), (8.0, 4.0, [0.45, 3.6]), (4.0, 0.2, [0.1, 0.4])]
    {
        let made = pile(need, 1.0 / (1.0 + white), scale(0.01)).expect("a pile");
        let found = [made.scarce_g, made.other_g];
        assert_eq!(found.map(f64::to_bits), wanted.map(f64::to_bits), "1 : {white}: {found:?}");
        assert!(made.let_downs.is_empty());
    }
}

#[test]
fn what_cannot_be_weighed_out_is_said() {
    assert_eq!(Scale::new(0.0), Err(AmountError::NoScale(0.0)));
    assert!(AmountError::NoScale(0.0).to_string().starts_with("a scale of 0 g weighs nothing"));
    for share in [0.0, -0.1, 0.7, f64::NAN] {
        assert_eq!(pile(1.0, share, scale(0.01)), Err(AmountError::NoParts));
    }
}

proptest! {
    /// Whatever the need, ratio and scale: enough of it, and as near the ratio as the scale allows.
    #[test]
    fn every_pile_feeds_its_swatches_at_its_ratio(
        need in 0.05..5.0_f64,
        parts in 1.0..300.0_f64,
        step in prop::sample::select(vec![0.001, 0.01, 0.1]),
    ) {
        let share = 1.0 / (1.0 + parts);
        let found = pile(need, share, scale(step)).expect("a pile");
        prop_assert!(found.total() >= need - 2.0 * step, "{found:?}");
        let off = (found.share / share - 1.0).abs();
        // Rounding each amount to the scale moves the ratio by its error or so.
        prop_assert!(off <= 4.0 * found.ratio_error, "{off} with {found:?}");
        prop_assert!(found.ratio_error < 0.12, "{found:?}");
        prop_assert!(found.total() <= need.max(5.0 * need) + 40.0 * step, "{found:?}");
    }

    /// Against every order there is.
    #[test]
    fn small_plans_get_the_best_order(costs in prop::collection::vec(0.0..9.0_f64, 25)) {
        let table: Vec<Vec<f64>> = costs.chunks(5).map(<[f64]>::to_vec).collect();
        let found = working_order(&table);
        let mut best = f64::INFINITY;
        permutations(&mut vec![0, 1, 2, 3, 4], 0, &mut |order| {
            best = best.min(order.windows(2).map(|pair| table[pair[0]][pair[1]]).sum());
        });
        prop_assert!(found.exact && (found.total - best).abs() < 1e-9);
        for (at, pair) in found.order.windows(2).enumerate() {
            prop_assert_eq!(found.clean_before[at + 1], table[pair[0]][pair[1]] > 1.0);
        }
    }

    /// Never worse than as typed, and every mixture once.
    #[test]
    fn large_plans_get_no_worse_an_order(seed in 0..1000_u64, count in 13..60_usize) {
        let cost = |a: usize, b: usize| ((a * 7919 + b * 104_729 + seed as usize * 31) % 997) as f64 / 100.0;
        let table: Vec<Vec<f64>> =
            (0..count).map(|a| (0..count).map(|b| cost(a, b)).collect()).collect();
        let typed: f64 = (1..count).map(|at| table[at - 1][at]).sum();
        let found = working_order(&table);
        prop_assert!(count > MOST_EXACT && !found.exact);
        prop_assert!(found.total <= typed + 1e-9);
        let summed: f64 = found.order.windows(2).map(|pair| table[pair[0]][pair[1]]).sum();
        prop_assert!((summed - found.total).abs() < 1e-9);
        let mut all = found.order;
        all.sort_unstable();
        prop_assert_eq!(all, (0..count).collect::<Vec<_>>());
    }
}

fn permutations(items: &mut Vec<usize>, from: usize, visit: &mut impl FnMut(&[usize])) {
    if from == items.len() {
        visit(items);
        return;
    }
    for at in from..items.len() {
        items.swap(from, at);
        permutations(items, from + 1, visit);
        items.swap(from, at);
    }
}

#[test]
fn a_line_of_strengths_is_worked_from_weak_to_strong() {
    // Residue of a stronger paint shows in a weaker one, and hardly the other way about.
    let strength = [5.0_f64, 1.0, 9.0, 3.0, 7.0];
    let table: Vec<Vec<f64>> =
        strength.iter().map(|a| strength.iter().map(|b| (a - b).max(0.1)).collect()).collect();
    let found = working_order(&table);
    assert_eq!(found.order, [1, 3, 0, 4, 2]);
    assert!(found.clean_before.iter().all(|clean| !clean));
    assert_eq!(working_order(&[]).order, Vec::<usize>::new());
    // By custom: light before dark, weak before strong.
    assert_eq!(
        customary_order(&[(30.0, 100.0), (85.0, 40.0), (85.0, 20.0), (50.0, 10.0)]),
        [2, 1, 3, 0]
    );
}

#[test]
fn cautions_name_group_and_tube_and_always_defer() {
    use plan::cautions::{DEFERRAL, cautions};
    use study::{ColourIndexName, Medium, Tube};
    let tube = |name: &str, codes: &str, medium| Tube {
        name: name.into(),
        codes: ColourIndexName::parse_list(codes).expect("codes"),
        medium,
        ..Tube::default()
    };
    let about = |tubes: &[Tube]| -> Vec<String> {
        cautions(tubes).into_iter().map(|caution| caution.about).collect()
    };
    let plan = [
        tube("Signal Red", "PR108", Medium::Oil),
        tube("Sky", "PB36 PW6", Medium::Oil),
        tube("Deep", "PB28", Medium::Oil),
        tube("Old Green", "", Medium::Oil),
    ];
    assert_eq!(
        about(&plan),
        [
            "cadmium (Signal Red)",
            "cobalt (Sky, Deep)",
            "chromium (Sky)",
            "no stated pigment (Old Green)",
            "oil"
        ]
    );
    assert_eq!(about(&[tube("Blue", "PB29", Medium::Watercolour)]), Vec::<String>::new());
    assert_eq!(about(&[tube("Blue", "PB29", Medium::Acrylic)]), ["acrylic"]);
    for caution in cautions(&plan) {
        assert!(!caution.advice.contains("safe"), "{caution:?}");
    }
    for word in ["label", "safety data sheet", "local rules", "licensed advice"] {
        assert!(DEFERRAL.contains(word), "{word}");
    }
}
