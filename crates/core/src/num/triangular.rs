//! The triangular factor of a tall matrix, built up from blocks of rows.
//!
//! For `Z = Q R` with orthonormal `Q`, everything least squares needs of `Z`
//! is in the small matrix `R`: sums of squares, coefficients, their
//! covariance, and all of these for every leading set of columns. Rows are
//! taken in blocks and folded into `R` by Householder reflections, so that the
//! tall matrix never exists: memory is that of one block, and later rows (or
//! the removal of columns) update the factor instead of starting again.
//!
//! # Cost
//! `2 m k²` operations for `m` rows and `k` columns; an update by `j` rows
//! costs `2 (j + k) k²`.
//!
//! # References
//! Golub, G. H. and Van Loan, C. F. (2013), *Matrix Computations*, 4th ed.,
//! sections 5.2 and 6.5.

use nalgebra::DMatrix;

const BLOCK: usize = 256;

/// The factor `R` of all rows pushed so far.
#[derive(Debug, Clone)]
pub struct TriangularFactor {
    columns: usize,
    factor: DMatrix<f64>,
    pending: Vec<f64>,
    rows: usize,
}

impl TriangularFactor {
    /// An empty matrix of `columns` columns.
    pub fn new(columns: usize) -> Self {
        Self {
            columns,
            factor: DMatrix::zeros(0, columns),
            pending: Vec::with_capacity(BLOCK * columns),
            rows: 0,
        }
    }

    /// Number of columns.
    pub fn columns(&self) -> usize {
        self.columns
    }

    /// Number of rows pushed.
    pub fn rows(&self) -> usize {
        self.rows
    }

    /// Adds one row, of exactly [`columns`](Self::columns) values; values
    /// beyond that are ignored and missing ones count as zero.
    pub fn push_row(&mut self, row: impl IntoIterator<Item = f64>) {
        let end = self.pending.len() + self.columns;
        self.pending.extend(row.into_iter().take(self.columns));
        self.pending.resize(end, 0.0);
        self.rows += 1;
        if self.pending.len() >= BLOCK * self.columns {
            self.fold();
        }
    }

    /// The upper triangle, of at most `columns` rows.
    pub fn triangle(&mut self) -> &DMatrix<f64> {
        self.fold();
        &self.factor
    }

    /// The factor of the same rows with only the named columns, in that order.
    #[must_use]
    pub fn with_columns(&mut self, keep: &[usize]) -> Self {
        self.fold();
        let narrow = self.factor.select_columns(keep);
        Self { columns: keep.len(), factor: triangularise(narrow), pending: Vec::new(), rows: self.rows }
    }

    fn fold(&mut self) {
        if self.pending.is_empty() || self.columns == 0 {
            return;
        }
        let height = self.pending.len() / self.columns;
        let old = self.factor.nrows();
        let mut stack = DMatrix::zeros(old + height, self.columns);
        stack.rows_mut(0, old).copy_from(&self.factor);
        stack.rows_mut(old, height).copy_from(&DMatrix::from_row_slice(height, self.columns, &self.pending));
        self.pending.clear();
        self.factor = triangularise(stack);
    }
}

fn triangularise(tall: DMatrix<f64>) -> DMatrix<f64> {
    tall.qr().unpack_r()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    fn random_rows(count: usize, columns: usize) -> Vec<Vec<f64>> {
        let mut stream = NormalStream::new(11, 0);
        (0..count).map(|_| stream.take(columns)).collect()
    }

    fn gram(rows: &[Vec<f64>], i: usize, j: usize) -> f64 {
        rows.iter().map(|r| r[i] * r[j]).sum()
    }

    #[test]
    fn the_triangle_has_the_cross_products_of_the_rows() {
        let rows = random_rows(1000, 4);
        let mut factor = TriangularFactor::new(4);
        for r in &rows {
            factor.push_row(r.iter().copied());
        }
        let r = factor.triangle().clone();
        assert_eq!((r.nrows(), r.ncols()), (4, 4));
        for i in 0..4 {
            for j in 0..4 {
                let ours: f64 = (0..4).map(|k| r[(k, i)] * r[(k, j)]).sum();
                assert!((ours - gram(&rows, i, j)).abs() < 1e-9);
            }
        }
    }

    #[test]
    fn dropping_columns_and_adding_rows_is_the_same_as_starting_again() {
        let rows = random_rows(300, 5);
        let mut all = TriangularFactor::new(5);
        rows[..290].iter().for_each(|r| all.push_row(r.iter().copied()));
        let mut updated = all.with_columns(&[0, 3, 4]);
        rows[290..].iter().for_each(|r| updated.push_row([r[0], r[3], r[4]]));
        let mut fresh = TriangularFactor::new(3);
        for r in &rows {
            fresh.push_row([r[0], r[3], r[4]]);
        }
        assert_eq!(updated.rows(), 300);
        let difference = updated.triangle().map(f64::abs) - fresh.triangle().map(f64::abs);
        assert!(difference.amax() < 1e-10);
    }
}
