//! A trial at the bench: what was really done, what comes next, and what a redo takes.

use std::sync::Arc;

use crate::common::close;
use bench::{
    BenchEvent, EntryId, LogEntry, Made, Next, ReadBy, ReadingId, Run, TILE_EVERY, Taken, Task,
    Tile, Time, drifts, tile_due,
};
use colour::{Conditions, Reflectance};
use plan::prior::Prior;
use plan::steps::Steps;
use plan::{
    CellNumber, Chart, Design, Pace, PileRef, Plan, Source, StepChoice, StepRef, Tests, Thinning,
    Work,
};
use proptest::prelude::*;
use study::{Backing, Basis, Medium, Mixture, RatioError, State, TubeRef};

const BLUE: TubeRef = TubeRef(0);
const YELLOW: TubeRef = TubeRef(1);
const WHITE: TubeRef = TubeRef(2);
const OTHER_BLUE: TubeRef = TubeRef(3);
const START: Time = Time(0);

/// Blue against yellow in quarters, each with white 1 : 1.
fn design(tests: Tests, thinning: Thinning) -> Arc<Design> {
    Arc::new(Design {
        charts: vec![
            Chart::Tints(vec![BLUE]),
            Chart::Star {
                tested: vec![BLUE],
                references: vec![YELLOW],
                steps: StepChoice::Fixed(Steps::Quarters),
                third: None,
            },
        ],
        white: Some(WHITE),
        thinning,
        tests,
        anchors: false,
        repeats: 2,
        pace: Pace::of(Medium::Acrylic),
        ..Design::default()
    })
}

fn tinted() -> Arc<Design> {
    let thinning = Thinning::White { alone: vec![1.0], mixtures: vec![1.0], film: false };
    design(Tests { opacity: true, lift: false, wet: false }, thinning)
}

fn planned(design: &Design) -> Arc<Plan> {
    let prior = Prior::nothing(4, Conditions::D65_10);
    Arc::new(Plan::new(design, &prior, &[None; 4]).expect("a plan"))
}

/// A log as it grows.
#[derive(Default)]
struct Log(Vec<LogEntry>);

impl Log {
    fn add(&mut self, event: BenchEvent, at: Time) {
        let id = EntryId(self.0.len() as i64 + 1);
        self.0.push(LogEntry { id, batch: id, event, at, after: None, void: None });
    }

    fn made(&mut self, step: StepRef, how: Basis, parts: &[(Source, f64)]) {
        self.add(
            BenchEvent::Made(Made { step, how, parts: parts.to_vec(), simulated: false }),
            START,
        );
    }
}

/// The swatch of this mixture over paper, and the step that it is painted in.
fn square(plan: &Plan, parts: &[(TubeRef, f64)]) -> (CellNumber, StepRef) {
    let wanted = Mixture::of(parts).ratio_key();
    let found = plan
        .swatches
        .iter()
        .find(|swatch| swatch.mixture.ratio_key() == wanted && swatch.backing == Backing::Paper);
    let number = found.expect("planned").number;
    let turn = plan.turns().into_iter().find(|turn| turn.swatch == number).expect("its turn");
    (number, turn.step.expect("painted"))
}

fn pile_of(plan: &Plan, step: StepRef) -> PileRef {
    match plan[step].work {
        Work::Mix(pile) => pile,
        Work::Straight { .. } => unreachable!("{step:?} mixes nothing"),
    }
}

fn shares(mixture: &Mixture) -> Vec<(TubeRef, f64)> {
    mixture.parts().iter().map(|part| (part.tube, part.parts / mixture.total())).collect()
}

