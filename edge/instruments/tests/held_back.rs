//! Constants fitted to mass tones and tints predict mixtures that were held back.

use colour::{Conditions, Lab, StatedLab, ciede2000};
use instruments::simulated::{MixingTable, SimulatedMeter, TableErrors, tubes_alone};
use instruments::{Meter, Specimen};
use mixing::{
    Constants, Drawdown, FitKind, InternalReflectance, Sheen, Surface, Tint, fit, predict,
    white_constants,
};
use plan::prior::{Prior, learn};
use plan::{Chart, Design, Plan, StepChoice, Thinning};
use study::{Backing, FilmKind, Measured, State, TubeLabel, TubeRef};

const CODES: [&str; 11] =
    ["PY74", "PY35", "PY43", "PO73", "PR254", "PR108", "PV19", "PB29", "PB15:3", "PG17", "PR101"];
const WHITES: [f64; 3] = [0.0, 1.0, 4.0];
const RATIOS: [(f64, f64); 3] = [(3.0, 1.0), (1.0, 1.0), (1.0, 3.0)];

/// A bench that reads mixtures and takes their surface off.
struct Bench {
    meter: SimulatedMeter,
    surface: Option<Surface>,
    next: u64,
}

fn label(code: &str) -> TubeLabel {
    TubeLabel { name: code.into(), maker: "Tidewell".into(), code: code.into() }
}

impl Bench {
    fn read(&mut self, parts: &[(&str, f64)], backing: Backing) -> InternalReflectance {
        self.next += 1;
        let specimen = Specimen {
            swatch: self.next,
            pile: 0,
            occasion: 0,
            paints: parts.iter().map(|(code, parts)| (label(code), *parts)).collect(),
            backing,
            film: FilmKind::Full,
            state: State::Dry,
            by_eye: false,
        };
        let reading = self.meter.read(&specimen).expect("answers");
        InternalReflectance::from_measured(&reading, self.surface)
    }

    fn drawdown(&mut self, code: &str) -> Drawdown {
        Drawdown {
            over_black: self.read(&[(code, 1.0)], Backing::Black),
            over_white: self.read(&[(code, 1.0)], Backing::White),
            black: self.read(&[], Backing::Black),
            white: self.read(&[], Backing::White),
        }
    }

    fn lab(&self, internal: &InternalReflectance) -> Lab {
        Lab::from_reflectance(&internal.to_measured(self.surface), Conditions::D65_10)
    }
}

/// A tube with its constants, and whether its mass tone hides.
struct Fitted {
    code: &'static str,
    constants: Constants,
    hides: bool,
}

fn fitted(bench: &mut Bench, white: &Constants, code: &'static str) -> Fitted {
    let drawdown = bench.drawdown(code);
    let tints: Vec<Tint> = [1.0, 2.0, 4.0, 8.0, 16.0]
        .into_iter()
        .map(|parts| Tint {
            tube: 1.0 / (1.0 + parts),
            reflectance: bench.read(&[(code, 1.0), ("PW6", parts)], Backing::Paper),
        })
        .collect();
    let constants = fit(white, Some(&drawdown), &tints).expect("a mass tone and tints");
    assert_eq!(constants.kind, FitKind::TwoConstants);
    let luminance =
        |internal: &InternalReflectance| bench.lab(internal).to_xyz(Conditions::D65_10).y;
    let hides = luminance(&drawdown.over_black) >= 0.98 * luminance(&drawdown.over_white);
    Fitted { code, constants, hides }
}

/// ΔE00 of every held-back pair mixture: with white, without white of hiding tubes, the others; and of every tube's own
/// mass tone over paper, which the fit has seen over black and white.
fn errors(meter: SimulatedMeter) -> [Vec<f64>; 4] {
    let surface = Surface::nominal(meter.geometry(), Sheen::Gloss);
    let mut bench = Bench { meter, surface, next: 0 };
    let white_film = bench.drawdown("PW6");
    let white = white_constants(&white_film).expect("a white");
    let paper = bench.read(&[], Backing::Paper);
    let tubes: Vec<Fitted> =
        CODES.into_iter().map(|code| fitted(&mut bench, &white, code)).collect();
    let mut errors = [const { Vec::new() }; 4];
    for tube in &tubes {
        let told = bench.lab(&predict(&[(1.0, &tube.constants)], Some(&paper)));
        let read = bench.read(&[(tube.code, 1.0)], Backing::Paper);
        errors[3].push(ciede2000(told, bench.lab(&read)).value());
    }
    for (at, a) in tubes.iter().enumerate() {
        for b in &tubes[at + 1..] {
            for (a_parts, b_parts) in RATIOS {
                for whites in WHITES {
                    let white_parts = whites * (a_parts + b_parts);
                    let mut parts = vec![(a.code, a_parts), (b.code, b_parts)];
                    if white_parts > 0.0 {
                        parts.push(("PW6", white_parts));
                    }
                    let total = a_parts + b_parts + white_parts;
                    let shares = [
                        (a_parts / total, &a.constants),
                        (b_parts / total, &b.constants),
                        (white_parts / total, &white),
                    ];
                    let predicted = bench.lab(&predict(&shares, Some(&paper)));
                    let measured = bench.read(&parts, Backing::Paper);
                    let error = ciede2000(predicted, bench.lab(&measured)).value();
                    let kind = match (whites > 0.0, a.hides && b.hides) {
                        (true, _) => 0,
                        (false, true) => 1,
                        (false, false) => 2,
                    };
                    errors[kind].push(error);
                }
            }
        }
    }
    errors
}

