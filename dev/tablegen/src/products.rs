//! Cross-products of a Dickey-Fuller regression with any number of lags, and what eliminating
//! the lags one after the other leaves of them.

use std::array::from_fn;

use kandrel_core::lag::Criterion;
use kandrel_core::num::sum::dot;

use crate::gram::Gram;

/// Cross-products of constant, clock, lagged level and changes `x_{t-i}`,
/// `i = 0..=longest`, over rows `t = p+1..n`, for falling p.
pub struct Products {
    n: usize,
    walk: Vec<f64>,
    steps: Vec<f64>,
    width: usize,
    gram: Vec<f64>,
}

/// Columns: 0 constant, 1 clock, 2 lagged level, 3 + i the change i periods before.
const CONSTANT: usize = 0;
const CLOCK: usize = 1;
const LEVEL: usize = 2;
const CHANGE: usize = 3;

impl Products {
    /// Of a series by its first value and its changes.
    pub fn new(steps: &[f64], longest: usize) -> Self {
        let n = steps.len();
        let mut walk = steps.to_vec();
        for t in 1..n {
            walk[t] += walk[t - 1];
        }
        let width = CHANGE + longest + 1;
        let mut products = Self { n, walk, steps: steps.to_vec(), width, gram: vec![0.0; width * width] };
        products.fill_changes(longest);
        products.fill_others(longest);
        products
    }

    fn at(&self, i: usize, j: usize) -> f64 {
        self.gram[i * self.width + j]
    }

    fn set(&mut self, i: usize, j: usize, value: f64) {
        self.gram[i * self.width + j] = value;
        self.gram[j * self.width + i] = value;
    }

    /// Changes among each other: the first row directly, the others by moving
    /// the window one period and mending its ends.
    fn fill_changes(&mut self, longest: usize) {
        let (n, first) = (self.n, longest + 1);
        for j in 0..=longest {
            let direct = dot(&self.steps[first..n], &self.steps[first - j..n - j]);
            self.set(CHANGE, CHANGE + j, direct);
        }
        for i in 0..longest {
            for j in i..longest {
                let entering = self.steps[longest - i] * self.steps[longest - j];
                let leaving = self.steps[n - 1 - i] * self.steps[n - 1 - j];
                let moved = self.at(CHANGE + i, CHANGE + j) + entering - leaving;
                self.set(CHANGE + i + 1, CHANGE + j + 1, moved);
            }
        }
    }

    fn fill_others(&mut self, longest: usize) {
        let (n, first) = (self.n, longest + 1);
        let clock: Vec<f64> = (first..n).map(|t| self.clock(t)).collect();
        let levels = self.walk[first - 1..n - 1].to_vec();
        self.set(CONSTANT, CONSTANT, (n - first) as f64);
        self.set(CONSTANT, CLOCK, clock.iter().sum());
        self.set(CLOCK, CLOCK, dot(&clock, &clock));
        self.set(CONSTANT, LEVEL, levels.iter().sum());
        self.set(CLOCK, LEVEL, dot(&clock, &levels));
        self.set(LEVEL, LEVEL, dot(&levels, &levels));
        // The column of changes i periods back is that of i - 1 moved by one
        // period: products with clock and level follow from the ones before.
        let (mut by_clock, mut by_level) =
            (dot(&clock, &self.steps[first..]), dot(&levels, &self.steps[first..]));
        for i in 0..=longest {
            let sum = self.walk[n - 1 - i] - self.walk[first - 1 - i];
            self.set(CONSTANT, CHANGE + i, sum);
            self.set(CLOCK, CHANGE + i, by_clock);
            self.set(LEVEL, CHANGE + i, by_level);
            if i < longest {
                let (entering, leaving) = (self.steps[longest - i], self.steps[n - 1 - i]);
                by_clock += self.clock(longest) * entering - self.clock(n - 1) * leaving;
                by_clock += (sum + entering - leaving) / n as f64;
                by_level += self.walk[longest] * entering - self.walk[n - 1] * leaving;
                by_level += self.at(CHANGE, CHANGE + i);
            }
        }
    }

    fn clock(&self, t: usize) -> f64 {
        (t as f64 - 0.5 * self.n as f64) / self.n as f64
    }

    /// Row `t = p` comes in when the lags fall from `p` to `p - 1`.
    pub fn add_row(&mut self, t: usize) {
        let mut row = vec![1.0, self.clock(t), self.walk[t - 1]];
        row.extend((0..t).map(|i| self.steps[t - i]));
        for (own, products) in row.iter().zip(self.gram.chunks_exact_mut(self.width)) {
            for (value, other) in products.iter_mut().zip(&row) {
                *value += own * other;
            }
        }
    }

