//! From a listening socket to answered requests.

use std::future::Future;
use std::io;

use tokio::net::TcpListener;

use crate::{AppState, router};

/// Answers requests until `end` is there, then finishes those under way.
///
/// # Errors
/// When the socket fails.
pub async fn serve(
    listener: TcpListener,
    app: AppState,
    end: impl Future<Output = ()> + Send + 'static,
) -> io::Result<()> {
    let news = app.news.clone();
    let end = async move {
        end.await;
        news.end();
    };
    axum::serve(listener, router(app)).with_graceful_shutdown(end).await
}
