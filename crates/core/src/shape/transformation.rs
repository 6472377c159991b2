//! The transformation that the variance of a series calls for.

use std::fmt;

use super::variance_level::{TransformationAdvice, VarianceLevelRelation, variance_level};
use crate::boxcox;
use crate::predictive::Map;

/// Decimals that a chosen λ keeps, so that the step as it is written is the one that was used.
const LAMBDA_DECIMALS: f64 = 1000.0;

/// A transformation of the values.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Transformation {
    /// The values as they are.
    None,
    /// Natural logarithms.
    Logarithm,
    /// Box-Cox with this λ.
    BoxCox(f64),
}

/// A transformation with the evidence that it rests on.
#[derive(Debug, Clone, PartialEq)]
pub struct AdvisedTransformation {
    /// What to take.
    pub transformation: Transformation,
    /// Variance against level; none of a series too short to say.
    pub spread: Option<VarianceLevelRelation>,
}

/// The transformation that evens the variance of a series over its levels.
///
/// # Method
/// [`variance_level`] decides; where it asks for Box-Cox, a logarithm is taken if it is preferable
/// ([`boxcox::Choice::prefers_logarithm`]), else λ maximises the profile likelihood ([`boxcox::choose`]), rounded to three
/// decimals.
pub fn advised_transformation(y: &[f64], season: usize) -> AdvisedTransformation {
    let mut spread = variance_level(y, season);
    let transformation = match spread.as_ref().map(|found| found.advice) {
        Some(TransformationAdvice::Logarithm) => Transformation::Logarithm,
        Some(TransformationAdvice::BoxCox) => match boxcox::choose(y, season) {
            Err(_) => Transformation::None,
            Ok(choice) if choice.prefers_logarithm() => Transformation::Logarithm,
            Ok(choice) => {
                Transformation::BoxCox((choice.likelihood.lambda * LAMBDA_DECIMALS).round() / LAMBDA_DECIMALS)
            }
        },
        _ => Transformation::None,
    };
    if let (Some(found), Transformation::Logarithm) = (&mut spread, transformation) {
        found.advice = TransformationAdvice::Logarithm;
    }
    AdvisedTransformation { transformation, spread }
}

impl Transformation {
    /// The values after it.
    pub fn apply(self, y: &[f64]) -> Vec<f64> {
        match self {
            Self::None => y.to_vec(),
            Self::Logarithm => y.iter().map(|value| value.ln()).collect(),
            Self::BoxCox(lambda) => y.iter().map(|value| boxcox::transform(*value, lambda)).collect(),
        }
    }

    /// The function that inverts it; none where nothing is to be done.
    pub fn inverse(self) -> Option<Map> {
        match self {
            Self::None => None,
            Self::Logarithm => Some(Map::Exp),
            Self::BoxCox(lambda) => Some(Map::BoxCox(lambda)),
        }
    }

    /// The step of the expression language; none where nothing is to be done.
    pub fn step(self) -> Option<String> {
        (self != Self::None).then(|| self.to_string())
    }
}

impl fmt::Display for Transformation {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::None => f.write_str("none"),
            Self::Logarithm => f.write_str("ln"),
            Self::BoxCox(lambda) => write!(f, "boxcox={lambda}"),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::expr;
    use crate::num::rng::NormalStream;

    #[test]
    fn a_step_that_is_written_can_be_read() {
        for transformation in
            [Transformation::Logarithm, Transformation::BoxCox(-0.167), Transformation::BoxCox(0.5)]
        {
            let step = transformation.step().expect("a step");
            assert!(step.is_ascii(), "{step}");
            expr::parse(&format!("x:{step}")).expect("an expression");
        }
        assert_eq!(
            (Transformation::None.step(), Transformation::None.to_string()),
            (None, "none".to_owned())
        );
        assert_eq!(Transformation::BoxCox(-0.167).to_string(), "boxcox=-0.167");
    }

    #[test]
    fn a_series_in_proportion_to_its_level_takes_logarithms_and_noise_stays_as_it_is() {
        let e = NormalStream::new(31, 0).take(240);
        let growing: Vec<f64> =
            e.iter().zip(0..240).map(|(e, t)| (0.02 * f64::from(t) + 0.2 * e).exp()).collect();
        assert_eq!(advised_transformation(&growing, 12).transformation, Transformation::Logarithm);
        let level: Vec<f64> = e.iter().map(|e| 50.0 + e).collect();
        let found = advised_transformation(&level, 12);
        assert_eq!((found.transformation, found.transformation.apply(&level)), (Transformation::None, level));
        assert!(found.spread.is_some());
        assert!(advised_transformation(&e[..10], 12).spread.is_none());
    }

    #[test]
    fn lambda_is_used_as_it_is_written() {
        // The root of a series of constant variance grows with the square of its level: λ near a half.
        let e = NormalStream::new(32, 0).take(900);
        let y: Vec<f64> =
            e.iter().zip(0..900).map(|(e, t)| (10.0 + 0.1 * f64::from(t) + e).powi(2)).collect();
        let Transformation::BoxCox(lambda) = advised_transformation(&y, 12).transformation else {
            panic!("a Box-Cox transformation");
        };
        assert!((lambda - 0.5).abs() < 0.2, "{lambda}");
        assert!((lambda * 1000.0 - (lambda * 1000.0).round()).abs() < 1e-9);
    }
}
