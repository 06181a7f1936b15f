//! Tubes that mix exactly as Duncan (1940) has it: what one does of the other is known, and so is every refusal.

use crate::common::{Bench, close};
use colour::{Conditions, delta_e_ab};
use compare::{
    Apart, Bought, Origin, PartsBy, Subject, Told, Twins, Verdict, compare, drift, headline,
    shared_depths,
};
use mixing::{Geometry, Sheen};
use study::{Averages, Basis, FittedTubes, Mixture, Price, State, Study, TubeRef};

/// A study with what it tells.
struct Worked {
    study: Study,
    averages: Averages,
    fitted: FittedTubes,
}

impl Worked {
    fn of(study: Study) -> Self {
        let averages = Averages::of(&study);
        let fitted = FittedTubes::of(&study, &averages, State::Dry);
        Self { study, averages, fitted }
    }

    fn tube(&self, tube: usize) -> Subject<'_> {
        let told = Told {
            study: &self.study,
            averages: &self.averages,
            fitted: &self.fitted,
            instrument: Some("one meter"),
            sheen_stated: true,
        };
        Subject { told, tube: TubeRef(tube) }
    }
}

fn of_loads(loads: &[f64]) -> Worked {
    Worked::of(Bench::of_loads(loads).study)
}

#[test]
fn a_load_is_a_use() {
    for load in [0.3, 0.7, 1.0, 1.4, 3.0] {
        let worked = of_loads(&[1.0, load]);
        let twins = compare(&worked.tube(0), &worked.tube(1)).expect("comparable");
        close(twins.use_of_second * load, 1.0, 2e-3, "the use");
        let back = compare(&worked.tube(1), &worked.tube(0)).expect("comparable");
        close(back.use_of_second * twins.use_of_second, 1.0, 2e-3, "there and back");
        close(twins.distance.value, 0.0, 0.02, "nothing is left");
        // Their S is nothing beside their K, so neat they are one colour at any load; what a large shift by
        // prediction leaves open may be too much to tell.
        let verdict = twins.verdict();
        let is_far = load > 2.0 && verdict == Verdict::CannotTell;
        assert!(verdict == Verdict::OneIsEnough || is_far, "{load}: {verdict}");
        assert!(twins.cells.iter().all(|cell| cell.origin == Origin::Read));
        assert_eq!(twins.cells.len(), 5);
    }
    let worked = of_loads(&[1.0, 0.1]);
    let twins = compare(&worked.tube(0), &worked.tube(1)).expect("comparable");
    assert!(!twins.has_a_use(), "more than eight times is no figure: {}", twins.use_of_second);
}

/// What is no tube's own changes nothing: other tubes of the trial, the order of its readings, spectra or colours.
#[test]
fn what_stands_beside_changes_nothing() {
    let alone = of_loads(&[1.0, 0.7]);
    let among = of_loads(&[1.0, 0.7, 2.0, 0.4]);
    let of = |worked: &Worked| compare(&worked.tube(0), &worked.tube(1)).expect("comparable");
    let (one, other) = (of(&alone), of(&among));
    close(one.use_of_second, other.use_of_second, 1e-9, "the use");
    close(one.distance.half_width, other.distance.half_width, 1e-9, "its half-width");
    let mut turned = Bench::of_loads(&[1.0, 0.7]).study;
    turned.readings.reverse();
    close(of(&Worked::of(turned)).use_of_second, one.use_of_second, 1e-9, "in another order");
    let mut colours = Bench::of_loads(&[1.0, 0.7]);
    colours.keep_only_lab();
    let lab = of(&Worked::of(colours.study));
    close(lab.use_of_second, one.use_of_second, 0.06, "from colours alone");
}

/// One tube read in two trials is one, and has not changed.
#[test]
fn a_tube_is_its_own_twin_and_does_not_drift() {
    let (first, later) = (of_loads(&[1.0, 0.7]), of_loads(&[1.0, 0.7]));
    let twins = compare(&first.tube(1), &later.tube(1)).expect("two trials");
    close(twins.use_of_second, 1.0, 1e-3, "the use");
    assert!(twins.no_visible_difference() && twins.footing.added < 1e-9, "{twins:?}");
    assert_eq!(compare(&first.tube(1), &first.tube(1)), Err(Apart::Same));
    let (squares, _) = drift(&first.tube(1), &later.tube(1), false).expect("read twice");
    assert_eq!(squares.len(), 5);
    assert!(squares.iter().all(|it| it.is_visible() == Some(false) && it.off.value < 1e-9));
    // One that has faded to seven tenths is seen to: its tints, and not its mass tone.
    let (squares, _) = drift(&first.tube(0), &later.tube(1), true).expect("read twice");
    let seen = squares.iter().filter(|it| it.is_visible() == Some(true)).count();
    assert_eq!(seen, 4, "{squares:?}");
    assert_eq!(drift(&first.tube(0), &first.tube(0), false), Err(Apart::Same));
    // Amounts put out by eye again are off by more than such a change: nothing is claimed of its tints.
    let by_eye = |load: f64| {
        let mut study = Bench::of_loads(&[load]).study;
        study.protocol.basis = Basis::Eye;
        Worked::of(study)
    };
    let (first, later) = (by_eye(1.0), by_eye(0.8));
    let seen = |anew: bool| {
        let (squares, _) = drift(&first.tube(0), &later.tube(0), anew).expect("read twice");
        squares.iter().filter(|it| it.is_visible() == Some(true)).count()
    };
    assert_eq!((seen(false), seen(true)), (4, 0));
}

