//! The search for a break date in an ADF regression.

use nalgebra::DMatrix;

use crate::nulldist::BreakModel;
use crate::ols::OlsError;

fn dummies(model: BreakModel) -> usize {
    if model == BreakModel::Both { 2 } else { 1 }
}

/// Rows that have to lie before a break: with none a step is a constant, with one a ramp is a
/// straight line.
pub(super) fn rows_before(model: BreakModel) -> usize {
    if model == BreakModel::Intercept { 1 } else { 2 }
}

/// The break date that speaks most against a unit root.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct BreakSearch {
    /// The smallest t-ratio of the lagged level.
    pub statistic: f64,
    /// How many observations lie before the break.
    pub before: usize,
}

/// The smallest t-ratio of the lagged level over all break dates between the shares `trim`
/// and `1 - trim` of the series, or at one date.
///
/// # Formula
/// `Δy_t = μ + βt + γ y_{t-1} + θ DU_t + δ DT_t + Σ_{i≤p} δ_i Δy_{t-i} + e_t`, `DU_t` one
/// and `DT_t` the periods since for t after the break (each only where the model has it).
///
/// # Numerics
/// All that stays the same is projected out once by orthogonal columns; of a step or a ramp
/// only its products with those columns are needed, which are sums of their last rows and
/// sums of such sums. A date costs `p + 2` steps: the whole search `n (p + 2)` with the
/// one factorisation of `2 n (p + 2)²`.
///
/// # Errors
/// [`OlsError`]: too few rows, collinear lags.
///
/// # References
/// Zivot and Andrews (1992), *Journal of Business & Economic Statistics* 10, 251-270; Perron
/// (1989), *Econometrica* 57, 1361-1401.
pub fn break_search(
    x: &[f64],
    model: BreakModel,
    lags: usize,
    dates: std::ops::RangeInclusive<usize>,
) -> Result<BreakSearch, OlsError> {
    let projected = Projected::new(x, lags, true)?;
    let mut best = BreakSearch { statistic: f64::INFINITY, before: 0 };
    for before in dates.filter(|before| *before >= projected.first + rows_before(model)) {
        let statistic = projected.t_ratio(model, before);
        if statistic < best.statistic {
            best = BreakSearch { statistic, before };
        }
    }
    if best.statistic.is_finite() { Ok(best) } else { Err(OlsError::Collinear { column: 0 }) }
}

/// The date at which a break leaves the smallest residual sum of squares of the same
/// regression, with or without a trend; `None` if it cannot be estimated.
pub fn least_residual_date(
    x: &[f64],
    model: BreakModel,
    lags: usize,
    trend: bool,
    dates: std::ops::RangeInclusive<usize>,
) -> Option<usize> {
    let projected = Projected::new(x, lags, trend).ok()?;
    let sum = |before: usize| projected.residual(model, before).2;
    dates
        .filter(|before| *before >= projected.first + rows_before(model))
        .map(|before| (before, sum(before)))
        .filter(|(_, sum)| sum.is_finite())
        .min_by(|a, b| a.1.total_cmp(&b.1))
        .map(|(before, _)| before)
}

/// Lagged level and change without terms and lagged changes, and running sums from the end
/// of these and of the columns projected out.
struct Projected {
    n: usize,
    first: usize,
    rows: usize,
    width: usize,
    level: Tail,
    change: Tail,
    columns: Vec<Tail>,
    squares: [f64; 3],
}

/// Sums of the last values, and sums of those, by place in the series.
struct Tail {
    sums: Vec<f64>,
    ramps: Vec<f64>,
}

impl Tail {
    /// Of the values in rows `first..first + values.len()` of a series of n.
    fn new(values: &[f64], first: usize, n: usize) -> Self {
        let mut sums = vec![0.0; n + 1];
        let mut ramps = vec![0.0; n + 1];
        for t in (0..n).rev() {
            let value = t.checked_sub(first).and_then(|row| values.get(row)).copied().unwrap_or(0.0);
            sums[t] = sums[t + 1] + value;
            ramps[t] = ramps[t + 1] + sums[t];
        }
        Self { sums, ramps }
    }
}

impl Projected {
    fn new(x: &[f64], lags: usize, trend: bool) -> Result<Self, OlsError> {
        let n = x.len();
        let terms = 1 + usize::from(trend);
        let (first, width) = (lags + 1, lags + terms);
        let rows = n.saturating_sub(first);
        if rows <= width + 3 {
            return Err(OlsError::TooFewRows { rows, coefficients: width + 3 });
        }
        let clock = |t: usize| (t as f64 + 0.5 - 0.5 * n as f64) / n as f64;
        let design = DMatrix::from_fn(rows, width, |row, column| match column {
            0 => 1.0,
            1 if trend => clock(row + first),
            column => {
                let t = row + first - (column - terms + 1);
                x[t] - x[t - 1]
            }
        });
        let decomposition = design.qr();
        let triangle = decomposition.r();
        let longest = triangle.diagonal().amax();
        if triangle.diagonal().iter().any(|d| d.abs() <= 1e-11 * longest) {
            return Err(OlsError::Collinear { column: 0 });
        }
        let q = decomposition.q();
        let without = |values: Vec<f64>| {
            let column = DMatrix::from_column_slice(rows, 1, &values);
            let coefficients = q.transpose() * &column;
            column - &q * coefficients
        };
        let level = without((first..n).map(|t| x[t - 1]).collect());
        let change = without((first..n).map(|t| x[t] - x[t - 1]).collect());
        Ok(Self {
            n,
            first,
            rows,
            width,
            squares: [level.norm_squared(), level.dot(&change), change.norm_squared()],
            level: Tail::new(level.as_slice(), first, n),
            change: Tail::new(change.as_slice(), first, n),
            columns: q
                .column_iter()
                .map(|column| {
                    let values: Vec<f64> = column.iter().copied().collect();
                    Tail::new(&values, first, n)
                })
                .collect(),
        })
    }

