//! The site without a browser.

mod bench;
mod by_eye;
mod charts;
mod common;
mod compare;
mod decide;
mod faults;
mod guards;
mod look;
mod pages;
mod pictures;
mod planner;
