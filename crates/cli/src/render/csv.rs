//! The tables of a document as comma-separated values, numbers at full
//! precision; a blank line between tables.

use crate::document::{Document, Table, TableCell};
use crate::wording::{exact, guarded};

/// All tables of the documents.
pub fn csv(documents: &[Document]) -> String {
    documents.iter().flat_map(Document::tables).map(table).collect::<Vec<_>>().join("\n")
}

fn table(table: &Table) -> String {
    let heads: Vec<String> = table.columns.iter().map(|column| guarded(&column.label)).collect();
    let rows = table.texts(cell);
    std::iter::once(&heads).chain(&rows).map(|row| line(row)).collect()
}

/// Fields with commas between them.
fn line(fields: &[String]) -> String {
    match fields {
        // An empty line would be no record.
        [only] if only.is_empty() => "\"\"\n".to_owned(),
        _ => fields.iter().map(|field| quoted(field)).collect::<Vec<_>>().join(",") + "\n",
    }
}

/// A field in quotes where it holds a mark that separates fields somewhere: where this is the semicolon, what stands behind
/// one would be a cell of its own, and may be a formula.
fn quoted(field: &str) -> String {
    if field.contains([',', ';', '\t', '"', '\n', '\r']) {
        format!("\"{}\"", field.replace('"', "\"\""))
    } else {
        field.to_owned()
    }
}

fn cell(cell: &TableCell) -> String {
    match cell {
        TableCell::Text(text) => guarded(text),
        TableCell::Number { value, .. } | TableCell::Exact(value) | TableCell::PValue(value) => {
            exact(value.get())
        }
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
        table.rows.push(vec![TableCell::text("a;=1+1"), TableCell::text("say \"b\""), TableCell::Missing]);
        table.rows.push(vec![TableCell::text("2001"), TableCell::exact(0.1 + 0.2), TableCell::Missing]);
        table.rows.push(vec![TableCell::text("2002"), TableCell::number(-1.0 / 3.0, 2), TableCell::Count(3)]);
        let mut document = Document::default();
        document.table(table);
        let text = csv(&[document]);
        let expected =
            "period,'=cmd,\"'-x, y\"\n\"a;=1+1\",\"say \"\"b\"\"\",\n2001,0.3,\n2002,-0.3333333333333333,3\n";
        assert_eq!(text, expected);
    }
}
