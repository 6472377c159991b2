//! The sentences of a decomposition.

use kandrel_core::decomp::DecompositionKind;

use super::{DecomposeResult, PatternResult};
use crate::present::diagnosis::DiagnosisResult;
use crate::wording;

/// What arithmetic leaves of a zero, beside the numbers it came from.
const ROUNDING: f64 = 1e-12;

/// The finding in one sentence.
pub fn answer(result: &DecomposeResult) -> String {
    let season = |(pattern, strength): (&PatternResult, &f64)| {
        let by = |place: &str, value: f64| match result.kind {
            DecompositionKind::Additive => {
                format!("{} {place} ({})", wording::at_place(place), signed(value))
            }
            DecompositionKind::Multiplicative => {
                format!("{} {place} ({} %)", wording::at_place(place), signed(100.0 * (value - 1.0)))
            }
        };
        let mean_at = |name: &str| {
            pattern.positions.iter().find(|place| place.position == name).map_or(0.0, |place| place.mean)
        };
        let size = season_size(result, pattern, *strength);
        if !pattern.seasonality_detected {
            return size;
        }
        format!(
            "{size}, highest {} and lowest {}",
            by(&pattern.highest, mean_at(&pattern.highest)),
            by(&pattern.lowest, mean_at(&pattern.lowest))
        )
    };
    sentence(result, result.patterns.iter().zip(&result.strength.seasons).map(season).collect())
}

/// The figure's title: without places where there are several seasons.
pub fn title(result: &DecomposeResult) -> String {
    if result.patterns.len() < 2 {
        return answer(result);
    }
    let sizes = result.patterns.iter().zip(&result.strength.seasons);
    sentence(result, sizes.map(|(pattern, strength)| season_size(result, pattern, *strength)).collect())
}

fn sentence(result: &DecomposeResult, mut parts: Vec<String>) -> String {
    parts.push(trend(result));
    let last = parts.pop().unwrap_or_default();
    format!("{} has {}, and {last}.", result.series, parts.join(", "))
}

fn season_size(result: &DecomposeResult, pattern: &PatternResult, strength: f64) -> String {
    let of = if result.patterns.len() > 1 { format!(" of period {}", pattern.season) } else { String::new() };
    if pattern.seasonality_detected {
        format!("{} seasonality{of}", size(strength))
    } else {
        format!("no seasonality{of}")
    }
}

fn size(strength: f64) -> &'static str {
    match strength {
        _ if strength >= 0.8 => "strong",
        _ if strength >= 0.4 => "clear",
        _ => "weak",
    }
}

fn trend(result: &DecomposeResult) -> String {
    let known: Vec<f64> = result.components.iter().filter_map(|one| one.trend).collect();
    let ends = known.first().copied().zip(known.last().copied()).unwrap_or_default();
    // What arithmetic leaves of a zero is one.
    let least = ROUNDING * ends.0.abs().max(ends.1.abs());
    let shown = |end: f64| wording::short(if end.abs() > least { end } else { 0.0 });
    let from_to = format!("from {} to {}", shown(ends.0), shown(ends.1));
    if let Some(own) = result.own_diagnosis().filter(|own| !own.is_trending()) {
        let cycle = own.clear_cycle().map_or(String::new(), |cycle| format!(", with a {cycle}"));
        return format!("no trend (a level {from_to}{cycle})");
    }
    if result.strength.trend < 0.2 {
        return "no clear trend".to_owned();
    }
    let kind =
        if result.own_diagnosis().is_some_and(DiagnosisResult::has_no_drift) { " stochastic" } else { "" };
    format!("a {}{kind} trend ({from_to})", size(result.strength.trend))
}

/// A number with its sign.
pub fn signed(value: f64) -> String {
    let text = wording::short(value);
    if value > 0.0 { format!("+{text}") } else { text }
}
