//! What protects every page, whatever it shows.

use axum::body::Body;
use axum::http::{Request, StatusCode};
use store::Store;
use tower::ServiceExt as _;
use web::router;
use workshop::Workshop;

async fn answer(request: Request<Body>) -> axum::response::Response {
    let store = Store::in_memory().await.expect("open");
    let app = Workshop::new(store);
    router(app).oneshot(request).await.expect("answers")
}

#[tokio::test]
async fn every_page_allows_only_its_own_scripts_and_frames_nowhere() {
    for path in ["/shelf", "/trials/new", "/no-such-page", "/favicon.svg"] {
        let request = Request::get(path).body(Body::empty()).expect("a request");
        let response = answer(request).await;
        let policy = response.headers()["content-security-policy"].to_str().expect("text");
        assert!(policy.starts_with("default-src 'none'; script-src 'self';"), "{path}");
        assert!(!policy.contains("unsafe"), "{path}");
        assert_eq!(response.headers()["x-content-type-options"], "nosniff", "{path}");
    }
}

#[tokio::test]
async fn another_site_cannot_post_here() {
    let request = Request::post("/shelf")
        .header("host", "127.0.0.1:8093")
        .header("origin", "http://elsewhere.example")
        .header("sec-fetch-site", "cross-site")
        .header("content-type", "application/x-www-form-urlencoded")
        .body(Body::from("name=Stolen"))
        .expect("a request");
    assert_eq!(answer(request).await.status(), StatusCode::FORBIDDEN);
}

#[tokio::test]
async fn what_is_not_there_is_said_and_nothing_breaks() {
    for (path, status) in [
        ("/no-such-page", StatusCode::NOT_FOUND),
        ("/shelf/99", StatusCode::NOT_FOUND),
        ("/trials/99/results", StatusCode::NOT_FOUND),
        ("/trials/99/readings.csv", StatusCode::NOT_FOUND),
        ("/trials/99/events", StatusCode::NOT_FOUND),
        ("/trials/x/results", StatusCode::NOT_FOUND),
        ("/compare?tube=x", StatusCode::BAD_REQUEST),
        ("/assets/../Cargo.toml", StatusCode::NOT_FOUND),
        ("/assets/own/app.css", StatusCode::OK),
    ] {
        let request = Request::get(path).body(Body::empty()).expect("a request");
        assert_eq!(answer(request).await.status(), status, "{path}");
    }
}
