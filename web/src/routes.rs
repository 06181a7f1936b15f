//! Every address on one line.

use axum::extract::DefaultBodyLimit;
use axum::http::header::{
    CONTENT_SECURITY_POLICY, REFERRER_POLICY, X_CONTENT_TYPE_OPTIONS, X_FRAME_OPTIONS,
};
use axum::http::{HeaderName, HeaderValue};
use axum::middleware::from_fn;
use axum::routing::{get, post};
use axum::{Extension, Router};
use tower_http::catch_panic::CatchPanicLayer;
use tower_http::csrf::CsrfLayer;
use tower_http::set_header::SetResponseHeaderLayer;
use tower_http::trace::TraceLayer;
use tower_sessions::SessionManagerLayer;
use tower_sessions::cookie::SameSite;
use workshop::Workshop;

use crate::pages::{
    bench, charts, compare, copy, decide, eye, import, palettes, phones, pictures, plan, planner,
    readings, results, shelf, words,
};
use crate::sharing::{KnownPhones, Sharing, only_known};
use crate::{assets, error, pages};

/// A form of this size holds 5,000 tubes. Files have limits of their own; see `pages::upload`.
const LARGEST_FORM: usize = 16_000_000;

const CONTENT_POLICY: &str = "default-src 'none'; script-src 'self'; style-src 'self'; \
    img-src 'self' data:; font-src 'self'; connect-src 'self'; form-action 'self'; \
    base-uri 'none'; frame-ancestors 'none'; object-src 'none'";

/// The pages of a workshop that is shared on a network, for those who may see them.
pub(crate) fn shared(state: Workshop, sharing: Sharing) -> Router {
    let phones = KnownPhones(state.clone());
    let cookies = SessionManagerLayer::new(phones)
        .with_name("phone")
        .with_secure(false)
        .with_same_site(SameSite::Lax)
        .with_always_save(false);
    let pages = Router::new()
        .route("/pair", get(phones::pair_form).post(phones::pair))
        .route("/phones", get(phones::list))
        .route("/phones/pair", post(phones::begin))
        .route("/phones/{phone}/end", post(phones::end))
        .with_state(state.clone());
    pages
        .layer(CsrfLayer::new())
        .layer(fixed(CONTENT_SECURITY_POLICY, CONTENT_POLICY))
        .layer(fixed(REFERRER_POLICY, "same-origin"))
        .merge(pages_of(state))
        .layer(from_fn(only_known))
        .layer(cookies)
        .layer(Extension(sharing))
}

/// The whole application, for this machine alone.
pub fn router(state: Workshop) -> Router {
    let phones = Router::new().route("/phones", get(phones::not_shared));
    let phones = phones.with_state(state.clone());
    phones.layer(fixed(CONTENT_SECURITY_POLICY, CONTENT_POLICY)).merge(pages_of(state))
}

