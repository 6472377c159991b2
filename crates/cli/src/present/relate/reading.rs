//! What relations say, in words.

use super::{CrossResult, Function, MatrixResult, RelateResult, Unit};
use crate::wording;

/// The answer in one sentence.
pub fn sentence(result: &RelateResult) -> String {
    match (result.cross.as_slice(), &result.scatter, &result.correlations) {
        ([one], ..) => pair_sentence(one, &result.unit),
        ([_, _, ..], ..) => pairs_sentence(&result.cross, &result.unit),
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
    let in_changes = result.changes.as_ref().and_then(MatrixResult::closest);
    if !result.nonstationary.is_empty() {
        let (levels, trend, their) = match result.nonstationary.len() {
            1 => ("level", "is non-stationary", "its"),
            _ => ("levels", "are non-stationary", "their"),
        };
        let names = wording::first_few(&result.nonstationary);
        let changes = in_changes.map_or(String::new(), |(a, b, r)| {
            let close = if matrix.names.len() > 2 { " most closely" } else { "" };
            format!("; in first differences{close}, {a} and {b}: r = {}", self::r(r))
        });
        return format!("The {levels} of {names} {trend}, so {their} correlations may be spurious{changes}.");
    }
    if matrix.names.len() == 2 {
        let changes =
            in_changes.map_or(String::new(), |(_, _, r)| format!(" ({} in first differences)", self::r(r)));
        return format!("{first} and {second} are correlated {}{changes}, over {over}.", r(level));
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
            wording::first_few(&result.nonstationary)
        ));
    }
    if result.changes.is_none() && !result.is_of_changes && result.correlations.is_some() {
        all.push("The first differences of a series are constant and have no correlations.".to_owned());
    }
    if result.seasonal.len() > 1 && result.cross.is_empty() && result.scatter.is_none() {
        all.push(format!(
            "{} are seasonal with period {}: shared seasonality alone correlates levels and first \
              differences.",
            wording::first_few(&result.seasonal),
            result.unit.season
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

/// A correlation with two decimals, or more where these would make it one.
pub fn r(value: f64) -> String {
    let decimals = match value.abs() {
        size if !(0.995..1.0).contains(&size) => 2,
        size if size < 0.9995 => 3,
        _ => 5,
    };
    format!("{value:.decimals$}").replace("-0.00", "0.00").replace('-', "−")
}

/// A lag with a true minus.
pub fn signed(lag: i64) -> String {
    lag.to_string().replace('-', "−")
}
