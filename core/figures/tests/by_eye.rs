//! Strength and order by eye, against simulated observers: a just noticeable difference of 1.5 to 2.5 ΔE*ab in
//! depth, and 5 % of answers that have nothing to do with what is seen (ours, as docs/science.md says).

use colour::{Conditions, Lab, delta_e_ab};
use figures::by_eye::{EyeOrder, EyeStrength, HeldTint, most_questions};
use mixing::predict;
use mixing::typical::typical_constants;
use rand::rngs::StdRng;
use rand::{Rng as _, SeedableRng as _};
use rand_distr::{Distribution as _, Normal};
use study::{Depth, Which};

/// Depth by parts of white, from typical K and S of a pigment, tabled finely.
struct Depths(Vec<f64>);

const FINE: f64 = 40.0;

impl Depths {
    fn of(pigment: &str) -> Self {
        let paint = typical_constants("", [pigment]).expect("a typical paint");
        let white = typical_constants("", ["PW6"]).expect("a typical white");
        let colour = |parts: f64| {
            let share = 1.0 / (1.0 + parts);
            let film = predict(&[(share, &paint), (1.0 - share, &white)], None);
            Lab::from_reflectance(&film.to_measured(None), Conditions::D65_10)
        };
        let bare = colour(1e9);
        let at = |step: usize| delta_e_ab(colour((step as f64 / FINE - 8.0).exp()), bare).value();
        Self((0..=(16.0 * FINE) as usize).map(at).collect())
    }

    fn at(&self, parts: f64) -> f64 {
        let place = ((parts.ln() + 8.0) * FINE).clamp(0.0, self.0.len() as f64 - 1.001);
        let below = place as usize;
        self.0[below] + (place - below as f64) * (self.0[below + 1] - self.0[below])
    }
}

/// One observer with one pair of tubes: asked until another look would not help. Strength, range and questions.
fn observed(random: &mut StdRng, depths: &Depths, sigma: f64) -> (f64, [f64; 2], usize) {
    let strength = (random.random_range(-1.0..1.0) * 3.0_f64.ln()).exp();
    let noticeable = random.random_range(1.5..2.5);
    let error = Normal::new(0.0, sigma).expect("a spread");
    let ladder = [1.0, 2.0, 4.0, 8.0, 16.0];
    let held = ladder.map(|white| HeldTint { white, sigma });
    // What was really put out.
    let really = |random: &mut StdRng| ladder.map(|white: f64| white * error.sample(random).exp());
    let (own, standards) = (really(random), really(random));
    let mut eye = EyeStrength::new(&held, &held, |parts| depths.at(parts));
    while let Some(next) = eye.next() {
        let sample = depths.at(own[next.sample] / strength);
        let difference = sample - depths.at(standards[next.standard]);
        // Half of the observers have a sharp threshold, half a soft one.
        let blur = Normal::new(0.0, noticeable).expect("a spread");
        let seen =
            if noticeable < 2.0 { difference } else { difference + 0.5 * blur.sample(random) };
        let answer = match seen {
            _ if random.random_bool(0.05) => Depth::ALL[random.random_range(0..3)],
            seen if seen > noticeable => Depth::Deeper,
            seen if seen < -noticeable => Depth::Paler,
            _ => Depth::Same,
        };
        eye.take(next, answer);
    }
    (strength, eye.range().expect("an answer"), eye.answers())
}

