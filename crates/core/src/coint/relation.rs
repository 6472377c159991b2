//! The cointegrating relations, their adjustment coefficients and standard errors.

use nalgebra::DMatrix;

use super::design::clock;
use super::error::CointError;
use super::system::System;
use crate::nulldist::SystemTerms;
use crate::num::chi_squared;
use crate::num::scale::Scale;

/// That number of relations, made comparable by giving each of the first series one relation of its own.
#[derive(Debug, Clone, PartialEq)]
pub struct Relations {
    /// Each relation's coefficients of the series, then of its constant or trend (per period,
    /// counted from the first observation); the relation is their sum of products.
    pub vectors: Vec<Vec<f64>>,
    /// Their standard errors; none for what is fixed at one or zero.
    pub vector_errors: Vec<Vec<Option<f64>>>,
    /// For each relation, what each series' change makes of it one period later.
    pub loadings: Vec<Vec<f64>>,
    /// Their standard errors.
    pub loading_errors: Vec<Vec<f64>>,
    /// Residual degrees of freedom of an equation.
    pub degrees: usize,
}

/// Relations and loadings of a system with `rank` relations.
///
/// # Formula
/// β from the eigenvectors, then `β (c'β)⁻¹` with c the first r series; α from the regression of
/// changes on β'y₋₁. Free coefficients of β have covariance `(α'Ω⁻¹α)⁻¹ ⊗ (R'R)⁻¹` with R the
/// remaining levels, α `Ω ⊗ (β'R₁'R₁β)⁻¹`; Ω with divisor rows minus coefficients.
///
/// # Errors
/// [`CointError::Collinear`]: the first series have no part in the relations, so that they cannot
/// be made the ones that are alone. [`CointError::UnitsApart`]: beyond the range of numbers.
///
/// # References
/// Johansen (1995), sections 13.2 and 13.5.
pub fn relations(system: &System, rank: usize) -> Result<Relations, CointError> {
    let count = system.eigenvalues.len();
    let moments = &system.moments;
    let inside = moments.level_factor.nrows();
    let rank = rank.min(count);
    let refused = CointError::Collinear { series: 0 };
    let directions = moments.directions.columns(0, rank).into_owned();
    let raw = moments.level_factor.solve_upper_triangular(&directions).ok_or(refused)?;
    let first = raw.rows(0, rank).into_owned();
    let condition = first.clone().svd(false, false).singular_values;
    if condition.min() < 1e-10 * condition.max() {
        return Err(refused);
    }
    let scaled = &raw * first.try_inverse().ok_or(refused)?;
    // Changes on the relations: both in the factor's directions.
    let index = &moments.level_factor * &scaled;
    let gram = index.transpose() * &index;
    let inverse = gram.clone().try_inverse().ok_or(refused)?;
    let alpha = (&inverse * index.transpose() * &moments.along).transpose();
    let left = &moments.along - &index * alpha.transpose();
    let degrees = system.rows.saturating_sub(moments.outside + rank).max(1);
    let omega = (left.transpose() * &left + moments.own.transpose() * &moments.own) / degrees as f64;
    let weights = omega.clone().try_inverse().ok_or(refused)?;
    let of_vectors = (alpha.transpose() * weights * &alpha).try_inverse().ok_or(refused)?;
    let free = moments.level_factor.columns(rank, inside - rank).into_owned();
    let of_free = (free.transpose() * &free).try_inverse();
    let scaled_errors = DMatrix::from_fn(inside, rank, |i, j| {
        let spread = of_free.as_ref().filter(|_| i >= rank).map_or(0.0, |free| free[(i - rank, i - rank)]);
        (of_vectors[(j, j)] * spread).max(0.0).sqrt()
    });
    let units = Units { system, inside, count };
    let (vectors, vector_errors) = units.vectors(&scaled, &scaled_errors, rank);
    // α of scaled series: y_i = unit_i · scaled, the relation in units of its own series.
    let per_unit = |i: usize, j: usize| moments.scales[i].unit / moments.scales[j].unit;
    let loadings = (0..rank).map(|j| (0..count).map(|i| alpha[(i, j)] * per_unit(i, j)).collect()).collect();
    let error = |i: usize, j: usize| (omega[(i, i)] * inverse[(j, j)]).max(0.0).sqrt() * per_unit(i, j);
    let loading_errors = (0..rank).map(|j| (0..count).map(|i| error(i, j)).collect()).collect();
    let found = Relations { vectors, vector_errors, loadings, loading_errors, degrees };
    if found.is_finite() { Ok(found) } else { Err(units_apart(&moments.scales)) }
}

