//! The largest readings file that is allowed, from the browser's upload to its results.

use std::fmt::Write as _;
use std::fs;
use std::io::{Read as _, Write as _};
use std::net::TcpStream;

use crate::common::{Outcome, Server, db};
use formats::readings::{MAX_BYTES, MAX_ROWS};

/// As many rows as are read, of as many bytes as are read.
fn largest() -> String {
    let bands: Vec<String> = (38..=73).map(|ten| format!("R{ten}0")).collect();
    let mut text = format!(
        "# upright-swatch readings 1\n# white: White\ntube,maker,code,with,parts,with_parts,white_parts,state,\
         backing,repeat,{}\nWhite,M,PW6,,1,,,dry,paper,1{}\n",
        bands.join(","),
        ",0.90000".repeat(36)
    );
    let row_bytes = usize::try_from(MAX_BYTES).unwrap_or(usize::MAX) / MAX_ROWS;
    for at in 1..MAX_ROWS {
        let (tube, turn) = (at % 200, at / 200);
        let start = text.len();
        let white = [0, 1, 2, 4, 8, 16][turn % 6];
        let repeat = turn / 6 + 1;
        let _ = write!(text, "Tube {tube},M,PB{},,1,,{white},dry,paper,{repeat}", tube % 40 + 1);
        for band in 0..36 {
            let factor =
                0.1 + 0.1 * (turn % 6) as f64 + 0.001 * f64::from(band) + 0.00001 * (at % 7) as f64;
            let _ = write!(text, ",{factor:.5}");
        }
        // Zeros that change nothing, up to the bytes that a row may have.
        let room = row_bytes.saturating_sub(text.len() - start + 1);
        text.extend(std::iter::repeat_n('0', room));
        text.push('\n');
    }
    text
}

/// The most memory that a process has held, in MB.
fn peak_mb(server: &Server) -> Outcome<u64> {
    let status = fs::read_to_string(format!("/proc/{}/status", server.pid()))?;
    let line = status.lines().find(|line| line.starts_with("VmHWM:")).ok_or("no VmHWM")?;
    let kib: u64 = line.split_whitespace().nth(1).ok_or("no number")?.parse()?;
    Ok(kib / 1024)
}

#[test]
#[ignore = "a long check: make check"]
fn the_largest_file_stays_under_500_mb_of_memory() -> Outcome {
    let folder = tempfile::tempdir()?;
    let server = Server::start(&["--db", &db(folder.path())])?;
    let text = largest();
    assert!(
        text.len() as u64 <= MAX_BYTES && text.len() as u64 > MAX_BYTES * 9 / 10,
        "{}",
        text.len()
    );
    let head =
        "--cut\r\nContent-Disposition: form-data; name=\"file\"; filename=\"large.csv\"\r\n\r\n";
    let tail = "\r\n--cut--\r\n";
    let mut stream = TcpStream::connect(&server.address)?;
    write!(
        stream,
        "POST /trials/import HTTP/1.0\r\nHost: {}\r\nContent-Type: multipart/form-data; boundary=cut\r\n\
         Content-Length: {}\r\n\r\n{head}",
        server.address,
        head.len() + text.len() + tail.len()
    )?;
    stream.write_all(text.as_bytes())?;
    stream.write_all(tail.as_bytes())?;
    let mut answer = String::new();
    stream.read_to_string(&mut answer)?;
    assert!(answer.starts_with("HTTP/1.0 303"), "{}", answer.lines().next().unwrap_or_default());
    assert!(server.get("/trials/1/readings")?.contains("1 to 200 of 150,000"));
    assert!(server.get("/trials/1/results")?.starts_with("HTTP/1.0 200"));
    let peak = peak_mb(&server)?;
    assert!(peak < 500, "{peak} MB");
    Ok(())
}
