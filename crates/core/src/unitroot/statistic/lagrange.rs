use crate::lag::Criterion;
use crate::num::triangular::TriangularFactor;
use crate::ols::{OlsError, nested_residual_sums};

/// A search over one break or two, by the score of the null.
#[derive(Debug, Clone, PartialEq)]
pub struct LagrangeSearch {
    /// The smallest t-ratio of the detrended lagged level.
    pub statistic: f64,
    /// How many observations lie before each break.
    pub before: Vec<usize>,
}

/// What the search is told.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LagrangeModel {
    /// Whether the slope changes with the level.
    pub slope: bool,
    /// One break or two.
    pub breaks: usize,
    /// Lagged changes of the detrended series.
    pub lags: usize,
}

/// The smallest t-ratio of the lagged level, detrended under the null of a unit root with
/// breaks, over all dates of one break or two.
///
/// # Formula
/// With `Z_t` the trend, a step `DU_j` and (where the slope changes) a ramp `DT_j` from each
/// break: δ̃ from `Δy_t` on `ΔZ_t`, `S̃_t = Σ_{i≤t} (Δy_i - δ̃'ΔZ_i)` from nought, and the
/// t-ratio of φ in `Δy_t = δ'ΔZ_t + φ S̃_{t-1} + Σ_{i≤p} γ_i ΔS̃_{t-i} + e_t`.
///
/// Breaks lie at least `fewest` observations from either end and from each other.
///
/// # Numerics
/// A step's change is one at its date and nought elsewhere: it takes that row out. A ramp's
/// change is a mean of its own from there on. So all sums are over stretches of the series,
/// differences of running sums, but for the `p` rows after each break. A date costs
/// `p³` steps whatever n is; one break costs `n p³`, two `n² p³ / 4`.
///
/// # Errors
/// [`OlsError`]: too few rows, collinear lags.
///
/// # References
/// Schmidt and Phillips (1992), *Oxford Bulletin of Economics and Statistics* 54, 257-287; Lee
/// and Strazicich (2003), *Review of Economics and Statistics* 85, 1082-1089; (2013),
/// *Economics Bulletin* 33, 2483-2492.
pub fn lagrange_search(x: &[f64], model: LagrangeModel, fewest: usize) -> Result<LagrangeSearch, OlsError> {
    let sums = RunningSums::new(x, model)?;
    let mut work = Work::new(sums.width);
    let n = x.len();
    let last = n.saturating_sub(fewest);
    let mut best = LagrangeSearch { statistic: f64::INFINITY, before: Vec::new() };
    let mut take = |before: &[usize]| {
        let statistic = sums.t_ratio(before, &mut work);
        if statistic < best.statistic {
            best = LagrangeSearch { statistic, before: before.to_vec() };
        }
    };
    for first in fewest..=last {
        if model.breaks < 2 {
            take(&[first]);
        } else {
            (first + fewest..=last).for_each(|second| take(&[first, second]));
        }
    }
    if best.statistic.is_finite() { Ok(best) } else { Err(OlsError::Collinear { column: 0 }) }
}

/// The number of lags with the best criterion for breaks at these dates, all on one sample.
///
/// # Errors
/// [`OlsError`].
pub fn lagrange_lags(
    x: &[f64],
    model: LagrangeModel,
    before: &[usize],
    criterion: Criterion,
) -> Result<usize, OlsError> {
    // With more lags no row would lie before the first break.
    let first = before.first().copied().unwrap_or(0);
    let most = model.lags.min(first.saturating_sub(2));
    let detrended = Detrended::new(x, before, model.slope);
    let means = if model.slope { before.len() } else { 0 };
    let base = 2 + means;
    let mut factor = TriangularFactor::new(base + most + 1);
    for t in (most + 1..x.len()).filter(|t| !before.contains(t)) {
        let steps = before.iter().take(means).map(|b| f64::from(u8::from(t >= *b)));
        let past = (1..=most).map(|i| detrended.change(x, t - i));
        let row = [1.0, detrended.sum(x, t - 1)].into_iter().chain(steps).chain(past);
        factor.push_row(row.chain([x[t] - x[t - 1]]));
    }
    let rows = factor.rows();
    let sums = nested_residual_sums(&mut factor, base)?;
    Ok(criterion.best_of(&sums, base, rows).unwrap_or(0))
}

/// A series less its trend and breaks, estimated from its changes.
struct Detrended {
    /// How many stretches there are.
    count: usize,
    /// Where each stretch begins: nought and the breaks.
    starts: [usize; 3],
    /// Mean change of each stretch.
    means: [f64; 3],
    /// `S̃` at the start of each.
    levels: [f64; 3],
}

