//! The tests as rows of the figure.

use kandrel_core::unitroot::Null;

use super::StationarityResult;
use super::test::name_of;
use crate::figure::stationarity::StripRow;
use crate::render::number;

/// Every test of the result, in its order.
pub fn strip(result: &StationarityResult) -> Vec<StripRow> {
    let row = |test: &super::TestResult| StripRow {
        name: match test.differenced {
            0 => name_of(test.test, test.detail.model).to_owned(),
            1 => format!("{} of Δ", name_of(test.test, test.detail.model)),
            _ => format!("{} of Δ²", name_of(test.test, test.detail.model)),
        },
        null: match test.null {
            Null::UnitRoot => "unit root",
            Null::Stationary => "stationary",
            Null::FixedSeason => "fixed season",
            Null::NoMemory => "d = 0",
        },
        numbers: format!("{} ({})", number(test.statistic, 2), number(test.critical.five, 2)),
        p_value: test.p_value,
        is_rejected: test.p_value <= 0.05,
    };
    result.tests.iter().map(row).collect()
}
