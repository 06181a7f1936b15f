//! The table of Colour Index names, and the traps of a label.

use study::shelf::{CautionGroup, HueFamily, TrapKind, nearest, pigment, pigments, traps};
use study::{ColourIndexName, Grade, Medium, Tube};

fn name(text: &str) -> ColourIndexName {
    text.parse().expect("a Colour Index name")
}

fn tube(maker: &str, marketing: &str, codes: &str) -> Tube {
    Tube {
        maker: maker.into(),
        name: marketing.into(),
        codes: ColourIndexName::parse_list(codes).expect("codes"),
        ..Tube::default()
    }
}

/// A white is told by its pigments, and only without any by its name (common practice, no source).
#[test]
fn a_white_is_told_by_its_pigments_or_its_name() {
    for (marketing, codes, is_white) in [
        ("Workshop Titanium", "PW6", true),
        ("Mixing White", "PW4 PW6", true),
        ("Chalk white", "", true),
        ("Old grey", "", false),
        ("Whitewash Blue", "", false),
        ("White Violet", "PV23 PW6", false),
    ] {
        assert_eq!(tube("Tidewell", marketing, codes).is_white(), is_white, "{marketing}");
    }
}

#[test]
fn every_line_of_the_table_is_an_entry_and_none_stands_twice() {
    let lines = include_str!("../src/shelf/data/colour_index.csv").lines().skip(1).count();
    assert!(lines >= 120, "{lines}");
    assert_eq!(pigments().len(), lines, "a line cannot be read");
    let mut names: Vec<_> = pigments().iter().map(|pigment| &pigment.name).collect();
    names.sort();
    names.dedup();
    assert_eq!(names.len(), lines, "a name stands twice");
    assert!(pigments().iter().all(|pigment| !pigment.chemical.is_empty()));
}

/// A chemical name that holds a metal of the caution groups must carry its caution.
#[test]
fn no_caution_is_forgotten() {
    for (word, group) in [
        ("cadmium", CautionGroup::Cadmium),
        ("cobalt", CautionGroup::Cobalt),
        ("nickel", CautionGroup::Nickel),
        ("mangan", CautionGroup::Manganese),
        ("chrom", CautionGroup::Chromium),
        ("lead", CautionGroup::Lead),
        ("mercur", CautionGroup::Mercury),
        ("arsen", CautionGroup::Arsenic),
    ] {
        let holding: Vec<_> =
            pigments().iter().filter(|pigment| pigment.chemical.contains(word)).collect();
        assert!(!holding.is_empty(), "{word}");
        for pigment in holding {
            assert!(pigment.cautions.contains(&group), "{} lacks {group}", pigment.name);
        }
    }
}

#[test]
fn families_follow_the_letters_unless_the_table_knows_better() {
    for pigment in pigments() {
        let letters = pigment.name.as_str();
        let usual = match letters.trim_start_matches(['P', 'N']) {
            rest if rest.starts_with("Br") => HueFamily::Brown,
            rest if rest.starts_with("Bk") => HueFamily::Black,
            rest if rest.starts_with('Y') => HueFamily::Yellow,
            rest if rest.starts_with('O') => HueFamily::Orange,
            rest if rest.starts_with('R') => HueFamily::Red,
            rest if rest.starts_with('V') => HueFamily::Violet,
            rest if rest.starts_with('B') => HueFamily::Blue,
            rest if rest.starts_with('G') => HueFamily::Green,
            rest if rest.starts_with('W') => HueFamily::White,
            _ => HueFamily::Metal,
        };
        let excepted = ["PY164", "PR88", "PR105"].contains(&letters);
        assert!(pigment.family == usual || excepted, "{letters}");
    }
    // A name that the table does not know still has a family.
    assert_eq!(HueFamily::of(&name("PB999")), HueFamily::Blue);
    assert_eq!(HueFamily::of(&name("PBr99")), HueFamily::Brown);
}

#[test]
fn a_slip_of_the_pen_is_offered_what_it_may_have_meant() {
    let offered = |text: &str| -> Vec<&str> {
        nearest(&name(text)).into_iter().map(ColourIndexName::as_str).collect()
    };
    assert_eq!(offered("PB92")[0], "PB29");
    assert!(offered("PY47").contains(&"PY74"));
    assert!(offered("PR245").contains(&"PR254"));
    assert!(pigment(&name("PB29")).is_some() && pigment(&name("PB92")).is_none());
}

