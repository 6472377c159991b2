//! Orders: facts and text.

pub mod facts;
pub mod text;

pub use facts::{Checked, Found, OrdersResult, RivalResult, chosen, result, rivals, shown, why_differences};
pub use text::{compared, document};