    /// Of lagged changes, lagged level and change, without constant and clock.
    pub fn without_terms(&self, lags: usize) -> Gram {
        let mut columns: Vec<usize> = (CHANGE + 1..=CHANGE + lags).collect();
        columns.extend([LEVEL, CHANGE]);
        let size = columns.len();
        let cells = columns.iter().flat_map(|i| columns.iter().map(|j| self.at(*i, *j))).collect();
        Gram { size, cells }
    }

    /// Eliminates the lags one after the other and keeps, after each, what is
    /// left of the cross-products of constant, clock, level and change.
    pub fn stages(&self, longest: usize) -> Stages {
        let k = longest + 4;
        let mut work = vec![0.0; k * k];
        for (i, row) in work.chunks_exact_mut(k).enumerate() {
            let column =
                if i < longest { CHANGE + 1 + i } else { [CONSTANT, CLOCK, LEVEL, CHANGE][i - longest] };
            let products = &self.gram[column * self.width..(column + 1) * self.width];
            let (lags, others) = row.split_at_mut(longest);
            lags.copy_from_slice(&products[CHANGE + 1..CHANGE + 1 + longest]);
            // Constant, clock, level and change are side by side.
            others.copy_from_slice(&products[..=CHANGE]);
        }
        let mut after = Vec::with_capacity(k);
        let mut column = vec![0.0; k];
        for lag in 0..=longest {
            after.push(from_fn(|i| from_fn(|j| work[(longest + i.max(j)) * k + longest + i.min(j)])));
            if lag == longest {
                break;
            }
            // Below the diagonal only: row i holds columns up to i.
            let root = work[lag * k + lag].sqrt();
            for i in lag + 1..k {
                column[i] = work[i * k + lag] / root;
            }
            for i in lag + 1..k {
                let own = column[i];
                let row = &mut work[i * k + lag + 1..=i * k + i];
                for (value, other) in row.iter_mut().zip(&column[lag + 1..=i]) {
                    *value -= own * other;
                }
            }
        }
        Stages { rows: self.n - 1 - longest, after }
    }
}

pub type Four = [[f64; 4]; 4];

/// What is left of constant, clock, level and change after 0, 1, … lags.
pub struct Stages {
    pub rows: usize,
    pub after: Vec<Four>,
}

impl Stages {
    /// τ with all lags, for each of the three terms.
    pub fn tau(&self) -> [f64; 3] {
        let lags = self.after.len() - 1;
        let mut out = [f64::NAN; 3];
        if let Some(left) = self.after.last() {
            for (terms, (place, reg)) in out.iter_mut().zip(eliminated(left)).enumerate() {
                let degrees = (self.rows - lags - terms - 1) as f64;
                *place = reg.cross / (reg.level * reg.residual() / degrees).sqrt();
            }
        }
        out
    }

    /// The lags that each criterion takes, per terms.
    pub fn choices(&self) -> [[usize; 3]; 3] {
        let n = self.rows as f64;
        let prices = Criterion::ALL.map(|c| c.price(self.rows));
        let mut best = [[(f64::INFINITY, 0); 3]; 3];
        for (lags, left) in self.after.iter().enumerate() {
            for (rules, reg) in best.iter_mut().zip(eliminated(left)) {
                let misfit = n * reg.residual().ln();
                for (least, price) in rules.iter_mut().zip(prices) {
                    let value = misfit + price * lags as f64;
                    if value < least.0 {
                        *least = (value, lags);
                    }
                }
            }
        }
        best.map(|rules| rules.map(|least| least.1))
    }
}

/// What is left of level and change after the terms.
#[derive(Clone, Copy)]
pub struct Pair {
    pub level: f64,
    pub cross: f64,
    pub change: f64,
}

impl Pair {
    pub fn residual(self) -> f64 {
        self.change - self.cross * self.cross / self.level
    }
}

/// Level and change after no terms, a constant, a constant and the clock.
pub fn eliminated(left: &Four) -> [Pair; 3] {
    let mut work = *left;
    let mut out = [pair(&work); 3];
    for step in 0..2 {
        let pivot = work[step];
        for row in work.iter_mut().skip(step + 1) {
            let share = row[step] / pivot[step];
            for (value, own) in row.iter_mut().zip(pivot) {
                *value -= share * own;
            }
        }
        out[step + 1] = pair(&work);
    }
    out
}

fn pair(work: &Four) -> Pair {
    Pair { level: work[LEVEL][LEVEL], cross: work[LEVEL][3], change: work[3][3] }
}