#[test]
fn each_trap_of_a_label_is_noticed() {
    use TrapKind::{
        HueName, NoCode, OneNameSeveralColours, Promise, SameNameOtherPigments,
        SamePigmentsOtherMaker, UnknownCode,
    };
    let shelf = [
        tube("Tidewell", "Canopy Ultramarine", "PB29"),
        tube("Nettlebed", "Ultramarine Blue", "PB29"),
        tube("Nettlebed", "Cadmium Yellow Hue", "PY74 PY83"),
        tube("Harrow & Pike", "Cadmium Yellow", "PY74"),
        tube("Nettlebed", "Carriage Green", ""),
        tube("Harrow & Pike", "Carriage Green", "PG7"),
        tube("Nettlebed", "Raw Earth", "PBr7"),
        tube("Tidewell", "Odd Blue", "PB92"),
        tube("Tidewell", "Workshop Titanium", "PW6"),
        tube("Nettlebed", "Titanium White", "PW6"),
    ];
    let expected: [&[TrapKind]; 10] = [
        &[SamePigmentsOtherMaker],
        &[SamePigmentsOtherMaker],
        &[HueName],
        &[Promise],
        &[NoCode, SameNameOtherPigments],
        &[SameNameOtherPigments],
        &[OneNameSeveralColours],
        &[UnknownCode],
        &[],
        &[],
    ];
    let shelf: Vec<&Tube> = shelf.iter().collect();
    let all = traps(&shelf);
    for (at, expected) in expected.iter().enumerate() {
        let found: Vec<TrapKind> = all[at].iter().map(|trap| trap.kind).collect();
        assert_eq!(&found, expected, "{}", shelf[at].name);
    }
    let words = |at: usize| all[at][0].message.clone();
    assert_eq!(words(0), "the same PB29 by Nettlebed");
    assert_eq!(words(2), "“hue” in the name means a substitute: it holds PY74 PY83");
    assert_eq!(words(3), "the name says cadmium, and the label’s PY74 hold none");
    assert_eq!(words(5), "Nettlebed sells the same name with no stated pigment");
    assert!(words(7).starts_with(
        "PB92 is not in the built-in table, look at the label again; near it lie PB29"
    ));
    assert_eq!(all[0][0].others, [1]);
}

#[test]
fn pigments_tell_single_from_convenience_mixture() {
    assert_eq!(tube("", "A", "").pigmentation(), "not stated");
    assert_eq!(tube("", "A", "PB29").pigmentation(), "single pigment");
    assert_eq!(tube("", "A", "PG7 PY83").pigmentation(), "convenience mixture");
    assert_eq!((Grade::default(), Medium::default()), (Grade::Artist, Medium::Acrylic));
}

#[test]
fn tubes_are_found_by_what_is_asked_and_in_that_order() {
    use colour::Hue;
    use study::shelf::{Query, SortBy, search};
    let shelf = [
        tube("Tidewell", "Canopy Ultramarine", "PB29"),
        tube("Nettlebed", "Raw Earth", "PBr7"),
        tube("Nettlebed", "Cadmium Yellow Hue", "PY74 PY83"),
        tube("Harrow & Pike", "Signal Red", "PR254"),
        tube("Nettlebed", "Carriage Green", ""),
        tube("Tidewell", "Dawn", "PB29"),
    ];
    let shelf: Vec<&Tube> = shelf.iter().collect();
    // Dawn was read and is a rose; the others were not read.
    let known = |at: usize| (at == 5).then(|| Some(Hue::from_degrees(350.0)));
    let of = |query: Query| search(&shelf, &query, known);
    let all = Query::default;
    let cases = [
        (all(), vec![3, 2, 4, 1, 0, 5]),
        (Query { order: SortBy::Name, ..all() }, vec![2, 0, 4, 5, 1, 3]),
        (Query { order: SortBy::Hue, ..all() }, vec![5, 3, 2, 0, 1, 4]),
        (Query { text: "  ULTRA canopy ".into(), ..all() }, vec![0]),
        (Query { text: "pb29".into(), ..all() }, vec![0, 5]),
        (Query { text: "ultra nettlebed".into(), ..all() }, vec![]),
        (Query { family: Some(HueFamily::Yellow), ..all() }, vec![2]),
        (Query { code: Some(name("PY83")), ..all() }, vec![2]),
        (Query { maker: "tidewell".into(), ..all() }, vec![0, 5]),
        (Query { untested: true, maker: "Tidewell".into(), ..all() }, vec![0]),
    ];
    for (query, expected) in cases {
        assert_eq!(of(query.clone()), expected, "{query:?}");
    }
}
