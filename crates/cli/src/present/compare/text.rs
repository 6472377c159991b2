//! A comparison of models in words and tables.

use kandrel_core::predictive::Accuracy;

use super::facts::{
    Best, CandidateKind, CandidateResult, CompareResult, GroupResult, RepairEffect, RollingForecasts,
    RollingResult, Trial,
};
use crate::call::{Call, Name};
use crate::document::{Align, Along, Document, Ink, Line, Panel, Plot, Table, TableCell};
use crate::present::diagnosis;
use crate::wording;
use crate::wording::{Finite, heads, legends, titles};

/// The evaluation in words.
fn evaluation(trial: &Trial) -> String {
    let rolling = trial.rolling.as_ref().map(|own| {
        let how = if own.fixed { "parameters of the first origin" } else { "parameters re-estimated" };
        format!(
            "{} from {} to {}, {} ahead, {how}",
            wording::count(own.origins, "rolling origin"),
            own.first_origin,
            own.last_origin,
            wording::count(own.ahead, "period")
        )
    });
    let held = trial
        .held_back
        .map(|values| format!("hold-out sample of the last {}", wording::count(values, "observation")));
    rolling.into_iter().chain(held).collect::<Vec<_>>().join("; ")
}

/// By how many per cent a value lies above another; none above zero.
fn above(value: f64, other: f64) -> Option<f64> {
    Finite::of(100.0 * (value / other - 1.0)).map(Finite::get)
}

fn effect_sentence(effect: &RepairEffect) -> Option<String> {
    let change = above(effect.after, effect.before)?;
    Some(format!(
        "With outliers replaced the RMSE of {} is {} % {} ({} before, {} after).",
        effect.candidate,
        wording::number(change.abs(), 1),
        if change < 0.0 { "lower" } else { "higher" },
        wording::short(effect.before),
        wording::short(effect.after)
    ))
}

/// Significance level of a difference between two candidates.
const SIGNIFICANT: f64 = 0.05;

/// The finding in one or two sentences.
pub fn answer(result: &CompareResult) -> String {
    let best = &result.best;
    let value = wording::short(best.value);
    let is_benchmark = result
        .candidates
        .iter()
        .any(|one| one.candidate == best.candidate && one.kind == CandidateKind::Benchmark);
    if is_benchmark {
        return format!(
            "No model forecasts {} better than the {} forecast (RMSE {value}).{}",
            result.series,
            best.candidate,
            runner_up(result)
        );
    }
    let name = subject(result, &best.candidate);
    if let Some((benchmark, p)) = indistinguishable(result) {
        return format!(
            "{name} has the lowest RMSE for {} ({value}), but is indistinguishable from the {benchmark} forecast ({}).{}",
            result.series,
            wording::p_equals(p),
            runner_up(result)
        );
    }
    let gain = best.best_rule.filter(|rule| *rule > 0.0).map_or_else(String::new, |rule| {
        let below = 100.0 * (1.0 - best.value / rule);
        if below < 0.5 {
            return ", no lower than that of the best benchmark forecast".to_owned();
        }
        format!(", {below:.0} % below the best benchmark forecast")
    });
    format!("{name} has the lowest RMSE for {} ({value}){gain}.{}", result.series, runner_up(result))
}

/// A candidate as the subject of a sentence.
fn subject(result: &CompareResult, candidate: &str) -> String {
    let own = result.candidates.iter().find(|one| one.candidate == candidate);
    match own {
        Some(own) if own.kind == CandidateKind::Average => {
            format!("The average of {} models", own.members.len())
        }
        Some(own) => full_name(own),
        None => candidate.to_owned(),
    }
}

/// A candidate with its regressors, whether its label names these or not.
fn full_name(own: &CandidateResult) -> String {
    if own.candidate.contains(" with ") {
        return own.candidate.clone();
    }
    format!("{}{}", own.candidate, wording::with_terms(&own.with))
}

