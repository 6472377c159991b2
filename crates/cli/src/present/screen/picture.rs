//! The figure of a screen: a small panel for each series that is flagged.

use kandrel_core::series::Series;

use super::facts::ScreenRow;
use crate::document::{Along, Ink, Line, Panel, Plot};

/// More panels are too small to be looked at.
const MOST_PANELS: usize = 40;
/// Most panels in a row.
const MOST_COLUMNS: usize = 5;

/// The flagged series of a screen so far.
#[derive(Default)]
pub struct Flagged {
    shown: Vec<(Series, String)>,
    /// Those that are flagged, with those that are not shown.
    count: usize,
    all: usize,
}

impl Flagged {
    /// Adds a series with its row; a row without values counts only.
    pub fn add(&mut self, series: Option<&Series>, row: &ScreenRow) {
        self.all += 1;
        self.count += usize::from(row.review);
        if let Some(series) = series.filter(|_| row.review && self.shown.len() < MOST_PANELS) {
            self.shown.push((series.clone(), row.reasons.join("; ")));
        }
    }

    /// The panels in the order of the rows.
    pub fn plot(&self) -> Plot {
        let count = self.shown.len();
        let columns = (1..MOST_COLUMNS).find(|columns| columns * columns >= count).unwrap_or(MOST_COLUMNS);
        let foot = match self.count - count {
            0 => String::new(),
            more => format!("{more} more are flagged and not shown."),
        };
        Plot {
            title: format!("{} of {} series flagged for review", self.count, self.all),
            subtitle: "Each with its own scale; in the order of the rows".to_owned(),
            foot,
            columns,
            panels: self.shown.iter().map(|(series, reasons)| panel(series, reasons)).collect(),
        }
    }
}

fn panel(series: &Series, reasons: &str) -> Panel {
    let values = series.values.iter().enumerate();
    Panel {
        title: series.name.clone(),
        about: reasons.to_owned(),
        along: Along::Periods((0..series.values.len()).map(|t| series.period(t)).collect()),
        lines: vec![Line {
            name: series.name.clone(),
            ink: Ink::Series(0),
            pieces: vec![values.map(|(t, value)| (t as f64, *value)).collect()],
        }],
        ..Panel::default()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn flagged(count: usize) -> Flagged {
        let mut flagged = Flagged::default();
        for number in 0..count {
            let series = Series::undated(&format!("x{number}"), vec![1.0, 3.0, 2.0]);
            let row = ScreenRow {
                review: number % 2 == 0,
                reasons: vec!["a break".to_owned()],
                ..ScreenRow::default()
            };
            flagged.add(Some(&series), &row);
        }
        flagged
    }

    #[test]
    fn only_flagged_series_have_panels_and_all_are_counted() {
        let mut some = flagged(5);
        some.add(None, &ScreenRow { review: true, ..ScreenRow::default() });
        let plot = some.plot();
        assert_eq!(plot.title, "4 of 6 series flagged for review");
        assert_eq!(
            plot.panels.iter().map(|panel| panel.title.as_str()).collect::<Vec<_>>(),
            ["x0", "x2", "x4"]
        );
        assert_eq!((plot.columns, plot.panels[0].about.as_str()), (2, "a break"));
        assert_eq!(plot.foot, "1 more are flagged and not shown.");
    }

    #[test]
    fn of_many_the_first_are_shown() {
        let plot = flagged(200).plot();
        assert_eq!((plot.panels.len(), plot.columns), (40, 5));
        assert_eq!(plot.foot, "60 more are flagged and not shown.");
        assert!(flagged(0).plot().panels.is_empty());
    }
}
