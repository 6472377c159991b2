//! Long tables: one row for each series and period, made into a column for each
//! series.

use std::collections::HashMap;

use super::budget::Budget;
use super::grid::{Grid, Row};
use super::number::{self, Style};
use super::table::Table;
use super::time_column::{self, TimeIndex, TimeOptions};
use crate::call::shell_word;
use crate::error::CliError;
use crate::visible::visible_name;
use crate::wording;

/// What the user says of a long table.
#[derive(Debug, Clone, Default)]
pub struct LongOptions {
    /// The column that names the series and the one that holds the values.
    pub columns: Option<(String, String)>,
    /// Rows to keep: a column and its value.
    pub picks: Vec<(String, String)>,
}

/// Which columns say what.
pub struct Shape {
    /// Columns that together name the series.
    pub keys: Vec<usize>,
    pub value: usize,
    pub time: Vec<usize>,
}

/// Keeps the rows that are picked and lays series side by side, where the user
/// or the header of SDMX-CSV says that the table is long; other tables as they are.
pub fn widen(
    source: &str,
    mut table: Table,
    options: &LongOptions,
    time: &TimeOptions,
    style: &Style,
    budget: &Budget,
) -> Result<Table, CliError> {
    // What names the series of SDMX-CSV is found before rows are picked: their names are the same with and without.
    let of_header = if options.columns.is_none() { sdmx_shape(&table) } else { None };
    for (column, value) in &options.picks {
        table = picked(source, table, column, value)?;
    }
    let shape = match &options.columns {
        Some((series, value)) => Some(named_shape(source, &table, series, value, time)?),
        None => of_header,
    };
    let Some(shape) = shape else {
        return Ok(table);
    };
    let mut wide = side_by_side(source, &table, &shape, style, budget)?;
    let width = wide.header.len() - shape.time.len();
    wide.notes.push(laid_out(source, &table, &shape, width));
    Ok(wide)
}

fn place_of(source: &str, table: &Table, option: &str, name: &str) -> Result<usize, CliError> {
    let name = visible_name(name);
    let exact = table.header.iter().position(|known| *known == name);
    // The codes of SDMX headers may have their labels behind them.
    exact.or_else(|| table.header.iter().position(|known| code(known) == name)).ok_or_else(|| {
        let error = CliError::data(format!("{option}: {source} has no column `{name}`"));
        match wording::nearest(&name, &table.header) {
            Some(near) => error.advise(format!("did you mean `{near}`?")),
            None => error.advise(format!("it has {}", wording::list(&table.header))),
        }
    })
}

fn picked(source: &str, table: Table, column: &str, value: &str) -> Result<Table, CliError> {
    let place = place_of(source, &table, "--pick", column)?;
    let mut kept = Grid::default();
    for row in table.rows.rows() {
        let cell = row.cell(place);
        if cell == value || code(cell) == value {
            kept.push(row.line, row.cells());
        }
    }
    if kept.is_empty() {
        let known = distinct(&table, place);
        let error = CliError::data(format!("--pick: no row of {source} has {column}={value}"));
        return Err(match wording::nearest(value, &known) {
            Some(near) => error.advise(format!("did you mean {column}={near}?")),
            None => error.advise(format!("`{column}` contains {}", wording::first_few(&known))),
        });
    }
    Ok(Table { rows: kept, ..table })
}

fn named_shape(
    source: &str,
    table: &Table,
    series: &str,
    value: &str,
    time: &TimeOptions,
) -> Result<Shape, CliError> {
    let key = place_of(source, table, "--long", series)?;
    let value = place_of(source, table, "--long", value)?;
    let others: Vec<usize> =
        (0..table.header.len()).filter(|place| *place != key && *place != value).collect();
    let mut rest = table.emptied(others.iter().map(|place| table.header[*place].clone()).collect());
    for row in table.rows.rows() {
        rest.rows.push(row.line, others.iter().map(|place| row.cell(*place)));
    }
    let time = match time_column::find(source, &rest, time)? {
        TimeIndex::Column(found) => std::iter::once(found.place).chain(found.beside).collect(),
        TimeIndex::Undated { dates: Some(place), .. } => vec![place],
        TimeIndex::Undated { dates: None, .. } | TimeIndex::Counted { .. } => {
            return Err(CliError::data(format!("{source}: no column of the long table contains periods"))
                .advise("name the time column with --time"));
        }
    };
    let time = time.into_iter().filter_map(|place: usize| others.get(place).copied()).collect();
    Ok(Shape { keys: vec![key], value, time })
}

/// The code of a header or cell of SDMX-CSV written `CODE: Label`.
fn code(cell: &str) -> &str {
    cell.split(':').next().unwrap_or(cell).trim()
}

/// Columns of SDMX-CSV that are no dimensions of the data.
const STRUCTURE: &[&str] = &["DATAFLOW", "STRUCTURE", "STRUCTURE_ID", "STRUCTURE_NAME", "ACTION"];

