//! Colours from a picture of a painted sheet, decoding included.

use std::collections::HashMap;
use std::hint::black_box;

use colour::{Conditions, Reflectance};
use criterion::{Criterion, criterion_group, criterion_main};
use formats::sheet::SheetFile;
use instruments::simulated::picture::{
    PaintedSheet, PaintedSquare, PictureDevice, PrintedPage, Shot, take,
};
use plan::prior::Prior;
use plan::{Chart, Design, Naming, Plan, Thinning};
use sheet::{Drawing, LAYOUT, Mark, Paper, SheetCode, lay_out};
use study::{TubeLabel, TubeRef};

/// A sheet of eight tubes with their tints.
fn sheet() -> Option<(SheetFile, Drawing)> {
    let codes = ["PY74", "PO73", "PR254", "PR122", "PV23", "PB29", "PB15:3", "PG7", "PW6"];
    let label = |code: &str| TubeLabel {
        name: format!("Tube {code}"),
        maker: "Tidewell".into(),
        code: code.into(),
    };
    let white = TubeRef(8);
    let design = Design {
        charts: vec![Chart::Tints((0..8).map(TubeRef).collect())],
        white: Some(white),
        thinning: Thinning::White {
            alone: vec![1.0, 2.0, 4.0, 8.0, 16.0],
            mixtures: vec![],
            film: false,
        },
        ..Design::default()
    };
    let plan = Plan::new(&design, &Prior::nothing(9, Conditions::D65_10), &[None; 9]).ok()?;
    let naming = Naming { tubes: codes.map(label).into(), white: Some(white), ..Naming::default() };
    let sheets = lay_out(&plan, &naming, Paper::A4, 12.0).ok()?;
    let sheet = sheets.first()?;
    let code = SheetCode {
        trial: 1,
        edition: 1,
        layout: LAYOUT,
        sheet: 1,
        of: sheet.of,
        paper: Paper::A4,
        side_mm: 12.0,
    };
    Some((SheetFile::of(sheet, &code, &plan.swatches, &naming), sheet.drawing("Speed", &code)))
}

/// The page's solid marks; its letters make no difference to the time.
fn page(drawing: &Drawing) -> PrintedPage {
    let per_mm = 300.0 / 25.4;
    let [width, height] =
        [drawing.width_mm, drawing.height_mm].map(|side| (side * per_mm) as usize);
    let mut grey = vec![255; width * height];
    for mark in &drawing.marks {
        let Mark::Solid { area } = mark else { continue };
        let [left, top, wide, high] = area.map(|mm| (mm * per_mm).round() as usize);
        for row in grey.chunks_exact_mut(width).skip(top).take(high) {
            row[left..(left + wide).min(width)].fill(0);
        }
    }
    PrintedPage { width, height, grey }
}

fn shot(file: &SheetFile, drawing: &Drawing, device: PictureDevice) -> Shot {
    let squares = file.cells.iter().map(|cell| PaintedSquare {
        number: cell.number,
        area_mm: [cell.x, cell.y, cell.side],
        paint: (!cell.tubes.is_empty()).then(|| {
            let middle = f64::from(cell.number % 30);
            Reflectance::from_fn(|band| {
                0.15 + 0.5 * (-((band as f64 - middle) / 6.0).powi(2)).exp()
            })
        }),
        other_half: None,
        speckle: 0.0,
    });
    let sheet = PaintedSheet {
        page: page(drawing),
        size_mm: [file.width_mm, file.height_mm],
        paper: Reflectance::from_fn(|_| 0.86),
        black: Reflectance::from_fn(|_| 0.045),
        squares: squares.collect(),
    };
    take(&sheet, device, &[], 1)
}

/// The nearest pixels of a picture of another size.
fn resized(shot: &Shot, times: f64) -> ((usize, usize), Vec<u8>) {
    let [width, height] = [shot.width, shot.height].map(|side| (side as f64 * times) as usize);
    let mut rgb = Vec::with_capacity(3 * width * height);
    for y in 0..height {
        for x in 0..width {
            let of = |at: usize, most: usize| ((at as f64 / times) as usize).min(most - 1);
            let at = 3 * (of(y, shot.height) * shot.width + of(x, shot.width));
            rgb.extend_from_slice(&shot.rgb[at..at + 3]);
        }
    }
    ((width, height), rgb)
}

fn pictures(criterion: &mut Criterion) {
    let Some((file, drawing)) = sheet() else { return };
    let known: HashMap<u32, picture::Known> = file
        .anchors
        .iter()
        .map(|number| {
            let middle = f64::from(number % 30);
            let spectrum = Reflectance::from_fn(|band| {
                0.15 + 0.5 * (-((band as f64 - middle) / 6.0).powi(2)).exp()
            });
            let lab = colour::Lab::from_reflectance(&spectrum, Conditions::D65_10);
            (*number, picture::Known { lab, sigma: 0.15, spectrum: Some(spectrum) })
        })
        .collect();
    let target = file.target(&known);
    for (name, device, times, as_jpeg) in [
        ("A4 at 300 dpi, PNG", PictureDevice::LineScanner, 1.0, false),
        ("A4 at 600 dpi, PNG", PictureDevice::LineScanner, 2.0, false),
        ("12 megapixels, JPEG", PictureDevice::Phone, 2.0_f64.sqrt(), true),
    ] {
        let (size, rgb) = resized(&shot(&file, &drawing, device), times);
        let Ok(bytes) = formats::picture::write(size, &rgb, as_jpeg) else { return };
        println!(
            "{name}: {} × {}, {} squares, {} known",
            size.0,
            size.1,
            target.cells.len(),
            known.len()
        );
        criterion.bench_function(&format!("colours from {name}"), |bencher| {
            bencher.iter(|| {
                let file = formats::picture::read(black_box(&bytes)).map(|file| file.raster);
                file.map_or(0, |raster| {
                    picture::read(&raster, &target, Conditions::D65_10).cells.len()
                })
            });
        });
    }
}

criterion_group! {
    name = benches;
    config = Criterion::default().sample_size(10);
    targets = pictures
}
criterion_main!(benches);