/// At equal depth two loads of one pigment are one colour, with parts of white in the ratio of their loads.
#[test]
fn at_equal_depth_strength_drops_out() {
    let worked = of_loads(&[1.0, 0.7]);
    let [one, other] = [0, 1].map(|at| worked.tube(at).by_depth(&worked.tube(0)).expect("tints"));
    let depths = shared_depths(&[&one, &other], 5);
    assert_eq!(depths.len(), 5);
    assert!(depths.is_sorted_by(|deeper, paler| deeper > paler));
    for depth in &depths {
        let [first, second] = [&one, &other].map(|it| it.at(*depth).expect("within"));
        close(second.white / first.white, 0.7, 0.01, "parts of white");
        close(delta_e_ab(first.lab, second.lab).value(), 0.0, 0.3, "the colour");
        let lean = second.lean_beside(&first).expect("two hues");
        assert!(lean.shift.abs() < lean.half_width, "{lean:?}");
    }
    // A tube far too strong shares no depth with one far too weak.
    let worked = of_loads(&[1.0, 0.01]);
    let [one, other] = [0, 1].map(|at| worked.tube(at).by_depth(&worked.tube(0)).expect("tints"));
    assert!(shared_depths(&[&one, &other], 5).is_empty());
}

/// Steps that only one tube was read in are predicted exactly here, and say that they were.
#[test]
fn other_parts_are_predicted() {
    let whole = of_loads(&[1.0, 0.7]);
    let mut fewer = Bench::of_loads(&[1.0, 0.7]).study;
    let white = TubeRef(2);
    // The second tube keeps its mass tone, 1 : 1 and 1 : 8.
    fewer.readings.retain(|reading| {
        let parts = reading.mixture.parts_of(white);
        reading.mixture.parts_of(TubeRef(1)) == 0.0 || ![2.0, 4.0].contains(&parts)
    });
    let fewer = Worked::of(fewer);
    let twins = compare(&fewer.tube(0), &fewer.tube(1)).expect("brought over");
    close(twins.use_of_second, 1.0 / 0.7, 3e-3, "the use");
    let brought = twins.cells.iter().filter(|cell| cell.origin == Origin::Between).count();
    assert_eq!((twins.cells.len(), brought), (5, 2));
    assert_eq!(twins.footing.brought_over, ["other parts, by K and S"]);
    let read = compare(&whole.tube(0), &whole.tube(1)).expect("read");
    assert!(twins.distance.half_width > read.distance.half_width);
    let steps = fewer.tube(1).steps(&fewer.tube(0));
    let told: Vec<(f64, bool)> = steps.iter().map(|it| (it.white, it.read.is_some())).collect();
    assert_eq!(told, [(0.0, true), (1.0, true), (2.0, false), (4.0, false), (8.0, true)]);
    let of_whole = whole.tube(1).steps(&whole.tube(0));
    for (brought, read) in steps.iter().zip(&of_whole) {
        close(delta_e_ab(brought.lab, read.lab).value(), 0.0, 0.05, "the colour");
    }
}

