//! Bootstrap p-values: the null with the series' own short-run dynamics and its own innovations.

use rayon::prelude::*;

use super::adf::{AdfOptions, adf};
use super::canova_hansen::{StabilityOptions, canova_hansen};
use super::gls::{GlsOptions, gls_tests};
use super::hegy::{SeasonalOptions, hegy};
use super::kpss::{KpssOptions, kpss};
use super::lee_strazicich::{LagrangeOptions, lee_strazicich};
use super::outcome::{Detail, Kernel, Note, Null, TestName, UnitRootTest};
use super::pp::{PpOptions, pp};
use super::zivot_andrews::{BreakOptions, USUAL_TRIM, zivot_andrews};
use crate::corr::lagged_products;
use crate::lag::{LagRule, default_max_lags};
use crate::nulldist::{Drawn, Tail, Terms};
use crate::num::rng::NormalStream;
use crate::num::scale;
use crate::ols::Bandwidth;

/// Options of the bootstrap.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct BootstrapOptions {
    /// Series drawn.
    pub draws: usize,
    /// Seed of the draws.
    pub seed: u64,
    /// Keeps every shock at its own time and draws its sign alone, so that a variance that
    /// changes over time changes in the drawn series too.
    pub wild: bool,
    /// Observations in a season, for the tests of a season.
    pub season: usize,
}

/// A bootstrap p-value for each test, as it was done on `y`; `None` where the test has none
/// (an estimate of fractional integration, a break known from elsewhere, a test whose
/// distribution is itself drawn).
///
/// # Formula
/// What the null leaves stationary (the changes of a unit root, the deviations from the terms
/// of stationarity, the seasonal differences of seasonal roots) is fitted by an autoregression,
/// order by AIC; its innovations are drawn again with replacement (wild: each with a random
/// sign), passed through the autoregression and summed up as the null says. The p-value is the
/// rank of the test's statistic among those of the drawn series, each with its own choice of
/// lags or bandwidth.
///
/// `advance` is called after each draw.
///
/// # References
/// Chang and Park (2003), *Journal of Time Series Analysis* 24, 379-400; Cavaliere and Taylor
/// (2009), *Econometric Reviews* 28, 393-421; Psaradakis (2001), *Journal of Time Series
/// Analysis* 22, 577-594.
pub fn bootstrap(
    y: &[f64],
    tests: &[UnitRootTest],
    options: &BootstrapOptions,
    advance: &(dyn Fn() + Sync),
) -> Vec<Option<f64>> {
    let nulls: Vec<Option<Sieve>> =
        tests.iter().map(|test| Sieve::of(y, test, options.season).filter(|_| has_one(test))).collect();
    let rows: Vec<Vec<f64>> = (0..options.draws as u64)
        .into_par_iter()
        .map(|number| {
            let row = tests.iter().zip(&nulls).map(|(test, null)| {
                let sieve = null.as_ref()?;
                // All tests of one null see the same drawn series.
                let mut stream = NormalStream::new(options.seed, number);
                again(test, &sieve.draw(&mut stream, options.wild), options.season)
            });
            let row = row.map(|value| value.unwrap_or(f64::NAN)).collect();
            advance();
            row
        })
        .collect();
    let p_value = |(place, test): (usize, &UnitRootTest)| {
        nulls[place].as_ref()?;
        let drawn = Drawn::new(rows.iter().map(|row| row[place]));
        (drawn.draws() > options.draws / 2).then(|| drawn.p_value(test.statistic, side(test)))
    };
    tests.iter().enumerate().map(p_value).collect()
}

fn has_one(test: &UnitRootTest) -> bool {
    !test.notes.iter().any(|note| matches!(note, Note::Drawn(_)))
}

fn side(test: &UnitRootTest) -> Tail {
    match test.test {
        TestName::Kpss | TestName::Hegy | TestName::CanovaHansen => Tail::Upper,
        _ => Tail::Lower,
    }
}

