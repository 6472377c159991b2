//! What a pointer reads off a panel: the places along it, and the values of its lines there.

use serde::Serialize;

use super::axis::Scale;

/// A panel as a page that answers to the pointer knows it.
#[derive(Debug, Clone)]
pub struct Readout {
    /// Left, top, right, bottom on the sheet.
    pub corners: [f64; 4],
    pub along: Scale,
    pub up: Scale,
    /// Places along the panel in their order, and what they are called.
    pub places: Vec<(f64, String)>,
    pub lines: Vec<ReadLine>,
    pub strips: Vec<ReadStrip>,
    pub zooms: bool,
}

/// A line with a value at each place where it has one.
#[derive(Debug, Clone, Serialize)]
pub struct ReadLine {
    pub name: String,
    pub ink: &'static str,
    pub values: Vec<Option<f64>>,
}

/// A strip between two lines.
#[derive(Debug, Clone, Serialize)]
pub struct ReadStrip {
    pub name: String,
    pub ink: &'static str,
    pub low: Vec<Option<f64>>,
    pub high: Vec<Option<f64>>,
}

/// More places than this are finer than a pointer.
const MOST_PLACES: usize = 6_000;

/// The step between the places that a pointer can be at, given the number of places.
pub fn step(places: usize) -> usize {
    places.div_ceil(MOST_PLACES).max(1)
}

impl Readout {
    /// Adds a line that has a value, or none, at every period of a panel of periods.
    pub fn add_line(&mut self, name: &str, ink: &'static str, values: &[Option<f64>]) {
        self.lines.push(ReadLine { name: name.to_owned(), ink, values: of_places(values) });
    }

    /// Adds a strip, in the same way.
    pub fn add_strip(&mut self, name: &str, ink: &'static str, ends: &[Option<(f64, f64)>]) {
        let end = |of: fn((f64, f64)) -> f64| {
            of_places(&ends.iter().map(|ends| ends.map(of)).collect::<Vec<Option<f64>>>())
        };
        let (low, high) = (end(|ends| ends.0), end(|ends| ends.1));
        self.strips.push(ReadStrip { name: name.to_owned(), ink, low, high });
    }
}

fn of_places(values: &[Option<f64>]) -> Vec<Option<f64>> {
    values.iter().copied().step_by(step(values.len())).collect()
}

/// All panels of a figure, as JSON has them.
#[derive(Serialize)]
struct Page {
    /// Names of places, each list once.
    names: Vec<Vec<String>>,
    panels: Vec<PanelOnPage>,
}

#[derive(Serialize)]
struct PanelOnPage {
    corners: [f64; 4],
    /// Value at the low end and at the high end, then where these are.
    x: [f64; 4],
    y: [f64; 4],
    at: Vec<f64>,
    /// Which list of names.
    names: usize,
    lines: Vec<ReadLine>,
    strips: Vec<ReadStrip>,
    zooms: bool,
}

/// The panels as JSON.
pub fn json(readouts: &[Readout]) -> String {
    let mut page = Page { names: Vec::new(), panels: Vec::new() };
    for readout in readouts {
        let names: Vec<String> = readout.places.iter().map(|(_, name)| name.clone()).collect();
        let known = page.names.iter().position(|own| *own == names);
        let number = known.unwrap_or(page.names.len());
        if known.is_none() {
            page.names.push(names);
        }
        page.panels.push(PanelOnPage {
            corners: readout.corners,
            x: ends(readout.along),
            y: ends(readout.up),
            at: readout.places.iter().map(|(at, _)| *at).collect(),
            names: number,
            lines: readout.lines.iter().map(ReadLine::rounded).collect(),
            strips: readout.strips.iter().map(ReadStrip::rounded).collect(),
            zooms: readout.zooms,
        });
    }
    // Lists of numbers and texts always have a form in JSON.
    serde_json::to_string(&page).unwrap_or_default()
}

impl ReadLine {
    fn rounded(&self) -> Self {
        Self { name: self.name.clone(), ink: self.ink, values: all_rounded(&self.values) }
    }
}

impl ReadStrip {
    fn rounded(&self) -> Self {
        let (low, high) = (all_rounded(&self.low), all_rounded(&self.high));
        Self { name: self.name.clone(), ink: self.ink, low, high }
    }
}

fn all_rounded(values: &[Option<f64>]) -> Vec<Option<f64>> {
    values.iter().map(|value| value.and_then(rounded)).collect()
}

fn ends(scale: Scale) -> [f64; 4] {
    [scale.low, scale.high, scale.at_low, scale.at_high]
}

/// With six digits, which is more than a figure shows; none of what is no number.
fn rounded(value: f64) -> Option<f64> {
    format!("{value:.5e}").parse().ok().filter(|value: &f64| value.is_finite())
}

#[cfg(test)]
mod tests {
    use super::*;

    fn readout(count: usize) -> Readout {
        let scale = Scale { low: 0.0, high: 1.0, at_low: 0.0, at_high: 100.0 };
        Readout {
            corners: [0.0, 0.0, 100.0, 100.0],
            along: scale,
            up: scale,
            places: (0..count).map(|t| (t as f64, format!("t{t}"))).collect(),
            lines: vec![ReadLine {
                name: "a".to_owned(),
                ink: "#000000",
                values: (0..count).map(|t| (t != 1).then_some(t as f64 / 3.0)).collect(),
            }],
            strips: Vec::new(),
            zooms: true,
        }
    }

    #[test]
    fn names_that_panels_share_are_there_once_and_numbers_are_short() {
        let text = json(&[readout(3), readout(3), readout(2)]);
        let page: serde_json::Value = serde_json::from_str(&text).expect("JSON");
        assert_eq!(page["names"].as_array().map(Vec::len), Some(2));
        let numbers: Vec<u64> =
            (0..3).map(|k| page["panels"][k]["names"].as_u64().expect("a number")).collect();
        assert_eq!(numbers, [0, 0, 1]);
        assert_eq!(page["panels"][0]["lines"][0]["values"].to_string(), "[0.0,null,0.666667]");
    }

    #[test]
    fn a_long_series_has_no_more_places_than_a_pointer_can_reach() {
        for (count, wanted) in [(0, 1), (1, 1), (6_000, 1), (6_001, 2), (20_000, 4)] {
            assert_eq!(step(count), wanted, "{count}");
        }
    }
}
