//! `upright-swatch compare`, as another program would call it: two readings files by strangers.

use std::fmt::Write as _;
use std::fs;
use std::path::Path;
use std::process::{Command, Output};

use colour::{Conditions, Lab};
use compare::{Subject, Told, shared_depths};
use instruments::simulated::{HiddenPaint, MixingTable, SimulatedMeter};
use instruments::{Meter as _, Specimen};
use serde_json::Value;
use study::{Averages, Backing, FilmKind, FittedTubes, State, TubeLabel};

const HEAD: &str = "# upright-swatch readings 1\n# illuminant: D65\n# observer: 10\n# white: Titanium\n\
                    # geometry: d:8 included\n# sheen: gloss\n\
                    tube,maker,code,with,parts,with_parts,white_parts,state,backing,repeat,L,a,b\n";

fn label(name: &str, maker: &str, code: &str) -> TubeLabel {
    TubeLabel { name: name.into(), maker: maker.into(), code: code.into() }
}

/// Somebody's readings of one ultramarine of this load: alone, with white, and with a yellow.
fn file(maker: &str, load: f64, seed: u64) -> String {
    let (blue, yellow, white) = (
        label("Ultramarine", maker, "PB29"),
        label("Lantern Yellow", "Tidewell", "PY74"),
        label("Titanium", "Tidewell", "PW6"),
    );
    let paint = HiddenPaint::of(&blue).expect("a paint").usual().with_load(load);
    let mut meter = SimulatedMeter::new(seed, MixingTable::default()).knowing(blue.clone(), paint);
    let mut text = HEAD.to_owned();
    let mut swatch = 0;
    let mut row = |tube: &TubeLabel, with: Option<&TubeLabel>, whites: f64, backing: Backing| {
        swatch += 1;
        let mut paints = vec![(tube.clone(), 1.0)];
        paints.extend(with.map(|with| (with.clone(), 1.0)));
        paints.extend((whites > 0.0).then(|| (white.clone(), whites)));
        let specimen = Specimen {
            swatch,
            pile: 0,
            occasion: 0,
            paints,
            by_eye: false,
            backing,
            film: FilmKind::Full,
            state: State::Dry,
        };
        let Lab { l, a, b } =
            Lab::from_reflectance(&meter.read(&specimen).expect("read"), Conditions::D65_10);
        let TubeLabel { name, maker, code } = tube;
        let (other, parts) = with.map_or(("", ""), |with| (with.name.as_str(), "1"));
        let _ = writeln!(
            text,
            "{name},{maker},{code},{other},1,{parts},{whites},dry,{backing},1,{l},{a},{b}"
        );
    };
    for backing in [Backing::Paper, Backing::White, Backing::Black] {
        for tube in [&blue, &yellow, &white] {
            row(tube, None, 0.0, backing);
        }
    }
    for whites in [1.0, 2.0, 4.0, 8.0, 16.0] {
        row(&blue, None, whites, Backing::Paper);
        row(&yellow, None, whites, Backing::Paper);
        row(&blue, Some(&yellow), whites, Backing::Paper);
    }
    text
}

fn run(folder: &Path, arguments: &[&str]) -> Output {
    Command::new(env!("CARGO_BIN_EXE_upright-swatch"))
        .current_dir(folder)
        .arg("compare")
        .args(arguments)
        .output()
        .expect("run the program")
}

