//! Several break dates computed side by side.

/// Sets of dates that are worked on side by side: as many as fill the vectors of a processor.
pub(super) const LANES: usize = 8;

/// One number of each.
pub(super) type Lanes = [f64; LANES];

pub(super) fn lanes(of: impl FnMut(usize) -> f64) -> Lanes {
    std::array::from_fn(of)
}
