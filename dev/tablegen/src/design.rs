//! Which sample sizes and lags are simulated.

use kandrel_core::lag::default_max_lags;

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

/// Bandwidths for which a KPSS distribution is kept: up to a third of n.
pub fn kpss_bandwidths(n: usize) -> Vec<usize> {
    let mut all = thinned((n / 3).min(36), 0);
    all.extend(WIDE.map(|share| share * n / 100));
    all.sort_unstable();
    all.dedup();
    all
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
