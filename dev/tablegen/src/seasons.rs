//! How the likelihood tells seasons that stay from seasons that change.

use std::fmt::Write as _;

use kandrel_core::arima::season_changes;
use kandrel_core::num::rng::NormalStream;
use rayon::prelude::*;

const SEED: u64 = 73_303;
const BURN_IN: usize = 240;

/// Where a series comes from: φ of its noise, whether that is summed up, θ of its changes, and Θ of
/// a season that changes, if it does.
struct Process {
    name: &'static str,
    phi: f64,
    walks: bool,
    theta: f64,
    seasonal: Option<f64>,
}

const fn of(name: &'static str, phi: f64, walks: bool, theta: f64, seasonal: Option<f64>) -> Process {
    Process { name, phi, walks, theta, seasonal }
}

const PROCESSES: [Process; 8] = [
    of("fixed, white noise", 0.0, false, 0.0, None),
    of("fixed, AR 0.5", 0.5, false, 0.0, None),
    of("fixed, random walk", 0.0, true, 0.0, None),
    of("fixed, (0,1,1) −0.4", 0.0, true, -0.4, None),
    of("changing, Θ −0.3, (0,1,1) −0.4", 0.0, true, -0.4, Some(-0.3)),
    of("changing, Θ −0.6, (0,1,1) −0.4", 0.0, true, -0.4, Some(-0.6)),
    of("changing, Θ −0.8, (0,1,1) −0.4", 0.0, true, -0.4, Some(-0.8)),
    of("changing, Θ −0.6, AR 0.6", 0.6, false, 0.0, Some(-0.6)),
];

impl Process {
    fn path(&self, season: usize, n: usize, stream: u64) -> Vec<f64> {
        let e = NormalStream::new(SEED, stream).take(n + BURN_IN);
        let lagged = |list: &[f64], t: usize, lag: usize| t.checked_sub(lag).map_or(0.0, |at| list[at]);
        // The noise, with the moving average of the season.
        let mut w: Vec<f64> = Vec::with_capacity(e.len());
        let moving: Vec<f64> = (0..e.len()).map(|t| e[t] + self.theta * lagged(&e, t, 1)).collect();
        for t in 0..e.len() {
            let seasonal = self.seasonal.map_or(0.0, |theta| theta * lagged(&moving, t, season));
            let next = self.phi * lagged(&w, t, 1) + moving[t] + seasonal;
            w.push(next);
        }
        let mut y = w.split_off(BURN_IN);
        if self.walks {
            for t in 1..n {
                y[t] += y[t - 1];
            }
        }
        for t in 0..n {
            y[t] += match self.seasonal {
                Some(_) => lagged(&y, t, season),
                // A fixed pattern that sums to nought.
                None => [3.0, -1.0, 0.5, -2.5][t % season % 4],
            };
        }
        y
    }
}

/// The table.
pub fn section(draws: u64) -> String {
    let mut out = format!(
        "## Seasons that stay and seasons that change\n\n\
         {draws} series each: quantiles of the likelihood ratio that the verdict asks (Θ = −1 against Θ above it, \
         `arima/fixed_season.rs`), and the share above its limit of 2, which calls a season changing.\n\n\
         | s | n | series | 50 % | 90 % | 95 % | called changing |\n\
         | ---: | ---: | --- | ---: | ---: | ---: | ---: |\n"
    );
    for (season, n) in [(4, 60), (4, 120), (4, 200), (12, 120), (12, 200), (12, 288)] {
        for (number, process) in PROCESSES.iter().enumerate() {
            let mut ratios: Vec<f64> = (0..draws)
                .into_par_iter()
                .filter_map(|draw| {
                    season_changes(&process.path(season, n, 100_000 * number as u64 + draw), season)
                })
                .collect();
            ratios.sort_by(f64::total_cmp);
            let at = |share: f64| {
                // A share of a length that fits.
                #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
                let place = (share * (ratios.len().max(1) - 1) as f64) as usize;
                ratios.get(place).copied().unwrap_or_default()
            };
            let above = ratios.iter().filter(|ratio| **ratio > 2.0).count();
            let share = 100.0 * above as f64 / ratios.len().max(1) as f64;
            // Writing to a string cannot fail.
            let _ = writeln!(
                out,
                "| {season} | {n} | {} | {:.2} | {:.2} | {:.2} | {share:.1} % |",
                process.name,
                at(0.5),
                at(0.9),
                at(0.95)
            );
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_changing_season_is_what_its_differences_leave() {
        let process = &PROCESSES[7];
        let y = process.path(12, 3_000, 1);
        let w: Vec<f64> = y.iter().skip(12).zip(&y).map(|(now, then)| now - then).collect();
        // AR 0.6 times a moving average of -0.6 a season apart: the autocorrelation at lag 12 is near
        // -0.6 / 1.36.
        let square: f64 = w.iter().map(|value| value * value).sum();
        let product: f64 = w.iter().skip(12).zip(&w).map(|(a, b)| a * b).sum();
        assert!((product / square + 0.44).abs() < 0.06, "{}", product / square);
    }
}
