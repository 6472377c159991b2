//! The forecast for one period: its centre, its standard deviation and its prediction intervals.

use super::marginal::Marginal;

/// The forecast for one period.
#[derive(Debug, Clone, PartialEq)]
pub struct HorizonForecast {
    /// The median.
    pub median: f64,
    /// The expected value; none where it does not exist.
    pub mean: Option<f64>,
    /// The standard deviation; none where it does not exist.
    pub std_error: Option<f64>,
    /// One interval for each level, in their order.
    pub intervals: Vec<PredictionInterval>,
}

/// A prediction interval with equal probability in both tails.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PredictionInterval {
    /// Its coverage in per cent.
    pub level: f64,
    /// None where the interval has no lower limit.
    pub lower: Option<f64>,
    /// None where the interval has no upper limit.
    pub upper: Option<f64>,
}

impl PredictionInterval {
    /// Whether it contains a value.
    pub fn contains(&self, value: f64) -> bool {
        self.lower.is_none_or(|lower| lower <= value) && self.upper.is_none_or(|upper| value <= upper)
    }
}

/// A number, unless it is not finite.
fn finite(value: f64) -> Option<f64> {
    value.is_finite().then_some(value)
}

impl HorizonForecast {
    /// Summarises a distribution by its median, its moments and an interval for each level in per cent.
    pub fn of(marginal: &Marginal, levels: &[f64]) -> Self {
        let (mean, sd) = marginal.moments();
        let interval = |level: &f64| {
            let tail = 0.5 * (1.0 - level / 100.0);
            PredictionInterval {
                level: *level,
                lower: finite(marginal.quantile(tail)),
                upper: finite(marginal.quantile(1.0 - tail)),
            }
        };
        Self {
            median: marginal.quantile(0.5),
            mean: finite(mean),
            std_error: finite(sd),
            intervals: levels.iter().map(interval).collect(),
        }
    }
}
