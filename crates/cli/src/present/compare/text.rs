//! A comparison of models in words and tables.

use kandrel_core::predictive::Accuracy;

use super::facts::{Best, CandidateResult, CompareResult, RepairEffect, RollingResult, Trial};
use crate::call::{Call, Name};
use crate::document::{Align, Cell, Document, Table};
use crate::present::diagnosis;
use crate::wording;

/// What was tried, in words.
fn tried(trial: &Trial) -> String {
    let rolling = trial.rolling.as_ref().map(|own| {
        let how = if own.fixed { "with the parameters of the first" } else { "each estimated anew" };
        format!(
            "{} from {} to {}, {} ahead, {how}",
            wording::count(own.origins, "origin"),
            own.first_origin,
            own.last_origin,
            wording::count(own.ahead, "period")
        )
    });
    let held =
        trial.held_back.map(|values| format!("the last {} held back", wording::count(values, "value")));
    rolling.into_iter().chain(held).collect::<Vec<_>>().join("; ")
}

fn effect_sentence(effect: &RepairEffect) -> String {
    let change = 100.0 * (effect.after / effect.before - 1.0);
    format!(
        "With odd values replaced the error of {} is {:.1} % {} ({} before, {} after).",
        effect.candidate,
        change.abs(),
        if change < 0.0 { "lower" } else { "higher" },
        wording::short(effect.before),
        wording::short(effect.after)
    )
}

/// A difference with a p-value up to this is more than chance makes.
const SIGNIFICANT: f64 = 0.05;

/// The finding in one sentence.
pub fn answer(result: &CompareResult) -> String {
    let best = &result.best;
    let is_rule = result.candidates.iter().any(|one| one.candidate == best.candidate && one.model.is_none());
    let kind = if best.by.starts_with("rolling") { "rolling" } else { "held-out" };
    if is_rule {
        return format!(
            "No model foretells {} better than the {} forecast (RMSE {}, {kind}){}.",
            result.series,
            best.candidate,
            wording::short(best.value),
            runner_up(result)
        );
    }
    if let Some((rule, p)) = indistinguishable(result) {
        return format!(
            "{} has the smallest error of {} (RMSE {}), but is indistinguishable from the {rule} forecast ({}){}.",
            best.candidate,
            result.series,
            wording::short(best.value),
            wording::p_equals(p),
            runner_up(result)
        );
    }
    let gain = best.best_rule.filter(|rule| *rule > 0.0).map_or_else(String::new, |rule| {
        format!(", {:.0} % less than the best simple rule", 100.0 * (1.0 - best.value / rule))
    });
    format!(
        "{} foretells {} best: RMSE {}{gain}{}.",
        best.candidate,
        result.series,
        wording::short(best.value),
        runner_up(result)
    )
}

/// The best rule, where its errors are larger than those of the best model by no more than chance.
fn indistinguishable(result: &CompareResult) -> Option<(&str, f64)> {
    let rules = result.candidates.iter().filter(|one| one.model.is_none());
    let errors = rules.filter_map(|one| Some((one, error_of(one)?)));
    let (rule, _) = errors.min_by(|a, b| a.1.total_cmp(&b.1))?;
    let p = rule.against_best?.p_value;
    (p > SIGNIFICANT).then_some((rule.candidate.as_str(), p))
}

fn error_of(one: &CandidateResult) -> Option<f64> {
    one.rolling.as_ref().map(|own| own.mean_rmse).or(one.held_out.map(|own| own.rmse))
}

/// The next model, and whether it is worse by more than chance.
fn runner_up(result: &CompareResult) -> String {
    let others = result
        .candidates
        .iter()
        .filter(|one| one.model.is_some() && one.candidate != result.best.candidate)
        .filter_map(|one| Some((one, error_of(one)?)));
    let Some((next, error)) = others.min_by(|a, b| a.1.total_cmp(&b.1)) else {
        return String::new();
    };
    let behind = format!("; {} is {:.1} % behind", next.candidate, 100.0 * (error / result.best.value - 1.0));
    match &next.against_best {
        Some(test) if test.p_value <= SIGNIFICANT => {
            format!("{behind}, more than chance makes ({})", wording::p_equals(test.p_value))
        }
        Some(test) => format!("{behind}, which chance may make ({})", wording::p_equals(test.p_value)),
        None => behind,
    }
}

