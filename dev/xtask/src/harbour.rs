//! The monthly data of Osmere Bay, a harbour that exists only here.
//!
//! Every column has its own stream of random numbers and a known truth.

use std::fmt::Write as _;

use kandrel_core::num::rng::NormalStream;

const SEED: u64 = 2001;
pub const MONTHS: usize = 288;
/// Draws thrown away so that stationary processes forget their start.
const BURN: usize = 120;
const SHIFT_OF_TUGS: usize = 11 * 12 + 5;
const ODD_ICE: usize = 16 * 12 + 7;

/// Name, decimals and values of each column.
pub fn columns() -> [(&'static str, usize, Vec<f64>); 8] {
    [
        ("freight", 1, freight()),
        ("berth_fee", 2, berth_fee()),
        ("waiting", 1, waiting()),
        ("claims", 1, claims()),
        ("tug_hours", 0, tug_hours()),
        ("ice", 1, ice()),
        ("bookings", 0, bookings()[2..].to_vec()),
        ("sailings", 0, sailings()),
    ]
}

/// The whole file.
pub fn csv() -> String {
    let columns = columns();
    let mut out = String::from("month");
    for (name, ..) in &columns {
        out.push(',');
        out.push_str(name);
    }
    out.push('\n');
    for t in 0..MONTHS {
        // Writing to a string cannot fail.
        let _ = write!(out, "{:04}-{:02}", 2001 + t / 12, t % 12 + 1);
        for (_, decimals, values) in &columns {
            let _ = write!(out, ",{:.*}", decimals, values[t]);
        }
        out.push('\n');
    }
    out
}

fn noise(stream: u64, count: usize) -> Vec<f64> {
    NormalStream::new(SEED, stream).take(count)
}

/// An autoregression around zero, started far in the past.
fn autoregression(coefficients: &[f64], shocks: &[f64]) -> Vec<f64> {
    let mut x = vec![0.0; shocks.len()];
    for t in coefficients.len()..shocks.len() {
        let past: f64 = coefficients.iter().zip(1..).map(|(phi, i)| phi * x[t - i]).sum();
        x[t] = past + shocks[t];
    }
    x.split_off(BURN)
}

fn days_in(month: usize) -> f64 {
    let (year, place) = (2001 + month / 12, month % 12);
    let leap = year % 4 == 0 && (year % 100 != 0 || year % 400 == 0);
    let february = if leap { 29.0 } else { 28.0 };
    [31.0, february, 31.0, 30.0, 31.0, 30.0, 31.0, 31.0, 30.0, 31.0, 30.0, 31.0][place]
}

/// Container tonnage in thousands: its logarithm is (0,1,1)(0,1,1)12 with
/// moving-average coefficients -0.4 and -0.6, plus the logarithm of the days.
fn freight() -> Vec<f64> {
    let e = noise(1, MONTHS);
    let at = |values: &[f64], t: usize, lag: usize| if t >= lag { values[t - lag] } else { 0.0 };
    let shape = [-0.16, -0.20, -0.04, 0.02, 0.07, 0.10, 0.12, 0.09, 0.08, 0.04, -0.02, -0.10];
    let mut x: Vec<f64> = (0..MONTHS).map(|t| 4.4 + 0.004 * t as f64 + shape[t % 12]).collect();
    for t in 13..MONTHS {
        let w = at(&e, t, 0) - 0.4 * at(&e, t, 1) - 0.6 * at(&e, t, 12) + 0.24 * at(&e, t, 13);
        x[t] = x[t - 1] + x[t - 12] - x[t - 13] + 0.028 * w;
    }
    x.iter().enumerate().map(|(t, ln)| ln.exp() * days_in(t) / 30.4375).collect()
}

/// Price index: a random walk with drift 0.3 and steps of 1.1.
fn berth_fee() -> Vec<f64> {
    let mut level = 100.0;
    noise(2, MONTHS)
        .iter()
        .map(|e| {
            let now = level;
            level += 0.3 + 1.1 * e;
            now
        })
        .collect()
}

/// Hours at anchor: 14 plus an AR(2) with coefficients 1.2 and -0.6, a cycle of
/// about nine months.
fn waiting() -> Vec<f64> {
    let shocks: Vec<f64> = noise(3, MONTHS + BURN).iter().map(|e| 1.3 * e).collect();
    autoregression(&[1.2, -0.6], &shocks).iter().map(|x| 14.0 + x).collect()
}

/// Insurance claims: independent, mean 42, standard deviation 8.
fn claims() -> Vec<f64> {
    noise(4, MONTHS).iter().map(|e| 42.0 + 8.0 * e).collect()
}

/// Tug hours: a trend of 0.6 a month, AR(1) noise, 90 hours less from 2012-06 on.
fn tug_hours() -> Vec<f64> {
    let shocks: Vec<f64> = noise(5, MONTHS + BURN).iter().map(|e| 14.0 * e).collect();
    autoregression(&[0.4], &shocks)
        .iter()
        .enumerate()
        .map(|(t, x)| 760.0 + 0.6 * t as f64 + x - if t >= SHIFT_OF_TUGS { 90.0 } else { 0.0 })
        .collect()
}

/// Ice sold: a summer peak that moves from July towards September over the
/// years, and an outlier in 2017-08.
fn ice() -> Vec<f64> {
    noise(6, MONTHS)
        .iter()
        .enumerate()
        .map(|(t, e)| {
            let peak = 6.0 + 1.5 * t as f64 / MONTHS as f64;
            let angle = std::f64::consts::TAU * ((t % 12) as f64 - peak) / 12.0;
            let odd = if t == ODD_ICE { -28.0 } else { 0.0 };
            60.0 + 26.0 * angle.cos() + 7.0 * (2.0 * angle).cos() + 2.4 * e + odd
        })
        .collect()
}

/// Bookings: an AR(1) around 240, two months longer than the file.
fn bookings() -> Vec<f64> {
    let shocks: Vec<f64> = noise(7, MONTHS + BURN + 2).iter().map(|e| 18.0 * e).collect();
    autoregression(&[0.6], &shocks).iter().map(|x| 240.0 + x).collect()
}

/// Sailings: half the bookings of two months before, plus 30, plus noise.
fn sailings() -> Vec<f64> {
    let ahead = bookings();
    noise(8, MONTHS).iter().zip(&ahead).map(|(e, b)| 30.0 + 0.5 * b + 4.0 * e).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_committed_file_is_what_the_generator_writes() {
        assert_eq!(csv(), include_str!("../../../crates/cli/src/demo/harbour.csv"));
    }

    #[test]
    fn months_have_their_days() {
        assert!((days_in(1) - 28.0).abs() < 1e-12);
        assert!((days_in(37) - 29.0).abs() < 1e-12, "2004 was a leap year");
    }

    #[test]
    fn sailings_follow_bookings_by_two_months() {
        let (b, s) = (bookings(), sailings());
        // Row t of the file shows bookings t + 2 of the longer series.
        let implied = s.iter().zip(&b).map(|(s, b)| (s - 30.0 - 0.5 * b).abs());
        assert!(implied.fold(0.0, f64::max) < 20.0);
        assert_eq!(csv().lines().count(), MONTHS + 1);
    }
}