/// The best benchmark, where its errors do not differ significantly from those of the best candidate.
fn indistinguishable(result: &CompareResult) -> Option<(&str, f64)> {
    let rules = result.candidates.iter().filter(|one| one.kind == CandidateKind::Benchmark);
    let errors = rules.filter_map(|one| Some((one, error_of(one)?)));
    let (rule, _) = errors.min_by(|a, b| a.1.total_cmp(&b.1))?;
    let p = rule.diebold_mariano?.p_value;
    (p > SIGNIFICANT).then_some((rule.candidate.as_str(), p))
}

fn error_of(one: &CandidateResult) -> Option<f64> {
    one.rolling.as_ref().map(|own| own.geometric_mean_rmse).or(one.held_out.map(|own| own.rmse))
}

/// The next model, and whether the difference is significant.
fn runner_up(result: &CompareResult) -> String {
    let others = result
        .candidates
        .iter()
        .filter(|one| one.kind != CandidateKind::Benchmark && one.candidate != result.best.candidate)
        .filter_map(|one| Some((one, error_of(one)?)));
    let Some((next, error)) = others.min_by(|a, b| a.1.total_cmp(&b.1)) else {
        return String::new();
    };
    let name = match next.kind {
        CandidateKind::Average => format!("the average of {} models", next.members.len()),
        _ => full_name(next),
    };
    let higher = match above(error, result.best.value) {
        Some(share) => format!(" The RMSE of {name} is {} % higher", wording::number(share, 1)),
        None => format!(" The RMSE of {name} is {}", wording::short(error)),
    };
    match &next.diebold_mariano {
        Some(test) if test.p_value <= SIGNIFICANT => {
            format!("{higher}; the difference is significant ({}).", wording::p_equals(test.p_value))
        }
        Some(test) => {
            format!("{higher}; the difference is not significant ({}).", wording::p_equals(test.p_value))
        }
        None => format!("{higher}."),
    }
}

/// The result as a document.
pub fn document(result: &CompareResult, call: &Call) -> Document {
    let mut document = Document::default();
    document.paragraph(answer(result));
    document.paragraph(format!("{}; {}.", result.sample, evaluation(&result.trial)));
    if result.candidates.iter().any(|one| one.rolling.is_some()) {
        document.table(error_table(result, "Rolling", |one| one.rolling.as_ref().map(|own| own.all)));
        document.detail("errors by horizon", |inner| inner.table(horizon_table(result)));
    }
    if result.candidates.iter().any(|one| one.held_out.is_some()) {
        document.table(error_table(result, "Hold-out", |one| one.held_out));
    }
    document.detail("information criteria", |inner| {
        inner.table(criteria_table(result));
        inner.list(titles::COMPARABLE_MODELS, groups(result));
    });
    diagnosis::section(&mut document, &result.diagnoses);
    document.interpretation(reading(result));
    document.commands(titles::NEXT, next(result, call));
    document
}

/// A candidate in a table: without its series where all models are of one.
fn short(result: &CompareResult, one: &CandidateResult) -> String {
    let mut series = result.candidates.iter().filter_map(|one| one.series.as_deref());
    let Some(first) = series.next().filter(|first| series.all(|other| other == *first)) else {
        return one.candidate.clone();
    };
    one.candidate.strip_prefix(first).map_or(one.candidate.as_str(), str::trim_start).to_owned()
}

