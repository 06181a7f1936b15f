//! `upright-swatch serve` as a person starts it.

use std::error::Error;
use std::io::{BufRead as _, BufReader, Read as _, Write as _};
use std::net::TcpStream;
use std::path::Path;
use std::process::{Child, Command, Stdio};

type Outcome<T> = Result<T, Box<dyn Error>>;

/// A running server, ended when it is dropped.
struct Server {
    process: Child,
    address: String,
}

impl Server {
    fn start(arguments: &[&str]) -> Outcome<Self> {
        let mut process = Command::new(env!("CARGO_BIN_EXE_upright-swatch"))
            .args(["serve", "--listen", "127.0.0.1:0"])
            .args(arguments)
            .stdout(Stdio::piped())
            .spawn()?;
        let mut line = String::new();
        BufReader::new(process.stdout.take().ok_or("no output")?).read_line(&mut line)?;
        let address = line.split_once("http://").and_then(|(_, rest)| rest.split_once('/'));
        let address = address.ok_or_else(|| format!("no address in “{line}”"))?.0.to_owned();
        Ok(Self { process, address })
    }

    fn get(&self, path: &str) -> Outcome<String> {
        let mut stream = TcpStream::connect(&self.address)?;
        write!(stream, "GET {path} HTTP/1.0\r\nHost: {}\r\n\r\n", self.address)?;
        let mut answer = String::new();
        stream.read_to_string(&mut answer)?;
        Ok(answer)
    }
}

impl Drop for Server {
    fn drop(&mut self) {
        let _ = self.process.kill();
        let _ = self.process.wait();
    }
}

fn db(folder: &Path) -> String {
    folder.join("workshop.db").display().to_string()
}

#[test]
fn the_demo_has_finished_half_done_and_planned_trials() -> Outcome<()> {
    let folder = tempfile::tempdir()?;
    let file = db(folder.path());
    let server = Server::start(&["--demo", "--db", &file])?;
    let trials = server.get("/trials")?;
    for state in ["<td>planned</td>", "<td>at the bench</td>", "<td>finished</td>"] {
        assert!(trials.contains(state), "{state}");
    }
    let results = server.get("/trials/3/results")?;
    assert!(results.contains("Nettlebed tints weakest: 1 part of Tidewell does what 1.4"));
    drop(server);

    // Started again over the same file, the demo is not added a second time.
    let server = Server::start(&["--demo", "--db", &file])?;
    let body = |answer: &str| answer.split_once("\r\n\r\n").map(|(_, body)| body.to_owned());
    assert!(body(&server.get("/trials")?) == body(&trials));
    Ok(())
}

#[test]
fn an_address_in_use_is_said_with_the_remedy() -> Outcome<()> {
    let taken = std::net::TcpListener::bind("127.0.0.1:0")?;
    let address = taken.local_addr()?.to_string();
    let output = Command::new(env!("CARGO_BIN_EXE_upright-swatch"))
        .args(["serve", "--demo", "--listen", &address])
        .output()?;
    let message = String::from_utf8(output.stderr)?;
    assert!(!output.status.success());
    assert!(message.contains(&format!("cannot listen at {address}")), "{message}");
    assert!(message.contains("choose another address with --listen"), "{message}");
    Ok(())
}
