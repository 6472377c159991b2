//! Seasonality, variance and trend of each series in words.

use kandrel_core::series::{Fill, fill};
use kandrel_core::shape::{
    self, DetectedSeasonality, TransformationAdvice, TrendShape, TrendTest, TrendVerdict,
    VarianceLevelRelation,
};
use kandrel_core::time::Period;
use schemars::JsonSchema;
use serde::Serialize;

use crate::present::diagnosis::DiagnosisResult;
use crate::wording;
use crate::wording::p_equals;

/// What a look at a series shows.
#[derive(JsonSchema, Serialize)]
pub struct Shape {
    pub season: Option<SeasonFound>,
    pub variance_level: Option<VarianceLevelRelation>,
    pub trend: Option<TrendVerdict>,
}

/// A season found in the data.
#[derive(JsonSchema, Serialize)]
pub struct SeasonFound {
    length: usize,
    autocorrelation: f64,
    p_value: f64,
    /// Periods of the peaks.
    peaks: Vec<String>,
    /// The distance between peaks: in the middle, shortest, longest.
    spacing: Option<[usize; 3]>,
}

/// Series longer than this are not looked at.
const LONGEST: usize = 100_000;
/// Shorter ones show nothing that can be tested.
const MIN_OBSERVATIONS_SHAPE: usize = 30;

/// Looks at all values, gaps between them filled about the seasonal means; `None` if there are too few or too many, or
/// they do not vary.
pub fn shape(cells: &[Option<f64>], season: usize, period: impl Fn(usize) -> Period) -> Option<Shape> {
    let start = cells.iter().position(Option::is_some)?;
    let y: Vec<f64> = fill(cells, Fill::Seasonal, season).cells.into_iter().flatten().collect();
    if !(MIN_OBSERVATIONS_SHAPE..=LONGEST).contains(&cells.iter().flatten().count()) {
        return None;
    }
    kandrel_core::num::scale::check(&y).ok()?;
    let seasonality = shape::seasonality(&y);
    let season = if season > 1 { season } else { seasonality.as_ref().map_or(1, |found| found.season) };
    let at = |place: &usize| period(start + place).to_string();
    let named = |found: DetectedSeasonality| SeasonFound {
        length: found.season,
        autocorrelation: found.autocorrelation,
        p_value: found.p_value,
        peaks: found.peaks.iter().map(at).collect(),
        spacing: found.spacing,
    };
    Some(Shape {
        season: seasonality.map(named),
        variance_level: shape::advised_transformation(&y, season).spread,
        trend: shape::trend_shape(&y, season),
    })
}

/// All of it in one sentence, for data with `season` observations in the usual season
/// of their frequency, one of which is a `noun`.
pub fn sentence(shape: &Shape, diagnosis: Option<&DiagnosisResult>, season: usize, noun: &str) -> String {
    if let Some(own) = diagnosis {
        return assessed(shape, own, season, noun);
    }
    let parts = [
        Some(season_words(shape.season.as_ref(), season, noun)),
        shape.variance_level.as_ref().map(spread_words),
        shape.trend.as_ref().map(trend_words),
    ];
    let mut text = parts.into_iter().flatten().collect::<Vec<_>>().join("; ");
    text.push('.');
    text
}

/// The joint assessment, with the peaks of the season and a variance that no transformation stabilises.
fn assessed(shape: &Shape, own: &DiagnosisResult, season: usize, noun: &str) -> String {
    // The peaks of the calendar's season say nothing new.
    let other = shape.season.as_ref().filter(|found| found.length != own.season);
    let peaks = other.map(|found| season_words(Some(found), season, noun));
    let odd = |spread: &&VarianceLevelRelation| {
        own.transformation == "none"
            && !matches!(spread.advice, TransformationAdvice::None | TransformationAdvice::LevelConstant)
    };
    let spread = shape.variance_level.as_ref().filter(odd).map(spread_words);
    let parts = std::iter::once(own.summary()).chain(peaks).chain(spread);
    format!("{}.", parts.collect::<Vec<_>>().join("; "))
}

