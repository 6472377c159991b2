//! Two series above, their cross-correlations below.

use kandrel_core::relation::Cross;
use kandrel_core::series::{Series, SeriesWithGaps};

use super::acf::{LEFT, draw_series};
use super::canvas::Drawing;
use super::lags::{LagChart, reach};
use super::panel::{MARGIN, Panel, Sheet, foot, headed};

/// Room between panels side by side.
const BESIDE: f64 = 66.0;

/// Cross-correlations and what they are of.
pub struct Crossed<'a> {
    pub title: String,
    pub cross: &'a Cross,
}

/// The whole figure of one pair.
pub fn drawing(
    pair: [&Series; 2],
    functions: &[Crossed<'_>],
    season: usize,
    axis: &str,
    (title, subtitle): (&str, &str),
    sheet: &Sheet,
) -> Drawing {
    let mut drawing = headed(sheet, title, subtitle);
    let right = sheet.width - MARGIN;
    let middle = 0.5 * (LEFT + right);
    let upper = Panel { left: LEFT, right: middle - 36.0, top: 122.0, bottom: 0.42 * sheet.height };
    let beside = Panel { left: middle + 36.0, right, ..upper };
    for (series, panel) in pair.into_iter().zip([upper, beside]) {
        draw_series(&mut drawing, &SeriesWithGaps::from(series.clone()), panel, None);
    }
    let (top, bottom) = (upper.bottom + 84.0, sheet.height - 100.0);
    let panels: Vec<Panel> = match functions {
        [_, _] => vec![Panel { top, bottom, ..upper }, Panel { top, bottom, ..beside }],
        _ => vec![Panel { left: LEFT, right, top, bottom }],
    };
    let scale = one_scale(functions);
    for (function, panel) in functions.iter().zip(panels) {
        draw_function(&mut drawing, function, panel, scale, (season, axis));
    }
    note(&mut drawing, season);
    drawing
}

/// Cross-correlations of many pairs, in rows of two or three.
pub fn grid(
    functions: &[Crossed<'_>],
    season: usize,
    axis: &str,
    (title, subtitle): (&str, &str),
    sheet: &Sheet,
) -> Drawing {
    let columns = if functions.len() > 4 { 3 } else { 2 };
    let rows = functions.len().div_ceil(columns).max(1) as f64;
    let between = 62.0;
    let height = ((sheet.height - 122.0 - 100.0 - (rows - 1.0) * between) / rows).max(100.0);
    let whole = 122.0 + rows * height + (rows - 1.0) * between + 100.0;
    let sheet = Sheet { height: sheet.height.max(whole), ..sheet.clone() };
    let mut drawing = headed(&sheet, title, subtitle);
    let width = (sheet.width - MARGIN - LEFT + BESIDE) / columns as f64;
    let scale = one_scale(functions);
    for (number, function) in functions.iter().enumerate() {
        let (row, column) = ((number / columns) as f64, (number % columns) as f64);
        let left = LEFT + column * width;
        let top = 122.0 + row * (height + between);
        let panel = Panel { left, right: left + width - BESIDE, top, bottom: top + height };
        let last = number + columns >= functions.len();
        draw_function(&mut drawing, function, panel, scale, (season, if last { axis } else { "" }));
    }
    note(&mut drawing, season);
    drawing
}

/// All functions on one scale, so that their bars compare.
fn one_scale(functions: &[Crossed<'_>]) -> (f64, f64) {
    let values = functions.iter().flat_map(|function| function.cross.lags.iter().map(|one| one.r));
    reach(values, functions.iter().map(|function| function.cross.band).fold(0.0, f64::max))
}

fn draw_function(
    drawing: &mut Drawing,
    function: &Crossed<'_>,
    panel: Panel,
    scale: (f64, f64),
    (season, axis): (usize, &str),
) {
    let bars: Vec<(i64, f64)> = function.cross.lags.iter().map(|one| (one.lag, one.r)).collect();
    let chart = LagChart {
        title: &function.title,
        bars: &bars,
        band: function.cross.band,
        varying: Vec::new(),
        season,
        axis: Some(axis),
        reach: scale,
    };
    chart.draw(drawing, panel);
}

fn note(drawing: &mut Drawing, season: usize) {
    let seasonal = if season > 1 { "; orange: multiples of the seasonal period" } else { "" };
    foot(
        drawing,
        &format!(
            "Shaded band: 95 % band under independence, one of the series being white noise. Filled bars are \
              outside it{seasonal}."
        ),
    );
}