fn error_table(
    result: &CompareResult,
    head: &str,
    of: impl Fn(&CandidateResult) -> Option<Accuracy>,
) -> Table {
    let tested = head == "Rolling";
    let mut rows: Vec<(&CandidateResult, Accuracy)> =
        result.candidates.iter().filter_map(|one| Some((one, of(one)?))).collect();
    let error = |one: &CandidateResult, own: &Accuracy| {
        one.rolling.as_ref().filter(|_| tested).map_or(own.rmse, |rolling| rolling.geometric_mean_rmse)
    };
    rows.sort_by(|a, b| error(a.0, &a.1).total_cmp(&error(b.0, &b.1)));
    let minimum = rows.first().map_or(1.0, |(one, own)| error(one, own));
    let decimals = wording::decimals(minimum);
    let p = |one: &CandidateResult| TableCell::p_value(one.diebold_mariano.as_ref().map(|test| test.p_value));
    let against = tested && result.candidates.iter().any(|one| one.diebold_mariano.is_some());
    Table::of(rows)
        .text(head, |(one, _)| short(result, one))
        .number(heads::REL_RMSE, 2, |(one, own)| error(one, own) / minimum)
        .number(heads::MAE, decimals, |(_, own)| own.mae)
        .number(heads::RMSE, decimals, |(one, own)| error(one, own))
        .number(heads::MAPE, 2, |(_, own)| own.mape)
        .number(heads::MASE, 2, |(_, own)| own.mase)
        .only_if(against, |rows| rows.column(heads::DM_P, Align::Decimal, |(one, _)| p(one)))
        .table()
}

/// Steps ahead that are shown.
const SHOWN_HORIZONS: usize = 6;

fn horizon_table(result: &CompareResult) -> Table {
    let first = result.candidates.iter().find_map(|one| one.rolling.as_ref());
    let ahead = first.map_or(0, |own| own.by_horizon.len());
    // The first, the last, and some evenly between.
    let step = ahead.saturating_sub(1).div_ceil(SHOWN_HORIZONS - 1).max(1);
    let mut shown: Vec<usize> = (1..=ahead).step_by(step).collect();
    if ahead > 0 && shown.last() != Some(&ahead) {
        shown.push(ahead);
    }
    let decimals = wording::decimals(result.best.value);
    let at = |own: &RollingResult, horizon: usize| {
        own.by_horizon.iter().find(|errors| errors.horizon == horizon).map(|errors| errors.errors.rmse)
    };
    Table::of(result.candidates.iter().filter_map(|one| Some((one, one.rolling.as_ref()?))))
        .text(heads::RMSE, |(one, _)| short(result, one))
        .each(
            shown,
            Align::Decimal,
            |horizon| format!("{horizon} ahead"),
            |(_, own), horizon| TableCell::number(at(own, *horizon), decimals),
        )
        .table()
}

fn criteria_table(result: &CompareResult) -> Table {
    let members = |group: usize| result.candidates.iter().filter(move |one| one.group == Some(group));
    let groups = 0..result.comparable_groups.len();
    let above = |group: usize, one: &CandidateResult, of: fn(&CandidateResult) -> Option<f64>| {
        let least = members(group).filter_map(of).fold(f64::INFINITY, f64::min);
        of(one).map(|value| value - least)
    };
    Table::of(groups.flat_map(|group| members(group).map(move |one| (group, one))))
        .text(heads::MODEL, |(_, one)| short(result, one))
        .text(heads::GROUP, |(group, _)| letter(*group))
        .number(heads::DELTA_AICC, 2, |(group, one)| above(*group, one, |one| one.aicc))
        .number(heads::DELTA_BIC, 2, |(group, one)| above(*group, one, |one| one.bic))
        .column(heads::LJUNG_BOX_P, Align::Decimal, |(_, one)| TableCell::p_value(one.white_noise_p))
        .table()
}

/// a, b, c, …
fn letter(number: usize) -> String {
    u8::try_from(number)
        .ok()
        .filter(|number| *number < 26)
        .map_or_else(|| number.to_string(), |number| char::from(b'a' + number).to_string())
}

/// The groups of models whose criteria may be compared.
fn groups(result: &CompareResult) -> Vec<String> {
    let of = |(number, group): (usize, &GroupResult)| format!("Group {}: {}.", letter(number), group.name);
    let mut lines: Vec<String> = result.comparable_groups.iter().enumerate().map(of).collect();
    if result.comparable_groups.len() > 1 {
        lines.push(legends::CRITERIA_OF_GROUPS.to_owned());
    }
    lines
}

