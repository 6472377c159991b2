//! Outliers on the scale that the variance of a series calls for.

use super::error::OutlierError;
use super::repair::{Repair, Repaired, repair};
use super::search::{OutlierOptions, Outliers, OutlyingValue, find};
use crate::num::scale;
use crate::shape::{Transformation, advised_transformation};

/// Outliers of a transformed series.
#[derive(Debug, Clone, PartialEq)]
pub struct ScaledOutliers {
    /// The transformation after which the variance does not depend on the level.
    pub transformation: Transformation,
    values: Vec<f64>,
    season: usize,
    found: Outliers,
}

impl ScaledOutliers {
    /// Looks for outliers after [`advised_transformation`]: a seasonal amplitude that grows with the level would pass for
    /// outliers of its last years.
    ///
    /// # Errors
    /// [`OutlierError`].
    pub fn find(y: &[f64], options: &OutlierOptions) -> Result<Self, OutlierError> {
        let season = options.season.max(1);
        let advised = scale::check(y).map(|()| advised_transformation(y, season).transformation);
        let transformation = advised.unwrap_or(Transformation::None);
        let values = transformation.apply(y);
        let found = find(&values, options)?;
        Ok(Self { transformation, values, season, found })
    }

    /// The outliers, what is expected instead of them on the scale of the series.
    pub fn outliers(&self) -> Outliers {
        let of = |one: &OutlyingValue| OutlyingValue { expected: self.original(one.expected), ..one.clone() };
        Outliers {
            outliers: self.found.outliers.iter().map(of).collect(),
            expected: self.found.expected.iter().map(|value| self.original(*value)).collect(),
            ..self.found.clone()
        }
    }

    /// The replacements on the scale of the series.
    ///
    /// # Errors
    /// [`OutlierError`].
    pub fn repair(&self, y: &[f64], rule: Repair) -> Result<Vec<Repaired>, OutlierError> {
        let on_scale = repair(&self.values, self.season, &self.found, rule)?;
        let of = |one: Repaired| Repaired {
            place: one.place,
            from: y.get(one.place).copied().unwrap_or(one.from),
            to: self.original(one.to),
        };
        Ok(on_scale.into_iter().map(of).collect())
    }

    fn original(&self, value: f64) -> f64 {
        self.transformation.inverse().map_or(value, |map| map.at(value))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;
    use crate::outlier::Method;

    #[test]
    fn a_season_that_grows_with_the_level_has_no_outliers_and_a_bad_value_is_found() {
        let pattern = [-0.3, -0.2, -0.1, 0.0, 0.0, 0.1, 0.1, 0.0, -0.1, -0.1, 0.0, 0.9];
        let mut y: Vec<f64> = NormalStream::new(41, 0)
            .take(180)
            .iter()
            .zip(0..)
            .map(|(e, t): (&f64, usize)| (3.0 + 0.015 * t as f64 + pattern[t % 12] + 0.04 * e).exp())
            .collect();
        let truth = y[97];
        y[97] *= 0.6;
        let options = OutlierOptions { season: 12, methods: Method::ALL.to_vec() };
        let found = ScaledOutliers::find(&y, &options).expect("a search");
        assert_eq!(found.transformation, Transformation::Logarithm);
        let own = found.outliers();
        let places: Vec<usize> = own.marked().map(|one| one.place).collect();
        assert!(places.contains(&97) && places.len() <= 2, "{places:?}");
        let bad = own.marked().find(|one| one.place == 97).expect("marked");
        assert!((bad.expected / truth - 1.0).abs() < 0.2, "{} {truth}", bad.expected);
        let repaired = found.repair(&y, Repair::SeasonalMean).expect("a repair");
        let own = repaired.iter().find(|one| one.place == 97).expect("repaired");
        assert!((own.to / truth - 1.0).abs() < 0.15 && (own.from - y[97]).abs() < 1e-12, "{own:?} {truth}");
    }
}
