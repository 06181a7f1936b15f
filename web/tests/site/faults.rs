//! What goes wrong at a table: nothing is lost, nothing false is stored, and each is told in words.

use axum::http::StatusCode;
use colour::Reflectance;
use instruments::simulated::{MixingTable, SimulatedMeter};
use instruments::{DeviceError, Meter, RemoteMeter, RemoteScale, Specimen};
use mixing::Geometry;
use store::Store;
use workshop::Workshop;

use crate::common::{Site, form, trial_form};

/// A site over its own store, without any device.
async fn without_devices() -> (Site, Store) {
    let store = Store::in_memory().await.expect("open");
    (Site::over(Workshop::new(store.clone())).await, store)
}

const HEAD: &str = "tube,maker,code,with,parts,with_parts,white_parts,state,backing,repeat,L,a,b\n";

fn file(comments: &str, rows: &str) -> String {
    format!("# upright-swatch readings 1\n# white: Workshop Titanium\n{comments}{HEAD}{rows}")
}

#[tokio::test]
async fn without_a_meter_nothing_is_made_up_and_typing_and_files_are_offered() {
    let (site, store) = without_devices().await;
    site.lay(1, 7).await;
    let refused = site.post("/trials/1/bench/rest", "").await;
    assert_eq!(refused.status, StatusCode::CONFLICT);
    let read = site.post("/trials/1/bench/7/read", "state=dry").await;
    assert_eq!(read.status, StatusCode::CONFLICT);
    assert!(read.text.contains("no meter is connected, so nothing was read"), "{}", read.text);
    site.post("/trials/1/bench/7/dry", "").await;
    site.post("/trials/1/bench/7/type", "l=28&a=12&b=-38&state=dry").await;
    let bench = site.get("/trials/1/bench/7").await.text;
    assert!(bench.contains("Record what is typed <kbd>Enter"), "{bench}");
    assert!(bench.contains("From a file") && !bench.contains("Take a reading"));
    let pages = [
        "/shelf",
        "/trials",
        "/trials/new",
        "/trials/1/plan",
        "/trials/1/bench/7",
        "/trials/1/results",
        "/trials/1/readings",
        "/trials/1/readings.csv",
        "/trials/1/figures.json",
        "/copy",
        "/trials/1/bench.csv",
        "/palettes",
    ];
    for path in pages {
        let page = site.get(path).await;
        assert_eq!(page.status, StatusCode::OK, "{path}");
        assert!(!page.text.to_lowercase().contains("simulated"), "{path}");
        assert!(!page.text.contains("Read all that is left"), "{path}");
    }
    assert_eq!(store.trials().await.expect("list")[0].readings, 1);
}

#[tokio::test]
async fn what_a_simulated_device_made_up_says_so_for_ever() {
    let site = Site::with_trial().await;
    site.post("/trials/1/bench/rest", "").await;
    let csv = site.get("/trials/1/readings.csv").await.text;
    let rows: Vec<&str> = csv.lines().filter(|line| line.contains(",dry,")).collect();
    assert!(rows.len() > 100 && rows.iter().all(|row| row.contains(",meter,yes,")), "{}", rows[0]);
    assert!(
        site.get("/trials/1/results").await.text.contains("readings come from a simulated device")
    );
    // Also in a workshop without such a device, and once it is exported from there.
    let (friend, _) = without_devices().await;
    friend.upload("From a friend", "trial.csv", csv.as_bytes()).await;
    assert_eq!(friend.get("/trials/2/readings.csv").await.text, csv);
    assert!(friend.get("/trials/2/readings").await.text.contains("file, simulated"));
    assert!(friend.get("/trials/2/results").await.text.contains("simulated device"));
    // A meter that only calls itself simulated over its socket is one, too; the plugs are not its.
    let nobody = "127.0.0.1:9".parse().expect("an address");
    let store = Store::in_memory().await.expect("open");
    let app = Workshop::new(store).with_meter(RemoteMeter::at(nobody));
    let site = Site::over(app.with_scale(RemoteScale::at(nobody))).await;
    let plug = site.post("/trials/1/devices", "choice=meter-unplugged").await;
    assert_eq!(plug.status, StatusCode::BAD_REQUEST);
    assert_eq!(site.post("/trials/1/bench/rest", "").await.status, StatusCode::CONFLICT);
}

