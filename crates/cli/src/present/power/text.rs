//! Power of the tests in words, as a table and as a figure.

use kandrel_core::power::PowerRow;

use super::facts::PowerResult;
use crate::call::{Call, Name};
use crate::document::{Along, Document, Heat, Ink, Line, Panel, Plot, Table};
use crate::wording;
use crate::wording::number;
use crate::wording::{heads, legends, titles};

/// A root above this is as good as one.
const NEAR_ONE: f64 = 0.995;

/// The finding in one sentence.
pub fn answer(result: &PowerResult) -> String {
    let level = wording::percent(result.alpha);
    match result.found {
        Some(root) => format!(
            "With {} observations ADF at {level} % rejects a unit root in 80 % of series whose largest root is {}.",
            result.observations,
            number(root, 2)
        ),
        None => format!(
            "With {} observations ADF at {level} % rejects a unit root in fewer than 80 % of series even where the \
             largest root is {}.",
            result.observations,
            result.rows.first().map_or_else(String::new, |row| number(row.root, 2))
        ),
    }
}

/// What it means for the root of the series itself.
fn own(result: &PowerResult) -> String {
    let root = number(result.estimated, 2);
    let about = format!("The largest root of {} is estimated at {root} (posterior median)", result.series);
    match result.needed {
        _ if result.estimated > NEAR_ONE => {
            format!("{about}: no number of observations distinguishes it from a unit root.")
        }
        Some(needed) if needed <= result.observations => {
            format!("{about}: ADF finds such a root in 80 % of series of this length.")
        }
        Some(needed) => format!(
            "{about}: about {needed} observations, {} more, are needed for ADF to find it in 80 % of series.",
            needed - result.observations
        ),
        None => format!("{about}: even twelve times as many observations do not find it in 80 % of series."),
    }
}

/// Sentence, table, reading, next step.
pub fn document(result: &PowerResult, call: &Call) -> Document {
    let mut document = Document::default();
    document.paragraph(answer(result));
    document.paragraph(own(result));
    document.paragraph(format!(
        "{}. {} series drawn for each root with the short-run dynamics of the ADF regression ({}), a quarter of them for \
         the verdict; seed {}.",
        result.sample,
        result.draws,
        wording::count(result.short_run.len(), "lag"),
        result.seed
    ));
    document.table(table(result));
    document.paragraph(legends::POWER);
    document.commands(titles::NEXT, vec![call.next(Name::Stationarity, [&result.series])]);
    document
}

fn table(result: &PowerResult) -> Table {
    let per_cent = |share: f64| 100.0 * share;
    Table::of(&result.rows)
        .number(heads::ROOT, 2, |row| row.root)
        .number(heads::ADF, 0, |row| per_cent(row.adf))
        .number(heads::PP, 0, |row| per_cent(row.pp))
        .number(heads::ADF_GLS, 0, |row| row.adf_gls.map(per_cent))
        .number(heads::KPSS, 0, |row| per_cent(row.kpss))
        .number(heads::VERDICT, 0, |row| per_cent(row.verdict))
        .table()
}

/// Power against the largest root.
pub fn plot(result: &PowerResult, source: &str) -> Plot {
    let line = |place: usize, name: &str, of: &dyn Fn(&PowerRow) -> Option<f64>| Line {
        name: name.to_owned(),
        ink: Ink::Series(place),
        pieces: vec![
            result.rows.iter().filter_map(|row| Some((row.root, 100.0 * of(row)?))).collect::<Vec<_>>(),
        ],
    };
    let lines = vec![
        line(0, "ADF", &|row| Some(row.adf)),
        line(1, "PP", &|row| Some(row.pp)),
        line(2, "ADF-GLS", &|row| row.adf_gls),
        line(3, "KPSS (stationarity)", &|row| Some(row.kpss)),
        line(4, "Verdict: no unit root", &|row| Some(row.verdict)),
    ];
    let ends = (result.rows.first(), result.rows.last());
    let (low, high) = ends.0.zip(ends.1).map_or((0.0, 1.0), |(first, last)| (first.root, last.root));
    Plot {
        title: answer(result),
        subtitle: format!("{source}, {}", result.sample),
        foot: String::new(),
        columns: 2,
        panels: vec![
            Panel {
                title: "Rejections, per cent of series".to_owned(),
                along: Along::Values(low, high),
                axis: "Largest autoregressive root".to_owned(),
                lines,
                ..Panel::default()
            },
            Panel {
                title: "The same by root and test".to_owned(),
                heat: Some(heat(&result.rows)),
                ..Panel::default()
            },
        ],
    }
}

/// The table as shaded cells.
fn heat(rows: &[PowerRow]) -> Heat {
    let columns = [heads::ADF, heads::PP, heads::ADF_GLS, heads::KPSS, heads::VERDICT];
    Heat {
        rows: rows.iter().map(|row| number(row.root, 2)).collect(),
        columns: columns.map(str::to_owned).into(),
        shares: rows
            .iter()
            .map(|row| vec![Some(row.adf), Some(row.pp), row.adf_gls, Some(row.kpss), Some(row.verdict)])
            .collect(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::present::sample::Sample;
    use kandrel_core::nulldist::Terms;
    use kandrel_core::series::Series;

    fn of(found: Option<f64>, estimated: f64, needed: Option<usize>) -> PowerResult {
        let row = |root, adf| PowerRow { root, adf, pp: 0.4, adf_gls: None, kpss: 0.2, verdict: 0.9 };
        PowerResult {
            series: "x".to_owned(),
            sample: Sample::of(&Series::undated("x", vec![0.0; 120])),
            observations: 120,
            terms: Terms::Constant,
            short_run: vec![0.2, 0.1],
            rows: vec![row(0.5, 1.0), row(0.9, 0.7), row(1.0, 0.05)],
            found,
            estimated,
            needed,
            alpha: 0.05,
            draws: 200,
            seed: 1,
        }
    }

    #[test]
    fn the_sentences_say_what_is_found_and_what_it_takes() {
        assert!(answer(&of(Some(0.86), 0.9, None)).contains("80 % of series whose largest root is 0.86."));
        assert!(
            answer(&of(None, 0.9, None))
                .contains("fewer than 80 % of series even where the largest root is 0.50.")
        );
        assert!(own(&of(None, 0.9, Some(300))).contains("about 300 observations, 180 more, are needed"));
        assert!(own(&of(None, 0.6, Some(120))).contains("of this length"));
        assert!(own(&of(None, 0.99, None)).contains("even twelve times as many"));
        assert!(own(&of(None, 1.0, None)).contains("no number of observations"));
    }

    #[test]
    fn the_figure_has_a_line_for_each_test_that_was_run() {
        let plot = plot(&of(None, 0.9, None), "a.csv");
        let panel = &plot.panels[0];
        assert_eq!(panel.lines.len(), 5);
        assert_eq!(panel.lines[0].pieces[0][1], (0.9, 70.0));
        assert!(panel.lines[2].pieces[0].is_empty());
        assert!(matches!(panel.along, Along::Values(low, high) if (low, high) == (0.5, 1.0)));
        let heat = plot.panels[1].heat.as_ref().expect("shaded cells");
        assert_eq!(heat.rows, ["0.50", "0.90", "1.00"]);
        assert_eq!(heat.shares[1], [Some(0.7), Some(0.4), None, Some(0.2), Some(0.9)]);
    }
}