#[test]
fn two_strangers_files_are_compared() {
    let folder = tempfile::tempdir().expect("a folder");
    let write =
        |name: &str, text: &str| fs::write(folder.path().join(name), text).expect("written");
    write("a.csv", &file("Tidewell", 1.0, 1));
    write("b.csv", &file("Nettlebed", 0.9, 2));
    let tubes = ["a.csv", "b.csv", "--tube", "Ultramarine"];
    let output = run(folder.path(), &[&tubes[..], &["--format", "json"]].concat());
    assert!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
    let found: Value = serde_json::from_slice(&output.stdout).expect("JSON");
    let pairs = found["pairs"].as_array().expect("pairs");
    assert_eq!(pairs.len(), 1);
    let pair = &pairs[0];
    assert_eq!(
        (&pair["a"], &pair["b"]),
        (&"Ultramarine (Tidewell)".into(), &"Ultramarine (Nettlebed)".into())
    );
    // The same pigment at nine tenths: one is enough, and a little more of it.
    assert_eq!(pair["verdict"], "one_is_enough", "{pair}");
    let number = |key: &str| pair[key].as_f64().unwrap_or_else(|| panic!("{key}: {pair}"));
    assert!((number("use") - 1.0 / 0.9).abs() < 0.06, "{pair}");
    let [low, high] = [0, 1].map(|at| pair["use_interval"][at].as_f64().expect("an end"));
    assert!(low < 1.0 / 0.9 && 1.0 / 0.9 < high);
    assert!(number("distance") < 0.8 && number("distance_half_width") < 2.0, "{pair}");
    assert!(number("mass_tone") >= 0.0 && number("mass_tone_half_width") > 0.0);
    assert_eq!(pair["no_visible_difference"], false, "another instrument");
    assert!(pair["worst"]["with"].is_string() && pair["worst"]["delta_e"].is_number());
    assert_eq!(pair["compared"], 11);
    assert_eq!(pair["simulated"], false, "these files do not say that they are made up");
    assert!(pair["reasons"][0].as_str().is_some_and(|it| it.contains("another instrument")));
    // Whichever comes first, it is the same answer the other way round.
    let swapped =
        run(folder.path(), &["b.csv", "a.csv", "--tube", "Ultramarine", "--format", "json"]);
    let swapped: Value = serde_json::from_slice(&swapped.stdout).expect("JSON");
    let back = &swapped["pairs"][0];
    assert_eq!(back["verdict"], "one_is_enough");
    let product = back["use"].as_f64().expect("a use") * number("use");
    assert!((product - 1.0).abs() < 0.02, "{product}");
    let off = back["distance"].as_f64().expect("a distance") - number("distance");
    assert!(off.abs() < 0.5, "{off}");

    let lines = String::from_utf8(run(folder.path(), &tubes).stdout).expect("text");
    assert!(
        lines.contains("One of the two is enough: one part of Ultramarine (Tidewell) does what"),
        "{lines}"
    );
    // What a simulated device made up is said, and a strength beyond what is looked for is no figure.
    let rows = |line: &str| match line {
        comment if comment.starts_with('#') => format!("{comment}\n"),
        head if head.starts_with("tube,") => format!("{head},simulated\n"),
        row => format!("{row},yes\n"),
    };
    write("weak.csv", &file("Nettlebed", 0.08, 2).lines().map(rows).collect::<String>());
    let tubes = ["a.csv", "weak.csv", "--tube", "Ultramarine"];
    let weak = run(folder.path(), &[&tubes[..], &["--format", "json"]].concat());
    let weak: Value = serde_json::from_slice(&weak.stdout).expect("JSON");
    let pair = &weak["pairs"][0];
    assert_eq!((&pair["simulated"], &pair["use"]), (&Value::Bool(true), &Value::Null), "{pair}");
    let lines = String::from_utf8(run(folder.path(), &tubes).stdout).expect("text");
    assert!(lines.contains("A simulated device made up readings of them."), "{lines}");
    assert!(!lines.contains("does what"), "{lines}");
    // Like names in two files are two tubes; without names all pairs are told.
    let all = String::from_utf8(run(folder.path(), &["a.csv", "b.csv"]).stdout).expect("text");
    assert!(
        all.contains("Lantern Yellow (Tidewell), a.csv and Lantern Yellow (Tidewell), b.csv"),
        "{all}"
    );
}

#[test]
fn what_cannot_be_compared_is_said_with_what_would_help() {
    let folder = tempfile::tempdir().expect("a folder");
    let write =
        |name: &str, text: &str| fs::write(folder.path().join(name), text).expect("written");
    let a = file("Tidewell", 1.0, 1);
    write("a.csv", &a);
    let b = file("Nettlebed", 0.9, 2);
    write("white.csv", &b.replace("Titanium", "Zinc"));
    write("strange.csv", &b.replace("Titanium", "Zinc").replace("Lantern Yellow", "Lemon"));
    write("eye.csv", &b.replace("# sheen: gloss", "# sheen: gloss\n# basis: eye"));
    write("observer.csv", &b.replace("observer: 10", "observer: 2"));
    write("sheen.csv", &b.replace("# sheen: gloss\n", "").replace("d:8 included", "45:0"));
    write("gloss.csv", &b.replace("d:8 included", "d:8 excluded"));
    let alone: String = b
        .lines()
        .filter(|line| !line.starts_with("Ultramarine") || line.contains(",,0,"))
        .map(|line| format!("{line}\n"))
        .collect();
    write("alone.csv", &alone);
    for (other, words) in [
        ("white.csv", "another white, by what both trials read of Lantern Yellow"),
        ("strange.csv", "different whites, Titanium and Zinc, and no tube was read with both"),
        ("eye.csv", "measured out by weight and those of the other by eye"),
        ("observer.csv", "10° observer and the other for the 2° one"),
        ("sheen.csv", "state gloss, satin or matt"),
        ("gloss.csv", "one was read with its gloss and the other without"),
        (
            "alone.csv",
            "Ultramarine cannot be brought to the other's strength: read its mass tone and two tints",
        ),
    ] {
        let output = run(folder.path(), &["a.csv", other, "--tube", "Ultramarine"]);
        let lines = String::from_utf8(output.stdout).expect("text");
        assert!(output.status.success() && lines.contains(words), "{other}: {lines}");
    }
    let many: String =
        (0..13).map(|at| format!("Tube {at},Tidewell,,,1,,,dry,paper,1,50,0,{at}\n")).collect();
    write("many.csv", &format!("{HEAD}Titanium,Tidewell,PW6,,1,,,dry,paper,1,96,0,2\n{many}"));
    write(
        "one.csv",
        &format!(
            "{HEAD}Titanium,Tidewell,PW6,,1,,,dry,paper,1,96,0,2\nTube,Tidewell,,,1,,,dry,paper,1,50,0,0\n"
        ),
    );
    write("bad.csv", "L,a,b\n1,2\n");
    for (arguments, words) in [
        (
            &["a.csv", "--tube", "Mud"][..],
            "there is no tube “Mud”; the files have Ultramarine (Tidewell)",
        ),
        (&["a.csv", "--tube", "Ultramarine"], "comparing takes two tubes"),
        (&["one.csv"], "the files have 1"),
        (&["many.csv"], "the files have 13 tubes; up to 12 are compared at once"),
        (&["a.csv", "missing.csv"], "missing.csv: cannot be opened"),
        (&["a.csv", "bad.csv"], "bad.csv: "),
    ] {
        let output = run(folder.path(), arguments);
        let message = String::from_utf8_lossy(&output.stderr).into_owned();
        assert_eq!(output.status.code(), Some(2), "{message}");
        assert!(message.contains(words), "{message}");
    }
}

