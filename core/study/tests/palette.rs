//! What is missing, doubled or crossed in a reference palette.

use colour::Hue;
use study::palette::{Filled, PaletteRole, School, palette_remarks};
use study::{ColourIndexName, Medium, TubeLabel};

fn filled(role: PaletteRole, tube: i64, name: &str, code: &str, hue: Option<f64>) -> Filled {
    Filled {
        role,
        tube,
        label: TubeLabel { name: name.into(), maker: "Tidewell".into(), code: code.into() },
        hue: hue.map(Hue::from_degrees),
        medium: Medium::Acrylic,
    }
}

/// The carousel workshop's own, with hues as the simulated meter reads its truest tints.
fn workshop() -> Vec<Filled> {
    use PaletteRole as Role;
    vec![
        filled(Role::CoolYellow, 1, "Lantern Yellow", "PY74", Some(90.0)),
        filled(Role::WarmYellow, 2, "Canvas Yellow Deep", "PY83", Some(77.0)),
        filled(Role::Orange, 3, "Organ Orange", "PO73", Some(45.0)),
        filled(Role::WarmRed, 4, "Saddle Red", "PR254", Some(25.0)),
        filled(Role::CoolRed, 5, "Plume Magenta", "PR122", Some(335.0)),
        filled(Role::Violet, 6, "Dusk Violet", "PV23", Some(305.0)),
        filled(Role::WarmBlue, 7, "Canopy Ultramarine", "PB29", Some(280.0)),
        filled(Role::CoolBlue, 8, "Awning Blue", "PB15:3", Some(249.0)),
        filled(Role::White, 9, "Workshop Titanium", "PW6", None),
    ]
}

fn remarks(school: School, palette: &[Filled]) -> Vec<String> {
    palette_remarks(school, palette).iter().map(ToString::to_string).collect()
}

#[test]
fn a_whole_palette_has_no_remarks() {
    assert_eq!(remarks(School::SplitWithOrangeAndViolet, &workshop()), [""; 0]);
    let without = |roles: &[PaletteRole]| -> Vec<Filled> {
        workshop().into_iter().filter(|it| !roles.contains(&it.role)).collect()
    };
    let split = without(&[PaletteRole::Orange, PaletteRole::Violet]);
    assert_eq!(remarks(School::SplitPrimaries, &split), [""; 0]);
}

#[test]
fn what_is_missing_doubled_or_crossed_is_said() {
    use PaletteRole as Role;
    let changed = |at: usize, to: Filled| {
        let mut palette = workshop();
        palette[at] = to;
        palette
    };
    let swapped = |one: usize, other: usize| {
        let mut palette = workshop();
        let (first, second) = (palette[one].role, palette[other].role);
        (palette[one].role, palette[other].role) = (second, first);
        palette
    };
    let split = School::SplitWithOrangeAndViolet;
    let any = |count: usize| -> Vec<Filled> {
        workshop()
            .into_iter()
            .skip(9 - count)
            .map(|it| Filled {
                role: if it.role == Role::White { it.role } else { Role::Any },
                ..it
            })
            .collect()
    };
    let cases = [
        (split, workshop()[1..].to_vec(), "Missing: cool yellow, leaning green."),
        (split, workshop()[..8].to_vec(), "Missing: white."),
        (
            split,
            changed(7, filled(Role::CoolBlue, 7, "Canopy Ultramarine", "PB29", Some(280.0))),
            "Doubled: Canopy Ultramarine is both warm blue, leaning red and cool blue, leaning green.",
        ),
        (
            split,
            changed(1, filled(Role::WarmYellow, 12, "Primary Yellow", "py74", None)),
            "Doubled: Lantern Yellow and Primary Yellow hold the same pigments (PY74).",
        ),
        (
            split,
            swapped(0, 1),
            "Crossed: by its readings Lantern Yellow is the cooler one, by 13° beside Canvas Yellow Deep.",
        ),
        // Across 0° the shorter way counts: 25° is warmer than 335°.
        (
            split,
            swapped(3, 4),
            "Crossed: by its readings Plume Magenta is the cooler one, by 50° beside Saddle Red.",
        ),
        (
            split,
            swapped(6, 7),
            "Crossed: by its readings Awning Blue is the cooler one, by 31° beside Canopy Ultramarine.",
        ),
        (School::Free, any(3), "2 of at least 3 colours are chosen."),
    ];
    for (school, palette, wanted) in cases {
        let found = remarks(school, &palette);
        assert_eq!(found, [wanted], "{school}");
    }
    assert_eq!(remarks(School::Free, &any(4)), [""; 0]);
    assert_eq!(remarks(School::ThreePrimaries, &[]).len(), 4);
    // Water takes the place of white in water colour (common practice, no source).
    let of = |medium: Medium| {
        let primaries = [
            (PaletteRole::Yellow, "PY3"),
            (PaletteRole::Magenta, "PR122"),
            (PaletteRole::Cyan, "PB15:3"),
        ];
        let filled = (1..)
            .zip(primaries)
            .map(|(tube, (role, code))| Filled { medium, ..filled(role, tube, code, code, None) });
        remarks(School::ThreePrimaries, &filled.collect::<Vec<_>>())
    };
    assert_eq!(of(Medium::Watercolour), [""; 0]);
    assert_eq!(of(Medium::Gouache), ["Missing: white."]);
    assert_eq!(School::Free.roles().len(), 24 + 1, "up to twenty-four colours");
}

#[test]
fn the_first_pigment_tells_which_role_a_tube_suits() {
    let codes = |text: &str| ColourIndexName::parse_list(text).expect("codes");
    let cases = [
        (PaletteRole::CoolYellow, "PY74", Some(true)),
        (PaletteRole::CoolYellow, "PG7 PY83", Some(false)),
        (PaletteRole::WarmBlue, "PB29", Some(true)),
        (PaletteRole::Magenta, "PV19", Some(true)),
        (PaletteRole::Any, "PBr7", Some(true)),
        (PaletteRole::Any, "PW6", Some(false)),
        (PaletteRole::White, "PW6", Some(true)),
        (PaletteRole::White, "", None),
    ];
    for (role, text, wanted) in cases {
        assert_eq!(role.suits(&codes(text)), wanted, "{role} {text}");
    }
}
