//! The site without a browser.

mod bench;
mod common;
mod guards;
mod pages;
mod planner;
