//! Facts of the trade that every invented paint must satisfy (common practice, no source): what
//! practitioners say happens when two pigments meet, and when white or a black line does.

use colour::{Lab, ciede2000, unsigned_distance};

/// What the paint is looked at on.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum On {
    /// Thick, on paper.
    Paper,
    /// A full film over the white of an opacity card.
    White,
    /// The same over its black.
    Black,
}

/// Paints by Colour Index name, mixed by parts with parts of white to one part of colour.
pub trait Paints {
    /// The colour under D65 and 10°, gloss included.
    fn look(&self, parts: &[(&str, f64)], white: f64, on: On) -> Lab;
}

struct Table<'a>(&'a dyn Paints);

/// Ratios from 1 : 50 to 50 : 1.
fn ratios() -> impl Iterator<Item = f64> {
    (0..36).map(|step| 0.02 * 1.25_f64.powi(step))
}

const WHITES: [f64; 5] = [0.0, 0.5, 1.0, 2.0, 4.0];

fn hue(lab: Lab) -> f64 {
    lab.b.atan2(lab.a).to_degrees().rem_euclid(360.0)
}

fn within(hue: f64, low: f64, high: f64) -> bool {
    if low <= high { (low..=high).contains(&hue) } else { hue >= low || hue <= high }
}

impl Table<'_> {
    fn thick(&self, parts: &[(&str, f64)]) -> Lab {
        self.0.look(parts, 0.0, On::Paper)
    }

    fn tint(&self, parts: &[(&str, f64)], white: f64) -> Lab {
        self.0.look(parts, white, On::Paper)
    }

    fn of_pair<'b>(
        &'b self,
        a: &'b str,
        b: &'b str,
        whites: &'b [f64],
    ) -> impl Iterator<Item = Lab> + 'b {
        whites.iter().flat_map(move |white| {
            ratios().map(move |ratio| self.tint(&[(a, 1.0), (b, ratio)], *white))
        })
    }

    /// The highest chroma of a pair within a range of hues.
    fn vivid(&self, a: &str, b: &str, (low, high): (f64, f64)) -> f64 {
        let near = self.of_pair(a, b, &WHITES).filter(|lab| within(hue(*lab), low, high));
        near.map(Lab::chroma).fold(0.0, f64::max)
    }

    fn contrast_ratio(&self, parts: &[(&str, f64)]) -> f64 {
        let y = |on| self.0.look(parts, 0.0, on).to_xyz(colour::Conditions::D65_10).y;
        100.0 * y(On::Black) / y(On::White)
    }

    /// Lightness lost by the tint 1 : 4: how strong a paint is.
    fn strength(&self, name: &str) -> f64 {
        let white = self.tint(&[("PW6", 1.0)], 4.0);
        let tint = self.tint(&[(name, 1.0)], 4.0);
        let (l, a, b) = (white.l - tint.l, white.a - tint.a, white.b - tint.b);
        (l * l + a * a + b * b).sqrt()
    }
}

/// A fact: what is said, and whether these paints do it, with the numbers.
type Fact = (&'static str, fn(&Table<'_>) -> (bool, Vec<f64>));

/// What of the trade these paints do not do.
pub fn broken(paints: &dyn Paints) -> Vec<String> {
    let table = Table(paints);
    let told = FACTS.iter().filter_map(|(fact, holds)| {
        let (holds, numbers) = holds(&table);
        let numbers: Vec<String> = numbers.iter().map(|number| format!("{number:.1}")).collect();
        (!holds).then(|| format!("{fact}: {}", numbers.join(", ")))
    });
    told.collect()
}