fn reading(result: &CompareResult) -> Vec<String> {
    let mut lines: Vec<String> = average(result).into_iter().collect();
    lines.extend(by_criteria(result));
    lines.extend(nearest(result));
    lines.extend(optimism(result));
    lines.extend(result.repair_effects.iter().filter_map(effect_sentence));
    if result.candidates.iter().any(|one| !one.with.is_empty()) {
        lines.push("Future values of the regressors are treated as known at each origin.".to_owned());
    }
    if result.candidates.iter().any(|one| one.diebold_mariano.is_some()) {
        lines.push(legends::DIEBOLD_MARIANO.to_owned());
    }
    lines
}

/// What the average gains over the best of its models.
fn average(result: &CompareResult) -> Option<String> {
    let own = result.candidates.iter().find(|one| one.kind == CandidateKind::Average)?;
    let models = result.candidates.iter().filter(|one| one.kind == CandidateKind::Model);
    let best = models.filter_map(error_of).min_by(f64::total_cmp)?;
    let change = above(error_of(own)?, best)?;
    let names: Vec<String> = own
        .members
        .iter()
        .map(|one| format!("{} ({})", one.model, wording::probability(one.weight)))
        .collect();
    Some(format!(
        "Average: the weighted mean of the forecasts of {}; its RMSE is {} % {} that of the best single model.",
        wording::joined(&names),
        wording::number(change.abs(), 1),
        if change < 0.0 { "below" } else { "above" }
    ))
}

/// Whether the criteria say the same of the best.
fn by_criteria(result: &CompareResult) -> Option<String> {
    let best = &result.best.candidate;
    let groups = &result.comparable_groups;
    let group = groups.iter().find(|group| group.candidates.contains(best) && group.candidates.len() > 1)?;
    if group.best == *best {
        return Some(format!("{best} also has the lowest AICc of the comparable models."));
    }
    let aicc = |name: &str| result.candidates.iter().find(|one| one.candidate == name)?.aicc;
    let behind = aicc(best)? - aicc(&group.best)?;
    let what = if behind <= ALIKE { " (no substantial difference)" } else { "" };
    Some(format!("The AICc of {} is {behind:.1} lower than that of {best}{what}.", group.best))
}

/// Criteria that differ by no more than this are about equal.
const ALIKE: f64 = 2.0;

/// The best one period ahead, where it is another.
fn nearest(result: &CompareResult) -> Option<String> {
    let first = |one: &CandidateResult| {
        one.rolling.as_ref().filter(|own| own.ahead > 1)?.by_horizon.first().map(|own| own.errors.rmse)
    };
    let all = result.candidates.iter().filter_map(|one| Some((one, first(one)?)));
    let (own, error) = all.min_by(|a, b| a.1.total_cmp(&b.1))?;
    (own.candidate != result.best.candidate).then(|| {
        format!("One period ahead {} has the lowest RMSE ({}).", own.candidate, wording::short(error))
    })
}

/// The error one period ahead and in-sample.
fn optimism(result: &CompareResult) -> Option<String> {
    let own = result.candidates.iter().find(|one| one.candidate == result.best.candidate)?;
    let inside = own.in_sample?.rmse;
    let rolling = own.rolling.as_ref()?.by_horizon.first()?.errors.rmse;
    Some(format!(
        "One period ahead the RMSE of {} is {}; in-sample it is {}.",
        own.candidate,
        wording::short(rolling),
        wording::short(inside)
    ))
}

fn next(result: &CompareResult, typed: &Call) -> Vec<Call> {
    let Some(Best { series, model, with }) = &result.next else {
        return Vec::new();
    };
    let terms = wording::term_list(with);
    let of_model = |name| typed.next(name, [series]).with("model", model).with_some("with", terms.clone());
    vec![of_model(Name::Forecast), of_model(Name::Fit)]
}

