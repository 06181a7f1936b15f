//! `upright-swatch device`: a simulated meter or scale as a program of its own.

use std::net::{SocketAddr, TcpListener};
use std::process::ExitCode;

use clap::{Args, ValueEnum};
use instruments::simulated::{
    MeterDevice, MeterHabits, MixingTable, Running, ScaleDevice, SimulatedMeter,
};

/// Which device.
#[derive(Clone, Copy, ValueEnum)]
enum Kind {
    /// A colour meter.
    Meter,
    /// A scale.
    Scale,
}

#[derive(Args)]
pub(crate) struct Options {
    /// What it is.
    #[arg(value_enum)]
    kind: Kind,
    /// Where it listens; docs/device-protocol.md tells what it answers.
    #[arg(long, value_name = "ADDR", default_value = "127.0.0.1:0")]
    listen: SocketAddr,
    /// Everything it gives follows from this number.
    #[arg(long, value_name = "N", default_value_t = 1893)]
    seed: u64,
    /// The meter: every nth reading fails.
    #[arg(long, value_name = "N", default_value_t = 0)]
    fails_every: u64,
    /// The meter: its lamp fades by this share with each reading.
    #[arg(long, value_name = "SHARE", default_value_t = 0.0)]
    drift: f64,
    /// The scale: what its last digit stands for, in g.
    #[arg(long, value_name = "G", default_value_t = 0.01)]
    resolution: f64,
}

pub(crate) fn run(options: &Options) -> ExitCode {
    match start(options) {
        Ok(running) => {
            println!("listening at {} (end it with Ctrl-C)", running.address());
            loop {
                std::thread::park();
            }
        }
        Err(message) => {
            eprintln!("{message}");
            ExitCode::FAILURE
        }
    }
}

fn start(options: &Options) -> Result<Running, String> {
    if !(options.resolution > 0.0 && options.resolution <= 100.0) {
        return Err(format!(
            "a scale of {} g weighs nothing; write what its last digit stands for, such as 0.01",
            options.resolution
        ));
    }
    let cannot = |error| format!("cannot listen at {}: {error}", options.listen);
    let listener = TcpListener::bind(options.listen).map_err(cannot)?;
    match options.kind {
        Kind::Meter => {
            let habits = MeterHabits { fails_every: options.fails_every, drift: options.drift };
            let meter = SimulatedMeter::new(options.seed, MixingTable::default());
            let device = MeterDevice::start(listener, meter, habits).map_err(cannot)?;
            Ok(device.running().clone())
        }
        Kind::Scale => {
            let device = ScaleDevice::start(listener, options.seed, (options.resolution, 0.02));
            Ok(device.map_err(cannot)?.running().clone())
        }
    }
}
