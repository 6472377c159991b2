//! The statistics of unit roots at seasonal frequencies.

use std::f64::consts::PI;

use crate::lag::Criterion;
use crate::num::triangular::TriangularFactor;
use crate::ols::{OlsError, estimate, nested_residual_sums};

use super::joint::wald_f;

/// The statistic at one frequency.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Cycle {
    /// Which: 0 for the long run, k for k cycles in a season.
    pub number: usize,
    /// t-ratio (long run, and half as many cycles as observations in a season), else F.
    pub statistic: f64,
}

/// Statistics of unit roots at the frequencies of a season.
#[derive(Debug, Clone, PartialEq)]
pub struct SeasonalRoots {
    /// Lagged seasonal differences in the regression.
    pub lags: usize,
    /// t-ratio of the long-run root.
    pub zero: f64,
    /// t-ratio of the root of the shortest cycle, two observations.
    pub shortest: f64,
    /// F of each pair of roots, from one cycle in a season up.
    pub pairs: Vec<f64>,
    /// F of all but the long-run root.
    pub seasonal: f64,
    /// F of all roots.
    pub all: f64,
}

/// The regression on seasonal dummies (and a trend) whose coefficients are zero where the
/// series has unit roots at the long run and at the frequencies of the season.
///
/// # Formula
/// The seasonal difference `Δ_s y_t` on dummies, `βt`, its own p lags, and at t - 1:
/// `z_0 = Σ_j y_{t-j}`, `z_1 = -Σ_j (-1)^j y_{t-j}`, and for each frequency `ω_k = 2πk/s` of
/// k = 1, …, s/2 - 1 cycles `u_k = Σ_j cos((j+1)ω_k) y_{t-j}` and
/// `v_k = -Σ_j sin((j+1)ω_k) y_{t-j}`, the sums over j from 0 to s - 1.
///
/// # Input
/// An even season s of at least 4, and rows enough: `n > 3 s + lags`.
///
/// # Errors
/// [`OlsError`].
///
/// # References
/// Hylleberg, Engle, Granger and Yoo (1990), *Journal of Econometrics* 44, 215-238; Beaulieu
/// and Miron (1993), *Journal of Econometrics* 55, 305-328; Smith and Taylor (1999),
/// *Journal of Time Series Analysis* 20, 453-476.
pub fn seasonal_roots(x: &[f64], season: usize, trend: bool, lags: usize) -> Result<SeasonalRoots, OlsError> {
    let fit = estimate(&mut regression(x, season, trend, lags, lags))?;
    let first = season + usize::from(trend) + lags;
    let ratio = |at: usize| fit.coefficients[at] / fit.covariance[(at, at)].sqrt();
    let joint = |from: usize, to: usize| wald_f(&fit, &(from..to).collect::<Vec<_>>());
    let end = first + season;
    Ok(SeasonalRoots {
        lags,
        zero: ratio(first),
        shortest: ratio(first + 1),
        pairs: (0..season / 2 - 1)
            .map(|k| joint(first + 2 + 2 * k, first + 4 + 2 * k))
            .collect::<Result<_, _>>()?,
        seasonal: joint(first + 1, end)?,
        all: joint(first, end)?,
    })
}

/// Columns: dummies, trend, lags, the season's regressors, the seasonal difference.
pub(super) fn regression(
    x: &[f64],
    season: usize,
    trend: bool,
    lags: usize,
    reserved: usize,
) -> TriangularFactor {
    let n = x.len();
    let filters = filters(season);
    let difference = |t: usize| x[t] - x[t - season];
    let mut factor = TriangularFactor::new(2 * season + usize::from(trend) + lags + 1);
    for t in season + reserved..n {
        let dummies = (0..season).map(|place| f64::from(u8::from(t % season == place)));
        let clock = trend.then_some((t as f64 + 0.5 - 0.5 * n as f64) / n as f64);
        let past = (1..=lags).map(|i| difference(t - i));
        let roots = filters
            .iter()
            .map(|filter| filter.iter().enumerate().map(|(j, weight)| weight * x[t - 1 - j]).sum::<f64>());
        factor.push_row(dummies.chain(clock).chain(past).chain(roots).chain([difference(t)]));
    }
    factor
}

