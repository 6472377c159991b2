//! Whether a season changes: the likelihood of a stochastic one against a deterministic one.

use super::coefficients::Coefficients;
use super::data::Data;
use super::fit::Prepared;
use super::model::Model;
use super::transform;
use crate::num::descent::{self, Start};

/// So near to minus one stands for it: the likelihood has its limit there.
const BOUND: f64 = -0.99999;
/// Differences of deviances this small do not matter.
const TOLERANCE: f64 = 1e-4;

/// Twice the logarithm of how much likelier a season that changes is than one that stays the same.
///
/// # Formula
/// `(1,1,1)(0,1,1)s` by exact maximum likelihood, against the same with Θ = -1, where the seasonal
/// difference and the moving average cancel and leave a fixed pattern. Of series with a fixed
/// pattern more than half give nought and one in twenty more than about 2.
///
/// # Source
/// Davis, R. A., Chen, M. and Dunsmuir, W. T. M. (1995), Probability and Mathematical Statistics
/// 15, 227-242, for moving averages without a season (one in twenty: 1.94); of seasons by simulation.
///
/// # Result
/// None for series that are too short or have no likelihood.
pub fn season_changes(y: &[f64], season: usize) -> Option<f64> {
    let model = Model {
        ar: 1,
        differences: 1,
        ma: 1,
        seasonal_differences: 1,
        seasonal_ma: 1,
        season,
        ..Model::default()
    };
    let data = Data::complete(y);
    let prepared = Prepared::new(&data, model).ok()?;
    let bound = |free: &[f64]| Coefficients {
        seasonal_ma: vec![BOUND],
        ..transform::coefficients(&[free[0], free[1], 0.0], prepared.like())
    };
    let at_bound = |free: &[f64]| {
        let own = bound(free);
        let found = prepared.likelihood(&own, true)?;
        // The last slope is that of Θ, which stays.
        let slope = transform::slope(&[free[0], free[1], 0.0], prepared.like(), &found.slope);
        Some((found.deviance, slope[..2].to_vec()))
    };
    let inside = |free: &[f64]| {
        let found = prepared.likelihood(&transform::coefficients(free, prepared.like()), true)?;
        Some((found.deviance, transform::slope(free, prepared.like(), &found.slope)))
    };
    // A series about a line has θ at minus one, a walk has it near nought.
    let short = [[0.1, 0.2], [0.5, 3.0]].map(|start| Start::from(start.to_vec()));
    let fixed = short.iter().filter_map(|start| descent::least(start, TOLERANCE, at_bound));
    let fixed = fixed.min_by(|a, b| a.value.total_cmp(&b.value))?;
    let starts = [0.5, 2.0].map(|seasonal| Start::from([fixed.at.clone(), vec![seasonal]].concat()));
    let free = starts.iter().filter_map(|start| descent::least(start, TOLERANCE, inside));
    let free = free.map(|found| found.value).min_by(f64::total_cmp)?;
    Some((fixed.value - free).max(0.0))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    /// Noise about a pattern, and a season that changes with this Θ.
    fn of(n: usize, theta: Option<f64>, stream: u64) -> Vec<f64> {
        let e = NormalStream::new(88, stream).take(n + 240);
        let mut y = e.clone();
        for t in 12..n + 240 {
            y[t] = match theta {
                None => e[t] + [3.0, -1.0, 0.5, -2.0, 1.0, 2.0, -3.0, 0.0, 1.5, -0.5, 0.3, -1.8][t % 12],
                Some(theta) => y[t - 12] + e[t] + theta * e[t - 12],
            };
        }
        y.split_off(240)
    }

    #[test]
    fn a_fixed_pattern_seldom_exceeds_two_and_a_changing_season_nearly_always_does() {
        let share = |theta: Option<f64>| {
            let above =
                |stream: &u64| season_changes(&of(200, theta, *stream), 12).is_some_and(|lr| lr > 2.0);
            (0..40).filter(above).count()
        };
        assert!(share(None) <= 5, "{}", share(None));
        assert!(share(Some(-0.6)) >= 39, "{}", share(Some(-0.6)));
    }

    #[test]
    fn short_series_have_no_answer() {
        assert_eq!(season_changes(&[1.0, 2.0, 3.0, 5.0, 1.0, 2.0], 4), None);
    }
}
