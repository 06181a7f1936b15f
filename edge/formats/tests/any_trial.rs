//! Whatever a readings file says of its scale, its piles, its repeats and its ratios, it is worked out: to
//! figures that are numbers, or to the reason why there are none.

use figures::analyse;
use figures::finding::findings;
use formats::analysis::to_json;
use formats::readings::read;
use proptest::prelude::*;
use serde_json::Value;

/// Parts as people, and others, may write them.
fn parts() -> impl Strategy<Value = f64> {
    prop_oneof![
        prop::sample::select(vec![1.0, 2.0, 3.0, 4.0, 8.0, 16.0]),
        0.01..50.0_f64,
        prop::sample::select(vec![1e-6, 1e-3, 1000.0, 1e6]),
    ]
}

/// Grams of a scale's last digit or of a pile.
fn grams() -> impl Strategy<Value = String> {
    prop_oneof![
        prop::sample::select(vec!["0.001", "0.01", "0.1", "0.5", "1", "50", "1e-9", "1e9"])
            .prop_map(str::to_owned),
        (1e-4..20.0_f64).prop_map(|grams| grams.to_string()),
    ]
}

/// A line for one of four tubes, alone, with white or with another.
fn row() -> impl Strategy<Value = String> {
    let tube = prop::sample::select(vec![
        "White,M,PW6",
        "Blue,M,PB29",
        "Blue,N,PB29",
        "Blue,O,PB29",
        "Yellow,M,PY3",
        "Green,M,PG7",
    ]);
    let with = prop::sample::select(vec!["", "", "", "Yellow", "Green"]);
    let colour = prop_oneof![
        (0.0..100.0_f64, -90.0..90.0_f64, -90.0..90.0_f64),
        // Greys, black, white, and the same colour again and again.
        prop::sample::select(vec![
            (0.0, 0.0, 0.0),
            (100.0, 0.0, 0.0),
            (50.0, 0.0, 0.0),
            (50.0, 2.0, 0.0)
        ]),
    ];
    let about = (
        prop::sample::select(vec!["dry", "dry", "dry", "wet", "lifted"]),
        prop::sample::select(vec!["paper", "paper", "paper", "white", "black"]),
        prop::sample::select(vec!["", "", "eye", "0", "0.5", "9"]),
    );
    (tube, with, (parts(), parts(), prop::option::of(parts())), about, 1..4_u32, colour).prop_map(
        |(tube, with, (own, other, white), (state, backing, error), repeat, (l, a, b))| {
            let with = if tube.starts_with(with) { "" } else { with };
            let other = if with.is_empty() { String::new() } else { other.to_string() };
            let white = white.filter(|_| !tube.starts_with("White"));
            let white = white.map_or_else(String::new, |white| white.to_string());
            format!("{tube},{with},{own},{other},{white},{state},{backing},{repeat},{l},{a},{b},{error}\n")
        },
    )
}

/// A tube alone and in rising parts of white, as a trial really holds it.
fn ladder() -> impl Strategy<Value = String> {
    let tube =
        prop::sample::select(vec!["Blue,M,PB29", "Blue,N,PB29", "Yellow,M,PY3", "Green,M,PG7"]);
    let whites = prop_oneof![
        Just(vec![0.0, 1.0, 2.0, 4.0, 8.0, 16.0]),
        prop::collection::vec(prop_oneof![Just(0.0), parts()], 2..7),
    ];
    (tube, whites, 0.05..20.0_f64, -3.1..3.1_f64, 0.0..60.0_f64, 0..3_u32).prop_map(
        |(tube, whites, load, hue, chroma, repeats)| {
            let rung = |white: &f64| {
                let depth = load / (load + white);
                let (l, c) = (96.0 - 70.0 * depth, chroma * depth);
                let (a, b) = (c * hue.cos(), c * hue.sin());
                let row = |repeat: u32| {
                    let l = l + f64::from(repeat) * 0.2;
                    format!("{tube},,1,,{white},dry,paper,{repeat},{l},{a},{b},\n")
                };
                (0..=repeats).map(|repeat| row(repeat + 1)).collect::<String>()
            };
            whites.iter().map(rung).collect()
        },
    )
}

/// Every number, with where it stands.
fn numbers<'a>(at: String, value: &'a Value, found: &mut Vec<(String, &'a Value)>) {
    match value {
        Value::Array(list) => {
            list.iter().enumerate().for_each(|(n, it)| numbers(format!("{at}/{n}"), it, found));
        }
        Value::Object(map) => {
            map.iter().for_each(|(n, it)| numbers(format!("{at}/{n}"), it, found))
        }
        _ => found.push((at, value)),
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(400))]

    #[test]
    fn every_trial_is_worked_out_or_says_why_not(
        (scale, pile, basis) in (grams(), grams(), prop::sample::select(vec!["weight", "volume", "eye"])),
        repeatability in prop::sample::select(vec!["0.01", "0.1", "5", "1000"]),
        ladders in prop::collection::vec(ladder(), 0..4),
        rows in prop::collection::vec(row(), 1..40),
    ) {
        let text = format!(
            "# upright-swatch readings 1\n# white: White\n# basis: {basis}\n# scale_g: {scale}\n\
             # pile_g: {pile}\n# repeatability: {repeatability}\n\
             tube,maker,code,with,parts,with_parts,white_parts,state,backing,repeat,L,a,b,ratio_error\n\
             White,M,PW6,,1,,,dry,paper,1,96,0,2,\n{}{}",
            ladders.concat(),
            rows.concat()
        );
        let file = match read(text.as_bytes()) {
            Ok(file) => file,
            Err(error) => return Err(TestCaseError::fail(error.to_string())),
        };
        let analysis = analyse(&file.study, None);
        let json = to_json(&file.study, &analysis, &file.warnings);
        let mut found = Vec::new();
        numbers(String::new(), &json, &mut found);
        for (at, value) in &found {
            // JSON has no NaN: such a figure would read null without a reason.
            if let Some(number) = value.as_f64() {
                prop_assert!(number.is_finite(), "{at} is {number}");
            }
        }
        for (at, value) in found.iter().filter(|(at, _)| at.ends_with("_interval/0")) {
            let high = json.pointer(&at.replace("_interval/0", "_interval/1")).and_then(Value::as_f64);
            prop_assert!(value.as_f64() <= high, "{at}: {value:?} to {high:?}");
        }
        for finding in findings(&file.study, &analysis) {
            let said = format!("{} {}", finding.sentence, finding.evidence);
            for never in ["NaN", "inf", "−0.0 ", "-0.0 ", "1 : 0 ", "−0 to", "-0 to"] {
                prop_assert!(!said.contains(never), "{said}");
            }
        }
    }
}
