//! The joint reading of tests of randomness.

use schemars::JsonSchema;
use serde::Serialize;

/// What a departure from randomness is about.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, JsonSchema, Serialize)]
#[serde(rename_all = "snake_case")]
pub enum Departure {
    /// Values rise or fall over time.
    Trend,
    /// Rises and falls are not equally frequent, which alone is no trend.
    Asymmetry,
    /// Values depend on earlier ones.
    Dependence,
    /// The variance depends on earlier squared deviations.
    Heteroskedasticity,
    /// The values are not normal, which is no departure from randomness.
    NotNormal,
}

/// What the tests say together.
#[derive(Debug, Clone, PartialEq, JsonSchema, Serialize)]
pub struct JointReading {
    /// Departures found, allowing for the number of tests.
    pub departures: Vec<Departure>,
    /// The p-values allowing for the number of tests, in the order given.
    pub adjusted: Vec<f64>,
}

/// Reads tests together: a departure is found if a test for it rejects at `alpha` after
/// the p-values were adjusted for their number. Where values depend on earlier ones so do
/// their squares, so that nothing is concluded about the variance.
pub fn joint_reading(tests: &[(Departure, f64)], alpha: f64) -> JointReading {
    let p_values: Vec<f64> = tests.iter().map(|(_, p_value)| *p_value).collect();
    let adjusted = holm(&p_values);
    let found = tests.iter().zip(&adjusted).filter(|(_, p_value)| **p_value <= alpha);
    let mut departures: Vec<Departure> = found.map(|((departure, _), _)| *departure).collect();
    departures.sort_unstable();
    departures.dedup();
    if departures.contains(&Departure::Dependence) {
        departures.retain(|departure| *departure != Departure::Heteroskedasticity);
    }
    // A trend makes rises more frequent than falls by itself.
    if departures.contains(&Departure::Trend) {
        departures.retain(|departure| *departure != Departure::Asymmetry);
    }
    JointReading { departures, adjusted }
}

/// p-values adjusted so that a single false rejection among all is as rare as said.
///
/// # Formula
/// In rising order, `p̃_i = max_{j≤i} min(1, (m-j+1) p_j)`.
///
/// # Source
/// Holm, S. (1979), Scandinavian Journal of Statistics 6, 65-70.
pub fn holm(p_values: &[f64]) -> Vec<f64> {
    let mut order: Vec<usize> = (0..p_values.len()).collect();
    order.sort_unstable_by(|a, b| p_values[*a].total_cmp(&p_values[*b]));
    let mut adjusted = vec![1.0; p_values.len()];
    let mut largest: f64 = 0.0;
    for (place, test) in order.iter().enumerate() {
        let factor = (p_values.len() - place) as f64;
        largest = largest.max((factor * p_values[*test]).min(1.0));
        adjusted[*test] = largest;
    }
    adjusted
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn holm_by_hand() {
        let adjusted = holm(&[0.04, 0.01, 0.03, 0.5]);
        let expected = [0.09, 0.04, 0.09, 0.5];
        assert!(adjusted.iter().zip(expected).all(|(a, b)| (a - b).abs() < 1e-12), "{adjusted:?}");
        assert_eq!(holm(&[]), Vec::<f64>::new());
    }

    #[test]
    fn departures_are_named_once_in_order() {
        let tests = [
            (Departure::Heteroskedasticity, 1e-6),
            (Departure::Dependence, 1e-6),
            (Departure::Dependence, 1e-7),
            (Departure::Trend, 0.03),
        ];
        assert_eq!(joint_reading(&tests, 0.05).departures, [Departure::Trend, Departure::Dependence]);
        assert_eq!(joint_reading(&tests, 0.01).departures, [Departure::Dependence]);
        let signs = [(Departure::Asymmetry, 1e-6), (Departure::Trend, 0.9)];
        assert_eq!(joint_reading(&signs, 0.05).departures, [Departure::Asymmetry]);
        let both = [(Departure::Asymmetry, 1e-6), (Departure::Trend, 1e-6)];
        assert_eq!(joint_reading(&both, 0.05).departures, [Departure::Trend]);
        assert_eq!(joint_reading(&tests[..1], 0.01).departures, [Departure::Heteroskedasticity]);
    }
}