fn percentile(errors: &mut [f64], share: f64) -> f64 {
    errors.sort_by(f64::total_cmp);
    errors[((errors.len() - 1) as f64 * share).round() as usize]
}

const KINDS: [&str; 4] =
    ["with white", "hiding mass tones", "other mass tones", "a tube's own mass tone"];

#[test]
fn held_back_mixtures_are_predicted_from_readings_without_noise() {
    let workshop = MixingTable { errors: TableErrors::NONE };
    let mut errors = errors(SimulatedMeter::new(3, workshop).without_noise());
    for ((errors, kind), most) in errors.iter_mut().zip(KINDS).zip([1.0, 2.0, 4.0, 1.8]) {
        let (half, most_found) = (percentile(errors, 0.5), percentile(errors, 0.95));
        println!("| {kind} | {} | {half:.2} | {most_found:.2} |", errors.len());
        assert!(errors.len() > 5, "{kind}");
        assert!(most_found <= most, "{kind}: 95th percentile ΔE00 {most_found}");
    }
}

/// Reported in docs/science.md, and not asserted: here the bench makes its usual errors.
#[test]
#[ignore = "a report; run by `make check`"]
fn with_the_usual_errors() {
    let mut errors = errors(SimulatedMeter::new(3, MixingTable::default()));
    for (errors, kind) in errors.iter_mut().zip(KINDS) {
        let (half, most) = (percentile(errors, 0.5), percentile(errors, 0.95));
        println!("| {kind}, usual errors | {} | {half:.2} | {most:.2} |", errors.len());
    }
}

/// Three steps from one tube to another, as the planner chooses them.
fn planned_shares(prior: &Prior, (from, to): (TubeRef, TubeRef), steps: StepChoice) -> Vec<f64> {
    let design = Design {
        charts: vec![Chart::Ladder { from, to, steps, third: None }],
        thinning: Thinning::None,
        alike: 0.0,
        ..Design::default()
    };
    let left = vec![None; prior.tubes.len()];
    let plan = Plan::new(&design, prior, &left).expect("a plan");
    plan.ladders[0].shares.clone()
}

/// Where quarters give twice or more, steps even to the eye stay even once they are mixed and read.
#[test]
fn even_steps_stay_even_when_they_are_mixed() {
    let mut meter =
        SimulatedMeter::new(3, MixingTable { errors: TableErrors::NONE }).without_noise();
    // The white is a tube like another: its ladder is where strong tinters jump most.
    let codes: Vec<&str> = CODES.into_iter().chain(["PW6"]).collect();
    let labels: Vec<TubeLabel> = codes.iter().map(|code| label(code)).collect();
    let spectra = tubes_alone(&mut meter, &labels).expect("answers");
    let from_bands = learn(&spectra);
    // The same readings, by an instrument that gives colours alone.
    let mut colours = spectra;
    for reading in &mut colours.readings {
        let conditions = colours.conditions;
        let lab = reading.measured.lab(conditions).expect("a spectrum");
        reading.measured = Measured::Lab(StatedLab { lab, conditions });
    }
    let from_strengths = learn(&colours);
    let mut bench = Bench { meter, surface: from_bands.surface, next: 0 };
    let mut largest_step = |(from, to): (TubeRef, TubeRef), shares: &[f64]| {
        let all = [0.0].iter().chain(shares).chain(&[1.0]);
        let ladder: Vec<Lab> = all
            .map(|share| {
                let mut parts = vec![(codes[from.0], 1.0 - share), (codes[to.0], *share)];
                parts.retain(|(_, parts)| *parts > 0.0);
                let internal = bench.read(&parts, Backing::Paper);
                bench.lab(&internal)
            })
            .collect();
        let steps: Vec<f64> =
            ladder.windows(2).map(|pair| ciede2000(pair[0], pair[1]).value()).collect();
        let (least, most) =
            steps.iter().fold((f64::MAX, 0.0_f64), |(l, m), s| (l.min(*s), m.max(*s)));
        most / least
    };
    let (mut jumping, mut worst) = (0, [0.0_f64; 2]);
    for from in 0..codes.len() {
        for to in from + 1..codes.len() {
            let ends = (TubeRef(from), TubeRef(to));
            if largest_step(ends, &[0.25, 0.5, 0.75]) < 2.0 {
                continue;
            }
            jumping += 1;
            for (prior, worst) in [&from_bands, &from_strengths].into_iter().zip(&mut worst) {
                let shares = planned_shares(prior, ends, StepChoice::Even(3));
                let found = largest_step(ends, &shares);
                if found > 1.22 {
                    eprintln!("{} {} {found:.2} {shares:?}", codes[from], codes[to]);
                }
                *worst = worst.max(found);
            }
        }
    }
    println!("{jumping} ladders jump in quarters; even ones at worst {worst:.2?}");
    assert!(jumping > 40 && worst[0] <= 1.35 && worst[1] <= 1.9, "{jumping}, {worst:?}");
}
