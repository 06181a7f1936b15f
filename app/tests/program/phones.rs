//! A workshop that is shared with a phone: only a paired one gets in, takes its pictures, and is turned away again.

use std::io::{Read as _, Write as _};
use std::net::TcpStream;
use std::process::Command;

use crate::common::{Outcome, Server};
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
    assert_eq!(code.len(), 8);
    phone.fill("#code", "wrong").await?;
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
    std::fs::write(
        at("sheets.pdf"),
        crate::common::bytes(&server, "/trials/5/sheets.pdf?from=1")?,
    )?;
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
    computer.click("Unpair").await?;
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

/// One request over a connection of its own; the head and as much of the body as is there at once.
fn cookie_of(answer: &str) -> Option<&str> {
    let line = answer.lines().find(|line| line.to_lowercase().starts_with("set-cookie:"))?;
    line.split_once(':')?.1.split(';').next().map(str::trim)
}

/// Strangers who ask for something and never read it hold nobody up: not this machine, not a phone that is known. A
/// phone that is turned away hears nothing more, whatever it was listening to.
#[tokio::test(flavor = "multi_thread")]
async fn strangers_hold_nobody_up_and_a_phone_that_is_turned_away_hears_no_more() -> Outcome {
    let network = own_address();
    // At one address of the network: the owner still finds the workshop on this machine.
    let server = Server::start_at(&format!("{network}:0"), &["--demo", "--share"])?;
    assert!(server.address.starts_with("127.0.0.1:"), "{}", server.address);
    assert!(server.get("/phones")?.contains("No phone is paired"));
    let port = server.address.rsplit(':').next().unwrap_or_default().to_owned();
    let address = format!("{network}:{port}");

    server.post("/phones/pair", "")?;
    let page = server.get("/phones")?;
    let code = page.split_once("class=\"pairing-code\">").ok_or("a code")?.1;
    let code = code.split('<').next().unwrap_or_default().replace(' ', "");
    let form = format!("code={code}&name=Pocket");
    let pair = format!(
        "POST /pair HTTP/1.0\r\nHost: HOST\r\nContent-Type: application/x-www-form-urlencoded\r\n\
         Content-Length: {}\r\n\r\n{form}",
        form.len()
    );
    let paired = from_the_network(&server, &pair)?;
    let cookie = cookie_of(&paired).ok_or_else(|| format!("no cookie in {paired}"))?.to_owned();
    let shelf = format!("GET /shelf HTTP/1.0\r\nHost: HOST\r\nCookie: {cookie}\r\n\r\n");
    assert!(from_the_network(&server, &shelf)?.contains("Canopy Ultramarine"));

    // It listens, and then it is turned away.
    let mut listening = TcpStream::connect(&address)?;
    listening.set_read_timeout(Some(std::time::Duration::from_secs(10)))?;
    write!(
        listening,
        "GET /trials/5/events HTTP/1.0\r\nHost: {address}\r\nCookie: {cookie}\r\n\r\n"
    )?;
    let mut head = [0; 600];
    let count = listening.read(&mut head)?;
    assert!(String::from_utf8_lossy(&head[..count]).contains("text/event-stream"));

    // Meanwhile strangers ask for all there is to ask for, and read nothing.
    let style = server.get("/pair")?;
    let style = style.split_once("href=\"/assets/").ok_or("a style sheet")?.1;
    let style = style.split('"').next().unwrap_or_default();
    let request = format!("GET /assets/{style} HTTP/1.1\r\nHost: {address}\r\n\r\n").repeat(20);
    let held: Vec<TcpStream> = (0..300)
        .filter_map(|_| {
            let mut stream = TcpStream::connect(&address).ok()?;
            let _ = stream.write_all(request.as_bytes());
            Some(stream)
        })
        .collect();
    assert_eq!(held.len(), 300, "they connect, and most are let go again");
    for path in ["/shelf", "/trials", "/phones"] {
        let start = std::time::Instant::now();
        assert!(server.get(path)?.starts_with("HTTP/1.0 200"));
        assert!(start.elapsed().as_secs() < 5, "{path} took {:?}", start.elapsed());
    }

    let page = server.get("/phones")?;
    let key = page.split_once("/end\"").ok_or("a phone")?.0.rsplit('/').next().unwrap_or_default();
    assert!(server.post(&format!("/phones/{key}/end"), "")?.starts_with("HTTP/1.0 303"));
    let mut rest = Vec::new();
    listening.read_to_end(&mut rest)?;
    drop(held);
    Ok(())
}
