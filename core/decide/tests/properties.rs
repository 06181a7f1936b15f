//! What must hold of every recipe, reach and grey, whatever the tubes.

use colour::{Conditions, Lab, ciede2000};
use decide::{
    At, Effort, Family, Keep, Limits, Paint, Paints, PairReaches, Parts, Reach, Recipes, Seen,
    Shares, Shelf, Target, Widths, darkest, gaps, grey_pair, grey_pairs, hue_name, touches,
    value_floor, value_steps,
};
use mixing::typical::TypicalPaint;
use mixing::{Geometry, Sheen, Surface};
use proptest::prelude::*;

const CODES: [&str; 8] = ["PY74", "PY43", "PO73", "PR254", "PR122", "PB29", "PB15:3", "PG7"];

/// Typical paints as if they were tubes that were read.
fn paints(codes: &[&str]) -> Paints {
    let constants = |code: &str| TypicalPaint::named(code).expect("a typical paint").constants();
    Paints {
        conditions: Conditions::D65_10,
        surface: Surface::nominal(Geometry::FortyFive, Sheen::Gloss),
        paper: None,
        backings: None,
        white: Some(constants("PW6")),
        tubes: codes.iter().map(|code| Paint::read(constants(code), 1)).collect(),
        widths: Widths::default(),
    }
}

fn find(paints: &Paints, target: &Target, among: &[usize], most: usize) -> Recipes {
    let limits = Limits { most, white: true, effort: Effort::EVERY };
    Recipes::find(paints, target, among, limits, &mut |_| true).expect("not stopped")
}

/// A search that ends a hundredth of a ΔE00 above another one has found the same.
const NO_WORSE: f64 = 0.01;

fn least(found: &Recipes) -> f64 {
    found.recipes.iter().map(|it| it.score).fold(f64::INFINITY, f64::min)
}

/// How far one colour lies from another toward a hue.
fn along(to: Lab, from: Lab, degrees: f64) -> f64 {
    let (sin, cos) = f64::to_radians(degrees).sin_cos();
    (to.a - from.a) * cos + (to.b - from.b) * sin
}

