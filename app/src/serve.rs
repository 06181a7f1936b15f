//! `upright-swatch serve`.

use std::io::Write as _;
use std::net::SocketAddr;
use std::path::{Path, PathBuf};
use std::process::ExitCode;
use std::time::Duration;

use clap::{Args, ValueEnum};
use instruments::simulated::{MixingTable, SimulatedBench, SimulatedMeter};
use instruments::{RemoteMeter, RemoteScale};
use store::{Hold, Store};
use tokio::net::TcpListener;
use tracing_subscriber::filter::{LevelFilter, Targets};
use tracing_subscriber::prelude::*;
use web::Sharing;
use workshop::Workshop;

use crate::demo;

/// Seed of the simulated meter: the demo's readings are the same on every machine.
const SEED: u64 = 1893;

/// Time to let go of the file at the end.
const CLOSING: Duration = Duration::from_millis(500);

#[derive(Args)]
pub(crate) struct Options {
    /// Fill an empty workshop with the carousel workshop's tubes and trials, and simulate a meter and a
    /// scale. Without --db, nothing is kept.
    #[arg(long)]
    demo: bool,
    /// The workshop file (SQLite); made where it does not exist.
    #[arg(long, value_name = "FILE")]
    db: Option<PathBuf>,
    /// Address to listen at.
    #[arg(long, value_name = "ADDR", default_value = "127.0.0.1:8093")]
    listen: SocketAddr,
    /// Share the workshop on your network with phones that you pair: the page “Phones” shows a code, good for ten
    /// minutes and one phone. Everything is sent over plain HTTP, which others on the network can read.
    #[arg(long, conflicts_with = "unprotected")]
    share: bool,
    /// Allow an address that other machines reach: whoever reaches it can read and change everything,
    /// without any password, and everything is sent so that others on the network can read it.
    #[arg(long)]
    unprotected: bool,
    /// Where a colour meter answers (docs/device-protocol.md). Without one, readings are typed or come
    /// from files.
    #[arg(long, value_name = "ADDR")]
    meter: Option<SocketAddr>,
    /// Where a scale answers. Without one, weights are typed.
    #[arg(long, value_name = "ADDR")]
    scale: Option<SocketAddr>,
    /// Simulate a device, for trying the bench without paint; can be given twice. What it gives is marked
    /// as simulated for ever.
    #[arg(long, value_name = "DEVICE")]
    simulate: Vec<Simulated>,
}

/// A device that can be simulated.
#[derive(Clone, Copy, PartialEq, Eq, ValueEnum)]
enum Simulated {
    /// The colour meter.
    Meter,
    /// The scale.
    Scale,
}

impl Options {
    /// A device is simulated where that was asked for, and no real one takes its place.
    fn simulates(&self, device: Simulated) -> bool {
        let real = match device {
            Simulated::Meter => self.meter.is_some(),
            Simulated::Scale => self.scale.is_some(),
        };
        !real && (self.demo || self.simulate.contains(&device))
    }

    /// Where it listens: a workshop that is shared is reached on every network of this machine, unless an address
    /// was given.
    fn address(&self) -> SocketAddr {
        match self.share && self.listen.ip().is_loopback() {
            true => SocketAddr::from(([0, 0, 0, 0], self.listen.port())),
            false => self.listen,
        }
    }

    /// The sockets at which it listens. A workshop that is shared at one address of a network is served on this machine
    /// as well: phones are let in and turned away here alone.
    async fn listeners(&self) -> Result<Vec<TcpListener>, String> {
        let bind = async |address: SocketAddr| {
            TcpListener::bind(address).await.map_err(|error| {
                format!("cannot listen at {address}: {error}; choose another address with --listen")
            })
        };
        let first = bind(self.address()).await?;
        let at = first.local_addr().map_err(|error| format!("cannot listen: {error}"))?;
        let mut all = vec![first];
        if self.share && !at.ip().is_unspecified() {
            all.push(bind(SocketAddr::from(([127, 0, 0, 1], at.port()))).await?);
        }
        Ok(all)
    }

    /// The workshop file; `None` for a demo that is not kept.
    fn file(&self) -> Option<PathBuf> {
        let usual = || (!self.demo).then(|| PathBuf::from("workshop.db"));
        self.db.clone().or_else(usual)
    }

    fn check(&self) -> Result<(), String> {
        for (device, name, real) in [
            (Simulated::Meter, "meter", self.meter.is_some()),
            (Simulated::Scale, "scale", self.scale.is_some()),
        ] {
            if real && self.simulate.contains(&device) {
                return Err(format!(
                    "--{name} and --simulate {name} are two {name}s; leave one of them out"
                ));
            }
        }
        if self.listen.ip().is_loopback() || self.unprotected || self.share {
            return Ok(());
        }
        Err(format!(
            "{} can be reached from other machines, and there is no password: whoever reaches it can read \
             and change everything. Listen at 127.0.0.1, say --share to let paired phones in, or --unprotected where you want just that",
            self.listen
        ))
    }
}

