//! Tables declared by their columns: of each the head, the kind, and how a row is read.

use super::{Align, Table, TableCell, TableColumn};
use crate::visible::visible;

/// Rows, and the columns that have been read from them so far.
pub struct Rows<R> {
    rows: Vec<R>,
    table: Table,
}

impl Table {
    /// A table with a row for each of these; its columns follow.
    pub fn of<R>(rows: impl IntoIterator<Item = R>) -> Rows<R> {
        let rows: Vec<R> = rows.into_iter().collect();
        let table = Self { columns: Vec::new(), rows: vec![Vec::new(); rows.len()], shown: None };
        Rows { rows, table }
    }
}

impl<R> Rows<R> {
    /// Any cells.
    pub fn column(mut self, head: impl Into<String>, align: Align, read: impl Fn(&R) -> TableCell) -> Self {
        self.table.columns.push(TableColumn { label: visible(&head.into()), align });
        for (cells, row) in self.table.rows.iter_mut().zip(&self.rows) {
            cells.push(read(row));
        }
        self
    }

    /// Words.
    pub fn text<V: Into<TableCell>>(self, head: impl Into<String>, read: impl Fn(&R) -> V) -> Self {
        self.column(head, Align::Left, |row| read(row).into())
    }

    /// Whole numbers.
    pub fn count<V: Into<Option<usize>>>(self, head: impl Into<String>, read: impl Fn(&R) -> V) -> Self {
        self.column(head, Align::Decimal, |row| read(row).into().map_or(TableCell::Missing, TableCell::Count))
    }

    /// Numbers with a given number of decimals.
    pub fn number<V: Into<Option<f64>>>(
        self,
        head: impl Into<String>,
        decimals: usize,
        read: impl Fn(&R) -> V,
    ) -> Self {
        self.column(head, Align::Decimal, |row| TableCell::number(read(row), decimals))
    }

    /// Numbers with all their digits.
    pub fn exact<V: Into<Option<f64>>>(self, head: impl Into<String>, read: impl Fn(&R) -> V) -> Self {
        self.column(head, Align::Decimal, |row| TableCell::exact(read(row)))
    }

    /// p-values with their circles.
    pub fn p_value<V: Into<Option<f64>>>(self, head: impl Into<String>, read: impl Fn(&R) -> V) -> Self {
        self.column(head, Align::Left, |row| TableCell::p_value(read(row)))
    }

    /// The columns of a part, where the table has that part.
    pub fn only_if(self, has: bool, columns: impl FnOnce(Self) -> Self) -> Self {
        if has { columns(self) } else { self }
    }

    /// Columns whose number the data decide, one for each of `each`.
    pub fn each<C>(
        self,
        each: impl IntoIterator<Item = C>,
        align: Align,
        head: impl Fn(&C) -> String,
        read: impl Fn(&R, &C) -> TableCell,
    ) -> Self {
        each.into_iter().fold(self, |rows, one| {
            let label = head(&one);
            rows.column(label, align, |row| read(row, &one))
        })
    }

    /// The table.
    pub fn table(self) -> Table {
        self.table
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn columns_are_read_in_the_order_they_are_declared() {
        let table = Table::of([(1, 0.25), (2, f64::NAN)])
            .count("Lag", |row| row.0)
            .number("Value", 2, |row| row.1)
            .only_if(false, |rows| rows.text("Never", |_| "x"))
            .only_if(true, |rows| rows.text("Name", |row| if row.0 == 1 { "one" } else { "" }))
            .each(
                ["a", "b"],
                Align::Left,
                |name| name.to_uppercase(),
                |row, name| TableCell::text(name.repeat(row.0)),
            )
            .table();
        let heads: Vec<&str> = table.columns.iter().map(|column| column.label.as_str()).collect();
        assert_eq!(heads, ["Lag", "Value", "Name", "A", "B"]);
        let aligned = table.columns.iter().filter(|column| column.align == Align::Decimal).count();
        assert_eq!(aligned, 2);
        let number = TableCell::number(0.25, 2);
        assert_eq!(table.rows[0], [TableCell::Count(1), number, "one".into(), "a".into(), "b".into()]);
        assert_eq!(
            table.rows[1],
            [TableCell::Count(2), TableCell::Missing, "".into(), "aa".into(), "bb".into()]
        );
    }

    #[test]
    fn what_is_none_is_missing_in_every_kind_of_column() {
        let table = Table::of([None, Some(0.5)])
            .number("a", 1, |row| *row)
            .exact("b", |row| *row)
            .p_value("c", |row| *row)
            .p_value("d", |row| *row)
            .count("e", |row| row.map(|_| 7_usize))
            .text("f", |row| row.map(|value| value.to_string()))
            .table();
        assert_eq!(table.rows[0], vec![TableCell::Missing; 6]);
        assert!(!table.rows[1].contains(&TableCell::Missing));
        assert!(Table::of(Vec::<usize>::new()).count("Lag", |lag| *lag).table().rows.is_empty());
    }
}
