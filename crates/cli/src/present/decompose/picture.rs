//! A decomposition as figures: its parts over time, and each position of the season over the years.

use kandrel_core::decomp::DecompositionKind;
use kandrel_core::series::{SeriesWithGaps, season_places};
use kandrel_core::time::Period;

use super::sentence::title;
use super::{Component, DecomposeResult};
use crate::document::{Along, Ink, Line, Panel, Plot};
use crate::wording;

/// Series and trend, trend, seasonal and irregular component, one below the other, each with a bar that is
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
            let name = format!("Seasonal, period {}", pattern.season);
            let own = line(&name, 2 + number, &|one| one.seasons.get(number).copied());
            drawn.push((name, vec![own]));
        }
    } else {
        drawn.push(("Seasonal".to_owned(), vec![line("seasonal", 2, &|one| Some(one.seasonal))]));
    }
    drawn.push(("Irregular".to_owned(), vec![line("irregular", 4, &|one| one.irregular)]));
    let range = range(&drawn, result);
    let panels: Vec<Panel> = drawn
        .into_iter()
        .enumerate()
        .map(|(number, (title, lines))| Panel {
            title: if number == 0 { title } else { sized(&title, &lines, unit(result, number), range) },
            along: Along::Periods(periods.clone()),
            axis: format!("{}s", series.start.frequency().noun()),
            lines,
            ..Panel::default()
        })
        .collect();
    let foot = match result.kind {
        DecompositionKind::Additive => String::new(),
        DecompositionKind::Multiplicative => {
            "Seasonal and irregular components are factors; their sizes are in units of the mean level."
                .to_owned()
        }
    };
    Plot { title: title(result), subtitle: subtitle(result, source), foot, columns: 1, panels }
}

/// What one unit of a panel is on the scale of the series: factors are in units of the mean level.
fn unit(result: &DecomposeResult, panel: usize) -> f64 {
    if result.kind == DecompositionKind::Additive || panel < 2 {
        return 1.0;
    }
    let trends: Vec<f64> = result.components.iter().filter_map(|one| one.trend).collect();
    trends.iter().sum::<f64>() / trends.len().max(1) as f64
}

fn values(lines: &[Line]) -> impl Iterator<Item = f64> + '_ {
    lines.iter().take(1).flat_map(|line| line.pieces.iter().flatten().map(|(_, value)| *value))
}

/// Highest less lowest.
fn extent(values: impl Iterator<Item = f64>) -> f64 {
    let (low, high) = values
        .fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), value| (low.min(value), high.max(value)));
    high - low
}

/// The range of the series, in the first panel.
fn range(drawn: &[(String, Vec<Line>)], result: &DecomposeResult) -> f64 {
    drawn.first().map_or(0.0, |(_, lines)| extent(values(lines)) * unit(result, 0))
}

/// The heading of a component with its standard deviation and its share of the range of the series.
fn sized(title: &str, lines: &[Line], unit: f64, range: f64) -> String {
    let all: Vec<f64> = values(lines).collect();
    let count = all.len() as f64;
    let mean = all.iter().sum::<f64>() / count;
    let sd = (all.iter().map(|value| (value - mean).powi(2)).sum::<f64>() / count).sqrt() * unit;
    let share = 100.0 * extent(all.into_iter()) * unit / range;
    if share.is_finite() {
        format!(
            "{title} (standard deviation {}, {share:.0} % of the range of the series)",
            wording::short(sd)
        )
    } else {
        title.to_owned()
    }
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
    let own = |one: &Component| one.seasons.first().copied().unwrap_or(one.seasonal);
    let (mut lines, mut dots, mut names) = (Vec::new(), Vec::new(), Vec::new());
    for (left, pattern) in
        result.patterns.first().map_or(&[][..], |pattern| &pattern.positions).iter().enumerate()
    {
        let first = periods.iter().position(|period| period.to_string() == pattern.position);
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
            let rest = one.irregular?;
            Some((along(k), result.kind.with(own(one), rest)))
        }));
        let points = there.iter().enumerate().map(|(k, one)| Some((along(k), own(one))));
        lines.push(Line::with_gaps(&pattern.position, Ink::Series(2), points));
        let mean = [0.1, 0.9].map(|share| Some((left as f64 + share, pattern.mean)));
        lines.push(Line::with_gaps(&format!("mean of {}", pattern.position), Ink::Mean, mean.into_iter()));
        names.push(pattern.position.clone());
    }
    let panel = Panel {
        title: match result.kind {
            DecompositionKind::Additive => format!("{} less its trend", result.series),
            DecompositionKind::Multiplicative => format!("{} over its trend", result.series),
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
        foot:
            "Dots: detrended values of each position in order of time. Thin: seasonal component. Thick: its \
                mean."
                .to_owned(),
        columns: 1,
        panels: vec![panel],
    }
}
