//! Which sample sizes and lags are simulated.

use kandrel_core::lag::{default_max_lags, largest_max_lags};
use kandrel_core::ols::autocovariances_examined;

/// Sample sizes.
pub const SIZES: [usize; 23] =
    [15, 16, 17, 18, 20, 22, 25, 28, 32, 38, 45, 55, 70, 85, 100, 130, 170, 230, 320, 480, 750, 1200, 2200];

/// Lags and bandwidths, thinned as they grow.
const STEPS: [usize; 15] = [0, 1, 2, 3, 4, 6, 8, 10, 12, 15, 18, 21, 25, 30, 36];

/// Many lags, where the sample has room for them.
const MANY_LAGS: [usize; 4] = [40, 70, 110, 150];

/// Wide bandwidths, as shares of the sample in hundredths.
const WIDE: [usize; 4] = [8, 16, 25, 33];

/// Lags of the regressions that are simulated with all draws: at most 0.35 of
/// the observations, at most 30.
pub fn adf_lags(n: usize) -> Vec<usize> {
    let most = (35 * n / 100).min(n.saturating_sub(10) / 2).min(30);
    thinned(most, default_max_lags(n).min(most))
}

/// Lags of the long regressions, which are simulated with fewer draws: at most
/// 0.3 of the observations.
pub fn many_adf_lags(n: usize) -> Vec<usize> {
    if n <= 100 {
        return Vec::new();
    }
    let share = [3 * n / 10].into_iter().filter(|p| (31..150).contains(p));
    let mut all: Vec<usize> = MANY_LAGS.into_iter().filter(|p| 10 * p <= 3 * n).chain(share).collect();
    all.sort_unstable();
    all.dedup();
    all
}

/// Sample sizes at which the choice of terms is simulated.
pub const CHOSEN_TERMS_SIZES: [usize; 11] = [15, 17, 20, 25, 32, 45, 64, 90, 130, 200, 330];

/// Lags of the tests with chosen terms: up to 0.3 of the observations.
pub fn chosen_terms_lags(n: usize) -> Vec<usize> {
    [0, 2, 5, 10, 20].into_iter().filter(|p| 10 * p <= 3 * n && *p <= largest_max_lags(n)).collect()
}

/// Largest lags of the searches with chosen terms: the default, less, and more.
pub fn chosen_terms_searches(n: usize) -> Vec<usize> {
    let usual = default_max_lags(n);
    let more = (3 * n / 10).min(24).min(largest_max_lags(n));
    let mut all = vec![usual.div_ceil(2), usual, more];
    all.retain(|p| *p > 0);
    all.sort_unstable();
    all.dedup();
    all
}

/// Bandwidths for which a KPSS distribution is kept: up to a third of n.
pub fn kpss_bandwidths(n: usize) -> Vec<usize> {
    let mut all = thinned((n / 3).min(36), 0);
    all.extend(WIDE.map(|share| share * n / 100));
    all.sort_unstable();
    all.dedup();
    all
}

/// Numbers of autocovariances that the automatic bandwidth may look at: that of
/// this length, and enough others for a surface that is smooth around it.
pub fn kpss_examined(n: usize) -> Vec<usize> {
    let own = autocovariances_examined(n);
    (1..=10).filter(|m| 8 * m <= n || m.abs_diff(own) <= 1).collect()
}

fn thinned(most: usize, also: usize) -> Vec<usize> {
    let mut all: Vec<usize> = STEPS.into_iter().chain([also]).filter(|k| *k <= most).collect();
    all.sort_unstable();
    all.dedup();
    all
}
