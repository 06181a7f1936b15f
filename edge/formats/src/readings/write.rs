//! A study to the text of a readings file.

use std::collections::HashMap;
use std::fmt::Write as _;

use colour::BANDS;
use csv::{QuoteStyle, ReaderBuilder, StringRecord, WriterBuilder};
use study::{FilmKind, Measured, RatioError, Reading, ReadingSource, Study, TubeRef};

use super::columns::{
    CALIBRATION, FILM, LAB, MORE, PICTURE, RATIO_ERROR, REQUIRED, SIMULATED, SOURCE, UNCERTAINTY,
    VOID, band_name,
};
use super::preamble::SIGNATURE;
use super::source::ExportRow;
use crate::cells::{guarded, plain};

/// Writes a study that has no source text.
#[must_use]
pub fn write(study: &Study) -> String {
    let rows: Vec<ExportRow<'_>> = study
        .readings
        .iter()
        .map(|reading| ExportRow { reading, source: None, voided_since: false })
        .collect();
    export(study, None, &rows)
}

/// Writes readings; those that came from a file keep their text, comments and extra columns.
/// `head` is that file's [`SourceTable::head`](super::SourceTable::head). A file that was imported
/// and not touched comes out byte for byte as it came in, unless a spreadsheet would run one of its cells.
#[must_use]
pub fn export(study: &Study, head: Option<&str>, rows: &[ExportRow<'_>]) -> String {
    let records = source_records(rows);
    let is_safe = |record: &Option<StringRecord>| {
        record.as_ref().is_some_and(|cells| cells.iter().all(|cell| guarded(plain(cell)) == *cell))
    };
    let untouched = rows.iter().all(|row| row.source.is_some() && !row.voided_since)
        && records.iter().all(is_safe);
    if let (Some(head), true) = (head, untouched && !rows.is_empty()) {
        let rows = rows.iter().filter_map(|row| row.source);
        return std::iter::once(head).chain(rows).collect();
    }
    let (comments, known) = match head {
        Some(head) => split_head(head),
        None => (preamble(study), Vec::new()),
    };
    let mut columns = known.clone();
    for needed in needed_columns(rows) {
        if !columns.contains(&needed) {
            columns.push(needed);
        }
    }
    let mut text = comments;
    let mut lines = Lines::default();
    text.push_str(lines.line(columns.iter().map(String::as_str)));
    for (row, record) in rows.iter().zip(&records) {
        let mut cells = cells(study, row.reading);
        let (mut before, mut after) = (String::new(), String::new());
        if let Some(source) = row.source {
            (before, after) = comments_around(source);
            let kept =
                record.iter().flat_map(StringRecord::iter).map(|cell| plain(cell).to_owned());
            cells.extend(known.iter().cloned().zip(kept));
            if row.voided_since {
                cells.insert(VOID.into(), row.reading.void.clone().unwrap_or_default());
            }
        }
        text.push_str(&before);
        text.push_str(
            lines.line(columns.iter().map(|name| cells.get(name).map_or("", String::as_str))),
        );
        text.push_str(&after);
    }
    text
}

/// CSV rows, one after the other.
struct Lines {
    writer: csv::Writer<Vec<u8>>,
    /// So much of what was written was given out.
    given: usize,
}

impl Default for Lines {
    fn default() -> Self {
        let writer = WriterBuilder::new()
            .quote_style(QuoteStyle::Necessary)
            .terminator(csv::Terminator::Any(b'\n'))
            .from_writer(Vec::new());
        Self { writer, given: 0 }
    }
}

impl Lines {
    /// One row with its line end.
    fn line<'a>(&mut self, cells: impl Iterator<Item = &'a str>) -> &str {
        self.given = self.writer.get_ref().len();
        // Writing text to memory cannot fail.
        let _ = self.writer.write_record(cells.map(|cell| guarded(cell).into_owned()));
        let _ = self.writer.flush();
        std::str::from_utf8(&self.writer.get_ref()[self.given..]).unwrap_or_default()
    }
}

