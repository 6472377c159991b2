//! Why a series cannot be tested, or a model identified, estimated or forecast from, and what to do.

use kandrel_core::arima::FitError;
use kandrel_core::evaluate::{AheadError, TrialError};
use kandrel_core::identify::IdentifyError;
use kandrel_core::num::scale::InvalidSeries;
use kandrel_core::regressor::MissingRegressor;
use kandrel_core::series::{Series, SeriesWithGaps};
use kandrel_core::transform::{InverseError, Transformed};
use kandrel_core::unitroot::UnitRootError;

use crate::error::CliError;
use crate::read::Dataset;
use crate::wording;

/// A regressor without a value.
pub fn missing_regressor(error: &MissingRegressor) -> CliError {
    let MissingRegressor { name, periods } = error;
    CliError::data(format!("--with {name}: it has no value in {}", wording::periods(periods)))
        .advise("give future values with --future FILE, or take a --sample in which it is known")
}

/// No candidate model.
pub fn identify_refusal(dataset: &Dataset, series: &SeriesWithGaps, error: IdentifyError) -> CliError {
    match error {
        IdentifyError::NoSeason => CliError::call(format!(
            "--differences: {} data have no season to be differenced over",
            dataset.frame.frequency().adjective()
        ))
        .advise("give the number of observations in a season with --season N"),
        IdentifyError::Verdict(error @ (UnitRootError::Deterministic | UnitRootError::Collinear)) => {
            CliError::computation(format!("{}, {}: {error}", dataset.source, series.name))
                .advise("the series follows a rule without any error, so there is nothing to estimate")
        }
        IdentifyError::Verdict(UnitRootError::InvalidSeries(InvalidSeries::NotFinite { place })) => {
            wording::too_large(&format!("{}, {}", dataset.source, series.name), series.period(place))
        }
        IdentifyError::Verdict(error) => {
            CliError::data(format!("{}, {}: {error}", dataset.source, series.name))
                .advise("give the differences yourself, as --differences 1,0")
        }
        IdentifyError::NoModel => {
            CliError::computation(format!("{}, {}: {error}", dataset.source, series.name))
        }
        IdentifyError::Regressor(missing) => missing_regressor(&missing),
        IdentifyError::Fit { error, regressors } => fit_refusal(dataset, series, &regressors, error),
    }
}

/// No estimates.
pub fn fit_refusal(
    dataset: &Dataset,
    series: &SeriesWithGaps,
    regressors: &[String],
    error: FitError,
) -> CliError {
    let at = format!("{}, {}", dataset.source, series.name);
    match error {
        FitError::TooShort { .. } => CliError::data(format!("{at}: {error}"))
            .advise("take a smaller model, a longer series or a wider --sample"),
        FitError::NotFinite { place } => wording::too_large(&at, series.period(place)),
        FitError::Constant => CliError::data(format!("{at}: {error}"))
            .advise("difference it less, or check the column and the --sample"),
        FitError::Collinear { regressor } => {
            let name = regressors.get(regressor).map_or("", String::as_str);
            CliError::data(format!(
                "{at}: after differencing, the regressor {name} is collinear with the mean, the drift or the \
                  other regressors"
            ))
            .advise(format!("leave {name} out of --with, or use a model with fewer differences"))
        }
        FitError::TooManyGaps => CliError::data(format!("{at}: {error}"))
            .advise("take fewer differences, or fill the gaps with --gaps seasonal"),
        FitError::NoConvergence => CliError::computation(format!("{at}: {error}"))
            .advise("take a smaller model, or rescale the series"),
    }
}

/// No forecasts.
pub fn ahead_refusal(series: &SeriesWithGaps, error: AheadError) -> CliError {
    match error {
        AheadError::Regressor(missing) => missing_regressor(&missing),
        AheadError::Model(error) => CliError::computation(format!("{}: {error}", series.name)),
        AheadError::OutOfReach(_) => CliError::computation(format!("{}: {error}", series.name))
            .advise("use another transformation, or forecast the transformed series with --transformed"),
        AheadError::Undo(error) => undo_refusal(series, &error),
    }
}

/// No forecasts from an origin.
pub fn trial_refusal(target: &Transformed, model: &str, error: TrialError) -> CliError {
    let name = &target.typed.text;
    match error {
        TrialError::Transform(error) => CliError::data(format!("{name}: {error}")),
        TrialError::Undo(error) => CliError::data(format!("{name}: {error}")),
        TrialError::Regressor(missing) => missing_regressor(&missing),
        TrialError::Fit(error) => CliError::data(format!("{name} {model}: {error}"))
            .advise("use a shorter hold-out sample, a smaller model, or a longer series"),
        TrialError::Ahead(error) => ahead_refusal(&target.series, error),
    }
}

fn undo_refusal(series: &SeriesWithGaps, error: &InverseError) -> CliError {
    let at = format!("{}: forecasts cannot be back-transformed to the original scale", series.name);
    match error {
        InverseError::Lossy(_) => CliError::call(format!("{at}: {error}"))
            .advise("leave the step out, or forecast the transformed series with --transformed"),
        InverseError::Missing(_) => CliError::data(format!("{at}: {error}")).advise(
            "fill the gap with --gaps, use differences of the model instead of a step, or add --transformed",
        ),
        InverseError::Future { .. } => CliError::data(format!("{at}: {error}")).advise(
            "give future values with --future FILE, or forecast the transformed series with --transformed",
        ),
        InverseError::Evaluate(_) => CliError::data(format!("{at}: {error}")),
    }
}

/// Why a series cannot be tested for unit roots.
pub fn unit_root_refusal(dataset: &Dataset, series: &Series, error: UnitRootError) -> CliError {
    let at = format!("{}, {}", dataset.source, series.name);
    match error {
        UnitRootError::InvalidSeries(InvalidSeries::Constant) => {
            CliError::data(format!("{at}: the series, or its difference, is constant"))
                .advise("a series without variation cannot be tested; check the column or the --sample")
        }
        UnitRootError::InvalidSeries(reason) => {
            wording::unusable(&at, reason, "cannot be tested", |t| series.period(t))
        }
        UnitRootError::TooManyLags { most, .. } => CliError::call(format!("{at}: {error}"))
            .advise(format!("take {most} lags or fewer, or a longer series")),
        UnitRootError::TooWide { most, .. } => CliError::call(format!("{at}: {error}"))
            .advise(format!("take {most} or fewer, or leave --bandwidth out")),
        UnitRootError::TooLong { most, .. } => CliError::call(format!("{at}: {error}"))
            .advise(format!("take a --sample of at most {most} observations, or fewer lags or breaks")),
        UnitRootError::BreakTooNear { .. } => CliError::call(format!("{at}: {error}"))
            .advise("name an earlier or a later period with --break-at"),
        UnitRootError::Deterministic | UnitRootError::Collinear => {
            CliError::computation(format!("{at}: {error}"))
                .advise("the series follows a rule without any error, so there is nothing to test")
        }
        UnitRootError::NoDistribution => CliError::call(format!("{at}: {error}"))
            .advise("leave the test out of --tests, or its rule out of --lags"),
        UnitRootError::NeedsConstant => CliError::computation(format!("{at}: {error}")),
    }
}
