//! The curves, one line a Colour Index name. From memory, and no measurement of any product: fitted to what
//! painters know of the mass tone, the tint and the hiding of each (`tests/typical_colours.csv`), and checked
//! against what they say of mixtures (`tests/trade.rs`).

use super::Feature::{Above, Band, Bell, Below, Flat};
use super::{Feature, TypicalPaint};

const fn paint(
    name: &'static str,
    common: &'static str,
    absorption: &'static [Feature],
    scattering: f64,
    fall: f64,
    staining: f64,
) -> TypicalPaint {
    TypicalPaint { name, common, absorption, scattering, fall, staining }
}

/// Every name that is known, by family, in its usual form: absorption, scattering, its fall, staining.
#[rustfmt::skip]
pub(super) const PAINTS: &[TypicalPaint] = &[
    // Whites.
    paint("PW6", "titanium white", &[Below(398.0, 7.0, 6.0), Flat(0.012)], 15.0, 0.9, 0.2),
    paint("PW4", "zinc white", &[Below(385.0, 8.0, 4.0), Flat(0.008)], 7.0, 0.8, 0.2),
    paint("PW1", "lead white", &[Below(390.0, 9.0, 2.0), Flat(0.01)], 9.0, 0.8, 0.2),
    // Yellows.
    paint("PY3", "lemon yellow", &[Below(475.1, 5.81, 62.3), Flat(0.0179), Bell(640.6, 58.2, 0.0499)], 3.19, 0.8, 0.6),
    paint("PY35", "cadmium yellow light", &[Below(496.3, 5.02, 78.6), Flat(0.0313)], 10.2, 0.6, 0.2),
    paint("PY37", "cadmium yellow", &[Below(508.3, 5.02, 82.6), Flat(0.0313)], 10.2, 0.6, 0.2),
    paint("PY40", "aureolin", &[Below(475.5, 9.62, 64.2), Flat(0.22)], 0.788, 0.7, 0.2),
    paint("PY42", "yellow oxide", &[Below(512.5, 13.9, 27.6), Bell(648.5, 63.0, 0.858), Flat(0.136)], 5.24, 0.7, 0.6),
    paint("PY43", "yellow ochre", &[Below(513.5, 13.8, 25.6), Bell(648.6, 62.9, 0.868), Flat(0.163)], 4.62, 0.7, 0.6),
    paint("PY53", "nickel titanate yellow", &[Below(468.0, 10.0, 8.53), Flat(0.0418)], 8.05, 0.7, 0.2),
    paint("PY65", "arylide yellow deep", &[Below(511.1, 6.97, 56.1), Flat(0.0199)], 1.76, 0.8, 0.6),
    paint("PY73", "arylide yellow", &[Below(492.6, 6.01, 53.3), Flat(0.0185)], 1.84, 0.8, 0.6),
    paint("PY74", "arylide yellow", &[Below(492.6, 6.01, 58.6), Flat(0.0185)], 2.29, 0.8, 0.6),
    paint("PY83", "diarylide yellow", &[Below(511.1, 6.97, 58.8), Flat(0.0199)], 1.76, 0.8, 0.6),
    paint("PY97", "arylide yellow light", &[Below(486.6, 6.01, 50.6), Flat(0.0139)], 1.72, 0.8, 0.6),
    paint("PY110", "isoindolinone yellow", &[Below(519.1, 6.97, 64.1), Flat(0.0298)], 1.76, 0.8, 0.6),
    paint("PY129", "green gold", &[Below(483.7, 12.4, 74.3), Bell(653.4, 29.1, 4.27), Flat(0.0685)], 0.921, 0.8, 0.6),
    paint("PY139", "isoindoline yellow", &[Below(517.1, 7.96, 64.1), Flat(0.0298)], 1.66, 0.8, 0.6),
    paint("PY150", "nickel azo yellow", &[Below(481.5, 12.0, 96.3), Flat(0.183)], 0.63, 0.8, 0.6),
    paint("PY151", "benzimidazolone yellow", &[Below(488.6, 6.01, 53.3), Flat(0.0185)], 1.95, 0.8, 0.6),
    paint("PY154", "benzimidazolone yellow", &[Below(490.6, 6.01, 53.3), Flat(0.0185)], 2.07, 0.8, 0.6),
    paint("PY175", "benzimidazolone lemon", &[Below(472.2, 6.25, 57.6), Flat(0.0163), Bell(640.9, 57.6, 0.034)], 3.05, 0.8, 0.6),
    paint("PY184", "bismuth yellow", &[Below(480.0, 5.01, 51.2), Flat(0.0209)], 8.05, 0.7, 0.2),
    // Oranges.
    paint("PO20", "cadmium orange", &[Below(527.7, 9.85, 53.5), Flat(0.0237)], 5.73, 0.6, 0.2),
    paint("PO36", "benzimidazolone orange", &[Below(554.9, 7.71, 68.9), Flat(0.0449)], 2.35, 0.8, 0.6),
    paint("PO43", "perinone orange", &[Below(554.7, 5.49, 68.4), Flat(0.0294)], 2.12, 0.8, 0.6),
    paint("PO62", "benzimidazolone orange", &[Below(529.9, 7.43, 81.1), Flat(0.0175)], 2.08, 0.8, 0.6),
    paint("PO71", "transparent pyrrole orange", &[Below(548.7, 6.4, 57.9), Flat(0.0294)], 1.16, 0.8, 0.6),
    paint("PO73", "pyrrole orange", &[Below(552.7, 5.49, 63.2), Flat(0.0196)], 2.03, 0.8, 0.6),
    // Reds.
    paint("PR3", "toluidine red", &[Below(571.0, 5.07, 70.4), Flat(0.028)], 2.22, 0.8, 0.6),
    paint("PR83", "alizarin crimson", &[Below(585.6, 6.22, 48.1), Band(475.7, 568.8, 14.1, 9.05, 23.3), Flat(0.136)], 0.428, 0.8, 0.9),
    paint("PR101", "red oxide", &[Below(562.8, 8.78, 63.5), Bell(657.1, 53.3, 3.43), Flat(0.457)], 5.88, 0.6, 0.6),
    paint("PR102", "red ochre", &[Below(552.8, 12.7, 36.3), Bell(657.1, 64.0, 2.28), Flat(0.326)], 2.71, 0.7, 0.6),
    paint("PR108", "cadmium red", &[Below(575.8, 7.98, 43.4), Flat(0.0525)], 5.81, 0.6, 0.2),
    paint("PR112", "naphthol red", &[Below(577.0, 5.07, 73.4), Flat(0.028)], 2.22, 0.8, 0.6),
    paint("PR122", "quinacridone magenta", &[Band(470.7, 576.8, 10.9, 6.93, 103.0), Below(417.2, 18.1, 2.33), Flat(0.0789)], 0.676, 0.8, 0.9),
    paint("PR149", "perylene red", &[Below(581.9, 5.07, 83.5), Flat(0.0286)], 1.92, 0.8, 0.6),
    paint("PR170", "naphthol red deep", &[Below(583.0, 5.92, 76.3), Flat(0.0373)], 2.22, 0.8, 0.6),
    paint("PR177", "anthraquinone red", &[Below(585.6, 6.22, 44.1), Band(495.7, 578.8, 13.1, 7.24, 38.8), Flat(0.0679)], 0.611, 0.8, 0.9),
    paint("PR179", "perylene maroon", &[Below(596.3, 5.62, 66.2), Flat(0.0767)], 0.329, 0.8, 0.9),
    paint("PR188", "naphthol scarlet", &[Below(569.0, 5.07, 70.4), Flat(0.028)], 2.53, 0.8, 0.6),
    paint("PR206", "quinacridone burnt scarlet", &[Below(594.3, 8.75, 56.0), Band(480.0, 590.0, 20.0, 12.0, 8.0), Flat(0.128)], 0.247, 0.8, 0.6),
    paint("PR209", "quinacridone red", &[Band(478.3, 571.2, 16.8, 5.25, 72.3), Below(447.6, 22.8, 9.59), Flat(0.0304)], 1.46, 0.8, 0.9),
    paint("PR254", "pyrrole red", &[Below(581.9, 5.07, 87.0), Flat(0.0286)], 2.53, 0.7, 0.6),
    paint("PR255", "pyrrole scarlet", &[Below(575.9, 5.07, 87.0), Flat(0.0286)], 2.33, 0.7, 0.6),
    paint("PR264", "pyrrole rubine", &[Below(593.9, 5.92, 97.5), Flat(0.0476)], 1.52, 0.8, 0.9),
    // Violets.
    paint("PV14", "cobalt violet", &[Band(507.1, 593.5, 12.9, 6.34, 54.1), Flat(0.0616)], 0.977, 0.7, 0.2),
    paint("PV15", "ultramarine violet", &[Band(512.1, 613.5, 14.6, 7.93, 46.3), Below(400.7, 18.3, 1.42), Flat(0.0616)], 0.827, 0.7, 0.2),
    paint("PV16", "manganese violet", &[Band(507.1, 578.5, 12.9, 5.55, 54.1), Flat(0.128)], 1.05, 0.7, 0.2),
    paint("PV19", "quinacridone rose", &[Band(476.3, 579.2, 18.9, 6.12, 81.3), Below(427.6, 18.7, 8.39), Flat(0.0532)], 0.938, 0.8, 0.9),
    paint("PV23", "dioxazine violet", &[Band(508.4, 622.7, 5.96, 5.06, 130.0), Below(423.1, 6.99, 32.2), Flat(0.0544)], 0.0612, 0.8, 0.9),
    // Blues.
    paint("PB15", "phthalo blue, red shade", &[Band(536.6, 740.0, 6.42, 29.9, 292.0), Flat(0.42)], 0.0899, 0.8, 0.9),
    paint("PB15:1", "phthalo blue, red shade", &[Band(538.6, 740.0, 6.88, 29.9, 292.0), Flat(0.42)], 0.0899, 0.8, 0.9),
    paint("PB15:3", "phthalo blue, green shade", &[Band(541.3, 739.9, 4.7, 30.1, 377.0), Flat(0.542)], 0.197, 0.8, 0.9),
    paint("PB15:4", "phthalo blue, green shade", &[Band(543.3, 739.9, 4.7, 30.1, 377.0), Flat(0.2)], 0.197, 0.8, 0.9),
    paint("PB15:6", "phthalo blue, red shade", &[Band(525.6, 740.0, 6.88, 29.9, 292.0), Flat(0.42)], 0.0899, 0.8, 0.9),
    paint("PB16", "phthalo turquoise", &[Band(561.3, 759.9, 5.64, 30.1, 233.0), Flat(0.0835)], 0.23, 0.8, 0.9),
    paint("PB27", "Prussian blue", &[Band(526.6, 789.0, 2.74, 38.0, 191.0), Flat(1.13)], 0.0266, 0.8, 0.9),
    paint("PB28", "cobalt blue", &[Band(543.5, 671.3, 16.1, 12.1, 74.6), Flat(0.738)], 5.9, 0.6, 0.2),
    paint("PB29", "ultramarine blue", &[Band(522.8, 679.8, 12.2, 12.1, 42.7), Flat(0.0199)], 0.0878, 0.8, 0.2),
    paint("PB33", "manganese blue", &[Band(580.2, 740.1, 15.8, 29.9, 52.9), Flat(1.47)], 6.05, 0.6, 0.2),
    paint("PB35", "cerulean blue", &[Band(562.2, 720.1, 11.1, 16.0, 60.4), Flat(0.979)], 8.88, 0.6, 0.2),
    paint("PB36", "cobalt turquoise", &[Band(561.2, 716.4, 14.7, 19.7, 93.5), Below(435.9, 24.1, 11.3), Flat(0.778)], 5.16, 0.6, 0.2),
    paint("PB60", "indanthrone blue", &[Band(514.8, 739.1, 4.25, 31.7, 117.0), Flat(0.058), Bell(451.0, 9.25, 16.6), Bell(650.3, 48.7, 0.294)], 0.053, 0.8, 0.9),
    paint("PB74", "cobalt blue deep", &[Band(537.5, 667.3, 16.1, 12.1, 67.2), Flat(0.922)], 5.9, 0.6, 0.2),
    // Greens.
    paint("PG7", "phthalo green, blue shade", &[Band(536.4, 739.6, 6.34, 30.7, 137.0), Below(454.0, 4.38, 199.0), Flat(0.0444)], 0.214, 0.8, 0.9),
    paint("PG36", "phthalo green, yellow shade", &[Band(541.1, 739.4, 5.41, 31.0, 94.3), Below(466.2, 5.32, 101.0), Flat(0.0466)], 0.302, 0.8, 0.9),
    paint("PG8", "Hooker green", &[Band(562.3, 756.8, 4.83, 33.1, 81.5), Below(492.0, 5.41, 186.0), Flat(0.0716)], 0.265, 0.7, 0.6),
    paint("PG17", "chromium oxide green", &[Band(556.9, 690.3, 21.9, 21.8, 22.0), Below(473.2, 24.5, 52.2), Flat(0.484)], 11.1, 0.6, 0.2),
    paint("PG18", "viridian", &[Band(522.3, 696.8, 4.02, 22.1, 40.8), Below(460.0, 4.92, 82.8), Flat(0.0627)], 0.582, 0.6, 0.2),
    paint("PG19", "cobalt green", &[Band(565.0, 690.3, 17.6, 17.9, 40.1), Below(458.2, 22.0, 40.0), Flat(0.229)], 7.93, 0.6, 0.2),
    paint("PG23", "green earth", &[Band(586.9, 720.7, 3.33, 28.6, 52.4), Below(538.9, 3.1, 42.0), Flat(0.0508)], 0.907, 0.6, 0.2),
    paint("PG50", "cobalt titanate green", &[Band(580.6, 720.1, 17.8, 19.9, 66.9), Below(449.8, 17.9, 25.8), Flat(0.122)], 7.45, 0.6, 0.2),
    // Earths.
    paint("PBr7", "burnt sienna", &[Below(533.3, 15.0, 60.6), Bell(653.9, 11.4, 108.0), Flat(0.0345)], 0.468, 0.6, 0.6),
    paint("PBr24", "chrome titanate yellow", &[Below(516.0, 11.0, 16.0), Flat(0.2)], 9.0, 0.6, 0.6),
    paint("PBr25", "benzimidazolone brown", &[Below(588.3, 8.75, 66.2), Flat(0.23)], 0.411, 0.7, 0.6),
    // Blacks.
    paint("PBk6", "lamp black", &[Flat(82.9), Below(450.0, 80.2, 6.09)], 0.597, 0.5, 0.6),
    paint("PBk7", "carbon black", &[Flat(86.7), Below(450.0, 80.2, 8.12)], 0.597, 0.5, 0.6),
    paint("PBk9", "bone black", &[Flat(44.6), Above(559.9, 60.0, 5.56)], 0.598, 0.5, 0.6),
    paint("PBk11", "Mars black", &[Flat(58.3), Below(460.0, 80.1, 4.03)], 5.65, 0.5, 0.6),
];

