//! Numbers and probabilities as they are shown.

/// The smallest level of the simulated distributions.
pub const OUTERMOST_LEVEL: f64 = 0.0001;

/// A number with so many decimals and a true minus; never a negative zero.
pub fn number(value: f64, decimals: usize) -> String {
    let plain = format!("{value:.decimals$}");
    let zero = plain.bytes().all(|b| matches!(b, b'0' | b'.' | b'-'));
    match plain.strip_prefix('-') {
        Some(digits) if zero => digits.to_owned(),
        Some(digits) => format!("−{digits}"),
        None => plain,
    }
}

/// A probability to four decimals; one too small for that in powers of ten.
pub fn p_value(p: f64) -> String {
    match p {
        _ if p >= 0.00005 => format!("{p:.4}"),
        _ if p >= 1e-16 => format!("{p:.0e}"),
        // Beyond what the arithmetic can tell.
        _ => "<1e-16".to_owned(),
    }
}

/// `p = 0.03`, or `p < 1e-16`.
pub fn p_equals(p: f64) -> String {
    let text = p_value(p);
    match text.strip_prefix('<') {
        Some(bound) => format!("p < {bound}"),
        None => format!("p = {text}"),
    }
}
