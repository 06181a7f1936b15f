//! The carousel workshop's tubes, palette and trials. Only plans are written down here: every reading comes
//! from the simulated meter.

use bench::{BenchEvent, Next, Task, Tile, Word};
use plan::Plan;
use store::{NewPalette, TrialId, TubeId};
use study::palette::{PaletteRole, School};
use study::{ColourIndexName, Grade, Medium, State, Tube};
use web::{AppState, PageError};

/// Maker, name, Colour Index names, grade and volume in ml. One old tube has no code, the earths
/// share one, and one convenience mixture looks like another.
const SHELF: [(&str, &str, &str, Grade, f64); 19] = [
    ("Tidewell", "Workshop Titanium", "PW6", Grade::Artist, 250.0),
    ("Tidewell", "Lantern Yellow", "PY74", Grade::Artist, 60.0),
    ("Tidewell", "Canvas Yellow Deep", "PY83", Grade::Artist, 60.0),
    ("Tidewell", "Organ Orange", "PO73", Grade::Artist, 60.0),
    ("Tidewell", "Saddle Red", "PR254", Grade::Artist, 60.0),
    ("Tidewell", "Plume Magenta", "PR122", Grade::Artist, 60.0),
    ("Tidewell", "Dusk Violet", "PV23", Grade::Artist, 60.0),
    ("Tidewell", "Canopy Ultramarine", "PB29", Grade::Artist, 60.0),
    ("Tidewell", "Awning Blue", "PB15:3", Grade::Artist, 60.0),
    ("Harrow & Pike", "Ultramarine", "PB29", Grade::Artist, 75.0),
    ("Harrow & Pike", "Primary Yellow", "PY74", Grade::Student, 75.0),
    ("Harrow & Pike", "Sap Green Hue", "PG7 PY83", Grade::Student, 75.0),
    ("Harrow & Pike", "Signal Red", "PR254", Grade::Artist, 75.0),
    ("Nettlebed", "Ultramarine Blue", "PB29", Grade::Student, 120.0),
    ("Nettlebed", "Raw Earth", "PBr7", Grade::Artist, 120.0),
    ("Nettlebed", "Roasted Earth", "PBr7", Grade::Artist, 120.0),
    ("Nettlebed", "Leaf Green", "PG36 PY83", Grade::Student, 120.0),
    ("Nettlebed", "Cadmium Yellow Hue", "PY74 PY83", Grade::Student, 120.0),
    ("Nettlebed", "Carriage Green", "", Grade::Artist, 40.0),
];

/// Fills an empty workshop; one that has tubes is left as it is.
pub(crate) async fn fill(app: &AppState) -> Result<(), PageError> {
    if app.store().tube_count().await? > 0 {
        return Ok(());
    }
    let mut ids = Vec::new();
    for (maker, name, codes, grade, volume) in SHELF {
        let tube = Tube {
            maker: maker.into(),
            line: "Heavy Body".into(),
            name: name.into(),
            codes: ColourIndexName::parse_list(codes).unwrap_or_default(),
            grade,
            medium: Medium::Acrylic,
            volume_ml: Some(volume),
            left_ml: Some((volume * left_share(name)).round()),
            series: if grade == Grade::Student { String::new() } else { "2".into() },
            ..Tube::default()
        };
        ids.push((name, app.store().add_tube(&tube).await?));
    }
    let shelf = Shelf(ids);
    let palette = palette(app, &shelf).await?;
    for (name, tested) in [
        (
            "The rest of the workshop palette",
            ["Canvas Yellow Deep", "Organ Orange", "Plume Magenta", "Dusk Violet"],
        ),
        (
            "Reds and yellows, two makers",
            ["Saddle Red", "Signal Red", "Lantern Yellow", "Primary Yellow"],
        ),
    ] {
        let trial = plan(app, name, &tested, &[("reference", "Awning Blue")]).await?;
        read(app, trial, usize::MAX).await?;
    }
    let blues = plan(
        app,
        "Three ultramarines for the rounding boards",
        &["Canopy Ultramarine", "Ultramarine", "Ultramarine Blue"],
        &[("reference", "Lantern Yellow")],
    )
    .await?;
    read(app, blues, usize::MAX).await?;
    redo(app, blues, 0, "streaks in the film").await?;
    redo(app, blues, 13, "a trace of yellow on the knife").await?;
    // What was read so far tells the planner how the workshop's own tubes mix.
    let earths = plan(
        app,
        "One earth, raw and roasted",
        &["Raw Earth", "Roasted Earth"],
        &[
            ("reference", "Canopy Ultramarine"),
            ("reference", "Saddle Red"),
            ("steps", "even"),
            ("anchors", "on"),
        ],
    )
    .await?;
    tiles(app, earths).await?;
    read(app, earths, 22).await?;
    tiles(app, earths).await?;
    lay(app, earths, 3).await?;
    let greens = [
        ("palette", palette.as_str()),
        ("steps", "even"),
        ("whites_mixed", "4"),
        ("lift", "on"),
        ("tints", "tested"),
    ];
    plan(app, "Greens for the canopy edge", &["Sap Green Hue", "Leaf Green"], &greens).await?;
    Ok(())
}

