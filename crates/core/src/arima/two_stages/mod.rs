//! The grid of orders in two stages: every model with columns held at an estimate, the best ones with their own.

use rayon::prelude::*;

use super::data::Data;
use super::fit::{Criteria, FitError, Light, fit_simply, light, light_at};
use super::search::{Candidate, Grid, candidate, ranked, search, whole_grid};

/// Up to this number of columns (missing values and regressors) every model is estimated with them.
const FEW_COLUMNS: usize = 4;
/// Models of the second stage.
pub const SECOND_STAGE: usize = 20;

/// Whether two stages take less time than the whole grid: there are many missing values and regressors.
pub fn has_many_columns(data: &Data) -> bool {
    data.missing.len() + data.regressors.len() > FEW_COLUMNS
}

/// The best models of the grid, the best by `criterion` first.
///
/// # Method
/// A likelihood costs as much for each missing value and regressor as for the series itself. A model with one
/// coefficient of each kind is estimated with all of them; its estimates of the missing values and of the
/// regressors' coefficients make a series without either, on which every model of the grid is estimated. The twenty
/// best of these are then estimated with the columns and ranked again, and only they are given. The profile
/// likelihood is flat in the columns' coefficients to second order, so the first stage loses little. With regressors
/// both stages rank by the restricted likelihood.
/// The whole grid is searched where the first model cannot be estimated.
///
/// # Errors
/// [`FitError`].
pub fn search_in_two_stages(
    data: &Data,
    grid: Grid,
    criterion: impl Fn(&Criteria) -> f64,
    progress: impl Fn(usize),
) -> Result<Vec<Candidate>, FitError> {
    let Ok(reduced) = reduced(data, grid) else {
        return search(data, grid, criterion, progress);
    };
    let mut best = whole_grid(&reduced, grid, progress)?;
    if !data.regressors.is_empty() {
        // What was taken out with the regressors made room for moving averages near one: they pay for it here.
        let beside = |own: Light| light_at(data, own.model, own.end).ok();
        best = best.into_par_iter().filter_map(beside).collect();
    }
    best.sort_by(|a, b| criterion(&a.criteria()).total_cmp(&criterion(&b.criteria())));
    best.truncate(SECOND_STAGE);
    let again: Vec<Candidate> = best
        .into_par_iter()
        .filter_map(|own| light(data, own.model, &[own.end], 1).ok().map(candidate))
        .collect();
    if again.is_empty() { Err(FitError::NoConvergence) } else { Ok(ranked(again, criterion)) }
}

/// The series without missing values and regressors, by the estimates of one model.
fn reduced(data: &Data, grid: Grid) -> Result<Data, FitError> {
    let own = fit_simply(data, grid.within([1; 4]))?;
    let mut values = data.values.clone();
    for (place, estimate, _) in &own.missing {
        values[*place] = *estimate;
    }
    let levels = own.beta.len() - data.regressors.len();
    for (column, share) in data.regressors.iter().zip(&own.beta[levels..]) {
        values.iter_mut().zip(column).for_each(|(value, x)| *value -= share * x);
    }
    Ok(Data::complete(&values))
}

#[cfg(test)]
mod tests;
