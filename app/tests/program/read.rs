//! `upright-swatch device scanner` and `upright-swatch read`, as another program would call them: from a sheet's file
//! and its PDF to a picture, and from the picture to colours.

use std::fs;
use std::path::{Path, PathBuf};
use std::process::{Command, Output};

use colour::{Conditions, Lab, ciede2000};
use formats::sheet::{CellEntry, SheetFile, pdf, raster};
use instruments::simulated::picture::{PictureDevice, PrintedPage, take_beside};
use instruments::simulated::{MixingTable, SimulatedMeter};
use instruments::{Meter as _, Specimen};
use plan::prior::Prior;
use plan::steps::Steps;
use plan::{Chart, Design, Naming, Plan, StepChoice, Swatch, Thinning};
use serde_json::Value;
use sheet::{Drawing, LAYOUT, Paper, SheetCode, lay_out, lay_out_card};
use study::{FilmKind, Mixture, State, TubeLabel, TubeRef};
use workshop::{painted_sheet, specimen_of};

const SEED: u64 = 1893;

struct Desk {
    folder: tempfile::TempDir,
    /// The first sheet as it is printed.
    drawing: Drawing,
    swatches: Vec<Swatch>,
    naming: Naming,
    meter: SimulatedMeter,
}

impl Desk {
    /// A blue and a yellow with their quarters and tints, on two sheets.
    fn new() -> Self {
        let label = |(name, code): (&str, &str)| TubeLabel {
            name: name.into(),
            maker: "Tidewell".into(),
            code: code.into(),
        };
        let tubes =
            [("Awning Blue", "PB15:3"), ("Lantern Yellow", "PY74"), ("Workshop Titanium", "PW6")];
        let design = Design {
            charts: vec![
                Chart::Tints(vec![TubeRef(0), TubeRef(1)]),
                Chart::Ladder {
                    from: TubeRef(0),
                    to: TubeRef(1),
                    steps: StepChoice::Fixed(Steps::Quarters),
                    third: None,
                },
            ],
            white: Some(TubeRef(2)),
            thinning: Thinning::White {
                alone: vec![1.0, 2.0, 4.0, 8.0, 16.0],
                mixtures: vec![1.0, 4.0],
                film: false,
            },
            ..Design::default()
        };
        let prior = Prior::nothing(3, Conditions::D65_10);
        let plan = Plan::new(&design, &prior, &[None; 3]).expect("a plan");
        let naming =
            Naming { tubes: tubes.map(label).into(), white: design.white, ..Naming::default() };
        let sheets = lay_out(&plan, &naming, Paper::A4, 14.0).expect("sheets");
        let folder = tempfile::tempdir().expect("a folder");
        let mut drawings = Vec::new();
        for number in [1, 2] {
            let sheet = &sheets[0];
            let code = SheetCode {
                trial: 3,
                edition: 1,
                layout: LAYOUT,
                sheet: number,
                of: 2,
                paper: Paper::A4,
                side_mm: 14.0,
            };
            drawings.push(sheet.drawing("Greens", &code));
            let file = SheetFile::of(sheet, &code, &plan.swatches, &naming);
            let text = serde_json::to_string(&file).expect("JSON");
            fs::write(folder.path().join(format!("{number}.json")), text).expect("written");
        }
        fs::write(folder.path().join("sheets.pdf"), pdf(&drawings).expect("a PDF"))
            .expect("written");
        let meter = SimulatedMeter::new(SEED, MixingTable::default());
        Self { folder, drawing: drawings.swap_remove(0), swatches: plan.swatches, naming, meter }
    }

    fn at(&self, name: &str) -> PathBuf {
        self.folder.path().join(name)
    }

    fn run(&self, arguments: &[&str]) -> Output {
        Command::new(env!("CARGO_BIN_EXE_upright-swatch"))
            .current_dir(self.folder.path())
            .args(arguments)
            .output()
            .expect("run the program")
    }

