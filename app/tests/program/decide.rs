//! `upright-swatch recipe` and `decide`, as another program would call them.

use std::fmt::Write as _;
use std::fs;
use std::path::Path;
use std::process::{Command, Output};

use instruments::simulated::{HiddenPaint, MixingTable, SimulatedMeter};
use instruments::{Meter as _, Specimen};
use serde_json::Value;
use study::{Backing, FilmKind, State, TubeLabel};

fn label(name: &str, code: &str) -> TubeLabel {
    TubeLabel { name: name.into(), maker: "Tidewell".into(), code: code.into() }
}

/// A palette read alone, by a simulated meter: mass tones over three backings and four tints of each.
fn file(tubes: &[(&str, &str)], mixtures: &[(&str, f64, &str, f64, f64)]) -> String {
    let white = label("Workshop Titanium", "PW6");
    let mut text = String::from(
        "# upright-swatch readings 1\n# illuminant: D65\n# observer: 10\n# white: Workshop Titanium\n\
         # geometry: d:8 included\n# sheen: gloss\n\
         tube,maker,code,with,parts,with_parts,white_parts,state,backing,repeat",
    );
    (0..36).for_each(|band| {
        let _ = write!(text, ",R{}", 380 + 10 * band);
    });
    text.push('\n');
    let labels: Vec<TubeLabel> = tubes.iter().map(|(name, code)| label(name, code)).collect();
    let mut meter = SimulatedMeter::new(3, MixingTable::default());
    for label in labels.iter().chain([&white]) {
        let usual = HiddenPaint::of(label).expect("a paint").usual();
        meter = meter.knowing(label.clone(), usual);
    }
    let mut swatch = 0;
    let mut row = |parts: &[(TubeLabel, f64)], whites: f64, backing: Backing| {
        swatch += 1;
        let mut paints = parts.to_vec();
        let total: f64 = parts.iter().map(|it| it.1).sum();
        paints.extend((whites > 0.0).then(|| (white.clone(), whites * total)));
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
        let read = meter.read(&specimen).expect("read");
        let (name, maker, code) = parts.first().map_or(("", "", ""), |(label, _)| {
            (label.name.as_str(), label.maker.as_str(), label.code.as_str())
        });
        let (with, with_parts) =
            parts.get(1).map_or((String::new(), String::new()), |(label, parts)| {
                (label.name.clone(), parts.to_string())
            });
        let own = parts.first().map_or(String::new(), |it| it.1.to_string());
        let _ = write!(
            text,
            "{name},{maker},{code},{with},{own},{with_parts},{},dry,{backing},1",
            whites * total
        );
        read.bands().iter().for_each(|value| {
            let _ = write!(text, ",{value}");
        });
        text.push('\n');
    };
    for backing in [Backing::Paper, Backing::White, Backing::Black] {
        row(&[], 0.0, backing);
        for tube in labels.iter().chain([&white]) {
            row(&[(tube.clone(), 1.0)], 0.0, backing);
        }
    }
    for tube in &labels {
        for whites in [1.0, 4.0, 8.0, 16.0] {
            row(&[(tube.clone(), 1.0)], whites, Backing::Paper);
        }
    }
    for (one, parts, other, others, whites) in mixtures {
        let find = |name: &str| labels.iter().find(|it| it.name == name).expect("a tube").clone();
        row(&[(find(one), *parts), (find(other), *others)], *whites, Backing::Paper);
    }
    text
}

const PALETTE: [(&str, &str); 6] = [
    ("Lantern Yellow", "PY74"),
    ("Saddle Red", "PR254"),
    ("Canopy Ultramarine", "PB29"),
    ("Awning Blue", "PB15:3"),
    ("Leaf Green", "PG36 PY83"),
    ("Plume Magenta", "PR122"),
];

fn run(folder: &Path, arguments: &[&str]) -> Output {
    Command::new(env!("CARGO_BIN_EXE_upright-swatch"))
        .current_dir(folder)
        .args(arguments)
        .output()
        .expect("run the program")
}

