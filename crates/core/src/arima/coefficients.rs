//! The coefficients of a seasonal model, and its expanded polynomials.

/// The coefficients of `φ(B) Φ(B^s) w = θ(B) Θ(B^s) e`, with
/// `φ = 1 - Σ φ_i B^i` and `θ = 1 + Σ θ_j B^j`, and likewise in `B^s`.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Coefficients {
    /// φ.
    pub ar: Vec<f64>,
    /// θ.
    pub ma: Vec<f64>,
    /// Φ.
    pub seasonal_ar: Vec<f64>,
    /// Θ.
    pub seasonal_ma: Vec<f64>,
}

impl Coefficients {
    /// All of them, φ, θ, Φ, Θ in turn.
    pub fn flat(&self) -> Vec<f64> {
        [&self.ar, &self.ma, &self.seasonal_ar, &self.seasonal_ma].into_iter().flatten().copied().collect()
    }

    /// Of that shape, from a list in that order.
    #[must_use]
    pub fn shaped(&self, flat: &[f64]) -> Self {
        let mut rest = flat.iter().copied();
        let mut take = |like: &[f64]| like.iter().map(|_| rest.next().unwrap_or_default()).collect();
        Self {
            ar: take(&self.ar),
            ma: take(&self.ma),
            seasonal_ar: take(&self.seasonal_ar),
            seasonal_ma: take(&self.seasonal_ma),
        }
    }

    /// The same process without seasonal terms: both products written out.
    pub(super) fn written_out(&self, season: usize) -> Self {
        Self { ar: self.long_ar(season), ma: self.long_ma(season), ..Self::default() }
    }

    /// Whether the phases of a season do not meet: moving averages are shorter than it.
    pub(super) fn is_apart(&self, season: usize) -> bool {
        self.is_seasonless() || self.ma.len() < season
    }

    pub(super) fn is_seasonless(&self) -> bool {
        self.seasonal_ar.is_empty() && self.seasonal_ma.is_empty()
    }

    /// `φ(B) Φ(B^s)` as the weights of the past values.
    pub fn long_ar(&self, season: usize) -> Vec<f64> {
        multiplied(&self.ar, &self.seasonal_ar, season, -1.0)
    }

    /// `θ(B) Θ(B^s)` as the weights of the past innovations.
    pub fn long_ma(&self, season: usize) -> Vec<f64> {
        multiplied(&self.ma, &self.seasonal_ma, season, 1.0)
    }
}

/// The product of two polynomials `1 + sign Σ a_i B^i`, in the same form.
fn multiplied(short: &[f64], seasonal: &[f64], season: usize, sign: f64) -> Vec<f64> {
    let mut product = vec![0.0; short.len() + season * seasonal.len()];
    let at = |list: &[f64], k: usize| if k == 0 { 1.0 } else { sign * list[k - 1] };
    for i in 0..=short.len() {
        for j in 0..=seasonal.len() {
            if let Some(place) = (i + j * season).checked_sub(1) {
                product[place] += sign * at(short, i) * at(seasonal, j);
            }
        }
    }
    product
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn products_by_hand() {
        let own =
            Coefficients { ar: vec![0.5], ma: vec![-0.4], seasonal_ar: vec![0.3], seasonal_ma: vec![-0.6] };
        // (1 - 0.5 B)(1 - 0.3 B⁴) and (1 - 0.4 B)(1 - 0.6 B⁴).
        let close = |a: Vec<f64>, b: &[f64]| {
            assert!(a.iter().zip(b).all(|(x, y)| (x - y).abs() < 1e-15) && a.len() == b.len());
        };
        close(own.long_ar(4), &[0.5, 0.0, 0.0, 0.3, -0.15]);
        close(own.long_ma(4), &[-0.4, 0.0, 0.0, -0.6, 0.24]);
        assert_eq!(own.shaped(&own.flat()), own);
    }
}
