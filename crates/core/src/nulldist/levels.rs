//! The probability levels of the simulated quantiles.

/// Number of quantile levels kept of each null distribution.
pub const LEVEL_COUNT: usize = 221;

/// The levels: 0.0001, 0.0002, 0.0005, then by 0.001 to 0.010, by 0.005 to
/// 0.985, by 0.001 to 0.999, and the mirror image of the first three.
pub fn levels() -> [f64; LEVEL_COUNT] {
    let mut out = [0.0; LEVEL_COUNT];
    let lower = [0.0001, 0.0002, 0.0005].into_iter();
    let tail = (1..=10_u32).map(|k| f64::from(k) / 1000.0);
    let body = (3..=197_u32).map(|k| f64::from(k) / 200.0);
    let upper = (990..=999_u32).map(|k| f64::from(k) / 1000.0);
    let last = [0.9995, 0.9998, 0.9999].into_iter();
    let all = lower.chain(tail).chain(body).chain(upper).chain(last);
    for (place, level) in out.iter_mut().zip(all) {
        *place = level;
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn two_hundred_and_twenty_one_levels_rising_and_symmetric() {
        let all = levels();
        assert!(all.windows(2).all(|pair| pair[0] < pair[1]));
        for (low, high) in all.iter().zip(all.iter().rev()) {
            assert!((low + high - 1.0).abs() < 1e-12);
        }
        for wanted in [0.01, 0.05, 0.10, 0.90, 0.95, 0.99] {
            assert!(all.iter().any(|level| (level - wanted).abs() < 1e-15));
        }
    }
}
