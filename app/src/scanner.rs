//! `upright-swatch device scanner`: the picture of a sheet that exists only in numbers.

use std::fs;
use std::path::{Path, PathBuf};
use std::process::{Command, ExitCode};

use clap::{Args, ValueEnum};
use formats::sheet::{CellEntry, SheetFile, TubeEntry};
use instruments::simulated::picture::{PictureDevice, PictureFault, PrintedPage, take};
use workshop::{painted_sheet, specimen_of};

use crate::output::BAD_INPUT;

/// Dots to an inch at which the page is printed.
const DPI: &str = "300";

#[derive(Args)]
pub(crate) struct Options {
    /// The sheet, from the address of a sheet that ends in .json.
    #[arg(long, value_name = "SHEET.json")]
    sheet: PathBuf,
    /// The printed sheets.
    #[arg(long, value_name = "SHEETS.pdf")]
    pdf: PathBuf,
    /// Which page of them it is.
    #[arg(long, value_name = "N", default_value_t = 1)]
    page: u32,
    /// Everything in the picture follows from this number.
    #[arg(long, value_name = "N", default_value_t = 1893)]
    seed: u64,
    /// A phone takes it, and no scanner.
    #[arg(long)]
    phone: bool,
    /// A scanner with coloured lamps takes it.
    #[arg(long, conflicts_with = "phone")]
    lamps: bool,
    /// What goes wrong; can be given several times.
    #[arg(long, value_name = "NAME")]
    fault: Vec<Fault>,
    /// Where the picture is written: .png or .jpg.
    #[arg(long, value_name = "FILE")]
    out: PathBuf,
}

/// What goes wrong.
#[derive(Clone, Copy, PartialEq, Eq, ValueEnum)]
enum Fault {
    /// A lamp is mirrored in a square.
    Glare,
    /// The hand shook.
    Blur,
    /// There was too little light.
    Dark,
    /// Seen from the side.
    Oblique,
    /// A window is mirrored in the whole of a square.
    Veil,
    /// The paper bulges.
    Bent,
    /// It lies in waves.
    Wavy,
    /// A corner is covered.
    CornerMissing,
    /// A hand's shadow lies over it.
    Shadow,
    /// Two squares hold each other's paint.
    Swapped,
    /// A square was forgotten.
    Empty,
    /// Half of a square is another colour.
    TwoTone,
    /// The paint of a square is speckled.
    Granulates,
    /// Another page of the PDF lies there.
    OtherSheet,
}

pub(crate) fn run(options: &Options) -> ExitCode {
    match draw(options) {
        Ok(()) => ExitCode::SUCCESS,
        Err(message) => {
            eprintln!("{message}");
            ExitCode::from(BAD_INPUT)
        }
    }
}

fn draw(options: &Options) -> Result<(), String> {
    let named = |path: &Path, error: &dyn std::fmt::Display| format!("{}: {error}", path.display());
    let bytes = fs::read(&options.sheet).map_err(|error| named(&options.sheet, &error))?;
    let sheet = SheetFile::read(&bytes).map_err(|error| named(&options.sheet, &error))?;
    let other = options.fault.contains(&Fault::OtherSheet);
    let page = if other { options.page + 1 } else { options.page };
    let white = sheet.white.clone().unwrap_or_else(TubeEntry::usual_white).label();
    let lies_there = |cell: &CellEntry| specimen_of(cell, &white);
    let painted = painted_sheet(&sheet, printed(&options.pdf, page)?, options.seed, lies_there)
        .map_err(|error| error.to_string())?;
    let device = match (options.phone, options.lamps) {
        (true, _) => PictureDevice::Phone,
        (_, true) => PictureDevice::LampScanner,
        _ => PictureDevice::LineScanner,
    };
    let faults: Vec<PictureFault> =
        options.fault.iter().filter_map(|fault| fault.drawn()).collect();
    let shot = take(&painted, device, &faults, options.seed);
    let as_jpeg = options.out.extension().is_some_and(|it| it == "jpg" || it == "jpeg");
    let bytes = formats::picture::write_drawn((shot.width, shot.height), &shot.rgb, as_jpeg)
        .map_err(|error| named(&options.out, &error))?;
    fs::write(&options.out, bytes).map_err(|error| named(&options.out, &error))
}

impl Fault {
    fn drawn(self) -> Option<PictureFault> {
        Some(match self {
            Self::Glare => PictureFault::Glare,
            Self::Blur => PictureFault::Blur,
            Self::Dark => PictureFault::Dark,
            Self::Oblique => PictureFault::Oblique,
            Self::Veil => PictureFault::Veil,
            Self::Bent => PictureFault::Bent,
            Self::Wavy => PictureFault::Wavy,
            Self::CornerMissing => PictureFault::CornerMissing,
            Self::Shadow => PictureFault::Shadow,
            Self::Swapped => PictureFault::Swapped,
            Self::Empty => PictureFault::Empty,
            Self::TwoTone => PictureFault::TwoTone,
            Self::Granulates => PictureFault::Granulates,
            Self::OtherSheet => return None,
        })
    }
}

/// A page as Poppler draws it.
fn printed(pdf: &Path, page: u32) -> Result<PrintedPage, String> {
    let folder = tempfile::tempdir().map_err(|error| format!("no room for the page: {error}"))?;
    let drawn = folder.path().join("page");
    let done = Command::new("pdftoppm")
        .args([
            "-png",
            "-r",
            DPI,
            "-gray",
            "-singlefile",
            "-f",
            &page.to_string(),
            "-l",
            &page.to_string(),
        ])
        .arg(pdf)
        .arg(&drawn)
        .status()
        .map_err(|error| format!("pdftoppm cannot be run ({error}); install poppler-utils"))?;
    let bytes = fs::read(drawn.with_extension("png")).unwrap_or_default();
    if !done.success() || bytes.is_empty() {
        return Err(format!("{}: page {page} cannot be drawn", pdf.display()));
    }
    let (width, height, grey) =
        formats::picture::grey(&bytes).map_err(|error| error.to_string())?;
    Ok(PrintedPage { width, height, grey })
}
