//! What the application does, tested without a page.

mod bench;
mod matrix;
mod pictures;
