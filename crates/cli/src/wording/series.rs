//! Samples, and what steps and averages did to a series.

use kandrel_core::boxcox::{self, Choice, LambdaRule, ProfileLikelihood, SdRatios};
use kandrel_core::decomp::{SeasonWindow, Windows};
use kandrel_core::num::scale::InvalidSeries;
use kandrel_core::series::{GapsAdvice, SeriesWithGaps};
use kandrel_core::time::Period;

use super::{count, first_few, number, short};
use crate::error::CliError;

/// What lags, differences and averages cost each series.
pub fn losses(all: &[SeriesWithGaps]) -> Vec<String> {
    let lost = |series: &SeriesWithGaps| match (series.lost.start, series.lost.end) {
        (0, 0) => None,
        (start, 0) => Some(format!("{}: {start} at the start", series.name)),
        (0, end) => Some(format!("{}: {end} at the end", series.name)),
        (start, end) => Some(format!("{}: {start} at the start, {end} at the end", series.name)),
    };
    all.iter().filter_map(lost).collect()
}

/// The value of --gaps that suits missing values, and why; without a value where none does.
pub fn gaps_rule(advice: GapsAdvice) -> (Option<&'static str>, &'static str) {
    match advice {
        GapsAdvice::Previous => (
            Some("previous"),
            "days without a value are holidays or weekends, on which the last price stands",
        ),
        GapsAdvice::Seasonal => {
            (Some("seasonal"), "the line between the neighbours, about the means of the seasonal positions")
        }
        GapsAdvice::Linear => (Some("linear"), "the line between the neighbours"),
        GapsAdvice::None => (None, "too much is missing to be filled"),
    }
}

/// A chosen λ, its interval, the other method's, and how even each makes the standard deviations of segments.
pub fn lambda(choice: &Choice, rule: LambdaRule) -> String {
    let signed = |value: f64| format!("{value:.2}").replace("-0.00", "0.00").replace('-', "−");
    let ProfileLikelihood { lambda, low, high } = choice.likelihood;
    let end = |value: Option<f64>, beyond: f64, word: &str| {
        value.map_or_else(|| format!("{word} {}", signed(beyond)), &signed)
    };
    let ratio = |of: fn(&SdRatios) -> f64| {
        choice.sd_ratios.as_ref().map_or(String::new(), |own| format!(", sd ratio {}", number(of(own), 1)))
    };
    let likelihood = format!(
        "{} by profile likelihood (95 %: {} to {}{})",
        signed(lambda),
        end(low, boxcox::SMALLEST, "below"),
        end(high, boxcox::LARGEST, "above"),
        ratio(|own| own.likelihood)
    );
    let even = ratio(|own| own.guerrero).replacen(", ", " (", 1);
    let closing = if even.is_empty() { "" } else { ")" };
    let guerrero = format!("{} by Guerrero's method{even}{closing}", signed(choice.guerrero));
    let (first, second, other) = match rule {
        LambdaRule::Likelihood => (likelihood, guerrero, ": boxcox=guerrero"),
        LambdaRule::Guerrero => (guerrero, likelihood, ": boxcox"),
    };
    let plain = choice.sd_ratios.map_or(String::new(), |own| {
        format!(
            "; ln {}, untransformed {} (largest to smallest segment standard deviation)",
            number(own.logarithm, 1),
            number(own.untransformed, 1)
        )
    });
    let advice = if choice.prefers_logarithm() { "; a logarithm is preferable: use ln" } else { "" };
    format!("λ = {first}; {second}{other}{plain}{advice}; boxcox={:.2} fixes it", choice.lambda(rule))
}

/// How a season was found that a step takes out.
pub fn season_taken_out(windows: &Windows) -> String {
    match windows.seasonal_window {
        SeasonWindow::Periodic => {
            format!("seasonal component (period {}, fixed pattern) removed", windows.season)
        }
        SeasonWindow::Evolving(window) => {
            format!("seasonal component (period {}, window of {window} cycles) removed", windows.season)
        }
    }
}

/// The values that a step replaced.
pub fn repaired(values: &[(Period, f64, f64)]) -> String {
    let one = |(period, from, to): &(Period, f64, f64)| format!("{period} {} → {}", short(*from), short(*to));
    match values {
        [] => "no outliers, nothing replaced".to_owned(),
        some => {
            let each: Vec<String> = some.iter().map(one).collect();
            format!("{} replaced: {}", count(some.len(), "outlier"), first_few(&each))
        }
    }
}

/// A series that nothing can be done with; `without` says what a constant one does not have.
pub fn unusable(
    at: &str,
    reason: InvalidSeries,
    without: &str,
    period: impl Fn(usize) -> Period,
) -> CliError {
    match reason {
        InvalidSeries::TooShort { .. } => {
            CliError::data(format!("{at}: {reason}")).advise("use a longer series or a wider --sample")
        }
        InvalidSeries::Constant => CliError::data(format!("{at}: {reason}"))
            .advise(format!("a series that never changes {without}; check the column or the --sample")),
        InvalidSeries::NotFinite { place } => too_large(at, period(place)),
    }
}

/// Values whose squares have no digits left.
pub fn too_small(at: &str) -> CliError {
    CliError::data(format!("{at}: all its values are below 1e-150, too small to compute with"))
        .advise("rescale the series")
}

/// A value that no square can be formed of.
pub fn too_large(at: &str, period: Period) -> CliError {
    CliError::data(format!("{at}: the value in {period} is too large to compute with"))
        .advise("rescale the series")
}
