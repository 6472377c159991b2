//! Bars at lags with the band of white noise.

use super::axis::Scale;
use super::canvas::{Anchor, Drawing, Shape, Text};
use super::panel::{Panel, panel_title, value_axis};
use super::readout::{ReadLine, Readout};
use super::theme;

/// One function of the lag.
pub struct LagChart<'a> {
    pub title: &'a str,
    /// Lags, one after the other, and the bar at each.
    pub bars: &'a [(i64, f64)],
    /// Half the width of the band of white noise.
    pub band: f64,
    /// Half the width of a band that varies with the lag, in the order of the bars; empty for none.
    pub varying: Vec<f64>,
    pub season: usize,
    /// What lags are counted in; none to leave the axis without a name.
    pub axis: Option<&'a str>,
    /// Lowest and highest value to show.
    pub reach: (f64, f64),
}

/// The values' reach and that of the band, with a little room beyond.
pub fn reach(values: impl Iterator<Item = f64>, band: f64) -> (f64, f64) {
    let all = values.chain([1.3 * band, -1.3 * band]);
    let (low, high) = all.fold((0.0_f64, 0.0_f64), |(low, high), v| (low.min(v), high.max(v)));
    let room = 0.06 * (high - low);
    (low - room, high + room)
}

impl LagChart<'_> {
    /// Draws it into a panel.
    pub fn draw(&self, sheet: &mut Drawing, panel: Panel) {
        panel_title(sheet, panel, self.title, "");
        let (low, high) = self.reach;
        let up = Scale { low, high, at_low: panel.bottom, at_high: panel.top };
        self.draw_band(sheet, panel, up);
        let first = self.bars.first().map_or(1, |bar| bar.0) as f64;
        let last = self.bars.last().map_or(1, |bar| bar.0) as f64;
        let along = Scale {
            low: first - 0.5,
            high: last + 0.5,
            at_low: panel.left + 4.0,
            at_high: panel.right - 4.0,
        };
        self.draw_axis(sheet, panel, along);
        let width = (0.62 * (along.at(1.0) - along.at(0.0))).clamp(0.6, 16.0);
        for (lag, height) in self.bars {
            let (top, bottom) = (up.at(height.max(0.0)), up.at(height.min(0.0)));
            let outside = height.abs() > self.band;
            let bar = Shape::Rect {
                x: along.at(*lag as f64) - 0.5 * width,
                y: top,
                width,
                height: (bottom - top).max(0.5),
                fill: if outside { theme::PETROL } else { theme::PAPER },
                stroke: Some(theme::PETROL),
            };
            sheet.add(Shape::Titled { title: format!("lag {lag}: {height:.3}"), shapes: vec![bar] });
        }
        self.draw_varying(sheet, along, up);
        sheet.read_off(self.readout(panel, along, up));
        sheet.line((panel.left, up.at(0.0)), (panel.right, up.at(0.0)), theme::TEXT, 1.0);
    }

    fn readout(&self, panel: Panel, along: Scale, up: Scale) -> Readout {
        let line =
            |name: &str, ink, values: Vec<Option<f64>>| ReadLine { name: name.to_owned(), ink, values };
        let mut lines =
            vec![line(self.title, theme::PETROL, self.bars.iter().map(|bar| Some(bar.1)).collect())];
        if !self.varying.is_empty() {
            lines.push(line(
                "Bartlett limit",
                theme::OCHRE,
                self.varying.iter().copied().map(Some).collect(),
            ));
        }
        Readout {
            corners: [panel.left, panel.top, panel.right, panel.bottom],
            along,
            up,
            places: self
                .bars
                .iter()
                .map(|(lag, _)| (*lag as f64, format!("lag {lag}").replace('-', "−")))
                .collect(),
            lines,
            strips: Vec::new(),
            zooms: false,
        }
    }

    /// The limits that vary with the lag, where they are in sight.
    fn draw_varying(&self, sheet: &mut Drawing, along: Scale, up: Scale) {
        for sign in [1.0, -1.0] {
            let limits =
                self.bars.iter().zip(&self.varying).map(|((lag, _), half)| (*lag as f64, sign * half));
            let inside = limits.filter(|(_, limit)| (up.low..=up.high).contains(limit));
            let points: Vec<(f64, f64)> = inside.map(|(lag, limit)| (along.at(lag), up.at(limit))).collect();
            if points.len() > 1 {
                sheet.add(Shape::Polyline { points, stroke: theme::OCHRE, width: 1.4 });
            }
        }
    }

    fn draw_band(&self, sheet: &mut Drawing, panel: Panel, up: Scale) {
        let (above, below) = (up.at(self.band.min(up.high)), up.at((-self.band).max(up.low)));
        sheet.add(Shape::Rect {
            x: panel.left,
            y: above,
            width: panel.right - panel.left,
            height: below - above,
            fill: theme::SAND,
            stroke: None,
        });
        value_axis(sheet, panel, up, if panel.bottom - panel.top > 180.0 { 5 } else { 4 });
        for edge in [above, below] {
            sheet.line((panel.left, edge), (panel.right, edge), theme::SAND_EDGE, 1.0);
        }
    }

    /// Seasonal lags carry a mark and their number in ochre; others are numbered
    /// where there is room.
    fn draw_axis(&self, sheet: &mut Drawing, panel: Panel, along: Scale) {
        let (base, count) = (panel.bottom, self.bars.len());
        sheet.line((panel.left, base), (panel.right, base), theme::AXIS, 1.0);
        let pitch = along.at(1.0) - along.at(0.0);
        let has_season = self.season > 1 && count >= self.season;
        let step = if has_season { self.season } else { lag_step(count) };
        // Between the seasonal lags a third or half of them, where that is whole and has room.
        let part = [3, 2]
            .into_iter()
            .find(|k| has_season && step.is_multiple_of(*k) && pitch * (step / k) as f64 > 34.0);
        let minor = part.map_or(step, |k| step / k);
        let (minor_lag, season) =
            (i64::try_from(minor).unwrap_or(1), i64::try_from(self.season).unwrap_or(1));
        for lag in self.numbered(minor_lag, pitch) {
            let x = along.at(lag as f64);
            let seasonal = season > 1 && lag != 0 && lag % season == 0;
            let (color, length) = if seasonal { (theme::OCHRE, 9.0) } else { (theme::AXIS, 5.0) };
            sheet.line((x, base), (x, base + length), color, if seasonal { 2.4 } else { 1.0 });
            let text = Text {
                at: (x, base + 24.0),
                words: lag.to_string().replace('-', "−"),
                size: theme::TICK,
                bold: seasonal,
                fill: if seasonal { theme::OCHRE } else { theme::TEXT },
                anchor: Anchor::Middle,
            };
            sheet.add(Shape::Text(text));
        }
        if let Some(name) = self.axis {
            let at = (0.5 * (panel.left + panel.right), base + 48.0);
            sheet.text(at, name, theme::TICK, theme::FAINT_TEXT, Anchor::Middle);
        }
    }

    /// Lags that are numbered: multiples of the step where these have room, and the ends where they are too few.
    fn numbered(&self, step: i64, pitch: f64) -> Vec<i64> {
        let all = || self.bars.iter().map(|bar| bar.0);
        let mut lags: Vec<i64> = all().filter(|lag| lag % step == 0 && pitch * step as f64 > ROOM).collect();
        if lags.len() < NUMBERS {
            for end in [all().next(), all().next_back()].into_iter().flatten() {
                if lags.iter().all(|lag| pitch * (lag - end).abs() as f64 > ROOM) {
                    lags.push(end);
                }
            }
        }
        lags
    }
}

/// Fewest numbers of an axis.
const NUMBERS: usize = 3;
/// Room that a number needs.
const ROOM: f64 = 22.0;

fn lag_step(most: usize) -> usize {
    [1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000]
        .into_iter()
        .find(|step| most / step <= 12)
        .unwrap_or(most.max(1))
}
