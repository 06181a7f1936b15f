//! The site without a browser.

mod common;
mod guards;
mod pages;
mod planner;