/// SDMX-CSV: dimensions precede `OBS_VALUE`, attributes after it.
fn sdmx_shape(table: &Table) -> Option<Shape> {
    let place = |name: &str| table.header.iter().position(|head| code(head) == name);
    let (time, value) = (place("TIME_PERIOD")?, place("OBS_VALUE")?);
    let dimensions: Vec<usize> = (0..value)
        .filter(|place| *place != time && !STRUCTURE.contains(&code(&table.header[*place])))
        .collect();
    let varying: Vec<usize> = dimensions.iter().copied().filter(|place| varies(table, *place)).collect();
    let keys = if varying.is_empty() { dimensions } else { varying };
    Some(Shape { keys, value, time: vec![time] })
}

fn varies(table: &Table, place: usize) -> bool {
    let first = table.rows.row(0).map_or("", |row| row.cell(place));
    table.rows.rows().any(|row| row.cell(place) != first)
}

fn distinct(table: &Table, place: usize) -> Vec<String> {
    let mut known: Vec<String> = Vec::new();
    for row in table.rows.rows() {
        if known.len() < 1000 && !known.iter().any(|cell| cell == row.cell(place)) {
            known.push(row.cell(place).to_owned());
        }
    }
    known
}

/// Names or times in the order they first appear.
#[derive(Default)]
struct Places<'a> {
    order: Vec<Vec<&'a str>>,
    known: HashMap<Vec<&'a str>, usize>,
}

impl<'a> Places<'a> {
    fn place(&mut self, of: Vec<&'a str>) -> usize {
        let next = self.order.len();
        let place = *self.known.entry(of.clone()).or_insert(next);
        if place == next {
            self.order.push(of);
        }
        place
    }
}

/// What a row and a cell take while they are laid out.
const ROW: u64 = 200;
const PLACE: u64 = size_of::<Option<Row<'_>>>() as u64;

/// A column for each series and a row for each period.
///
/// # Errors
/// Two values of one series and period; more cells than can be laid out.
pub fn side_by_side(
    source: &str,
    table: &Table,
    shape: &Shape,
    style: &Style,
    budget: &Budget,
) -> Result<Table, CliError> {
    budget.take(source, table.rows.len() as u64 * ROW)?;
    let (mut times, mut names) = (Places::default(), Places::default());
    let mut entries: Vec<(usize, usize, Row<'_>)> = Vec::with_capacity(table.rows.len());
    for row in table.rows.rows() {
        let time = times.place(shape.time.iter().map(|place| row.cell(*place)).collect());
        let name = names.place(shape.keys.iter().map(|place| code_if_several(&row, *place, shape)).collect());
        entries.push((time, name, row));
    }
    let width = names.order.len();
    let places = (times.order.len() as u64).saturating_mul(width as u64);
    budget
        .take(source, places.saturating_mul(PLACE))
        .and_then(|()| budget.take_table(source, times.order.len(), width))
        .map_err(|refusal| {
            let periods = times.order.len();
            refusal.advise(format!(
                "it is {width} series over {periods} periods: keep some with --pick COLUMN=VALUE"
            ))
        })?;
    let mut cells: Vec<Option<Row<'_>>> = vec![None; times.order.len() * width];
    for (time, name, row) in entries {
        let Some(cell) = cells.get_mut(time * width + name) else {
            continue;
        };
        if let Some(earlier) = cell.replace(row) {
            return Err(repeated(source, table, shape, &earlier, &row, &names.order[name]));
        }
    }
    let times_named = shape.time.iter().map(|place| code(&table.header[*place]).to_owned());
    let named = names.order.iter().map(|name| series_name(name));
    let mut wide = table.emptied(times_named.chain(named).collect());
    for (place, (time, row)) in times.order.iter().zip(cells.chunks(width)).enumerate() {
        let values = row.iter().map(|cell| cell.map_or("", |row| row.cell(shape.value)));
        let line = row.iter().flatten().map(|row| row.line).min().unwrap_or(0);
        wide.rows.push(line, time.iter().copied().chain(values));
        for (column, cell) in row.iter().enumerate() {
            if let Some(cell) = cell.filter(|row| is_text(row.cell(shape.value), style)) {
                wide.lines.insert((place, shape.time.len() + column), cell.line);
            }
        }
    }
    wide.only_value = (width == 1).then(|| code(&table.header[shape.value]).to_owned());
    Ok(wide)
}

fn is_text(cell: &str, style: &Style) -> bool {
    number::read(cell, style) == number::CellValue::Text
}

/// Several key columns are those of SDMX-CSV, whose cells may carry labels.
fn code_if_several<'a>(row: &Row<'a>, place: usize, shape: &Shape) -> &'a str {
    if shape.keys.len() > 1 { code(row.cell(place)) } else { row.cell(place) }
}

fn series_name(parts: &[&str]) -> String {
    match parts {
        [] | [""] => "value".to_owned(),
        _ => visible_name(&parts.join(".")),
    }
}

