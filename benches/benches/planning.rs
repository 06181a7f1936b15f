//! A large plan with its order, its sheets and their PDF, and how the cost grows with the tubes.

use std::hint::black_box;

use criterion::{Criterion, criterion_group, criterion_main};
use instruments::simulated::{MixingTable, SimulatedMeter, tubes_alone};
use plan::prior::{Prior, learn};
use plan::{Chart, Design, Naming, Plan, StepChoice, Thinning};
use sheet::{Drawing, Paper, SheetCode};
use study::{Measured, Study, TubeLabel, TubeRef};

const CODES: [&str; 10] =
    ["PY74", "PY83", "PO73", "PR254", "PR122", "PV23", "PB29", "PB15:3", "PG7", "PR101"];

fn label(at: usize, code: &str) -> TubeLabel {
    TubeLabel { name: format!("Tube {at}"), maker: "Tidewell".into(), code: code.into() }
}

/// So many tubes, read over black and white and in five tints, the white the last.
fn study(tubes: usize) -> Study {
    let mut labels: Vec<TubeLabel> =
        (0..tubes).map(|at| label(at, CODES[at % CODES.len()])).collect();
    labels.push(label(tubes, "PW6"));
    let mut meter = SimulatedMeter::new(1, MixingTable::default());
    tubes_alone(&mut meter, &labels).unwrap_or_else(|error| unreachable!("{error}"))
}

/// Tubes under test × references × 5 even steps × 3 parts of white.
fn design(tested: usize, references: usize) -> Design {
    let tubes = |range: std::ops::Range<usize>| range.map(TubeRef).collect();
    Design {
        charts: vec![Chart::Star {
            tested: tubes(0..tested),
            references: tubes(tested..tested + references),
            steps: StepChoice::Even(5),
            third: None,
        }],
        white: Some(TubeRef(tested + references)),
        thinning: Thinning::White { alone: vec![], mixtures: vec![1.0, 2.0, 4.0], film: false },
        ..Design::default()
    }
}

fn planned(design: &Design, prior: &Prior) -> Plan {
    Plan::new(design, prior, &vec![None; prior.tubes.len()])
        .unwrap_or_else(|error| unreachable!("{error}"))
}

fn sheets(plan: &Plan, labels: &[TubeLabel], white: TubeRef) -> Vec<Drawing> {
    let naming = Naming { tubes: labels.to_vec(), white: Some(white), ..Naming::default() };
    let sheets = sheet::lay_out(plan, &naming, Paper::A4, 20.0)
        .unwrap_or_else(|error| unreachable!("{error}"));
    let code = |sheet: &sheet::Sheet| SheetCode {
        trial: 1,
        edition: 1,
        layout: 1,
        sheet: sheet.number,
        of: sheet.of,
        paper: Paper::A4,
        side_mm: 20.0,
    };
    sheets.iter().map(|sheet| sheet.drawing("A large plan", &code(sheet))).collect()
}

fn planning(criterion: &mut Criterion) {
    for (tested, references) in [(12, 8), (24, 16)] {
        let of = format!("{tested} tubes x {references} references x 5 steps x 3 tints");
        let study = study(tested + references);
        let prior = learn(&study);
        let white = TubeRef(tested + references);
        let design = design(tested, references);
        let plan = planned(&design, &prior);
        println!(
            "{of}: {} swatches, {} piles, {} clean-ups, {} sheets",
            plan.swatches.len(),
            plan.piles.len(),
            plan.costs.clean_ups,
            sheets(&plan, &study.tubes, white).len()
        );
        criterion.bench_function(&format!("{of}: plan and sheets"), |bencher| {
            bencher.iter(|| {
                let plan = planned(black_box(&design), &prior);
                sheets(&plan, &study.tubes, white).len()
            });
        });
        let drawings = sheets(&plan, &study.tubes, white);
        criterion.bench_function(&format!("{of}: PDF of the sheets"), |bencher| {
            bencher.iter(|| formats::sheet::pdf(black_box(&drawings)).map_or(0, |it| it.len()));
        });
    }
}

/// K and S of twenty tubes, from spectra and from colours alone.
fn learning(criterion: &mut Criterion) {
    let spectra = study(20);
    let mut colours = spectra.clone();
    for reading in &mut colours.readings {
        let conditions = colours.conditions;
        if let Ok(lab) = reading.measured.lab(conditions) {
            reading.measured = Measured::Lab(colour::StatedLab { lab, conditions });
        }
    }
    for (name, study) in [("spectra", spectra), ("colours alone", colours)] {
        criterion.bench_function(&format!("K and S of 20 tubes from {name}"), |bencher| {
            bencher.iter(|| learn(black_box(&study)).tubes.len());
        });
    }
}

criterion_group! {
    name = benches;
    config = Criterion::default().sample_size(10);
    targets = planning, learning
}
criterion_main!(benches);
