//! Draws from a seed.

/// A generator of words, small and always the same (Steele, Lea and Flood 2014, the finaliser of `SplitMix`).
pub struct Draw(u64);

impl Draw {
    pub fn new(seed: u64) -> Self {
        Self(seed.wrapping_mul(0x9E37_79B9_7F4A_7C15))
    }

    pub fn word(&mut self) -> u64 {
        self.0 = self.0.wrapping_add(0x9E37_79B9_7F4A_7C15);
        let mut word = self.0;
        word = (word ^ (word >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
        word = (word ^ (word >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
        word ^ (word >> 31)
    }

    /// A number below a bound.
    pub fn below(&mut self, bound: usize) -> usize {
        usize::try_from(self.word() % bound.max(1) as u64).expect("below a bound")
    }

    /// Whether something happens that happens so often in a hundred.
    pub fn percent(&mut self, often: usize) -> bool {
        self.below(100) < often
    }

    pub fn one<'a, T: ?Sized>(&mut self, of: &[&'a T]) -> &'a T {
        of[self.below(of.len())]
    }

    /// A uniform number between 0 and 1.
    pub fn uniform(&mut self) -> f64 {
        (self.word() >> 11) as f64 / (1_u64 << 53) as f64
    }

    /// A number that is nearly normal.
    pub fn normal(&mut self) -> f64 {
        (0..12).map(|_| self.uniform()).sum::<f64>() - 6.0
    }
}
