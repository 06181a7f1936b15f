//! What pairs are forecast to do, and greys, against what hidden paints do.

use colour::{BANDS, Lab, ciede2000, wavelength};
use decide::{Forecast, Paints, Shares, grey_pair, grey_pairs};
use figures::{Grade, loss_of_chroma};
use mixing::InternalReflectance;

use super::bench::{Bench, percentile};

const CODES: [&str; 12] = [
    "PY3", "PY74", "PY83", "PO73", "PR254", "PR122", "PV23", "PB29", "PB15:3", "PG7", "PG36",
    "PBr7",
];

/// Parts of the second tube to one of the first at equal strength, as the forecast takes them.
fn equal(paints: &Paints, [one, other]: [usize; 2]) -> f64 {
    let white = paints.white.as_ref().expect("a white");
    let height = |tube: usize| {
        let paint = &paints.tubes[tube].constants;
        let added = |band: usize| {
            (paint.k[band] + 4.0 * white.k[band]) / (paint.s[band] + 4.0 * white.s[band])
                - white.k[band] / white.s[band]
        };
        (0..BANDS).map(added).fold(0.0, f64::max)
    };
    height(one) / height(other)
}

/// What the hidden paints' mixture loses with white, and which parent takes most of the light in its window.
fn really(bench: &Bench, [one, other]: [usize; 2]) -> Option<(f64, f64)> {
    let parts = equal(&bench.paints, [one, other]);
    let tint = |shares: &[(usize, f64)]| Shares::of(shares, 0.0).tinted(4.0);
    let mixed = tint(&[(one, 1.0), (other, parts)]);
    let colours = [mixed.clone(), tint(&[(one, 1.0)]), tint(&[(other, 1.0)])];
    let loss = loss_of_chroma(colours.map(|it| bench.true_lab(&it)))?;
    // Blame: what each parent really absorbs above the white, in the third where the true mixture absorbs least.
    let absorbed = |shares: &Shares| -> Vec<f64> {
        let read = bench.truth(shares);
        let inside = InternalReflectance::from_measured(&read, bench.paints.surface);
        let of = |band: usize| {
            let inside = inside.bands()[band].clamp(0.001, 0.9999);
            (1.0 - inside).powi(2) / (2.0 * inside)
        };
        (0..BANDS).map(of).collect()
    };
    let white = absorbed(&Shares::of(&[], 1.0));
    let third = |shares: &Shares, (from, to): (u16, u16)| {
        let read = absorbed(shares);
        let bands: Vec<f64> = (0..BANDS)
            .filter(|band| (from..=to).contains(&wavelength(*band)))
            .map(|band| (read[band] - white[band]).max(0.0))
            .collect();
        bands.iter().sum::<f64>() / bands.len() as f64
    };
    let windows = [(400, 490), (500, 580), (590, 700)];
    let window =
        windows.into_iter().min_by(|a, b| third(&mixed, *a).total_cmp(&third(&mixed, *b)))?;
    // What each brings into the mixture is what its own tint absorbs, by its share.
    let brought = [(one, 1.0), (other, parts)]
        .map(|(tube, parts)| parts * third(&tint(&[(tube, 1.0)]), window));
    Some((loss.max(0.0), brought[0] / (brought[0] + brought[1])))
}

#[test]
fn pairs_lose_what_was_forecast() {
    let (mut off, mut same_grade, mut blamed) = (Vec::new(), Vec::new(), Vec::new());
    for seed in [1, 2] {
        let bench = Bench::new(seed, &CODES);
        for one in 0..CODES.len() {
            for other in one + 1..CODES.len() {
                let pair = [one, other].map(|tube| &bench.paints.tubes[tube].constants);
                let told = Forecast::of(&bench.paints, pair[0], pair[1]).expect("a white");
                let Some((loss, blame)) = really(&bench, [one, other]) else { continue };
                let Some(forecast) = told.loss else { continue };
                off.push(100.0 * (forecast - loss));
                same_grade.push(Grade::of(forecast) == Grade::of(loss));
                if let Some(parent) = told.reason.and_then(|it| it.blamed()) {
                    blamed.push((parent == 0) == (blame >= 0.5));
                }
            }
        }
    }
    let rms = (off.iter().map(|it| it * it).sum::<f64>() / off.len() as f64).sqrt();
    let share = |of: &[bool]| of.iter().filter(|it| **it).count() as f64 / of.len() as f64;
    println!(
        "| forecast | {} pairs | {rms:.2} points rms | same grade {:.3} | blamed rightly {:.3} of {} |",
        off.len(),
        share(&same_grade),
        share(&blamed),
        blamed.len()
    );
    assert!(off.len() > 100 && rms <= 2.0, "{rms}");
    assert!(share(&same_grade) >= 0.95, "{}", share(&same_grade));
    assert!(blamed.len() > 20 && share(&blamed) >= 0.95, "{}", share(&blamed));
}

