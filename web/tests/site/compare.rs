//! Tubes of the shelf beside each other.

use axum::http::StatusCode;
use serde_json::Value;

use crate::common::{Site, form, trial_form};

/// Two blues, a yellow and a white, read; a tube of oil colour (5) and one that nobody has read (6).
async fn read() -> Site {
    let site = Site::with_trial().await;
    site.post("/trials/1/bench/rest", "").await;
    for (name, codes, medium) in [("Roof Red", "PR254", "oil"), ("Carriage Green", "", "acrylic")] {
        let added = form(&[
            ("name", name),
            ("codes", codes),
            ("medium", medium),
            ("grade", "artist"),
            ("maker", "Nettlebed"),
        ]);
        assert_eq!(site.post("/shelf", &added).await.status, StatusCode::SEE_OTHER);
    }
    site
}

fn json(text: &str) -> Value {
    serde_json::from_str(text).expect("JSON")
}

#[tokio::test]
async fn two_blues_stand_beside_each_other_with_one_sentence() {
    let site = read().await;
    let choose = site.get("/compare").await.text;
    assert!(choose.contains("All PB29 (2)") && choose.contains("Look-alikes on the shelf"));
    assert!(choose.contains("2 of the shelf were never read or seen"), "{choose}");
    let only = site.get("/compare?code=PY74").await.text;
    assert_eq!(only.matches("name=\"tube\"").count(), 1);

    let page = site.get("/compare?tube=1&tube=2").await.text;
    let found = json(&site.get("/compare/pairs.json?tube=1&tube=2").await.text);
    let pair = &found["pairs"][0];
    let parts = pair["use"].as_f64().expect("a use");
    // Nettlebed's holds 69 % of the pigment of Tidewell's.
    assert!((parts.ln() - (1.0_f64 / 0.69).ln()).abs() < 0.08, "{parts}");
    // The file rounds to a thousandth, the page to a hundredth.
    let said = |off: f64| {
        let parts = parts + off;
        page.contains(&format!(
            "one part of Canopy Ultramarine does what {parts:.2} parts of Ultramarine Blue do"
        ))
    };
    assert!(said(0.0005) || said(-0.0005), "{parts} in {page}");
    // The rack: two tubes at mass tone, five depths and over black; both plots hold them without the last.
    assert_eq!(page.matches("<svg class=\"rack\"").count(), 1);
    assert_eq!(page.matches("class=\"paths-dot\"").count(), 2 * 2 * 6);
    assert!(
        page.contains("aria-label=\"Canopy Ultramarine, Ultramarine Blue, in the a*b* plane\"")
    );
    assert!(page.contains("readings by a simulated device") && !page.contains("style="));
    let by_parts = site.get("/compare?tube=1&tube=2&rack=parts").await.text;
    assert!(by_parts.contains("1 : 16") && !page.contains("1 : 16"));
    // At equal depth both are equally light; at equal parts they are not.
    let steps = |tube: usize, list: &str, at: usize| {
        found["tubes"][tube][list][at]["lab"][0].as_f64().expect("L*")
    };
    assert!((steps(0, "at_equal_depth", 2) - steps(1, "at_equal_depth", 2)).abs() < 0.8);
    assert!((steps(0, "steps", 3) - steps(1, "steps", 3)).abs() > 2.0);

    // The other way about, and as a table for a spreadsheet.
    let turned = json(&site.get("/compare/pairs.json?tube=2&tube=1").await.text);
    let back = turned["pairs"][0]["use"].as_f64().expect("a use");
    assert!((parts * back - 1.0).abs() < 0.06, "{parts} and {back}");
    let csv = site.get("/compare/pairs.csv?tube=1&tube=2").await.text;
    let fields: Vec<&str> = csv.lines().nth(1).expect("a line").split(',').collect();
    assert_eq!(fields[2], pair["verdict"]);
    // What a simulated device made up says so there too.
    let head: Vec<&str> = csv.lines().next().expect("a head").split(',').collect();
    let at = head.iter().position(|name| *name == "simulated").expect("the column");
    assert_eq!(fields[at], "true");
    assert!((fields[3].parse::<f64>().expect("a use") - parts).abs() < 1e-9);
}

