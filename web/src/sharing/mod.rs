//! Who may ask when the workshop is shared on a network: this machine, and phones that were paired with it.
//!
//! 1. `pairing`: a short code, good for ten minutes and one phone; five wrong ones lock the address they come from.
//! 2. `sessions`: phones that were paired, kept for ninety days or until they are turned away.
//! 3. [`only_known`]: everything but the pairing page is for these alone, and what is under way ends with them.
//! 4. `places`: connections at once, so that nobody takes those of somebody else.

mod pairing;
mod places;
mod sessions;

use std::net::{IpAddr, SocketAddr, UdpSocket};
use std::sync::Arc;

use axum::Extension;
use axum::body::Body;
use axum::extract::{ConnectInfo, Request};
use axum::http::header::CONTENT_TYPE;
use axum::http::{Method, StatusCode};
use axum::middleware::Next;
use axum::response::{IntoResponse, Redirect, Response};
use futures_util::StreamExt as _;
pub(crate) use pairing::{LENGTH as CODE_LENGTH, Pairing};
pub(crate) use places::Places;
pub(crate) use sessions::{KnownPhones, Phone};
use tokio::sync::broadcast;
use tower_sessions::Session;

/// The workshop is shared on a network.
#[derive(Debug, Clone)]
pub struct Sharing {
    /// Where a phone finds it.
    pub(crate) address: SocketAddr,
    pub(crate) pairing: Arc<Pairing>,
    /// Connections at once.
    pub(crate) places: Arc<Places>,
    /// Keys of phones that are turned away, said to whatever is under way for them.
    turned_away: broadcast::Sender<String>,
}

/// A listener that is slower than so many phones takes itself for turned away.
const TURNED_AWAY: usize = 64;

/// What an answer that goes on is.
const EVENT_STREAM: &str = "text/event-stream";

/// Under which a session keeps the phone.
pub(crate) const PHONE: &str = "phone";

impl Sharing {
    /// At the address that this machine has on its network, as far as it has one.
    #[must_use]
    pub fn at(listening: SocketAddr) -> Self {
        let ip = if listening.ip().is_unspecified() { own_address() } else { listening.ip() };
        Self {
            address: SocketAddr::new(ip, listening.port()),
            pairing: Arc::default(),
            places: Arc::default(),
            turned_away: broadcast::Sender::new(TURNED_AWAY),
        }
    }

    /// Ends what is under way for a phone that is known no more.
    pub(crate) fn turn_away(&self, key: &str) {
        // Nobody listens where nothing is under way.
        let _ = self.turned_away.send(key.to_owned());
    }

    /// The answer to a phone, whose body ends when the phone is turned away.
    fn until_turned_away(&self, key: String, answer: Response) -> Response {
        let mut said = self.turned_away.subscribe();
        let ended = async move { while said.recv().await.is_ok_and(|other| other != key) {} };
        answer.map(|body| Body::from_stream(body.into_data_stream().take_until(Box::pin(ended))))
    }

    /// Where a phone finds the pairing page.
    #[must_use]
    pub fn pairing_page(&self) -> String {
        format!("http://{}/pair", self.address)
    }
}

/// The address by which this machine would reach others: asked of the system, and nothing is sent.
#[must_use]
pub fn own_address() -> IpAddr {
    // An address for documentation (RFC 5737), which nobody has.
    let asked = UdpSocket::bind("0.0.0.0:0").and_then(|socket| {
        socket.connect("192.0.2.1:9")?;
        socket.local_addr()
    });
    asked.map_or(IpAddr::from([127, 0, 0, 1]), |address| address.ip())
}

/// True for a request from this very machine.
pub(crate) fn is_from_here(request: &Request) -> bool {
    let peer = request.extensions().get::<ConnectInfo<SocketAddr>>();
    peer.is_some_and(|ConnectInfo(peer)| peer.ip().to_canonical().is_loopback())
}

/// Lets this machine and known phones in; everybody else sees the pairing page alone.
pub(crate) async fn only_known(
    Extension(sharing): Extension<Sharing>,
    session: Session,
    request: Request,
    next: Next,
) -> Response {
    let path = request.uri().path();
    let open = path == "/pair" || path == "/favicon.svg" || path.starts_with("/assets/");
    if open || is_from_here(&request) {
        return next.run(request).await;
    }
    let is_get = request.method() == Method::GET;
    // Phones are let in and turned away at the computer itself.
    let at_the_computer = path == "/phones" || path.starts_with("/phones/");
    match session.get::<Phone>(PHONE).await {
        Ok(Some(_)) if at_the_computer && is_get => Redirect::to("/").into_response(),
        Ok(Some(_)) if at_the_computer => {
            let why = "Phones are let in and turned away at the computer itself.\n";
            (StatusCode::FORBIDDEN, why).into_response()
        }
        Ok(Some(_)) => {
            if let Some(ConnectInfo(peer)) = request.extensions().get::<ConnectInfo<SocketAddr>>() {
                sharing.places.know(peer.ip());
            }
            let key = session.id().map(|id| workshop::session_key(&id.to_string()));
            let answer = next.run(request).await;
            let is_stream = answer.headers().get(CONTENT_TYPE).is_some_and(|it| it == EVENT_STREAM);
            match key {
                Some(key) if is_stream => sharing.until_turned_away(key, answer),
                _ => answer,
            }
        }
        _ if is_get => Redirect::to("/pair").into_response(),
        _ => {
            (StatusCode::FORBIDDEN, "This phone is not paired with the workshop.\n").into_response()
        }
    }
}