impl Detrended {
    fn new(x: &[f64], before: &[usize], slope: bool) -> Self {
        let count = (1 + before.len()).min(3);
        let mut starts = [0; 3];
        starts[1..count].copy_from_slice(&before[..count - 1]);
        let mut rises = [0.0; 3];
        let mut lengths = [0.0; 3];
        for place in 0..count {
            let last = if place + 1 < count { starts[place + 1] } else { x.len() } - 1;
            rises[place] = x[last] - x[starts[place]];
            lengths[place] = (last - starts[place]) as f64;
        }
        let overall = rises.iter().sum::<f64>() / lengths.iter().sum::<f64>();
        let mut means = [overall; 3];
        let mut levels = [0.0; 3];
        for place in 0..count {
            if slope {
                means[place] = rises[place] / lengths[place];
            }
            if place > 0 {
                levels[place] = levels[place - 1] + rises[place - 1] - means[place - 1] * lengths[place - 1];
            }
        }
        Self { count, starts, means, levels }
    }

    fn stretch(&self, t: usize) -> usize {
        self.starts[..self.count].iter().rposition(|start| *start <= t).unwrap_or(0)
    }

    /// `S̃_t`.
    fn sum(&self, x: &[f64], t: usize) -> f64 {
        let place = self.stretch(t);
        let start = self.starts[place];
        self.levels[place] + x[t] - x[start] - self.means[place] * (t - start) as f64
    }

    /// `ΔS̃_t`, for t of at least 1.
    fn change(&self, x: &[f64], t: usize) -> f64 {
        let place = self.stretch(t);
        if t == self.starts[place] { 0.0 } else { x[t] - x[t - 1] - self.means[place] }
    }
}

/// Running sums of products of the columns `1, t, x_{t-1}, Δx_t, Δx_{t-1}, …`.
struct RunningSums<'a> {
    x: &'a [f64],
    model: LagrangeModel,
    /// Lags, `S̃_{t-1}` and `Δx_t`: the columns of the regression beside its means.
    width: usize,
    /// Products of one row.
    size: usize,
    sums: Vec<f64>,
}

/// Columns before the lagged changes.
const FIXED: usize = 4;

impl<'a> RunningSums<'a> {
    fn new(x: &'a [f64], model: LagrangeModel) -> Result<Self, OlsError> {
        let (n, lags) = (x.len(), model.lags);
        let columns = FIXED + lags;
        let coefficients = 2 + lags + 2 * model.breaks;
        if n < lags + 1 + coefficients + 2 {
            return Err(OlsError::TooFewRows { rows: n.saturating_sub(lags + 1), coefficients });
        }
        let size = columns * (columns + 1) / 2;
        let mut sums = vec![0.0; size * (n + 1)];
        let mut row = vec![0.0; columns];
        for t in 0..n {
            let (done, open) = sums.split_at_mut(size * (t + 1));
            let (before, after) = (&done[size * t..], &mut open[..size]);
            after.copy_from_slice(before);
            if t > lags {
                row[0] = 1.0;
                row[1] = t as f64;
                row[2] = x[t - 1];
                for (i, place) in row.iter_mut().skip(3).enumerate() {
                    *place = x[t - i] - x[t - i - 1];
                }
                let mut at = 0;
                for (i, value) in row.iter().enumerate() {
                    for other in &row[..=i] {
                        after[at] += value * other;
                        at += 1;
                    }
                }
            }
        }
        Ok(Self { x, model, width: lags + 2, size, sums })
    }

    /// The t-ratio with breaks after so many observations, in rising order.
    fn t_ratio(&self, before: &[usize], work: &mut Work) -> f64 {
        let lags = self.model.lags;
        let detrended = Detrended::new(self.x, before, self.model.slope);
        let Work { part, total } = work;
        part.clear();
        total.clear();
        let mut rows = 0.0;
        for place in 0..detrended.count {
            let start = detrended.starts[place];
            let next = place + 1;
            let end = if next < detrended.count { detrended.starts[next] } else { self.x.len() };
            let inside = start + 1 + lags;
            for t in (start + 1).max(lags + 1)..inside.min(end) {
                self.add_row(part, &detrended, t);
            }
            if inside < end {
                self.add_stretch(part, &detrended, place, inside, end);
            }
            if self.model.slope {
                rows += part.rows - 1.0;
                part.centre();
                total.add(part);
                part.clear();
            }
        }
        if !self.model.slope {
            rows = part.rows - 1.0;
            part.centre();
            total.add(part);
        }
        total.t_ratio(rows - self.width as f64 + 1.0)
    }

    /// One row near a break, written out.
    fn add_row(&self, part: &mut Products, detrended: &Detrended, t: usize) {
        let past = (1..=self.model.lags).map(|i| detrended.change(self.x, t - i));
        part.add_row(past.chain([detrended.sum(self.x, t - 1), self.x[t] - self.x[t - 1]]));
    }

