//! How often ordinary and seasonal differences are both right: named processes, and series of random parameters.

use kandrel_core::num::rng::NormalStream;
use kandrel_core::verdict::{AssessOptions, Confidence, Verdict, assess};
use rayon::prelude::*;

use crate::verdicts::cumulated;

const SEED: u64 = 73_303;
/// Values left out until the start is forgotten.
const BURN: usize = 360;
/// Innovations are chi-squared of this many degrees in the denominator where they have heavy tails.
const DEGREES: usize = 4;

/// A seasonal process with its differences.
#[derive(Debug, Clone, Default)]
pub struct Process {
    name: String,
    differences: [usize; 2],
    ar: Vec<f64>,
    ma: Vec<f64>,
    seasonal_ar: f64,
    seasonal_ma: f64,
    /// Standard deviation of a fixed pattern, in units of the innovations'; every value of it is normal.
    pattern: f64,
    slope: f64,
    extra: Extra,
}

/// What a process has in addition.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
enum Extra {
    #[default]
    Nothing,
    LevelShift,
    Outlier,
    PatternChange,
    /// The variance of the innovations rises ninefold half-way.
    Volatility,
    HeavyTails,
}

fn of(name: &str, differences: [usize; 2], ar: &[f64], ma: &[f64]) -> Process {
    Process { name: name.to_owned(), differences, ar: ar.to_vec(), ma: ma.to_vec(), ..Process::default() }
}

impl Process {
    fn seasonal(self, ar: f64, ma: f64) -> Self {
        Self { seasonal_ar: ar, seasonal_ma: ma, ..self }
    }

    fn about(self, pattern: f64, slope: f64) -> Self {
        Self { pattern, slope, ..self }
    }

    fn with(self, extra: Extra) -> Self {
        Self { extra, ..self }
    }

    fn path(&self, season: usize, n: usize, stream: u64) -> Vec<f64> {
        let e = self.innovations(n + BURN, stream);
        let mut x = seasonal_mixture(self, season, &e);
        if self.differences[1] > 0 {
            for t in season..x.len() {
                x[t] += x[t - season];
            }
        }
        // Two unit roots would forget everything else over a long start.
        for times in 0..self.differences[0] {
            if times > 0 {
                x = x.split_off(BURN);
            }
            x = cumulated(x);
        }
        let mut y = x.split_off(x.len() - n);
        let pattern = NormalStream::new(SEED + 1, stream).take(2 * season);
        for (t, value) in y.iter_mut().enumerate() {
            let changed = self.extra == Extra::PatternChange && 2 * t >= n;
            let place = t % season + if changed { season } else { 0 };
            *value += self.pattern * pattern[place] + self.slope * t as f64;
            match self.extra {
                Extra::LevelShift if 5 * t >= 3 * n => *value += 6.0,
                Extra::Outlier if t == 3 * n / 5 => *value += 10.0,
                _ => {}
            }
        }
        y
    }

    fn innovations(&self, n: usize, stream: u64) -> Vec<f64> {
        let z = NormalStream::new(SEED, stream).take((DEGREES + 1) * n);
        let heavy = |q: &[f64]| q[0] / (q[1..].iter().map(|v| v * v).sum::<f64>() / DEGREES as f64).sqrt();
        let mut e: Vec<f64> = match self.extra {
            Extra::HeavyTails => z.chunks(DEGREES + 1).map(heavy).collect(),
            _ => z.into_iter().take(n).collect(),
        };
        if self.extra == Extra::Volatility {
            e.iter_mut().skip(BURN + (n - BURN) / 2).for_each(|value| *value *= 3.0);
        }
        e
    }
}

/// `φ(B) Φ(B^s) x = θ(B) Θ(B^s) e`.
fn seasonal_mixture(process: &Process, season: usize, e: &[f64]) -> Vec<f64> {
    let filter = |input: Vec<f64>, ar: &[f64], ma: &[f64], step: usize| {
        let mut out: Vec<f64> = Vec::with_capacity(input.len());
        for t in 0..input.len() {
            let past = |list: &[f64], weights: &[f64]| -> f64 {
                let lagged =
                    |(i, weight): (usize, &f64)| t.checked_sub(i * step).map_or(0.0, |at| weight * list[at]);
                (1..).zip(weights).map(lagged).sum()
            };
            out.push(input[t] + past(&input, ma) + past(&out, ar));
        }
        out
    };
    let short = filter(e.to_vec(), &process.ar, &process.ma, 1);
    filter(short, &[process.seasonal_ar], &[process.seasonal_ma], season)
}

