//! Bare statistics, before p-values and words: what the tests compute and the simulator
//! of null distributions draws.

mod breaks;
mod gls;
mod joint;
mod ladder;
mod phillips_perron;
mod seasonal;

pub use breaks::{BreakSearch, break_search, least_residual_date};
pub use gls::{GlsLags, GlsStatistics, gls_statistics};
pub use joint::wald_f;
pub use ladder::{Rung, adf_regression, chosen_by_maic, chosen_by_t, ladder, level_squares};
pub use phillips_perron::{FirstOrder, PhillipsPerron, phillips_perron};
pub use seasonal::{Cycle, SeasonalRoots, chosen_seasonal_lags, seasonal_roots};