fn season_words(found: Option<&SeasonFound>, season: usize, noun: &str) -> String {
    let Some(found) = found else {
        return "no seasonality detected".to_owned();
    };
    // Peaks that are not a season apart are those of something else.
    let regular = |[middle, ..]: &[usize; 3]| 4 * middle.abs_diff(found.length) <= found.length;
    let spacing = found.spacing.filter(regular);
    let peaks = match spacing {
        Some([_, least, most]) if least == most => format!(", peaks {most} {noun}s apart"),
        Some([middle, least, most]) => format!(", peaks {middle} {noun}s apart ({least} to {most})"),
        None => String::new(),
    };
    let last = found.peaks.last().filter(|_| spacing.is_some());
    let last = last.map(|last| format!(", the last in {last}")).unwrap_or_default();
    let unlike = if season > 1 && season != found.length {
        format!(" (not {season}: see --season)")
    } else if season <= 1 {
        format!(" (use --season {})", found.length)
    } else {
        String::new()
    };
    format!("seasonal period {}{unlike}{peaks}{last}", found.length)
}

fn spread_words(spread: &VarianceLevelRelation) -> String {
    let p = p_equals(spread.p_value);
    let power = wording::short(spread.exponent);
    match spread.advice {
        TransformationAdvice::None => format!("variance does not depend on the level ({p})"),
        TransformationAdvice::Logarithm => {
            format!("standard deviation proportional to the level (elasticity {power}, {p}): use ln")
        }
        TransformationAdvice::BoxCox => {
            format!("variance increases with the level (elasticity {power}, {p}): use boxcox")
        }
        TransformationAdvice::IncreasingNonpositive => {
            format!("variance increases with the level ({p}), but non-positive values have no logarithm")
        }
        TransformationAdvice::LevelConstant => {
            format!(
                "variance depends on the level ({p}), but the level varies too little for a transformation to \
                      matter"
            )
        }
        TransformationAdvice::Falls => format!("variance decreases with the level (elasticity {power}, {p})"),
    }
}

fn trend_words(trend: &TrendVerdict) -> String {
    // A trend that only the logarithm has is reported with its p-value.
    let of_logarithm =
        |own: &TrendTest| trend.trend_shape != TrendShape::None && own.p_value < trend.level.p_value;
    let own = trend.logarithm.filter(of_logarithm).unwrap_or(trend.level);
    let p = p_equals(own.p_value);
    let changing = p_equals(trend.differences.p_value);
    let share = trend.growth_rates.map_or("no p".to_owned(), |test| p_equals(test.p_value));
    let (linear, exponential) = if trend.certain {
        ("", "")
    } else {
        ("; an exponential trend is not excluded", "; a linear trend is not excluded")
    };
    match trend.trend_shape {
        TrendShape::None => format!("no trend ({p})"),
        TrendShape::Linear => format!("linear trend ({p}; constant increments: {changing}{linear})"),
        TrendShape::Exponential => {
            format!(
                "exponential trend ({p}; constant growth rate: {share}, constant increments: \
                      {changing}{exponential})"
            )
        }
        TrendShape::Other => {
            format!(
                "trend ({p}), neither linear nor exponential: constant increments rejected ({changing}), constant \
                      growth rate rejected ({share})"
            )
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn peaks_are_reported_where_they_are_one_period_apart() {
        let of = |spacing: Option<[usize; 3]>| {
            let peaks = vec!["2018-12".to_owned()];
            let found = SeasonFound { length: 12, autocorrelation: 0.5, p_value: 0.001, peaks, spacing };
            season_words(Some(&found), 12, "month")
        };
        assert_eq!(of(Some([12, 12, 12])), "seasonal period 12, peaks 12 months apart, the last in 2018-12");
        assert_eq!(
            of(Some([13, 9, 15])),
            "seasonal period 12, peaks 13 months apart (9 to 15), the last in 2018-12"
        );
        assert_eq!(of(Some([70, 13, 152])), "seasonal period 12");
        assert_eq!(of(None), "seasonal period 12");
    }
}
