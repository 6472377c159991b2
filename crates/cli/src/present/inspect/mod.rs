//! What is in a file.

mod shape;

use kandrel_core::series::{Column, GapsAdvice, gaps_advice};
use kandrel_core::time::Period;
use rayon::prelude::*;
use schemars::JsonSchema;
use serde::Serialize;
use shape::Shape;

use crate::call::{Call, Name};
use crate::document::{Align, Document, Table, TableCell};
use crate::present::diagnosis::DiagnosisResult;
use crate::present::signs::SignCounts;
use crate::read::{ColumnContent, Dataset};
use crate::wording;
use crate::wording::{heads, titles};

/// The contract's result of `inspect`.
#[derive(JsonSchema, Serialize)]
pub struct Inspection {
    pub columns: Vec<ColumnSummary>,
    pub gaps: Vec<Period>,
    pub duplicates: Vec<String>,
}

/// One column of it.
#[derive(Default, JsonSchema, Serialize)]
pub struct ColumnSummary {
    pub name: String,
    pub kind: ColumnContent,
    pub observations: usize,
    pub missing: usize,
    pub first: Option<String>,
    pub last: Option<String>,
    pub mean: Option<f64>,
    pub sd: Option<f64>,
    pub min: Option<f64>,
    pub min_at: Option<String>,
    pub max: Option<f64>,
    pub max_at: Option<String>,
    /// Signs and zero crossings of a column with both signs.
    pub signs: Option<SignCounts>,
    /// Periods inside the column without a value.
    pub gaps: Vec<Period>,
    /// The joint assessment; none for a file of many columns, or a column that cannot be assessed.
    pub diagnosis: Option<DiagnosisResult>,
    /// Seasonality, variance and trend, where the series is long enough.
    pub shape: Option<Shape>,
}

/// Summaries of every column, with the joint assessment of each column of numbers.
pub fn inspection(dataset: &Dataset, season: usize, diagnoses: Vec<Option<DiagnosisResult>>) -> Inspection {
    let of = |(column, diagnosis): (&Column, Option<DiagnosisResult>)| ColumnSummary {
        diagnosis,
        ..summarise(dataset, column, season)
    };
    let summaries: Vec<ColumnSummary> = dataset.frame.columns.par_iter().zip(diagnoses).map(of).collect();
    let mut numeric = summaries.into_iter();
    let columns = dataset.columns.iter().map(|info| {
        let own = if info.kind == ColumnContent::Number { numeric.next() } else { None };
        let mut summary = own.unwrap_or_default();
        summary.name.clone_from(&info.name);
        summary.kind = info.kind;
        summary.observations = info.observations;
        summary.missing = info.missing;
        if info.kind == ColumnContent::Time && dataset.is_dated() {
            summary.first = Some(dataset.frame.start.to_string());
            summary.last = Some(dataset.frame.last().to_string());
        }
        summary
    });
    Inspection {
        columns: columns.collect(),
        gaps: dataset.absent.clone(),
        // A file with duplicated periods is refused on reading.
        duplicates: Vec::new(),
    }
}

fn summarise(dataset: &Dataset, column: &Column, season: usize) -> ColumnSummary {
    let known: Vec<(usize, f64)> =
        column.cells.iter().enumerate().filter_map(|(row, cell)| cell.map(|value| (row, value))).collect();
    let at = |row: usize| dataset.frame.period(row).to_string();
    let (Some(first), Some(last)) = (known.first(), known.last()) else {
        return ColumnSummary::default();
    };
    let values: Vec<f64> = known.iter().map(|(_, value)| *value).collect();
    let mean = kandrel_core::num::scale::mean(&values);
    let squares: f64 = values.iter().map(|value| (value - mean).powi(2)).sum();
    let sd = (values.len() > 1).then(|| (squares / (values.len() as f64 - 1.0)).sqrt());
    let lowest = known.iter().min_by(|a, b| a.1.total_cmp(&b.1)).unwrap_or(first);
    let highest = known.iter().max_by(|a, b| a.1.total_cmp(&b.1)).unwrap_or(first);
    let inside = first.0..=last.0;
    let gaps: Vec<Period> =
        inside.filter(|row| column.cells[*row].is_none()).map(|row| dataset.frame.period(row)).collect();
    ColumnSummary {
        first: Some(at(first.0)),
        last: Some(at(last.0)),
        mean: Some(mean),
        sd: sd.filter(|sd| sd.is_finite()),
        min: Some(lowest.1),
        min_at: Some(at(lowest.0)),
        max: Some(highest.1),
        max_at: Some(at(highest.0)),
        signs: SignCounts::of(values.iter().copied()),
        gaps,
        shape: shape::shape(&column.cells, season, |row| dataset.frame.period(row)),
        ..ColumnSummary::default()
    }
}

