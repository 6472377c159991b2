//! The names of the commands.

/// Declares the commands with the words they are called by.
macro_rules! names {
    ($($variant:ident $word:literal),+ $(,)?) => {
        /// A command by its name.
        #[derive(Debug, Clone, Copy, PartialEq, Eq)]
        pub enum Name {
            $(#[doc = $word] $variant,)+
        }

        impl Name {
            /// As it is typed.
            pub fn word(self) -> &'static str {
                match self {
                    $(Self::$variant => $word,)+
                }
            }

            /// The command that is called by a word.
            pub fn of(word: &str) -> Option<Self> {
                match word {
                    $($word => Some(Self::$variant),)+
                    _ => None,
                }
            }
        }
    };
}

names! {
    Inspect "inspect", Plot "plot", Acf "acf", Relate "relate", Randomness "randomness",
    Stationarity "stationarity", Power "power", Decompose "decompose", Outliers "outliers", Lags "lags", Ols "ols",
    Cointegration "cointegration", Orders "orders", Fit "fit", Forecast "forecast", Compare "compare",
    Transform "transform", Screen "screen", Study "study", Tour "tour", Explain "explain",
    Completions "completions", Man "man",
}

impl Name {
    /// Whether missing values may stay open (`--gaps keep`).
    pub fn takes_gaps(self) -> bool {
        matches!(
            self,
            Self::Inspect
                | Self::Plot
                | Self::Acf
                | Self::Decompose
                | Self::Orders
                | Self::Fit
                | Self::Forecast
                | Self::Compare
                | Self::Transform
        )
    }
}
