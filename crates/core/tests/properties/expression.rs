//! Laws of expressions: composed ones have the values of their parts, and their text is cut where it was joined.

use kandrel_core::expr::{self, with_steps};
use kandrel_core::series::{Column, Frame, Span};
use kandrel_core::time::Period;
use kandrel_core::transform::{InverseTransform, evaluate_with_gaps};
use proptest::prelude::*;

const LENGTH: usize = 48;

/// Two positive columns and one of both signs, by month.
fn frame() -> Frame {
    let column = |name: &str, value: &dyn Fn(f64) -> f64| Column {
        name: name.to_owned(),
        cells: (0..LENGTH).map(|t| Some(value(t as f64))).collect(),
    };
    let columns = vec![
        column("a", &|t| 20.0 + 0.5 * t + 3.0 * (0.7 * t).sin()),
        column("b", &|t| 5.0 + (1.3 * t).cos()),
        column("tug hours", &|t| 2.0 * (0.4 * t).sin()),
    ];
    Frame { start: Period::month(2001, 3).expect("a month"), length: LENGTH, columns, dates: None }
}

fn cells(text: &str) -> Vec<Option<f64>> {
    let parsed = expr::parse(text).unwrap_or_else(|error| panic!("{text}: {error}"));
    match evaluate_with_gaps(&parsed, &frame(), Span::default()) {
        Ok(series) => {
            // Values by the months of the frame, so that what lags cost does not shift them.
            let before = series.start.steps_since(frame().start).expect("one frequency");
            let before = usize::try_from(before).expect("inside the frame");
            let mut all = vec![None; before];
            all.extend(series.cells);
            all.resize(LENGTH, None);
            all
        }
        Err(error) => panic!("{text}: {error}"),
    }
}

fn same(left: &[Option<f64>], right: &[Option<f64>]) -> bool {
    let near = |pair: (&Option<f64>, &Option<f64>)| match pair {
        (Some(a), Some(b)) => (a - b).abs() <= 1e-12 * (1.0 + a.abs()),
        (None, None) => true,
        _ => false,
    };
    left.len() == right.len() && left.iter().zip(right).all(near)
}

/// Expressions that are positive everywhere.
fn positive() -> impl Strategy<Value = String> {
    let leaf = prop_oneof![Just("a".to_owned()), Just("b".to_owned()), Just("(a + b)".to_owned())];
    leaf.prop_recursive(3, 12, 2, |inner| {
        prop_oneof![
            (inner.clone(), inner.clone()).prop_map(|(x, y)| format!("({x} + {y})")),
            (inner.clone(), inner.clone()).prop_map(|(x, y)| format!("({x} * {y})")),
            (inner.clone(), inner.clone()).prop_map(|(x, y)| format!("({x} / {y})")),
            (inner, 1_u8..4).prop_map(|(x, lag)| format!("({x})[t-{lag}]")),
        ]
    })
}

/// Expressions of any sign, bracketed.
fn any_sign() -> impl Strategy<Value = String> {
    let leaf = prop_oneof![positive(), Just("`tug hours`".to_owned()), Just("(a:ln - b:ln)".to_owned())];
    (leaf.clone(), leaf).prop_map(|(x, y)| format!("({x} - {y})"))
}

/// Chains of steps that every series bears.
fn chain() -> impl Strategy<Value = Vec<&'static str>> {
    prop::collection::vec(
        prop::sample::select(vec!["d1", "d2", "d12", "demean", "cumulate", "abs", "trail3"]),
        1..4,
    )
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(96))]

    #[test]
    fn a_chain_is_its_steps_one_after_the_other(bare in any_sign(), steps in chain()) {
        let whole = format!("{bare}:{}", steps.join(","));
        let nested = steps.iter().fold(bare.clone(), |inner, step| format!("({inner}):{step}"));
        prop_assert!(same(&cells(&whole), &cells(&nested)), "{whole} {nested}");
    }

    #[test]
    fn a_composed_expression_is_cut_where_it_was_joined(bare in any_sign(), steps in chain()) {
        let joined = steps.join(",");
        let whole = format!("{bare}:{joined}");
        prop_assert_eq!(expr::without_steps(&whole), bare.as_str());
        prop_assert_eq!(expr::steps_of(&whole), Some(joined.as_str()));
        prop_assert_eq!(expr::steps_of(&bare), None);
        // Further steps join the chain, as text and as values.
        let parsed = expr::parse(&bare).expect("an expression");
        let steps: Vec<String> = steps.iter().map(|step| (*step).to_owned()).collect();
        prop_assert!(same(&cells(&with_steps(&parsed, &steps)), &cells(&whole)));
    }

    #[test]
    fn arithmetic_goes_period_by_period(x in any_sign(), y in positive()) {
        let (left, right) = (cells(&x), cells(&y));
        let each = |of: &dyn Fn(f64, f64) -> f64| -> Vec<Option<f64>> {
            left.iter().zip(&right).map(|(x, y)| Some(of((*x)?, (*y)?))).collect()
        };
        let [sum, product, quotient] = ["+", "*", "/"].map(|sign| cells(&format!("{x} {sign} {y}")));
        prop_assert!(same(&sum, &each(&|x, y| x + y)));
        prop_assert!(same(&product, &each(&|x, y| x * y)));
        prop_assert!(same(&quotient, &each(&|x, y| x / y)));
        let scaled = cells(&format!("2 * {x} - {y} / 4"));
        prop_assert!(same(&scaled, &each(&|x, y| 2.0 * x - y / 4.0)));
    }

    #[test]
    fn a_lag_moves_the_values_and_differences_take_them_off(x in any_sign(), lag in 1_usize..13) {
        let own = cells(&x);
        let lagged: Vec<Option<f64>> = (0..LENGTH).map(|t| own[t.checked_sub(lag)?]).collect();
        let moved = cells(&format!("({x})[t-{lag}]"));
        prop_assert!(same(&moved, &lagged));
        let changes: Vec<Option<f64>> = own.iter().zip(&lagged).map(|(now, then)| Some((*now)? - (*then)?)).collect();
        let differenced = cells(&format!("{x}:d{lag}"));
        let subtracted = cells(&format!("{x} - ({x})[t-{lag}]"));
        prop_assert!(same(&differenced, &changes) && same(&subtracted, &changes));
    }

    #[test]
    fn steps_can_be_undone_to_the_values_before_them(bare in positive(), steps in prop::sample::select(
        vec!["ln", "sqrt", "ln,d1", "d1", "d12", "ln,d1,d12", "perday,ln", "boxcox=0.3", "boxcox=-0.4,d1"]
    )) {
        let whole = expr::parse(&format!("{bare}:{steps}")).expect("an expression");
        let frame = frame();
        let undoing = InverseTransform::new(&whole, &frame, Span::default()).expect("steps that can be undone");
        let (before, after) = (cells(&bare), cells(&format!("{bare}:{steps}")));
        for row in 0..LENGTH {
            prop_assert_eq!(undoing.own_value(row).is_some(), before[row].is_some());
            let (Some(value), Some(after)) = (before[row], after[row]) else { continue };
            let back = undoing.one_back(row, after).expect("a value");
            prop_assert!((back - value).abs() < 1e-8 * value.abs().max(1.0), "{} {row}: {back} {value}", whole.text);
        }
    }
}
