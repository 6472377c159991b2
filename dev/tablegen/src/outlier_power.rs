//! How often the search for outliers is right on seasonal series of known noise.

use std::f64::consts::TAU;
use std::fmt::Write as _;

use kandrel_core::num::rng::NormalStream;
use kandrel_core::outlier::{EventKind, Method, OutlierOptions, Outliers, find};
use rayon::prelude::*;

const SEED: u64 = 83_011;
const SEASON: usize = 12;

/// What surrounds trend and season.
#[derive(Clone, Copy)]
enum Noise {
    /// An autoregression, scaled to a standard deviation of one.
    Autoregression(f64),
    /// A random walk with steps of one.
    Walk,
}

impl Noise {
    fn name(self) -> String {
        match self {
            Self::Autoregression(phi) if phi.abs() < 1e-9 => "white".to_owned(),
            Self::Autoregression(phi) => format!("AR(1), {phi}"),
            Self::Walk => "random walk".to_owned(),
        }
    }

    fn path(self, n: usize, stream: u64) -> Vec<f64> {
        let shocks = NormalStream::new(SEED, stream).take(n);
        let (phi, scale) = match self {
            Self::Autoregression(phi) => (phi, (1.0 - phi * phi).sqrt()),
            Self::Walk => (1.0, 1.0),
        };
        let mut level = 0.0;
        shocks
            .iter()
            .map(|shock| {
                level = phi * level + scale * shock;
                level
            })
            .collect()
    }
}

/// A trend, a season of two waves and the noise.
fn clean(noise: Noise, n: usize, stream: u64) -> Vec<f64> {
    let with = |(t, e): (usize, f64)| {
        let angle = TAU * (t % SEASON) as f64 / SEASON as f64;
        40.0 + 0.05 * t as f64 + 4.0 * angle.sin() + 2.0 * (2.0 * angle).cos() + e
    };
    noise.path(n, stream).into_iter().enumerate().map(with).collect()
}

fn search(y: &[f64]) -> Option<Outliers> {
    find(y, &OutlierOptions { season: SEASON, methods: Method::ALL.to_vec() }).ok()
}

/// The section of the validation report.
pub fn section(draws: u64) -> String {
    let mut out = format!(
        "## How often outliers are found, and found where there are none\n\n\
         {draws} seasonal series (s = 12, a trend, noise of standard deviation one; steps of one for the walk), searched \
         as `outliers` does by default; then the same with one value moved by five, and with a level shift of five in the \
         middle. False marks are those a series without outliers, as a mean.\n\n\
         | noise | n | false marks | of these shifts | value of 5 found | shift of 5 found, within one period |\n\
         | --- | ---: | ---: | ---: | ---: | ---: |\n"
    );
    for noise in [Noise::Autoregression(0.0), Noise::Autoregression(0.5), Noise::Walk] {
        for n in [60, 120, 288] {
            row(&mut out, noise, n, draws);
        }
    }
    out
}

fn row(out: &mut String, noise: Noise, n: usize, draws: u64) {
    let streams = || (0..draws).into_par_iter();
    let marks = |stream: u64, shifts_only: bool| {
        let found = search(&clean(noise, n, stream));
        let counted = |kind: EventKind| !shifts_only || kind == EventKind::LevelShift;
        found.map_or(0, |found| found.marked().filter(|one| counted(one.kind)).count())
    };
    let mean =
        |shifts_only| streams().map(|stream| marks(stream, shifts_only)).sum::<usize>() as f64 / draws as f64;
    // Away from both ends by half a year, each place in turn.
    let place = |stream: u64| 6 + usize::try_from(stream).unwrap_or_default() * 37 % (n - 12);
    let value_found = |stream: &u64| {
        let mut y = clean(noise, n, *stream);
        y[place(*stream)] += 5.0;
        search(&y).is_some_and(|found| found.marked().any(|one| one.place == place(*stream)))
    };
    let shift_found = |stream: &u64| {
        let mut y = clean(noise, n, *stream);
        y[n / 2..].iter_mut().for_each(|value| *value += 5.0);
        let near = |place: usize| place.abs_diff(n / 2) <= 1;
        let is = |kind: EventKind| kind == EventKind::LevelShift;
        search(&y).is_some_and(|found| found.marked().any(|one| near(one.place) && is(one.kind)))
    };
    let share = |count: usize| 100.0 * count as f64 / draws as f64;
    // Writing to a string cannot fail.
    let _ = writeln!(
        out,
        "| {} | {n} | {:.3} | {:.3} | {:.1} % | {:.1} % |",
        noise.name(),
        mean(false),
        mean(true),
        share(streams().filter(value_found).count()),
        share(streams().filter(shift_found).count())
    );
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn noise_has_the_spread_it_says() {
        for noise in [Noise::Autoregression(0.0), Noise::Autoregression(0.5)] {
            let path = noise.path(20_000, 3);
            let squares: f64 = path.iter().map(|e| e * e).sum();
            assert!((squares / 20_000.0 - 1.0).abs() < 0.05);
        }
    }

    #[test]
    fn the_section_has_a_row_for_each_noise_and_size() {
        let text = section(2);
        assert_eq!(text.lines().filter(|line| line.starts_with("| ")).count(), 2 + 9, "{text}");
    }
}