    /// The t-ratio of the lagged level with a break after that number of observations.
    fn t_ratio(&self, model: BreakModel, before: usize) -> f64 {
        let (ll, lc, residual) = self.residual(model, before);
        let degrees = self.rows as f64 - (self.width + 1 + dummies(model)) as f64;
        lc / (ll * residual / degrees).sqrt()
    }

    /// What is left of the lagged level's squares, its product with the change, and the
    /// residual sum of squares.
    fn residual(&self, model: BreakModel, before: usize) -> (f64, f64, f64) {
        let at = before.min(self.n);
        let after = (self.n - at) as f64;
        let step = |tail: &Tail| tail.sums[at];
        let ramp = |tail: &Tail| tail.ramps[at];
        let steps: Vec<f64> = self.columns.iter().map(step).collect();
        let ramps: Vec<f64> = self.columns.iter().map(ramp).collect();
        let inner = |a: &[f64], b: &[f64]| a.iter().zip(b).map(|(a, b)| a * b).sum::<f64>();
        let ramp_sum = 0.5 * after * (after + 1.0);
        let ramp_squares = after * (after + 1.0) * (2.0 * after + 1.0) / 6.0;
        let (ss, sr, rr) = (
            after - inner(&steps, &steps),
            ramp_sum - inner(&steps, &ramps),
            ramp_squares - inner(&ramps, &ramps),
        );
        let (sl, sc) = (step(&self.level), step(&self.change));
        let (rl, rc) = (ramp(&self.level), ramp(&self.change));
        let [mut ll, mut lc, mut cc] = self.squares;
        let mut take_out = |dd: f64, dl: f64, dc: f64| {
            ll -= dl * dl / dd;
            lc -= dl * dc / dd;
            cc -= dc * dc / dd;
        };
        match model {
            BreakModel::Intercept => take_out(ss, sl, sc),
            BreakModel::Trend => take_out(rr, rl, rc),
            BreakModel::Both => {
                take_out(ss, sl, sc);
                take_out(rr - sr * sr / ss, rl - sr * sl / ss, rc - sr * sc / ss);
            }
        }
        (ll, lc, cc - lc * lc / ll)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;
    use crate::num::triangular::TriangularFactor;
    use crate::ols::estimate;

    /// The regression with its dummies written out.
    fn plain(x: &[f64], model: BreakModel, lags: usize, before: usize) -> f64 {
        let mut factor = TriangularFactor::new(3 + lags + dummies(model) + 1);
        for t in lags + 1..x.len() {
            let since = (t + 1).saturating_sub(before) as f64;
            let step = if t >= before { 1.0 } else { 0.0 };
            let dummies = match model {
                BreakModel::Intercept => vec![step],
                BreakModel::Trend => vec![since],
                BreakModel::Both => vec![step, since],
            };
            let past = (1..=lags).map(|i| x[t - i] - x[t - i - 1]);
            let row = [x[t - 1], 1.0, t as f64].into_iter().chain(past).chain(dummies);
            factor.push_row(row.chain([x[t] - x[t - 1]]));
        }
        let fit = estimate(&mut factor).expect("well posed");
        fit.coefficients[0] / fit.covariance[(0, 0)].sqrt()
    }

    #[test]
    fn every_date_is_its_own_regression() {
        let mut x = NormalStream::new(13, 0).take(70);
        for t in 1..70 {
            x[t] += 0.9 * x[t - 1];
        }
        for model in BreakModel::ALL {
            for lags in [0, 3] {
                for before in [11, 12, 30, 58] {
                    let ours = break_search(&x, model, lags, before..=before).expect("well posed").statistic;
                    let expected = plain(&x, model, lags, before);
                    assert!((ours - expected).abs() < 1e-8, "{model:?} {lags} {before}: {ours} {expected}");
                }
                let best = break_search(&x, model, lags, 11..=58).expect("well posed");
                let least = (11..=58).map(|b| plain(&x, model, lags, b)).fold(f64::INFINITY, f64::min);
                assert!((best.statistic - least).abs() < 1e-8);
            }
        }
    }

    #[test]
    fn a_break_before_the_first_row_is_no_break() {
        let mut x = NormalStream::new(14, 0).take(60);
        for t in 1..60 {
            x[t] += x[t - 1];
        }
        let ours = break_search(&x, BreakModel::Both, 12, 9..=20).expect("well posed");
        assert!(ours.statistic.is_finite() && ours.before > 13);
        assert!(break_search(&x, BreakModel::Both, 12, 9..=13).is_err());
    }
}