pub(crate) fn run(options: &Options) -> ExitCode {
    let wanted = std::env::var("RUST_LOG").ok().and_then(|text| text.parse::<Targets>().ok());
    let levels = wanted.unwrap_or_else(|| Targets::new().with_default(LevelFilter::WARN));
    let log = tracing_subscriber::fmt::layer().with_writer(std::io::stderr);
    tracing_subscriber::registry().with(log).with(levels).init();
    let runtime = tokio::runtime::Runtime::new();
    let outcome =
        runtime.map_err(|error| format!("the server cannot start: {error}")).and_then(|runtime| {
            let outcome = runtime.block_on(serve(options));
            // Whatever hangs, the program ends.
            runtime.shutdown_timeout(Duration::from_secs(1));
            outcome
        });
    match outcome {
        Ok(()) => ExitCode::SUCCESS,
        Err(message) => {
            eprintln!("{message}");
            ExitCode::FAILURE
        }
    }
}

async fn serve(options: &Options) -> Result<(), String> {
    options.check()?;
    // Taken first: an address in use is said before anything is opened or filled.
    let listeners = options.listeners().await?;
    let file = options.file();
    let _hold = match &file {
        Some(file) => Some(Hold::of(file).await.map_err(|error| error.to_string())?),
        None => None,
    };
    let store = open(file.as_deref()).await?;
    if options.demo {
        let meter = SimulatedMeter::new(SEED, MixingTable::default());
        let past = Workshop::new(store.clone()).with_meter(meter);
        demo::fill(&past).await.map_err(|error| format!("the demo data: {error}"))?;
    }
    let app = with_devices(Workshop::new(store.clone()), options)?;
    let address = listeners.first().and_then(|it| it.local_addr().ok()).unwrap_or(options.listen);
    let here = match options.share {
        true => SocketAddr::from(([127, 0, 0, 1], address.port())),
        false => address,
    };
    let mut said = format!("Upright Swatch is at http://{here}/ (end it with Ctrl-C)\n");
    let sharing = options.share.then(|| Sharing::at(address));
    if let Some(sharing) = &sharing {
        said.push_str(&format!(
            "Shared with paired phones, over plain HTTP: pair one at http://{here}/phones; it opens {}\n",
            sharing.pairing_page()
        ));
    } else if !address.ip().is_loopback() {
        said.push_str(
            "Unprotected: whoever reaches this address can read and change everything.\n",
        );
    }
    // Whoever started it may have stopped listening.
    let _ = std::io::stdout().write_all(said.as_bytes());
    let served = web::serve(listeners, app, sharing, interrupted()).await;
    // What hangs on a connection keeps it from being closed; nothing is lost by that.
    let _ = tokio::time::timeout(CLOSING, store.close()).await;
    served.map_err(|error| format!("the server stopped: {error}"))
}

/// With the devices that were named, and those that are to be simulated.
fn with_devices(mut app: Workshop, options: &Options) -> Result<Workshop, String> {
    let cannot = |error| format!("the simulated devices cannot start: {error}");
    let mut bench = SimulatedBench::default();
    if options.simulates(Simulated::Meter) {
        app = app.with_simulated_camera(SEED);
    }
    let mut meter = options.meter;
    if options.simulates(Simulated::Meter) {
        let simulated = SimulatedMeter::new(SEED, MixingTable::default());
        bench = bench.with_meter(simulated).map_err(cannot)?;
        meter = bench.meter.as_ref().map(|device| device.running().address());
    }
    let mut scale = options.scale;
    if options.simulates(Simulated::Scale) {
        bench = bench.with_scale(SEED).map_err(cannot)?;
        scale = bench.scale.as_ref().map(|device| device.running().address());
    }
    if let Some(address) = meter {
        app = app.with_meter(RemoteMeter::at(address));
    }
    if let Some(address) = scale {
        app = app.with_scale(RemoteScale::at(address));
    }
    Ok(app.with_simulated(bench))
}

async fn open(file: Option<&Path>) -> Result<Store, String> {
    let store = match file {
        Some(file) => Store::open(file).await,
        None => Store::in_memory().await,
    };
    store.map_err(|error| error.to_string())
}

async fn interrupted() {
    // Where the signal cannot be watched, the system's own way of ending the program is left.
    let interrupt = async {
        if tokio::signal::ctrl_c().await.is_err() {
            std::future::pending::<()>().await;
        }
    };
    tokio::select! {
        () = interrupt => {}
        () = terminated() => {}
    }
}

/// The signal by which a system asks a program to end.
#[cfg(unix)]
async fn terminated() {
    use tokio::signal::unix::{SignalKind, signal};
    match signal(SignalKind::terminate()) {
        Ok(mut terminate) => {
            terminate.recv().await;
        }
        Err(_) => std::future::pending().await,
    }
}

#[cfg(not(unix))]
async fn terminated() {
    std::future::pending().await
}
