//! The test of unit roots at seasonal frequencies.

use super::error::UnitRootError;
use super::outcome::{
    Detail, FrequencyResult, JointResult, Note, Null, TestName, UnitRootTest, note_on_p_value,
};
use super::statistic::{SeasonalRoots, chosen_seasonal_lags, seasonal_roots};
use crate::lag::{Criterion, LagRule};
use crate::nulldist::{
    CriticalValues, Drawn, Family, LagChoice, SeasonLength, SeasonalStatistic, Statistic, Tail, Terms,
    draw_null,
};
use crate::num::scale;
use crate::num::scale::InvalidSeries;

/// Series drawn for seasons without a table.
const DRAWS: usize = 1_999;
/// Their seed.
const SEED: u64 = 20_261_131;

/// Options of the HEGY test of seasonal unit roots.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct SeasonalOptions {
    /// Observations in a season, an even number.
    pub season: usize,
    /// Whether a trend is included with the seasonal dummies.
    pub trend: bool,
    /// That number of lags of the seasonal difference; by AIC if not given.
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
/// [`UnitRootError`]; [`UnitRootError::NoDistribution`] for an odd season.
pub fn hegy(y: &[f64], options: &SeasonalOptions) -> Result<UnitRootTest, UnitRootError> {
    let (n, season) = (y.len(), options.season);
    if season < 2 || season % 2 == 1 {
        return Err(UnitRootError::NoDistribution);
    }
    if n < 6 * season {
        return Err(UnitRootError::InvalidSeries(InvalidSeries::TooShort {
            observations: n,
            needed: 6 * season,
        }));
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
    let usual = options.lags.is_none() && options.max_lags.is_none();
    let against = Against::of(n, season, options.trend, lags, usual);
    let p = |which, statistic: f64| against.p_value(which, statistic);
    let p_value = p(SeasonalStatistic::Seasonal, found.seasonal)?;
    let critical = against.critical_values()?;
    let warning = against.note(p_value);
    let searched = (options.lags.is_none() && !against.allows_for_search()).then_some(Note::LagsAsIfGiven);
    let test = UnitRootTest {
        terms: if options.trend { Terms::Trend } else { Terms::Constant },
        lags: Some(lags),
        lag_rule: Some(options.lags.map_or(LagRule::Criterion(Criterion::Aic), LagRule::Given)),
        max_lags: options.lags.is_none().then_some(most),
        first_used: season + lags,
        detail: Detail::Seasonal {
            frequencies: frequencies(&found, season, &p)?,
            joint: vec![
                JointResult { name: "seasonal", statistic: found.seasonal, p_value: Some(p_value) },
                JointResult {
                    name: "all",
                    statistic: found.all,
                    p_value: Some(p(SeasonalStatistic::All, found.all)?),
                },
            ],
        },
        notes: [searched, warning].into_iter().flatten().collect(),
        ..UnitRootTest::bare(TestName::Hegy, Null::UnitRoot, n, found.seasonal, (p_value, critical))
    };
    Ok(test.where_noted())
}

/// What the statistics are held against: the tables of quarters and months, or a distribution
/// drawn for another season.
enum Against {
    /// `usual`: the lags were chosen by AIC among a season's.
    Tables {
        n: usize,
        lags: usize,
        length: SeasonLength,
        trend: bool,
        usual: bool,
    },
    Drawn(Vec<Drawn>),
}

impl Against {
    fn of(n: usize, season: usize, trend: bool, lags: usize, usual: bool) -> Self {
        if let Some(length) = SeasonLength::of(season) {
            let first = roots(length, SeasonalStatistic::Seasonal, trend, true);
            let usual = usual && first.surface().is_some();
            let lags = if usual { season } else { lags };
            return Self::Tables { n, lags, length, trend, usual };
        }
        Self::Drawn(draw_null(DRAWS, SEED, |stream| {
            let mut x = stream.take(n);
            for t in season..n {
                x[t] += x[t - season];
            }
            let found = seasonal_roots(&x, season, trend, lags).ok()?;
            // Every pair has one distribution; a seasonal period of two has none.
            let pair = found.pairs.first().copied().unwrap_or(0.0);
            Some(vec![found.zero, found.shortest, pair, found.seasonal, found.all])
        }))
    }

    fn p_value(&self, which: SeasonalStatistic, statistic: f64) -> Result<f64, UnitRootError> {
        match self {
            Self::Tables { n, lags, length, trend, usual } => {
                let family = roots(*length, which, *trend, *usual);
                let surface = family.surface().ok_or(UnitRootError::NoDistribution)?;
                Ok(surface.at(*n, *lags).p_value(statistic, family.side()))
            }
            Self::Drawn(all) => {
                let place = SeasonalStatistic::ALL.iter().position(|one| *one == which);
                let drawn = place.and_then(|place| all.get(place)).ok_or(UnitRootError::NoDistribution)?;
                Ok(drawn.p_value(statistic, which.side()))
            }
        }
    }

    /// Of all seasonal roots together.
    fn critical_values(&self) -> Result<CriticalValues, UnitRootError> {
        match self {
            Self::Tables { n, lags, length, trend, usual } => {
                let family = roots(*length, SeasonalStatistic::Seasonal, *trend, *usual);
                let surface = family.surface().ok_or(UnitRootError::NoDistribution)?;
                Ok(surface.at(*n, *lags).critical_values(Tail::Upper))
            }
            Self::Drawn(all) => all
                .get(3)
                .and_then(|drawn| drawn.critical_values(Tail::Upper))
                .ok_or(UnitRootError::NoDistribution),
        }
    }

    /// Whether the distribution is that of a search for lags.
    fn allows_for_search(&self) -> bool {
        matches!(self, Self::Tables { usual: true, .. })
    }

    fn note(&self, p_value: f64) -> Option<Note> {
        match self {
            Self::Tables { n, lags, length, trend, usual } => {
                let family = roots(*length, SeasonalStatistic::Seasonal, *trend, *usual);
                let covers = family.surface().is_some_and(|surface| surface.covers(*n, *lags));
                (!covers).then_some(Note::OutsideSimulation).or(note_on_p_value(p_value))
            }
            Self::Drawn(all) => all.first().map(|drawn| Note::Drawn(drawn.draws())),
        }
    }
}

fn roots(length: SeasonLength, which: SeasonalStatistic, trend: bool, usual: bool) -> Family {
    let choice = if usual { LagChoice::Searched(Criterion::Aic) } else { LagChoice::Given };
    Statistic::SeasonalRoots(length, which, trend).after(choice)
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
            let p_value = Some(p(which, cycle.statistic)?);
            Ok(FrequencyResult { period, is_t, statistic: cycle.statistic, p_value })
        })
        .collect()
}
