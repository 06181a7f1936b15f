//! What holds for every layout.

use std::collections::HashMap;

use colour::Conditions;
use plan::prior::Prior;
use plan::steps::Steps;
use plan::{Cell, CellNumber, Chart, Design, Naming, Plan, StepChoice, Thinning};
use proptest::prelude::*;
use sheet::{
    CARD_SQUARES, CORNER_MARK_MM, LayoutError, Mark, Paper, Sheet, SheetCode, lay_out, lay_out_card,
};
use study::{Backing, Mixture, TubeLabel, TubeRef};

const TUBES: usize = 6;

fn naming() -> Naming {
    Naming { tubes: labels(), white: Some(TubeRef(5)), ..Naming::default() }
}

fn labels() -> Vec<TubeLabel> {
    let label = |at: usize| TubeLabel {
        name: format!("A tube with rather a long name {at}"),
        maker: "Nettlebed".into(),
        code: "PG36 PY83 PBk7".into(),
    };
    (0..TUBES).map(label).collect()
}

fn plan(tested: usize, steps: usize, whites: usize, grid: bool, opacity: bool) -> Plan {
    let mut charts = vec![Chart::Star {
        tested: (0..tested).map(TubeRef).collect(),
        references: vec![TubeRef(3), TubeRef(4)],
        steps: StepChoice::Fixed(Steps::Doublings(steps)),
        third: None,
    }];
    if grid {
        charts.push(Chart::Grid { tubes: (0..5).map(TubeRef).collect(), half: true });
    }
    let mut design = Design {
        charts,
        white: Some(TubeRef(5)),
        thinning: Thinning::White {
            alone: vec![],
            mixtures: (0..whites).map(|power| 2.0_f64.powi(power as i32)).collect(),
            film: false,
        },
        ..Design::default()
    };
    design.tests.opacity = opacity;
    Plan::new(&design, &Prior::nothing(TUBES, Conditions::D65_10), &[None; TUBES]).expect("a plan")
}

fn apart(one: &sheet::PlacedCell, other: &sheet::PlacedCell) -> f64 {
    (one.x_mm - other.x_mm).abs().max((one.y_mm - other.y_mm).abs())
}

proptest! {
    /// Every square of the plan stands once on one sheet, clear of every other and of the marks, in
    /// the order of the rows; and the code finds its way back to the sheet.
    #[test]
    fn every_square_has_its_own_place(
        tested in 1..4_usize, steps in 1..14_usize, whites in 0..4_usize,
        grid in any::<bool>(), opacity in any::<bool>(),
        side in 8.0..60.0_f64, letter in any::<bool>(),
    ) {
        let paper = if letter { Paper::Letter } else { Paper::A4 };
        let plan = plan(tested, steps, whites, grid, opacity);
        let sheets = lay_out(&plan, &naming(), paper, side).expect("a layout");
        let (width, height) = paper.size_mm();
        let mut times: HashMap<(CellNumber, bool), usize> = HashMap::new();
        for (sheet, number) in sheets.iter().zip(1..) {
            prop_assert_eq!((sheet.number, sheet.of), (number, sheets.len()));
            prop_assert!(!sheet.cells.is_empty());
            for (at, cell) in sheet.cells.iter().enumerate() {
                *times.entry((cell.number, cell.again)).or_default() += 1;
                let margin = CORNER_MARK_MM;
                prop_assert!(cell.x_mm >= margin && cell.x_mm + side <= width - margin);
                prop_assert!(cell.y_mm >= margin && cell.y_mm + side <= height - margin);
                for other in &sheet.cells[at + 1..] {
                    // 5 mm between squares (common practice, no source).
                    prop_assert!(apart(cell, other) >= side + 5.0 - 1e-9, "{cell:?} {other:?}");
                }
            }
            let code =
                SheetCode { trial: 3, edition: 2, layout: 1, sheet: number, of: sheet.of, paper, side_mm: side };
            prop_assert_eq!(code.to_string().parse::<SheetCode>(), Ok(code));
        }
        let mut wanted: HashMap<(CellNumber, bool), usize> = HashMap::new();
        for cell in plan.rows.iter().flat_map(|row| &row.cells) {
            match *cell {
                Cell::First(number) => *wanted.entry((number, false)).or_default() += 1,
                Cell::Again(number) => *wanted.entry((number, true)).or_default() += 1,
                Cell::Dot(_) | Cell::Gap => {}
            }
        }
        prop_assert_eq!(times, wanted);
    }

}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(32))]

    /// Nothing is drawn off the paper, and a bar of black lies under each square that needs one.
    #[test]
    fn a_drawing_stays_on_its_paper(side in 8.0..60.0_f64, letter in any::<bool>()) {
        let paper = if letter { Paper::Letter } else { Paper::A4 };
        let plan = plan(2, 3, 1, true, true);
        let sheets = lay_out(&plan, &naming(), paper, side).expect("a layout");
        for sheet in &sheets {
            let code = SheetCode { trial: 3, edition: 2, layout: 1, sheet: sheet.number, of: sheet.of, paper, side_mm: side };
            let drawing = sheet.drawing("A trial", &code);
            for mark in &drawing.marks {
                let [x, y, w, h] = match mark {
                    Mark::Solid { area } | Mark::Outline { area, .. } => *area,
                    Mark::Text { at: [x, y], .. } => [*x, *y, 0.0, 0.0],
                };
                prop_assert!(x >= 0.0 && x + w <= drawing.width_mm, "{mark:?}");
                prop_assert!(y >= 0.0 && y + h <= drawing.height_mm, "{mark:?}");
            }
            let bars = black_squares(sheet, &drawing.marks);
            let over_black = sheet.cells.iter().filter(|cell| cell.backing == Backing::Black);
            prop_assert_eq!(bars, over_black.count());
        }
    }
}

