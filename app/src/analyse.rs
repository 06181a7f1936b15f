//! `upright-swatch analyse FILE`.

use std::fs::{self, File};
use std::io::{self, Read as _};
use std::path::{Path, PathBuf};
use std::process::ExitCode;

use clap::Args;
use figures::analyse;
use formats::readings::{self, MAX_BYTES, ReadingsFile};

use crate::output::{Format, answer};
use crate::table;

#[derive(Args)]
pub(crate) struct Options {
    /// A readings file (CSV; docs/file-formats.md describes it).
    file: PathBuf,
    /// Name of the tube that stands at 100 % tinting strength; by default the first of the same
    /// pigments.
    #[arg(long, value_name = "NAME")]
    standard: Option<String>,
    /// How to print the figures.
    #[arg(long, value_enum, default_value_t = Format::Table)]
    format: Format,
}

pub(crate) fn run(options: &Options) -> ExitCode {
    answer(report(options))
}

fn report(options: &Options) -> Result<String, String> {
    let name = options.file.display();
    let ReadingsFile { study, warnings, .. } =
        read_file(&options.file).map_err(|error| format!("{name}: {error}"))?;
    let standard = match &options.standard {
        None => None,
        Some(wanted) => Some(study.tube_named(wanted).ok_or_else(|| {
            let known: Vec<_> = study.tubes.iter().map(|tube| tube.name.as_str()).collect();
            format!("{name}: there is no tube “{wanted}”; the file has {}", known.join(", "))
        })?),
    };
    let analysis = analyse(&study, standard);
    match options.format {
        Format::Table => Ok(table::text(&study, &analysis, &warnings)),
        Format::Json => {
            serde_json::to_string_pretty(&formats::analysis::to_json(&study, &analysis, &warnings))
                .map(|json| json + "\n")
                .map_err(|error| format!("{name}: the figures cannot be written as JSON: {error}"))
        }
    }
}

pub(crate) fn read_file(path: &Path) -> Result<ReadingsFile, String> {
    let bytes = load(path).map_err(|error| format!("cannot be opened: {error}"))?;
    if let Some(error) = readings::too_large(bytes.len() as u64) {
        let whole = fs::metadata(path).map_or(0, |about| about.len());
        return Err(readings::too_large(whole).unwrap_or(error).to_string());
    }
    readings::read(&bytes).map_err(|error| error.to_string())
}

/// At most one byte more than a file may have, so that a huge one is refused and not loaded.
fn load(path: &Path) -> io::Result<Vec<u8>> {
    let mut bytes = Vec::new();
    File::open(path)?.take(MAX_BYTES + 1).read_to_end(&mut bytes)?;
    Ok(bytes)
}
