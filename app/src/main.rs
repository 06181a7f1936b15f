//! The one binary: `serve` the workshop's pages, `analyse` a readings file, `compare` tubes, keep copies of a workshop, or be
//! a simulated `device`.

mod analyse;
mod compare;
mod copies;
mod decide;
mod demo;
mod device;
mod output;
mod palette;
mod read;
mod recipe;
mod scanner;
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
    /// Compares tubes, from readings files.
    Compare(compare::Options),
    /// Finds recipes for a colour or a tube, from a readings file.
    Recipe(recipe::Options),
    /// Says which tubes of a readings file to keep, and what they reach together.
    Decide(decide::Options),
    /// Reads the colours of a painted sheet from a scan or a photo.
    Read(read::Options),
    /// Makes a checked copy of a workshop file, also while it is served.
    Backup(copies::Backup),
    /// Puts such a copy in the workshop's place.
    Restore(copies::Restore),
    /// Writes everything of a workshop as CSV and JSON files.
    Export(copies::Export),
    /// Makes a workshop file of such files.
    Import(copies::Import),
    /// Is a simulated meter, scale or scanner, for trying the bench without one.
    #[command(subcommand)]
    Device(device::Device),
}

fn main() -> ExitCode {
    match Arguments::parse().command {
        Command::Serve(options) => serve::run(&options),
        Command::Analyse(options) => analyse::run(&options),
        Command::Compare(options) => compare::run(&options),
        Command::Recipe(options) => recipe::run(&options),
        Command::Decide(options) => decide::run(&options),
        Command::Read(options) => read::run(&options),
        Command::Backup(options) => options.run(),
        Command::Restore(options) => options.run(),
        Command::Export(options) => options.run(),
        Command::Import(options) => options.run(),
        Command::Device(options) => device::run(&options),
    }
}