/// Prices decide what the work costs; a density nobody knows leaves a quarter, and currencies are never converted.
#[tokio::test]
async fn what_the_work_of_a_tube_costs() {
    let site = read().await;
    let priced = async |id: i64, name: &str, maker: &str, price: &str, density: &str| {
        let fields = [
            ("name", name),
            ("maker", maker),
            ("codes", "PB29"),
            ("medium", "acrylic"),
            ("grade", "artist"),
            ("volume_ml", "60"),
            ("price", price),
            ("density_g_ml", density),
        ];
        let changed = site.post(&format!("/shelf/{id}"), &form(&fields)).await;
        assert_eq!(changed.status, StatusCode::SEE_OTHER, "{}", changed.text);
    };
    priced(1, "Canopy Ultramarine", "Tidewell", "9.60 EUR", "1.3").await;
    priced(2, "Ultramarine Blue", "Nettlebed", "4.80 EUR", "1.3").await;
    let worth = async || {
        let found = json(&site.get("/compare/pairs.json?tube=1&tube=2").await.text);
        let of = |name: &str| found["tubes"][1][name].as_f64();
        (of("per_ml"), of("as_strong_as_1_ml"), of("as_strong_half_width"), of("use"))
    };
    let (per_ml, as_strong, known, parts) = worth().await;
    assert_eq!(per_ml, Some(0.08));
    let expected = 0.08 * parts.expect("a use");
    assert!((as_strong.expect("a cost") - expected).abs() < 0.001, "{as_strong:?}, {expected}");
    let page = site.get("/compare?tube=1&tube=2").await.text;
    assert!(
        page.contains("The cheapest for its work is Ultramarine Blue: its 60 ml do the work of")
    );
    priced(2, "Ultramarine Blue", "Nettlebed", "4.80 EUR", "").await;
    let (_, _, guessed, _) = worth().await;
    assert!(guessed > known, "{guessed:?} and {known:?}");
    assert!(site.get("/compare?tube=1&tube=2").await.text.contains("not known, ± 25 %"));
    priced(2, "Ultramarine Blue", "Nettlebed", "4.80 CHF", "1.3").await;
    assert_eq!(worth().await.1, None);
    assert!(site.get("/compare?tube=1&tube=2").await.text.contains("are not converted"));
    // A density that no paint has is refused at its field.
    let wrong = form(&[("name", "Ultramarine Blue"), ("density_g_ml", "13")]);
    let refused = site.post("/shelf/2", &wrong).await;
    assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(refused.text.contains("1 ml of paint weighs 0.5 to 5 g"), "{}", refused.text);
}

#[tokio::test]
async fn what_cannot_be_compared_is_said_and_planned_with_one_press() {
    let site = read().await;
    let many: String = (1..=2_000).map(|id| format!("tube={id}&")).collect();
    let cases = [
        ("/compare?tube=1&tube=1".to_owned(), StatusCode::OK, "the same tube twice"),
        ("/compare?tube=1".to_owned(), StatusCode::OK, "Compare which tubes?"),
        ("/compare?tube=1&tube=77".to_owned(), StatusCode::NOT_FOUND, "no such"),
        (format!("/compare?{many}"), StatusCode::UNPROCESSABLE_ENTITY, "2000 tubes are too many"),
        (
            "/compare?tube=1&tube=6".to_owned(),
            StatusCode::OK,
            "Nothing of Carriage Green has been read",
        ),
        ("/compare?tube=1&tube=5".to_owned(), StatusCode::OK, "one is acrylic and the other oil"),
        (
            "/compare?tube=1&tube=4".to_owned(),
            StatusCode::OK,
            "is the white that tints are made with",
        ),
        ("/compare?near=1".to_owned(), StatusCode::SEE_OTHER, ""),
        ("/compare?tube=x".to_owned(), StatusCode::BAD_REQUEST, ""),
        (
            "/compare/pairs.json?tube=1".to_owned(),
            StatusCode::CONFLICT,
            "comparing takes two tubes",
        ),
    ];
    for (address, status, words) in cases {
        let answer = site.get(&address).await;
        let shown: String = address.chars().take(40).collect();
        assert_eq!(answer.status, status, "{shown}: {}", answer.text);
        assert!(
            answer.text.to_lowercase().contains(&words.to_lowercase()),
            "{shown}: {}",
            answer.text
        );
    }
    let page = site.get("/compare?tube=1&tube=6").await.text;
    assert!(page.contains("Plan the missing swatches"));
    // Only the one that lacks them.
    let hidden = |id: i64| format!("<input type=\"hidden\" name=\"tube\" value=\"{id}\">");
    assert!(page.contains(&hidden(6)) && !page.contains(&hidden(1)), "{page}");
    let sent = form(&[("token", "abcdefghijklmnopqrst"), ("tube", "6")]);
    for _ in 0..2 {
        let planned = site.post("/compare/plan", &sent).await;
        assert_eq!(planned.location.as_deref(), Some("/trials/2/plan"), "{}", planned.text);
    }
    let plan = site.get("/trials/2/mixing").await.text;
    for words in ["Carriage Green", "1 : 4", "1 : 16"] {
        assert!(plan.contains(words), "{words} in {plan}");
    }
    // Read, and they can be compared.
    site.post("/trials/2/bench/rest", "").await;
    let pair = &json(&site.get("/compare/pairs.json?tube=1&tube=6").await.text)["pairs"][0];
    assert!(pair["distance"].as_f64().expect("a distance") > 2.0, "{pair}");
}