/// Two of the tubes, their parts, and white.
fn mixtures() -> impl Strategy<Value = Shares> {
    (0..CODES.len(), 1..CODES.len(), 0.05..20.0, 0.0..8.0).prop_map(|(one, step, parts, white)| {
        Shares::of(&[(one, 1.0), ((one + step) % CODES.len(), parts)], white)
    })
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 16, ..ProptestConfig::default() })]

    /// A mixture of the palette is found again, more colours are never worse, and the order of the tubes is all the same.
    #[test]
    fn a_mixture_is_its_own_recipe(shares in mixtures()) {
        let paints = paints(&CODES);
        let all: Vec<usize> = (0..CODES.len()).collect();
        let mixed = paints.blend(&shares).expect("known");
        let target = Target::of_constants(&mixed, &paints);
        let two = find(&paints, &target, &all, 2);
        prop_assert!(least(&two) < 0.1, "{} of {shares:?}", least(&two));
        prop_assert!(two.limit.is_none());
        prop_assert!(least(&find(&paints, &target, &all, 3)) <= least(&two) + 1e-6);
        prop_assert!(least(&find(&paints, &target, &all[..5], 2)) + 1e-6 >= least(&two));
        let turned: Vec<usize> = all.iter().rev().copied().collect();
        prop_assert!((least(&find(&paints, &target, &turned, 2)) - least(&two)).abs() < 1e-6);
        for recipe in &two.recipes {
            let total: f64 = recipe.shares.tubes.iter().map(|it| it.1).sum::<f64>() + recipe.shares.white;
            prop_assert!((total - 1.0).abs() < 1e-9);
            prop_assert!(recipe.claim >= recipe.delta_e);
        }
    }

    /// Whatever colour is typed: with one tube more no recipe is worse by what anybody could see, none holds less of a tube than can be put out, and
    /// what is called as good as the best is so by the parts that are shown.
    #[test]
    fn more_tubes_are_never_worse_and_parts_are_as_good_as_said(l in 25.0..92.0_f64, a in -45.0..55.0_f64, b in -45.0..70.0_f64) {
        let paints = paints(&CODES);
        let all: Vec<usize> = (0..CODES.len()).collect();
        let Ok(target) = Target::of_lab(Lab::new(l, a, b), &paints) else { return Ok(()) };
        let one = least(&find(&paints, &target, &all, 1));
        let two = least(&find(&paints, &target, &all, 2));
        prop_assert!(two <= one + NO_WORSE, "{two} with two, {one} with one");
        let found = find(&paints, &target, &all, 3);
        prop_assert!(least(&found) <= two + NO_WORSE, "{} with three, {two} with two", least(&found));
        let best = found.recipes.iter().map(|it| it.delta_e_parts).fold(f64::INFINITY, f64::min);
        for recipe in &found.recipes[..found.alike] {
            prop_assert!(recipe.delta_e_parts <= f64::max(1.0, best + 0.5) + 1e-9);
        }
        for recipe in &found.recipes {
            prop_assert!(recipe.shares.tubes.iter().all(|(_, share)| *share >= 1e-3));
        }
    }

    /// Whole parts look as they are said to, and the fewest are told that do.
    #[test]
    fn whole_parts_are_never_worse_than_stated(shares in mixtures()) {
        let paints = paints(&CODES);
        let mixed = paints.blend(&shares).expect("known");
        let target = Target::of_constants(&mixed, &paints);
        let parts = Parts::of(&shares, &target, &paints).expect("parts");
        let total: u32 = parts.tubes.iter().map(|it| it.1).sum::<u32>() + parts.white;
        prop_assert!(total <= decide::MOST_PARTS && parts.tubes.iter().all(|it| it.1 >= 1));
        let off = |at: At| {
            let [one, other] = [&shares, &parts.shares()]
                .map(|it| paints.colour(&it.tinted(at.white())).expect("known"));
            ciede2000(one, other).value()
        };
        let worst = off(At::MassTone).max(off(At::Tint));
        prop_assert_eq!(parts.is_near, worst <= decide::NEAR, "{}", worst);
    }

    /// What the eye says is answered by a touch that goes the other way.
    #[test]
    fn a_touch_goes_against_what_was_seen(shares in mixtures(), seen in 0..8_usize) {
        let paints = paints(&CODES);
        let all: Vec<usize> = (0..CODES.len()).collect();
        let seen = Seen::ALL[seen];
        let from = paints.colour(&shares).expect("known");
        for touch in touches(&paints, &shares, &[seen], &all) {
            let Lab { l, b, .. } = touch.to;
            let goes = match seen {
                Seen::TooLight => l < from.l,
                Seen::TooDark => l > from.l,
                Seen::TooDull => touch.to.chroma() > from.chroma() - 0.5,
                Seen::TooVivid => touch.to.chroma() < from.chroma() + 0.5,
                Seen::TooRed => along(touch.to, from, 25.0) < 0.0,
                Seen::TooYellow => b < from.b,
                Seen::TooGreen => along(touch.to, from, 163.0) < 0.0,
                Seen::TooBlue => along(touch.to, from, 250.0) < 0.0,
            };
            prop_assert!(goes && touch.parts > 0.0, "{seen:?} {touch:?} from {from:?}");
        }
    }
}

/// A palette reaches what its pairs reach; with more tubes never less; its own gaps are none.
#[test]
fn more_tubes_reach_further() {
    let paints = paints(&CODES);
    let all: Vec<usize> = (0..CODES.len()).collect();
    let whole = Reach::of(&paints, &all);
    let mut before = 0.0;
    for count in 2..=CODES.len() {
        let reach = Reach::of(&paints, &all[..count]);
        let coverage = reach.coverage(&whole);
        assert!(coverage >= before - 1e-12, "{count}: {coverage} after {before}");
        before = coverage;
    }
    assert!((before - 1.0).abs() < 1e-12);
    assert!(gaps(&whole, &whole).is_empty());
    // Without its blues and its green a palette has no clean blue, and a blue fills it.
    let warm = Reach::of(&paints, &all[..5]);
    let found = gaps(&warm, &whole);
    let blue = found.iter().find(|gap| gap.name == "blue").expect("a gap");
    assert!(blue.words().starts_with("no clean blue"), "{}", blue.words());
    let with = Reach::of(&paints, &[0, 1, 2, 3, 4, 6]);
    assert!(blue.filled_by(&warm, &with, &whole) > 0.5);
}