    fn draw(&self, out: &str, more: &[&str]) {
        let usual = ["device", "scanner", "--sheet", "1.json", "--pdf", "sheets.pdf", "--out", out];
        let drawn = self.run(&[&usual[..], more].concat());
        assert!(drawn.status.success(), "{}", String::from_utf8_lossy(&drawn.stderr));
    }

    fn read(&self, picture: &str, more: &[&str]) -> Value {
        let usual = ["read", picture, "--sheet", "1.json", "--format", "json"];
        let read = self.run(&[&usual[..], more].concat());
        assert!(read.status.success(), "{}", String::from_utf8_lossy(&read.stderr));
        serde_json::from_slice(&read.stdout).expect("JSON")
    }

    fn colour(&mut self, swatch: &Swatch) -> Lab {
        let specimen = Specimen {
            swatch: u64::from(swatch.number.0),
            pile: 0,
            occasion: 0,
            paints: swatch
                .mixture
                .parts()
                .iter()
                .map(|part| (self.naming.tubes[part.tube.0].clone(), part.parts))
                .collect(),
            by_eye: false,
            backing: swatch.backing,
            film: FilmKind::Full,
            state: State::Dry,
        };
        let read = self.meter.read(&specimen).expect("a reading");
        Lab::from_reflectance(&read, Conditions::D65_10)
    }

    /// The meter's readings of some squares, by their numbers.
    fn anchors(&mut self, which: impl Fn(u32) -> bool) -> PathBuf {
        let mut text = String::from(
            "# upright-swatch readings 1\n# white: Workshop Titanium\n\
             tube,maker,code,with,parts,with_parts,white_parts,state,backing,repeat,L,a,b,number,simulated\n",
        );
        for swatch in self.swatches.clone() {
            if which(swatch.number.0) {
                let Lab { l, a, b } = self.colour(&swatch);
                // The number says which square it is, whatever stands in the other columns.
                let backing = swatch.backing;
                text += &format!(",,,,,,,dry,{backing},1,{l},{a},{b},{},yes\n", swatch.number);
            }
        }
        let path = self.at("anchors.csv");
        fs::write(&path, text).expect("written");
        path
    }
}

fn text(path: &Path) -> &str {
    path.to_str().expect("a path")
}

#[test]
fn a_scan_and_a_photo_become_colours_with_intervals() {
    let mut desk = Desk::new();
    let anchors = desk.anchors(|number| number % 2 == 1);
    for (out, more) in [("scan.png", [].as_slice()), ("photo.jpg", &["--phone"])] {
        desk.draw(out, more);
        let told = desk.read(out, &["--anchors", text(&anchors)]);
        assert_eq!(told["refused"], Value::Null, "{told}");
        assert_eq!(told["calibration"]["method"], "calibrated");
        assert_eq!(told["simulated"], true, "the meter is a made-up one");
        assert!(told["calibration"]["anchors"].as_u64() > Some(9), "{told}");
        assert!(told["calibration"]["loo"].as_f64() < Some(4.0));
        let mut off = Vec::new();
        for cell in told["cells"].as_array().expect("cells") {
            assert!(cell["px"].as_f64() > Some(0.0) && cell["py"].as_f64() > Some(0.0));
            let number = cell["number"].as_u64().expect("a number");
            let lab = ["L", "a", "b"].map(|axis| cell[axis].as_f64());
            let ([Some(l), Some(a), Some(b)], Some(u)) = (lab, cell["U"].as_f64()) else {
                assert_eq!(cell["status"], "refused");
                continue;
            };
            if number % 2 == 0 {
                let swatch = desk.swatches[number as usize - 1].clone();
                let miss = ciede2000(Lab::new(l, a, b), desk.colour(&swatch)).value();
                off.push((miss, miss <= u));
            }
        }
        let inside = off.iter().filter(|(_, inside)| *inside).count();
        assert!(off.len() >= 8 && 10 * inside >= 9 * off.len(), "{out}: {off:?}");
        off.sort_by(|one, other| one.0.total_cmp(&other.0));
        assert!(off[off.len() / 2].0 < 2.5, "{out}: {off:?}");
    }
    // The same film over black and over white: an estimate of its own, and no reading.
    let told = desk.read("scan.png", &["--anchors", text(&anchors)]);
    let ratios = told["estimates"]["contrast_ratios"].as_array().expect("a list").clone();
    assert!(!ratios.is_empty(), "{told}");
    for estimate in ratios {
        let mut luminance = |key: &str| {
            let number = estimate[key].as_u64().expect("a number") as usize;
            let swatch = desk.swatches[number - 1].clone();
            desk.colour(&swatch).to_xyz(Conditions::D65_10).y
        };
        let truth = 100.0 * luminance("over_black") / luminance("over_light");
        let off = (estimate["ratio"].as_f64().expect("a ratio") - truth).abs();
        assert!(off <= estimate["half_width"].as_f64().expect("a width"), "{estimate}, {truth}");
    }
    // Without anchors: a guess, and said so.
    let told = desk.read("scan.png", &[]);
    assert_eq!(told["calibration"]["method"], "uncalibrated");
    assert_eq!(told["calibration"]["loo"], Value::Null);
    let lines = desk.run(&["read", "scan.png", "--sheet", "1.json"]);
    let lines = String::from_utf8(lines.stdout).expect("text");
    assert!(lines.starts_with("A simulated device drew the picture"), "{lines}");
    assert!(lines.contains("\nNot calibrated: 0 squares of known colour were found"), "{lines}");
}

