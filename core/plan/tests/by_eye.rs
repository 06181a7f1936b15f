//! Plans of a painter with eyes, a knife and a sheet of paper.

use colour::Conditions;
use plan::prior::{Known, Prior};
use plan::steps::Steps;
use plan::{
    Cell, Chart, Design, Pace, PileKind, Plan, Question, Remark, Source, StepChoice, Supply, Tests,
    Thinning, Work,
};
use study::{Basis, Medium, Mixture, TubeRef};

/// A palette that many reviewers keep: a warm and a cool of each primary, an orange, a violet, an earth.
const PALETTE: [&str; 9] =
    ["PY3", "PY74", "PO62", "PR254", "PR122", "PV23", "PB29", "PB15:3", "PBr7"];

/// What is known of a new tube, nine references and a white: their Colour Index names.
fn prior(new: &str) -> Prior {
    let mut prior = Prior::nothing(11, Conditions::D65_10);
    for (place, name) in prior.tubes.iter_mut().zip([&[new], &PALETTE[..], &["PW6"]].concat()) {
        *place = Known::typical("", [name]).expect("a typical paint");
    }
    prior
}

fn by_eye(charts: Vec<Chart>) -> Design {
    Design {
        charts,
        white: Some(TubeRef(10)),
        thinning: Thinning::White { alone: vec![4.0], mixtures: vec![4.0], film: false },
        tests: Tests { opacity: false, lift: false, wet: false },
        anchors: false,
        dots: true,
        repeats: 0,
        supply: Supply { measure: Basis::Eye, places: 24, ..Supply::default() },
        pace: Pace::of(Medium::Acrylic).by_eye(),
        ..Design::default()
    }
}

fn star() -> Chart {
    let steps = Steps::Own(vec![(4.0, 1.0), (1.0, 4.0)]);
    Chart::Star {
        tested: vec![TubeRef(0)],
        references: (1..10).map(TubeRef).collect(),
        steps: StepChoice::Fixed(steps),
        third: None,
    }
}

/// Common practice, no source: a new tube against a nine-tube palette, both ways, each with white, is about
/// twenty minutes by eye; one tube at a time, a mixture, its tint at once, then the next; and a sheet is
/// filled from one end.
#[test]
fn a_star_of_nine_is_twenty_minutes() {
    for new in ["PG7", "PG36", "PR108", "PY43", "PBk9", "PV19", "PB28"] {
        let design = by_eye(vec![Chart::Tints(vec![TubeRef(0)]), star()]);
        let plan = Plan::new(&design, &prior(new), &[None; 11]).expect("a plan");
        let costs = &plan.costs;
        assert_eq!(costs.swatches, 9 * 2 * 2 + 2 + 1, "{new}");
        assert!(
            (15.0..=25.0).contains(&costs.table_minutes),
            "{new}: {} minutes with {} washes",
            costs.table_minutes,
            costs.clean_ups
        );
        assert!(costs.waiting_minutes == 0.0 && costs.readings == 0);
        // The squares are numbered as they are painted, and a pair is done before the next is opened.
        let turns: Vec<u32> = plan.turns().iter().map(|turn| turn.swatch.0).collect();
        let steps_back = turns.windows(2).filter(|pair| pair[1] + 4 < pair[0]).count();
        assert_eq!(steps_back, 0, "{new}: {turns:?}");
        let mut partners: Vec<Vec<TubeRef>> = Vec::new();
        for step in &plan.steps {
            let of = plan.makes(step).colours(design.white).map(|part| part.tube).collect();
            if partners.last() != Some(&of) {
                partners.push(of);
            }
        }
        let pairs = partners.iter().filter(|tubes| tubes.len() == 2).count();
        assert_eq!(pairs, 9, "{new}: {partners:?}");
        // A tint comes straight after what it is let down from.
        for (at, step) in plan.steps.iter().enumerate() {
            let Work::Mix(pile) = step.work else { continue };
            let pile = &plan[pile];
            let from = pile.components.iter().find_map(|(source, _)| match source {
                Source::Pile(of) if pile.kind == PileKind::Tint => Some(*of),
                _ => None,
            });
            let before = at.checked_sub(1).map(|at| &plan.steps[at].work);
            assert!(from.is_none_or(|of| before == Some(&Work::Mix(of))), "{new}, step {at}");
        }
        // Each reference is dabbed beside its row, once.
        let dabs =
            plan.turns().iter().filter(|turn| plan.dab_beside(turn.swatch).is_some()).count();
        assert_eq!(dabs, 9, "{new}");
    }
}

/// Nothing is asked for that a knife cannot do: each part is a few touches, knife tips, peas or hazelnuts.
#[test]
fn every_amount_can_be_counted_out() {
    let hand = Supply::default().hand;
    let even =
        Chart::Ladder { from: TubeRef(2), to: TubeRef(8), steps: StepChoice::Even(3), third: None };
    let plan = Plan::new(&by_eye(vec![star(), even]), &prior("PG7"), &[None; 11]).expect("a plan");
    for (source, ml) in plan.piles.iter().flat_map(|pile| pile.components) {
        let sizes = [hand.touch, hand.knife_tip, hand.pea, hand.hazelnut];
        let counted = sizes.iter().any(|size| {
            let count = ml / size;
            (count - count.round()).abs() < 1e-9 && (1.0..=8.0).contains(&count.round())
        });
        assert!(counted, "{source:?}: {ml} ml is {}", hand.words(ml));
    }
    let ladder = plan.ladders.last().expect("a ladder");
    for share in &ladder.shares {
        let ratio = (share / (1.0 - share)).max((1.0 - share) / share);
        assert!([1.0, 2.0, 3.0, 4.0, 8.0, 12.5, 50.0].iter().any(|it| (it - ratio).abs() < 1e-6));
    }
    assert!(ladder.unevenness().is_some(), "and it is said how even they still are");
}

