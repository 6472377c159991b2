//! Candidate models of where a series comes from, weighed by exact likelihood.

mod dates;
mod dynamics;
mod fitted;
mod likelihood;
mod memory;
mod table;
mod tails;
mod weigh;

pub(super) use dynamics::{UNIT, times};
pub use fitted::fixed_part;
pub use memory::{FractionalNoise, fractional_noise};
pub use table::{CandidateModel, ModelClass};
pub use weigh::{
    CandidateProbability, CandidateWeights, Cycle, Evidence, LongMemory, evidence, weigh_candidates,
};
