//! The memory that reading may take: counted while a file is read, and refused before it is taken.

use std::cell::{Cell, OnceCell};
use std::mem::size_of;
use std::str::FromStr;

use kandrel_core::time::Period;

use crate::error::CliError;

/// An amount of memory, in bytes, as it is typed: `500MB`, `8GB`.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub struct Memory(pub u64);

const UNITS: [(&str, u64); 4] =
    [("TB", 1_000_000_000_000), ("GB", 1_000_000_000), ("MB", 1_000_000), ("KB", 1_000)];

impl FromStr for Memory {
    type Err = String;

    fn from_str(text: &str) -> Result<Self, String> {
        let wrong = || "write an amount as 500MB or 8GB".to_owned();
        let upper = text.trim().to_uppercase();
        let (digits, unit) = UNITS
            .iter()
            .find_map(|(word, unit)| Some((upper.strip_suffix(word)?, *unit)))
            .ok_or_else(wrong)?;
        let amount: f64 = digits.trim().parse().map_err(|_| wrong())?;
        let bytes = amount * unit as f64;
        if !(bytes >= LEAST.0 as f64 && bytes < 1e18) {
            return Err(format!("write an amount of {LEAST} or more, as 500MB or 8GB"));
        }
        // A positive number far below the largest.
        #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss)]
        Ok(Self(bytes as u64))
    }
}

/// Less is too little to read anything.
const LEAST: Memory = Memory(10_000_000);

impl std::fmt::Display for Memory {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        let (word, unit) = UNITS.into_iter().find(|(_, unit)| self.0 >= *unit).unwrap_or(("KB", 1_000));
        let amount = self.0 as f64 / unit as f64;
        if amount < 10.0 { write!(f, "{amount:.1} {word}") } else { write!(f, "{amount:.0} {word}") }
    }
}

impl Memory {
    /// Half of what this machine has, or of what a container may use of it.
    fn half_of_machine() -> Self {
        let mut machine = sysinfo::System::new();
        machine.refresh_memory();
        let own = machine.cgroup_limits().map_or(u64::MAX, |limits| limits.total_memory);
        Self((machine.total_memory().min(own) / 2).max(LEAST.0))
    }
}

/// A name, what is found out about its column, and their places in lists.
const COLUMN: u64 = 400;
/// Where a cell ends, and its number.
const CELL: u64 = (size_of::<u32>() + size_of::<Option<f64>>()) as u64;
/// Where a row begins, and its period.
const ROW: u64 = (24 + size_of::<Period>()) as u64;

/// What may be taken, and what was.
#[derive(Debug)]
pub struct Budget {
    /// That of the machine is found out when it is first asked for.
    limit: OnceCell<Memory>,
    taken: Cell<u64>,
}

impl Budget {
    /// Of the amount that is given, else of half the machine's memory.
    pub fn new(limit: Option<Memory>) -> Self {
        Self { limit: limit.map_or_else(OnceCell::new, OnceCell::from), taken: Cell::new(0) }
    }

    fn limit(&self) -> Memory {
        *self.limit.get_or_init(Memory::half_of_machine)
    }

    /// What is left of it, in bytes.
    pub fn left(&self) -> u64 {
        self.limit().0.saturating_sub(self.taken.get())
    }

    /// What is left of the least that any limit allows: enough for most files, and known without a look at the machine.
    pub fn surely_left(&self) -> u64 {
        LEAST.0.saturating_sub(self.taken.get())
    }

    /// Counts bytes that are about to be taken for a file.
    ///
    /// # Errors
    /// They are more than is left.
    pub fn take(&self, source: &str, bytes: u64) -> Result<(), CliError> {
        let taken = self.taken.get().saturating_add(bytes);
        self.taken.set(taken);
        self.check(source, taken)
    }

    /// Counts a table of rows and columns with their numbers.
    ///
    /// # Errors
    /// It takes more than is left.
    pub fn take_table(&self, source: &str, rows: usize, columns: usize) -> Result<(), CliError> {
        self.take(source, table(rows, columns))
    }

    /// Looks whether there is room for a table that is counted later.
    ///
    /// # Errors
    /// It takes more than is left.
    pub fn check_table(&self, source: &str, rows: usize, columns: usize) -> Result<(), CliError> {
        self.check(source, self.taken.get().saturating_add(table(rows, columns)))
    }

    fn check(&self, source: &str, taken: u64) -> Result<(), CliError> {
        if taken > LEAST.0 && taken > self.limit().0 {
            return Err(self.refusal(source, Memory(taken)));
        }
        Ok(())
    }

    /// Why a file that takes this much, or more, is not read.
    pub fn refusal(&self, source: &str, wanted: Memory) -> CliError {
        let limit = self.limit();
        let refusal = if wanted > limit {
            format!("{source} takes {wanted} of memory or more, and {limit} are allowed")
        } else {
            format!("{source} takes more memory than the {limit} that are allowed")
        };
        CliError::data(refusal).advise("read a part of it, as a file of its own, or allow more with --memory")
    }
}

/// What a table takes.
fn table(rows: usize, columns: usize) -> u64 {
    let (rows, columns) = (rows as u64, columns as u64);
    let cells = rows.saturating_mul(columns).saturating_mul(CELL);
    cells.saturating_add(rows.saturating_mul(ROW)).saturating_add(columns.saturating_mul(COLUMN))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn amounts_are_read_and_written() {
        for (text, bytes) in [("500MB", 500_000_000), ("1.5 gb", 1_500_000_000), ("2TB", 2_000_000_000_000)] {
            assert_eq!(text.parse(), Ok(Memory(bytes)), "{text}");
        }
        for text in ["", "500", "MB", "-1GB", "nan GB", "inf GB", "1KB", "1e30GB", "9EB"] {
            assert!(text.parse::<Memory>().is_err(), "{text}");
        }
        let shown = [500, 12_345_678, 1_550_000_000, u64::MAX].map(|bytes| Memory(bytes).to_string());
        assert_eq!(shown, ["0.5 KB", "12 MB", "1.6 GB", "18446744 TB"]);
    }

    #[test]
    fn what_is_taken_adds_up() {
        let budget = Budget::new(Some(Memory(1_000_000_000)));
        assert!(budget.take("a.csv", 600_000_000).is_ok());
        assert_eq!(budget.left(), 400_000_000);
        assert!(budget.take_table("a.csv", 1_000, 1_000).is_ok());
        assert!(budget.check_table("a.csv", 20_000, 1_000).is_err() && budget.left() > 300_000_000);
        let refusal = budget.take_table("a.csv", 30_000, 30_000).expect_err("18 GB").to_string();
        assert!(refusal.contains("a.csv takes 19 GB of memory or more, and 1.0 GB are allowed"), "{refusal}");
        assert_eq!(budget.left(), 0);
        assert!(budget.take_table("a.csv", usize::MAX, usize::MAX).is_err());
    }

    #[test]
    fn half_of_the_machine_is_allowed_if_nothing_is_said() {
        assert!(Budget::new(None).left() > 100_000_000);
    }
}
