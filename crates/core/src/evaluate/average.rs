//! Several forecasts of the same series as one.

use crate::outlook::Step;

/// The mean of several forecasts, step by step: of their medians, their expected values, their standard deviations, and
/// of each end of their intervals. What one of them does not have, the mean does not have either. None without any.
///
/// # Source
/// Bates, J. M. and Granger, C. W. J. (1969), Operational Research Quarterly 20, 451-468; ends of intervals: Lichtendahl,
/// K. C., Grushka-Cockayne, Y. and Winkler, R. L. (2013), Management Science 59, 1594-1611.
pub fn averaged(forecasts: &[Vec<Step>]) -> Vec<Step> {
    let ahead = forecasts.iter().map(Vec::len).min().unwrap_or(0);
    (0..ahead).map(|h| step(&forecasts.iter().map(|own| own[h]).collect::<Vec<_>>())).collect()
}

fn step(all: &[Step]) -> Step {
    let count = all.len() as f64;
    let mean = |of: &dyn Fn(&Step) -> Option<f64>| -> Option<f64> {
        all.iter().map(of).sum::<Option<f64>>().map(|sum| sum / count)
    };
    Step {
        median: all.iter().map(|own| own.median).sum::<f64>() / count,
        mean: mean(&|own| own.mean),
        std_error: mean(&|own| own.std_error),
        inner: [0, 1].map(|end| mean(&|own| own.inner[end])),
        outer: [0, 1].map(|end| mean(&|own| own.outer[end])),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_number_is_the_mean_and_what_is_missing_stays_so() {
        let of = |at: f64, low: Option<f64>| Step {
            median: at,
            mean: Some(at + 1.0),
            std_error: Some(2.0 * at),
            inner: [Some(at - 1.0), Some(at + 1.0)],
            outer: [low, Some(at + 2.0)],
        };
        let found = averaged(&[vec![of(1.0, Some(-1.0)), of(5.0, None)], vec![of(3.0, Some(0.0))]]);
        assert_eq!(found.len(), 1, "as far as all of them reach");
        assert_eq!((found[0].median, found[0].mean, found[0].std_error), (2.0, Some(3.0), Some(4.0)));
        assert_eq!((found[0].inner, found[0].outer), ([Some(1.0), Some(3.0)], [Some(-0.5), Some(4.0)]));
        let open = averaged(&[vec![of(1.0, None)], vec![of(3.0, Some(0.0))]]);
        assert_eq!(open[0].outer, [None, Some(4.0)]);
        assert_eq!(averaged(&[]), []);
    }
}
