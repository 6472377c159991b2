//! Sums of products in eight interleaved parts.
//!
//! Independent parts let the processor work on several products at once, and
//! keep rounding errors smaller than one long chain would. The order of
//! addition is fixed, so that results do not depend on the machine.

const PARTS: usize = 8;

/// `Σ a_i b_i` over the shorter of the two.
pub fn dot(a: &[f64], b: &[f64]) -> f64 {
    fold(a, b, |x, y| x * y)
}

/// `Σ (a_i - b_i)²` over the shorter of the two.
pub fn squared_distance(a: &[f64], b: &[f64]) -> f64 {
    fold(a, b, |x, y| (x - y) * (x - y))
}

#[inline]
fn fold(a: &[f64], b: &[f64], term: impl Fn(f64, f64) -> f64) -> f64 {
    let length = a.len().min(b.len());
    let (a, b) = (&a[..length], &b[..length]);
    let mut parts = [0.0; PARTS];
    let (left, right) = (a.chunks_exact(PARTS), b.chunks_exact(PARTS));
    let rest: f64 = left.remainder().iter().zip(right.remainder()).map(|(x, y)| term(*x, *y)).sum();
    for (x, y) in left.zip(right) {
        for lane in 0..PARTS {
            parts[lane] += term(x[lane], y[lane]);
        }
    }
    // In pairs, as the parts lie in registers.
    let [a, b, c, d, e, f, g, h] = parts;
    ((a + e) + (c + g)) + ((b + f) + (d + h)) + rest
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn sums_of_any_length_are_those_of_a_plain_loop() {
        for length in [0, 1, 7, 8, 9, 31] {
            let a: Vec<f64> = (0..length).map(|k| f64::from(k) + 0.5).collect();
            let b: Vec<f64> = (0..length).map(|k| 2.0 - f64::from(k)).collect();
            let plain: f64 = a.iter().zip(&b).map(|(x, y)| x * y).sum();
            let apart: f64 = a.iter().zip(&b).map(|(x, y)| (x - y).powi(2)).sum();
            assert!((dot(&a, &b) - plain).abs() < 1e-9);
            assert!((squared_distance(&a, &b) - apart).abs() < 1e-9);
        }
        assert!((dot(&[1.0, 2.0], &[3.0]) - 3.0).abs() < 1e-15);
    }
}
