//! The evidence on a fixed seasonal pattern: against none at all, and against one that changes once.

use std::f64::consts::PI;

use nalgebra::{DMatrix, DVector};
use rayon::prelude::*;

use super::super::candidates::{UNIT, times};
use super::breaks::{BreakEvidence, BreakType};
use super::dynamics::{Dynamics, dynamics};
use super::evidence::log_sum;
use super::prior::{AMPLITUDE, CHANGE, CONTRAST, HARMONICS, MOST_PLACES_ROUGH};
use crate::arma::{Mixture, Whitening};
use crate::num::scale;

/// The approximate maximum number of dates of a change that are tried.
const MOST_DATES: usize = 60;

/// Logarithms of Bayes factors against a fixed pattern.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct PatternEvidence {
    /// Of no pattern.
    pub none: f64,
    /// Of a smooth pattern with the most probable number of harmonics; none where the season is short.
    pub smooth: Option<SmoothPattern>,
    /// Of a pattern that changes once, averaged over dates.
    change: f64,
    /// The most probable date of the change: the place of the first observation of the new pattern.
    at: usize,
}

/// Changes are not looked for in these hundredths of the series at each end (Andrews 1993, Econometrica 61, 821-856): an
/// outlier in the first season would pass for one.
const TRIMMED: usize = 15;

/// Dates at which the pattern may change, whole seasons on both sides.
fn dates(observations: usize, season: usize) -> Vec<usize> {
    let margin = (TRIMMED * observations / 100).max(season);
    let step = (season / 2).max(observations / MOST_DATES).max(1);
    let inside = margin..observations.saturating_sub(margin);
    (season..inside.end).step_by(step).filter(|date| inside.contains(date)).collect()
}

/// A pattern of a few harmonics.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct SmoothPattern {
    /// The logarithm of its Bayes factor against a fixed pattern, averaged over numbers of harmonics.
    pub factor: f64,
    /// The most probable number.
    pub harmonics: usize,
}

impl PatternEvidence {
    /// The evidence for a change, from that for a fixed pattern.
    pub fn change(self, fixed: f64) -> BreakEvidence {
        let kind = BreakType::PatternChange;
        BreakEvidence { kind, log_evidence: kind.prior().ln() + fixed + self.change, at: self.at }
    }
}

/// The evidence on the pattern of a series with d unit roots, and with a break in a column where there is one.
///
/// # Formula
/// At each dynamics the series is whitened and its mean and trend are projected out. Each of the s − 1 orthonormal
/// contrasts of the pattern is one frequency of the season; its coefficient is normal with standard deviation k and is
/// integrated out. With g = k² N/s |φ(e^iω)/θ(e^iω)|² and z the coefficient of the whitened series at ω,
/// `ℓ_k = ℓ - ½ Σ ln(1 + g)` with Σ z² g/(1 + g) taken from the sum of squares. Of a change likewise, with the difference
/// of the coefficients after and before the date in place of the coefficient, and the pattern before it free.
///
/// The prior of all contrasts does not know that long patterns are smooth: an annual wave of daily data is lost among
/// 364 contrasts. A smooth pattern has the contrasts of its first harmonics only.
///
/// # Cost
/// n operations, and s²/2 for each date tried, two to a season, for each of some hundred dynamics.
pub fn pattern(y: &[f64], season: usize, d: usize, column: Option<&[f64]>) -> PatternEvidence {
    let x = scale::deviations(y);
    let rows = Rows::new(&x, column);
    let waves = Waves::new(season);
    let dates = dates(x.len(), season);
    let all: Vec<AtDynamics> =
        dynamics(d).par_iter().filter_map(|one| at(&rows, &waves, one, d, &dates)).collect();
    let of = |value: &dyn Fn(&AtDynamics) -> f64| log_sum(all.iter().map(value));
    let core: Vec<&(f64, Vec<f64>)> = all.iter().filter_map(|one| one.changing.as_ref()).collect();
    let by_date: Vec<f64> =
        (0..dates.len()).map(|place| log_sum(core.iter().map(|(_, changing)| changing[place]))).collect();
    let best = (0..dates.len()).max_by(|a, b| by_date[*a].total_cmp(&by_date[*b])).unwrap_or(0);
    let finite = |value: f64, otherwise: f64| if value.is_finite() { value } else { otherwise };
    let changing = log_sum(by_date) - (dates.len() as f64).ln();
    PatternEvidence {
        none: finite(of(&|one| one.without) - of(&|one| one.with), 0.0),
        smooth: (season > MOST_PLACES_ROUGH).then(|| smooth(&all)),
        change: finite(changing - log_sum(core.iter().map(|(free, _)| *free)), f64::NEG_INFINITY),
        at: dates.get(best).copied().unwrap_or(season),
    }
}

