//! A short ARMA model of a series' first differences.

use super::whiten::{Mixture, Whitening};
use crate::num::minimise::{self, Descent};

/// A model of the changes of a series: a drift and a short ARMA model around it.
#[derive(Debug, Clone, PartialEq)]
pub struct ChangesModel {
    /// The mixture of the changes.
    pub mixture: Mixture,
    /// Twice the negative logarithm of the likelihood, constants left out.
    pub deviance: f64,
    /// Its coefficients as free numbers.
    free: Vec<f64>,
}

/// Autoregressive terms that are tried.
const MOST_TERMS: usize = 2;

/// Deviances this near are alike.
const DESCENT: Descent = Descent { tolerance: 1e-4, longest: 2.0 };

/// How near to one a partial autocorrelation and the moving average may come; nearer for short
/// series, where the memory of the filter costs nothing.
fn bound(observations: usize) -> f64 {
    if observations <= 2_000 { 0.9995 } else { 0.995 }
}

/// The mixture of up to two autoregressive terms and one moving-average term under which the
/// changes `w` are most probable, the number of terms by the corrected criterion of Akaike. With a
/// model of much the same changes at hand only its coefficients are found again.
///
/// # Formula
/// `w_t = μ + Σ φ_i (w_{t-i} - μ) + e_t + θ e_{t-1}`, by exact maximum likelihood with μ and the
/// variance concentrated out. A series that stays about a line has θ near minus one, a random
/// walk has θ zero.
///
/// # Source
/// Box, G. E. P. and Jenkins, G. M. (1970), Time Series Analysis; stationarity is kept by
/// partial autocorrelations as in Monahan, J. F. (1984), Biometrika 71, 403-404.
///
/// # Result
/// None where no mixture has a likelihood: all changes are alike.
pub fn fit_changes(w: &[f64], known: Option<&ChangesModel>) -> Option<ChangesModel> {
    let rows: Vec<[f64; 2]> = w.iter().map(|change| [*change, 1.0]).collect();
    if let Some(known) = known {
        return fitted(&rows, std::slice::from_ref(&known.free));
    }
    let mut best: Option<(f64, ChangesModel)> = None;
    // A walk and a series about a line are two hills apart.
    let mut starts = vec![vec![0.0], vec![-1.5]];
    for terms in 0..=MOST_TERMS {
        let Some(found) = fitted(&rows, &starts) else {
            continue;
        };
        let mut longer = found.free.clone();
        longer.insert(terms, 0.05);
        starts = vec![longer];
        // Drift, moving average and variance with the autoregressive terms.
        let (n, k) = (w.len() as f64, terms as f64 + 3.0);
        let criterion = found.deviance + 2.0 * k * n / (n - k - 1.0).max(1.0);
        if best.as_ref().is_none_or(|(least, _)| criterion < *least) {
            best = Some((criterion, found));
        }
    }
    best.map(|(_, model)| model)
}

/// The most probable mixture that is reached from one of the starts.
fn fitted(rows: &[[f64; 2]], starts: &[Vec<f64>]) -> Option<ChangesModel> {
    let bound = bound(rows.len());
    let deviance = |at: &[f64]| deviance(&mixture(at, bound), rows);
    let from = |start: &Vec<f64>| {
        minimise::minimise_bfgs(&start.clone().into(), DESCENT, |at| minimise::with_slope(at, deviance))
    };
    let found = starts.iter().filter_map(from).min_by(|a, b| a.value.total_cmp(&b.value))?;
    Some(ChangesModel { mixture: mixture(&found.at, bound), deviance: found.value, free: found.at })
}

/// The mixture of free numbers: partial autocorrelations, then the moving average.
fn mixture(free: &[f64], bound: f64) -> Mixture {
    let held = |x: &f64| bound * x / (1.0 + x * x).sqrt();
    let (terms, moving) = free.split_at(free.len().saturating_sub(1));
    let mut ar: Vec<f64> = Vec::new();
    for partial in terms.iter().map(held) {
        let before = ar.clone();
        for (i, phi) in ar.iter_mut().enumerate() {
            *phi -= partial * before[before.len() - 1 - i];
        }
        ar.push(partial);
    }
    Mixture { ar, ma: moving.iter().map(held).collect() }
}

fn deviance(mixture: &Mixture, rows: &[[f64; 2]]) -> Option<f64> {
    let (gram, logs) = Whitening::new(mixture, rows.len())?.products(rows);
    let sum = gram[0][0] - gram[0][1] * gram[0][1] / gram[1][1];
    let n = rows.len() as f64;
    (sum > 1e-14 * gram[0][0]).then(|| n * (sum / n).ln() + logs)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    fn changes(levels: &[f64]) -> Vec<f64> {
        levels.windows(2).map(|pair| pair[1] - pair[0]).collect()
    }

    #[test]
    fn noise_about_a_line_a_walk_and_an_autoregression_are_recognised() {
        let noise = NormalStream::new(3, 0).take(400);
        let flat: Vec<f64> = noise.iter().enumerate().map(|(t, e)| 5.0 + 0.1 * t as f64 + e).collect();
        let model = fit_changes(&changes(&flat), None).expect("changes");
        assert!(model.mixture.ma[0] < -0.95, "{model:?}");
        let walk: Vec<f64> = noise
            .iter()
            .scan(0.0, |level, e| {
                *level += e;
                Some(*level)
            })
            .collect();
        let model = fit_changes(&changes(&walk), None).expect("changes");
        assert!(model.mixture.ma[0].abs() < 0.3 || !model.mixture.ar.is_empty(), "{model:?}");
        let mut cycle = vec![0.0; 400];
        for t in 2..400 {
            cycle[t] = 1.2 * cycle[t - 1] - 0.6 * cycle[t - 2] + noise[t];
        }
        let model = fit_changes(&changes(&cycle), None).expect("changes");
        assert!(
            (model.mixture.ar[0] - 1.2).abs() < 0.12 && (model.mixture.ar[1] + 0.6).abs() < 0.12,
            "{model:?}"
        );
    }

    #[test]
    fn a_model_at_hand_is_found_again_from_its_own_coefficients() {
        let w = NormalStream::new(4, 0).take(200);
        let first = fit_changes(&w, None).expect("changes");
        let again = fit_changes(&w, Some(&first)).expect("changes");
        assert!((first.deviance - again.deviance).abs() < 1e-3);
        assert_eq!(first.mixture.ar.len(), again.mixture.ar.len());
    }

    #[test]
    fn changes_that_are_all_alike_have_no_model() {
        assert_eq!(fit_changes(&[0.5; 40], None), None);
    }
}
