//! The pages. The only crate that knows HTTP and HTML.
//!
//! A request runs one way: `routes` → a handler in `pages/…/mod.rs` → the store and the core → a
//! view of finished text in `pages/…/view.rs` → `page.html`. Colours become SVG in `draw`.

mod assets;
mod draw;
mod error;
mod frame;
mod judged;
mod known;
mod news;
mod pages;
mod posted;
mod routes;
mod serving;
mod state;
mod taking;
mod token;
mod waiting;
mod words;

pub use error::PageError;
pub use routes::router;
pub use serving::serve;
pub use state::AppState;