#[test]
fn what_was_weighed_goes_on_into_the_tints() {
    let design = tinted();
    let plan = planned(&design);
    let (mass, base_mix) = square(&plan, &[(BLUE, 1.0), (YELLOW, 1.0)]);
    let (tint, with_white) = square(&plan, &[(BLUE, 0.5), (YELLOW, 0.5), (WHITE, 1.0)]);
    let blue_and_yellow =
        |blue: f64, yellow: f64| [(Source::Tube(BLUE), blue), (Source::Tube(YELLOW), yellow)];
    let half = RatioError::Known(0.01 / 12.0_f64.sqrt() * (1.0_f64 / 0.15).hypot(1.0 / 0.3));

    // Blue 0.15 g and yellow 0.30 g in place of equal weights: 1 : 2, and 1 : 2 : 3 with white.
    let mut log = Log::default();
    log.made(base_mix, Basis::Weight, &blue_and_yellow(0.15, 0.3));
    log.made(with_white, Basis::Weight, &[]);
    for swatch in [mass, tint] {
        log.add(BenchEvent::Laid { swatch }, START);
    }
    let run = Run::new(&plan, &design, &log.0, &[]);
    let found = shares(run.mixture(mass).expect("laid"));
    close(found[0].1, 1.0 / 3.0, 1e-9, "blue");
    let white = plan[pile_of(&plan, with_white)].components;
    let [white, of_base] = white.map(|(_, amount)| amount);
    let found = shares(run.mixture(tint).expect("laid"));
    close(found[0].1, of_base / 3.0 / (white + of_base), 1e-9, "blue in the tint");
    close(found[2].1, white / (white + of_base), 1e-9, "white in the tint");
    // The ratio of the colours was decided in the first pile, with both their roundings.
    for swatch in [mass, tint] {
        let (RatioError::Known(found), RatioError::Known(wanted)) = (run.ratio_error(swatch), half)
        else {
            panic!("weighed");
        };
        close(found, wanted, 1e-12, "ratio error");
    }

    // What was done as planned holds exactly what was planned.
    let mut log = Log::default();
    log.made(base_mix, Basis::Weight, &[]);
    log.add(BenchEvent::Laid { swatch: mass }, START);
    let run = Run::new(&plan, &design, &log.0, &[]);
    assert_eq!(run.mixture(mass), plan.swatch(mass).map(|it| &it.mixture));

    // By eye it is only meant, in the tint as well; and another tube is another tube.
    let mut log = Log::default();
    log.made(base_mix, Basis::Eye, &[(Source::Tube(OTHER_BLUE), 1.0), (Source::Tube(YELLOW), 1.0)]);
    log.made(with_white, Basis::Weight, &[]);
    log.add(BenchEvent::Laid { swatch: tint }, START);
    let run = Run::new(&plan, &design, &log.0, &[]);
    assert_eq!(run.ratio_error(tint), RatioError::ByEye);
    let held = run.mixture(tint).expect("laid");
    assert_eq!((held.parts_of(BLUE), held.parts_of(OTHER_BLUE) > 0.0), (0.0, true));

    // One tube in both places: 0.1 and 0.2 make 0.3, as it is written to a file.
    let mut twice = Log::default();
    twice.made(base_mix, Basis::Weight, &[0.1, 0.2].map(|amount| (Source::Tube(YELLOW), amount)));
    twice.add(BenchEvent::Laid { swatch: mass }, START);
    let run = Run::new(&plan, &design, &twice.0, &[]);
    assert_eq!(run.mixture(mass).expect("laid").parts_of(YELLOW).to_string(), "0.3");

    // What is mixed anew later does not change what was painted before.
    log.made(base_mix, Basis::Weight, &[]);
    assert_eq!(Run::new(&plan, &design, &log.0, &[]).ratio_error(tint), RatioError::ByEye);
    // A line that is taken back was never done.
    log.0[0].void = Some("taken back".into());
    let run = Run::new(&plan, &design, &log.0[..3], &[]);
    assert!(matches!(run.ratio_error(tint), RatioError::Known(_)));
}

