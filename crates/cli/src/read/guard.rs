//! Readers of others behind a guard: a file that makes one panic is refused like any other damaged file.

use std::cell::Cell;
use std::panic::{self, AssertUnwindSafe};
use std::sync::Once;

use crate::error::CliError;

thread_local! {
    /// Whether a panic on this thread is caught and has nothing to say.
    static GUARDED: Cell<bool> = const { Cell::new(false) };
}

static SILENCED: Once = Once::new();

/// What a reader gives, or the refusal of the file that it does not survive.
///
/// # Errors
/// Those of the reader.
pub fn guarded<T>(source: &str, read: impl FnOnce() -> Result<T, CliError>) -> Result<T, CliError> {
    // Panics elsewhere are reported as ever.
    SILENCED.call_once(|| {
        let usual = panic::take_hook();
        panic::set_hook(Box::new(move |panic| {
            if !GUARDED.get() {
                usual(panic);
            }
        }));
    });
    GUARDED.set(true);
    // What the reader was at when it panicked is dropped with it.
    let outcome = panic::catch_unwind(AssertUnwindSafe(read));
    GUARDED.set(false);
    outcome.unwrap_or_else(|_| {
        Err(CliError::data(format!(
            "{source} cannot be read: it is damaged in a way that its reader does not foresee"
        ))
        .advise("open it in a spreadsheet program and save the sheet as CSV"))
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_panic_is_a_refusal_and_all_else_passes() {
        let refused = guarded::<u8>("a.xls", || panic!("astray")).expect_err("a refusal").to_string();
        assert!(refused.starts_with("kandrel: a.xls cannot be read"), "{refused}");
        assert_eq!(guarded("a.xls", || Ok(7)).ok(), Some(7));
        let own =
            guarded::<u8>("a.xls", || Err(CliError::data("no sheet"))).expect_err("its own").to_string();
        assert_eq!(own, "kandrel: no sheet\n");
    }
}
