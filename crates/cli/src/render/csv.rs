//! The tables of a document as comma-separated values, numbers at full
//! precision; a blank line between tables.

use crate::document::{Document, Table, TableCell};
use crate::error::CliError;
use crate::wording::{exact, guarded};

/// All tables of the documents.
pub fn csv(documents: &[Document]) -> Result<String, CliError> {
    let tables: Vec<String> =
        documents.iter().flat_map(Document::tables).map(table).collect::<Result<_, _>>()?;
    Ok(tables.join("\n"))
}

fn table(table: &Table) -> Result<String, CliError> {
    let failed = |reason: &dyn std::fmt::Display| {
        CliError::computation(format!("the result cannot be written as CSV: {reason}"))
    };
    let mut writer = ::csv::Writer::from_writer(Vec::new());
    writer.write_record(table.columns.iter().map(|column| guarded(&column.label))).map_err(|e| failed(&e))?;
    for row in table.texts(cell) {
        writer.write_record(row).map_err(|e| failed(&e))?;
    }
    let bytes = writer.into_inner().map_err(|e| failed(&e))?;
    String::from_utf8(bytes).map_err(|e| failed(&e))
}

fn cell(cell: &TableCell) -> String {
    match cell {
        TableCell::Text(text) => guarded(text),
        TableCell::Number { value, .. } | TableCell::Exact(value) | TableCell::PValue(value) => exact(*value),
        TableCell::Count(count) => count.to_string(),
        TableCell::Missing => String::new(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::document::Align;

    #[test]
    fn numbers_keep_their_digits_and_names_cannot_be_formulas() {
        let mut table =
            Table::new(&[("period", Align::Left), ("=cmd", Align::Decimal), ("-x, y", Align::Decimal)]);
        table.rows.push(vec![TableCell::text("2001"), TableCell::Exact(0.1 + 0.2), TableCell::Missing]);
        table.rows.push(vec![TableCell::text("2002"), TableCell::number(-1.0 / 3.0, 2), TableCell::Count(3)]);
        let mut document = Document::default();
        document.table(table);
        let text = csv(&[document]).expect("plain text");
        let expected = "period,'=cmd,\"'-x, y\"\n2001,0.3,\n2002,-0.3333333333333333,3\n";
        assert_eq!(text, expected);
    }
}
