//! `upright-swatch read PICTURE`: colours from a picture of a painted sheet, without a workshop.

use std::collections::HashMap;
use std::fmt::Write as _;
use std::fs;
use std::path::{Path, PathBuf};
use std::process::ExitCode;

use clap::Args;
use colour::Conditions;
use formats::readings::ReadingsFile;
use formats::sheet::{PaintNumbers, SheetFile, expect, known_colours, numbers_squares};
use picture::{CellReading, ContrastEstimate, Estimates, PictureReading, StainingEstimate};

use crate::output::{Format, answer};

#[derive(Args)]
pub(crate) struct Options {
    /// A scan or a photo: PNG, JPEG or TIFF.
    picture: PathBuf,
    /// The sheet that is in it, from the address of a sheet that ends in .json.
    #[arg(long, value_name = "SHEET.json")]
    sheet: PathBuf,
    /// The anchor card that lies beside it, from the address of its sheet that ends in .json.
    #[arg(long, value_name = "CARD.json", requires = "anchors")]
    card: Option<PathBuf>,
    /// Readings of some of its squares, by a meter: they calibrate the picture.
    #[arg(long, value_name = "READINGS.csv")]
    anchors: Option<PathBuf>,
    /// How far a reading of an anchor may be off, one standard deviation of L*, a* and b*: 0.15 on this very sheet,
    /// 0.6 on one that was painted again, 1.5 from somebody else's file.
    #[arg(long, value_name = "DELTA", default_value_t = 0.15)]
    anchor_sigma: f64,
    /// How to print what was read.
    #[arg(long, value_enum, default_value_t = Format::Table)]
    format: Format,
}

const SIMULATED: &str = "A simulated device drew the picture, or read its known squares: these colours show how the work goes, and say \
                         nothing of any paint.\n";

pub(crate) fn run(options: &Options) -> ExitCode {
    answer(report(options))
}

fn report(options: &Options) -> Result<String, String> {
    if !(0.01..=20.0).contains(&options.anchor_sigma) {
        return Err(format!("--anchor-sigma {}: write 0.01 to 20", options.anchor_sigma));
    }
    let sheet = read_sheet(&options.sheet)?;
    let anchors = options.anchors.as_deref().map(read_anchors).transpose()?;
    let known = match &anchors {
        // Numbers are the card's, where there is one.
        Some(file) if options.card.is_some() && numbers_squares(file) => HashMap::new(),
        Some(file) => known_colours(&sheet, file, options.anchor_sigma),
        None => HashMap::new(),
    };
    let conditions = anchors.as_ref().map_or(Conditions::D65_10, |file| file.study.conditions);
    let mut numbers = PaintNumbers::default();
    let mut target = sheet.target_beside(&known, &mut numbers);
    let card = options.card.as_deref().map(read_sheet).transpose()?;
    let card = card.zip(anchors.as_ref()).map(|(card, file)| {
        card.target_beside(&known_colours(&card, file, options.anchor_sigma), &mut numbers)
    });
    let study = anchors.map_or_else(|| no_study(conditions), |file| file.study);
    expect(&mut target, &sheet, &study);
    let name = options.picture.display();
    let bytes = load(&options.picture)?;
    let file = formats::picture::read(&bytes).map_err(|error| format!("{name}: {error}"))?;
    let reading = picture::read_beside(
        &file.raster,
        &target,
        card.as_ref().map(|target| picture::Card { target, scan: None }),
        conditions,
    );
    let simulated = formats::picture::is_drawn(&bytes, &file.raster)
        || study.readings.iter().any(|reading| reading.simulated);
    let estimates = Estimates::of(&target, &reading, conditions);
    match options.format {
        Format::Table => {
            let note = if simulated { SIMULATED } else { "" };
            Ok(note.to_owned() + &table(&reading, &estimates, &sheet, conditions))
        }
        Format::Json => serde_json::to_string_pretty(&formats::picture::to_json(
            &reading, &estimates, &file, simulated,
        ))
        .map(|json| json + "\n")
        .map_err(|error| format!("{name}: what was read cannot be written as JSON: {error}")),
    }
}

