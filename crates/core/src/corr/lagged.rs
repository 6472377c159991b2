//! Sums of products at many lags.

use realfft::RealFftPlanner;

use crate::num::sum::dot;

/// Below this many products the direct sums are as fast.
const DIRECT: usize = 2_000_000;

/// `Σ_t e_t e_{t-k}` for k = 0, 1, …, `most`.
///
/// # Numerics
/// Directly for short series, else by the fast Fourier transform of the series with
/// `most` zeros behind it: `n log n` for any number of lags, exact to about `1e-15` of the
/// sum at lag 0.
pub fn lagged_products(e: &[f64], most: usize) -> Vec<f64> {
    let most = most.min(e.len().saturating_sub(1));
    if e.len().saturating_mul(most) <= DIRECT {
        return direct(e, most);
    }
    by_transform(e, most).unwrap_or_else(|| direct(e, most))
}

fn direct(e: &[f64], most: usize) -> Vec<f64> {
    (0..=most).map(|lag| dot(&e[lag..], e)).collect()
}

fn by_transform(e: &[f64], most: usize) -> Option<Vec<f64>> {
    let length = smooth_length(e.len() + most);
    let mut planner = RealFftPlanner::<f64>::new();
    let forward = planner.plan_fft_forward(length);
    let mut padded = forward.make_input_vec();
    padded.get_mut(..e.len())?.copy_from_slice(e);
    let mut spectrum = forward.make_output_vec();
    forward.process(&mut padded, &mut spectrum).ok()?;
    for value in &mut spectrum {
        *value = (*value * value.conj()).re.into();
    }
    planner.plan_fft_inverse(length).process(&mut spectrum, &mut padded).ok()?;
    let scale = length as f64;
    Some(padded.get(..=most)?.iter().map(|sum| sum / scale).collect())
}

/// The smallest even length from `least` on that has no prime factor above five.
pub fn smooth_length(least: usize) -> usize {
    let is_smooth = |length: &usize| {
        let mut rest = *length;
        for factor in [2, 3, 5] {
            while rest.is_multiple_of(factor) {
                rest /= factor;
            }
        }
        rest == 1
    };
    // A power of two lies within twice the length.
    let least = least.max(2);
    (least..=2 * least).filter(|length| length % 2 == 0).find(is_smooth).unwrap_or(least)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    #[test]
    fn the_transform_gives_the_direct_sums() {
        for (n, most) in [(10, 9), (1000, 300), (4097, 4096), (30_000, 100)] {
            let e = NormalStream::new(4, n as u64).take(n);
            let (slow, fast) = (direct(&e, most), by_transform(&e, most).expect("a transform"));
            let largest = slow.iter().zip(&fast).map(|(a, b)| (a - b).abs()).fold(0.0, f64::max);
            assert!(largest <= 1e-12 * slow[0], "{n} {most}: {largest}");
        }
    }

    #[test]
    fn lengths_have_small_factors() {
        assert_eq!([1, 7, 8, 11, 1001].map(smooth_length), [2, 8, 8, 12, 1024]);
    }
}
