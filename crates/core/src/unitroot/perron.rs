//! Perron's test with a known break.

use super::error::UnitRootError;
use super::outcome::{Detail, Note, Null, TestName, UnitRootTest};
use super::statistic::{BreakLagRule, known_break, known_break_lags};
use crate::lag::{LagRule, default_max_lags, largest_max_lags};
use crate::nulldist::{BreakModel, Tail, Terms, draw_null, random_walk};
use crate::num::scale;
use crate::num::scale::InvalidSeries;

/// Series drawn for the null distribution.
const DRAWS: usize = 2_999;
/// Of a longer series the distribution is that of this length: it has settled.
const LONGEST_DRAWN: usize = 500;
/// Its seed.
const SEED: u64 = 20_261_127;
/// A regime needs that number of observations.
const SHORTEST_REGIME: usize = 5;

/// Options of the test with a known break.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct KnownBreakOptions {
    /// What breaks.
    pub model: BreakModel,
    /// Observations before the break.
    pub before: usize,
    /// How the lags are chosen.
    pub lags: LagRule,
    /// The most lags a search may take; default: [`default_max_lags`].
    pub max_lags: Option<usize>,
}

/// The test of a unit root with a break at a date known from elsewhere.
///
/// # Formula
/// That of [`known_break`]. The null distribution depends on where in the series the break
/// lies; it is drawn from random walks with a break at the same share of a series of this
/// length, each with its own search for lags.
///
/// # Input
/// `y` in order of time, without gaps, at least 20 values, five of them on either side of the
/// break. A date found by looking at the series is not known: the p-value is then too small.
///
/// # Errors
/// [`UnitRootError`].
///
/// # References
/// Perron (1989), *Econometrica* 57, 1361-1401.
pub fn perron(y: &[f64], options: &KnownBreakOptions) -> Result<UnitRootTest, UnitRootError> {
    let n = y.len();
    if n < 20 {
        return Err(UnitRootError::InvalidSeries(InvalidSeries::TooShort { observations: n, needed: 20 }));
    }
    let KnownBreakOptions { model, before, .. } = *options;
    if before < SHORTEST_REGIME || before + SHORTEST_REGIME > n {
        return Err(UnitRootError::BreakTooNear { before, observations: n, needed: SHORTEST_REGIME });
    }
    scale::check(y)?;
    let x = scale::deviations(y);
    let most = options.max_lags.unwrap_or_else(|| default_max_lags(n));
    let rule = BreakLagRule::of(options.lags);
    if let BreakLagRule::Given(lags) = rule
        && lags > largest_max_lags(n)
    {
        return Err(UnitRootError::TooManyLags { lags, most: largest_max_lags(n), observations: n });
    }
    let lags_of = |x: &[f64], before: usize| match rule {
        BreakLagRule::Given(lags) => Ok(lags),
        BreakLagRule::Criterion(criterion) => known_break_lags(x, model, before, most, criterion),
    };
    let lags = lags_of(&x, before)?;
    let statistic = known_break(&x, model, before, lags)?;
    let length = n.min(LONGEST_DRAWN);
    // The same share of the series, rounded; at least the shortest regime on either side.
    let there = (before * length + n / 2) / n;
    let there = there.clamp(SHORTEST_REGIME, length - SHORTEST_REGIME);
    let null = draw_null(DRAWS, SEED, |stream| {
        let x = random_walk(stream, length);
        let lags = lags_of(&x, there).ok()?;
        known_break(&x, model, there, lags).ok().map(|value| vec![value])
    });
    let drawn = null.first().ok_or(UnitRootError::NoDistribution)?;
    let critical = drawn.critical_values(Tail::Lower).ok_or(UnitRootError::NoDistribution)?;
    Ok(UnitRootTest {
        terms: Terms::Trend,
        lags: Some(lags),
        lag_rule: Some(rule.in_effect()),
        max_lags: rule.is_search().then_some(most),
        first_used: lags + 1,
        detail: Detail::Break { place: before - 1, second: None, model },
        notes: vec![Note::Drawn(drawn.draws())],
        ..UnitRootTest::bare(
            TestName::Perron,
            Null::UnitRoot,
            n,
            statistic,
            (drawn.p_value(statistic, Tail::Lower), critical),
        )
    })
}