/// Other paints of one name, each with the words of a tube's name that tell it. The first that fits is meant.
#[rustfmt::skip]
pub(super) const FORMS: &[(&[&str], TypicalPaint)] = &[
    (&["medium"], paint("PY35", "cadmium yellow medium", &[Below(511.1, 5.1, 94.5), Flat(0.0324)], 8.76, 0.6, 0.2)),
    (&["deep"], paint("PY35", "cadmium yellow deep", &[Below(519.4, 6.03, 110.0), Flat(0.0321)], 7.91, 0.6, 0.2)),
    (&["transparent"], paint("PY42", "transparent yellow oxide", &[Below(509.4, 11.5, 32.4), Bell(651.6, 56.3, 0.376), Flat(0.0957)], 0.844, 0.7, 0.6)),
    (&["transparent"], paint("PR101", "transparent red oxide", &[Below(555.0, 3.77, 79.8), Bell(714.5, 48.0, 7.3), Flat(0.0561)], 0.635, 0.6, 0.6)),
    (&["violet"], paint("PV19", "quinacridone violet", &[Band(466.2, 588.0, 10.9, 6.42, 111.0), Below(421.0, 19.1, 2.85), Flat(0.0585)], 0.42, 0.8, 0.9)),
    (&["green"], paint("PB15", "phthalo blue, green shade", &[Band(541.3, 739.9, 4.7, 30.1, 377.0), Flat(0.542)], 0.197, 0.8, 0.9)),
    (&["raw", "umber"], paint("PBr7", "raw umber", &[Below(502.5, 43.2, 74.9), Bell(643.7, 60.0, 14.3), Flat(0.0543)], 1.14, 0.6, 0.6)),
    (&["umber"], paint("PBr7", "burnt umber", &[Below(503.0, 64.2, 103.0), Bell(650.1, 60.0, 0.0398), Flat(0.0554)], 3.17, 0.6, 0.6)),
    (&["raw"], paint("PBr7", "raw sienna", &[Below(525.0, 7.01, 32.8), Bell(666.8, 61.5, 1.76), Flat(0.0961)], 1.31, 0.6, 0.6)),
];