/// The inspection as a document.
pub fn document(dataset: &Dataset, result: &Inspection, season: usize, call: &Call) -> Document {
    let mut document = Document::default();
    document.paragraph(answer(dataset, season, call.names_series()));
    if let Some(reason) = &dataset.reason {
        let frequency = dataset.frame.frequency().adjective();
        document.paragraph(format!("Taken as {frequency} because {reason}."));
    }
    document.detail("first and last rows", |inner| inner.table(rows_of_file(dataset)));
    document.table(summary_table(result));
    document.list(titles::JOINT_ASSESSMENT, shapes(dataset, result, season));
    document.list(titles::NOTES, warnings(dataset, result));
    document.commands(titles::NEXT, next(dataset, result, call));
    document
}

fn answer(dataset: &Dataset, season: usize, is_part: bool) -> String {
    let frame = &dataset.frame;
    let numbers = wording::count(frame.columns.len(), "series");
    let numbers = if frame.columns.len() == 1 { numbers } else { format!("{} series", frame.columns.len()) };
    let span = format!("{} to {}", frame.start, frame.last());
    let time = match (&dataset.time, dataset.is_dated()) {
        (Some(column), true) => format!("{span} (time column `{column}`)"),
        (None, true) => format!("{span} (counted from --start)"),
        _ => format!("observations {span} (no time column in use)"),
    };
    let gaps = match dataset.absent.len() {
        0 => "no missing period".to_owned(),
        1 => format!("{} is missing", wording::periods(&dataset.absent)),
        _ => format!("{} are missing", wording::periods(&dataset.absent)),
    };
    let seasonal = if season > 1 { format!("; seasonal period {season}") } else { String::new() };
    let what = if is_part {
        format!("{numbers} of {}", dataset.source)
    } else {
        format!("{} contains {numbers}", dataset.source)
    };
    format!(
        "{what}, {}, {time}: {}, {gaps}{seasonal}.",
        frame.frequency().adjective(),
        wording::count(dataset.rows, "row"),
    )
}

/// A text describes at most this number of series; JSON of all.
const SHOWN: usize = 12;

fn shapes(dataset: &Dataset, result: &Inspection, season: usize) -> Vec<String> {
    let noun = dataset.frame.frequency().noun();
    let sentence = |column: &ColumnSummary| {
        let shape = column.shape.as_ref()?;
        let sentence = shape::sentence(shape, column.diagnosis.as_ref(), season, noun);
        let signs = column.signs.map_or_else(String::new, |own| {
            format!(" {}.", wording::capitalised(&own.clause(column.observations, noun)))
        });
        let filled = match column.gaps.len() {
            0 => String::new(),
            1 => " One missing value was filled for the assessment.".to_owned(),
            gaps => format!(" {gaps} missing values were filled for the assessment."),
        };
        Some(format!("{}: {sentence}{signs}{filled}", column.name))
    };
    let mut all: Vec<String> = result.columns.iter().filter_map(sentence).collect();
    if all.len() > SHOWN {
        let more = all.len() - SHOWN;
        all.truncate(SHOWN);
        all.push(format!("{more} series more: see --as json."));
    }
    all
}

/// The first three and last three rows, columns as far as they fit.
fn rows_of_file(dataset: &Dataset) -> Table {
    let frame = &dataset.frame;
    let shown: Vec<&Column> = fitting(&frame.columns);
    let left_out = frame.columns.len() - shown.len();
    let time = dataset.time.as_deref().filter(|_| dataset.is_dated()).unwrap_or("row");
    let split = frame.length > 6;
    let rows = (0..frame.length).filter(|row| !split || *row < 3 || row + 3 >= frame.length);
    let value = |column: &Column, row: usize| column.cells.get(row).copied().flatten();
    let mut table = Table::of(rows)
        .text(time, |row| frame.period(*row).to_string())
        .each(
            shown,
            Align::Decimal,
            |column| column.name.clone(),
            |row, column| TableCell::exact(value(column, *row)),
        )
        .only_if(left_out > 0, |rows| rows.text(format!("+{left_out} more"), |_| ""))
        .table();
    if split {
        table.rows.insert(3, vec![TableCell::text("…")]);
    }
    table
}

/// As many columns as fit into 80 characters next to the period.
fn fitting(columns: &[Column]) -> Vec<&Column> {
    let mut room: usize = 80 - 12 - 10;
    columns
        .iter()
        .take_while(|column| {
            let widest = column.cells.iter().flatten().take(200).map(|value| value.to_string().len()).max();
            let width = column.name.chars().count().max(widest.unwrap_or(1)) + 2;
            let fits = width <= room;
            room = room.saturating_sub(width);
            fits
        })
        .collect()
}