/// However much white a pair takes, it is never more vivid than the map says, nor is the map than any mixture.
#[test]
fn the_map_holds_every_mixture_and_no_more() {
    let paints = paints(&CODES);
    let pairs = [(4, 5), (4, 6), (5, 6), (0, 7), (2, 3), (0, 4)];
    let mut passed: Vec<f64> = Vec::new();
    for (one, other) in pairs {
        let reach = Reach::of_pair(&paints, one, other);
        let mut found = Reach::default();
        for ratio in (0..=140).map(|step| (f64::from(step) / 5.0 - 14.0).exp()) {
            for white in
                (0..=200).map(|step| 0.001 * (500_001_f64.powf(f64::from(step) / 200.0) - 1.0))
            {
                let parts = [(one, 1.0), (other, ratio)];
                let shares = Shares::of(&parts, white * (1.0 + ratio));
                let lab = paints.colour(&shares).expect("known");
                if (20.0..90.0).contains(&lab.l) {
                    passed.push(lab.chroma() - reach.beside(lab));
                    found.add(lab);
                }
            }
        }
        for (hue, level, chroma) in reach.cells() {
            // A colour at the edge of a cell may stand in its neighbour.
            let (hue_at, level_at) = ((hue / 10.0) as usize, ((level - 20.0) / 5.0) as usize);
            let near = [35, 0, 1].map(|by| (hue_at + by) % 36);
            let near = near.iter().flat_map(|hue| {
                (level_at.saturating_sub(1)..=level_at + 1).map(|level| found.at(*hue, level))
            });
            let most = near.fold(0.0, f64::max);
            assert!(chroma <= most + 4.0, "hue {hue}, L* {level}: {chroma:.1}, truly {most:.1}");
        }
    }
    let most = passed.iter().copied().fold(0.0, f64::max);
    assert!(most <= 2.5, "{most}");
}

/// The best ratio of a grey is no worse than its neighbours, and its values rise in equal steps.
#[test]
fn a_grey_is_the_best_of_its_ratios() {
    let paints = paints(&CODES);
    let all: Vec<usize> = (0..CODES.len()).collect();
    let greys = grey_pairs(&paints, &all);
    assert!(greys.windows(2).all(|pair| pair[0].chroma <= pair[1].chroma));
    let best = &greys[0];
    assert!(best.neutralises() && best.ratio().is_some(), "{best:?}");
    let [(one, first), (other, second)] = best.shares.tubes[..] else { unreachable!("a pair") };
    let again = grey_pair(&paints, other, one).expect("a pair");
    assert!((again.chroma - best.chroma).abs() < 0.05, "{} {}", again.chroma, best.chroma);
    for times in [0.8, 1.25] {
        let moved = Shares::of(&[(one, first), (other, second * times)], 0.0);
        let chroma = |white: &f64| paints.colour(&moved.tinted(*white)).expect("known").chroma();
        let most = decide::GREY_TINTS.iter().map(chroma).fold(0.0, f64::max);
        assert!(most >= best.chroma, "{times}: {most} {}", best.chroma);
    }
    // In the parts that are said, no tint is more vivid than is said.
    for grey in &greys {
        let grey = grey.put_out(&paints).expect("known");
        assert!(grey.parts().iter().all(|parts| (10.0 * parts).fract().abs() < 1e-9));
        for white in (0..=64).map(|step| f64::from(step) / 4.0) {
            let tint = paints.colour(&grey.shares.tinted(white)).expect("known").chroma();
            assert!(tint <= grey.chroma + 0.3, "{white}: {tint} {}", grey.chroma);
        }
    }
    let whites = value_steps(&paints, &best.shares, 5);
    let value = |white: &f64| paints.colour(&best.shares.tinted(*white)).expect("known").l;
    let values: Vec<f64> = [0.0].iter().chain(&whites).map(value).collect();
    let steps: Vec<f64> = values.windows(2).map(|pair| pair[1] - pair[0]).collect();
    let mean = steps.iter().sum::<f64>() / steps.len() as f64;
    assert!(whites.len() == 5 && steps.iter().all(|step| (step - mean).abs() < 3.0), "{steps:?}");
}