/// The true strength lies in the range in at least 93 % of 1,000 runs; the median range is at most 0.75 to 1.3
/// times with weighed parts and 0.5 to 2 by eye; nobody is asked more than five times.
#[test]
fn the_range_by_eye_holds_the_strength() {
    for (pigment, sigma, widest) in [
        ("PB29", 0.02, [0.75, 1.3]),
        ("PB29", 0.25, [0.5, 2.0]),
        ("PY74", 0.02, [0.75, 1.3]),
        ("PY74", 0.25, [0.5, 2.0]),
    ] {
        let depths = Depths::of(pigment);
        let mut random = StdRng::seed_from_u64(11);
        let mut held = 0;
        let (mut lows, mut highs) = (Vec::new(), Vec::new());
        for _ in 0..250 {
            let (strength, [low, high], asked) = observed(&mut random, &depths, sigma);
            assert!(asked <= 5);
            held += usize::from((low..=high).contains(&strength));
            lows.push(low / strength);
            highs.push(high / strength);
        }
        lows.sort_by(f64::total_cmp);
        highs.sort_by(f64::total_cmp);
        let median = [lows[125], highs[125]];
        assert!(held * 100 >= 250 * 93, "{pigment}, {sigma}: held in {held} of 250");
        assert!(median[0] >= widest[0] && median[1] <= widest[1], "{pigment}, {sigma}: {median:?}");
    }
}

/// Sorting `count` things that differ by more than two just noticeable differences; `None` where the order is
/// right, else how many neighbours stand the wrong way round.
fn sorted(random: &mut StdRng, count: usize) -> (usize, usize) {
    let mut truth: Vec<usize> = (0..count).collect();
    for at in (1..count).rev() {
        truth.swap(at, random.random_range(0..=at));
    }
    let mut answers = Vec::new();
    loop {
        let order = EyeOrder::of(count, answers.iter().copied());
        let Some(pick) = order.next() else {
            let groups = order.groups().expect("an order");
            let flat: Vec<usize> = groups.concat();
            let wrong = flat.windows(2).filter(|pair| truth[pair[0]] > truth[pair[1]]).count();
            return (wrong, answers.len());
        };
        // Two just noticeable differences apart, and one blur of the eye.
        let apart = (truth[pick.second] as f64 - truth[pick.first] as f64) * 2.2;
        let seen = apart + Normal::new(0.0, 0.5).expect("a spread").sample(random);
        let answer = match seen {
            _ if random.random_bool(LAPSE) => Which::ALL[random.random_range(0..3)],
            seen if seen > 1.0 => Which::First,
            seen if seen < -1.0 => Which::Second,
            _ => Which::Neither,
        };
        answers.push((pick, answer));
    }
}

/// Answers that have nothing to do with what is seen.
const LAPSE: f64 = 0.05;

/// At most n·log2 n + n questions; the right order in 95 % for up to seven things, and above at most 5 % of
/// neighbours swapped.
#[test]
fn an_order_by_eye_is_right() {
    let mut random = StdRng::seed_from_u64(7);
    for count in 2..=24 {
        let (runs, mut right, mut wrong) = (400, 0, 0);
        for _ in 0..runs {
            let (swapped, asked) = sorted(&mut random, count);
            assert!(asked <= most_questions(count), "{asked} questions for {count}");
            right += usize::from(swapped == 0);
            wrong += swapped;
        }
        let share = wrong as f64 / (runs * (count - 1)) as f64;
        if count <= 7 {
            assert!(right * 100 >= runs * 95, "{count}: {right} of {runs}");
        } else {
            assert!(share <= 0.05, "{count}: {share}");
        }
    }
}

/// Answers that contradict each other are found, and what nobody can tell apart stands together.
#[test]
fn ties_stand_together_and_contradictions_are_said() {
    use figures::by_eye::Pick;
    let pick = |first, second| Pick { first, second };
    let order = EyeOrder::of(
        3,
        [
            (pick(1, 0), Which::Neither),
            (pick(0, 1), Which::Neither),
            (pick(2, 1), Which::Second),
            (pick(1, 2), Which::First),
            (pick(2, 0), Which::Second),
        ],
    );
    assert_eq!(order.groups(), Some(vec![vec![0, 1], vec![2]]));
    assert!(order.contradictions().is_empty());
    let torn = EyeOrder::of(2, [(pick(0, 1), Which::First), (pick(1, 0), Which::First)]);
    assert_eq!(torn.contradictions(), [pick(0, 1)]);
    assert!(torn.next().is_some(), "and asked again");
}