fn json(folder: &Path, arguments: &[&str]) -> Value {
    let out = run(folder, arguments);
    assert!(out.status.success(), "{}", String::from_utf8_lossy(&out.stderr));
    serde_json::from_slice(&out.stdout).expect("JSON")
}

/// A tube of the palette is its own recipe; a convenience green is mixed of the others; shares add to 1; more tubes are
/// never worse; the order of the rows changes nothing.
#[test]
fn recipes_from_a_file() {
    let folder = tempfile::tempdir().expect("a folder");
    let path = folder.path();
    fs::write(path.join("palette.csv"), file(&PALETTE, &[])).expect("written");
    let mut turned = PALETTE;
    turned.reverse();
    fs::write(path.join("turned.csv"), file(&turned, &[])).expect("written");

    let own = json(
        path,
        &[
            "recipe",
            "palette.csv",
            "--target",
            "Saddle Red",
            "--from",
            "Saddle Red",
            "--from",
            "Lantern Yellow",
            "--format",
            "json",
        ],
    );
    let first = &own["recipes"][0];
    assert_eq!(first["tubes"].as_array().map(Vec::len), Some(1), "{first}");
    assert_eq!(first["tubes"][0]["tube"], "Saddle Red (Tidewell)");
    assert!(first["delta_e"].as_f64().expect("a number") < 1.0, "{first}");

    let best = |file: &str, max: &str| {
        let found = json(
            path,
            &["recipe", file, "--target", "Leaf Green", "--max", max, "--format", "json"],
        );
        let recipes = found["recipes"].as_array().expect("recipes").clone();
        for recipe in &recipes {
            let shares = recipe["tubes"].as_array().expect("tubes").iter();
            let total: f64 = shares.map(|it| it["share"].as_f64().expect("a share")).sum();
            let whole = total + recipe["white_share"].as_f64().expect("a share");
            assert!((whole - 1.0).abs() < 1e-9, "{recipe}");
            let score = recipe["delta_e"]
                .as_f64()
                .expect("a number")
                .hypot(recipe["delta_e_a"].as_f64().expect("a number") / 4.0);
            assert!((score - recipe["score"].as_f64().expect("a number")).abs() < 2e-3, "{recipe}");
            assert!(recipe["claim"].as_f64() > recipe["delta_e"].as_f64());
            // Whole parts are never worse than stated, and within half a step of the exact ones or said to want a scale.
            assert!(
                recipe["tubes"]
                    .as_array()
                    .expect("tubes")
                    .iter()
                    .all(|it| it["parts"].as_u64() >= Some(1))
            );
        }
        recipes
            .iter()
            .map(|it| it["score"].as_f64().expect("a number"))
            .fold(f64::INFINITY, f64::min)
    };
    let each: Vec<f64> = ["1", "2", "3", "4"].iter().map(|max| best("palette.csv", max)).collect();
    assert!(each.windows(2).all(|pair| pair[1] <= pair[0] + 1e-3), "{each:?}");
    // Readings have noise of their own, row by row.
    assert!((best("turned.csv", "3") - each[2]).abs() < 0.2);

    let far = json(path, &["recipe", "palette.csv", "--target", "45,-75,40", "--format", "json"]);
    let limit = &far["limit"];
    assert!(limit["at_least"].as_f64().expect("a limit") > 2.0, "{limit}");
    assert!(limit["words"][0].as_str().is_some_and(|it| it.contains("too dull")), "{limit}");

    let table = run(path, &["recipe", "palette.csv", "--target", "Leaf Green"]);
    let text = String::from_utf8(table.stdout).expect("text");
    assert!(text.contains(" predicted") && text.contains("Lantern Yellow (Tidewell)"), "{text}");
}