const FACTS: &[Fact] = &[
    ("1 PB29 + PBr7 make a neutral grey at 50 to 60 % of the blue, nearly black thick", |t| {
        let at = |share: f64| [("PB29", share), ("PBr7", 1.0 - share)];
        let shares = (30..85).map(|percent| f64::from(percent) / 100.0);
        let (chroma, share) = shares
            .map(|share| (t.tint(&at(share), 4.0).chroma(), share))
            .min_by(|one, other| one.0.total_cmp(&other.0))
            .unwrap_or_default();
        let thick = t.thick(&at(0.55)).l;
        ((0.49..=0.61).contains(&share) && chroma < 6.0 && thick < 31.0, vec![chroma, share, thick])
    }),
    (
        "2 PY3 + PR254 make a duller orange than PY74 + PR254, and PY43 a duller one still (3)",
        |t| {
            let [lemon, warm, ochre] =
                ["PY3", "PY74", "PY43"].map(|yellow| t.vivid(yellow, "PR254", (52.0, 64.0)));
            (lemon < warm - 2.0 && ochre < lemon - 2.0, vec![lemon, warm, ochre])
        },
    ),
    ("4 PY74 + PR122 make a red as vivid as PY74 + PR254 do", |t| {
        let [violet, red] = ["PR122", "PR254"].map(|red| t.vivid("PY74", red, (30.0, 42.0)));
        (violet > 0.85 * red, vec![violet, red])
    }),
    ("5 of PR108, PY35 and PB29 only the orange is vivid", |t| {
        let orange = t.vivid("PY35", "PR108", (40.0, 75.0));
        let violet = t.vivid("PR108", "PB29", (308.0, 350.0));
        let green = t.vivid("PY35", "PB29", (118.0, 180.0));
        (orange > 55.0 && violet < 22.0 && green < 36.0, vec![orange, violet, green])
    }),
    ("6 PY3 + PB15:3 make a far brighter green than PY35 + PB29", |t| {
        let clean = t.vivid("PY3", "PB15:3", (118.0, 180.0));
        let muddy = t.vivid("PY35", "PB29", (118.0, 180.0));
        (clean > 1.5 * muddy, vec![clean, muddy])
    }),
    ("7 PV19 + PB15:3 make a vivid violet beside PR254 + PB29", |t| {
        let clean = t.vivid("PV19", "PB15:3", (300.0, 335.0));
        let brownish = t.vivid("PR254", "PB29", (300.0, 335.0));
        let even = t.tint(&[("PR254", 1.0), ("PB29", 1.0)], 4.0).chroma();
        (clean > 1.6 * brownish && even < 16.0, vec![clean, brownish, even])
    }),
    ("8 PV23 + PY74 make a brown, and with white a grey", |t| {
        let at = |yellow: f64| [("PV23", 1.0), ("PY74", yellow)];
        let (grey, yellow) = ratios()
            .map(|yellow| (t.tint(&at(yellow), 8.0).chroma(), yellow))
            .min_by(|one, other| one.0.total_cmp(&other.0))
            .unwrap_or_default();
        let browns = [2.0, 3.0, 4.0].map(|more| t.thick(&at(more * yellow)));
        let brown =
            |lab: &Lab| lab.l < 45.0 && lab.chroma() > 4.0 && within(hue(*lab), 25.0, 105.0);
        let hues = browns.map(hue);
        (grey < 8.0 && browns.iter().any(brown), [&[grey, yellow][..], &hues].concat())
    }),
    ("9 PBk9 + PY74 make a green", |t| {
        let lab = t.thick(&[("PBk9", 1.0), ("PY74", 8.0)]);
        (hue(lab) > 98.0 && lab.chroma() > 12.0, vec![hue(lab), lab.chroma()])
    }),
    ("10 PR122 with a green-blue of PB15:3 and PG7 makes purple, not mud", |t| {
        let looks =
            [2.0, 3.0].map(|red| t.tint(&[("PR122", red), ("PB15:3", 0.5), ("PG7", 0.5)], 4.0));
        let purple = |lab: &Lab| within(hue(*lab), 275.0, 350.0) && lab.chroma() > 14.0;
        (looks.iter().all(purple), looks.map(hue).to_vec())
    }),
    ("11 PR122 + PB15:3, 2 : 1, are nearly black, and periwinkle with white", |t| {
        let parts = [("PR122", 2.0), ("PB15:3", 1.0)];
        let (thick, tint) = (t.thick(&parts), t.tint(&parts, 8.0));
        let periwinkle = within(hue(tint), 270.0, 315.0) && tint.chroma() > 18.0;
        (thick.l < 30.0 && periwinkle, vec![thick.l, hue(tint), tint.chroma()])
    }),
    ("12 PY43 + PB29 make a sage green", |t| {
        let looks: Vec<Lab> = [1.0, 1.5, 2.0, 2.5, 3.0, 4.0, 6.0]
            .iter()
            .map(|ochre| t.tint(&[("PY43", *ochre), ("PB29", 1.0)], 4.0))
            .collect();
        let sage = |lab: &Lab| within(hue(*lab), 103.0, 175.0) && within(lab.chroma(), 3.5, 25.0);
        (looks.iter().any(sage), looks.iter().map(|lab| hue(*lab)).collect())
    }),
    ("13 PBr7 + PB15:3 make a dark evergreen", |t| {
        let looks: Vec<Lab> = t
            .of_pair("PB15:3", "PBr7", &[0.0, 1.0, 2.0])
            .filter(|lab| within(hue(*lab), 105.0, 200.0) && lab.chroma() > 4.0 && lab.l < 60.0)
            .collect();
        (!looks.is_empty(), vec![looks.len() as f64])
    }),
    ("14 PBr7 + PR122 with white go from pink to brown as the earth grows", |t| {
        let hues: Vec<f64> = [0.1, 0.3, 1.0, 3.0, 9.0, 20.0]
            .iter()
            .map(|earth| (hue(t.tint(&[("PBr7", *earth), ("PR122", 1.0)], 6.0)) + 40.0) % 360.0)
            .collect();
        (hues.is_sorted() && hues[0] < 50.0 && hues[5] > 70.0, hues)
    }),
    ("15 PR112 makes PBr7 livelier", |t| {
        let [mixed, alone] = [t.thick(&[("PR112", 1.0), ("PBr7", 1.0)]), t.thick(&[("PBr7", 1.0)])];
        (mixed.chroma() > alone.chroma() + 1.0, vec![mixed.chroma(), alone.chroma()])
    }),
    ("16 a blue-black grey + PY35 make a grayed green", |t| {
        let looks = [2.0, 4.0, 8.0]
            .map(|yellow| t.tint(&[("PB29", 1.0), ("PBk9", 0.3), ("PY35", yellow)], 1.0));
        let grayed = |lab: &Lab| within(hue(*lab), 98.0, 160.0) && within(lab.chroma(), 5.0, 34.0);
        (looks.iter().any(grayed), looks.map(hue).to_vec())
    }),
    ("17 PG18 + lemon are greyer than PG7 + lemon", |t| {
        let [soft, vivid] = ["PG18", "PG7"].map(|green| t.vivid(green, "PY3", (135.0, 180.0)));
        (soft < vivid - 10.0, vec![soft, vivid])
    }),
    ("18 PG7 or PB36 with a pale yellow make turquoise greens, PB36 the more muted", |t| {
        let [vivid, muted] = ["PG7", "PB36"].map(|it| t.vivid(it, "PY3", (160.0, 205.0)));
        (vivid > 20.0 && muted > 10.0 && muted < vivid, vec![vivid, muted])
    }),
    ("19 PB15:3 with very little PY150 or PY97, or PG7 + PB28, make turquoise", |t| {
        let turquoise = |lab: &Lab| within(hue(*lab), 188.0, 230.0) && lab.chroma() > 20.0;
        let little = |yellow| {
            [0.02, 0.05, 0.1, 0.3].map(|part| t.tint(&[("PB15:3", 1.0), (yellow, part)], 6.0))
        };
        let cobalt = [1.0, 2.0, 4.0].map(|blue| t.tint(&[("PG7", 1.0), ("PB28", blue)], 4.0));
        let all = little("PY150").iter().any(turquoise)
            && little("PY97").iter().any(turquoise)
            && cobalt.iter().any(turquoise);
        (all, little("PY97").map(hue).to_vec())
    }),
    ("20 a little red tempers a green", |t| {
        let green = t.tint(&[("PG7", 1.0), ("PY3", 3.0)], 2.0);
        let soft = t.tint(&[("PG7", 1.0), ("PY3", 3.0), ("PR254", 0.5)], 2.0);
        let still = within(hue(soft), 100.0, 200.0);
        (still && soft.chroma() < 0.85 * green.chroma(), vec![green.chroma(), soft.chroma()])
    }),
    ("21 PY35 + PR108 and a touch of PR177 come close to PO20, which is a little brighter", |t| {
        let bought = t.thick(&[("PO20", 1.0)]);
        let mixed = (0..30).flat_map(|step| {
            let red = 0.1 * 1.15_f64.powi(step);
            [0.01, 0.02, 0.05]
                .map(|touch| t.thick(&[("PY35", 1.0), ("PR108", red), ("PR177", touch)]))
        });
        let nearest = mixed
            .min_by(|one, other| {
                let off = |lab: &Lab| ciede2000(*lab, bought).value();
                off(one).total_cmp(&off(other))
            })
            .unwrap_or(bought);
        let (off, brighter) =
            (ciede2000(nearest, bought).value(), bought.chroma() - nearest.chroma());
        (off < 7.0 && (0.0..16.0).contains(&brighter), vec![off, brighter])
    }),
    ("22 PY150 and PO62 are matched in hue by PY35 + PR101 + PBr7, and not in transparency", |t| {
        let mut numbers = Vec::new();
        let holds = ["PY150", "PO62"].iter().all(|bought| {
            let wanted = t.thick(&[(bought, 1.0)]);
            let off = |lab: &Lab| {
                let hues = lab.hue().zip(wanted.hue());
                hues.map_or(180.0, |(one, other)| unsigned_distance(one, other))
            };
            let parts = (0..25).flat_map(|step| {
                let red = 0.01 * 1.2_f64.powi(step);
                [0.05, 0.2, 0.5, 1.0].map(|earth| [("PY35", 1.0), ("PR101", red), ("PBr7", earth)])
            });
            let nearest = parts
                .map(|parts| (off(&t.thick(&parts)), parts))
                .min_by(|one, other| one.0.total_cmp(&other.0));
            let Some((off, parts)) = nearest else { return false };
            let (clear, hiding) = (t.contrast_ratio(&[(bought, 1.0)]), t.contrast_ratio(&parts));
            numbers.extend([off, clear, hiding]);
            off < 3.0 && clear < 80.0 && hiding > 90.0
        });
        (holds, numbers)
    }),
    (
        "23 PY175, PV19 and PB15:3: bright violets and greens, a subdued orange, cured by a warm yellow",
        |t| {
            let violet = t.vivid("PV19", "PB15:3", (280.0, 335.0));
            let green = t.vivid("PY175", "PB15:3", (115.0, 180.0));
            let [cool, warm] =
                ["PY175", "PY83"].map(|yellow| t.vivid(yellow, "PV19", (49.0, 61.0)));
            let darkest = |a, b| t.of_pair(a, b, &[0.0]).map(|lab| lab.l).fold(100.0, f64::min);
            let dark = darkest("PV19", "PB15:3")
                <= darkest("PY175", "PV19").min(darkest("PY175", "PB15:3"));
            (
                violet > 28.0 && green > 40.0 && cool < warm - 3.0 && dark,
                vec![violet, green, cool, warm],
            )
        },
    ),
    (
        "24 a greenish grey is cured by the tiniest bit of PV19 or PR122, and PR108 makes it brown",
        |t| {
            let grey = |ochre: f64, red: &str, share: f64| {
                let whole = 11.0 * (1.0 + ochre);
                t.tint(&[("PBk9", 1.0), ("PY43", ochre), (red, share * whole)], 10.0)
            };
            let greenish = [0.5, 0.7, 1.0, 1.3, 1.6, 2.0, 2.5, 3.0, 4.0];
            let ochre = greenish.into_iter().min_by(|one, other| {
                let off = |ochre: &f64| (hue(grey(*ochre, "PV19", 0.0)) - 112.0).abs();
                off(one).total_cmp(&off(other))
            });
            let ochre = ochre.unwrap_or(1.0);
            let start = grey(ochre, "PV19", 0.0);
            let best = |red: &str| {
                let shares = (0..=40).map(|step| f64::from(step) * 0.0005);
                shares.map(|share| grey(ochre, red, share).chroma()).fold(99.0, f64::min)
            };
            let (rose, violet) = (best("PV19"), best("PR122"));
            let brown = grey(ochre, "PR108", 0.02);
            let cured = rose < 0.85 * start.chroma() && violet < 0.85 * start.chroma();
            let is_brown = within(hue(brown), 20.0, 95.0) && brown.chroma() > rose;
            (
                within(hue(start), 95.0, 150.0) && cured && is_brown,
                vec![hue(start), start.chroma(), rose, violet, hue(brown), brown.chroma()],
            )
        },
    ),
    ("25 PB15:3 + PG7 at 1 : 1 and at 3 : 2 are nearly identical in every mixture", |t| {
        let off = |more: &[(&str, f64)], white| {
            let with = |blue, green| {
                t.tint(&[&[("PB15:3", blue), ("PG7", green)][..], more].concat(), white)
            };
            ciede2000(with(0.5, 0.5), with(0.6, 0.4)).value()
        };
        let worst = [&[][..], &[("PY74", 2.0)], &[("PR254", 2.0)]]
            .iter()
            .flat_map(|more| [0.0, 4.0].map(|white| off(more, white)))
            .fold(0.0, f64::max);
        (worst < 3.0, vec![worst])
    }),
    ("PR122 is very dark neat, and a cool pink in tints", |t| {
        let (neat, tint) = (t.thick(&[("PR122", 1.0)]), t.tint(&[("PR122", 1.0)], 8.0));
        (neat.l < 38.0 && within(hue(tint), 328.0, 8.0), vec![neat.l, hue(tint)])
    }),
    ("the two shades of PB15 look alike neat, and part in tints and violets", |t| {
        let [red, green] = ["PB15", "PB15:3"];
        let neat = ciede2000(t.thick(&[(red, 1.0)]), t.thick(&[(green, 1.0)])).value();
        let tints = [red, green].map(|blue| hue(t.tint(&[(blue, 1.0)], 8.0)));
        let violets = [0.3, 0.5, 1.0].map(|rose| {
            let with = |blue| t.tint(&[(blue, 1.0), ("PR122", rose)], 8.0);
            ciede2000(with(red), with(green)).value()
        });
        let parted = violets.iter().any(|off| *off > 2.0);
        (neat < 8.0 && tints[0] - tints[1] > 6.0 && parted, vec![neat, tints[0], tints[1]])
    }),
    ("a tube that holds white cannot go dark, and white lifts a green's darks", |t| {
        let dark = t.thick(&[("PBk9", 1.0), ("PG7", 1.0)]).l;
        let lifted = t.thick(&[("PBk9", 1.0), ("PG7", 1.0), ("PW6", 1.0)]).l;
        (lifted > dark + 5.0, vec![dark, lifted])
    }),
    ("PBk9 and PR101 spread far and their tints are dull; ochre and umbers spread little", |t| {
        let [black, oxide, ochre, earth] =
            ["PBk9", "PR101", "PY43", "PBr7"].map(|name| t.strength(name));
        let tints = ["PBk9", "PR101"].map(|name| t.tint(&[(name, 1.0)], 8.0).chroma());
        let far = black > 1.15 * ochre && oxide > 1.15 * ochre && earth < black;
        (
            far && tints[0] < 9.0 && tints[1] < 32.0,
            vec![black, oxide, ochre, earth, tints[0], tints[1]],
        )
    }),
    ("ochre stands plain over a black line, PB29 barely shows", |t| {
        let black = t.0.look(&[], 0.0, On::Black);
        let [ochre, blue] = ["PY43", "PB29"]
            .map(|name| ciede2000(t.0.look(&[(name, 1.0)], 0.0, On::Black), black).value());
        (ochre > 30.0 && blue < 0.6 * ochre, vec![ochre, blue])
    }),
    ("PB15:3, PG7, PV23, PBk9 and PR122 need far less than half", |t| {
        // Parts of the other at which the tint looks as far from the one as from the other.
        let even = |strong: &str, other: &str| {
            let [alone, beside] = [strong, other].map(|name| t.tint(&[(name, 1.0)], 4.0));
            let leads = |parts: &f64| {
                let mixed = t.tint(&[(strong, 1.0), (other, *parts)], 4.0);
                ciede2000(mixed, alone).value() < ciede2000(mixed, beside).value()
            };
            ratios().take_while(leads).last().unwrap_or_default()
        };
        let strong = ["PB15:3", "PG7", "PV23", "PBk9", "PR122"];
        let found: Vec<f64> = strong
            .iter()
            .flat_map(|strong| ["PY74", "PY43"].map(|other| even(strong, other)))
            .collect();
        (found.iter().all(|parts| *parts > 1.5), found)
    }),
    (
        "PV23 is a violet in its tints, PY43 is no brown, PO20 is an orange and PB36 a turquoise",
        |t| {
            let violet = t.tint(&[("PV23", 1.0)], 8.0);
            let [ochre, orange, turquoise] =
                ["PY43", "PO20", "PB36"].map(|name| t.thick(&[(name, 1.0)]));
            let holds = within(hue(violet), 280.0, 320.0)
                && violet.chroma() > 25.0
                && within(hue(ochre), 64.0, 85.0)
                && ochre.l > 52.0
                && within(hue(orange), 30.0, 60.0)
                && within(hue(turquoise), 185.0, 245.0);
            (holds, vec![hue(violet), hue(ochre), ochre.l, hue(orange), hue(turquoise)])
        },
    ),
];
