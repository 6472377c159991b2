//! Series whitened a few phases of a season at a time through all periods: what is looked back on
//! stays in registers.

/// What whitens rows of a season each: that number of weights for each of them, of the row before first,
/// and the shares that are kept in addition, all of them that number of times.
#[derive(Clone, Copy)]
pub(in crate::arima) struct Rows<'a> {
    pub weights: &'a [f64],
    pub shares: &'a [f64],
    pub times: f64,
}

/// `u -= Σ_j weight_j u_j`, `u_j` that of j periods before, in order of time; `over`, a share of
/// each. Both of whole periods.
pub(in crate::arima) fn whiten<const BACK: usize>(
    u: &mut [f64],
    over: &mut [f64],
    rows: Rows<'_>,
    season: usize,
) {
    let mut first = 0;
    while first < season {
        first += match season - first {
            8.. => whiten_some::<BACK, 8>(u, over, rows, season, first),
            4.. => whiten_some::<BACK, 4>(u, over, rows, season, first),
            2.. => whiten_some::<BACK, 2>(u, over, rows, season, first),
            _ => whiten_some::<BACK, 1>(u, over, rows, season, first),
        };
    }
}

/// `over -= Σ_j weight_j over_j`, `over_j` that of j periods later, against the order of time.
pub(in crate::arima) fn subtract_later<const BACK: usize>(over: &mut [f64], weights: &[f64], season: usize) {
    let mut first = 0;
    while first < season {
        first += match season - first {
            8.. => subtract_later_some::<BACK, 8>(over, weights, season, first),
            4.. => subtract_later_some::<BACK, 4>(over, weights, season, first),
            2.. => subtract_later_some::<BACK, 2>(over, weights, season, first),
            _ => subtract_later_some::<BACK, 1>(over, weights, season, first),
        };
    }
}

fn whiten_some<const BACK: usize, const SOME: usize>(
    u: &mut [f64],
    over: &mut [f64],
    rows: Rows<'_>,
    season: usize,
    first: usize,
) -> usize {
    let mut past = [[0.0; SOME]; BACK];
    let (weights, _) = rows.weights.as_chunks::<BACK>();
    let periods = u.chunks_exact_mut(season).zip(over.chunks_exact_mut(season));
    for ((u, over), (weights, share)) in periods.zip(weights.iter().zip(rows.shares)) {
        let places = u[first..].first_chunk_mut::<SOME>().zip(over[first..].first_chunk_mut::<SOME>());
        let Some((u, over)) = places else { break };
        *u = less(*u, weights, &past);
        *over = u.map(|value| rows.times * share * value);
        past = shifted(past, *u);
    }
    SOME
}

fn subtract_later_some<const BACK: usize, const SOME: usize>(
    over: &mut [f64],
    weights: &[f64],
    season: usize,
    first: usize,
) -> usize {
    let mut later = [[0.0; SOME]; BACK];
    let (weights, _) = weights.as_chunks::<BACK>();
    for (over, weights) in over.chunks_exact_mut(season).zip(weights).rev() {
        let Some(now) = over[first..].first_chunk_mut::<SOME>() else { break };
        *now = less(*now, weights, &later);
        later = shifted(later, *now);
    }
    SOME
}

/// The newest first, the oldest gone.
#[inline]
fn shifted<T: Copy, const BACK: usize>(kept: [T; BACK], newest: T) -> [T; BACK] {
    std::array::from_fn(|k| if k == 0 { newest } else { kept[k - 1] })
}

#[inline]
fn less<const BACK: usize, const SOME: usize>(
    mut values: [f64; SOME],
    weights: &[f64; BACK],
    others: &[[f64; SOME]; BACK],
) -> [f64; SOME] {
    // The nearest last: only it has to be waited for.
    for (weight, other) in weights.iter().zip(others).rev() {
        for (value, other) in values.iter_mut().zip(other) {
            *value -= weight * other;
        }
    }
    values
}
