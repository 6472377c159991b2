//! Likelihoods, estimates and forecasts of random models: whatever comes in, no panic.

#![no_main]

use kandrel_core::arima::{Data, Known, Level, Model, diagnose, fit, forecast};
use kandrel_fuzz::value;
use libfuzzer_sys::fuzz_target;

/// A byte that represents a missing value.
const MISSING: u8 = 255;

// Whatever the model and the numbers: no panic, and no result that is not a number.
fuzz_target!(|bytes: &[u8]| {
    let [orders, seasonal, season, ahead, beside, rest @ ..] = bytes else { return };
    if rest.len() > 90 {
        return;
    }
    let digit = |byte: &u8, place: u32| usize::from(byte / 4_u8.pow(place) % 4);
    let [seasonal_ar, seasonal_differences, seasonal_ma] =
        [digit(seasonal, 0) % 3, digit(seasonal, 1) % 2, digit(seasonal, 2) % 3];
    let is_seasonal = seasonal_ar + seasonal_differences + seasonal_ma > 0;
    let model = Model {
        ar: digit(orders, 0),
        differences: digit(orders, 1) % 3,
        ma: digit(orders, 2),
        seasonal_ar,
        seasonal_differences,
        seasonal_ma,
        season: if is_seasonal { usize::from(*season % 14) + 2 } else { 1 },
        level: [Level::None, Level::Mean, Level::Drift][digit(orders, 3) % 3],
    };
    let ahead = usize::from(*ahead % 20) + 1;
    let cells: Vec<Option<f64>> = rest.iter().map(|byte| (*byte != MISSING).then(|| value(*byte))).collect();
    let count = usize::from(*beside % 3);
    let regressor = |k: usize, t: usize| value(beside.wrapping_mul(17).wrapping_add((t * (k + 3)) as u8));
    let column = |k: usize, from: usize, to: usize| (from..to).map(|t| regressor(k, t)).collect();
    let n = cells.len();
    let data = Data::with_gaps(&cells).with_regressors((0..count).map(|k| column(k, 0, n)).collect());
    let Ok(found) = fit(&data, model) else { return };
    assert!(found.log_likelihood.is_finite() && found.sigma2.is_finite());
    let numbers = [&found.beta, &found.beta_errors, &found.residuals, &found.one_step_errors];
    assert!(numbers.into_iter().flatten().all(|value| value.is_finite()), "{found:?}");
    let tests = diagnose(&found, model.season);
    let outcomes = [tests.ljung_box, tests.runs, tests.jarque_bera, tests.mcleod_li];
    assert!(outcomes.iter().flatten().all(|outcome| !outcome.p_value.is_nan()));
    let future: Vec<Vec<f64>> = (0..count).map(|k| column(k, n, n + ahead)).collect();
    if let Ok(joint) = forecast(&Known::from(&found), &data, &future, ahead) {
        assert!(joint.mean.iter().chain(joint.responses.iter().flatten()).all(|value| value.is_finite()));
    }
});
