//! Linear restrictions and their notation.

use thiserror::Error;

/// A linear restriction `weights · b = value`.
#[derive(Debug, Clone, PartialEq)]
pub struct Restriction {
    /// One per coefficient.
    pub weights: Vec<f64>,
    /// What their sum of products is to be.
    pub value: f64,
}

/// Why the text of a restriction cannot be read.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum RestrictionError {
    /// Neither a number nor a coefficient's name is here.
    #[error("neither a number nor a coefficient begins here")]
    Unknown {
        /// Place in the text, in bytes.
        at: usize,
    },
    /// There is not exactly one equals sign.
    #[error("a restriction has one equals sign, as in a + b = 1")]
    Equals,
    /// A number is divided by zero, or too large.
    #[error("a number in it is divided by zero, or too large")]
    NotFinite,
    /// No coefficient is named, or all cancel.
    #[error("no coefficient is left in it")]
    Empty,
}

impl Restriction {
    /// Reads `a + 2*b - c = 0.8` with the coefficients' own names; the longest name that fits
    /// is meant, blanks do not matter. `sum(a)` is the sum of all coefficients of a, its lags and steps among them:
    /// `a`, `a[t-1]`, `a:d1`.
    ///
    /// # Errors
    /// [`RestrictionError`].
    pub fn parse(text: &str, names: &[String]) -> Result<Self, RestrictionError> {
        let mut weights = vec![0.0; names.len()];
        let mut value = 0.0;
        let mut reader = Reader { text, at: 0, names };
        let mut side = 1.0;
        let mut sides = 1;
        loop {
            let sign = side * reader.sign();
            match reader.term()? {
                Term::Number(number) => value -= sign * number,
                Term::Coefficients(places, weight) => {
                    for place in places {
                        weights[place] += sign * weight;
                    }
                }
            }
            match reader.next() {
                None => break,
                Some('=') => {
                    (side, sides) = (-1.0, sides + 1);
                    reader.step();
                }
                Some('+' | '-') => {}
                Some(_) => return Err(RestrictionError::Unknown { at: reader.at }),
            }
        }
        if sides != 2 {
            return Err(RestrictionError::Equals);
        }
        if !(value.is_finite() && weights.iter().all(|weight| weight.is_finite())) {
            return Err(RestrictionError::NotFinite);
        }
        if weights.iter().all(|weight| weight.abs() < f64::EPSILON) {
            return Err(RestrictionError::Empty);
        }
        Ok(Self { weights, value })
    }
}

enum Term {
    Number(f64),
    /// Places and their weight.
    Coefficients(Vec<usize>, f64),
}

struct Reader<'a> {
    text: &'a str,
    at: usize,
    names: &'a [String],
}

impl Reader<'_> {
    fn rest(&self) -> &str {
        self.text.get(self.at..).unwrap_or_default()
    }

    /// The next letter that is not a blank.
    fn next(&mut self) -> Option<char> {
        let blanks = self.rest().len() - self.rest().trim_start().len();
        self.at += blanks;
        self.rest().chars().next()
    }

    fn step(&mut self) {
        self.at += self.rest().chars().next().map_or(0, char::len_utf8);
    }

    /// Signs before a term, as one.
    fn sign(&mut self) -> f64 {
        let mut sign = 1.0;
        while let Some(letter @ ('+' | '-')) = self.next() {
            sign = if letter == '-' { -sign } else { sign };
            self.step();
        }
        sign
    }

    fn term(&mut self) -> Result<Term, RestrictionError> {
        if let Some(places) = self.coefficients() {
            let weight = match self.next() {
                Some('*') => self.factor()?,
                Some('/') => 1.0 / self.factor()?,
                _ => 1.0,
            };
            return Ok(Term::Coefficients(places, weight));
        }
        let number = self.number()?;
        match self.next() {
            Some('*') => {
                self.step();
                self.next();
                let places = self.coefficients().ok_or(RestrictionError::Unknown { at: self.at })?;
                Ok(Term::Coefficients(places, number))
            }
            Some('/') => Ok(Term::Number(number / self.factor()?)),
            _ => Ok(Term::Number(number)),
        }
    }

    /// The number after a sign of multiplication or division.
    fn factor(&mut self) -> Result<f64, RestrictionError> {
        self.step();
        self.number()
    }

    fn number(&mut self) -> Result<f64, RestrictionError> {
        self.next();
        let rest = self.rest();
        let mut end = 0;
        for (place, letter) in rest.char_indices() {
            let exponent = matches!(letter, '+' | '-') && rest[..place].ends_with(['e', 'E']);
            if !(letter.is_ascii_digit() || matches!(letter, '.' | 'e' | 'E') || exponent) {
                break;
            }
            end = place + letter.len_utf8();
        }
        let number = rest[..end].parse().ok().filter(|number: &f64| number.is_finite());
        let number = number.ok_or(RestrictionError::Unknown { at: self.at })?;
        self.at += end;
        Ok(number)
    }

    /// The coefficient, or the sum of several, that begins here.
    fn coefficients(&mut self) -> Option<Vec<usize>> {
        self.name().map(|place| vec![place]).or_else(|| self.sum())
    }

    /// All coefficients of the series that `sum(…)` names.
    fn sum(&mut self) -> Option<Vec<usize>> {
        let inner = self.rest().strip_prefix("sum(")?;
        let mut depth = 1_usize;
        let end = inner.char_indices().find_map(|(place, letter)| {
            depth = match letter {
                '(' => depth + 1,
                ')' => depth - 1,
                _ => depth,
            };
            (depth == 0).then_some(place)
        })?;
        let wanted = inner.get(..end)?.trim();
        // A lag of an expression has it in brackets.
        let bracketed = format!("({wanted})");
        let is_of = |name: &str| {
            [wanted, &bracketed]
                .iter()
                .filter_map(|own| name.strip_prefix(own))
                .any(|rest| rest.is_empty() || rest.starts_with(['[', ':']))
        };
        let places: Vec<usize> =
            self.names.iter().enumerate().filter(|(_, name)| is_of(name)).map(|(place, _)| place).collect();
        if places.is_empty() {
            return None;
        }
        self.at += "sum(".len() + end + 1;
        Some(places)
    }

    /// The longest name that begins here.
    fn name(&mut self) -> Option<usize> {
        self.next();
        let fits =
            self.names.iter().enumerate().filter_map(|(place, name)| Some((fits(self.rest(), name)?, place)));
        let (length, place) = fits.max_by_key(|(length, _)| *length)?;
        self.at += length;
        Some(place)
    }
}

