//! How often the verdict is right on processes whose truth is known.

use std::fmt::Write as _;

use kandrel_core::num::rng::NormalStream;
use kandrel_core::verdict::candidates::{ModelClass, weigh_candidates};
use kandrel_core::verdict::{AssessOptions, Confidence, assess};
use rayon::prelude::*;

use kandrel_core::unitroot::{AdfOptions, KpssOptions, adf, kpss};

/// A process with its truth.
pub struct Process {
    pub name: &'static str,
    pub truth: ModelClass,
    season: Option<usize>,
    pub draw: fn(&mut NormalStream, usize) -> Vec<f64>,
}

/// The process of a name.
pub fn process(name: &str) -> Option<&'static Process> {
    PROCESSES.iter().find(|process| process.name == name)
}

/// Values left out until the start is forgotten.
const BURN: usize = 200;

/// An autoregressive moving average without its start.
pub fn mixture(ar: &[f64], ma: &[f64], stream: &mut NormalStream, n: usize) -> Vec<f64> {
    let e = stream.take(n + BURN);
    let mut x: Vec<f64> = Vec::with_capacity(n + BURN);
    for t in 0..n + BURN {
        let past: f64 = ar.iter().zip(1..).filter(|(_, i)| t >= *i).map(|(phi, i)| phi * x[t - i]).sum();
        let shocks: f64 =
            ma.iter().zip(1..).filter(|(_, j)| t >= *j).map(|(theta, j)| theta * e[t - j]).sum();
        x.push(e[t] + past + shocks);
    }
    x.split_off(BURN)
}

pub fn cumulated(x: Vec<f64>) -> Vec<f64> {
    let mut level = 0.0;
    x.into_iter()
        .map(|step| {
            level += step;
            level
        })
        .collect()
}

pub fn plus(mut x: Vec<f64>, more: impl Fn(f64, usize) -> f64) -> Vec<f64> {
    let n = x.len();
    for (t, value) in x.iter_mut().enumerate() {
        *value += more(t as f64, n);
    }
    x
}

/// Long memory with d = 0.4, by its infinite moving average cut off.
fn fractional(stream: &mut NormalStream, n: usize) -> Vec<f64> {
    let long = 1000;
    let e = stream.take(n + long);
    let mut weights = vec![1.0];
    for k in 1..long {
        weights.push(weights[k - 1] * (k as f64 - 1.0 + 0.4) / k as f64);
    }
    (long..n + long).map(|t| weights.iter().enumerate().map(|(k, w)| w * e[t - k]).sum()).collect()
}

/// Student's t with three degrees of freedom from four normal draws each.
fn heavy(stream: &mut NormalStream, n: usize) -> Vec<f64> {
    let z = stream.take(4 * n);
    z.chunks(4).map(|q| q[0] / ((q[1] * q[1] + q[2] * q[2] + q[3] * q[3]) / 3.0).sqrt()).collect()
}

/// Innovations whose spread trebles half-way.
fn louder(stream: &mut NormalStream, n: usize) -> Vec<f64> {
    let shock = |(t, e): (usize, f64)| if 2 * t >= n { 3.0 * e } else { e };
    stream.take(n).into_iter().enumerate().map(shock).collect()
}

/// An autoregression with 0.5 of heavy-tailed innovations.
fn heavy_autoregression(stream: &mut NormalStream, n: usize) -> Vec<f64> {
    let mut x = heavy(stream, n + BURN);
    for t in 1..x.len() {
        x[t] += 0.5 * x[t - 1];
    }
    x.split_off(BURN)
}

/// A height from a share of the series on.
fn step(t: f64, n: usize, share: f64, height: f64) -> f64 {
    if t >= share * n as f64 { height } else { 0.0 }
}

/// A moving average a season back.
const SEASONAL: [f64; 12] = [0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, -0.6];

const fn of(
    name: &'static str,
    truth: ModelClass,
    draw: fn(&mut NormalStream, usize) -> Vec<f64>,
) -> Process {
    Process { name, truth, season: None, draw }
}