/// Squares that lie wholly on one solid mark.
fn black_squares(sheet: &Sheet, marks: &[Mark]) -> usize {
    let covered = |cell: &&sheet::PlacedCell| {
        marks.iter().any(|mark| match mark {
            Mark::Solid { area: [x, y, w, h] } => {
                *x <= cell.x_mm
                    && *y <= cell.y_mm
                    && x + w >= cell.x_mm + sheet.side_mm
                    && y + h >= cell.y_mm + sheet.side_mm
            }
            _ => false,
        })
    };
    sheet.cells.iter().filter(covered).count()
}

#[test]
fn what_does_not_fit_is_said_with_what_does() {
    let plan = plan(1, 3, 1, false, false);
    let laid = |side| lay_out(&plan, &naming(), Paper::A4, side);
    for (side, wanted) in
        [(7.9, "too small to be read; write 8 mm or more"), (390.0, "larger than")]
    {
        let message = laid(side).expect_err("does not fit").to_string();
        assert!(message.contains(wanted), "{message}");
    }
    let Err(LayoutError::SquareTooLarge { most_mm, .. }) = laid(390.0) else {
        unreachable!("390 mm fit no A4")
    };
    // The nearest thing that works does work.
    assert!(laid(most_mm).is_ok());
    for text in [
        "US2 T1 S1/2 A4 20",
        "US3 T1 P1 L1 S1/2 A4 20",
        "US1 T1 S1 A4 20",
        "US1 Tx S1/2 A4 20",
        "US1 T1 S1/2 B5 20",
        "",
    ] {
        assert!(text.parse::<SheetCode>().is_err(), "{text}");
    }
    // A sheet of the first format is of the first plan in the first layout.
    let first: SheetCode = "US1 T12 S2/5 A4 20".parse().expect("a code");
    assert_eq!(first.to_string(), "US2 T12 P1 L1 S2/5 A4 20");
}

/// Twenty-four squares of 12 mm, 6 mm and more apart, clear of the marks and of the code; the card's code comes back.
#[test]
fn a_card_holds_its_squares_clear_of_everything() {
    let tint = |at: usize| Mixture::of(&[(TubeRef(at % 5), 1.0), (TubeRef(5), 1.0 + at as f64)]);
    let design = Design {
        charts: vec![Chart::Card((0..30).map(tint).collect())],
        white: Some(TubeRef(5)),
        ..Design::default()
    };
    let prior = Prior::nothing(TUBES, Conditions::D65_10);
    let plan = Plan::new(&design, &prior, &[None; TUBES]).expect("a plan");
    let sheets = lay_out_card(&plan, &naming());
    let [card] = sheets.as_slice() else { panic!("one card") };
    assert_eq!((card.cells.len(), card.side_mm), (CARD_SQUARES, 12.0));
    let backings: Vec<Backing> = card.cells.iter().map(|cell| cell.backing).take(3).collect();
    assert_eq!(backings, [Backing::Paper, Backing::Black, Backing::Paper]);
    let code = SheetCode {
        trial: 12,
        edition: 1,
        layout: 2,
        sheet: 1,
        of: 1,
        paper: card.paper,
        side_mm: card.side_mm,
    };
    assert_eq!(code.to_string().parse(), Ok(code));
    let drawing = card.drawing("Anchor card", &code);
    let solids = drawing.marks.iter().filter_map(|mark| match mark {
        // Marks and code are made of small modules; a printed black square is none of them.
        Mark::Solid { area } if area[3] <= 1.0 => Some(*area),
        _ => None,
    });
    let solids: Vec<[f64; 4]> = solids.collect();
    let (width, height) = Paper::Card.size_mm();
    for (at, cell) in card.cells.iter().enumerate() {
        let (right, below) = (cell.x_mm + card.side_mm, cell.y_mm + card.side_mm);
        assert!(cell.x_mm > 4.0 && cell.y_mm > 4.0 && right < width - 4.0 && below < height - 4.0);
        for other in &card.cells[at + 1..] {
            assert!(apart(cell, other) >= card.side_mm + 6.0, "{cell:?} {other:?}");
        }
        for [x, y, w, h] in &solids {
            let off = (x - right).max(cell.x_mm - (x + w)).max(y - below).max(cell.y_mm - (y + h));
            assert!(off > 1.5, "{off} mm from a mark or the code: {cell:?}");
        }
    }
}
