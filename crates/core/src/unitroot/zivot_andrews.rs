use super::error::{FEWEST, UnitRootError};
use super::outcome::{Detail, Note, Null, TestName, UnitRootTest, note_on_p_value};
use super::perron::walk;
use super::statistic::{BreakSearch, break_search};
use crate::lag::{Criterion, LagRule, default_max_lags, largest_max_lags};
use crate::nulldist::{BreakModel, CriticalValues, Family, Side, Terms, draw_null};
use crate::num::scale;
use crate::num::triangular::TriangularFactor;
use crate::ols::nested_residual_sums;

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

/// What the test of Zivot and Andrews is told.
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
    let needed = FEWEST.max(24);
    if n < needed {
        return Err(UnitRootError::TooShort { observations: n, needed });
    }
    scale::check(y)?;
    let x = scale::deviations(y);
    let most = options.max_lags.unwrap_or_else(|| default_max_lags(n));
    let wanted = match options.lags {
        LagRule::Given(lags) => lags,
        _ => most,
    };
    if wanted > largest_max_lags(n) {
        return Err(UnitRootError::TooManyLags { lags: wanted, most: largest_max_lags(n), observations: n });
    }
    let outside = fewest_outside(n, options.trim);
    let search = |lags: usize| break_search(&x, options.model, lags, outside..=n - outside);
    let (lags, found): (usize, BreakSearch) = match options.lags {
        LagRule::Given(lags) => (lags, search(lags)?),
        LagRule::Criterion(criterion) => with_lags_by(&x, options.model, criterion, most, search)?,
        // The penalties of these rules are made for a regression without a break.
        LagRule::Maic | LagRule::T => with_lags_by(&x, options.model, Criterion::Aic, most, search)?,
    };
    let (p_value, critical, doubt) = against(n, options, lags, found.statistic)?;
    let searched = (!matches!(options.lags, LagRule::Given(_))).then_some(Note::LagsAsIfGiven);
    Ok(UnitRootTest {
        test: TestName::ZivotAndrews,
        null: Null::UnitRoot,
        terms: Terms::Trend,
        lags: Some(lags),
        lag_rule: Some(options.lags),
        max_lags: (!matches!(options.lags, LagRule::Given(_))).then_some(most),
        bandwidth: None,
        bandwidth_rule: None,
        kernel: None,
        observations: n,
        first_used: lags + 1,
        statistic: found.statistic,
        p_value,
        critical,
        regression: Vec::new(),
        joint: Vec::new(),
        detail: Detail::Break { place: found.before.saturating_sub(1), second: None, model: options.model },
        notes: [searched, doubt].into_iter().flatten().collect(),
    })
}

/// p-value, critical values and a note: from the table, or drawn where none was made.
fn against(
    n: usize,
    options: &BreakOptions,
    lags: usize,
    statistic: f64,
) -> Result<(f64, CriticalValues, Option<Note>), UnitRootError> {
    if (options.trim - USUAL_TRIM).abs() < 1e-9 {
        let surface = Family::ZivotAndrews(options.model).surface().ok_or(UnitRootError::NoDistribution)?;
        let distribution = surface.at(n, lags);
        let p_value = distribution.p_value(statistic, Side::Lower);
        let outside = (!surface.covers(n, lags)).then_some(Note::OutsideSimulation);
        return Ok((
            p_value,
            distribution.critical_values(Side::Lower),
            outside.or(note_on_p_value(p_value)),
        ));
    }
    let length = n.min(LONGEST_DRAWN);
    let outside = fewest_outside(length, options.trim);
    let null = draw_null(DRAWS, SEED, |stream| {
        let x = walk(stream, length);
        let found = break_search(&x, options.model, lags, outside..=length - outside).ok()?;
        Some(vec![found.statistic])
    });
    let drawn = null.first().ok_or(UnitRootError::NoDistribution)?;
    let critical = drawn.critical_values(Side::Lower).ok_or(UnitRootError::NoDistribution)?;
    Ok((drawn.p_value(statistic, Side::Lower), critical, Some(Note::Drawn(drawn.draws()))))
}

fn with_lags_by(
    x: &[f64],
    model: BreakModel,
    criterion: Criterion,
    most: usize,
    search: impl Fn(usize) -> Result<BreakSearch, crate::ols::OlsError>,
) -> Result<(usize, BreakSearch), UnitRootError> {
    let first = search(0)?;
    let lags = best_lags(x, model, first.before, criterion, most)?;
    Ok((lags, search(lags)?))
}

/// The lags with the best criterion for a break at this date, all on one sample.
fn best_lags(
    x: &[f64],
    model: BreakModel,
    before: usize,
    criterion: Criterion,
    most: usize,
) -> Result<usize, UnitRootError> {
    let dummies = if model == BreakModel::Both { 2 } else { 1 };
    let base = 3 + dummies;
    let n = x.len() as f64;
    let mut factor = TriangularFactor::new(base + most + 1);
    for t in most + 1..x.len() {
        let since = (t + 1).saturating_sub(before) as f64 / n;
        let step = if t >= before { 1.0 } else { 0.0 };
        let both = match model {
            BreakModel::Intercept => [step, 0.0],
            BreakModel::Trend => [since, 0.0],
            BreakModel::Both => [step, since],
        };
        let fixed = [1.0, t as f64 / n, x[t - 1]].into_iter().chain(both.into_iter().take(dummies));
        let past = (1..=most).map(|i| x[t - i] - x[t - i - 1]);
        factor.push_row(fixed.chain(past).chain([x[t] - x[t - 1]]));
    }
    let sums = nested_residual_sums(&mut factor, base)?;
    Ok(criterion.best_of(&sums, base, factor.rows()).unwrap_or(0))
}