#[test]
fn what_a_swatch_is_taken_from_is_made_first() {
    let design = tinted();
    let plan = planned(&design);
    let (mass, base_mix) = square(&plan, &[(BLUE, 1.0), (YELLOW, 1.0)]);
    let (tint, with_white) = square(&plan, &[(BLUE, 0.5), (YELLOW, 0.5), (WHITE, 1.0)]);
    let to_make = |log: &Log, taken: &[Taken], swatch| {
        Run::new(&plan, &design, &log.0, taken).to_make(swatch)
    };
    // A mixture that was left out is mixed for its tint, once.
    let mut log = Log::default();
    log.add(BenchEvent::Skipped { swatch: mass }, START);
    assert_eq!(to_make(&log, &[], tint), [base_mix, with_white]);
    log.made(base_mix, Basis::Weight, &[]);
    assert_eq!(to_make(&log, &[], tint), [with_white]);
    assert_eq!(to_make(&log, &[], mass), []);
    // What was read has been mixed, whether that was said or not.
    let read =
        [Taken { swatch: mass, state: State::Dry, at: START, void: false, by: ReadBy::Meter }];
    assert_eq!(to_make(&Log::default(), &read, tint), [with_white]);
}

/// A picture is no repeat: one of them is enough, also where it says that it cannot tell the colour.
#[test]
fn a_picture_leaves_nothing_to_be_read() {
    let design = tinted();
    let plan = planned(&design);
    let (mass, _) = square(&plan, &[(BLUE, 1.0), (YELLOW, 1.0)]);
    let reads = |by: ReadBy| {
        let taken = Taken { swatch: mass, state: State::Dry, at: START, void: false, by };
        let left = Run::new(&plan, &design, &[], &[taken]).left(mass);
        left.iter().filter(|it| it.task == Task::Read(State::Dry)).count()
    };
    let repeats = design.repeats as usize;
    assert!(repeats > 1);
    assert_eq!(reads(ReadBy::Meter), repeats - 1);
    assert_eq!((reads(ReadBy::Picture), reads(ReadBy::NotInPicture)), (0, 0));
}

/// One swatch takes 0.1248 g. The mixture 1 : 1 is 0.24 g: its own swatch, and 0.1 g for its tint.
#[test]
fn a_redo_says_how_much_more_and_whether_enough_is_left() {
    let design = tinted();
    let plan = planned(&design);
    let (mass, base_mix) = square(&plan, &[(BLUE, 1.0), (YELLOW, 1.0)]);
    let (tint, with_white) = square(&plan, &[(BLUE, 0.5), (YELLOW, 0.5), (WHITE, 1.0)]);
    let one = design.supply.one_swatch();
    close(one, 0.1248, 1e-9, "one swatch");
    let (pile, tint_pile) = (&plan[pile_of(&plan, base_mix)], &plan[pile_of(&plan, with_white)]);
    let of_base = tint_pile.components[1].1;
    let mut log = Log::default();
    log.made(base_mix, Basis::Weight, &[]);
    log.add(BenchEvent::Laid { swatch: mass }, START);
    log.add(BenchEvent::Spoilt { swatch: mass, reason: "a trace of red".into() }, Time(1));

    // Once spoilt, the tint's share is still owed: what is left does not feed both.
    let redo = Run::new(&plan, &design, &log.0, &[]).redo(mass, &[None; 4]).expect("spoilt");
    close(redo.left, pile.total() - one, 1e-9, "left");
    close(redo.owed, of_base, 1e-9, "owed");
    let again: f64 = redo.again.iter().map(|(_, amount)| amount).sum();
    assert!(again >= redo.takes + redo.owed - redo.left, "{redo:?}");
    for (_, amount) in &redo.again {
        assert!(*amount >= 0.1, "0.01 g weighs {amount} g too badly");
    }
    close(redo.again[0].1, redo.again[1].1, 1e-9, "1 : 1");
    assert_eq!(redo.lacking, []);

    // After the tint is made, enough is lacking still, and the yellow tube is empty.
    log.made(with_white, Basis::Weight, &[]);
    log.add(BenchEvent::Laid { swatch: tint }, Time(2));
    let run = Run::new(&plan, &design, &log.0, &[]);
    let redo = run.redo(mass, &[Some(60.0), Some(0.2), Some(60.0), None]).expect("spoilt");
    close(redo.owed, 0.0, 1e-9, "nothing owed");
    assert_eq!(redo.lacking.len(), 1, "{redo:?}");
    assert_eq!(redo.lacking[0].0, Source::Tube(YELLOW));
    assert_eq!(run.redo(tint, &[None; 4]), None);

    // Mixed and laid again, it is as any other, and the reason stays.
    log.made(base_mix, Basis::Weight, &redo.again);
    log.add(BenchEvent::Laid { swatch: mass }, Time(3));
    let run = Run::new(&plan, &design, &log.0, &[]);
    assert_eq!(run.redo(mass, &[None; 4]), None);
    assert_eq!(run.square(mass).expect("there").spoilt, ["a trace of red"]);
}

