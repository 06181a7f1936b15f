//! A whole plan: squares, piles, order and costs.

use std::sync::LazyLock;

use colour::Conditions;
use plan::amounts::Film;
use plan::prior::{Prior, learn};
use plan::steps::{Steps, StepsError};
use plan::{
    Cell, CellNumber, Chart, Design, Pace, PileKind, Plan, PlanError, Source, StepChoice,
    StepSource, Supply, Tests, Thinning, Third, Work,
};
use proptest::prelude::*;
use study::{Backing, Basis, FilmKind, Medium, Mixture, TubeLabel, TubeRef};

fn labels(names: &[&str]) -> Vec<TubeLabel> {
    let label = |name: &&str| TubeLabel { name: (*name).to_owned(), ..TubeLabel::default() };
    names.iter().map(label).collect()
}

/// Tubes 0 to 3 and a white, 4.
const WHITE: TubeRef = TubeRef(4);

fn design(charts: Vec<Chart>) -> Design {
    Design {
        charts,
        white: Some(WHITE),
        thinning: Thinning::White { alone: vec![1.0, 4.0, 16.0], mixtures: vec![1.0], film: false },
        tests: Tests { opacity: true, lift: false, wet: false },
        anchors: false,
        repeats: 3,
        alike: 3.0,
        supply: Supply::default(),
        pace: Pace::of(Medium::Acrylic),
        ..Design::default()
    }
}

fn star(tested: &[usize], references: &[usize], steps: Steps) -> Chart {
    let tubes = |list: &[usize]| list.iter().copied().map(TubeRef).collect();
    Chart::Star {
        tested: tubes(tested),
        references: tubes(references),
        steps: StepChoice::Fixed(steps),
        third: None,
    }
}

fn ladder(from: usize, to: usize, steps: StepChoice, third: Option<Third>) -> Chart {
    Chart::Ladder { from: TubeRef(from), to: TubeRef(to), steps, third }
}

fn nothing() -> Prior {
    Prior::nothing(5, Conditions::D65_10)
}

fn planned(design: &Design) -> Result<Plan, PlanError> {
    Plan::new(design, &nothing(), &[None; 5])
}

/// A workshop whose white and five flat paints have been read.
fn read() -> Prior {
    let mut bench = crate::common::Bench::new(&["A", "B", "C", "D", "White"], 4);
    let mass_tones =
        [[30.0, 15.0, -45.0], [85.0, 5.0, 85.0], [29.0, 15.5, -44.0], [45.0, 60.0, 35.0]];
    let tints = [[60.0, 0.0, -35.0], [93.0, 0.0, 40.0], [60.5, 0.0, -34.5], [75.0, 30.0, 8.0]];
    for (tube, (mass_tone, tint)) in mass_tones.into_iter().zip(tints).enumerate() {
        bench.lab(&[(tube, 1.0)], mass_tone);
        bench.lab(&[(tube, 1.0), (4, 8.0)], tint);
    }
    bench.lab(&[(4, 1.0)], [97.0, -0.5, 1.5]);
    learn(&bench.study)
}

