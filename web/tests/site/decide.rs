//! Recipes, what to keep, what a palette reaches, its greys.

use axum::http::StatusCode;
use serde_json::Value;
use store::Store;
use workshop::Workshop;

use crate::common::{Site, form};

/// Two blues, a yellow and a white, read; and a green that nobody has read (5).
async fn read() -> Site {
    let site = Site::with_trial().await;
    site.post("/trials/1/bench/rest", "").await;
    let green = form(&[
        ("name", "Sap Green Hue"),
        ("codes", "PG7 PY83"),
        ("medium", "acrylic"),
        ("grade", "student"),
        ("maker", "Harrow & Pike"),
    ]);
    assert_eq!(site.post("/shelf", &green).await.status, StatusCode::SEE_OTHER);
    site
}

fn finding(page: &str) -> &str {
    let start = page.split("class=\"finding\">").nth(1).expect("a finding");
    start.split('<').next().expect("text")
}

fn notes(page: &str) -> String {
    page.split("decide-note\">").skip(1).filter_map(|it| it.split('<').next()).collect()
}

/// Keep or drop, once it is worked out.
async fn decided(site: &Site) -> String {
    for _ in 0..200 {
        let page = site.get("/decide").await.text;
        if page.contains("id=\"best\"") {
            return page;
        }
        tokio::time::sleep(std::time::Duration::from_millis(100)).await;
    }
    unreachable!("still at work")
}

/// Value of a hidden field of the first recipe's form.
fn hidden<'a>(page: &'a str, name: &str) -> Vec<&'a str> {
    let form = page.split("action=\"/decide/mix\"").nth(1).expect("a form");
    let form = form.split("</form>").next().expect("its end");
    let of = format!("name=\"{name}\" value=\"");
    form.split(&of).skip(1).map(|rest| rest.split('"').next().expect("a value")).collect()
}

/// What a press on the first recipe sends.
fn first_recipe(page: &str) -> String {
    let (tubes, parts) = (hidden(page, "tube"), hidden(page, "parts"));
    let mut fields: Vec<(&str, &str)> = tubes.iter().map(|it| ("tube", *it)).collect();
    fields.extend(parts.iter().map(|it| ("parts", *it)));
    let aim = hidden(page, "aim")[0].replace("&#38;", "&");
    fields.extend([("white", hidden(page, "white")[0]), ("aim", &aim)]);
    fields.push(("token", hidden(page, "token")[0]));
    form(&fields)
}

#[tokio::test]
async fn a_recipe_is_mixed_read_and_corrected() {
    let site = read().await;
    // An unread tube stands on a typical paint, says so, and offers the swatches that would narrow this down.
    let page = site.get("/decide/recipe?tube=5&from=shelf").await.text;
    assert!(page.contains("Sap Green Hue was not read: a typical paint of its pigments"), "{page}");
    // Nothing is bounded or confirmed by a paint that nobody read.
    let headline = finding(&page);
    assert!(headline.starts_with("As typical paints go, nearest to Sap Green Hue: "), "{headline}");
    assert!(page.contains(" from the typical paint") && !page.contains("when mixed<"), "{page}");
    let seen = "look=31.5+-12+14,66.1+-26.9+31.4";
    assert_eq!(site.post("/shelf/5/look", seen).await.status, StatusCode::SEE_OTHER);
    let page = site.get("/decide/recipe?tube=5&from=shelf").await.text;
    assert!(finding(&page).starts_with("As you saw it, nearest to"), "{}", finding(&page));
    assert!(page.contains("Plan the swatches that narrow this down") && !page.contains("style="));
    let planned = site.post("/compare/plan", "tube=5").await;
    assert_eq!(planned.status, StatusCode::SEE_OTHER);
    let rest = site.post("/trials/2/bench/rest", "").await;
    assert_eq!(rest.status, StatusCode::SEE_OTHER, "{}", rest.text);
    let page = site.get("/decide/recipe?tube=5&from=shelf").await.text;
    assert!(!page.contains("Hue was not read"), "{}", notes(&page));
    let found: Value =
        serde_json::from_str(&site.get("/decide/recipe.json?tube=5&from=shelf").await.text)
            .expect("JSON");
    assert_eq!(found["simulated"], true);
    let first = &found["recipes"][0];
    let names = first["tubes"].as_array().expect("tubes");
    assert!(names.iter().any(|it| it["tube"] == "Lantern Yellow"), "{first}");

    // One press makes a trial of one pile and its tint; what to add is told once it was read.
    let fields = first_recipe(&page);
    let mixed = site.post("/decide/mix", &fields).await;
    assert_eq!(mixed.location.as_deref(), Some("/trials/3/bench"), "{}", mixed.text);
    // The same page sent twice mixes once.
    site.post("/decide/mix", &fields).await;
    assert!(!site.get("/trials").await.text.contains("/trials/4/"));
    let before = site.get("/decide/correct/3").await.text;
    assert!(finding(&before).starts_with("Read the pile, or say how it looks"), "{before}");
    let by_eye = site.get("/decide/correct/3?seen=too+blue").await.text;
    assert!(by_eye.contains("A touch of Lantern Yellow"), "{by_eye}");
    site.post("/trials/3/bench/rest", "").await;
    let after = site.get("/decide/correct/3").await.text;
    let said = finding(&after);
    assert!(
        said.starts_with("Add ") || said.starts_with("It is there") || said.starts_with("Nothing"),
        "{said}"
    );
    assert!(after.contains("alone and") && after.contains("with white 1 : 4"), "{after}");
    assert!(site.get("/trials/3/results").await.text.contains("what to add"));
    // A pile that no recipe was made for has nothing to aim at.
    let none = site.get("/decide/correct/1").await;
    assert_eq!(none.status, StatusCode::CONFLICT, "{}", none.text);
}

