//! Stories of where a series comes from, weighed by exact likelihood.

mod dates;
mod dynamics;
mod likelihood;
mod memory;
mod weigh;
mod whiten;

pub use memory::{FractionalNoise, fractional_noise};
pub use weigh::{Evidence, Kind, LongMemory, Story, StoryProbability, StoryWeights, evidence, weigh_stories};
