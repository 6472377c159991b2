//! Which sample sizes and lags are simulated.

use kandrel_core::lag::default_max_lags;

/// Sample sizes.
pub const SIZES: [usize; 23] =
    [15, 16, 17, 18, 20, 22, 25, 28, 32, 38, 45, 55, 70, 85, 100, 130, 170, 230, 320, 480, 750, 1200, 2200];

/// Lags and bandwidths, thinned as they grow.
const STEPS: [usize; 15] = [0, 1, 2, 3, 4, 6, 8, 10, 12, 15, 18, 21, 25, 30, 36];

/// The longest ADF regression simulated for `n` observations: at least six
/// residual degrees of freedom, at most 30 lags.
pub fn longest_adf(n: usize) -> usize {
    (n.saturating_sub(10) / 2).min(30)
}

/// Lags for which a given-lag ADF distribution is kept.
pub fn adf_lags(n: usize) -> Vec<usize> {
    thinned(longest_adf(n), default_max_lags(n))
}

/// Largest lags for which the distribution after a search is kept. A search
/// among no lags is no search.
pub fn adf_searches(n: usize) -> Vec<usize> {
    adf_lags(n).into_iter().filter(|p| *p > 0).collect()
}

/// Bandwidths for which a KPSS distribution is kept: up to a third of n.
pub fn kpss_bandwidths(n: usize) -> Vec<usize> {
    thinned((n / 3).min(36), 0)
}

/// Numbers of autocovariances that the automatic bandwidth may look at.
pub fn kpss_examined(n: usize) -> Vec<usize> {
    (1..=10).filter(|m| 8 * m <= n).collect()
}

fn thinned(most: usize, also: usize) -> Vec<usize> {
    let mut all: Vec<usize> = STEPS.into_iter().chain([also]).filter(|k| *k <= most).collect();
    all.sort_unstable();
    all.dedup();
    all
}
