//! Bare statistics, before p-values and words: what the tests compute and the simulator
//! of null distributions draws.

mod break_lags;
mod breaks;
mod gls;
mod joint;
mod known_break;
mod lag_regressions;
mod lagrange;
mod memory;
mod phillips_perron;
mod quadratic;
mod season_stability;
mod seasonal;

pub use break_lags::{BreakLagRule, break_search_with_lags, lagrange_search_with_lags};
pub use breaks::{BreakSearch, break_search, least_residual_date};
pub use gls::{GlsLags, GlsStatistics, gls_statistics};
pub use joint::wald_f;
pub use known_break::{known_break, known_break_lags};
pub use lag_regressions::{
    LagRegression, adf_regression, chosen_by_maic, chosen_by_t, lag_regressions, level_squares,
};
pub use lagrange::{LagrangeModel, LagrangeSearch, lagrange_lags, lagrange_search};
pub use memory::{Memory, local_whittle, log_periodogram, memory_bandwidth, periodogram};
pub use phillips_perron::{FirstOrder, PhillipsPerron, phillips_perron};
pub use quadratic::{quadratic_bandwidth, quadratic_variance};
pub use season_stability::{SeasonStability, season_stability};
pub use seasonal::{Cycle, SeasonalRoots, chosen_seasonal_lags, seasonal_roots};
