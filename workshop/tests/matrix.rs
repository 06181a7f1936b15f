//! A trial as a chart: what is read, what is expected, and what nobody knows.

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

async fn told(app: &Workshop, id: TrialId) -> (std::sync::Arc<AnalysedTrial>, Evidence) {
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
        greens.iter().all(|it| it.read)
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