    /// All rows from..to of one stretch whose lags lie in it too.
    fn add_stretch(&self, part: &mut Products, detrended: &Detrended, place: usize, from: usize, to: usize) {
        let lags = self.model.lags;
        let (mean, start) = (detrended.means[place], detrended.starts[place]);
        let upper = &self.sums[self.size * to..self.size * (to + 1)];
        let lower = &self.sums[self.size * from..self.size * (from + 1)];
        let of = |i: usize, j: usize| {
            let at = if i > j { i * (i + 1) / 2 + j } else { j * (j + 1) / 2 + i };
            upper[at] - lower[at]
        };
        let count = (to - from) as f64;
        // S̃_{t-1} = x_{t-1} - mean t + shift.
        let shift = detrended.levels[place] - self.x[start] + mean * (1 + start) as f64;
        let level = |j: usize| of(2, j) - mean * of(1, j) + shift * of(0, j);
        let level_sum = level(0);
        part.rows += count;
        for i in 0..lags {
            let own = of(0, FIXED + i);
            part.sums[i] += own - mean * count;
            for j in 0..=i {
                let product = of(FIXED + i, FIXED + j) - mean * (own + of(0, FIXED + j) - mean * count);
                part.add_product(i, j, product);
            }
            part.add_product(lags, i, level(FIXED + i) - mean * level_sum);
            part.add_product(lags + 1, i, of(FIXED + i, 3) - mean * of(0, 3));
        }
        part.sums[lags] += level_sum;
        part.sums[lags + 1] += of(0, 3);
        let square = level(2) - mean * level(1) + shift * level_sum;
        part.add_product(lags, lags, square);
        part.add_product(lags + 1, lags, level(3));
        part.add_product(lags + 1, lags + 1, of(3, 3));
    }
}

/// Room for the sums at one set of dates.
struct Work {
    part: Products,
    total: Products,
}

impl Work {
    fn new(width: usize) -> Self {
        Self { part: Products::new(width), total: Products::new(width) }
    }
}

/// Sums of columns and of their products, the lower triangle row by row.
struct Products {
    width: usize,
    rows: f64,
    row: Vec<f64>,
    sums: Vec<f64>,
    /// Sums of products, the lower triangle row by row.
    pairs: Vec<f64>,
}

impl Products {
    fn new(width: usize) -> Self {
        Self {
            width,
            rows: 0.0,
            row: Vec::with_capacity(width),
            sums: vec![0.0; width],
            pairs: vec![0.0; width * (width + 1) / 2],
        }
    }

    fn clear(&mut self) {
        self.rows = 0.0;
        self.sums.fill(0.0);
        self.pairs.fill(0.0);
    }

    fn add_product(&mut self, i: usize, j: usize, value: f64) {
        self.pairs[i * (i + 1) / 2 + j] += value;
    }

    fn add_row(&mut self, row: impl Iterator<Item = f64>) {
        self.rows += 1.0;
        self.row.clear();
        self.row.extend(row);
        let mut at = 0;
        for (i, value) in self.row.iter().enumerate() {
            self.sums[i] += value;
            for other in &self.row[..=i] {
                self.pairs[at] += value * other;
                at += 1;
            }
        }
    }

    fn add(&mut self, other: &Self) {
        for (own, more) in self.pairs.iter_mut().zip(&other.pairs) {
            *own += more;
        }
    }

    /// Takes the mean out of every column.
    fn centre(&mut self) {
        let mut at = 0;
        for i in 0..self.width {
            for j in 0..=i {
                self.pairs[at] -= self.sums[i] * self.sums[j] / self.rows;
                at += 1;
            }
        }
    }

