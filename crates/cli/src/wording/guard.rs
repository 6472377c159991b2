//! Cells that a spreadsheet must not run as formulas.

/// What a spreadsheet takes for the beginning of a formula.
const FORMULA: [char; 6] = ['=', '+', '-', '@', '\t', '\r'];

/// A text that a spreadsheet would run as a formula gets an apostrophe before
/// it, as spreadsheets themselves write text.
pub fn guarded(text: &str) -> String {
    if text.starts_with(FORMULA) { format!("'{text}") } else { text.to_owned() }
}

/// The text that [`guarded`] was given.
pub fn unguarded(cell: &str) -> &str {
    cell.strip_prefix('\'').filter(|rest| rest.starts_with(FORMULA)).unwrap_or(cell)
}
