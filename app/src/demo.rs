//! The carousel workshop's tubes, palette and trials. Only plans are written down here: every reading comes
//! from the simulated meter.

use bench::{BenchEvent, EyeVividness, Look, Next, Task, Tile, Time, Word};
use mixing::Sheen;
use plan::steps::Steps;
use plan::{Plan, Question, StepChoice, Supply, Tests, Thinning};
use store::{NewPalette, PaletteId, TrialId, TubeId};
use study::palette::{PaletteRole, School};
use study::{Basis, ColourIndexName, Grade, Medium, Tube};
use workshop::{ChartRequest, ThinningRequest, TintRequest, TrialRequest, Workshop, WorkshopError};

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
pub(crate) async fn fill(app: &Workshop) -> Result<(), WorkshopError> {
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
            price: price(name).into(),
            density_g_ml: density(name),
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
        let trial = app.plan_trial(star(&shelf, name, &tested, &["Awning Blue"])).await?;
        read(app, trial, usize::MAX).await?;
    }
    let blues = star(
        &shelf,
        "Three ultramarines for the rounding boards",
        &["Canopy Ultramarine", "Ultramarine", "Ultramarine Blue"],
        &["Lantern Yellow"],
    );
    let blues = TrialRequest { question: Question::Stronger, ..blues };
    let blues = app.plan_trial(blues).await?;
    read(app, blues, usize::MAX).await?;
    redo(app, blues, 0, "streaks in the film").await?;
    redo(app, blues, 13, "a trace of yellow on the knife").await?;
    // What was read so far tells the planner how the workshop's own tubes mix.
    let earths = TrialRequest {
        charts: vec![ChartRequest::Star { steps: StepChoice::Even(3), third: None }],
        anchors: true,
        ..star(
            &shelf,
            "One earth, raw and roasted",
            &["Raw Earth", "Roasted Earth"],
            &["Canopy Ultramarine", "Saddle Red"],
        )
    };
    let earths = app.plan_trial(earths).await?;
    tiles(app, earths).await?;
    read(app, earths, 22).await?;
    tiles(app, earths).await?;
    lay(app, earths, 3).await?;
    let greens = star(&shelf, "Greens for the canopy edge", &["Sap Green Hue", "Leaf Green"], &[]);
    let greens = TrialRequest {
        palette: Some(palette),
        charts: vec![ChartRequest::Star { steps: StepChoice::Even(3), third: None }],
        thinning: ThinningRequest::Given(Thinning::White {
            alone: ALONE.to_vec(),
            mixtures: vec![4.0],
            film: false,
        }),
        tests: Tests { opacity: true, lift: true, wet: false },
        tints: TintRequest::Tested,
        ..greens
    };
    app.plan_trial(greens).await?;
    by_eye(app, &shelf, palette).await
}

/// A Sunday's trial with eyes and a knife: one green against the whole palette, laid and looked at.
async fn by_eye(app: &Workshop, shelf: &Shelf, palette: PaletteId) -> Result<(), WorkshopError> {
    let usual = TrialRequest::new("Leaf Green on a Sunday, by eye");
    let request = TrialRequest {
        question: Question::Mixes,
        tested: vec![shelf.get("Leaf Green")],
        palette: Some(palette),
        charts: vec![ChartRequest::Star {
            steps: StepChoice::Fixed(Steps::Own(vec![(4.0, 1.0), (1.0, 4.0)])),
            third: None,
        }],
        thinning: ThinningRequest::ByMedium { alone: vec![4.0], mixtures: vec![4.0] },
        tests: Tests { opacity: false, lift: false, wet: false },
        anchors: false,
        dots: true,
        repeats: 0,
        supply: Supply { measure: Basis::Eye, places: 24, ..usual.supply },
        sheen: Sheen::Satin,
        ..usual
    };
    let id = app.plan_trial(request).await?;
    lay(app, id, usize::MAX).await?;
    let trial = app.trial(id).await?;
    let name = |tube: &study::Part| trial.tubes[tube.tube.0].tube.tube.name.clone();
    for planned in &trial.swatches {
        let colours: Vec<String> =
            planned.swatch.mixture.colours(trial.white()).map(name).collect();
        let tinted = planned.swatch.mixture.parts().len() > colours.len();
        let seen = SEEN.iter().find(|(partner, _)| colours.iter().any(|it| it == partner));
        if let (true, 2, Some((_, word))) = (tinted, colours.len(), seen) {
            let look = Look::Vividness(*word);
            app.record(id, BenchEvent::Seen { swatch: planned.swatch.number, look }, None).await?;
        }
    }
    Ok(())
}

