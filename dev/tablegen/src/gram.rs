//! Cross-products and their triangular factors: for the simulator's random columns as exact as
//! orthogonalising them, and much cheaper.

/// A symmetric matrix of cross-products, by rows.
#[derive(Clone)]
pub struct Gram {
    pub size: usize,
    pub cells: Vec<f64>,
}

impl Gram {
    /// Of zero.
    pub fn new(size: usize) -> Self {
        Self { size, cells: vec![0.0; size * size] }
    }

    /// Of these columns.
    pub fn of(columns: &[&[f64]]) -> Self {
        let mut all = Self::new(columns.len());
        for (i, a) in columns.iter().enumerate() {
            for (j, b) in columns.iter().enumerate().take(i + 1) {
                all.set(i, j, dot(a, b));
            }
        }
        all
    }

    pub fn at(&self, i: usize, j: usize) -> f64 {
        self.cells[i * self.size + j]
    }

    pub fn set(&mut self, i: usize, j: usize, value: f64) {
        self.cells[i * self.size + j] = value;
        self.cells[j * self.size + i] = value;
    }

    /// Of some of its columns, in this order.
    pub fn of_columns(&self, keep: &[usize]) -> Self {
        let cells = keep.iter().flat_map(|i| keep.iter().map(|j| self.at(*i, *j))).collect();
        Self { size: keep.len(), cells }
    }

    /// Cross-products of what is left of the other columns after least squares on the first
    /// `count`; `None` where these are collinear.
    pub fn without_first(mut self, count: usize) -> Option<Self> {
        let size = self.size;
        for k in 0..count {
            let pivot = self.cells[k * size + k];
            if pivot <= 0.0 || !pivot.is_finite() {
                return None;
            }
            let row: Vec<f64> = self.cells[k * size..(k + 1) * size].to_vec();
            for i in k + 1..size {
                let share = row[i] / pivot;
                let start = i * size;
                for (cell, own) in self.cells[start + k + 1..start + size].iter_mut().zip(&row[k + 1..]) {
                    *cell -= share * own;
                }
            }
        }
        let left: Vec<usize> = (count..size).collect();
        Some(self.of_columns(&left))
    }

    /// What is left of the last column after least squares on none, one, two, … of the others:
    /// its sum of squares.
    pub fn nested_sums(&self) -> Option<Vec<f64>> {
        let factor = self.factor()?;
        let last = self.size - 1;
        let own = |k: usize| factor[last * self.size + k].powi(2);
        let mut sums = vec![own(last)];
        for k in (0..last).rev() {
            sums.push(sums[sums.len() - 1] + own(k));
        }
        sums.reverse();
        Some(sums)
    }

    /// The lower triangle L with `L Lᵀ` this matrix, by rows.
    pub fn factor(&self) -> Option<Vec<f64>> {
        let size = self.size;
        let mut lower = vec![0.0; size * size];
        for i in 0..size {
            for j in 0..=i {
                let (a, b) = (&lower[i * size..i * size + j], &lower[j * size..j * size + j]);
                let rest = self.at(i, j) - dot(a, b);
                lower[i * size + j] = if i == j {
                    if rest <= 0.0 || !rest.is_finite() {
                        return None;
                    }
                    rest.sqrt()
                } else {
                    rest / lower[j * size + j]
                };
            }
        }
        Some(lower)
    }
}

/// In four sums at a time, which the machine adds side by side.
pub fn dot(a: &[f64], b: &[f64]) -> f64 {
    let length = a.len().min(b.len());
    let (a, b) = (&a[..length], &b[..length]);
    let mut sums = [0.0; 4];
    let whole = length - length % 4;
    for (x, y) in a[..whole].chunks_exact(4).zip(b[..whole].chunks_exact(4)) {
        for k in 0..4 {
            sums[k] += x[k] * y[k];
        }
    }
    let rest: f64 = a[whole..].iter().zip(&b[whole..]).map(|(x, y)| x * y).sum();
    sums.iter().sum::<f64>() + rest
}
