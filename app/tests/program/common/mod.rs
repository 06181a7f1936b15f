//! The program as a person starts it.

use std::error::Error;
use std::io::{BufRead as _, BufReader, Read as _, Write as _};
use std::net::TcpStream;
use std::path::Path;
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

pub type Outcome<T = ()> = Result<T, Box<dyn Error>>;

/// A running server, killed when it is dropped.
pub struct Server {
    process: Child,
    pub address: String,
}

impl Server {
    /// At a free port.
    pub fn start(arguments: &[&str]) -> Outcome<Self> {
        Self::start_at("127.0.0.1:0", arguments)
    }

    pub fn start_at(listen: &str, arguments: &[&str]) -> Outcome<Self> {
        let program = Command::new(env!("CARGO_BIN_EXE_upright-swatch"));
        Self::run(program, listen, arguments)
    }

    /// With at most so many KiB in any file: a disk that is full.
    pub fn start_on_a_full_disk(kib: u64, arguments: &[&str]) -> Outcome<Self> {
        let mut shell = Command::new("bash");
        // Without the signal, a write beyond the limit fails as it does on a full disk.
        let limited = "trap '' XFSZ; ulimit -S -f \"$1\"; shift; exec \"$@\"";
        shell.args(["-c", limited, "limited", &kib.to_string()]);
        shell.arg(env!("CARGO_BIN_EXE_upright-swatch"));
        Self::run(shell, "127.0.0.1:0", arguments)
    }

    fn run(mut program: Command, listen: &str, arguments: &[&str]) -> Outcome<Self> {
        let mut process = program
            .args(["serve", "--listen", listen])
            .args(arguments)
            .stdout(Stdio::piped())
            .spawn()?;
        let mut line = String::new();
        BufReader::new(process.stdout.take().ok_or("no output")?).read_line(&mut line)?;
        let address = line.split_once("http://").and_then(|(_, rest)| rest.split_once('/'));
        let address = address.ok_or_else(|| format!("no address in “{line}”"))?.0.to_owned();
        Ok(Self { process, address })
    }

    pub fn pid(&self) -> u32 {
        self.process.id()
    }

    pub fn url(&self, path: &str) -> String {
        format!("http://{}{path}", self.address)
    }

    /// Status line, head and body.
    pub fn get(&self, path: &str) -> Outcome<String> {
        self.ask(&format!("GET {path} HTTP/1.0\r\nHost: {}\r\n\r\n", self.address))
    }

    pub fn post(&self, path: &str, form: &str) -> Outcome<String> {
        self.ask(&format!(
            "POST {path} HTTP/1.0\r\nHost: {}\r\nContent-Type: application/x-www-form-urlencoded\r\n\
             Content-Length: {}\r\n\r\n{form}",
            self.address,
            form.len()
        ))
    }

    pub fn ask(&self, request: &str) -> Outcome<String> {
        let mut stream = TcpStream::connect(&self.address)?;
        stream.write_all(request.as_bytes())?;
        let mut answer = String::new();
        stream.read_to_string(&mut answer)?;
        Ok(answer)
    }

    /// Makes room on the disk of a server that was started on a full one.
    pub fn make_room(&self) -> Outcome {
        let pid = self.process.id().to_string();
        let done = Command::new("prlimit").args(["--fsize=unlimited", "--pid", &pid]).status()?;
        if done.success() { Ok(()) } else { Err("prlimit failed".into()) }
    }

    /// Asks it to end as a system does, and tells how long that took.
    pub fn terminate(mut self) -> Outcome<Duration> {
        let start = Instant::now();
        Command::new("kill").arg(self.process.id().to_string()).status()?;
        self.process.wait()?;
        Ok(start.elapsed())
    }

    /// As `kill -9` does.
    pub fn kill(mut self) -> Outcome<String> {
        self.process.kill()?;
        self.process.wait()?;
        Ok(self.address.clone())
    }
}

impl Drop for Server {
    fn drop(&mut self) {
        let _ = self.process.kill();
        let _ = self.process.wait();
    }
}

pub fn db(folder: &Path) -> String {
    folder.join("workshop.db").display().to_string()
}

/// The body of an answer that is no text.
pub fn bytes(server: &Server, path: &str) -> Outcome<Vec<u8>> {
    let mut stream = TcpStream::connect(&server.address)?;
    write!(stream, "GET {path} HTTP/1.0\r\nHost: {}\r\n\r\n", server.address)?;
    let mut all = Vec::new();
    stream.read_to_end(&mut all)?;
    let head = all.windows(4).position(|it| it == b"\r\n\r\n").ok_or("no body")?;
    Ok(all.split_off(head + 4))
}
