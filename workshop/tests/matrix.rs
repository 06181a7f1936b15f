//! A trial as a chart: what is read, what is expected, and what nobody knows.

use std::sync::Arc;

use instruments::simulated::{MixingTable, SimulatedMeter};
use plan::steps::Steps;
use plan::{CellNumber, Question, StepChoice, Supply, Tests, Thinning};
use store::{Store, TrialId, TubeId};
use study::{Basis, ColourIndexName, State, Tube, TubeRef};
use workshop::{
    AnalysedTrial, ChartRequest, Evidence, Matrix, Pale, SaidBy, ShownColour, ThinningRequest,
    TintRequest, TrialRequest, Workshop, answer, judged_strengths, most_vivid,
};

/// A blue, a yellow, a red that nobody can place, and a white.
const TUBES: [(&str, &str); 4] =
    [("Blue", "PB29"), ("Yellow", "PY74"), ("Old red", ""), ("White", "PW6")];

async fn workshop() -> (Workshop, Vec<TubeId>) {
    let store = Store::in_memory().await.expect("records");
    let app = Workshop::new(store).with_meter(SimulatedMeter::new(1, MixingTable::default()));
    let mut tubes = Vec::new();
    for (name, codes) in TUBES {
        let codes = ColourIndexName::parse_list(codes).expect("codes");
        let tube = Tube { maker: "Tidewell".into(), name: name.into(), codes, ..Tube::default() };
        tubes.push(app.store().add_tube(&tube).await.expect("a tube"));
    }
    (app, tubes)
}

/// The blue with the yellow and the red at 1 : 1, neat and with white.
fn request(tubes: &[TubeId], charts: Vec<ChartRequest>) -> TrialRequest {
    TrialRequest {
        question: Question::Mixes,
        tested: vec![tubes[0]],
        references: vec![tubes[1], tubes[2]],
        white: Some(tubes[3]),
        charts,
        tints: TintRequest::None,
        thinning: ThinningRequest::Given(Thinning::White {
            alone: vec![],
            mixtures: vec![4.0],
            film: false,
        }),
        tests: Tests { opacity: false, lift: false, wet: false },
        anchors: false,
        repeats: 1,
        supply: Supply { measure: Basis::Weight, ..Supply::default() },
        ..TrialRequest::new("Chart")
    }
}

fn star() -> Vec<ChartRequest> {
    let steps = StepChoice::Fixed(Steps::Own(vec![(1.0, 1.0)]));
    vec![ChartRequest::Star { steps, third: None }]
}

async fn told(app: &Workshop, id: TrialId) -> (Arc<AnalysedTrial>, Arc<Evidence>) {
    let trials = app.store().trials().await.expect("trials");
    let summary = trials.iter().find(|it| it.id == id).expect("the trial");
    let analysed = app.analysed(summary).await.expect("figures");
    let evidence = app.evidence_for(&trials, &analysed.trial, State::Dry).await.expect("evidence");
    (analysed, evidence)
}

/// Unread squares are typical where their pigments are known, and unknown where one has no name; what is read takes
/// their place, and a prediction from one's own tubes stands above a typical paint.
#[tokio::test]
async fn each_square_says_where_it_comes_from() {
    let (app, tubes) = workshop().await;
    let id = app.plan_trial(request(&tubes, star())).await.expect("a plan");
    let (analysed, evidence) = told(&app, id).await;
    let matrix = Matrix::of(&analysed, &evidence.prior);
    assert_eq!((matrix.rows.len(), matrix.columns.len(), matrix.is_grid), (1, 2, false));
    assert_eq!(matrix.pale, Pale::White(4.0));
    let steps = |matrix: &Matrix, partner: usize| -> Vec<String> {
        let cell = matrix.pair(TubeRef(0), TubeRef(partner)).expect("a pair");
        let shown = cell.steps.iter().flat_map(|step| [Some(&step.neat), step.pale.as_ref()]);
        let word = |colour: &ShownColour| match colour {
            ShownColour::Read { .. } => "read",
            ShownColour::Predicted { typical: true, .. } => "typical",
            ShownColour::Predicted { .. } => "predicted",
            ShownColour::Unknown => "unknown",
        };
        shown.flatten().map(|it| word(&it.colour).to_owned()).collect()
    };
    // From the top: the blue, the mixture, the partner; each neat and with white.
    assert_eq!(steps(&matrix, 1), ["typical"; 6]);
    assert_eq!(steps(&matrix, 2)[..2], ["typical"; 2]);
    assert_eq!(steps(&matrix, 2)[2..], ["unknown"; 4]);
    let word = matrix.pair(TubeRef(0), TubeRef(1)).and_then(|cell| cell.word).expect("a word");
    assert_eq!(word.said_by, SaidBy::Typical);
    let expected = answer(Question::Mixes, &analysed, (&matrix, &evidence.prior), &[], true)
        .expect("an answer");
    assert!(expected.sentence.starts_with("Expected, not seen yet: Blue"), "{expected:?}");

    for number in 1..=analysed.trial.swatches.len() {
        app.read_all(id, CellNumber(number as u32)).await.expect("read");
    }
    let (analysed, evidence) = told(&app, id).await;
    let matrix = Matrix::of(&analysed, &evidence.prior);
    assert_eq!(steps(&matrix, 1), ["read"; 6]);
    assert_eq!(steps(&matrix, 2), ["read"; 6]);
    let word = matrix.pair(TubeRef(0), TubeRef(1)).and_then(|cell| cell.word).expect("a word");
    assert_eq!(word.said_by, SaidBy::Readings);
    assert!(word.chroma.is_some_and(|(chroma, half)| chroma > 0.0 && half.is_some()));
    let strengths = judged_strengths(&analysed, &evidence.prior);
    let read = answer(Question::Mixes, &analysed, (&matrix, &evidence.prior), &strengths, true)
        .expect("an answer");
    assert!(!read.sentence.contains("not seen yet"), "{read:?}");
    // A blue and a yellow make greens, each at its own colour, the most vivid first.
    let greens = most_vivid(&matrix, 150.0);
    assert!(
        greens.iter().all(|it| it.read && it.word.is_some())
            && greens.is_sorted_by(|one, other| one.chroma >= other.chroma)
    );
}

