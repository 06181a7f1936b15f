//! A trial with what follows from its records alone.

use std::collections::HashMap;
use std::ops::Deref;

use bench::{Run, Time};
use formats::sheet::SheetFile;
use plan::{CellNumber, Naming, Swatch};
use sheet::{Paper, Sheet, SheetCode};
use store::{PlannedSwatch, StoreError, Trial};

/// A trial, its run and its sheets: replayed once, and shared by everything that shows it.
#[derive(Debug)]
pub struct OpenTrial {
    trial: Trial,
    run: Option<Run>,
}

impl OpenTrial {
    pub(crate) fn of(trial: Trial) -> Self {
        Self { run: trial.run(), trial }
    }

    /// The bench as it stands; `None` for a trial that came from a file.
    #[must_use]
    pub fn run(&self) -> Option<&Run> {
        self.run.as_ref()
    }

    /// The ruled sheets; none for a trial that was not planned here.
    #[must_use]
    pub fn sheets(&self) -> &[Sheet] {
        self.trial.plan.as_ref().map_or(&[], |plan| plan.sheets.as_slice())
    }

    /// Its sheet is the anchor card of a palette.
    #[must_use]
    pub fn is_card(&self) -> bool {
        self.sheets().iter().any(|sheet| sheet.paper == Paper::Card)
    }

    /// What the code on a sheet says; `None` for a trial that was not planned here.
    #[must_use]
    pub fn sheet_code(&self, sheet: &Sheet) -> Option<SheetCode> {
        let planned = self.trial.plan.as_ref()?;
        Some(SheetCode {
            trial: self.trial.id.0,
            edition: planned.edition,
            layout: planned.layout,
            sheet: sheet.number,
            of: sheet.of,
            paper: sheet.paper,
            side_mm: sheet.side_mm,
        })
    }

    /// A sheet by its number, for whoever reads a picture of it.
    #[must_use]
    pub fn sheet_file(&self, number: usize) -> Option<SheetFile> {
        let planned = self.trial.plan.as_ref()?;
        let sheet = self.sheets().get(number.checked_sub(1)?)?;
        let code = self.sheet_code(sheet)?;
        // A file has maker and code beside each name.
        let naming = Naming { tubes: self.trial.labels(), ..self.trial.naming() };
        let mut file = SheetFile::of(sheet, &code, &planned.plan.swatches, &naming);
        for cell in &mut file.cells {
            cell.half_lifted = self.lifted_at(CellNumber(cell.number)).is_some();
        }
        Some(file)
    }

    /// When half of a square was lifted with a damp brush.
    pub(crate) fn lifted_at(&self, number: CellNumber) -> Option<Time> {
        self.run()?.square(number)?.lifted
    }

    /// The squares of a chart that was ruled by hand, for whoever reads a picture of it; `None` where nobody has said
    /// yet what stands in them.
    #[must_use]
    pub fn chart_file(&self) -> Option<SheetFile> {
        let chart = self.trial.chart.as_ref().filter(|chart| !chart.numbers.is_empty())?;
        let swatches: Vec<Swatch> =
            self.trial.swatches.iter().map(|it| it.swatch.clone()).collect();
        Some(SheetFile::ruled(&chart.ruling, &chart.numbers, &swatches, &self.trial.naming()))
    }

    /// The sheet that a swatch stands on first.
    #[must_use]
    pub fn sheet_with(&self, number: CellNumber) -> Option<&Sheet> {
        let holds = |sheet: &&Sheet| sheet.cells.iter().any(|it| it.number == number && !it.again);
        self.sheets().iter().find(holds)
    }

    /// The number of the sheet that each swatch stands on first, by swatch number.
    #[must_use]
    pub fn sheet_numbers(&self) -> HashMap<CellNumber, usize> {
        let firsts = self.sheets().iter().flat_map(|sheet| {
            let cells = sheet.cells.iter().filter(|cell| !cell.again);
            cells.map(|cell| (cell.number, sheet.number))
        });
        firsts.collect()
    }

    /// The swatch of a number.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] where the trial has none of it.
    pub fn swatch(&self, number: CellNumber) -> Result<&PlannedSwatch, StoreError> {
        let found = self.trial.swatches.iter().find(|planned| planned.swatch.number == number);
        found.ok_or(StoreError::NotFound("swatch"))
    }
}

impl Deref for OpenTrial {
    type Target = Trial;

    fn deref(&self) -> &Trial {
        &self.trial
    }
}