/// Every process of the table.
pub const PROCESSES: &[Process] = &[
    of("white noise", ModelClass::Stationary, NormalStream::take),
    of("AR 0.5", ModelClass::Stationary, |s, n| mixture(&[0.5], &[], s, n)),
    of("AR 0.9", ModelClass::Stationary, |s, n| mixture(&[0.9], &[], s, n)),
    of("AR 0.97", ModelClass::Stationary, |s, n| mixture(&[0.97], &[], s, n)),
    of("AR(4) 0.3 0.2 0.1 0.2", ModelClass::Stationary, |s, n| mixture(&[0.3, 0.2, 0.1, 0.2], &[], s, n)),
    of("trend and AR 0.5", ModelClass::TrendStationary, |s, n| {
        plus(mixture(&[0.5], &[], s, n), |t, _| 0.05 * t)
    }),
    of("random walk", ModelClass::UnitRoot, |s, n| cumulated(s.take(n))),
    of("random walk, drift 0.3", ModelClass::UnitRoot, |s, n| plus(cumulated(s.take(n)), |t, _| 0.3 * t)),
    of("changes MA -0.5", ModelClass::UnitRoot, |s, n| cumulated(mixture(&[], &[-0.5], s, n))),
    of("changes MA -0.8", ModelClass::UnitRoot, |s, n| cumulated(mixture(&[], &[-0.8], s, n))),
    of("changes complex AR(2) 1 -0.7", ModelClass::UnitRoot, |s, n| {
        cumulated(mixture(&[1.0, -0.7], &[], s, n))
    }),
    of("changes AR(3) 0.4 -0.3 0.3", ModelClass::UnitRoot, |s, n| {
        cumulated(mixture(&[0.4, -0.3, 0.3], &[], s, n))
    }),
    Process {
        season: Some(12),
        ..of("changes seasonal MA -0.6 at 12", ModelClass::UnitRoot, |s, n| {
            cumulated(mixture(&[], &SEASONAL, s, n))
        })
    },
    of("changes MA(2) -1.3 0.5", ModelClass::UnitRoot, |s, n| cumulated(mixture(&[], &[-1.3, 0.5], s, n))),
    of("twice integrated", ModelClass::TwoUnitRoots, |s, n| cumulated(cumulated(s.take(n)))),
    of("level break of 5 sd", ModelClass::Broken, |s, n| {
        plus(mixture(&[0.5], &[], s, n), |t, n| step(t, n, 0.6, 5.0))
    }),
    of("trend, level break of 5 sd", ModelClass::Broken, |s, n| {
        plus(mixture(&[0.5], &[], s, n), |t, n| 0.05 * t + step(t, n, 0.4, 5.0))
    }),
    of("slope break", ModelClass::Broken, |s, n| {
        plus(mixture(&[0.5], &[], s, n), |t, n| 0.1 * (t - 0.5 * n as f64).max(0.0))
    }),
    of("random walk, break of 8 sd", ModelClass::UnitRoot, |s, n| {
        plus(cumulated(s.take(n)), |t, n| step(t, n, 0.5, 8.0))
    }),
    of("fractional 0.4", ModelClass::Stationary, fractional),
    of("random walk, variance x 9 at half", ModelClass::UnitRoot, |s, n| cumulated(louder(s, n))),
    of("random walk, t(3) errors", ModelClass::UnitRoot, |s, n| cumulated(heavy(s, n))),
    of("AR 0.5, t(3) errors", ModelClass::Stationary, heavy_autoregression),
    of("AR 0.8, outlier of 10", ModelClass::Stationary, |s, n| {
        plus(mixture(&[0.8], &[], s, n), |t, n| if (t - (3 * n / 5) as f64).abs() < 0.5 { 10.0 } else { 0.0 })
    }),
];

/// Sample sizes of the table.
const SIZES: [usize; 5] = [25, 60, 100, 200, 500];

/// What one draw came to.
struct Call {
    right: bool,
    confidence: Confidence,
    adf_alone: bool,
    adf_with_kpss: bool,
}

fn call(process: &Process, number: u64, n: usize) -> Option<Call> {
    let mut stream = NormalStream::new(77_000 + n as u64, number);
    let y = (process.draw)(&mut stream, n);
    let (kind, confidence) = if process.season.is_some() {
        // As after a seasonal difference, whose moving average is among the dynamics.
        let weights = weigh_candidates(&y, process.season)?;
        let kind = weights.kind();
        (kind, by_probability(weights.probability(kind), n))
    } else {
        let verdict = assess(&y, &AssessOptions::default()).ok()?.verdict;
        (verdict.kind, verdict.confidence)
    };
    let (plain, both) = by_tests(&y);
    Some(Call {
        right: kind == process.truth,
        confidence,
        adf_alone: order(process.truth) == Some(plain),
        adf_with_kpss: order(process.truth) == both,
    })
}