/// Carries out whatever comes next until nothing does; the clock stands still while working.
fn work_through(
    design: &Arc<Design>,
    plan: &Arc<Plan>,
    skip: &[CellNumber],
) -> (Vec<(CellNumber, Task)>, Log, Vec<Taken>) {
    let (mut log, mut taken, mut done) = (Log::default(), Vec::new(), Vec::new());
    let mut now = START;
    for swatch in skip {
        log.add(BenchEvent::Skipped { swatch: *swatch }, now);
    }
    for _ in 0..10_000 {
        let run = Run::new(plan, design, &log.0, &taken);
        match run.next(now) {
            Next::Finished => return (done, log, taken),
            Next::Wait { until, .. } => {
                assert!(until > now, "nothing to wait for");
                now = until;
            }
            Next::Do { swatch, task } => {
                let due = run.left(swatch)[0].due;
                assert!(due.is_none_or(|due| due <= now), "{swatch} is not dry yet");
                done.push((swatch, task));
                match task {
                    Task::Lay => log.add(BenchEvent::Laid { swatch }, now),
                    Task::Read(state) => {
                        taken.push(Taken { swatch, state, at: now, void: false, by: ReadBy::Meter })
                    }
                    Task::Lift => log.add(BenchEvent::Lifted { swatch }, now),
                    Task::Bar => {
                        let shows = bench::BarShows::Trace;
                        log.add(BenchEvent::Bar { swatch, shows }, now);
                    }
                    Task::Grain => {
                        let grain = bench::Grain::Slight;
                        log.add(BenchEvent::Grain { swatch, grain }, now);
                    }
                }
            }
        }
    }
    unreachable!("it never ends");
}

proptest! {
    /// Whatever is tested, each swatch is painted once in the order of the plan and read as often
    /// as planned in each state, and nothing is read before it is dry.
    #[test]
    fn every_run_comes_to_its_end(
        opacity: bool, lift: bool, wet: bool, water: bool,
        skip in prop::collection::vec((4_u32..12).prop_map(CellNumber), 0..3),
    ) {
        let thinning = if water {
            Thinning::Water
        } else {
            Thinning::White { alone: vec![1.0, 4.0], mixtures: vec![1.0], film: false }
        };
        let design = design(Tests { opacity, lift, wet }, thinning);
        let plan = planned(&design);
        let (done, log, taken) = work_through(&design, &plan, &skip);
        let laid: Vec<CellNumber> = done.iter().filter(|it| it.1 == Task::Lay).map(|it| it.0).collect();
        let painted: Vec<CellNumber> = plan.turns().iter().filter(|it| it.step.is_some()).map(|it| it.swatch).collect();
        let (last, first): (Vec<CellNumber>, Vec<CellNumber>) = painted.iter().partition(|it| skip.contains(it));
        prop_assert_eq!(laid, [first, last].concat());
        for swatch in &plan.swatches {
            let count = |state| taken.iter().filter(|it| it.swatch == swatch.number && it.state == state).count();
            let bare = swatch.mixture.is_bare();
            prop_assert_eq!(count(State::Dry), 2);
            prop_assert_eq!(count(State::Wet), if wet && !bare { 2 } else { 0 });
            let lifted = lift && swatch.is_mass_tone_on_paper();
            prop_assert_eq!(count(State::Lifted), if lifted { 2 } else { 0 });
        }
        let run = Run::new(&plan, &design, &log.0, &taken);
        let tally = run.tally(Time(i64::MAX));
        prop_assert_eq!((tally.done, tally.drying), (tally.all, 0));
        prop_assert!(run.minutes_left(Time(i64::MAX), Some(1.0)).0.abs() < 1e-9);
    }
}

