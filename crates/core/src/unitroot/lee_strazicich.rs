//! The Lagrange-multiplier test of a unit root with breaks.

use super::error::UnitRootError;
use super::outcome::{Detail, Note, Null, TestName, UnitRootTest};
use super::statistic::{
    BreakLagRule, LagrangeModel, LagrangeSearch, lagrange_search, lagrange_search_with_lags,
};
use super::zivot_andrews::{BreakLags, USUAL_TRIM, by_table, fewest_outside};
use crate::lag::{Criterion, LagRule, default_max_lags, largest_max_lags};
use crate::nulldist::{
    BreakModel, CriticalValues, LagrangeCase, Statistic, Tail, Terms, draw_null, random_walk,
};
use crate::num::scale;
use crate::num::scale::InvalidSeries;

/// Series drawn where no table covers the trimming.
const DRAWS: usize = 999;
/// Their seed.
const SEED: u64 = 20_261_128;
/// The running sums of longer series, or of more lags, do not fit into memory.
const MOST_SUMS: usize = 25_000_000;
/// Pairs of dates in longer series are too many to try.
const LONGEST_FOR_TWO: usize = 2_000;

/// Options of the Lee-Strazicich test.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LagrangeOptions {
    /// The level, or level and slope.
    pub model: BreakModel,
    /// One break or two.
    pub breaks: usize,
    /// How the lags are chosen.
    pub lags: LagRule,
    /// The most lags a search may take; default: [`default_max_lags`].
    pub max_lags: Option<usize>,
    /// Share of the series left out at either end, and kept between two breaks.
    pub trim: f64,
}

/// The test of a unit root with one break or two, at dates that the data choose, where breaks
/// belong to the null too: a rejection means stationary about a broken trend, not merely "no
/// unit root or a break".
///
/// # Formula
/// That of [`lagrange_search`]. A search for lags looks for the dates without lags, takes the
/// lags with the best criterion for breaks there, and looks again.
///
/// # Input
/// `y` in order of time, without gaps, at least 24 values; with two breaks at most 2,000.
///
/// # Result
/// `Detail::Break` has the places of the last period of the old regimes.
///
/// # Errors
/// [`UnitRootError`].
pub fn lee_strazicich(y: &[f64], options: &LagrangeOptions) -> Result<UnitRootTest, UnitRootError> {
    let n = y.len();
    if n < 24 {
        return Err(UnitRootError::InvalidSeries(InvalidSeries::TooShort { observations: n, needed: 24 }));
    }
    let two = options.breaks > 1;
    if two && n > LONGEST_FOR_TWO {
        return Err(UnitRootError::TooLong { observations: n, most: LONGEST_FOR_TWO });
    }
    scale::check(y)?;
    let x = scale::deviations(y);
    let model = |lags| LagrangeModel {
        slope: options.model != BreakModel::Intercept,
        breaks: if two { 2 } else { 1 },
        lags,
    };
    let most = options.max_lags.unwrap_or_else(|| default_max_lags(n).min(most_that_fit(n)));
    let fewest = fewest_outside(n, options.trim);
    let search = |lags: usize| -> Result<LagrangeSearch, UnitRootError> {
        check_room(n, lags)?;
        Ok(lagrange_search(&x, model(lags), fewest)?)
    };
    let by = |criterion| -> Result<(usize, LagrangeSearch), UnitRootError> {
        check_room(n, most)?;
        Ok(lagrange_search_with_lags(&x, model(0), criterion, most, fewest)?)
    };
    let rule = BreakLagRule::of(options.lags);
    let (lags, found) = match rule {
        BreakLagRule::Given(lags) if lags > largest_max_lags(n) => {
            return Err(UnitRootError::TooManyLags { lags, most: largest_max_lags(n), observations: n });
        }
        BreakLagRule::Given(lags) => (lags, search(lags)?),
        BreakLagRule::Criterion(criterion) => by(criterion)?,
    };
    let (p_value, critical, notes) = against(n, model(lags), options, found.statistic)?;
    let place = |which: usize| found.before.get(which).map(|before| before - 1);
    let test = UnitRootTest {
        terms: Terms::Trend,
        lags: Some(lags),
        lag_rule: Some(rule.in_effect()),
        max_lags: rule.is_search().then_some(most),
        first_used: lags + 1,
        detail: Detail::Break { place: place(0).unwrap_or(0), second: place(1), model: options.model },
        notes,
        ..UnitRootTest::bare(TestName::LeeStrazicich, Null::UnitRoot, n, found.statistic, (p_value, critical))
    };
    Ok(test.where_noted())
}

/// The most lags whose running sums fit into memory.
fn most_that_fit(n: usize) -> usize {
    (0..=default_max_lags(n)).rev().find(|lags| check_room(n, *lags).is_ok()).unwrap_or(0)
}

/// Whether the running sums fit into memory.
fn check_room(n: usize, lags: usize) -> Result<(), UnitRootError> {
    let columns = lags + 4;
    if n * columns * (columns + 1) / 2 > MOST_SUMS {
        return Err(UnitRootError::TooLong { observations: n, most: 2 * MOST_SUMS / (columns * columns) });
    }
    Ok(())
}

/// p-value, critical values and notes: from the tables, or drawn where none was made.
fn against(
    n: usize,
    model: LagrangeModel,
    options: &LagrangeOptions,
    statistic: f64,
) -> Result<(f64, CriticalValues, Vec<Note>), UnitRootError> {
    let trim = options.trim;
    let rule = BreakLagRule::of(options.lags);
    let is_searched = rule.is_search();
    if (trim - USUAL_TRIM).abs() < 1e-9 {
        let case = LagrangeCase { slope: model.slope, two: model.breaks > 1 };
        let is_usual = rule == BreakLagRule::Criterion(Criterion::Aic) && options.max_lags.is_none();
        return by_table(
            Statistic::Lagrange(case),
            n,
            BreakLags { lags: model.lags, is_searched, is_usual },
            statistic,
        );
    }
    let length = n.min(if model.breaks > 1 { 120 } else { 500 });
    let fewest = fewest_outside(length, trim);
    let null = draw_null(DRAWS, SEED, |stream| {
        lagrange_search(&random_walk(stream, length), model, fewest).ok().map(|found| vec![found.statistic])
    });
    let drawn = null.first().ok_or(UnitRootError::NoDistribution)?;
    let critical = drawn.critical_values(Tail::Lower).ok_or(UnitRootError::NoDistribution)?;
    let as_if = is_searched.then_some(Note::LagsAsIfGiven);
    let notes = as_if.into_iter().chain([Note::Drawn(drawn.draws())]).collect();
    Ok((drawn.p_value(statistic, Tail::Lower), critical, notes))
}
