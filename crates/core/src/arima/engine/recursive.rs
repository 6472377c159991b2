//! One-step errors over missing values.

use super::predictor::Predictor;

/// A one-step error of a series.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(in crate::arima) struct Innovation {
    /// Its place.
    pub place: usize,
    /// Value less what was predicted.
    pub error: f64,
    /// Its variance in units of the innovations'.
    pub variance: f64,
}

/// A diagonal below this is of rounding only.
const NEGLIGIBLE: f64 = 1e-9;

/// One-step errors of a series, each from the values known before it; a missing value has none.
///
/// # Method
/// The filter whitens the series and the columns of its missing values; coefficients of these
/// columns come in by rotations, row by row, as they are met. A row that first tells of a missing
/// value has no error, that of any other is what is left after the rotations.
///
/// # Source
/// Brown, R. L., Durbin, J. and Evans, J. M. (1975), JRSS B 37, 149-192, for recursive residuals.
pub(in crate::arima) fn innovations(
    predictor: &Predictor,
    w: &[f64],
    missing: &[Vec<f64>],
) -> Vec<Innovation> {
    let own = predictor.innovations(w);
    let all = |(place, (error, variance)): (usize, &(f64, f64))| Innovation {
        place,
        error: *error,
        variance: *variance,
    };
    if missing.is_empty() {
        return own.iter().enumerate().map(all).collect();
    }
    let columns: Vec<Vec<(f64, f64)>> = missing.iter().map(|column| predictor.innovations(column)).collect();
    let mut triangle = Triangle::new(missing.len());
    let mut out = Vec::with_capacity(w.len());
    for (place, (error, variance)) in own.iter().enumerate() {
        let sd = variance.sqrt();
        let row: Vec<f64> = columns.iter().map(|column| column[place].0 / sd).collect();
        if let Some((rest, spread)) = triangle.take(row, error / sd) {
            out.push(Innovation { place, error: rest * spread * sd, variance: variance * spread * spread });
        }
    }
    out
}

/// What the rows so far say of the columns' coefficients: a triangle and its right side.
struct Triangle {
    rows: Vec<Option<(Vec<f64>, f64)>>,
}

impl Triangle {
    fn new(count: usize) -> Self {
        Self { rows: vec![None; count] }
    }

    /// Takes a row in; what it leaves over its own standard deviation, and that standard deviation.
    fn take(&mut self, mut row: Vec<f64>, mut target: f64) -> Option<(f64, f64)> {
        let mut cosines = 1.0;
        for place in 0..row.len() {
            if row[place].abs() < NEGLIGIBLE {
                continue;
            }
            let Some((pivot, right)) = &mut self.rows[place] else {
                self.rows[place] = Some((row, target));
                return None;
            };
            let length = pivot[place].hypot(row[place]);
            let (cosine, sine) = (pivot[place].abs() / length, row[place] / length * pivot[place].signum());
            for k in place..row.len() {
                let (above, below) = (pivot[k], row[k]);
                pivot[k] = cosine * above + sine * below;
                row[k] = cosine * below - sine * above;
            }
            let (above, below) = (*right, target);
            *right = cosine * above + sine * below;
            target = cosine * below - sine * above;
            cosines *= cosine;
        }
        Some((target, 1.0 / cosines))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::arima::Coefficients;

    #[test]
    fn errors_around_a_gap_by_hand() {
        // An autoregression of order one: over a gap the error of the next value is over two steps.
        let model = Coefficients { ar: vec![0.5], ..Coefficients::default() };
        let predictor = Predictor::new(&model, 2, 4).expect("stationary");
        let found = innovations(&predictor, &[1.0, 9.0, 2.0, 3.0], &[vec![0.0, 1.0, 0.0, 0.0]]);
        let places: Vec<usize> = found.iter().map(|one| one.place).collect();
        assert_eq!(places, [0, 2, 3]);
        assert!((found[1].error - (2.0 - 0.25)).abs() < 1e-12, "{found:?}");
        assert!((found[1].variance - 1.25).abs() < 1e-12);
        assert!((found[2].error - 2.0).abs() < 1e-12 && (found[2].variance - 1.0).abs() < 1e-12);
    }
}