/// Confidence without supporting tests.
fn by_probability(probability: f64, n: usize) -> Confidence {
    match (probability, n < 100) {
        (p, false) if p >= 0.90 => Confidence::High,
        (p, false) if p >= 0.75 => Confidence::Moderate,
        (p, true) if p >= 0.90 => Confidence::Moderate,
        _ => Confidence::Low,
    }
}

/// The order of integration; none where no count of differences is the answer.
fn order(kind: ModelClass) -> Option<usize> {
    match kind {
        ModelClass::Stationary | ModelClass::TrendStationary => Some(0),
        ModelClass::UnitRoot => Some(1),
        ModelClass::TwoUnitRoots => Some(2),
        ModelClass::Broken => None,
    }
}

/// The order of integration by ADF alone, and where KPSS agrees with it.
fn by_tests(y: &[f64]) -> (usize, Option<usize>) {
    let mut x = y.to_vec();
    for times in 0..3 {
        let terms = if times == 0 {
            kandrel_core::nulldist::Terms::Trend
        } else {
            kandrel_core::nulldist::Terms::Constant
        };
        let rejects =
            adf(&x, &AdfOptions { terms, ..AdfOptions::default() }).is_ok_and(|test| test.rejects(0.05));
        let stationary =
            kpss(&x, &KpssOptions { terms, ..KpssOptions::default() }).is_ok_and(|test| !test.rejects(0.05));
        if rejects {
            return (times, stationary.then_some(times));
        }
        if times == 0 && stationary {
            // Neither null is rejected at the level: the pair does not say.
            return (1, None);
        }
        x = x.windows(2).map(|pair| pair[1] - pair[0]).collect();
    }
    (2, Some(2))
}

/// The section of the report, `draws` series for each process and size.
pub fn table(draws: u64, only: &str) -> String {
    let mut out = format!(
        "## How often the verdict is right\n\nOf {draws} series of each process and length (per cent), the most probable class \
         of models is the true one; beside it the order of integration by ADF alone at 5 %, and by ADF where KPSS agrees (a \
         break has no order). The last two columns: how many verdicts have that confidence, and how many of these are right. \
         The prior odds of the models were fitted to series of random parameters (`kandrel-nulls penalties`), never to these. A \
         level break of 5 compares with an innovation standard deviation of 1; an AR(1) with 0.97 cannot be distinguished from a unit root by any test; long \
         memory with d = 0.4 counts as stationary.\n\n",
    );
    out.push_str(
        "| process | n | right | ADF alone | ADF with KPSS | high: share, right | moderate: share, right |\n| --- | --- | --- | --- | --- | --- | --- |\n",
    );
    let mut pooled = vec![(0.0, 0.0, 0.0, 0.0); SIZES.len()];
    for process in PROCESSES.iter().filter(|process| process.name.contains(only)) {
        for (n, pool) in SIZES.into_iter().zip(&mut pooled) {
            let calls: Vec<Call> =
                (0..draws).into_par_iter().filter_map(|number| call(process, number, n)).collect();
            let count = calls.len().max(1) as f64;
            let share = |test: &dyn Fn(&Call) -> bool| calls.iter().filter(|one| test(one)).count() as f64;
            let right = share(&|one| one.right);
            let high = share(&|one| one.confidence == Confidence::High);
            let high_right = share(&|one| one.confidence == Confidence::High && one.right);
            let moderate = share(&|one| one.confidence == Confidence::Moderate);
            let moderate_right = share(&|one| one.confidence == Confidence::Moderate && one.right);
            *pool = (pool.0 + high, pool.1 + high_right, pool.2 + moderate, pool.3 + moderate_right);
            let percent = |part: f64, whole: f64| {
                if whole > 0.0 { format!("{:.0}", 100.0 * part / whole) } else { "-".to_owned() }
            };
            let _ = writeln!(
                out,
                "| {} | {n} | {} | {} | {} | {}, {} | {}, {} |",
                process.name,
                percent(right, count),
                percent(share(&|one| one.adf_alone), count),
                percent(share(&|one| one.adf_with_kpss), count),
                percent(high, count),
                percent(high_right, high),
                percent(moderate, count),
                percent(moderate_right, moderate),
            );
        }
    }
    for (n, (high, high_right, moderate, moderate_right)) in SIZES.into_iter().zip(pooled) {
        let _ = writeln!(
            out,
            "| all of these | {n} | | | | high {:.1} right | moderate {:.1} right |",
            100.0 * high_right / high.max(1.0),
            100.0 * moderate_right / moderate.max(1.0)
        );
    }
    out
}