/// The length of text that a name takes up, blanks in either not counting; none where it goes on
/// as another name would.
fn fits(text: &str, name: &str) -> Option<usize> {
    let mut letters = text.char_indices().filter(|(_, letter)| !letter.is_whitespace());
    let mut end = 0;
    for wanted in name.chars().filter(|letter| !letter.is_whitespace()) {
        let (place, letter) = letters.next()?;
        if letter != wanted {
            return None;
        }
        end = place + letter.len_utf8();
    }
    let goes_on = |letter: char| letter.is_alphanumeric() || matches!(letter, '_' | '[' | ':');
    let wordy = name.chars().last().is_some_and(|last| last.is_alphanumeric() || last == '_');
    let after = text[end..].chars().next();
    (!(wordy && after.is_some_and(goes_on))).then_some(end)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn restrictions_are_read_with_their_own_names() {
        let names: Vec<String> = ["constant", "a", "a[t-1]", "(b:ln,d1)", "a-b"].map(str::to_owned).into();
        let read = |text| Restriction::parse(text, &names);
        let sum = read("a + a[t-1] + (b:ln,d1) = 0.8").expect("a sum");
        assert_eq!(sum.weights, [0.0, 1.0, 1.0, 1.0, 0.0]);
        assert!((sum.value - 0.8).abs() < 1e-15);
        let bracketed = ["x:d1", "(x:d1)[t-1]", "x"].map(str::to_owned);
        let sum = Restriction::parse("sum(x:d1) = 1", &bracketed).expect("a sum");
        assert_eq!(sum.weights, [1.0, 1.0, 0.0]);
        let lags = read("2*sum(a) - sum( (b:ln,d1) ) = 0").expect("sums of coefficients");
        assert_eq!(lags.weights, [0.0, 2.0, 2.0, -1.0, 0.0]);
        assert_eq!(read("sum(c) = 1"), Err(RestrictionError::Unknown { at: 0 }));
        assert_eq!(read("sum(a = 1"), Err(RestrictionError::Unknown { at: 0 }));
        let both = read("2*a - 1 = constant/4 + 1e-1").expect("two sides");
        assert_eq!(both.weights, [-0.25, 2.0, 0.0, 0.0, 0.0]);
        assert!((both.value - 1.1).abs() < 1e-15);
        assert_eq!(read("a-b=0").expect("the longest").weights, [0.0, 0.0, 0.0, 0.0, 1.0]);
        assert_eq!(read("a [t - 1] = -0.5").expect("blanks").value.to_bits(), (-0.5_f64).to_bits());
        assert_eq!(read("ab = 1"), Err(RestrictionError::Unknown { at: 0 }));
        assert_eq!(read("a + c = 1"), Err(RestrictionError::Unknown { at: 4 }));
        assert_eq!(read("a + a[t-1]"), Err(RestrictionError::Equals));
        assert_eq!(read("a = a"), Err(RestrictionError::Empty));
        assert_eq!(read("a = 1 = 2"), Err(RestrictionError::Equals));
        // Found by fuzzing.
        assert_eq!(read("a + (b:ln,d1)/0 = 0.8"), Err(RestrictionError::NotFinite));
        assert_eq!(read("a = 1e308 + 1e308"), Err(RestrictionError::NotFinite));
        assert!(read("").is_err() && read("a =").is_err() && read("é = 1").is_err());
    }
}