/// What is wrong is said in words, at the option that is wrong.
#[test]
fn what_cannot_be_asked_is_said() {
    let folder = tempfile::tempdir().expect("a folder");
    let path = folder.path();
    fs::write(path.join("palette.csv"), file(&PALETTE, &[])).expect("written");
    fs::write(path.join("one.csv"), file(&PALETTE[..1], &[])).expect("written");
    for (arguments, said) in [
        (
            vec!["palette.csv", "--target", "Sap"],
            "there is no tube “Sap”; the file has Lantern Yellow (Tidewell)",
        ),
        (vec!["palette.csv", "--target", "145,0,0"], "no surface has this colour in any light"),
        (vec!["palette.csv", "--target", "20,90,90"], "no surface has this colour in any light"),
        (vec!["palette.csv", "--target", "NaN,0,0"], "no surface has this colour in any light"),
        (vec!["palette.csv", "--target", "1,2,x"], "A colour is three numbers"),
        (vec!["palette.csv", "--target", "Saddle Red", "--max", "0"], "1 to 4 colours"),
        (
            vec!["palette.csv", "--target", "Saddle Red", "--from", "Teal"],
            "there is no tube “Teal”",
        ),
        (vec!["one.csv", "--target", "Lantern Yellow"], "there is no other tube"),
    ] {
        let mut all = vec!["recipe"];
        all.extend(arguments);
        let out = run(path, &all);
        let error = String::from_utf8_lossy(&out.stderr);
        assert_eq!(out.status.code(), Some(2), "{all:?} {error}");
        assert!(error.contains(said), "{all:?}: {error}");
    }
}

/// A fluorescent red throws back more than all light: K and S have no meaning for it, which is said, and nothing is
/// mixed of it; its colour can be aimed at.
#[test]
fn a_fluorescent_tube_has_no_recipes() {
    let folder = tempfile::tempdir().expect("a folder");
    let path = folder.path();
    let glows = |line: &str| -> String {
        let cells = line.split(',').enumerate().map(|(at, cell)| match at {
            at if line.starts_with("Saddle Red,") && (32..36).contains(&at) => "1.15",
            _ => cell,
        });
        cells.collect::<Vec<_>>().join(",") + "\n"
    };
    let text: String = file(&PALETTE, &[]).lines().map(glows).collect();
    fs::write(path.join("glows.csv"), text).expect("written");
    let of_it = ["recipe", "glows.csv", "--target", "Plume Magenta", "--from", "Saddle Red"];
    let out = run(path, &of_it);
    let error = String::from_utf8_lossy(&out.stderr);
    assert!(error.contains("it may be fluorescent, metallic or pearl"), "{error}");
    let for_it = ["recipe", "glows.csv", "--target", "Saddle Red", "--format", "json"];
    assert!(json(path, &for_it)["recipes"].as_array().is_some_and(|it| !it.is_empty()));
    let magenta = ["recipe", "glows.csv", "--target", "Plume Magenta", "--format", "json"];
    assert!(!json(path, &magenta).to_string().contains("Saddle Red"));
    let kept = json(path, &["decide", "glows.csv", "--format", "json"]);
    let rows = kept["keep"].as_array().expect("rows");
    let red = rows.iter().find(|it| it["tube"] == "Saddle Red (Tidewell)").expect("its row");
    assert_eq!(red["verdict"], "cannot_tell");
}

/// Twins, a yellow that a mixture stands for that was read, a blue that nothing comes near; greys and reach.
#[test]
fn what_to_keep_of_a_file() {
    let folder = tempfile::tempdir().expect("a folder");
    let path = folder.path();
    let tubes: Vec<(&str, &str)> = PALETTE
        .into_iter()
        .chain([
            ("Other Ultramarine", "PB29"),
            ("Canvas Yellow Deep", "PY83"),
            ("Cadmium Yellow Hue", "PY74 PY83"),
        ])
        .collect();
    // A convenience yellow whose two pigments the shelf has, mixed and read, alone and with white.
    let mixtures =
        [0.0, 4.0].map(|white| ("Lantern Yellow", 1.0, "Canvas Yellow Deep", 1.0, white));
    fs::write(path.join("shelf.csv"), file(&tubes, &mixtures)).expect("written");
    let found = json(path, &["decide", "shelf.csv", "--format", "json"]);
    let verdict = |name: &str| {
        let rows = found["keep"].as_array().expect("rows");
        let row = rows.iter().find(|it| it["tube"].as_str().is_some_and(|it| it.starts_with(name)));
        row.expect("a row").clone()
    };
    assert_eq!(verdict("Awning Blue")["verdict"], "keep");
    assert_eq!(verdict("Plume Magenta")["verdict"], "keep");
    assert_eq!(verdict("Other Ultramarine")["verdict"], "twin");
    assert_eq!(verdict("Other Ultramarine")["twin"], "Canopy Ultramarine (Tidewell)");
    let neutrals = found["neutrals"].as_array().expect("greys");
    assert_eq!(
        verdict("Cadmium Yellow Hue")["verdict"],
        "replaceable",
        "{}",
        verdict("Cadmium Yellow Hue")
    );
    assert_eq!(neutrals.len(), 9 * 8 / 2);
    let grey = &neutrals[0];
    assert!(grey["chroma"].as_f64() < Some(4.5) && grey["ratio"].as_f64() > Some(0.0), "{grey}");
    let reach = found["reach"].as_array().expect("cells");
    assert!(reach.len() > 200 && reach.iter().all(|it| it["hue"].as_f64() < Some(360.0)));
    let table = run(path, &["decide", "shelf.csv"]);
    let text = String::from_utf8(table.stdout).expect("text");
    assert!(text.contains("Awning Blue (Tidewell): keep: nothing comes nearer"), "{text}");
    assert!(text.contains("one of two is enough"), "{text}");
}