#[tokio::test]
async fn what_cannot_be_mixed_is_said_in_words() {
    let site = read().await;
    for (query, said) in [
        ("lab=50,150,-150", "no surface has this colour"),
        ("lab=50,20", "is no colour: three numbers are"),
        ("lab=nan,0,0", "is no colour"),
        ("tube=1&lab=50,0,0", "leave the others empty"),
        ("swatch=1.2&lab=50,0,0", "leave the others empty"),
        ("lab=50;20,5;-10&from=99", "there is no such palette"),
        ("tube=1&most=9", "1 to 4 colours"),
        ("lab=50,0,0&light=C/2", "unknown illuminant"),
        ("lab=50,0,0&light=D65", "as in D65/10"),
        ("tube=99", "nothing was read of this tube"),
        ("swatch=1.x", "a square is named by its trial and its number"),
        ("swatch=1.9999", "this square was not read yet"),
        ("tube=3&take=3", "there is no other tube to mix it of"),
    ] {
        let answer = site.get(&format!("/decide/recipe?{query}")).await;
        assert_eq!(answer.status, StatusCode::UNPROCESSABLE_ENTITY, "{query}");
        assert!(answer.text.contains(said), "{query}: {}", answer.text);
    }
    // Far outside its reach, by how much and which way.
    let far = site.get("/decide/recipe?lab=45,-75,40&take=1&take=2&take=3").await.text;
    assert!(finding(&far).contains("cannot be mixed of these"), "{far}");
    assert!(far.contains("too dull"), "{far}");
    // A typed colour is told under its own light: the same three numbers are another paint by lamplight.
    let mut parts = Vec::new();
    for light in ["", "D65/10", "A/10"] {
        let query = format!("/decide/recipe?lab=60,20,10&light={light}&take=1&take=2&take=3");
        let page = site.get(&query).await;
        assert_eq!(page.status, StatusCode::OK, "{}", page.text);
        assert_eq!(
            page.text.contains("b* +10.0 (A/10°)"),
            light == "A/10",
            "{}",
            finding(&page.text)
        );
        parts.push(hidden(&page.text, "parts").join(" "));
    }
    assert!(parts[0] == parts[1] && parts[0] != parts[2], "{parts:?}");
    // A colour that was read is its own recipe's target.
    let square = site.get("/decide/recipe?swatch=1.10&from=shelf").await;
    assert_eq!(square.status, StatusCode::OK, "{}", square.text);
    for form in [
        "",
        "tube=1",
        "tube=1&parts=x",
        "tube=1&parts=-4",
        "tube=1&parts=1e99",
        "parts=1",
        "tube=1&parts=1",
        "tube=1&parts=1&aim=x%3D1",
    ] {
        let answer = site.post("/decide/mix", form).await;
        assert!(answer.status.is_client_error(), "{form}: {}", answer.status);
    }
}

