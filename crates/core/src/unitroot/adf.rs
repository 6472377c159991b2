//! The augmented Dickey-Fuller test.

use crate::num::scale::InvalidSeries;
use nalgebra::DMatrix;

use super::error::{MIN_OBSERVATIONS_UNIT_ROOT, UnitRootError};
use super::outcome::{
    Coefficient, JointResult, Note, Null, Regressor, TestName, UnitRootTest, note_on_p_value,
};
use super::statistic::{chosen_by_maic, chosen_by_t, lag_regressions, level_squares, wald_f};
use crate::lag::{Criterion, LagRule, default_max_lags, largest_max_lags};
use crate::nulldist::{JointTest, LagChoice, Statistic, Tail, Terms};
use crate::num::scale;
use crate::num::triangular::TriangularFactor;
use crate::ols::{self, Estimates};

/// Options of the augmented Dickey-Fuller test.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct AdfOptions {
    /// Deterministic terms; default: a constant.
    pub terms: Terms,
    /// How the lags are chosen; default: AIC.
    pub lags: LagRule,
    /// The most lags a search may take; default: [`default_max_lags`].
    pub max_lags: Option<usize>,
}

impl Default for AdfOptions {
    fn default() -> Self {
        Self { terms: Terms::Constant, lags: LagRule::Criterion(Criterion::Aic), max_lags: None }
    }
}

/// The augmented Dickey-Fuller test of a unit root.
///
/// # Formula
/// `Δy_t = terms + γ y_{t-1} + Σ_{i=1..p} δ_i Δy_{t-i} + e_t`, `t = p+2..n`;
/// the statistic is the t-ratio of γ. A search compares all `p = 0..p_max` on
/// the sample that `p_max` leaves, then estimates the chosen one on all
/// usable observations.
///
/// # Input
/// `y` in order of time, without gaps, at least 15 values.
///
/// # Result
/// τ, its p-value for this `n` and these lags (after a search: for a τ found by
/// that search), critical values, the regression in the units of `y`.
///
/// # Errors
/// [`UnitRootError`]: too short, constant, not finite, too many lags, or a
/// series that follows its own past without error.
///
/// # Numerics
/// Columns are centred and scaled first. One Householder factorisation serves
/// all `p`; the last regression updates it by `p_max - p` rows. Cost
/// `2 n (p_max + 4)²`.
///
/// # References
/// Dickey and Fuller (1979), *JASA* 74, 427-431; Said and Dickey (1984),
/// *Biometrika* 71, 599-607.
pub fn adf(y: &[f64], options: &AdfOptions) -> Result<UnitRootTest, UnitRootError> {
    let n = y.len();
    if n < MIN_OBSERVATIONS_UNIT_ROOT {
        return Err(UnitRootError::InvalidSeries(InvalidSeries::TooShort {
            observations: n,
            needed: MIN_OBSERVATIONS_UNIT_ROOT,
        }));
    }
    scale::check(y)?;
    let design = Design::new(y, options.terms);
    let (is_search, max_lags) = resolve(options, n)?;
    let (lags, mut factor) = match options.lags {
        LagRule::Given(_) => (max_lags, design.factor(max_lags, max_lags)),
        LagRule::Criterion(criterion) => choose(&design, criterion, max_lags)?,
        LagRule::Maic | LagRule::T => {
            let lags = by_ladder(&design, options.lags, max_lags)?;
            (lags, design.factor(lags, lags))
        }
    };
    let fit = ols::estimate(&mut factor)?;
    let regression = design.in_original_units(&fit);
    let statistic = regression
        .iter()
        .find(|line| line.regressor == Regressor::LaggedLevel)
        .map_or(f64::NAN, |line| line.t);
    if !statistic.is_finite() {
        return Err(UnitRootError::Collinear);
    }
    let usual = default_max_lags(n);
    let choice = lag_choice(options.lags, max_lags);
    let size = match choice {
        LagChoice::Maic | LagChoice::T => usual,
        LagChoice::Searched(_) => max_lags,
        LagChoice::Given | LagChoice::Automatic => lags,
    };
    let other_search = matches!(options.lags, LagRule::Maic | LagRule::T) && max_lags != usual;
    let surface =
        Statistic::Adf(options.terms).after(choice).surface().ok_or(UnitRootError::NoDistribution)?;
    let distribution = surface.at(n, size);
    let p_value = distribution.p_value(statistic, Tail::Lower);
    let other = other_search.then_some(Note::OtherSearch);
    let test = UnitRootTest {
        terms: options.terms,
        lags: Some(lags),
        lag_rule: Some(options.lags),
        max_lags: is_search.then_some(max_lags),
        first_used: lags + 1,
        joint: joint(&fit, options.terms, n, lags),
        regression,
        notes: other.into_iter().chain(note_on_p_value(p_value)).collect(),
        ..UnitRootTest::bare(
            TestName::Adf,
            Null::UnitRoot,
            n,
            statistic,
            (p_value, distribution.critical_values(Tail::Lower)),
        )
    };
    Ok(test.where_simulated(surface.covers(n, size)))
}

