//! A smooth curve through a scatter of points.

use crate::num::scale::quantile;

/// Points closer together than this share of the range share their fits.
const NEAR: f64 = 0.005;

/// How a curve is smoothed.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LowessOptions {
    /// Share of the points in every local fit.
    pub span: f64,
    /// Rounds that weigh down points far from the curve.
    pub robust_rounds: usize,
}

impl Default for LowessOptions {
    fn default() -> Self {
        Self { span: 2.0 / 3.0, robust_rounds: 2 }
    }
}

/// A smooth curve through scattered points: their places in order of x and the curve
/// there.
///
/// # Formula
/// At each place a straight line by weighted least squares to the nearest share `span` of
/// the points, weights `(1 - (d/h)³)³` for a point at distance d where the farthest of them
/// is at h; then `robust_rounds` times the same with the weights multiplied by
/// `(1 - (e/6s)²)²` for residual e and s the median of all |e|.
///
/// # Input
/// Finite points; `None` for fewer than three, or all at one place.
///
/// # Numerics
/// A fit costs as many steps as it has points; places nearer to each other than 1/200 of
/// the range are interpolated, so that there are about 200 fits however many points.
///
/// # References
/// Cleveland (1979), *JASA* 74, 829-836.
pub fn lowess(points: &[(f64, f64)], options: LowessOptions) -> Option<Vec<(f64, f64)>> {
    smooth(points, options, NEAR)
}

fn smooth(points: &[(f64, f64)], options: LowessOptions, near: f64) -> Option<Vec<(f64, f64)>> {
    let mut points = points.to_vec();
    points.sort_by(|a, b| a.0.total_cmp(&b.0));
    let range = points.last()?.0 - points.first()?.0;
    if points.len() < 3 || range <= 0.0 || !range.is_finite() {
        return None;
    }
    // Between two and all of them.
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
    let count = (options.span * points.len() as f64 + 0.5).floor() as usize;
    let count = count.clamp(2, points.len());
    let places = apart(&points, near * range);
    let mut weights = vec![1.0; points.len()];
    let mut curve = fits(&points, &places, count, &weights, range);
    for _ in 0..options.robust_rounds {
        let residuals: Vec<f64> = points.iter().zip(&curve).map(|((_, y), fit)| (y - fit).abs()).collect();
        let mut sorted = residuals.clone();
        sorted.sort_by(f64::total_cmp);
        let scale = 6.0 * quantile(&sorted, 0.5)?;
        if scale <= 0.0 {
            break;
        }
        for (weight, e) in weights.iter_mut().zip(&residuals) {
            *weight = if *e < scale { (1.0 - (e / scale).powi(2)).powi(2) } else { 0.0 };
        }
        curve = fits(&points, &places, count, &weights, range);
    }
    let mut out: Vec<(f64, f64)> = points.iter().zip(&curve).map(|((x, _), fit)| (*x, *fit)).collect();
    out.dedup_by(|later, kept| later.0 <= kept.0);
    Some(out)
}

/// Indices of points that are at least so far apart, the first and the last among them.
fn apart(points: &[(f64, f64)], distance: f64) -> Vec<usize> {
    let mut kept: Vec<usize> = vec![0];
    let mut last = points[0].0;
    for (place, (x, _)) in points.iter().enumerate().skip(1) {
        if x - last > distance || place + 1 == points.len() {
            kept.push(place);
            last = *x;
        }
    }
    kept
}

/// The curve at every point: fitted at the places, between them on straight lines.
fn fits(points: &[(f64, f64)], places: &[usize], count: usize, weights: &[f64], range: f64) -> Vec<f64> {
    let mut window = 0;
    let mut at_places = Vec::with_capacity(places.len());
    for place in places {
        let x = points[*place].0;
        // The window of the nearest moves only to the right.
        while window + count < points.len() && points[window + count].0 - x < x - points[window].0 {
            window += 1;
        }
        let inside = window..window + count;
        at_places.push(local_line(&points[inside.clone()], &weights[inside], x, range));
    }
    let mut curve = Vec::with_capacity(points.len());
    for (ends, fits) in places.windows(2).zip(at_places.windows(2)) {
        let (from, to) = (points[ends[0]].0, points[ends[1]].0);
        for (x, _) in &points[ends[0]..ends[1]] {
            let share = if to > from { (x - from) / (to - from) } else { 0.0 };
            curve.push(fits[0] + share * (fits[1] - fits[0]));
        }
    }
    curve.extend(at_places.last());
    curve
}

