//! The harbour data as people really get them: a workbook of two sheets and a text
//! file from another country's spreadsheet.

use rust_xlsxwriter::{DocProperties, ExcelDateTime, Format, Workbook, XlsxError};

use crate::harbour;

/// Two months that were never delivered: 2003-05 and 2003-06.
const ABSENT: [usize; 2] = [28, 29];

/// Months whose cell in a column says that there is no value.
const MARKED: [(&str, usize); 3] = [("claims", 0), ("waiting", 4), ("waiting", 5)];

fn is_marked(name: &str, month: usize) -> bool {
    MARKED.contains(&(name, month))
}

/// Months in the file, oldest first.
fn months() -> impl DoubleEndedIterator<Item = usize> {
    (0..harbour::MONTHS).filter(|month| !ABSENT.contains(month))
}

/// Newest first, titles above and a note below, semicolons, decimal commas,
/// thousands marks, days before months, Windows-1252.
pub fn csv() -> Vec<u8> {
    let columns = harbour::columns();
    let mut out =
        b"Osmere Bay \x96 harbour office;;;;;;;;\r\nMonthly figures;;;;;;;;\r\n;;;;;;;;\r\nmonth".to_vec();
    for (name, ..) in &columns {
        out.extend_from_slice(format!(";{name}").as_bytes());
    }
    out.extend_from_slice(b"\r\n");
    for month in months().rev() {
        out.extend_from_slice(format!("01/{:02}/{}", month % 12 + 1, 2001 + month / 12).as_bytes());
        for (name, decimals, values) in &columns {
            let cell =
                if is_marked(name, month) { "n/a".to_owned() } else { written(values[month], *decimals) };
            out.extend_from_slice(format!(";{cell}").as_bytes());
        }
        out.extend_from_slice(b"\r\n");
    }
    out.extend_from_slice(b"Figures of the current year are provisional.\r\n");
    out
}

/// A number with points between thousands and a comma before the decimals.
fn written(value: f64, decimals: usize) -> String {
    let plain = format!("{value:.decimals$}");
    let (whole, fraction) = plain.split_once('.').unwrap_or((&plain, ""));
    let digits = whole.len();
    let mut grouped = String::new();
    for (place, digit) in whole.chars().enumerate() {
        if place > 0 && (digits - place) % 3 == 0 {
            grouped.push('.');
        }
        grouped.push(digit);
    }
    if fraction.is_empty() { grouped } else { format!("{grouped},{fraction}") }
}

/// A sheet of remarks and one of figures under a title, with true dates.
///
/// # Errors
/// If the workbook cannot be put together.
pub fn xlsx() -> Result<Vec<u8>, XlsxError> {
    let mut book = Workbook::new();
    // The same bytes on every day.
    book.set_properties(&DocProperties::new().set_creation_datetime(&ExcelDateTime::from_ymd(2025, 1, 2)?));
    let remarks = book.add_worksheet().set_name("Remarks")?;
    remarks.write(0, 0, "Osmere Bay, harbour office")?;
    remarks.write(2, 0, "Figures are on the second sheet. Two months of 2003 were never delivered.")?;
    let sheet = book.add_worksheet().set_name("Figures")?;
    sheet.write(1, 0, "Monthly figures")?;
    sheet.write(3, 0, "month")?;
    let columns = harbour::columns();
    for ((name, ..), place) in columns.iter().zip(1..) {
        sheet.write(3, place, *name)?;
    }
    let date = Format::new().set_num_format("mmm yyyy");
    for (month, row) in months().zip(4..) {
        let (year, part) = (2001 + month / 12, month % 12 + 1);
        let day =
            ExcelDateTime::from_ymd(u16::try_from(year).unwrap_or(0), u8::try_from(part).unwrap_or(0), 1)?;
        sheet.write_with_format(row, 0, &day, &date)?;
        for ((name, decimals, values), place) in columns.iter().zip(1..) {
            if is_marked(name, month) {
                sheet.write(row, place, "n/a")?;
            } else {
                // The number of the text file, to its last digit.
                let shown = format!("{:.*}", decimals, values[month]);
                sheet.write(row, place, shown.parse::<f64>().unwrap_or(values[month]))?;
            }
        }
    }
    book.save_to_buffer()
}

#[cfg(test)]
mod tests {
    #[test]
    fn the_committed_files_are_what_the_generator_writes() {
        let committed: &[u8] = include_bytes!("../../../crates/cli/src/demo/messy.csv");
        assert!(super::csv() == committed, "run cargo run -p xtask -- demo-data");
        let committed: &[u8] = include_bytes!("../../../crates/cli/src/demo/messy.xlsx");
        assert!(super::xlsx().is_ok_and(|bytes| bytes == committed), "run cargo run -p xtask -- demo-data");
    }

    #[test]
    fn thousands_are_set_apart() {
        assert_eq!(super::written(1_234_567.25, 1), "1.234.567,2");
        assert_eq!(super::written(123.0, 0), "123");
    }
}
