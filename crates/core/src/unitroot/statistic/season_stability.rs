//! The statistics of a stable seasonal pattern.

use std::f64::consts::PI;

use nalgebra::{Cholesky, DMatrix};

use crate::num::triangular::TriangularFactor;
use crate::ols::{OlsError, estimate};

/// Statistics of a deterministic seasonal pattern.
#[derive(Debug, Clone, PartialEq)]
pub struct SeasonStability {
    /// From one cycle in a season up; of an even season the last, of the shortest cycle, has
    /// one wave, all others two.
    pub cycles: Vec<f64>,
    /// All together.
    pub seasonal: f64,
}

/// The statistics against a seasonal pattern that has seasonal unit roots, for each cycle and for all.
///
/// # Formula
/// Residuals `ê_t` of `y_t` on `y_{t-1}`, a constant, (a trend) and the waves
/// `f_t = cos(2πkt/s), sin(2πkt/s)`; `F_t = Σ_{i≤t} f_i ê_i`; Ω the long-run covariance of
/// `f_t ê_t` with Bartlett weights; for some of the waves, n rows:
/// `L = n⁻² tr(Ω⁻¹ Σ F_t F_t')`.
///
/// # Numerics
/// With running sums at hand, Ω costs n products of two waves whatever the bandwidth is.
///
/// # Errors
/// [`OlsError`]; also where Ω cannot be inverted.
///
/// # References
/// Canova and Hansen (1995), *Journal of Business & Economic Statistics* 13, 237-252.
pub fn season_stability(
    x: &[f64],
    season: usize,
    trend: bool,
    bandwidth: usize,
) -> Result<SeasonStability, OlsError> {
    let waves = waves(season);
    let residuals = residuals(x, &waves, season, trend)?;
    let sums = partial_sums(&residuals, &waves, season);
    let spread = long_run(&sums, bandwidth);
    let partial_sums = cross_products(&sums);
    let count = waves.len();
    let one = |columns: &[usize]| trace(&spread, &partial_sums, columns, residuals.len());
    Ok(SeasonStability {
        cycles: (0..count)
            .step_by(2)
            .map(|first| one(&(first..count.min(first + 2)).collect::<Vec<_>>()))
            .collect::<Result<_, _>>()?,
        seasonal: one(&(0..count).collect::<Vec<_>>())?,
    })
}

/// Each wave over one season, pair by pair; of an even season the last is alone.
fn waves(season: usize) -> Vec<Vec<f64>> {
    let mut out = Vec::new();
    for k in 1..=season / 2 {
        let angle = |t: usize| 2.0 * PI * (k * t % season) as f64 / season as f64;
        out.push((0..season).map(|t| angle(t).cos()).collect());
        if 2 * k < season {
            out.push((0..season).map(|t| angle(t).sin()).collect());
        }
    }
    out
}

/// What is left of `y_t`, from the second value on.
fn residuals(x: &[f64], waves: &[Vec<f64>], season: usize, trend: bool) -> Result<Vec<f64>, OlsError> {
    let n = x.len();
    let clock = |t: usize| (t as f64 + 0.5 - 0.5 * n as f64) / n as f64;
    let row = |t: usize| -> Vec<f64> {
        let fixed = [1.0, x[t - 1]].into_iter().chain(trend.then_some(clock(t)));
        fixed.chain(waves.iter().map(|wave| wave[t % season])).collect()
    };
    let columns = 2 + usize::from(trend) + waves.len();
    let mut factor = TriangularFactor::new(columns + 1);
    for (t, value) in x.iter().enumerate().skip(1) {
        factor.push_row(row(t).into_iter().chain([*value]));
    }
    let fit = estimate(&mut factor)?;
    let fitted = |t: usize| row(t).iter().zip(&fit.coefficients).map(|(a, b)| a * b).sum::<f64>();
    Ok((1..n).map(|t| x[t] - fitted(t)).collect())
}

/// Running sums of wave times residual, from zero: a row for each time, a column each wave.
fn partial_sums(residuals: &[f64], waves: &[Vec<f64>], season: usize) -> DMatrix<f64> {
    let mut sums = DMatrix::zeros(waves.len(), residuals.len() + 1);
    for (row, e) in residuals.iter().enumerate() {
        for (column, wave) in waves.iter().enumerate() {
            sums[(column, row + 1)] = sums[(column, row)] + wave[(row + 1) % season] * e;
        }
    }
    sums
}

