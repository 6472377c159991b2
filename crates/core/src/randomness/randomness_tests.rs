//! All tests of randomness at once.

use super::{
    Cut, Outcome, RandomnessError, Runs, VarianceRatio, difference_sign, jarque_bera, joint_variance_ratio,
    mcleod_li, portmanteau, rank_trend, rank_von_neumann, runs, turning_points, variance_ratio,
};
use crate::num::scale::InvalidSeries;

/// Options of the tests of randomness.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct RandomnessOptions {
    /// Where the runs test cuts.
    pub cut: Cut,
    /// Lags of the portmanteau tests; default: [`default_portmanteau_lags`].
    pub lags: Option<usize>,
    /// Horizons of the variance ratio; default: those of 2, 4, 8 and 16 that are at most
    /// an eighth of the observations, but 2 always.
    pub horizons: Option<Vec<usize>>,
    /// Observations in a season; 0 or 1 for none.
    pub season: usize,
}

/// All tests of one series.
#[derive(Debug, Clone, PartialEq)]
pub struct RandomnessTests {
    /// Runs about a cut.
    pub runs: Runs,
    /// Turning points, and their number.
    pub turning_points: (Outcome, usize),
    /// Rises among the changes, and their number.
    pub difference_sign: (Outcome, usize),
    /// Rank trend, and Kendall's τ.
    pub rank_trend: (Outcome, f64),
    /// Rank von Neumann ratio, and the ratio.
    pub rank_von_neumann: (Outcome, f64),
    /// Lags of the two portmanteau tests.
    pub lags: usize,
    /// Ljung and Box.
    pub ljung_box: Outcome,
    /// Variance ratios, by horizon.
    pub variance_ratios: Vec<VarianceRatio>,
    /// Their largest z.
    pub joint_variance_ratio: Option<Outcome>,
    /// `McLeod` and Li; none if all deviations are of one size.
    pub mcleod_li: Option<Outcome>,
    /// Jarque and Bera, skewness, kurtosis.
    pub jarque_bera: (Outcome, f64, f64),
}

/// Lags of the portmanteau tests: ten, or two seasons, at most a fifth of the
/// observations.
pub fn default_portmanteau_lags(n: usize, season: usize) -> usize {
    let wanted = if season > 1 { 2 * season } else { 10 };
    wanted.min(n / 5).max(1)
}

/// Runs every test.
///
/// # Errors
/// [`RandomnessError`] of the first test that cannot be made.
pub fn randomness_tests(y: &[f64], options: &RandomnessOptions) -> Result<RandomnessTests, RandomnessError> {
    let lags = options.lags.unwrap_or_else(|| default_portmanteau_lags(y.len(), options.season));
    let usual = [2, 4, 8, 16].into_iter().filter(|horizon| *horizon == 2 || 8 * horizon <= y.len());
    let horizons = options.horizons.clone().unwrap_or_else(|| usual.collect());
    let runs = runs(y, options.cut)?;
    let variance_ratios: Vec<VarianceRatio> =
        horizons.iter().map(|horizon| variance_ratio(y, *horizon)).collect::<Result<_, _>>()?;
    Ok(RandomnessTests {
        runs,
        turning_points: turning_points(y)?,
        difference_sign: difference_sign(y)?,
        rank_trend: rank_trend(y)?,
        rank_von_neumann: rank_von_neumann(y)?,
        lags,
        ljung_box: portmanteau(y, lags)?,
        joint_variance_ratio: joint_variance_ratio(&variance_ratios),
        variance_ratios,
        mcleod_li: match mcleod_li(y, lags) {
            Ok(test) => Some(test),
            Err(RandomnessError::InvalidSeries(InvalidSeries::Constant)) => None,
            Err(error) => return Err(error),
        },
        jarque_bera: jarque_bera(y)?,
    })
}
