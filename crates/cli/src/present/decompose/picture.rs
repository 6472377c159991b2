//! A decomposition as figures: its parts over time, and each position of the season over the years.

use kandrel_core::decomp::Kind;
use kandrel_core::series::{SeriesWithGaps, season_places};
use kandrel_core::time::Period;

use super::sentence::title;
use super::{Component, DecomposeResult};
use crate::document::{Along, Ink, Line, Panel, Plot};
use crate::wording;

/// Series and trend, trend, season, remainder, one below the other, each with a bar that stands
/// for the same amount.
pub fn parts_plot(result: &DecomposeResult, series: &SeriesWithGaps, source: &str) -> Plot {
    let periods: Vec<Period> = (0..series.cells.len()).map(|t| series.period(t)).collect();
    let line = |name: &str, ink: usize, value: &dyn Fn(&Component) -> Option<f64>| {
        let points =
            result.components.iter().enumerate().map(|(t, one)| value(one).map(|value| (t as f64, value)));
        Line::with_gaps(name, Ink::Series(ink), points)
    };
    let level = line("trend", 1, &|one| one.trend);
    let mut drawn = vec![
        ("Series and trend".to_owned(), vec![line(&result.series, 0, &|one| one.value), level.clone()]),
        ("Trend".to_owned(), vec![level]),
    ];
    if result.patterns.len() > 1 {
        for (number, pattern) in result.patterns.iter().enumerate() {
            let name = format!("Season of {}", pattern.season);
            let own = line(&name, 2 + number, &|one| one.seasons.get(number).copied());
            drawn.push((name, vec![own]));
        }
    } else {
        drawn.push(("Season".to_owned(), vec![line("season", 2, &|one| Some(one.season))]));
    }
    drawn.push(("Remainder".to_owned(), vec![line("remainder", 4, &|one| one.remainder)]));
    let mut panels: Vec<Panel> = drawn
        .into_iter()
        .map(|(title, lines)| Panel {
            title,
            along: Along::Periods(periods.clone()),
            axis: format!("{}s", series.start.frequency().noun()),
            lines,
            ..Panel::default()
        })
        .collect();
    let foot = measured(&mut panels, result);
    Plot { title: title(result), subtitle: subtitle(result, source), foot, columns: 1, panels }
}

/// Gives each panel its bar; says what the bars stand for.
fn measured(panels: &mut [Panel], result: &DecomposeResult) -> String {
    // Levels are in the series' units, factors in shares of the level.
    let trends: Vec<f64> = result.components.iter().filter_map(|one| one.trend).collect();
    let level = trends.iter().sum::<f64>() / trends.len().max(1) as f64;
    let unit = |number: usize| if result.kind == Kind::Multiplicative && number < 2 { level } else { 1.0 };
    let reach = |(number, panel): (usize, &Panel)| {
        let (low, high) = panel.reach();
        (high - low) / unit(number)
    };
    let smallest = panels.iter().enumerate().map(reach).fold(f64::INFINITY, f64::min);
    let amount = round_below(0.9 * smallest);
    for (number, panel) in panels.iter_mut().enumerate() {
        panel.measure = amount.map(|amount| amount * unit(number));
    }
    match (amount, result.kind) {
        (None, _) => String::new(),
        (Some(amount), Kind::Additive) => format!("The bars at the right all stand for {amount}."),
        (Some(amount), Kind::Multiplicative) => {
            format!("The bars at the right all stand for {} % of the mean level.", wording::percent(amount))
        }
    }
}

/// The largest of 1, 2 and 5 times a power of ten that is no larger.
fn round_below(value: f64) -> Option<f64> {
    if !value.is_finite() || value <= 0.0 {
        return None;
    }
    let power = 10_f64.powf(value.log10().floor());
    let round = [5.0, 2.0, 1.0].into_iter().map(|m| m * power).find(|round| *round <= value)?;
    // Powers of ten below one are not exact; what is printed should be.
    format!("{round:.3e}").parse().ok()
}

fn subtitle(result: &DecomposeResult, source: &str) -> String {
    format!(
        "{source}, {} to {}, {}",
        result.first,
        result.last,
        wording::count(result.observations, "observation")
    )
}

/// Each place of the (shortest) season over the years: values less the trend, the season, its
/// mean.
pub fn seasons_plot(result: &DecomposeResult, series: &SeriesWithGaps, source: &str) -> Plot {
    let season = result.patterns.first().map_or(1, |pattern| pattern.season);
    let periods: Vec<Period> = (0..series.cells.len()).map(|t| series.period(t)).collect();
    let places = season_places(&periods, season);
    let own = |one: &Component| one.seasons.first().copied().unwrap_or(one.season);
    let (mut lines, mut dots, mut names) = (Vec::new(), Vec::new(), Vec::new());
    for (left, pattern) in
        result.patterns.first().map_or(&[][..], |pattern| &pattern.places).iter().enumerate()
    {
        let first = periods.iter().position(|period| period.to_string() == pattern.place);
        let place = first.and_then(|t| places.get(t)).map_or(left, |place| place.place);
        let there: Vec<&Component> = result
            .components
            .iter()
            .zip(&places)
            .filter(|(_, own)| own.place == place)
            .map(|(one, _)| one)
            .collect();
        let steps = there.len().max(2) as f64 - 1.0;
        let along = |k: usize| left as f64 + 0.1 + 0.8 * k as f64 / steps;
        dots.extend(there.iter().enumerate().filter_map(|(k, one)| {
            let rest = one.remainder?;
            Some((along(k), result.kind.with(own(one), rest)))
        }));
        let points = there.iter().enumerate().map(|(k, one)| Some((along(k), own(one))));
        lines.push(Line::with_gaps(&pattern.place, Ink::Series(2), points));
        let mean = [0.1, 0.9].map(|share| Some((left as f64 + share, pattern.mean)));
        lines.push(Line::with_gaps(&format!("mean of {}", pattern.place), Ink::Mean, mean.into_iter()));
        names.push(pattern.place.clone());
    }
    let panel = Panel {
        title: match result.kind {
            Kind::Additive => format!("{} less its trend", result.series),
            Kind::Multiplicative => format!("{} over its trend", result.series),
        },
        along: Along::Strips(names),
        axis: wording::season_axis(series.start.frequency(), season),
        lines,
        dots,
        ..Panel::default()
    };
    Plot {
        title: title(result),
        subtitle: subtitle(result, source),
        foot: "Dots: the values of each place without the trend, in order of time. Thin: the season. Thick: its mean."
            .to_owned(),
        columns: 1,
        panels: vec![panel],
    }
}
