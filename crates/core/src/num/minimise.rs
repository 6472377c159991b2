//! The least value of a smooth function of a few arguments.

/// Where it is least.
#[derive(Debug, Clone, PartialEq)]
pub struct Minimum {
    /// The arguments.
    pub at: Vec<f64>,
    /// The value there.
    pub value: f64,
    /// Whether nothing was left to gain when the search ended: the slope had vanished, or many steps
    /// had gained with nothing.
    pub settled: bool,
    /// The inverse of the curvature, as far as the steps have shown it.
    pub inverse: Vec<Vec<f64>>,
}

/// Where to start from.
#[derive(Debug, Clone, PartialEq)]
pub struct Start {
    /// The arguments.
    pub at: Vec<f64>,
    /// The inverse of the curvature thereabouts, where something is known of it.
    pub inverse: Option<Vec<Vec<f64>>>,
}

impl Start {
    /// Arguments of the same curvature that do not depend on each other.
    pub fn with_inverse(at: Vec<f64>, inverse: f64) -> Self {
        let rows = (0..at.len()).map(|place| row_of(place, at.len(), inverse)).collect();
        Self { at, inverse: Some(rows) }
    }

    /// The same with one argument more, which does not depend on the others.
    #[must_use]
    pub fn with_argument(&self, place: usize, argument: f64, inverse: f64) -> Self {
        let mut own = self.clone();
        own.at.insert(place, argument);
        if let Some(rows) = &mut own.inverse {
            for row in rows.iter_mut() {
                row.insert(place, 0.0);
            }
            rows.insert(place, row_of(place, own.at.len(), inverse));
        }
        own
    }
}

impl From<Vec<f64>> for Start {
    fn from(at: Vec<f64>) -> Self {
        Self { at, inverse: None }
    }
}

impl From<Minimum> for Start {
    fn from(found: Minimum) -> Self {
        Self { at: found.at, inverse: Some(found.inverse) }
    }
}

/// How far a search goes.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Descent {
    /// It ends where the slope promises no more.
    pub tolerance: f64,
    /// The longest step of an argument, once the curvature is known.
    pub longest: f64,
}

/// Steps, at most.
const MOST_STEPS: usize = 200;
/// The longest first step, where nothing is known of the curvature.
const FIRST: f64 = 0.2;
/// Halvings of a step that does not descend, at most.
const MOST_HALVINGS: usize = 30;
/// That number of steps that together gain less than that number of times the tolerance are the last: towards a
/// least value at infinity there is no end of them.
const IDLE_STEPS: usize = 10;
const IDLE_GAIN: f64 = 100.0;
/// A step must gain this share of what the slope promises.
const SUFFICIENT: f64 = 1e-4;

/// Descends from a start by the method of Broyden, Fletcher, Goldfarb and Shanno (1970), with
/// steps halved until they gain enough.
///
/// # Input
/// The search ends where the slope promises no more than the tolerance (`½ g'Hg`), or where many steps
/// have gained with nothing. `function` gives
/// the value and its slope; none, or a value that is not finite, where it is
/// not defined: such a point is not taken. None is returned where the start is such a point.
pub fn minimise_bfgs(
    start: &Start,
    descent: Descent,
    function: impl Fn(&[f64]) -> Option<(f64, Vec<f64>)>,
) -> Option<Minimum> {
    minimise_bfgs_unless(start, descent, function, |_, _| false)
}

