//! One line asked, one line answered, over a socket (docs/device-protocol.md).
//!
//! Whatever comes back, a question ends within its time: a device that says nothing is told apart
//! from one that says too much, half a line, or no text. After either, the connection is dropped,
//! so that no late answer is ever taken for the next one.

use std::io::{ErrorKind, Read as _, Write as _};
use std::net::{SocketAddr, TcpStream};
use std::time::{Duration, Instant};

use crate::DeviceError;

/// A device on this machine is there at once or not at all.
const TO_CONNECT: Duration = Duration::from_millis(500);
/// A reading takes a lamp's flash; a device that needs longer is taken to be silent.
const TO_ANSWER: Duration = Duration::from_secs(3);
/// Longest line that a device may send.
const LONGEST: usize = 4096;

/// A line to a device.
#[derive(Debug)]
pub(crate) struct Line {
    /// What messages call it.
    device: &'static str,
    address: SocketAddr,
    stream: Option<TcpStream>,
}

impl Line {
    pub fn to(device: &'static str, address: SocketAddr) -> Self {
        Self { device, address, stream: None }
    }

    /// True while nothing went wrong since the last question.
    pub fn is_open(&self) -> bool {
        self.stream.is_some()
    }

    pub fn failed(&self, reason: &str) -> DeviceError {
        DeviceError::Failed { device: self.device, reason: reason.to_owned() }
    }

    /// Drops the connection and says what is wrong with an answer.
    pub fn rubbish(&mut self, found: impl Into<String>) -> DeviceError {
        self.stream = None;
        DeviceError::Rubbish { device: self.device, found: found.into() }
    }

    fn silent(&mut self) -> DeviceError {
        self.stream = None;
        DeviceError::Silent(self.device)
    }

    /// Asks, and waits for the answer.
    pub fn ask(&mut self, question: &str) -> Result<String, DeviceError> {
        // A connection that lay idle may have ended meanwhile: one that is new gets a second try.
        let was_open = self.is_open();
        match self.ask_once(question) {
            Err(DeviceError::Silent(_)) if was_open => self.ask_once(question),
            answer => answer,
        }
    }

    fn ask_once(&mut self, question: &str) -> Result<String, DeviceError> {
        let Ok(mut stream) = self.connected() else { return Err(self.silent()) };
        if stream.write_all(format!("{question}\n").as_bytes()).is_err() {
            return Err(self.silent());
        }
        let end = Instant::now() + TO_ANSWER;
        let mut answer = Vec::new();
        let mut piece = [0; 1024];
        while !answer.contains(&b'\n') {
            let left = end.saturating_duration_since(Instant::now());
            if answer.len() > LONGEST {
                return Err(self.rubbish("a flood without end"));
            }
            let read = match stream.set_read_timeout(Some(left.max(Duration::from_millis(1)))) {
                Ok(()) if !left.is_zero() => stream.read(&mut piece),
                _ => Err(ErrorKind::TimedOut.into()),
            };
            match read {
                Ok(count) if count > 0 => answer.extend_from_slice(&piece[..count]),
                _ if answer.is_empty() => return Err(self.silent()),
                _ => return Err(self.rubbish("half a line")),
            }
        }
        let Ok(text) = String::from_utf8(answer) else { return Err(self.rubbish("no text")) };
        match text.split_once('\n') {
            Some((line, "")) => Ok(line.trim_end().to_owned()),
            _ => Err(self.rubbish("more than was asked for")),
        }
    }

    fn connected(&mut self) -> std::io::Result<TcpStream> {
        if self.stream.is_none() {
            let stream = TcpStream::connect_timeout(&self.address, TO_CONNECT)?;
            stream.set_nodelay(true)?;
            stream.set_write_timeout(Some(TO_ANSWER))?;
            self.stream = Some(stream);
        }
        match &self.stream {
            Some(stream) => stream.try_clone(),
            None => Err(ErrorKind::NotConnected.into()),
        }
    }
}