/// Every form that adds something, sent twice as a double press does.
#[tokio::test]
async fn a_form_that_is_pressed_twice_is_done_once() {
    let site = Site::with_trial().await;
    let token = async |path: &str| {
        let page = site.get(path).await.text;
        let (_, rest) = page.split_once("name=\"token\" value=\"").expect("a token");
        rest.split_once('"').expect("its end").0.to_owned()
    };
    let tube = |token: &str, name: &str| {
        form(&[("name", name), ("grade", "artist"), ("medium", "acrylic"), ("token", token)])
    };
    let of_shelf = token("/shelf/new").await;
    for name in ["Leaf Green", "Leaf Green", "Another Green"] {
        // The same page with something else typed is another tube.
        site.post("/shelf", &tube(&of_shelf, name)).await;
    }
    let shelf = site.get("/shelf").await.text;
    assert_eq!(shelf.matches("class=\"tube-name\">Leaf Green").count(), 1);
    assert_eq!(shelf.matches("class=\"tube-name\">Another Green").count(), 1);
    let planner = token("/trials/new").await;
    let planned = trial_form(&[("name", "Twice"), ("token", &planner)]);
    let first = site.post("/trials", &planned).await.location;
    assert_eq!(site.post("/trials", &planned).await.location, first);
    assert_eq!(site.get("/trials").await.text.matches(">Twice</a>").count(), 1);
    let palette = token("/palettes/new").await;
    let new = form(&[
        ("name", "Ours"),
        ("school", "free"),
        ("colour", "Lantern Yellow"),
        ("colour", "Canopy Ultramarine"),
        ("colour", "Ultramarine Blue"),
        ("token", &palette),
    ]);
    for _ in 0..2 {
        site.post("/palettes", &new).await;
    }
    assert!(site.get("/palettes").await.text.matches("Ours").count() <= 2);
    // Two tables let the simulated bench read what is left: nothing is read twice.
    let (one, other) =
        tokio::join!(site.post("/trials/1/bench/rest", ""), site.post("/trials/1/bench/rest", ""));
    let statuses = [one.status, other.status];
    assert!(statuses.contains(&StatusCode::SEE_OTHER), "{statuses:?}");
    let csv = site.get("/trials/1/readings.csv").await.text;
    let mut rows: Vec<&str> = csv.lines().filter(|line| line.contains(",dry,")).collect();
    assert_eq!(rows.len(), 48 * 3);
    rows.sort_unstable();
    rows.dedup();
    assert_eq!(rows.len(), 48 * 3);
}

/// A trial that cannot be read or worked out says so on its own pages; every other page is there.
#[tokio::test]
async fn a_trial_that_cannot_be_read_is_in_nobodys_way() {
    let folder = tempfile::tempdir().expect("a folder");
    let path = folder.path().join("workshop.db");
    let store = Store::open(&path).await.expect("open");
    let site = Site::over(Workshop::new(store)).await;
    let rows = "Canopy Ultramarine,Tidewell,PB29,,1,,4,dry,paper,1,60,1,-38\n";
    site.upload("Damaged", "a.csv", file("", rows).as_bytes()).await;
    site.upload("Sound", "b.csv", file("", rows).as_bytes()).await;
    // As a bad sector leaves it: no program of ours writes this.
    let url = format!("sqlite:{}", path.display());
    let damage = "INSERT INTO reading (trial_id, swatch_id, state, repeat, spectrum, instrument)
                  SELECT trial_id, id, 'dry', 9, '[1,2', 'file' FROM swatch WHERE trial_id = 2";
    let pool = sqlx::SqlitePool::connect(&url).await.expect("open");
    sqlx::raw_sql(damage).execute(&pool).await.expect("damaged");
    pool.close().await;
    for path in ["/trials/2/results", "/trials/2/bench", "/trials/2/readings"] {
        let page = site.get(path).await;
        assert_eq!(page.status, StatusCode::INTERNAL_SERVER_ERROR, "{path}");
        assert!(
            page.text.contains("the workshop file holds a spectrum that cannot be read"),
            "{path}"
        );
    }
    let everywhere = [
        "/shelf",
        "/palettes",
        "/palettes/new",
        "/trials",
        "/trials/new",
        "/trials/1/plan",
        "/trials/1/bench/7",
        "/trials/3/results",
    ];
    for path in everywhere {
        assert_eq!(site.get(path).await.status, StatusCode::OK, "{path}");
    }
    let away = site.post("/trials/2/put-away", "away=yes").await;
    assert_eq!(away.location.as_deref(), Some("/trials"));
    let list = site.get("/trials").await.text;
    assert!(list.contains("1 archived: kept, and left out"), "{list}");
    assert!(list.contains("Restore"));
    site.post("/trials/2/put-away", "away=no").await;
    assert!(!site.get("/trials").await.text.contains("archived:"));
}