/// What a null distribution is after: a search by a criterion among no lags is none.
pub(super) fn lag_choice(rule: LagRule, max_lags: usize) -> LagChoice {
    match LagChoice::of(rule) {
        LagChoice::Searched(_) if max_lags == 0 => LagChoice::Given,
        choice => choice,
    }
}

/// Whether there is a search, and the (largest) number of lags.
fn resolve(options: &AdfOptions, n: usize) -> Result<(bool, usize), UnitRootError> {
    let most = largest_max_lags(n);
    let (search, lags) = match options.lags {
        LagRule::Given(lags) => (false, lags),
        _ => (true, options.max_lags.unwrap_or_else(|| default_max_lags(n))),
    };
    if lags > most {
        return Err(UnitRootError::TooManyLags { lags, most, observations: n });
    }
    Ok((search, lags))
}

/// The number of lags by a rule that looks at each regression's coefficients.
fn by_ladder(design: &Design<'_>, rule: LagRule, max_lags: usize) -> Result<usize, UnitRootError> {
    let x: Vec<f64> = (0..design.y.len()).map(|t| design.level(t)).collect();
    let (regressions, rows) = lag_regressions(&x, design.terms, max_lags)?;
    match rule {
        LagRule::Maic => Ok(chosen_by_maic(&regressions, rows, level_squares(&x, design.terms, max_lags)?)),
        _ => Ok(chosen_by_t(&regressions)),
    }
}

/// The joint hypotheses that the terms allow, with p-values for given lags.
fn joint(fit: &Estimates, terms: Terms, n: usize, lags: usize) -> Vec<JointResult> {
    let hypotheses: &[(JointTest, &'static str, &[usize])] = match terms {
        Terms::None => &[],
        Terms::Constant => &[(JointTest::Phi1, "phi1", &[0, 1])],
        Terms::Trend => &[(JointTest::Phi2, "phi2", &[0, 1, 2]), (JointTest::Phi3, "phi3", &[1, 2])],
    };
    let result = |(test, name, which): &(JointTest, &'static str, &[usize])| {
        let statistic = wald_f(fit, which).ok()?;
        let surface = Statistic::AdfJoint(*test).given().surface()?;
        let p_value = surface.covers(n, lags).then(|| surface.at(n, lags).p_value(statistic, Tail::Upper));
        Some(JointResult { name, statistic, p_value })
    };
    hypotheses.iter().filter_map(result).collect()
}

/// The best number of lags and the factor of its regression on all usable
/// observations, from one factorisation at `max_lags`.
fn choose(
    design: &Design<'_>,
    criterion: Criterion,
    max_lags: usize,
) -> Result<(usize, TriangularFactor), UnitRootError> {
    let mut all = design.factor(max_lags, max_lags);
    let base = design.terms.count() + 1;
    let sums = ols::nested_residual_sums(&mut all, base)?;
    let lags = criterion.best_of(&sums, base, all.rows()).unwrap_or(0);
    let target = base + max_lags;
    let kept: Vec<usize> = (0..base + lags).chain([target]).collect();
    let mut chosen = all.with_columns(&kept);
    for t in lags + 1..=max_lags {
        chosen.push_row(design.row(t, lags));
    }
    Ok((lags, chosen))
}

/// The regression's columns, centred and scaled: terms, lagged level, lagged
/// changes, change.
struct Design<'a> {
    y: &'a [f64],
    terms: Terms,
    shift: f64,
    unit: f64,
}

