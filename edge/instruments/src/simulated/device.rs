//! A simulated device behind a socket: one line in, one line out, and what can go wrong with it.

use std::io::{BufRead as _, BufReader, Write as _};
use std::net::{SocketAddr, TcpListener, TcpStream};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

/// What goes wrong with a device.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Fault {
    /// Nothing.
    #[default]
    None,
    /// Its plug is pulled.
    Unplugged,
    /// It hears, and says nothing.
    Silent,
    /// It breaks off within a line.
    HalfLine,
    /// It says NaN.
    NotANumber,
    /// It says 7 where it should say a reflectance or a weight.
    Seven,
    /// It never stops talking.
    Flood,
}

/// A device as it answers.
pub trait Answers: Send {
    /// The answer to one line.
    fn answer(&mut self, question: &str) -> String;
}

/// A running device. It ends with the program.
#[derive(Debug, Clone)]
pub struct Running {
    address: SocketAddr,
    fault: Arc<Mutex<Fault>>,
}

impl Running {
    /// Starts a device that listens.
    ///
    /// # Errors
    /// When the socket cannot be used.
    pub fn start(listener: TcpListener, device: Arc<Mutex<dyn Answers>>) -> std::io::Result<Self> {
        let running = Self { address: listener.local_addr()?, fault: Arc::default() };
        let fault = Arc::clone(&running.fault);
        std::thread::spawn(move || {
            for stream in listener.incoming().flatten() {
                let (device, fault) = (Arc::clone(&device), Arc::clone(&fault));
                std::thread::spawn(move || talk(&stream, &device, &fault));
            }
        });
        Ok(running)
    }

    /// Where it is reached.
    #[must_use]
    pub fn address(&self) -> SocketAddr {
        self.address
    }

    /// What goes wrong with it from now on.
    pub fn set(&self, fault: Fault) {
        *lock(&self.fault) = fault;
    }

    /// What goes wrong with it.
    #[must_use]
    pub fn fault(&self) -> Fault {
        *lock(&self.fault)
    }
}

/// A device is used by one connection at a time; a panic in one is ignored.
pub(super) fn lock<T: ?Sized>(mutex: &Mutex<T>) -> MutexGuard<'_, T> {
    mutex.lock().unwrap_or_else(PoisonError::into_inner)
}

/// Answers line by line until the other side hangs up, or the plug is pulled.
fn talk(stream: &TcpStream, device: &Mutex<dyn Answers>, fault: &Mutex<Fault>) {
    let mut out = stream;
    for line in BufReader::new(stream).lines() {
        let Ok(line) = line else { return };
        let fault = *lock(fault);
        if fault == Fault::Unplugged {
            return;
        }
        let spoils = line == "READ" || line == "WEIGH";
        if fault == Fault::Silent {
            continue;
        }
        let answer = if spoils && fault != Fault::None {
            spoilt(fault, &line)
        } else {
            format!("{}\n", lock(device).answer(&line))
        };
        let sent = out.write_all(answer.as_bytes());
        if spoils && fault == Fault::HalfLine || sent.is_err() {
            return;
        }
    }
}

fn spoilt(fault: Fault, question: &str) -> String {
    let of = |value: &str| match question {
        "READ" => format!("SPECTRUM {}\n", [value; 36].join(" ")),
        _ => format!("WEIGHT {value} settled\n"),
    };
    match fault {
        Fault::NotANumber => of("NaN"),
        Fault::Seven if question == "READ" => of("7"),
        Fault::Seven => of("7e7"),
        Fault::Flood => "0.5 ".repeat(4000),
        _ => "SPECTRUM 0.1 0.2 0.".into(),
    }
}