/// Weights of a cycle of this modulus and period.
fn cycle(modulus: f64, period: f64) -> [f64; 2] {
    [2.0 * modulus * (2.0 * std::f64::consts::PI / period).cos(), -modulus * modulus]
}

fn processes(season: usize) -> Vec<Process> {
    let near = cycle(0.92, season as f64 * 0.93);
    vec![
        of("(0,1,1)(0,1,1) −0.4, −0.56", [1, 1], &[], &[-0.4]).seasonal(0.0, -0.56),
        of("(0,1,1)(0,1,1) −0.8, −0.6", [1, 1], &[], &[-0.8]).seasonal(0.0, -0.6),
        of("(0,1,1)(0,1,1) −0.3, −0.5", [1, 1], &[], &[-0.3]).seasonal(0.0, -0.5),
        of("(0,1,1)(0,1,1) −0.4, −0.85", [1, 1], &[], &[-0.4]).seasonal(0.0, -0.85),
        of("(0,1,1)(0,1,1) 0.3, −0.3", [1, 1], &[], &[0.3]).seasonal(0.0, -0.3),
        of("(1,1,0)(0,1,1) 0.5, −0.6", [1, 1], &[0.5], &[]).seasonal(0.0, -0.6),
        of("(1,0,0)(0,1,1) 0.6, −0.5", [0, 1], &[0.6], &[]).seasonal(0.0, -0.5),
        of("(1,0,0)(0,1,1) 0.9, −0.6, drift", [0, 1], &[0.9], &[]).seasonal(0.0, -0.6).about(0.0, 0.1),
        of("(0,0,0)(0,1,0)", [0, 1], &[], &[]),
        of("pattern, random walk", [1, 0], &[], &[]).about(2.0, 0.0),
        of("pattern, random walk, drift", [1, 0], &[], &[]).about(2.0, 0.3),
        of("pattern, (0,1,1) −0.6", [1, 0], &[], &[-0.6]).about(2.0, 0.0),
        of("pattern, (1,1,0) 0.5", [1, 0], &[0.5], &[]).about(2.0, 0.0),
        of("(0,1,0)(1,0,0) 0.5", [1, 0], &[], &[]).seasonal(0.5, 0.0),
        of("random walk", [1, 0], &[], &[]),
        of("(0,1,1) −0.5", [1, 0], &[], &[-0.5]),
        of("pattern, white noise", [0, 0], &[], &[]).about(2.0, 0.0),
        of("pattern, AR 0.5", [0, 0], &[0.5], &[]).about(2.0, 0.0),
        of("pattern, trend, AR 0.5", [0, 0], &[0.5], &[]).about(2.0, 0.1),
        of("(1,0,0)(1,0,0) 0.5, 0.5", [0, 0], &[0.5], &[]).seasonal(0.5, 0.0),
        of("pattern, (0,0,0)(1,0,0) 0.7", [0, 0], &[], &[]).seasonal(0.7, 0.0).about(1.0, 0.0),
        of("white noise", [0, 0], &[], &[]),
        of("AR 0.5", [0, 0], &[0.5], &[]),
        of("AR 0.9", [0, 0], &[0.9], &[]),
        of("cycle near the season", [0, 0], &near, &[]),
        of("pattern, AR 0.5, level shift of 6", [0, 0], &[0.5], &[]).about(2.0, 0.0).with(Extra::LevelShift),
        of("pattern, AR 0.5, outlier of 10", [0, 0], &[0.5], &[]).about(2.0, 0.0).with(Extra::Outlier),
        of("(0,2,2)(0,1,1)", [2, 1], &[], &[-0.8, 0.15]).seasonal(0.0, -0.6),
        of("pattern, (0,2,1) −0.5", [2, 0], &[], &[-0.5]).about(2.0, 0.0),
        of("pattern that changes once, AR 0.5", [0, 0], &[0.5], &[])
            .about(2.0, 0.0)
            .with(Extra::PatternChange),
        of("pattern, random walk, variance × 9 at half", [1, 0], &[], &[])
            .about(2.0, 0.0)
            .with(Extra::Volatility),
        of("pattern, random walk, t(4)", [1, 0], &[], &[]).about(2.0, 0.0).with(Extra::HeavyTails),
        of("pattern, AR 0.5, t(4)", [0, 0], &[0.5], &[]).about(2.0, 0.0).with(Extra::HeavyTails),
    ]
}