/// Worked by hand: one swatch takes 0.1248 g (20 mm, 0.15 mm, 1.3 g/ml, 60 % waste), and 0.01 g
/// weighs 0.1 g well enough. Each tint 1 : 1 must be 0.2 g for that: 0.1 g of mixture, 0.1 g of
/// white. So each mixture must hold 0.1248 + 0.1 = 0.2248 g. 3 : 1 is weighable as 0.3 + 0.1 g;
/// 1 : 1 as 0.12 + 0.12 g. Tube 0: 0.3 + 0.12 + 0.1 = 0.52 g in mixtures.
#[test]
fn amounts_run_backwards_from_the_last_tint() {
    let plan = planned(&Design {
        thinning: Thinning::White { alone: vec![], mixtures: vec![1.0], film: false },
        tests: Tests { opacity: false, lift: false, wet: false },
        ..design(vec![star(&[0], &[1], Steps::Quarters)])
    })
    .expect("a plan");
    let amounts = |kind: PileKind, colours: usize| -> Vec<[f64; 2]> {
        let wanted = plan
            .piles
            .iter()
            .filter(|pile| pile.kind == kind && pile.holds.colours(Some(WHITE)).count() == colours);
        wanted.map(|pile| pile.components.map(|(_, amount)| amount)).collect()
    };
    let mut mixtures = amounts(PileKind::Mixture, 2);
    mixtures.sort_by(|one, other| one[0].total_cmp(&other[0]));
    assert_eq!(mixtures, [[0.12, 0.12], [0.3, 0.1], [0.3, 0.1]]);
    assert_eq!(amounts(PileKind::Tint, 2), [[0.1, 0.1]; 3]);
    // Each tube alone: 0.1248 g for its mass tone, 0.1 g for its tint 1 : 1.
    let of = |tube: usize| plan.costs.paint.iter().find(|need| need.tube.0 == tube).expect("used");
    assert!((of(0).amount - (0.52 + 0.1248 + 0.1)).abs() < 1e-9, "{:?}", of(0));
    assert!((of(0).millilitres - of(0).amount / 1.3).abs() < 1e-12);
    // The white: its mass tone and five tints.
    assert!((of(4).amount - (0.1248 + 0.5)).abs() < 1e-9);
    assert_eq!((plan.costs.swatches, plan.costs.piles), (1 + 1 + 2 * 2 + 3 * 2, 8));
}

#[test]
fn the_schools_have_their_squares() {
    let none = Tests { opacity: false, lift: false, wet: false };
    let bare = |charts| Design { tests: none, thinning: Thinning::None, ..design(charts) };
    let grid = |half| Chart::Grid { tubes: (0..4).map(TubeRef).collect(), half };
    let lone = |third| ladder(0, 1, StepChoice::Fixed(Steps::Tenths), third);
    let third = Some(Third { tube: TubeRef(2), share: 0.2 });
    // Swatches that are read, squares on the sheets; one bare paper each.
    let cases = [
        ("half grid", bare(vec![grid(true)]), 1 + 4 + 6, 1 + 4 + 10),
        ("full grid", bare(vec![grid(false)]), 1 + 4 + 6, 1 + 4 + 16),
        ("tenths", bare(vec![lone(None)]), 1 + 2 + 9, 1 + 2 + 9),
        ("with anchors", Design { anchors: true, ..bare(vec![lone(None)]) }, 12, 14),
        // The ends hold the third tube, so they are mixtures of their own.
        ("a third tube", bare(vec![lone(third)]), 1 + 2 + 11, 1 + 2 + 11),
        ("tints", design(vec![Chart::Tints(vec![TubeRef(0)])]), 3 + 3 + 3 + 3, 12),
        (
            "thick and wash",
            Design { thinning: Thinning::Water, tests: none, ..design(vec![lone(None)]) },
            1 + 2 * 2 + 2 * 9,
            23,
        ),
        // Bare, white, tube 0 with three tints and one more of the mixtures' own, tube 1 with one.
        (
            "star and tints",
            design(vec![star(&[0], &[1], Steps::Quarters), Chart::Tints(vec![TubeRef(0)])]),
            3 + 3 + 6 + 4 + 6,
            22,
        ),
    ];
    for (name, design, swatches, squares) in cases {
        let plan = planned(&design).expect(name);
        assert_eq!((plan.costs.swatches, plan.costs.squares), (swatches, squares), "{name}");
        assert_eq!(plan.swatches.len(), swatches, "{name}");
    }
}