/// Weights of `y_{t-1-j}` in each regressor.
fn filters(season: usize) -> Vec<Vec<f64>> {
    let all = |weight: &dyn Fn(f64) -> f64| (0..season).map(|j| weight(j as f64)).collect::<Vec<f64>>();
    let mut out = vec![all(&|_| 1.0), all(&|j| if j % 2.0 == 0.0 { -1.0 } else { 1.0 })];
    for k in 1..season / 2 {
        let frequency = 2.0 * PI * k as f64 / season as f64;
        out.push(all(&|j| ((j + 1.0) * frequency).cos()));
        out.push(all(&|j| -((j + 1.0) * frequency).sin()));
    }
    out
}

impl SeasonalRoots {
    /// Every frequency with its statistic, from the long run to the shortest cycle.
    pub fn cycles(&self) -> Vec<Cycle> {
        let pairs = self.pairs.iter().zip(1..).map(|(f, number)| Cycle { number, statistic: *f });
        let last = Cycle { number: self.pairs.len() + 1, statistic: self.shortest };
        std::iter::once(Cycle { number: 0, statistic: self.zero }).chain(pairs).chain([last]).collect()
    }
}

/// The number of lagged seasonal differences, up to `most`, with the smallest criterion, all
/// on one sample.
///
/// # Errors
/// [`OlsError`].
pub fn chosen_seasonal_lags(
    x: &[f64],
    season: usize,
    trend: bool,
    most: usize,
    criterion: Criterion,
) -> Result<usize, OlsError> {
    let width = 2 * season + usize::from(trend);
    let fixed = season + usize::from(trend);
    // The season's regressors before the lags, so that the lags are nested.
    let mut factor = regression(x, season, trend, most, most);
    let order: Vec<usize> = (0..fixed)
        .chain(fixed + most..width + most)
        .chain(fixed..fixed + most)
        .chain([width + most])
        .collect();
    let rows = factor.rows();
    let mut nested = factor.with_columns(&order);
    let sums = nested_residual_sums(&mut nested, width)?;
    Ok(criterion.best_of(&sums, width, rows).unwrap_or(0))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    /// A walk in steps of a season: unit roots at every frequency.
    fn seasonal_walk(season: usize, n: usize, seed: u64) -> Vec<f64> {
        let mut x = NormalStream::new(seed, 0).take(n);
        for t in season..n {
            x[t] += x[t - season];
        }
        x
    }

    #[test]
    fn the_filters_are_those_of_the_quarterly_paper() {
        // 1 + B + B² + B³, -(1 - B + B² - B³), and for the pair combinations of -(1 - B²) at
        // one and two lags.
        let rows = filters(4);
        assert_eq!(rows[0], [1.0; 4]);
        assert_eq!(rows[1], [-1.0, 1.0, -1.0, 1.0]);
        for (ours, paper) in rows[2].iter().zip([0.0, -1.0, 0.0, 1.0]) {
            assert!((ours - paper).abs() < 1e-12);
        }
        for (ours, paper) in rows[3].iter().zip([-1.0, 0.0, 1.0, 0.0]) {
            assert!((ours - paper).abs() < 1e-12);
        }
    }

    #[test]
    fn a_seasonal_pattern_that_repeats_exactly_is_taken_out() {
        let x = seasonal_walk(12, 200, 3);
        let pattern: Vec<f64> = (0..12).map(|m| f64::from(m * m % 7)).collect();
        let shifted: Vec<f64> = x.iter().enumerate().map(|(t, v)| v + 4.0 + pattern[t % 12]).collect();
        let (a, b) = (seasonal_roots(&x, 12, true, 2), seasonal_roots(&shifted, 12, true, 2));
        let (a, b) = (a.expect("well posed"), b.expect("well posed"));
        for (one, other) in a.cycles().iter().zip(b.cycles()) {
            assert!((one.statistic - other.statistic).abs() < 1e-7, "{one:?} {other:?}");
        }
    }

    #[test]
    fn noise_is_rejected_at_every_frequency_and_a_seasonal_walk_hardly_anywhere() {
        let noise = NormalStream::new(4, 0).take(240);
        let found = seasonal_roots(&noise, 4, false, 0).expect("well posed");
        assert!(found.zero < -4.0 && found.shortest < -4.0 && found.pairs[0] > 12.0 && found.all > 12.0);
        let walk = seasonal_roots(&seasonal_walk(4, 240, 5), 4, false, 0).expect("well posed");
        assert!(walk.zero > -3.5 && walk.pairs[0] < 9.0, "{walk:?}");
    }
}