#[test]
fn what_cannot_be_read_is_said_with_what_to_do() {
    let desk = Desk::new();
    desk.draw("other.png", &["--fault", "other-sheet"]);
    let told = desk.read("other.png", &[]);
    let reason = told["refused"][0].as_str().expect("a reason");
    assert!(reason.contains("another sheet") && reason.contains("S2/2"), "{reason}");
    assert!(
        told["cells"].as_array().expect("cells").iter().all(|cell| cell["status"] == "refused")
    );
    fs::write(desk.at("not.png"), b"no picture").expect("written");
    fs::write(desk.at("not.json"), b"{\"format\":\"upright-swatch sheet 9\"}").expect("written");
    let sheet = fs::read_to_string(desk.at("1.json")).expect("a sheet");
    let bad = sheet.replace("\"width_mm\":297.0", "\"width_mm\":-3.0");
    fs::write(desk.at("bad.json"), bad).expect("written");
    let marks = sheet.replace("\"tag\":3", "\"tag\":2");
    fs::write(desk.at("marks.json"), marks).expect("written");
    for (arguments, said) in [
        (["read", "not.png", "--sheet", "1.json"], "not.png: this is no PNG, JPEG or TIFF picture"),
        (["read", "missing.png", "--sheet", "1.json"], "missing.png: cannot be opened"),
        (["read", "other.png", "--sheet", "not.json"], "not.json: this is no sheet file"),
        (["read", "other.png", "--sheet", "bad.json"], "width_mm is -3; write 20 to 2000 mm"),
        (
            ["read", "other.png", "--sheet", "marks.json"],
            "there are four, 0 to 3 or on a card 4 to 7",
        ),
    ] {
        let output = desk.run(&arguments);
        let message = String::from_utf8_lossy(&output.stderr).into_owned();
        assert_eq!(output.status.code(), Some(2), "{message}");
        assert!(message.contains(said), "{message}");
    }
}

