//! Forecast errors of a model from rolling origins near the end of its series.

use crate::arima::{Coefficients, Data, Known, Model, fit_near, forecast};

/// A season ahead; that number of periods where there is none.
const AHEAD: usize = 4;
/// Origins, at most.
const MOST_ORIGINS: usize = 12;

/// From where a model is tried: the first origin, and how far the others lie behind it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Origins {
    first: usize,
    step: usize,
    ahead: usize,
    length: usize,
}

impl Origins {
    /// Over the last third of a series, three seasons at most; none where too little is left before.
    pub fn of(length: usize, season: usize) -> Option<Self> {
        let ahead = if season > 1 { season } else { AHEAD };
        let span = (length / 3).min((3 * ahead).max(4 * AHEAD)).max(ahead + 1);
        let first = length.checked_sub(span)?;
        if first < (2 * season + 2).max(20) {
            return None;
        }
        let origins = span - ahead + 1;
        Some(Self { first, step: origins.div_ceil(MOST_ORIGINS), ahead, length })
    }

    fn each(self) -> impl Iterator<Item = usize> {
        (self.first..=self.length - self.ahead).step_by(self.step)
    }
}

/// The mean absolute error over all origins and steps ahead, φ, θ, Φ, Θ estimated at the first origin, everything else
/// again at each; none where the model cannot be estimated there. `original` carries values to the scale of the errors.
pub fn rolling_error(
    data: &Data,
    model: Model,
    coefficients: &Coefficients,
    origins: Origins,
    original: impl Fn(f64) -> f64,
) -> Option<f64> {
    let early = fit_near(&data.until(origins.first), coefficients, model);
    let known = Known::from(&early.ok()?);
    let mut sum = 0.0;
    let mut count = 0_usize;
    for origin in origins.each() {
        let (past, future) = (data.until(origin), data.regressors_from(origin, origins.ahead));
        let next = forecast(&known, &past, &future, origins.ahead).ok()?;
        for (mean, actual) in next.mean.iter().zip(data.known_from(origin)) {
            if let Some(actual) = actual {
                sum += (original(actual) - original(*mean)).abs();
                count += 1;
            }
        }
    }
    let error = sum / count as f64;
    error.is_finite().then_some(error)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::arima::{Candidate, Grid, search};
    use crate::num::rng::NormalStream;

    fn walk(n: usize) -> Vec<f64> {
        let add = |level: &mut f64, e: f64| {
            *level += e;
            Some(*level)
        };
        NormalStream::new(90, 3).take(n).into_iter().scan(0.0, add).collect()
    }

    fn best(data: &Data, limit: [usize; 4]) -> Candidate {
        let grid = Grid { limit, ..Grid::usual(1, 0, 1) };
        search(data, grid, |own| own.aic, |_| {}).expect("a search").remove(0)
    }

    fn error_of(data: &Data, own: &Candidate, origins: Origins) -> f64 {
        rolling_error(data, own.model, &own.coefficients, origins, |value| value).expect("an error")
    }

    #[test]
    fn errors_of_a_random_walk_are_those_by_hand() {
        let y = walk(60);
        let data = Data::complete(&y);
        let origins = Origins::of(60, 1).expect("origins");
        // The last 16 of 60 values, four steps ahead, every second origin.
        let places: Vec<usize> = origins.each().collect();
        assert_eq!(places, [44, 46, 48, 50, 52, 54, 56]);
        let sum: f64 = places
            .iter()
            .flat_map(|at| (0..4).map(|h| (y[at + h] - y[at - 1]).abs()).collect::<Vec<_>>())
            .sum();
        let error = error_of(&data, &best(&data, [0; 4]), origins);
        assert!((error - sum / 28.0).abs() < 1e-12, "{error} {}", sum / 28.0);
    }

    #[test]
    fn what_comes_after_the_first_origin_does_not_move_the_coefficients() {
        let mut y = walk(80);
        let origins = Origins::of(80, 1).expect("origins");
        let candidate = best(&Data::complete(&y), [1, 0, 0, 0]);
        let early = |y: &[f64]| {
            let data = Data::complete(y).until(origins.first);
            fit_near(&data, &candidate.coefficients, candidate.model).expect("an estimate").coefficients
        };
        let before = (early(&y), error_of(&Data::complete(&y), &candidate, origins));
        y[origins.first] += 50.0;
        let after = error_of(&Data::complete(&y), &candidate, origins);
        assert_eq!(early(&y), before.0);
        assert!(after > before.1 + 1.0, "{after} {}", before.1);
    }

    #[test]
    fn short_series_have_no_origins() {
        assert_eq!(Origins::of(24, 1), None);
        assert_eq!(Origins::of(36, 12), None);
        let monthly = Origins::of(144, 12).expect("origins");
        assert_eq!((monthly.first, monthly.ahead), (108, 12));
        assert!(monthly.each().count() <= MOST_ORIGINS + 1);
    }
}
