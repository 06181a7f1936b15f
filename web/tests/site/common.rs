//! A site in memory, asked without a socket.

use axum::Router;
use axum::body::{Body, to_bytes};
use axum::http::header::{CONTENT_DISPOSITION, CONTENT_TYPE, LOCATION};
use axum::http::{HeaderName, Request, StatusCode};
use instruments::Meter;
use instruments::simulated::{MixingTable, SimulatedMeter};
use store::Store;
use tower::ServiceExt as _;
use web::router;
use workshop::Workshop;

/// The planner's fields for two blues against a yellow, some of them changed.
pub fn trial_form(changed: &[(&str, &str)]) -> String {
    let usual = [
        ("name", "Two blues for the roof"),
        ("tested", "Canopy Ultramarine"),
        ("tested", "Ultramarine Blue"),
        ("reference", "Lantern Yellow"),
        ("white", "Workshop Titanium"),
        ("star", "on"),
        ("tints", "all"),
        ("steps", "quarters"),
        ("whites_mixed", "1, 4"),
        ("opacity", "on"),
        ("least_pile", "4"),
        ("sheen", "satin"),
    ];
    let kept = usual.iter().filter(|(field, _)| changed.iter().all(|(other, _)| other != field));
    form(&kept.chain(changed).copied().collect::<Vec<_>>())
}

/// Fields as a browser sends them.
pub fn form(fields: &[(&str, &str)]) -> String {
    let text = |(field, value): &(&str, &str)| {
        let value: String = value.bytes().map(|byte| format!("%{byte:02x}")).collect();
        format!("{field}={value}")
    };
    fields.iter().map(text).collect::<Vec<_>>().join("&")
}

/// What a browser would send of a page's form as it stands: text fields, ticked boxes, chosen options.
pub fn fields(page: &str) -> Vec<(String, String)> {
    let attribute = |tag: &str, name: &str| {
        let (_, rest) = tag.split_once(&format!(" {name}=\""))?;
        rest.split_once('"').map(|(value, _)| plain(value))
    };
    let mut fields = Vec::new();
    let mut list = String::new();
    for (tag, text) in page.split('<').filter_map(|piece| piece.split_once('>')) {
        let (name, value) = (attribute(tag, "name"), attribute(tag, "value"));
        if tag.starts_with("select") {
            list = name.unwrap_or_default();
        } else if tag.starts_with("option") && tag.contains(" selected") {
            fields.push((list.clone(), value.unwrap_or_else(|| plain(text))));
        } else if let (true, Some(name)) = (tag.starts_with("input"), name) {
            let switch = tag.contains("type=\"checkbox\"") || tag.contains("type=\"radio\"");
            if !switch || tag.contains(" checked") {
                fields.push((name, value.unwrap_or_default()));
            }
        }
    }
    fields
}

fn plain(text: &str) -> String {
    text.replace("&#38;", "&").replace("&#39;", "'").replace("&#34;", "\"")
}

/// The whole application over an empty workshop.
pub struct Site(Router);

/// What came back.
pub struct Answer {
    pub status: StatusCode,
    pub location: Option<String>,
    pub disposition: Option<String>,
    pub text: String,
    pub bytes: Vec<u8>,
}

impl Site {
    /// A shelf of two blues, a yellow and a white (tubes 1 to 4), and a planned trial of them.
    pub async fn with_trial() -> Self {
        Self::with_meter(SimulatedMeter::new(1, MixingTable::default())).await
    }

    /// The same, read with another meter.
    pub async fn with_meter(meter: impl Meter + 'static) -> Self {
        let store = Store::in_memory().await.expect("open");
        Self::over(Workshop::new(store).with_meter(meter)).await
    }

    /// Whatever is in the records already.
    pub fn open(app: Workshop) -> Self {
        Self(router(app))
    }

    /// The same over any records and devices.
    pub async fn over(app: Workshop) -> Self {
        let site = Self::open(app);
        for (maker, name, codes) in [
            ("Tidewell", "Canopy Ultramarine", "PB29"),
            ("Nettlebed", "Ultramarine Blue", "PB29"),
            ("Tidewell", "Lantern Yellow", "PY74"),
            ("Tidewell", "Workshop Titanium", "PW6"),
        ] {
            let form =
                format!("name={name}&maker={maker}&codes={codes}&grade=artist&medium=acrylic");
            let added = site.post("/shelf", &form.replace(' ', "+")).await;
            assert_eq!(added.status, StatusCode::SEE_OTHER);
        }
        let planned = site.post("/trials", &trial_form(&[])).await;
        assert_eq!(planned.location.as_deref(), Some("/trials/1/plan"));
        site
    }

    /// Says that a cell was mixed as planned and laid.
    pub async fn lay(&self, trial: u32, cell: u32) {
        let laid = self.post(&format!("/trials/{trial}/bench/{cell}/lay"), "").await;
        assert_eq!(laid.status, StatusCode::SEE_OTHER, "{}", laid.text);
    }

    pub async fn get(&self, path: &str) -> Answer {
        self.ask(Request::get(path).body(Body::empty()).expect("a request")).await
    }

    pub async fn post(&self, path: &str, form: &str) -> Answer {
        let request = Request::post(path)
            .header(CONTENT_TYPE, "application/x-www-form-urlencoded")
            .body(Body::from(form.to_owned()));
        self.ask(request.expect("a request")).await
    }

    pub async fn upload(&self, name: &str, file_name: &str, file: &[u8]) -> Answer {
        self.upload_to("/trials/import", name, file_name, file).await
    }

    pub async fn upload_to(&self, path: &str, name: &str, file_name: &str, file: &[u8]) -> Answer {
        self.send(path, &[("name", name)], (file_name, file)).await
    }

    /// Fields and a file, as a browser sends them.
    pub async fn send(
        &self,
        path: &str,
        fields: &[(&str, &str)],
        (file_name, file): (&str, &[u8]),
    ) -> Answer {
        let mut body = Vec::new();
        for (name, value) in fields {
            let field = format!(
                "--cut\r\nContent-Disposition: form-data; name=\"{name}\"\r\n\r\n{value}\r\n"
            );
            body.extend(field.into_bytes());
        }
        let head = format!(
            "--cut\r\nContent-Disposition: form-data; name=\"file\"; filename=\"{file_name}\"\r\n\r\n"
        );
        body.extend(head.into_bytes());
        body.extend_from_slice(file);
        body.extend_from_slice(b"\r\n--cut--\r\n");
        let request = Request::post(path)
            .header(CONTENT_TYPE, "multipart/form-data; boundary=cut")
            .body(Body::from(body));
        self.ask(request.expect("a request")).await
    }

    async fn ask(&self, request: Request<Body>) -> Answer {
        let answer = self.0.clone().oneshot(request).await.expect("answers");
        let header = |name: HeaderName| {
            answer.headers().get(name).map(|value| value.to_str().expect("text").to_owned())
        };
        let (location, disposition) = (header(LOCATION), header(CONTENT_DISPOSITION));
        let status = answer.status();
        let bytes = to_bytes(answer.into_body(), usize::MAX).await.expect("a body");
        let text = String::from_utf8_lossy(&bytes).into_owned();
        Answer { status, location, disposition, text, bytes: bytes.to_vec() }
    }
}
