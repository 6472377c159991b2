//! Lines around the values of a table that hold none: units under the header, notes and totals below.

use super::grid::{Grid, Row};
use super::number::{self, Decimal, Evidence, Style, evidence};
use super::spelling;
use super::time_numbers;

/// Lines under the header that may hold units, sources and codes.
const MOST_UNIT_ROWS: usize = 3;

/// How lines below a table begin that are no data.
const NOTES: [&str; 17] = [
    "source",
    "sources",
    "note",
    "notes",
    "footnote",
    "total",
    "totals",
    "sum",
    "average",
    "mean",
    "median",
    "minimum",
    "maximum",
    "min",
    "max",
    "updated",
    "last updated",
];

/// How many of the first rows under the header hold text alone where the next one holds numbers.
pub fn unit_rows(records: &Grid) -> usize {
    let is_text = |row: &Row<'_>| !row.cells().any(is_data) && row.cells().any(|cell| !is_missing(cell));
    let count = records.rows().take_while(is_text).take(MOST_UNIT_ROWS + 1).count();
    let Some(next) = records.row(count).filter(|_| (1..=MOST_UNIT_ROWS).contains(&count)) else {
        return 0;
    };
    let stands_over_numbers = |row: Row<'_>| {
        row.cells().enumerate().any(|(place, cell)| !is_missing(cell) && is_number(next.cell(place)))
    };
    let all = records.rows().take(count).all(stands_over_numbers);
    if all { count } else { 0 }
}

/// How many of the last rows are notes, sources or totals: a single cell that is no period, a label of them, or no
/// value at all where the first row has one.
pub fn footers(records: &Grid, width: usize) -> usize {
    if width < 2 {
        return 0;
    }
    let last = (1..records.len()).rev().map_while(|place| records.row(place));
    last.take_while(|row| is_footer(records, *row)).count()
}

fn is_footer(records: &Grid, row: Row<'_>) -> bool {
    let mut filled = row.cells().enumerate().filter(|(_, cell)| !cell.is_empty());
    let Some((place, first)) = filled.next() else {
        return true;
    };
    if is_data(first) {
        return false;
    }
    let is_alone = filled.next().is_none();
    // In a long table a total may be a series like the others.
    let stands_below_data = records.row(0).is_some_and(|row| is_data(row.cell(place)));
    let is_without_data = !is_missing(first) && !row.cells().any(is_data);
    is_alone || (stands_below_data && (is_label(first) || is_without_data))
}

fn is_label(cell: &str) -> bool {
    let plain = cell.trim_start_matches(['*', '(', ' ']).to_lowercase();
    let ends = |rest: &str| rest.chars().next().is_none_or(|next| !next.is_alphanumeric());
    NOTES.iter().any(|word| plain.strip_prefix(word).is_some_and(ends))
}

/// Whether a cell is a number or a period.
pub fn is_data(cell: &str) -> bool {
    let is_short_year = || time_numbers::two_digit_years(std::iter::once(cell)).is_some();
    is_number(cell) || spelling::read(std::iter::once(cell), None).is_some() || is_short_year()
}

/// Whether a cell is a number, whatever its decimal mark.
pub fn is_number(cell: &str) -> bool {
    evidence(cell) != Evidence::Nothing || reading(cell, Decimal::Point)
}

fn reading(cell: &str, decimal: Decimal) -> bool {
    let style = Style { decimal, missing: Vec::new() };
    matches!(number::read(cell, &style), number::CellValue::Number(_))
}

fn is_missing(cell: &str) -> bool {
    let style = Style { decimal: Decimal::Point, missing: Vec::new() };
    number::read(cell, &style) == number::CellValue::Missing
}

#[cfg(test)]
mod tests {
    use super::*;

    fn grid(text: &str) -> Grid {
        let mut grid = Grid::default();
        for (line, row) in (1..).zip(text.lines()) {
            grid.push(line, row.split(';').map(str::trim));
        }
        grid
    }

    #[test]
    fn units_stand_over_numbers() {
        for (text, count) in [
            ("month;%\n2004-01;1\n", 1),
            (";tons\n2004-01;1\n", 1),
            (";2015=100\n;index\n2004-01;1\n", 2),
            ("2004-01;NA\n2004-02;1\n", 0),
            ("2004-01;a\n2004-02;1\n", 0),
            (";NA\n;1\n", 0),
            ("a;b\nc;d\n", 0),
            ("x;tons\n", 0),
        ] {
            assert_eq!(unit_rows(&grid(text)), count, "{text}");
        }
    }

    #[test]
    fn notes_sources_and_totals_are_below_the_table() {
        for (text, count) in [
            ("2004-01;1\nSource: the harbour office\n", 1),
            ("2004-01;1\nSource: the harbour office; 2004\n", 1),
            ("2004-01;1\nTotal;1\nNotes;;\n", 2),
            ("Jan-04;1\nTotal;1\n", 1),
            ("2004-01;1\n* Provisional; see page three\n", 1),
            ("2004-01;1\n2004-02;\n", 0),
            ("2004-01;1\nSourdough;2\n", 0),
            // Series of a long table.
            ("north;2004-01;1\nTotal;2004-01;2\n", 0),
            ("2004-01;1\n2004-02;NA\n", 0),
            ("1;2\nNA;NA\n", 0),
        ] {
            assert_eq!(footers(&grid(text), 2), count, "{text}");
        }
    }
}
