//! Drivers of devices behind the line protocol (docs/device-protocol.md).

use std::net::SocketAddr;
use std::time::{Duration, Instant};

use colour::Reflectance;
use mixing::Geometry;

use crate::line::Line;
use crate::{DeviceError, Meter, Scale, Specimen};

/// A scale that has not settled by then is left alone.
const TO_SETTLE: Duration = Duration::from_secs(4);
/// Between two questions to a scale that moves.
const BETWEEN: Duration = Duration::from_millis(60);

/// A meter at an address.
#[derive(Debug)]
pub struct RemoteMeter {
    line: Line,
    about: AboutMeter,
    met: bool,
}

/// What a meter said of itself when it was met last.
#[derive(Debug, Clone, PartialEq)]
struct AboutMeter {
    simulated: bool,
    geometry: Geometry,
    repeatability: f64,
    name: String,
}

impl RemoteMeter {
    /// A meter that is met when it is first asked, or is away until then.
    #[must_use]
    pub fn at(address: SocketAddr) -> Self {
        let about = AboutMeter {
            simulated: false,
            geometry: Geometry::SphereIncluded,
            repeatability: study::Protocol::ASSUMED_REPEATABILITY,
            name: "meter".into(),
        };
        let mut meter = Self { line: Line::to("meter", address), about, met: false };
        // One that is away now is asked again before its first reading.
        let _ = meter.meet();
        meter
    }

    fn meet(&mut self) -> Result<(), DeviceError> {
        if self.line.is_open() {
            return Ok(());
        }
        let answer = self.line.ask("HELLO")?;
        match about_meter(&answer) {
            Some(about) => {
                self.about = about;
                self.met = true;
                Ok(())
            }
            None => Err(self.line.rubbish(format!("“{}” is no meter's greeting", short(&answer)))),
        }
    }
}

/// `METER 1 simulated d:8-included 0.03 bench meter`.
fn about_meter(greeting: &str) -> Option<AboutMeter> {
    let mut words = greeting.splitn(6, ' ');
    let (Some("METER"), Some("1")) = (words.next(), words.next()) else { return None };
    let simulated = kind(words.next()?)?;
    let geometry = words.next()?.replace('-', " ").parse().ok()?;
    let repeatability = words.next()?.parse().ok().filter(|it: &f64| *it > 0.0 && *it < 10.0)?;
    Some(AboutMeter { simulated, geometry, repeatability, name: name(words.next()?)? })
}

fn kind(word: &str) -> Option<bool> {
    match word {
        "simulated" => Some(true),
        "real" => Some(false),
        _ => None,
    }
}

/// What stands in the records for readings that no device gave: no device may call itself so.
const NOT_A_DEVICE: [&str; 8] =
    ["by hand", "file", "hand", "typed", "eye", "by eye", "scan", "photo"];

fn name(words: &str) -> Option<String> {
    let words = words.trim();
    let plain = !words.is_empty() && words.len() <= 60 && study::names::check(words).is_ok();
    let own = !NOT_A_DEVICE.contains(&words.to_lowercase().as_str());
    (plain && own).then(|| words.to_owned())
}

/// The beginning of an answer, fit for a message.
fn short(answer: &str) -> String {
    answer.chars().filter(|letter| !letter.is_control()).take(40).collect()
}

impl Meter for RemoteMeter {
    fn name(&self) -> &str {
        &self.about.name
    }

    fn simulated(&self) -> bool {
        self.about.simulated
    }

    fn met(&self) -> bool {
        self.met
    }

    fn geometry(&self) -> Geometry {
        self.about.geometry
    }

    fn repeatability(&self) -> f64 {
        self.about.repeatability
    }

