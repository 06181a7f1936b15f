//! A token for everything a page may send: what is sent twice is recorded once.

use std::sync::LazyLock;
use std::sync::atomic::{AtomicU64, Ordering};
use std::time::{SystemTime, UNIX_EPOCH};

/// Tells this start of the program from every other.
static START: LazyLock<u128> = LazyLock::new(|| {
    SystemTime::now().duration_since(UNIX_EPOCH).map_or(0, |since| since.as_nanos())
});
static COUNT: AtomicU64 = AtomicU64::new(0);

/// Longest token that is taken from a form.
const LONGEST: usize = 80;

/// One that was never given before.
pub(crate) fn new() -> String {
    format!("{:x}-{:x}", *START, COUNT.fetch_add(1, Ordering::Relaxed))
}

/// What a form sent, as far as it can be a token.
pub(crate) fn sent(text: &str) -> Option<&str> {
    (!text.is_empty() && text.len() <= LONGEST).then_some(text)
}