impl<'a> Design<'a> {
    fn new(y: &'a [f64], terms: Terms) -> Self {
        let shift = if terms == Terms::None { 0.0 } else { scale::mean(y) };
        let unit = y.iter().fold(0.0, |most: f64, v| most.max((v - shift).abs()));
        Self { y, terms, shift, unit }
    }

    fn level(&self, t: usize) -> f64 {
        (self.y[t] - self.shift) / self.unit
    }

    fn change(&self, t: usize) -> f64 {
        (self.y[t] - self.y[t - 1]) / self.unit
    }

    /// Observation number of place `t`, centred, per length of the series.
    fn clock(&self, t: usize) -> f64 {
        let n = self.y.len() as f64;
        (t as f64 + 1.0 - self.middle()) / n
    }

    fn middle(&self) -> f64 {
        0.5 * (self.y.len() as f64 + 1.0)
    }

    fn row(&self, t: usize, lags: usize) -> impl Iterator<Item = f64> + '_ {
        let terms = [1.0, self.clock(t)].into_iter().take(self.terms.count());
        let past = (1..=lags).map(move |i| self.change(t - i));
        terms.chain([self.level(t - 1)]).chain(past).chain([self.change(t)])
    }

    /// The factor with `lags` lags on the rows that `reserved` lags leave.
    fn factor(&self, lags: usize, reserved: usize) -> TriangularFactor {
        let mut factor = TriangularFactor::new(self.terms.count() + 2 + lags);
        for t in reserved + 1..self.y.len() {
            factor.push_row(self.row(t, lags));
        }
        factor
    }

    /// Undoes centring and scaling: with `w = (y - shift)/unit` and
    /// `k_t = (t - middle)/n`, `Δw = c + d k + γ w₋₁ + …` is
    /// `Δy = (unit c - unit d middle/n - γ shift) + (unit d/n) t + γ y₋₁ + …`.
    fn in_original_units(&self, fit: &Estimates) -> Vec<Coefficient> {
        let count = fit.coefficients.len();
        let level = self.terms.count();
        let mut undo = DMatrix::identity(count, count);
        let n = self.y.len() as f64;
        if level >= 1 {
            undo[(0, 0)] = self.unit;
            undo[(0, level)] = -self.shift;
        }
        if level == 2 {
            undo[(0, 1)] = -self.unit * self.middle() / n;
            undo[(1, 1)] = self.unit / n;
        }
        let covariance = &undo * &fit.covariance * undo.transpose();
        let working = DMatrix::from_column_slice(count, 1, &fit.coefficients);
        let estimates = &undo * working;
        (0..count)
            .map(|j| {
                let std_error = covariance[(j, j)].max(0.0).sqrt();
                let estimate = estimates[(j, 0)];
                Coefficient { regressor: self.regressor(j), estimate, std_error, t: estimate / std_error }
            })
            .collect()
    }

    fn regressor(&self, column: usize) -> Regressor {
        let level = self.terms.count();
        match column {
            _ if column == level => Regressor::LaggedLevel,
            _ if column > level => Regressor::LaggedChange(column - level),
            0 => Regressor::Constant,
            _ => Regressor::Trend,
        }
    }
}