/// The statistic of the same test of another series.
fn again(test: &UnitRootTest, y: &[f64], season: usize) -> Option<f64> {
    let lags = test.lag_rule.unwrap_or(LagRule::Given(0));
    let (terms, max_lags) = (test.terms, test.max_lags);
    let given = match lags {
        LagRule::Given(lags) => Some(lags),
        _ => None,
    };
    let bandwidth = test.bandwidth_rule.unwrap_or(Bandwidth::Automatic);
    let trend = terms == Terms::Trend;
    let done = match (test.test, &test.detail) {
        (TestName::Adf, _) => adf(y, &AdfOptions { terms, lags, max_lags }),
        (TestName::Kpss, _) => kpss(y, &KpssOptions { terms, bandwidth, kernel: Kernel::Bartlett }),
        (TestName::Pp, _) => {
            let bandwidth = test.bandwidth.map(Bandwidth::Given);
            pp(y, &PpOptions { terms, bandwidth, kernel: Kernel::Bartlett })
        }
        (TestName::AdfGls | TestName::PointOptimal | TestName::NgPerron, _) => {
            let all = gls_tests(y, &GlsOptions { terms, lags: given, max_lags }).ok()?;
            return all.into_iter().find(|one| one.test == test.test).map(|one| one.statistic);
        }
        (TestName::ZivotAndrews, Detail::Break { model, .. }) => {
            zivot_andrews(y, &BreakOptions { model: *model, lags, max_lags, trim: USUAL_TRIM })
        }
        (TestName::LeeStrazicich, Detail::Break { model, second, .. }) => {
            let breaks = if second.is_some() { 2 } else { 1 };
            let options = LagrangeOptions { model: *model, breaks, lags, max_lags, trim: USUAL_TRIM };
            lee_strazicich(y, &options)
        }
        (TestName::Hegy, _) => hegy(y, &SeasonalOptions { season, trend, lags: given, max_lags }),
        (TestName::CanovaHansen, _) => canova_hansen(y, &StabilityOptions { season, trend, bandwidth }),
        _ => return None,
    };
    done.ok().map(|test| test.statistic)
}

/// A null with the dynamics and the innovations of a series.
struct Sieve {
    /// Periods over which the drawn series is summed up: one for a unit root, a season for
    /// seasonal ones; none for stationarity.
    summed: Option<usize>,
    coefficients: Vec<f64>,
    innovations: Vec<f64>,
    length: usize,
}

/// Values let pass before a drawn series begins.
const BURN: usize = 50;

impl Sieve {
    fn of(y: &[f64], test: &UnitRootTest, season: usize) -> Option<Self> {
        let x = scale::deviations(y);
        let changes = |lag: usize| -> Vec<f64> { x.iter().zip(&x[lag..]).map(|(a, b)| b - a).collect() };
        let (left, summed) = match (test.null, test.test) {
            (Null::UnitRoot, TestName::Hegy) if season < x.len() => (changes(season), Some(season)),
            (Null::UnitRoot, _) => (changes(1), Some(1)),
            (Null::Stationary, _) => (without_terms(&x, test.terms), None),
            (Null::FixedSeason, _) => (without_means(&x, season), None),
            (Null::NoMemory, _) => return None,
        };
        let centre = if test.terms == Terms::None { 0.0 } else { scale::mean(&left) };
        let left: Vec<f64> = left.iter().map(|value| value - centre).collect();
        let coefficients = autoregression(&left, default_max_lags(left.len()))?;
        let own = |t: usize| {
            let past = coefficients.iter().enumerate().map(|(i, phi)| phi * left[t - i - 1]).sum::<f64>();
            left[t] - past
        };
        let mut innovations: Vec<f64> = (coefficients.len()..left.len()).map(own).collect();
        let mean = scale::mean(&innovations);
        for e in &mut innovations {
            *e -= mean;
        }
        Some(Self { summed, coefficients, innovations, length: y.len() })
    }

