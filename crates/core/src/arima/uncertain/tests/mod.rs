//! Intervals with estimated coefficients against closed forms and simulated futures.

use super::*;
use crate::arima::{Model, fit};

fn autoregression(n: usize, stream: u64) -> Vec<f64> {
    let mut y = NormalStream::new(411, stream).take(n + 100);
    for t in 1..y.len() {
        y[t] += 0.8 * y[t - 1];
    }
    y.split_off(100)
}

fn estimated(y: &[f64], model: &str) -> (Data, Fit) {
    let data = Data::complete(y);
    let fit = fit(&data, Model::parse(model).expect("a model")).expect("an estimate");
    (data, fit)
}

#[test]
fn estimated_coefficients_widen_as_the_delta_method_says() {
    let (data, fit) = estimated(&autoregression(400, 1), "(1,0,0)");
    let joint = forecast_with_estimates(&fit, &data, &[], 3).expect("a distribution");
    let known = Known { sigma2: predictive_variance(&fit), ..Known::from(&fit) };
    let plain = forecast(&known, &data, &[], 3).expect("a distribution");
    let (phi, error) = (fit.coefficients.ar[0], fit.errors.clone().expect("errors")[0]);
    let distance = plain.mean[0] - fit.beta[0];
    // The mean h ahead moves by h φ^(h-1) (y_n - μ) times the error of φ, to first order.
    for h in 0..3 {
        let slope = (h + 1) as f64 * phi.powi(i32::try_from(h).expect("small")) * distance / phi;
        // The innovations' part hardly moves at the first step, where there is one response only.
        let added = joint.variance(h) - plain.variance(h);
        let expected = (slope * error).powi(2);
        assert!(h > 0 || (added / expected - 1.0).abs() < 0.1, "{h}: {added} {expected}");
        assert!(joint.variance(h) > plain.variance(h) * 0.99);
    }
    assert_eq!(joint.mean, plain.mean);
    let many = forecast_with_estimates(&fit, &data, &[], MOST_TOGETHER + 1).expect("a distribution");
    // Both ways have the same variances.
    for h in 0..3 {
        assert!((many.variance(h) / joint.variance(h) - 1.0).abs() < 1e-9, "{h}");
    }
}

#[test]
fn a_model_without_coefficients_has_students_variance_only() {
    let (data, fit) = estimated(&autoregression(30, 2), "(0,1,0)");
    let joint = forecast_with_estimates(&fit, &data, &[], 2).expect("a distribution");
    let squares: f64 =
        data.known_from(0).flatten().collect::<Vec<_>>().windows(2).map(|w| (w[1] - w[0]).powi(2)).sum();
    assert!((joint.variance(0) - squares / 27.0).abs() < 1e-12 * squares);
    assert!((joint.variance(1) / joint.variance(0) - 2.0).abs() < 1e-12);
}

#[test]
fn intervals_of_short_series_hold_what_they_say() {
    let (mut plain, mut whole, mut all) = (0, 0, 0);
    for stream in 0..1_000 {
        let y = autoregression(36, 10 + stream);
        let (past, future) = y.split_at(30);
        let (data, fit) = estimated(past, "(1,0,0)");
        let of_known = forecast(&Known::from(&fit), &data, &[], 6).expect("a distribution");
        let joint = forecast_with_estimates(&fit, &data, &[], 6).expect("a distribution");
        for (h, actual) in future.iter().enumerate() {
            let inside = |joint: &Joint| (actual - joint.mean[h]).abs() < 1.96 * joint.variance(h).sqrt();
            plain += u32::from(inside(&of_known));
            whole += u32::from(inside(&joint));
            all += 1;
        }
    }
    let share = |count: u32| f64::from(count) / f64::from(all);
    assert!(share(whole) > 0.925 && share(whole) < 0.965, "{} {}", share(whole), share(plain));
    assert!(share(whole) > share(plain) + 0.01, "{} {}", share(whole), share(plain));
}
