//! Orders: facts and text.

pub mod facts;
pub mod text;

pub use facts::{
    Checked, OrderFindings, OrdersResult, RivalResult, chosen, result, rivals, shown, too_many_parameters,
    why_differences, without_season,
};
pub use text::{compared, document};