#[test]
fn what_cannot_be_planned_is_said() {
    let quarters = || StepChoice::Fixed(Steps::Quarters);
    let with = |charts| design(charts);
    let tubes = |count: usize| (0..count).map(TubeRef).collect::<Vec<_>>();
    let film = |film: Film, resolution: f64, places: usize| Design {
        supply: Supply { film, resolution, places, ..Supply::default() },
        ..design(vec![star(&[0], &[1], Steps::Quarters)])
    };
    let cases = [
        (with(vec![]), PlanError::NothingChosen),
        (with(vec![ladder(0, 0, quarters(), None)]), PlanError::AgainstItself(TubeRef(0))),
        (with(vec![star(&[4], &[1], Steps::Quarters)]), PlanError::WhiteTested),
        (
            with(vec![ladder(0, 1, quarters(), Some(Third { tube: TubeRef(1), share: 0.2 }))]),
            PlanError::Third(TubeRef(1)),
        ),
        (
            Design { white: None, ..with(vec![star(&[0], &[1], Steps::Quarters)]) },
            PlanError::NoWhite,
        ),
        (
            with(vec![star(&[0], &[1], Steps::Own(vec![(0.0, 0.0)]))]),
            PlanError::Steps(StepsError::Parts(1)),
        ),
        (with(vec![Chart::Grid { tubes: tubes(40), half: true }]), PlanError::GridTooLarge(40)),
        (film(Film { side_mm: 0.0, ..Film::default() }, 0.01, 9), PlanError::Film),
        (
            film(Film::default(), 0.0, 9),
            PlanError::Amount(plan::amounts::AmountError::NoScale(0.0)),
        ),
        (film(Film::default(), 0.01, 1), PlanError::TooFewPlaces { places: 1, needed: 2 }),
        (
            Design {
                thinning: Thinning::White { alone: vec![0.01], mixtures: vec![], film: false },
                ..with(vec![star(&[0], &[1], Steps::Quarters)])
            },
            PlanError::Whites(0.01),
        ),
    ];
    for (design, expected) in cases {
        assert_eq!(planned(&design).err(), Some(expected.clone()));
        // Each says what would work.
        let words = expected.to_string();
        assert!(
            ["choose", "must be", "write", "takes up to", "give", "use one"]
                .iter()
                .any(|remedy| words.contains(remedy)),
            "{words}"
        );
    }
    let million = Steps::Doublings(20);
    let many = design((0..300).map(|_| star(&[0], &[1], million.clone())).collect());
    assert!(matches!(planned(&many), Err(PlanError::TooMany(found)) if found > 12_000));
}

#[test]
fn pairs_that_teach_nothing_become_one_swatch() {
    let plan = Plan::new(
        &design(vec![star(&[0], &[1, 2], Steps::Tenths)]),
        &read(),
        &[Some(0.05), Some(60.0), None, None, Some(200.0)],
    )
    .expect("a plan");
    let [far, near] = plan.ladders.as_slice() else { panic!("two ladders") };
    assert_eq!((far.shares.len(), far.alike), (9, None));
    assert_eq!(near.shares, [0.5]);
    let said: Vec<String> =
        plan.remarks.iter().map(|it| it.sentence(&labels(&["A", "B", "C", "D", "W"]))).collect();
    assert!(said.iter().any(|words| words.starts_with("A and C look nearly alike")), "{said:?}");
    assert!(said[0].starts_with("Not enough left in A: the plan takes"), "{said:?}");
    // Everything is known, so the order is by residue, and some steps need no clean knife.
    assert!(!said.iter().any(|words| words.contains("custom")), "{said:?}");
    assert!(plan.steps.iter().skip(1).all(|step| step.residue.is_some()));
}

