//! What relations say, in words.

use super::{CrossResult, Function, LeadResult, MatrixResult, RelateResult, Unit};
use crate::wording;

/// The answer in one sentence.
pub fn sentence(result: &RelateResult) -> String {
    match (result.cross.as_slice(), &result.scatter, &result.correlations) {
        ([one], ..) => pair_sentence(one, &result.unit),
        ([_, _, ..], ..) => pairs_sentence(&result.cross, &result.unit),
        // The strongest of two non-stationary levels is no lead.
        (_, Some(scatter), _) if result.nonstationary.len() > 1 => format!(
            "The levels of {} are non-stationary, so their correlations at any lag may be spurious (largest: r = {}): use \
             --changes.",
            named(&result.nonstationary),
            scatter.closest().map_or_else(|| "none".to_owned(), |panel| r(panel.r))
        ),
        (_, Some(scatter), _) => scatter.sentence(&result.unit),
        (_, None, Some(matrix)) => matrix_sentence(result, matrix),
        (_, None, None) => "There are no two series to correlate.".to_owned(),
    }
}

/// Who leads of a pair.
pub fn pair_sentence(pair: &CrossResult, unit: &Unit) -> String {
    let strongest = &pair.of.strongest;
    let after = if pair.filter.is_some() { ", after prewhitening" } else { "" };
    let (first, second) = (&pair.first, &pair.second);
    let r = r(strongest.r);
    let against = if strongest.r < 0.0 { ", in the opposite direction" } else { "" };
    if !strongest.significant {
        return format!(
            "No significant cross-correlation of {first} and {second}{after}: the largest, {r} at lag {}, is \
              within sampling variation over {} lags.",
            signed(strongest.lag),
            pair.of.cross.lags.len()
        );
    }
    let follower = if strongest.lag > 0 { second } else { first };
    let relation = |verb: &str| match &strongest.leads {
        Some(leader) => format!("{leader} {verb}leads {follower} by {}{against}", unit.count(strongest.lag)),
        None => format!("{first} and {second} {verb}move in the same {}{against}", unit.noun),
    };
    if !pair.is_spurious() {
        return format!("{}{after}: r = {r}.", relation(""));
    }
    let why = if pair.shared_seasonality {
        format!("are seasonal with period {}", unit.season)
    } else {
        "are non-stationary".to_owned()
    };
    let seems = relation("seem to ").replacen(" seem to leads ", " seems to lead ", 1);
    format!("{seems} (r = {r}), but both {why}, which alone can cause this correlation: use --prewhiten.")
}

/// A few names in a sentence.
fn named(names: &[String]) -> String {
    match names {
        [_, _] | [_, _, _] => wording::joined(&names.iter().map(String::as_str).collect::<Vec<_>>()),
        _ => wording::first_few(names),
    }
}

/// Which of two series leads, as a clause.
fn lead_clause(lead: &LeadResult, unit: &Unit) -> String {
    let strongest = &lead.strongest;
    let size = format!("r = {} after prewhitening", r(strongest.r));
    match (&strongest.leads, strongest.significant) {
        (Some(leader), true) => {
            let follower = if *leader == lead.first { &lead.second } else { &lead.first };
            format!("{leader} leads {follower} by {} ({size})", unit.count(strongest.lag))
        }
        (None, true) => {
            format!("{} and {} are correlated in the same {} ({size})", lead.first, lead.second, unit.noun)
        }
        (_, false) => {
            format!(
                "there is no significant cross-correlation of {} and {} after prewhitening",
                lead.first, lead.second
            )
        }
    }
}

fn pairs_sentence(all: &[CrossResult], unit: &Unit) -> String {
    let clear: Vec<&CrossResult> =
        all.iter().filter(|pair| pair.of.strongest.significant && !pair.is_spurious()).collect();
    let by_size =
        |a: &&&CrossResult, b: &&&CrossResult| a.of.strongest.r.abs().total_cmp(&b.of.strongest.r.abs());
    match clear.iter().max_by(by_size) {
        None => format!(
            "No significant cross-correlation in any of {} pairs, apart from trends and shared seasonality.",
            all.len()
        ),
        Some(most) => format!(
            "Significant cross-correlation in {} of {} pairs, apart from trends and shared seasonality; \
              largest: {}",
            clear.len(),
            all.len(),
            pair_sentence(most, unit)
        ),
    }
}

fn matrix_sentence(result: &RelateResult, matrix: &MatrixResult) -> String {
    let over = wording::count(matrix.observations, result.unit.noun);
    let Some((first, second, level)) = matrix.closest() else {
        return "There are no two series to correlate.".to_owned();
    };
    let clause = result.lead.as_ref().map(|lead| lead_clause(lead, &result.unit));
    let in_changes = result.changes.as_ref().and_then(MatrixResult::closest);
    if !result.nonstationary.is_empty() {
        let (levels, trend, their) = match result.nonstationary.len() {
            1 => ("level", "is non-stationary", "its"),
            _ => ("levels", "are non-stationary", "their"),
        };
        let names = named(&result.nonstationary);
        let lead = clause.map(|clause| format!("; in first differences {clause}"));
        let changes = in_changes.filter(|_| lead.is_none()).map_or(lead.unwrap_or_default(), |(a, b, r)| {
            if matrix.names.len() > 2 {
                format!("; in first differences {a} and {b} have the largest correlation: r = {}", self::r(r))
            } else {
                format!("; in first differences the correlation of {a} and {b} is {}", self::r(r))
            }
        });
        return format!("The {levels} of {names} {trend}, so {their} correlations may be spurious{changes}.");
    }
    if matrix.names.len() == 2 {
        let changes =
            in_changes.map_or(String::new(), |(_, _, r)| format!(" ({} in first differences)", self::r(r)));
        return match clause {
            Some(clause) => {
                // A series keeps its own letters.
                let clause = clause.replacen("there is no", "There is no", 1);
                let level = r(level);
                format!(
                    "{clause}; correlation in the same {}: {level}{changes}, over {over}.",
                    result.unit.noun
                )
            }
            None => format!("The correlation of {first} and {second} is {}{changes}, over {over}.", r(level)),
        };
    }
    format!(
        "Of {} series {first} and {second} have the largest correlation: r = {}, over {over}.",
        matrix.names.len(),
        r(level)
    )
}