/// The result as a document.
pub fn document(result: &CompareResult, call: &Call) -> Document {
    let mut document = Document::default();
    document.paragraph(answer(result));
    document.paragraph(format!("{}; {}.", result.sample, tried(&result.trial)));
    if result.candidates.iter().any(|one| one.rolling.is_some()) {
        document.table(error_table(result, "Rolling", |one| one.rolling.as_ref().map(|own| own.all)));
        document.table(horizon_table(result));
    }
    if result.candidates.iter().any(|one| one.held_out.is_some()) {
        document.table(error_table(result, "Held out", |one| one.held_out));
    }
    document.table(criteria_table(result));
    document.list("Joint assessment", diagnosis::lines(&result.diagnoses));
    document.list("Reading", reading(result));
    document.commands("Next", next(result, call));
    document
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
        one.rolling.as_ref().filter(|_| tested).map_or(own.rmse, |rolling| rolling.mean_rmse)
    };
    rows.sort_by(|a, b| error(a.0, &a.1).total_cmp(&error(b.0, &b.1)));
    let least = rows.first().map_or(1.0, |(one, own)| error(one, own));
    let decimals = wording::decimals(rows.first().map_or(1.0, |(_, own)| own.rmse));
    let p = |one: &CandidateResult| {
        one.against_best.as_ref().map_or(Cell::Missing, |test| Cell::PValue(test.p_value))
    };
    let against = tested && result.candidates.iter().any(|one| one.against_best.is_some());
    Table::of(rows)
        .text(head, |(one, _)| one.candidate.clone())
        .number("To best", 2, |(one, own)| error(one, own) / least)
        .number("RMSE", decimals, |(_, own)| own.rmse)
        .number("MAE", decimals, |(_, own)| own.mae)
        .number("MAPE %", 2, |(_, own)| own.mape)
        .number("MASE", 2, |(_, own)| own.mase)
        .only_if(against, |rows| rows.column("Alike", Align::Decimal, |(one, _)| p(one)))
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
        .text("RMSE", |(one, _)| one.candidate.clone())
        .each(
            shown,
            Align::Decimal,
            |horizon| format!("{horizon} ahead"),
            |(_, own), horizon| Cell::number(at(own, *horizon), decimals),
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
        .text("Above the group's best", |(_, one)| one.candidate.clone())
        .text("Group", |(group, _)| letter(*group))
        .number("AICc", 2, |(group, one)| above(*group, one, |one| one.aicc))
        .number("BIC", 2, |(group, one)| above(*group, one, |one| one.bic))
        .column("White noise", Align::Decimal, |(_, one)| {
            one.white_noise_p.map_or(Cell::Missing, Cell::PValue)
        })
        .table()
}

/// a, b, c, …
fn letter(number: usize) -> String {
    u8::try_from(number)
        .ok()
        .filter(|number| *number < 26)
        .map_or_else(|| number.to_string(), |number| char::from(b'a' + number).to_string())
}

fn reading(result: &CompareResult) -> Vec<String> {
    let mut lines: Vec<String> = result
        .comparable_groups
        .iter()
        .enumerate()
        .map(|(number, group)| format!("Group {}: {}.", letter(number), group.name))
        .collect();
    if result.comparable_groups.len() > 1 {
        lines.push(
            "Criteria of different groups say nothing about each other: their likelihoods are of different values."
                .to_owned(),
        );
    }
    lines.extend(by_criteria(result));
    lines.extend(nearest(result));
    lines.extend(optimism(result));
    lines.extend(result.repair_effects.iter().map(effect_sentence));
    if result.candidates.iter().any(|one| !one.with.is_empty()) {
        lines.push("Later values of the regressors count as known at each origin.".to_owned());
    }
    if result.candidates.iter().any(|one| one.against_best.is_some()) {
        lines.push(AGAINST.to_owned());
    }
    lines
}

/// What the last column of the errors is.
const AGAINST: &str = "To best: RMSE over that of the best, as the geometric mean over the horizons, by which they are \
     ranked. Alike: p of squared errors as small as the best's (Diebold-Mariano, corrected for small samples).";

/// Whether the criteria say the same of the best.
fn by_criteria(result: &CompareResult) -> Option<String> {
    let best = &result.best.candidate;
    let groups = &result.comparable_groups;
    let group = groups.iter().find(|group| group.candidates.contains(best) && group.candidates.len() > 1)?;
    if group.best == *best {
        return Some("By AICc it is the best of its group as well.".to_owned());
    }
    let aicc = |name: &str| result.candidates.iter().find(|one| one.candidate == name)?.aicc;
    let behind = aicc(best)? - aicc(&group.best)?;
    let what = if behind <= ALIKE {
        "about as good".to_owned()
    } else {
        "which rests on all values; a few origins tell less".to_owned()
    };
    Some(format!("By AICc {} is {behind:.1} better than {best}: {what}.", group.best))
}

/// Criteria this near to each other are alike.
const ALIKE: f64 = 2.0;

/// The best one period ahead, where it is another.
fn nearest(result: &CompareResult) -> Option<String> {
    let first = |one: &CandidateResult| {
        one.rolling.as_ref().filter(|own| own.ahead > 1)?.by_horizon.first().map(|own| own.errors.rmse)
    };
    let all = result.candidates.iter().filter_map(|one| Some((one, first(one)?)));
    let (own, error) = all.min_by(|a, b| a.1.total_cmp(&b.1))?;
    (own.candidate != result.best.candidate).then(|| {
        format!("One period ahead alone {} is the best (RMSE {}).", own.candidate, wording::short(error))
    })
}

/// How much smaller the error is inside the sample.
fn optimism(result: &CompareResult) -> Option<String> {
    let own = result.candidates.iter().find(|one| one.candidate == result.best.candidate)?;
    let inside = own.in_sample?.rmse;
    let rolling = own.rolling.as_ref()?.by_horizon.first()?.errors.rmse;
    Some(format!(
        "One period ahead {} is off by {} (RMSE), against {} inside the sample.",
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
