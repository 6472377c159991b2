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
        (_, None, None) => "There is nothing to relate.".to_owned(),
    }
}

/// Who leads of a pair.
pub fn pair_sentence(pair: &CrossResult, unit: &Unit) -> String {
    let strongest = &pair.of.strongest;
    let after = if pair.filter.is_some() { ", after prewhitening" } else { "" };
    let (first, second) = (&pair.first, &pair.second);
    let r = r(strongest.r);
    let against = if strongest.r < 0.0 { ", in the opposite direction" } else { "" };
    if !strongest.stands_out {
        return format!(
            "No lag stands out between {first} and {second}{after}: the largest correlation, {r} at lag {}, is \
             within what chance makes of {} lags.",
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
    let why = if pair.season_shared {
        format!("have a season of {}", unit.season)
    } else {
        "trend or wander".to_owned()
    };
    let seems = relation("seem to ").replacen(" seem to leads ", " seems to lead ", 1);
    format!("{seems} (r = {r}), but both {why}, which can do this alone: prewhiten before you believe it.")
}

fn pairs_sentence(all: &[CrossResult], unit: &Unit) -> String {
    let clear: Vec<&CrossResult> =
        all.iter().filter(|pair| pair.of.strongest.stands_out && !pair.is_spurious()).collect();
    let by_size =
        |a: &&&CrossResult, b: &&&CrossResult| a.of.strongest.r.abs().total_cmp(&b.of.strongest.r.abs());
    match clear.iter().max_by(by_size) {
        None => format!("No lag stands out in any of {} pairs, trends and shared seasons aside.", all.len()),
        Some(most) => format!(
            "A lag stands out in {} of {} pairs, trends and shared seasons aside, most clearly: {}",
            clear.len(),
            all.len(),
            pair_sentence(most, unit)
        ),
    }
}

fn matrix_sentence(result: &RelateResult, matrix: &MatrixResult) -> String {
    let over = wording::count(matrix.observations, result.unit.noun);
    let Some((first, second, level)) = matrix.closest() else {
        return "There is nothing to relate.".to_owned();
    };
    let in_changes = result.changes.as_ref().and_then(MatrixResult::closest);
    if !result.wandering.is_empty() {
        let (levels, trend, their) = match result.wandering.len() {
            1 => ("level", "trends or wanders", "its"),
            _ => ("levels", "trend or wander", "their"),
        };
        let names = wording::first_few(&result.wandering);
        let changes = in_changes.map_or(String::new(), |(a, b, r)| {
            let close = if matrix.names.len() > 2 { " closest" } else { "" };
            format!("; in changes{close} are {a} and {b}, r = {}", self::r(r))
        });
        return format!("The {levels} of {names} {trend}, so {their} correlations say little{changes}.");
    }
    if matrix.names.len() == 2 {
        let changes = in_changes.map_or(String::new(), |(_, _, r)| format!(" ({} in changes)", self::r(r)));
        return format!("{first} and {second} are correlated {}{changes}, over {over}.", r(level));
    }
    format!(
        "Of {} series {first} and {second} are closest: r = {}, over {over}.",
        matrix.names.len(),
        r(level)
    )
}

/// Cautions and what else there is to see.
pub fn reading(result: &RelateResult) -> Vec<String> {
    let mut all = Vec::new();
    if result.wandering.len() > 1 && result.scatter.is_none() {
        all.push(format!(
            "{} trend or wander: two such levels are often closely correlated without having anything to do with \
             each other. Go by the changes.",
            wording::first_few(&result.wandering)
        ));
    }
    if result.changes.is_none() && !result.is_of_changes && result.correlations.is_some() {
        all.push("The changes of a series never vary, so that they have no correlations.".to_owned());
    }
    if result.seasonal.len() > 1 && result.cross.is_empty() && result.scatter.is_none() {
        all.push(format!(
            "{} have a season of {}: sharing one correlates levels and changes by itself.",
            wording::first_few(&result.seasonal),
            result.unit.season
        ));
    }
    if let [pair] = result.cross.as_slice() {
        all.extend(about_pair(pair, &result.unit));
    } else {
        let echoing = result.cross.iter().filter(|pair| !pair.of.echoes.is_empty()).count();
        if echoing > 0 {
            all.push(format!(
                "In {} the strongest relation is seen again whole seasons away: echoes, not further leads.",
                wording::count(echoing, "pair")
            ));
        }
        if result.cross.iter().any(|pair| pair.both_autocorrelated && pair.filter.is_none()) {
            all.push(NARROW_BAND.to_owned());
        }
    }
    all
}

const NARROW_BAND: &str = "Where both series depend on their own past, chance correlations are larger than the band; \
                           --prewhiten takes that away.";

fn about_pair(pair: &CrossResult, unit: &Unit) -> Vec<String> {
    let mut all = Vec::new();
    if let (Some(filter), Some(raw)) = (&pair.filter, &pair.raw) {
        all.push(format!(
            "Both went through the autoregression of order {} that makes {} white (order by AIC). Before it the \
             strongest lag is {} (r = {}).",
            filter.order,
            pair.first,
            signed(raw.strongest.lag),
            r(raw.strongest.r)
        ));
    } else if pair.both_autocorrelated {
        all.push(
            "Both depend on their own past, so chance correlations are larger than the band: --prewhiten takes \
             that away."
                .to_owned(),
        );
    }
    all.extend(echo(&pair.of, unit));
    if pair.season_shared && pair.filter.is_none() {
        all.push(format!(
            "Both have a season of {}: a shared season correlates series at every lag, and again every {} lags, \
             whatever moves them.",
            unit.season, unit.season
        ));
    }
    let outside = pair.of.cross.lags.iter().filter(|one| one.r.abs() > pair.of.cross.band).count();
    all.push(format!(
        "{} outside the band of ±{:.3}; of {} lags chance would put about {:.0} there.",
        if outside == 1 { "1 lag lies".to_owned() } else { format!("{outside} lags lie") },
        pair.of.cross.band,
        pair.of.cross.lags.len(),
        (0.05 * pair.of.cross.lags.len() as f64).max(1.0)
    ));
    all
}

fn echo(function: &Function, unit: &Unit) -> Option<String> {
    let lags: Vec<String> = function.echoes.iter().map(|lag| signed(*lag)).collect();
    let (lag, verb, what) = match lags.as_slice() {
        [] => return None,
        [_] => ("Lag", "shows", "an echo"),
        _ => ("Lags", "show", "echoes"),
    };
    Some(format!(
        "{lag} {} {verb} the same relation whole seasons of {} away: {what} of the season, not another lead.",
        wording::first_few(&lags),
        unit.season
    ))
}

/// A correlation with two decimals.
pub fn r(value: f64) -> String {
    format!("{value:.2}").replace("-0.00", "0.00").replace('-', "−")
}

/// A lag with a true minus.
pub fn signed(lag: i64) -> String {
    lag.to_string().replace('-', "−")
}
