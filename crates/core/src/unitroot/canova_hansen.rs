//! The Canova-Hansen test of a stable seasonal pattern.

use super::error::UnitRootError;
use super::outcome::{
    Detail, FrequencyResult, JointResult, Kernel, Note, Null, TestName, UnitRootTest, note_on_p_value,
};
use super::statistic::{SeasonStability, season_stability};
use crate::nulldist::{CriticalValues, SeasonLength, StabilityStatistic, Statistic, Tail, Terms, draw_null};
use crate::num::scale;
use crate::num::scale::InvalidSeries;
use crate::ols::Bandwidth;

/// Series drawn for seasons without a table.
const DRAWS: usize = 1_999;
/// Their seed.
const SEED: u64 = 20_261_129;

/// Options of the Canova-Hansen test.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct StabilityOptions {
    /// Observations in a season, at least 2.
    pub season: usize,
    /// Whether a trend is included with the constant.
    pub trend: bool,
    /// Bandwidth of the long-run covariance; automatic represents [`Bandwidth::Short`].
    pub bandwidth: Bandwidth,
}

/// The test of a deterministic seasonal pattern, against one that has seasonal unit roots: the opposite
/// null to that of seasonal unit roots.
///
/// # Formula
/// That of [`season_stability`]. The statistic and its p-value are of all cycles together; the
/// detail has each of them.
///
/// # Input
/// `y` in order of time, without gaps, at least five seasons, without a unit root at the long
/// run (difference it first).
///
/// # Errors
/// [`UnitRootError`].
///
/// # References
/// Canova and Hansen (1995), *Journal of Business & Economic Statistics* 13, 237-252.
pub fn canova_hansen(y: &[f64], options: &StabilityOptions) -> Result<UnitRootTest, UnitRootError> {
    let (n, season) = (y.len(), options.season);
    let needed = (5 * season).max(24);
    if n < needed || season < 2 {
        return Err(UnitRootError::InvalidSeries(InvalidSeries::TooShort { observations: n, needed }));
    }
    scale::check(y)?;
    let x = scale::deviations(y);
    let rule = if options.bandwidth == Bandwidth::Automatic { Bandwidth::Short } else { options.bandwidth };
    let bandwidth = rule.resolve(&x);
    if bandwidth > n / 4 {
        return Err(UnitRootError::TooWide { bandwidth, most: n / 4, observations: n });
    }
    let found = season_stability(&x, season, options.trend, bandwidth)?;
    let null = null(n, options, bandwidth, &found)?;
    let frequencies = found.cycles.iter().zip(&null.cycles).zip(1..).map(|((statistic, p_value), number)| {
        let period = Some(season as f64 / f64::from(number));
        FrequencyResult { period, is_t: false, statistic: *statistic, p_value: Some(*p_value) }
    });
    let all = JointResult { name: "seasonal", statistic: found.seasonal, p_value: Some(null.p_value) };
    let test = UnitRootTest {
        terms: if options.trend { Terms::Trend } else { Terms::Constant },
        lags: Some(1),
        bandwidth: Some(bandwidth),
        bandwidth_rule: Some(rule),
        kernel: Some(Kernel::Bartlett),
        first_used: 1,
        detail: Detail::Seasonal { frequencies: frequencies.collect(), joint: vec![all] },
        notes: null.note.into_iter().collect(),
        ..UnitRootTest::bare(
            TestName::CanovaHansen,
            Null::FixedSeason,
            n,
            found.seasonal,
            (null.p_value, null.critical),
        )
    };
    Ok(test.where_noted())
}

/// What the statistics are held against.
struct Against {
    cycles: Vec<f64>,
    p_value: f64,
    critical: CriticalValues,
    note: Option<Note>,
}

fn null(
    n: usize,
    options: &StabilityOptions,
    bandwidth: usize,
    found: &SeasonStability,
) -> Result<Against, UnitRootError> {
    let StabilityOptions { season, trend, .. } = *options;
    match SeasonLength::of(season) {
        Some(length) => from_tables(n, length, trend, bandwidth, found),
        None => drawn(n, season, trend, bandwidth, found),
    }
}

fn from_tables(
    n: usize,
    length: SeasonLength,
    trend: bool,
    bandwidth: usize,
    found: &SeasonStability,
) -> Result<Against, UnitRootError> {
    let surface = |which| {
        Statistic::SeasonStability(length, which, trend)
            .given()
            .surface()
            .ok_or(UnitRootError::NoDistribution)
    };
    let last = found.cycles.len().saturating_sub(1);
    let of_cycle = |(place, statistic): (usize, &f64)| {
        let which = if place == last { StabilityStatistic::Shortest } else { StabilityStatistic::Pair };
        Ok(surface(which)?.at(n, bandwidth).p_value(*statistic, Tail::Upper))
    };
    let together = surface(StabilityStatistic::Seasonal)?;
    let distribution = together.at(n, bandwidth);
    let p_value = distribution.p_value(found.seasonal, Tail::Upper);
    let outside = (!together.covers(n, bandwidth)).then_some(Note::OutsideSimulation);
    Ok(Against {
        cycles: found.cycles.iter().enumerate().map(of_cycle).collect::<Result<_, UnitRootError>>()?,
        p_value,
        critical: distribution.critical_values(Tail::Upper),
        note: outside.or(note_on_p_value(p_value)),
    })
}

fn drawn(
    n: usize,
    season: usize,
    trend: bool,
    bandwidth: usize,
    found: &SeasonStability,
) -> Result<Against, UnitRootError> {
    let null = draw_null(DRAWS, SEED, |stream| {
        let one = season_stability(&stream.take(n), season, trend, bandwidth).ok()?;
        Some(one.cycles.into_iter().chain([one.seasonal]).collect())
    });
    let (together, cycles) = null.split_last().ok_or(UnitRootError::NoDistribution)?;
    Ok(Against {
        cycles: cycles.iter().zip(&found.cycles).map(|(one, f)| one.p_value(*f, Tail::Upper)).collect(),
        p_value: together.p_value(found.seasonal, Tail::Upper),
        critical: together.critical_values(Tail::Upper).ok_or(UnitRootError::NoDistribution)?,
        note: Some(Note::Drawn(together.draws())),
    })
}