/// A mixture that is tempered is mixed once, and each step takes of it: three piles of the same base would not
/// be the same. Worked by hand for one row without white: the base feeds its own square and two piles.
#[test]
fn tempering_takes_all_steps_from_one_base() {
    let base = [(TubeRef(2), 1.0), (TubeRef(8), 1.0)];
    let temper = Chart::Temper { base, temper: TubeRef(5), parts: vec![0.0, 0.08, 0.25] };
    let design = by_eye(vec![temper]);
    let plan = Plan::new(&design, &prior("PG7"), &[None; 11]).expect("a plan");
    let bases: Vec<usize> =
        (0..plan.piles.len()).filter(|at| plan.piles[*at].holds == Mixture::of(&base)).collect();
    assert_eq!(bases.len(), 1);
    let from_base = plan.piles.iter().filter(|pile| {
        pile.holds.parts_of(TubeRef(5)) > 0.0
            && pile
                .components
                .iter()
                .any(|(source, _)| *source == Source::Pile(plan::PileRef(bases[0])))
    });
    let taken: Vec<f64> = from_base
        .flat_map(|pile| pile.components)
        .filter(|(source, _)| *source == Source::Pile(plan::PileRef(bases[0])))
        .map(|(_, ml)| ml)
        .collect();
    assert_eq!(taken.len(), 2, "a touch, and more");
    let made = &plan.piles[bases[0]];
    assert!(made.need >= taken.iter().sum::<f64>() + design.supply.one_swatch());
    // None, a touch, more; the same with white; and the three tubes alone with theirs, and the white.
    assert_eq!(plan.costs.swatches, 3 + 3 + 3 * 2 + 1);
}

/// Charts of a whole palette: every pair once, three primaries, and up to twenty-four tubes.
#[test]
fn pairs_and_triads_have_their_squares() {
    let steps = StepChoice::Fixed(Steps::Quarters);
    let bare = |charts| Design { thinning: Thinning::None, ..by_eye(charts) };
    let five: Vec<TubeRef> = (1..6).map(TubeRef).collect();
    let pairs = Chart::Pairs { tubes: five, steps: steps.clone() };
    let triad = Chart::Triad { tubes: [TubeRef(1), TubeRef(4), TubeRef(8)], steps };
    for (what, chart, swatches) in [("pairs", pairs, 5 + 10 * 3), ("a triad", triad, 3 + 3 * 3 + 4)]
    {
        let plan = Plan::new(&bare(vec![chart]), &prior("PG7"), &[None; 11]).expect("a plan");
        let alike = plan.ladders.iter().filter(|ladder| ladder.alike.is_some()).count();
        assert_eq!(plan.costs.swatches + 2 * alike, swatches, "{what}");
        let squares = plan.rows.iter().flat_map(|row| &row.cells);
        let firsts = squares.filter(|cell| matches!(cell, Cell::First(_))).count();
        assert_eq!(firsts, plan.costs.swatches, "{what}");
    }
}

/// What cannot be compared is said before paint is spent.
#[test]
fn strength_takes_two_tubes_and_more_than_one_tint() {
    let said = |tubes: &[usize], alone: &[f64]| {
        let tubes = tubes.iter().copied().map(TubeRef).collect();
        let thinning = Thinning::White { alone: alone.to_vec(), mixtures: vec![], film: false };
        let question = Question::Stronger;
        let design = Design { question, thinning, ..by_eye(vec![Chart::Tints(tubes)]) };
        Plan::new(&design, &prior("PG7"), &[None; 11]).expect("a plan").remarks
    };
    assert!(said(&[0], &[1.0, 4.0, 16.0]).contains(&Remark::OneTube));
    assert!(said(&[0, 1], &[4.0]).contains(&Remark::OneTint));
    let enough = said(&[0, 1], &[1.0, 4.0, 16.0]);
    assert!(!enough.contains(&Remark::OneTube) && !enough.contains(&Remark::OneTint));
}

/// A thin film stands beside the tints where it is wanted; water colour has thick and wash, and no white.
#[test]
fn white_and_film_go_together() {
    let squares = |thinning: Thinning| {
        let white = matches!(thinning, Thinning::White { .. }).then_some(TubeRef(10));
        let design = Design { thinning, white, ..by_eye(vec![star()]) };
        Plan::new(&design, &prior("PG7"), &[None; 11]).expect("a plan").costs.swatches
    };
    let white = |film| Thinning::White { alone: vec![4.0], mixtures: vec![4.0], film };
    assert_eq!(squares(white(false)), 36 + 2 + 1);
    assert_eq!(squares(white(true)), 18 * 3 + 3 + 1);
    assert_eq!(squares(Thinning::Water), 18 * 2 + 2);
}
