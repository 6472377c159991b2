//! Tests of the order of fractional integration.

use super::error::UnitRootError;
use super::outcome::{Detail, Note, Null, TestName, UnitRootTest};
use super::statistic::{Memory, local_whittle, log_periodogram, memory_bandwidth, periodogram};
use crate::nulldist::{CriticalValues, Tail, draw_null};
use crate::num::scale;
use crate::num::scale::InvalidSeries;

/// Series drawn for the null distribution.
const DRAWS: usize = 3_999;
/// Their seed.
const SEED: u64 = 20_261_130;
/// Fewer frequencies tell nothing of a slope at the origin.
const MIN_OBSERVATIONS_MEMORY: usize = 30;

/// An estimate of the order of fractional integration d, and the test of d = 0.
///
/// # Formula
/// [`log_periodogram`] or [`local_whittle`] at `floor(n^0.65)` frequencies. The statistic is
/// `d / std_error`; its two-sided p-value is from as many independent exponential ordinates, of
/// which the periodogram of normal noise consists exactly, so it holds for short series too.
///
/// # Input
/// `y` in order of time, without gaps, at least 30 values. Both estimates are pulled up by a
/// short-run root near one, by a trend, and by breaks of the mean.
///
/// # Errors
/// [`UnitRootError`].
pub fn fractional_order(y: &[f64], which: TestName) -> Result<UnitRootTest, UnitRootError> {
    let n = y.len();
    if n < MIN_OBSERVATIONS_MEMORY {
        return Err(UnitRootError::InvalidSeries(InvalidSeries::TooShort {
            observations: n,
            needed: MIN_OBSERVATIONS_MEMORY,
        }));
    }
    scale::check(y)?;
    let x = scale::deviations(y);
    let bandwidth = memory_bandwidth(n);
    let estimate: fn(&[f64], usize) -> Option<Memory> =
        if which == TestName::LocalWhittle { local_whittle } else { log_periodogram };
    let ordinates = periodogram(&x, bandwidth).ok_or(UnitRootError::Deterministic)?;
    let found = estimate(&ordinates, n).ok_or(UnitRootError::Deterministic)?;
    let statistic = found.d / found.std_error;
    let null = draw_null(DRAWS, SEED, |stream| {
        let square = |_| stream.draw().powi(2) + stream.draw().powi(2);
        let drawn: Vec<f64> = (0..bandwidth).map(square).collect();
        estimate(&drawn, n).map(|one| vec![(one.d / one.std_error).abs()])
    });
    let drawn = null.first().ok_or(UnitRootError::NoDistribution)?;
    let critical: CriticalValues = drawn.critical_values(Tail::Upper).ok_or(UnitRootError::NoDistribution)?;
    let p_value = drawn.p_value(statistic.abs(), Tail::Upper);
    Ok(UnitRootTest {
        bandwidth: Some(bandwidth),
        detail: Detail::Memory(found),
        notes: vec![Note::Drawn(drawn.draws())],
        ..UnitRootTest::bare(which, Null::NoMemory, n, statistic, (p_value, critical))
    })
}