fn summary_table(result: &Inspection) -> Table {
    let number = |column: &ColumnSummary, value: Option<f64>| TableCell::number(value, decimals(column));
    let name = |column: &ColumnSummary| {
        if column.kind == ColumnContent::Text {
            format!("{} (text)", column.name)
        } else {
            column.name.clone()
        }
    };
    Table::of(result.columns.iter().filter(|column| column.kind != ColumnContent::Time))
        .text(heads::COLUMN, |column| name(column))
        .count(heads::VALUES, |column| column.observations)
        .count(heads::EMPTY, |column| column.missing)
        .column(heads::MEAN, Align::Decimal, |column| number(column, column.mean))
        .column(heads::SD, Align::Decimal, |column| number(column, column.sd))
        .column(heads::MINIMUM, Align::Decimal, |column| number(column, column.min))
        .text(heads::DATE, |column| column.min_at.clone())
        .column(heads::MAXIMUM, Align::Decimal, |column| number(column, column.max))
        .text(heads::DATE, |column| column.max_at.clone())
        .table()
}

/// Enough decimals to show the variation, none for large numbers.
fn decimals(column: &ColumnSummary) -> usize {
    // A single value, or a constant, shows its own size.
    let size = column.mean.map(f64::abs);
    let spread = column.sd.filter(|sd| *sd > 0.0).or(size).unwrap_or(0.0);
    wording::decimals(spread)
}

fn warnings(dataset: &Dataset, result: &Inspection) -> Vec<String> {
    let mut warnings = Vec::new();
    for fault in dataset.faults.iter().take(5) {
        warnings.push(format!(
            "{} {}, column `{}`: {:?} is not a number; the column cannot be used until it is corrected or emptied.",
            fault.word, fault.line, fault.column, fault.text
        ));
    }
    if dataset.faults.len() > 5 {
        warnings.push(format!("{} cells more are not numbers.", dataset.faults.len() - 5));
    }
    for column in &result.columns {
        let own: Vec<Period> =
            column.gaps.iter().filter(|period| !dataset.absent.contains(period)).copied().collect();
        if !own.is_empty() {
            warnings.push(format!("`{}` has no value in {}.", column.name, wording::periods(&own)));
        }
    }
    warnings.extend(gaps_rules(dataset, result));
    warnings
}

/// What suits the gaps of a column, where it has some.
fn advice(dataset: &Dataset, column: &ColumnSummary) -> Option<GapsAdvice> {
    if column.gaps.is_empty() {
        return None;
    }
    Some(gaps_advice(&dataset.frame.column(&column.name)?.cells, dataset.frame.frequency()))
}

/// For each rule of --gaps the columns that it suits, and why.
fn gaps_rules(dataset: &Dataset, result: &Inspection) -> Vec<String> {
    let advice = |column: &ColumnSummary| Some((advice(dataset, column)?, column.name.clone()));
    let all: Vec<(GapsAdvice, String)> = result.columns.iter().filter_map(advice).collect();
    let of = |one: GapsAdvice| {
        let own: Vec<String> =
            all.iter().filter(|(advice, _)| *advice == one).map(|(_, name)| format!("`{name}`")).collect();
        let (rule, why) = wording::gaps_rule(one);
        let use_it =
            rule.map_or_else(|| "--gaps keep, or --sample".to_owned(), |rule| format!("--gaps {rule}"));
        (!own.is_empty()).then(|| format!("Gaps of {}: {use_it} ({why}).", wording::first_few(&own)))
    };
    [GapsAdvice::Previous, GapsAdvice::Seasonal, GapsAdvice::Linear, GapsAdvice::None]
        .into_iter()
        .filter_map(of)
        .collect()
}

fn next(dataset: &Dataset, result: &Inspection, typed: &Call) -> Vec<Call> {
    let rule = |column: &ColumnSummary| advice(dataset, column).map(|own| wording::gaps_rule(own).0);
    let usable = |column: &&ColumnSummary| {
        column.kind == ColumnContent::Number
            && rule(column).is_none_or(|rule| rule.is_some())
            && column.sd.is_some_and(|sd| sd > 0.0)
            && column.observations >= 20
            && !dataset.faults.iter().any(|fault| fault.column == column.name)
    };
    // A typed expression is carried on as it is, a column with its name guarded.
    let expression = |column: &ColumnSummary| {
        if typed.names_series() { column.name.clone() } else { wording::column(&column.name) }
    };
    let call =
        |name, column: &ColumnSummary| typed.next(name, [expression(column)]).filling(rule(column).flatten());
    let first = result.columns.iter().find(usable);
    first.map_or_else(Vec::new, |column| vec![call(Name::Stationarity, column), call(Name::Acf, column)])
}