    /// The t-ratio of the last column but one in the regression of the last on all others.
    fn t_ratio(&mut self, degrees: f64) -> f64 {
        let place = |i: usize, j: usize| i * (i + 1) / 2 + j;
        let all = self.width;
        let whole = self.pairs[place(all - 2, all - 2)];
        for pivot in 0..all - 2 {
            let own = self.pairs[place(pivot, pivot)];
            if own.is_nan() || own <= 0.0 {
                return f64::INFINITY;
            }
            for i in pivot + 1..all {
                let share = self.pairs[place(i, pivot)] / own;
                for j in pivot + 1..=i {
                    let other = self.pairs[place(j, pivot)];
                    self.pairs[place(i, j)] -= share * other;
                }
            }
        }
        let level = self.pairs[place(all - 2, all - 2)];
        let cross = self.pairs[place(all - 1, all - 2)];
        let left = self.pairs[place(all - 1, all - 1)] - cross * cross / level;
        if degrees < 1.0 || level.is_nan() || level <= 1e-12 * whole || left.is_nan() || left <= 0.0 {
            return f64::INFINITY;
        }
        cross / (level * left / degrees).sqrt()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;
    use crate::ols::estimate;

    /// The two regressions with every column written out.
    fn plain(x: &[f64], model: LagrangeModel, before: &[usize]) -> f64 {
        let n = x.len();
        let columns = |t: usize| -> Vec<f64> {
            let one = |holds: bool| f64::from(u8::from(holds));
            let pulses = before.iter().map(|b| one(t == *b));
            let steps = before.iter().filter(|_| model.slope).map(|b| one(t >= *b));
            [1.0].into_iter().chain(pulses).chain(steps).collect()
        };
        let width = columns(1).len();
        let mut first = TriangularFactor::new(width + 1);
        for t in 1..n {
            first.push_row(columns(t).into_iter().chain([x[t] - x[t - 1]]));
        }
        let null = estimate(&mut first).expect("well posed").coefficients;
        let mut level = vec![0.0; n];
        for t in 1..n {
            let fitted: f64 = columns(t).iter().zip(&null).map(|(a, b)| a * b).sum();
            level[t] = level[t - 1] + x[t] - x[t - 1] - fitted;
        }
        let mut second = TriangularFactor::new(width + 1 + model.lags + 1);
        for t in model.lags + 1..n {
            let past = (1..=model.lags).map(|i| level[t - i] - level[t - i - 1]);
            let row = [level[t - 1]].into_iter().chain(columns(t)).chain(past);
            second.push_row(row.chain([x[t] - x[t - 1]]));
        }
        let fit = estimate(&mut second).expect("well posed");
        fit.coefficients[0] / fit.covariance[(0, 0)].sqrt()
    }

    fn at(x: &[f64], model: LagrangeModel, before: &[usize]) -> f64 {
        let sums = RunningSums::new(x, model).expect("well posed");
        sums.t_ratio(before, &mut Work::new(sums.width))
    }

    fn walk(n: usize, seed: u64) -> Vec<f64> {
        let mut x = NormalStream::new(seed, 0).take(n);
        for t in 1..n {
            x[t] += 0.97 * x[t - 1];
        }
        x
    }

    #[test]
    fn every_pair_of_dates_is_its_own_pair_of_regressions() {
        let x = walk(70, 21);
        for slope in [false, true] {
            for lags in [0, 1, 4] {
                for before in [vec![11], vec![35], vec![59], vec![11, 22], vec![20, 50], vec![30, 33]] {
                    let model = LagrangeModel { slope, breaks: before.len(), lags };
                    let ours = at(&x, model, &before);
                    let expected = plain(&x, model, &before);
                    assert!((ours - expected).abs() < 1e-8, "{model:?} {before:?}: {ours} {expected}");
                }
            }
        }
    }

    #[test]
    fn the_search_finds_the_smallest_of_all() {
        let x = walk(60, 22);
        let model = LagrangeModel { slope: true, breaks: 2, lags: 2 };
        let found = lagrange_search(&x, model, 9).expect("well posed");
        let mut least = f64::INFINITY;
        for first in 9..=51 {
            for second in first + 9..=51 {
                least = least.min(plain(&x, model, &[first, second]));
            }
        }
        assert!((found.statistic - least).abs() < 1e-8);
        assert!((plain(&x, model, &found.before) - least).abs() < 1e-8);
    }

    #[test]
    fn a_jump_under_the_null_changes_nothing_at_its_date() {
        let x = walk(80, 23);
        let jumped: Vec<f64> =
            x.iter().enumerate().map(|(t, v)| v + if t >= 40 { 30.0 } else { 0.0 }).collect();
        let bent: Vec<f64> =
            x.iter().enumerate().map(|(t, v)| v + 2.0 * t.saturating_sub(39) as f64).collect();
        let crash = LagrangeModel { slope: false, breaks: 1, lags: 2 };
        let both = LagrangeModel { slope: true, ..crash };
        assert!((at(&x, crash, &[40]) - at(&jumped, crash, &[40])).abs() < 1e-8);
        assert!((at(&x, both, &[40]) - at(&bent, both, &[40])).abs() < 1e-8);
    }

    #[test]
    fn lags_are_chosen_on_one_sample_at_the_dates_given() {
        let mut x = NormalStream::new(24, 0).take(200);
        for t in 2..200 {
            x[t] += 0.6 * (x[t - 1] - x[t - 2]) + x[t - 1];
        }
        let model = LagrangeModel { slope: false, breaks: 1, lags: 6 };
        assert_eq!(lagrange_lags(&x, model, &[90], Criterion::Bic), Ok(1));
    }
}