#[tokio::test]
async fn the_shelf_in_the_order_of_what_would_be_lost() {
    let site = read().await;
    let page = decided(&site).await;
    // Three tubes were read: a yellow that nothing comes near stands first.
    let rows: Vec<&str> = page.split("<th scope=\"row\">").skip(1).collect();
    assert_eq!(rows.len(), 3, "{}", finding(&page));
    assert!(rows[0].contains("Lantern Yellow") && rows[0].contains("keep"), "{}", rows[0]);
    assert!(page.contains("Readings of a simulated device"), "{page}");
    // The weaker of the two blues is another colour alone.
    assert_eq!(finding(&page), "Every tube that was read does what no other can.");
    let best = site.get("/decide?best=3").await.text;
    assert!(best.contains("of what all of them reach"), "{best}");
    assert!(site.get("/decide?best=9999").await.status.is_success());
    // Stopped, it says so, and starts again.
    assert_eq!(site.post("/decide/again", "").await.status, StatusCode::SEE_OTHER);

    let reach = site.get("/decide/reach").await.text;
    assert!(finding(&reach).contains("has no clean"), "{}", finding(&reach));
    assert!(reach.contains("aria-label=\"The highest chroma of"), "{reach}");
    let greys = site.get("/decide/greys?palette=shelf").await.text;
    assert!(greys.contains("C*") && !greys.contains("style="), "{greys}");
}

/// Without a reading the eye decides: painted and held beside the tube, a mixture stands for it, until a meter says
/// otherwise.
#[tokio::test]
async fn a_tube_can_be_mixed_by_eye() {
    let site = Site::with_trial().await;
    site.post("/trials/1/bench/rest", "").await;
    let green = [("name", "Booth Green"), ("codes", "PB29 PY74 PW6"), ("maker", "Nettlebed")];
    let green = form(&[&green[..], &[("medium", "acrylic"), ("grade", "artist")]].concat());
    assert_eq!(site.post("/shelf", &green).await.status, StatusCode::SEE_OTHER);
    assert_eq!(site.post("/compare/plan", "tube=5").await.status, StatusCode::SEE_OTHER);
    site.post("/trials/2/bench/rest", "").await;
    let row = async || {
        let page = decided(&site).await;
        let start = page.find("Booth Green</span>").expect("its row");
        page[start..].split("</tr>").next().expect("its end").to_owned()
    };
    assert!(row().await.contains("try the mixture"), "{}", row().await);

    let page = site.get("/decide/recipe?tube=5&from=shelf").await.text;
    let mixed = site.post("/decide/mix", &first_recipe(&page)).await;
    assert_eq!(mixed.location.as_deref(), Some("/trials/3/bench"), "{}", mixed.text);
    let says = async |what: &str| {
        let form = form(&[("beside", what)]);
        site.post("/decide/correct/3/beside", &form).await.status
    };
    // What is not painted cannot be held beside anything.
    assert!(!site.get("/decide/correct/3").await.text.contains("I see no difference"));
    assert_eq!(says("the same as its target").await, StatusCode::CONFLICT);
    lay_all(&site, 3).await;
    assert!(site.get("/decide/correct/3").await.text.contains("I see no difference"));
    assert_eq!(says("alike").await, StatusCode::BAD_REQUEST);
    assert_eq!(says("the same as its target").await, StatusCode::SEE_OTHER);
    let page = site.get("/decide/correct/3").await.text;
    assert!(page.contains("Last answer, by eye: the same as its target"), "{page}");
    assert_eq!(finding(&page), "By eye it is there: no difference was seen.");
    let sure = row().await;
    assert!(
        sure.contains("can be mixed") && sure.contains("looks the same beside it, by eye"),
        "{sure}"
    );
    assert!(finding(&decided(&site).await).contains("Booth Green can be mixed, by eye"));
    assert!(site.get("/trials/3/bench.csv").await.text.contains("the same as its target"));
    // Said otherwise, or read by a meter, the eye's first word no longer counts.
    assert_eq!(says("not the same as its target").await, StatusCode::SEE_OTHER);
    assert!(row().await.contains("try the mixture"), "{}", row().await);
    assert_eq!(says("the same as its target").await, StatusCode::SEE_OTHER);
    site.post("/trials/3/bench/rest", "").await;
    assert!(!row().await.contains("by eye"), "{}", row().await);
}