    fn draw(&self, stream: &mut NormalStream, wild: bool) -> Vec<f64> {
        let count = self.innovations.len();
        let mut shocks: Vec<f64> = (0..self.length + BURN).map(|_| self.shock(stream)).collect();
        if wild {
            let signed = self.innovations.iter().map(|e| if stream.draw() < 0.0 { -e } else { *e });
            let start = shocks.len() - count;
            for (place, shock) in shocks[start..].iter_mut().zip(signed) {
                *place = shock;
            }
        }
        let order = self.coefficients.len();
        let mut u = shocks;
        for t in 0..u.len() {
            let past: f64 = (1..=order.min(t)).map(|i| self.coefficients[i - 1] * u[t - i]).sum();
            u[t] += past;
        }
        let mut out = u.split_off(BURN);
        if let Some(lag) = self.summed {
            for t in lag..out.len() {
                out[t] += out[t - lag];
            }
        }
        out
    }

    /// One innovation with replacement.
    fn shock(&self, stream: &mut NormalStream) -> f64 {
        let count = self.innovations.len();
        // The normal distribution's rank of a draw is uniform.
        #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
        let place = (crate::num::normal::cdf(stream.draw()) * count as f64) as usize;
        self.innovations[place.min(count - 1)]
    }
}

fn without_terms(x: &[f64], terms: Terms) -> Vec<f64> {
    let n = x.len() as f64;
    let clock = |t: usize| (t as f64 + 0.5) / n - 0.5;
    let squares: f64 = (0..x.len()).map(|t| clock(t).powi(2)).sum();
    let cross: f64 = x.iter().enumerate().map(|(t, value)| clock(t) * value).sum();
    let slope = if terms == Terms::Trend { cross / squares } else { 0.0 };
    x.iter().enumerate().map(|(t, value)| value - slope * clock(t)).collect()
}

fn without_means(x: &[f64], season: usize) -> Vec<f64> {
    let season = season.max(1);
    let mean = |place: usize| {
        let own: Vec<f64> = x.iter().skip(place).step_by(season).copied().collect();
        scale::mean(&own)
    };
    let means: Vec<f64> = (0..season).map(mean).collect();
    x.iter().enumerate().map(|(t, value)| value - means[t % season]).collect()
}

