//! What a tube looks like to somebody without a meter.

use axum::http::StatusCode;

use crate::common::{Site, form};

/// What the buttons and links of a page would send.
fn choices(page: &str) -> Vec<String> {
    let buttons = page.split("name=\"look\" value=\"").skip(1);
    let links = page.split("/look?look=").skip(1);
    let value = |rest: &str| rest.split_once('"').expect("a value").0.replace('+', " ");
    let chips = |it: &String| !it.is_empty();
    buttons.map(value).filter(chips).chain(links.map(value)).collect()
}

#[tokio::test]
async fn a_look_is_two_presses_and_stays_until_it_is_forgotten() {
    let site = Site::with_trial().await;
    let first = site.get("/shelf/3/look").await;
    let nine = choices(&first.text);
    assert_eq!(nine.len(), 9);
    let nearer = site.get(&format!("/shelf/3/look?look={}", nine[8].replace(' ', "+"))).await;
    let nearest = choices(&nearer.text);
    assert_eq!(nearest.len(), 9);
    // The middle one is what was pressed.
    assert_eq!(nearest[4], nine[8]);
    let press = |look: &str, was: &str| form(&[("look", look), ("was", was)]);
    let stored = site.post("/shelf/3/look", &press(&nearest[3], "")).await;
    assert_eq!(stored.location.as_deref(), Some("/shelf/3/look"));
    let kept = site.get("/shelf/3/look").await.text;
    assert!(kept.contains("as it is drawn"), "{kept}");
    assert!(site.get("/shelf").await.text.contains("as you saw it"));
    // Another page that corrects the tube keeps it, and the file of the shelf has it.
    let typed = form(&[
        ("name", "Lantern Yellow"),
        ("codes", "PY74"),
        ("maker", "Tidewell"),
        ("notes", "warm"),
        ("grade", "artist"),
        ("medium", "acrylic"),
    ]);
    assert_eq!(site.post("/shelf/3", &typed).await.status, StatusCode::SEE_OTHER);
    let (mass_tone, tint) = nearest[3].split_once(',').expect("two colours");
    let file = site.get("/shelf/shelf.csv").await.text;
    assert!(file.contains(&format!("{mass_tone},{tint}")), "{file}");
    // The plan says whose colours it draws.
    let plan = site.get("/trials/1/plan").await.text;
    assert!(plan.contains("a typical PY74, as you saw it"), "{plan}");
    // A second press of the same is the same; one from a page that was opened before it is told what stands.
    let again = site.post("/shelf/3/look", &press(&nearest[3], "")).await;
    assert_eq!(again.status, StatusCode::SEE_OTHER);
    let stale = site.post("/shelf/3/look", &press(&nearest[0], "")).await;
    assert_eq!(stale.status, StatusCode::CONFLICT);
    assert!(stale.text.contains("Another page chose the look below"), "{}", stale.text);
    // What is no colour changes nothing.
    for wrong in ["one,two", "400 0 0,50 0 0", "50 0,50 0 0", "50 0 0", "NaN 0 0,50 0 0"] {
        let refused = site.post("/shelf/3/look", &press(wrong, &nearest[3])).await;
        assert_eq!(refused.status, StatusCode::UNPROCESSABLE_ENTITY, "{wrong}");
        assert!(refused.text.contains("nothing was changed"), "{wrong}");
    }
    assert!(site.get("/shelf/shelf.csv").await.text.contains(&format!("{mass_tone},{tint}")));
    site.post("/shelf/3/look", &press("", &nearest[3])).await;
    assert!(!site.get("/shelf/3/look").await.text.contains("as it is drawn"));
}

#[tokio::test]
async fn a_tube_without_a_code_has_a_colour_once_it_was_seen() {
    let site = Site::with_trial().await;
    let old = [("name", "Old green"), ("codes", ""), ("grade", "artist"), ("medium", "acrylic")];
    site.post("/shelf", &form(&old)).await;
    let families = choices(&site.get("/shelf/5/look").await.text);
    assert_eq!(families.len(), 9);
    let stored = site.post("/shelf/5/look", &form(&[("look", &families[3])])).await;
    assert_eq!(stored.status, StatusCode::SEE_OTHER);
    // Of an address that holds no colour the first nine are shown, with what was wrong.
    let asked = site.get("/shelf/5/look?look=one,two").await;
    assert!(asked.text.contains("no pair of colours"), "{}", asked.text);
    assert_eq!(choices(&asked.text).len(), 9 + 1);
    assert!(choices(&asked.text).contains(&families[0]));
}
