//! Delimited text: which delimiter.

use std::sync::Arc;

use ::csv::{ErrorKind, ReaderBuilder, StringRecord};

use super::budget::Budget;
use super::decode::Text;
use super::grid::Grid;
use super::number::Decimal;
use super::quotes;
use super::table::{SAMPLE, Table, assemble, unequal, usual};
use crate::error::CliError;

/// What the user says of a text file; the rest is found.
#[derive(Debug, Clone, Default)]
pub struct CsvOptions {
    pub delimiter: Option<u8>,
    pub decimal: Option<Decimal>,
}

/// Delimiters in the order of preference: a comma may also be in numbers.
const DELIMITERS: [(u8, &str); 4] = [(b'\t', "tabs"), (b';', "semicolons"), (b'|', "bars"), (b',', "commas")];

/// Bytes that are asked for the delimiter.
const LOOKED_AT: usize = 1 << 20;

/// Reads delimited text with a header.
pub fn parse(source: &str, text: &Text, options: &CsvOptions, budget: &Budget) -> Result<Table, CliError> {
    let delimiter = options.delimiter.unwrap_or_else(|| likely_delimiter(text.as_str()));
    let mut table = assemble(source, grid(source, text, delimiter, budget)?, budget)?;
    table.settle_decimal(source, options.decimal, delimiter != b',')?;
    if let Some((_, name)) = DELIMITERS.iter().find(|(mark, _)| *mark == delimiter && *mark != b',') {
        let commas = if table.decimal == Decimal::Comma { ", decimal commas" } else { "" };
        table.notes.push(format!("{source}: columns separated by {name}{commas}"));
    }
    Ok(table)
}

fn grid(source: &str, text: &Text, delimiter: u8, budget: &Budget) -> Result<Grid, CliError> {
    let body = text.bytes.get(text.start..).unwrap_or_default();
    let cells = count_cells(body, delimiter);
    budget.take(source, (cells * size_of::<u32>()) as u64)?;
    let ends_are_plain =
        memchr::memchr_iter(b'\r', body).all(|at| body.get(at + 1).is_none_or(|next| *next == b'\n'));
    if memchr::memchr(b'"', body).is_none() && ends_are_plain {
        // Without quotes there is nothing to unfold.
        return Ok(Grid::of_lines(Arc::clone(&text.bytes), text.start, delimiter, cells));
    }
    // Without the quotes the text is written again.
    budget.take(source, 2 * body.len() as u64)?;
    let text = quotes::without_blanks_outside(text.as_str(), delimiter);
    let text = text.as_ref();
    let expected = quotes::records(source, text.as_bytes(), delimiter)?;
    let mut found = 0;
    let mut grid = Grid::with_room(text.len());
    let mut reader = reader(text, delimiter);
    let mut record = StringRecord::new();
    let mut swallowed = quotes::Swallowed::new(delimiter);
    while reader.read_record(&mut record).map_err(|error| reading_error(source, &error))? {
        let line = record.position().map_or(0, ::csv::Position::line);
        swallowed.look_at(line, &record);
        found += 1;
        grid.push(line, record.iter().map(str::trim));
    }
    swallowed.check(source)?;
    // Every line belongs to a record or is empty: none may be lost.
    if found != expected {
        return Err(CliError::data(format!(
            "{source}: {found} records were read of {expected}: quotes are astray"
        ))
        .advise("put every quote that belongs to a cell twice, or take it out"));
    }
    Ok(grid)
}

/// How many cells a text without quotes has, at most.
fn count_cells(body: &[u8], delimiter: u8) -> usize {
    // Counts in single bytes are as fast as memory; a short piece cannot exceed them.
    let ends = |piece: &[u8]| {
        piece.iter().fold(0_u8, |count, byte| count + u8::from(*byte == delimiter || *byte == b'\n'))
    };
    1 + body.chunks(128).map(|piece| usize::from(ends(piece))).sum::<usize>()
}

fn reader(text: &str, delimiter: u8) -> ::csv::Reader<&[u8]> {
    ReaderBuilder::new().delimiter(delimiter).flexible(true).has_headers(false).from_reader(text.as_bytes())
}

