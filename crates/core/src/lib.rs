//! The statistics of Kandrel.
pub mod lag;
pub mod nulldist;
pub mod num;
pub mod ols;
pub mod unitroot;