/// A process whose differences and parameters are random.
fn random(number: u64) -> Process {
    // Uniform numbers from pairs of normal ones.
    let z = NormalStream::new(SEED + 2, number).take(24);
    let mut uniform = z.chunks(2).map(|pair| 0.5 + pair[0].atan2(pair[1]) / (2.0 * std::f64::consts::PI));
    let mut next = move |low: f64, high: f64| low + (high - low) * uniform.next().unwrap_or(0.5);
    let which = next(0.0, 1.0);
    let shares =
        [([0, 0], 0.26), ([1, 0], 0.54), ([0, 1], 0.70), ([1, 1], 0.96), ([2, 1], 0.98), ([2, 0], 1.01)];
    let differences = shares.iter().find(|(_, share)| which < *share).map_or([0, 0], |(own, _)| *own);
    let family = next(0.0, 1.0);
    let (ar, ma) = match (family, differences[0]) {
        (f, 0) if f < 0.45 => (vec![next(0.0, 0.95)], vec![]),
        (f, 0) if f < 0.7 => (vec![next(0.2, 0.95)], vec![next(-0.6, 0.6)]),
        (f, _) if f < 0.4 => (vec![], vec![next(-0.8, 0.5)]),
        (f, _) if f < 0.7 => (vec![next(-0.4, 0.7)], vec![]),
        _ => (cycle(next(0.4, 0.92), next(2.5, 24.0)).to_vec(), vec![]),
    };
    let fixed = differences[1] == 0;
    let kind = next(0.0, 1.0);
    let seasonal_ar = if fixed && kind < 0.25 { next(0.2, 0.9) } else { 0.0 };
    let seasonal_ma = if fixed { 0.0 } else { next(-0.9, 0.1) };
    let pattern = if fixed && kind < 0.75 { next(0.5, 4.0) } else { 0.0 };
    let slope = if kind > 0.5 { next(-0.3, 0.3) } else { 0.0 };
    Process {
        name: String::new(),
        differences,
        ar,
        ma,
        seasonal_ar,
        seasonal_ma,
        pattern,
        slope,
        extra: Extra::Nothing,
    }
}

/// Orders and deterministic terms of a process, as a model that knows them has them.
#[derive(Debug, Clone, PartialEq)]
pub struct Truth {
    /// p, d, q.
    pub orders: [usize; 3],
    /// P, D, Q; zeros without a season.
    pub seasonal: [usize; 3],
    /// Whether there is a linear trend.
    pub has_slope: bool,
    /// Whether there is a fixed seasonal pattern.
    pub has_pattern: bool,
    /// Whether the level shifts at three fifths.
    pub has_shift: bool,
}

/// A path of random differences and parameters, with its truth: every fifth has heavy tails, every fifth a level shift.
pub fn random_path(season: usize, n: usize, number: u64) -> (Vec<f64>, Truth) {
    let extra = match number % 5 {
        3 => Extra::HeavyTails,
        4 => Extra::LevelShift,
        _ => Extra::Nothing,
    };
    let own = random(number).with(extra);
    let present = |weight: f64| usize::from(weight != 0.0);
    let (short, long) = (
        [own.ar.len(), own.differences[0], own.ma.len()],
        [present(own.seasonal_ar), own.differences[1], present(own.seasonal_ma)],
    );
    // Without a season its factors are further ones of lag one.
    let (orders, seasonal) =
        if season > 1 { (short, long) } else { ([0, 1, 2].map(|k| short[k] + long[k]), [0; 3]) };
    let truth = Truth {
        orders,
        seasonal,
        has_slope: own.slope != 0.0,
        has_pattern: season > 1 && own.pattern != 0.0,
        has_shift: extra == Extra::LevelShift,
    };
    (own.path(season, n, 90_000_000 + number), truth)
}

