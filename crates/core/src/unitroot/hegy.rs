use super::error::UnitRootError;
use super::outcome::{
    Detail, FrequencyResult, JointResult, Note, Null, TestName, UnitRootTest, note_on_p_value,
};
use super::statistic::{SeasonalRoots, chosen_seasonal_lags, seasonal_roots};
use crate::lag::{Criterion, LagRule};
use crate::nulldist::{Family, SeasonLength, SeasonalStatistic, Side, Terms};
use crate::num::scale;

/// What the test of seasonal unit roots is told.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct SeasonalOptions {
    /// Observations in a season: 4 or 12.
    pub season: usize,
    /// Whether a trend stands beside the seasonal dummies.
    pub trend: bool,
    /// So many lags of the seasonal difference; by AIC if not given.
    pub lags: Option<usize>,
    /// The most lags that the choice may take; default: a season, as the sample allows.
    pub max_lags: Option<usize>,
}

/// The test of unit roots at the frequencies of a season, with seasonal dummies.
///
/// # Formula
/// That of [`seasonal_roots`]. The statistic and its p-value are of all seasonal roots
/// together; the detail has every frequency.
///
/// # Input
/// `y` in order of time, without gaps, at least six seasons.
///
/// # Errors
/// [`UnitRootError`]; [`UnitRootError::NoDistribution`] for another season.
pub fn hegy(y: &[f64], options: &SeasonalOptions) -> Result<UnitRootTest, UnitRootError> {
    let (n, season) = (y.len(), options.season);
    let length = SeasonLength::of(season).ok_or(UnitRootError::NoDistribution)?;
    if n < 6 * season {
        return Err(UnitRootError::TooShort { observations: n, needed: 6 * season });
    }
    scale::check(y)?;
    let x = scale::deviations(y);
    let room = n.saturating_sub(3 * season + season / 2 + 1) / 2;
    let most = options.max_lags.unwrap_or(season).min(room);
    let lags = match options.lags {
        Some(lags) if lags > room => {
            return Err(UnitRootError::TooManyLags { lags, most: room, observations: n });
        }
        Some(lags) => lags,
        None => chosen_seasonal_lags(&x, season, options.trend, most, Criterion::Aic)?,
    };
    let found = seasonal_roots(&x, season, options.trend, lags)?;
    let p = |which, statistic: f64| -> Result<f64, UnitRootError> {
        let family = Family::SeasonalRoots(length, which, options.trend);
        let surface = family.surface().ok_or(UnitRootError::NoDistribution)?;
        Ok(surface.at(n, lags).p_value(statistic, family.side()))
    };
    let seasonal = Family::SeasonalRoots(length, SeasonalStatistic::Seasonal, options.trend);
    let surface = seasonal.surface().ok_or(UnitRootError::NoDistribution)?;
    let p_value = p(SeasonalStatistic::Seasonal, found.seasonal)?;
    let outside = (!surface.covers(n, lags)).then_some(Note::OutsideSimulation);
    let searched = options.lags.is_none().then_some(Note::LagsAsIfGiven);
    Ok(UnitRootTest {
        test: TestName::Hegy,
        null: Null::UnitRoot,
        terms: if options.trend { Terms::Trend } else { Terms::Constant },
        lags: Some(lags),
        lag_rule: Some(options.lags.map_or(LagRule::Criterion(Criterion::Aic), LagRule::Given)),
        max_lags: options.lags.is_none().then_some(most),
        bandwidth: None,
        bandwidth_rule: None,
        kernel: None,
        observations: n,
        first_used: season + lags,
        statistic: found.seasonal,
        p_value,
        critical: surface.at(n, lags).critical_values(Side::Upper),
        regression: Vec::new(),
        joint: Vec::new(),
        detail: Detail::Seasonal {
            frequencies: frequencies(&found, season, &p)?,
            joint: vec![
                JointResult { name: "seasonal", statistic: found.seasonal, p_value },
                JointResult {
                    name: "all",
                    statistic: found.all,
                    p_value: p(SeasonalStatistic::All, found.all)?,
                },
            ],
        },
        notes: [outside, searched, note_on_p_value(p_value)].into_iter().flatten().collect(),
    })
}

fn frequencies(
    found: &SeasonalRoots,
    season: usize,
    p: &dyn Fn(SeasonalStatistic, f64) -> Result<f64, UnitRootError>,
) -> Result<Vec<FrequencyResult>, UnitRootError> {
    let cycles = found.cycles();
    let last = cycles.len().saturating_sub(1);
    cycles
        .into_iter()
        .enumerate()
        .map(|(place, cycle)| {
            let (which, is_t) = match place {
                0 => (SeasonalStatistic::Zero, true),
                _ if place == last => (SeasonalStatistic::Shortest, true),
                _ => (SeasonalStatistic::Pair, false),
            };
            let period = (cycle.number > 0).then(|| season as f64 / cycle.number as f64);
            let p_value = p(which, cycle.statistic)?;
            Ok(FrequencyResult { period, is_t, statistic: cycle.statistic, p_value })
        })
        .collect()
}
