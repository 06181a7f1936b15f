//! What is new, told to every page that shows it.

use std::convert::Infallible;

use axum::response::sse::{Event, KeepAlive, Sse};
use futures_util::stream::{once, unfold};
use futures_util::{Stream, StreamExt as _};
use workshop::Subscription;

/// The changes of a trial as server-sent events.
pub(crate) fn server_sent(
    changes: Subscription,
) -> Sse<impl Stream<Item = Result<Event, Infallible>>> {
    let stream = unfold(changes, |mut changes| async move {
        changes.next().await?;
        Some((Ok(Event::default().event("change").data("recorded")), changes))
    });
    // Said at once, so that the page knows that it is heard.
    let open = once(async { Ok(Event::default().comment("open")) });
    Sse::new(open.chain(stream)).keep_alive(KeepAlive::default())
}
