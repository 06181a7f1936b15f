//! The bench, as the server shows it.

use std::collections::HashSet;

use crate::common::{Site, trial_form};

/// Where the link or button of this key leads.
fn link(page: &str, key: &str) -> Option<String> {
    let (before, _) =
        page.split_once(&format!("\" data-key=\"{key}\" data-key-label=\"Next swatch"))?;
    before.rsplit_once("href=\"").map(|(_, href)| href.to_owned())
}

#[tokio::test]
async fn next_leads_through_every_swatch_in_the_order_of_work() {
    let site = Site::with_trial().await;
    let mut here = site.get("/trials/1/bench").await.location.expect("a first swatch");
    let (mut seen, mut verbs) = (HashSet::new(), Vec::new());
    loop {
        assert!(seen.insert(here.clone()), "{here} comes twice");
        let page = site.get(&here).await.text;
        for verb in ["Mix, on place", "Tint, on place"] {
            if page.contains(verb) {
                verbs.push(verb);
            }
        }
        match link(&page, "n") {
            Some(next) => here = next,
            None => break,
        }
    }
    assert_eq!(seen.len(), 48);
    // Each mixture is mixed before it is tinted: 6 of them and 12 tints, 15 tints of tubes alone.
    assert_eq!(verbs.iter().filter(|verb| verb.starts_with("Mix")).count(), 6);
    assert_eq!(verbs.len(), 6 + 12 + 15);
}

#[tokio::test]
async fn a_reading_is_judged_at_once() {
    let site = Site::with_trial().await;
    // What one trial read of the tubes tells the next what to expect.
    site.post("/trials/1/bench/rest", "").await;
    let again =
        site.post("/trials", &trial_form(&[("name", "Again"), ("steps", "quarters")])).await;
    assert_eq!(again.location.as_deref(), Some("/trials/2/plan"));
    let before = site.get("/trials/2/bench/31").await.text;
    assert!(before.contains("predicted") && !before.contains("at-once"));
    site.post("/trials/2/bench/31/read", "state=dry").await;
    let fine = site.get("/trials/2/bench/31").await.text;
    assert!(fine.contains("As expected: ΔE"));
    // Another colour altogether: the cell beside it, or nothing that can be named surely.
    site.post("/trials/2/bench/32/type", "l=50&a=60&b=40&state=dry").await;
    let wrong = site.get("/trials/2/bench/32").await.text;
    assert!(wrong.contains("is-wrong") && wrong.contains("Not what this mixture should be"));
}
