//! Phones: paired on the computer, let in by a code, and what a phone does at the table.

mod table;

use std::net::SocketAddr;
use std::time::Instant;

use askama::Template;
use askama_web::WebTemplate;
use axum::Extension;
use axum::extract::{ConnectInfo, Path, Query, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Redirect, Response};
use axum_extra::extract::Form;
use qrcode::{Color, EcLevel, QrCode};
use serde::Deserialize;
pub(crate) use table::{home, page, receive, take, verdict};
use time::{Duration, OffsetDateTime};
use tower_sessions::{Expiry, Session};
use workshop::{StoreError, Workshop};

use crate::error::PageError;
use crate::frame::{Frame, Room};
use crate::pages::fields::kept;
use crate::pages::readings::at_utc;
use crate::sharing::{CODE_LENGTH as LENGTH, KnownPhones, PHONE, Phone, Sharing};

/// A phone is known for so long.
const KNOWN_FOR: Duration = Duration::days(90);
/// Letters of a phone's name.
const LONGEST_NAME: usize = 40;

/// The phones, on the computer.
#[derive(Template, WebTemplate)]
#[template(path = "phones/page.html")]
pub(crate) struct PhonesPage {
    frame: Frame,
    address: String,
    /// `ABCD EF23`; empty where none is good now.
    code: String,
    minutes: u64,
    /// Dark modules of the QR code: x and y.
    modules: Vec<(usize, usize)>,
    side: usize,
    phones: Vec<(String, String, String)>,
}

/// How to let phones in.
#[derive(Template, WebTemplate)]
#[template(path = "phones/not_shared.html")]
pub(crate) struct NotSharedPage {
    frame: Frame,
}

pub(crate) async fn not_shared(State(app): State<Workshop>) -> Result<NotSharedPage, PageError> {
    Ok(NotSharedPage { frame: Frame::load(&app, Room::Elsewhere, None).await? })
}

pub(crate) async fn list(
    State(app): State<Workshop>,
    Extension(sharing): Extension<Sharing>,
) -> Result<PhonesPage, PageError> {
    let frame = Frame::load(&app, Room::Elsewhere, None).await?;
    let now = Instant::now();
    let address = sharing.pairing_page();
    let (code, left) = sharing.pairing.code(now).unwrap_or_default();
    let (modules, side) = match code.is_empty() {
        true => (Vec::new(), 0),
        false => qr(&format!("{address}?code={code}")),
    };
    let phones = KnownPhones(app.clone()).list().await?;
    let phones = phones
        .into_iter()
        .map(|(key, phone)| (key, phone.name, at_utc(bench::Time(phone.paired_at))));
    Ok(PhonesPage {
        frame,
        address,
        code: match code.split_at_checked(LENGTH / 2) {
            Some((first, last)) => format!("{first} {last}"),
            None => code,
        },
        minutes: left.as_secs().div_ceil(60),
        modules,
        side,
        phones: phones.collect(),
    })
}

fn qr(text: &str) -> (Vec<(usize, usize)>, usize) {
    // An address is far below what a QR code holds.
    let Ok(code) = QrCode::with_error_correction_level(text, EcLevel::M) else {
        return (Vec::new(), 0);
    };
    let (side, colours) = (code.width(), code.into_colors());
    let dark = colours.iter().enumerate().filter(|(_, colour)| **colour == Color::Dark);
    (dark.map(|(at, _)| (at % side, at / side)).collect(), side)
}

/// Makes a new code.
pub(crate) async fn begin(Extension(sharing): Extension<Sharing>) -> Redirect {
    sharing.pairing.begin(Instant::now());
    Redirect::to("/phones")
}

/// Turns a phone away.
pub(crate) async fn end(
    State(app): State<Workshop>,
    Extension(sharing): Extension<Sharing>,
    Path(key): Path<String>,
) -> Result<Redirect, PageError> {
    app.end_session(&key).await?;
    sharing.turn_away(&key);
    Ok(Redirect::to("/phones"))
}

/// What a phone sends to be let in.
#[derive(Debug, Default, Deserialize)]
pub(crate) struct PairForm {
    #[serde(default)]
    code: String,
    #[serde(default)]
    name: String,
}

/// The pairing page: all that an unknown phone sees.
#[derive(Template, WebTemplate)]
#[template(path = "phones/pair.html")]
pub(crate) struct PairPage {
    code: String,
    name: String,
    wrong: String,
}

pub(crate) async fn pair_form(Query(form): Query<PairForm>) -> PairPage {
    PairPage { code: kept(&form.code), name: kept(&form.name), wrong: String::new() }
}

/// Lets a phone in that knows the code.
pub(crate) async fn pair(
    Extension(sharing): Extension<Sharing>,
    ConnectInfo(peer): ConnectInfo<SocketAddr>,
    session: Session,
    Form(form): Form<PairForm>,
) -> Result<Response, PageError> {
    if let Err(wrong) = sharing.pairing.enter(&form.code, peer.ip(), Instant::now()) {
        let wrong = study::words::with_capital(&wrong.to_string()) + ".";
        let page = PairPage { code: String::new(), name: kept(&form.name), wrong };
        return Ok((StatusCode::UNPROCESSABLE_ENTITY, page).into_response());
    }
    let name: String = study::names::tidied(&form.name).chars().take(LONGEST_NAME).collect();
    let name = if name.is_empty() { "Phone".to_owned() } else { name };
    let now = OffsetDateTime::now_utc();
    let phone = Phone { name, paired_at: now.unix_timestamp() };
    let failed = |error: tower_sessions::session::Error| {
        PageError::from(StoreError::NotWritten(error.to_string()))
    };
    session.set_expiry(Some(Expiry::AtDateTime(now + KNOWN_FOR)));
    // A new cookie, whatever was sent along.
    session.cycle_id().await.map_err(failed)?;
    session.insert(PHONE, phone).await.map_err(failed)?;
    Ok(Redirect::to("/phone").into_response())
}