/// Every trial of a tube counts: what two trials read of one white is one rack, and what was read twice tells of change.
#[tokio::test]
async fn two_trials_are_brought_together() {
    let site = read().await;
    let again = trial_form(&[
        ("name", "The yellow and a blue, later"),
        ("tested", "Lantern Yellow"),
        ("reference", "Canopy Ultramarine"),
        ("opacity", "on"),
    ]);
    assert_eq!(site.post("/trials", &again).await.location.as_deref(), Some("/trials/2/plan"));
    site.post("/trials/2/bench/rest", "").await;
    let page = site.get("/compare?tube=2&tube=3").await.text;
    assert!(page.contains("2 trials · directly comparable"), "{page}");
    let page = site.get("/compare?tube=1&tube=3").await.text;
    assert!(page.contains("Read more than once"), "{page}");
    // What was mixed anew has an error in its parts: one square is left open by it.
    assert!(page.contains("none of 15 squares has changed visibly; for 1 of them"), "{page}");

    // A newer trial that holds a tube and has not read it yet hides nothing.
    let begun = trial_form(&[("name", "Begun"), ("tested", "Ultramarine Blue")]);
    assert_eq!(site.post("/trials", &begun).await.location.as_deref(), Some("/trials/3/plan"));
    let typed = site.post("/trials/3/bench/1/read", "").await;
    assert!(typed.status.is_redirection(), "{}", typed.text);
    let page = site.get("/compare?tube=1&tube=2").await.text;
    assert!(page.contains("one part of Canopy Ultramarine does what"), "{page}");
    assert_eq!(page.matches("class=\"paths-dot\"").count(), 2 * 2 * 6);

    // Planning a tube that is like one of the shelf says so before paint is spent.
    let planned = trial_form(&[("tested", "Ultramarine Blue"), ("reference", "Lantern Yellow")]);
    let cost = site.post("/trials/cost", &planned).await.text;
    assert!(
        cost.contains("You own a look-alike of Ultramarine Blue: Canopy Ultramarine"),
        "{cost}"
    );
    assert!(cost.contains("/compare?tube=2&#38;tube=1"), "{cost}");
    // Where both are in the plan, they are about to be compared.
    assert!(!site.post("/trials/cost", &trial_form(&[])).await.text.contains("look-alike"));
}

/// Tints with another white are predicted with this one, by the yellow that was read with both, and drawn with a
/// dotted edge; so is a step that only one of the tubes was read in.
#[tokio::test]
async fn another_white_and_other_parts_are_brought_over() {
    let site = read().await;
    for (name, codes) in [("Sky Blue", "PB29"), ("Zinc White", "PW4")] {
        let added =
            form(&[("name", name), ("codes", codes), ("grade", "artist"), ("medium", "acrylic")]);
        assert_eq!(site.post("/shelf", &added).await.status, StatusCode::SEE_OTHER);
    }
    let other_white = trial_form(&[
        ("name", "With zinc"),
        ("tested", "Sky Blue"),
        ("reference", "Lantern Yellow"),
        ("white", "Zinc White"),
    ]);
    assert_eq!(
        site.post("/trials", &other_white).await.location.as_deref(),
        Some("/trials/2/plan")
    );
    site.post("/trials/2/bench/rest", "").await;
    let page = site.get("/compare?tube=1&tube=7").await.text;
    assert!(page.contains("another white, by what both trials read of Lantern Yellow"), "{page}");
    // One of two tubes, at each of five depths, in the rack and on both plots.
    assert_eq!(page.matches("is-predicted").count(), 2 * 5, "{page}");
    let found = json(&site.get("/compare/pairs.json?tube=1&tube=7").await.text);
    let steps = found["tubes"][1]["steps"].as_array().expect("steps");
    let brought = steps.iter().filter(|step| step["brought_over"] == true).count();
    assert_eq!((steps.len(), brought), (6, 5), "{found}");

    let fewer = trial_form(&[
        ("name", "Fewer steps"),
        ("tested", "Carriage Green"),
        ("reference", "Lantern Yellow"),
        ("whites_alone", "1, 3, 9"),
    ]);
    assert_eq!(site.post("/trials", &fewer).await.location.as_deref(), Some("/trials/3/plan"));
    site.post("/trials/3/bench/rest", "").await;
    let page = site.get("/compare?tube=1&tube=6&rack=parts").await.text;
    assert!(page.contains("brought over") && page.contains("1 : 3"), "{page}");
    assert!(page.contains("class=\"predicted\""), "{page}");
}
