//! Forecast errors of a model from rolling origins near the end of its series.

use crate::arima::{Candidate, Data, Known, fit_near, forecast};

/// A season ahead; so many periods where there is none.
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
/// again at each; none where the model cannot be estimated there.
pub fn rolling_error(data: &Data, candidate: &Candidate, origins: Origins) -> Option<f64> {
    let early = fit_near(&data.until(origins.first), &candidate.coefficients, candidate.model);
    let known = Known::from(&early.ok()?);
    let mut sum = 0.0;
    let mut count = 0_usize;
    for origin in origins.each() {
        let (past, future) = (data.until(origin), data.regressors_from(origin, origins.ahead));
        let next = forecast(&known, &past, &future, origins.ahead).ok()?;
        for (mean, actual) in next.mean.iter().zip(data.known_from(origin)) {
            if let Some(actual) = actual {
                sum += (actual - mean).abs();
                count += 1;
            }
        }
    }
    let error = sum / count as f64;
    error.is_finite().then_some(error)
}