/// The forecasts from every origin, one column a candidate.
pub fn forecasts(result: &CompareResult, shown: &RollingForecasts) -> Document {
    let ahead = shown.paths.iter().flatten().map(Vec::len).max().unwrap_or(0);
    let rows = shown.origins.iter().enumerate().flat_map(|(number, origin)| {
        let inside = (1..=ahead).filter(move |h| origin + h < shown.periods.len());
        inside.map(move |h| (number, *origin, h))
    });
    let period = |place: usize| shown.periods.get(place).map_or_else(String::new, ToString::to_string);
    let forecast = |candidate: usize, number: usize, h: usize| {
        shown.paths.get(candidate)?.get(number)?.get(h - 1).copied().flatten()
    };
    Table::of(rows)
        .text(heads::CSV_ORIGIN, |(_, origin, _)| period(*origin))
        .text(heads::CSV_PERIOD, |(_, origin, h)| period(origin + h))
        .count(heads::CSV_HORIZON, |(_, _, h)| *h)
        .exact(heads::CSV_ACTUAL, |(_, origin, h)| shown.actual.get(origin + h).copied().flatten())
        .each(
            result.candidates.iter().enumerate(),
            Align::Decimal,
            |(_, one)| one.candidate.clone(),
            |(number, _, h), (place, _)| TableCell::exact(forecast(*place, *number, *h)),
        )
        .table()
        .into()
}

/// Candidates that are drawn.
const MOST_PANELS: usize = 3;
/// Origins that are drawn.
const MOST_ORIGINS: usize = 12;

/// The actual values and the forecasts of the best candidates from rolling origins, a panel each.
pub fn plot(result: &CompareResult, shown: &RollingForecasts, source: &str) -> Plot {
    let mut ranked: Vec<(usize, &CandidateResult, f64)> = result
        .candidates
        .iter()
        .enumerate()
        .filter_map(|(place, one)| Some((place, one, one.rolling.as_ref()?.geometric_mean_rmse)))
        .collect();
    ranked.sort_by(|a, b| a.2.total_cmp(&b.2));
    let panels = ranked.iter().take(MOST_PANELS).map(|(place, one, rmse)| {
        let title = format!("{} (RMSE {})", one.candidate, wording::short(*rmse));
        panel(&result.series, title, shown, shown.paths.get(*place).map_or(&[], Vec::as_slice))
    });
    Plot {
        title: answer(result).split_inclusive(". ").next().unwrap_or_default().trim_end().to_owned(),
        subtitle: format!("{source}: {}; {}", result.sample, evaluation(&result.trial)),
        foot: String::new(),
        columns: 1,
        panels: panels.collect(),
    }
}

fn panel(series: &str, title: String, shown: &RollingForecasts, paths: &[Vec<Option<f64>>]) -> Panel {
    let origin = shown.origins.first().copied().unwrap_or(0);
    // As much of the past as there is to be forecast.
    let first = origin.saturating_sub(shown.periods.len() - origin);
    let known = shown.actual.iter().enumerate().skip(first);
    let actual = known.map(|(t, value)| value.map(|value| ((t - first) as f64, value)));
    let step = shown.origins.len().div_ceil(MOST_ORIGINS).max(1);
    let piece = |(origin, path): (&usize, &Vec<Option<f64>>)| {
        let start = shown.actual.get(*origin).copied().flatten();
        let inside = path.iter().take(shown.periods.len() - 1 - origin);
        let ahead = inside.enumerate().map(|(h, value)| (origin + h + 1, *value));
        std::iter::once((*origin, start))
            .chain(ahead)
            .filter_map(|(t, value)| Some(((t - first) as f64, value?)))
            .collect()
    };
    let forecasts = Line {
        name: "forecasts from rolling origins".to_owned(),
        ink: Ink::Series(1),
        pieces: shown.origins.iter().zip(paths).step_by(step).map(piece).collect(),
    };
    Panel {
        title,
        axis: format!("{}s", shown.periods.first().map_or("period", |period| period.frequency().noun())),
        along: Along::Periods(shown.periods.iter().skip(first).copied().collect()),
        lines: vec![forecasts, Line::with_gaps(series, Ink::Series(0), actual)],
        ..Panel::default()
    }
}
