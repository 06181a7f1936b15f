//! The one binary: `serve` the workshop's pages, or `analyse` a readings file.

mod analyse;
mod demo;
mod serve;
mod table;

use std::process::ExitCode;

use clap::{Parser, Subcommand};

/// Tests artists' colours: plans a trial, takes its readings and works out what they tell.
#[derive(Parser)]
#[command(version)]
struct Arguments {
    #[command(subcommand)]
    command: Command,
}

#[derive(Subcommand)]
enum Command {
    /// Serves the workshop's pages.
    Serve(serve::Options),
    /// Works out the figures of a readings file.
    Analyse(analyse::Options),
}

fn main() -> ExitCode {
    match Arguments::parse().command {
        Command::Serve(options) => serve::run(&options),
        Command::Analyse(options) => analyse::run(&options),
    }
}