#[tokio::test]
async fn a_file_of_a_coarse_scale_is_judged_as_uncertain() {
    let (site, _) = without_devices().await;
    let tints = |maker: &str, name: &str, dark: f64| -> String {
        let row = |(white, share): (u32, f64)| {
            let l = 95.0 - dark * share;
            format!(
                "{name},{maker},PB29,,1,,{white},dry,paper,1,{l},{},{}\n",
                9.0 * share,
                -45.0 * share
            )
        };
        [(0, 1.0), (1, 0.7), (2, 0.5), (4, 0.35), (8, 0.2), (16, 0.1)].map(row).concat()
    };
    let rows = "Workshop Titanium,Tidewell,PW6,,1,,,dry,paper,1,96,0,2\n".to_owned()
        + &tints("Tidewell", "Canopy Ultramarine", 65.0)
        + &tints("Nettlebed", "Ultramarine Blue", 50.0);
    for comments in
        ["# scale_g: 0.5\n", "# scale_g: 0.1\n# pile_g: 0.5\n", "# scale_g: 50\n# pile_g: 0.01\n"]
    {
        let taken = site.upload("Coarse", "coarse.csv", file(comments, &rows).as_bytes()).await;
        let results = taken.location.expect("stored");
        let page = site.get(&results).await;
        assert_eq!(page.status, StatusCode::OK, "{comments}");
        assert!(page.text.contains("too uncertain for an interval"), "{comments}");
        assert!(!page.text.contains("NaN") && !page.text.contains("−0.0"), "{comments}");
        for path in ["/shelf", "/palettes", "/trials/new", "/trials/1/bench/7"] {
            assert_eq!(site.get(path).await.status, StatusCode::OK, "{path} after {comments}");
        }
    }
}

#[tokio::test]
async fn a_file_that_was_read_otherwise_is_converted_or_refused() {
    let (site, store) = without_devices().await;
    let import = "/trials/1/readings/import";
    let row = "Canopy Ultramarine,Tidewell,PB29,,1,,,dry,paper,1,31,5,-36\n";
    let refused = [
        (
            "# observer: 2\n",
            "line 5: a CIELAB reading for the 2° observer cannot be turned into one for 10°",
        ),
        (
            "# basis: volume\n",
            "the file&#39;s parts are by volume, and this trial&#39;s parts are by weight",
        ),
        ("# sheen: matt\n", "the file&#39;s film is matt, and this trial&#39;s film is satin"),
    ];
    for (comment, said) in refused {
        let answer = site.upload_to(import, "", "m.csv", file(comment, row).as_bytes()).await;
        assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY, "{comment}");
        assert!(
            answer.text.contains(said) && answer.text.contains("nothing was stored"),
            "{}",
            answer.text
        );
    }
    let white = file("", row).replace("# white: Workshop Titanium", "# white: Snow")
        + "Snow,,PW6,,1,,,dry,paper,1,96,0,2\n";
    let answer = site.upload_to(import, "", "m.csv", white.as_bytes()).await;
    assert!(answer.text.contains("white is Snow, and this trial&#39;s white is Workshop Titanium"));
    assert_eq!(store.trials().await.expect("list")[0].readings, 0);

    // Another illuminant is adapted where it is used and exported, and kept as it was read; no meter was met
    // before, so the file's geometry is the trial's from now on.
    let a50 = file("# illuminant: D50\n# geometry: d:8 included\n", row);
    for (stored, there) in [(1, 0), (0, 1)] {
        let taken = site.upload_to(import, "", "m.csv", a50.as_bytes()).await;
        let list = format!("/trials/1/readings?stored={stored}&there={there}");
        assert_eq!(taken.location.as_deref(), Some(list.as_str()), "{}", taken.text);
    }
    let csv = site.get("/trials/1/readings.csv").await.text;
    assert!(
        csv.contains("# illuminant: D65\n") && csv.contains("# geometry: d:8 included\n"),
        "{csv}"
    );
    assert!(!csv.contains(",31,5,-36"), "{csv}");
    // What is exported is known again.
    let taken = site.upload_to(import, "", "m.csv", csv.as_bytes()).await;
    assert_eq!(
        taken.location.as_deref(),
        Some("/trials/1/readings?stored=0&there=1"),
        "{}",
        taken.text
    );
    let other = file("# geometry: 45:0\n", &row.replace(",31,", ",32,"));
    let answer = site.upload_to(import, "", "m.csv", other.as_bytes()).await;
    assert!(
        answer.text.contains("measures at 45:0, and this trial is read at d:8 included"),
        "{}",
        answer.text
    );
}

