//! Printed sheets, measured on the page as another program draws it.

use std::fs;
use std::process::Command;

use formats::sheet::{pdf, svg};
use plan::prior::Prior;
use plan::steps::Steps;
use plan::{Cell, Chart, Design, Naming, Plan, StepChoice, Thinning};
use sheet::{LayoutError, Mark, Paper, Sheet, SheetCode, lay_out};
use study::{Backing, TubeLabel, TubeRef};

fn tubes() -> Vec<TubeLabel> {
    [
        ("Canopy Ultramarine", "PB29"),
        ("Lantern <Yellow> & a very long name indeed", "PY74"),
        ("White", "PW6"),
    ]
    .map(|(name, code)| TubeLabel {
        name: name.into(),
        maker: "Tidewell".into(),
        code: code.into(),
    })
    .into()
}

/// A tenths ladder with anchors and two rows of tints: three rows of eleven squares.
fn plan() -> Plan {
    let design = Design {
        charts: vec![Chart::Ladder {
            from: TubeRef(0),
            to: TubeRef(1),
            steps: StepChoice::Fixed(Steps::Tenths),
            third: None,
        }],
        white: Some(TubeRef(2)),
        thinning: Thinning::White { alone: vec![], mixtures: vec![1.0, 4.0], film: false },
        ..Design::default()
    };
    let prior = Prior::nothing(3, colour::Conditions::D65_10);
    Plan::new(&design, &prior, &[None; 3]).expect("a plan")
}

fn naming(white: Option<TubeRef>) -> Naming {
    Naming { tubes: tubes().to_vec(), white, ..Naming::default() }
}

fn sheets(paper: Paper) -> Vec<Sheet> {
    lay_out(&plan(), &naming(Some(TubeRef(2))), paper, 20.0).expect("a layout")
}

fn code(sheet: &Sheet) -> SheetCode {
    let Sheet { number, of, paper, side_mm, .. } = *sheet;
    SheetCode { trial: 12, edition: 2, layout: 1, sheet: number, of, paper, side_mm }
}

/// A page as Poppler draws it, 1200 dots to the inch.
struct Page {
    width: usize,
    height: usize,
    grey: Vec<u8>,
}

const DPI: f64 = 1200.0;

impl Page {
    fn drawn(pdf: &[u8]) -> Self {
        let folder = tempfile::tempdir().expect("a folder");
        let (file, page) = (folder.path().join("sheet.pdf"), folder.path().join("page"));
        fs::write(&file, pdf).expect("written");
        let done = Command::new("pdftoppm")
            .args(["-r", &DPI.to_string(), "-gray", "-singlefile"])
            .args([&file, &page])
            .status();
        assert!(done.expect("Poppler is there (make tools)").success());
        let bytes = fs::read(page.with_extension("pgm")).expect("a picture");
        let head: Vec<&[u8]> = bytes.splitn(4, |byte| *byte == b'\n').collect();
        let size = std::str::from_utf8(head[1]).expect("a size").to_owned();
        let (width, height) = size.split_once(' ').expect("two numbers");
        Self {
            width: width.parse().expect("a number"),
            height: height.parse().expect("a number"),
            grey: head[3].to_vec(),
        }
    }

    fn dots(mm: f64) -> usize {
        (mm / 25.4 * DPI).round() as usize
    }

    /// Middles of the dark strokes on a horizontal line, in mm from the left.
    fn strokes(&self, y_mm: f64, from_mm: f64) -> Vec<f64> {
        let row = &self.grey[Self::dots(y_mm) * self.width..][..self.width];
        let mut strokes = Vec::new();
        let mut at = Self::dots(from_mm);
        for run in row[at..].chunk_by(|one, other| (*one < 128) == (*other < 128)) {
            if run[0] < 128 {
                strokes.push((at as f64 + run.len() as f64 / 2.0) / DPI * 25.4);
            }
            at += run.len();
        }
        strokes
    }

    fn dark(&self, x_mm: f64, y_mm: f64) -> bool {
        self.grey[Self::dots(y_mm) * self.width + Self::dots(x_mm)] < 128
    }
}

#[test]
fn a_printed_cell_measures_twenty_millimetres() {
    for paper in [Paper::A4, Paper::Letter] {
        let sheets = sheets(paper);
        let drawing = sheets[0].drawing("Blues for the roof", &code(&sheets[0]));
        let bytes = pdf(&[drawing]).expect("a PDF");
        let page = Page::drawn(&bytes);
        let (width, height) = paper.size_mm();
        assert!(page.width.abs_diff(Page::dots(width)) <= 1, "{paper}: {}", page.width);
        assert!(page.height.abs_diff(Page::dots(height)) <= 1, "{paper}: {}", page.height);
        // A row of solid squares: their upright edges stand 20.0 and 5.0 mm apart.
        let row =
            sheets[0].cells.iter().filter(|cell| !cell.again && cell.backing == Backing::Paper);
        let row: Vec<_> = row.collect();
        let first =
            row.windows(5).find(|five| five.iter().all(|it| it.y_mm > 80.0 && it.number.0 >= 17));
        let first = first.expect("five squares in a row")[0];
        let strokes = page.strokes(first.y_mm + 13.0, first.x_mm - 1.0);
        for (at, pair) in strokes.windows(2).take(9).enumerate() {
            let meant = if at % 2 == 0 { 20.0 } else { 5.0 };
            assert!((pair[1] - pair[0] - meant).abs() < 0.05, "{paper}: {strokes:?}");
        }
        // A bar lies under the squares over black, and stands out at both sides.
        let black = sheets[0].cells.iter().find(|cell| cell.backing == Backing::Black);
        let black = black.expect("opacity is tested");
        assert!(page.dark(black.x_mm - 1.0, black.y_mm + 10.0));
        assert!(page.dark(black.x_mm + 10.0, black.y_mm + 10.0));
        assert!(page.dark(black.x_mm + 21.0, black.y_mm + 10.0));
        // The code is read by another library.
        let mut picture =
            rqrr::PreparedImage::prepare_from_greyscale(page.width / 4, page.height / 4, |x, y| {
                page.grey[4 * y * page.width + 4 * x]
            });
        let grids = picture.detect_grids();
        let texts: Vec<String> =
            grids.iter().filter_map(|grid| Some(grid.decode().ok()?.1)).collect();
        let [text] = texts.as_slice() else { panic!("one code on the sheet: {texts:?}") };
        assert_eq!(text.parse::<SheetCode>().expect("a code"), code(&sheets[0]));
    }
}