fn laid_out(source: &str, table: &Table, shape: &Shape, width: usize) -> String {
    let by: Vec<String> = shape.keys.iter().map(|place| code(&table.header[*place]).to_owned()).collect();
    format!(
        "{source}: a long table of {} by {}, values in `{}`",
        if width == 1 { "1 series".to_owned() } else { format!("{width} series") },
        wording::list(&by),
        code(&table.header[shape.value])
    )
}

/// Two values for one series and period: the columns in which the rows differ
/// tell what to pick.
fn repeated(
    source: &str,
    table: &Table,
    shape: &Shape,
    earlier: &Row<'_>,
    row: &Row<'_>,
    name: &[&str],
) -> CliError {
    let differ = (0..table.header.len())
        .find(|place| *place != shape.value && earlier.cell(*place) != row.cell(*place));
    let time: Vec<&str> = shape.time.iter().map(|place| row.cell(*place)).collect();
    let word = table.row_word;
    let error = CliError::data(format!(
        "{source}: `{}` has two values in {} ({word}s {} and {})",
        series_name(name),
        time.join(" "),
        earlier.line,
        row.line
    ));
    match differ {
        Some(place) => error.advise(format!(
            "they differ in `{}`: keep one with --pick {}={}",
            table.header[place],
            shell_word(code(&table.header[place])),
            shell_word(earlier.cell(place))
        )),
        None => error.advise("leave one row for each period"),
    }
}

#[cfg(test)]
mod tests {
    use super::super::csv::{self, CsvOptions};
    use super::super::number::Decimal;
    use super::*;

    fn wide(text: &str, options: &LongOptions) -> Result<Table, CliError> {
        let table = csv::parse("a.csv", &text.into(), &CsvOptions::default(), &Budget::new(None))?;
        let style = Style { decimal: Decimal::Point, missing: Vec::new() };
        widen("a.csv", table, options, &TimeOptions::default(), &style, &Budget::new(None))
    }

    fn rows(table: &Table) -> Vec<String> {
        table.rows.rows().map(|row| row.cells().collect::<Vec<_>>().join(",")).collect()
    }

    fn by(series: &str, value: &str, picks: &[(&str, &str)]) -> LongOptions {
        let picks = picks.iter().map(|(column, value)| ((*column).to_owned(), (*value).to_owned()));
        LongOptions { columns: Some((series.to_owned(), value.to_owned())), picks: picks.collect() }
    }

    const LONG: &str = "kind,month,port,tons\na,2004-01,x,1\nb,2004-01,x,2\na,2004-02,x,3\nb,2004-02,x,5\n\
        a,2004-01,y,6\n";

    #[test]
    fn series_stand_side_by_side() {
        let table = wide(LONG, &by("kind", "tons", &[("port", "x")])).unwrap_or_else(|e| panic!("{e}"));
        assert_eq!(table.header, ["month", "a", "b"]);
        assert_eq!(rows(&table), ["2004-01,1,2", "2004-02,3,5"]);
    }

    #[test]
    fn two_values_in_a_period_name_the_column_to_pick_by() {
        let error = wide(LONG, &by("kind", "tons", &[])).expect_err("two ports").to_string();
        assert!(error.contains("`a` has two values in 2004-01 (lines 2 and 6)"), "{error}");
        assert!(error.contains("--pick port=x"), "{error}");
        let error = wide(LONG, &by("kind", "tons", &[("port", "z")])).expect_err("no such port").to_string();
        assert!(error.contains("no row of a.csv has port=z"), "{error}");
    }

    #[test]
    fn sdmx_names_series_by_the_dimensions_that_vary() {
        let text = "DATAFLOW,FREQ: Frequency,AREA,TIME_PERIOD,OBS_VALUE,OBS_STATUS\n\
            D,M: Monthly,N,2004-M01,1.5,A\nD,M: Monthly,S,2004-M01,2.5,A\nD,M: Monthly,N,2004-M02,,M\n";
        let table = wide(text, &LongOptions::default()).unwrap_or_else(|e| panic!("{e}"));
        assert_eq!(table.header, ["TIME_PERIOD", "N", "S"]);
        assert_eq!(rows(&table), ["2004-M01,1.5,2.5", "2004-M02,,"]);
        let one = LongOptions { picks: vec![("AREA".into(), "S".into())], ..LongOptions::default() };
        let table = wide(text, &one).unwrap_or_else(|e| panic!("{e}"));
        assert_eq!(table.header, ["TIME_PERIOD", "S"], "the same name as without picking");
        assert_eq!(table.only_value.as_deref(), Some("OBS_VALUE"));
    }

    #[test]
    fn text_among_the_values_keeps_its_line() {
        let text = "k,month,v\na,2004-01,1\nb,2004-01,x\n";
        let table = wide(text, &by("k", "v", &[])).unwrap_or_else(|e| panic!("{e}"));
        assert_eq!(table.line_of(0, 2), 3);
        assert_eq!(table.line_of(0, 1), 2);
    }
}
