//! The site without a browser.

mod bench;
mod common;
mod faults;
mod guards;
mod pages;
mod planner;