#[tokio::test]
async fn a_finished_bench_says_so_and_more_is_asked_for_as_such() {
    let site = Site::with_trial().await;
    site.post("/trials/1/bench/rest", "").await;
    let page = site.get("/trials/1/bench/7").await.text;
    for words in ["This trial is finished.", "To the results", "Read again <kbd>R"] {
        assert!(page.contains(words), "{words}");
    }
    assert!(!page.contains("Take a reading <kbd>"));
    let before = site.get("/trials/1/readings.csv").await.text;
    let stale = site.post("/trials/1/bench/7/read", "state=dry").await;
    assert_eq!(stale.status, StatusCode::CONFLICT);
    assert!(stale.text.contains("press “Read again” at its square"));
    assert_eq!(site.get("/trials/1/readings.csv").await.text, before);
    // A state that was chosen asks for a reading of it, and the page that offers it is not refused.
    let wet = site.get("/trials/1/bench/7?state=wet").await.text;
    assert!(wet.contains("name=\"again\" value=\"yes\"") && wet.contains("Take a reading <kbd>"));
    let read = site.post("/trials/1/bench/7/read", "state=wet&again=yes").await;
    assert_eq!(read.status, StatusCode::SEE_OTHER);
    let again = site.get("/trials/1/bench/7?again=yes").await.text;
    assert!(again.contains("Take a reading <kbd>R"));
    let more = site.post("/trials/1/bench/7/read", "state=dry&again=yes").await;
    assert_eq!(more.status, StatusCode::SEE_OTHER);
    assert_eq!(
        site.get("/trials/1/readings.csv").await.text.lines().count(),
        before.lines().count() + 2
    );
}

/// Eyes are an instrument: what they judged is there, though no colour was read.
#[tokio::test]
async fn a_trial_that_was_only_judged_by_eye_has_something_to_tell() {
    let (site, _) = without_devices().await;
    assert!(site.get("/trials/1/results").await.text.contains("Nothing to judge yet."));
    site.lay(1, 7).await;
    site.post("/trials/1/bench/7/bar", "choice=plain").await;
    site.post("/trials/1/bench/7/note", "word=streaky").await;
    let page = site.get("/trials/1/results").await.text;
    assert!(!page.contains("Nothing to judge yet"), "{page}");
    assert!(page.contains("<h1 class=\"finding\">1 square judged by eye.</h1>"), "{page}");
    assert!(page.contains("semi-transparent (the black bar by eye), streaky"), "{page}");
}

#[tokio::test]
async fn a_spectrum_that_no_paint_gives_is_told() {
    let (site, _) = without_devices().await;
    let bands: Vec<String> = (38..=73).map(|ten| format!("R{ten}0")).collect();
    let head = HEAD.replace("L,a,b\n", &bands.join(","));
    for factor in ["0", "1.2"] {
        let row = format!(
            "Canopy Ultramarine,Tidewell,PB29,,1,,,dry,paper,1{}",
            format!(",{factor}").repeat(36)
        );
        let text = format!("# upright-swatch readings 1\n{head}\n{row}\n");
        let page = site.upload("Capped", "m.csv", text.as_bytes()).await.location.expect("stored");
        let said = format!("every band of this spectrum is {factor}, which no paint gives");
        assert!(site.get(&page).await.text.contains(&said), "{factor}");
    }
}