/// The same; the search is given up, with none, at a point and value from which it leads to what is known.
pub fn minimise_bfgs_unless(
    start: &Start,
    descent: Descent,
    function: impl Fn(&[f64]) -> Option<(f64, Vec<f64>)>,
    is_known: impl Fn(&[f64], f64) -> bool,
) -> Option<Minimum> {
    let Descent { tolerance, longest: most } = descent;
    let defined = |at: &[f64]| {
        function(at).filter(|(value, slope)| value.is_finite() && slope.iter().all(|g| g.is_finite()))
    };
    let count = start.at.len();
    let mut at = start.at.clone();
    let (mut value, mut slope) = defined(&at)?;
    let mut inverse = start.inverse.clone().unwrap_or_else(|| identity(count));
    // A first direction may have no scale yet.
    let mut scaled = start.inverse.is_some();
    let mut settled = count == 0;
    let mut values = vec![value];
    for _ in 0..MOST_STEPS {
        if is_known(&at, value) {
            return None;
        }
        let mut direction: Vec<f64> = inverse.iter().map(|row| -product(row, &slope)).collect();
        let mut promised = product(&direction, &slope);
        if promised >= 0.0 {
            inverse = identity(count);
            direction = slope.iter().map(|g| -g).collect();
            promised = -product(&slope, &slope);
            scaled = false;
        }
        settled = -0.5 * promised <= tolerance;
        if settled {
            break;
        }
        let longest = direction.iter().fold(0.0, |most: f64, d| most.max(d.abs()));
        let mut length = (if scaled { most } else { FIRST } / longest).min(1.0);
        let mut next = None;
        for _ in 0..MOST_HALVINGS {
            let tried: Vec<f64> = at.iter().zip(&direction).map(|(x, d)| x + length * d).collect();
            next = defined(&tried)
                .filter(|(reached, _)| *reached <= value + SUFFICIENT * length * promised)
                .map(|(reached, own)| (tried, reached, own));
            if next.is_some() {
                break;
            }
            length *= 0.5;
            // Shorter steps cannot gain what counts.
            if -length * promised <= tolerance {
                break;
            }
        }
        let Some((tried, reached, own)) = next else {
            break;
        };
        let moved: Vec<f64> = tried.iter().zip(&at).map(|(a, b)| a - b).collect();
        let turned: Vec<f64> = own.iter().zip(&slope).map(|(a, b)| a - b).collect();
        update(&mut inverse, &moved, &turned, !scaled);
        scaled = true;
        (at, value, slope) = (tried, reached, own);
        values.push(value);
        let earlier = values.iter().rev().nth(IDLE_STEPS);
        settled = earlier.is_some_and(|earlier| earlier - value < IDLE_GAIN * tolerance);
        if settled {
            break;
        }
    }
    Some(Minimum { at, value, settled, inverse })
}

/// The slope by central differences, for functions that do not give theirs.
pub fn with_slope(at: &[f64], function: impl Fn(&[f64]) -> Option<f64>) -> Option<(f64, Vec<f64>)> {
    let value = function(at)?;
    let slope = |place: usize| {
        let step = 1e-5 * at[place].abs().max(1.0);
        let moved = |sign: f64| {
            let mut near = at.to_vec();
            near[place] += sign * step;
            function(&near)
        };
        Some((moved(1.0)? - moved(-1.0)?) / (2.0 * step))
    };
    Some((value, (0..at.len()).map(slope).collect::<Option<_>>()?))
}

fn identity(count: usize) -> Vec<Vec<f64>> {
    (0..count).map(|place| row_of(place, count, 1.0)).collect()
}

/// A row with a value in one place.
fn row_of(place: usize, count: usize, value: f64) -> Vec<f64> {
    (0..count).map(|column| if column == place { value } else { 0.0 }).collect()
}

fn product(a: &[f64], b: &[f64]) -> f64 {
    a.iter().zip(b).map(|(x, y)| x * y).sum()
}