/// How many verdicts are right, by confidence from high to low: counts and right ones.
#[derive(Debug, Clone, Copy, Default)]
struct Hits([[f64; 2]; 3]);

impl Hits {
    fn add(&mut self, verdict: &Verdict, differences: [usize; 2]) {
        let own = [verdict.integration, verdict.seasonal_integration.unwrap_or(0)];
        let place = match verdict.confidence {
            Confidence::High => 0,
            Confidence::Moderate => 1,
            Confidence::Low => 2,
        };
        self.0[place][0] += 1.0;
        self.0[place][1] += f64::from(u8::from(own == differences));
    }

    fn plus(mut self, other: Self) -> Self {
        for (own, more) in self.0.iter_mut().zip(other.0) {
            own[0] += more[0];
            own[1] += more[1];
        }
        self
    }

    /// Right ones of all, per cent; share and right ones of the high and of the moderate.
    fn cells(&self) -> String {
        let all: f64 = self.0.iter().map(|one| one[0]).sum();
        let right: f64 = self.0.iter().map(|one| one[1]).sum();
        let of = |[count, right]: [f64; 2]| {
            let correct =
                if count > 0.0 { format!("{:.0}", 100.0 * right / count) } else { "–".to_owned() };
            format!("{:.0}, {correct}", 100.0 * count / all)
        };
        format!("{:.0} | {} | {}", 100.0 * right / all, of(self.0[0]), of(self.0[1]))
    }
}

fn hits(draws: u64, season: usize, n: usize, process: impl Fn(u64) -> (Process, u64) + Sync) -> Hits {
    let one = |number: u64| {
        let (process, stream) = process(number);
        let y = process.path(season, n, stream);
        let mut hits = Hits::default();
        if let Ok(found) = assess(&y, &AssessOptions { season, ..AssessOptions::default() }) {
            hits.add(&found.verdict, process.differences);
        }
        hits
    };
    (0..draws).into_par_iter().map(one).reduce(Hits::default, Hits::plus)
}

/// Seasonal periods and lengths of the tables.
const CELLS: [(usize, usize); 6] = [(12, 72), (12, 144), (12, 240), (4, 60), (4, 100), (4, 200)];

/// Series of random parameters in each cell,
const RANDOM_CELL: u64 = 334;
/// where there is that number of series of each process.
const USUAL: u64 = 100;

/// Cells whose rates are promised, by name, period and length.
const PROMISED: [(&str, usize, &[usize]); 8] = [
    ("(0,1,1)(0,1,1) −0.4, −0.56", 12, &[72, 144, 240]),
    ("(0,1,1)(0,1,1) −0.8, −0.6", 12, &[144, 240]),
    ("(1,0,0)(1,0,0) 0.5, 0.5", 12, &[144, 240]),
    ("pattern, random walk", 12, &[144, 240]),
    ("(0,2,2)(0,1,1)", 12, &[144, 240]),
    ("cycle near the season", 12, &[144, 240]),
    ("cycle near the season", 4, &[60, 100, 200]),
    ("(0,1,1)(0,1,1) −0.3, −0.5", 4, &[100]),
];

/// The hits of a process, each number of series a part of any larger one.
fn of_process(process: &Process, number: usize, [season, n]: [usize; 2], draws: u64) -> Hits {
    let stream = 1_000_000 * (number as u64 + 1) + 10_000 * season as u64;
    hits(draws, season, n, |draw| (process.clone(), stream + draw))
}

/// Adds a row, and shows it at once: the study takes more than an hour.
fn add_row(out: &mut String, of: &str, hits: Hits) {
    let row = format!("| {of} | {} |\n", hits.cells());
    eprint!("{row}");
    out.push_str(&row);
}

/// The hits of series of random parameters.
fn of_random(season: usize, n: usize, draws: u64) -> Hits {
    hits(draws, season, n, |draw| {
        let number = 100_000 * (n as u64) + draw;
        (random(number), 77_000_000 + number)
    })
}

/// The rows of random parameters alone, which take a tenth of the time.
pub fn random_rows() -> String {
    let mut out = String::new();
    let all = CELLS.iter().fold(Hits::default(), |all, (season, n)| {
        let own = of_random(*season, *n, RANDOM_CELL);
        add_row(&mut out, &format!("random parameters | {season} | {n}"), own);
        all.plus(own)
    });
    add_row(&mut out, "random parameters, all | 4, 12 | 60 to 240", all);
    out
}