/// Half a grid has every pair once, above its middle; a palette’s pairs have the same places.
#[tokio::test]
async fn a_grid_and_pairs_stand_along_two_sides() {
    let (app, tubes) = workshop().await;
    let steps = StepChoice::Fixed(Steps::Quarters);
    let colours = tubes[..3].to_vec();
    for (chart, between) in [
        (ChartRequest::Grid { tubes: colours.clone(), half: true }, 1),
        (ChartRequest::Grid { tubes: colours.clone(), half: false }, 1),
        (ChartRequest::Pairs { tubes: colours.clone(), steps: steps.clone() }, 3),
        (ChartRequest::Triad { tubes: colours, steps }, 3),
    ] {
        let wanted = request(&tubes, vec![chart]);
        let id = app
            .plan_trial(TrialRequest { tested: vec![], references: vec![], ..wanted })
            .await
            .expect("a plan");
        let (analysed, evidence) = told(&app, id).await;
        let matrix = Matrix::of(&analysed, &evidence.prior);
        assert!(matrix.is_grid && matrix.rows.len() == 3 && matrix.columns.len() == 3);
        assert_eq!(matrix.pairs().count(), 3);
        for (row, tube) in matrix.rows.iter().zip(&matrix.columns) {
            assert_eq!(row.tube, *tube, "the same names along both sides");
        }
        for cell in matrix.pairs() {
            assert!(cell.pair[0] < cell.pair[1]);
            assert_eq!(cell.steps.len(), between + 2);
        }
    }
}

const COLUMNS: &str = "tube,maker,code,with,parts,with_parts,with2,with2_parts,white_parts,state,backing,repeat,L,a,b";

/// A trial from a file of readings, with what it tells; the white is called White.
async fn from_file(rows: &str) -> (Arc<AnalysedTrial>, Arc<Evidence>, Matrix) {
    let app = Workshop::new(Store::in_memory().await.expect("records"));
    let white = "White,,PW6,,1,,,,,dry,paper,1,96,-1,3\n";
    let text = format!(
        "# upright-swatch readings 1\n# white: White\n# scale_g: 0.001\n# pile_g: 20\n{COLUMNS}\n{white}{rows}"
    );
    let file = formats::readings::read(text.as_bytes()).expect("a good file");
    let lines: Vec<&str> = file.source.rows().collect();
    let id = app.store().import("From a file", &file.study, file.source.head(), &lines).await;
    let (analysed, evidence) = told(&app, id.expect("import")).await;
    let matrix = Matrix::of(&analysed, &evidence.prior);
    (analysed, evidence, matrix)
}

