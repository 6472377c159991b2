//! Unit-root and stationarity tests over rolling and recursive windows.

use std::ops::Range;

use rayon::prelude::*;

use crate::nulldist::Terms;
use crate::unitroot::{AdfOptions, KpssOptions, UnitRootError, UnitRootTest, adf, kpss};
use crate::verdict::{AssessOptions, assess};

/// Windows are this many at most; in longer series they end at evenly spaced observations.
const MOST_WINDOWS: usize = 500;

/// The tests of one stretch of a series.
#[derive(Debug, Clone, PartialEq)]
pub struct WindowTests {
    /// The test of Dickey and Fuller; none where it cannot be computed.
    pub adf: Option<UnitRootTest>,
    /// That of Kwiatkowski, Phillips, Schmidt and Shin, likewise.
    pub kpss: Option<UnitRootTest>,
}

/// The tests of the two stretches that end at one observation.
#[derive(Debug, Clone, PartialEq)]
pub struct WindowRow {
    /// The place of the last observation.
    pub last: usize,
    /// Of the last `window` observations.
    pub rolling: WindowTests,
    /// Of all observations so far.
    pub recursive: WindowTests,
}

/// Tests through time.
#[derive(Debug, Clone, PartialEq)]
pub struct Windows {
    /// Deterministic terms of all tests: those of the level in the verdict on the whole series.
    pub terms: Terms,
    /// Observations in a rolling window.
    pub window: usize,
    /// Observations from the end of one window to that of the next.
    pub step: usize,
    /// From the first whole window to the end of the series.
    pub rows: Vec<WindowRow>,
}

/// Why there are no tests through time.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum WindowError {
    /// The whole series has no verdict.
    #[error(transparent)]
    Series(#[from] UnitRootError),
    /// A window is longer than the series without its seasonality.
    #[error("a window of {window} observations is longer than the {observations} that can be tested")]
    TooLong {
        /// That was asked for.
        window: usize,
        /// Of the series that is tested.
        observations: usize,
    },
}

/// ADF and KPSS of the level over rolling and recursive windows.
///
/// # Method
/// The series without its seasonality, as the verdict on the whole series takes it out, and the verdict's deterministic
/// terms; lags and bandwidths are chosen for each window. Critical values are those of one test at a known date: of many
/// windows some reject by chance.
///
/// # References
/// Banerjee, Lumsdaine and Stock (1992), sections 2 and 3, for rolling and recursive statistics.
///
/// # Cost
/// Two pairs of tests for each of 500 windows at most: linear in the length of a window.
///
/// # Errors
/// [`WindowError`].
pub fn windows(y: &[f64], window: usize, options: &AssessOptions) -> Result<Windows, WindowError> {
    let whole = assess(y, options)?;
    let terms = whole.stages.first().map_or(Terms::Constant, |stage| stage.unit_root.terms);
    let tested = &whole.judged;
    let observations = tested.len();
    let count = match observations.checked_sub(window) {
        Some(more) if window > 0 => more + 1,
        _ => return Err(WindowError::TooLong { window, observations }),
    };
    let step = count.div_ceil(MOST_WINDOWS);
    // A seasonal difference has no values at the beginning.
    let before = y.len() - observations;
    let tests = |sample: Range<usize>| of_stretch(&tested[sample], terms, options);
    let ends: Vec<usize> = (window..=observations).rev().step_by(step).collect();
    let rows = ends
        .into_par_iter()
        .rev()
        .map(|end| WindowRow {
            last: before + end - 1,
            rolling: tests(end - window..end),
            recursive: tests(0..end),
        })
        .collect();
    Ok(Windows { terms, window, step, rows })
}

fn of_stretch(y: &[f64], terms: Terms, options: &AssessOptions) -> WindowTests {
    let dickey_fuller = AdfOptions { terms, lags: options.lags, max_lags: options.max_lags };
    // KPSS has no form without terms.
    let of_kpss = if terms == Terms::None { Terms::Constant } else { terms };
    let stationary = KpssOptions { terms: of_kpss, bandwidth: options.bandwidth, kernel: options.kernel };
    WindowTests { adf: adf(y, &dickey_fuller).ok(), kpss: kpss(y, &stationary).ok() }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;
    use crate::verdict::TermsRule;

    fn white(n: usize) -> Vec<f64> {
        NormalStream::new(902, 0).take(n)
    }

    #[test]
    fn each_row_is_the_test_of_its_own_stretch_and_the_last_that_of_the_whole() {
        let y = white(120);
        // Terms that are chosen have a null distribution of their own.
        let options = AssessOptions { terms: TermsRule::Given(Terms::Constant), ..AssessOptions::default() };
        let found = windows(&y, 40, &options).expect("windows");
        assert_eq!((found.rows.len(), found.step), (81, 1));
        let row = &found.rows[10];
        assert_eq!(row.last, 49);
        let own = AdfOptions { terms: found.terms, lags: options.lags, max_lags: None };
        assert_eq!(row.rolling.adf, adf(&y[10..50], &own).ok());
        assert_eq!(row.recursive.adf, adf(&y[..50], &own).ok());
        let level = assess(&y, &options).expect("a verdict").stages.remove(0);
        assert_eq!(found.rows[80].recursive.adf, Some(level.unit_root));
        assert_eq!(found.rows[80].recursive.kpss, Some(level.stationarity));
    }

    #[test]
    fn a_series_that_becomes_a_random_walk_is_seen_to() {
        let mut y = white(400);
        for t in 200..400 {
            y[t] += y[t - 1];
        }
        let found = windows(&y, 80, &AssessOptions::default()).expect("windows");
        let rejected = |from: usize, to: usize| {
            let rows = found.rows.iter().filter(|row| (from..to).contains(&row.last));
            let all: Vec<bool> =
                rows.filter_map(|row| Some(row.rolling.adf.as_ref()?.p_value? <= 0.05)).collect();
            all.iter().filter(|is_rejected| **is_rejected).count() as f64 / all.len() as f64
        };
        assert!(rejected(80, 200) > 0.95, "{}", rejected(80, 200));
        assert!(rejected(300, 400) < 0.3, "{}", rejected(300, 400));
    }

    #[test]
    fn long_series_have_a_bounded_number_of_windows_that_ends_at_the_end() {
        let y = white(1_400);
        let found = windows(
            &y,
            50,
            &AssessOptions { lags: crate::lag::LagRule::Given(0), ..AssessOptions::default() },
        )
        .expect("windows");
        assert_eq!((found.step, found.rows.len()), (3, 451));
        assert_eq!(found.rows.last().map(|row| row.last), Some(1_399));
        assert!(found.rows[0].last >= 49 && found.rows[0].last < 52);
    }

    #[test]
    fn a_window_longer_than_the_series_is_refused() {
        let refused = |window| windows(&white(60), window, &AssessOptions::default());
        assert_eq!(refused(61), Err(WindowError::TooLong { window: 61, observations: 60 }));
        assert!(matches!(refused(0), Err(WindowError::TooLong { .. })));
        assert_eq!(refused(60).map(|found| found.rows.len()), Ok(1));
    }
}