#[test]
fn what_is_said_to_be_dry_is_due_at_once_and_time_runs_down() {
    let design = tinted();
    let plan = planned(&design);
    let (mass, _) = square(&plan, &[(BLUE, 1.0)]);
    let mut log = Log::default();
    let (whole, _) = Run::new(&plan, &design, &[], &[]).minutes_left(START, Some(1.0));
    // The plan's own clock tells the same, but for a look at each bar.
    let over_black =
        |swatch: &&plan::Swatch| swatch.backing == Backing::Black && !swatch.mixture.is_bare();
    let bars = plan.swatches.iter().filter(over_black).count() as f64;
    let wanted = plan.costs.table_minutes + bars * design.pace.read;
    close(whole, wanted, 1e-9, "minutes at the table");
    log.add(BenchEvent::Laid { swatch: mass }, START);
    let run = Run::new(&plan, &design, &log.0, &[]);
    assert_eq!(run.dry_time(mass), Some(START.after_minutes(45.0)));
    assert!(run.minutes_left(START, Some(1.0)).0 < whole);
    close(
        run.minutes_left(START, Some(2.0)).0,
        2.0 * run.minutes_left(START, Some(1.0)).0,
        1e-9,
        "half as fast",
    );
    log.add(BenchEvent::Dry { swatches: vec![mass] }, START.after_minutes(10.0));
    let run = Run::new(&plan, &design, &log.0, &[]);
    assert_eq!(run.dry_time(mass), Some(START.after_minutes(10.0)));
    assert_eq!(run.left(mass)[0].due, Some(START.after_minutes(10.0)));
}

#[test]
fn the_pace_is_learnt_from_swatches_and_not_from_breaks() {
    let design = tinted();
    let plan = planned(&design);
    let painted: Vec<CellNumber> =
        plan.turns().iter().filter(|it| it.step.is_some()).map(|it| it.swatch).collect();
    // Twice the planned time for each, and lunch before the fourth.
    let mut log = Log::default();
    let mut now = 0.0;
    for (place, swatch) in painted.iter().enumerate() {
        now += 2.0 * lay_minutes(&design, &plan, &log, *swatch);
        now += if place == 3 { 60.0 } else { 0.0 };
        log = laid(&plan, &log, *swatch, START.after_minutes(now));
    }
    let pace = Run::new(&plan, &design, &log.0, &[]).pace();
    assert_eq!(pace.swatches, painted.len() - 2);
    close(pace.factor().expect("enough"), 2.0, 0.1, "twice as long");
    assert_eq!(Run::new(&plan, &design, &log.0[..6], &[]).pace().factor(), None);
    // The next plan is at that pace: the same hours are as planned there, and tell the same of the user.
    let own = Arc::new(Design { pace: design.pace.times(2.0), ..(*design).clone() });
    let own_plan = planned(&own);
    let again = Run::new(&own_plan, &own, &log.0, &[]);
    close(again.pace().factor().expect("enough"), 2.0, 0.1, "no faster and no slower");
    let left = |run: &Run, factor| run.minutes_left(START, factor).0;
    close(left(&again, Some(2.0)), left(&again, None), 1e-9, "its minutes are the user's own");
    let whole =
        |design: &Arc<Design>, plan: &Arc<Plan>| left(&Run::new(plan, design, &[], &[]), None);
    close(whole(&own, &own_plan), 2.0 * whole(&design, &plan), 1e-6, "twice the usual minutes");
}

