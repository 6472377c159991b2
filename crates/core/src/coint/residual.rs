//! Residual-based tests of cointegration.

use super::error::CointError;
use crate::lag::{Criterion, LagRule, default_max_lags};
use crate::nulldist::{Family, MAX_RESIDUAL_SERIES, ResidualStatistic, Statistic, Tail, Terms};
use crate::num::scale::{self, Scale};
use crate::num::triangular::TriangularFactor;
use crate::ols::{self, Bandwidth, OlsError};
use crate::unitroot::{AdfOptions, Detail, Note, PpOptions, UnitRootTest, adf, default_pp_bandwidth, pp};

/// Observations beyond twice the series that a residual-based test needs.
const SPARE: usize = 12;

/// Options of residual-based tests of cointegration.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct ResidualOptions {
    /// Fixed terms of the relation.
    pub terms: Terms,
    /// How the lags of the Dickey-Fuller regression are chosen.
    pub lags: LagRule,
    /// Bandwidth of the long-run variance; default: `floor(4 (n/100)^{2/9})`.
    pub bandwidth: Option<usize>,
}

impl Default for ResidualOptions {
    fn default() -> Self {
        Self { terms: Terms::Constant, lags: LagRule::Criterion(Criterion::Aic), bandwidth: None }
    }
}

/// A relation by least squares and the tests of its residuals.
#[derive(Debug, Clone)]
pub struct ResidualTest {
    /// Coefficients of the terms (constant, trend per period from the first).
    pub fixed: Vec<f64>,
    /// Coefficients of the other series, on their original scale.
    pub coefficients: Vec<f64>,
    /// What is left of the first series.
    pub residuals: Vec<f64>,
    /// Share of the first series' variance that is explained.
    pub r2: f64,
    /// The Durbin-Watson statistic.
    pub durbin_watson: f64,
    /// Dickey-Fuller, held against its distribution in residuals (Engle and Granger).
    pub engle_granger: UnitRootTest,
    /// `Z_τ` and `Z_ρ`, held against theirs (Phillips and Ouliaris).
    pub phillips_ouliaris: UnitRootTest,
}

/// The fewest observations for that number of series.
pub fn fewest_observations(series: usize) -> usize {
    (2 * series + SPARE).max(20)
}

/// Least squares of the first series on the others and the tests of a unit root in what is left;
/// null: no cointegration.
///
/// # Formula
/// `y_t = terms + b'x_t + u_t`; `Δu_t = γ u_{t-1} + Σ δ_i Δu_{t-i} + e_t` without terms, its t-ratio,
/// and `Z_τ`, `Z_ρ` of u. The distributions depend on the number of series, the terms and n.
///
/// # Errors
/// [`CointError`].
///
/// # References
/// Engle and Granger (1987), *Econometrica* 55, 251-276; Phillips and Ouliaris (1990),
/// *Econometrica* 58, 165-193; `MacKinnon` (2010), Queen's University working paper 1227.
pub fn residual_tests(series: &[&[f64]], options: &ResidualOptions) -> Result<ResidualTest, CointError> {
    let count = series.len();
    if !(2..=MAX_RESIDUAL_SERIES).contains(&count) {
        return Err(CointError::Count { series: count, most: MAX_RESIDUAL_SERIES });
    }
    let observations = series.iter().map(|one| one.len()).min().unwrap_or(0);
    let needed = fewest_observations(count);
    if observations < needed {
        return Err(CointError::TooShort { observations, series: count, needed });
    }
    for (place, values) in series.iter().enumerate() {
        scale::check(values).map_err(|reason| CointError::unusable(place, reason))?;
    }
    let Static { fixed, coefficients, residuals } = static_relation(series, options.terms)?;
    let u = &residuals;
    let adf = adf(u, &AdfOptions { terms: Terms::None, lags: options.lags, max_lags: None })?;
    let bandwidth = options.bandwidth.unwrap_or_else(|| default_pp_bandwidth(observations));
    let pp_options = PpOptions {
        terms: Terms::None,
        bandwidth: Some(Bandwidth::Given(bandwidth)),
        ..PpOptions::default()
    };
    let pp = pp(u, &pp_options)?;
    let against = Against { count, terms: options.terms, observations };
    let squares: f64 = u.iter().map(|e| e * e).sum();
    let centre = if options.terms == Terms::None { 0.0 } else { scale::mean(series[0]) };
    let total: f64 = series[0].iter().map(|y| (y - centre).powi(2)).sum();
    Ok(ResidualTest {
        engle_granger: against.adf(adf, options.lags)?,
        phillips_ouliaris: against.pp(pp, bandwidth)?,
        r2: 1.0 - squares / total,
        durbin_watson: ols::durbin_watson(u),
        fixed,
        coefficients,
        residuals,
    })
}

