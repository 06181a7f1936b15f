//! What the commands print.

use std::io::{self, Write as _};
use std::process::ExitCode;

use clap::ValueEnum;

/// Exit status for a file that cannot be read or something that is not in it.
pub(crate) const BAD_INPUT: u8 = 2;

/// How figures are printed.
#[derive(Clone, Copy, ValueEnum)]
pub(crate) enum Format {
    /// Lines for people.
    Table,
    /// JSON for programs.
    Json,
}

/// JSON as it is printed.
pub(crate) fn json(value: &serde_json::Value) -> Result<String, String> {
    serde_json::to_string_pretty(value)
        .map(|json| json + "\n")
        .map_err(|error| format!("what was found cannot be written as JSON: {error}"))
}

/// Prints what a command found, or what was wrong with what it was given.
pub(crate) fn answer(found: Result<String, String>) -> ExitCode {
    match found {
        Ok(text) => print(&text),
        Err(message) => {
            eprintln!("{message}");
            ExitCode::from(BAD_INPUT)
        }
    }
}

/// A reader that closes the pipe early has seen enough.
fn print(text: &str) -> ExitCode {
    match io::stdout().write_all(text.as_bytes()) {
        Err(error) if error.kind() != io::ErrorKind::BrokenPipe => {
            eprintln!("the figures cannot be printed: {error}");
            ExitCode::FAILURE
        }
        _ => ExitCode::SUCCESS,
    }
}