    fn read(&mut self, specimen: &Specimen) -> Result<Reflectance, DeviceError> {
        self.meet()?;
        if self.about.simulated {
            let under = serde_json::to_string(specimen).unwrap_or_default();
            let answer = self.line.ask(&format!("UNDER {under}"))?;
            if answer != "OK" {
                return Err(self.line.rubbish(format!("“{}”", short(&answer))));
            }
        }
        let answer = self.line.ask("READ")?;
        if let Some(reason) = answer.strip_prefix("FAILED ") {
            return Err(self.line.failed(&short(reason)));
        }
        let Some(bands) = answer.strip_prefix("SPECTRUM ") else {
            return Err(self.line.rubbish(format!("“{}” is no reading", short(&answer))));
        };
        let bands: Result<Vec<f64>, _> = bands.split(' ').map(str::parse).collect();
        let bands = bands.map_err(|_| self.line.rubbish("a band that is no number"))?;
        Reflectance::new(&bands).map_err(|error| self.line.rubbish(error.to_string()))
    }
}

/// A scale at an address.
#[derive(Debug)]
pub struct RemoteScale {
    line: Line,
    simulated: bool,
    resolution: f64,
    name: String,
}

impl RemoteScale {
    /// A scale that is met when it is first asked, or is away until then.
    #[must_use]
    pub fn at(address: SocketAddr) -> Self {
        let mut scale = Self {
            line: Line::to("scale", address),
            simulated: false,
            resolution: study::Protocol::ASSUMED_SCALE_G,
            name: "scale".into(),
        };
        let _ = scale.meet();
        scale
    }

    fn meet(&mut self) -> Result<(), DeviceError> {
        if self.line.is_open() {
            return Ok(());
        }
        let answer = self.line.ask("HELLO")?;
        match about_scale(&answer) {
            Some((simulated, resolution, name)) => {
                (self.simulated, self.resolution, self.name) = (simulated, resolution, name);
                Ok(())
            }
            None => Err(self.line.rubbish(format!("“{}” is no scale's greeting", short(&answer)))),
        }
    }

    fn expect_ok(&mut self, question: &str) -> Result<(), DeviceError> {
        let answer = self.line.ask(question)?;
        match answer.strip_prefix("FAILED ") {
            Some(reason) => Err(self.line.failed(&short(reason))),
            None if answer == "OK" => Ok(()),
            None => Err(self.line.rubbish(format!("“{}”", short(&answer)))),
        }
    }
}

/// `SCALE 1 simulated 0.01 bench scale`.
fn about_scale(greeting: &str) -> Option<(bool, f64, String)> {
    let mut words = greeting.splitn(5, ' ');
    let (Some("SCALE"), Some("1")) = (words.next(), words.next()) else { return None };
    let simulated = kind(words.next()?)?;
    let resolution = words.next()?.parse().ok().filter(|it: &f64| *it > 0.0 && *it <= 100.0)?;
    Some((simulated, resolution, name(words.next()?)?))
}

/// `WEIGHT 2.03 settled`, as g and whether it has settled.
fn weight(answer: &str) -> Option<(f64, bool)> {
    let mut words = answer.split(' ');
    let (Some("WEIGHT"), Some(grams), Some(state), None) =
        (words.next(), words.next(), words.next(), words.next())
    else {
        return None;
    };
    let grams = grams.parse().ok().filter(|it: &f64| it.is_finite() && it.abs() <= 10_000.0)?;
    match state {
        "settled" => Some((grams, true)),
        "moving" => Some((grams, false)),
        _ => None,
    }
}

impl Scale for RemoteScale {
    fn name(&self) -> &str {
        &self.name
    }

    fn simulated(&self) -> bool {
        self.simulated
    }

    fn resolution(&self) -> f64 {
        self.resolution
    }

    fn tare(&mut self) -> Result<(), DeviceError> {
        self.meet()?;
        self.expect_ok("TARE")
    }

    fn weigh(&mut self, about: f64) -> Result<f64, DeviceError> {
        self.meet()?;
        if self.simulated {
            self.expect_ok(&format!("PUT {about}"))?;
        }
        let end = Instant::now() + TO_SETTLE;
        while Instant::now() < end {
            let answer = self.line.ask("WEIGH")?;
            if let Some(reason) = answer.strip_prefix("FAILED ") {
                return Err(self.line.failed(&short(reason)));
            }
            match weight(&answer) {
                Some((grams, true)) => return Ok(grams),
                Some(_) => std::thread::sleep(BETWEEN),
                None => {
                    return Err(self.line.rubbish(format!("“{}” is no weight", short(&answer))));
                }
            }
        }
        Err(self.line.failed("it does not settle"))
    }
}
