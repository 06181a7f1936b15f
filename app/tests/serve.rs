//! `upright-swatch serve` as a person starts it.

mod common;

use std::process::Command;

use common::{Outcome, Server, db};

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
    assert!(results.contains("Beside Tidewell, Nettlebed is 0.68 times and Harrow"));
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