fn smooth(all: &[AtDynamics]) -> SmoothPattern {
    let each = [0, 1, 2].map(|which| log_sum(all.iter().map(|one| one.smooth[which])));
    let best = (0..each.len()).max_by(|a, b| each[*a].total_cmp(&each[*b])).unwrap_or(0);
    let factor = log_sum(each) - (each.len() as f64).ln() - log_sum(all.iter().map(|one| one.with));
    SmoothPattern {
        factor: if factor.is_finite() { factor } else { f64::NEG_INFINITY },
        harmonics: HARMONICS[best],
    }
}

/// Cosines and sines of the frequencies of a season.
struct Waves {
    season: usize,
    all: Vec<(f64, f64)>,
}

impl Waves {
    fn new(season: usize) -> Self {
        let angle = |k: usize| 2.0 * PI * k as f64 / season as f64;
        Self { season, all: (0..season).map(|k| (angle(k).cos(), angle(k).sin())).collect() }
    }

    fn at(&self, frequency: usize, t: usize) -> (f64, f64) {
        self.all[(frequency * t) % self.season]
    }

    /// `|1 + Σ c_j e^{-ijω}|²`.
    fn gain(&self, frequency: usize, weights: &[f64], sign: f64) -> f64 {
        let (mut real, mut imaginary) = (1.0, 0.0);
        for (j, weight) in (1..).zip(weights) {
            let (cos, sin) = self.at(frequency, j);
            real += sign * weight * cos;
            imaginary -= sign * weight * sin;
        }
        real * real + imaginary * imaginary
    }

    /// The products of every contrast, of length one over a season, with the sums of each place.
    fn products(&self, sums: &[f64]) -> Vec<f64> {
        let norm = (2.0 / self.season as f64).sqrt();
        let mut all = Vec::with_capacity(self.season);
        for frequency in 1..=self.season / 2 {
            let (mut cosine, mut sine, mut angle) = (0.0, 0.0, 0);
            for sum in sums {
                let (cos, sin) = self.all[angle];
                cosine += sum * cos;
                sine += sum * sin;
                // The rest of a division at every place takes longer than the products.
                angle += frequency;
                if angle >= self.season {
                    angle -= self.season;
                }
            }
            if 2 * frequency == self.season {
                all.push(cosine / (self.season as f64).sqrt());
            } else {
                all.extend([norm * cosine, norm * sine]);
            }
        }
        all
    }

    /// How much a filter changes the size of every contrast, squared.
    fn gains(&self, mixture: &Mixture) -> Vec<f64> {
        let of = |frequency: usize| {
            self.gain(frequency, &mixture.ar, -1.0) / self.gain(frequency, &mixture.ma, 1.0)
        };
        let both = |frequency: usize| if 2 * frequency == self.season { 1 } else { 2 };
        (1..=self.season / 2).flat_map(|frequency| vec![of(frequency); both(frequency)]).collect()
    }
}

/// Logarithms of likelihoods at one dynamics, its weight included.
struct AtDynamics {
    without: f64,
    with: f64,
    /// With a smooth pattern of each number of harmonics.
    smooth: [f64; 3],
    /// With a pattern of free coefficients, and with one that changes, by date.
    changing: Option<(f64, Vec<f64>)>,
}

fn at(rows: &Rows, waves: &Waves, dynamics: &Dynamics, d: usize, dates: &[usize]) -> Option<AtDynamics> {
    let ar = if d > 0 { times(&dynamics.ar, UNIT) } else { dynamics.ar.clone() };
    let mixture = Mixture { ar, ma: dynamics.ma.clone() };
    let (left, base) = rows.left(&mixture)?;
    let base = base + dynamics.weight.ln();
    let season = waves.season;
    let half = 0.5 * ((left.len() - rows.regressors) as f64);
    let half_free = half - 0.5 * (season as f64 - 1.0);
    let sum: f64 = left.iter().map(|value| value * value).sum();
    let gains = waves.gains(&mixture);
    let whitened = Whitened::new(&left, waves);
    let whole = whitened.before(left.len());
    let energies: Vec<f64> = whole.products.iter().map(|product| product * product / whole.seasons).collect();
    let with = CONTRAST.map(|(sd, weight)| {
        let (taken, logs) = shrunk(&energies, &gains, sd * sd * whole.seasons);
        weight.ln() - 0.5 * logs - half * (sum - taken).ln()
    });
    let smooth = HARMONICS.map(|harmonics| {
        // Every frequency has a cosine and a sine.
        let contrasts = (2 * harmonics).min(energies.len());
        base + log_sum(AMPLITUDE.map(|(sd, weight)| {
            let variance = 0.5 * season as f64 * sd * sd * whole.seasons;
            let (taken, logs) = shrunk(&energies[..contrasts], &gains[..contrasts], variance);
            weight.ln() - 0.5 * logs - half * (sum - taken).ln()
        }))
    });
    let free = base - half_free * (sum - energies.iter().sum::<f64>()).ln();
    let changing = |date: &usize| {
        let (first, second) = (whitened.before(*date), whitened.after(*date));
        let precision = 1.0 / (1.0 / first.seasons + 1.0 / second.seasons);
        let (mut common, mut energies) = (0.0, Vec::with_capacity(season));
        for (one, two) in first.products.iter().zip(&second.products) {
            common += (one + two) * (one + two) / (first.seasons + second.seasons);
            let change = two / second.seasons - one / first.seasons;
            energies.push(change * change * precision);
        }
        let rest = sum - common;
        free + log_sum(CHANGE.map(|(sd, weight)| {
            let (taken, logs) = shrunk(&energies, &gains, sd * sd * precision);
            weight.ln() - 0.5 * logs - half_free * (1.0 - taken / rest).ln()
        }))
    };
    // A change is tried with few dynamics.
    let changing = dynamics.is_core.then(|| (free, dates.iter().map(changing).collect()));
    Some(AtDynamics { without: base - half * sum.ln(), with: base + log_sum(with), smooth, changing })
}