/// Mass tones from K and S.
#[test]
fn mass_tones_lose_about_what_was_forecast() {
    let (mut off, mut same_grade) = (Vec::new(), Vec::new());
    for seed in [1, 2] {
        let bench = Bench::new(seed, &CODES);
        let told = |shares: &Shares| bench.paints.colour(shares).expect("known");
        for one in 0..CODES.len() {
            for other in one + 1..CODES.len() {
                let parts = equal(&bench.paints, [one, other]);
                let all = [
                    Shares::of(&[(one, 1.0), (other, parts)], 0.0),
                    Shares::of(&[(one, 1.0)], 0.0),
                    Shares::of(&[(other, 1.0)], 0.0),
                ];
                let loss = |of: &dyn Fn(&Shares) -> Lab| {
                    loss_of_chroma([of(&all[0]), of(&all[1]), of(&all[2])]).map(|it| it.max(0.0))
                };
                let pair = (loss(&told), loss(&|shares: &Shares| bench.true_lab(shares)));
                if let (Some(told), Some(really)) = pair {
                    off.push(100.0 * (told - really));
                    same_grade.push(Grade::of(told) == Grade::of(really));
                }
            }
        }
    }
    let rms = (off.iter().map(|it| it * it).sum::<f64>() / off.len() as f64).sqrt();
    let same = same_grade.iter().filter(|it| **it).count() as f64 / same_grade.len() as f64;
    println!("| mass tones | {} pairs | {rms:.1} points rms | same grade {same:.3} |", off.len());
    assert!(off.len() > 100 && rms <= 10.0 && same >= 0.80, "{rms} {same}");
}

/// The largest C* of mass tone and tints of the true mixture.
fn true_chroma(bench: &Bench, shares: &Shares) -> f64 {
    let tints = decide::GREY_TINTS.map(|white| bench.true_lab(&shares.tinted(white)).chroma());
    tints.into_iter().fold(0.0, f64::max)
}

#[test]
fn greys_are_found_at_their_ratio() {
    let (mut ratio_off, mut excess, mut partner) = (Vec::new(), Vec::new(), Vec::new());
    for seed in [1, 2, 3] {
        let bench = Bench::new(seed, &CODES);
        let tubes = bench.tubes();
        for one in &tubes {
            let mut found: Vec<(f64, f64)> = Vec::new();
            for other in tubes.iter().filter(|it| *it != one) {
                let grey = grey_pair(&bench.paints, *one, *other).expect("a grey");
                let (own, parts) = (grey.chroma, grey.ratio().expect("two"));
                // Far from neutral no ratio is the best in any sense.
                if own > 15.0 {
                    continue;
                }
                let ((first, _), second) = (grey.shares.tubes[0], grey.shares.tubes[1]);
                let chroma = |ln: f64| {
                    let moved = Shares::of(&[(first, 1.0), (second.0, parts * ln.exp())], 0.0);
                    true_chroma(&bench, &moved)
                };
                let best = (-24..=24).map(|step| f64::from(step) / 20.0);
                let best = best.min_by(|a, b| chroma(*a).total_cmp(&chroma(*b))).expect("some");
                if grey.neutralises() && one < other {
                    ratio_off.push(best.abs());
                    excess.push(chroma(0.0) - chroma(best));
                }
                found.push((own, chroma(best)));
            }
            // The partner that is told first, against the best there is.
            let told = found.iter().min_by(|a, b| a.0.total_cmp(&b.0));
            let best = found.iter().map(|it| it.1).fold(f64::INFINITY, f64::min);
            partner.extend(told.map(|it| it.1 - best));
        }
        assert!(
            grey_pairs(&bench.paints, &tubes).windows(2).all(|it| it[0].chroma <= it[1].chroma)
        );
    }
    let (middle, most) = (percentile(&ratio_off, 0.5), percentile(&ratio_off, 0.9));
    let (worst, partner) = (percentile(&excess, 0.95), percentile(&partner, 0.95));
    println!(
        "| greys | {} | ln ratio off {middle:.3}, {most:.3} | C* in excess {worst:.2} | best partner within {partner:.2} |",
        ratio_off.len()
    );
    assert!(ratio_off.len() > 20 && middle <= 0.12 && most <= 0.35, "{middle} {most}");
    assert!(worst <= 0.8 && partner <= 1.0, "{worst} {partner}");
}

/// A greenish grey is cured by very little of a cold red, and an orange red turns it brown (common practice, no source).
#[test]
fn a_cast_is_taken_by_the_right_tube() {
    let bench = Bench::new(1, &["PBk9", "PY43", "PV19", "PR122", "PR108", "PB29"]);
    let grey = Shares::of(&[(0, 1.0), (1, 1.0)], 12.0);
    let cast = bench.true_lab(&grey);
    let cures = decide::cast_cures(&bench.paints, &grey, &bench.tubes());
    let first = &cures[0];
    assert!([2, 3].contains(&first.tube) || first.tube == 5, "{cures:?} of {cast:?}");
    let red = cures.iter().find(|it| [2, 3].contains(&it.tube)).expect("a cold red");
    assert!(red.parts < 0.02 && !red.turns, "{red:?}");
    let orange = cures.iter().find(|it| it.tube == 4);
    assert!(orange.is_none_or(|it| it.to.chroma() > red.to.chroma()), "{cures:?}");
    let cured = Shares::of(&[(0, 1.0), (1, 1.0), (red.tube, red.parts * 14.0)], 12.0);
    let after = bench.true_lab(&cured);
    assert!(after.chroma() < 0.5 * cast.chroma(), "{cast:?} {after:?}");
    assert!(ciede2000(after, red.to).value() < 1.0);
}
