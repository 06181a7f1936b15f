//! `upright-swatch device`: a simulated meter, scale or scanner as a program of its own.

use std::net::{SocketAddr, TcpListener};
use std::process::ExitCode;

use clap::{Args, Subcommand};
use instruments::simulated::{
    MeterDevice, MeterHabits, MixingTable, Running, ScaleDevice, SimulatedMeter,
};

use crate::scanner;

/// Which device.
#[derive(Subcommand)]
pub(crate) enum Device {
    /// A colour meter behind a socket.
    Meter(Meter),
    /// A scale behind a socket.
    Scale(Scale),
    /// A scanner or a phone: draws the picture of a painted sheet.
    Scanner(scanner::Options),
}

/// Where a device listens.
#[derive(Args)]
struct Socket {
    /// Where it listens; docs/device-protocol.md tells what it answers.
    #[arg(long, value_name = "ADDR", default_value = "127.0.0.1:0")]
    listen: SocketAddr,
    /// Everything it gives follows from this number.
    #[arg(long, value_name = "N", default_value_t = 1893)]
    seed: u64,
}

#[derive(Args)]
pub(crate) struct Meter {
    #[command(flatten)]
    socket: Socket,
    /// Every nth reading fails.
    #[arg(long, value_name = "N", default_value_t = 0)]
    fails_every: u64,
    /// Its lamp fades by this share with each reading.
    #[arg(long, value_name = "SHARE", default_value_t = 0.0)]
    drift: f64,
}

#[derive(Args)]
pub(crate) struct Scale {
    #[command(flatten)]
    socket: Socket,
    /// What its last digit stands for, in g.
    #[arg(long, value_name = "G", default_value_t = 0.01)]
    resolution: f64,
}

pub(crate) fn run(device: &Device) -> ExitCode {
    let started = match device {
        Device::Scanner(options) => return scanner::run(options),
        Device::Meter(meter) => start_meter(meter),
        Device::Scale(scale) => start_scale(scale),
    };
    match started {
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

fn start_meter(meter: &Meter) -> Result<Running, String> {
    let habits = MeterHabits { fails_every: meter.fails_every, drift: meter.drift };
    let simulated = SimulatedMeter::new(meter.socket.seed, MixingTable::default());
    let device = MeterDevice::start(listen(&meter.socket)?, simulated, habits);
    Ok(device.map_err(|error| cannot(&meter.socket, &error))?.running().clone())
}

fn start_scale(scale: &Scale) -> Result<Running, String> {
    if !(scale.resolution > 0.0 && scale.resolution <= 100.0) {
        return Err(format!(
            "a scale of {} g weighs nothing; write what its last digit stands for, such as 0.01",
            scale.resolution
        ));
    }
    let device =
        ScaleDevice::start(listen(&scale.socket)?, scale.socket.seed, (scale.resolution, 0.02));
    Ok(device.map_err(|error| cannot(&scale.socket, &error))?.running().clone())
}

fn listen(socket: &Socket) -> Result<TcpListener, String> {
    TcpListener::bind(socket.listen).map_err(|error| cannot(socket, &error))
}

fn cannot(socket: &Socket, error: &std::io::Error) -> String {
    format!("cannot listen at {}: {error}", socket.listen)
}