/// One tube at a time, each tint right after its mixture, opacity when the rest of the tube is done, and a cloth
/// for the knife between two colours that do not show in each other (common practice, no source).
#[test]
fn the_tubes_are_worked_one_after_the_other() {
    let thinning = Thinning::White { alone: vec![1.0, 4.0], mixtures: vec![4.0], film: false };
    let design = Design {
        thinning,
        tests: Tests { opacity: true, lift: false, wet: false },
        ..design(vec![star(&[0, 1], &[2, 3], Steps::Quarters)])
    };
    for prior in [read(), nothing()] {
        let plan = Plan::new(&design, &prior, &[None; 5]).expect("a plan");
        let white = design.white;
        let tried = |mixture: &Mixture| match mixture.colours(white).collect::<Vec<_>>()[..] {
            [one, _] => Some(one.tube),
            [one] if one.tube.0 < 2 => Some(one.tube),
            _ => None,
        };
        let mut blocks: Vec<Option<TubeRef>> =
            plan.steps.iter().map(|step| tried(&plan.makes(step))).collect();
        blocks.dedup();
        // The references and the white alone, then tube after tube.
        assert_eq!(blocks, [None, Some(TubeRef(0)), Some(TubeRef(1))]);
        for (at, step) in plan.steps.iter().enumerate() {
            let pile = match step.work {
                Work::Mix(pile) => &plan[pile],
                Work::Straight { .. } => continue,
            };
            if pile.kind == PileKind::Tint && pile.holds.colours(white).count() == 2 {
                let before = plan.makes(&plan.steps[at - 1]);
                let ratio =
                    |mixture: &Mixture| Mixture::new(mixture.colours(white).copied()).ratio_key();
                assert_eq!(ratio(&pile.holds), ratio(&before), "a tint follows its mixture");
                assert!(!step.wipe && !step.clean, "nothing to wipe off");
            }
        }
        let backing = |cell: &CellNumber| plan.swatch(*cell).expect("there").backing;
        for tube in [TubeRef(0), TubeRef(1)] {
            let last = plan.steps.iter().rfind(|step| tried(&plan.makes(step)) == Some(tube));
            let Some(Work::Straight { cells, .. }) = last.map(|step| &step.work) else {
                panic!("over black and white at the end");
            };
            assert_eq!(
                cells.iter().map(backing).collect::<Vec<_>>(),
                [Backing::White, Backing::Black]
            );
        }
        assert!(plan.steps.iter().all(|step| !(step.wipe && step.clean)));
        assert!(
            !plan.steps[0].wipe && plan.steps.iter().skip(1).any(|step| step.wipe || step.clean)
        );
    }
}

#[test]
fn even_steps_say_where_they_come_from() {
    let even = |prior: &Prior| {
        let plan =
            Plan::new(&design(vec![ladder(0, 1, StepChoice::Even(3), None)]), prior, &[None; 5]);
        plan.expect("a plan").ladders.remove(0)
    };
    let unknown = even(&nothing());
    assert_eq!((unknown.source, unknown.shares), (StepSource::Geometric, vec![0.25, 0.5, 0.75]));
    let known = even(&read());
    assert_eq!(known.source, StepSource::Strengths);
    // Blue swamps yellow, so quarters jump at its end.
    let (even, quarters) = (known.unevenness(), known.quarters_unevenness());
    assert!(even.expect("predicted") < 1.1 && quarters.expect("predicted") > 1.6, "{known:?}");
    assert!(known.shares[0] > 0.4, "{known:?}");
}

/// Charts of every kind, with any scale, palette and whites.
fn any_design() -> impl Strategy<Value = Design> {
    let steps = prop_oneof![
        Just(StepChoice::Fixed(Steps::Quarters)),
        (1..6_usize).prop_map(|count| StepChoice::Fixed(Steps::Doublings(count))),
        (1..7_usize).prop_map(StepChoice::Even),
        (1.0..400.0_f64)
            .prop_map(|parts| StepChoice::Fixed(Steps::Own(vec![(1.0, parts), (parts, 1.0)]))),
    ];
    let third =
        prop::option::of((0.02..0.9_f64).prop_map(|share| Third { tube: TubeRef(3), share }));
    let chart = (steps, third, 0..3_usize).prop_map(|(steps, third, kind)| match kind {
        0 => Chart::Star {
            tested: vec![TubeRef(0)],
            references: vec![TubeRef(1), TubeRef(2)],
            steps,
            third,
        },
        1 => Chart::Ladder { from: TubeRef(2), to: TubeRef(1), steps, third },
        _ => Chart::Grid { tubes: (0..4).map(TubeRef).collect(), half: third.is_some() },
    });
    let whites = prop::collection::vec(0.2..40.0_f64, 0..4);
    (
        prop::collection::vec(chart, 1..4),
        (whites.clone(), whites),
        prop::sample::select(vec![Basis::Weight, Basis::Volume, Basis::Eye]),
        prop::sample::select(vec![0.001, 0.01, 0.1]),
        (6..20_usize, 0.0..3.0_f64, any::<bool>()),
    )
        .prop_map(
            |(charts, (alone, mixtures), measure, resolution, (places, least_pile, anchors))| {
                Design {
                    thinning: Thinning::White { alone, mixtures, film: false },
                    anchors,
                    supply: Supply { measure, resolution, places, least_pile, ..Supply::default() },
                    ..design(charts)
                }
            },
        )
}

