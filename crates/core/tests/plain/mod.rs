//! Methods written out the slow way, which the tests hold the fast ones against; not every test uses all of them.

#![allow(dead_code)]

pub mod arma;
pub mod decomposition;
pub mod forecast;
pub mod kalman;
pub mod models;
