//! The one binary: `serve` the workshop's pages, `analyse` a readings file, or be a simulated `device`.

mod analyse;
mod demo;
mod device;
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
    /// Is a simulated meter or scale, for trying the bench without one.
    Device(device::Options),
}

fn main() -> ExitCode {
    match Arguments::parse().command {
        Command::Serve(options) => serve::run(&options),
        Command::Analyse(options) => analyse::run(&options),
        Command::Device(options) => device::run(&options),
    }
}
