//! The simulated meter and the simulated scale behind their sockets.

use std::net::TcpListener;
use std::sync::{Arc, Mutex};

use colour::Reflectance;
use rand::SeedableRng as _;
use rand_chacha::ChaCha8Rng;

use super::SimulatedMeter;
use super::device::{Answers, Running, lock};
use super::table::standard_normal;
use crate::{DeviceError, Meter as _, Specimen};

/// How a simulated meter behaves over a run.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct MeterHabits {
    /// Every nth reading fails; 0 for never.
    pub fails_every: u64,
    /// The lamp fades by this share with each reading.
    pub drift: f64,
}

/// What a device gave, and of what.
pub type Given = (Specimen, Reflectance);

/// A simulated meter behind a socket.
#[derive(Debug, Clone)]
pub struct MeterDevice {
    running: Running,
    state: Arc<Mutex<MeterState>>,
}

#[derive(Debug)]
struct MeterState {
    meter: SimulatedMeter,
    habits: MeterHabits,
    under: Option<Specimen>,
    asked: u64,
    /// What the lamp has lost, as a share.
    faded: f64,
    given: Vec<Given>,
}

impl MeterDevice {
    /// Starts it.
    ///
    /// # Errors
    /// When the socket cannot be used.
    pub fn start(
        listener: TcpListener,
        meter: SimulatedMeter,
        habits: MeterHabits,
    ) -> std::io::Result<Self> {
        let state =
            MeterState { meter, habits, under: None, asked: 0, faded: 0.0, given: Vec::new() };
        let state = Arc::new(Mutex::new(state));
        let running = Running::start(listener, Arc::clone(&state) as Arc<Mutex<dyn Answers>>)?;
        Ok(Self { running, state })
    }

    /// The socket.
    #[must_use]
    pub fn running(&self) -> &Running {
        &self.running
    }

    /// Lets the lamp fade from now on, by a share with each reading; 0 sets it right again, as a
    /// calibration does.
    pub fn drift(&self, share: f64) {
        let mut state = lock(&self.state);
        state.habits.drift = share;
        state.faded = 0.0;
    }

    /// Every reading that it gave, oldest first.
    #[must_use]
    pub fn given(&self) -> Vec<Given> {
        lock(&self.state).given.clone()
    }
}

impl Answers for MeterState {
    fn answer(&mut self, question: &str) -> String {
        match question.split_once(' ') {
            None if question == "HELLO" => format!(
                "METER 1 simulated {} {} {}",
                self.meter.geometry().to_string().replace(' ', "-"),
                self.meter.repeatability(),
                self.meter.name()
            ),
            None if question == "READ" => self.read(),
            Some(("UNDER", specimen)) => match serde_json::from_str(specimen) {
                Ok(specimen) => {
                    self.under = Some(specimen);
                    "OK".into()
                }
                Err(_) => "FAILED that is nothing to read".into(),
            },
            _ => "FAILED it does not know that word".into(),
        }
    }
}

impl MeterState {
    fn read(&mut self) -> String {
        self.asked += 1;
        let every = self.habits.fails_every;
        if every > 0 && self.asked.is_multiple_of(every) {
            return "FAILED the head was moved".into();
        }
        let Some(specimen) = self.under.clone() else {
            return "FAILED nothing lies under the head".into();
        };
        self.faded += self.habits.drift;
        match self.meter.read(&specimen) {
            Ok(read) => {
                let left = 1.0 - self.faded;
                let faded = |band: usize| (read.bands()[band] * left * 1e5).round() / 1e5;
                let read = Reflectance::from_fn(faded);
                self.given.push((specimen, read));
                let bands: Vec<String> = read.bands().iter().map(f64::to_string).collect();
                format!("SPECTRUM {}", bands.join(" "))
            }
            Err(DeviceError::Failed { reason, .. }) => format!("FAILED {reason}"),
            Err(error) => format!("FAILED {error}"),
        }
    }
}

/// A simulated scale behind a socket, and the hand that puts paint on it.
#[derive(Debug, Clone)]
pub struct ScaleDevice {
    running: Running,
    state: Arc<Mutex<ScaleState>>,
}