fn units_apart(scales: &[Scale]) -> CointError {
    let by_unit = |a: &usize, b: &usize| scales[*a].unit.total_cmp(&scales[*b].unit);
    let large = (0..scales.len()).max_by(by_unit).unwrap_or(0);
    CointError::UnitsApart { large, small: (0..scales.len()).min_by(by_unit).unwrap_or(0) }
}

impl Relations {
    fn is_finite(&self) -> bool {
        let numbers = [&self.vectors, &self.loadings, &self.loading_errors].into_iter().flatten().flatten();
        let errors = self.vector_errors.iter().flatten().flatten();
        numbers.chain(errors).all(|value| value.is_finite())
    }
}

/// Undoes centring and scaling of the relations.
struct Units<'a> {
    system: &'a System,
    inside: usize,
    count: usize,
}

type Vectors = (Vec<Vec<f64>>, Vec<Vec<Option<f64>>>);

impl Units<'_> {
    fn vectors(&self, scaled: &DMatrix<f64>, errors: &DMatrix<f64>, rank: usize) -> Vectors {
        let moments = &self.system.moments;
        let factor = |i: usize, j: usize| moments.scales[j].unit / moments.scales[i].unit;
        let mut vectors = Vec::new();
        let mut all_errors = Vec::new();
        for j in 0..rank {
            let mut vector: Vec<f64> = (0..self.count).map(|i| scaled[(i, j)] * factor(i, j)).collect();
            let mut own: Vec<Option<f64>> =
                (0..self.count).map(|i| (i >= rank).then(|| errors[(i, j)] * factor(i, j))).collect();
            if self.inside > self.count {
                let (term, error) = (scaled[(self.count, j)], errors[(self.count, j)]);
                let unit = moments.scales[j].unit;
                let n = moments.observations;
                if self.system.terms == SystemTerms::ConstantIn {
                    // The centres of the series come out of the constant; its error belongs to
                    // the centred one and is left out.
                    let centres: f64 =
                        vector.iter().zip(&moments.scales).map(|(b, scale)| b * scale.shift).sum();
                    vector.push(term * unit - centres);
                    own.push(None);
                } else {
                    let step = clock(1, n) - clock(0, n);
                    vector.push(term * unit * step);
                    own.push(Some(error * unit * step));
                }
            }
            vectors.push(vector);
            all_errors.push(own);
        }
        (vectors, all_errors)
    }
}

/// Likelihood ratio of no trend inside `rank` relations and its p-value, from the same system
/// with a trend inside and without.
///
/// # Formula
/// `T Σ_{i≤r} ln((1 - λ_i)/(1 - λ*_i))`, λ* with the trend; r degrees of freedom.
///
/// # References
/// Johansen (1995), section 11.2.
pub fn trend_in_relations(with: &System, without: &System, rank: usize) -> Option<(f64, f64)> {
    let sum = |system: &System| system.eigenvalues[..rank].iter().map(|value| (-value).ln_1p()).sum::<f64>();
    let statistic = (with.rows as f64 * (sum(without) - sum(with))).max(0.0);
    Some((statistic, chi_squared::survival(statistic, rank)?))
}
