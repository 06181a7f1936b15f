//! An interval holds the truth in 95 of 100 cases, however good the meter and the hand are.
//!
//! A trial is painted and read with noise and errors, and analysed; the truth is the same trial without either. Meters of
//! MCDM 0.03 to 0.3 and hands that are off by 0 to 4 % in every amount are tried.

use std::collections::BTreeMap;

use colour::Conditions;
use figures::{Analysis, Figure, Outcome, analyse};
use instruments::simulated::{HiddenPaint, MixingTable, SimulatedMeter, TableErrors};
use instruments::{Meter, Specimen};
use mixing::Sheen;
use rand::{Rng as _, SeedableRng as _};
use rand_chacha::ChaCha8Rng;
use study::{
    Backing, Basis, FilmKind, Measured, Mixture, Part, Protocol, RatioError, Reading,
    ReadingSource, State, Study, TubeLabel, TubeRef,
};

const CODES: [&str; 9] =
    ["PY74", "PY35", "PO73", "PR254", "PV19", "PB29", "PB15:3", "PG7", "PR101"];
const TINTS: [f64; 5] = [1.0, 2.0, 4.0, 8.0, 16.0];
const RATIOS: [f64; 4] = [0.25, 0.6, 1.6, 4.0];

/// How a trial is painted and read.
#[derive(Debug, Clone, Copy)]
struct Hands {
    /// MCDM of the meter, ΔE00.
    meter: f64,
    /// Error of each amount, a share of it, one σ.
    hand: f64,
    repeats: u32,
}

/// Two makers' tubes of one pigment, a third tube and a white: tints of all, mixtures of the first and the third with
/// white and without, and films over both fields of a card.
fn study(seed: u64, hands: Option<Hands>) -> Study {
    let mut chance = ChaCha8Rng::seed_from_u64(seed);
    let code = CODES[chance.random_range(0..CODES.len())];
    let other = loop {
        let other = CODES[chance.random_range(0..CODES.len())];
        if other != code {
            break other;
        }
    };
    let load = chance.random_range(0.6..0.95);
    let label = |name: &str, code: &str| TubeLabel {
        name: name.into(),
        maker: "Tidewell".into(),
        code: code.into(),
    };
    let tubes =
        [label("Full", code), label("Weak", code), label("Other", other), label("White", "PW6")];
    let full = HiddenPaint::of(&tubes[0]).expect("a curve").with_load(1.0);
    let errors = match hands {
        // The surface is a nominal one: its error is stated by itself.
        Some(hands) => TableErrors { mixing: hands.hand, surface: 0.0, ..TableErrors::default() },
        None => TableErrors::NONE,
    };
    let meter = SimulatedMeter::new(seed, MixingTable { errors });
    let meter = match hands {
        Some(hands) => meter.with_noise(hands.meter / 0.03),
        None => meter.without_noise(),
    };
    let mut meter = meter
        .knowing(tubes[0].clone(), full.clone())
        .knowing(tubes[1].clone(), full.with_load(load));
    let mut swatches: Vec<(Vec<(usize, f64)>, Backing)> = Vec::new();
    for backing in [Backing::Paper, Backing::Black, Backing::White] {
        swatches.push((Vec::new(), backing));
        swatches.extend((0..4).map(|tube| (vec![(tube, 1.0)], backing)));
    }
    for tube in 0..3 {
        swatches.extend(TINTS.map(|white| (vec![(tube, 1.0), (3, white)], Backing::Paper)));
    }
    for ratio in RATIOS {
        swatches.push((vec![(0, 1.0), (2, ratio)], Backing::Paper));
        swatches.push((vec![(0, 1.0), (2, ratio), (3, 4.0 * (1.0 + ratio))], Backing::Paper));
    }
    let repeats = hands.map_or(1, |hands| hands.repeats);
    let mut readings = Vec::new();
    for (number, (parts, backing)) in swatches.iter().enumerate() {
        for repeat in 1..=repeats {
            let specimen = Specimen {
                swatch: number as u64,
                pile: 0,
                occasion: u64::from(repeat),
                paints: parts.iter().map(|(tube, parts)| (tubes[*tube].clone(), *parts)).collect(),
                backing: *backing,
                film: FilmKind::Full,
                state: State::Dry,
                by_eye: false,
            };
            readings.push(Reading {
                ratio_error: RatioError::AsStated,
                mixture: Mixture::new(
                    parts.iter().map(|&(tube, parts)| Part { tube: TubeRef(tube), parts }),
                ),
                film: FilmKind::Full,
                backing: *backing,
                state: State::Dry,
                repeat,
                measured: Measured::Spectrum(meter.read(&specimen).expect("always answers")),
                source: ReadingSource::Meter,
                from_picture: None,
                simulated: true,
                void: None,
                line: None,
            });
        }
    }
    Study {
        conditions: Conditions::D65_10,
        protocol: Protocol {
            basis: Basis::Weight,
            scale_g: Some(0.01),
            pile_g: Some(4.0),
            repeatability: Some(meter.repeatability()),
            geometry: meter.geometry(),
            sheen: Sheen::Gloss,
        },
        tubes: tubes.into(),
        white: Some(TubeRef(3)),
        readings,
    }
}