/// White in a tube raises the value floor of its mixtures ("a tube that holds white can't go dark", common
/// practice, no source), and a tube that is there already adds nothing to the reach.
#[test]
fn white_in_a_tube_keeps_it_light() {
    let mut paints = paints(&CODES);
    let all: Vec<usize> = (0..CODES.len()).collect();
    let (_, darkest) = darkest(&paints, &all).expect("two tubes");
    let white = paints.white.clone().expect("a white");
    let blue = paints.tubes[6].constants.clone();
    let mut before = value_floor(&paints, 6, &all).expect("others");
    assert!(before < darkest.l + 8.0, "{before} {}", darkest.l);
    for parts in [0.1, 0.5, 2.0] {
        let pale = mixing::Constants::mixed(&[(1.0, &blue), (parts, &white)]).expect("a paint");
        paints.tubes.push(Paint::read(pale, 2));
        let floor = value_floor(&paints, paints.tubes.len() - 1, &all).expect("others");
        assert!(floor > before + 1.0, "{parts}: {floor} after {before}");
        before = floor;
    }
    let reaches = PairReaches::of(&paints, &[0, 1, 2, 3, 4], &mut |_| true).expect("not stopped");
    assert!(reaches.added_by(&paints, 3).abs() < 1e-9);
    assert!(reaches.added_by(&paints, 6) > 0.1, "{}", reaches.added_by(&paints, 6));
}

/// A dark transparent yellow can be matched in hue by opaque tubes, and thin it is another paint (common practice, no
/// source). Another tube alone is no mixture: where what was read did not make them one, nothing stands for either.
#[test]
fn a_glaze_is_kept_and_one_tube_is_not_mixed_out_of_another() {
    let codes = ["PY150", "PY35", "PR101", "PBr7", "PY43"];
    let mut paints = paints(&codes);
    paints.paper = Some(mixing::InternalReflectance::from_fn(|_| 0.85));
    let verdicts = |paints: &Paints| {
        let targets: Vec<Option<Target>> = paints
            .tubes
            .iter()
            .map(|it| Some(Target::of_constants(&it.constants, paints)))
            .collect();
        let shelf = Shelf {
            paints,
            targets: &targets,
            references: &[1, 2],
            is_confirmed: &|_, _| false,
            verdict: &|_| compare::Verdict::CannotTell,
        };
        shelf.keep_or_drop(Limits::default(), &mut |_| true).expect("not stopped")
    };
    let glaze = &verdicts(&paints)[0];
    assert_eq!(glaze.verdict, Keep::Keep, "{glaze:?}");
    assert!(glaze.film.is_some_and(|off| off > 4.0), "{glaze:?}");
    paints.tubes[4] = paints.tubes[0].clone();
    for kept in [&verdicts(&paints)[0], &verdicts(&paints)[4]] {
        let alone = kept.best.as_ref().is_some_and(|it| it.colours_in_it() == 1);
        assert!(!alone || kept.verdict == Keep::CannotTell, "{kept:?}");
    }
}

/// A typical paint in a recipe leaves more open than one that was read, by its load and by its hue.
#[test]
fn a_typical_paint_claims_less() {
    let mut paints = paints(&CODES);
    let shares = Shares::of(&[(0, 3.0), (5, 1.0)], 0.0);
    let width = |paints: &Paints| paints.width_of_looks(&shares, [0.0, 4.0]);
    let read = width(&paints);
    paints.tubes[5].load_sigma = Some(1e-6);
    let by_hue = width(&paints);
    paints.tubes[5].load_sigma = Some(mixing::typical::LOAD_SIGMA);
    let by_both = width(&paints);
    assert!(read + 0.2 < by_hue && by_hue + 1.0 < by_both, "{read} {by_hue} {by_both}");
}

/// Every colour of a family lies in its box, and a palette with blue and white hits skies.
#[test]
fn families_lie_in_their_boxes() {
    let sky = |lab: &Lab| {
        let hue = lab.hue().expect("a hue").degrees();
        (45.0..=88.0).contains(&lab.l)
            && (8.0..=38.0).contains(&lab.chroma())
            && (225.0..=275.0).contains(&hue)
    };
    assert!(Family::Skies.colours().iter().all(sky));
    assert!(Family::Neutrals.colours().iter().all(|lab| lab.chroma() <= 4.0));
    let paints = paints(&CODES);
    let all: Vec<usize> = (0..CODES.len()).collect();
    assert!(Family::Skies.hit(&paints, &all) > 0.8);
    for (degrees, name) in
        [(25.0, "red"), (90.0, "yellow"), (163.0, "green"), (250.0, "blue"), (340.0, "magenta")]
    {
        assert_eq!(hue_name(colour::Hue::from_degrees(degrees)), name);
    }
}