/// Yule-Walker coefficients of the order with the best AIC, up to `most`; `None` for a series
/// without variation.
///
/// # References
/// Durbin (1960), *Revue de l'Institut International de Statistique* 28, 233-244.
fn autoregression(u: &[f64], most: usize) -> Option<Vec<f64>> {
    let n = u.len() as f64;
    let products = lagged_products(u, most.min(u.len().saturating_sub(2)));
    let own = products.first().copied().filter(|own| *own > 0.0)?;
    let r: Vec<f64> = products.iter().skip(1).map(|product| product / own).collect();
    let mut phi: Vec<f64> = Vec::new();
    let mut unexplained = 1.0;
    let mut best = (0.0, Vec::new());
    for (k, correlation) in r.iter().enumerate() {
        let explained: f64 = phi.iter().zip(r[..k].iter().rev()).map(|(f, r)| f * r).sum();
        let last = (correlation - explained) / unexplained;
        let mirrored: Vec<f64> = phi.iter().rev().copied().collect();
        for (f, other) in phi.iter_mut().zip(mirrored) {
            *f -= last * other;
        }
        phi.push(last);
        unexplained *= 1.0 - last * last;
        if unexplained.is_nan() || unexplained <= 1e-12 {
            break;
        }
        let criterion = n * f64::ln(unexplained) + 2.0 * (k + 1) as f64;
        if criterion < best.0 {
            best = (criterion, phi.clone());
        }
    }
    Some(best.1)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    fn walk(n: usize, seed: u64) -> Vec<f64> {
        let mut x = NormalStream::new(seed, 0).take(n);
        for t in 1..n {
            x[t] += x[t - 1];
        }
        x
    }

    const OPTIONS: BootstrapOptions = BootstrapOptions { draws: 399, seed: 7, wild: false, season: 1 };

    #[test]
    fn of_a_plain_walk_it_is_near_the_p_value_of_the_table() {
        let y = walk(150, 71);
        let options = AdfOptions { lags: LagRule::Given(0), ..AdfOptions::default() };
        let tests = vec![adf(&y, &options).expect("fits"), pp(&y, &PpOptions::default()).expect("fits")];
        for (ours, test) in bootstrap(&y, &tests, &OPTIONS, &|| ()).into_iter().zip(&tests) {
            let ours = ours.expect("has one");
            // Three standard errors of 399 draws and what the series' own innovations change.
            assert!((ours - test.p_value.expect("simulated")).abs() < 0.1, "{ours} {:?}", test.p_value);
        }
    }

    #[test]
    fn it_depends_on_the_seed_only_and_counts_every_draw() {
        let y = walk(60, 72);
        let tests = vec![adf(&y, &AdfOptions::default()).expect("fits")];
        let count = std::sync::atomic::AtomicUsize::new(0);
        let counted = || {
            count.fetch_add(1, std::sync::atomic::Ordering::Relaxed);
        };
        let few = BootstrapOptions { draws: 99, ..OPTIONS };
        let first = bootstrap(&y, &tests, &few, &counted);
        assert_eq!(count.load(std::sync::atomic::Ordering::Relaxed), 99);
        assert_eq!(first, bootstrap(&y, &tests, &few, &|| ()));
        assert_ne!(first, bootstrap(&y, &tests, &BootstrapOptions { seed: 8, ..few }, &|| ()));
    }

    #[test]
    fn a_test_whose_null_is_drawn_has_none() {
        let y = walk(60, 76);
        let seasonal = SeasonalOptions { season: 6, trend: false, lags: Some(0), max_lags: None };
        let options = BreakOptions {
            model: crate::nulldist::BreakModel::Intercept,
            lags: LagRule::Given(0),
            max_lags: None,
            trim: 0.25,
        };
        let tests = vec![hegy(&y, &seasonal).expect("fits"), zivot_andrews(&y, &options).expect("fits")];
        let few = BootstrapOptions { draws: 99, season: 6, ..OPTIONS };
        assert_eq!(bootstrap(&y, &tests, &few, &|| ()), [None, None]);
    }

    #[test]
    fn the_autoregression_is_found_and_its_null_has_its_dynamics() {
        let mut u = NormalStream::new(73, 0).take(2000);
        for t in 1..2000 {
            u[t] += 0.7 * u[t - 1];
        }
        let phi = autoregression(&u, 8).expect("varies");
        assert!((phi[0] - 0.7).abs() < 0.06);
        assert_eq!(autoregression(&[0.0; 30], 3), None);
    }

    #[test]
    fn wild_keeps_each_shock_at_its_time() {
        let mut e = NormalStream::new(74, 0).take(200);
        e[100..].iter_mut().for_each(|value| *value *= 10.0);
        let mut y = e;
        for t in 1..200 {
            y[t] += y[t - 1];
        }
        let test = adf(&y, &AdfOptions::default()).expect("fits");
        let sieve = Sieve::of(&y, &test, 1).expect("has one");
        let late = |wild: bool| {
            let x = sieve.draw(&mut NormalStream::new(1, 0), wild);
            let spread = |part: &[f64]| part.windows(2).map(|p| (p[1] - p[0]).powi(2)).sum::<f64>();
            spread(&x[102..]) / spread(&x[..98])
        };
        assert!(late(true) > 30.0 && late(false) < 5.0, "{} {}", late(true), late(false));
    }

    #[test]
    fn stationarity_of_noise_is_not_rejected() {
        let noise = NormalStream::new(75, 0).take(120);
        let p = |y: &[f64]| {
            let tests = vec![kpss(y, &KpssOptions::default()).expect("fits")];
            bootstrap(y, &tests, &OPTIONS, &|| ())[0].expect("has one")
        };
        assert!(p(&noise) > 0.05);
    }
}