/// The palette of the second calculation: eight tubes, read alone.
const OF_REFERENCE: [(&str, &str); 8] = [
    ("Lantern Yellow", "PY74"),
    ("Organ Orange", "PO73"),
    ("Saddle Red", "PR254"),
    ("Plume Magenta", "PR122"),
    ("Canopy Ultramarine", "PB29"),
    ("Awning Blue", "PB15:3"),
    ("Roasted Earth", "PBr7"),
    ("Leaf Green", "PG36 PY83"),
];

#[test]
#[ignore = "makes reference/recipes.csv"]
fn make_the_palette_of_the_reference() {
    let path = Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/reference/recipes.csv");
    fs::write(path, file(&OF_REFERENCE, &[])).expect("written");
}

/// Ten recipes against a second calculation after docs/science.md, made with colour-science 0.4.7, numpy and scipy
/// (`reference/make_recipes.py`): K and S fitted there, every choice of up to three of the others searched by
/// SLSQP.
#[test]
fn recipes_agree_with_a_second_calculation() {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/reference");
    let expected: Value =
        serde_json::from_str(include_str!("../reference/recipes.json")).expect("JSON");
    let expected = expected.as_array().expect("a list");
    assert_eq!(expected.len(), 10);
    for expected in expected {
        let text = |key: &str| expected[key].as_str().expect("a text");
        let number = |value: &Value| value.as_f64().expect("a number");
        let most = expected["most"].to_string();
        let mut arguments =
            vec!["recipe", "recipes.csv", "--target", text("target"), "--max", &most];
        for name in expected["from"].as_array().expect("names") {
            arguments.extend(["--from", name.as_str().expect("a name")]);
        }
        arguments.extend(["--format", "json"]);
        let found = json(&folder, &arguments);
        let recipes = found["recipes"].as_array().expect("recipes");
        let best = recipes
            .iter()
            .min_by(|one, other| number(&one["score"]).total_cmp(&number(&other["score"])))
            .expect("one");
        let what = format!("{}: {best} for {expected}", text("target"));
        // The libraries agree with us to about 0.0005 in L*, a* and b*.
        assert!((number(&best["score"]) - number(&expected["score"])).abs() < 0.002, "{what}");
        assert!((number(&best["delta_e"]) - number(&expected["delta_e"])).abs() < 0.005, "{what}");
        let tubes = best["tubes"].as_array().expect("tubes");
        let shares = expected["tubes"].as_object().expect("shares");
        assert_eq!(tubes.len(), shares.len(), "{what}");
        for tube in tubes {
            let name = tube["tube"].as_str().expect("a name");
            let there = &shares[name.trim_end_matches(" (Tidewell)")];
            assert!((number(&tube["share"]) - number(there)).abs() < 0.005, "{what}");
        }
        assert!(
            (number(&best["white_share"]) - number(&expected["white_share"])).abs() < 0.005,
            "{what}"
        );
    }
}