fn read_sheet(path: &Path) -> Result<SheetFile, String> {
    SheetFile::read(&load(path)?).map_err(|error| format!("{}: {error}", path.display()))
}

fn no_study(conditions: Conditions) -> study::Study {
    study::Study {
        conditions,
        protocol: study::Protocol::default(),
        tubes: Vec::new(),
        white: None,
        readings: Vec::new(),
    }
}

fn read_anchors(path: &Path) -> Result<ReadingsFile, String> {
    formats::readings::read(&load(path)?).map_err(|error| format!("{}: {error}", path.display()))
}

fn load(path: &Path) -> Result<Vec<u8>, String> {
    let cannot = |error| format!("{}: cannot be opened: {error}", path.display());
    let size = fs::metadata(path).map_err(cannot)?.len();
    if size > formats::picture::MAX_BYTES {
        return Err(format!("{}: larger than 128 MB", path.display()));
    }
    fs::read(path).map_err(cannot)
}

fn table(
    reading: &PictureReading,
    estimates: &Estimates,
    sheet: &SheetFile,
    conditions: Conditions,
) -> String {
    let mut out = String::new();
    // Writing to a string cannot fail.
    for reason in &reading.refused {
        let _ = writeln!(out, "The picture cannot be read: {reason}.");
    }
    if let Some(not_flat) = reading.not_flat() {
        let _ = writeln!(out, "{not_flat}");
    }
    if let Some(told) = &reading.calibration {
        let _ = match told.leave_one_out {
            Some(off) => writeln!(
                out,
                "Calibrated by {} squares; each, told by the others, is off by ΔE00 {off:.1} (median). \
                 Colours for {conditions}.",
                told.anchors
            ),
            None => writeln!(
                out,
                "Not calibrated: {} squares of known colour were found, 10 are needed. Colours are good \
                 for comparing squares of this picture, and for nothing else.",
                told.anchors
            ),
        };
        for (number, why) in &told.doubted {
            let square = picture::square_named(*number);
            let _ = writeln!(out, "The known colour of {square} was not used: {why}.");
        }
        let _ =
            writeln!(out, "{:>6}  {:>6} {:>6} {:>6}  {:>5}", "square", "L*", "a*", "b*", "±ΔE00");
    }
    if reading.refused.is_empty() {
        for (cell, entry) in reading.cells.iter().zip(&sheet.cells) {
            let _ = writeln!(out, "{}", line(cell, &entry.label));
        }
    }
    let label = |number: u32| {
        let cell = sheet.cells.iter().find(|cell| cell.number == number);
        cell.map_or("", |cell| cell.label.as_str())
    };
    if !estimates.contrast_ratios.is_empty() {
        let _ = writeln!(out, "Contrast ratios, estimated from this picture:");
    }
    for ContrastEstimate { over_black, over_light, ratio, half_width } in &estimates.contrast_ratios
    {
        let label = label(*over_black);
        let _ = writeln!(
            out,
            "{ratio:>6.0} ± {half_width:.0}  squares {over_black} and {over_light}, {label}"
        );
    }
    if !estimates.staining.is_empty() {
        let _ = writeln!(out, "Staining, estimated from halves that were lifted:");
    }
    for StainingEstimate { number, percent, half_width } in &estimates.staining {
        let label = label(*number);
        let _ = writeln!(out, "{percent:>6.0} ± {half_width:.0} %  square {number}, {label}");
    }
    out
}

fn line(cell: &CellReading, label: &str) -> String {
    let flags: Vec<String> =
        cell.flags.iter().map(|flag| flag.to_string().replace('_', " ")).collect();
    let flags = if flags.is_empty() { String::new() } else { format!("  [{}]", flags.join(", ")) };
    match (cell.lab, cell.u) {
        (Some(lab), Some(u)) => format!(
            "{:>6}  {:>6.1} {:>6.1} {:>6.1}  {u:>5.1}  {label}{flags}",
            cell.number, lab.l, lab.a, lab.b
        ),
        _ => {
            let why = cell.why.map_or_else(|| cell.status.to_string(), |why| why.to_string());
            format!("{:>6}  {:>32}  {label}{flags}", cell.number, why)
        }
    }
}
