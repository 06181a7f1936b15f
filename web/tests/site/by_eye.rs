//! A trial without any instrument: planned by a question, seen, compared, and told.

use axum::http::StatusCode;

use crate::common::{Site, fields, form};

/// A site whose tubes are of one medium, with the planner's fields of a question at a pace.
async fn planned(question: &str, pace: &str, changed: &[(&str, &str)]) -> (Site, String) {
    let site = Site::with_trial().await;
    let asked = fields(&site.get("/trials/new").await.text);
    let mut sent: Vec<(String, String)> = asked
        .into_iter()
        .filter(|(name, _)| {
            !["question", "pace", "tested", "reference", "white"].contains(&name.as_str())
        })
        .collect();
    for (name, value) in [("question", question), ("pace", pace), ("white", "Workshop Titanium")] {
        sent.push((name.into(), value.into()));
    }
    // Another question or pace brings its own choices.
    let adjusted = fields(&site.post("/trials/adjust", &encoded(&sent)).await.text);
    let own = ["question", "pace", "white", "palette", "token", "name"];
    sent.retain(|(name, _)| own.contains(&name.as_str()));
    sent.extend(adjusted);
    sent.retain(|(name, _)| changed.iter().all(|(other, _)| other != name));
    sent.extend(changed.iter().map(|(name, value)| ((*name).to_owned(), (*value).to_owned())));
    (site, encoded(&sent))
}

fn encoded(fields: &[(String, String)]) -> String {
    form(&fields.iter().map(|(name, value)| (name.as_str(), value.as_str())).collect::<Vec<_>>())
}

const BLUES: [(&str, &str); 3] = [
    ("tested", "Canopy Ultramarine"),
    ("tested", "Ultramarine Blue"),
    ("reference", "Lantern Yellow"),
];

