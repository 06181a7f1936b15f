//! An old chart of the simulated workshop: tints that somebody ruled by hand years ago, photographed by the simulated
//! phone. Who draws it knows what stands in it; who reads it has to say so.

use formats::sheet::{SheetFile, TubeEntry, raster};
use instruments::simulated::picture::{PictureDevice, PrintedPage, take};
use plan::{CellNumber, Naming, Swatch};
use sheet::{Drawing, Mark, Ruling};
use store::Palette;
use study::numbers::parts;
use study::{Backing, FilmKind, Mixture, TubeRef};

use crate::background::off_the_thread;
use crate::error::WorkshopError;
use crate::pictures::{Pictures, Received, painted_sheet, specimen_of};
use crate::workshop::Workshop;

/// Tubes and parts of white of the old chart.
const TUBES: usize = 4;
const WHITES: [f64; 4] = [0.0, 1.0, 4.0, 16.0];
/// Somebody ruled it without much care: lines are off by up to this, mm.
const CARELESS_MM: f64 = 0.5;
const DPI: f64 = 200.0;
const LETTERS_MM: f64 = 2.4;
/// Bare paper at the left and at the right of it, mm: it stands on a sheet that is wider than high.
const BESIDE_MM: f64 = 40.0;

/// An old chart with what it holds.
#[derive(Debug, Clone)]
pub(crate) struct OldChart {
    pub ruling: Ruling,
    pub naming: Naming,
    pub swatches: Vec<Swatch>,
}

impl OldChart {
    /// Tints of the first tubes of a palette; `None` for one without a white.
    pub fn of(palette: &Palette) -> Option<Self> {
        let white = palette.white()?;
        let mut tubes: Vec<_> = palette.colours().into_iter().take(TUBES).collect();
        let rows = tubes.len();
        tubes.push(white);
        let naming = Naming {
            tubes: tubes.iter().map(|tube| tube.tube.label()).collect(),
            white: Some(TubeRef(rows)),
            ..Naming::default()
        };
        let mixture = |at: usize| {
            let (row, column) = (at / WHITES.len(), at % WHITES.len());
            Mixture::of(&[(TubeRef(row), 1.0), (TubeRef(rows), WHITES[column])])
        };
        let swatch = |at: usize| Swatch {
            number: CellNumber::at(at),
            mixture: mixture(at),
            backing: Backing::Paper,
            film: FilmKind::Full,
        };
        let ruling = Ruling { rows, columns: WHITES.len(), side_mm: 18.0, gap_mm: [7.0, 9.0] };
        let swatches = (0..ruling.squares()).map(swatch).collect();
        (rows > 0).then_some(Self { ruling, naming, swatches })
    }

    /// Its squares, where they were really painted.
    fn sheet(&self) -> SheetFile {
        let numbers: Vec<_> = self.swatches.iter().map(|it| Some(it.number)).collect();
        let mut file = SheetFile::ruled(&self.ruling, &numbers, &self.swatches, &self.naming);
        file.width_mm += 2.0 * BESIDE_MM;
        for (at, cell) in file.cells.iter_mut().enumerate() {
            // Always the same carelessness.
            let off = |times: usize| CARELESS_MM * (((at * times) % 11) as f64 / 5.0 - 1.0);
            cell.x += BESIDE_MM + off(7);
            cell.y += off(4);
        }
        file
    }

    fn drawing(&self, file: &SheetFile) -> Drawing {
        let mut marks = Vec::new();
        for (cell, at) in file.cells.iter().zip(0..) {
            let area = [cell.x, cell.y, cell.side, cell.side];
            marks.push(Mark::Outline { area, line_mm: 0.3, dashed: false });
            let name = cell.tubes.first().map(|tube| tube.tube.clone()).unwrap_or_default();
            let white = WHITES[at % WHITES.len()];
            let ratio = if white == 0.0 { "alone".into() } else { format!("1:{}", parts(white)) };
            for (line, text) in [name, ratio].into_iter().enumerate() {
                let y = cell.y + cell.side + LETTERS_MM * (1.2 + 1.2 * line as f64);
                marks.push(Mark::Text { at: [cell.x, y], size_mm: LETTERS_MM, bold: false, text });
            }
        }
        Drawing { width_mm: file.width_mm, height_mm: file.height_mm, marks }
    }

    /// A photo of it.
    fn shot(&self, seed: u64) -> Option<Result<Vec<u8>, WorkshopError>> {
        let file = self.sheet();
        let (width, height, grey) = raster(&self.drawing(&file), DPI)?;
        let white = file.white.clone().unwrap_or_else(TubeEntry::usual_white).label();
        let page = PrintedPage { width, height, grey };
        let painted = painted_sheet(&file, page, seed, |cell| specimen_of(cell, &white));
        let jpeg = painted.map_err(WorkshopError::from).and_then(|painted| {
            let shot = take(&painted, PictureDevice::Phone, &[], seed);
            formats::picture::write_drawn((shot.width, shot.height), &shot.rgb, true)
                .map_err(|error| WorkshopError::NotWorkedOut(error.to_string()))
        });
        Some(jpeg)
    }
}

impl Workshop {
    /// Lets the simulated phone photograph an old chart, and keeps it as a trial of its own.
    ///
    /// # Errors
    /// [`WorkshopError::NotNow`] without such a phone, and without a palette that it could hold.
    pub async fn draw_chart(
        &self,
        name: &str,
        once: Option<&str>,
    ) -> Result<Received, WorkshopError> {
        let Some(seed) = self.camera else {
            return Err(WorkshopError::NotNow(
                "there is no simulated phone here: take a picture with your own".into(),
            ));
        };
        let palettes = self.store.palettes().await?;
        let Some(chart) = palettes.iter().find_map(OldChart::of) else {
            return Err(WorkshopError::NotNow(
                "the old chart holds tints of a palette's tubes: add a palette with a white first"
                    .into(),
            ));
        };
        let turn = self.kept::<Pictures>().turn().await;
        let bytes = off_the_thread(move || chart.shot(seed)).await?;
        drop(turn);
        let not_drawn = || WorkshopError::NotWorkedOut("the chart cannot be drawn".into());
        let mut draft = self.store.picture_draft()?;
        draft.write(&bytes.ok_or_else(not_drawn)??)?;
        self.receive_chart(name, draft, once).await
    }
}
