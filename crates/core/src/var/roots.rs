//! The companion roots of a vector autoregression.

use nalgebra::linalg::Schur;
use nalgebra::{Complex, DMatrix, DVector};

use crate::num::rng::NormalStream;

const ROUNDS: usize = 10_000;
/// Seed of the turning.
const SEED: u64 = 20_261_127;

/// The eigenvalues of a square matrix, largest first; `None` where the iteration does not settle.
///
/// # Numerics
/// The matrix is first turned by a Householder reflection along a random direction, which keeps
/// the eigenvalues: companions of `z^p - 1` (a seasonal unit root) otherwise stall the shifted QR
/// iteration.
///
/// # References
/// Golub and Van Loan (2013), *Matrix Computations*, 4th ed., section 7.5.
pub fn eigenvalues(matrix: &DMatrix<f64>) -> Option<Vec<Complex<f64>>> {
    let size = matrix.nrows();
    if size == 0 {
        return Some(Vec::new());
    }
    if matrix.ncols() != size || matrix.iter().any(|value| !value.is_finite()) {
        return None;
    }
    let direction = DVector::from_vec(NormalStream::new(SEED, 0).take(size)).normalize();
    let turn = DMatrix::identity(size, size) - &direction * direction.transpose() * 2.0;
    let turned = &turn * matrix * &turn;
    let mut found: Vec<Complex<f64>> =
        Schur::try_new(turned, f64::EPSILON, ROUNDS)?.complex_eigenvalues().iter().copied().collect();
    found.sort_by(|a, b| b.norm().total_cmp(&a.norm()).then(b.im.total_cmp(&a.im)));
    Some(found)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn roots_of_one_and_of_a_triangle() {
        for period in [2_usize, 4, 6, 8, 12, 24, 52] {
            let companion = DMatrix::from_fn(period, period, |i, j| {
                f64::from(u8::from((i == 0 && j == period - 1) || (i > 0 && j == i - 1)))
            });
            let found = eigenvalues(&companion).expect("settles");
            assert_eq!(found.len(), period);
            for value in found {
                assert!((value.powu(u32::try_from(period).expect("small")) - 1.0).norm() < 1e-10, "{value}");
            }
        }
        let triangle = DMatrix::from_row_slice(3, 3, &[0.5, 2.0, 3.0, 0.0, -0.8, 1.0, 0.0, 0.0, 0.1]);
        let found = eigenvalues(&triangle).expect("settles");
        for (ours, exact) in found.iter().zip([-0.8, 0.5, 0.1]) {
            assert!((ours.re - exact).abs() < 1e-12 && ours.im.abs() < 1e-12);
        }
        assert_eq!(eigenvalues(&DMatrix::from_element(2, 2, f64::NAN)), None);
    }
}
