//! The pages. The only crate that knows HTTP and HTML.
//!
//! A request runs one way: `routes` → a handler in `pages/…/mod.rs` → the workshop → a
//! view of finished text in `pages/…/view.rs` → `page.html`. Colours become SVG in `draw`.

mod assets;
mod draw;
mod error;
mod events;
mod frame;
mod pages;
mod posted;
mod routes;
mod serving;
mod sharing;
mod token;
mod words;

pub use error::PageError;
pub use routes::router;
pub use serving::serve;
pub use sharing::{Sharing, own_address};