/// What contrasts with a normal prior take from the sum of squares, `Σ z² g/(1 + g)`, and `Σ ln(1 + g)`.
fn shrunk(energies: &[f64], gains: &[f64], variance: f64) -> (f64, f64) {
    let (mut taken, mut logs, mut product) = (0.0, 0.0, 1.0_f64);
    for (energy, gain) in energies.iter().zip(gains) {
        let g = variance * gain;
        taken += energy * g / (1.0 + g);
        product *= 1.0 + g;
        if product > 1e200 {
            logs += product.ln();
            product = 1.0;
        }
    }
    (taken, logs + product.ln())
}

/// A whitened series with the running sums of each position in the season.
struct Whitened<'a> {
    waves: &'a Waves,
    running: Vec<f64>,
}

/// The contrasts of whole seasons of a whitened series.
struct Stretch {
    seasons: f64,
    products: Vec<f64>,
}

impl<'a> Whitened<'a> {
    fn new(values: &[f64], waves: &'a Waves) -> Self {
        let mut running = values.to_vec();
        for t in waves.season..running.len() {
            running[t] += running[t - waves.season];
        }
        Self { waves, running }
    }

    /// The whole seasons that end before a date.
    fn before(&self, date: usize) -> Stretch {
        self.stretch(date % self.waves.season, date)
    }

    /// Those that begin at it.
    fn after(&self, date: usize) -> Stretch {
        self.stretch(date, self.running.len() - (self.running.len() - date) % self.waves.season)
    }

    fn stretch(&self, start: usize, end: usize) -> Stretch {
        let season = self.waves.season;
        let mut sums = vec![0.0; season];
        for t in start..start + season {
            let earlier = t.checked_sub(season).map_or(0.0, |before| self.running[before]);
            sums[t % season] = self.running[t + end - start - season] - earlier;
        }
        Stretch { seasons: (end - start) as f64 / season as f64, products: self.waves.products(&sums) }
    }
}

/// A series with its regressors: a constant, a trend, and the column of a break where there is one.
struct Rows {
    rows: Vec<[f64; 4]>,
    regressors: usize,
}

impl Rows {
    fn new(x: &[f64], column: Option<&[f64]>) -> Self {
        let n = x.len();
        let clock = |t: usize| (t as f64 + 0.5) / n as f64 - 0.5;
        let own = |t: usize| column.and_then(|column| column.get(t)).copied().unwrap_or(0.0);
        let rows = x.iter().enumerate().map(|(t, value)| [*value, 1.0, clock(t), own(t)]).collect();
        Self { rows, regressors: 2 + usize::from(column.is_some()) }
    }

    /// The whitened series with the regressors projected out, and `-½ ln|Σ| - ½ ln|X'Σ⁻¹X|`.
    fn left(&self, mixture: &Mixture) -> Option<(Vec<f64>, f64)> {
        let whitening = Whitening::new(mixture, self.rows.len())?;
        let (gram, logs) = whitening.products(&self.rows);
        let k = self.regressors;
        let factor = DMatrix::from_fn(k, k, |i, j| gram[i + 1][j + 1]).cholesky()?;
        let beta = factor.solve(&DVector::from_fn(k, |i, _| gram[0][i + 1]));
        let determinant: f64 = factor.l().diagonal().iter().map(|value| 2.0 * value.ln()).sum();
        let of = |row: [f64; 4]| row[0] - beta.iter().zip(&row[1..]).map(|(b, x)| b * x).sum::<f64>();
        let left: Vec<f64> = whitening.filtered(&self.rows).into_iter().map(of).collect();
        left.iter().all(|value| value.is_finite()).then(|| (left, -0.5 * (logs + determinant)))
    }
}