/// The table of the promised cells.
pub fn promised(draws: u64) -> String {
    let mut out = PROMISED_HEAD.replace("DRAWS", &draws.to_string());
    for (name, season, lengths) in PROMISED {
        let all = processes(season);
        let Some((number, process)) = all.iter().enumerate().find(|(_, own)| own.name == name) else {
            continue;
        };
        for n in lengths {
            let own = of_process(process, number, [season, *n], draws);
            add_row(&mut out, &format!("{name} | {season} | {n}"), own);
        }
    }
    out
}

/// Both tables.
pub fn section(draws: u64) -> String {
    let of_cell = (RANDOM_CELL * draws).div_ceil(USUAL);
    let mut out = HEAD
        .replace("DRAWS", &draws.to_string())
        .replace("RANDOM_CELL", &of_cell.to_string())
        .replace("RANDOM_ALL", &(of_cell * CELLS.len() as u64).to_string());
    let mut all_random = Hits::default();
    for (season, n) in CELLS {
        let mut pooled = Hits::default();
        for (number, process) in processes(season).into_iter().enumerate() {
            let own = of_process(&process, number, [season, n], draws);
            pooled = pooled.plus(own);
            add_row(&mut out, &format!("{} | {season} | {n}", process.name), own);
        }
        add_row(&mut out, &format!("all of these | {season} | {n}"), pooled);
        let fresh = of_random(season, n, of_cell);
        all_random = all_random.plus(fresh);
        add_row(&mut out, &format!("random parameters | {season} | {n}"), fresh);
    }
    add_row(&mut out, "random parameters, all | 4, 12 | 60 to 240", all_random);
    out + &promised(4 * draws)
}

const HEAD: &str = "\
## Differences of seasonal series

DRAWS series of each process and length, innovations of variance one, and RANDOM_CELL of random parameters (RANDOM_ALL in
all): per cent whose ordinary and seasonal differences (d, D) are both right; and of the verdicts with high and with moderate
confidence how many there are and how many of these are right, per cent. The priors of the rule (`verdict/joint/prior.rs`) were set before.

| process | s | n | right | high: share, right | moderate: share, right |
| --- | ---: | ---: | ---: | --- | --- |
";

const PROMISED_HEAD: &str = "
The cells whose rates are promised, DRAWS series each:

| process | s | n | right | high: share, right | moderate: share, right |
| --- | ---: | ---: | ---: | --- | --- |
";

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_promised_cell_is_one_of_the_processes() {
        for (name, season, lengths) in PROMISED {
            assert!(processes(season).iter().any(|process| process.name == name), "{name}");
            assert!(lengths.iter().all(|n| CELLS.contains(&(season, *n))), "{name}");
        }
    }

    #[test]
    fn seasonal_differences_leave_the_moving_average() {
        let process = of("", [0, 1], &[0.6], &[]).seasonal(0.0, -0.6);
        let y = process.path(12, 3_000, 1);
        let w: Vec<f64> = y.iter().skip(12).zip(&y).map(|(now, then)| now - then).collect();
        // AR 0.6 times a moving average of -0.6 a season apart: the autocorrelation at lag 12 is near
        // -0.6 / 1.36.
        let square: f64 = w.iter().map(|value| value * value).sum();
        let product: f64 = w.iter().skip(12).zip(&w).map(|(a, b)| a * b).sum();
        assert!((product / square + 0.44).abs() < 0.06, "{}", product / square);
    }

    #[test]
    fn random_processes_are_stationary_after_their_differences() {
        for number in 0..200 {
            let process = random(number);
            let plain = Process { differences: [0, 0], slope: 0.0, ..process.clone() };
            let y = plain.path(12, 240, number);
            assert!(y.iter().all(|value| value.abs() < 200.0), "{process:?}");
        }
    }

    #[test]
    fn hits_are_counted_by_confidence() {
        let hits = Hits([[10.0, 9.0], [5.0, 4.0], [5.0, 1.0]]);
        assert_eq!(hits.plus(Hits::default()).cells(), "70 | 50, 90 | 25, 80");
    }
}
