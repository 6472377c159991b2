//! From results of the core to documents and to the JSON contract.

pub mod acf;
pub mod inspect;
pub mod stationarity;
pub mod transform;
