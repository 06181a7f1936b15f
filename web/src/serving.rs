//! From a listening socket to answered requests: who may ask, how long anything may take, and how it ends.

use std::future::Future;
use std::io;
use std::net::{IpAddr, SocketAddr};
use std::sync::Arc;
use std::time::Duration;

use axum::body::Body;
use axum::extract::{ConnectInfo, Request, State};
use axum::http::header::HOST;
use axum::http::{HeaderMap, StatusCode};
use axum::middleware::{Next, from_fn_with_state};
use axum::response::{IntoResponse, Response};
use futures_util::future::select_all;
use hyper::server::conn::http1;
use hyper_util::rt::{TokioIo, TokioTimer};
use hyper_util::server::graceful::GracefulShutdown;
use hyper_util::service::TowerToHyperService;
use tokio::net::{TcpListener, TcpStream};
use tokio_io_timeout::TimeoutStream;
use tower::ServiceExt as _;
use tower_http::timeout::RequestBodyTimeoutLayer;
use workshop::Workshop;

use crate::routes::{router, shared};
use crate::sharing::Sharing;

/// A request's head is there by then, or the connection is closed; one that is kept open for the next
/// request is closed after it too.
const HEAD: Duration = Duration::from_secs(15);
/// The longest pause within a body that is sent.
const BODY: Duration = Duration::from_secs(20);
/// What is under way at the end has so long.
const LAST: Duration = Duration::from_secs(3);
/// Whoever reads nothing of an answer for so long is not waited for.
const UNREAD: Duration = Duration::from_secs(20);

/// Answers requests, those of known phones alone where the workshop is shared, until `end` is there, then finishes
/// those under way, as far as they take no longer than three seconds.
///
/// # Errors
/// When a socket fails.
pub async fn serve(
    listeners: Vec<TcpListener>,
    app: Workshop,
    sharing: Option<Sharing>,
    end: impl Future<Output = ()> + Send + 'static,
) -> io::Result<()> {
    let news = app.news().clone();
    let addresses = listeners.iter().map(TcpListener::local_addr).collect::<io::Result<_>>()?;
    let served = Served(addresses);
    let places = sharing.as_ref().map(|it| Arc::clone(&it.places)).unwrap_or_default();
    let pages = match sharing {
        Some(sharing) => shared(app, sharing),
        None => router(app),
    };
    let pages = pages
        .layer(RequestBodyTimeoutLayer::new(BODY))
        .layer(from_fn_with_state(served, only_own_names));
    let connections = GracefulShutdown::new();
    let mut end = std::pin::pin!(end);
    loop {
        let (stream, peer, place) = tokio::select! {
            () = &mut end => break,
            next = next(&listeners) => match next {
                Some((stream, peer)) => match places.take(peer.ip()) {
                    Some(place) => (stream, peer, place),
                    // Dropped at once: nobody waits behind it.
                    None => continue,
                },
                None => continue,
            },
        };
        let mut stream = TimeoutStream::new(stream);
        stream.set_write_timeout(Some(UNREAD));
        let pages = pages.clone().map_request(move |request: hyper::Request<_>| {
            let mut request = request.map(Body::new);
            request.extensions_mut().insert(ConnectInfo(peer));
            request
        });
        let connection = http1::Builder::new()
            .timer(TokioTimer::new())
            .header_read_timeout(HEAD)
            .serve_connection(TokioIo::new(Box::pin(stream)), TowerToHyperService::new(pages));
        let connection = connections.watch(connection);
        tokio::spawn(async move {
            // A connection that breaks off concerns nobody else.
            let _ = connection.await;
            drop(place);
        });
    }
    drop(listeners);
    news.end();
    let _ = tokio::time::timeout(LAST, connections.shutdown()).await;
    Ok(())
}

/// The next connection at any of the sockets.
async fn next(listeners: &[TcpListener]) -> Option<(TcpStream, SocketAddr)> {
    let each = listeners.iter().map(|listener| Box::pin(listener.accept()));
    match select_all(each).await.0 {
        Ok(next) => Some(next),
        Err(error) => {
            tracing::warn!(%error, "a connection could not be taken");
            // Most often too many files are open: one is closed sooner or later.
            tokio::time::sleep(Duration::from_millis(200)).await;
            None
        }
    }
}