/// The log after a swatch was laid, with every step that leads to it.
fn laid(plan: &Plan, log: &Log, swatch: CellNumber, at: Time) -> Log {
    let mut after = Log(log.0.clone());
    let turn = plan.turns().into_iter().find(|turn| turn.swatch == swatch);
    for step in 0..=turn.and_then(|turn| turn.step).expect("painted").0 {
        after.made(StepRef(step), Basis::Weight, &[]);
    }
    after.add(BenchEvent::Laid { swatch }, at);
    after
}

/// What a swatch takes by the plan: what is left before it, less what is left after it.
fn lay_minutes(design: &Arc<Design>, plan: &Arc<Plan>, log: &Log, swatch: CellNumber) -> f64 {
    let left = |log: &Log| Run::new(plan, design, &log.0, &[]).minutes_left(START, Some(1.0)).0;
    left(log) - left(&laid(plan, log, swatch, START))
}

#[test]
fn tiles_are_due_at_start_and_end_and_drift_marks_what_lies_between() {
    let tile = |id: i64, tile: Tile, r: f64, after: i64| LogEntry {
        id: EntryId(id),
        batch: EntryId(id),
        event: BenchEvent::Tile {
            tile,
            bands: Reflectance::flat(r).bands().to_vec(),
            simulated: false,
        },
        at: START,
        after: (after > 0).then_some(ReadingId(after)),
        void: None,
    };
    assert_eq!(tile_due(&[], &[], false, Tile::ALL).map(|it| it.tile()), Some(Tile::White));
    assert_eq!(tile_due(&[], &[], true, Tile::ALL), None);
    let start = [tile(1, Tile::White, 0.84, 0), tile(2, Tile::Check, 0.5, 0)];
    assert_eq!(tile_due(&start[..1], &[], false, Tile::ALL).map(|it| it.tile()), Some(Tile::Check));
    // Who has no check tile is not asked for it.
    assert_eq!(tile_due(&start[..1], &[], false, &[Tile::White]), None);
    assert_eq!(tile_due(&start, &[ReadingId(7)], false, Tile::ALL), None);
    assert_eq!(
        tile_due(&start, &[ReadingId(7)], true, Tile::ALL).map(|it| it.tile()),
        Some(Tile::White)
    );
    let many: Vec<ReadingId> = (1..=TILE_EVERY as i64).map(ReadingId).collect();
    assert!(tile_due(&start, &many, false, Tile::ALL).is_some());
    assert!(tile_due(&start, &many[1..], false, Tile::ALL).is_none());

    // L* of a flat 0.84 is 93.45; 0.83 is ΔE00 0.28 from it, 0.80 is 1.1, past the limit.
    let mut log = start.to_vec();
    log.extend([
        tile(3, Tile::White, 0.83, 10),
        tile(4, Tile::White, 0.80, 20),
        tile(5, Tile::White, 0.84, 30),
    ]);
    let found = drifts(&log, Conditions::D65_10);
    let marked: Vec<i64> =
        (1..=40).filter(|it| found.iter().any(|drift| drift.marks(ReadingId(*it)))).collect();
    assert_eq!(marked, (11..=30).collect::<Vec<i64>>());
    assert!(found[0].off > 0.5 && found[0].tile == Tile::White);
    log[3].void = Some("taken back".into());
    assert_eq!(drifts(&log, Conditions::D65_10), []);
}