/// A card of the same tubes lies beside the sheet in a photo: what a meter read of it calibrates the sheet.
#[test]
fn a_card_beside_the_sheet_calibrates_the_photo() {
    let mut desk = Desk::new();
    let white = TubeRef(2);
    let tint = |tube: usize, parts: f64| Mixture::of(&[(TubeRef(tube), 1.0), (white, parts)]);
    let both =
        |a: f64, b: f64| Mixture::of(&[(TubeRef(0), a), (TubeRef(1), b), (white, 4.0 * (a + b))]);
    let mut mixtures: Vec<Mixture> = (0..2)
        .flat_map(|tube| [0.5, 1.0, 2.0, 4.0, 8.0, 16.0].map(|parts| tint(tube, parts)))
        .collect();
    mixtures.extend([(1.0, 1.0), (3.0, 1.0), (1.0, 3.0)].map(|(a, b)| both(a, b)));
    let design =
        Design { charts: vec![Chart::Card(mixtures)], white: Some(white), ..Design::default() };
    let prior = Prior::nothing(3, Conditions::D65_10);
    let plan = Plan::new(&design, &prior, &[None; 3]).expect("a plan");
    let [card] = lay_out_card(&plan, &desk.naming).try_into().expect("one card");
    let code = SheetCode {
        trial: 4,
        edition: 1,
        layout: LAYOUT,
        sheet: 1,
        of: 1,
        paper: card.paper,
        side_mm: card.side_mm,
    };
    let file = SheetFile::of(&card, &code, &plan.swatches, &desk.naming);
    fs::write(desk.at("card.json"), serde_json::to_string(&file).expect("JSON")).expect("written");
    // The card's squares by their numbers, which are also numbers of the sheet.
    let of_sheet = std::mem::replace(&mut desk.swatches, plan.swatches);
    let anchors = desk.anchors(|_| true);
    desk.swatches = of_sheet;
    let sheet_swatches = desk.swatches.clone();

    let sheet = SheetFile::read(&fs::read(desk.at("1.json")).expect("a sheet")).expect("a sheet");
    let page = |drawing: &Drawing| {
        let (width, height, grey) = raster(drawing, 200.0).expect("a page");
        PrintedPage { width, height, grey }
    };
    let white = desk.naming.tubes[2].clone();
    let lies = |cell: &CellEntry| specimen_of(cell, &white);
    let painted = |file: &SheetFile, page| painted_sheet(file, page, SEED, lies).expect("painted");
    let drawn = painted(&sheet, page(&desk.drawing));
    let beside = painted(&file, page(&card.drawing("Anchor card", &code)));
    let at = [drawn.size_mm[0] + 12.0, 12.0];
    let shot = take_beside(&drawn, Some((&beside, at)), PictureDevice::Phone, &[], SEED);
    let bytes = formats::picture::write_drawn((shot.width, shot.height), &shot.rgb, true);
    fs::write(desk.at("photo.jpg"), bytes.expect("a picture")).expect("written");

    let alone = desk.read("photo.jpg", &[]);
    assert_eq!(alone["calibration"]["method"], "uncalibrated");
    let told = desk.read("photo.jpg", &["--card", "card.json", "--anchors", text(&anchors)]);
    assert_eq!(told["calibration"]["method"], "calibrated", "{}", told["calibration"]);
    let count = told["calibration"]["anchors"].as_u64().expect("a number");
    assert!((12..=18).contains(&count), "the card's squares alone: {count}");
    let (mut inside, mut all) = (0, 0);
    for cell in told["cells"].as_array().expect("cells") {
        let (Some(l), Some(u)) = (cell["L"].as_f64(), cell["U"].as_f64()) else { continue };
        let [a, b] = ["a", "b"].map(|axis| cell[axis].as_f64().expect("an axis"));
        let swatch = sheet_swatches
            .iter()
            .find(|it| Some(u64::from(it.number.0)) == cell["number"].as_u64());
        let truth = desk.colour(swatch.expect("its swatch"));
        all += 1;
        inside += usize::from(ciede2000(Lab::new(l, a, b), truth).value() <= u);
    }
    assert!(all >= 15 && inside * 10 >= all * 9, "{inside} of {all} within their U");
    // Without readings a card says nothing, and that is said.
    let output = desk.run(&["read", "photo.jpg", "--sheet", "1.json", "--card", "card.json"]);
    assert!(String::from_utf8_lossy(&output.stderr).contains("--anchors"));
}
