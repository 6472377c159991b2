//! The whole diagnosis of one series in one row, for many series at once.

mod beside;
mod diagnose;

pub use beside::Beside;
pub use diagnose::{Flag, ScreenError, ScreenOptions, Screened, Spreading, screen};
