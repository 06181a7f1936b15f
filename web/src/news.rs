//! What is new, told to every page that shows it.

use std::convert::Infallible;

use axum::response::sse::{Event, KeepAlive, Sse};
use futures_util::stream::{once, unfold};
use futures_util::{Stream, StreamExt as _};
use store::TrialId;
use tokio::sync::broadcast::error::RecvError;
use tokio::sync::{broadcast, watch};

/// A page that is slower than this many changes asks for everything anyway.
const KEPT: usize = 64;

/// Tells of changes until it ends.
#[derive(Debug, Clone)]
pub(crate) struct News {
    changes: broadcast::Sender<TrialId>,
    ended: watch::Sender<bool>,
}

impl Default for News {
    fn default() -> Self {
        Self { changes: broadcast::Sender::new(KEPT), ended: watch::Sender::new(false) }
    }
}

impl News {
    /// Something was recorded in a trial.
    pub fn tell(&self, trial: TrialId) {
        // Nobody listens where no page is open.
        let _ = self.changes.send(trial);
    }

    /// Ends every stream, which would else hold up the end of the program.
    pub fn end(&self) {
        self.ended.send_replace(true);
    }

    /// The changes of a trial as server-sent events.
    pub fn of(&self, trial: TrialId) -> Sse<impl Stream<Item = Result<Event, Infallible>> + use<>> {
        let start = (self.changes.subscribe(), self.ended.subscribe());
        let stream = unfold(start, move |(mut changes, mut ended)| async move {
            if *ended.borrow() {
                return None;
            }
            loop {
                tokio::select! {
                    _ = ended.changed() => return None,
                    change = changes.recv() => match change {
                        Ok(changed) if changed != trial => {}
                        Ok(_) | Err(RecvError::Lagged(_)) => {
                            let event = Event::default().event("change").data("recorded");
                            return Some((Ok(event), (changes, ended)));
                        }
                        Err(RecvError::Closed) => return None,
                    },
                }
            }
        });
        // Said at once, so that the page knows that it is heard.
        let open = once(async { Ok(Event::default().comment("open")) });
        Sse::new(open.chain(stream)).keep_alive(KeepAlive::default())
    }
}