/// Every figure of the demo's three ultramarines against a second calculation after docs/science.md, made with
/// colour-science 0.4.7, numpy and scipy (`reference/make_compare.py`). What is drawn at random differs from one
/// generator to the next: half-widths, and what is taken off for noise, are given 0.03.
#[test]
fn the_comparisons_of_the_demo_agree_with_another_calculation() {
    let expected: Value =
        serde_json::from_str(include_str!("../reference/compare.json")).expect("JSON");
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/reference");
    let output = run(&folder, &["trial.csv", "--format", "json"]);
    assert!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
    let found: Value = serde_json::from_slice(&output.stdout).expect("JSON");
    let expected = expected["pairs"].as_array().expect("pairs");
    assert_eq!(expected.len(), 3);
    for expected in expected {
        let is_it = |pair: &&Value| {
            ["a", "b"].iter().all(|side| {
                let name = expected[side].as_str().expect("a name");
                pair[side].as_str().is_some_and(|it| it.starts_with(&format!("{name} (")))
            })
        };
        let pair = found["pairs"].as_array().expect("pairs").iter().find(is_it).expect("the pair");
        for (field, within) in [
            ("use", 0.002),
            ("distance", 0.03),
            ("distance_half_width", 0.03),
            ("mass_tone", 0.03),
            ("mass_tone_half_width", 0.03),
        ] {
            let [own, other] = [pair, expected].map(|it| it[field].as_f64().expect("a number"));
            assert!((own - other).abs() <= within, "{field}: {own} for {other} in {pair}");
        }
        assert_eq!(pair["worst"]["with"], expected["worst"]["with"]);
        let [own, other] =
            [pair, expected].map(|it| it["worst"]["delta_e"].as_f64().expect("a ΔE"));
        assert!((own - other).abs() < 0.005, "{own} for {other}");
        assert_eq!(pair["compared"], expected["compared"]);
    }
}

/// The rack at equal depth, against the same calculation.
#[test]
fn colours_at_equal_depth_agree_with_another_calculation() {
    let expected: Value =
        serde_json::from_str(include_str!("../reference/compare.json")).expect("JSON");
    let path = Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/reference/trial.csv");
    let file = formats::readings::read(&fs::read(path).expect("the file")).expect("readings");
    let averages = Averages::of(&file.study);
    let fitted = FittedTubes::of(&file.study, &averages, State::Dry);
    let told = Told {
        study: &file.study,
        averages: &averages,
        fitted: &fitted,
        instrument: None,
        sheen_stated: true,
    };
    let names = ["Canopy Ultramarine", "Ultramarine", "Ultramarine Blue"];
    let subjects = names.map(|name| {
        let tube = file.study.tube_named(name).expect("the tube");
        Subject { told, tube }
    });
    let ladders = subjects.map(|subject| subject.by_depth(&subjects[0]).expect("tints"));
    let depths = shared_depths(&ladders.iter().collect::<Vec<_>>(), 5);
    assert_eq!(depths.len(), 5);
    for (name, ladder) in names.iter().zip(&ladders) {
        let expected = expected["at_depth"][name].as_array().expect("depths");
        for (depth, expected) in depths[1..4].iter().zip(expected) {
            let found = ladder.at(*depth).expect("within the tints");
            let number = |value: &Value| value.as_f64().expect("a number");
            assert!((depth - number(&expected["depth"])).abs() < 0.002, "{depth}: {expected}");
            assert!((found.white / number(&expected["white_parts"]) - 1.0).abs() < 0.0005);
            for (axis, own) in found.lab.axes().iter().enumerate() {
                let off = own - number(&expected["lab"][axis]);
                assert!(off.abs() < 0.003, "{name}, axis {axis}: {off}");
            }
        }
        // Never beyond the tints.
        let [palest, deepest] = ladder.range();
        assert!(ladder.at(palest - 0.01).is_none() && ladder.at(deepest + 0.01).is_none());
    }
}
