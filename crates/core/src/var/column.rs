//! The columns of a vector autoregression.

/// A column of the regressors.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum SystemColumn {
    /// The constant.
    Constant,
    /// The trend.
    Trend,
    /// A place in the season, from 2.
    Season(usize),
    /// A column with the series, by its place.
    Exogenous(usize),
    /// A lag of a series.
    Lag {
        /// Place of the series.
        series: usize,
        /// The lag.
        lag: usize,
    },
}