/// Cautions and what else there is to see.
pub fn reading(result: &RelateResult) -> Vec<String> {
    let mut all = Vec::new();
    if result.nonstationary.len() > 1 && result.scatter.is_none() {
        all.push(format!(
            "{} are non-stationary: correlations of such levels are often spurious. Use the correlations of \
              first differences.",
            named(&result.nonstationary)
        ));
    }
    if result.changes.is_none() && !result.is_of_changes && result.correlations.is_some() {
        all.push("The first differences of a series are constant and have no correlations.".to_owned());
    }
    if result.seasonal.len() > 1 && result.cross.is_empty() && result.scatter.is_none() {
        all.push(format!(
            "{} are seasonal with period {}: shared seasonality alone correlates levels and first \
              differences.",
            named(&result.seasonal),
            result.unit.season
        ));
    }
    if let Some(lead) = &result.lead {
        let what = if lead.of_differences { "first differences" } else { "series" };
        let how = if lead.order == 0 {
            format!("No filter is needed, as {} is white noise.", lead.first)
        } else {
            format!(
                "Both {what} are filtered by the AR({}) model of {} (order by AIC).",
                lead.order, lead.first
            )
        };
        all.push(format!(
            "{how} Before prewhitening the largest correlation is {} at lag {}.",
            r(lead.raw.r),
            signed(lead.raw.lag)
        ));
    }
    if let [pair] = result.cross.as_slice() {
        all.extend(about_pair(pair, &result.unit));
    } else {
        let echoing = result.cross.iter().filter(|pair| !pair.of.seasonal_repeats.is_empty()).count();
        if echoing > 0 {
            all.push(format!(
                "In {} the largest correlation repeats at seasonal lags: seasonal repetitions, not further \
                  lead-lag relations.",
                wording::count(echoing, "pair")
            ));
        }
        if result.cross.iter().any(|pair| pair.both_autocorrelated && pair.filter.is_none()) {
            all.push(NARROW_BAND.to_owned());
        }
    }
    all
}

const NARROW_BAND: &str = "Where both series are autocorrelated, the band understates sampling variation; --prewhiten \
                            corrects for that.";

fn about_pair(pair: &CrossResult, unit: &Unit) -> Vec<String> {
    let mut all = Vec::new();
    if let (Some(filter), Some(raw)) = (&pair.filter, &pair.raw) {
        all.push(format!(
            "Both series are filtered by the AR({}) model of {} (order by AIC). Before filtering the \
              strongest lag is {} (r = {}).",
            filter.order,
            pair.first,
            signed(raw.strongest.lag),
            r(raw.strongest.r)
        ));
    } else if pair.both_autocorrelated {
        all.push(
            "Both series are autocorrelated, so the band understates sampling variation: --prewhiten corrects \
              for that."
                .to_owned(),
        );
    }
    all.extend(echo(&pair.of, unit));
    if pair.shared_seasonality && pair.filter.is_none() {
        all.push(format!(
            "Both are seasonal with period {}: shared seasonality correlates them at every lag and repeats \
              every {} lags.",
            unit.season, unit.season
        ));
    }
    let outside = pair.of.cross.lags.iter().filter(|one| one.r.abs() > pair.of.cross.band).count();
    all.push(format!(
        "{} outside the band of ±{:.3}; of {} lags about {:.0} are expected under independence.",
        if outside == 1 { "1 lag lies".to_owned() } else { format!("{outside} lags lie") },
        pair.of.cross.band,
        pair.of.cross.lags.len(),
        (0.05 * pair.of.cross.lags.len() as f64).max(1.0)
    ));
    all
}

fn echo(function: &Function, unit: &Unit) -> Option<String> {
    let lags: Vec<String> = function.seasonal_repeats.iter().map(|lag| signed(*lag)).collect();
    let (lag, verb, what) = match lags.as_slice() {
        [] => return None,
        [_] => ("Lag", "shows", "a seasonal repetition"),
        _ => ("Lags", "show", "seasonal repetitions"),
    };
    Some(format!(
        "{lag} {} {verb} the same correlation at a multiple of the seasonal period {}: {what}, not \
          another lead-lag relation.",
        wording::first_few(&lags),
        unit.season
    ))
}

/// A correlation with two decimals, near one with three or more.
pub fn r(value: f64) -> String {
    let decimals = match value.abs() {
        size if !(0.95..1.0).contains(&size) => 2,
        size if size < 0.9995 => 3,
        _ => 5,
    };
    format!("{value:.decimals$}").replace("-0.00", "0.00").replace('-', "−")
}

/// A lag with a true minus.
pub fn signed(lag: i64) -> String {
    lag.to_string().replace('-', "−")
}
