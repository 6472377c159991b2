//! Autocorrelations that a series can have, from ones that no series has.

use realfft::RealFftPlanner;

use super::lagged::smooth_length;
use super::partial::partial_autocorrelations;

/// Whether these are autocorrelations of any series: their partial ones lie between -1 and 1.
///
/// # Input
/// Autocorrelations at lags 1, 2, ….
pub fn is_definite(r: &[f64]) -> bool {
    partial_autocorrelations(r).iter().all(|partial| partial.abs() <= 1.0)
}

/// The least of a spectrum of mean one: at zero the recursion of the partial ones would end in rounding errors.
const FLOOR: f64 = 1e-3;

/// The autocorrelations whose spectrum is that of the given ones without its negative part.
///
/// # Formula
/// `f(ω) = 1 + 2 Σ_k r_k cos ωk` at the frequencies of a circle of at least twice the length; `max(f, 0.001)` transformed back
/// and divided by its value at lag 0. Where f is nowhere below they stay as they are.
///
/// # Input
/// Autocorrelations at all lags 1 to n - 1 of n observations, made of pairs.
///
/// # References
/// Hall, Fisher and Hoffmann (1994), *Annals of Statistics* 22, 2115-2134.
pub fn nearest_definite(r: &[f64]) -> Option<Vec<f64>> {
    let length = smooth_length(2 * (r.len() + 1));
    let mut planner = RealFftPlanner::<f64>::new();
    let forward = planner.plan_fft_forward(length);
    let mut circle = forward.make_input_vec();
    *circle.first_mut()? = 1.0;
    for (lag, value) in (1..).zip(r) {
        *circle.get_mut(lag)? = *value;
        *circle.get_mut(length - lag)? = *value;
    }
    let mut spectrum = forward.make_output_vec();
    forward.process(&mut circle, &mut spectrum).ok()?;
    for value in &mut spectrum {
        // The circle is symmetric, so its transform is real.
        *value = value.re.max(FLOOR).into();
    }
    planner.plan_fft_inverse(length).process(&mut spectrum, &mut circle).ok()?;
    let zero = circle.first().copied().filter(|zero| *zero > 0.0)?;
    Some(circle.get(1..=r.len())?.iter().map(|value| value / zero).collect())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    #[test]
    fn possible_ones_stay_and_impossible_ones_become_possible() {
        // Of a moving average, 0.5 is the largest at lag 1.
        let possible: Vec<f64> = [0.4, 0.0, 0.0, 0.0].to_vec();
        let same = nearest_definite(&possible).expect("a transform");
        assert!(same.iter().zip(&possible).all(|(a, b)| (a - b).abs() < 1e-12), "{same:?}");
        for draw in 0..200 {
            let r: Vec<f64> =
                NormalStream::new(3, draw).take(40).iter().zip(1..).map(|(z, k)| z / f64::from(k)).collect();
            let possible = nearest_definite(&r).expect("a transform");
            assert!(possible.iter().all(|value| value.abs() <= 1.0), "{draw}");
            let partial = partial_autocorrelations(&possible);
            assert!(partial.iter().all(|value| value.abs() <= 1.0 + 1e-9), "{draw}: {partial:?}");
        }
    }
}