/// Judged by eye: no bare backing, no film over white, and what is laid is done but for the black bar.
#[test]
fn by_eye_what_is_laid_is_done() {
    let thinning = Thinning::White { alone: vec![1.0], mixtures: vec![1.0], film: false };
    let tests = Tests { opacity: true, lift: false, wet: false };
    let design = Arc::new(Design { repeats: 0, ..(*design(tests, thinning)).clone() });
    let plan = planned(&design);
    assert!(plan.swatches.iter().all(|it| !it.mixture.is_bare() && it.backing != Backing::White));
    // The black bar is judged when it is dry; without it, nobody waits for the paint.
    assert_eq!((plan.costs.readings, plan.costs.waiting_minutes > 0.0), (0, true));
    let none = Tests { opacity: false, lift: false, wet: false };
    let laid_only = Arc::new(Design { tests: none, ..(*design).clone() });
    let bare_plan = planned(&laid_only);
    close(bare_plan.costs.waiting_minutes, 0.0, 1e-9, "nothing is looked at again");
    let (table, until_end) =
        Run::new(&bare_plan, &laid_only, &[], &[]).minutes_left(START, Some(1.0));
    close(until_end, table, 1e-9, "nothing to wait for");
    let lifted = Tests { lift: true, ..none };
    let lifted = planned(&Arc::new(Design { tests: lifted, ..(*design).clone() }));
    assert!(lifted.costs.waiting_minutes > 0.0, "what is lifted is dry first");
    let (done, log, taken) = work_through(&design, &plan, &[]);
    assert!(taken.is_empty(), "nothing is read");
    let bars = done.iter().filter(|(_, task)| *task == Task::Bar).count();
    let over_black = plan.swatches.iter().filter(|it| it.backing == Backing::Black).count();
    assert_eq!((bars, over_black > 0), (over_black, true));
    assert_eq!(done.len(), plan.swatches.len() + bars);
    let tally = Run::new(&plan, &design, &log.0, &[]).tally(START);
    assert_eq!(tally.done, tally.all);
    let quick = Plan::new(
        &Design { pace: design.pace.by_eye(), ..(*design).clone() },
        &Prior::nothing(4, Conditions::D65_10),
        &[None; 4],
    );
    let quick = quick.expect("a plan").costs.table_minutes;
    assert!(quick < 0.4 * plan.costs.table_minutes, "{quick} of {}", plan.costs.table_minutes);
}

/// An estimated ratio is of its swatch alone, and goes with the paint it was estimated of.
#[test]
fn an_estimated_ratio_is_of_record_until_the_swatch_is_painted_again() {
    let design = tinted();
    let plan = planned(&design);
    let (mass, base) = square(&plan, &[(BLUE, 1.0), (YELLOW, 1.0)]);
    let (tint, with_white) = square(&plan, &[(BLUE, 0.5), (YELLOW, 0.5), (WHITE, 1.0)]);
    let mut log = Log::default();
    log.made(base, Basis::Eye, &[]);
    log.made(with_white, Basis::Eye, &[]);
    for swatch in [mass, tint] {
        log.add(BenchEvent::Laid { swatch }, START);
    }
    let parts = vec![(BLUE, 0.3), (YELLOW, 0.7)];
    log.add(BenchEvent::RatioEstimated { swatch: mass, parts, sigma: 0.1 }, Time(1));
    let run = Run::new(&plan, &design, &log.0, &[]);
    close(shares(run.mixture(mass).expect("laid"))[0].1, 0.3, 1e-9, "blue");
    assert_eq!(run.ratio_error(mass), RatioError::Estimated(0.1));
    assert_eq!(run.ratio_error(tint), RatioError::ByEye);
    log.add(BenchEvent::Spoilt { swatch: mass, reason: "streaks".into() }, Time(2));
    log.add(BenchEvent::Laid { swatch: mass }, Time(3));
    let run = Run::new(&plan, &design, &log.0, &[]);
    assert_eq!(run.ratio_error(mass), RatioError::ByEye);
}