/// What the statistics are held against.
struct Against {
    count: usize,
    terms: Terms,
    observations: usize,
}

impl Against {
    fn null(&self, statistic: ResidualStatistic) -> Statistic {
        Statistic::Residual(statistic, self.count, self.terms)
    }

    fn adf(&self, mut test: UnitRootTest, rule: LagRule) -> Result<UnitRootTest, CointError> {
        let n = self.observations;
        let tau = self.null(ResidualStatistic::Tau);
        let (null, size, note) = match rule {
            LagRule::Criterion(Criterion::Aic) if default_max_lags(n) > 0 => {
                (tau.searched(Criterion::Aic), default_max_lags(n), None)
            }
            LagRule::Given(lags) => (tau.given(), lags, None),
            _ => (tau.given(), test.lags.unwrap_or(0), Some(Note::LagsAsIfGiven)),
        };
        self.hold(&mut test, null, size)?;
        test.notes.extend(note);
        Ok(test)
    }

    fn pp(&self, mut test: UnitRootTest, bandwidth: usize) -> Result<UnitRootTest, CointError> {
        self.hold(&mut test, self.null(ResidualStatistic::ZTau).given(), bandwidth)?;
        if let Detail::PhillipsPerron { z_rho, z_rho_p_value, .. } = &mut test.detail {
            let null = self.null(ResidualStatistic::ZRho).given();
            let surface = null.surface().ok_or(CointError::NoDistribution)?;
            let covered = surface.covers(self.observations, bandwidth);
            let p_value = surface.at(self.observations, bandwidth).p_value(*z_rho, Tail::Lower);
            *z_rho_p_value = covered.then_some(p_value);
        }
        Ok(test)
    }

    /// Puts the test's own distribution in the place of that of an observed series.
    fn hold(&self, test: &mut UnitRootTest, null: Family, size: usize) -> Result<(), CointError> {
        let surface = null.surface().ok_or(CointError::NoDistribution)?;
        let distribution = surface.at(self.observations, size);
        test.terms = self.terms;
        let p_value = distribution.p_value(test.statistic, Tail::Lower);
        (test.p_value, test.critical) = (Some(p_value), Some(distribution.critical_values(Tail::Lower)));
        let within = (0.0001..=0.9999).contains(&p_value);
        test.notes = (!within).then_some(Note::BeyondSimulatedLevels).into_iter().collect();
        *test = test.clone().where_simulated(surface.covers(self.observations, size));
        Ok(())
    }
}

/// The relation before its tests.
struct Static {
    fixed: Vec<f64>,
    coefficients: Vec<f64>,
    residuals: Vec<f64>,
}