/// What the workshop saw of Leaf Green with each of its palette.
const SEEN: [(&str, EyeVividness); 8] = [
    ("Lantern Yellow", EyeVividness::Vivid),
    ("Canvas Yellow Deep", EyeVividness::Vivid),
    ("Organ Orange", EyeVividness::Muted),
    ("Saddle Red", EyeVividness::Neutral),
    ("Plume Magenta", EyeVividness::Neutral),
    ("Dusk Violet", EyeVividness::Muted),
    ("Canopy Ultramarine", EyeVividness::Softened),
    ("Awning Blue", EyeVividness::Softened),
];

/// Parts of white to one tube alone.
const ALONE: [f64; 5] = [1.0, 2.0, 4.0, 8.0, 16.0];

/// A star in quarters, with tints of everything and opacity.
fn star(shelf: &Shelf, name: &str, tested: &[&str], references: &[&str]) -> TrialRequest {
    let of = |names: &[&str]| names.iter().map(|name| shelf.get(name)).collect();
    let usual = TrialRequest::new(name);
    TrialRequest {
        tested: of(tested),
        references: of(references),
        question: Question::Mixes,
        white: Some(shelf.get("Workshop Titanium")),
        charts: vec![ChartRequest::Star { steps: StepChoice::Fixed(Steps::Quarters), third: None }],
        tints: TintRequest::All,
        thinning: ThinningRequest::Given(Thinning::White {
            alone: ALONE.to_vec(),
            mixtures: vec![1.0, 4.0],
            film: false,
        }),
        tests: Tests { opacity: true, lift: false, wet: false },
        anchors: false,
        repeats: 3,
        supply: Supply { least_pile: 1.0, ..usual.supply },
        sheen: Sheen::Satin,
        ..usual
    }
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

/// What a tube cost; empty where the workshop has forgotten.
fn price(name: &str) -> &'static str {
    match name {
        "Canopy Ultramarine" | "Lantern Yellow" => "9.80 EUR",
        "Saddle Red" | "Plume Magenta" | "Awning Blue" => "11.60 EUR",
        "Ultramarine" => "9.40 EUR",
        "Primary Yellow" | "Signal Red" => "8.20 EUR",
        "Ultramarine Blue" | "Raw Earth" | "Roasted Earth" => "8.90 EUR",
        "Workshop Titanium" => "14.50 EUR",
        _ => "",
    }
}

/// What 1 ml weighs, g, of the tubes that somebody has weighed.
fn density(name: &str) -> Option<f64> {
    match name {
        "Canopy Ultramarine" => Some(1.31),
        "Ultramarine" => Some(1.28),
        "Workshop Titanium" => Some(1.52),
        _ => None,
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
async fn palette(app: &Workshop, shelf: &Shelf) -> Result<PaletteId, WorkshopError> {
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
    Ok(app.store().add_palette(&new).await?)
}

/// Reads the first so many swatches in the order of work, as often as planned.
async fn read(app: &Workshop, id: TrialId, count: usize) -> Result<(), WorkshopError> {
    let trial = app.trial(id).await?;
    let turns = trial.planned().map(Plan::turns).unwrap_or_default();
    for turn in turns.iter().take(count) {
        app.read_all(id, turn.swatch).await?;
    }
    Ok(())
}

/// Reads both tiles, as before every run.
async fn tiles(app: &Workshop, id: TrialId) -> Result<(), WorkshopError> {
    let trial = app.trial(id).await?;
    for tile in Tile::ALL {
        app.take_tile(&trial, *tile, None).await?;
    }
    Ok(())
}

/// Lays the next so many swatches, and says what was seen of the first: they dry as the demo begins.
async fn lay(app: &Workshop, id: TrialId, count: usize) -> Result<(), WorkshopError> {
    for place in 0..count {
        let trial = app.trial(id).await?;
        let Some(run) = trial.run() else { return Ok(()) };
        let Next::Do { swatch, task: Task::Lay } = run.next(Time(0)) else { return Ok(()) };
        app.lay_as_planned(&trial, swatch).await?;
        if place == 0 {
            let words = vec![Word::BrushesOutSmooth];
            let seen = BenchEvent::Noted { swatch, words, note: String::new() };
            app.record(id, seen, None).await?;
        }
    }
    Ok(())
}

/// Voids a mixture, counted from 0, and paints and reads it again.
async fn redo(app: &Workshop, id: TrialId, mixture: usize, why: &str) -> Result<(), WorkshopError> {
    let trial = app.trial(id).await?;
    let white = trial.white();
    let mut mixtures =
        trial.swatches.iter().filter(|it| it.swatch.mixture.colours(white).count() > 1);
    let Some(planned) = mixtures.nth(mixture) else { return Ok(()) };
    let number = planned.swatch.number;
    app.spoil(id, number, why, None).await?;
    app.read_all(id, number).await
}