/// `Σ F_t F_t'`.
fn cross_products(sums: &DMatrix<f64>) -> DMatrix<f64> {
    sums * sums.transpose()
}

/// `Γ₀ + Σ (1 - j/(l+1)) (Γ_j + Γ_j')` as the mean product of sums over windows of `l + 1`.
fn long_run(sums: &DMatrix<f64>, lags: usize) -> DMatrix<f64> {
    let rows = sums.ncols() - 1;
    let windows = rows + lags;
    let ends = DMatrix::from_fn(sums.nrows(), windows, |wave, window| {
        let to = (window + 1).min(rows);
        let from = (window + 1).saturating_sub(lags + 1);
        sums[(wave, to)] - sums[(wave, from)]
    });
    &ends * ends.transpose() / (rows as f64 * (lags as f64 + 1.0))
}

fn trace(
    spread: &DMatrix<f64>,
    partial_sums: &DMatrix<f64>,
    columns: &[usize],
    rows: usize,
) -> Result<f64, OlsError> {
    let of = |all: &DMatrix<f64>| all.select_rows(columns).select_columns(columns);
    let collinear = OlsError::Collinear { column: 0 };
    let solved = Cholesky::new(of(spread)).ok_or(collinear)?.solve(&of(partial_sums));
    let value = solved.trace() / (rows as f64).powi(2);
    if value.is_finite() { Ok(value) } else { Err(collinear) }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    #[test]
    fn one_wave_is_the_stationarity_statistic_of_the_series_times_it() {
        // Of two observations a season: the wave is 1, -1, 1, … and nothing else is left out.
        let x = NormalStream::new(31, 0).take(60);
        let ours = season_stability(&x, 2, false, 3).expect("well posed").seasonal;
        let mut factor = TriangularFactor::new(4);
        let sign = |t: usize| if t.is_multiple_of(2) { 1.0 } else { -1.0 };
        for t in 1..60 {
            factor.push_row([1.0, x[t - 1], sign(t), x[t]]);
        }
        let b = estimate(&mut factor).expect("well posed").coefficients;
        let products: Vec<f64> =
            (1..60).map(|t| sign(t) * (x[t] - b[0] - b[1] * x[t - 1] - b[2] * sign(t))).collect();
        let autocovariance =
            |j: usize| products.iter().zip(&products[j..]).map(|(a, b)| a * b).sum::<f64>() / 59.0;
        let spread: f64 =
            (1..=3).fold(autocovariance(0), |sum, j| sum + 2.0 * (1.0 - j as f64 / 4.0) * autocovariance(j));
        let mut sum = 0.0;
        let squares: f64 = products
            .iter()
            .map(|e| {
                sum += e;
                sum * sum
            })
            .sum();
        assert!((ours - squares / spread / 59.0_f64.powi(2)).abs() < 1e-10);
    }

    #[test]
    fn a_pattern_that_repeats_exactly_is_taken_out() {
        assert_eq!(waves(12).len(), 11);
        assert_eq!(waves(7).len(), 6);
        let x = NormalStream::new(32, 0).take(121);
        let pattern: Vec<f64> = x.iter().enumerate().map(|(t, v)| v + ((t % 12) as f64).powi(2)).collect();
        let plain = season_stability(&x, 12, true, 4).expect("well posed");
        let shifted = season_stability(&pattern, 12, true, 4).expect("well posed");
        assert_eq!(plain.cycles.len(), 6);
        for (one, other) in plain.cycles.iter().zip(&shifted.cycles) {
            assert!((one - other).abs() < 1e-9);
        }
        assert!((plain.seasonal - shifted.seasonal).abs() < 1e-9);
    }

    #[test]
    fn a_season_that_wanders_is_found_and_one_that_stays_is_not() {
        let noise = NormalStream::new(33, 0).take(240);
        let stays = season_stability(&noise, 12, false, 5).expect("well posed");
        let mut walk = noise;
        for t in 12..240 {
            walk[t] += walk[t - 12];
        }
        let evolving = season_stability(&walk, 12, false, 5).expect("well posed");
        // The 5 % point of eleven degrees of freedom is 2.75 (Canova and Hansen 1995, table 1).
        assert!(
            stays.seasonal < 2.75 && evolving.seasonal > 2.75,
            "{} {}",
            stays.seasonal,
            evolving.seasonal
        );
    }
}