#[derive(Debug)]
struct ScaleState {
    resolution: f64,
    /// Error of the hand, one σ, as a share of what it should put there.
    hand: f64,
    chance: ChaCha8Rng,
    on_it: f64,
    tare: f64,
    /// Answers until it has settled.
    moving: u32,
    given: Vec<f64>,
}

impl ScaleDevice {
    /// Starts a scale whose last digit stands for `resolution` g, above 0, with a hand whose amounts
    /// are off by the share `hand`, one σ.
    ///
    /// # Errors
    /// When the socket cannot be used.
    pub fn start(
        listener: TcpListener,
        seed: u64,
        (resolution, hand): (f64, f64),
    ) -> std::io::Result<Self> {
        let state = ScaleState {
            resolution,
            hand,
            chance: ChaCha8Rng::seed_from_u64(seed),
            on_it: 0.0,
            tare: 0.0,
            moving: 0,
            given: Vec::new(),
        };
        let state = Arc::new(Mutex::new(state));
        let running = Running::start(listener, Arc::clone(&state) as Arc<Mutex<dyn Answers>>)?;
        Ok(Self { running, state })
    }

    /// The socket.
    #[must_use]
    pub fn running(&self) -> &Running {
        &self.running
    }

    /// Every settled weight that it gave, in g, oldest first.
    #[must_use]
    pub fn given(&self) -> Vec<f64> {
        lock(&self.state).given.clone()
    }
}

impl Answers for ScaleState {
    fn answer(&mut self, question: &str) -> String {
        match question.split_once(' ') {
            None if question == "HELLO" => {
                format!("SCALE 1 simulated {} simulated scale", self.resolution)
            }
            None if question == "TARE" => {
                self.tare = self.on_it;
                "OK".into()
            }
            None if question == "WEIGH" => self.weigh(),
            Some(("PUT", about)) => match about.parse::<f64>() {
                Ok(about) if about.is_finite() && about >= 0.0 => {
                    let off = 1.0 + self.hand * standard_normal(&mut self.chance);
                    self.on_it += (about * off).max(self.resolution);
                    self.moving = 2;
                    "OK".into()
                }
                _ => "FAILED that is no amount".into(),
            },
            _ => "FAILED it does not know that word".into(),
        }
    }
}

impl ScaleState {
    fn weigh(&mut self) -> String {
        let net = self.on_it - self.tare;
        if self.moving > 0 {
            self.moving -= 1;
            return format!("WEIGHT {:.4} moving", self.rounded(net * 0.9));
        }
        let grams = self.rounded(net);
        self.given.push(grams);
        format!("WEIGHT {grams} settled")
    }

    fn rounded(&self, grams: f64) -> f64 {
        let per_gram = (1.0 / self.resolution).round();
        (grams * per_gram).round() / per_gram
    }
}

/// The simulated devices that this program started, each for itself: what can be done to them is to
/// pull a plug, to let one answer rubbish, to let the meter drift.
#[derive(Debug, Clone, Default)]
pub struct SimulatedBench {
    /// The meter, where it is simulated.
    pub meter: Option<MeterDevice>,
    /// The scale, where it is simulated.
    pub scale: Option<ScaleDevice>,
}

impl SimulatedBench {
    /// With a meter on a free port of this machine; every 40th reading fails.
    ///
    /// # Errors
    /// When no port is to be had.
    pub fn with_meter(self, meter: SimulatedMeter) -> std::io::Result<Self> {
        let habits = MeterHabits { fails_every: 40, drift: 0.0 };
        Ok(Self { meter: Some(MeterDevice::start(port()?, meter, habits)?), ..self })
    }

    /// With a scale on a free port of this machine.
    ///
    /// # Errors
    /// When no port is to be had.
    pub fn with_scale(self, seed: u64) -> std::io::Result<Self> {
        Ok(Self { scale: Some(ScaleDevice::start(port()?, seed, (0.01, 0.02))?), ..self })
    }
}

fn port() -> std::io::Result<TcpListener> {
    TcpListener::bind("127.0.0.1:0")
}