/// The delimiter that cuts most of the first records into one number of fields;
/// a comma if none cuts them at all.
fn likely_delimiter(text: &str) -> u8 {
    let most = LOOKED_AT.min(text.len());
    let end = (0..=most).rev().find(|at| text.is_char_boundary(*at)).unwrap_or(0);
    let text = text.get(..end).unwrap_or(text);
    let mut best = (b',', 0.0);
    for (mark, _) in DELIMITERS {
        let counts: Vec<usize> = reader(text, mark)
            .records()
            .take(SAMPLE)
            .map_while(Result::ok)
            .map(|record| record.len())
            .collect();
        let usual = usual(&counts);
        let share =
            counts.iter().filter(|count| **count == usual).count() as f64 / counts.len().max(1) as f64;
        if usual > 1 && share > best.1 {
            best = (mark, share);
        }
    }
    best.0
}

fn reading_error(source: &str, error: &::csv::Error) -> CliError {
    let line = error.position().map_or(0, ::csv::Position::line);
    match error.kind() {
        ErrorKind::UnequalLengths { expected_len, len, .. } => unequal(
            source,
            line,
            usize::try_from(*len).unwrap_or(0),
            usize::try_from(*expected_len).unwrap_or(0),
        ),
        _ => CliError::data(format!("{source}, line {line}: {error}")),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn table(text: &str) -> Table {
        parse("a.csv", &text.into(), &CsvOptions::default(), &Budget::new(None))
            .unwrap_or_else(|error| panic!("{error}"))
    }

    #[test]
    fn the_delimiter_is_the_one_that_cuts_evenly() {
        for (text, columns) in [
            ("a,b\n1,2\n", 2),
            ("a;b;c\n1,5;2,5;3\n4;5;6\n", 3),
            ("a\tb\n1,5\t2\n", 2),
            ("a|b\n1|2\n", 2),
            ("a\n1\n2\n", 1),
            ("a,\"b;c;d\"\n1,2\n", 2),
        ] {
            assert_eq!(table(text).header.len(), columns, "{text}");
        }
    }

    #[test]
    fn titles_and_blank_rows_above_the_header_are_passed_over() {
        for text in [
            "Harbour office\n\nmonth,x\n2001-01,1\n2001-02,2\n",
            "Harbour office,\n,\nmonth,x\n2001-01,1\n2001-02,2\n",
        ] {
            let table = table(text);
            assert_eq!(table.header, ["month", "x"], "{text}");
            assert_eq!((table.rows.len(), table.notes.len()), (2, 1));
        }
        // A header too narrow for its rows is a fault, not a title.
        let narrow = parse(
            "a.csv",
            &"month,x\n2001-01,1,5\n2001-02,2,5\n".into(),
            &CsvOptions::default(),
            &Budget::new(None),
        );
        assert!(
            narrow.is_err_and(|error| error.to_string().contains("line 2: 3 fields where the header has 2"))
        );
    }

    #[test]
    fn the_decimal_mark_is_the_one_the_cells_speak_for() {
        assert_eq!(table("a;b\n1,5;2\n").decimal, Decimal::Comma);
        assert_eq!(table("a;b\n1.5;2\n").decimal, Decimal::Point);
        assert_eq!(table("a;b\n1.234,5;1.234\n").decimal, Decimal::Comma);
        assert_eq!(table("a,b\n\"1,234\",2\n").decimal, Decimal::Point);
        let open = parse("a.csv", &"a;b\n1,234;2\n".into(), &CsvOptions::default(), &Budget::new(None));
        assert!(open.is_err_and(|error| error.to_string().contains("may be 1234 or 1.234")));
        let told = CsvOptions { decimal: Some(Decimal::Comma), ..CsvOptions::default() };
        assert_eq!(
            parse("a.csv", &"a;b\n1,234;2\n".into(), &told, &Budget::new(None))
                .map(|table| table.decimal)
                .ok(),
            Some(Decimal::Comma)
        );
    }
}