/// Says that every cell of a trial was put out by eye and laid.
async fn lay_all(site: &Site, trial: u32) {
    let mut cell = 1;
    while site.get(&format!("/trials/{trial}/bench/{cell}")).await.status == StatusCode::OK {
        site.post(&format!("/trials/{trial}/bench/{cell}/lay"), "how=eye").await;
        cell += 1;
    }
}

/// Without a meter typical paints say what to try, and the eye decides.
#[tokio::test]
async fn nobody_needs_a_meter_to_keep_or_drop() {
    let site = Site::open(Workshop::new(Store::in_memory().await.expect("open")));
    for (name, codes) in [
        ("Awning Blue", "PB15:3"),
        ("Canvas Yellow Deep", "PY83"),
        ("Lantern Yellow", "PY74"),
        ("Sap Green Hue", "PG7 PY83"),
        ("Workshop Titanium", "PW6"),
    ] {
        let tube = [("name", name), ("codes", codes), ("maker", "Tidewell")];
        let tube = form(&[&tube[..], &[("medium", "acrylic"), ("grade", "artist")]].concat());
        assert_eq!(site.post("/shelf", &tube).await.status, StatusCode::SEE_OTHER);
    }
    assert!(site.get("/shelf").await.text.contains("href=\"/decide\""));
    let page = decided(&site).await;
    assert!(finding(&page).starts_with("As typical paints go"), "{}", finding(&page));
    assert!(page.contains("cannot tell yet") && !page.contains("<strong>keep</strong>"), "{page}");
    // What would narrow this down is planned by one press, here and for a whole palette.
    for page in [page, site.get("/decide/reach?palette=shelf").await.text] {
        assert!(page.contains("Plan the swatches that narrow this down"), "{page}");
    }
    let recipe = site.get("/decide/recipe?tube=4&from=shelf").await.text;
    let mixed = site.post("/decide/mix", &first_recipe(&recipe)).await;
    assert_eq!(mixed.location.as_deref(), Some("/trials/1/bench"), "{}", mixed.text);
    lay_all(&site, 1).await;
    let same = form(&[("beside", "the same as its target")]);
    let said = site.post("/decide/correct/1/beside", &same).await;
    assert_eq!(said.status, StatusCode::SEE_OTHER, "{}", said.text);
    let page = decided(&site).await;
    assert_eq!(
        finding(&page).matches("Sap Green Hue can be mixed, by eye").count(),
        1,
        "{}",
        finding(&page)
    );
}

/// Every reading that can be mixed for leads to its recipes, and a tube of the shelf does.
#[tokio::test]
async fn readings_and_tubes_lead_to_their_recipes() {
    let site = read().await;
    let page = site.get("/trials/1/readings").await.text;
    let links: Vec<&str> = page
        .split("href=\"/decide/recipe?swatch=")
        .skip(1)
        .filter_map(|it| it.split('"').next())
        .collect();
    assert!(links.len() > 20, "{links:?}");
    for link in links.iter().step_by(7) {
        let answer = site.get(&format!("/decide/recipe?swatch={link}&from=shelf")).await;
        assert_eq!(answer.status, StatusCode::OK, "{link}: {}", answer.text);
        assert!(answer.text.contains(&format!("value=\"{link}\"")), "{link}");
    }
    assert!(site.get("/shelf/5").await.text.contains("/decide/recipe?tube=5"));
}

/// Nothing was read and nothing is on the shelf: every page says what to do, and none fails.
#[tokio::test]
async fn an_empty_workshop_decides_nothing() {
    let store = Store::in_memory().await.expect("open");
    let site = Site::open(Workshop::new(store));
    for page in ["/decide", "/decide/recipe", "/decide/reach", "/decide/greys", "/decide?best=6"] {
        let answer = site.get(page).await;
        assert!(!answer.status.is_server_error(), "{page}: {}", answer.status);
        assert!(answer.text.contains("class=\"finding\""), "{page}: {}", answer.text);
    }
}