/// The inverse curvature learns from a step, unless that indicates no curvature.
fn update(inverse: &mut [Vec<f64>], moved: &[f64], turned: &[f64], first: bool) {
    let curvature = product(moved, turned);
    if curvature <= 1e-12 * product(turned, turned).sqrt() * product(moved, moved).sqrt() {
        return;
    }
    if first {
        let scale = curvature / product(turned, turned);
        inverse.iter_mut().flatten().for_each(|entry| *entry *= scale);
    }
    let through: Vec<f64> = inverse.iter().map(|row| product(row, turned)).collect();
    let factor = (1.0 + product(turned, &through) / curvature) / curvature;
    for (i, row) in inverse.iter_mut().enumerate() {
        for (j, entry) in row.iter_mut().enumerate() {
            *entry +=
                factor * moved[i] * moved[j] - (through[i] * moved[j] + moved[i] * through[j]) / curvature;
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn to(tolerance: f64) -> Descent {
        Descent { tolerance, longest: 2.0 }
    }

    /// Rosenbrock's valley (1960): least at (1, 1).
    fn valley(at: &[f64]) -> f64 {
        100.0 * (at[1] - at[0] * at[0]).powi(2) + (1.0 - at[0]).powi(2)
    }

    #[test]
    fn a_bent_valley_is_followed_to_its_end() {
        let found =
            minimise_bfgs(&vec![-1.2, 1.0].into(), to(1e-9), |at| with_slope(at, |at| Some(valley(at))))
                .expect("defined everywhere");
        assert!(found.settled && found.value < 1e-8, "{found:?}");
        assert!((found.at[0] - 1.0).abs() < 1e-3 && (found.at[1] - 1.0).abs() < 1e-3);
    }

    #[test]
    fn a_start_that_knows_the_curvature_takes_fewer_steps() {
        let steps = std::cell::Cell::new(0);
        // A long ellipse.
        let bowl = |at: &[f64]| {
            steps.set(steps.get() + 1);
            let (x, y) = (at[0] - 1.0, at[1] + 2.0);
            Some((500.0 * x * x + x * y + y * y, vec![1_000.0 * x + y, x + 2.0 * y]))
        };
        let first = minimise_bfgs(&vec![0.0, 0.0].into(), to(1e-12), bowl).expect("defined everywhere");
        let blind = steps.replace(0);
        let near = Start { at: vec![1.1, -1.0], ..first.clone().into() };
        let again = minimise_bfgs(&near, to(1e-12), bowl).expect("defined everywhere");
        assert!(again.settled && again.at.iter().zip(&first.at).all(|(a, b)| (a - b).abs() < 1e-5));
        assert!(steps.get() < 6 && steps.get() < blind, "{} {blind}", steps.get());
    }

    #[test]
    fn places_without_a_value_are_walked_around() {
        let bounded = |at: &[f64]| (at[0] > 0.0).then(|| at[0] - at[0].ln());
        let found =
            minimise_bfgs(&vec![5.0].into(), to(1e-9), |at| with_slope(at, bounded)).expect("a start inside");
        assert!((found.at[0] - 1.0).abs() < 1e-4);
        assert_eq!(minimise_bfgs(&vec![-1.0].into(), to(1e-9), |at| with_slope(at, bounded)), None);
    }

    #[test]
    fn a_least_value_at_infinity_is_given_up() {
        // Falls for ever, ever less.
        let slide = |at: &[f64]| {
            let x = 1.0 + at[0] * at[0];
            Some((1.0 / x, vec![-2.0 * at[0] / (x * x)]))
        };
        let found = minimise_bfgs(&vec![1.0].into(), to(1e-8), slide).expect("defined everywhere");
        assert!(found.settled && found.at[0] > 30.0 && found.value < 1e-3, "{found:?}");
    }

    #[test]
    fn without_arguments_there_is_only_the_value() {
        let found =
            minimise_bfgs(&Vec::new().into(), to(1e-9), |_| Some((3.0, Vec::new()))).expect("a value");
        assert_eq!((found.value, found.settled), (3.0, true));
    }

    #[test]
    fn an_argument_more_keeps_what_is_known_of_the_others() {
        let two = Start { at: vec![1.0, 2.0], inverse: Some(vec![vec![4.0, 1.0], vec![1.0, 3.0]]) };
        let three = two.with_argument(1, 0.5, 0.2);
        assert_eq!(three.at, [1.0, 0.5, 2.0]);
        let rows = vec![vec![4.0, 0.0, 1.0], vec![0.0, 0.2, 0.0], vec![1.0, 0.0, 3.0]];
        assert_eq!(three.inverse, Some(rows));
        assert_eq!(Start::with_inverse(vec![1.0], 0.5).inverse, Some(vec![vec![0.5]]));
        assert_eq!(Start::from(vec![1.0]).with_argument(0, 2.0, 0.5), Start::from(vec![2.0, 1.0]));
    }

    #[test]
    fn a_search_is_given_up_where_it_leads_to_what_is_known() {
        let bowl = |at: &[f64]| Some((at[0] * at[0], vec![2.0 * at[0]]));
        let near = |at: &[f64], value: f64| at[0].abs() < 1.0 && value < 1.0;
        let start = Start::from(vec![8.0]);
        assert_eq!(minimise_bfgs_unless(&start, to(1e-9), bowl, near), None);
        let elsewhere = |at: &[f64], _: f64| at[0] < -1.0;
        let found = minimise_bfgs_unless(&start, to(1e-9), bowl, elsewhere).expect("another least value");
        assert!(found.at[0].abs() < 1e-4);
    }
}
