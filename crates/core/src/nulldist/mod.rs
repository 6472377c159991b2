//! Null distributions: p-values and critical values for a series' own length.
//!
//! For each statistic a seeded simulation (`kandrel-nulls`) found the
//! quantiles at 221 levels for many sample sizes and lag lengths, and fitted
//! to each level a response surface in the reciprocal of n and in lags/n. The coefficients
//! are in `tables/`, an archive for each part of the simulation; a table is read when it is first asked for. Here they are evaluated and
//! interpolated.
//!
//! # References
//! `MacKinnon`, J. G. (1996), *Journal of Applied Econometrics* 11, 601-618;
//! Cheung, Y.-W. and Lai, K. S. (1995), *Journal of Business & Economic
//! Statistics* 13, 277-280.

mod archive;
mod drawn;
mod family;
mod levels;
mod quantiles;
mod surface;
mod table;
mod tables;

pub use archive::Archive;
pub use drawn::{Drawn, draw_null, draws_of, random_walk};
pub use family::{
    BreakModel, Family, GlsStatistic, JointTest, LagChoice, LagrangeCase, MAX_COMMON_TRENDS,
    MAX_RESIDUAL_SERIES, PpStatistic, ResidualStatistic, SeasonLength, SeasonalStatistic, StabilityStatistic,
    Statistic, SystemStatistic, SystemTerms, Terms,
};
pub use levels::{LEVEL_COUNT, levels};
pub use quantiles::{CriticalValues, InterpolationScale, Quantiles, Tail};
pub use surface::{DiscretenessTerm, Surface, monomials};