/// The cells of every row's source, read in one go: a reader takes longer to be made than a row takes to be read.
fn source_records(rows: &[ExportRow<'_>]) -> Vec<Option<StringRecord>> {
    let mut all = String::new();
    for source in rows.iter().filter_map(|row| row.source) {
        all.push_str(source);
        if !source.ends_with('\n') {
            all.push('\n');
        }
    }
    let mut read = reader(&all).into_records();
    let mut next = || read.next().and_then(Result::ok);
    rows.iter().map(|row| row.source.and_then(|_| next())).collect()
}

fn reader(text: &str) -> csv::Reader<&[u8]> {
    let mut builder = ReaderBuilder::new();
    builder.has_headers(false).flexible(true).comment(Some(b'#')).from_reader(text.as_bytes())
}

/// The comment lines before and after the record in a source row.
fn comments_around(row: &str) -> (String, String) {
    let comment = |line: &&str| line.trim_start().starts_with('#');
    let lines: Vec<&str> = row.split_inclusive('\n').collect();
    let leading = lines.iter().take_while(|line| comment(line) || line.trim().is_empty()).count();
    let rest = lines[leading..].iter().copied().filter(comment);
    (lines[..leading].concat(), rest.collect())
}

fn preamble(study: &Study) -> String {
    let mut text = format!("# {SIGNATURE} 1\n");
    let mut line = |key: &str, value: &dyn std::fmt::Display| {
        let _ = writeln!(text, "# {key}: {value}");
    };
    line("illuminant", &study.conditions.illuminant);
    line("observer", &study.conditions.observer);
    if let Some(white) = study.white {
        line("white", &study.label(white).name);
    }
    let protocol = &study.protocol;
    line("basis", &protocol.basis);
    line("geometry", &protocol.geometry);
    line("sheen", &protocol.sheen);
    let numbers = [
        ("scale_g", protocol.scale_g),
        ("pile_g", protocol.pile_g),
        ("repeatability", protocol.repeatability),
    ];
    for (key, value) in numbers {
        if let Some(value) = value {
            line(key, &value);
        }
    }
    text
}

/// Comments and column names of a source's head.
fn split_head(head: &str) -> (String, Vec<String>) {
    let mut lines: Vec<&str> = head.split_inclusive('\n').collect();
    let header = lines.iter().rposition(|line| {
        let line = line.trim();
        !line.is_empty() && !line.starts_with('#')
    });
    let header = header.map_or("", |at| lines.remove(at));
    (lines.concat(), record(header).iter().map(|name| name.trim().to_owned()).collect())
}

/// The cells of one row, comments before it left out.
fn record(text: &str) -> Vec<String> {
    let first = reader(text).records().next().and_then(Result::ok).unwrap_or_default();
    first.iter().map(str::to_owned).collect()
}

fn needed_columns(rows: &[ExportRow<'_>]) -> Vec<String> {
    let any = |test: &dyn Fn(&Reading) -> bool| rows.iter().any(|row| test(row.reading));
    let mut columns: Vec<String> = REQUIRED.iter().map(|name| (*name).to_owned()).collect();
    // Two tubes and the white fit the usual columns; what goes beyond them needs its own.
    let most = rows.iter().map(|row| row.reading.mixture.parts().len()).max().unwrap_or(0);
    for (with, parts) in MORE.iter().take(most.saturating_sub(3)) {
        columns.extend([(*with).to_owned(), (*parts).to_owned()]);
    }
    if any(&|reading| reading.film != FilmKind::Full) {
        columns.push(FILM.into());
    }
    if any(&|reading| reading.ratio_error != RatioError::AsStated) {
        columns.push(RATIO_ERROR.into());
    }
    if any(&|reading| reading.source != ReadingSource::File) {
        columns.push(SOURCE.into());
    }
    if any(&|reading| reading.simulated) {
        columns.push(SIMULATED.into());
    }
    if any(&|reading| reading.from_picture.is_some()) {
        columns.extend([PICTURE, UNCERTAINTY, CALIBRATION].map(str::to_owned));
    }
    if any(&|reading| reading.void.is_some()) {
        columns.push(VOID.into());
    }
    if any(&|reading| matches!(reading.measured, Measured::Lab(_))) {
        columns.extend(LAB.map(str::to_owned));
    }
    if any(&|reading| matches!(reading.measured, Measured::Spectrum(_))) {
        columns.extend((0..BANDS).map(band_name));
    }
    columns
}

/// Every cell of a reading by its column's name.
fn cells(study: &Study, reading: &Reading) -> HashMap<String, String> {
    let mut cells: HashMap<String, String> = HashMap::new();
    let mut set = |name: &str, value: String| cells.insert(name.to_owned(), value);
    set("state", reading.state.to_string());
    set("backing", reading.backing.to_string());
    set("repeat", reading.repeat.to_string());
    set(FILM, reading.film.to_string());
    set(RATIO_ERROR, reading.ratio_error.to_string());
    set(VOID, reading.void.clone().unwrap_or_default());
    set(SOURCE, reading.source.to_string());
    set(SIMULATED, if reading.simulated { "yes".to_owned() } else { String::new() });
    if let Some(from) = &reading.from_picture {
        set(PICTURE, from.picture.to_string());
        set(UNCERTAINTY, from.uncertainty.to_string());
        set(CALIBRATION, from.calibration.to_string());
    }
    let mut tubes: Vec<_> = reading.mixture.colours(study.white).collect();
    let white = study.white.map_or(0.0, |white| reading.mixture.parts_of(white));
    let white_alone = tubes.is_empty() && white > 0.0;
    if white_alone {
        tubes = reading.mixture.parts().iter().collect();
    }
    if white > 0.0 && !white_alone {
        set("white_parts", white.to_string());
    }
    if let Some(first) = tubes.first() {
        let label = study.label(first.tube);
        set("tube", label.name);
        set("maker", label.maker);
        set("code", label.code);
        set("parts", first.parts.to_string());
    }
    let others = [("with", "with_parts")].into_iter().chain(MORE);
    for (part, (with, parts)) in tubes.iter().skip(1).zip(others) {
        set(with, name_alone(study, part.tube));
        set(parts, part.parts.to_string());
    }
    match &reading.measured {
        Measured::Lab(stated) => {
            // What the head says holds for every row; a file of another observer was refused.
            let lab = stated.under(study.conditions).unwrap_or(stated.lab);
            for (name, value) in LAB.iter().zip(lab.axes()) {
                set(name, value.to_string());
            }
        }
        Measured::Spectrum(reflectance) => {
            for (band, value) in reflectance.bands().iter().enumerate() {
                set(&band_name(band), value.to_string());
            }
        }
    }
    cells
}

/// A name that says which tube, with its maker where several share it.
fn name_alone(study: &Study, tube: TubeRef) -> String {
    let label = study.label(tube);
    let shared = study.tubes.iter().filter(|other| other.name == label.name).count() > 1;
    if shared { format!("{} ({})", label.name, label.maker) } else { label.name }
}
