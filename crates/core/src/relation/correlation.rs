//! Correlations of several series.

use super::RelationError;
use crate::num::scale;
use crate::num::sum::dot;

/// The fewest observations whose correlation is worth showing.
const MIN_PAIRS_CORRELATION: usize = 4;

/// The correlation of two series over the shorter of the two.
///
/// # Formula
/// `r = Σ (x - x̄)(y - ȳ) / √(Σ (x - x̄)² Σ (y - ȳ)²)`, between -1 and 1.
///
/// # Errors
/// [`RelationError`]: fewer than four observations, a constant, a value that is not
/// finite.
pub fn correlation(first: &[f64], second: &[f64]) -> Result<f64, RelationError> {
    let n = first.len().min(second.len());
    let both = standardised(&[&first[..n], &second[..n]])?;
    Ok(dot(&both[0], &both[1]).clamp(-1.0, 1.0))
}

/// The correlations of all pairs of series of one length, row by row.
///
/// # Errors
/// As for [`correlation`]; the error says which series.
///
/// # Numerics
/// `n` products for each pair, after one pass over every series.
pub fn correlation_matrix(series: &[&[f64]]) -> Result<Vec<Vec<f64>>, RelationError> {
    let unit = standardised(series)?;
    let mut matrix = vec![vec![1.0; unit.len()]; unit.len()];
    for (row, x) in unit.iter().enumerate() {
        for (column, y) in unit.iter().enumerate().take(row) {
            let r = dot(x, y).clamp(-1.0, 1.0);
            matrix[row][column] = r;
            matrix[column][row] = r;
        }
    }
    Ok(matrix)
}

/// Deviations from the mean, scaled to a sum of squares of one.
fn standardised(series: &[&[f64]]) -> Result<Vec<Vec<f64>>, RelationError> {
    let of = |(place, y): (usize, &&[f64])| {
        if y.len() < MIN_PAIRS_CORRELATION {
            return Err(RelationError::TooShort { observations: y.len(), needed: MIN_PAIRS_CORRELATION });
        }
        scale::check(y).map_err(RelationError::of(place))?;
        let e = scale::deviations(y);
        let length = dot(&e, &e).sqrt();
        Ok(e.into_iter().map(|value| value / length).collect())
    };
    series.iter().enumerate().map(of).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;
    use crate::num::scale::InvalidSeries;

    #[test]
    fn five_pairs_by_hand() {
        // Deviations -2 … 2 and those of 2, 1, 4, 3, 5: products 2 + 2 + 0 + 0 + 4 = 8.
        let r = correlation(&[1.0, 2.0, 3.0, 4.0, 5.0], &[2.0, 1.0, 4.0, 3.0, 5.0]).expect("valid");
        assert!((r - 0.8).abs() < 1e-15);
    }

    #[test]
    fn scale_and_shift_change_nothing_and_a_sign_turns_it() {
        let x = NormalStream::new(1, 0).take(80);
        let y: Vec<f64> = NormalStream::new(1, 1).take(80).iter().zip(&x).map(|(e, x)| e + x).collect();
        let r = correlation(&x, &y).expect("valid");
        let moved: Vec<f64> = y.iter().map(|v| 100.0 - 0.3 * v).collect();
        let turned = correlation(&x, &moved).expect("valid");
        assert!((r + turned).abs() < 1e-9, "{r} {turned}");
        assert!((correlation(&x, &x).expect("valid") - 1.0).abs() < 1e-14);
    }

    #[test]
    fn a_matrix_holds_the_pairs() {
        let all: Vec<Vec<f64>> = (0..4).map(|k| NormalStream::new(2, k).take(50)).collect();
        let slices: Vec<&[f64]> = all.iter().map(Vec::as_slice).collect();
        let matrix = correlation_matrix(&slices).expect("valid");
        for (row, x) in all.iter().enumerate() {
            assert!((matrix[row][row] - 1.0).abs() < 1e-15);
            for (column, y) in all.iter().enumerate().filter(|(column, _)| *column != row) {
                let pair = correlation(x, y).expect("valid");
                assert!((matrix[row][column] - pair).abs() < 1e-14);
            }
        }
    }

    #[test]
    fn what_has_no_correlation_is_an_error_by_name() {
        let rising = [1.0, 2.0, 3.0, 4.0];
        assert_eq!(
            correlation(&rising, &[7.0; 4]),
            Err(RelationError::Series { series: 1, reason: InvalidSeries::Constant })
        );
        let short = RelationError::TooShort { observations: 2, needed: 4 };
        assert_eq!(correlation(&rising, &[1.0, 2.0]), Err(short));
        let odd = [1.0, f64::NAN, 2.0, 3.0];
        assert_eq!(
            correlation(&odd, &rising),
            Err(RelationError::Series { series: 0, reason: InvalidSeries::NotFinite { place: 1 } })
        );
    }
}