/// What is left of a tube after a winter's work, from nearly all to nearly nothing.
fn left_share(name: &str) -> f64 {
    match name {
        "Carriage Green" => 0.1,
        "Organ Orange" | "Dusk Violet" => 0.35,
        "Workshop Titanium" | "Lantern Yellow" => 0.6,
        _ => 0.9,
    }
}

/// The tubes by name.
struct Shelf(Vec<(&'static str, TubeId)>);

impl Shelf {
    fn get(&self, name: &str) -> TubeId {
        let found = self.0.iter().find(|(known, _)| *known == name);
        found.map_or(TubeId(0), |(_, id)| *id)
    }
}

/// The workshop's own palette: split primaries with an orange and a violet. Gives its number.
async fn palette(app: &AppState, shelf: &Shelf) -> Result<String, PageError> {
    let filled = [
        (PaletteRole::CoolYellow, "Lantern Yellow"),
        (PaletteRole::WarmYellow, "Canvas Yellow Deep"),
        (PaletteRole::Orange, "Organ Orange"),
        (PaletteRole::WarmRed, "Saddle Red"),
        (PaletteRole::CoolRed, "Plume Magenta"),
        (PaletteRole::Violet, "Dusk Violet"),
        (PaletteRole::WarmBlue, "Canopy Ultramarine"),
        (PaletteRole::CoolBlue, "Awning Blue"),
        (PaletteRole::White, "Workshop Titanium"),
    ];
    let new = NewPalette {
        name: "Carousel workshop".into(),
        school: School::SplitWithOrangeAndViolet,
        tubes: filled.map(|(role, name)| (role, shelf.get(name))).into(),
    };
    Ok(app.store().add_palette(&new).await?.0.to_string())
}

/// Plans a star with the planner's own form.
async fn plan(
    app: &AppState,
    name: &str,
    tested: &[&str],
    more: &[(&str, &str)],
) -> Result<TrialId, PageError> {
    let mut fields = vec![
        ("name", name),
        ("white", "Workshop Titanium"),
        ("star", "on"),
        ("whites_alone", "1, 2, 4, 8, 16"),
        ("opacity", "on"),
        ("least_pile", "1"),
        ("sheen", "satin"),
    ];
    fields.extend(tested.iter().map(|name| ("tested", *name)));
    let chosen = |field: &str| more.iter().any(|(known, _)| *known == field);
    if !chosen("tints") {
        fields.push(("tints", "all"));
    }
    if !chosen("steps") {
        fields.push(("steps", "quarters"));
    }
    if !chosen("whites_mixed") {
        fields.push(("whites_mixed", "1, 4"));
    }
    fields.extend(more);
    app.plan_trial(&fields).await
}

/// Reads the first so many swatches in the order of work, as often as planned.
async fn read(app: &AppState, id: TrialId, count: usize) -> Result<(), PageError> {
    let trial = app.trial(id).await?;
    let turns = trial.planned().map(Plan::turns).unwrap_or_default();
    for turn in turns.iter().take(count) {
        let Some(planned) = trial.swatches.iter().find(|it| it.swatch.number == turn.swatch) else {
            continue;
        };
        app.lay_as_planned(&trial, turn.swatch).await?;
        let trial = app.trial(id).await?;
        app.take(&trial, planned, State::Dry, trial.dry_readings_missing(planned.id)).await?;
    }
    Ok(())
}

/// Reads both tiles, as before every run.
async fn tiles(app: &AppState, id: TrialId) -> Result<(), PageError> {
    let trial = app.store().trial(id).await?;
    for tile in Tile::ALL {
        app.take_tile(&trial, *tile, None).await?;
    }
    Ok(())
}

/// Lays the next so many swatches, and says what was seen of the first: they dry as the demo begins.
async fn lay(app: &AppState, id: TrialId, count: usize) -> Result<(), PageError> {
    for place in 0..count {
        let trial = app.store().trial(id).await?;
        let Some(run) = trial.run() else { return Ok(()) };
        let Next::Do { swatch, task: Task::Lay } = run.next(0) else { return Ok(()) };
        app.lay_as_planned(&trial, swatch).await?;
        if place == 0 {
            let words = vec![Word::BrushesOutSmooth];
            let seen = BenchEvent::Noted { swatch, words, note: String::new() };
            app.store().record_deeds(id, &[seen], None, |_| true).await?;
        }
    }
    Ok(())
}

/// Voids a mixture, counted from 0, and paints and reads it again.
async fn redo(app: &AppState, id: TrialId, mixture: usize, why: &str) -> Result<(), PageError> {
    let trial = app.store().trial(id).await?;
    let white = trial.white();
    let mut mixtures =
        trial.swatches.iter().filter(|it| it.swatch.mixture.colours(white).count() > 1);
    let Some(planned) = mixtures.nth(mixture) else { return Ok(()) };
    app.store().spoil(id, (planned.id, planned.swatch.number), why, None).await?;
    let trial = app.trial(id).await?;
    app.lay_as_planned(&trial, planned.swatch.number).await?;
    let trial = app.trial(id).await?;
    app.take(&trial, planned, State::Dry, trial.dry_readings_missing(planned.id)).await
}
