//! The unit-root test with an endogenous break date.

use super::error::{MIN_OBSERVATIONS_UNIT_ROOT, UnitRootError};
use super::outcome::{Detail, Note, Null, TestName, UnitRootTest, note_on_p_value};
use super::statistic::{BreakLagRule, BreakSearch, break_search, break_search_with_lags};
use crate::lag::{Criterion, LagRule, default_max_lags, largest_max_lags};
use crate::nulldist::{BreakModel, CriticalValues, Statistic, Tail, Terms, draw_null, random_walk};
use crate::num::scale;
use crate::num::scale::InvalidSeries;

/// The share of the series usually left out at either end of a search over dates, for which
/// there are tables.
pub const USUAL_TRIM: f64 = 0.15;
/// Series drawn where another share is left out.
const DRAWS: usize = 1_999;
/// Their seed.
const SEED: u64 = 20_261_126;
/// Of a longer series the distribution is that of this length: it has settled.
const LONGEST_DRAWN: usize = 500;

/// Observations left out at either end.
pub(super) fn fewest_outside(n: usize, trim: f64) -> usize {
    // A small non-negative number; what is a whole number but for rounding stays one.
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
    let fewest = (trim * n as f64 - 1e-9).ceil().max(1.0) as usize;
    fewest
}

/// Options of the Zivot-Andrews test.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct BreakOptions {
    /// What breaks.
    pub model: BreakModel,
    /// How the lags are chosen.
    pub lags: LagRule,
    /// The most lags a search may take; default: [`default_max_lags`].
    pub max_lags: Option<usize>,
    /// Share of the series left out at either end.
    pub trim: f64,
}

/// The test of a unit root against a trend that breaks once, at the date that speaks most
/// against the unit root.
///
/// # Formula
/// That of [`break_search`], dates from the share left out at either end. A search for lags looks
/// for the date without lags, takes the lags with the best criterion for a break at that
/// date, and looks for the date again.
///
/// # Input
/// `y` in order of time, without gaps, at least 24 values.
///
/// # Result
/// `Detail::Break` has the place of the last period of the old regime.
///
/// # Errors
/// [`UnitRootError`].
pub fn zivot_andrews(y: &[f64], options: &BreakOptions) -> Result<UnitRootTest, UnitRootError> {
    let n = y.len();
    let needed = MIN_OBSERVATIONS_UNIT_ROOT.max(24);
    if n < needed {
        return Err(UnitRootError::InvalidSeries(InvalidSeries::TooShort { observations: n, needed }));
    }
    scale::check(y)?;
    let x = scale::deviations(y);
    let most = options.max_lags.unwrap_or_else(|| default_max_lags(n));
    let rule = BreakLagRule::of(options.lags);
    let wanted = match rule {
        BreakLagRule::Given(lags) => lags,
        BreakLagRule::Criterion(_) => most,
    };
    if wanted > largest_max_lags(n) {
        return Err(UnitRootError::TooManyLags { lags: wanted, most: largest_max_lags(n), observations: n });
    }
    let outside = fewest_outside(n, options.trim);
    let search = |lags: usize| break_search(&x, options.model, lags, outside..=n - outside);
    let by = |criterion| break_search_with_lags(&x, options.model, criterion, most, outside..=n - outside);
    let (lags, found): (usize, BreakSearch) = match rule {
        BreakLagRule::Given(lags) => (lags, search(lags)?),
        BreakLagRule::Criterion(criterion) => by(criterion)?,
    };
    let (p_value, critical, warnings) = against(n, options, lags, found.statistic)?;
    let test = UnitRootTest {
        terms: Terms::Trend,
        lags: Some(lags),
        lag_rule: Some(rule.in_effect()),
        max_lags: rule.is_search().then_some(most),
        first_used: lags + 1,
        detail: Detail::Break { place: found.before.saturating_sub(1), second: None, model: options.model },
        notes: warnings,
        ..UnitRootTest::bare(TestName::ZivotAndrews, Null::UnitRoot, n, found.statistic, (p_value, critical))
    };
    Ok(test.where_noted())
}

/// p-value, critical values and notes: from the table of the search for lags or of given ones,
/// or drawn where none was made.
fn against(
    n: usize,
    options: &BreakOptions,
    lags: usize,
    statistic: f64,
) -> Result<(f64, CriticalValues, Vec<Note>), UnitRootError> {
    let rule = BreakLagRule::of(options.lags);
    if (options.trim - USUAL_TRIM).abs() < 1e-9 {
        let usual = rule == BreakLagRule::Criterion(Criterion::Aic) && options.max_lags.is_none();
        return by_table(
            Statistic::ZivotAndrews(options.model),
            n,
            BreakLags { lags, is_searched: rule.is_search(), is_usual: usual },
            statistic,
        );
    }
    let length = n.min(LONGEST_DRAWN);
    let outside = fewest_outside(length, options.trim);
    let null = draw_null(DRAWS, SEED, |stream| {
        let x = random_walk(stream, length);
        let found = break_search(&x, options.model, lags, outside..=length - outside).ok()?;
        Some(vec![found.statistic])
    });
    let drawn = null.first().ok_or(UnitRootError::NoDistribution)?;
    let critical = drawn.critical_values(Tail::Lower).ok_or(UnitRootError::NoDistribution)?;
    let searched = rule.is_search().then_some(Note::LagsAsIfGiven);
    let notes = searched.into_iter().chain([Note::Drawn(drawn.draws())]).collect();
    Ok((drawn.p_value(statistic, Tail::Lower), critical, notes))
}

/// How the lags of a search over dates came about.
#[derive(Clone, Copy)]
pub(super) struct BreakLags {
    /// Their number.
    pub lags: usize,
    /// The data chose it.
    pub is_searched: bool,
    /// By AIC among the default number, for which there is a table of its own.
    pub is_usual: bool,
}

/// p-value, critical values and notes: by the table of a search by AIC if the lags were searched for as
/// usual, else by that of given lags.
pub(super) fn by_table(
    null: Statistic,
    n: usize,
    how: BreakLags,
    statistic: f64,
) -> Result<(f64, CriticalValues, Vec<Note>), UnitRootError> {
    let given = null.given();
    let own = null.searched(Criterion::Aic).surface().filter(|_| how.is_usual);
    let (surface, size) = match own {
        Some(surface) => (surface, default_max_lags(n)),
        None => (given.surface().ok_or(UnitRootError::NoDistribution)?, how.lags),
    };
    let distribution = surface.at(n, size);
    let p_value = distribution.p_value(statistic, given.side());
    let outside = (!surface.covers(n, size)).then_some(Note::OutsideSimulation);
    let as_if = (how.is_searched && own.is_none()).then_some(Note::LagsAsIfGiven);
    let notes = [as_if, outside.or(note_on_p_value(p_value))].into_iter().flatten().collect();
    Ok((p_value, distribution.critical_values(given.side()), notes))
}