/// Every figure of an analysis, by kind and place.
fn figures(analysis: &Analysis) -> BTreeMap<(&'static str, usize, usize), Figure> {
    let mut all = BTreeMap::new();
    let mut put = |kind: &'static str, a: usize, b: usize, figure: Outcome| {
        // What is so by definition is never wrong.
        let told = figure.ok().filter(|it| it.half_width.is_ok_and(|half| half > 0.0));
        if let Some(told) = told {
            all.insert((kind, a, b), told);
        }
    };
    for (tube, told) in analysis.tubes.iter().enumerate() {
        if let Ok(opacity) = &told.opacity {
            put("contrast ratio", tube, 0, Ok(opacity.contrast_ratio));
        }
        for (step, tint) in told.tints.iter().enumerate() {
            put("hue shift, tints", tube, step, tint.hue_shift);
            put("chroma loss, tints", tube, step, tint.chroma_loss);
        }
        // The tube that holds less beside the full one.
        if let (1, Ok(strength)) = (tube, &told.strength) {
            for (step, entry) in strength.same_ratio.iter().enumerate() {
                put("strength, same ratio", tube, step, entry.percent);
            }
            if let Ok(depth) = strength.equal_depth.as_ref().map(|it| it.percent) {
                put("strength, equal depth", tube, 0, Ok(depth));
            }
        }
    }
    for (pair, told) in analysis.pairs.iter().enumerate() {
        let kinds = match told.white_parts > 0.0 {
            true => ["hue shift, with white", "chroma loss, with white", "ΔE00, with white"],
            false => ["hue shift, neat", "chroma loss, neat", "ΔE00, neat"],
        };
        for (step, mixed) in told.steps.iter().enumerate() {
            put(kinds[0], pair, step, mixed.hue_shift);
            put(kinds[1], pair, step, mixed.chroma_loss);
            put(kinds[2], pair, step, mixed.delta_e_a);
        }
    }
    all
}

/// Held and told, by kind of figure.
type Tally = BTreeMap<&'static str, [usize; 2]>;

fn tally(seeds: std::ops::Range<u64>, hands: Hands) -> Tally {
    let mut tally = Tally::new();
    for seed in seeds {
        let truth = figures(&analyse(&study(seed, None), Some(TubeRef(0))));
        let told = figures(&analyse(&study(seed, Some(hands)), Some(TubeRef(0))));
        for ((kind, a, b), figure) in told {
            let (Some(true_one), Ok(half)) = (truth.get(&(kind, a, b)), figure.half_width) else {
                continue;
            };
            let off = figure.value - true_one.value;
            // An angle goes round.
            let off =
                if kind.starts_with("hue") { (off + 540.0).rem_euclid(360.0) - 180.0 } else { off };
            let entry = tally.entry(kind).or_default();
            entry[0] += usize::from(off.abs() <= half);
            entry[1] += 1;
        }
    }
    tally
}

fn add(all: &mut Tally, more: Tally) {
    for (kind, [held, told]) in more {
        let entry = all.entry(kind).or_default();
        entry[0] += held;
        entry[1] += told;
    }
}

const METERS: [f64; 3] = [0.03, 0.1, 0.3];
const HANDS: [f64; 4] = [0.0, 0.01, 0.02, 0.04];

fn share([held, told]: [usize; 2]) -> f64 {
    100.0 * held as f64 / told as f64
}

#[test]
fn intervals_hold_the_truth() {
    let mut all = Tally::new();
    for (meter, hand) in [(0.03, 0.02), (0.1, 0.0), (0.3, 0.01)] {
        add(&mut all, tally(0..12, Hands { meter, hand, repeats: 1 }));
    }
    for (kind, count) in &all {
        println!("{kind}: {:.0} % of {}", share(*count), count[1]);
        assert!(share(*count) >= 85.0, "{kind}: {:.0} % of {}", share(*count), count[1]);
    }
}

#[test]
#[ignore = "a long check: make check"]
fn intervals_hold_the_truth_with_every_meter_and_every_hand() {
    let mut all = Tally::new();
    println!("| kind | meter | hand | held |");
    for meter in METERS {
        for hand in HANDS {
            for repeats in [1, 3] {
                let found = tally(0..40, Hands { meter, hand, repeats });
                for (kind, count) in &found {
                    println!(
                        "| {kind} | {meter} | {hand} | {repeats} | {:.0} % of {} |",
                        share(*count),
                        count[1]
                    );
                }
                add(&mut all, found);
            }
        }
    }
    let wrong: Vec<_> =
        all.iter().filter(|(_, count)| !(92.0..=98.0).contains(&share(**count))).collect();
    for (kind, count) in &all {
        println!("| {kind} | all | | {:.1} % of {} |", share(*count), count[1]);
    }
    assert!(wrong.is_empty(), "{wrong:?}");
}
