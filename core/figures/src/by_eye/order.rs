//! An order by eye: which of two is greener, warmer or cleaner, pair by pair.

use study::Which;

/// Two of the things, by their places, to be looked at together.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Pick {
    /// The one that is shown first.
    pub first: usize,
    /// The other.
    pub second: usize,
}

/// Most questions that so many things take: n·log2 n + n.
#[must_use]
pub fn most_questions(count: usize) -> usize {
    let n = count as f64;
    if count < 2 { 0 } else { (n * n.log2() + n).floor() as usize }
}

/// What the answers so far tell of an order.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct EyeOrder {
    count: usize,
    /// By first and second: how often the first won less how often the second did, how often both were looked
    /// at together, and how often one of them won.
    wins: Vec<i32>,
    looks: Vec<u32>,
    decided: Vec<u32>,
    answers: usize,
}

/// Looks that a pair of neighbours gets before it is trusted, as far as the questions last.
const SURE: i32 = 2;

impl EyeOrder {
    /// Takes in answers about `count` things, oldest first; pairs that are not of them are left out.
    pub fn of(count: usize, answers: impl IntoIterator<Item = (Pick, Which)>) -> Self {
        let pairs = count * count;
        let (wins, looks, decided) = (vec![0; pairs], vec![0; pairs], vec![0; pairs]);
        let mut order = Self { count, wins, looks, decided, answers: 0 };
        for (Pick { first, second }, answer) in answers {
            if first == second || first >= count || second >= count {
                continue;
            }
            let won = match answer {
                Which::First => 1,
                Which::Neither => 0,
                Which::Second => -1,
            };
            order.wins[first * count + second] += won;
            order.wins[second * count + first] -= won;
            for pair in [first * count + second, second * count + first] {
                order.looks[pair] += 1;
                order.decided[pair] += u32::from(won != 0);
            }
            order.answers += 1;
        }
        order
    }

    /// How many answers count.
    #[must_use]
    pub fn answers(&self) -> usize {
        self.answers
    }

    fn wins(&self, one: usize, other: usize) -> i32 {
        self.wins[one * self.count + other]
    }

    fn looks(&self, one: usize, other: usize) -> u32 {
        self.looks[one * self.count + other]
    }

    /// How often one of the two won.
    fn decided(&self, one: usize, other: usize) -> u32 {
        self.decided[one * self.count + other]
    }

    /// The pair to be looked at next; `None` when the order stands, or the questions are used up.
    #[must_use]
    pub fn next(&self) -> Option<Pick> {
        if self.answers >= most_questions(self.count) {
            return None;
        }
        match self.placed() {
            (_, Some(pick)) => Some(pick),
            (order, None) => self.to_confirm(&self.settled(order)),
        }
    }

    /// The things in order, the first first; those that nobody could tell apart stand together. `None` while
    /// some have not been placed, and there are questions left to place them.
    #[must_use]
    pub fn groups(&self) -> Option<Vec<Vec<usize>>> {
        let (order, open) = self.placed();
        if open.is_some() && self.answers < most_questions(self.count) {
            return None;
        }
        let order = self.settled(order);
        let mut groups: Vec<Vec<usize>> = Vec::new();
        for thing in order {
            match groups.last_mut() {
                Some(group) if group.last().is_some_and(|last| self.tied(*last, thing)) => {
                    group.push(thing);
                }
                _ => groups.push(vec![thing]),
            }
        }
        Some(groups)
    }

    /// Pairs of which the answers say one thing once and the other another time.
    #[must_use]
    pub fn contradictions(&self) -> Vec<Pick> {
        let mut found = Vec::new();
        for first in 0..self.count {
            for second in first + 1..self.count {
                let won = self.wins(first, second);
                if won.unsigned_abs() < self.decided(first, second) && won.abs() < SURE {
                    found.push(Pick { first, second });
                }
            }
        }
        found
    }

    fn tied(&self, one: usize, other: usize) -> bool {
        self.looks(one, other) > 0 && self.wins(one, other) == 0
    }

    /// Each thing put between those that were placed before, by halves; and the first pair that has to be looked
    /// at, where one cannot be placed surely yet.
    fn placed(&self) -> (Vec<usize>, Option<Pick>) {
        let mut order: Vec<usize> = Vec::with_capacity(self.count);
        let mut open = None;
        for thing in 0..self.count {
            let (mut low, mut high) = (0, order.len());
            while low < high {
                let middle = usize::midpoint(low, high);
                let other = order[middle];
                if self.looks(thing, other) == 0 {
                    open = open.or(Some(Pick { first: thing, second: other }));
                    (low, high) = (middle, middle);
                    continue;
                }
                match self.wins(thing, other) {
                    won if won > 0 => high = middle,
                    0 => (low, high) = (middle + 1, middle + 1),
                    _ => low = middle + 1,
                }
            }
            order.insert(low, thing);
        }
        (order, open)
    }

    /// Neighbours that were looked at and stand the wrong way round change places.
    fn settled(&self, mut order: Vec<usize>) -> Vec<usize> {
        for _ in 0..self.count {
            let mut moved = false;
            for at in 1..order.len() {
                if self.wins(order[at], order[at - 1]) > 0 {
                    order.swap(at, at - 1);
                    moved = true;
                }
            }
            if !moved {
                break;
            }
        }
        order
    }

    /// The neighbours that least is known of; `None` where each was seen often enough.
    fn to_confirm(&self, order: &[usize]) -> Option<Pick> {
        let unsure = order.windows(2).filter(|pair| {
            let (won, looks) = (self.wins(pair[0], pair[1]), self.looks(pair[0], pair[1]));
            // Twice the same is enough, and so is twice no difference.
            let no_difference = looks >= 2 && self.decided(pair[0], pair[1]) == 0;
            won.abs() < SURE && !no_difference && looks < 5
        });
        let pair = unsure
            .min_by_key(|pair| (self.looks(pair[0], pair[1]), self.wins(pair[0], pair[1]).abs()))?;
        // The other way round than before: who always says "the first" is found out.
        let turned = self.looks(pair[0], pair[1]) % 2 == 1;
        let (first, second) = if turned { (pair[1], pair[0]) } else { (pair[0], pair[1]) };
        Some(Pick { first, second })
    }
}
