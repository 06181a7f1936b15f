//! Drives the real pages in headless Chromium. Each test has a server, a database, a driver and a
//! browser profile of its own, so that plain `cargo test` may run them side by side.

mod browser;
mod served;

pub use browser::Browser;
pub use served::ServedWorkshop;