/// The weighted line through the points, at x; their weighted mean where they do not
/// determine a slope, their plain mean where no weight is left.
fn local_line(points: &[(f64, f64)], weights: &[f64], x: f64, range: f64) -> f64 {
    let reach = points.iter().fold(0.0, |most: f64, (at, _)| most.max((at - x).abs()));
    let tricube = |at: f64| match (at - x).abs() / reach {
        d if reach <= 0.0 || d < 1e-3 => 1.0,
        d if d > 0.999 => 0.0,
        d => (1.0 - d.powi(3)).powi(3),
    };
    let (mut w, mut wx, mut wy) = (0.0, 0.0, 0.0);
    let local: Vec<f64> = points.iter().zip(weights).map(|((at, _), own)| own * tricube(*at)).collect();
    for ((at, y), weight) in points.iter().zip(&local) {
        w += weight;
        wx += weight * (at - x);
        wy += weight * y;
    }
    if w <= 0.0 {
        return points.iter().map(|(_, y)| y).sum::<f64>() / points.len() as f64;
    }
    let (centre, level) = (wx / w, wy / w);
    let (mut square, mut product) = (0.0, 0.0);
    for ((at, y), weight) in points.iter().zip(&local) {
        let d = at - x - centre;
        square += weight * d * d;
        product += weight * d * (y - level);
    }
    if (square / w).sqrt() <= 1e-3 * range { level } else { level - centre * product / square }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::num::rng::NormalStream;

    fn scattered(n: usize) -> Vec<(f64, f64)> {
        let (x, e) = (NormalStream::new(9, 0).take(n), NormalStream::new(9, 1).take(n));
        x.into_iter().zip(e).map(|(x, e)| (x, x.sin() + 0.3 * e)).collect()
    }

    /// Every fit by its own normal equations, the nearest found by sorting distances.
    fn plain(points: &[(f64, f64)], count: usize) -> Vec<(f64, f64)> {
        let mut points = points.to_vec();
        points.sort_by(|a, b| a.0.total_cmp(&b.0));
        let mut weights = vec![1.0; points.len()];
        let mut curve = Vec::new();
        for round in 0..3 {
            curve = points
                .iter()
                .map(|(x, _)| {
                    let mut distances: Vec<f64> = points.iter().map(|(at, _)| (at - x).abs()).collect();
                    distances.sort_by(f64::total_cmp);
                    let h = distances[count - 1];
                    let [mut s0, mut s1, mut s2, mut t0, mut t1] = [0.0; 5];
                    for ((at, y), own) in points.iter().zip(&weights) {
                        let d = (at - x).abs() / h;
                        if d > 0.999 {
                            continue;
                        }
                        let w = own * if d < 1e-3 { 1.0 } else { (1.0 - d.powi(3)).powi(3) };
                        s0 += w;
                        s1 += w * (at - x);
                        s2 += w * (at - x).powi(2);
                        t0 += w * y;
                        t1 += w * y * (at - x);
                    }
                    (s2 * t0 - s1 * t1) / (s0 * s2 - s1 * s1)
                })
                .collect::<Vec<f64>>();
            if round == 2 {
                break;
            }
            let e: Vec<f64> = points.iter().zip(&curve).map(|((_, y), fit)| (y - fit).abs()).collect();
            let mut sorted = e.clone();
            sorted.sort_by(f64::total_cmp);
            let half = sorted.len() / 2;
            let median = 0.5 * (sorted[half - 1] + sorted[half]);
            weights = e.iter().map(|e| (1.0 - (e / (6.0 * median)).powi(2)).max(0.0).powi(2)).collect();
        }
        points.iter().zip(curve).map(|((x, _), fit)| (*x, fit)).collect()
    }

    #[test]
    fn every_local_fit_is_that_of_the_plain_version() {
        let points = scattered(80);
        let ours = smooth(&points, LowessOptions { span: 0.5, robust_rounds: 2 }, 0.0).expect("points");
        for (ours, plain) in ours.iter().zip(plain(&points, 40)) {
            assert!((ours.1 - plain.1).abs() < 1e-9, "{ours:?} {plain:?}");
        }
    }

    #[test]
    fn a_straight_line_stays_one() {
        let points: Vec<(f64, f64)> = (0..40).map(|t| (f64::from(t), 3.0 - 0.5 * f64::from(t))).collect();
        for (x, fit) in lowess(&points, LowessOptions::default()).expect("points") {
            assert!((fit - (3.0 - 0.5 * x)).abs() < 1e-9);
        }
    }

    #[test]
    fn one_far_point_hardly_moves_it() {
        let mut points: Vec<(f64, f64)> = scattered(101);
        let before = lowess(&points, LowessOptions::default()).expect("points");
        points[50].1 += 100.0;
        let after = lowess(&points, LowessOptions::default()).expect("points");
        let moved = before.iter().zip(&after).map(|(a, b)| (a.1 - b.1).abs()).fold(0.0, f64::max);
        assert!(moved < 0.1, "{moved}");
    }

    #[test]
    fn interpolation_between_near_places_costs_little() {
        let points = scattered(3000);
        let near = lowess(&points, LowessOptions::default()).expect("points");
        let exact = smooth(&points, LowessOptions::default(), 0.0).expect("points");
        let apart = near.iter().zip(&exact).map(|(a, b)| (a.1 - b.1).abs()).fold(0.0, f64::max);
        assert!(apart < 1e-3, "{apart}");
    }

    #[test]
    fn ties_and_degenerate_points_give_a_curve_or_nothing() {
        let ties: Vec<(f64, f64)> = (0..30).map(|t| (f64::from(t % 3), f64::from(t))).collect();
        let curve = lowess(&ties, LowessOptions::default()).expect("three places");
        assert_eq!(curve.len(), 3);
        assert!(curve.iter().all(|(_, fit)| fit.is_finite()));
        assert_eq!(lowess(&[(1.0, 1.0), (1.0, 2.0), (1.0, 3.0)], LowessOptions::default()), None);
        assert_eq!(lowess(&[(1.0, 1.0), (2.0, 2.0)], LowessOptions::default()), None);
    }
}
