//! The one generator of random numbers: portable, seeded, split into streams.
//!
//! `ChaCha` is specified by its key and stream number, so that a draw depends
//! on (seed, stream) only: not on the machine, nor on the number of threads.

use rand_chacha::ChaCha8Rng;
use rand_chacha::rand_core::SeedableRng;
use rand_distr::{Distribution, StandardNormal};

/// A stream of independent standard normal draws.
#[derive(Debug, Clone)]
pub struct NormalStream(ChaCha8Rng);

impl NormalStream {
    /// The stream with number `stream` of the generator seeded with `seed`.
    pub fn new(seed: u64, stream: u64) -> Self {
        let mut key = [0_u8; 32];
        for (place, byte) in key.iter_mut().zip(seed.to_le_bytes()) {
            *place = byte;
        }
        let mut generator = ChaCha8Rng::from_seed(key);
        generator.set_stream(stream);
        Self(generator)
    }

    /// One draw.
    pub fn draw(&mut self) -> f64 {
        StandardNormal.sample(&mut self.0)
    }

    /// Fills `out` with draws.
    pub fn fill(&mut self, out: &mut [f64]) {
        for place in out {
            *place = self.draw();
        }
    }

    /// `n` draws.
    pub fn take(&mut self, n: usize) -> Vec<f64> {
        (0..n).map(|_| self.draw()).collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_stream_is_repeatable_and_differs_from_its_neighbour() {
        let first = NormalStream::new(7, 0).take(5);
        assert_eq!(first, NormalStream::new(7, 0).take(5));
        assert_ne!(first, NormalStream::new(7, 1).take(5));
        assert_ne!(first, NormalStream::new(8, 0).take(5));
    }

    #[test]
    fn moments_are_those_of_a_standard_normal() {
        let draws = NormalStream::new(1, 1).take(200_000);
        let n = draws.len() as f64;
        let mean = draws.iter().sum::<f64>() / n;
        let second = draws.iter().map(|z| z * z).sum::<f64>() / n;
        let fourth = draws.iter().map(|z| z.powi(4)).sum::<f64>() / n;
        assert!(mean.abs() < 0.01 && (second - 1.0).abs() < 0.02 && (fourth - 3.0).abs() < 0.1);
    }
}