/// The addresses that are served.
#[derive(Debug, Clone)]
struct Served(Arc<[SocketAddr]>);

impl Served {
    /// Whether a page may have been asked for under this name: a foreign one that leads here (DNS rebinding)
    /// would let a stranger's page read and change the workshop.
    fn is_named(&self, host: &str) -> bool {
        self.0.iter().any(|address| is_named(*address, host))
    }
}

fn is_named(served: SocketAddr, host: &str) -> bool {
    let (name, port) = match host.rsplit_once(':') {
        Some((name, port)) if !port.is_empty() && !port.contains(']') => (name, port.parse().ok()),
        _ => (host, Some(80)),
    };
    if port != Some(served.port()) {
        return false;
    }
    if name.eq_ignore_ascii_case("localhost") {
        return served.ip().is_loopback() || served.ip().is_unspecified();
    }
    let inner = name.strip_prefix('[').and_then(|rest| rest.strip_suffix(']'));
    let Ok(address) = inner.unwrap_or(name).parse::<IpAddr>() else { return false };
    let usual = [IpAddr::from([127, 0, 0, 1]), IpAddr::from([0, 0, 0, 0, 0, 0, 0, 1])];
    // A number cannot be made to lead elsewhere, as a name can.
    address == served.ip()
        || served.ip().is_unspecified()
        || (served.ip().is_loopback() && usual.contains(&address))
}

/// The name that a request is for; `None` where it is not said, or said twice.
fn host(headers: &HeaderMap) -> Option<&str> {
    let mut hosts = headers.get_all(HOST).iter();
    let only = hosts.next().filter(|_| hosts.next().is_none())?;
    only.to_str().ok()
}

async fn only_own_names(State(served): State<Served>, request: Request, next: Next) -> Response {
    // A request may carry the name in its address too; then both must be right.
    let in_address = request.uri().authority().map(|authority| authority.as_str().to_owned());
    let named = host(request.headers()).is_some_and(|host| served.is_named(host));
    if named && in_address.is_none_or(|host| served.is_named(&host)) {
        return next.run(request).await;
    }
    let said = format!(
        "This is not served under that name. Open it at http://{}/ on the machine that runs it.\n",
        served.0.iter().map(SocketAddr::to_string).collect::<Vec<_>>().join("/ or http://")
    );
    (StatusCode::MISDIRECTED_REQUEST, said).into_response()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_the_addresses_served_are_answered() {
        let served = |address: &str| Served([address.parse().expect("an address")].into());
        let cases = [
            ("127.0.0.1:8093", "127.0.0.1:8093", true),
            ("127.0.0.1:8093", "localhost:8093", true),
            ("127.0.0.1:8093", "LOCALHOST:8093", true),
            ("127.0.0.1:8093", "[::1]:8093", true),
            ("[::1]:8093", "[::1]:8093", true),
            ("[::1]:8093", "127.0.0.1:8093", true),
            ("127.0.0.1:80", "localhost", true),
            ("127.0.0.1:8093", "localhost", false),
            ("127.0.0.1:8093", "localhost:8094", false),
            ("127.0.0.1:8093", "attacker.example:8093", false),
            ("127.0.0.1:8093", "localhost.attacker.example:8093", false),
            ("127.0.0.1:8093", "127.0.0.1.attacker.example:8093", false),
            ("127.0.0.1:8093", "192.168.1.5:8093", false),
            ("127.0.0.1:8093", "[::1]8093", false),
            ("127.0.0.1:8093", "", false),
            ("127.0.0.1:8093", ":8093", false),
            ("192.168.1.5:8093", "192.168.1.5:8093", true),
            ("192.168.1.5:8093", "localhost:8093", false),
            ("192.168.1.5:8093", "workshop.example:8093", false),
            ("0.0.0.0:8093", "192.168.1.5:8093", true),
            ("0.0.0.0:8093", "localhost:8093", true),
            ("0.0.0.0:8093", "attacker.example:8093", false),
        ];
        for (address, host, right) in cases {
            assert_eq!(served(address).is_named(host), right, "{host} at {address}");
        }
    }
}
