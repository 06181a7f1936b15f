//! `upright-swatch compare`, as another program would call it: two readings files by strangers.

use std::fmt::Write as _;
use std::fs;
use std::path::Path;
use std::process::{Command, Output};

use colour::{Conditions, Lab};
use instruments::simulated::{HiddenPaint, MixingTable, SimulatedMeter};
use instruments::{Meter as _, Specimen};
use serde_json::Value;
use study::{Backing, FilmKind, State, TubeLabel};

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
        ("white.csv", "different whites, Titanium and Zinc: make the tints of one again"),
        ("observer.csv", "10° observer and the other for the 2° one"),
        ("sheen.csv", "state gloss, satin or matt"),
        ("gloss.csv", "one was read with its gloss and the other without"),
        ("alone.csv", "0 of their squares hold the same"),
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