#[tokio::test]
async fn awkward_names_and_files_are_answered_in_words() {
    let (site, _) = without_devices().await;
    let rows = "Canopy Ultramarine,Tidewell,PB29,,1,,4,dry,paper,1,60,1,-38\n";
    let good = file("", rows);
    // A file whose name is all ending still makes a trial with a name.
    for (name, file_name, called) in [
        ("", ".csv", "Readings from a file"),
        ("", "\u{202e}vsc.live", "vsc.live"),
        ("Mine", "a.csv", "Mine"),
    ] {
        let taken = site.upload(name, file_name, good.as_bytes()).await;
        let page = site.get(&taken.location.expect("stored")).await.text;
        assert!(page.contains(&format!("<p class=\"trial-name\">{called}</p>")), "{called}");
    }
    for (name, said) in [
        ("n".repeat(201), "a name of 201 letters; at most 200 are kept"),
        ("n".repeat(20_000), "a name has at most 200 letters"),
        ("a\u{202e}b".to_owned(), "letter 2 is one that is not seen"),
    ] {
        let refused = site.upload(&name, "a.csv", good.as_bytes()).await;
        assert!(refused.status.is_client_error(), "{said}");
        assert!(refused.text.contains(said), "{said}: {}", refused.text);
    }
    let long = "n".repeat(17_000_000);
    let refused = site.post("/shelf", &format!("name={long}&grade=artist&medium=acrylic")).await;
    assert_eq!(refused.status, StatusCode::PAYLOAD_TOO_LARGE);
    assert!(refused.text.contains("the form holds more than is taken at once"), "{}", refused.text);
    let large = site.upload("Large", "a.csv", &vec![b'x'; 65_000_000]).await;
    assert_eq!(large.status, StatusCode::PAYLOAD_TOO_LARGE);
    assert!(
        large.text.contains("the file has 65 MB, and at most 64 MB are read; nothing was stored")
    );
}

#[tokio::test]
async fn a_long_list_of_readings_comes_in_parts() {
    let (site, _) = without_devices().await;
    let row =
        |at: usize| format!("Canopy Ultramarine,Tidewell,PB29,,1,,4,dry,paper,{at},60,1,-38\n");
    let rows: String = (1..=450).map(row).collect();
    site.upload("Long", "a.csv", file("", &rows).as_bytes()).await;
    let mut found = 0;
    for (page, shown) in
        [(1, "1 to 200 of 450"), (2, "201 to 400 of 450"), (3, "401 to 450 of 450")]
    {
        let list = site.get(&format!("/trials/2/readings?page={page}")).await.text;
        assert!(list.contains(shown), "{shown}");
        found += list.matches("class=\"reading-state\"").count();
    }
    assert_eq!(found, 450);
}

/// The copy that the page saves is a whole workshop.
#[tokio::test]
async fn a_copy_is_saved_from_the_page() {
    let app = Workshop::new(Store::in_memory().await.expect("open"));
    let site = Site::over(app.with_meter(SimulatedMeter::new(1, MixingTable::default()))).await;
    assert!(site.get("/copy").await.text.contains("4 tubes, 1 trial and 0 readings"));
    let copy = site.get("/copy/workshop.db").await;
    assert_eq!(copy.status, StatusCode::OK);
    let name = copy.disposition.expect("a name");
    assert!(name.starts_with("attachment; filename=\"workshop-20") && name.ends_with(".db\""));
    let folder = tempfile::tempdir().expect("a folder");
    let path = folder.path().join("copy.db");
    std::fs::write(&path, copy.bytes).expect("written");
    assert_eq!(Store::open(&path).await.expect("a workshop").tube_count().await.expect("tubes"), 4);
}

/// A meter that reads at another angle than the trial's was begun with.
struct Turned(SimulatedMeter);

impl Meter for Turned {
    fn name(&self) -> &str {
        "another meter"
    }
    fn simulated(&self) -> bool {
        false
    }
    fn geometry(&self) -> Geometry {
        Geometry::FortyFive
    }
    fn repeatability(&self) -> f64 {
        0.05
    }
    fn read(&mut self, specimen: &Specimen) -> Result<Reflectance, DeviceError> {
        self.0.read(specimen)
    }
}

#[tokio::test]
async fn another_meter_than_the_trials_stops_with_a_question() {
    let store = Store::in_memory().await.expect("open");
    let simulated = || SimulatedMeter::new(1, MixingTable::default());
    let first = Site::over(Workshop::new(store.clone()).with_meter(simulated())).await;
    first.lay(1, 7).await;
    first.post("/trials/1/bench/7/read", "state=dry").await;
    let second = Site::open(Workshop::new(store).with_meter(Turned(simulated())));
    for (path, form) in [("read", "state=dry"), ("tile", "choice=white")] {
        let asked = second.post(&format!("/trials/1/bench/7/{path}"), form).await;
        assert_eq!(asked.status, StatusCode::CONFLICT, "{path}");
        for words in [
            "the meter measures at 45:0, and this trial is read at d:8 included",
            "plan a copy of the trial for this one?",
            "<a href=\"/trials/new?copy=1\">Plan a copy</a>",
        ] {
            assert!(asked.text.contains(words), "{words}: {}", asked.text);
        }
    }
    let csv = second.get("/trials/1/readings.csv").await.text;
    assert_eq!(csv.lines().filter(|line| line.contains(",dry,")).count(), 1);
}