/// Three choices are enough for a plan, and for its name; what is kept of a plan is a question of one’s own.
#[tokio::test]
async fn a_question_tubes_and_a_palette_are_a_plan() {
    let (site, sent) = planned("mixes", "eye", &BLUES).await;
    let page = site.get("/trials/new").await.text;
    assert!(
        page.contains("What do you want to know?")
            && !page.contains("<details class=\"adjust\" id=\"adjust-details\" open")
    );
    let plan = site.post("/trials", &sent).await;
    assert_eq!(plan.location.as_deref(), Some("/trials/2/plan"), "{}", plan.text);
    let plan = site.get("/trials/2/plan").await.text;
    assert!(plan.contains("Canopy Ultramarine and Ultramarine Blue in mixtures"), "{plan}");
    // Each pair at 4 : 1 and 1 : 4 with its tints; each blue with its tint; the white; no square of the yellow.
    assert!(plan.contains("13 swatches, judged by eye."), "{plan}");
    let mixing = site.get("/trials/2/mixing").await.text;
    assert!(mixing.contains("4 touches</b>") && !mixing.contains("0.0 ml"), "{mixing}");

    // Kept under a name, with a slip in between; then it is offered, chosen, and forgotten.
    let changed = [BLUES.as_slice(), &[("own_steps", "3:1, 1:1")]].concat();
    let (site, sent) = planned("cleanest", "eye", &changed).await;
    let nameless = site.post("/trials/keep", &sent).await;
    assert_eq!(nameless.status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(nameless.text.contains("give the plan a name") && nameless.text.contains("3:1, 1:1"));
    let kept =
        site.post("/trials/keep", &sent.replace("preset_name=", "preset_name=My+greens")).await;
    assert_eq!(kept.location.as_deref(), Some("/trials/new?question=own-1"));
    let offered = site.get("/trials/new?question=own-1").await.text;
    assert!(offered.contains("My greens") && offered.contains("value=\"3:1, 1:1\""));
    site.post("/trials/kept/1/forget", "").await;
    assert!(!site.get("/trials/new").await.text.contains("My greens"));
}

/// The trial follows the medium: water colour is thick and wash, and asks for no white; what covers asks for one.
#[tokio::test]
async fn the_medium_decides_between_water_and_white() {
    let (site, _) = planned("mixes", "eye", &[]).await;
    for (name, codes, medium) in [
        ("Wash Yellow", "PY150", "watercolour"),
        ("Wash Blue", "PB15:3", "watercolour"),
        ("Poster Yellow", "PY74", "gouache"),
        ("Poster Blue", "PB29", "gouache"),
    ] {
        let tube = [("name", name), ("codes", codes), ("grade", "artist"), ("medium", medium)];
        site.post("/shelf", &form(&tube)).await;
    }
    let asked = fields(&site.get("/trials/new").await.text);
    let cost = async |tested: &str, reference: &str, white: &str| {
        let mut sent = asked.clone();
        sent.retain(|(name, _)| {
            !["tested", "reference", "white", "steps", "own_steps", "anchors", "opacity"]
                .contains(&name.as_str())
        });
        let chosen = [
            ("tested", tested),
            ("reference", reference),
            ("white", white),
            ("steps", "own"),
            ("own_steps", "1:1"),
            ("whites_alone", "4"),
        ];
        sent.retain(|(name, _)| chosen.iter().all(|(other, _)| name != other));
        sent.extend(chosen.map(|(name, value)| (name.to_owned(), value.to_owned())));
        site.post("/trials/cost", &encoded(&sent)).await.text
    };
    // Thick and wash of two tubes and one mixture, and the bare paper; gouache has tints besides, and the white.
    let water = cost("Wash Blue", "Wash Yellow", "").await;
    assert!(water.contains("7 swatches on"), "{water}");
    let gouache = cost("Poster Blue", "Poster Yellow", "Workshop Titanium").await;
    assert!(gouache.contains("11 swatches on"), "{gouache}");
    let acrylic = cost("Canopy Ultramarine", "Lantern Yellow", "").await;
    assert!(
        acrylic.contains("tints need a white") || acrylic.contains("Tints need a white"),
        "{acrylic}"
    );
}

/// A grid is a matrix with its names along two sides; tempering is a row of its own.
#[tokio::test]
async fn grids_and_temperings_are_drawn_as_they_are_painted() {
    let four = ["Canopy Ultramarine", "Ultramarine Blue", "Lantern Yellow"]
        .map(|name| ("grid_tube", name));
    let chosen = [
        four.as_slice(),
        &[
            ("star", ""),
            ("grid", "half"),
            ("temper_a", "Canopy Ultramarine"),
            ("temper_b", "Lantern Yellow"),
            ("temper_third", "Ultramarine Blue"),
            ("temper_parts", "0, 0.08, 0.25"),
        ],
    ]
    .concat();
    let (site, sent) = planned("free", "eye", &chosen).await;
    let plan = site.post("/trials", &sent).await;
    assert_eq!(plan.location.as_deref(), Some("/trials/2/plan"), "{}", plan.text);
    let results = site.get("/trials/2/results").await.text;
    // Three pairs, and each tube along the middle.
    assert_eq!(results.matches("class=\"chart-cell\"").count(), 3 + 3);
    assert!(results.contains("with more and more Ultramarine Blue"), "{results}");
    assert!(results.contains("12.5 : 1") && results.contains("4 : 1"));
    let sheet = site.get("/trials/2/sheets/1.svg").await.text;
    assert!(sheet.matches(">Ultramarine Blue</text>").count() >= 2, "along two sides: {sheet}");
    let itself = [
        ("star", ""),
        ("temper_a", "Lantern Yellow"),
        ("temper_b", "Lantern Yellow"),
        ("temper_third", "Ultramarine Blue"),
    ];
    let (site, sent) = planned("free", "eye", &itself).await;
    let wrong = site.post("/trials/cost", &sent).await.text;
    assert!(
        wrong.contains("data-error-for=\"temper-0\">a tube cannot be mixed with itself"),
        "{wrong}"
    );
}

/// Who thinks in percent has them on the plan, the sheet, the mixing list, at the bench and in the results.
#[tokio::test]
async fn ratios_are_told_in_percent_where_that_is_wanted() {
    let (site, sent) =
        planned("mixes", "eye", &[BLUES.as_slice(), &[("percent", "on")]].concat()).await;
    let cost = site.post("/trials/cost", &sent).await.text;
    assert!(cost.contains("80 : 20 %") && !cost.contains("4 : 1"), "{cost}");
    site.post("/trials", &sent).await;
    for page in
        ["plan", "sheets/1.svg", "mixing", "bench/6", "results", "results/pair/1-2", "change"]
    {
        let text = site.get(&format!("/trials/2/{page}")).await.text;
        let told = text.contains("80 : 20 %") || text.contains("20 : 80 %");
        let kept = text.contains("name=\"percent\" value=\"on\" checked");
        assert!(told || kept, "{page}: {text}");
    }
}

/// What the eye saw is one tap, can be taken back, and stands in the chart in place of a typical word.
#[tokio::test]
async fn what_the_eye_saw_stands_in_the_chart() {
    let (site, sent) = planned("mixes", "eye", &BLUES).await;
    site.post("/trials", &sent).await;
    let none = site.post("/trials/2/bench/5/look", "choice=vivid:muted").await;
    assert_eq!(none.status, StatusCode::CONFLICT, "nothing is painted there yet");
    for cell in 1..=13 {
        site.lay(2, cell).await;
    }
    let results = site.get("/trials/2/results").await.text;
    assert!(results.contains("typical, ") && !results.contains("by eye, 1 : 4"), "{results}");
    // The mixture at 1 : 4 with white, of each pair.
    let plan = site.get("/trials/2/plan").await.text;
    assert!(plan.contains("1 : 4 with white 1 : 4"), "{plan}");
    let mut muted = 0;
    for cell in 1..=13 {
        let page = site.get(&format!("/trials/2/bench/{cell}")).await.text;
        // Elsewhere the one that was laid last is asked about.
        let own = page.contains(&format!("/trials/2/bench/{cell}/look"));
        if own && page.contains("How vivid is it?") {
            let seen =
                site.post(&format!("/trials/2/bench/{cell}/look"), "choice=vivid:muted").await;
            assert_eq!(seen.status, StatusCode::SEE_OTHER);
            muted += 1;
        }
    }
    assert_eq!(muted, 8, "every mixture, and nothing else");
    let rubbish = site.post("/trials/2/bench/5/look", "choice=vivid:loud").await;
    assert_eq!(rubbish.status, StatusCode::BAD_REQUEST);
    let results = site.get("/trials/2/results").await.text;
    assert!(results.contains("by eye, ") && results.contains(">muted</b>"), "{results}");
    assert!(
        results.contains("Lantern Yellow softens or mutes every tube it was mixed with."),
        "{results}"
    );
    assert!(!results.contains("Expected, not seen yet: "));
    // The typical paints of these tubes have learnt from it, and are typical still.
    let cost = site.post("/trials/cost", &sent).await.text;
    assert!(cost.contains("a typical PB29, as you saw it"), "{cost}");
}

/// What was seen answers the question, against what typical paints would have said: the last mixture alone is called
/// otherwise than all others, and is the answer.
#[tokio::test]
async fn what_was_seen_answers_the_question() {
    for (question, one, all_others, answer) in [
        ("neutral", "neutral", "vivid", "Best grey: "),
        ("neutral", "muted", "vivid", "No mixture so far is a grey; nearest is "),
        ("cleanest", "vivid", "muted", "Cleanest green: "),
    ] {
        let (site, sent) = planned(question, "eye", &BLUES).await;
        site.post("/trials", &sent).await;
        let plan = site.get("/trials/2/plan").await.text;
        let cells = (1..).take_while(|cell| plan.contains(&format!("/trials/2/bench/{cell}\"")));
        let cells: Vec<u32> = cells.collect();
        let mut mixtures = Vec::new();
        for cell in &cells {
            site.lay(2, *cell).await;
            let page = site.get(&format!("/trials/2/bench/{cell}")).await.text;
            if page.contains("How vivid is it?") && page.contains(&format!("bench/{cell}/look")) {
                mixtures.push(*cell);
            }
        }
        let last = *mixtures.last().expect("mixtures");
        for cell in &mixtures {
            let word = if *cell == last { one } else { all_others };
            let path = format!("/trials/2/bench/{cell}/look");
            let seen = site.post(&path, &format!("choice=vivid:{word}")).await;
            assert_eq!(seen.status, StatusCode::SEE_OTHER);
        }
        let results = site.get("/trials/2/results").await.text;
        let finding = results.split("<h1 class=\"finding\">").nth(1).unwrap_or_default();
        let finding = finding.split("</h1>").next().unwrap_or_default();
        assert!(finding.starts_with(answer), "{question}: {finding}");
        // The chart's own name of that square holds the ratio that is told.
        let page = site.get(&format!("/trials/2/bench/{last}")).await.text;
        let ratio = finding.rsplit(", ").find(|part| part.contains(" : ")).unwrap_or_default();
        assert!(page.contains(ratio.trim_end_matches('.')), "{finding}: {page}");
        assert!(!results.contains("D65/10°") && !results.contains("not seen yet: "), "{results}");
        let vivid = site.get("/trials/2/results/vivid?hue=green").await.text;
        assert!(vivid.contains("by eye") && !vivid.contains("neither seen nor read"), "{vivid}");
    }
}

/// Two blues whose tints were seen to lean apart are told warm and cool, and the yellow beside them is not.
#[tokio::test]
async fn leans_that_were_seen_say_which_is_warmer() {
    let (site, sent) = planned("warmer", "eye", &BLUES).await;
    site.post("/trials", &sent).await;
    let plan = site.get("/trials/2/plan").await.text;
    let mut asked = 0;
    for cell in (1..).take_while(|cell| plan.contains(&format!("/trials/2/bench/{cell}\""))) {
        site.lay(2, cell).await;
        let page = site.get(&format!("/trials/2/bench/{cell}")).await.text;
        if !page.contains(&format!("bench/{cell}/look")) || !page.contains("It leans toward") {
            continue;
        }
        asked += 1;
        let what = page.split("class=\"bench-what\">").nth(1).unwrap_or_default();
        let is_first = what.split("</h1>").next().is_some_and(|it| it.contains("Canopy"));
        let lean = if is_first { "lean:green" } else { "lean:red" };
        let path = format!("/trials/2/bench/{cell}/look");
        let seen = site.post(&path, &format!("choice={lean}")).await;
        assert_eq!(seen.status, StatusCode::SEE_OTHER, "{lean}: {page}");
    }
    assert!(asked >= 2, "{asked}");
    let results = site.get("/trials/2/results").await.text;
    let finding = results.split("<h1 class=\"finding\">").nth(1).unwrap_or_default();
    let wanted = "Ultramarine Blue leans toward red, Canopy Ultramarine leans toward green: \
                  Ultramarine Blue is the warmer of the two.";
    assert!(finding.starts_with(wanted), "{}", &finding[..300.min(finding.len())]);
}

/// Strength by eye: a range that narrows, never more than five looks, and never a figure.
#[tokio::test]
async fn strength_by_eye_is_asked_and_told_as_a_range() {
    let (site, sent) = planned("stronger", "eye", &BLUES[..2]).await;
    site.post("/trials", &sent).await;
    for cell in 1..=13 {
        site.lay(2, cell).await;
    }
    let mut looks = 0;
    loop {
        let page = site.get("/trials/2/eye").await.text;
        if !page.contains("/eye/depth") {
            break;
        }
        let mut answer = fields(&page);
        answer.retain(|(name, _)| name != "choice" && name != "back");
        answer.push(("answer".into(), "paler".into()));
        let said = site.post("/trials/2/eye/depth", &encoded(&answer)).await;
        assert_eq!(said.status, StatusCode::SEE_OTHER, "{}", said.text);
        looks += 1;
    }
    assert!((1..=5).contains(&looks), "{looks}");
    let results = site.get("/trials/2/results").await.text;
    assert!(results.contains("You asked: Which of these is stronger?"));
    assert!(
        results.contains("Ultramarine Blue is between") && results.contains("by eye"),
        "{results}"
    );
    let figures = site.get("/trials/2/figures.json").await.text;
    assert!(!figures.contains("\"equal_depth\":{\"percent\""), "no reading, no figure: {figures}");
    // Beside each other on the shelf they say the same, and no more than that.
    assert!(site.get("/compare").await.text.contains("seen, not read"));
    let beside = site.get("/compare?tube=1&tube=2").await.text;
    assert!(beside.contains("<h1 class=\"finding\">Ultramarine Blue is between"), "{beside}");
    assert!(beside.contains("Nothing of Canopy Ultramarine has been read"), "{beside}");
    assert!(!beside.contains("one part of"), "no reading, no figure: {beside}");
    for wrong in [
        "first=0/4&second=0/4&answer=same",
        "first=0&second=1/4&answer=same",
        "first=0/4&second=1/4&answer=louder",
        "first=0/4&second=99/4&answer=same",
        "first=0/1e300&second=1/4&answer=same",
    ] {
        let refused = site.post("/trials/2/eye/depth", wrong).await;
        assert_eq!(refused.status, StatusCode::BAD_REQUEST, "{wrong}");
    }
    // Which is warmer: in degrees by typical paints, and in the user’s own words.
    let warmer = site.get("/trials/2/eye?about=warmer").await.text;
    // Two typical paints of one pigment are too near for a lean to be told.
    let unsure =
        "Which way Ultramarine Blue leans beside Canopy Ultramarine, typical paints cannot tell.";
    assert!(warmer.contains(unsure), "{warmer}");
    let ask = fields(&warmer);
    let place =
        |name: &str| ask.iter().find(|(field, _)| field == name).map(|(_, value)| value.clone());
    let (first, second) = (place("first").expect("a tube"), place("second").expect("a tube"));
    for turn in ["first", "second"] {
        let said = format!("first={first}&second={second}&quality=warmer&answer={turn}");
        site.post("/trials/2/eye/compare", &said).await;
    }
    let torn = site.get("/trials/2/eye?about=warmer").await.text;
    assert!(torn.contains("contradict each other"), "{torn}");
}
