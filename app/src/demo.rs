//! The carousel workshop's tubes and trials. Only plans are written down here: every reading comes
//! from the simulated meter.

use colour::Conditions;
use mixing::{Geometry, Sheen};
use store::{Circumstances, NewTrial, TrialId, TubeId};
use trial::{Basis, ColourIndexName, Grade, Medium, Protocol, State, Tube};
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
    plan(app, &shelf, "Greens for the canopy edge", &["Sap Green Hue", "Leaf Green"], "Saddle Red")
        .await?;
    let earths = plan(
        app,
        &shelf,
        "One earth, raw and roasted",
        &["Raw Earth", "Roasted Earth"],
        "Canopy Ultramarine",
    )
    .await?;
    read_up_to(app, earths, 22).await?;
    for (name, tested) in [
        (
            "Reds and yellows, two makers",
            ["Saddle Red", "Signal Red", "Lantern Yellow", "Primary Yellow"],
        ),
        (
            "The rest of the workshop palette",
            ["Canvas Yellow Deep", "Organ Orange", "Plume Magenta", "Dusk Violet"],
        ),
    ] {
        let palette = plan(app, &shelf, name, &tested, "Awning Blue").await?;
        read_up_to(app, palette, u32::MAX).await?;
    }
    let blues = plan(
        app,
        &shelf,
        "Three ultramarines for the rounding boards",
        &["Canopy Ultramarine", "Ultramarine", "Ultramarine Blue"],
        "Lantern Yellow",
    )
    .await?;
    read_up_to(app, blues, u32::MAX).await?;
    redo(app, blues, 31, "streaks in the film").await?;
    redo(app, blues, 44, "a trace of yellow on the knife").await
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

async fn plan(
    app: &AppState,
    shelf: &Shelf,
    name: &str,
    tested: &[&str],
    reference: &str,
) -> Result<TrialId, PageError> {
    let tested: Vec<TubeId> = tested.iter().map(|name| shelf.get(name)).collect();
    let white = shelf.get("Workshop Titanium");
    let (tubes, chart) = NewTrial::chart(&tested, shelf.get(reference), white);
    let new = NewTrial {
        name: name.into(),
        tubes,
        circumstances: Circumstances {
            conditions: Conditions::D65_10,
            protocol: Protocol {
                basis: Basis::Weight,
                scale_g: Some(0.01),
                pile_g: Some(4.0),
                repeatability: Some(0.03),
                geometry: Geometry::SphereIncluded,
                sheen: Sheen::Satin,
            },
            repeats: 3,
        },
        // The charts above name different tubes, so they can be planned.
        swatches: chart.swatches().unwrap_or_default(),
    };
    Ok(app.store().start_trial(&new).await?)
}

/// Reads the swatches up to a number, as often as planned.
async fn read_up_to(app: &AppState, id: TrialId, last: u32) -> Result<(), PageError> {
    let trial = app.store().trial(id).await?;
    for planned in trial.swatches.iter().filter(|planned| planned.swatch.number <= last) {
        app.take(&trial, planned, State::Dry, trial.dry_readings_missing(planned.id)).await?;
    }
    Ok(())
}

/// Voids the last reading of a swatch and takes it again.
async fn redo(app: &AppState, id: TrialId, number: u32, why: &str) -> Result<(), PageError> {
    let trial = app.store().trial(id).await?;
    let Some(planned) = trial.swatches.iter().find(|it| it.swatch.number == number) else {
        return Ok(());
    };
    if let Some(last) = trial.readings.iter().rfind(|stored| stored.swatch == planned.id) {
        app.store().void(id, last.id, why).await?;
    }
    let trial = app.store().trial(id).await?;
    app.take(&trial, planned, State::Dry, 1).await
}