proptest! {
    /// Whatever is planned: every square is painted once from something that holds its mixture,
    /// nothing is taken that is not there, the sums are the sums, and the palette is never over-full.
    #[test]
    fn every_number_adds_up(design in any_design(), known in any::<bool>()) {
        static READ: LazyLock<Prior> = LazyLock::new(read);
        let prior = if known { READ.clone() } else { nothing() };
        let plan = Plan::new(&design, &prior, &[None; 5]).expect("a plan");
        let step = match design.supply.measure { Basis::Eye => 1e-9, _ => design.supply.resolution };
        let one = design.supply.one_swatch();
        let mut painted: Vec<CellNumber> = Vec::new();
        let (mut of_tubes, mut of_piles) = ([0.0; 5], vec![0.0; plan.piles.len()]);
        let mut made = vec![false; plan.piles.len()];
        // What is really in each pile, from the amounts alone.
        let mut content = vec![[0.0; 5]; plan.piles.len()];
        // How many mixings stand behind each pile.
        let mut depth = vec![0_u8; plan.piles.len()];
        let mut palette = vec![None; design.supply.places];
        for work in &plan.steps {
            if let Some(kept) = &work.clear {
                palette.fill(None);
                for (place, pile) in kept.iter().enumerate() {
                    palette[place] = Some(*pile);
                }
            }
            match &work.work {
                Work::Straight { tube, cells } => {
                    for cell in cells {
                        let swatch = plan.swatch(*cell).expect("a swatch");
                        prop_assert_eq!(&swatch.mixture, &Mixture::neat(*tube));
                    }
                    of_tubes[tube.0] += one * cells.len() as f64;
                    painted.extend(cells);
                }
                Work::Mix(at) => {
                    let pile = &plan[*at];
                    for (source, amount) in pile.components {
                        prop_assert!(amount > 0.0);
                        match source {
                            Source::Tube(tube) => {
                                of_tubes[tube.0] += amount;
                                content[at.0][tube.0] += amount;
                            }
                            Source::Pile(of) => {
                                prop_assert!(made[of.0] && palette.contains(&Some(of)));
                                of_piles[of.0] += amount;
                                let (taken, whole) = (content[of.0], content[of.0].iter().sum::<f64>());
                                for (here, there) in content[at.0].iter_mut().zip(taken) {
                                    *here += amount * there / whole;
                                }
                            }
                        }
                    }
                    depth[at.0] = 1 + pile.components.iter().map(|(source, _)| match source {
                        Source::Tube(_) => 0,
                        Source::Pile(of) => depth[of.0],
                    }).max().unwrap_or(0);
                    // Each mixing may miss its ratio by 8 %; a scale does better, two heaps do not.
                    let miss = 0.08 * f64::from(depth[at.0].min(match design.supply.measure { Basis::Eye => 3, _ => 2 }));
                    let whole: f64 = content[at.0].iter().sum();
                    for part in pile.holds.parts() {
                        let (meant, found) = (part.parts / pile.holds.total(), content[at.0][part.tube.0] / whole);
                        prop_assert!((found / meant).ln().abs() < miss, "{pile:?} holds {found}, not {meant}");
                    }
                    for cell in &pile.cells {
                        let swatch = plan.swatch(*cell).expect("a swatch");
                        prop_assert_eq!(swatch.mixture.ratio_key(), pile.holds.ratio_key());
                    }
                    of_piles[at.0] += one * pile.cells.len() as f64;
                    painted.extend(&pile.cells);
                    made[at.0] = true;
                    let place = work.place.expect("a pile has its place");
                    prop_assert!(palette[place].is_none());
                    palette[place] = Some(*at);
                }
            }
        }
        for (pile, taken) in plan.piles.iter().zip(of_piles) {
            // By eye a heap is as near as it can be counted out; the need allows for what stays on the knife.
            let enough = if design.is_by_eye() { 0.8 } else { 1.0 };
            let least = enough * taken.max(pile.need);
            prop_assert!(pile.total() + 2.0 * step >= least, "{pile:?} gives {taken}");
        }
        // At the bench each swatch has one turn, its pile is mixed by then, and bare backings come last.
        let turns = plan.turns();
        let mut numbers: Vec<CellNumber> = turns.iter().map(|turn| turn.swatch).collect();
        let place = |turn: &plan::Turn| turn.step.map_or(plan.steps.len(), |step| step.0);
        prop_assert!(turns.windows(2).all(|pair| place(&pair[0]) <= place(&pair[1])));
        for turn in &turns {
            let swatch = plan.swatch(turn.swatch).expect("a swatch");
            match turn.step {
                None => prop_assert!(swatch.mixture.is_bare()),
                Some(step) => {
                    let made = plan.makes(&plan[step]);
                    prop_assert_eq!(made.ratio_key(), swatch.mixture.ratio_key());
                }
            }
        }
        numbers.sort_unstable();
        prop_assert!(numbers.iter().map(|it| it.0).eq(1..=plan.swatches.len() as u32));
        for need in &plan.costs.paint {
            prop_assert!((need.amount - of_tubes[need.tube.0]).abs() < 1e-9);
        }
        prop_assert!((plan.costs.paint.iter().map(|it| it.amount).sum::<f64>() - of_tubes.iter().sum::<f64>()).abs() < 1e-9);
        let mut squares: Vec<CellNumber> = plan
            .rows
            .iter()
            .flat_map(|row| &row.cells)
            .filter_map(|cell| match cell { Cell::First(at) | Cell::Again(at) => Some(*at), Cell::Dot(_) | Cell::Gap => None })
            .filter(|at| !plan.swatch(*at).expect("a swatch").mixture.is_bare())
            .collect();
        painted.sort_unstable();
        squares.sort_unstable();
        prop_assert_eq!(painted, squares);
        prop_assert!(plan.steps.iter().filter(|it| it.clean).count() == plan.costs.clean_ups);
        // Once more from its own record, as it is stored.
        let text = serde_json::to_string(&plan).expect("JSON");
        prop_assert_eq!(serde_json::from_str::<Plan>(&text).expect("a plan"), plan);
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
        (
            Mixture::of(&[(a, 1.0 / 7.0), (b, 6.0 / 7.0)]),
            paper,
            full,
            "Canopy Ultramarine + Lantern Yellow",
            "1 : 6",
        ),
    ];
    let naming = plan::Naming { tubes, white: Some(white), ..plan::Naming::default() };
    for (mixture, backing, film, names, ratio) in cases {
        let label = naming.mixture(&mixture, backing, film);
        assert_eq!((label.tubes.as_str(), label.ratio.as_str()), (names, ratio));
    }
    let percent = plan::Naming { ratios: study::numbers::Ratios::Percent, ..naming };
    let tint = Mixture::of(&[(a, 3.0), (b, 1.0), (white, 16.0)]);
    assert_eq!(percent.pile(&tint).ratio, "75 : 25 % with white 1 : 4");
}
