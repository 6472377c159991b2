//! Several forecasts of the same series as one: their average, and the mixture of their distributions.

use crate::predictive::{HorizonForecast, Marginal, PredictionInterval};

/// The weighted mean of several forecasts, step by step: of their medians, their expected values, their standard
/// deviations, and of each limit of their intervals, which have the same levels. Weights sum to one. What one of them does
/// not have, the mean does not have either. None without any.
///
/// # Source
/// Bates, J. M. and Granger, C. W. J. (1969), Operational Research Quarterly 20, 451-468; limits of intervals:
/// Lichtendahl, K. C., Grushka-Cockayne, Y. and Winkler, R. L. (2013), Management Science 59, 1594-1611.
pub fn averaged(forecasts: &[(f64, Vec<HorizonForecast>)]) -> Vec<HorizonForecast> {
    let ahead = forecasts.iter().map(|(_, own)| own.len()).min().unwrap_or(0);
    let at = |h: usize| -> Vec<(f64, &HorizonForecast)> {
        forecasts.iter().filter_map(|(weight, own)| Some((*weight, own.get(h)?))).collect()
    };
    (0..ahead).map(|h| step(&at(h))).collect()
}

fn step(all: &[(f64, &HorizonForecast)]) -> HorizonForecast {
    let mean = |of: &dyn Fn(&HorizonForecast) -> Option<f64>| -> Option<f64> {
        all.iter().map(|(weight, own)| of(own).map(|value| weight * value)).sum()
    };
    let levels = all.first().map_or(&[][..], |(_, own)| &own.intervals);
    let interval = |(place, own): (usize, &PredictionInterval)| PredictionInterval {
        level: own.level,
        lower: mean(&|one| one.intervals.get(place)?.lower),
        upper: mean(&|one| one.intervals.get(place)?.upper),
    };
    HorizonForecast {
        median: all.iter().map(|(weight, own)| weight * own.median).sum(),
        mean: mean(&|own| own.mean),
        std_error: mean(&|own| own.std_error),
        intervals: levels.iter().enumerate().map(interval).collect(),
    }
}

/// The mixture of several forecasts, step by step; weights are scaled to a sum of one. As far as all of them reach.
///
/// # Formula
/// `F(x) = Σ_i w_i F_i(x)`: the variance is the mean variance and the variance of the means.
///
/// # Source
/// Draper, D. (1995), Journal of the Royal Statistical Society B 57, 45-97.
pub fn mixture(forecasts: &[(f64, Vec<Marginal>)]) -> Vec<Marginal> {
    let total: f64 = forecasts.iter().map(|(weight, _)| weight).sum();
    let ahead = forecasts.iter().map(|(_, own)| own.len()).min().unwrap_or(0);
    let at = |h: usize| {
        let part = |(weight, own): &(f64, Vec<Marginal>)| own.get(h).map(|own| (weight / total, own.clone()));
        Marginal::Mixture(forecasts.iter().filter_map(part).collect())
    };
    (0..ahead).map(at).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn interval(level: f64, lower: Option<f64>, upper: f64) -> PredictionInterval {
        PredictionInterval { level, lower, upper: Some(upper) }
    }

    #[test]
    fn every_number_is_the_mean_and_what_is_missing_stays_so() {
        let of = |at: f64, low: Option<f64>| HorizonForecast {
            median: at,
            mean: Some(at + 1.0),
            std_error: Some(2.0 * at),
            intervals: vec![interval(80.0, Some(at - 1.0), at + 1.0), interval(95.0, low, at + 2.0)],
        };
        let found =
            averaged(&[(0.75, vec![of(1.0, Some(-1.0)), of(5.0, None)]), (0.25, vec![of(5.0, Some(1.0))])]);
        assert_eq!(found.len(), 1, "as far as all of them reach");
        assert_eq!((found[0].median, found[0].mean, found[0].std_error), (2.0, Some(3.0), Some(4.0)));
        assert_eq!(found[0].intervals, [interval(80.0, Some(1.0), 3.0), interval(95.0, Some(-0.5), 4.0)]);
        let open = averaged(&[(0.5, vec![of(1.0, None)]), (0.5, vec![of(3.0, Some(0.0))])]);
        assert_eq!(open[0].intervals[1], interval(95.0, None, 4.0));
        assert_eq!(averaged(&[]), []);
    }

    #[test]
    fn a_mixture_scales_its_weights_and_reaches_as_far_as_its_parts() {
        let part = |mean: f64| Marginal::Normal { mean, sd: 1.0, maps: Vec::new() };
        let found = mixture(&[(3.0, vec![part(0.0), part(0.0)]), (1.0, vec![part(4.0)])]);
        let [Marginal::Mixture(parts)] = found.as_slice() else { panic!("one step") };
        assert_eq!(parts.iter().map(|(weight, _)| *weight).collect::<Vec<_>>(), [0.75, 0.25]);
        assert!((found[0].moments().0 - 1.0).abs() < 1e-15);
        assert_eq!(mixture(&[]), []);
    }
}
