//! The statistics on random numbers: whatever comes in, no panic.

#![no_main]

use kandrel_core::coint::{ResidualOptions, SystemInput, relations, residual_tests, suggested_terms, system};
use kandrel_core::nulldist::SystemTerms;
use kandrel_core::regression::{ErrorKind, RegressionOptions, breusch_godfrey, regression, reset, white};
use kandrel_core::screen::{ScreenOptions, screen};
use kandrel_core::series::Series;
use kandrel_core::var::{LagTerms, VarInput, causality, estimate, lag_table, residual_checks};
use kandrel_fuzz::value;
use libfuzzer_sys::fuzz_target;

// Whatever the numbers: no panic, and no result that is not a number.
fuzz_target!(|bytes: &[u8]| {
    let [count, lags, rest @ ..] = bytes else { return };
    let count = usize::from(*count % 4) + 1;
    let lags = usize::from(*lags % 5);
    let n = rest.len() / count;
    if n > 160 {
        return;
    }
    let columns: Vec<Vec<f64>> = rest
        .chunks_exact(n.max(1))
        .take(count)
        .map(|chunk| chunk.iter().map(|byte| value(*byte)).collect())
        .collect();
    if columns.len() < count {
        return;
    }
    let slices: Vec<&[f64]> = columns.iter().map(Vec::as_slice).collect();
    let input = VarInput { series: &slices, exogenous: &[], terms: LagTerms::Constant, season: 1 };
    if let Ok(table) = lag_table(input, lags) {
        assert!(table.rows.iter().all(|row| row.aic.is_finite() && row.bic.is_finite()));
    }
    if let Ok(fit) = estimate(input, lags) {
        if let Some(checks) = residual_checks(&fit, 3, 2) {
            assert!(!checks.portmanteau.p_value.is_nan());
        }
    }
    if lags > 0 {
        if let Ok(found) = causality(input, lags, 1) {
            assert!(found.pairs.iter().all(|pair| !pair.p_value.is_nan()));
        }
    }
    if let Ok(found) = residual_tests(&slices, &ResidualOptions::default()) {
        assert!(
            found.engle_granger.statistic.is_finite()
                && found.engle_granger.p_value.is_none_or(|p| !p.is_nan())
        );
    }
    for terms in SystemTerms::ALL {
        if let Ok(found) = system(SystemInput { series: &slices, lags, terms }) {
            assert!(found.tests.iter().all(|row| row.trace.is_finite() && !row.p_trace.is_nan()));
            for rank in 1..count {
                if let Ok(found) = relations(&found, rank) {
                    assert!(found.vectors.iter().flatten().all(|value| value.is_finite()));
                }
            }
        }
    }
    let _ = suggested_terms(&slices, lags.max(1), 0.05);
    for errors in [ErrorKind::Classical, ErrorKind::Hc3, ErrorKind::NeweyWest(lags)] {
        let options = RegressionOptions { constant: None, errors, alpha: 0.05 };
        if let Ok(fit) = regression(&columns[1..], &columns[0], &options) {
            assert!(fit.coefficients.iter().all(|line| line.estimate.is_finite() && !line.p_value.is_nan()));
            let tests = [breusch_godfrey(&fit, 2), white(&fit), reset(&fit)];
            assert!(tests.iter().flatten().all(|test| !test.p_value.is_nan()));
        }
    }
    if n <= 60 {
        if let Ok(found) =
            screen(&Series::undated("x", columns[0].clone()), &ScreenOptions { season: 1, quick: true })
        {
            assert!(found.diagnosis.assessment.verdict.probability.is_finite());
        }
    }
});
