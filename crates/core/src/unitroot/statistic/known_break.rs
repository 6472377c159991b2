//! The statistic of Perron's regression.

use super::breaks::rows_before;
use super::lag_regressions::adf_regression;
use crate::lag::Criterion;
use crate::nulldist::{BreakModel, Terms};
use crate::num::triangular::TriangularFactor;
use crate::ols::{Estimates, OlsError, estimate, nested_residual_sums};

/// The t-ratio of the lagged level with a break after `before` observations, known from
/// elsewhere.
///
/// # Formula
/// Level, and level with slope: `Δy_t = μ + βt + θ DU_t [+ δ DT_t] + ω D_t + γ y_{t-1} +
/// Σ_{i≤p} δ_i Δy_{t-i} + e_t`, `D_t` one in the first period after the break only, so that a
/// jump under the null takes no part. Slope alone: the residual ỹ of `y_t` on `1, t, DT_t`, and
/// the t-ratio of `ỹ_{t-1}` with its lagged changes.
///
/// # Errors
/// [`OlsError`].
///
/// # References
/// Perron (1989), *Econometrica* 57, 1361-1401; Perron and Vogelsang (1993), *Econometrica* 61,
/// 248-249 (the slope alone).
pub fn known_break(x: &[f64], model: BreakModel, before: usize, lags: usize) -> Result<f64, OlsError> {
    let (fit, level) = if model == BreakModel::Trend {
        (estimate(&mut adf_regression(&without_bent_trend(x, before)?, Terms::None, lags))?, 0)
    } else {
        (estimate(&mut regression(x, model, before, lags, lags))?, 0)
    };
    Ok(ratio(&fit, level))
}

/// The number of lags up to `most` with the best criterion with that break, all on one
/// sample.
///
/// # Errors
/// [`OlsError`].
pub fn known_break_lags(
    x: &[f64],
    model: BreakModel,
    before: usize,
    most: usize,
    criterion: Criterion,
) -> Result<usize, OlsError> {
    // With more lags too few rows would lie before the break.
    let most = most.min(before.saturating_sub(1 + rows_before(model)));
    let (mut factor, base) = if model == BreakModel::Trend {
        (adf_regression(&without_bent_trend(x, before)?, Terms::None, most), 1)
    } else {
        (regression(x, model, before, most, most), columns(model))
    };
    let rows = factor.rows();
    let sums = nested_residual_sums(&mut factor, base)?;
    Ok(criterion.best_of(&sums, base, rows).unwrap_or(0))
}

fn ratio(fit: &Estimates, at: usize) -> f64 {
    fit.coefficients[at] / fit.covariance[(at, at)].sqrt()
}

/// Lagged level, constant, trend, pulse, step, and perhaps a ramp.
fn columns(model: BreakModel) -> usize {
    if model == BreakModel::Both { 6 } else { 5 }
}

fn regression(x: &[f64], model: BreakModel, before: usize, lags: usize, reserved: usize) -> TriangularFactor {
    let n = x.len() as f64;
    let one = |holds: bool| f64::from(u8::from(holds));
    let mut factor = TriangularFactor::new(columns(model) + lags + 1);
    for t in reserved + 1..x.len() {
        let fixed = [x[t - 1], 1.0, (t as f64 + 0.5) / n - 0.5, one(t == before), one(t >= before)];
        let ramp = (model == BreakModel::Both).then_some((t + 1).saturating_sub(before) as f64 / n);
        let past = (1..=lags).map(|i| x[t - i] - x[t - i - 1]);
        factor.push_row(fixed.into_iter().chain(ramp).chain(past).chain([x[t] - x[t - 1]]));
    }
    factor
}

/// What is left of the series after a trend whose slope changes.
fn without_bent_trend(x: &[f64], before: usize) -> Result<Vec<f64>, OlsError> {
    let n = x.len() as f64;
    let row = |t: usize| [1.0, (t as f64 + 0.5) / n - 0.5, (t + 1).saturating_sub(before) as f64 / n];
    let mut factor = TriangularFactor::new(4);
    for (t, value) in x.iter().enumerate() {
        factor.push_row(row(t).into_iter().chain([*value]));
    }
    let fit = estimate(&mut factor)?;
    let left = |(t, value): (usize, &f64)| {
        value - row(t).iter().zip(&fit.coefficients).map(|(a, b)| a * b).sum::<f64>()
    };
    Ok(x.iter().enumerate().map(left).collect())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    fn walk(n: usize, seed: u64) -> Vec<f64> {
        let mut x = NormalStream::new(seed, 0).take(n);
        for t in 1..n {
            x[t] += x[t - 1];
        }
        x
    }

    #[test]
    fn a_break_under_the_null_changes_nothing() {
        let x = walk(90, 41);
        let jump: Vec<f64> = x.iter().enumerate().map(|(t, v)| v + if t >= 50 { 9.0 } else { 0.0 }).collect();
        let bend: Vec<f64> =
            x.iter().enumerate().map(|(t, v)| v + 0.7 * (t + 1).saturating_sub(50) as f64).collect();
        let of = |x: &[f64], model| known_break(x, model, 50, 0).expect("well posed");
        assert!((of(&x, BreakModel::Intercept) - of(&jump, BreakModel::Intercept)).abs() < 1e-7);
        assert!((of(&x, BreakModel::Both) - of(&jump, BreakModel::Both)).abs() < 1e-7);
        assert!((of(&x, BreakModel::Trend) - of(&bend, BreakModel::Trend)).abs() < 1e-7);
    }

    #[test]
    fn the_pulse_takes_its_own_row_out_and_nothing_else() {
        let x = walk(120, 42);
        for lags in [0, 2] {
            let mut factor = TriangularFactor::new(5 + lags);
            for t in (lags + 1..120).filter(|t| *t != 60) {
                let step = if t >= 60 { 1.0 } else { 0.0 };
                let past = (1..=lags).map(|i| x[t - i] - x[t - i - 1]);
                let row = [x[t - 1], 1.0, t as f64, step].into_iter().chain(past);
                factor.push_row(row.chain([x[t] - x[t - 1]]));
            }
            let without = ratio(&estimate(&mut factor).expect("well posed"), 0);
            let with = known_break(&x, BreakModel::Intercept, 60, lags).expect("well posed");
            assert!((with - without).abs() < 1e-8, "{with} {without}");
        }
    }

    #[test]
    fn lags_are_those_of_the_changes() {
        let mut x = NormalStream::new(43, 0).take(300);
        for t in 2..300 {
            x[t] += 0.6 * (x[t - 1] - x[t - 2]) + x[t - 1];
        }
        for model in BreakModel::ALL {
            assert_eq!(known_break_lags(&x, model, 140, 6, Criterion::Bic), Ok(1));
        }
    }
}
