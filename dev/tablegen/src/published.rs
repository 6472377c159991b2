//! Published quantiles that the tables must reproduce.

use kandrel_core::nulldist::{CriticalValues, Family, Side, Terms};

/// Published 1, 5 and 10 % values of one statistic at one size.
pub struct Published {
    pub statistic: &'static str,
    pub source: &'static str,
    pub family: Family,
    pub side: Side,
    /// `None` for the limit as the series grows.
    pub observations: Option<usize>,
    pub values: [f64; 3],
}

/// The levels of [`Published::values`].
pub const LEVELS: [f64; 3] = [0.01, 0.05, 0.10];

/// Coefficients of the published surface `β∞ + β₁/T + β₂/T² + β₃/T³` at 1, 5
/// and 10 %, `T` the rows of the regression.
///
/// `MacKinnon`, J. G. (2010), *Critical values for cointegration tests*, Queen's
/// Economics Department Working Paper 1227, table 2 and its companion for the
/// case without a constant.
const ADF: [(Terms, [[f64; 4]; 3]); 3] = [
    (
        Terms::None,
        [
            [-2.56574, -2.2358, -3.627, 0.0],
            [-1.94100, -0.2686, -3.365, 31.223],
            [-1.61682, 0.2656, -2.714, 25.364],
        ],
    ),
    (
        Terms::Constant,
        [
            [-3.43035, -6.5393, -16.786, -79.433],
            [-2.86154, -2.8903, -4.234, -40.040],
            [-2.56677, -1.5384, -2.809, 0.0],
        ],
    ),
    (
        Terms::Trend,
        [
            [-3.95877, -9.0531, -28.428, -134.155],
            [-3.41049, -4.3904, -9.036, -45.374],
            [-3.12705, -2.5856, -3.925, -22.380],
        ],
    ),
];

/// Where the exact limits come from.
const EXACT: &str = "exact, by inversion (Imhof 1961)";

/// Exact quantiles of the two limits (`crates/core/tests/exact.rs` has the
/// inversion).
const EXACT_KPSS: [(Terms, [f64; 3]); 2] =
    [(Terms::Constant, [0.74346, 0.46136, 0.34730]), (Terms::Trend, [0.21775, 0.14789, 0.11922])];

/// Sizes at which the published surface is compared.
const SIZES: [Option<usize>; 4] = [Some(26), Some(51), Some(101), None];

/// Everything there is to compare.
pub fn all() -> Vec<Published> {
    let mut all = Vec::new();
    for (terms, surface) in ADF {
        all.extend(SIZES.map(|observations| Published {
            statistic: "ADF τ, no lags",
            source: "MacKinnon (2010)",
            family: Family::AdfGiven(terms),
            side: Side::Lower,
            observations,
            values: surface.map(|row| evaluate(row, observations)),
        }));
    }
    let kpss = [(Terms::Constant, [0.739, 0.463, 0.347]), (Terms::Trend, [0.216, 0.146, 0.119])];
    all.extend(kpss.map(|(terms, values)| Published {
        statistic: "KPSS η",
        source: "Kwiatkowski et al. (1992)",
        family: Family::KpssGiven(terms),
        side: Side::Upper,
        observations: None,
        values,
    }));
    all.extend(EXACT_KPSS.map(|(terms, values)| Published {
        statistic: "KPSS η",
        source: EXACT,
        family: Family::KpssGiven(terms),
        side: Side::Upper,
        observations: None,
        values,
    }));
    all
}

fn evaluate([limit, first, second, third]: [f64; 4], observations: Option<usize>) -> f64 {
    observations.map_or(limit, |n| {
        let rows = n as f64 - 1.0;
        limit + first / rows + second / rows.powi(2) + third / rows.powi(3)
    })
}

impl Published {
    /// The tables' values.
    pub fn ours(&self) -> Option<CriticalValues> {
        Some(self.distribution()?.critical_values(self.side))
    }

    /// The tables' p-values at the published ones.
    pub fn p_values(&self) -> Option<[f64; 3]> {
        let distribution = self.distribution()?;
        Some(self.values.map(|value| distribution.p_value(value, self.side)))
    }

    fn distribution(&self) -> Option<kandrel_core::nulldist::Quantiles> {
        let surface = self.family.surface()?;
        Some(self.observations.map_or_else(|| surface.asymptotic(), |n| surface.at(n, 0)))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_tables_reproduce_every_published_value() {
        for published in all() {
            let what = format!("{:?} at {:?}", published.family, published.observations);
            let ours = published.ours().expect("a table");
            // Published to three decimals: KPSS for a level 0.004, for a trend
            // 0.002; the Dickey-Fuller ones 0.01, and twice that in short series.
            let tolerance = match (published.family, published.observations) {
                (Family::KpssGiven(Terms::Trend), _) => 0.002,
                (Family::KpssGiven(_), _) => 0.004,
                (_, None) => 0.01,
                _ => 0.02,
            };
            for (ours, theirs) in [ours.one, ours.five, ours.ten].into_iter().zip(published.values) {
                assert!((ours - theirs).abs() <= tolerance, "{what}: {ours} against {theirs}");
            }
            // The exact level of the published 5 % point 0.146 is 0.0523
            // (`crates/core/tests/exact.rs`).
            let true_levels = match published.family {
                Family::KpssGiven(Terms::Trend) if published.source != EXACT => [0.01, 0.0523, 0.10],
                _ => LEVELS,
            };
            for (p, level) in published.p_values().expect("a table").into_iter().zip(true_levels) {
                assert!((p - level).abs() <= 0.002, "{what}: p = {p} at the published {level}");
            }
        }
    }
}