/// Everything that keeps two trials apart, and that the reason says what would help.
#[test]
fn two_trials_stand_apart_with_the_reason() {
    let first = of_loads(&[1.0, 0.7]);
    let changed = |change: &dyn Fn(&mut Study)| {
        let mut study = Bench::of_loads(&[1.0, 0.7]).study;
        change(&mut study);
        Worked::of(study)
    };
    let colours = |change: &dyn Fn(&mut Bench)| {
        let mut bench = Bench::of_loads(&[1.0, 0.7]);
        change(&mut bench);
        bench.keep_only_lab();
        Worked::of(bench.study)
    };
    let cases: [(Worked, &str); 7] = [
        (colours(&|bench| bench.study.conditions = Conditions::D65_2), "read one again"),
        (colours(&|bench| bench.study.protocol.geometry = Geometry::SphereIncluded), "without"),
        (changed(&|study| study.tubes[2].name = "Zinc".into()), "no tube was read with both"),
        (changed(&|study| study.white = None), "name it at the top of the file"),
        (changed(&|study| study.protocol.basis = Basis::Volume), "in the same way"),
        (changed(&|study| study.readings.retain(|it| it.mixture.parts().len() < 2)), "two tints"),
        (
            changed(&|study| {
                // Tints in the wrong places: no K and S gives these.
                let own = TubeRef(1);
                let tints = study.readings.iter_mut();
                for it in tints.filter(|it| it.mixture.parts_of(own) > 0.0) {
                    let parts = it.mixture.parts_of(TubeRef(2));
                    if parts > 0.0 {
                        it.mixture = Mixture::of(&[(own, 1.0), (TubeRef(2), 8.0 / parts)]);
                    }
                }
            }),
            "metallic, pearl or fluorescent",
        ),
    ];
    for (second, words) in &cases {
        let apart = compare(&first.tube(0), &second.tube(1)).expect_err(words);
        assert!(apart.to_string().contains(words), "{words}: {apart}");
    }
    // A sheen that nobody stated, where the geometry needs it.
    let sheenless = changed(&|study| {
        study.protocol.geometry = Geometry::FortyFive;
        study.protocol.sheen = Sheen::Satin;
    });
    let mut second = sheenless.tube(1);
    second.told.sheen_stated = false;
    assert_eq!(compare(&first.tube(0), &second), Err(Apart::Sheen));
    // The white itself has no strength.
    let apart = compare(&first.tube(0), &first.tube(2)).expect_err("the white");
    assert_eq!(apart, Apart::IsWhite("White".into()));
    // Another instrument costs what it is known to cost.
    let again = of_loads(&[1.0, 0.7]);
    let mut strange = again.tube(1);
    strange.told.instrument = Some("another meter");
    let twins = compare(&first.tube(0), &strange).expect("comparable");
    close(twins.footing.added, 0.85, 1e-9, "another instrument");
}

/// Several tubes in one sentence, those of one verdict together.
#[test]
fn tubes_of_one_verdict_stand_together() {
    let worked = of_loads(&[1.0, 0.7, 0.5, 1.2, 2.0]);
    let found: Vec<Twins> =
        (1..5).map(|at| compare(&worked.tube(0), &worked.tube(at)).expect("comparable")).collect();
    let names = ["Two", "Three", "Four", "Five"];
    let others: Vec<(&str, Result<&Twins, &Apart>)> =
        names.into_iter().zip(found.iter().map(Ok)).collect();
    let said = headline("One", &others[..2]);
    assert!(said.contains("do all that One does"), "{said}");
    assert!(
        headline("One", &others)
            .contains("Two (1.43 parts for 1), Three (2.00 parts for 1) and 2 more")
    );
    let unread = Apart::Unread("Six".into());
    let mixed = [others[0], ("Six", Err(&unread))];
    let said = headline("One", &mixed);
    assert!(said.ends_with("; Six cannot be compared yet."), "{said}");
    assert!(headline("One", &others[..1]).starts_with("One of the two is enough: one part of One"));
}

/// price / (ml · strength · ρ/ρ of the standard), worked out by hand.
#[test]
fn the_cost_of_the_same_work() {
    let standard = Bought { price: 9.8, volume_ml: 60.0, density_g_ml: Some(1.31) };
    let tube = Bought { price: 8.9, volume_ml: 120.0, density_g_ml: Some(1.25) };
    let worth = tube.worth(&standard, 1.45, [1.40, 1.50], PartsBy::Weight);
    close(worth.per_ml, 0.074_166_67, 1e-6, "a ml");
    // 0.0741667 · 1.45 · 1.31/1.25
    close(worth.as_strong, 0.112_703, 1e-5, "as strong");
    close(worth.does_ml, 78.968, 0.01, "120 ml do the work of so many");
    let by_volume = tube.worth(&standard, 1.45, [1.40, 1.50], PartsBy::Volume);
    close(by_volume.as_strong, 0.107_542, 1e-5, "by volume");
    let unknown = Bought { density_g_ml: None, ..tube };
    let guessed = unknown.worth(&standard, 1.45, [1.40, 1.50], PartsBy::Weight);
    assert!(guessed.guessed_density && !worth.guessed_density);
    // Half-widths of ln: volumes 3 % each, strength ± 3.45 %, density 25 %.
    let off = (2.0 * 0.03_f64.powi(2) + 0.0345_f64.powi(2) + 0.25_f64.powi(2)).sqrt();
    close(guessed.half_width / guessed.as_strong, off, 1e-3, "its half-width");
    close(tube.tinting_100_ml(8.0), 12.5 * 8.9 / 120.0, 1e-9, "tinting 100 ml");
    // Prices as people type them.
    for (text, amount, currency) in [
        ("9.80", 9.8, ""),
        ("9,80 €", 9.8, "€"),
        ("EUR 1.249,50", 1249.5, "EUR"),
        ("1,250 USD", 1250.0, "USD"),
        ("12 CHF", 12.0, "CHF"),
    ] {
        let price = Price::typed(text).expect(text);
        assert!((price.amount - amount).abs() < 1e-9 && price.currency == currency, "{price:?}");
    }
    for text in ["", "free", "0", "-", "."] {
        assert_eq!(Price::typed(text), None, "{text}");
    }
}