/// Mixtures of three stand in rows, wherever they come from: with more and more of a third, or with as much of it
/// in each step of a ladder.
#[tokio::test]
async fn mixtures_of_three_are_rows() {
    use workshop::Rising;
    let row = |parts: [f64; 3], l: f64| {
        let [a, b, c] = parts;
        format!("Blue,,PB29,Yellow,{a},{b},Red,{c},,dry,paper,1,{l},-10,10\n")
    };
    let tempered = row([1.0, 1.0, 0.05], 50.0) + &row([2.0, 2.0, 0.5], 48.0);
    let pair = "Blue,,PB29,Yellow,3,3,,,,dry,paper,1,52,-30,20\n";
    let ladder =
        row([3.0, 1.0, 1.0], 40.0) + &row([1.0, 3.0, 1.0], 60.0) + &row([2.0, 2.0, 1.0], 50.0);
    let singles =
        "Yellow,,PY74,,1,,,,,dry,paper,1,85,5,80\nRed,,PR254,,1,,,,,dry,paper,1,45,60,40\n";
    let (_, _, matrix) = from_file(&format!("{tempered}{pair}{ladder}{singles}")).await;
    let told: Vec<(Rising, Vec<String>, Vec<bool>)> = matrix
        .thirds
        .iter()
        .map(|row| {
            let shares = row.steps.iter().map(|step| {
                let whole: f64 = step.parts.iter().sum();
                step.parts.map(|part| format!("{:.0}", 100.0 * part / whole)).join(" ")
            });
            (
                row.rising,
                shares.collect(),
                row.steps.iter().map(|it| it.neat.colour.is_read()).collect(),
            )
        })
        .collect();
    assert_eq!(
        told,
        [
            // The blue and the yellow, with none, a touch, an eighth and more of the red; what stands in both rows
            // stands in the longer one.
            (
                Rising::Third,
                vec!["50 50 0".into(), "49 49 2".into(), "44 44 11".into(), "40 40 20".into()],
                vec![true; 4]
            ),
            (Rising::Second, vec!["60 20 20".into(), "20 60 20".into()], vec![true; 2]),
        ]
    );
}

/// Where nothing was asked, a twin is told before a mixture that is not what its tubes promise, and that before a
/// grey.
#[tokio::test]
async fn the_most_useful_surprise_is_told() {
    let row = |tube: &str, with: &str, white: u8, lab: [f64; 3]| {
        let parts = if with.is_empty() { "" } else { "1" };
        let [l, a, b] = lab;
        let code = match tube {
            "Blue" => "PB29",
            "Yellow" => "PY74",
            "Brown" => "PBr7",
            _ => "",
        };
        format!("{tube},,{code},{with},1,{parts},,,{white},dry,paper,1,{l},{a},{b}\n")
    };
    let star = |tube: &str, off: f64| {
        row(tube, "", 0, [30.0 + off, 20.0, -50.0])
            + &row(tube, "", 4, [62.0 + off, 8.0, -40.0])
            + &row(tube, "Yellow", 0, [40.0 + off, -25.0, 18.0])
            + &row(tube, "Yellow", 4, [66.0 + off, -20.0, 12.0])
            + &row(tube, "Brown", 0, [28.0 + off, 1.0, 1.0])
            + &row(tube, "Brown", 4, [58.0 + off, 2.0, -1.0])
    };
    let partners =
        row("Yellow", "", 0, [85.0, 5.0, 85.0]) + &row("Brown", "", 0, [32.0, 20.0, 25.0]);
    for (off, said) in [(0.2, "Blue and Second do the same"), (9.0, "Blue and Brown make a grey")] {
        let rows = star("Blue", 0.0) + &star("Second", off) + &partners;
        let (analysed, evidence, matrix) = from_file(&rows).await;
        let told = answer(Question::Free, &analysed, (&matrix, &evidence.prior), &[], true);
        let told = told.expect("a surprise");
        assert!(told.sentence.starts_with(said), "{off}: {told:?}");
    }
    // Tints of both tubes give K and S; their mixture is not what these promise.
    let tints = |tube: &str, labs: [[f64; 3]; 3]| -> String {
        labs.iter().zip([0_u8, 2, 8]).map(|(lab, white)| row(tube, "", white, *lab)).collect()
    };
    let rows = tints("Blue", [[25.0, 20.0, -50.0], [50.0, 8.0, -45.0], [70.0, 0.0, -30.0]])
        + &tints("Yellow", [[82.0, 8.0, 85.0], [87.0, 2.0, 60.0], [91.0, -1.0, 35.0]])
        + &row("Blue", "Yellow", 0, [75.0, 50.0, 40.0]);
    let (analysed, evidence, matrix) = from_file(&rows).await;
    let told = answer(Question::Free, &analysed, (&matrix, &evidence.prior), &[], true);
    let told = told.expect("a surprise");
    assert!(
        told.sentence.starts_with("Blue with Yellow, 1 : 1 is not what its tubes promise"),
        "{told:?}"
    );
    assert!(told.evidence.contains("lighter. Was it mixed as planned?"), "{told:?}");
}
