//! Power against closed forms, and against series drawn another way.

use super::*;

fn options(draws: usize) -> PowerOptions {
    PowerOptions { assess: AssessOptions::default(), draws, seed: 1 }
}

fn autoregression(n: usize, rho: f64, stream: u64) -> Vec<f64> {
    let mut y = NormalStream::new(1_001, stream).take(n + 100);
    for t in 1..y.len() {
        y[t] += rho * y[t - 1];
    }
    y.split_off(100)
}

#[test]
fn power_falls_to_the_level_as_the_root_rises_to_one() {
    let found = power(&autoregression(150, 0.8, 0), &options(200), |_, _| {}).expect("a table");
    let adf: Vec<f64> = found.rows.iter().map(|row| row.adf).collect();
    assert!(adf.windows(2).all(|pair| pair[1] <= pair[0] + 0.05), "{adf:?}");
    assert!(adf[0] > 0.95 && adf[10] < 0.12, "{adf:?}");
    let (first, last) = (found.rows[0], found.rows[10]);
    assert!(first.kpss < 0.15 && last.kpss > 0.7, "{first:?} {last:?}");
    assert!(first.verdict > 0.95 && last.verdict < 0.2, "{first:?} {last:?}");
    let at = found.found.expect("a root that is found");
    assert!((0.8..0.95).contains(&at), "{at}");
    assert!((0.5..0.97).contains(&found.estimated), "{}", found.estimated);
}

#[test]
fn bisection_finds_the_root_of_the_whole_table() {
    let y = autoregression(150, 0.8, 1);
    let whole = power(&y, &options(100), |_, _| {}).expect("a table");
    let assessment = assess(&y, &AssessOptions::default()).expect("an assessment");
    let found = root_found_by_adf(&assessment, &options(100)).expect("a root that is found");
    // The same draws at the same roots, so the same line between the same neighbours.
    assert!((found - whole.found.expect("a root that is found")).abs() < 1e-12, "{found} {:?}", whole.found);
}

#[test]
fn drawn_series_have_the_root_and_the_short_run_dynamics() {
    let drawn =
        Drawn { short_run: vec![0.5], terms: Terms::Constant, lags: LagRule::Given(1), options: options(50) };
    // (1 - 0.7B)(1 - 0.5B): the first autocorrelation is 1.2 / 1.35.
    let x = drawn.series(0.7, 40_000, 3);
    let square: f64 = x.iter().map(|value| value * value).sum();
    let product: f64 = x.windows(2).map(|pair| pair[0] * pair[1]).sum();
    assert!((product / square - 1.2 / 1.35).abs() < 0.01, "{}", product / square);
    // The steps of a unit root are the short-run process itself.
    let walk = drawn.series(1.0, 20_000, 3);
    let steps: Vec<f64> = walk.windows(2).map(|pair| pair[1] - pair[0]).collect();
    let square: f64 = steps.iter().map(|value| value * value).sum();
    let product: f64 = steps.windows(2).map(|pair| pair[0] * pair[1]).sum();
    assert!((product / square - 0.5).abs() < 0.02, "{}", product / square);
}

#[test]
fn the_length_that_is_needed_finds_the_root_in_80_of_100() {
    let drawn = Drawn {
        short_run: Vec::new(),
        terms: Terms::Constant,
        lags: LagRule::Given(0),
        options: options(400),
    };
    let needed = drawn.needed(0.9, 60).expect("a length");
    // Series of that length drawn with another seed.
    let other = Drawn { options: PowerOptions { seed: 99, ..options(400) }, ..drawn };
    let power = other.adf_power(0.9, needed, 77);
    assert!((power - 0.8).abs() < 0.07, "{needed} {power}");
    assert_eq!(other.needed(0.9999, 40), None);
}

#[test]
fn explosive_short_run_coefficients_are_drawn_in_and_few_draws_refused() {
    let short = stationary(vec![1.2, 0.1]);
    assert!(Whitening::new(&Mixture { ar: short, ma: Vec::new() }, 10).is_some());
    assert_eq!(stationary(vec![0.4]), [0.4]);
    let few = power(&autoregression(60, 0.5, 1), &options(10), |_, _| {});
    assert_eq!(few, Err(PowerError::Draws { draws: 10 }));
    assert!(matches!(power(&[1.0; 60], &options(50), |_, _| {}), Err(PowerError::Verdict(_))));
}

#[test]
fn the_root_that_is_found_lies_between_its_rows() {
    let row = |root, adf| PowerRow { root, adf, pp: 0.0, adf_gls: None, kpss: 0.0, verdict: 0.0 };
    let rows = [row(0.5, 1.0), row(0.8, 0.9), row(0.9, 0.7), row(1.0, 0.05)];
    assert!((found(&rows).expect("a root") - 0.85).abs() < 1e-12);
    assert_eq!(found(&[row(0.5, 0.6), row(1.0, 0.05)]), None);
}
