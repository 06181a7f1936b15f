//! Pictures of sheets and the anchor card, without a page.

use instruments::simulated::picture::PictureDevice::{self, LineScanner, Phone};
use instruments::simulated::{MixingTable, SimulatedMeter};
use plan::steps::Steps;
use plan::{StepChoice, Tests, Thinning};
use store::{NewPalette, NewPicture, PaletteId, PictureId, Store, TrialId, TubeId};
use study::palette::{PaletteRole, School};
use study::{Calibration, ReadingSource, State, Tube};
use workshop::{ChartRequest, Received, ThinningRequest, TrialRequest, Workshop};

const SEED: u64 = 5;

/// A palette of three colours and a white, and a trial of a fourth against two of them.
async fn workshop() -> (Workshop, PaletteId, TrialId) {
    let store = Store::in_memory().await.expect("open");
    let tube = |(name, code): (&str, &str)| Tube {
        name: name.into(),
        codes: vec![code.parse().expect("a name")],
        ..Tube::default()
    };
    let names = [
        ("Canopy Ultramarine", "PB29"),
        ("Lantern Yellow", "PY74"),
        ("Saddle Red", "PR254"),
        ("Workshop Titanium", "PW6"),
        ("Plume Magenta", "PR122"),
    ];
    store.stock(&names.map(tube), &[]).await.expect("stored");
    let shelf = store.shelf().await.expect("read");
    let of = |name: &str| shelf.iter().find(|it| it.tube.name == name).expect("stored").id;
    let ids: Vec<TubeId> = names.iter().map(|(name, _)| of(name)).collect();
    let palette = NewPalette {
        name: "Workshop".into(),
        school: School::Free,
        tubes: vec![
            (PaletteRole::Any, ids[0]),
            (PaletteRole::Any, ids[1]),
            (PaletteRole::Any, ids[2]),
            (PaletteRole::White, ids[3]),
        ],
    };
    let palette = store.add_palette(&palette).await.expect("added");
    let meter = SimulatedMeter::new(SEED, MixingTable::default());
    let app = Workshop::new(store).with_meter(meter).with_simulated_camera(SEED);
    let request = TrialRequest {
        tested: vec![ids[4]],
        references: vec![ids[0], ids[1]],
        white: Some(ids[3]),
        palette: Some(palette),
        charts: vec![ChartRequest::Star { steps: StepChoice::Fixed(Steps::Quarters), third: None }],
        thinning: ThinningRequest::Given(Thinning::White {
            alone: vec![4.0],
            mixtures: vec![4.0],
            film: false,
        }),
        tests: Tests { opacity: false, lift: false, wet: false },
        ..TrialRequest::new("Magenta")
    };
    let trial = app.plan_trial(request).await.expect("planned");
    (app, palette, trial)
}

async fn picture(app: &Workshop, trial: TrialId, device: PictureDevice) -> PictureId {
    let received = app.draw_picture(trial, 1, device).await.expect("drawn");
    let kept = match received {
        Received::Kept(kept, id) => (kept == trial).then_some(id),
        Received::NotUsable(_) => None,
    };
    kept.expect("kept with its trial")
}

/// A picture with the card in it, whose known squares were so far off.
async fn sent_from_a_phone(
    app: &Workshop,
    (trial, card): (TrialId, TrialId),
    (number, off): (usize, f64),
) {
    let mut draft = app.store().picture_draft().expect("a draft");
    draft.write(format!("picture {number}").as_bytes()).expect("written");
    let new = NewPicture {
        trial,
        ending: "jpg",
        sheet: 1,
        source: ReadingSource::Photo,
        card: Some(card),
        simulated: false,
        corners: None,
        device: Some("Kitchen phone".into()),
        known_off: Some(off),
    };
    app.store().add_picture(draft, new).await.expect("kept");
}

/// The card is made once; it calibrates a photo that it lies in, and scans of its own session.
#[tokio::test]
async fn a_card_calibrates_the_photo_it_lies_in_and_the_scans_of_its_session() {
    let (app, palette, trial) = workshop().await;
    let told = async |id| {
        let read = app.picture(trial, id).await.expect("read");
        let told = read.reading.calibration.clone().expect("told");
        (told.is_calibrated, told.of_card)
    };
    let scan = picture(&app, trial, LineScanner).await;
    assert_eq!(told(scan).await, (false, 0));

    let card = app.make_card(palette).await.expect("made");
    assert_eq!(app.make_card(palette).await.expect("made"), card, "once");
    let squares = app.trial(card).await.expect("its trial").swatches.len();
    assert_eq!(squares, 24);
    // Before anybody has read it, it calibrates nothing.
    let photo = picture(&app, trial, Phone).await;
    assert_eq!(told(photo).await, (false, 0));
    app.read_rest(card).await.expect("read");
    let (is_calibrated, of_card) = told(photo).await;
    assert!(is_calibrated && of_card >= 12, "{of_card}");

    // The scan waits for a scan of the card.
    assert_eq!(told(scan).await, (false, 0));
    picture(&app, card, LineScanner).await;
    let (is_calibrated, of_card) = told(scan).await;
    assert!(is_calibrated && of_card >= 12, "{of_card}");

    // What that scanner says of the card is remembered; six pictures tell whether its paint has changed.
    let devices = app.card_by_device(card).await.expect("devices");
    let names: Vec<&str> = devices.iter().map(|it| it.device.as_str()).collect();
    assert_eq!((names, devices[0].pictures), (vec!["a simulated scanner"], 1));
    for (at, off) in [0.8, 0.9, 0.8, 2.6, 2.5, 2.7].into_iter().enumerate() {
        assert!(!app.is_card_due(card).await.expect("known"), "after {at}");
        sent_from_a_phone(&app, (trial, card), (at, off)).await;
    }
    assert!(app.is_card_due(card).await.expect("known"));

    // Magenta stands on no card: its colour is a guess. Blue's is right within what it says.
    let read = app.picture(trial, scan).await.expect("read");
    app.take_picture(trial, scan, State::Dry).await.expect("taken");
    let from: Vec<(String, Calibration)> = app
        .trial(trial)
        .await
        .expect("the trial")
        .readings
        .iter()
        .filter_map(|it| {
            let square = read.squares.iter().find(|square| square.swatch == it.swatch)?;
            Some((square.label.clone(), it.reading.from_picture.as_ref()?.calibration))
        })
        .collect();
    let of = |name: &str| {
        let found = from.iter().filter(|(label, _)| label.starts_with(name));
        found.map(|(_, calibration)| *calibration).collect::<Vec<_>>()
    };
    assert!(of("Plume Magenta").iter().all(|it| *it == Calibration::Guessed), "{from:?}");
    assert!(of("Canopy Ultramarine").contains(&Calibration::Calibrated), "{from:?}");
}