/// What the simulated devices are given to look at is the page as Poppler draws it: every mark, line and letter.
#[test]
fn the_drawn_page_is_the_printed_one() {
    let sheets = sheets(Paper::A4);
    let mut drawing = sheets[0].drawing("Blues for the roof", &code(&sheets[0]));
    // Where the first dash of a rectangle lies is nobody's business.
    drawing.marks.retain(|mark| !matches!(mark, Mark::Outline { dashed: true, .. }));
    let printed = Page::drawn(&pdf(std::slice::from_ref(&drawing)).expect("a PDF"));
    let (width, height, grey) = formats::sheet::raster(&drawing, DPI).expect("a page");
    assert!(width.abs_diff(printed.width) <= 1 && height.abs_diff(printed.height) <= 1);
    // Edges are smoothed and rounded otherwise; in blocks of four pixels a letter or a module that is missing shows.
    let mean = |grey: &[u8], width: usize, x: usize, y: usize| {
        let rows = (4 * y..4 * y + 4).map(|row| &grey[row * width + 4 * x..][..4]);
        rows.flatten().map(|value| u32::from(*value)).sum::<u32>() / 16
    };
    let (across, down) = (width.min(printed.width) / 4, height.min(printed.height) / 4);
    let (mut ink, mut unlike) = (0_usize, 0_usize);
    for y in 0..down {
        for x in 0..across {
            let one = mean(&grey, width, x, y);
            let other = mean(&printed.grey, printed.width, x, y);
            ink += usize::from(other < 128);
            unlike += usize::from(one.abs_diff(other) > 128);
        }
    }
    assert!(ink > across * down / 100, "{ink} dark blocks");
    assert!(unlike * 200 < ink, "{unlike} of {ink} dark blocks are another colour");
    assert_eq!(formats::sheet::raster(&sheet::Drawing { width_mm: 0.0, ..drawing }, DPI), None);
}

#[test]
fn every_square_has_its_place_and_its_label() {
    let plan = plan();
    for paper in [Paper::A4, Paper::Letter] {
        let sheets = sheets(paper);
        let (width, height) = paper.size_mm();
        let squares =
            plan.rows.iter().flat_map(|row| &row.cells).filter(|cell| **cell != Cell::Gap);
        assert_eq!(sheets.iter().map(|sheet| sheet.cells.len()).sum::<usize>(), squares.count());
        for sheet in &sheets {
            assert_eq!(sheet.of, sheets.len());
            for (at, cell) in sheet.cells.iter().enumerate() {
                assert!(cell.x_mm >= 12.0 && cell.x_mm + 20.0 <= width - 12.0, "{cell:?}");
                assert!(cell.y_mm >= 25.0 && cell.y_mm + 28.0 <= height - 22.0, "{cell:?}");
                let apart = |other: &sheet::PlacedCell| {
                    (other.x_mm - cell.x_mm).abs() >= 24.9 || (other.y_mm - cell.y_mm).abs() >= 30.0
                };
                assert!(sheet.cells[at + 1..].iter().all(apart), "{cell:?} is under another");
                assert!(cell.lines.iter().all(|line| line.chars().count() <= 27), "{cell:?}");
            }
        }
        let all: Vec<String> =
            sheets.iter().flat_map(|it| &it.cells).map(|it| it.lines.join(" | ")).collect();
        for words in [
            "1  bare paper | leave bare",
            "as 7  mass tone | Canopy Ultramarine PB29",
            "7 : 3, white 1 : 4 | Canopy Ultramarine PB29 | Lantern <Yellow> & a… PY74",
        ] {
            assert!(all.iter().any(|label| label.contains(words)), "{words} in {all:?}");
        }
    }
}

#[test]
fn an_svg_holds_its_text_escaped_and_in_millimetres() {
    let sheets = sheets(Paper::A4);
    let svg = svg(&sheets[0].drawing("Blues & <reds>", &code(&sheets[0])), "Sheet 1");
    assert!(svg.contains("width=\"297mm\" height=\"210mm\" viewBox=\"0 0 297 210\""));
    assert!(svg.contains("Blues &amp; &lt;reds&gt;") && svg.contains("Lantern &lt;Yellow&gt;"));
    assert!(svg.contains("width=\"20.000\" height=\"20.000\""));
    assert!(!svg.contains("style="));
}

#[test]
fn squares_that_do_not_fit_are_said_with_what_does() {
    let lay = |side: f64| lay_out(&plan(), &naming(None), Paper::A4, side);
    let large = lay(180.0).expect_err("too large");
    assert!(matches!(large, LayoutError::SquareTooLarge { most_mm, .. } if lay(most_mm).is_ok()));
    assert!(large.to_string().contains("up to 148 mm fit"), "{large}");
    assert!(lay(3.0).expect_err("too small").to_string().contains("write 8 mm or more"));
}