fn pages_of(state: Workshop) -> Router {
    Router::new()
        .route("/", get(pages::home))
        .route("/shelf", get(shelf::list).post(shelf::add))
        .route("/shelf/new", get(shelf::new))
        .route("/shelf/fill", get(shelf::fill::page).post(shelf::fill::rows))
        .route("/shelf/fill/save", post(shelf::fill::save))
        .route("/shelf/quick", post(shelf::quick::add))
        .route("/shelf/shelf.csv", get(shelf::export))
        .route(
            "/shelf/import",
            get(shelf::import::form)
                .post(shelf::import::preview)
                .layer(DefaultBodyLimit::disable()),
        )
        .route("/shelf/import/confirm", post(shelf::import::confirm))
        .route("/shelf/{tube}", get(shelf::edit).post(shelf::change))
        .route("/shelf/{tube}/look", get(shelf::look::page).post(shelf::look::choose))
        .route("/palettes", get(palettes::list).post(palettes::add))
        .route("/palettes/new", get(palettes::new))
        .route("/palettes/check", post(palettes::check))
        .route("/palettes/{palette}", get(palettes::edit).post(palettes::change))
        .route("/palettes/{palette}/card", post(palettes::card))
        .route("/trials", get(plan::list).post(planner::start))
        .route("/trials/new", get(planner::new))
        .route("/trials/cost", post(planner::cost))
        .route("/trials/adjust", post(planner::adjust))
        .route("/trials/keep", post(planner::keep))
        .route("/trials/kept/{preset}/forget", post(planner::forget))
        .route(
            "/trials/import",
            get(import::form).post(import::take).layer(DefaultBodyLimit::disable()),
        )
        .route("/trials/{trial}/plan", get(plan::overview))
        .route("/trials/{trial}/put-away", post(plan::put_away))
        .route("/trials/{trial}/change", get(planner::edit).post(planner::change))
        .route("/trials/{trial}/mixing", get(plan::mixing))
        .route("/trials/{trial}/sheets", get(plan::sheets))
        .route("/trials/{trial}/sheets.pdf", get(plan::sheets_pdf))
        .route("/trials/{trial}/sheets/{sheet}", get(plan::sheet_file))
        .route("/trials/{trial}/bench", get(bench::next))
        .route("/trials/{trial}/bench/rest", post(bench::read_rest))
        .route("/trials/{trial}/bench/{number}", get(bench::swatch))
        .route("/trials/{trial}/bench/{number}/lay", post(bench::lay))
        .route("/trials/{trial}/bench/{number}/skip", post(bench::skip))
        .route("/trials/{trial}/bench/{number}/dry", post(bench::dry))
        .route("/trials/{trial}/bench/{number}/lift", post(bench::lift))
        .route("/trials/{trial}/bench/{number}/bar", post(bench::bar))
        .route("/trials/{trial}/bench/{number}/grain", post(bench::grain))
        .route("/trials/{trial}/bench/{number}/note", post(bench::note))
        .route("/trials/{trial}/bench/{number}/look", post(bench::look))
        .route("/trials/{trial}/bench/{number}/no-check-tile", post(bench::no_check_tile))
        .route("/trials/{trial}/bench/{number}/ratio", post(bench::ratio))
        .route("/trials/{trial}/bench/{number}/spoil", post(bench::spoil))
        .route("/trials/{trial}/bench/{number}/read", post(bench::read))
        .route("/trials/{trial}/bench/{number}/tile", post(bench::tile))
        .route("/trials/{trial}/bench/{number}/stop", post(bench::stop_waiting))
        .route("/trials/{trial}/bench/{number}/type", post(bench::type_in))
        .route("/trials/{trial}/undo", post(bench::undo))
        .route("/trials/{trial}/weigh", post(bench::weigh))
        .route("/trials/{trial}/devices", post(bench::devices::set))
        .route("/trials/{trial}/events", get(bench::events))
        .route("/trials/{trial}/readings", get(readings::list))
        .route(
            "/trials/{trial}/readings/import",
            get(readings::file::form).post(readings::file::take).layer(DefaultBodyLimit::disable()),
        )
        .route(
            "/trials/{trial}/pictures",
            get(pictures::list).post(pictures::receive).layer(DefaultBodyLimit::disable()),
        )
        .route("/trials/{trial}/pictures/drawn", post(pictures::draw))
        .route("/trials/{trial}/pictures/{picture}", get(pictures::page))
        .route("/trials/{trial}/pictures/{picture}/sheet.jpg", get(pictures::sheet))
        .route("/trials/{trial}/pictures/{picture}/take", post(pictures::take))
        .route("/trials/{trial}/pictures/{picture}/take-back", post(pictures::take_back))
        .route("/trials/{trial}/pictures/{picture}/delete", post(pictures::delete))
        .route("/trials/{trial}/pictures/{picture}/square/{number}", post(pictures::square))
        .route("/charts/new", get(charts::new))
        .route("/charts", post(charts::receive).layer(DefaultBodyLimit::disable()))
        .route("/charts/drawn", post(charts::draw))
        .route("/trials/{trial}/chart/{picture}", get(charts::page).post(charts::keep))
        .route("/trials/{trial}/chart/{picture}/picture.jpg", get(charts::picture))
        .route("/trials/{trial}/chart/{picture}/copy", post(charts::copy))
        .route("/phone", get(phones::home))
        .route(
            "/trials/{trial}/phone",
            get(phones::page).post(phones::receive).layer(DefaultBodyLimit::disable()),
        )
        .route("/trials/{trial}/phone/{picture}", get(phones::verdict))
        .route("/trials/{trial}/phone/{picture}/take", post(phones::take))
        .route("/trials/{trial}/readings/{reading}/void", post(readings::void))
        .route("/trials/{trial}/readings.csv", get(readings::csv))
        .route("/trials/{trial}/bench.csv", get(readings::log))
        .route("/trials/{trial}/readings.txt", get(readings::cgats))
        .route("/trials/{trial}/figures.json", get(results::json))
        .route("/trials/{trial}/results", get(results::page))
        .route("/trials/{trial}/results/tubes", get(results::tubes_alone))
        .route("/trials/{trial}/eye", get(eye::page))
        .route("/trials/{trial}/eye/depth", post(eye::depth))
        .route("/trials/{trial}/eye/compare", post(eye::compare))
        .route("/trials/{trial}/eye/warm", post(eye::settle_warm))
        .route("/trials/{trial}/results/pair/{pair}", get(results::pair))
        .route("/trials/{trial}/results/vivid", get(results::vivid))
        .route("/trials/{trial}/results/sheets", get(results::sheets))
        .route("/trials/{trial}/results/mixtures", get(results::mixtures_of_three))
        .route("/compare", get(compare::page))
        .route("/compare/pairs.csv", get(compare::csv))
        .route("/compare/pairs.json", get(compare::json))
        .route("/compare/plan", post(compare::plan_missing))
        .route("/decide", get(decide::keep))
        .route("/decide/stop", post(decide::stop))
        .route("/decide/again", post(decide::again))
        .route("/decide/recipe", get(decide::recipe))
        .route("/decide/recipe.json", get(decide::recipe_json))
        .route("/decide/mix", post(decide::correct::mix))
        .route("/decide/correct/{trial}", get(decide::correct::page))
        .route("/decide/correct/{trial}/beside", post(decide::correct::beside))
        .route("/decide/reach", get(decide::reach))
        .route("/decide/greys", get(decide::greys))
        .route("/decide/greys/ladder", post(decide::correct::ladder))
        .route("/words", get(words::page))
        .route("/copy", get(copy::page))
        .route("/copy/workshop.db", get(copy::save))
        .route("/favicon.svg", get(assets::favicon))
        .route("/assets/{*path}", get(assets::file))
        .fallback(error::no_such_page)
        .layer(from_fn(error::in_words))
        .layer(DefaultBodyLimit::max(LARGEST_FORM))
        .layer(CsrfLayer::new())
        .layer(fixed(CONTENT_SECURITY_POLICY, CONTENT_POLICY))
        .layer(fixed(X_CONTENT_TYPE_OPTIONS, "nosniff"))
        .layer(fixed(X_FRAME_OPTIONS, "DENY"))
        .layer(fixed(REFERRER_POLICY, "same-origin"))
        .layer(CatchPanicLayer::custom(error::panicked))
        .layer(TraceLayer::new_for_http())
        .with_state(state)
}

fn fixed(name: HeaderName, value: &'static str) -> SetResponseHeaderLayer<HeaderValue> {
    SetResponseHeaderLayer::if_not_present(name, HeaderValue::from_static(value))
}