/// Least squares of the first series on the terms and the others, on centred and scaled columns.
fn static_relation(series: &[&[f64]], terms: Terms) -> Result<Static, CointError> {
    let n = series.iter().map(|one| one.len()).min().unwrap_or(0);
    let centred = terms != Terms::None;
    let scales: Vec<Scale> = series.iter().map(|y| Scale::of(y, centred)).collect();
    let value = |place: usize, t: usize| scales[place].apply(series[place][t]);
    let own = scales[0];
    let middle = 0.5 * (n as f64 - 1.0);
    let clock = |t: usize| (t as f64 - middle) / n as f64;
    let fixed = terms.count();
    let mut factor = TriangularFactor::new(fixed + series.len());
    for t in 0..n {
        let others = (1..series.len()).map(|place| value(place, t));
        let terms = [1.0, clock(t)].into_iter().take(fixed);
        factor.push_row(terms.chain(others).chain([value(0, t)]));
    }
    let fit = ols::estimate(&mut factor).map_err(|error| match error {
        OlsError::Collinear { column } => {
            CointError::Collinear { series: (column + 1).saturating_sub(fixed) }
        }
        OlsError::PerfectFit => CointError::Collinear { series: 0 },
        OlsError::TooFewRows { rows, coefficients } => {
            CointError::TooShort { observations: rows, series: series.len(), needed: coefficients + 1 }
        }
    })?;
    let b = &fit.coefficients;
    let residuals = (0..n).map(|t| {
        let terms: f64 = [1.0, clock(t)].iter().zip(&b[..fixed]).map(|(x, c)| x * c).sum();
        let others: f64 = b[fixed..].iter().zip(1..).map(|(c, place)| c * value(place, t)).sum();
        own.unit * (value(0, t) - terms - others)
    });
    let residuals = residuals.collect();
    let coefficients: Vec<f64> =
        b[fixed..].iter().zip(&scales[1..]).map(|(c, scale)| c * own.unit / scale.unit).collect();
    // y = shift + unit (c + d (t - middle)/n + …), and the others less their shifts.
    let slope = b.get(1).filter(|_| fixed == 2).map(|d| own.unit * d / n as f64);
    let level = b.first().filter(|_| centred).map(|c| {
        let others: f64 = coefficients.iter().zip(&scales[1..]).map(|(c, scale)| c * scale.shift).sum();
        own.shift + own.unit * c - others - slope.unwrap_or(0.0) * middle
    });
    Ok(Static { fixed: level.into_iter().chain(slope).collect(), coefficients, residuals })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::nulldist::random_walk;
    use crate::num::rng::NormalStream;

    #[test]
    fn the_relation_is_found_in_its_own_units() {
        let x = random_walk(&mut NormalStream::new(1, 0), 80);
        let z: Vec<f64> =
            random_walk(&mut NormalStream::new(1, 1), 80).iter().map(|v| 1e4 + 30.0 * v).collect();
        let e = NormalStream::new(1, 2).take(80);
        let y: Vec<f64> =
            (0..80).map(|t| 5.0 + 0.2 * t as f64 + 2.0 * x[t] - 0.01 * z[t] + 1e-9 * e[t]).collect();
        let found = static_relation(&[&y, &x, &z], Terms::Trend).expect("well posed");
        for (ours, truth) in found.fixed.iter().chain(&found.coefficients).zip([5.0, 0.2, 2.0, -0.01]) {
            assert!((ours - truth).abs() < 1e-5, "{ours} {truth}");
        }
        assert!(found.residuals.iter().all(|u| u.abs() < 1e-5));
    }

    #[test]
    fn cointegrated_series_are_distinguished_from_others() {
        let x = random_walk(&mut NormalStream::new(2, 0), 200);
        let other = random_walk(&mut NormalStream::new(2, 1), 200);
        let noise = NormalStream::new(2, 2).take(200);
        let y: Vec<f64> = x.iter().zip(&noise).map(|(x, e)| 3.0 + 2.0 * x + e).collect();
        let options = ResidualOptions::default();
        let related = residual_tests(&[&y, &x], &options).expect("well posed");
        assert!(related.engle_granger.rejects(0.001) && related.phillips_ouliaris.rejects(0.001));
        let apart = residual_tests(&[&other, &x], &options).expect("well posed");
        assert!(!apart.engle_granger.rejects(0.05), "{:?}", apart.engle_granger.p_value);
        let twice = residual_tests(&[&y, &x, &x], &options);
        assert_eq!(twice.err(), Some(CointError::Collinear { series: 2 }));
        assert!(matches!(residual_tests(&[&y], &options), Err(CointError::Count { .. })));
    }
}
