//! The models that an automatic forecast is combined from: rivals of the diagnosis, and a reference model.

use super::ahead::{Ahead, AheadError, AheadOptions, Estimates, ahead};
use crate::arima::{Coefficients, Data, Fit, Model, fit};
use crate::identify::{Identified, Rival, reference_model, rolling_error_of};
use crate::predictive::{Map, Marginal, Shocks};
use crate::regressor::Regressors;
use crate::transform::Transformed;

/// An estimated model with its forecasts.
#[derive(Debug)]
pub struct Member {
    /// The series as it was typed.
    pub series: String,
    /// The model.
    pub model: Model,
    /// Its regressors.
    pub regressors: Regressors,
    /// Its forecasts.
    pub ahead: Ahead,
    residuals: Vec<f64>,
    data: Data,
    coefficients: Coefficients,
    season: usize,
    /// From its scale to the original one, where members on several scales are compared.
    inverse: Option<Map>,
}

/// The chosen model has at least this weight among its rivals, so that its median lies inside the 50 % interval.
const LEAST_WEIGHT: f64 = 0.5;

impl Member {
    /// Forecasts of an estimated model, with the uncertainty of every estimate.
    ///
    /// # Errors
    /// [`AheadError`].
    pub fn of(
        target: &Transformed,
        fit: &Fit,
        data: &Data,
        regressors: &Regressors,
        options: AheadOptions,
    ) -> Result<Self, AheadError> {
        Ok(Self {
            series: target.typed.text.clone(),
            model: fit.model,
            regressors: regressors.clone(),
            ahead: ahead(target, data, Estimates::Uncertain(fit), regressors, options)?,
            residuals: fit.residuals.clone(),
            data: data.clone(),
            coefficients: fit.coefficients.clone(),
            season: target.season,
            inverse: None,
        })
    }

    /// The same on a scale from which a function leads to the original one.
    #[must_use]
    pub fn on_scale_of(self, inverse: Option<Map>) -> Self {
        Self { inverse, ..self }
    }

    /// Mean absolute error of its forecasts from rolling origins.
    fn rolling_error(&self) -> Option<f64> {
        let original = |value| self.inverse.map_or(value, |map| map.at(value));
        rolling_error_of(&self.data, self.model, &self.coefficients, self.season, original)
    }

    /// The distribution of each step; with resampled residuals where a number of paths and their seed are given.
    pub fn marginals(&self, bootstrap: Option<(usize, u64)>) -> Vec<Marginal> {
        let resampled = bootstrap.and_then(|(paths, seed)| {
            Shocks::resampled(&self.residuals, seed).map(|shocks| self.ahead.simulated(paths, &shocks))
        });
        resampled.unwrap_or_else(|| self.ahead.marginals.clone())
    }

    fn of_rival(target: &Transformed, rival: &Rival, options: AheadOptions) -> Option<Self> {
        let fit = rival.model.fit(&rival.data).ok()?;
        Self::of(target, &fit, &rival.data, &rival.regressors, options).ok()
    }
}

/// The weight of the chosen model and its rivals with theirs, which sum to one: those of the diagnosis, and the model on
/// the `other` scale with its probability where two scales were compared.
///
/// # Method
/// Weights are probabilities of the treatments and of the scales, but the chosen model has at least one half: its
/// forecasts from rolling origins were the best.
pub fn rivals_with_weights(
    target: &Transformed,
    found: &Identified,
    other: Option<(f64, Member)>,
    options: AheadOptions,
) -> (f64, Vec<(f64, Member)>) {
    let scale = 1.0 - other.as_ref().map_or(0.0, |(probability, _)| *probability);
    let (own, rivals) = match found.rivals.split_first() {
        Some((own, rivals)) => (own.probability * scale, rivals),
        None => (scale, &[][..]),
    };
    let of_rival =
        |rival: &Rival| Some((rival.probability * scale, Member::of_rival(target, rival, options)?));
    let members: Vec<(f64, Member)> = rivals.iter().filter_map(of_rival).chain(other).collect();
    let theirs: f64 = members.iter().map(|(probability, _)| probability).sum();
    if theirs <= 0.0 {
        return (1.0, Vec::new());
    }
    let weight = (own / (own + theirs)).max(LEAST_WEIGHT);
    let scaled = members.into_iter().map(|(p, member)| ((1.0 - weight) * p / theirs, member));
    (weight, scaled.collect())
}

/// Weights of an average: inverse squares of the mean absolute errors from rolling origins; equal where one of the models
/// has none.
///
/// # Source
/// Bates, J. M. and Granger, C. W. J. (1969), Operational Research Quarterly 20, 451-468, without the correlation of the
/// errors.
pub fn average_weights<'a>(members: impl IntoIterator<Item = &'a Member>) -> Vec<f64> {
    inverse_squares(members.into_iter().map(Member::rolling_error))
}

/// Weights that are inverse to squared errors and sum to one; equal ones where an error is missing or zero.
pub fn inverse_squares(errors: impl IntoIterator<Item = Option<f64>>) -> Vec<f64> {
    let errors: Vec<Option<f64>> = errors.into_iter().collect();
    let inverse = |error: &Option<f64>| error.filter(|error| *error > 0.0).map(|error| error.powi(-2));
    let weights: Option<Vec<f64>> = errors.iter().map(inverse).collect();
    let weights = weights.unwrap_or_else(|| vec![1.0; errors.len()]);
    let total: f64 = weights.iter().sum();
    weights.into_iter().map(|weight| weight / total).collect()
}

/// What the chosen model is averaged with: its strongest rival (the model on the `other` scale where two were compared;
/// otherwise the next treatment if there is one), and the reference model where it is another.
pub fn members_of_average(
    target: &Transformed,
    found: &Identified,
    chosen: &Member,
    other: Option<Member>,
    options: AheadOptions,
) -> Vec<Member> {
    let scale = chosen.inverse;
    let next = || {
        let member = found.rivals.get(1).and_then(|rival| Member::of_rival(target, rival, options))?;
        Some(member.on_scale_of(scale))
    };
    let model = reference_model(target.season);
    let is_another = model != chosen.model || !chosen.regressors.is_empty();
    let reference = || {
        let data = Data::with_gaps(&target.series.cells);
        let fit = fit(&data, model).ok()?;
        let member = Member::of(target, &fit, &data, &Regressors::default(), options).ok()?;
        Some(member.on_scale_of(scale))
    };
    [other.or_else(next), is_another.then(reference).flatten()].into_iter().flatten().collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn weights_are_inverse_to_squared_errors() {
        assert_eq!(inverse_squares([Some(1.0), Some(2.0)]), [0.8, 0.2]);
        assert_eq!(inverse_squares([Some(1.0), None]), [0.5, 0.5]);
        assert_eq!(inverse_squares([Some(0.0), Some(1.0)]), [0.5, 0.5]);
        assert_eq!(inverse_squares([]), Vec::<f64>::new());
    }
}
