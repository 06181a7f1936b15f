//! `upright-swatch serve`.

use std::net::SocketAddr;
use std::path::PathBuf;
use std::process::ExitCode;

use clap::Args;
use instruments::simulated::{SimulatedBench, SimulatedMeter, Workshop};
use instruments::{RemoteMeter, RemoteScale};
use store::Store;
use tokio::net::TcpListener;
use tracing_subscriber::EnvFilter;
use web::AppState;

use crate::demo;

/// Seed of the simulated meter: the demo's readings are the same on every machine.
const SEED: u64 = 1893;

#[derive(Args)]
pub(crate) struct Options {
    /// Fill an empty workshop with the carousel workshop's tubes and trials. Without --db, nothing
    /// is kept.
    #[arg(long)]
    demo: bool,
    /// The workshop file (SQLite); made where it does not exist.
    #[arg(long, value_name = "FILE")]
    db: Option<PathBuf>,
    /// Address to listen at. Whoever reaches it can read and change the workshop.
    #[arg(long, value_name = "ADDR", default_value = "127.0.0.1:8093")]
    listen: SocketAddr,
    /// Where a colour meter answers (docs/device-protocol.md); without it, a simulated one is started.
    #[arg(long, value_name = "ADDR")]
    meter: Option<SocketAddr>,
    /// Where a scale answers; without it, a simulated one is started.
    #[arg(long, value_name = "ADDR")]
    scale: Option<SocketAddr>,
}

pub(crate) fn run(options: &Options) -> ExitCode {
    let filter = EnvFilter::try_from_default_env().unwrap_or_else(|_| EnvFilter::new("warn"));
    tracing_subscriber::fmt().with_env_filter(filter).with_writer(std::io::stderr).init();
    let outcome = tokio::runtime::Runtime::new()
        .map_err(|error| format!("the server cannot start: {error}"))
        .and_then(|runtime| runtime.block_on(serve(options)));
    match outcome {
        Ok(()) => ExitCode::SUCCESS,
        Err(message) => {
            eprintln!("{message}");
            ExitCode::FAILURE
        }
    }
}

async fn serve(options: &Options) -> Result<(), String> {
    let store = open(options).await?;
    if options.demo {
        let meter = SimulatedMeter::new(SEED, Workshop::default());
        let past = AppState::new(store.clone(), meter);
        demo::fill(&past).await.map_err(|error| format!("the demo data: {error}"))?;
    }
    let app = with_devices(store, options)?;
    let listener = TcpListener::bind(options.listen).await.map_err(|error| {
        format!(
            "cannot listen at {}: {error}; choose another address with --listen",
            options.listen
        )
    })?;
    let address = listener.local_addr().unwrap_or(options.listen);
    println!("Upright Swatch is at http://{address}/ (end it with Ctrl-C)");
    web::serve(listener, app, interrupted())
        .await
        .map_err(|error| format!("the server stopped: {error}"))
}

/// The devices that were named, and simulated ones in place of the others.
fn with_devices(store: Store, options: &Options) -> Result<AppState, String> {
    if let (Some(meter), Some(scale)) = (options.meter, options.scale) {
        return Ok(AppState::new(store, RemoteMeter::at(meter)).with_scale(RemoteScale::at(scale)));
    }
    let bench = SimulatedBench::start(SEED, SimulatedMeter::new(SEED, Workshop::default()))
        .map_err(|error| format!("the simulated devices cannot start: {error}"))?;
    let meter = options.meter.unwrap_or(bench.meter.running().address());
    let scale = options.scale.unwrap_or(bench.scale.running().address());
    let app = AppState::new(store, RemoteMeter::at(meter)).with_scale(RemoteScale::at(scale));
    Ok(app.with_simulated(bench))
}

async fn open(options: &Options) -> Result<Store, String> {
    match (&options.db, options.demo) {
        (Some(file), _) => {
            Store::open(file).await.map_err(|error| format!("{}: {error}", file.display()))
        }
        (None, true) => Store::in_memory().await.map_err(|error| error.to_string()),
        (None, false) => {
            let file = PathBuf::from("workshop.db");
            Store::open(&file).await.map_err(|error| format!("{}: {error}", file.display()))
        }
    }
}

async fn interrupted() {
    // Where the signal cannot be watched, the system's own way of ending the program is left.
    if tokio::signal::ctrl_c().await.is_err() {
        std::future::pending::<()>().await;
    }
}
