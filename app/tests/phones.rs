//! A workshop that is shared with a phone: only a paired one gets in, takes its pictures, and is turned away again.

mod common;

use std::io::{Read as _, Write as _};
use std::net::TcpStream;
use std::process::Command;

use common::{Outcome, Server};
use e2e::Browser;
use web::own_address;

/// What a machine on the network gets, which is not this one by its address.
fn from_the_network(server: &Server, request: &str) -> Outcome<String> {
    let port = server.address.rsplit(':').next().unwrap_or_default();
    let address = format!("{}:{port}", own_address());
    let mut stream = TcpStream::connect(&address)?;
    stream.write_all(request.replace("HOST", &address).as_bytes())?;
    let mut answer = String::new();
    stream.read_to_string(&mut answer)?;
    Ok(answer)
}

#[tokio::test(flavor = "multi_thread")]
async fn a_phone_is_paired_sends_its_pictures_and_is_turned_away() -> Outcome {
    assert!(!own_address().is_loopback(), "this test needs a network of some kind");
    let server = Server::start(&["--demo", "--share"])?;
    let port = server.address.rsplit(':').next().unwrap_or_default();
    let there = |path: &str| format!("http://{}:{port}{path}", own_address());

    // A stranger sees the pairing page alone, under its own name alone.
    for path in ["/", "/shelf", "/trials/5/sheets/1.json", "/copy/workshop.db", "/phones"] {
        let answer =
            from_the_network(&server, &format!("GET {path} HTTP/1.0\r\nHost: HOST\r\n\r\n"))?;
        assert!(
            answer.starts_with("HTTP/1.0 303") && answer.contains("location: /pair"),
            "{answer}"
        );
    }
    for path in ["/trials", "/phones/pair", "/trials/5/phone"] {
        let post = format!("POST {path} HTTP/1.0\r\nHost: HOST\r\nContent-Length: 0\r\n\r\n");
        let answer = from_the_network(&server, &post)?;
        assert!(answer.starts_with("HTTP/1.0 403"), "{path}: {answer}");
    }
    let foreign = "GET /pair HTTP/1.0\r\nHost: attacker.example\r\n\r\n";
    assert!(from_the_network(&server, foreign)?.starts_with("HTTP/1.0 421"));

    let (computer, phone) = (Browser::start().await?, Browser::start().await?);
    phone.resize(390, 844).await?;
    phone.open(&there("/shelf")).await?;
    phone.shows(".page-title", "Pair this phone").await?;
    phone.fill("#code", "123456").await?;
    phone.click("Pair").await?;
    phone.shows("#code-note", "No phone is being paired now").await?;

    computer.open(&server.url("/phones")).await?;
    computer.shows("main", "No phone is paired").await?;
    computer.click("Pair a phone").await?;
    let code = computer.text(".pairing-code").await?.replace(' ', "");
    assert_eq!(code.len(), 6);
    let other = format!("{:06}", (code.parse::<u32>()? + 1) % 1_000_000);
    phone.fill("#code", &other).await?;
    phone.click("Pair").await?;
    phone.shows("#code-note", "you can try 4 times more").await?;
    // As the camera opens it from the QR code.
    phone.open(&there(&format!("/pair?code={code}"))).await?;
    phone.fill("#name", "Kitchen phone").await?;
    phone.click("Pair").await?;
    phone.shows(".phone-bar", "read").await?;
    // It lets no other phone in.
    phone.open(&there("/phones")).await?;
    assert!(!phone.address().await?.ends_with("/phones"));

    // At the table: what cannot be used is said at once, and what can is taken with one touch.
    let folder = tempfile::tempdir()?;
    let at = |name: &str| folder.path().join(name);
    let blank = vec![180; 3 * 600 * 400];
    std::fs::write(at("blank.png"), formats::picture::write((600, 400), &blank, false)?)?;
    phone.open(&there("/trials/5/phone")).await?;
    phone.shows(".phone-verdict", "Take a picture of sheet 1").await?;
    phone.upload("#camera", &at("blank.png")).await?;
    phone.shows(".phone-verdict", "This picture cannot be used").await?;
    let sheet = server.get("/trials/5/sheets/1.json")?;
    std::fs::write(at("sheet.json"), sheet.split_once("\r\n\r\n").map_or("", |it| it.1))?;
    std::fs::write(at("sheets.pdf"), common::bytes(&server, "/trials/5/sheets.pdf?from=1")?)?;
    let drawn = Command::new(env!("CARGO_BIN_EXE_upright-swatch"))
        .args(["device", "scanner", "--phone", "--fault", "glare", "--sheet"])
        .arg(at("sheet.json"))
        .arg("--pdf")
        .arg(at("sheets.pdf"))
        .arg("--out")
        .arg(at("sheet.jpg"))
        .status()?;
    assert!(drawn.success());
    phone.open(&there("/trials/5/phone")).await?;
    phone.upload("#camera", &at("sheet.jpg")).await?;
    phone.shows(".phone-verdict", "Sheet 1: sharp, even light").await?;
    let (page, screen) = phone.widths().await?;
    assert!(page <= screen, "{page} on {screen}");
    phone.click("Use it").await?;
    phone.shows(".phone-bar", "1 of 4 sheets read").await?;
    phone.shows(".phone-verdict", "Take a picture of sheet 2").await?;

    // Turned away, it is a stranger again; its code lets nobody else in.
    computer.open(&server.url("/phones")).await?;
    computer.shows("main", "Kitchen phone").await?;
    computer.click("Turn it away").await?;
    computer.shows("main", "No phone is paired").await?;
    phone.open(&there("/trials/5/phone")).await?;
    phone.shows(".page-title", "Pair this phone").await?;
    phone.fill("#code", &code).await?;
    phone.click("Pair").await?;
    phone.shows("#code-note", "No phone is being paired now").await?;
    computer.close().await?;
    // Its wrong codes and its picture were answered with 422, as they should be.
    phone.close_after_trouble().await
}
