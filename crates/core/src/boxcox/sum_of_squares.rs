//! The least conditional sum of squares of a small seasonal model.

use nalgebra::{Matrix3, Vector3};

/// The coefficients φ, θ and Θ, and their sum of squares.
#[derive(Debug, Clone, Copy)]
pub struct Dynamics {
    pub coefficients: Vector3<f64>,
    pub sum: f64,
}

/// Coefficients stay this far inside of one.
const BOUND: f64 = 0.98;

/// Damped least squares ends after that number of steps.
const STEPS: usize = 40;

/// Minimises the sum of squares of `e` in
/// `(1-φB) w_t = (1+θB)(1+ΘB^s) e_t`, values before the first taken as zero, by
/// damped least squares (Levenberg 1944, Marquardt 1963); `season` 0 leaves Θ out.
pub fn least_sum(w: &[f64], season: usize) -> Dynamics {
    let mut best =
        Dynamics { coefficients: Vector3::zeros(), sum: sum(&errors(w, season, &Vector3::zeros())) };
    let mut damping = 1e-3;
    for _ in 0..STEPS {
        let e = errors(w, season, &best.coefficients);
        let (square, slope) = normal_equations(w, season, &best.coefficients, &e);
        let damped = square + Matrix3::from_diagonal(&square.diagonal().add_scalar(1e-12)) * damping;
        let Some(step) = damped.lu().solve(&slope) else {
            break;
        };
        let moved = (best.coefficients - step).map(|value| value.clamp(-BOUND, BOUND));
        let reached = sum(&errors(w, season, &moved));
        if reached < best.sum {
            let gain = 1.0 - reached / best.sum;
            best = Dynamics { coefficients: moved, sum: reached };
            damping *= 0.1;
            if gain < 1e-10 {
                break;
            }
        } else {
            damping *= 10.0;
            if damping > 1e8 {
                break;
            }
        }
    }
    best
}

fn sum(e: &[f64]) -> f64 {
    e.iter().map(|value| value * value).sum()
}

fn errors(w: &[f64], season: usize, coefficients: &Vector3<f64>) -> Vec<f64> {
    let [phi, theta, seasonal] = [coefficients[0], coefficients[1], coefficients[2]];
    let mut e = vec![0.0; w.len()];
    for t in 0..w.len() {
        let before = |values: &[f64], lag: usize| t.checked_sub(lag).map_or(0.0, |earlier| values[earlier]);
        let mut error = w[t] - phi * before(w, 1) - theta * before(&e, 1);
        if season > 0 {
            error -= seasonal * (before(&e, season) + theta * before(&e, season + 1));
        }
        e[t] = error;
    }
    e
}

/// `J'J` and `J'e`, with the derivatives J of the errors by small differences.
fn normal_equations(
    w: &[f64],
    season: usize,
    coefficients: &Vector3<f64>,
    e: &[f64],
) -> (Matrix3<f64>, Vector3<f64>) {
    const SMALL: f64 = 1e-6;
    let derivative = |place: usize| -> Vec<f64> {
        let mut moved = *coefficients;
        moved[place] += SMALL;
        errors(w, season, &moved).iter().zip(e).map(|(a, b)| (a - b) / SMALL).collect()
    };
    let columns = [derivative(0), derivative(1), derivative(2)];
    let product = |a: &[f64], b: &[f64]| -> f64 { a.iter().zip(b).map(|(x, y)| x * y).sum() };
    let square = Matrix3::from_fn(|row, column| product(&columns[row], &columns[column]));
    (square, Vector3::from_fn(|row, _| product(&columns[row], e)))
}
