//! Expressions and their values: whatever comes in, no panic.

#![no_main]

use kandrel_core::series::{Column, Frame, Span};
use kandrel_core::time::Period;
use kandrel_core::{expr, transform};
use libfuzzer_sys::fuzz_target;

// Any text parses or points at a byte of its own; what parses has values or an error.
fuzz_target!(|text: &str| {
    match expr::parse(text) {
        Err(error) => assert!(error.at() <= text.len(), "{error:?}"),
        Ok(mut expression) => {
            let cells = (1..40).map(|t| (t % 7 > 0).then_some(f64::from(t) / 3.0)).collect();
            let columns = vec![Column { name: "x".into(), cells }];
            let frame = Frame { start: Period::year(1990), length: 39, columns, dates: None };
            let chosen = transform::resolve(&mut expression, &frame, Span::default(), 4);
            if chosen.is_ok() {
                if let Ok(series) = transform::evaluate_with_gaps(&expression, &frame, Span::default()) {
                    assert!(series.cells.iter().flatten().all(|value| value.is_finite()));
                }
            }
        }
    }
});
