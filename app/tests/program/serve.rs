//! `upright-swatch serve` as a person starts it.

use std::io::{Read as _, Write as _};
use std::net::TcpStream;
use std::process::Command;
use std::time::{Duration, Instant};

use crate::common::{Outcome, Server, db};

#[test]
fn the_demo_has_finished_half_done_and_planned_trials() -> Outcome {
    let folder = tempfile::tempdir()?;
    let file = db(folder.path());
    let server = Server::start(&["--demo", "--db", &file])?;
    let trials = server.get("/trials")?;
    for state in ["<td>planned</td>", "<td>at the bench</td>", "<td>finished</td>"] {
        assert!(trials.contains(state), "{state}");
    }
    let results = server.get("/trials/3/results")?;
    assert!(results.contains("Beside Tidewell, Nettlebed is 0.7 times"));
    drop(server);

    // Started again over the same file, the demo is not added a second time.
    let server = Server::start(&["--demo", "--db", &file])?;
    let body = |answer: &str| answer.split_once("\r\n\r\n").map(|(_, body)| body.to_owned());
    assert!(body(&server.get("/trials")?) == body(&trials));
    Ok(())
}

#[test]
fn an_address_in_use_is_said_with_the_remedy() -> Outcome {
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

fn refused(arguments: &[&str]) -> Outcome<String> {
    let output = Command::new(env!("CARGO_BIN_EXE_upright-swatch")).args(arguments).output()?;
    assert!(!output.status.success(), "{arguments:?}");
    Ok(String::from_utf8(output.stderr)?)
}

#[test]
fn nothing_is_served_where_others_reach_it_unless_that_is_said() -> Outcome {
    let message = refused(&["serve", "--demo", "--listen", "0.0.0.0:0"])?;
    assert!(message.contains("whoever reaches it can read and change everything"), "{message}");
    assert!(message.contains("--unprotected"), "{message}");
    let server = Server::start_at("0.0.0.0:0", &["--demo", "--unprotected"])?;
    let port = server.address.rsplit_once(':').ok_or("a port")?.1;
    for (host, status) in [("127.0.0.1", 200), ("attacker.example", 421)] {
        let answer = server.ask(&format!("GET /shelf HTTP/1.0\r\nHost: {host}:{port}\r\n\r\n"))?;
        assert!(answer.starts_with(&format!("HTTP/1.0 {status}")), "{host}: {answer}");
    }
    Ok(())
}

/// A page at a foreign name that leads here (DNS rebinding) neither reads nor posts.
#[test]
fn only_its_own_names_are_answered() -> Outcome {
    let server = Server::start(&["--demo"])?;
    let port = server.address.rsplit_once(':').ok_or("a port")?.1.to_owned();
    let host = |name: &str| format!("Host: {name}:{port}\r\n");
    let cases = [
        (host("127.0.0.1"), 200),
        (host("localhost"), 200),
        (host("[::1]"), 200),
        (host("attacker.example"), 421),
        ("Host: localhost\r\n".to_owned(), 421),
        (String::new(), 421),
        (host("localhost") + &*host("attacker.example"), 421),
    ];
    for (head, status) in &cases {
        let answer = server.ask(&format!("GET /shelf HTTP/1.0\r\n{head}\r\n"))?;
        assert!(answer.starts_with(&format!("HTTP/1.0 {status}")), "{head}: {answer}");
    }
    let post = format!(
        "POST /shelf HTTP/1.0\r\n{}Content-Type: application/x-www-form-urlencoded\r\n\
         Content-Length: 42\r\n\r\nname=Stolen+Blue&grade=artist&medium=acrylic",
        host("attacker.example")
    );
    assert!(server.ask(&post)?.starts_with("HTTP/1.0 421"));
    assert!(!server.get("/shelf")?.contains("Stolen Blue"));
    Ok(())
}

/// Half a request, half a body and an open stream: none of them holds up the end.
#[test]
fn it_ends_within_five_seconds_whatever_hangs() -> Outcome {
    let server = Server::start(&["--demo"])?;
    let host = format!("Host: {}\r\n", server.address);
    let hanging = [
        "GET /shelf HT".to_owned(),
        format!("GET /trials/4/events HTTP/1.1\r\n{host}\r\n"),
        format!(
            "POST /shelf HTTP/1.1\r\n{host}Content-Type: application/x-www-form-urlencoded\r\n\
             Content-Length: 1000\r\n\r\nname="
        ),
    ];
    let mut streams = Vec::new();
    for request in &hanging {
        let mut stream = TcpStream::connect(&server.address)?;
        stream.write_all(request.as_bytes())?;
        streams.push(stream);
    }
    assert!(server.get("/shelf")?.starts_with("HTTP/1.0 200"));
    let took = server.terminate()?;
    assert!(took < Duration::from_secs(5), "{took:?}");
    Ok(())
}

/// Half a head, half a body, and a connection that is kept open for nothing: each is let go.
#[test]
fn what_never_ends_is_let_go() -> Outcome {
    let server = Server::start(&["--demo"])?;
    let host = format!("Host: {}\r\n", server.address);
    let never = [
        "GET /shelf HT".to_owned(),
        format!(
            "POST /shelf HTTP/1.1\r\n{host}Content-Type: application/x-www-form-urlencoded\r\n\
             Content-Length: 1000\r\n\r\nname="
        ),
        format!("GET /favicon.svg HTTP/1.1\r\n{host}\r\n"),
    ];
    let waits = never.map(|request| {
        let mut stream = TcpStream::connect(&server.address)?;
        stream.set_read_timeout(Some(Duration::from_secs(40)))?;
        stream.write_all(request.as_bytes())?;
        Ok::<_, std::io::Error>((request, stream))
    });
    let start = Instant::now();
    for wait in waits {
        let (request, mut stream) = wait?;
        // The end of the stream, and not the end of our patience.
        stream.read_to_end(&mut Vec::new()).map_err(|error| format!("{request}: {error}"))?;
    }
    assert!(start.elapsed() < Duration::from_secs(35), "{:?}", start.elapsed());
    Ok(())
}

#[test]
fn a_workshop_is_copied_restored_and_written_as_open_files() -> Outcome {
    let folder = tempfile::tempdir()?;
    let at = |name: &str| folder.path().join(name).display().to_string();
    let run = |arguments: &[&str]| -> Outcome<String> {
        let output = Command::new(env!("CARGO_BIN_EXE_upright-swatch")).args(arguments).output()?;
        assert!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
        Ok(String::from_utf8(output.stdout)?)
    };
    let file = db(folder.path());
    let server = Server::start(&["--demo", "--db", &file])?;
    assert!(run(&["backup", &at("copy.db"), "--db", &file])?.contains("is a checked copy of"));
    // A second program keeps off, and what is served is not restored over.
    let message = refused(&["serve", "--db", &file, "--listen", "127.0.0.1:0"])?;
    assert!(message.contains("is open in another upright-swatch already"), "{message}");
    let message = refused(&["restore", &at("copy.db"), "--db", &file])?;
    assert!(message.contains("stop it and start again"), "{message}");
    drop(server);
    let said = run(&["restore", &at("copy.db"), "--db", &file])?;
    assert!(said.contains("what was there before is in"), "{said}");
    run(&["export", &at("open"), "--db", &file])?;
    run(&["import", &at("open"), "--db", &at("again.db")])?;
    let (one, other) = (
        Server::start(&["--db", &file])?.get("/trials")?,
        Server::start(&["--db", &at("again.db")])?.get("/trials")?,
    );
    let body = |answer: &str| answer.split_once("\r\n\r\n").map(|(_, body)| body.to_owned());
    assert_eq!(body(&one), body(&other));
    for arguments in [
        vec!["backup".to_owned(), at("copy.db"), "--db".to_owned(), file.clone()],
        vec!["backup".to_owned(), at("other.db"), "--db".to_owned(), at("nothing.db")],
        vec!["restore".to_owned(), at("nothing.db"), "--db".to_owned(), file],
        vec!["serve".to_owned(), "--db".to_owned(), at("no/such/folder.db")],
        vec!["serve".to_owned(), "--meter=127.0.0.1:1".to_owned(), "--simulate=meter".to_owned()],
    ] {
        let arguments: Vec<&str> = arguments.iter().map(String::as_str).collect();
        let message = refused(&arguments)?;
        assert_eq!(message.lines().count(), 1, "{message}");
        assert!(
            message.contains(": give") || message.contains(": make") || message.contains("; leave"),
            "{message}"
        );
    }
    Ok(())
}
